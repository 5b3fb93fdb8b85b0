// Projects, scenes and models: opening, saving, importing, exporting.
#include <QCoreApplication>
#include <QDir>
#include <QDragEnterEvent>
#include <QEventLoop>
#include <QFileDialog>
#include <QMessageBox>
#include <QMimeData>
#include <QPointer>
#include <QPushButton>
#include <QThreadPool>
#include <QUrl>

#include "app/dialogs/item_card.h"
#include "app/dialogs/popovers.h"
#include "app/dialogs/scenes_popover.h"
#include "app/kit/question.h"
#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QFrame>
#include <QLabel>
#include <QToolButton>
#include "app/dialogs/progress_card.h"
#include "app/kit/number_field.h"
#include "app/names.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/find_field.h"
#include "app/panels/hand_panel.h"
#include "app/panels/history_strip.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/outside.h"
#include "app/shell/preferences.h"
#include "app/shell/recent_projects.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"
#include "edit/session.h"
#include "io/gltf_out.h"
#include "io/import_model.h"
#include "io/templates.h"
#include "io/workspace.h"
#include "ops/scenes.h"

namespace app {

namespace {

bool isModel(const QString& file) {
    return io::isModelFile(file.toStdString());
}

}  // namespace

namespace {

/// The one that is asked for first.
QStringList templateNames(const QString& first) {
    QStringList names;
    for (const io::Template& t : io::templates()) names << QString::fromStdString(t.name);
    if (names.removeOne(first)) names.prepend(first);
    return names;
}

}  // namespace

void MainWindow::newProject(const QString& first) {
    askUnsaved([this, first] {
        const QString chosen = QString::fromStdString(editor_.preferences().projectsFolder);
        const QDir home(!chosen.isEmpty()           ? chosen
                        : recentFolders().isEmpty() ? QDir::homePath()
                                                    : QFileInfo(recentFolders().front()).path());
        new NamePopover(
            this, tr("New project in this folder"), tr("Make it"), home.filePath("new-project"), templateNames(first),
            [this](const QString& folder, const QString& like) {
                const std::string path = folder.toStdString();
                if (Status made = io::createProject(path, like.toStdString(), std::hash<std::string>{}(path)); !made)
                    return QString::fromStdString(made.error().message);
                Scripts::trustFolder(path);
                QTimer::singleShot(0, this, [this, folder] { openProject(folder, io::OpenMode::Edit); });
                return QString();
            });
    });
}

void MainWindow::chooseProject() {
    askUnsaved([this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Open a project’s folder"));
        if (!folder.isEmpty()) openProject(folder, io::OpenMode::Edit);
    });
}

/// Made as a step, then shown.
QString MainWindow::makeScene(const std::string& name, const std::string& step,
                              const std::function<Status(edit::Draft&)>& verb) {
    if (Status usable = edit::usableSceneName(editor_.session(), name); !usable)
        return QString::fromStdString(usable.error().message);
    if (editor_.run(step + " " + name, verb)) editor_.report(editor_.showScene(name));
    return {};
}

void MainWindow::newScene() {
    QStringList from;
    for (const io::Template& t : io::sceneTemplates()) from << QString::fromStdString(t.name);
    for (const model::SceneEntry& entry : editor_.session().project().scenes)
        if (entry.isTemplate && edit::isScene(editor_.session(), entry.name))
            from << QString::fromStdString(entry.name);
    new NamePopover(this, tr("New scene"), tr("Make it"),
                    QString::fromStdString(edit::freeSceneName(editor_.session(), "new-scene")), from,
                    [this](const QString& typed, const QString& chosen) {
                        const std::string name = typed.trimmed().toStdString(), like = chosen.toStdString();
                        return makeScene(name, "New scene", [&](edit::Draft& draft) {
                            return edit::isScene(draft.session(), like)
                                       ? ops::duplicateScene(draft, like, name)
                                       : io::createScene(editor_.workspace(), draft, name, like);
                        });
                    });
}

void MainWindow::showScenes() {
    auto* scenes = new ScenesPopover(this, editor_);
    connect(scenes, &ScenesPopover::newAsked, this, &MainWindow::newScene);
    connect(scenes, &ScenesPopover::duplicateAsked, this, &MainWindow::duplicateScene);
}

void MainWindow::duplicateScene(const QString& scene) {
    const std::string from = scene.isEmpty() ? editor_.sceneName() : scene.toStdString();
    new NamePopover(this, tr("Duplicate %1").arg(QString::fromStdString(from)), tr("Duplicate"),
                    QString::fromStdString(edit::freeSceneName(editor_.session(), from)), {},
                    [this, from](const QString& typed, const QString&) {
                        const std::string name = typed.trimmed().toStdString();
                        return makeScene(name, "Duplicate " + from + " as",
                                         [&](edit::Draft& draft) { return ops::duplicateScene(draft, from, name); });
                    });
}

// The long half of saving runs on a worker with a snapshot; the short half, back here, puts the file in place.
void MainWindow::saveAndThen(std::function<void()> next) {
    if (saving_) {
        afterSave_ = std::move(next);
        return;
    }
    if (!canEdit()) {
        editor_.report(base::fail(base::ErrorCode::Refused,
                                  editor_.isOpen() ? editor_.session().readOnlyReason() : "No project is open."));
        return;
    }
    edit::Session& session = editor_.session();
    std::vector<io::SaveJob> jobs;
    for (const std::string& name : session.unsavedScenes()) {
        auto job = io::saveJob(editor_.workspace(), name);
        if (!job) return (void)editor_.report(tl::unexpected(job.error()));
        jobs.push_back(std::move(*job));
    }
    if (jobs.empty()) {
        editor_.say(tr("Nothing has changed since the last save."));
        if (next) next();
        return;
    }
    saving_ = true;
    outside_->setPaused(true);
    afterSave_ = std::move(next);
    refreshStatus();
    if (saveWorker_.joinable()) saveWorker_.join();
    saveWorker_ = std::thread([this, jobs = std::move(jobs)] {
        auto results =
            std::make_shared<std::vector<base::Result<io::PreparedSave>>>();  // shared with the window's loop
        for (const io::SaveJob& job : jobs) results->push_back(io::prepareSave(job));
        QMetaObject::invokeMethod(
            this,
            [this, results] {
                saving_ = false;
                QStringList problems;
                for (auto& prepared : *results)
                    if (const Status done = prepared ? io::finishSave(editor_.workspace(), *prepared)
                                                     : Status(tl::unexpected(prepared.error()));
                        !done)
                        problems << QString::fromStdString(done.error().message);
                const bool fine = problems.isEmpty();
                if (!fine)
                    showMessage(tr("Kept in the history, but not written to its file: %1").arg(problems.join(' ')),
                                true);
                outside_->setPaused(false);
                if (!fine) outside_->look();
                refreshStatus();
                refreshBanner();
                refreshTrail();
                auto then = std::exchange(afterSave_, nullptr);
                if (fine && then) then();
            },
            Qt::QueuedConnection);
    });
}

/// A project's folder, or any file in one; a model is offered to be imported into the project that is open, or was
/// last.
void MainWindow::openPath(const QString& path, io::OpenMode mode, const QString& scene) {
    const QFileInfo file(path);
    const QString name = file.fileName();
    if (!file.isFile()) return (void)openProject(path, mode, scene);
    if (isModel(name)) return offerImport(path);
    QDir folder = file.absoluteDir();
    while (!folder.exists("project.json") && folder.cdUp()) {
    }
    const bool isScene = name.endsWith(".scene.jsonl");
    openProject(folder.exists("project.json") ? folder.absolutePath() : file.absolutePath(), mode,
                isScene ? name.left(name.size() - int(strlen(".scene.jsonl"))) : scene);
}

void MainWindow::offerImport(const QString& model) {
    if (!editor_.isOpen() && !recentFolders().isEmpty()) openProject(recentFolders().front(), io::OpenMode::Edit);
    if (!canEdit()) return showMessage(tr("%1 is a model: open a project first to import it into.").arg(model), true);
    const QString project = QString::fromStdString(editor_.session().project().name);
    ask("importQuestion", tr("A model"), tr("Import %1 into %2?").arg(QFileInfo(model).fileName(), project),
        tr("Import"), [this, model] { importFiles({model}); });
}

/// One question over the window, with one answer besides Cancel.
void MainWindow::ask(const char* name, const QString& title, const QString& text, const QString& yes,
                     const std::function<void()>& then) {
    QMessageBox question(QMessageBox::NoIcon, title, text, QMessageBox::NoButton, this);
    question.setObjectName(QLatin1String(name));
    QPushButton* button = question.addButton(yes, QMessageBox::AcceptRole);
    question.addButton(QMessageBox::Cancel);
    question.setDefaultButton(button);
    dressQuestion(question, editor_.theme());
    question.exec();
    if (question.clickedButton() == button) then();
}

void MainWindow::finishSaving() {
    if (saveWorker_.joinable()) saveWorker_.join();
    while (saving_) QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
}

void MainWindow::save() {
    saveAndThen({});
}

void MainWindow::askUnsaved(std::function<void()> next) {
    if (!editor_.isOpen() || !canEdit()) return next();
    const std::vector<std::string> unsaved = editor_.session().unsavedScenes();
    if (unsaved.empty()) return next();
    QString list;
    for (const std::string& name : unsaved) {
        const edit::History& h = editor_.session().history();
        const auto path = h.path(std::max<edit::StepId>(editor_.session().savedStep(name), edit::kRoot), h.present());
        int steps = 0;
        for (const auto* part : {&path.back, &path.forward})
            for (edit::StepId id : *part) steps += h.step(id)->touches(name) ? 1 : 0;
        const QString count = counted(static_cast<std::size_t>(steps), tr("step"), tr("steps"));
        const QString scene = editor_.documentName(name);
        const auto* last = h.step(h.lastTouch(h.present(), name));
        list += path.forward.empty() || last == nullptr
                    ? tr("\n  %1: %2 taken back since its last save").arg(scene, count)
                    : tr("\n  %1: %2 since its last save, the last one “%3”")
                          .arg(scene, count, QString::fromStdString(last->name));
    }
    QMessageBox question(QMessageBox::NoIcon, tr("Save before going?"),
                         tr("Not in the files yet:%1\n\nEvery step is kept in the ledger either way and will be there "
                            "when the project is opened again.")
                             .arg(list),
                         QMessageBox::NoButton, this);
    question.setObjectName("unsavedQuestion");
    QPushButton* saveButton = question.addButton(tr("Save"), QMessageBox::AcceptRole);
    QPushButton* leave = question.addButton(tr("Leave the files as they are"), QMessageBox::DestructiveRole);
    question.addButton(QMessageBox::Cancel);
    question.setDefaultButton(saveButton);
    dressQuestion(question, editor_.theme());
    question.exec();
    if (question.clickedButton() == saveButton) return saveAndThen(std::move(next));
    if (question.clickedButton() == leave) next();
}

void MainWindow::importModels() {
    const QStringList files =
        QFileDialog::getOpenFileNames(this, tr("Import models"), {}, tr("Models (*.glb *.gltf *.obj *.stl *.ply)"));
    importFiles(files);
}

// Model files that are dropped anywhere on the window are imported.
void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    const auto urls = event->mimeData()->urls();
    const bool models =
        std::any_of(urls.begin(), urls.end(), [](const QUrl& url) { return isModel(url.toLocalFile()); });
    if (models && canEdit()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls())
        if (isModel(url.toLocalFile())) files << url.toLocalFile();
    event->acceptProposedAction();
    importFiles(files);
}

namespace {

/// Files that were read on a worker, and why others were not.
struct ReadFiles {
    std::vector<io::ModelFile> models;
    std::vector<base::Error> refused;
};

}  // namespace

/// Reading may take long: the window shows how far it has come meanwhile, and it can be called off.
void MainWindow::importFiles(const QStringList& files) {
    if (files.isEmpty()) return;
    auto progress = std::make_shared<base::Progress>();  // shared by card and worker
    auto* card = new ProgressCard(
        panes_, tr("Reading %1").arg(counted(static_cast<std::size_t>(files.size()), tr("model"), tr("models"))),
        progress);
    QThreadPool::globalInstance()->start([window = QPointer(this), card = QPointer(card), files, progress] {
        auto read = std::make_shared<ReadFiles>();  // handed to the window
        for (const QString& file : files) {
            auto model = io::readModelFile(file.toStdString(), progress.get());
            if (model)
                read->models.push_back(std::move(*model));
            else
                read->refused.push_back(model.error());
            progress->add(1.0 / static_cast<double>(files.size()));
        }
        QMetaObject::invokeMethod(
            qApp,
            [window, card, read, progress] {
                delete card;
                if (!window) return;
                for (const base::Error& error : read->refused) window->editor_.report(tl::unexpected(error));
                if (!progress->cancelled()) window->takeModels(std::move(read->models));
            },
            Qt::QueuedConnection);
    });
}

/// All that could be read come as one step.
void MainWindow::takeModels(std::vector<io::ModelFile>&& models) {
    if (models.empty() || !editor_.isOpen()) return;
    std::vector<std::string> added;
    {
        edit::Draft draft(editor_.session(), editor_.sceneName(),
                          models.size() == 1 ? "Import " + models.front().stem
                                             : "Import " + std::to_string(models.size()) + " models");
        if (!editor_.report(draft.state())) return;
        for (io::ModelFile& model : models) {
            auto item = io::importModel(editor_.workspace(), draft, std::move(model));
            if (!item)
                editor_.report(tl::unexpected(item.error()));
            else
                added.push_back(item->name);
        }
        if (added.empty() || !editor_.keep(draft)) return;
    }
    editor_.libraryGrown();
    stock_->reveal(QString::fromStdString(added.back()));
    new ItemCard(panes_, editor_, added);
    editor_.say(tr("Added to the Stock: %1.").arg(counted(added.size(), tr("model"), tr("models"))));
}

void MainWindow::exportScene() {
    if (ops::isScratch(editor_.session(), editor_.sceneName()))
        return showMessage(
            tr("%1 is a scratch scene: it is never exported.").arg(QString::fromStdString(editor_.sceneName())), true);
    exportAsGltf(QString::fromStdString(editor_.sceneName()), {});
}

void MainWindow::exportSelection() {
    const auto& chosen = editor_.session().selection();
    if (chosen.empty()) return showMessage(tr("Select what is to be exported first."), true);
    const model::Scene& scene = editor_.scene();
    const model::Slot first = scene.find(chosen.front());
    exportAsGltf(
        QString::fromStdString(base::plainFileName(first == model::kNoSlot ? "selection" : scene.nameText(first))),
        chosen);
}

/// Asks for the file; what glTF cannot say is told in the report.
void MainWindow::exportAsGltf(const QString& name, const std::vector<base::ObjectId>& only) {
    QString file = QFileDialog::getSaveFileName(this, tr("Export as glTF"), name + ".glb",
                                                tr("Binary glTF (*.glb);;glTF with files beside it (*.gltf)"));
    if (file.isEmpty()) return;
    const bool asText = file.endsWith(".gltf", Qt::CaseInsensitive);
    if (!asText && !file.endsWith(".glb", Qt::CaseInsensitive)) {
        file += ".glb";
        if (QFile::exists(file))
            return showMessage(tr("%1 exists already: choose it by its whole name to replace it.").arg(file), true);
    }
    const std::filesystem::path path = file.toStdString();
    if (const auto inProject = base::inside(editor_.workspace().folder(),
                                            path.lexically_normal().lexically_relative(editor_.workspace().folder()));
        inProject && QFile::exists(file) && inProject->parent_path() != editor_.workspace().folder())
        return showMessage(tr("%1 is a file of this project: choose another name.").arg(file), true);
    io::ExportOptions options;
    options.only = only;
    options.asText = options.imagesBeside = asText;
    options.stem = path.stem().string();
    const io::ExportedScene exported = io::exportScene(io::sourceOf(editor_.workspace(), editor_.scene()), options);
    if (!editor_.report(io::writeExported(path, exported, true))) return;
    ReportPage& report = hand_->report();
    report.begin(tr("%1: %2 objects, %3 meshes, %4 materials")
                     .arg(file)
                     .arg(exported.objects)
                     .arg(exported.meshes)
                     .arg(exported.materials));
    report.heading(tr("What glTF has no word for"));
    for (const std::string& lost : exported.lost) report.row(toQt(lost));
    if (exported.lost.empty()) return editor_.say(tr("Written to %1.").arg(file));
    hand_->showReport();
    editor_.say(tr("Written to %1. The desk’s page Hand over has what glTF has no word for.").arg(file));
}

/// What stands in the way of editing can often be got round: asked once, and tried again.
bool MainWindow::openProject(const QString& path, io::OpenMode mode, const QString& scene) {
    using base::ErrorCode;
    std::error_code ignored;
    if (editor_.isOpen() && std::filesystem::equivalent(editor_.workspace().folder(), path.toStdString(), ignored)) {
        if (!scene.isEmpty()) editor_.report(editor_.showScene(scene.toStdString()));
        refreshStart();
        return true;  // it is open already
    }
    leaveProject();
    const KeptPlace before = place_;
    const std::string first = (scene.isEmpty() ? keptScene(path) : scene).toStdString();
    base::Status opened = editor_.openProject(path.toStdString(), mode, first);
    auto again = [&](io::OpenMode how) { opened = editor_.openProject(path.toStdString(), how, first); };
    auto why = [&](const QString& then) { return QString::fromStdString(opened.error().message) + "\n\n" + then; };
    if (!opened && opened.error().code == ErrorCode::BadLedger)
        ask("badLedgerQuestion", tr("The history cannot be read"),
            why(tr(
                "The project itself may be well. A new history can be started; the old one is kept beside it, in the "
                "folder .mellow.")),
            tr("Start a new history"), [&] {
                if (auto aside = io::setHistoryAside(path.toStdString()); !aside)
                    opened = tl::unexpected(aside.error());
                else
                    again(io::OpenMode::Edit);
            });
    if (!opened && (opened.error().code == ErrorCode::InUse || opened.error().code == ErrorCode::Denied))
        ask(opened.error().code == ErrorCode::InUse ? "inUseQuestion" : "deniedQuestion",
            opened.error().code == ErrorCode::InUse ? tr("Project in use") : tr("Nothing can be written there"),
            why(tr("It can be opened here for reading only.")), tr("Open read-only"),
            [&] { again(io::OpenMode::ReadOnly); });
    if (!opened && opened.error().code == ErrorCode::Cancelled)
        editor_.say(QString::fromStdString(opened.error().message));
    else if (editor_.report(opened))
        rememberProject(QString::fromStdString(editor_.workspace().folder().string()),
                        QString::fromStdString(editor_.session().project().name),
                        QString::fromStdString(editor_.sceneName()));
    if (opened)
        returnToPlace();
    else
        place_ = before;  // the one before stays
    refreshStart();
    commands_->refresh();
    refreshBanner();
    return editor_.isOpen();
}

/// There is one way out, whoever asks for it: the menu, a key, the window's own button. What is unsaved is asked about
/// once this event is over, for a window that is being closed cannot be closed again.
void MainWindow::closeEvent(QCloseEvent* event) {
    if (leaving_ || qApp->isSavingSession()) {  // at the desktop's end nothing is lost: every step is on disk
        finishSaving();
        leaveProject();
        rememberArrangement();
        return event->accept();
    }
    event->ignore();
    if (asking_) return;
    asking_ = true;
    QTimer::singleShot(0, this, [this] {
        askUnsaved([this] {
            leaving_ = true;
            leaving_ = close();
        });
        asking_ = false;
    });
}

}  // namespace app
