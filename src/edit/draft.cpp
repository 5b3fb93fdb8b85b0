#include "edit/draft.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

namespace edit {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Status;
using model::Slot;

namespace {

/// What `get` gives for each object, into `out`. Errors: NotFound for the first that is not there.
template <class T, class Get>
Status gather(const model::Scene& scene, std::span<const ObjectId> ids, std::vector<T>& out, Get get) {
    out.reserve(ids.size());
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == model::kNoSlot)
            return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
        out.push_back(get(slot));
    }
    return {};
}

}  // namespace

Draft::Draft(Session& session, const std::string& scene, std::string name) : session_(session), name_(std::move(name)) {
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

Draft::~Draft() {
    rollback();
}

Status Draft::write(model::Change change) {
    if (!state_) return state_;
    SceneDelta delta;
    delta.scene = open_->scene.name();
    if (Status done = open_->writer.apply(change, Direction::Forward, delta); !done) return done;
    changes_.push_back(std::move(change));
    session_.sceneChanged.tell(delta);
    return {};
}

Status Draft::create(std::span<const model::ObjectRecord> objects) {
    return write(model::Existence{true, {objects.begin(), objects.end()}});
}

Status Draft::remove(std::span<const ObjectId> ids) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    std::unordered_set<Slot> tops;
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == model::kNoSlot)
            return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
        tops.insert(slot);
    }
    std::vector<Slot> order;
    std::unordered_set<Slot> done;
    for (ObjectId id : ids) {
        const Slot top = scene.find(id);
        if (!done.insert(top).second) continue;  // named twice
        bool below = false;
        for (Slot s = scene.parent(top); s != model::kNoSlot && !below; s = scene.parent(s)) below = tops.contains(s);
        if (below) continue;
        const auto all = scene.subtree(top);
        order.insert(order.end(), all.begin(), all.end());
    }
    model::Existence change{false, std::vector<model::ObjectRecord>(order.size())};
    SceneDelta delta;
    delta.scene = scene.name();
    delta.treeChanged = true;
    for (std::size_t i = order.size(); i-- > 0;) {
        change.objects[i] = scene.record(order[i]);
        (void)open_->writer.remove(change.objects[i].id, delta);
    }
    changes_.push_back(std::move(change));
    session_.sceneChanged.tell(delta);
    return {};
}

Status Draft::setTransforms(std::span<const ObjectId> ids, std::span<const base::Transform> values) {
    if (!state_) return state_;
    model::SetTransforms change;
    change.ids.assign(ids.begin(), ids.end());
    change.after.assign(values.begin(), values.end());
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot slot = open_->scene.find(ids[i]);
        if (slot == model::kNoSlot)
            return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(ids[i])));
        const base::Transform& t = values[i];
        const bool usable = base::isFinite(t.position) && base::isFinite(t.rotation) && base::isFinite(t.scale) &&
                            std::abs(glm::length(t.rotation) - 1.0) < 1e-3;
        if (!usable)
            return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be put there: that is not a usable pose.",
                                                         open_->scene.nameText(slot)));
        change.before.push_back(open_->scene.local(slot));
    }
    // A drag writes the same objects many times: keep the first before and the last after.
    auto* last = changes_.empty() ? nullptr : std::get_if<model::SetTransforms>(&changes_.back());
    const bool sameRows = last != nullptr && last->ids == change.ids;
    if (!sameRows) return write(std::move(change));
    SceneDelta delta;
    delta.scene = open_->scene.name();
    if (Status done = open_->writer.apply(change, Direction::Forward, delta); !done) return done;
    last->after = std::move(change.after);
    session_.sceneChanged.tell(delta);
    return {};
}

Status Draft::setLabels(model::LabelField field, std::span<const ObjectId> ids, std::span<const base::Name> values) {
    if (!state_) return state_;
    model::SetLabels change{field, {ids.begin(), ids.end()}, {}, {values.begin(), values.end()}};
    const model::Scene& scene = open_->scene;
    Status known = gather(scene, ids, change.before, [&](Slot s) {
        if (field == model::LabelField::Name) return scene.nameOf(s);
        return field == model::LabelField::Kind ? scene.kind(s) : scene.item(s);
    });
    return known ? write(std::move(change)) : known;
}

Status Draft::setFlags(std::span<const ObjectId> ids, std::span<const std::uint8_t> values) {
    if (!state_) return state_;
    model::SetFlags change{{ids.begin(), ids.end()}, {}, {values.begin(), values.end()}};
    Status known = gather(open_->scene, ids, change.before, [&](Slot s) { return open_->scene.flagsOf(s); });
    return known ? write(std::move(change)) : known;
}

Status Draft::setDetails(std::span<const ObjectId> ids, std::span<const model::DetailPtr> values) {
    if (!state_) return state_;
    model::SetDetails change{{ids.begin(), ids.end()}, {}, {values.begin(), values.end()}};
    Status known = gather(open_->scene, ids, change.before, [&](Slot s) { return open_->scene.detail(s); });
    return known ? write(std::move(change)) : known;
}

Status Draft::moveInTree(std::span<const ObjectId> ids, std::span<const model::TreePlace> places) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    model::MoveInTree done;
    SceneDelta delta;
    delta.scene = scene.name();
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot slot = scene.find(ids[i]);
        model::MoveInTree row{{ids[i]}, {{}}, {places[i]}};
        if (slot != model::kNoSlot) {
            const model::ObjectRecord now = scene.record(slot);
            row.before[0] = {now.parent, now.before};
        }
        if (Status moved = open_->writer.apply(row, Direction::Forward, delta); !moved) {
            (void)open_->writer.apply(done, Direction::Backward, delta);
            return moved;
        }
        done.ids.push_back(ids[i]);
        done.before.push_back(row.before[0]);
        done.after.push_back(places[i]);
    }
    changes_.push_back(std::move(done));
    session_.sceneChanged.tell(delta);
    return {};
}

Status Draft::setSettings(const model::SceneSettings& settings) {
    if (!state_) return state_;
    return write(
        model::SetSettings{open_->scene.sharedSettings(), std::make_shared<const model::SceneSettings>(settings)});
}

void Draft::dropWhatChangedNothing() {
    std::erase_if(changes_, [](const model::Change& change) {
        if (const auto* c = std::get_if<model::Existence>(&change)) return c->objects.empty();
        if (const auto* c = std::get_if<model::SetTransforms>(&change)) return c->before == c->after;
        if (const auto* c = std::get_if<model::SetLabels>(&change)) return c->before == c->after;
        if (const auto* c = std::get_if<model::SetFlags>(&change)) return c->before == c->after;
        if (const auto* c = std::get_if<model::MoveInTree>(&change)) return c->before == c->after;
        if (const auto* c = std::get_if<model::SetSettings>(&change)) return *c->before == *c->after;
        const auto& details = std::get<model::SetDetails>(change);
        return std::equal(details.before.begin(), details.before.end(), details.after.begin(), model::sameDetail);
    });
}

base::Result<StepId> Draft::commit() {
    if (!state_) return tl::unexpected(state_.error());
    if (!active_) return fail(ErrorCode::Refused, "This change is finished already.");
    dropWhatChangedNothing();
    if (changes_.empty()) {
        rollback();
        return session_.history().present();
    }
    StepInfo info;
    info.name = name_;
    info.scene = open_->scene.name();
    for (const auto& change : changes_) info.rows += model::rowCount(change);
    auto data = std::make_shared<StepData>();
    data->changes.push_back({info.scene, std::move(changes_)});
    data->selectionBefore = selectionBefore_;
    data->selectionAfter = session_.selection();
    auto step = session_.commit(std::move(info), data);
    if (!step) {
        changes_ = std::move(data->changes[0].changes);
        rollback();
        return step;
    }
    active_ = false;
    session_.draftOpen_ = false;
    changes_.clear();
    session_.historyChanged.tell();
    return step;
}

void Draft::rollback() {
    if (!active_) return;
    active_ = false;
    session_.draftOpen_ = false;
    state_ = fail(ErrorCode::Refused, "This change is finished already.");
    if (changes_.empty()) return;
    SceneDelta delta;
    delta.scene = open_->scene.name();
    for (std::size_t i = changes_.size(); i-- > 0;) (void)open_->writer.apply(changes_[i], Direction::Backward, delta);
    changes_.clear();
    session_.sceneChanged.tell(delta);
    session_.select(selectionBefore_);
}

}  // namespace edit
