#include "shape/mesh.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace shape {
namespace {

base::Vec3 at(const Mesh& mesh, std::size_t index) {
    const Float3& p = mesh.positions[mesh.indices[index]];
    return {p[0], p[1], p[2]};
}

}  // namespace

Mesh boxMesh(const base::Aabb& box) {
    Mesh mesh;
    mesh.materials.emplace_back();
    for (std::size_t axis = 0; axis < 3; ++axis)
        for (const bool high : {false, true}) {
            const std::size_t a = (axis + 1) % 3, b = (axis + 2) % 3;
            Float3 normal{0, 0, 0};
            normal[axis] = high ? 1.0F : -1.0F;
            const auto first = static_cast<std::uint32_t>(mesh.positions.size());
            for (const auto& [u, v] : {std::pair{false, false}, {true, false}, {true, true}, {false, true}}) {
                Float3 p{};
                const auto at = [&](std::size_t k, bool upper) {
                    p[k] = static_cast<float>((upper ? box.high : box.low)[static_cast<int>(k)]);
                };
                at(axis, high), at(a, u), at(b, v);
                mesh.positions.push_back(p);
                mesh.normals.push_back(normal);
            }
            for (const std::uint32_t k :
                 high ? std::array<std::uint32_t, 6>{0, 1, 2, 0, 2, 3} : std::array<std::uint32_t, 6>{0, 2, 1, 0, 3, 2})
                mesh.indices.push_back(first + k);
        }
    mesh.submeshes.push_back({0, static_cast<std::uint32_t>(mesh.indices.size()), 0});
    mesh.bounds = box;
    return mesh;
}

base::Aabb boundsOf(const Mesh& mesh) {
    base::Aabb box;
    for (const Float3& p : mesh.positions) box.add({p[0], p[1], p[2]});
    return box;
}

void transform(Mesh& mesh, const base::Affine& map) {
    const double turn = glm::determinant(map.linear);
    const base::Mat3 forNormals = std::abs(turn) > 1e-30 ? glm::transpose(glm::inverse(map.linear)) : base::Mat3(1.0);
    const auto narrow = [](const base::Vec3& v) {
        return Float3{static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
    };
    for (Float3& p : mesh.positions) p = narrow(map.point({p[0], p[1], p[2]}));
    for (Float3& n : mesh.normals) {
        const base::Vec3 turned = forNormals * base::Vec3(n[0], n[1], n[2]);
        if (glm::length(turned) > 1e-12) n = narrow(glm::normalize(turned));
    }
    if (turn < 0)
        for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3)
            std::swap(mesh.indices[i + 1], mesh.indices[i + 2]);
    for (MeshNode& node : mesh.nodes)
        if (!node.bounds.empty()) node.bounds = base::mapped(node.bounds, map);
    mesh.bounds = boundsOf(mesh);
}

namespace {

/// The triangles that `keep` names, with the vertices they use.
Mesh partOf(const Mesh& whole, const std::function<bool(std::uint32_t index)>& keep) {
    Mesh part;
    constexpr std::uint32_t kNew = 0xFFFFFFFFu;
    std::vector<std::uint32_t> placeOf(whole.positions.size(), kNew);
    const auto add = [&](std::uint32_t old) {
        if (placeOf[old] == kNew) {
            placeOf[old] = static_cast<std::uint32_t>(part.positions.size());
            part.positions.push_back(whole.positions[old]);
            part.normals.push_back(whole.normals[old]);
            if (!whole.texture.empty()) part.texture.push_back(whole.texture[old]);
        }
        part.indices.push_back(placeOf[old]);
    };
    for (const Submesh& sub : whole.submeshes) {
        const auto first = static_cast<std::uint32_t>(part.indices.size());
        for (std::uint32_t i = sub.firstIndex; i < sub.firstIndex + sub.indexCount; ++i)
            if (keep(i)) add(whole.indices[i]);
        const auto count = static_cast<std::uint32_t>(part.indices.size()) - first;
        if (count > 0) part.submeshes.push_back({first, count, sub.material});
    }
    part.materials = whole.materials;
    part.images = whole.images;
    part.bounds = boundsOf(part);
    return part;
}

}  // namespace

std::optional<Mesh> takeNode(Mesh& mesh, std::string_view name) {
    const auto isOf = [&](std::uint32_t index) {
        return std::any_of(mesh.nodes.begin(), mesh.nodes.end(), [&](const MeshNode& n) {
            return n.name == name && index >= n.firstIndex && index < n.firstIndex + n.indexCount;
        });
    };
    Mesh taken = partOf(mesh, isOf), left = partOf(mesh, [&](std::uint32_t i) { return !isOf(i); });
    if (taken.indices.empty() || left.indices.empty()) return std::nullopt;
    std::uint32_t gone = 0;
    for (const MeshNode& node : mesh.nodes) {
        MeshNode stays = node;
        stays.firstIndex -= gone;
        if (node.name == name) {
            gone += node.indexCount;
            stays.indexCount = 0;
        }
        left.nodes.push_back(std::move(stays));
    }
    mesh = std::move(left);
    return taken;
}

void makeFlatNormals(Mesh& mesh, std::uint32_t firstIndex, std::uint32_t indexCount) {
    const bool textured = !mesh.texture.empty();
    for (std::uint32_t i = firstIndex; i + 2 < firstIndex + indexCount; i += 3) {
        const base::Vec3 cross = glm::cross(at(mesh, i + 1) - at(mesh, i), at(mesh, i + 2) - at(mesh, i));
        const double length = glm::length(cross);
        const base::Vec3 n = length > 0 ? cross / length : base::Vec3(0, 1, 0);
        for (std::uint32_t k = 0; k < 3; ++k) {
            const std::uint32_t old = mesh.indices[i + k];
            mesh.indices[i + k] = static_cast<std::uint32_t>(mesh.positions.size());
            mesh.positions.push_back(Float3(mesh.positions[old]));
            mesh.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
            if (textured) mesh.texture.push_back(Float2(mesh.texture[old]));
        }
    }
}

// Moeller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997.
bool isFlat(const Mesh& mesh) {
    auto vec = [](const Float3& f) { return base::Vec3(f[0], f[1], f[2]); };
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        const base::Vec3 a = vec(mesh.positions[mesh.indices[i]]);
        const base::Vec3 n =
            glm::cross(vec(mesh.positions[mesh.indices[i + 1]]) - a, vec(mesh.positions[mesh.indices[i + 2]]) - a);
        const double length = glm::length(n);
        if (length < 1e-12) continue;
        for (std::size_t k = 0; k < 3; ++k)
            if (glm::dot(vec(mesh.normals[mesh.indices[i + k]]), n) < 0.9999 * length) return false;
    }
    return true;
}

std::optional<MeshHit> intersect(const base::Ray& ray, const Mesh& mesh) {
    std::optional<MeshHit> best;
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        const base::Vec3 a = at(mesh, i);
        const base::Vec3 e1 = at(mesh, i + 1) - a;
        const base::Vec3 e2 = at(mesh, i + 2) - a;
        const base::Vec3 p = glm::cross(ray.direction, e2);
        const double determinant = glm::dot(e1, p);
        if (determinant == 0.0) continue;
        const base::Vec3 s = ray.origin - a;
        const double u = glm::dot(s, p) / determinant;
        const base::Vec3 q = glm::cross(s, e1);
        const double v = glm::dot(ray.direction, q) / determinant;
        const double t = glm::dot(e2, q) / determinant;
        if (u < 0 || v < 0 || u + v > 1 || t < 0) continue;
        if (!best || t < best->distance) best = MeshHit{t, static_cast<std::uint32_t>(i / 3)};
    }
    return best;
}

std::vector<std::string> slotNames(const Mesh& mesh) {
    std::vector<std::string> names;
    for (std::size_t i = 0; i < mesh.materials.size(); ++i) {
        std::string name = mesh.materials[i].name;
        if (name.empty()) name = "Surface " + std::to_string(i + 1);
        while (std::find(names.begin(), names.end(), name) != names.end()) name += '\'';
        names.push_back(std::move(name));
    }
    return names;
}

void dropUnused(Mesh& mesh) {
    std::vector<Material> materials;
    std::vector<Image> images;
    std::vector<int> newMaterial(mesh.materials.size(), -1), newImage(mesh.images.size(), -1);
    for (Submesh& part : mesh.submeshes) {
        int& place = newMaterial[part.material];
        if (place < 0) {
            place = static_cast<int>(materials.size());
            materials.push_back(mesh.materials[part.material]);
        }
        part.material = static_cast<std::uint32_t>(place);
    }
    for (Material& m : materials) {
        if (m.image < 0) continue;
        int& place = newImage[static_cast<std::size_t>(m.image)];
        if (place < 0) {
            place = static_cast<int>(images.size());
            images.push_back(mesh.images[static_cast<std::size_t>(m.image)]);
        }
        m.image = place;
    }
    mesh.materials = std::move(materials);
    mesh.images = std::move(images);
}

}  // namespace shape
