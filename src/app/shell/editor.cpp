#include "app/shell/editor.h"

#include "app/shell/long_work.h"

#include <QEventLoop>
#include <QMetaObject>
#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "base/text.h"
#include "edit/scene_list.h"

namespace app {

Editor::Editor(io::Chance chance)
    : chance_(std::move(chance)), scripts_(std::make_unique<Scripts>(*this)), checks_(std::make_unique<Checks>(*this)) {
    connect(&asking_, &Asking::changed, this, [this] {
        if (asking_.asks()) setPlacing({});
        Q_EMIT marksChanged();
    });
}

Editor::~Editor() = default;

namespace {

struct Opening {
    std::unique_ptr<io::Workspace> workspace;
    std::string first;
};

/// The long part of opening: models, ledger, scene. Runs on a worker.
base::Result<Opening> openOnWorker(const std::filesystem::path& path, io::OpenMode mode, const io::Chance& chance,
                                   const std::string& scene, std::shared_ptr<base::Progress> progress) {
    auto opened = io::openWorkspace(path, mode, chance, std::move(progress));
    if (!opened) return tl::unexpected(opened.error());
    const model::Project& project = (*opened)->session->project();
    const auto& names = project.sceneNames;
    std::string first = !scene.empty() ? scene : project.firstScene;
    const bool known = std::find(names.begin(), names.end(), first) != names.end();
    if (!known && scene.empty() && !names.empty()) first = names.front();
    auto loaded = (*opened)->session->scene(first);
    if (!loaded) return tl::unexpected(loaded.error());
    return Opening{std::move(*opened), std::move(first)};
}

}  // namespace

Status Editor::openProject(const std::filesystem::path& path, io::OpenMode mode, const std::string& scene) {
    if (opening_) return base::fail(base::ErrorCode::Refused, "Another project is being opened.");
    opening_ = std::make_shared<base::Progress>();
    Q_EMIT openingChanged(true);
    base::Result<Opening> opened = base::fail(base::ErrorCode::Io, "");
    QEventLoop waiting;
    std::thread worker([&] {
        opened = openOnWorker(path, mode, chance_, scene, opening_);
        QMetaObject::invokeMethod(&waiting, &QEventLoop::quit, Qt::QueuedConnection);
    });
    waiting.exec();
    worker.join();
    opening_.reset();
    Q_EMIT openingChanged(false);
    if (!opened) return tl::unexpected(opened.error());
    closeProject();
    workspace_ = std::move(opened->workspace);
    sight_.open(*workspace_);
    listen();
    scripts_->takeProject();
    Q_EMIT projectChanged();
    Status shown = showScene(opened->first);
    for (const std::string& remark : session().remarks()) Q_EMIT message(QString::fromStdString(remark), false);
    return shown;
}

void Editor::closeProject() {
    scripts_->endTrial();
    sight_.close();
    scene_ = nullptr;
    sceneName_.clear();
    selected_.clear();
    alone_.clear();
    placing_.clear();
    recent_.clear();
    workspace_.reset();
    scripts_->takeProject();
}

void Editor::listen() {
    session().sceneChanged.listen([this](const edit::SceneDelta& delta) { onDelta(delta); });
    session().libraryChanged.listen([this] {
        leaveGoneScene();
        takeLibrary();
    });
    session().travelled.listen([this](const std::string& document) { onTravelled(document); });
    session().historyChanged.listen([this] { Q_EMIT historyChanged(); });
    session().selectionChanged.listen([this] {
        refreshSelected();
        // One is where the selection is.
        for (Slot s : selected_)
            if (!isWithinEntered(s)) {
                enter({});
                break;
            }
        Q_EMIT selectionChanged();
    });
}

/// What is shown may have been deleted, or not made: the first one then. Not in the middle of a step.
void Editor::leaveGoneScene() {
    QMetaObject::invokeMethod(
        this,
        [this] {
            if (isOpen() && !model::prefabOf(sceneName_) && !edit::isScene(session(), sceneName_))
                report(showScene(session().project().firstScene));
        },
        Qt::QueuedConnection);
}

Status Editor::showScene(const std::string& name) {
    auto loaded = session().scene(name);
    if (!loaded) return tl::unexpected(loaded.error());
    scene_ = *loaded;
    if (!model::prefabOf(name)) lastScene_ = name;
    sceneName_ = name;
    linksKnown_ = false;
    asking_.askObject({}, {});
    looks_.guise.reset();
    alone_.clear();
    enter({});
    recount();
    lookAgain();
    session().select({});
    refreshSelected();
    Q_EMIT sceneShown();
    Q_EMIT historyChanged();
    return {};
}

void Editor::libraryGrown() {
    lookAgain();
    takeLibrary();
}

void Editor::takeLibrary() {
    sight_.takeLibrary();
    Q_EMIT libraryChanged();
}

void Editor::lookAgain() {
    tellMeshes({});
    sight_.show(*scene_);
}

/// Meshes that came are told of, at once or when the Held is.
void Editor::tellMeshes(const edit::SceneDelta& delta) {
    if (!sight_.takeMeshes(delta)) return;
    grown_ = true;
    if (!held_ && std::exchange(grown_, false)) Q_EMIT meshesGrown();
}

void Editor::onDelta(const edit::SceneDelta& delta) {
    if (delta.everything || delta.treeChanged || !delta.detailed.empty() || !delta.created.empty()) linksKnown_ = false;
    if (scene_ == nullptr) return;
    if (delta.scene != sceneName_) return;
    toldOfShown_ = true;
    tellMeshes(delta);
    sight_.touch(delta);
    if (held_)
        held_->add(delta);
    else
        follow(delta);
}

Editor::Held::Held(Editor& editor) : editor_(editor) {
    editor_.held_.emplace();
}

Editor::Held::~Held() {
    tell();
    editor_.held_.reset();
}

void Editor::tellHeld() {
    if (!held_ || scene_ == nullptr) return;
    const edit::SceneDelta delta = held_->take(*scene_);
    if (std::exchange(grown_, false)) Q_EMIT meshesGrown();
    if (!delta.empty()) follow(delta);
}

/// Everything that shows the scene does as it changed.
void Editor::follow(const edit::SceneDelta& delta) {
    if (!alone_.empty()) {  // what comes to be is meant to be seen; a slot may come to be something else
        for (Slot s : delta.removed) alone_.erase(s);
        alone_.insert(delta.created.begin(), delta.created.end());
    }
    if (!delta.relabelled.empty() || !delta.created.empty() || !delta.removed.empty()) recount();
    if (!delta.created.empty() || !delta.removed.empty()) refreshSelected();
    if (entered_ && scene_->find(entered_) == model::kNoSlot) enter({});
    Q_EMIT sceneEdited(delta);
}

/// A step that changed nothing of what is shown was undone or redone: show where it happened. What is shown may also
/// be a definition that is not there any more.
void Editor::onTravelled(const std::string& document) {
    const bool seen = std::exchange(toldOfShown_, false);
    const auto& all = session().definitions();
    auto exists = [&](const std::string& name) {
        if (model::prefabOf(name)) return all.contains(model::prefabOf(name));
        return !model::data::isData(name) && edit::isScene(session(), name);
    };
    if (!exists(sceneName_)) {
        report(showScene(exists(document) ? document : session().project().firstScene));
        return;
    }
    if (!seen && document != sceneName_ && exists(document)) report(showScene(document));
}

std::vector<Piece> Editor::piecesOf(const model::Item& item) const {
    edit::Session& open = *workspace_->session;
    const auto definition = open.definitions().find(item.prefab);
    if (definition == open.definitions().end()) {
        // As it would be placed: what its kind makes of its defaults.
        Piece piece{open.intern(item.name), {}};
        if (const model::Kind* kind = open.library().kind(open.intern(item.kind))) {
            const model::Appearance is = model::appearanceOf(*kind, {});
            if (!is.item.empty()) piece.item = open.intern(is.item);
            if (is.tint) piece.shade = render::shadeOf(*is.tint);
        }
        return {piece};
    }
    std::vector<Piece> pieces;
    const model::Scene& scene = *definition->second;
    for (Slot s : scene.subtree(kNoSlot))
        if (scene.item(s) && !scene.hiddenInTree(s)) pieces.push_back({scene.item(s), scene.world(s)});
    return pieces;
}

void Editor::recount() {
    hiddenCount_ = protectedCount_ = 0;
    for (Slot s = 0; s < scene_->slotEnd(); ++s) {
        if (!scene_->alive(s)) continue;
        hiddenCount_ += (scene_->flagsOf(s) & model::flags::kHidden) != 0 ? 1 : 0;
        protectedCount_ += (scene_->flagsOf(s) & model::flags::kProtected) != 0 ? 1 : 0;
    }
}

bool Editor::isWithinEntered(Slot slot) const {
    if (!entered_) return true;
    const Slot top = scene_->find(entered_);
    return slot != top && scene_->isWithin(slot, top);
}

void Editor::enter(base::ObjectId group, bool definition) {
    // Going on within a definition stays in it.
    const Slot slot = isOpen() ? scene_->find(group) : kNoSlot;
    const Slot edited = editsDefinition() ? scene_->find(session().definitionEditedAt()) : kNoSlot;
    const bool within = slot != kNoSlot && edited != kNoSlot && scene_->isWithin(slot, edited);
    const base::ObjectId now = definition ? group : within ? session().definitionEditedAt() : base::ObjectId{};
    const bool same = group == entered_ && (!isOpen() || now == session().definitionEditedAt());
    if (same) return;
    if (isOpen()) session().editDefinitionOf(now);
    entered_ = group;
    Q_EMIT enteredChanged();
    Q_EMIT shownChanged();
}

void Editor::leave() {
    const base::ObjectId left = entered_;
    Slot around = scene_->find(entered_);
    if (around != model::kNoSlot) around = scene_->parent(around);
    while (around != model::kNoSlot && !isWhole(around)) around = scene_->parent(around);
    enter(around == model::kNoSlot ? base::ObjectId{} : scene_->id(around));
    select({left});
}

model::Slot Editor::wholeOf(Slot slot) const {
    const Slot top = entered_ ? scene_->find(entered_) : model::kNoSlot;
    Slot whole = slot;
    for (Slot s = slot; s != model::kNoSlot && s != top; s = scene_->parent(s))
        if (isWhole(s)) whole = s;
    return whole;
}

void Editor::toggleAlone() {
    std::unordered_set<Slot> wanted;
    if (alone_.empty())
        for (base::ObjectId id : selection())
            if (const Slot top = scene_->find(id); top != kNoSlot)
                for (Slot s : scene_->subtree(top)) wanted.insert(s);
    alone_ = std::move(wanted);
    Q_EMIT shownChanged();
}

std::vector<base::ObjectId> Editor::flagged(std::uint8_t flag, std::size_t most) const {
    std::vector<base::ObjectId> ids;
    for (Slot s : scene_->subtree(kNoSlot)) {
        if (ids.size() >= most) break;
        if ((scene_->flagsOf(s) & flag) != 0) ids.push_back(scene_->id(s));
    }
    return ids;
}

void Editor::refreshSelected() {
    selected_.clear();
    if (!isOpen()) return;
    for (base::ObjectId id : selection())
        if (const Slot s = scene_->find(id); s != kNoSlot) selected_.insert(s);
}

bool Editor::run(const std::string& name, const std::function<Status(edit::Draft&)>& verb) {
    if (!isOpen()) return false;
    LongWork work(workOver_, QString::fromStdString(name));
    edit::Draft draft(session(), sceneName_, name);
    if (!draft.state()) return report(draft.state());
    draft.setMeter([&](std::size_t rows, std::size_t objects) { return work.tick(rows, objects); });
    if (Status done = verb(draft); !done) return report(done);
    return keep(draft);
}

bool Editor::keep(edit::Draft& draft) {
    auto step = draft.commit();
    return step ? true : report(tl::unexpected(step.error()));
}

bool Editor::report(const Status& status) {
    if (status) return true;
    Q_EMIT message(QString::fromStdString(status.error().message), true);
    return false;
}

std::optional<query::SceneHit> Editor::surfaceUnder(const base::Ray& ray, bool pickableOnly) const {
    if (sight_.index() == nullptr || scene_ == nullptr) return std::nullopt;
    return sight_.index()->pick(*scene_, ray, [&](Slot s) { return pickableOnly ? isPickable(s) : !isHidden(s); });
}

QString Editor::documentName(const std::string& name) const {
    if (const auto kind = model::data::kindIn(name); !kind.empty())
        return tr("kind %1").arg(QString::fromStdString(std::string(kind)));
    if (const auto type = model::data::recordsIn(name); !type.empty())
        return tr("records of %1").arg(QString::fromStdString(std::string(type)));
    if (name == model::data::kItems) return tr("items");
    if (name == model::data::kSurfaces) return tr("surfaces");
    if (name == model::data::kGuises) return tr("guises");
    if (name == model::data::kChecks) return tr("rules of checks");
    if (name == model::data::kAdded) return tr("imported files");
    const base::ObjectId prefab = model::prefabOf(name);
    return prefab ? tr("prefab %1").arg(QString::fromStdString(workspace_->session->prefabName(prefab)))
                  : QString::fromStdString(name);
}

void Editor::setChosenPoint(std::size_t index) {
    if (index == chosenPoint_) return;
    chosenPoint_ = index;
    Q_EMIT chosenPointChanged();
    Q_EMIT marksChanged();
}

const std::vector<ops::Link>& Editor::links() const {
    if (!linksKnown_) links_ = ops::links(*scene_);
    linksKnown_ = true;
    return links_;
}

void Editor::showBasePoint(const std::optional<base::Vec3>& at) {
    basePoint_ = at;
    Q_EMIT marksChanged();
}

void Editor::setHint(const QString& hint) {
    if (hint == hint_) return;
    hint_ = hint;
    Q_EMIT hintChanged();
}

}  // namespace app
