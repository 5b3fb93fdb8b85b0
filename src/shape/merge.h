#pragma once
// Several meshes made one.
#include <span>

#include "shape/mesh.h"

namespace shape {

struct MeshPart {
    const Mesh* mesh = nullptr;
    base::Affine pose;               ///< where it goes in the axes of the merged mesh; may mirror
    base::Vec3 tint{1.0, 1.0, 1.0};  ///< multiplied into its materials' colours
};

/// One mesh of them all. Materials and pictures that are the same are kept once; triangles of one material lie
/// together.
Mesh merged(std::span<const MeshPart> parts);

}  // namespace shape
