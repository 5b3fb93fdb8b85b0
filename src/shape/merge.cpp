#include "shape/merge.h"

#include <algorithm>
#include <map>

namespace shape {
namespace {

bool same(const Image& a, const Image& b) {
    return a.mimeType == b.mimeType && a.bytes == b.bytes;
}

bool same(const Material& a, const Material& b) {
    return a.name == b.name && a.baseColour == b.baseColour && a.image == b.image && a.doubleSided == b.doubleSided &&
           a.alphaMask == b.alphaMask && a.alphaCutoff == b.alphaCutoff && a.emission == b.emission;
}

/// Where `value` is among `all`, added if it is new.
template <class T>
std::size_t placeOf(std::vector<T>& all, T value) {
    auto place = std::find_if(all.begin(), all.end(), [&](const T& other) { return same(other, value); });
    if (place == all.end()) place = all.insert(all.end(), std::move(value));
    return static_cast<std::size_t>(place - all.begin());
}

Float3 toFloats(const base::Vec3& v) {
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

/// Collects parts; triangles by material.
class Merger {
  public:
    explicit Merger(bool textured) : textured_(textured) {}

    void add(const MeshPart& part) {
        const auto first = static_cast<std::uint32_t>(mesh_.positions.size());
        addVertices(part);
        const bool mirrored = glm::determinant(part.pose.linear) < 0;
        for (const Submesh& run : part.mesh->submeshes) {
            auto& into = triangles_[materialOf(part, run.material)];
            for (std::uint32_t i = run.firstIndex; i + 2 < run.firstIndex + run.indexCount; i += 3) {
                const std::uint32_t a = part.mesh->indices[i], b = part.mesh->indices[i + 1],
                                    c = part.mesh->indices[i + 2];
                for (std::uint32_t corner : {a, mirrored ? c : b, mirrored ? b : c}) into.push_back(first + corner);
            }
        }
    }
    Mesh finish() {
        for (const auto& [material, indices] : triangles_) {
            mesh_.submeshes.push_back({static_cast<std::uint32_t>(mesh_.indices.size()),
                                       static_cast<std::uint32_t>(indices.size()),
                                       static_cast<std::uint32_t>(material)});
            mesh_.indices.insert(mesh_.indices.end(), indices.begin(), indices.end());
        }
        mesh_.bounds = boundsOf(mesh_);
        return std::move(mesh_);
    }

  private:
    void addVertices(const MeshPart& part) {
        const base::Mat3 turned = glm::transpose(glm::inverse(part.pose.linear));
        for (const Float3& p : part.mesh->positions)
            mesh_.positions.push_back(toFloats(part.pose.point({p[0], p[1], p[2]})));
        for (const Float3& n : part.mesh->normals)
            mesh_.normals.push_back(toFloats(glm::normalize(turned * base::Vec3(n[0], n[1], n[2]))));
        if (!textured_) return;
        mesh_.texture.insert(mesh_.texture.end(), part.mesh->texture.begin(), part.mesh->texture.end());
        mesh_.texture.resize(mesh_.positions.size());
    }
    std::size_t materialOf(const MeshPart& part, std::uint32_t index) {
        Material material = index < part.mesh->materials.size() ? part.mesh->materials[index] : Material{};
        for (std::size_t k = 0; k < 3; ++k)
            material.baseColour[k] *= static_cast<float>(part.tint[static_cast<glm::length_t>(k)]);
        if (material.image >= 0)
            material.image =
                static_cast<int>(placeOf(mesh_.images, part.mesh->images[static_cast<std::size_t>(material.image)]));
        return placeOf(mesh_.materials, std::move(material));
    }

    bool textured_;
    Mesh mesh_;
    std::map<std::size_t, std::vector<std::uint32_t>> triangles_;  // by material
};

}  // namespace

Mesh merged(std::span<const MeshPart> parts) {
    Merger merger(std::any_of(parts.begin(), parts.end(), [](const MeshPart& p) { return !p.mesh->texture.empty(); }));
    for (const MeshPart& part : parts) merger.add(part);
    return merger.finish();
}

}  // namespace shape
