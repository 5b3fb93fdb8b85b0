// What physics bumps into, as lines over the picture.
#include <algorithm>
#include <unordered_map>

#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "io/workspace.h"
#include "model/facets/body.h"
#include "query/collision.h"
#include "shape/hull.h"

namespace app {

namespace {

base::Vec3 along(int axis, double length) {
    base::Vec3 v(0.0);
    v[axis] = length;
    return v;
}

class Bodies : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    void paintBody(QPainter& p, Slot s);
    void paintRound(QPainter& p, const base::Affine& world, const query::BodyBox& box, bool ball) const;
    void paintMesh(QPainter& p, const base::Affine& world, const shape::Mesh& mesh) const;

    std::unordered_map<base::Name, shape::Mesh> hulls_;  ///< of bodies that were looked at
};

void Bodies::paint(QPainter& p) {
    for (base::ObjectId id : editor_.selection())
        if (const Slot s = editor_.scene().find(id); s != kNoSlot && editor_.scene().facet<model::Body>(s))
            paintBody(p, s);
}

void Bodies::paintBody(QPainter& p, Slot s) {
    using Shape = model::Body::Shape;
    const model::Scene& scene = editor_.scene();
    const model::Body& body = *scene.facet<model::Body>(s);
    const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(s));
    const query::BodyBox box = query::bodyBox(body, mesh != nullptr ? mesh->bounds : base::Aabb{});
    const base::Affine& world = scene.world(s);
    p.setPen(QPen(theme().axis[2], 1.5));
    if (body.shape == Shape::Box)
        return view_.box(p, world, {box.centre - box.size / 2.0, box.centre + box.size / 2.0});
    if (body.shape == Shape::Sphere || body.shape == Shape::Capsule)
        return paintRound(p, world, box, body.shape == Shape::Sphere);
    if (mesh == nullptr) return;
    if (body.shape != Shape::Hull) return paintMesh(p, world, *mesh);
    const auto [place, isNew] = hulls_.try_emplace(scene.item(s));
    if (isNew) place->second = shape::convexHull(mesh->positions);
    paintMesh(p, world, place->second);
}

/// A ball, or a capsule along the longest axis: rings at its ends, lines between them.
void Bodies::paintRound(QPainter& p, const base::Affine& world, const query::BodyBox& box, bool ball) const {
    const base::Vec3 half = box.size / 2.0;
    const int axis = half.x >= half.y && half.x >= half.z ? 0 : half.y >= half.z ? 1 : 2;
    const int a = (axis + 1) % 3, b = (axis + 2) % 3;
    const double r = ball ? half[axis] : std::max(half[a], half[b]);
    const double rest = ball ? 0 : std::max(0.0, half[axis] - r);
    auto ring = [&](const base::Vec3& centre, int one, int other) {
        view_.ring(p, world.point(centre), world.direction(along(one, r)), world.direction(along(other, r)));
    };
    for (const double end : {-rest, rest}) {
        const base::Vec3 centre = box.centre + along(axis, end);
        ring(centre, a, b);
        for (int across : {a, b}) ring(centre, axis, across);
        if (rest == 0) return;
    }
    for (int across : {a, b})
        for (const double side : {-r, r}) {
            const base::Vec3 middle = box.centre + along(across, side);
            view_.line(p, world.point(middle - along(axis, rest)), world.point(middle + along(axis, rest)));
        }
}

void Bodies::paintMesh(QPainter& p, const base::Affine& world, const shape::Mesh& mesh) const {
    constexpr std::size_t kMostTriangles = 1500;
    for (std::size_t t = 0; t < std::min(mesh.triangleCount(), kMostTriangles); ++t) {
        std::vector<base::Vec3> corners;
        for (std::size_t k = 0; k < 3; ++k) corners.push_back(world.point(shape::cornerOf(mesh, t, k)));
        view_.path(p, corners);
    }
}

}  // namespace

OverlayPtr bodies(ViewContext& view) {
    return std::make_unique<Bodies>(view);
}

}  // namespace app
