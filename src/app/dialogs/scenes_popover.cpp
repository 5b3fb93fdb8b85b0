#include "app/dialogs/scenes_popover.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <algorithm>

#include "app/kit/parts.h"
#include "app/look/plain_text.h"
#include "app/names.h"
#include "app/shell/checks.h"
#include "base/files.h"
#include "edit/session.h"
#include "io/project_file.h"
#include "io/workspace.h"
#include "ops/scenes.h"

namespace app {

namespace {

enum Column { kName, kSaid, kObjects, kFindings, kState };

/// As the file has it, for one that was not read yet: a line each, after the first.
std::size_t objectsInFile(const std::filesystem::path& file) {
    const auto text = base::readFile(file, base::most::kScene);
    return text
               ? static_cast<std::size_t>(std::max<std::ptrdiff_t>(std::count(text->begin(), text->end(), '\n') - 1, 0))
               : 0;
}

}  // namespace

ScenesPopover::ScenesPopover(QWidget* parent, Editor& editor)
    : QFrame(parent), editor_(editor), list_(new QTreeWidget) {
    setObjectName("popover");
    setAttribute(Qt::WA_StyledBackground);
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addWidget(label(tr("Scenes"), "panelTitle"));
    makeList(layout);
    makeSwitches(layout);
    makeFoot(layout);
    connect(&editor_, &Editor::libraryChanged, this, [this] { refill(current()); });
    connect(&editor_, &Editor::historyChanged, this, [this] { refill(current()); });
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    refill(editor_.sceneName());
    setGeometry(QRect(QPoint(90, 72), QSize(560, 380)));
    show();
    raise();
    list_->setFocus();
}

void ScenesPopover::makeList(QVBoxLayout* into) {
    list_->setObjectName("scenesList");
    list_->setAccessibleName(tr("Scenes of the project"));
    list_->setToolTip(tr("Enter: show it · F2: rename · Delete: take it out of the project"));
    list_->setHeaderLabels({tr("Scene"), QString(), tr("Objects"), tr("Findings"), tr("File")});
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    list_->setEditTriggers(QAbstractItemView::EditKeyPressed);
    list_->header()->setStretchLastSection(false);
    list_->header()->setSectionResizeMode(kName, QHeaderView::Stretch);
    for (const int column : {kSaid, kObjects, kFindings, kState})
        list_->header()->setSectionResizeMode(column, QHeaderView::ResizeToContents);
    into->addWidget(list_, 1);
    connect(list_, &QTreeWidget::itemActivated, this, &ScenesPopover::go);
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] {
        if (!filling_) refreshButtons();
    });
    connect(list_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) {
        if (filling_) return;
        // Once the field in the list is put away: the list is made anew by it.
        QMetaObject::invokeMethod(
            this,
            [this, from = item->data(kName, Qt::UserRole).toString().toStdString(), to = item->text(kName).trimmed()] {
                rename(from, to);
            },
            Qt::QueuedConnection);
    });
}

/// What is said of the chosen one.
void ScenesPopover::makeSwitches(QVBoxLayout* into) {
    auto* row = new QHBoxLayout;
    auto button = [&](const char* name, const QString& text, const QString& tip) {
        auto* b = app::button<QToolButton>(name, text, tip);
        row->addWidget(b);
        return b;
    };
    first_ = button("sceneFirst", tr("First"), tr("Shown when the project is opened"));
    scratch_ = button("sceneScratch", tr("Scratch"), tr("A place to try: never exported or checked"));
    template_ = button("sceneTemplate", tr("Template"), tr("New scenes can begin as it"));
    for (QToolButton* b : {first_, scratch_, template_}) b->setCheckable(true);
    row->addStretch();
    up_ = button("sceneUp", tr("↑"), tr("Earlier in the order"));
    down_ = button("sceneDown", tr("↓"), tr("Later in the order"));
    into->addLayout(row);
    connect(first_, &QToolButton::clicked, this, [this] {
        const std::string name = current();
        editor_.run("First scene " + name, [&](edit::Draft& draft) { return ops::makeFirstScene(draft, name); });
        refreshButtons();
    });
    connect(scratch_, &QToolButton::clicked, this,
            [this](bool on) { change(tr("Scratch scene"), &model::SceneEntry::scratch, on); });
    connect(template_, &QToolButton::clicked, this,
            [this](bool on) { change(tr("Template scene"), &model::SceneEntry::isTemplate, on); });
    connect(up_, &QToolButton::clicked, this, [this] { moveCurrent(-1); });
    connect(down_, &QToolButton::clicked, this, [this] { moveCurrent(1); });
}

void ScenesPopover::makeFoot(QVBoxLayout* into) {
    auto* row = new QHBoxLayout;
    auto button = [&](const char* name, const QString& text, const QString& tip, auto act) {
        auto* b = app::button<QPushButton>(name, text, tip);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, act);
        return b;
    };
    button("sceneNew", tr("New…"), tr("A new scene, from a template"), [this] {
        Q_EMIT newAsked();
        (void)close();
    });
    duplicate_ = button("sceneDuplicate", tr("Duplicate…"), tr("A copy under another name"), [this] {
        Q_EMIT duplicateAsked(QString::fromStdString(current()));
        (void)close();
    });
    rename_ = button("sceneRename", tr("Rename"), tr("In the list (F2)"),
                     [this] { list_->editItem(list_->currentItem(), kName); });
    delete_ = button("sceneDelete", tr("Delete"), tr("Takes it out of the project; undo brings it back (Delete)"),
                     [this] { removeCurrent(); });
    row->addStretch();
    button("sceneClose", tr("Close"), tr("Closes the list (Esc)"), [this] { (void)close(); });
    go_ = button("sceneGo", tr("Show it"), tr("Shows the scene (Enter)"), [this] { go(); });
    go_->setProperty("primary", true);
    into->addLayout(row);
}

std::string ScenesPopover::current() const {
    const QTreeWidgetItem* item = list_->currentItem();
    return item != nullptr ? item->data(kName, Qt::UserRole).toString().toStdString() : std::string();
}

void ScenesPopover::refill(std::string wanted) {
    if (!editor_.isOpen()) return;
    filling_ = true;
    list_->clear();
    const edit::Session& session = editor_.session();
    for (const std::string& name : session.project().sceneNames) {
        auto* item = new QTreeWidgetItem(list_);
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        item->setData(kName, Qt::UserRole, QString::fromStdString(name));
        item->setText(kName, QString::fromStdString(name));
        const model::SceneEntry* entry = session.project().scene(name);
        QStringList said;
        if (session.project().firstScene == name) said << tr("first");
        if (entry != nullptr && entry->scratch) said << tr("scratch");
        if (entry != nullptr && entry->isTemplate) said << tr("template");
        item->setText(kSaid, said.join(", "));
        const bool shown = name == editor_.sceneName();
        const bool isRead = session.isLoaded(name);
        if (!isRead && !inFile_.contains(name))
            inFile_[name] = objectsInFile(io::sceneFile(editor_.workspace().folder(), name));
        const std::size_t count = isRead ? (*editor_.session().scene(name))->objectCount() : inFile_[name];
        item->setText(kObjects, QString::number(count));
        if (!isRead) item->setToolTip(kObjects, tr("As its file says, without what instances hold"));
        const auto last = editor_.checks().lastCount(name);
        item->setText(kFindings, shown && editor_.checks().isKnown()
                                     ? QString::number(editor_.checks().findings().size())
                                 : last ? QString::number(*last)
                                        : QStringLiteral("–"));
        if (!shown)
            item->setToolTip(
                kFindings, last ? tr("As they were when it was shown last") : tr("Show the scene to have it checked"));
        item->setText(kState, session.isUnsaved(name) ? tr("not saved") : tr("saved"));
        for (const int column : {kObjects, kFindings})
            item->setTextAlignment(column, Qt::AlignRight | Qt::AlignVCenter);
        if (name == wanted) list_->setCurrentItem(item);
    }
    if (list_->currentItem() == nullptr && list_->topLevelItemCount() > 0)
        list_->setCurrentItem(list_->topLevelItem(0));
    filling_ = false;
    refreshButtons();
}

void ScenesPopover::refreshButtons() {
    const std::string name = current();
    const model::Project& project = editor_.session().project();
    const model::SceneEntry* entry = project.scene(name);
    const bool may = !name.empty() && editor_.session().readOnlyReason().empty();
    const int row = list_->currentItem() != nullptr ? list_->indexOfTopLevelItem(list_->currentItem()) : 0;
    first_->setChecked(project.firstScene == name);
    scratch_->setChecked(entry != nullptr && entry->scratch);
    template_->setChecked(entry != nullptr && entry->isTemplate);
    for (QWidget* w : {static_cast<QWidget*>(first_), static_cast<QWidget*>(scratch_), static_cast<QWidget*>(template_),
                       static_cast<QWidget*>(duplicate_), static_cast<QWidget*>(rename_)})
        w->setEnabled(may);
    delete_->setEnabled(may && project.sceneNames.size() > 1);
    up_->setEnabled(may && row > 0);
    down_->setEnabled(may && row + 1 < list_->topLevelItemCount());
    go_->setEnabled(!name.empty() && name != editor_.sceneName());
}

void ScenesPopover::go() {
    if (current().empty()) return;
    editor_.report(editor_.showScene(current()));
    close();
}

void ScenesPopover::rename(const std::string& from, const QString& to) {
    const std::string name = to.toStdString();
    const bool shown = from == editor_.sceneName();
    const bool done = from != name && editor_.run("Rename scene " + from + " to " + name, [&](edit::Draft& draft) {
        return ops::renameScene(draft, from, name);
    });
    if (done && shown) editor_.report(editor_.showScene(name));
    refill(done ? name : from);
}

void ScenesPopover::removeCurrent() {
    const std::string name = current();
    if (editor_.run("Delete scene " + name, [&](edit::Draft& draft) { return ops::deleteScene(draft, name); }))
        editor_.say(tr("%1 is no scene any more; undo brings it back.").arg(QString::fromStdString(name)));
}

void ScenesPopover::moveCurrent(int by) {
    std::vector<std::string> names = editor_.session().project().sceneNames;
    const std::string name = current();
    const auto place = std::find(names.begin(), names.end(), name);
    const auto at = place - names.begin(), to = at + by;
    if (place == names.end() || to < 0 || to >= std::ssize(names)) return;
    std::swap(names[static_cast<std::size_t>(at)], names[static_cast<std::size_t>(to)]);
    editor_.run("Order of scenes", [&](edit::Draft& draft) { return ops::orderScenes(draft, names); });
    refill(name);
}

void ScenesPopover::change(const QString& step, bool model::SceneEntry::*member, bool on) {
    const std::string name = current();
    editor_.run(step.toStdString() + " " + name, [&](edit::Draft& draft) {
        return ops::changeScene(draft, name, [&](model::SceneEntry& entry) { entry.*member = on; });
    });
    refill(name);
}

void ScenesPopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return void(close());
    if (event->key() == Qt::Key_Delete) return removeCurrent();
    QFrame::keyPressEvent(event);
}

}  // namespace app
