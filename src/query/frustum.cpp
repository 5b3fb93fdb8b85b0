#include "query/frustum.h"

#include <vector>

namespace query {

Side sideOf(const Frustum& frustum, const base::Aabb& box) {
    if (box.empty()) return Side::Outside;
    Side side = Side::Inside;
    for (const Plane& plane : frustum.planes) {
        base::Vec3 far, near;
        for (int i = 0; i < 3; ++i) {
            far[i] = plane.normal[i] >= 0 ? box.high[i] : box.low[i];
            near[i] = plane.normal[i] >= 0 ? box.low[i] : box.high[i];
        }
        if (plane.distance(far) < 0) return Side::Outside;
        if (plane.distance(near) < 0) side = Side::Crossing;
    }
    return side;
}

// Clips each triangle against the planes in turn (Sutherland and Hodgman, 1974); what is left touches.
bool touches(const Frustum& frustum, const shape::Mesh& mesh, const base::Affine& world) {
    std::vector<base::Vec3> polygon, clipped;
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        polygon.clear();
        for (std::size_t k = 0; k < 3; ++k) {
            const shape::Float3& p = mesh.positions[mesh.indices[i + k]];
            polygon.push_back(world.point({p[0], p[1], p[2]}));
        }
        for (const Plane& plane : frustum.planes) {
            clipped.clear();
            for (std::size_t k = 0; k < polygon.size(); ++k) {
                const base::Vec3& a = polygon[k];
                const base::Vec3& b = polygon[(k + 1) % polygon.size()];
                const double da = plane.distance(a);
                const double db = plane.distance(b);
                if (da >= 0) clipped.push_back(a);
                if ((da >= 0) != (db >= 0)) clipped.push_back(a + (b - a) * (da / (da - db)));
            }
            polygon.swap(clipped);
            if (polygon.empty()) break;
        }
        if (!polygon.empty()) return true;
    }
    return false;
}

}  // namespace query
