// Where things are: rays, boxes, what is nearest, corners to catch on.
#include <algorithm>

#include "ops/seat.h"
#include "query/catch.h"
#include "query/contact.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;

Data hitData(Context& c, const std::optional<query::SceneHit>& hit) {
    if (!hit) return {Nothing{}};
    return {c.scene().id(hit->slot), hit->point, hit->normal, hit->distance};
}
Data ray(Context& c, const Data& a) {
    Reader r(c, a);
    const Vec3 from = r.point(), along = r.vector();
    const double length = glm::length(along);
    if (!(length > 1e-12)) trouble("a ray goes somewhere: its direction is nothing");
    const model::Scene& scene = c.scene();
    return hitData(c, c.index().pick(scene, {from, along / length}, [&](Slot s) { return !scene.hiddenInTree(s); }));
}
Data below(Context& c, const Data& a) {
    Reader r(c, a);
    const Vec3 from = r.point();
    Objects without;
    if (r.more()) without = r.objects();
    const model::Scene& scene = c.scene();
    return hitData(c, c.index().pick(scene, {from, {0, -1, 0}}, [&](Slot s) {
        if (scene.hiddenInTree(s)) return false;
        return std::none_of(without.begin(), without.end(),
                            [&](ObjectId id) { return scene.isWithin(s, scene.find(id)); });
    }));
}
Data overlapping(Context& c, const Data& a) {
    Reader r(c, a);
    const Vec3 p = r.point(), q = r.point();
    base::Aabb box;
    box.add(p);
    box.add(q);
    Objects ids;
    c.index().overlapping(c.scene(), box, [&](Slot s) { ids.push_back(c.scene().id(s)); });
    std::sort(ids.begin(), ids.end());
    return {std::move(ids)};
}
Data nearest(Context& c, const Data& a) {
    Reader r(c, a);
    const Vec3 p = r.point();
    const Objects ids = r.objects();
    const model::Scene& scene = c.scene();
    Datum best;
    double least = 0;
    for (ObjectId id : ids) {
        const double d = glm::length(scene.world(scene.find(id)).translation - p);
        if (std::holds_alternative<Nothing>(best) || d < least) {
            best = id;
            least = d;
        }
    }
    if (std::holds_alternative<Nothing>(best)) return {Nothing{}};
    return {best, least};
}
Data bounds(Context& c, const Data& a) {
    base::Aabb all;
    for (ObjectId id : Reader(c, a).objects()) {
        const base::Aabb one = c.scene().subtreeBounds(c.scene().find(id));
        if (!one.empty()) all.add(one);
    }
    if (all.empty()) return {Nothing{}};
    return {all.low, all.high};
}
/// As seen from straight above.
Data catchPoint(Context& c, const Data& a) {
    using query::CatchKind;
    Reader r(c, a);
    const Vec3 p = r.point();
    const double reach = r.number(1);
    const CatchKind kind = r.more() ? r.word<CatchKind>({{"corner", CatchKind::Corner},
                                                         {"edge", CatchKind::Edge},
                                                         {"face", CatchKind::Face},
                                                         {"centre", CatchKind::Centre},
                                                         {"end", CatchKind::End},
                                                         {"gap", CatchKind::Gap}})
                                    : CatchKind::Corner;
    if (!(reach > 0 && reach <= 1000)) trouble("a reach is from 0 to 1,000 m");
    constexpr double kPixels = 100;  // for each metre
    constexpr double kAbove = 5000;
    auto down = [](double x, double z) { return base::Ray{{x, kAbove, z}, {0, -1, 0}}; };
    query::Aim aim;
    aim.pixel = {p.x * kPixels, p.z * kPixels};
    aim.rayTo = [=](const Vec3& to) { return down(to.x, to.z); };
    aim.rayThrough = [=](const base::Vec2& pixel) { return down(pixel.x / kPixels, pixel.y / kPixels); };
    aim.project = [](const Vec3& at) { return std::optional(base::Vec2(at.x * kPixels, at.z * kPixels)); };
    aim.metresPerPixel = [](const Vec3&) { return 1 / kPixels; };
    aim.reachPixels = reach * kPixels;
    const model::Scene& scene = c.scene();
    const auto caught = query::catchAt(scene, c.index(), aim, kind, [&](Slot s) { return !scene.hiddenInTree(s); });
    if (!caught) return {Nothing{}};
    return {caught->point, scene.id(caught->slot)};
}
Data gap(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const auto height = ops::heightAboveSupport(c.scene(), c.index().solid(), s);
    return {height ? Datum(*height) : Datum(Nothing{})};
}

}  // namespace

Bindings queryBindings() {
    return {
        {{"ray", "from, direction",
          "What a ray first meets: the object, the point, the surface's normal, the distance; nil: nothing."},
         Needs::Scene,
         false,
         ray},
        {{"below", "point [, without]", "The same straight down, passing through some objects."},
         Needs::Scene,
         false,
         below},
        {{"overlapping", "low, high", "The objects whose boxes meet a box between two corners."},
         Needs::Scene,
         false,
         overlapping},
        {{"nearest", "point, objects", "The nearest of them by where they stand, and how far it is; nil: none."},
         Needs::Scene,
         false,
         nearest},
        {{"bounds", "objects", "The box round all of them: its low and its high corner; nil: no mesh."},
         Needs::Scene,
         false,
         bounds},
        {{"catch", "point [, reach [, what]]",
          "The corner (or edge, face, centre, end) nearest to a point as seen from above, within metres, and whose it "
          "is; nil: none."},
         Needs::Scene,
         false,
         catchPoint},
        {{"gap", "", "How far it is above what would carry it, metres; negative: sunk in; nil: nothing is there."},
         Needs::Scene,
         true,
         gap},
    };
}

}  // namespace script
