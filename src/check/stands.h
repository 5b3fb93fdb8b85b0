#pragma once
// Where who walks can stand within a zone.
#include <vector>

#include "check/rule.h"

namespace check {

/// Round a zone, world. The slot has one.
base::Aabb zoneBox(const model::Scene& scene, model::Slot zone);
/// Feet on the floor, their middle in the zone: of so many places each way those that have one.
std::vector<base::Vec3> standsIn(const Subject& subject, model::Slot zone, int across);

}  // namespace check
