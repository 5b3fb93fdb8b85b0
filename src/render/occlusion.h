#pragma once
// Soft shading baked into a mesh: how much of the sky each vertex sees, with the ground under its base counted.
#include <cstdint>
#include <vector>

#include "query/mesh_index.h"

namespace render {

/// One value per vertex: 255 sees all of its half of the sky, 0 none. Deterministic. Cost: `rays` rays a vertex.
std::vector<std::uint8_t> bakeOcclusion(const query::MeshIndex& index, int rays);

}  // namespace render
