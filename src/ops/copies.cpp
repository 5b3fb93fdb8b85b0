#include "ops/copies.h"

#include <fmt/format.h>

#include "ops/turned.h"

#include "base/tidy.h"
#include "ops/names.h"

namespace ops {

Result<Ids> copyMany(edit::Draft& draft, ObjectId id, std::size_t count) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    const Slot top = scene.find(id);
    if (top == kNoSlot) return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
    edit::Session& session = draft.session();
    FreeNames& names = draft.freeNames();
    std::vector<model::ObjectRecord> objects;
    Ids made;
    constexpr std::size_t kAtOnce = 20'000;
    auto create = [&]() -> Status {
        Status created = objects.empty() ? Status{} : draft.create(objects);
        objects.clear();
        return created;
    };
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t first = objects.size();
        made.push_back(session.random().nextId());
        edit::CopyOf copyOf;
        edit::appendCopy(session, scene, top, made.back(), names, objects, copyOf);
        edit::linkCopies(scene, copyOf, std::span(objects).subspan(first));
        objects[first].before = {};
        if (objects.size() >= kAtOnce)
            if (Status created = create(); !created) return tl::unexpected(created.error());
    }
    if (Status created = create(); !created) return tl::unexpected(created.error());
    return made;
}

Result<Ids> copyMoved(edit::Draft& draft, std::span<const ObjectId> ids, const base::Affine& by) {
    auto made = duplicate(draft, ids);
    if (!made) return made;
    const model::Scene& scene = draft.scene();
    std::vector<base::Transform> poses;
    for (ObjectId id : *made) {
        if (Status on = draft.goOn(); !on) return tl::unexpected(on.error());
        const Slot s = scene.find(id);
        const base::Affine parent = scene.parent(s) == kNoSlot ? base::Affine{} : scene.world(scene.parent(s));
        const auto back = base::inverse(parent);
        poses.push_back(back ? base::tidied(turnedBelow(scene.local(s), parent, *back, by), scene.local(s))
                             : scene.local(s));
    }
    if (Status posed = draft.setTransforms(*made, poses); !posed) return tl::unexpected(posed.error());
    return made;
}

base::Affine motionBetween(const base::Affine& from, const base::Affine& to) {
    base::Affine motion;
    const base::Quat turn = base::toTransform(to).rotation * glm::inverse(base::toTransform(from).rotation);
    motion.linear = glm::mat3_cast(glm::normalize(turn));
    if (from.linear == to.linear) motion.linear = base::Mat3(1.0);
    motion.translation = to.translation - motion.linear * from.translation;
    return motion;
}

Status mirror(edit::Draft& draft, std::span<const ObjectId> ids, int axis, const base::Vec3& point) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    base::Affine image;
    image.linear[axis][axis] = -1;
    image.translation[axis] = 2 * point[axis];
    const Ids tops = topmost(scene, ids);
    if (tops.empty()) return fail(ErrorCode::NotFound, "Nothing is selected.");
    if (Status allowed = refuseMoving(scene, tops, "mirrored"); !allowed) return allowed;
    std::vector<base::Transform> poses;
    for (ObjectId id : tops) {
        if (Status on = draft.goOn(); !on) return on;
        const Slot s = scene.find(id);
        const base::Affine parent = scene.parent(s) == kNoSlot ? base::Affine{} : scene.world(scene.parent(s));
        const auto back = base::inverse(parent);
        const base::Affine local = back ? *back * image * scene.world(s) : base::Affine{};
        if (!back || base::hasShear(local))
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” would have to be sheared, which a pose cannot hold.", scene.nameText(s)));
        poses.push_back(base::tidied(base::toTransform(local), scene.local(s)));
    }
    return draft.setTransforms(tops, poses);
}

}  // namespace ops
