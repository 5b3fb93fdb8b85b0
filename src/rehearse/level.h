#pragma once
// What a rehearsal begins with: a scene as it was at a moment, sorted into what stands, what is moved on purpose, what
// falls, and what means something. Nothing of it is ever written back. Values; any thread.
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "model/facets/body.h"
#include "model/facets/sound.h"
#include "model/facets/use.h"
#include "model/facets/zone.h"
#include "model/library.h"
#include "model/project_facts.h"
#include "model/scene.h"
#include "query/shapes.h"

namespace rehearse {

constexpr int kStepsPerSecond = 120;
constexpr double kStep = 1.0 / kStepsPerSecond;  ///< seconds
constexpr double kGravity = 9.81;                ///< metres a second, each second
constexpr double kFlung = 50;                    ///< metres a second: what is faster is lost

/// A place and a turn; nothing that moves is sized.
struct Pose {
    base::Vec3 at{0.0};
    base::Quat turn{1, 0, 0, 0};
    friend bool operator==(const Pose&, const Pose&) = default;
};
base::Affine toAffine(const Pose& pose);
/// Farther apart than that, or turned by more: `turn` is 1 less the cosine of half the angle.
bool isElsewhere(const Pose& a, const Pose& b, double metres, double turn);
/// The way one faces, of unit length.
base::Vec3 directionOf(double yawDegrees, double pitchDegrees = 0);
/// The box round an object with all below it; where there is no mesh, its place.
base::Aabb placeOf(const model::Scene& scene, model::Slot slot);

/// What moves, falls, is taken or is used as one: an object with all below it that has no such body of its own.
struct Thing {
    model::Slot slot = model::kNoSlot;
    base::ObjectId id;
    std::string name, kind;
    model::Body::Role role = model::Body::Role::Fixed;
    model::Body::Wakes wakes = model::Body::Wakes::AtOnce;
    double massKilograms = 0;  ///< 0: by its volume
    double friction = 0.6, bounce = 0.1;
    std::vector<model::Slot> slots;  ///< itself first
    bool absent = false;             ///< at the beginning; a cue may make it appear
    std::int32_t carrier = -1;       ///< the guided thing that it lies below: what is guided goes with it
    std::optional<model::Use> use;
    std::vector<std::size_t> moves;  ///< things that its use moves
    bool isLoose() const { return role == model::Body::Role::Loose; }
    bool isGuided() const { return role == model::Body::Role::Guided; }
};

struct ZoneAt {
    base::ObjectId id;
    std::string name;
    model::Zone zone;
    base::Affine into;        ///< from the world to its own axes
    base::Aabb bounds;        ///< in the world
    std::int32_t thing = -1;  ///< of the level: it is there when that is; -1: always
    bool holds(const base::Vec3& world) const;
};

/// Something that may be heard.
struct SoundAt {
    base::ObjectId id;
    model::Sound sound;
    std::int32_t thing = -1;  ///< of the level, that it is part of; -1: it stays where it is
    base::Vec3 at{0.0};       ///< at the beginning
};

/// Where one begins: feet, and the way one faces (degrees about up; 0 looks along -Z).
struct Start {
    base::ObjectId id;  ///< zero: a place that was pointed at
    base::Vec3 feet{0.0};
    double yawDegrees = 0;
};

/// All that decides how things collide and who goes; shapes must stay valid while the level is used.
struct LevelSources {
    const model::Library& library;
    query::Shapes shapes;
    model::Walker walker;
    model::Craft craft;
    bool inCraft = false;
    /// Instead of what their bodies say: just these fall, and nothing else moves. In order.
    std::optional<std::vector<base::ObjectId>> falling = std::nullopt;
};

/// Of a scene of a project.
LevelSources sourcesOf(const model::ProjectFacts& project, const model::Library& library, query::Shapes shapes,
                       const std::string& scene);

struct CueSet;
struct ShotAt;
struct CourseAt;

struct Level {
    static constexpr std::int32_t kAbsent = -2;  ///< in thingOf: it is not there
    std::shared_ptr<const model::Scene> scene;   // a snapshot, shared with whoever shows the run
    query::Shapes shapes;
    model::Walker walker;
    model::Craft craft;
    bool inCraft = false;
    std::vector<Thing> things;       ///< in the order of the tree
    std::vector<model::Slot> fixed;  ///< what stands and has a shape, in the order of the tree
    std::vector<ZoneAt> zones;
    std::vector<SoundAt> sounds;
    std::vector<Start> starts;
    base::Aabb bounds;                   ///< where the level is: as the scene says, else with room round all there is
    std::vector<std::int32_t> thingOf;   ///< by slot; -1: of no thing
    std::shared_ptr<const CueSet> cues;  ///< what waits for what; never null. Shared by copies of the level
    std::shared_ptr<const std::vector<ShotAt>> shots;      ///< the same of cameras
    std::shared_ptr<const std::vector<CourseAt>> courses;  ///< and of routes with stops
    /// Which analytic shape an object collides as, by slot of those that are no mesh: balls and capsules.
    enum class Round : std::uint8_t { No, Ball, Capsule };
    Round roundOf(model::Slot slot) const;
    std::vector<std::pair<model::Slot, Round>> round;  ///< by slot

    /// Is a place within the level?
    bool holds(const base::Vec3& at) const;
    const Thing* thing(base::ObjectId id) const;
    /// The name of an object, for people; of the thing it is part of.
    std::string nameOf(base::ObjectId id) const;
};

/// What is hidden while editing is there; what is absent at the start, or below something that is, is not.
Level levelOf(std::shared_ptr<const model::Scene> scene, const LevelSources& sources);

}  // namespace rehearse
