// Routes of many points: the curve made anew while one of them is dragged, and the whole move as a step on its way.
#include <benchmark/benchmark.h>

#include "base/id.h"
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
BENCHMARK(makeCurve)->Arg(0)->Arg(1)->Arg(2)->Unit(benchmark::kMicrosecond);

}  // namespace
