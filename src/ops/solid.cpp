#include "ops/solid.h"

#include <fmt/format.h>

#include <cmath>

#include "base/units.h"
#include "model/facets/solid.h"
#include "ops/names.h"
#include "query/solids.h"

namespace ops {

using Shape = model::Solid::Shape;

std::string_view solidLabel(Shape shape) {
    constexpr std::string_view kLabels[] = {"Box",    "Wedge", "Cylinder", "Cone",        "Sphere",  "Plane",
                                            "Stairs", "Wall",  "Arch",     "Curved wall", "Frustum", "Ramp",
                                            "Torus",  "Pipe",  "Prism",    "Room",        "Solid"};
    return kLabels[static_cast<std::size_t>(shape)];
}

namespace {

Status usableSize(double metres) {
    if (metres >= 0.001 && metres <= 10'000) return {};
    return fail(ErrorCode::BadInput,
                fmt::format("A solid can be from 1 mm to 10 km large each way, not {} m.", metres));
}

/// Numbers that do not go together.
Status usableShape(const model::Solid& s) {
    auto bad = [](std::string what) -> Status { return fail(ErrorCode::BadInput, std::move(what)); };
    const double least = std::min({s.size.x, s.size.y, s.size.z});
    switch (s.shape) {
        case Shape::Room:
            if (s.thickness * 2 >= least)
                return bad(fmt::format("Walls of {} m leave no room in {} m.", s.thickness, least));
            break;
        case Shape::Arch:
        case Shape::CurvedWall:
        case Shape::Torus:
        case Shape::Pipe: {
            if (s.thickness * 2 >= s.size.x)
                return bad(fmt::format("What is {} m thick does not go round in {} m.", s.thickness, s.size.x));
            if (!(s.sweepDegrees >= 1 && s.sweepDegrees <= 360)) return bad("It goes round by 1° to 360°.");
            const int pieces = s.parts > 0 ? s.parts : shape::usualParts(query::numbersOf(s));
            if (s.shape == Shape::Arch && s.rise > 0 && s.size.y - s.rise * (pieces - 1) < 0.001)
                return bad(
                    fmt::format("{} pieces that rise by {} m each do not fit into {} m.", pieces, s.rise, s.size.y));
            break;
        }
        case Shape::Prism:
            if (!s.footprint.empty() && !shape::convexParts(s.footprint))
                return bad("A footprint has three corners or more, and sides that do not cross each other.");
            break;
        case Shape::Plain: {
            for (const model::SolidPiece& piece : s.pieces) {
                shape::Convex one{piece.corners, {}};
                for (const auto& face : piece.faces) one.faces.push_back({face.loop, face.tag});
                if (Status sound = shape::wellFormed(one); !sound) return sound;
            }
            if (s.pieces.empty()) return bad("A plain solid has a piece at least.");
            break;
        }
        default: break;
    }
    return {};
}

}  // namespace

Status usableSolid(const model::Solid& solid) {
    for (int k = 0; k < 3; ++k)
        if (Status usable = usableSize(solid.size[k]); !usable) return usable;
    if (solid.parts < 0 || solid.parts > 1000)
        return fail(ErrorCode::BadInput,
                    fmt::format("A solid can have up to 1000 sides or steps, not {}.", solid.parts));
    if (Status usable = usableShape(solid); !usable) return usable;
    if (!solid.openings.empty() && solid.shape != Shape::Plane && query::piecesOf(solid).empty())
        return fail(ErrorCode::Refused, "Its openings would leave nothing of it.");
    return {};
}

base::Result<base::ObjectId> addSolid(edit::Draft& draft, const model::Solid& solid, const base::Transform& frame,
                                      base::ObjectId parent) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (Status usable = usableSolid(solid); !usable) return tl::unexpected(usable.error());
    edit::Session& session = draft.session();
    model::ObjectRecord r;
    do r.id = session.random().nextId();
    while (draft.scene().find(r.id) != kNoSlot);
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
    detail.put(solid);
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
    if (!now || !now->get<model::Solid>())
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” is no solid.", draft.scene().nameText(draft.scene().find(id))));
    model::Detail detail = *now;
    detail.put(solid);
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

base::Mat3 drawingAxes(Shape shape, const Vec3& normal) {
    const bool upright = shape == Shape::Stairs || shape == Shape::Wall;
    return upright ? base::Mat3(1.0) : surfaceAxes(normal);
}

bool hasHeight(Shape shape) {
    return shape != Shape::Plane && shape != Shape::Sphere;
}

double awayFromFootprint(const SolidDrawing& d, const Vec3& place) {
    const Vec3 along = glm::transpose(d.axes) * d.across, p = glm::transpose(d.axes) * (place - d.corner);
    const base::Vec2 end(along.x, along.z), at(p.x, p.z);
    if (d.shape == Shape::Wall) {
        const double length = glm::dot(end, end);
        return glm::length(at - end * (length > 0 ? std::clamp(glm::dot(at, end) / length, 0.0, 1.0) : 0.0));
    }
    return glm::length(at - glm::clamp(at, glm::min(end, base::Vec2(0.0)), glm::max(end, base::Vec2(0.0))));
}

namespace {

/// "4 x 3": the numbers between the signs.
base::Result<std::vector<double>> sizesIn(std::string_view text, base::LengthUnit unit) {
    std::string plain(text);
    for (std::size_t at; (at = plain.find("×")) != std::string::npos;)
        plain.replace(at, std::string_view("×").size(), "x");
    std::vector<double> sizes;
    for (std::size_t from = 0; from <= plain.size();) {
        const std::size_t to = std::min(plain.find('x', from), plain.size());
        auto size = base::evaluateQuantity(base::typedIn(std::string_view(plain).substr(from, to - from), unit),
                                           base::Quantity::Length, 0);
        if (!size) return tl::unexpected(size.error());
        if (Status usable = usableSize(*size); !usable) return tl::unexpected(usable.error());
        sizes.push_back(*size);
        from = to + 1;
    }
    if (sizes.size() > 3) return fail(ErrorCode::BadInput, "A solid has three sizes at most.");
    return sizes;
}

void lengthen(double& along, double to) {
    along = std::copysign(to, along);
}

}  // namespace

base::Result<bool> typeSizes(SolidDrawing& d, std::string_view text, bool rising, base::LengthUnit unit) {
    auto sizes = sizesIn(text, unit);
    if (!sizes) return tl::unexpected(sizes.error());
    const std::vector<double>& size = *sizes;
    const bool raised = hasHeight(d.shape);
    if (rising && size.size() == 1) {
        d.height = size[0];
        return true;
    }
    if (!raised && size.size() > 2) return fail(ErrorCode::BadInput, "Two sizes at most: it has no height to type.");
    Vec3 along = glm::transpose(d.axes) * d.across;
    along.y = 0;
    if (d.shape == Shape::Wall) {
        along = (glm::length(along) > 1e-9 ? glm::normalize(along) : Vec3(1, 0, 0)) * size[0];
        if (size.size() > 2) d.thick = size[2];
    } else {
        lengthen(along.x, size[0]);
        lengthen(along.z, size.back());
    }
    d.across = d.axes * along;
    const bool wall = d.shape == Shape::Wall, high = raised && size.size() > (wall ? 1u : 2u);
    if (high) d.height = size[1];
    return high || !raised;
}

namespace {

/// As thick as suits a small one; winding stairs are as wide as there is room.
void fitThickness(model::Solid& s) {
    const double across = std::min(s.size.x, s.size.z);
    if (s.rise > 0) s.thickness = std::max(0.01, 0.7 * across / 2);
    if (s.shape == Shape::Room) s.thickness = std::min(s.thickness, 0.25 * std::min(across, s.size.y));
    const bool lies = s.shape == Shape::CurvedWall || s.shape == Shape::Torus || s.shape == Shape::Pipe;
    if (lies || (s.shape == Shape::Arch && s.rise == 0))
        s.thickness = std::min(s.thickness, 0.3 * (lies ? across : std::min(s.size.x, s.size.y)));
    // Winding stairs no higher than a step are one.
    if (s.rise > 0) s.rise = std::min(s.rise, s.size.y);
}

}  // namespace

DrawnSolid drawnSolid(const SolidDrawing& d, double least) {
    const Vec3 along = glm::transpose(d.axes) * d.across;
    DrawnSolid drawn;
    drawn.solid = model::usualSolid(d.shape);
    if (d.winds) {
        constexpr double kRise = 0.18;  // metres: a step that is climbed with ease
        drawn.solid.rise = kRise;
        drawn.solid.sweepDegrees = 270;
        drawn.solid.filled = true;
    }
    const double height = d.height > 0 ? std::max(d.height, least) : least;
    base::Mat3 axes = d.axes;
    if (d.shape == Shape::Wall) {
        const double length = std::max(std::hypot(along.x, along.z), least);
        const Vec3 way =
            std::hypot(along.x, along.z) > 1e-9 ? glm::normalize(axes[0] * along.x + axes[2] * along.z) : axes[0];
        axes = {way, axes[1], glm::cross(way, axes[1])};
        drawn.solid.size = {length, height, d.thick};
    } else {
        drawn.solid.size = {std::max(std::abs(along.x), least), height, std::max(std::abs(along.z), least)};
        if (d.shape == Shape::Sphere) drawn.solid.size.y = std::min(drawn.solid.size.x, drawn.solid.size.z);
        if (d.shape == Shape::Plane) drawn.solid.size.y = 1;
    }
    fitThickness(drawn.solid);
    drawn.frame.position = d.corner + (d.axes[0] * along.x + d.axes[2] * along.z) / 2.0;
    const bool towards = (d.shape == Shape::Stairs || d.shape == Shape::Wedge) && along.z > 0;
    if (towards) axes = {-axes[0], axes[1], -axes[2]};
    drawn.frame.rotation = glm::quat_cast(axes);
    return drawn;
}

Result<DrawnSolid> drawnPrism(std::span<const Vec3> corners, double height) {
    if (Status usable = usableSize(height); !usable) return tl::unexpected(usable.error());
    base::Aabb box;
    for (const Vec3& c : corners) box.add(c);
    DrawnSolid drawn;
    drawn.solid = model::usualSolid(Shape::Prism, {box.size().x, height, box.size().z});
    if (corners.size() < 3 || box.empty()) return fail(ErrorCode::BadInput, "A footprint needs three corners or more.");
    drawn.frame.position = box.baseCentre();
    for (const Vec3& c : corners)
        drawn.solid.footprint.emplace_back(c.x - drawn.frame.position.x, c.z - drawn.frame.position.z);
    if (Status usable = usableSolid(drawn.solid); !usable) return tl::unexpected(usable.error());
    return drawn;
}

namespace {

/// A wall as it stands: its middle line at its floor. Only upright ones of their own size.
struct StandingWall {
    std::array<Vec3, 2> ends;
    double high, half;  ///< half of its thickness
    Vec3 way() const { return glm::normalize(ends[1] - ends[0]); }
};

std::optional<StandingWall> standingWall(const model::Scene& scene, Slot slot) {
    if (slot == kNoSlot || !scene.facet<model::Solid>(slot)) return std::nullopt;
    const model::Solid& solid = *scene.facet<model::Solid>(slot);
    const base::Affine& world = scene.world(slot);
    const Vec3 x = world.linear[0], y = world.linear[1];
    const bool own = std::abs(glm::length(x) - 1) < 1e-6 && std::abs(y.y - 1) < 1e-6 && std::abs(x.y) < 1e-6;
    if (solid.shape != Shape::Wall || !own) return std::nullopt;
    const Vec3 half = x * (solid.size.x / 2);
    return StandingWall{{world.translation - half, world.translation + half}, solid.size.y, solid.size.z / 2};
}

/// Puts an end of a wall `by` metres further out; the other one stays.
Status lengthenWall(edit::Draft& draft, ObjectId id, std::size_t end, double by) {
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(id);
    const Vec3 outwards = standingWall(scene, slot)->way() * (end == 0 ? -by / 2 : by / 2);
    model::Solid solid = *scene.facet<model::Solid>(slot);
    solid.size.x += by;
    base::Affine world = scene.world(slot);
    world.translation += outwards;
    const Slot parent = scene.parent(slot);
    const auto into = parent != kNoSlot ? base::inverse(scene.world(parent)) : std::optional(base::Affine{});
    if (!into) return {};
    base::Transform local = scene.local(slot);
    local.position = into->point(world.translation);
    if (Status set = setSolid(draft, id, solid); !set) return set;
    return draft.setTransforms({&id, 1}, {&local, 1});
}

/// How far an end of a wall goes on to the corner of the outer sides; `cosine` and `sine` of the turn there.
double toCorner(double half, double otherHalf, double cosine, double sine) {
    return std::clamp((otherHalf - half * cosine) / sine, 0.0, 3 * std::max(half, otherHalf));
}

}  // namespace

std::optional<Vec3> joinedWall(const model::Scene& scene, Slot slot, const Vec3& place) {
    const auto wall = standingWall(scene, slot);
    if (!wall) return std::nullopt;
    const Vec3 level(place.x, wall->ends[0].y, place.z);
    const double length = glm::length(wall->ends[1] - wall->ends[0]);
    const double along = glm::dot(level - wall->ends[0], wall->way());
    const Vec3 on = wall->ends[0] + wall->way() * std::clamp(along, 0.0, length);
    constexpr double kNear = 0.05;
    if (place.y < level.y - kNear || place.y > level.y + wall->high + kNear) return std::nullopt;
    for (const Vec3& end : wall->ends)
        if (glm::length(level - end) <= 2 * wall->half) return end;
    return glm::length(level - on) <= wall->half + kNear ? std::optional(on) : std::nullopt;
}

Status closeCorners(edit::Draft& draft, ObjectId id, std::span<const ObjectId> others) {
    const auto wall = standingWall(draft.scene(), draft.scene().find(id));
    if (!wall) return draft.state();
    for (ObjectId otherId : others) {
        const Slot slot = draft.scene().find(otherId);
        const auto other = standingWall(draft.scene(), slot);
        if (!other || otherId == id || draft.scene().protectedInTree(slot)) continue;
        for (std::size_t end : {0u, 1u})
            for (std::size_t to : {0u, 1u}) {
                const Vec3 apart = wall->ends[end] - other->ends[to];
                if (std::hypot(apart.x, apart.z) > 1e-3 || std::abs(apart.y) > 1) continue;  // on sloping ground
                const Vec3 out = wall->way() * (end == 0 ? -1.0 : 1.0), in = other->way() * (to == 0 ? 1.0 : -1.0);
                const double cosine = glm::dot(out, in), sine = std::sqrt(std::max(0.0, 1 - cosine * cosine));
                if (sine < 0.05) continue;  // one goes on where the other ends
                const double by = toCorner(wall->half, other->half, cosine, sine);
                if (Status longer = lengthenWall(draft, id, end, by); !longer) return longer;
                if (std::abs(cosine) < 0.01) continue;  // at a right angle that is all
                const double back = toCorner(other->half, wall->half, cosine, sine);
                if (Status longer = lengthenWall(draft, otherId, to, back); !longer) return longer;
            }
    }
    return {};
}

}  // namespace ops
