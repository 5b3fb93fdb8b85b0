#include "shape/dress.h"

#include <algorithm>
#include <cmath>

namespace shape {

namespace {

using base::Vec2;
using base::Vec3;

/// The axis that a direction lies along most.
glm::length_t mainAxis(const Vec3& v) {
    const Vec3 a = glm::abs(v);
    return a.y >= a.x && a.y >= a.z ? 1 : a.x >= a.z ? 0 : 2;
}

Vec3 faceOf(const Mesh& mesh, std::uint32_t triangle) {
    const Vec3 a = cornerOf(mesh, triangle, 0);
    return glm::cross(cornerOf(mesh, triangle, 1) - a, cornerOf(mesh, triangle, 2) - a);
}

/// Where a point lies on a picture seen from the side of `normal`: to the right, and down.
Vec2 onPicture(const Vec3& p, glm::length_t axis, const Vec3& normal) {
    if (axis == 1) return {p.x, normal.y >= 0 ? p.z : -p.z};
    if (axis == 0) return {normal.x >= 0 ? -p.z : p.z, -p.y};
    return {normal.z >= 0 ? p.x : -p.x, -p.y};
}

template <class Visit>
void eachTriangle(const Mesh& mesh, std::size_t slot, const Visit& visit) {
    for (const Submesh& part : mesh.submeshes)
        if (part.material == slot)
            for (std::uint32_t i = part.firstIndex; i < part.firstIndex + part.indexCount; i += 3) visit(i / 3);
}

struct Face {
    glm::length_t axis = 2;
    Vec2 low{0.0}, size{1.0};
};

/// The side that most of a slot looks to, and what of the picture it takes.
Face mainFace(const Mesh& mesh, std::size_t slot, const Vec3& size) {
    Vec3 area(0.0);
    eachTriangle(mesh, slot, [&](std::uint32_t t) {
        area += glm::abs(faceOf(mesh, t) * Vec3(size.y * size.z, size.x * size.z, size.x * size.y));
    });
    Face face;
    face.axis = mainAxis(area);
    Vec2 low(1e300), high(-1e300);
    eachTriangle(mesh, slot, [&](std::uint32_t t) {
        const Vec3 normal = faceOf(mesh, t);
        if (mainAxis(normal) != face.axis) return;
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec2 at = onPicture(cornerOf(mesh, t, k) * size, face.axis, normal);
            low = glm::min(low, at);
            high = glm::max(high, at);
        }
    });
    if (low.x <= high.x) {
        face.low = low;
        face.size = glm::max(high - low, Vec2(1e-6));
    }
    return face;
}

/// Where a corner lies on an image when its face says so itself.
Vec2 laidAt(const Mesh& mesh, const Submesh& part, std::uint32_t corner, const SlotLook& look) {
    const Vec2 at(mesh.texture[corner][0], mesh.texture[corner][1]);
    return part.laid == Submesh::Laid::Tiles ? at : at / std::max(look.tileMetres, 1e-3);
}

}  // namespace

Vec2 onSide(const Vec3& p, const Vec3& normal) {
    return onPicture(p, mainAxis(normal), normal);
}

double faceAspect(const Mesh& mesh, std::size_t slot, const Vec3& size) {
    const Face face = mainFace(mesh, slot, size);
    return face.size.x / face.size.y;
}

std::size_t slotOfTriangle(const Mesh& mesh, std::uint32_t triangle) {
    for (const Submesh& part : mesh.submeshes)
        if (triangle * 3 >= part.firstIndex && triangle * 3 < part.firstIndex + part.indexCount) return part.material;
    return 0;
}

Mesh dressed(const Mesh& mesh, const std::vector<SlotLook>& looks, const Vec3& given) {
    const Vec3 size = glm::abs(given);
    Mesh result = mesh;
    for (const SlotLook& look : looks) {
        if (look.slot >= result.materials.size()) continue;
        Material& material = result.materials[look.slot];
        for (std::size_t k = 0; k < 3; ++k) {
            if (look.colour) material.baseColour[k] = (*look.colour)[k];
            material.baseColour[k] *= look.tint[k];
        }
        if (look.colour) {
            material.gloss = look.gloss;
            material.emission = look.emission;
        }
        if (!look.image) continue;
        material.image = -1;
        if (look.image->bytes.empty()) continue;
        material.image = static_cast<int>(result.images.size());
        result.images.push_back(*look.image);
        if (result.texture.size() != result.positions.size()) result.texture.resize(result.positions.size(), {0, 0});
        const Face face = mainFace(mesh, look.slot, size);
        for (const Submesh& part : mesh.submeshes) {
            if (part.material != look.slot) continue;
            // Corners that two faces share lie at two places of the picture: each triangle gets its own.
            for (std::uint32_t i = part.firstIndex; i < part.firstIndex + part.indexCount; ++i) {
                const Vec3 normal = faceOf(mesh, i / 3);
                const std::uint32_t old = mesh.indices[i];
                const Vec3 at = Vec3(mesh.positions[old][0], mesh.positions[old][1], mesh.positions[old][2]) * size;
                const Vec2 uv = part.laid != Submesh::Laid::Not ? laidAt(mesh, part, old, look)
                                : look.stretched ? (onPicture(at, face.axis, normal) - face.low) / face.size
                                                 : onSide(at, normal) / std::max(look.tileMetres, 1e-3);
                result.indices[i] = static_cast<std::uint32_t>(result.positions.size());
                result.positions.push_back(mesh.positions[old]);
                result.normals.push_back(mesh.normals[old]);
                result.texture.push_back({static_cast<float>(uv.x), static_cast<float>(uv.y)});
            }
        }
    }
    return result;
}

}  // namespace shape
