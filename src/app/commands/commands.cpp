#include "app/commands/commands.h"

namespace app {

void CommandSet::add(Command command) {
    auto* action = new QAction(command.text, this);
    action->setObjectName(command.id);
    action->setCheckable(static_cast<bool>(command.checked));
    actions_.push_back(action);
    commands_.push_back(std::move(command));
    const Command& kept = commands_.back();
    // What it needs may have gone since the menu was shown.
    connect(action, &QAction::triggered, this, [this, run = kept.run, enabled = kept.enabled] {
        if (!enabled || enabled()) run();
        refresh();
    });
    QSettings settings;
    const QVariant changed = settings.value("shortcuts/" + kept.id);
    apply(kept, changed.isValid() ? QKeySequence(changed.toString(), QKeySequence::PortableText) : kept.shortcut);
}

void CommandSet::removeStarting(const QString& head) {
    for (std::size_t i = commands_.size(); i-- > 0;) {
        if (!commands_[i].id.startsWith(head)) continue;
        delete actions_[i];
        actions_.erase(actions_.begin() + static_cast<std::ptrdiff_t>(i));
        commands_.erase(commands_.begin() + static_cast<std::ptrdiff_t>(i));
    }
}

void CommandSet::apply(const Command& command, const QKeySequence& keys) {
    QAction* a = action(command.id);
    QList<QKeySequence> all = {keys};
    if (!command.second.isEmpty() && keys == command.shortcut) all << command.second;
    a->setShortcuts(all);
    showTip(command, *a);
}

void CommandSet::showTip(const Command& command, QAction& action) const {
    const QKeySequence keys = action.shortcut();
    QString tip =
        keys.isEmpty() ? command.tip : QString("%1 (%2)").arg(command.tip, keys.toString(QKeySequence::NativeText));
    if (!action.isEnabled())
        if (const QString why = whyNot(command); !why.isEmpty()) tip += "\n" + why;
    action.setToolTip(tip);
}

const Command* CommandSet::command(const QString& id) const {
    for (const Command& command : commands_)
        if (command.id == id) return &command;
    return nullptr;
}

QAction* CommandSet::action(const QString& id) const {
    for (QAction* a : actions_)
        if (a->objectName() == id) return a;
    return nullptr;
}

void CommandSet::refresh() {
    for (std::size_t i = 0; i < commands_.size(); ++i) {
        if (commands_[i].enabled) actions_[i]->setEnabled(commands_[i].enabled());
        if (commands_[i].checked) actions_[i]->setChecked(commands_[i].checked());
    }
}

void CommandSet::refreshTips() {
    refresh();
    for (std::size_t i = 0; i < commands_.size(); ++i) showTip(commands_[i], *actions_[i]);
}

const Command* CommandSet::ownerOf(const QKeySequence& keys, const QString& id) const {
    for (std::size_t i = 0; !keys.isEmpty() && i < commands_.size(); ++i)
        if (commands_[i].id != id && actions_[i]->shortcuts().contains(keys)) return &commands_[i];
    return nullptr;
}

QString CommandSet::setShortcut(const QString& id, const QKeySequence& keys) {
    QString lost;
    QSettings settings;
    for (const Command& command : commands_) {
        if (command.id == id) {
            settings.setValue("shortcuts/" + id, keys.toString(QKeySequence::PortableText));
            apply(command, keys);
        } else if (!keys.isEmpty() && action(command.id)->shortcuts().contains(keys)) {
            lost = command.text;
            settings.setValue("shortcuts/" + command.id, QString());
            apply(command, {});
        }
    }
    return lost;
}

void CommandSet::resetShortcuts() {
    QSettings settings;
    settings.remove("shortcuts");
    for (const Command& command : commands_) apply(command, command.shortcut);
}

}  // namespace app
