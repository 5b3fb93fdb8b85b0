#include "ops/broom.h"

#include "model/facets/tint.h"
#include "ops/assortments.h"
#include "ops/move.h"
#include "ops/names.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ops {

namespace {

constexpr double kAbove = 50;  // metres over the pointer from which one looks down for ground

base::Random cellChance(std::uint64_t seed, std::int64_t x, std::int64_t z) {
    return base::Random(base::mixBits(seed + 0x9e3779b97f4a7c15ULL * static_cast<std::uint64_t>(x)) ^
                        base::mixBits(static_cast<std::uint64_t>(z) + 0x632be59bd9b4e019ULL));
}

/// The shortest turn that brings up onto `normal`.
base::Quat upOnto(const Vec3& normal) {
    const Vec3 up(0, 1, 0);
    if (normal.y < -0.9999) return {0, 1, 0, 0};
    return glm::normalize(base::Quat(1 + glm::dot(up, normal), glm::cross(up, normal)));
}

}  // namespace

std::string_view broomLabel(BroomVerb verb) {
    constexpr std::string_view kLabels[] = {"Scatter", "Remove",  "Vary",   "Seat",    "Hide",
                                            "Protect", "Release", "Select", "Replace", "Align"};
    return kLabels[static_cast<std::size_t>(verb)];
}

Broom::Broom(edit::Draft& draft, const query::SceneIndex& index, BroomSettings settings, ObjectId parent)
    : draft_(draft),
      index_(index),
      settings_(std::move(settings)),
      parent_(parent),
      filter_(settings_.filter),
      onto_(settings_.onto),
      apartFrom_(settings_.apartFrom),
      names_(draft.scene()) {
    settings_.density = std::clamp(settings_.density, 1e-4, 100.0);
    settings_.radiusMetres = std::clamp(settings_.radiusMetres, 0.05, 500.0);
    settings_.strength = std::clamp(settings_.strength, 0.0, 1.0);
}

Status Broom::sweep(const Vec3& centre) {
    if (!draft_.state()) return draft_.state();
    return settings_.verb == BroomVerb::Scatter ? scatter(centre) : meet(centre);
}

/// One candidate stands in each square of a grid over the level, somewhere by chance. Those under the footprint that
/// were not decided yet are now.
Status Broom::scatter(const Vec3& centre) {
    edit::Session& session = draft_.session();
    const auto mix = session.library().mixes().find(settings_.chances.mix);
    if (mix == session.library().mixes().end() && session.library().item(session.intern(settings_.item)) == nullptr)
        return fail(ErrorCode::NotFound, "Choose in the Stock what the broom is to scatter.");
    const double cell = 1 / std::sqrt(settings_.density), r = settings_.radiusMetres;
    std::vector<model::ObjectRecord> objects;
    const auto first = [&](double v) { return static_cast<std::int64_t>(std::floor(v / cell)); };
    for (std::int64_t x = first(centre.x - r); x <= first(centre.x + r); ++x)
        for (std::int64_t z = first(centre.z - r); z <= first(centre.z + r); ++z) {
            base::Random random = cellChance(settings_.seed, x, z);
            const Vec3 at((static_cast<double>(x) + random.unit()) * cell, centre.y,
                          (static_cast<double>(z) + random.unit()) * cell);
            if (std::hypot(at.x - centre.x, at.z - centre.z) > r || !done_.insert({x, z}).second) continue;
            if (random.unit() > settings_.strength) continue;
            if (Status fine = scatterOne({x, z}, at, objects); !fine) return fine;
        }
    if (objects.empty()) return {};
    if (Status made = draft_.create(objects); !made) return made;
    const model::Scene& scene = draft_.scene();
    for (const model::ObjectRecord& object : objects) {
        touched_.insert(object.id);
        for (Slot s : scene.subtree(scene.find(object.id))) placed_.insert(s);
    }
    return {};
}

Status Broom::scatterOne(const Cell& cell, const Vec3& at, std::vector<model::ObjectRecord>& objects) {
    const model::Scene& scene = draft_.scene();
    const base::Ray down{at + Vec3(0, kAbove, 0), {0, -1, 0}};
    const auto hit = index_.pick(scene, down, [&](Slot s) { return !placed_.contains(s) && !scene.hiddenInTree(s); });
    if (!hit || (!settings_.onto.empty() && !onto_.fits(scene, hit->slot)) || isNearOthers(hit->point)) return {};
    const double slope = base::degrees(std::acos(std::clamp(hit->normal.y, -1.0, 1.0)));
    if (slope < settings_.flattest || slope > settings_.steepest) return {};
    const double apart = settings_.spacingMetres;
    const auto reach = static_cast<std::int64_t>(std::ceil(apart * std::sqrt(settings_.density)));
    for (std::int64_t x = cell.first - reach; x <= cell.first + reach; ++x)
        for (std::int64_t z = cell.second - reach; z <= cell.second + reach; ++z)
            if (auto other = stands_.find({x, z}); other != stands_.end())
                if (std::hypot(other->second.x - hit->point.x, other->second.z - hit->point.z) < apart) return {};
    edit::Session& session = draft_.session();
    Placement placement;
    placement.item = session.intern(settings_.item);
    placement.position = hit->point - Vec3(0, settings_.sinkMetres, 0);
    placement.parent = parent_;
    if (const model::Item* item = session.library().item(placement.item))
        if (const model::Kind* kind = session.library().kindNamed(item->kind);
            kind != nullptr && kind->outfit(settings_.outfit) != nullptr)
            placement.outfit = settings_.outfit;
    const base::Quat heading = glm::angleAxis(base::radians(settings_.headingDegrees), Vec3(0, 1, 0));
    placement.rotation = settings_.align ? upOnto(hit->normal) * heading : heading;
    base::Random random = cellChance(settings_.seed ^ 0x5bd1e995U, cell.first, cell.second);
    vary(session, placement, settings_.chances, random);
    auto object = placed(draft_, placement, names_);
    if (!object) return tl::unexpected(object.error());
    const model::Kind* kind = session.library().kind(object->kind);
    if (settings_.chances.tint > 0 && (kind == nullptr || kind->tints)) {
        model::Detail detail = object->detail ? *object->detail : model::Detail{};
        detail.put(model::Tint{tintByChance(random, settings_.chances.tint)});
        object->detail = std::make_shared<const model::Detail>(std::move(detail));
    }
    stands_[cell] = hit->point;
    objects.push_back(std::move(*object));
    return {};
}

/// Is anything there that they keep away from?
bool Broom::isNearOthers(const Vec3& at) const {
    if (settings_.apartFrom.empty()) return false;
    const model::Scene& scene = draft_.scene();
    const double apart = settings_.apartMetres;
    bool near = false;
    index_.overlapping(scene, {at - Vec3(apart, kAbove, apart), at + Vec3(apart, kAbove, apart)}, [&](Slot s) {
        if (near || scene.hiddenInTree(s) || !apartFrom_.fits(scene, s)) return;
        const Vec3 nearest = glm::clamp(at, scene.bounds(s).low, scene.bounds(s).high);
        near = std::hypot(nearest.x - at.x, nearest.z - at.z) < apart;
    });
    return near;
}

/// By the item, or out of the mix; each by a chance of its own.
Status Broom::replace(const Ids& ids) {
    edit::Session& session = draft_.session();
    const auto mix = session.library().mixes().find(settings_.chances.mix);
    if (mix != session.library().mixes().end()) {
        auto done = remake(draft_, ids, mix->first, settings_.seed);
        return done ? Status{} : tl::unexpected(done.error());
    }
    auto done = replaceItem(draft_, ids, session.intern(settings_.item), SurfacesGo::Map);
    return done ? Status{} : tl::unexpected(done.error());
}

/// Upright ones turn about up until they face that way; leaning ones about their own up.
Status Broom::align(const Ids& ids) {
    const model::Scene& scene = draft_.scene();
    for (ObjectId id : topmost(scene, ids)) {
        const Slot slot = scene.find(id);
        base::Random random(base::mixBits(settings_.seed) ^ base::mixBits(id.value));
        const double wanted =
            settings_.headingDegrees + random.between(-settings_.chances.turnDegrees, settings_.chances.turnDegrees);
        const Vec3 front = base::toTransform(scene.world(slot)).rotation * Vec3(0, 0, -1);
        const double now = base::degrees(std::atan2(-front.x, -front.z));
        auto mover = Mover::begin(scene, {&id, 1});
        if (!mover) return tl::unexpected(mover.error());
        const double by = base::radians(std::remainder(wanted - now, 360.0));
        if (Status turned = mover->turnBy(draft_, Vec3(0, 1, 0), by, PivotMode::Base); !turned) return turned;
    }
    return {};
}

/// The same for an object whichever way one sweeps.
double Broom::chance(ObjectId id) const {
    return base::Random(base::mixBits(settings_.seed) ^ id.value).unit();
}

Status Broom::meet(const Vec3& centre) {
    const model::Scene& scene = draft_.scene();
    const double r = settings_.radiusMetres;
    const base::Aabb box{centre - Vec3(r, kAbove, r), centre + Vec3(r, kAbove, r)};
    const bool freed = settings_.verb == BroomVerb::Release;
    Ids fresh;
    index_.overlapping(scene, box, [&](Slot s) {
        const ObjectId id = scene.id(s);
        if (passed_.contains(id) || scene.hiddenInTree(s) || scene.protectedInTree(s) != freed) return;
        const Vec3 at = scene.bounds(s).empty() ? scene.world(s).translation : scene.bounds(s).centre();
        if (std::hypot(at.x - centre.x, at.z - centre.z) > r || !filter_.fits(scene, s)) return;
        const bool carries = settings_.verb == BroomVerb::Remove || settings_.verb == BroomVerb::Vary ||
                             settings_.verb == BroomVerb::Seat || settings_.verb == BroomVerb::Align ||
                             settings_.verb == BroomVerb::Replace;
        if (carries && !refuseMoving(scene, {&id, 1}, "moved")) return;
        passed_.insert(id);
        if (chance(id) <= settings_.strength) fresh.push_back(id);
    });
    std::sort(fresh.begin(), fresh.end());
    if (fresh.empty()) return {};
    touched_.insert(fresh.begin(), fresh.end());
    return apply(fresh);
}

Status Broom::apply(const Ids& ids) {
    switch (settings_.verb) {
        case BroomVerb::Remove: return remove(draft_, topmost(draft_.scene(), ids));
        case BroomVerb::Hide: return setFlag(draft_, ids, model::flags::kHidden, true);
        case BroomVerb::Protect: return setFlag(draft_, ids, model::flags::kProtected, true);
        case BroomVerb::Release: return setFlag(draft_, ids, model::flags::kProtected, false);
        case BroomVerb::Seat: {
            SeatOptions options;
            options.tilt = settings_.align;
            options.sinkMetres = settings_.sinkMetres;
            auto seated = seat(draft_, index_, ids, options);
            return seated || seated.error().code == ErrorCode::NotFound ? Status{} : tl::unexpected(seated.error());
        }
        case BroomVerb::Vary: {
            std::vector<base::Transform> poses;
            for (ObjectId id : ids) {
                base::Random random(base::mixBits(settings_.seed) ^ base::mixBits(id.value));
                base::Transform pose = draft_.scene().local(draft_.scene().find(id));
                const Chances& c = settings_.chances;
                pose.rotation =
                    pose.rotation *
                    glm::angleAxis(base::radians(random.between(-c.turnDegrees, c.turnDegrees)), Vec3(0, 1, 0));
                pose.scale *= random.between(c.smallest, c.largest);
                poses.push_back(pose);
            }
            if (Status posed = draft_.setTransforms(ids, poses); !posed) return posed;
            if (settings_.chances.tint <= 0) return {};
            for (ObjectId id : ids) {
                if (!takesTint(draft_.session(), draft_.scene(), draft_.scene().find(id))) continue;
                base::Random random(base::mixBits(settings_.seed + 1) ^ base::mixBits(id.value));
                if (Status t = setTint(draft_, {&id, 1}, tintByChance(random, settings_.chances.tint)); !t) return t;
            }
            return {};
        }
        case BroomVerb::Replace: return replace(ids);
        case BroomVerb::Align: return align(ids);
        case BroomVerb::Scatter:
        case BroomVerb::Select: break;
    }
    return {};
}

}  // namespace ops
