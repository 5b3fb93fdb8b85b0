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

/// Says that what is to be deleted is in use, lists where, and asks. Nothing uses it: it is deleted at once.
class AskDelete : public QFrame {
    Q_OBJECT
  public:
    /// `stays`: what becomes of those that use it.
    static void ask(QWidget* parent, Editor& editor, const QString& what, const QString& stays,
                    const std::vector<ops::Use>& uses, const std::function<void()>& remove);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    using QFrame::QFrame;
};

/// The list of uses, as all of them show it.
QTreeWidget* usesList(Editor& editor, const std::vector<ops::Use>& uses);

}  // namespace app
