#pragma once
// The Roster: the scene's objects as a tree, or filtered as a list. Selection goes both ways.
#include <QLabel>
#include <QLineEdit>
#include <QTreeView>
#include <QWidget>
#include <set>

#include "app/panels/roster_model.h"

namespace app {

class RosterPanel : public QWidget {
    Q_OBJECT
  public:
    explicit RosterPanel(Editor& editor, QWidget* parent = nullptr);
    /// Edits the name of the one selected object in place.
    void renameSelected();
    void focusFilter();

  Q_SIGNALS:
    void bringIntoViewRequested();
    /// A right press on a row, which is selected by then.
    void menuAsked(const QPoint& global);

  private:
    void fromScene();
    void fromTree();
    QModelIndexList selectedRows() const;
    void restoreExpansion();
    void count();

    Editor& editor_;
    RosterModel* model_;
    QLineEdit* filter_;
    QTreeView* tree_;
    QLabel* total_;
    QLabel* counts_;
    QLabel* empty_;
    std::set<base::ObjectId> open_;
    bool syncing_ = false;
    bool tooMany_ = false;  // selected for the tree view to hold; painted only
};

}  // namespace app
