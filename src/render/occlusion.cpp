#include "render/occlusion.h"

#include <algorithm>
#include <cmath>

namespace render {

std::vector<std::uint8_t> bakeOcclusion(const query::MeshIndex& index, int rays) {
    const shape::Mesh& mesh = index.mesh();
    const double size = glm::length(mesh.bounds.size());
    const double reach = std::clamp(size * 0.35, 0.05, 4.0);
    const double floor = mesh.bounds.low.y;
    std::vector<base::Vec3> directions;  // cosine-weighted about +Y (Malley), points on a golden spiral
    for (int i = 0; i < rays; ++i) {
        const double r = std::sqrt((i + 0.5) / rays), angle = i * 2.399963229728653;
        directions.emplace_back(r * std::cos(angle), std::sqrt(std::max(0.0, 1 - r * r)), r * std::sin(angle));
    }
    std::vector<std::uint8_t> result(mesh.positions.size());
    for (std::size_t v = 0; v < result.size(); ++v) {
        const base::Vec3 n(mesh.normals[v][0], mesh.normals[v][1], mesh.normals[v][2]);
        const base::Vec3 side =
            glm::normalize(glm::cross(std::abs(n.y) < 0.9 ? base::Vec3(0, 1, 0) : base::Vec3(1, 0, 0), n));
        const base::Vec3 other = glm::cross(n, side);
        const base::Vec3 from =
            base::Vec3(mesh.positions[v][0], mesh.positions[v][1], mesh.positions[v][2]) + n * (size * 1e-3 + 1e-3);
        double open = 0;
        for (const base::Vec3& d : directions) {
            const base::Vec3 way = side * d.x + n * d.y + other * d.z;
            double distance = reach;
            if (const auto hit = index.intersect({from, way}, reach)) distance = hit->distance;
            if (way.y < -1e-3) distance = std::min(distance, std::max(0.0, (from.y - floor) / -way.y));
            open += distance / reach;
        }
        result[v] = static_cast<std::uint8_t>(std::lround(255.0 * std::clamp(0.25 + 0.75 * open / rays, 0.0, 1.0)));
    }
    return result;
}

}  // namespace render
