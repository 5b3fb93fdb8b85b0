#pragma once
// How objects are asked for their shapes: the mesh that is seen, and the one that is bumped into.
#include <functional>
#include <span>
#include <vector>

#include "model/scene.h"

namespace query {

class MeshIndex;

/// The mesh of an item, ready for rays; null when it has none. Must stay valid while the index lives.
using MeshLookup = std::function<const MeshIndex*(base::Name item)>;
/// The mesh of an object, in its own axes.
using ObjectMeshes = std::function<const MeshIndex*(const model::Scene&, model::Slot)>;

/// Those that have a body of their own: when theirs was changed, it may reach farther than before.
std::vector<model::Slot> withBody(const model::Scene& scene, std::span<const model::Slot> slots);

struct Shapes {
    MeshLookup seen;
    ObjectMeshes bumped;   ///< null: what is seen
    MeshLookup itemBumps;  ///< of a thing without a body of its own; null: what is seen

    Shapes() = default;
    Shapes(MeshLookup meshes) : seen(std::move(meshes)) {}  // NOLINT(google-explicit-constructor): the usual case
    Shapes(MeshLookup meshes, ObjectMeshes bodies, MeshLookup items)
        : seen(std::move(meshes)), bumped(std::move(bodies)), itemBumps(std::move(items)) {}
    explicit operator bool() const { return static_cast<bool>(seen); }
    /// What is bumped into of an object; null: nothing.
    const MeshIndex* bumpedOf(const model::Scene& scene, model::Slot slot) const {
        return bumped ? bumped(scene, slot) : seen(scene.item(slot));
    }
    const MeshIndex* bumpedOfItem(base::Name item) const { return itemBumps ? itemBumps(item) : seen(item); }
};

}  // namespace query
