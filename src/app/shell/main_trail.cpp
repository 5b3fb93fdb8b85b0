// The trail on top and the line below: where one is, what is there, what is kept.
#include "app/shell/main_window.h"

#include <QDateTime>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QStatusBar>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/kit/hint_label.h"
#include "app/kit/parts.h"
#include "app/panels/counts_button.h"
#include "app/panels/find_field.h"
#include "app/panels/history_strip.h"
#include "app/panels/trace_strip.h"
#include "app/shell/tools.h"
#include "base/text.h"
#include "edit/session.h"

namespace app {

void MainWindow::makeTop() {
    auto* top = new QWidget;
    auto* column = new QVBoxLayout(top);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QMenuBar;
    bar->setObjectName("menus");
    column->addWidget(bar);
    trail_ = new QWidget;
    trail_->setObjectName("trail");
    trail_->setAttribute(Qt::WA_StyledBackground);
    trail_->setFixedHeight(40);
    auto* row = new QHBoxLayout(trail_);
    row->setContentsMargins(12, 0, 12, 0);
    row->setSpacing(4);
    auto* mark = label({}, "glyph");
    row->addWidget(mark);
    projectButton_ = new QToolButton;
    projectButton_->setObjectName("trailProject");
    projectButton_->setPopupMode(QToolButton::InstantPopup);
    projectButton_->setToolTip(tr("The project; click for recent ones"));
    row->addWidget(projectButton_);
    auto* separator = label({}, "faint");
    separator->setText(QStringLiteral("›"));
    row->addWidget(separator);
    sceneButton_ = new QToolButton;
    sceneButton_->setObjectName("here");
    sceneButton_->setPopupMode(QToolButton::InstantPopup);
    sceneButton_->setToolTip(tr("The scene; click for the others"));
    row->addWidget(sceneButton_);
    enteredRow_ = new QHBoxLayout;
    enteredRow_->setSpacing(4);
    row->addLayout(enteredRow_);
    row->addStretch(1);
    find_ = new FindField(editor_, *commands_, trail_);
    row->addWidget(find_);
    row->addStretch(1);
    row->addWidget(checksButton_ = new CountsButton);
    checksButton_->setObjectName("checksCount");
    checksButton_->setToolTip(tr("What checks have found in this scene (Alt+C)"));
    column->addWidget(trail_);
    setMenuWidget(top);
}

void MainWindow::refreshTrail() {
    const bool open = editor_.isOpen();
    projectButton_->setText(open ? QString::fromStdString(editor_.session().project().name) : tr("No project"));
    sceneButton_->setText(
        open ? editor_.documentName(editor_.sceneName()) +
                   (editor_.session().isUnsaved(editor_.sceneName()) ? QStringLiteral(" •") : QString())
             : QString());
    fillEntered();
    setWindowTitle(open ? QString("%1 › %2%3 — Mellow Lattice")
                              .arg(projectButton_->text(), editor_.documentName(editor_.sceneName()),
                                   editor_.session().isUnsaved(editor_.sceneName()) ? " •" : "")
                        : QStringLiteral("Mellow Lattice"));
}

/// Where in the tree one works: a button for each group gone into; a click goes out to it.
void MainWindow::fillEntered() {
    while (QLayoutItem* old = enteredRow_->takeAt(0)) {
        if (old->widget() != nullptr) old->widget()->deleteLater();
        delete old;
    }
    fillEnteredGroups();
    if (editor_.isOpen() && editor_.tools().tool == Tool::Parts) fillEnteredSolid();
}

/// The solid whose parts are worked on; a click goes out of it.
void MainWindow::fillEnteredSolid() {
    const model::Slot slot = editor_.scene().find(editor_.tools().parts.of);
    if (slot == model::kNoSlot) return;
    auto* separator = new QLabel(QStringLiteral("›"));
    separator->setObjectName("faint");
    enteredRow_->addWidget(separator);
    auto* button = new QToolButton;
    button->setObjectName("trailSolid");
    button->setText(tr("parts of %1").arg(toQt(editor_.scene().nameText(slot))));
    button->setToolTip(tr("The solid one is in; click to go out"));
    connect(button, &QToolButton::clicked, this, [this] { editor_.setTool(Tool::Slide); });
    enteredRow_->addWidget(button);
}

void MainWindow::fillEnteredGroups() {
    if (!editor_.isOpen() || !editor_.entered()) return;
    const model::Scene& scene = editor_.scene();
    std::vector<model::Slot> chain;
    for (model::Slot s = scene.find(editor_.entered()); s != model::kNoSlot; s = scene.parent(s))
        if (chain.empty() || editor_.isWhole(s)) chain.push_back(s);
    for (auto slot = chain.rbegin(); slot != chain.rend(); ++slot) {
        auto* separator = new QLabel(QStringLiteral("›"));
        separator->setObjectName("faint");
        enteredRow_->addWidget(separator);
        auto* button = new QToolButton;
        const base::ObjectId id = scene.id(*slot);
        const auto name = scene.nameText(*slot);
        button->setObjectName("trailGroup");
        button->setText(toQt(name));
        if (id == editor_.session().definitionEditedAt()) {
            const base::ObjectId prefab = scene.detail(*slot)->prefab->of;
            button->setText(tr("definition of %1, %2")
                                .arg(QString::fromStdString(editor_.session().prefabName(prefab)),
                                     counted(editor_.session().instancesOf(prefab, editor_.sceneName()).size(),
                                             tr("instance here"), tr("instances here"))));
        }
        const bool here = id == editor_.entered();
        button->setToolTip(here ? tr("The group one is in; click to go out") : tr("Back to this group"));
        connect(button, &QToolButton::clicked, this, [this, id, here] { here ? editor_.leave() : editor_.enter(id); });
        enteredRow_->addWidget(button);
    }
}

void MainWindow::makeBottom() {
    auto* bar = new QStatusBar;
    bar->setSizeGripEnabled(false);
    bar->setStyleSheet("QStatusBar::item { border: none; } QStatusBar { padding: 0; margin: 0; }");
    bar->setContentsMargins(0, 0, 0, 0);
    auto* bottom = new QWidget;
    auto* column = new QVBoxLayout(bottom);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(traceStrip_ = new TraceStrip(editor_));
    strip_ = new HistoryStrip(editor_);
    auto* past = new QFrame;
    past->setObjectName("strip");
    auto* pastRow = new QHBoxLayout(past);
    pastRow->setContentsMargins(0, 0, 8, 0);
    pastRow->setSpacing(0);
    pastRow->addWidget(strip_, 1);
    pastRow->addWidget(makeDeskHandle());
    column->addWidget(past);
    auto* status = new QWidget;
    status->setObjectName("status");
    status->setAttribute(Qt::WA_StyledBackground);
    status->setFixedHeight(24);
    auto* row = new QHBoxLayout(status);
    row->setContentsMargins(12, 0, 12, 0);
    row->setSpacing(18);
    row->addWidget(hint_ = new HintLabel);
    row->addStretch(1);
    row->addWidget(cursorPlace_ = label({}, "cursorPlace"));
    row->addWidget(counts_ = label({}, "sceneCounts"));
    row->addWidget(saved_ = label({}, "savedState"));
    row->setStretchFactor(hint_, 3);
    column->addWidget(status);
    bar->layout()->setContentsMargins(0, 0, 0, 0);
    bar->addWidget(bottom, 1);
    setStatusBar(bar);
    statusTimer_.setInterval(60'000);
    connect(&statusTimer_, &QTimer::timeout, this, &MainWindow::refreshStatus);
    statusTimer_.start();
}

void MainWindow::refreshStatus() {
    if (!editor_.isOpen()) {
        counts_->clear();
        saved_->clear();
        return;
    }
    const model::Scene& scene = editor_.scene();
    counts_->setText(counted(scene.objectCount(), tr("object"), tr("objects")));
    edit::Session& session = editor_.session();
    if (editor_.showsLive()) return saved_->setText(tr("Being played"));
    if (!session.readOnlyReason().empty()) return saved_->setText(tr("Read only"));
    if (saving_) return saved_->setText(tr("Saving…"));
    const std::vector<std::string> unsaved = session.unsavedScenes();
    saved_->setText(savedText(unsaved));
    QStringList all;
    for (const std::string& name : unsaved) all << editor_.documentName(name);
    saved_->setToolTip(all.isEmpty() ? tr("Every file holds what is here")
                                     : tr("Not in their files yet: %1").arg(all.join(", ")));
}

/// What of the project is not in its files yet: by file, for a kind or a record is one too.
QString MainWindow::savedText(const std::vector<std::string>& unsaved) const {
    if (unsaved.empty()) return tr("All steps kept · all files saved");
    if (unsaved.size() > 1)
        return tr("All steps kept · %1 and %2 not saved")
            .arg(editor_.documentName(unsaved.back()), counted(unsaved.size() - 1, tr("more file"), tr("more files")));
    qint64 savedAt = 0;
    for (const edit::SaveMark& mark : editor_.session().saves())
        if (mark.scene == unsaved.front() && mark.placed) savedAt = mark.timeMs;
    const QString name = editor_.documentName(unsaved.front());
    if (savedAt == 0) return tr("All steps kept · %1 not saved yet").arg(name);
    const qint64 minutes = (QDateTime::currentMSecsSinceEpoch() - savedAt) / 60'000;
    return tr("All steps kept · %1 changed since it was saved %2 min ago").arg(name).arg(minutes);
}

}  // namespace app
