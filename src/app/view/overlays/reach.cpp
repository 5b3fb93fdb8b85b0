// How far a light reaches and what a camera sees, for those selected.
#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/shot.h"

namespace app {

namespace {

class Reach : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

// How far a light reaches and what a camera sees, for those selected.
void Reach::paint(QPainter& p) {
    constexpr std::size_t kMost = 12;
    const model::Scene& scene = editor_.scene();
    std::size_t shown = 0;
    for (Slot s : stage_.marked()) {
        if (!stage_.tinted().contains(s) || !scene.detail(s)) continue;
        const model::Detail& detail = *scene.detail(s);
        if ((!detail.get<model::Light>() && !detail.get<model::Camera>()) || ++shown > kMost) continue;
        const base::Affine& world = scene.world(s);
        const base::Vec3 at = world.translation;
        const base::Vec3 ahead = glm::normalize(world.direction({0, 0, -1}));
        const base::Vec3 across = glm::normalize(world.direction({1, 0, 0})), up = glm::cross(across, ahead);
        if (detail.get<model::Light>()) {
            const model::Light& light = *detail.get<model::Light>();
            p.setPen(QPen(theme().lemon, 1.2));
            if (light.shape == model::Light::Shape::Point) {
                const base::Mat3 axes(light.reachMetres);
                for (int k = 0; k < 3; ++k) view_.ring(p, at, axes[k], axes[(k + 1) % 3]);
            } else {
                const double half = base::radians(light.outerDegrees);
                const base::Vec3 centre = at + ahead * (light.reachMetres * std::cos(half));
                const double r = light.reachMetres * std::sin(half);
                view_.ring(p, centre, across * r, up * r);
                for (const base::Vec3& way : {across, up, -across, -up}) view_.line(p, at, centre + way * r);
            }
        }
        if (detail.get<model::Camera>() && !detail.get<model::Shot>()) {  // else it is shown with whom it sees
            const double far = std::min(detail.get<model::Camera>()->farMetres, 8.0);
            const double tall = far * std::tan(base::radians(detail.get<model::Camera>()->verticalDegrees) / 2),
                         wide = tall * 1.6;
            p.setPen(QPen(theme().text, 1.2));
            base::Vec3 corners[4];
            for (int i = 0; i < 4; ++i)
                corners[i] =
                    at + ahead * far + across * (i == 1 || i == 2 ? wide : -wide) + up * (i >= 2 ? tall : -tall);
            for (int i = 0; i < 4; ++i) {
                view_.line(p, at, corners[i]);
                view_.line(p, corners[i], corners[(i + 1) % 4]);
            }
        }
    }
}

}  // namespace

OverlayPtr reach(ViewContext& view) {
    return std::make_unique<Reach>(view);
}

}  // namespace app
