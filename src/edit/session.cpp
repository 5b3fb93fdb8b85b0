#include "edit/session.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>

namespace edit {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;
using base::Status;

namespace {

constexpr std::size_t kRecentRows = 400'000;  // payload rows kept in memory for quick undo

std::size_t rowsIn(const StepData& data) {
    std::size_t rows = 1;
    for (const auto& set : data.changes)
        for (const auto& change : set.changes) rows += model::rowCount(change);
    return rows;
}

}  // namespace

Session::Session(model::Project project, std::unique_ptr<Ledger> ledger, Surroundings surroundings)
    : project_(std::move(project)),
      ledger_(std::move(ledger)),
      around_(std::move(surroundings)),
      random_(around_.seed),
      readOnlyReason_(around_.readOnlyReason),
      sources_{project_.library, &definitions_, [this](const model::Solid& solid) { return solidItem(solid); }} {}

Session::~Session() = default;

Result<std::unique_ptr<Session>> Session::open(model::Project project, std::unique_ptr<Ledger> ledger,
                                               Surroundings surroundings) {
    std::unique_ptr<Session> session(new Session(std::move(project), std::move(ledger), std::move(surroundings)));
    auto history = session->ledger_->history();
    if (!history) return tl::unexpected(history.error());
    session->history_ = std::move(*history);
    session->saves_ = session->ledger_->saves();
    if (Status opened = session->openData(); !opened) return tl::unexpected(opened.error());
    if (Status opened = session->openDefinitions(); !opened) return tl::unexpected(opened.error());
    return session;
}

Result<const model::Scene*> Session::scene(const std::string& name) {
    auto open = openScene(name);
    if (!open) return tl::unexpected(open.error());
    return &(*open)->scene;
}

// Which step the file holds: the one noted with its fingerprint. A file we did not write, of a scene the history
// knows, was changed outside: a barrier step says so, and nothing before it can be undone.
Result<StepId> Session::heldStep(const std::string& scene, const LoadedScene& loaded) {
    for (auto mark = saves_.rbegin(); mark != saves_.rend(); ++mark) {
        const bool same = mark->scene == scene && mark->hash == loaded.hash && mark->size == loaded.size;
        if (same && (mark->step == kRoot || history_.step(mark->step) != nullptr)) return mark->step;
    }
    const StepId touched = history_.lastTouch(history_.present(), scene);
    const bool madeHere =
        std::none_of(saves_.begin(), saves_.end(), [&](const SaveMark& m) { return m.scene == scene && m.hash != 0; });
    const bool isScene = !model::prefabOf(scene) && !model::data::isData(scene);
    if (loaded.hash == 0 && madeHere && !isScene) return kRoot;  // a definition, or project data, that was never saved
    if (touched == kRoot) {
        SaveMark mark{scene, kRoot, loaded.hash, loaded.size, 0};
        bool anyTouch = false;
        for (const StepInfo& info : history_.steps()) anyTouch = anyTouch || info.touches(scene);
        if (!anyTouch && readOnlyReason_.empty())
            if (Status noted = ledger_->addSave(mark); !noted) return tl::unexpected(noted.error());
        saves_.push_back(mark);
        return kRoot;
    }
    remarks_.push_back(fmt::format(
        "{} was changed outside since its last save: its history starts anew, what came before stays in the ledger.",
        scene));
    if (!readOnlyReason_.empty()) return history_.present();
    StepInfo info{history_.nextId(),
                  history_.present(),
                  fmt::format("{} changed outside", scene),
                  {scene},
                  around_.nowMs(),
                  0,
                  true};
    auto empty = std::make_shared<const StepData>();
    if (Status kept = ledger_->append(info, empty, names()); !kept) return tl::unexpected(kept.error());
    const StepId id = info.id;
    history_.append(std::move(info));
    SaveMark mark{scene, id, loaded.hash, loaded.size, around_.nowMs()};
    if (Status noted = ledger_->addSave(mark); !noted) return tl::unexpected(noted.error());
    saves_.push_back(mark);
    return id;
}

Result<Session::Open*> Session::openScene(const std::string& name) {
    if (auto place = scenes_.find(name); place != scenes_.end()) return place->second.get();
    auto loaded = around_.loadScene(project_, name);
    if (!loaded) return tl::unexpected(loaded.error());
    auto held = heldStep(name, *loaded);
    if (!held) return tl::unexpected(held.error());
    auto open = std::make_unique<Open>(std::move(loaded->scene), sources_);
    open->saved = *held;
    if (Status done = bringToPresent(*open, *held); !done) return tl::unexpected(done.error());
    SceneDelta unheard;
    if (!model::prefabOf(name)) open->writer.fill(unheard);  // definitions: all at once, see openDefinitions
    Open* result = open.get();
    scenes_[name] = std::move(open);
    return result;
}

Status Session::bringToPresent(Open& open, StepId held) {
    const History::Path path = history_.path(held, history_.present());
    SceneDelta unheard;
    open.writer.defer();
    auto apply = [&](StepId id, Direction direction) -> Status {
        if (!history_.step(id)->touches(open.scene.name())) return {};
        auto step = data(id);
        if (!step) return tl::unexpected(step.error());
        const auto& sets = (*step)->changes;
        for (std::size_t k = 0; k < sets.size(); ++k) {
            const model::ChangeSet& set = sets[direction == Direction::Forward ? k : sets.size() - 1 - k];
            if (set.scene != open.scene.name()) continue;
            const std::size_t n = set.changes.size();
            for (std::size_t i = 0; i < n; ++i) {
                const auto& change = set.changes[direction == Direction::Forward ? i : n - 1 - i];
                if (Status done = open.writer.apply(change, direction, unheard); !done) return done;
            }
        }
        return {};
    };
    for (StepId id : path.back)
        if (Status done = apply(id, Direction::Backward); !done) return done;
    for (StepId id : path.forward)
        if (Status done = apply(id, Direction::Forward); !done) return done;
    return {};
}

Result<std::shared_ptr<const StepData>> Session::data(StepId id) {
    if (auto place = recent_.find(id); place != recent_.end()) return place->second;
    auto loaded = ledger_->load(id, *project_.names);
    if (!loaded) return tl::unexpected(loaded.error());
    auto shared = std::make_shared<const StepData>(std::move(*loaded));
    keep(id, shared);
    return shared;
}

void Session::keep(StepId id, std::shared_ptr<const StepData> step) {
    recentRows_ += rowsIn(*step);
    recent_[id] = std::move(step);
    while (recentRows_ > kRecentRows && recent_.size() > 1) {
        auto oldest = recent_.begin()->first == id ? std::next(recent_.begin()) : recent_.begin();
        recentRows_ -= rowsIn(*oldest->second);
        recent_.erase(oldest);
    }
}

Status Session::applyStep(StepId id, Direction direction, std::map<std::string, SceneDelta>& deltas) {
    auto step = data(id);
    if (!step) return tl::unexpected(step.error());
    const auto kept = *step;  // stays whole while others are loaded
    const auto& sets = kept->changes;
    for (std::size_t k = 0; k < sets.size(); ++k) {
        const model::ChangeSet& set = sets[direction == Direction::Forward ? k : sets.size() - 1 - k];
        auto open = openScene(set.scene);
        if (!open) return tl::unexpected(open.error());
        SceneDelta& delta = deltas[set.scene];
        delta.scene = set.scene;
        (*open)->writer.defer();
        const std::size_t n = set.changes.size();
        for (std::size_t i = 0; i < n; ++i) {
            const bool forward = direction == Direction::Forward;
            Status done = (*open)->writer.apply(set.changes[forward ? i : n - 1 - i], direction, delta);
            if (done) continue;
            while (i-- > 0)
                (void)(*open)->writer.apply(set.changes[forward ? i : n - 1 - i],
                                            forward ? Direction::Backward : Direction::Forward, delta);
            return done;
        }
    }
    selection_ = direction == Direction::Forward ? kept->selectionAfter : kept->selectionBefore;
    return {};
}

Status Session::undo() {
    auto target = history_.undoTarget();
    if (!target) {
        const StepInfo* info = history_.step(history_.present());
        return fail(ErrorCode::Refused, info != nullptr ? info->name + ": nothing before this can be undone."
                                                        : "There is nothing to undo.");
    }
    return jumpTo(*target);
}

Status Session::redo() {
    auto target = history_.redoTarget();
    if (!target) return fail(ErrorCode::Refused, "There is nothing to redo.");
    return jumpTo(*target);
}

Status Session::jumpTo(StepId step) {
    if (!readOnlyReason_.empty()) return fail(ErrorCode::Refused, readOnlyReason_);
    if (draftOpen_) return fail(ErrorCode::Refused, "Finish what you are doing first.");
    if (step != kRoot && history_.step(step) == nullptr) return fail(ErrorCode::NotFound, "There is no such step.");
    const History::Path path = history_.path(history_.present(), step);
    for (StepId id : path.back)
        if (history_.step(id)->barrier)
            return fail(ErrorCode::Refused, history_.step(id)->name + ": nothing before this can be undone.");
    std::map<std::string, SceneDelta> deltas;
    Status outcome;
    auto go = [&](StepId id, Direction direction, StepId arrive) {
        outcome = applyStep(id, direction, deltas);
        if (outcome) history_.moveTo(arrive);
        return outcome.has_value();
    };
    bool going = true;
    for (std::size_t i = 0; going && i < path.back.size(); ++i)
        going = go(path.back[i], Direction::Backward, history_.step(path.back[i])->parent);
    for (std::size_t i = 0; going && i < path.forward.size(); ++i)
        going = go(path.forward[i], Direction::Forward, path.forward[i]);
    Status kept = ledger_->setPresent(history_);
    std::vector<std::string> changed;
    for (const auto& [name, delta] : deltas) changed.push_back(name);
    tell(std::move(deltas));
    refreshPrefabItems(changed);
    selection_ = existing(selection_);
    if (const StepInfo* last = path.forward.empty() ? history_.step(path.back.empty() ? kRoot : path.back.back())
                                                    : history_.step(path.forward.back()))
        travelled.tell(last->scene());
    historyChanged.tell();
    selectionChanged.tell();
    return outcome ? kept : outcome;
}

std::vector<ObjectId> Session::existing(const std::vector<ObjectId>& ids) const {
    std::vector<ObjectId> result;
    for (ObjectId id : ids)
        for (const auto& [name, open] : scenes_)
            if (open->scene.find(id) != model::kNoSlot) {
                result.push_back(id);
                break;
            }
    return result;
}

void Session::select(std::vector<ObjectId> ids) {
    if (ids == selection_) return;
    selection_ = std::move(ids);
    selectionChanged.tell();
}

Result<StepId> Session::commit(StepInfo info, std::shared_ptr<const StepData> step) {
    info.id = history_.nextId();
    info.parent = history_.present();
    info.timeMs = around_.nowMs();
    if (Status kept = ledger_->append(info, step, names()); !kept) return tl::unexpected(kept.error());
    const StepId id = info.id;
    history_.append(std::move(info));
    keep(id, std::move(step));
    return id;
}

bool Session::isUnsaved(const std::string& scene) const {
    auto place = scenes_.find(scene);
    if (place == scenes_.end()) return false;
    const StepId saved = place->second->saved;
    if (saved < 0) return true;
    return history_.lastTouch(history_.present(), scene) != history_.lastTouch(saved, scene);
}

std::vector<std::string> Session::unsavedScenes() const {
    std::vector<std::string> names;
    for (const auto& [name, open] : scenes_)
        if (isUnsaved(name)) names.push_back(name);
    return names;
}

Status Session::noteSave(const std::string& scene, std::uint64_t hash, std::uint64_t size, StepId step) {
    SaveMark mark{scene, step, hash, size, around_.nowMs()};
    if (Status noted = ledger_->addSave(mark); !noted) return noted;
    saves_.push_back(mark);
    return {};
}

void Session::markSaved(const std::string& scene, StepId step) {
    if (auto place = scenes_.find(scene); place != scenes_.end()) place->second->saved = step;
    historyChanged.tell();
}

StepId Session::savedStep(const std::string& scene) const {
    auto place = scenes_.find(scene);
    return place == scenes_.end() ? -1 : place->second->saved;
}

Status Session::openData() {
    std::set<std::string> names(project_.dataDocuments.begin(), project_.dataDocuments.end());
    for (const StepInfo& step : history_.steps())
        for (const std::string& name : step.scenes)
            if (model::data::isData(name)) names.insert(name);
    for (const std::string& name : names) {
        if (auto open = openScene(name); !open) return tl::unexpected(open.error());
        takeData(name);
    }
    return {};
}

void Session::takeData(const std::string& document) {
    if (!around_.takeData) return;
    auto withMesh = [&] {
        std::set<std::string> names;
        for (const model::Item& item : library().items())
            if (!item.bounds.empty()) names.insert(item.name);
        return names;
    };
    const bool items = document == model::data::kItems;
    const auto before = items ? withMesh() : std::set<std::string>{};
    around_.takeData(project_, document, entries(document));
    if (!items) return;
    // Objects of an item that went, or is back, have another box.
    std::vector<std::string> other;
    const auto now = withMesh();
    std::set_symmetric_difference(before.begin(), before.end(), now.begin(), now.end(), std::back_inserter(other));
    for (const std::string& name : other) refreshItem(intern(name));
}

void Session::refreshItem(base::Name item) {
    for (auto& [name, open] : scenes_) {
        SceneDelta delta;
        delta.scene = name;
        open->writer.refreshItem(item, delta);
        if (!delta.empty()) sceneChanged.tell(delta);
    }
}

const model::DataEntries& Session::entries(const std::string& document) const {
    static const model::DataEntries none;
    auto place = scenes_.find(document);
    return place == scenes_.end() ? none : place->second->scene.settings().entries();
}

std::vector<std::string> Session::dataDocuments() const {
    std::vector<std::string> names;
    for (const auto& [name, open] : scenes_)
        if (model::data::isData(name) && !open->scene.settings().entries().empty()) names.push_back(name);
    return names;
}

void Session::adoptScene(model::Scene scene) {
    const std::string name = scene.name();
    auto open = std::make_unique<Open>(std::move(scene), sources_);
    open->saved = -1;
    SceneDelta unheard;
    open->writer.fill(unheard);
    scenes_[name] = std::move(open);
    auto& names = project_.sceneNames;
    if (std::find(names.begin(), names.end(), name) == names.end()) {
        names.push_back(name);
        std::sort(names.begin(), names.end());
    }
}

void Session::putItem(model::Item item) {
    const base::Name key = intern(item.name);
    project_.library.add(key, std::move(item));
    refreshItem(key);
}

}  // namespace edit
