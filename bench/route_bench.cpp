// Routes of many points: the curve made anew while one of them is dragged, and the whole move as a step on its way.
#include <benchmark/benchmark.h>

#include "base/id.h"
#include "edit/draft.h"
#include "large_scene.h"
#include "ops/routes.h"
#include "query/route.h"
#include "shape/curve.h"

namespace {

std::vector<shape::CurvePoint> course(std::size_t count, shape::CurvePoint::Bend bend) {
    base::Random random(7);
    std::vector<shape::CurvePoint> points(count);
    for (std::size_t i = 0; i < count; ++i) {
        points[i].at = {static_cast<double>(i), random.between(-1, 1), random.between(-3, 3)};
        points[i].bend = bend;
        points[i].radius = 0.4;
    }
    return points;
}

/// The floor: the same points, copied.
void copyPoints(benchmark::State& state) {
    const auto points = course(10'000, shape::CurvePoint::Bend::Smooth);
    for (auto _ : state) {
        auto copy = points;
        benchmark::DoNotOptimize(copy);
    }
}
BENCHMARK(copyPoints)->Unit(benchmark::kMicrosecond);

void makeCurve(benchmark::State& state) {
    auto points = course(10'000, static_cast<shape::CurvePoint::Bend>(state.range(0)));
    for (auto _ : state) {
        points.back().at.z += 0.01;
        shape::Curve curve(points, false);
        benchmark::DoNotOptimize(curve);
    }
}
/// One move of a drag at its end: the route written in the draft, and its line as it is drawn.
void dragEnd(benchmark::State& state) {
    auto workspace = bench::open(bench::project(1000));
    edit::Session& session = *workspace->session;
    const model::Scene& scene = **session.scene("valley");
    std::vector<base::Vec3> places;
    for (const shape::CurvePoint& point : course(10'000, shape::CurvePoint::Bend::Smooth)) places.push_back(point.at);
    edit::Draft draft(session, "valley", "Drag");  // never kept: the scene is there for the next run
    const auto made = ops::addRoute(draft, places, false);
    if (!made) return state.SkipWithError(made.error().message.c_str());
    const base::ObjectId id = *made;
    base::Vec3 to = places.back();
    shape::Curve curve;
    for (auto _ : state) {
        to.z += 0.01;
        if (!ops::moveRoutePoint(draft, id, places.size() - 1, to)) return state.SkipWithError("not moved");
        const model::Slot slot = scene.find(id);
        shape::Curve now = query::curveOf(*scene.facet<model::Route>(slot), scene.world(slot), &curve);
        const shape::Curve::Same same = now.sameAs(curve);
        benchmark::DoNotOptimize(now.samples(0.03, 1e9, same.until, same.now));
        curve = std::move(now);
    }
}
BENCHMARK(dragEnd)->Unit(benchmark::kMicrosecond);
BENCHMARK(makeCurve)->Arg(0)->Arg(1)->Arg(2)->Unit(benchmark::kMicrosecond);

}  // namespace
