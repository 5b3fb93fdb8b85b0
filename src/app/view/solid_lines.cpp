#include "app/view/solid_lines.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "app/view/view_context.h"

namespace app {

namespace {

using Place = std::array<long long, 3>;

Place placeOf(const base::Vec3& p) {
    return {std::llround(p.x * 1e5), std::llround(p.y * 1e5), std::llround(p.z * 1e5)};
}

}  // namespace

SolidLines::SolidLines(const shape::Pieces& pieces, const base::Affine& to) {
    struct Edge {
        base::Vec3 from, to, normal;
        int tag;
        bool goesOn = false;
    };
    std::map<std::pair<Place, Place>, Edge> edges;
    for (const shape::FacePolygon& face : shape::jointed(shape::outsideOf(pieces)))
        for (std::size_t k = 0; k < face.corners.size(); ++k) {
            const base::Vec3 &a = face.corners[k], &b = face.corners[(k + 1) % face.corners.size()];
            const std::pair<Place, Place> key = std::minmax({placeOf(a), placeOf(b)});
            const auto [known, fresh] = edges.try_emplace(key, Edge{a, b, face.normal, face.tag});
            if (!fresh && known->second.tag == face.tag && glm::dot(known->second.normal, face.normal) > 1 - 1e-9)
                known->second.goesOn = true;
        }
    std::map<Place, std::vector<base::Vec3>> ways;  // of the edges that end in a place
    for (const auto& [key, edge] : edges) {
        if (edge.goesOn) continue;
        lines_.emplace_back(to.point(edge.from), to.point(edge.to));
        const base::Vec3 way = glm::normalize(edge.to - edge.from);
        ways[placeOf(edge.from)].push_back(way);
        ways[placeOf(edge.to)].push_back(-way);
    }
    for (const auto& [key, edge] : edges) {
        if (edge.goesOn) continue;
        for (const base::Vec3& end : {edge.from, edge.to}) {
            std::vector<base::Vec3>& all = ways[placeOf(end)];
            // Where one edge goes on straight as another there is no corner; and each is told once.
            const bool straight = all.size() == 2 && glm::dot(all[0], all[1]) < -1 + 1e-9;
            if (!all.empty() && !straight) corners_.push_back(to.point(end));
            all.clear();
        }
    }
}

void SolidLines::paint(QPainter& p, const ViewContext& view) const {
    for (const auto& [from, to] : lines_) view.line(p, from, to);
}

}  // namespace app
