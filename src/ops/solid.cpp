#include "ops/solid.h"

#include <fmt/format.h>

#include <cmath>

namespace ops {

using base::ErrorCode;
using base::fail;
using base::Status;
using base::Vec3;
using model::kNoSlot;
using model::Slot;
using Shape = model::Solid::Shape;

std::string_view solidLabel(Shape shape) {
    constexpr std::string_view kLabels[] = {"Box", "Wedge", "Cylinder", "Cone", "Sphere", "Plane", "Stairs", "Wall"};
    return kLabels[static_cast<std::size_t>(shape)];
}

Status usableSolid(const model::Solid& solid) {
    for (int k = 0; k < 3; ++k)
        if (!(solid.size[k] >= 0.001 && solid.size[k] <= 10'000))
            return fail(ErrorCode::BadInput,
                        fmt::format("A solid can be from 1 mm to 10 km large each way, not {} m.", solid.size[k]));
    if (solid.parts < 0 || solid.parts > 1000)
        return fail(ErrorCode::BadInput,
                    fmt::format("A solid can have up to 1000 sides or steps, not {}.", solid.parts));
    return {};
}

base::Result<base::ObjectId> addSolid(edit::Draft& draft, const model::Solid& solid, const base::Transform& frame,
                                      base::ObjectId parent) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (Status usable = usableSolid(solid); !usable) return tl::unexpected(usable.error());
    edit::Session& session = draft.session();
    model::ObjectRecord r;
    r.id = session.random().nextId();
    r.parent = parent;
    r.name = session.intern(draft.freeNames().next(solidLabel(solid.shape)));
    const base::Name structure = session.intern("Structure");
    if (session.library().kind(structure) != nullptr) r.kind = structure;
    r.local = frame;
    if (parent) {
        const Slot slot = draft.scene().find(parent);
        if (slot == kNoSlot) return fail(ErrorCode::NotFound, "The group to draw into is gone.");
        if (auto into = base::inverse(draft.scene().world(slot)))
            r.local = base::toTransform(*into * base::toAffine(frame));
    }
    model::Detail detail;
    detail.solid = solid;
    r.detail = std::make_shared<const model::Detail>(std::move(detail));
    const base::ObjectId id = r.id;
    if (Status made = draft.create({&r, 1}); !made) return tl::unexpected(made.error());
    return id;
}

Status setSolid(edit::Draft& draft, base::ObjectId id, const model::Solid& solid) {
    if (!draft.state()) return draft.state();
    if (Status usable = usableSolid(solid); !usable) return usable;
    if (Status free = refuseProtected(draft.scene(), {&id, 1}, "sized"); !free) return free;
    const model::DetailPtr& now = draft.scene().detail(draft.scene().find(id));
    if (!now || !now->solid)
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” is no solid.", draft.scene().nameText(draft.scene().find(id))));
    model::Detail detail = *now;
    detail.solid = solid;
    const model::DetailPtr after = std::make_shared<const model::Detail>(std::move(detail));
    return draft.setDetails({&id, 1}, {&after, 1});
}

base::Mat3 surfaceAxes(const Vec3& normal) {
    // On level ground the world's own axes; on a slope or wall X stays level.
    if (normal.y > 0.999) return base::Mat3(1.0);
    const Vec3 level = glm::cross(Vec3(0, 1, 0), normal);
    const Vec3 x = glm::length(level) > 1e-6 ? glm::normalize(level) : Vec3(1, 0, 0);
    return {x, normal, glm::cross(x, normal)};
}

DrawnSolid drawnSolid(const SolidDrawing& d, double least) {
    const Vec3 along = glm::transpose(d.axes) * d.across;
    DrawnSolid drawn;
    drawn.solid.shape = d.shape;
    const double height = d.height > 0 ? std::max(d.height, least) : least;
    base::Mat3 axes = d.axes;
    if (d.shape == Shape::Wall) {
        const double length = std::max(std::hypot(along.x, along.z), least);
        const Vec3 way =
            std::hypot(along.x, along.z) > 1e-9 ? glm::normalize(axes[0] * along.x + axes[2] * along.z) : axes[0];
        axes = {way, axes[1], glm::cross(way, axes[1])};
        drawn.solid.size = {length, height, SolidDrawing::kThick};
    } else {
        drawn.solid.size = {std::max(std::abs(along.x), least), height, std::max(std::abs(along.z), least)};
        if (d.shape == Shape::Sphere) drawn.solid.size.y = std::min(drawn.solid.size.x, drawn.solid.size.z);
        if (d.shape == Shape::Plane) drawn.solid.size.y = 1;
    }
    drawn.frame.position = d.corner + (d.axes[0] * along.x + d.axes[2] * along.z) / 2.0;
    const bool towards = (d.shape == Shape::Stairs || d.shape == Shape::Wedge) && along.z > 0;
    if (towards) axes = {-axes[0], axes[1], -axes[2]};
    drawn.frame.rotation = glm::quat_cast(axes);
    return drawn;
}

}  // namespace ops
