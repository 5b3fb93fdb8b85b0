#pragma once
// Commands: everything a designer can do by name. Each is in a menu, in find, has a tooltip and may have a shortcut
// that can be changed.
#include <QAction>
#include <QHash>
#include <QKeySequence>
#include <QObject>
#include <QSettings>
#include <functional>
#include <vector>

namespace app {

struct Command {
    QString id;  ///< "edit.undo": the key of a changed shortcut
    QString text;
    QString tip;  ///< one sentence
    QKeySequence shortcut;
    std::function<void()> run;
    std::function<bool()> enabled = {};  ///< empty: always
    std::function<bool()> checked = {};  ///< empty: not a switch
    QKeySequence second = {};            ///< another usual one beside the shortcut, as long as that is not changed
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
    const Command* command(const QString& id) const;
    /// Where it stands in the menus: "View › Light".
    void setPlace(const QString& id, const QString& place) { places_[id] = place; }
    QString place(const QString& id) const { return places_.value(id); }
    /// Says of a command that is off what it needs; its tip then says so.
    void setWhyNot(std::function<QString(const Command&)> why) { whyNot_ = std::move(why); }
    QString whyNot(const Command& command) const { return whyNot_ ? whyNot_(command) : QString(); }
    /// Brings enabled and checked states up to date.
    void refresh();
    /// The same, and the tips of those that are off say why: for a menu that is about to be read.
    void refreshTips();
    /// Whose shortcut it is, but that of `id` itself; null: nobody's.
    const Command* ownerOf(const QKeySequence& keys, const QString& id = {}) const;
    /// Changes a shortcut and remembers it. Gives the command that had it before, whose shortcut is now empty.
    QString setShortcut(const QString& id, const QKeySequence& keys);
    void resetShortcuts();

  private:
    void apply(const Command& command, const QKeySequence& keys);
    void showTip(const Command& command, QAction& action) const;
    std::vector<Command> commands_;
    std::vector<QAction*> actions_;
    QHash<QString, QString> places_;
    std::function<QString(const Command&)> whyNot_;
};

}  // namespace app
