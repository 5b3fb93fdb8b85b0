#include "app/dialogs/key_sheet.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace app {

KeyList::KeyList(CommandSet& commands, const QString& now, QWidget* parent)
    : QWidget(parent), commands_(commands), grid_(nullptr) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeSearch());
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* body = new QWidget;
    body->setObjectName("scrolled");
    grid_ = new QGridLayout(body);
    grid_->setVerticalSpacing(4);
    grid_->setColumnStretch(0, 3);
    grid_->setColumnStretch(1, 2);
    // What the status line says of this moment: "keys: what they do".
    if (!now.isEmpty()) heading(tr("Right now"));
    for (const QString& part : now.split(QStringLiteral(" · "), Qt::SkipEmptyParts)) {
        const int colon = static_cast<int>(part.indexOf(':'));
        line(colon < 0 ? part : part.mid(colon + 1).trimmed(), colon < 0 ? QString() : part.left(colon));
    }
    listMouse();
    listCommands();
    scroll->setWidget(body);
    layout->addWidget(scroll, 1);
    layout->addWidget(makeQuestion());
}

/// By name, or by pressing the keys.
QWidget* KeyList::makeSearch() {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(search_ = new QLineEdit, 3);
    search_->setObjectName("keySearch");
    search_->setPlaceholderText(tr("Find a command or a key"));
    search_->setAccessibleName(tr("Find a command or a key"));
    search_->setClearButtonEnabled(true);
    auto* pressed = new QKeySequenceEdit;
    pressed->setObjectName("keyPressed");
    pressed->setAccessibleName(tr("Press keys to see what they do"));
    pressed->setToolTip(tr("Press keys to see what they do"));
    pressed->setClearButtonEnabled(true);
    layout->addWidget(pressed, 2);
    connect(search_, &QLineEdit::textChanged, this, &KeyList::filter);
    connect(pressed, &QKeySequenceEdit::keySequenceChanged, this, [this](const QKeySequence& keys) {
        const Command* owner = commands_.ownerOf(keys);
        if (keys.isEmpty()) return search_->clear();
        search_->setText(owner != nullptr ? owner->text : keys.toString(QKeySequence::NativeText));
    });
    setFocusProxy(search_);
    return row;
}

QWidget* KeyList::makeQuestion() {
    question_ = new QWidget;
    auto* ask = new QHBoxLayout(question_);
    ask->setContentsMargins(0, 0, 0, 0);
    ask->addWidget(asked_ = new QLabel, 1);
    asked_->setObjectName("keyQuestion");
    asked_->setWordWrap(true);
    ask->addWidget(take_ = new QPushButton(tr("Use it here")));
    take_->setObjectName("keyTake");
    auto* leave = new QPushButton(tr("Leave it there"));
    leave->setObjectName("keyLeave");
    ask->addWidget(leave);
    question_->hide();
    for (QPushButton* button : {take_, leave}) button->setAutoDefault(false);
    connect(take_, &QPushButton::clicked, this, [this] {
        question_->hide();
        if (taking_) taking_();
    });
    connect(leave, &QPushButton::clicked, this, [this] {
        question_->hide();
        if (leaving_) leaving_();
    });
    return question_;
}

void KeyList::refresh() {
    for (const Command& command : commands_.all())
        if (auto* keys = findChild<QKeySequenceEdit*>("key." + command.id))
            keys->setKeySequence(commands_.action(command.id)->shortcut());
}

KeySheet::KeySheet(CommandSet& commands, const QString& now, QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Keys and mouse"));
    resize(620, 600);
    auto* layout = new QVBoxLayout(this);
    auto* list = new KeyList(commands, now);
    layout->addWidget(list, 1);
    auto* buttons = new QHBoxLayout;
    auto* reset = new QPushButton(tr("All as they were"));
    auto* done = new QPushButton(tr("Close"));
    for (QPushButton* button : {reset, done}) button->setAutoDefault(false);
    buttons->addWidget(reset);
    buttons->addStretch();
    buttons->addWidget(done);
    layout->addLayout(buttons);
    connect(done, &QPushButton::clicked, this, &QDialog::accept);
    connect(reset, &QPushButton::clicked, this, [this, &commands] {
        commands.resetShortcuts();
        accept();
    });
    list->setFocus();
}

void KeyList::heading(const QString& text) {
    auto* l = new QLabel(text);
    l->setObjectName("panelTitle");
    l->setContentsMargins(0, 8, 0, 2);
    grid_->addWidget(l, static_cast<int>(rows_.size()), 0, 1, 2);
    rows_.push_back({l, nullptr, {}});
}

void KeyList::line(const QString& what, QWidget* how) {
    auto* l = new QLabel(what);
    l->setWordWrap(true);
    grid_->addWidget(l, static_cast<int>(rows_.size()), 0);
    grid_->addWidget(how, static_cast<int>(rows_.size()), 1);
    rows_.push_back({l, how, what});
}

void KeyList::line(const QString& what, const QString& how) {
    auto* l = new QLabel(how);
    l->setObjectName("quiet");
    l->setWordWrap(true);
    line(what, l);
    rows_.back().text += " " + how;
}

void KeyList::listMouse() {
    heading(tr("In the view"));
    const std::pair<QString, QString> mouse[] = {
        {tr("Select; again with Shift: add; with Ctrl: take away"), tr("click")},
        {tr("Select a part of a group without going in"), tr("Ctrl + Shift + click")},
        {tr("Go into a group; out of it"), tr("double-click or Enter; double-click outside or Esc")},
        {tr("Select what a box touches"), tr("drag")},
        {tr("Orbit about the point under the pointer"), tr("middle drag")},
        {tr("Pan"), tr("Shift + middle drag")},
        {tr("Towards or away from the point under the pointer"), tr("wheel")},
        {tr("Look, and fly with W A S D R F"), tr("right drag")},
        {tr("Move the selection by a step; Shift fine, Ctrl coarse"), tr("arrows, Page Up, Page Down")}};
    for (const auto& [what, how] : mouse) line(what, how);
    heading(tr("In a drag"));
    const std::pair<QString, QString> drag[] = {
        {tr("Catch a corner, edge, face, centre, end, the middle of a gap; nothing"), tr("hold 1 2 3 4 6 7; 0")},
        {tr("Stop in line with anything in the level"), tr("hold C")},
        {tr("Fine; without steps"), tr("hold Shift; hold G")},
        {tr("Stopping at contact: through what is in the way"), tr("hold X")},
        {tr("Carrying and placing: turn; raise"), tr("wheel; Shift + wheel")},
        {tr("Placing: side by side; laying: a rectangle, a line"), tr("drag; Shift + drag")},
        {tr("Laying: pick up what lies there"), tr("Ctrl + click")},
        {tr("Type an exact amount; let go of a drag"), tr("Tab; Esc")}};
    for (const auto& [what, how] : drag) line(what, how);
}

/// By where they stand in the menus.
void KeyList::listCommands() {
    std::vector<const Command*> all;
    for (const Command& command : commands_.all()) all.push_back(&command);
    std::stable_sort(all.begin(), all.end(), [&](const Command* a, const Command* b) {
        return commands_.place(a->id) < commands_.place(b->id);
    });
    QString place;
    for (const Command* command : all) {
        const QString own = commands_.place(command->id);
        if (own != place) heading(place = own);
        auto* keys = new QKeySequenceEdit(commands_.action(command->id)->shortcut());
        keys->setObjectName("key." + command->id);
        keys->setAccessibleName(tr("Shortcut of %1").arg(command->text));
        keys->setToolTip(command->tip);
        connect(keys, &QKeySequenceEdit::editingFinished, this, [this, keys, id = command->id] { typed(id, keys); });
        line(command->text, keys);
        rows_.back().text += " " + keys->keySequence().toString(QKeySequence::NativeText) + " " + own;
    }
}

/// One that is in use is taken only when that is meant.
void KeyList::typed(const QString& id, QKeySequenceEdit* field) {
    const QKeySequence keys = field->keySequence(), before = commands_.action(id)->shortcut();
    if (keys == before) return;
    const Command* owner = commands_.ownerOf(keys, id);
    if (owner == nullptr) return (void)commands_.setShortcut(id, keys);
    asked_->setText(tr("“%1” has %2.").arg(owner->text, keys.toString(QKeySequence::NativeText)));
    taking_ = [this, id, keys, other = owner->id] {
        commands_.setShortcut(id, keys);
        if (auto* lost = findChild<QKeySequenceEdit*>("key." + other)) lost->clear();
    };
    leaving_ = [field, before] { field->setKeySequence(before); };
    question_->show();
    take_->setFocus();
}

void KeyList::filter(const QString& text) {
    QWidget* above = nullptr;
    for (const Row& row : rows_) {
        if (row.how == nullptr) {
            above = row.what;
            above->setVisible(text.isEmpty());
            continue;
        }
        const bool shown = row.text.contains(text, Qt::CaseInsensitive);
        row.what->setVisible(shown);
        row.how->setVisible(shown);
        if (shown && above != nullptr) above->show();
    }
}

}  // namespace app
