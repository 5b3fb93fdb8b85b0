#pragma once
// Where a body comes to rest from wherever it is: out of what it lies in first, then down onto what is below.
#include "query/contact.h"

namespace query {

/// Which way a body leaves what it overlaps.
enum class Way { Up, Down };

/// How far down `body` comes to rest, metres; negative: up. What it overlaps it leaves upwards, until it is free of all
/// of it (`Way::Down`: downwards), and falls from there. Nothing: there is nothing that carries it. `settled`: bodies
/// that stand in the scene elsewhere than it says. Sides that overlap by less than a hundredth of its width, or 1 cm,
/// lie beside it. A body inside of what is closed, or below ground with nothing underneath, counts as overlapping.
std::optional<double> settle(const FallingBody& body, const model::Scene& scene, const SceneIndex& index,
                             const SlotFilter& filter, Way way = Way::Up,
                             std::span<const FallingBody* const> settled = {});

}  // namespace query
