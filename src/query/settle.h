#pragma once
// Where a body comes to rest from wherever it is: out of what it lies in first, then down onto what is below.
#include <unordered_map>
#include <vector>

#include "query/contact.h"

namespace query {

/// Which way a body leaves what it overlaps.
enum class Way { Up, Down };

/// Bodies that stand in the scene elsewhere than it says. They outlive it.
class Settled {
  public:
    void add(const FallingBody& body);
    /// Those that may share a place on the ground plane with `box`, in the order in which they were added.
    std::vector<const FallingBody*> near(const base::Aabb& box) const;

  private:
    std::vector<const FallingBody*> bodies_;
    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> cells_;  // by where on the ground plane
    std::vector<std::uint32_t> wide_;                                      // those over very many
};

/// How far down `body` comes to rest, metres; negative: up. What it overlaps it leaves upwards, until it is free of all
/// of it (`Way::Down`: downwards), and falls from there. Nothing: there is nothing that carries it. Sides that overlap
/// by less than a hundredth of its width, or 1 cm, lie beside it. A body inside of what is closed, or below ground with
/// nothing underneath, counts as overlapping.
std::optional<double> settle(const FallingBody& body, const model::Scene& scene, const SceneIndex& index,
                             const SlotFilter& filter, Way way = Way::Up, const Settled& settled = {});

}  // namespace query
