#pragma once
// The acts of the scene over the view: which of them is looked at, what it costs, and whether one works in it.
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <vector>

#include "app/shell/editor.h"

namespace app {

class ActStrip : public QFrame {
    Q_OBJECT
  public:
    explicit ActStrip(Editor& editor, QWidget* parent);
    /// Is there something to be shown?
    bool isWanted() const;

  Q_SIGNALS:
    void resized();

  private:
    void fill();
    void fillSums();
    void press(base::ObjectId act, bool alsoOthers);
    void openMenuOf(base::ObjectId act);
    QToolButton* chip(base::ObjectId act);

    Editor& editor_;
    QHBoxLayout* row_;
    QToolButton *all_, *work_;
    QLabel* sums_;
    std::vector<base::ObjectId> acts_;
    std::vector<QToolButton*> chips_;
};

}  // namespace app
