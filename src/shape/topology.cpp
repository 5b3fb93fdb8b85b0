#include "shape/topology.h"

#include <algorithm>
#include <unordered_map>

namespace shape {
namespace {

/// For each position the first in the same place.
std::vector<std::uint32_t> welded(const Mesh& mesh) {
    std::vector<std::uint32_t> order(mesh.positions.size()), first(mesh.positions.size());
    for (std::uint32_t i = 0; i < order.size(); ++i) order[i] = i;
    auto at = [&](std::uint32_t i) -> const Float3& { return mesh.positions[i]; };
    std::sort(order.begin(), order.end(),
              [&](std::uint32_t a, std::uint32_t b) { return at(a) != at(b) ? at(a) < at(b) : a < b; });
    for (std::size_t i = 0; i < order.size(); ++i)
        first[order[i]] = i > 0 && at(order[i]) == at(order[i - 1]) ? first[order[i - 1]] : order[i];
    return first;
}

}  // namespace

Topology::Topology(const Mesh& mesh) {
    const std::vector<std::uint32_t> one = welded(mesh);
    corners_.reserve(mesh.indices.size());
    for (const std::uint32_t i : mesh.indices) corners_.push_back(one[i]);
    edgeOf_.resize(corners_.size());
    triangleAt_.resize(mesh.positions.size());
    std::unordered_map<std::uint64_t, std::uint32_t> known;
    for (std::size_t i = 0; i < corners_.size(); ++i) {
        const std::size_t t = i / 3 * 3;
        const std::uint32_t from = corners_[i], to = corners_[t + (i + 1) % 3], beyond = corners_[t + (i + 2) % 3];
        const std::uint64_t key = std::uint64_t{std::min(from, to)} << 32 | std::max(from, to);
        const auto [place, isNew] = known.try_emplace(key, static_cast<std::uint32_t>(edges_.size()));
        if (isNew)
            edges_.push_back({from, to, {beyond, beyond}, static_cast<std::uint32_t>(i / 3)});
        else
            edges_[place->second].beyond[1] = beyond;
        edgeOf_[i] = place->second;
        triangleAt_[from] = static_cast<std::uint32_t>(i / 3);
    }
    const auto at = [&](std::uint32_t i) {
        const Float3& p = mesh.positions[i];
        return base::Vec3(p[0], p[1], p[2]);
    };
    for (Edge& e : edges_) {
        if (e.beyond[0] == e.beyond[1]) continue;
        const base::Vec3 from = at(e.from), across = at(e.beyond[1]) - from,
                         normal = glm::cross(at(e.to) - from, at(e.beyond[0]) - from);
        e.sharp = glm::dot(normal, across) < -1e-6 * glm::length(normal) * glm::length(across);
    }
    firstNext_.assign(mesh.positions.size() + 1, 0);
    for (const Edge& e : edges_) ++firstNext_[e.from + 1], ++firstNext_[e.to + 1];
    for (std::size_t i = 1; i < firstNext_.size(); ++i) firstNext_[i] += firstNext_[i - 1];
    next_.resize(edges_.size() * 2);
    std::vector<std::uint32_t> place(firstNext_.begin(), firstNext_.end() - 1);
    for (const Edge& e : edges_) next_[place[e.from]++] = e.to, next_[place[e.to]++] = e.from;
}

}  // namespace shape
