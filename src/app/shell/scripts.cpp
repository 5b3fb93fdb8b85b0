#include "app/shell/scripts.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QElapsedTimer>
#include <QSettings>
#include <QStandardPaths>

#include "app/dialogs/progress_card.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/sight.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "script/shapes.h"

namespace app {

namespace fs = std::filesystem;

namespace {

constexpr const char* kTrusted = "scripts/trusted";
constexpr const char* kTrying = "scripts/trying";  // the project whose scripts are being let run
constexpr std::size_t kMostGhosts = 5000;

QString key(const fs::path& project) {
    std::error_code problem;
    const fs::path whole = fs::weakly_canonical(project, problem);
    return QString::fromStdString((problem ? project : whole).string());
}

}  // namespace

Scripts::Scripts(Editor& editor) : editor_(editor) {
    settle_.setSingleShot(true);
    settle_.setInterval(120);
    connect(&settle_, &QTimer::timeout, this, &Scripts::refresh);
    for (auto signal : {&QFileSystemWatcher::fileChanged, &QFileSystemWatcher::directoryChanged})
        connect(&watcher_, signal, this, [this] { settle_.start(); });
    trial_.setInterval(1000);
    connect(&trial_, &QTimer::timeout, this, &Scripts::endTrial);
    behaviours_.onSwitchedOff = [this](const std::string& message) {
        stopped_ = true;
        script::Outcome outcome = script::failed(script::Ending::Error, message);
        Q_EMIT ran({tr("Behaviour"), {}, {}, {}, {}, {}}, outcome);
    };
    connect(&editor_, &Editor::sceneShown, this, &Scripts::openedScene);
    // What one bumps into of items may be otherwise.
    connect(&editor_, &Editor::libraryChanged, this,
            [this] { behaviours_.settings.shapes = editor_.sight().shapesHere(); });
    connect(&editor_, &Editor::historyChanged, this, [this] {
        if (!working_) dropPreview();  // it told of the scene before
    });
}

Scripts::~Scripts() {
    endTrial();
}

/// Written down before they run, for whoever is stopped by force in the middle of it.
void Scripts::beginTrial() {
    stopped_ = false;
    QSettings settings;
    settings.setValue(kTrying, key(editor_.workspace().folder()));
    settings.sync();
    trial_.start();
}

void Scripts::endTrial() {
    if (!trial_.isActive()) return;
    trial_.stop();
    QSettings().remove(kTrying);
    const bool onTrial = std::exchange(onTrial_, false);
    if (!onTrial || !trusted_ || !editor_.hasProject()) return;
    const auto& all = shelf_.scripts();
    stopped_ = stopped_ || std::any_of(all.begin(), all.end(), [](const script::Script& s) { return s.wasStopped; });
    if (stopped_)
        editor_.say(tr("A script of this project had to be stopped: you will be asked again next time."));
    else
        trustFolder(editor_.workspace().folder());
}

fs::path Scripts::personalFolder() const {
    const QString base = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    return QDir(base).filePath("scripts").toStdString();
}

fs::path Scripts::projectFolder() const {
    return editor_.hasProject() ? editor_.workspace().folder() / "scripts" : fs::path();
}

void Scripts::trustFolder(const fs::path& project) {
    QSettings settings;
    QStringList all = settings.value(kTrusted).toStringList();
    if (!all.contains(key(project))) settings.setValue(kTrusted, all << key(project));
}

QStringList Scripts::trustedFolders() {
    return QSettings().value(kTrusted).toStringList();
}

void Scripts::forgetTrust(const QString& folder) {
    QStringList all = trustedFolders();
    all.removeAll(folder);
    QSettings().setValue(kTrusted, all);
}

std::size_t Scripts::untrusted() const {
    std::error_code problem;
    std::size_t n = 0;
    for (fs::directory_iterator it(projectFolder(), problem), end; !problem && it != end; it.increment(problem))
        if (it->path().extension() == ".lua") ++n;
    return n;
}

void Scripts::takeProject() {
    preview_.reset();
    last_.reset();
    marks_.clear();
    trusted_ = asksTrust_ = hung_ = onTrial_ = false;
    if (editor_.hasProject()) {
        const QString own = key(editor_.workspace().folder());
        hung_ = QSettings().value(kTrying).toString() == own;
        if (hung_) {
            forgetTrust(own);
            QSettings().remove(kTrying);
        }
        trusted_ = trustedFolders().contains(own);
        asksTrust_ = !trusted_ && untrusted() > 0;
        if (trusted_ && untrusted() > 0) beginTrial();
        edit::Session& session = editor_.session();
        session.setBeforeCommit([this](edit::Draft& draft) {
            behaviours_.settings.nowMs = QDateTime::currentMSecsSinceEpoch();
            if (base::Status said = behaviours_.beforeCommit(draft); !said) return said;
            return editor_.keepScene(draft);
        });
        behaviours_.settings.shapes = editor_.sight().shapesHere();
    }
    refresh();
}

void Scripts::answerTrust(bool use) {
    asksTrust_ = hung_ = false;
    trusted_ = onTrial_ = use;
    if (use) beginTrial();
    refresh();
    if (use) openedScene();
    Q_EMIT shelfChanged();
}

void Scripts::refresh() {
    if (!editor_.hasProject()) {
        shelf_.setFolder(script::Owner::Project, {}, {});
    } else {
        shelf_.setFolder(script::Owner::Project, trusted_ ? projectFolder() : fs::path(),
                         editor_.session().project().name);
    }
    shelf_.setFolder(script::Owner::Personal, personalFolder(), tr("Personal").toStdString());
    const bool changed = shelf_.refresh();
    watch();
    behaviours_.take(shelf_);
    if (changed) Q_EMIT behavioursChanged();
    if (changed) Q_EMIT shelfChanged();
}

void Scripts::watch() {
    if (const QStringList had = watcher_.files() + watcher_.directories(); !had.isEmpty()) watcher_.removePaths(had);
    QStringList paths;
    for (const script::Owner owner : {script::Owner::Project, script::Owner::Personal}) {
        std::error_code problem;
        const fs::path& folder = shelf_.folder(owner);
        if (!folder.empty() && fs::is_directory(folder, problem)) paths << QString::fromStdString(folder.string());
    }
    for (const script::Script& one : shelf_.scripts()) paths << QString::fromStdString(one.file.string());
    // Until there is a folder, whatever appears beside it is looked at.
    if (editor_.hasProject() && trusted_ && !base::exists(projectFolder()))
        paths << QString::fromStdString(editor_.workspace().folder().string());
    if (!paths.isEmpty()) watcher_.addPaths(paths);
}

void Scripts::openedScene() {
    if (!editor_.isOpen() || behaviours_.empty() || !editor_.session().readOnlyReason().empty()) return;
    edit::Draft draft(editor_.session(), editor_.sceneName(), tr("On opening the scene").toStdString());
    if (!draft.state()) return;
    behaviours_.opened(draft);
    editor_.keep(draft);
}

script::Settings Scripts::settingsFor(const ScriptJob& job) {
    script::Settings settings;
    settings.shapes = behaviours_.settings.shapes;
    settings.command = job.command.toStdString();
    settings.form = job.form;
    settings.nowMs = QDateTime::currentMSecsSinceEpoch();
    return settings;
}

namespace {

void collect(ScriptPreview& preview, const std::string& scene, const model::Scene& before, const model::Scene& now,
             bool shown) {
    using What = script::Difference::What;
    for (script::Difference& d : script::differences(before, now)) {
        if (shown && preview.ghosts.size() < kMostGhosts) {
            const Slot was = before.find(d.id), is = now.find(d.id);
            if (d.what == What::Removed && !before.bounds(was).empty()) preview.gone.push_back(before.bounds(was));
            const bool moved = is != kNoSlot && (was == kNoSlot || !(before.world(was) == now.world(is)) ||
                                                 before.item(was) != now.item(is));
            if (moved && now.item(is)) preview.ghosts.push_back({now.item(is), now.world(is)});
            if (moved && was != kNoSlot && before.world(was).translation != now.world(is).translation)
                preview.ways.emplace_back(before.world(was).translation, now.world(is).translation);
        }
        (d.what == What::Created ? preview.created : d.what == What::Changed ? preview.changed : preview.removed) += 1;
        preview.rows.push_back({scene, std::move(d)});
    }
}

/// How much a draft has written, for people who wait.
QString rowsWritten(const edit::Draft& draft) {
    std::size_t rows = 0;
    for (const model::ChangeSet& set : draft.changes())
        for (const model::Change& change : set.changes) rows += model::rowCount(change);
    return counted(rows, Scripts::tr("change so far"), Scripts::tr("changes so far"));
}

}  // namespace

bool Scripts::work(const ScriptJob& job, bool keep) {
    if (working_ || !editor_.isOpen()) return false;
    dropPreview();
    working_ = true;
    script::Outcome outcome;
    ScriptPreview found{job.name, {}, {}, {}, {}, 0, 0, 0, 0};
    QElapsedTimer clock;
    clock.start();
    auto progress = std::make_shared<base::Progress>();  // shared with the card
    std::optional<ProgressCard> card;
    if (editor_.workOver() != nullptr) card.emplace(editor_.workOver(), job.name, progress);
    std::optional<Editor::Held> held(editor_);
    auto fail = [&](const base::Error& error) { outcome = script::failed(script::Ending::Refused, error.message); };
    {
        edit::Session& session = editor_.session();
        const auto scenes = job.scenes.empty() ? std::vector<std::string>{editor_.sceneName()} : job.scenes;
        for (const std::string& name : scenes)
            if (auto loaded = session.scene(name); !loaded && outcome.done()) fail(loaded.error());
        edit::Draft draft(session, scenes.front(), job.name.toStdString());
        if (outcome.done() && !draft.state()) fail(draft.state().error());
        std::vector<model::Scene> before;
        std::vector<script::Said> said;
        std::vector<script::Mark> marks;
        std::vector<script::FileOut> files;
        for (const std::string& name : scenes) {
            if (!outcome.done()) break;
            if (base::Status turned = draft.turnTo(name); !turned) fail(turned.error());
            before.push_back(draft.scene());
            script::Settings settings = settingsFor(job);
            if (name == editor_.sceneName()) settings.index = [this] { return editor_.sight().index(); };
            settings.pulse = [&](double share, const std::string& doing) {
                progress->add(share - progress->done());
                if (card) card->say(doing.empty() ? rowsWritten(draft) : QString::fromStdString(doing));
                held->tell();  // a frame is due
                QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
                return !progress->cancelled();
            };
            if (outcome.done() && job.verb) {
                if (base::Status done = job.verb(draft); !done) fail(done.error());
            } else if (outcome.done()) {
                outcome = script::run(draft, job.source, settings);
            }
            said.insert(said.end(), outcome.said.begin(), outcome.said.end());
            files.insert(files.end(), outcome.files.begin(), outcome.files.end());
            if (name == editor_.sceneName()) marks = outcome.marks;
        }
        outcome.said = std::move(said);
        outcome.marks = std::move(marks);
        if (outcome.done() && !keep) {
            base::Status fine = behaviours_.beforeCommit(draft);
            if (fine) fine = editor_.keepScene(draft);
            if (!fine) fail(fine.error());
            for (std::size_t i = 0; outcome.done() && i < scenes.size(); ++i)
                collect(found, scenes[i], before[i], **session.scene(scenes[i]), scenes[i] == editor_.sceneName());
        }
        if (outcome.done() && keep) {
            if (base::Status back = draft.turnTo(draft.document()); !back) fail(back.error());
            if (auto step = draft.commit(); !step)
                fail(step.error());
            else if (base::Status written = script::keepFiles(editor_.workspace().folder(), files); !written)
                editor_.report(written);  // the step is kept all the same
        }
    }  // the draft is gone: what was not made a step is taken back
    held.reset();
    card.reset();
    working_ = false;
    found.milliseconds = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    if (outcome.done()) {
        marks_ = outcome.marks;
        if (!job.verb) last_ = job;
        if (!keep) {
            preview_ = std::move(found);
            previewed_ = job;
            Q_EMIT previewChanged();
        }
        Q_EMIT marksChanged();
    }
    Q_EMIT ran(job, outcome);
    return outcome.done();
}

bool Scripts::run(const ScriptJob& job) {
    return work(job, true);
}

bool Scripts::showPreview(const ScriptJob& job) {
    return work(job, false);
}

bool Scripts::previewVerb(const QString& name, std::function<base::Status(edit::Draft&)> verb) {
    return work({name, {}, {}, {}, {}, std::move(verb)}, false);
}

void Scripts::acceptPreview() {
    if (!previewed_ || !preview_) return;
    const ScriptJob job = *previewed_;  // the same again, with the same chance, comes to the same
    run(job);
}

void Scripts::dropPreview() {
    if (!preview_) return;
    preview_.reset();
    previewed_.reset();
    Q_EMIT previewChanged();
}

void Scripts::repeat() {
    if (!last_) return;
    const ScriptJob job = *last_;
    run(job);
}

void Scripts::previewEverywhere() {
    if (!last_) return;
    ScriptJob job = *last_;
    job.scenes = editor_.session().project().sceneNames;
    showPreview(job);
}

ScriptJob Scripts::jobOf(const script::Offer& offer, model::ValueMap form) const {
    return {QString::fromStdString(offer.spec.name),
            shelf_.source(shelf_.scripts()[offer.script]),
            offer.isPlain ? QString() : QString::fromStdString(offer.spec.name),
            std::move(form),
            {},
            {}};
}

namespace {

std::size_t indexIn(const script::Script& script, const std::string& command) {
    const auto& all = script.declared.commands;
    return static_cast<std::size_t>(
        std::find_if(all.begin(), all.end(), [&](const auto& spec) { return spec.name == command; }) - all.begin());
}

}  // namespace

bool Scripts::isEnabled(const script::Offer& offer) {
    if (!editor_.isOpen() || !editor_.session().readOnlyReason().empty()) return false;
    if (!offer.spec.asksEnabled || working_) return true;
    const script::Script& script = shelf_.scripts()[offer.script];
    script::Settings settings;
    settings.limits = {std::size_t{32} << 20, 5'000'000, 0.5};
    settings.shapes = behaviours_.settings.shapes;
    script::Program program(shelf_.source(script), settings, script::Place(editor_.session(), editor_.sceneName()));
    bool is = false;
    // One that fails can be run: then it says why.
    return !program.outcome().done() || !program.enabled(indexIn(script, offer.spec.name), is).done() || is;
}

void Scripts::drawForm(const script::Offer& offer, const model::ValueMap& form) {
    if (!offer.spec.marks || !editor_.isOpen() || working_) return;
    const script::Script& script = shelf_.scripts()[offer.script];
    script::Settings settings;
    settings.limits = {std::size_t{64} << 20, 20'000'000, 1};
    settings.shapes = behaviours_.settings.shapes;
    script::Program program(shelf_.source(script), settings, script::Place(editor_.session(), editor_.sceneName()));
    const script::Outcome outcome =
        program.outcome().done() ? program.marks(indexIn(script, offer.spec.name), form) : program.outcome();
    marks_ = outcome.done() ? outcome.marks : std::vector<script::Mark>{};
    std::erase_if(marks_, [](const script::Mark& m) { return m.shape == script::Mark::Shape::Handle; });
    Q_EMIT marksChanged();
    if (!outcome.done()) Q_EMIT ran(jobOf(offer, form), outcome);
}

void Scripts::clearMarks() {
    if (marks_.empty()) return;
    marks_.clear();
    Q_EMIT marksChanged();
}

// Remembered as what people would type, field by field: a form that has changed keeps what still fits.
model::ValueMap Scripts::formOf(const script::Offer& offer) const {
    model::ValueMap form;
    QSettings settings;
    settings.beginGroup("scripts/values/" + QString::fromStdString(offer.id));
    for (const model::Property& field : offer.spec.form) {
        model::Value value = model::defaultOf(field);
        const QString kept = settings.value(QString::fromStdString(field.name)).toString();
        if (!kept.isEmpty() && !model::linksObject(field.type))
            if (auto read = model::parsedValue(field, kept.toStdString())) value = *read;
        form.emplace_back(field.name, value);
    }
    return form;
}

void Scripts::keepForm(const script::Offer& offer, const model::ValueMap& form) {
    QSettings settings;
    settings.beginGroup("scripts/values/" + QString::fromStdString(offer.id));
    for (const model::Property& field : offer.spec.form)
        for (const auto& [name, value] : form)
            if (name == field.name)
                settings.setValue(QString::fromStdString(name), QString::fromStdString(model::valueText(field, value)));
}

}  // namespace app
