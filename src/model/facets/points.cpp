#include "model/facets/points.h"

#include <fmt/format.h>

#include <cmath>

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& pointFields() {
    static const Fields fields = [] {
        FieldsOf<PlacePoint> f;
        f.text("name", "Name", &PlacePoint::name);
        f.vector("at", "Place", &PlacePoint::at, "m", -kFarthestMetres, kFarthestMetres).always = true;
        f.last().required = true;  // a file that does not say it is damaged
        f.angle("turn", "Turn", &PlacePoint::turnDegrees, -360, 360);
        f.real("radius", "Radius", &PlacePoint::radiusMetres, "m", 0, kLargestMetres);
        f.colour("colour", "Colour", &PlacePoint::colour);
        return f.done();
    }();
    return fields;
}

base::Status check(const void* facet) {
    const PointSet& set = FieldsOf<PointSet>::self(facet);
    if (set.points.size() > PointSet::kMost)
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("An object can have up to {} points.", PointSet::kMost));
    for (const PlacePoint& p : set.points)
        if (!base::isFinite(p.at) || !(glm::length(p.at) < kFarthestMetres) ||
            !(p.radiusMetres >= 0 && p.radiusMetres <= kLargestMetres))
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("The point “{}” is at a place that cannot be.", p.name));
    return {};
}

}  // namespace

const FacetType& PointSet::type() {
    static const FacetType type = [] {
        FieldsOf<PointSet> f;
        f.flag("stays", "Stay when the object moves", &PointSet::stays);
        f.colour("colour", "Colour", &PointSet::colour);
        f.parts("points", "Points", &PointSet::points, pointFields()).property.unit = "point";
        FacetType made =
            facetTypeOf<PointSet>("points", "Points", "Places that go with the object, in order", f.done());
        made.check = check;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
