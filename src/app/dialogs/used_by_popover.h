#pragma once
// Where a prefab or an item is used, and what may be done with it: rename, delete with the consequences listed.
#include <QFrame>
#include <QTreeWidget>
#include <functional>

#include "app/shell/editor.h"
#include "ops/prefab.h"

namespace app {

/// Lists scenes and prefabs with how often; a double-click goes there.
class UsedByPopover : public QFrame {
    Q_OBJECT
  public:
    UsedByPopover(QWidget* parent, Editor& editor, const QString& what, const std::vector<ops::Use>& uses);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
};

/// Says what becomes of the instances of a prefab, or the objects of an item, and asks.
class DeletePopover : public QFrame {
    Q_OBJECT
  public:
    DeletePopover(QWidget* parent, Editor& editor, const std::string& item, const std::vector<ops::Use>& uses);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
};

/// The list of uses, as both show it.
QTreeWidget* usesList(Editor& editor, const std::vector<ops::Use>& uses);

}  // namespace app
