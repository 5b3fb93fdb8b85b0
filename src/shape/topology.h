#pragma once
// Which corners of a mesh are one, and what lies next to what: for asking whether a corner or an edge sticks out.
// A value; any thread.
#include <span>
#include <vector>

#include "shape/mesh.h"

namespace shape {

class Topology {
  public:
    explicit Topology(const Mesh& mesh);

    /// An edge that one or two triangles have. Positions of the mesh; `beyond`: the third corners of these.
    struct Edge {
        std::uint32_t from = 0, to = 0;
        std::uint32_t beyond[2] = {0, 0};  ///< the same twice where there is one triangle
        std::uint32_t triangle = 0;        ///< one of these
        bool sharp = true;                 ///< it sticks out: its sides do not lie in one plane, nor form a groove
    };
    const std::vector<Edge>& edges() const { return edges_; }
    /// Of a triangle's corner 0..2: the position that stands for all in the same place.
    std::uint32_t corner(std::size_t triangle, std::size_t k) const { return corners_[triangle * 3 + k]; }
    /// The edge from corner `k` of a triangle to the next.
    std::uint32_t edge(std::size_t triangle, std::size_t k) const { return edgeOf_[triangle * 3 + k]; }
    /// The other ends of the edges at a position that corner() gave.
    std::span<const std::uint32_t> next(std::uint32_t position) const {
        return {next_.data() + firstNext_[position], next_.data() + firstNext_[position + 1]};
    }

    /// A triangle at such a position.
    std::uint32_t triangleAt(std::uint32_t position) const { return triangleAt_[position]; }

  private:
    std::vector<std::uint32_t> corners_, edgeOf_, firstNext_, next_, triangleAt_;
    std::vector<Edge> edges_;
};

}  // namespace shape
