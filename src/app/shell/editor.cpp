#include "app/shell/editor.h"

#include "app/shell/long_work.h"

#include <QEventLoop>
#include <QMetaObject>
#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/shell/asking.h"
#include "app/shell/editor_own.h"
#include "app/shell/preferences.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "app/view/piece.h"
#include "base/text.h"
#include "edit/delta.h"
#include "edit/scene_list.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "ops/properties.h"

namespace app {

Editor::Editor(io::Chance chance) : own_(std::make_unique<Own>()) {
    own_->chance = std::move(chance);
    own_->acts = std::make_unique<Acts>(*this);
    own_->standIn = std::make_unique<StandIn>(*this);
    own_->scripts = std::make_unique<Scripts>(*this);
    own_->checks = std::make_unique<Checks>(*this);
    own_->goOn = std::make_unique<GoOn>(*this);
    own_->rehearsal = std::make_unique<Rehearsal>(*this);
    connect(&own_->asking, &Asking::changed, this, [this] {
        if (own_->asking.asks()) setPlacing({});
        Q_EMIT marksChanged();
    });
}

Editor::~Editor() = default;

bool Editor::hasProject() const {
    return own_->workspace != nullptr;
}

bool Editor::isOpen() const {
    return own_->workspace != nullptr && own_->scene != nullptr;
}

edit::Session& Editor::session() {
    return *own_->workspace->session;
}

const std::vector<base::ObjectId>& Editor::selection() const {
    return own_->workspace->session->selection();
}

void Editor::select(std::vector<base::ObjectId> ids) {
    session().select(std::move(ids));
}

bool Editor::isSelected(Slot slot) const {
    return own_->selected.contains(slot);
}

bool Editor::isHidden(Slot slot) const {
    const bool flagged = own_->hiddenCount > 0 && own_->scene->hiddenInTree(slot);
    return flagged || (isAlone() && !own_->alone.contains(slot)) || own_->acts->isAway(slot);
}

bool Editor::isPickable(Slot slot) const {
    const bool kept = own_->protectedCount > 0 && own_->scene->protectedInTree(slot);
    return !kept && !isHidden(slot) && isWithinEntered(slot);
}

bool Editor::isWhole(Slot slot) const {
    return (own_->scene->flagsOf(slot) & model::flags::kWhole) != 0 || own_->scene->isInstance(slot);
}

bool Editor::isAlone() const {
    return !own_->alone.empty();
}

bool Editor::editsDefinition() const {
    return isOpen() && bool(own_->workspace->session->definitionEditedAt());
}

Acts& Editor::acts() const {
    return *own_->acts;
}
StandIn& Editor::standIn() const {
    return *own_->standIn;
}
Scripts& Editor::scripts() const {
    return *own_->scripts;
}
Checks& Editor::checks() const {
    return *own_->checks;
}
Rehearsal& Editor::rehearsal() const {
    return *own_->rehearsal;
}
bool Editor::showsLive() const {
    return own_->document != nullptr;
}

void Editor::showInstead(const model::Scene* copy, const edit::SceneDelta& moved) {
    if (copy != nullptr && own_->document == nullptr) own_->document = own_->scene;
    if (own_->document == nullptr) return;
    own_->scene = copy != nullptr ? copy : own_->document;
    own_->sight.look(*own_->scene);
    liveMoved(moved);  // it is still not the scene that was edited
    if (copy == nullptr) own_->document = nullptr;
}

void Editor::liveMoved(const edit::SceneDelta& moved) {
    own_->sight.touch(moved);
    Q_EMIT sceneEdited(moved);
}
io::Workspace& Editor::workspace() {
    return *own_->workspace;
}
const model::Scene& Editor::scene() const {
    return *own_->scene;
}
const std::string& Editor::sceneName() const {
    return own_->sceneName;
}
const std::string& Editor::lastScene() const {
    return own_->lastScene;
}
const std::shared_ptr<base::Progress>& Editor::opening() const {
    return own_->opening;
}
Sight& Editor::sight() {
    return own_->sight;
}
const Sight& Editor::sight() const {
    return own_->sight;
}
Asking& Editor::asking() {
    return own_->asking;
}
const Asking& Editor::asking() const {
    return own_->asking;
}
base::ObjectId Editor::entered() const {
    return own_->entered;
}
GoOn& Editor::goOn() {
    return *own_->goOn;
}
const std::optional<base::Affine>& Editor::lastPull() const {
    return own_->lastPull;
}
QWidget* Editor::workOver() const {
    return own_->workOver;
}
std::size_t Editor::hiddenCount() const {
    return own_->hiddenCount;
}
std::size_t Editor::protectedCount() const {
    return own_->protectedCount;
}
const Theme& Editor::theme() const {
    return *own_->theme;
}
const Looks& Editor::looks() const {
    return own_->looks;
}
const Preferences& Editor::preferences() const {
    return own_->preferences;
}
double Editor::handleSize() const {
    return own_->preferences.handleSize;
}
const Tools& Editor::tools() const {
    return own_->tools;
}
PrefabPlan& Editor::prefabPlan() {
    return own_->prefabPlan;
}
std::size_t Editor::chosenPoint() const {
    return own_->chosenPoint;
}
const std::optional<base::Vec3>& Editor::basePoint() const {
    return own_->basePoint;
}
const std::string& Editor::placing() const {
    return own_->placing;
}
const std::vector<std::string>& Editor::recentItems() const {
    return own_->recent;
}
QString Editor::hint() const {
    return own_->hint;
}

base::LengthUnit Editor::unit() const {
    return isOpen() ? own_->workspace->session->project().units : base::LengthUnit::Metre;
}

QString Editor::length(double metres, int decimals) const {
    return QString::fromStdString(base::lengthText(metres, unit(), decimals));
}

void Editor::setLastPull(const base::Affine& motion) {
    own_->lastPull = motion;
}
void Editor::showWorkOver(QWidget* widget) {
    own_->workOver = widget;
}

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
    if (own_->opening) return base::fail(base::ErrorCode::Refused, "Another project is being opened.");
    own_->opening = std::make_shared<base::Progress>();
    Q_EMIT openingChanged(true);
    base::Result<Opening> opened = base::fail(base::ErrorCode::Io, "");
    QEventLoop waiting;
    std::thread worker([&] {
        opened = openOnWorker(path, mode, own_->chance, scene, own_->opening);
        QMetaObject::invokeMethod(&waiting, &QEventLoop::quit, Qt::QueuedConnection);
    });
    waiting.exec();
    worker.join();
    own_->opening.reset();
    Q_EMIT openingChanged(false);
    if (!opened) return tl::unexpected(opened.error());
    closeProject();
    own_->workspace = std::move(opened->workspace);
    own_->sight.open(*own_->workspace);
    listen();
    own_->scripts->takeProject();
    Q_EMIT projectChanged();
    Status shown = showScene(opened->first);
    for (const std::string& remark : session().remarks()) Q_EMIT message(QString::fromStdString(remark), false);
    return shown;
}

void Editor::closeProject() {
    own_->rehearsal->close();
    own_->scripts->endTrial();
    own_->relations.reset();
    own_->actKeeper.reset();
    own_->acts->close();
    own_->sight.close();
    own_->scene = nullptr;
    own_->sceneName.clear();
    own_->selected.clear();
    own_->alone.clear();
    own_->placing.clear();
    own_->recent.clear();
    own_->workspace.reset();
    own_->scripts->takeProject();
}

base::Status Editor::keepScene(edit::Draft& draft) {
    if (own_->relations == nullptr) return {};
    if (Status kept = own_->relations->beforeCommit(draft); !kept) return kept;
    return own_->actKeeper->beforeCommit(draft);
}

const std::set<base::ObjectId>& Editor::relatedObjects() const {
    static const std::set<base::ObjectId> none;
    return own_->relations != nullptr && own_->scene != nullptr ? own_->relations->relatedIn(*own_->scene) : none;
}

void Editor::listen() {
    own_->relations = std::make_unique<ops::RelationKeeper>(
        session(), [this](const model::Scene& of) { return &of == own_->scene ? own_->sight.index() : nullptr; });
    own_->actKeeper = std::make_unique<ops::ActKeeper>(session());
    own_->relations->say = [this](const std::string& text) { say(QString::fromStdString(text)); };
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
        for (Slot s : own_->selected)
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
            if (isOpen() && !model::prefabOf(own_->sceneName) && !edit::isScene(session(), own_->sceneName))
                report(showScene(session().project().firstScene));
        },
        Qt::QueuedConnection);
}

Status Editor::showScene(const std::string& name) {
    auto loaded = session().scene(name);
    if (!loaded) return tl::unexpected(loaded.error());
    own_->rehearsal->end();
    own_->scene = *loaded;
    if (!model::prefabOf(name)) own_->lastScene = name;
    own_->sceneName = name;
    own_->linksKnown = false;
    own_->asking.askObject({}, {});
    own_->looks.guise.reset();
    own_->alone.clear();
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
    own_->sight.takeLibrary();
    Q_EMIT libraryChanged();
}

void Editor::lookAgain() {
    tellMeshes({});
    own_->sight.show(*own_->scene);
}

/// Meshes that came are told of, at once or when the Held is.
void Editor::tellMeshes(const edit::SceneDelta& delta) {
    if (!own_->sight.takeMeshes(delta)) return;
    own_->grown = true;
    if (!own_->held && std::exchange(own_->grown, false)) Q_EMIT meshesGrown();
}

void Editor::onDelta(const edit::SceneDelta& delta) {
    if (delta.everything || delta.treeChanged || !delta.detailed.empty() || !delta.created.empty())
        own_->linksKnown = false;
    if (own_->scene == nullptr) return;
    if (delta.scene != own_->sceneName) return;
    own_->rehearsal->end();  // what it began with is no more
    own_->toldOfShown = true;
    tellMeshes(delta);
    own_->sight.touch(delta);
    if (own_->held)
        own_->held->add(delta);
    else
        follow(delta);
}

Editor::Held::Held(Editor& editor) : editor_(editor) {
    editor_.own_->held.emplace();
}

Editor::Held::~Held() {
    tell();
    editor_.own_->held.reset();
}

void Editor::tellHeld() {
    if (!own_->held || own_->scene == nullptr) return;
    const edit::SceneDelta delta = own_->held->take(*own_->scene);
    if (std::exchange(own_->grown, false)) Q_EMIT meshesGrown();
    if (!delta.empty()) follow(delta);
}

/// Everything that shows the scene does as it changed.
void Editor::follow(const edit::SceneDelta& delta) {
    if (!own_->alone.empty()) {  // what comes to be is meant to be seen; a slot may come to be something else
        for (Slot s : delta.removed) own_->alone.erase(s);
        own_->alone.insert(delta.created.begin(), delta.created.end());
    }
    if (!delta.relabelled.empty() || !delta.created.empty() || !delta.removed.empty()) recount();
    if (!delta.created.empty() || !delta.removed.empty()) refreshSelected();
    if (own_->entered && own_->scene->find(own_->entered) == model::kNoSlot) enter({});
    Q_EMIT sceneEdited(delta);
}

/// A step that changed nothing of what is shown was undone or redone: show where it happened. What is shown may also
/// be a definition that is not there any more.
void Editor::onTravelled(const std::string& document) {
    const bool seen = std::exchange(own_->toldOfShown, false);
    const auto& all = session().definitions();
    auto exists = [&](const std::string& name) {
        if (model::prefabOf(name)) return all.contains(model::prefabOf(name));
        return !model::data::isData(name) && edit::isScene(session(), name);
    };
    if (!exists(own_->sceneName)) {
        report(showScene(exists(document) ? document : session().project().firstScene));
        return;
    }
    if (!seen && document != own_->sceneName && exists(document)) report(showScene(document));
}

std::vector<Piece> Editor::piecesOf(const model::Item& item) const {
    edit::Session& open = *own_->workspace->session;
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
    own_->hiddenCount = own_->protectedCount = 0;
    for (Slot s = 0; s < own_->scene->slotEnd(); ++s) {
        if (!own_->scene->alive(s)) continue;
        own_->hiddenCount += (own_->scene->flagsOf(s) & model::flags::kHidden) != 0 ? 1 : 0;
        own_->protectedCount += (own_->scene->flagsOf(s) & model::flags::kProtected) != 0 ? 1 : 0;
    }
}

bool Editor::isWithinEntered(Slot slot) const {
    if (!own_->entered) return true;
    const Slot top = own_->scene->find(own_->entered);
    return slot != top && own_->scene->isWithin(slot, top);
}

void Editor::enter(base::ObjectId group, bool definition) {
    // Going on within a definition stays in it.
    const Slot slot = isOpen() ? own_->scene->find(group) : kNoSlot;
    const Slot edited = editsDefinition() ? own_->scene->find(session().definitionEditedAt()) : kNoSlot;
    const bool within = slot != kNoSlot && edited != kNoSlot && own_->scene->isWithin(slot, edited);
    const base::ObjectId now = definition ? group : within ? session().definitionEditedAt() : base::ObjectId{};
    const bool same = group == own_->entered && (!isOpen() || now == session().definitionEditedAt());
    if (same) return;
    if (isOpen()) session().editDefinitionOf(now);
    own_->entered = group;
    Q_EMIT enteredChanged();
    Q_EMIT shownChanged();
}

void Editor::leave() {
    const base::ObjectId left = own_->entered;
    Slot around = own_->scene->find(own_->entered);
    if (around != model::kNoSlot) around = own_->scene->parent(around);
    while (around != model::kNoSlot && !isWhole(around)) around = own_->scene->parent(around);
    enter(around == model::kNoSlot ? base::ObjectId{} : own_->scene->id(around));
    select({left});
}

model::Slot Editor::wholeOf(Slot slot) const {
    const Slot top = own_->entered ? own_->scene->find(own_->entered) : model::kNoSlot;
    Slot whole = slot;
    for (Slot s = slot; s != model::kNoSlot && s != top; s = own_->scene->parent(s))
        if (isWhole(s)) whole = s;
    return whole;
}

void Editor::toggleAlone() {
    std::unordered_set<Slot> wanted;
    if (own_->alone.empty())
        for (base::ObjectId id : selection())
            if (const Slot top = own_->scene->find(id); top != kNoSlot)
                for (Slot s : own_->scene->subtree(top)) wanted.insert(s);
    own_->alone = std::move(wanted);
    Q_EMIT shownChanged();
}

std::vector<base::ObjectId> Editor::flagged(std::uint8_t flag, std::size_t most) const {
    std::vector<base::ObjectId> ids;
    for (Slot s : own_->scene->subtree(kNoSlot)) {
        if (ids.size() >= most) break;
        if ((own_->scene->flagsOf(s) & flag) != 0) ids.push_back(own_->scene->id(s));
    }
    return ids;
}

void Editor::refreshSelected() {
    own_->selected.clear();
    if (!isOpen()) return;
    for (base::ObjectId id : selection())
        if (const Slot s = own_->scene->find(id); s != kNoSlot) own_->selected.insert(s);
}

bool Editor::run(const std::string& name, const std::function<Status(edit::Draft&)>& verb) {
    if (!isOpen()) return false;
    LongWork work(own_->workOver, QString::fromStdString(name));
    edit::Draft draft(session(), own_->sceneName, name);
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
    if (own_->sight.index() == nullptr || own_->scene == nullptr) return std::nullopt;
    return own_->sight.index()->pick(*own_->scene, ray,
                                     [&](Slot s) { return pickableOnly ? isPickable(s) : !isHidden(s); });
}

QString Editor::documentName(const std::string& name) const {
    if (const auto kind = model::data::kindIn(name); !kind.empty())
        return tr("kind %1").arg(QString::fromStdString(std::string(kind)));
    if (const auto type = model::data::recordsIn(name); !type.empty())
        return tr("records of %1").arg(QString::fromStdString(std::string(type)));
    if (const auto recipe = model::data::nameIn(model::data::kRecipes, name); !recipe.empty())
        return tr("recipe %1").arg(QString::fromStdString(std::string(recipe)));
    if (const auto receiver = model::data::nameIn(model::data::kReceivers, name); !receiver.empty())
        return tr("receiver %1").arg(QString::fromStdString(std::string(receiver)));
    if (name == model::data::kCommands) return tr("commands");
    if (name == model::data::kItems) return tr("items");
    if (name == model::data::kSurfaces) return tr("surfaces");
    if (name == model::data::kGuises) return tr("guises");
    if (name == model::data::kChecks) return tr("rules of checks");
    if (name == model::data::kAdded) return tr("imported files");
    const base::ObjectId prefab = model::prefabOf(name);
    return prefab ? tr("prefab %1").arg(QString::fromStdString(own_->workspace->session->prefabName(prefab)))
                  : QString::fromStdString(name);
}

void Editor::setChosenPoint(std::size_t index) {
    if (index == own_->chosenPoint) return;
    own_->chosenPoint = index;
    Q_EMIT chosenPointChanged();
    Q_EMIT marksChanged();
}

const std::vector<ops::Link>& Editor::links() const {
    if (!own_->linksKnown) own_->links = ops::links(*own_->scene);
    own_->linksKnown = true;
    return own_->links;
}

void Editor::showBasePoint(const std::optional<base::Vec3>& at) {
    own_->basePoint = at;
    Q_EMIT marksChanged();
}

void Editor::setHint(const QString& hint) {
    if (hint == own_->hint) return;
    own_->hint = hint;
    Q_EMIT hintChanged();
}

}  // namespace app
