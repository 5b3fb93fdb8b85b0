#pragma once
// The designer's first minutes, done to the real window with mouse and keys: fetch, place, drag, type, undo, redo,
// save.
#include <QString>
#include <functional>

#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QToolButton>
#include "app/panels/desk.h"
#include "app/panels/find_field.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"

namespace test {

class Walkthrough {
  public:
    /// `tell` is told each thing as it is done.
    Walkthrough(app::MainWindow& window, app::Editor& editor, std::function<void(const QString&)> tell);

    /// Each gives true when what it was to do is seen in the scene.
    bool fetchByTyping();
    bool dragIntoView();
    bool dragHandle();
    bool typeValue();
    bool undoAll();
    bool redoAll();
    bool save();

  private:
    app::MainWindow& window_;
    app::Editor& editor_;
    std::function<void(const QString&)> tell_;
    QString item_;
    std::size_t objectsBefore_ = 0;
};

}  // namespace test
