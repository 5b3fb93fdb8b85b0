#include "app/dialogs/key_sheet.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace app {

KeySheet::KeySheet(CommandSet& commands, const QString& now, QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Keys and mouse"));
    resize(560, 560);
    auto* layout = new QVBoxLayout(this);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    auto* body = new QWidget;
    body->setObjectName("scrolled");
    auto* grid = new QGridLayout(body);
    grid->setVerticalSpacing(4);
    int row = 0;
    auto heading = [&](const QString& text) {
        auto* l = new QLabel(text);
        l->setObjectName("panelTitle");
        l->setContentsMargins(0, 8, 0, 2);
        grid->addWidget(l, row++, 0, 1, 2);
    };
    auto* said = new QLabel;
    said->setObjectName("quiet");
    auto line = [&](const QString& what, const QString& how) {
        grid->addWidget(new QLabel(what), row, 0);
        auto* l = new QLabel(how);
        l->setObjectName("quiet");
        grid->addWidget(l, row++, 1);
    };
    // What the status line says of this moment: "keys: what they do".
    heading(tr("Right now"));
    for (const QString& part : now.split(QStringLiteral(" · "), Qt::SkipEmptyParts)) {
        const int colon = static_cast<int>(part.indexOf(':'));
        line(colon < 0 ? part : part.mid(colon + 1).trimmed(), colon < 0 ? QString() : part.left(colon));
    }
    heading(tr("In the view"));
    const std::pair<QString, QString> mouse[] = {
        {tr("Select; again with Shift: add; with Ctrl: take away"), tr("click")},
        {tr("Select a part of a group without going in"), tr("Ctrl + Shift + click")},
        {tr("Go into a group; out of it"), tr("double-click or Enter; double-click outside or Esc")},
        {tr("Select what a box touches"), tr("drag")},
        {tr("Orbit about the point under the pointer"), tr("middle drag")},
        {tr("Slide the view"), tr("Shift + middle drag")},
        {tr("Towards or away from the point under the pointer"), tr("wheel")},
        {tr("Look, and fly with W A S D R F"), tr("right drag")},
        {tr("Move the selection by a step; Shift fine, Ctrl coarse"), tr("arrows, Page Up, Page Down")}};
    for (const auto& [what, how] : mouse) line(what, how);
    heading(tr("In a drag"));
    const std::pair<QString, QString> drag[] = {
        {tr("Catch a corner, edge, face, centre, end; nothing"), tr("hold 1 2 3 4 6; 0")},
        {tr("Stop in line with anything in the level"), tr("hold C")},
        {tr("Fine; without steps"), tr("hold Shift; hold G")},
        {tr("Carrying: turn; raise"), tr("wheel; Shift + wheel")},
        {tr("Type an exact amount; take it all back"), tr("Tab; Esc")}};
    for (const auto& [what, how] : drag) line(what, how);
    QString menu;
    for (const Command& command : commands.all()) {
        if (command.menu != menu) heading(menu = command.menu);
        grid->addWidget(new QLabel(command.text), row, 0);
        auto* keys = new QKeySequenceEdit(commands.action(command.id)->shortcut());
        keys->setAccessibleName(tr("Shortcut of %1").arg(command.text));
        keys->setToolTip(command.tip);
        connect(keys, &QKeySequenceEdit::editingFinished, this, [&commands, keys, said, id = command.id] {
            if (keys->keySequence() == commands.action(id)->shortcut()) return;
            const QString lost = commands.setShortcut(id, keys->keySequence());
            said->setText(lost.isEmpty() ? QString() : tr("“%1” had this shortcut and has none now.").arg(lost));
        });
        grid->addWidget(keys, row++, 1);
    }
    scroll->setWidget(body);
    layout->addWidget(scroll, 1);
    layout->addWidget(said);
    auto* buttons = new QHBoxLayout;
    auto* reset = new QPushButton(tr("All as they were"));
    auto* done = new QPushButton(tr("Close"));
    buttons->addWidget(reset);
    buttons->addStretch();
    buttons->addWidget(done);
    layout->addLayout(buttons);
    connect(done, &QPushButton::clicked, this, &QDialog::accept);
    connect(reset, &QPushButton::clicked, this, [this, &commands] {
        commands.resetShortcuts();
        accept();
    });
}

}  // namespace app
