#pragma once
// Commands: everything a designer can do by name. Each is in a menu, in find, has a tooltip and may have a shortcut
// that can be changed.
#include <QAction>
#include <QKeySequence>
#include <QObject>
#include <QSettings>
#include <functional>
#include <vector>

namespace app {

struct Command {
    QString id;    ///< "edit.undo": the key of a changed shortcut
    QString menu;  ///< "Edit"; "Scripts/Heron Lock" is a submenu
    QString text;
    QString tip;  ///< one sentence
    QKeySequence shortcut;
    std::function<void()> run;
    std::function<bool()> enabled;  ///< empty: always
    std::function<bool()> checked;  ///< empty: not a switch
    bool separatorBefore = false;
};

class CommandSet : public QObject {
    Q_OBJECT
  public:
    explicit CommandSet(QObject* parent) : QObject(parent) {}
    void add(Command command);
    /// Takes away those whose id begins so.
    void removeStarting(const QString& head);
    const std::vector<Command>& all() const { return commands_; }
    QAction* action(const QString& id) const;
    /// Brings enabled and checked states up to date.
    void refresh();
    /// Changes a shortcut and remembers it. Gives the command that had it before, whose shortcut is now empty.
    QString setShortcut(const QString& id, const QKeySequence& keys);
    void resetShortcuts();

  private:
    void apply(const Command& command, const QKeySequence& keys);
    std::vector<Command> commands_;
    std::vector<QAction*> actions_;
};

}  // namespace app
