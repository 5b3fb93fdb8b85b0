// Rays and the index, beside bare Embree.
#include <benchmark/benchmark.h>
#include <embree3/rtcore.h>

#include <cmath>

#include "edit/draft.h"
#include "large_scene.h"
#include "ops/move.h"
#include "query/scene_index.h"

namespace {

using bench::Indexed;

/// Bare boxes in one user geometry.
struct Boxes {
    RTCDevice device = rtcNewDevice(nullptr);
    std::vector<RTCBounds> boxes;
    RTCScene scene = nullptr;

    explicit Boxes(const model::Scene& from) {
        for (model::Slot s = 0; s < from.slotEnd(); ++s) {
            const base::Aabb& b = from.bounds(s);
            if (b.empty()) continue;
            boxes.push_back({float(b.low.x), float(b.low.y), float(b.low.z), 0, float(b.high.x), float(b.high.y),
                             float(b.high.z), 0});
        }
    }
    void build() {
        if (scene != nullptr) rtcReleaseScene(scene);
        scene = rtcNewScene(device);
        rtcSetSceneBuildQuality(scene, RTC_BUILD_QUALITY_LOW);
        RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_USER);
        rtcSetGeometryUserPrimitiveCount(geometry, static_cast<unsigned>(boxes.size()));
        rtcSetGeometryUserData(geometry, this);
        rtcSetGeometryBoundsFunction(
            geometry,
            [](const RTCBoundsFunctionArguments* a) {
                *a->bounds_o = static_cast<Boxes*>(a->geometryUserPtr)->boxes[a->primID];
            },
            nullptr);
        rtcSetGeometryIntersectFunction(geometry, [](const RTCIntersectFunctionNArguments* a) {
            const RTCBounds& b = static_cast<Boxes*>(a->geometryUserPtr)->boxes[a->primID];
            auto* q = reinterpret_cast<RTCRayHit*>(a->rayhit);
            const float t =
                (b.upper_y - q->ray.org_y) / q->ray.dir_y;  // the box's top: the cheapest hit that ends the search
            if (t <= 0 || t >= q->ray.tfar) return;
            q->ray.tfar = t;
            q->hit.geomID = a->geomID;
            q->hit.primID = a->primID;
        });
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(scene, geometry);
        rtcReleaseGeometry(geometry);
        rtcCommitScene(scene);
    }
    ~Boxes() {
        if (scene != nullptr) rtcReleaseScene(scene);
        rtcReleaseDevice(device);
    }
};

base::Ray ray(base::Random& random) {
    const base::Vec3 from(random.between(-1500, 1500), 40, random.between(-1500, 1500));
    return {from, glm::normalize(base::Vec3(random.between(-1, 1), -0.6, random.between(-1, 1)))};
}

void buildFloor(benchmark::State& state) {
    Indexed large;
    Boxes boxes(large.scene);
    for (auto _ : state) boxes.build();
}
BENCHMARK(buildFloor)->Name("index/floor")->Unit(benchmark::kMillisecond)->UseRealTime();

void buildIndex(benchmark::State& state) {
    Indexed large;
    for (auto _ : state) {
        const query::SceneIndex index(large.scene, large.lookup());
        benchmark::DoNotOptimize(&index);
    }
}
BENCHMARK(buildIndex)->Name("index/build")->Unit(benchmark::kMillisecond)->UseRealTime();

void pickFloor(benchmark::State& state) {
    Indexed large;
    Boxes boxes(large.scene);
    boxes.build();
    base::Random random(1);
    for (auto _ : state) {
        const base::Ray r = ray(random);
        RTCRayHit q{};
        q.ray.org_x = float(r.origin.x), q.ray.org_y = float(r.origin.y), q.ray.org_z = float(r.origin.z);
        q.ray.dir_x = float(r.direction.x), q.ray.dir_y = float(r.direction.y), q.ray.dir_z = float(r.direction.z);
        q.ray.tfar = INFINITY;
        q.ray.mask = 0xFFFFFFFFu;
        q.hit.geomID = RTC_INVALID_GEOMETRY_ID;
        RTCIntersectContext context;
        rtcInitIntersectContext(&context);
        rtcIntersect1(boxes.scene, &context, &q);
        benchmark::DoNotOptimize(q);
    }
}
BENCHMARK(pickFloor)->Name("pick/floor (boxes only)")->Unit(benchmark::kMicrosecond);

void pick(benchmark::State& state) {
    Indexed large;
    const query::SceneIndex index(large.scene, large.lookup());
    base::Random random(1);
    for (auto _ : state) benchmark::DoNotOptimize(index.pick(large.scene, ray(random)));
}
BENCHMARK(pick)->Name("pick/exact triangle")->Unit(benchmark::kMicrosecond);

void drag(benchmark::State& state) {
    Indexed large;
    query::SceneIndex index(large.scene, large.lookup());
    large.workspace->session->sceneChanged.listen([&](const edit::SceneDelta& d) { index.touch(d.moved); });
    std::vector<base::ObjectId> ids;
    for (model::Slot s = 1; ids.size() < 100; ++s)
        if (large.scene.item(s)) ids.push_back(large.scene.id(s));
    auto mover = ops::Mover::begin(large.scene, ids);
    edit::Draft draft(*large.workspace->session, "valley", "Move");
    base::Random random(1);
    double x = 0;
    for (auto _ : state) {
        (void)mover->moveBy(draft, {x += 0.01, 0, 0});
        benchmark::DoNotOptimize(index.pick(large.scene, ray(random)));
    }
}
BENCHMARK(drag)->Name("drag 100/edit, index and pick")->Unit(benchmark::kMicrosecond);

}  // namespace
