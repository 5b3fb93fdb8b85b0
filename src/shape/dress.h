#pragma once
// A mesh with other surfaces in its slots. Pure; any thread.
#include <optional>
#include <vector>

#include "shape/mesh.h"

namespace shape {

/// What one slot shows instead of its own material.
struct SlotLook {
    std::size_t slot = 0;                        ///< into Mesh::materials
    std::optional<std::array<float, 3>> colour;  ///< linear RGB; nothing: its own
    std::array<float, 3> tint{1, 1, 1};          ///< times that
    float gloss = 0;                             ///< 0: chalk, 1: a mirror
    float emission = 0;
    std::optional<Image> image;  ///< nothing: its own; bytes empty: none
    double tileMetres = 1;       ///< how wide the image is
    bool stretched = false;      ///< once over the face instead of in tiles
};

/// Images are laid from the side that a face looks to most, in the mesh's own axes times `size`: right way up, and so
/// that writing reads from outside.
Mesh dressed(const Mesh& mesh, const std::vector<SlotLook>& looks, const base::Vec3& size);

/// Where a point lies on an image seen from the side that `normal` looks to most: to the right, and down, metres.
base::Vec2 onSide(const base::Vec3& p, const base::Vec3& normal);

/// How wide over how high the face of a slot is, as a stretched image sees it.
double faceAspect(const Mesh& mesh, std::size_t slot, const base::Vec3& size);

/// The slot of a triangle.
std::size_t slotOfTriangle(const Mesh& mesh, std::uint32_t triangle);

}  // namespace shape
