// What happens at each move of a drag, and seating in bulk, in the large scene.
#include <benchmark/benchmark.h>

#include "large_scene.h"
#include "ops/seat.h"
#include "query/catch.h"
#include "query/flush.h"
#include "query/sweep.h"
#include "render/camera.h"

namespace {

using bench::Indexed;

constexpr std::size_t kSeated = 10'000;

std::vector<base::ObjectId> loose(const model::Scene& scene, std::size_t count) {
    std::vector<base::ObjectId> ids;
    for (model::Slot s = 0; s < scene.slotEnd() && ids.size() < count; s += 7)
        if (scene.alive(s) && scene.item(s) && !scene.protectedInTree(s)) ids.push_back(scene.id(s));
    return ids;
}

// One ray down from each corner of each triangle that falls: what finding the contacts takes at the least.
void seatFloor(benchmark::State& state) {
    Indexed large;
    const query::SceneIndex index(large.scene, large.lookup());
    const auto ids = loose(large.scene, kSeated);
    for (auto _ : state)
        for (base::ObjectId id : ids) {
            const query::FallingBody body = query::fallingBody(large.scene, index, large.scene.find(id));
            for (const query::Triangle& t : body.triangles)
                benchmark::DoNotOptimize(index.pick(large.scene, {t[0], {0, -1, 0}}));
        }
}
BENCHMARK(seatFloor)->Name("seat 10,000/floor (a ray a triangle)")->Unit(benchmark::kMillisecond)->Iterations(2);

void seat(benchmark::State& state) {
    Indexed large;
    const query::SceneIndex index(large.scene, large.lookup());
    const auto ids = loose(large.scene, kSeated);
    for (auto _ : state) benchmark::DoNotOptimize(ops::seatDrops(large.scene, index, ids, {}));
}
BENCHMARK(seat)->Name("seat 10,000/by true contact")->Unit(benchmark::kMillisecond)->Iterations(2);

void catchMove(benchmark::State& state) {
    Indexed large;
    const query::SceneIndex index(large.scene, large.lookup());
    const render::Viewport view{1280, 800};
    const auto camera = render::Camera::looking({0, 25, 60}, {0, 5, 0});
    base::Random random(2);
    for (auto _ : state) {
        const render::Sight sight = camera.sight(view);
        const query::Aim aim{{random.between(100, 1180), random.between(300, 780)},
                             [&](const base::Vec3& p) { return sight.rayTo(p); },
                             [&](const base::Vec2& p) { return sight.rayThrough(p); },
                             [&](const base::Vec3& p) { return sight.project(p); },
                             [&](const base::Vec3& p) { return sight.metresPerPixel(p); }};
        benchmark::DoNotOptimize(query::catchAt(large.scene, index, aim, query::CatchKind::Corner, {}));
    }
}
BENCHMARK(catchMove)->Name("catch/a corner, each move")->Unit(benchmark::kMicrosecond);

void flushBuild(benchmark::State& state) {
    Indexed large;
    for (auto _ : state) {
        const query::FlushIndex index(large.scene, large.lookup());
        benchmark::DoNotOptimize(&index);
    }
}
BENCHMARK(flushBuild)->Name("lines/build, on a worker")->Unit(benchmark::kMillisecond)->Iterations(3);

void flushMove(benchmark::State& state) {
    Indexed large;
    const query::FlushIndex index(large.scene, large.lookup());
    base::Random random(2);
    for (auto _ : state) {
        const base::Vec3 low(random.between(-900, 900), random.between(0, 20), random.between(-900, 900));
        for (int axis = 0; axis < 3; ++axis)
            benchmark::DoNotOptimize(index.near(large.scene, {low, low + 1.3}, axis, 0.05, 6));
    }
}
BENCHMARK(flushMove)->Name("lines/three axes, each move")->Unit(benchmark::kMicrosecond);

/// 100 things that stand on the ground go back and forth by 5 cm a move, and stop at what is in their way.
constexpr std::size_t kDragged = 100;
constexpr std::size_t kAmong = 100'000;

// The boxes that a move could meet, looked up: what it takes at the least.
void contactFloor(benchmark::State& state) {
    Indexed large(kAmong);
    const query::SceneIndex index(large.scene, large.lookup());
    const auto ids = loose(large.scene, kDragged);
    for (auto _ : state)
        for (base::ObjectId id : ids) {
            base::Aabb box = large.scene.bounds(large.scene.find(id));
            box.high.x += 0.05;
            index.overlapping(large.scene, box, [](model::Slot s) { benchmark::DoNotOptimize(s); });
        }
}
BENCHMARK(contactFloor)
    ->Name("contact drag of 100 among 100,000/floor (boxes looked up)")
    ->Unit(benchmark::kMillisecond);

void contactDrag(benchmark::State& state) {
    Indexed large(kAmong);
    const query::SceneIndex index(large.scene, large.lookup());
    std::vector<model::Slot> tops;
    for (base::ObjectId id : loose(large.scene, kDragged)) tops.push_back(large.scene.find(id));
    query::Sweep sweep(large.scene, index, tops, {});
    base::Vec3 at(0.0);
    int move = 0;
    for (auto _ : state) {
        const double way = move++ / 40 % 2 == 0 ? 0.05 : -0.05;
        at = sweep.go(at, at + base::Vec3(way, 0, way * 0.3));
        benchmark::DoNotOptimize(at);
    }
}
BENCHMARK(contactDrag)
    ->Name("contact drag of 100 among 100,000/a move, stopped and slid")
    ->Unit(benchmark::kMillisecond);

}  // namespace
