#pragma once
// The edges of solids as lines over the picture.
#include <QPainter>
#include <utility>
#include <vector>

#include "shape/solid_mesh.h"

namespace app {

class ViewContext;

class SolidLines {
  public:
    SolidLines() = default;
    /// Those that are seen from outside; where faces of one tag go on in one plane there is none. `to`: into the world.
    explicit SolidLines(const shape::Pieces& pieces, const base::Affine& to = {});
    void paint(QPainter& p, const ViewContext& view) const;
    /// Where edges end, each once.
    const std::vector<base::Vec3>& corners() const { return corners_; }

  private:
    std::vector<std::pair<base::Vec3, base::Vec3>> lines_;
    std::vector<base::Vec3> corners_;
};

}  // namespace app
