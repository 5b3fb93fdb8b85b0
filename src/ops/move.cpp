#include "ops/move.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "ops/turned.h"

#include "base/tidy.h"
#include "ops/names.h"

namespace ops {

namespace {

/// Unit columns at right angles, right-handed, nearest to those of `m`.
base::Mat3 directionsOf(const base::Mat3& m) {
    base::Affine a;
    a.linear = m;
    return glm::mat3_cast(base::toTransform(a).rotation);
}

}  // namespace

base::Result<Mover> Mover::begin(const model::Scene& scene, std::span<const base::ObjectId> ids) {
    Mover mover;
    mover.ids_ = topmost(scene, ids);
    if (mover.ids_.empty()) return fail(ErrorCode::NotFound, "Nothing is selected.");
    if (base::Status free = refuseMoving(scene, mover.ids_, "moved"); !free) return tl::unexpected(free.error());
    base::Aabb box, points;
    for (base::ObjectId id : mover.ids_) {
        const Slot s = scene.find(id);
        Object object;
        object.local = scene.local(s);
        if (scene.parent(s) != kNoSlot) {
            object.parent = scene.world(scene.parent(s));
            if (auto inv = base::inverse(object.parent)) object.toParent = *inv;
        }
        mover.objects_.push_back(object);
        box.add(scene.subtreeBounds(s));
        points.add(scene.world(s).translation);
    }
    mover.bounds_ = box.empty() ? points : box;
    mover.base_ = mover.bounds_.baseCentre();
    return mover;
}

base::Status Mover::write(edit::Draft& draft, const std::vector<base::Transform>& poses) const {
    std::vector<base::Transform> tidy;
    tidy.reserve(poses.size());
    for (std::size_t i = 0; i < poses.size(); ++i) tidy.push_back(base::tidied(poses[i], objects_[i].local));
    return draft.setTransforms(ids_, tidy);
}

base::Status Mover::moveBy(edit::Draft& draft, const base::Vec3& by) const {
    const std::vector<base::Vec3> same(ids_.size(), by);
    return moveEachBy(draft, same);
}

base::Status Mover::moveEachBy(edit::Draft& draft, std::span<const base::Vec3> by) const {
    std::vector<base::Transform> poses;
    poses.reserve(objects_.size());
    for (std::size_t i = 0; i < objects_.size(); ++i) {
        poses.push_back(objects_[i].local);
        poses.back().position += objects_[i].toParent.direction(by[i]);
    }
    return write(draft, poses);
}

base::Vec3 Mover::pivot(PivotMode mode) const {
    if (mode == PivotMode::Centre) return bounds_.centre();
    return mode == PivotMode::Picked ? picked_ : base_;
}

base::Vec3 Mover::ownPivot(const Object& object, PivotMode mode) const {
    return mode == PivotMode::Each ? object.parent.point(object.local.position) : pivot(mode);
}

base::Transform Mover::turned(const Object& object, const base::Mat3& turn, const base::Vec3& about) {
    return turnedBelow(object.local, object.parent, object.toParent, turnAbout(about, turn));
}

base::Status Mover::turnBy(edit::Draft& draft, const base::Vec3& axis, double radians, PivotMode mode) const {
    const base::Quat turn = glm::angleAxis(radians, axis);
    const base::Mat3 matrix = glm::mat3_cast(turn);
    std::vector<base::Transform> poses;
    poses.reserve(objects_.size());
    for (const Object& object : objects_) poses.push_back(turned(object, matrix, ownPivot(object, mode)));
    return write(draft, poses);
}

base::Status Mover::carryTo(edit::Draft& draft, const base::Vec3& by, const base::Mat3& turn) const {
    std::vector<base::Transform> poses;
    poses.reserve(objects_.size());
    for (const Object& object : objects_) {
        base::Transform pose = object.local;
        if (turn != base::Mat3(1.0)) pose = turned(object, turn, base_);
        pose.position += object.toParent.direction(by);
        poses.push_back(pose);
    }
    return write(draft, poses);
}

base::Result<bool> Mover::sizeBy(edit::Draft& draft, const base::Vec3& factors, PivotMode mode) const {
    bool stopped = false;
    std::vector<base::Transform> poses;
    poses.reserve(objects_.size());
    const bool uniform = factors.x == factors.y && factors.y == factors.z;
    for (std::size_t i = 0; i < objects_.size(); ++i) {
        const Object& object = objects_[i];
        const model::Scene& scene = draft.scene();
        const auto [low, high] =
            sizesOf(draft.session().library(), scene, scene.find(ids_[i])).value_or(model::SizeLimits{});
        base::Transform pose = object.local;
        base::Vec3 by = factors;
        for (int k = 0; k < 3; ++k) {
            const double size = std::abs(pose.scale[k]);
            // What is outside its limits already may come nearer to them, never go farther.
            const double allowed = std::clamp(size * by[k], std::min(low, size), std::max(high, size));
            if (std::abs(allowed - size * by[k]) > 1e-12) stopped = true;
            by[k] = allowed / size;
        }
        if (uniform) by = base::Vec3(factors.x < 1 ? std::max({by.x, by.y, by.z}) : std::min({by.x, by.y, by.z}));
        const base::Vec3 about = object.toParent.point(ownPivot(object, mode));
        const base::Vec3 from = glm::conjugate(pose.rotation) * (about - pose.position);  // along its own axes
        pose.scale *= by;
        pose.position = about - pose.rotation * (by * from);
        poses.push_back(pose);
    }
    if (base::Status written = write(draft, poses); !written) return tl::unexpected(written.error());
    return stopped;
}

base::Mat3 Mover::axes(AxesMode mode, const base::Mat3& view) const {
    const Object& last = objects_.back();
    switch (mode) {
        case AxesMode::Own: return directionsOf(last.parent.linear * glm::mat3_cast(last.local.rotation));
        case AxesMode::Parent: return directionsOf(last.parent.linear);
        case AxesMode::View: return view;
        case AxesMode::World: break;
    }
    return base::Mat3(1.0);
}

std::optional<base::Affine> Mover::ownBox(const model::Scene& scene, const model::Library& library) const {
    const Slot s = scene.find(ids_.back());
    if (s == kNoSlot) return std::nullopt;
    const model::Item* item = library.item(scene.item(s));
    if (ids_.size() == 1 && scene.firstChild(s) == kNoSlot) {
        if (item == nullptr || item->bounds.empty()) return std::nullopt;
        base::Affine box;
        for (int k = 0; k < 3; ++k) box.linear[k][k] = item->bounds.size()[k];
        box.translation = item->bounds.low;
        return scene.world(s) * box;
    }
    // Several, or a group: one box when all stand the same way, else none that sizing could follow.
    constexpr std::size_t kMost = 5000;
    const base::Mat3 axes = directionsOf(scene.world(s).linear);
    base::Affine into;
    into.linear = glm::transpose(axes);
    base::Aabb box;
    std::size_t count = 0;
    for (base::ObjectId id : ids_) {
        const Slot top = scene.find(id);
        if (top == kNoSlot) continue;
        const base::Mat3 own = directionsOf(scene.world(top).linear);
        for (int k = 0; k < 3; ++k)
            if (std::abs(glm::dot(own[k], axes[k])) < 1 - 1e-9) return std::nullopt;
        for (Slot part : scene.subtree(top)) {
            if (++count > kMost) return std::nullopt;
            const model::Item* of = library.item(scene.item(part));
            if (of != nullptr && !of->bounds.empty()) box.add(base::mapped(of->bounds, into * scene.world(part)));
        }
    }
    if (box.empty()) return std::nullopt;
    base::Affine result;
    for (int k = 0; k < 3; ++k) result.linear[k] = axes[k] * box.size()[k];
    result.translation = axes * box.low;
    return result;
}

double Mover::ownSize(const model::Scene& scene, int axis, const model::Library& library) const {
    const Slot s = scene.find(ids_.back());
    const model::Item* item = s == kNoSlot ? nullptr : library.item(scene.item(s));
    if (item == nullptr || item->bounds.empty()) return 0;
    return item->bounds.size()[axis] * glm::length(scene.world(s).linear[axis]);
}

base::Status moveEach(edit::Draft& draft, std::span<const base::ObjectId> ids, std::span<const base::Affine> motions) {
    const model::Scene& scene = draft.scene();
    if (base::Status may = refuseMoving(scene, ids, "moved"); !may) return may;
    struct One {
        int depth;
        ObjectId id;
        base::Affine goal;
    };
    std::vector<One> all;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot s = scene.find(ids[i]);
        if (s == kNoSlot) return fail(ErrorCode::NotFound, "One of the objects is gone.");
        all.push_back({scene.depth(s), ids[i], motions[i] * scene.world(s)});
    }
    // Those above first: where what is below them stands follows from them.
    std::stable_sort(all.begin(), all.end(), [](const One& a, const One& b) { return a.depth < b.depth; });
    for (std::size_t from = 0; from < all.size();) {
        std::size_t to = from;
        Ids level;
        std::vector<base::Transform> poses;
        for (; to < all.size() && all[to].depth == all[from].depth; ++to) {
            const Slot s = scene.find(all[to].id);
            const base::Affine parent = scene.parent(s) == kNoSlot ? base::Affine{} : scene.world(scene.parent(s));
            const auto toParent = base::inverse(parent), back = base::inverse(scene.world(s));
            if (!toParent || !back) return fail(ErrorCode::Refused, "What it lies in is sized to nothing.");
            level.push_back(all[to].id);
            poses.push_back(turnedBelow(scene.local(s), parent, *toParent, all[to].goal * *back));
        }
        if (base::Status moved = draft.setTransforms(level, poses); !moved) return moved;
        from = to;
    }
    return {};
}

double snapped(double value, double step) {
    return step > 0 ? base::tidied(std::round(value / step) * step, 1e9) : value;
}

double poseField(const base::Transform& t, PoseField field) {
    const int i = static_cast<int>(field);
    if (i < 3) return t.position[i];
    if (i < 6) return base::toDegrees(t.rotation)[i - 3];
    return t.scale[i - 6];
}

base::Result<base::Transform> withPoseField(const base::Transform& t, PoseField field, double value) {
    const int i = static_cast<int>(field);
    base::Transform result = t;
    if (i < 3)
        result.position[i] = value;
    else if (i < 6) {
        base::Vec3 turn = base::toDegrees(t.rotation);
        turn[i - 3] = std::remainder(value, 360.0);
        result.rotation = base::fromDegrees(turn);
    } else {
        if (std::abs(value) < 1e-4)
            return fail(ErrorCode::BadInput, "A size of zero would make it vanish; 0.0001 is the smallest.");
        result.scale[i - 6] = value;
    }
    return result;
}

}  // namespace ops
