#include "ops/along.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/text.h"
#include "model/facet_builder.h"
#include "ops/array.h"
#include "ops/copies.h"
#include "ops/move.h"
#include "ops/names.h"
#include "ops/routes.h"
#include "query/scene_index.h"

namespace ops {

using shape::Curve;

namespace {

constexpr double kOnIt = 1e-6;  // metres beyond an end that are none

Result<Curve> curveFor(const model::Scene& scene, ObjectId route) {
    if (auto known = routeOf(scene, route); !known) return tl::unexpected(known.error());
    Curve curve = query::curveOf(scene, scene.find(route));
    if (curve.empty()) return fail(ErrorCode::Refused, "The route has no length yet.");
    return curve;
}

Result<Curve> curveFor(const model::Scene& scene, ObjectId route, const Along& along) {
    auto curve = curveFor(scene, route);
    if (!curve) return curve;
    for (const double number : {along.from, along.spacing, along.aside, along.up, along.turnDegrees})
        if (!std::isfinite(number) || std::abs(number) > 1e6)
            return fail(ErrorCode::BadInput, "That is no number of metres.");
    if (along.spacing < 0) return fail(ErrorCode::BadInput, "The spacing is not below 0 m.");
    if (along.from < 0 || along.from > curve->length())
        return fail(ErrorCode::BadInput, fmt::format("The route is {:.2f} m long.", curve->length()));
    return curve;
}

/// What carries a route would take it along.
Status mayLieAlong(const model::Scene& scene, ObjectId route, std::span<const ObjectId> ids) {
    for (const ObjectId id : ids) {
        const Slot s = scene.find(id);
        if (s == kNoSlot) return fail(ErrorCode::NotFound, "One of the objects is gone.");
        if (scene.isWithin(scene.find(route), s))
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” is the route, or holds it: it cannot lie along it.", scene.nameText(s)));
    }
    return {};
}

/// Where each of `count` is.
Result<std::vector<double>> placesAlong(const Curve& curve, const Along& along, std::size_t count) {
    const double rest = curve.isClosed() ? curve.length() : curve.length() - along.from;
    double step = along.spacing;
    if (step <= 0 && count > 1) step = rest / static_cast<double>(curve.isClosed() ? count : count - 1);
    if (count > 1 && step * static_cast<double>(count - 1) > rest + 1e-6)
        return fail(ErrorCode::BadInput, fmt::format("There is room for {} with {:.2f} m between them.",
                                                     static_cast<std::size_t>(rest / step + 1e-9) + 1, step));
    std::vector<double> places;
    for (std::size_t i = 0; i < count; ++i) places.push_back(along.from + step * static_cast<double>(i));
    return places;
}

Status putAt(edit::Draft& draft, const Curve& curve, std::span<const ObjectId> ids, std::span<const double> places,
             const Along& along) {
    const model::Scene& scene = draft.scene();
    std::vector<base::Affine> motions;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot s = scene.find(ids[i]);
        if (s == kNoSlot) return fail(ErrorCode::NotFound, "One of the objects is gone.");
        const base::Transform on = query::poseOn(curve, places[i], along.aside, along.up);
        const base::Transform is = base::toTransform(scene.world(s));
        base::Quat turn(1, 0, 0, 0);
        if (along.turned) {
            const base::Quat turned = on.rotation * glm::angleAxis(base::radians(along.turnDegrees), Vec3(0, 1, 0));
            turn = turned * glm::conjugate(is.rotation);
        }
        base::Affine motion{glm::mat3_cast(turn), Vec3(0.0)};
        motion.translation = on.position - motion.linear * is.position;
        motions.push_back(motion);
    }
    return moveEach(draft, ids, motions);
}

}  // namespace

const model::Fields& alongFields() {
    static const model::Fields fields = [] {
        model::FieldsOf<Along> f;
        f.real("from", "First at", &Along::from, "m", 0, 1e6);
        f.real("spacing", "Spacing", &Along::spacing, "m", 0, 1e6).property.help = "0: evenly to its end";
        f.whole("count", "Copies", &Along::count, 0, kMostAlong).property.help =
            "In all; 0: as many as there is room for";
        f.real("aside", "Aside", &Along::aside, "m", -1e6, 1e6).property.help = "To the right of its way; below 0 left";
        f.real("up", "Above", &Along::up, "m", -1e6, 1e6);
        f.flag("turned", "Turned with its way", &Along::turned);
        f.angle("turn", "Turned besides", &Along::turnDegrees, -360, 360).shown =
            f.when([](const Along& a) { return a.turned; });
        return f.done();
    }();
    return fields;
}

Status putAlong(edit::Draft& draft, ObjectId route, std::span<const ObjectId> ids, const Along& along) {
    if (!draft.state()) return draft.state();
    const auto curve = curveFor(draft.scene(), route, along);
    if (!curve) return tl::unexpected(curve.error());
    if (Status may = mayLieAlong(draft.scene(), route, ids); !may) return may;
    const auto places = placesAlong(*curve, along, ids.size());
    if (!places) return tl::unexpected(places.error());
    return putAt(draft, *curve, ids, *places, along);
}

Result<Ids> copyAlong(edit::Draft& draft, ObjectId route, ObjectId id, const Along& along) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const auto curve = curveFor(draft.scene(), route, along);
    if (!curve) return tl::unexpected(curve.error());
    if (Status may = mayLieAlong(draft.scene(), route, {&id, 1}); !may) return tl::unexpected(may.error());
    auto count = static_cast<std::size_t>(std::max(along.count, std::int64_t{0}));
    if (count == 0) {
        if (along.spacing <= 0)
            return fail(ErrorCode::BadInput, "Without a number of copies, say how far apart they are.");
        const double rest = curve->isClosed() ? curve->length() : curve->length() - along.from;
        const double fit = std::floor(rest / along.spacing + 1e-9) + (curve->isClosed() ? 0 : 1);
        count = static_cast<std::size_t>(std::clamp(fit, 1.0, static_cast<double>(kMostAlong) + 1));
    }
    if (count > kMostAlong)
        return fail(ErrorCode::BadInput, fmt::format("There can be up to {} along a route.", kMostAlong));
    const auto places = placesAlong(*curve, along, count);
    if (!places) return tl::unexpected(places.error());
    Ids all = {id};
    for (std::size_t i = 1; i < count; ++i) {
        auto copy = duplicate(draft, {&id, 1});
        if (!copy) return copy;
        all.push_back(copy->front());
    }
    if (Status put = putAt(draft, *curve, all, *places, along); !put) return tl::unexpected(put.error());
    return all;
}

Result<ObjectId> makeArrayAlong(edit::Draft& draft, std::span<const ObjectId> ids, ObjectId route,
                                const model::Array& array, double aside, double up) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    if (auto known = routeOf(scene, route); !known) return tl::unexpected(known.error());
    if (Status may = mayLieAlong(scene, route, ids); !may) return tl::unexpected(may.error());
    const Slot way = scene.find(route);
    model::Array one;
    one.counts = {1, 1, 1};
    auto made = makeArray(draft, ids, one);
    if (!made) return made;
    if (Status below = reparent(draft, {&*made, 1}, route, {}); !below) return tl::unexpected(below.error());
    const ObjectId unit = scene.id(scene.firstChild(scene.find(*made)));
    base::Transform first;
    first.position = {-aside, up, 0};
    first.scale = scene.local(scene.find(unit)).scale;
    const std::string label = fmt::format("{} along {}", scene.nameText(scene.find(unit)), scene.nameText(way));
    const base::Name name = draft.session().intern(label);
    const std::array<ObjectId, 2> both = {*made, unit};
    const std::array<base::Transform, 2> poses = {base::Transform{}, first};
    if (Status posed = draft.setTransforms(both, poses); !posed) return tl::unexpected(posed.error());
    if (Status named = draft.setLabels(model::LabelField::Name, {&*made, 1}, {&name, 1}); !named)
        return tl::unexpected(named.error());
    model::Array along = array;
    along.shape = model::Array::Shape::Route;
    if (Status set = setArray(draft, *made, along); !set) return tl::unexpected(set.error());
    return made;
}

Status moveAlong(edit::Draft& draft, ObjectId route, std::span<const ObjectId> ids, double metres) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    const auto curve = curveFor(scene, route);
    if (!curve) return tl::unexpected(curve.error());
    if (Status may = mayLieAlong(scene, route, ids); !may) return may;
    if (!std::isfinite(metres)) return fail(ErrorCode::BadInput, "That is no number of metres.");
    std::vector<base::Affine> motions;
    std::optional<double> by;
    for (const ObjectId id : ids) {
        const double is = curve->nearest(scene.world(scene.find(id)).translation).metres;
        if (!by) by = metres - is;
        const double to = is + *by;
        if (!curve->isClosed() && (to < -kOnIt || to > curve->length() + kOnIt))
            return fail(ErrorCode::BadInput, fmt::format("“{}” would come to {:.2f} m: the route is {:.2f} m long.",
                                                         scene.nameText(scene.find(id)), to, curve->length()));
        const base::Affine from = base::toAffine(query::poseOn(*curve, is));
        const base::Affine now = base::toAffine(query::poseOn(*curve, to));
        motions.push_back(now * base::inverse(from).value_or(base::Affine{}));
    }
    return moveEach(draft, ids, motions);
}

Result<double> placeAlong(std::string_view written, const Curve& curve, double now) {
    std::string text = base::lowered(base::trimmed(written));
    if (text == "start") return 0.0;
    if (text == "end") return curve.length();
    if (text == "half way" || text == "halfway") return curve.length() / 2;
    const bool more = text.starts_with('+'), less = text.starts_with('-');
    const char* begin = text.data() + (more ? 1 : 0);
    double number = 0;
    const auto [rest, error] = std::from_chars(begin, text.data() + text.size(), number);
    const std::string_view unit = base::trimmed(std::string_view(rest, text.data() + text.size()));
    if (error != std::errc() || !std::isfinite(number) || !(unit.empty() || unit == "m" || unit == "%"))
        return fail(
            ErrorCode::BadInput,
            fmt::format("“{}” is no place along a route: write 42 m, 30 %, half way, start, end or +2 m.", written));
    double metres = unit == "%" ? number / 100 * curve.length() : number;
    if (more || less) metres += now;
    if (!curve.isClosed() && (metres < -kOnIt || metres > curve.length() + kOnIt))
        return fail(ErrorCode::BadInput,
                    fmt::format("{:.2f} m is not on it: the route is {:.2f} m long.", metres, curve.length()));
    return metres;
}

Status sweepAlong(Broom& broom, const Curve& curve, double radiusMetres, double aside, const query::SceneIndex& index,
                  const model::Scene& scene) {
    constexpr double kLook = 3;  // metres above and below its line
    if (curve.empty()) return fail(ErrorCode::Refused, "The route has no length yet.");
    const double parts = std::ceil(curve.length() / std::max(radiusMetres * 0.5, 0.05));
    for (double i = 0; i <= parts; ++i) {
        const Vec3 at = query::poseOn(curve, curve.length() * (i / parts), aside).position;
        const auto ground =
            index.pick(scene, {at + Vec3(0, kLook, 0), {0, -1, 0}}, [&](Slot s) { return !broom.isMet(scene.id(s)); });
        const bool near = ground && ground->distance < 2 * kLook;
        if (Status swept = broom.sweep(near ? ground->point : at); !swept) return swept;
    }
    return {};
}

}  // namespace ops
