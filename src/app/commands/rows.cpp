#include "app/commands/rows.h"

#include <QDockWidget>

#include "app/panels/desk.h"
#include "app/shell/main_window.h"
#include "app/view/panes.h"

namespace app {

ViewWidget& Shell::view() const {
    return panes.active();
}

bool Shell::deskShows(const QWidget& page) const {
    return deskDock.isVisible() && desk.page() == &page;
}

void Shell::openDesk(QWidget& page) {
    constexpr int kLeast = 160, kUsual = 230;
    deskDock.show();
    desk.showPage(&page);
    if (deskDock.height() < kLeast) window.resizeDocks({&deskDock}, {kUsual}, Qt::Vertical);
}

void Shell::toggleDesk(QWidget& page) {
    if (deskShows(page))
        deskDock.hide();
    else
        openDesk(page);
}

Rows::Rows(Shell& shell) : shell_(shell), editor_(shell.editor), commands_(&shell.commands) {}

QWidget* Rows::over() const {
    return &shell_.window;
}

void Rows::verb(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys, Run run,
                Asked enabled) {
    commands_->add({id, text, tip, keys, std::move(run), std::move(enabled)});
}

void Rows::toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys, Run run,
                  Asked checked, Asked enabled) {
    commands_->add({id, text, tip, keys, std::move(run), std::move(enabled), std::move(checked)});
}

void Rows::toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                  bool Tools::*member) {
    toggle(
        id, text, tip, keys, [this, member] { editor_.change(member, !(editor_.tools().*member)); },
        [this, member] { return editor_.tools().*member; });
}

void Rows::toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                  bool Looks::*member) {
    toggle(
        id, text, tip, keys, [this, member] { change(member, !(editor_.looks().*member)); },
        [this, member] { return editor_.looks().*member; });
}

void Rows::toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                  bool& (*member)(Tools&)) {
    const auto now = [this, member] {
        Tools tools = editor_.tools();
        return member(tools);
    };
    toggle(
        id, text, tip, keys,
        [this, member] {
            Tools tools = editor_.tools();
            member(tools) = !member(tools);
            editor_.setTools(tools);
        },
        now);
}

void Rows::hand(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys, Tool tool) {
    toggle(
        id, text, tip, keys, [this, tool] { editor_.setTool(tool); },
        [this, tool] { return editor_.tools().tool == tool; });
}

}  // namespace app
