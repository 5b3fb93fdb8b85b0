#pragma once
// An object's pose after something was done to it in the world.
#include "base/math.h"

namespace ops {

/// The local pose after `by` (a turn and a move, in the world) was applied to it; `parent` is its parent's world map,
/// `toParent` that map's inverse. Below a parent of uneven size the turn is the nearest one that leaves the size.
base::Transform turnedBelow(const base::Transform& local, const base::Affine& parent, const base::Affine& toParent,
                            const base::Affine& by);

/// The smallest turn that brings one direction to another; both of unit length.
base::Mat3 turnBetween(const base::Vec3& from, const base::Vec3& to);

/// A turn about a point, in the world.
base::Affine turnAbout(const base::Vec3& point, const base::Mat3& turn);

}  // namespace ops
