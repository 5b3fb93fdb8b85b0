#pragma once
// The ground that can be walked on, as a navigation mesh in tiles: ways over it, and what can be come to at all.
// Made once of a level as it stands at the beginning, guided things where they are, loose ones left out.
// Threads: made on any; asked by one at a time.
#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "base/progress.h"
#include "base/result.h"
#include "rehearse/level.h"

namespace rehearse {

class World;

/// How one comes to a piece of ground from a start.
enum class Reach : std::uint8_t { Walk, Jump, Never };

/// A piece of ground: a triangle of it.
struct Patch {
    std::array<base::Vec3, 3> corners;
    Reach reach = Reach::Never;
    base::Vec3 centre() const { return (corners[0] + corners[1] + corners[2]) / 3.0; }
};

class Ground {
  public:
    /// Errors: Cancelled; BadInput, when the level is larger than can be divided.
    static base::Result<std::unique_ptr<Ground>> make(const Level& level, base::Progress& progress);
    ~Ground();
    Ground(const Ground&) = delete;
    Ground& operator=(const Ground&) = delete;

    /// The nearest place on it, within some metres to the side and up or down.
    std::optional<base::Vec3> nearest(const base::Vec3& at, double aside = 1.5, double upOrDown = 2) const;
    /// The corners of the shortest way, both ends with it. Nothing: there is none.
    std::optional<std::vector<base::Vec3>> way(const base::Vec3& from, const base::Vec3& to) const;

    /// All of it, by how one comes there. Jumps are tried with a body: up, over, down.
    std::vector<Patch> reach(const base::Vec3& start, const World& world) const;
    /// How one comes to a place by such a map; nothing: there is no ground near.
    static std::optional<Reach> reachOf(const std::vector<Patch>& map, const base::Vec3& at, double within = 1.5);
    /// The same of an object: to the foot of its middle, or one of its corners.
    static std::optional<Reach> reachOf(const std::vector<Patch>& map, const model::Scene& scene, model::Slot slot);

  private:
    Ground();
    struct Own;
    std::unique_ptr<Own> own_;
};

/// Which of the pieces an eye sees, a metre above them; `blocked`: is something between two places?
std::vector<bool> seenFrom(const std::vector<Patch>& map, const base::Vec3& eye,
                           const std::function<bool(const base::Vec3&, const base::Vec3&)>& blocked);

}  // namespace rehearse
