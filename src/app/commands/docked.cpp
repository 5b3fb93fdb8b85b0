#include "app/commands/docked.h"

#include "app/dialogs/item_card.h"
#include "app/dialogs/kinds_window.h"
#include "app/dialogs/records_window.h"
#include "app/panels/stock_panel.h"
#include "app/shell/main_window.h"
#include "app/view/panes.h"
#include "app/view/view_widget.h"

namespace app {

namespace {

/// The one of its sort, docked.
template <class Content>
Content& openDocked(Shell& shell, const char* name, const QString& title) {
    auto* content = shell.window.findChild<Content*>();
    if (content == nullptr) {
        content = new Content(&shell.window, shell.editor);
        shell.window.dockBeside(content, name, title);
        QObject::connect(content, &Content::closeAsked, &shell.window, [&shell, content] {
            content->parentWidget()->close();
            shell.view().setFocus();
        });
    }
    QWidget* dock = content->parentWidget();
    dock->show();
    dock->raise();
    dock->window()->activateWindow();
    content->setFocus();
    return *content;
}

}  // namespace

KindsWindow& openKinds(Shell& shell) {
    auto& kinds = openDocked<KindsWindow>(shell, "kindsDock", Rows::tr("Kinds"));
    kinds.setChosenItem([&shell] { return shell.stock.current().toStdString(); });
    QObject::disconnect(&kinds, &KindsWindow::stockAsked, &shell.window, nullptr);
    QObject::connect(&kinds, &KindsWindow::stockAsked, &shell.window, [&shell](const QString& item) {
        shell.stock.reveal(item);
        new ItemCard(&shell.panes, shell.editor, {item.toStdString()});
    });
    return kinds;
}

void openRecords(Shell& shell) {
    auto& records = openDocked<RecordsWindow>(shell, "recordsDock", Rows::tr("Records"));
    QObject::disconnect(&records, &RecordsWindow::typesAsked, &shell.window, nullptr);
    QObject::connect(&records, &RecordsWindow::typesAsked, &shell.window,
                     [&shell](const QString& type) { openKinds(shell).revealRecords(type.toStdString()); });
}

}  // namespace app
