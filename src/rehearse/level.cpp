#include "rehearse/level.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "query/collision.h"
#include "rehearse/courses.h"
#include "rehearse/cue_set.h"
#include "rehearse/names.h"
#include "rehearse/shots.h"

namespace rehearse {
namespace {

using model::Body;
using model::Scene;

constexpr double kRoomMetres = 200;  // round a level that does not say where it is

/// What a body does not say is as its kind's body has it.
Thing thingOf(const Scene& scene, const model::Library& library, Slot slot) {
    Thing thing;
    thing.slot = slot;
    thing.id = scene.id(slot);
    thing.name = scene.nameText(slot);
    thing.kind = scene.kindText(slot);
    const Body* body = scene.facet<Body>(slot);
    const model::Kind* kind = library.kind(scene.kind(slot));
    const Body* usual = kind != nullptr && kind->facets ? kind->facets->get<Body>() : nullptr;
    const auto said = [&](auto member) {
        const auto own = body != nullptr ? body->*member : decltype(Body{}.*member){};
        return own || usual == nullptr ? own : usual->*member;
    };
    if (body != nullptr) {
        thing.role = body->role;
        thing.wakes = body->wakes;
        thing.massKilograms = body->massKilograms > 0 || usual == nullptr ? body->massKilograms : usual->massKilograms;
    }
    thing.friction = said(&Body::friction).value_or(thing.friction);
    thing.bounce = said(&Body::bounce).value_or(thing.bounce);
    if (const model::Use* use = scene.facet<model::Use>(slot)) thing.use = *use;
    return thing;
}

Level::Round roundOf(const Scene& scene, const model::Library& library, Slot slot) {
    if (const Body* body = scene.facet<Body>(slot)) {
        if (body->shape == Body::Shape::Sphere) return Level::Round::Ball;
        return body->shape == Body::Shape::Capsule ? Level::Round::Capsule : Level::Round::No;
    }
    const model::Item* item = library.item(scene.item(slot));
    if (item == nullptr) return Level::Round::No;
    if (item->collision == model::CollisionShape::Sphere) return Level::Round::Ball;
    return item->collision == model::CollisionShape::Capsule ? Level::Round::Capsule : Level::Round::No;
}

/// Fills the lists by going through the tree.
class Sorter {
  public:
    Sorter(Level& level, const LevelSources& sources) : level_(level), scene_(*level.scene), sources_(sources) {}

    void sort() {
        level_.thingOf.assign(scene_.slotEnd(), Level::kAbsent);
        if (!sources_.falling) needs_ = needsOf(scene_);
        below(model::kNoSlot, -1);
        for (Thing& thing : level_.things) link(thing);
        setBounds();
        if (sources_.falling) leaveOutWhatIsFar();
    }

  private:
    void below(Slot parent, std::int32_t within) {
        for (Slot s = scene_.firstChild(parent); s != model::kNoSlot; s = scene_.nextSibling(s)) {
            if ((scene_.flagsOf(s) & model::flags::kAbsent) != 0 && !has(needs_.moved, s)) continue;
            below(s, take(s, within));
        }
    }

    static bool has(const std::vector<bool>& of, Slot s) { return s < of.size() && of[s]; }

    /// The thing that what lies below it is part of.
    std::int32_t take(Slot s, std::int32_t within) {
        const Body* body = scene_.facet<Body>(s);
        const bool chosen =
            sources_.falling && std::binary_search(sources_.falling->begin(), sources_.falling->end(), scene_.id(s));
        const bool byCue = has(needs_.moved, s);
        const bool moves = sources_.falling ? chosen : byCue || (body != nullptr && body->role != Body::Role::Fixed);
        const bool isUsed = scene_.facet<model::Use>(s) != nullptr || has(needs_.used, s);
        const bool isSolid = level_.shapes.bumpedOf(scene_, s) != nullptr;
        if (moves || (isUsed && within < 0)) {
            const std::int32_t above = within;
            level_.things.push_back(rehearse::thingOf(scene_, sources_.library, s));
            if (sources_.falling) {
                level_.things.back().role = chosen ? Body::Role::Loose : Body::Role::Fixed;
                level_.things.back().wakes = Body::Wakes::AtOnce;
            }
            Thing& made = level_.things.back();
            if (byCue && made.role == Body::Role::Fixed) made.role = Body::Role::Guided;
            if (isUsed && !made.use) made.use.emplace();
            if (above >= 0) {
                const Thing& outer = level_.things[static_cast<std::size_t>(above)];
                made.carrier = outer.isGuided() ? above : outer.carrier;
            }
            made.absent = (scene_.flagsOf(s) & model::flags::kAbsent) != 0 ||
                          (above >= 0 && level_.things[static_cast<std::size_t>(above)].absent);
            within = static_cast<std::int32_t>(level_.things.size() - 1);
        } else if (isUsed && within >= 0 && !level_.things[static_cast<std::size_t>(within)].use) {
            const auto* use = scene_.facet<model::Use>(s);
            level_.things[static_cast<std::size_t>(within)].use = use != nullptr ? *use : model::Use{};
        }
        level_.thingOf[s] = within;
        if (within >= 0) level_.things[static_cast<std::size_t>(within)].slots.push_back(s);
        // What is used and stands is both: a thing for who looks at it, and fixed for who bumps into it.
        if (isSolid && (within < 0 || level_.things[static_cast<std::size_t>(within)].role == Body::Role::Fixed))
            level_.fixed.push_back(s);
        if (isSolid)
            if (const auto is = rehearse::roundOf(scene_, sources_.library, s); is != Level::Round::No)
                level_.round.emplace_back(s, is);
        meaning(s);
        return within;
    }

    void meaning(Slot s) {
        if (const model::Zone* zone = scene_.facet<model::Zone>(s))
            if (const auto into = base::inverse(scene_.world(s))) {
                ZoneAt at{scene_.id(s), std::string(scene_.nameText(s)), *zone, *into, {}};
                at.bounds = base::mapped(model::boxOf(*zone), scene_.world(s));
                at.thing = level_.thingOf[s];
                level_.zones.push_back(std::move(at));
            }
        if (const model::Sound* sound = scene_.facet<model::Sound>(s))
            level_.sounds.push_back({scene_.id(s), *sound, level_.thingOf[s], scene_.world(s).translation});
        if (model::beginsAt(level_.walker.starts, scene_.kindText(s))) {
            const base::Vec3 ahead = scene_.world(s).direction({0, 0, -1});
            const bool flat = std::hypot(ahead.x, ahead.z) < 1e-9;
            level_.starts.push_back(
                {scene_.id(s), scene_.world(s).translation, flat ? 0 : base::degrees(std::atan2(ahead.x, -ahead.z))});
        }
    }

    /// From ids to things; what is gone or does not move is left out.
    void link(Thing& thing) {
        if (!thing.use) return;
        const auto index = [&](base::ObjectId id) -> std::int32_t {
            const Slot s = scene_.find(id);
            return s == model::kNoSlot ? -1 : level_.thingOf[s];
        };
        if (thing.use->targets.empty()) thing.moves.push_back(static_cast<std::size_t>(&thing - level_.things.data()));
        for (const model::UseTarget& target : thing.use->targets)
            if (const std::int32_t other = index(target.object); other >= 0)
                thing.moves.push_back(static_cast<std::size_t>(other));
    }

    /// Where only some fall, what stands far from all of them is of no account; what is large stays.
    void leaveOutWhatIsFar() {
        constexpr double kNear = 12, kLarge = 40;  // metres
        std::set<std::pair<int, int>> cells;
        const auto cell = [](double v) { return static_cast<int>(std::floor(v / kNear)); };
        for (const Thing& thing : level_.things)
            for (const Slot s : thing.slots) {
                const base::Aabb& box = scene_.bounds(s);
                if (box.empty()) continue;
                for (int x = cell(box.low.x) - 1; x <= cell(box.high.x) + 1; ++x)
                    for (int z = cell(box.low.z) - 1; z <= cell(box.high.z) + 1; ++z) cells.insert({x, z});
            }
        std::erase_if(level_.fixed, [&](Slot s) {
            const base::Aabb& box = scene_.bounds(s);
            if (box.size().x > kLarge || box.size().z > kLarge) return false;
            for (int x = cell(box.low.x); x <= cell(box.high.x); ++x)
                for (int z = cell(box.low.z); z <= cell(box.high.z); ++z)
                    if (cells.contains({x, z})) return false;
            return true;
        });
    }

    void setBounds() {
        if (scene_.settings().level) {
            level_.bounds = *scene_.settings().level;
            return;
        }
        for (const Slot s : level_.fixed) level_.bounds.add(scene_.bounds(s));
        for (const Thing& thing : level_.things)
            for (const Slot s : thing.slots) level_.bounds.add(scene_.bounds(s));
        if (level_.bounds.empty()) level_.bounds = {base::Vec3(0.0), base::Vec3(0.0)};
        level_.bounds.low -= base::Vec3(kRoomMetres);
        level_.bounds.high += base::Vec3(kRoomMetres);
    }

    Level& level_;
    const Scene& scene_;
    const LevelSources& sources_;
    CueNeeds needs_;  // of what settles: none
};

}  // namespace

base::Affine toAffine(const Pose& pose) {
    return base::toAffine(base::Transform{pose.at, pose.turn, base::Vec3(1.0)});
}

bool isElsewhere(const Pose& a, const Pose& b, double metres, double turn) {
    return glm::length(a.at - b.at) > metres || std::abs(glm::dot(a.turn, b.turn)) < 1 - turn;
}

Vec3 directionOf(double yawDegrees, double pitchDegrees) {
    const double yaw = base::radians(yawDegrees), pitch = base::radians(pitchDegrees);
    return {std::sin(yaw) * std::cos(pitch), std::sin(pitch), -std::cos(yaw) * std::cos(pitch)};
}

base::Aabb placeOf(const Scene& scene, Slot slot) {
    const base::Aabb box = scene.subtreeBounds(slot);
    const Vec3 at = scene.world(slot).translation;
    return box.empty() ? base::Aabb{at, at} : box;
}

bool Level::holds(const Vec3& at) const {
    return base::isFinite(at) && !glm::any(glm::lessThan(at, bounds.low)) &&
           !glm::any(glm::greaterThan(at, bounds.high));
}

bool ZoneAt::holds(const base::Vec3& world) const {
    const base::Aabb point{world, world};
    return bounds.overlaps(point) && model::isInside(zone, into.point(world));
}

Level::Round Level::roundOf(Slot slot) const {
    const auto place = std::lower_bound(round.begin(), round.end(), slot,
                                        [](const auto& one, Slot wanted) { return one.first < wanted; });
    return place != round.end() && place->first == slot ? place->second : Round::No;
}

const Thing* Level::thing(base::ObjectId id) const {
    const auto place = std::find_if(things.begin(), things.end(), [&](const Thing& t) { return t.id == id; });
    return place == things.end() ? nullptr : &*place;
}

std::string Level::nameOf(base::ObjectId id) const {
    const Slot s = scene->find(id);
    return s == model::kNoSlot ? std::string() : std::string(scene->nameText(s));
}

LevelSources sourcesOf(const model::ProjectFacts& project, const model::Library& library, query::Shapes shapes,
                       const std::string& scene) {
    const model::SceneEntry* entry = project.scene(scene);
    return {library, std::move(shapes), project.walker, project.craft, entry != nullptr && entry->craft};
}

Level levelOf(std::shared_ptr<const Scene> scene, const LevelSources& sources) {
    Level level;
    level.scene = std::move(scene);
    level.shapes = sources.shapes;
    level.walker = sources.walker;
    level.craft = sources.craft;
    level.inCraft = sources.inCraft;
    Sorter(level, sources).sort();
    std::sort(level.round.begin(), level.round.end());
    level.cues = std::make_shared<const CueSet>(sources.falling ? CueSet{} : cueSetOf(level, sources.library));
    level.shots = std::make_shared<const std::vector<ShotAt>>(sources.falling ? std::vector<ShotAt>{} : shotsOf(level));
    level.courses =
        std::make_shared<const std::vector<CourseAt>>(sources.falling ? std::vector<CourseAt>{} : coursesOf(level));
    return level;
}

}  // namespace rehearse
