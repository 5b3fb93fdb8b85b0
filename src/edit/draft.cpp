#include "edit/draft.h"

#include "edit/follow_arrays.h"
#include "edit/names.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace edit {

namespace {

bool changedNothing(const model::Change& change) {
    if (const auto* c = std::get_if<model::Existence>(&change)) return c->objects.empty();
    if (const auto* c = std::get_if<model::SetTransforms>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::SetLabels>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::SetFlags>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::MoveInTree>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::SetSettings>(&change)) return *c->before == *c->after;
    if (const auto* c = std::get_if<model::SetEntries>(&change)) return c->before == c->after;
    const auto& details = std::get<model::SetDetails>(change);
    return std::equal(details.before.begin(), details.before.end(), details.after.begin(), model::sameDetail);
}

}  // namespace

Draft::Draft(Session& session, const std::string& scene, std::string name)
    : session_(session), main_(scene), name_(std::move(name)) {
    if (!session.draftOpen_)
        if (auto known = session.scene(scene); !known) {
            state_ = tl::unexpected(known.error());
            return;
        }
    auto open = session.openScene(scene);
    if (!open) {
        state_ = tl::unexpected(open.error());
        return;
    }
    open_ = *open;
    if (!session.readOnlyReason().empty()) {
        state_ = fail(ErrorCode::Refused, session.readOnlyReason());
        return;
    }
    if (session.draftOpen_) {
        state_ = fail(ErrorCode::Refused, "Another change is still being made.");
        return;
    }
    session.draftOpen_ = true;
    active_ = true;
    selectionBefore_ = session.selection();
}

Status Draft::noObject(ObjectId id) {
    return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
}

Draft::~Draft() {
    rollback();
}

Status Draft::turnTo(const std::string& document) {
    if (!state_) return state_;
    auto open = session_.openScene(document);
    if (!open) return tl::unexpected(open.error());
    if (session_.otherwise_.contains(document))
        return fail(ErrorCode::Refused, document + ": its file was changed outside: open it first.");
    open_ = *open;
    return {};
}

model::FreeNames& Draft::freeNames() {
    return freeNames_.try_emplace(open_->scene.name(), open_->scene).first->second;
}

/// What names are free is kept in mind only once somebody has asked.
void Draft::noteName(base::Name name) {
    const auto place = freeNames_.find(open_->scene.name());
    if (place != freeNames_.end()) place->second.note(session_.project().names->text(name));
}

Draft::Route Draft::routeOf(Slot slot) const {
    const model::Scene& scene = open_->scene;
    if (const ObjectId edited = session_.definitionEditedAt()) {
        const Slot instance = scene.find(edited);
        if (instance != kNoSlot && slot != instance && scene.isWithin(slot, instance))
            return {Route::To::Definition, edited};
    }
    const Slot around = scene.instanceAround(slot);
    return around == kNoSlot ? Route{} : Route{Route::To::Inside, scene.id(around)};
}

Draft::Route Draft::routeBelow(Slot parent) const {
    const model::Scene& scene = open_->scene;
    if (parent == kNoSlot) return {};
    if (scene.id(parent) == session_.definitionEditedAt() && scene.isInstance(parent))
        return {Route::To::Definition, scene.id(parent)};
    const Route own = routeOf(parent);
    return own.to == Route::To::Own && scene.isInstance(parent) ? Route{Route::To::Inside, scene.id(parent)} : own;
}

bool Draft::isOwn(ObjectId id) const {
    const Slot slot = open_->scene.find(id);
    const Route route = slot == kNoSlot ? Route{Route::To::Inside, {}} : routeOf(slot);
    if (route.to != Route::To::Definition) return route.to == Route::To::Own;
    const auto& link = open_->scene.detail(open_->scene.find(route.instance))->prefab;
    auto place = session_.definitions().find(link->of);
    if (place == session_.definitions().end()) return false;
    const Slot inner = place->second->find(base::innerOf(route.instance, id));
    return inner != kNoSlot && place->second->instanceAround(inner) == kNoSlot;
}

Status Draft::write(model::Change change) {
    if (!state_) return state_;
    if (Status on = goOn(model::rowCount(change)); !on) return on;
    SceneDelta delta;
    delta.scene = open_->scene.name();
    if (Status done = open_->writer.apply(change, Direction::Forward, delta); !done) return done;
    note(std::move(change), std::move(delta));
    return {};
}

void Draft::note(model::Change change, SceneDelta delta) {
    if (sets_.empty() || sets_.back().scene != delta.scene) sets_.push_back({delta.scene, {}});
    sets_.back().changes.push_back(std::move(change));
    sealed_ = false;
    session_.tell(std::move(delta));
}

Status Draft::inDefinition(ObjectId instance, const std::function<Status()>& write) {
    const std::string here = open_->scene.name();
    const Slot slot = open_->scene.find(instance);
    const ObjectId prefab = open_->scene.detail(slot)->prefab->of;
    if (!session_.definitions().contains(prefab))
        return fail(ErrorCode::Refused, "Its prefab is missing: there is no definition to be changed.");
    if (Status turned = turnTo(model::definitionKey(prefab)); !turned) return turned;
    Status done = write();
    if (Status back = turnTo(here); !back) return back;
    return done;
}

Status Draft::setEntries(const std::string& document, std::span<const std::string> keys,
                         std::span<const std::optional<model::ValueMap>> values) {
    if (!state_) return state_;
    const std::string here = open_->scene.name();
    if (Status turned = turnTo(document); !turned) return turned;
    model::SetEntries change{{keys.begin(), keys.end()}, {}, {values.begin(), values.end()}};
    const model::DataEntries& held = open_->scene.settings().entries();
    for (const std::string& key : keys) {
        auto place = held.find(key);
        change.before.push_back(place == held.end() ? std::nullopt : std::optional(place->second));
    }
    Status done = write(std::move(change));
    if (Status back = turnTo(here); !back) return back;
    return done;
}

Status Draft::setSettings(const model::SceneSettings& settings) {
    if (!state_) return state_;
    return write(
        model::SetSettings{open_->scene.sharedSettings(), std::make_shared<const model::SceneSettings>(settings)});
}

/// A definition cannot hold an instance of itself, be it further down.
Status Draft::refuseCircle(const model::DetailPtr& detail) const {
    const ObjectId here = open_ != nullptr ? model::prefabOf(open_->scene.name()) : ObjectId{};
    if (!here || !detail || !detail->prefab) return {};
    auto refuse = [&](ObjectId of) -> Status {
        const auto way = model::chain(session_.definitions(), of, here);
        if (way.empty()) return {};
        std::string names = session_.prefabName(here);
        for (ObjectId prefab : way) names += " › " + session_.prefabName(prefab);
        return fail(ErrorCode::Refused, fmt::format("A prefab cannot hold itself: {}.", names));
    };
    if (Status fine = refuse(detail->prefab->of); !fine) return fine;
    for (const model::ObjectRecord& r : detail->prefab->added)
        if (Status fine = refuseCircle(r.detail); !fine) return fine;
    return {};
}

base::Result<model::Scene> Draft::before() const {
    Session::Open was(open_->scene, session_.sources_);
    was.writer.defer();
    SceneDelta unheard;
    for (auto set = sets_.rbegin(); set != sets_.rend(); ++set) {
        if (set->scene != open_->scene.name()) continue;
        for (auto change = set->changes.rbegin(); change != set->changes.rend(); ++change)
            if (Status back = was.writer.apply(*change, Direction::Backward, unheard); !back)
                return tl::unexpected(back.error());
    }
    return std::move(was.scene);
}

/// All others have their say in the step: what watches, then copies that follow.
Status Draft::hearOthers() {
    if (heardAll_ || sets_.empty()) return {};
    heardAll_ = true;
    if (session_.beforeCommit_ && !asWritten_)
        if (Status said = session_.beforeCommit_(*this); !said) return said;
    if (Status followed = followArrays(*this); !followed) return followed;
    dropWhatChangedNothing();
    return {};
}

void Draft::dropWhatChangedNothing() {
    for (model::ChangeSet& set : sets_) std::erase_if(set.changes, changedNothing);
    std::erase_if(sets_, [](const model::ChangeSet& set) { return set.changes.empty(); });
}

base::Result<StepId> Draft::commit() {
    if (!state_) return tl::unexpected(state_.error());
    if (!active_) return fail(ErrorCode::Refused, "This change is finished already.");
    dropWhatChangedNothing();
    if (Status said = hearOthers(); !said) {
        rollback();
        return tl::unexpected(said.error());
    }
    if (sets_.empty()) {
        rollback();
        return session_.history().present();
    }
    StepInfo info;
    info.name = name_;
    for (const model::ChangeSet& set : sets_) {
        info.touch(set.scene, set.scene == main_);
        for (const auto& change : set.changes) info.rows += model::rowCount(change);
    }
    auto data = std::make_shared<StepData>();
    data->changes = std::move(sets_);
    data->selectionBefore = selectionBefore_;
    data->selectionAfter = session_.selection();
    const std::vector<std::string> scenes = info.scenes;
    auto step = session_.commit(std::move(info), data);
    if (!step) {
        sets_ = std::move(data->changes);
        rollback();
        return step;
    }
    active_ = false;
    session_.draftOpen_ = false;
    sets_.clear();
    if (std::find(scenes.begin(), scenes.end(), model::data::kItems) != scenes.end()) session_.listScenes();
    session_.refreshPrefabItems(scenes);
    session_.historyChanged.tell();
    return step;
}

Status Draft::together(const std::vector<std::function<Status()>>& writes) {
    const Mark before = writes.size() > 1 ? mark() : Mark{};
    for (const auto& write : writes)
        if (Status done = write(); !done) {
            if (writes.size() > 1) takeBack(before);
            return done;
        }
    return {};
}

Draft::Mark Draft::mark() {
    sealed_ = true;
    return {sets_.size(), sets_.empty() ? 0 : sets_.back().changes.size()};
}

void Draft::rollbackTo(const Mark& mark) {
    if (active_) takeBack(mark);
}

void Draft::takeBack(const Mark& mark) {
    std::map<std::string, SceneDelta> deltas;
    while (sets_.size() > mark.sets || (!sets_.empty() && sets_.back().changes.size() > mark.changes)) {
        model::ChangeSet& set = sets_.back();
        const std::size_t keep = sets_.size() > mark.sets ? 0 : mark.changes;
        auto open = session_.openScene(set.scene);
        SceneDelta& delta = deltas[set.scene];
        delta.scene = set.scene;
        if (open) (*open)->writer.defer();
        for (std::size_t i = set.changes.size(); i-- > keep;)
            if (open) (void)(*open)->writer.apply(set.changes[i], Direction::Backward, delta);
        set.changes.resize(keep);
        if (keep > 0) break;
        sets_.pop_back();
    }
    if (!deltas.empty()) session_.tell(std::move(deltas));
}

void Draft::rollback() {
    if (!active_) return;
    active_ = false;
    session_.draftOpen_ = false;
    state_ = fail(ErrorCode::Refused, "This change is finished already.");
    if (sets_.empty()) return;
    takeBack({});
    session_.select(selectionBefore_);
}

}  // namespace edit
