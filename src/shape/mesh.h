#pragma once
// A triangle mesh in its own axes: what an item looks like. A value; metres, Y up.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/math.h"

namespace shape {

using Float3 = std::array<float, 3>;
using Float2 = std::array<float, 2>;

/// An encoded picture (PNG or JPEG bytes), as the model file holds it.
struct Image {
    std::string mimeType;
    std::string bytes;
};

struct Material {
    std::string name;
    std::array<float, 4> baseColour{1, 1, 1, 1};  ///< linear RGBA
    int image = -1;                               ///< into Mesh::images, multiplied with baseColour; -1: none
    bool doubleSided = false;
    bool alphaMask = false;
    float alphaCutoff = 0.5F;
    float emission = 0.0F;  ///< how much of baseColour shines by itself, 0..1
    float gloss = 0.0F;     ///< how much of the sun is mirrored, 0..1; what shines by itself mirrors nothing
};

/// The roughness, in files, of what mirrors nothing: its gloss is 0.
constexpr double kMirrorsNothing = 0.9;

/// A run of triangles with one material.
struct Submesh {
    std::uint32_t firstIndex = 0;
    std::uint32_t indexCount = 0;
    std::uint32_t material = 0;
    /// How its texture coordinates lie: as a file says; in metres on the faces; in tiles of whatever image there is.
    enum class Laid { Not, Metres, Tiles } laid = Laid::Not;
};

/// A node of the file the mesh came from, flattened into it.
struct MeshNode {
    std::string name;
    base::Aabb bounds;                             ///< of its own triangles, in the mesh's axes
    std::uint32_t firstIndex = 0, indexCount = 0;  ///< which these are
};

struct Mesh {
    std::vector<Float3> positions;
    std::vector<Float3> normals;  ///< one per position, unit length
    std::vector<Float2> texture;  ///< one per position, or empty
    std::vector<std::uint32_t> indices;
    std::vector<Submesh> submeshes;
    std::vector<Material> materials;
    std::vector<Image> images;
    std::vector<MeshNode> nodes;
    base::Aabb bounds;

    std::size_t triangleCount() const { return indices.size() / 3; }
};

/// Corner `k` (0..2) of triangle `triangle`.
inline base::Vec3 cornerOf(const Mesh& mesh, std::size_t triangle, std::size_t k) {
    const Float3& p = mesh.positions[mesh.indices[triangle * 3 + k]];
    return {p[0], p[1], p[2]};
}

/// A box with its six sides, each with vertices of its own.
Mesh boxMesh(const base::Aabb& box);

/// What a mesh's materials are called, each once: its own name, else "Surface 1".
std::vector<std::string> slotNames(const Mesh& mesh);

/// Bounds of all positions.
base::Aabb boundsOf(const Mesh& mesh);

/// Moves, turns and sizes all of it. A map that mirrors turns its triangles over.
void transform(Mesh& mesh, const base::Affine& map);

/// Takes the triangles of a node out into a mesh of their own; the node stays, with none. Nothing, and it is as it was:
/// there is no such node, or nothing would be left.
std::optional<Mesh> takeNode(Mesh& mesh, std::string_view name);

/// Flat normals for the triangles [firstIndex, firstIndex + indexCount), giving each triangle vertices of its own.
void makeFlatNormals(Mesh& mesh, std::uint32_t firstIndex, std::uint32_t indexCount);

/// Does every triangle have its own normal at its corners (within half a degree or so)?
bool isFlat(const Mesh& mesh);

/// Where a ray first meets the mesh, by trying every triangle: slow and plain, what faster ways are tested against.
struct MeshHit {
    double distance = 0.0;  ///< in lengths of the ray's direction
    std::uint32_t triangle = 0;
};
std::optional<MeshHit> intersect(const base::Ray& ray, const Mesh& mesh);

/// Drops the materials that no submesh has, and the images that no material has.
void dropUnused(Mesh& mesh);

}  // namespace shape
