// A definition's change reaching 10,000 instances of 20 objects, beside writing as many objects by themselves; and the
// broom, beside its rays alone.
#include <benchmark/benchmark.h>

#include "large_scene.h"
#include "ops/broom.h"
#include "ops/prefab.h"

namespace {

using base::ObjectId;
using base::Vec3;

constexpr int kInstances = 10'000, kInside = 20;

/// The valley with many instances of one prefab.
struct Instances {
    std::unique_ptr<io::Workspace> workspace = bench::open(bench::project(1001));
    edit::Session& session = *workspace->session;
    const model::Scene& scene = **session.scene("valley");
    ObjectId prefab, inner;
    std::vector<ObjectId> inside;  // that object of each instance

    Instances() {
        edit::Draft draft(session, "valley", "Instances");
        std::vector<model::ObjectRecord> objects(kInside);
        for (int i = 0; i < kInside; ++i) {
            objects[static_cast<std::size_t>(i)].id = session.random().nextId();
            objects[static_cast<std::size_t>(i)].item = session.intern("pear-crate");
            objects[static_cast<std::size_t>(i)].local.position = {i * 0.5, 0, 0};
        }
        ops::Ids ids;
        for (const auto& r : objects) ids.push_back(r.id);
        (void)draft.create(objects);
        auto made = ops::makePrefab(draft, ids, {"Crates", "", {}, true});
        prefab = made->prefab;
        inner = base::innerOf(made->instance, ids[3]);
        std::vector<model::ObjectRecord> instances(kInstances);
        for (int i = 0; i < kInstances; ++i) {
            auto& r = instances[static_cast<std::size_t>(i)];
            r.id = session.random().nextId();
            r.detail = ops::instanceOf(prefab);
            r.local.position = {(i % 100) * 12.0, 0, (i / 100) * 2.0};
            inside.push_back(base::joined(r.id, inner));
        }
        (void)draft.create(instances);
        (void)draft.commit();
    }
};

Instances& instances() {
    static Instances all;  // made once for all rows of this file
    return all;
}

/// As many objects written one by one in one change.
void definitionFloor(benchmark::State& state) {
    auto workspace = bench::open(bench::project(200'000));
    edit::Session& session = *workspace->session;
    const model::Scene& scene = **session.scene("valley");
    std::vector<ObjectId> ids;
    for (model::Slot s = 1; s < scene.slotEnd() && ids.size() < kInstances; s += 15)
        if (scene.item(s)) ids.push_back(scene.id(s));
    edit::Draft draft(session, "valley", "Move");
    double x = 0;
    for (auto _ : state) {
        std::vector<base::Transform> poses;
        for (ObjectId id : ids) {
            poses.push_back(scene.local(scene.find(id)));
            poses.back().position.y = x;
        }
        x += 0.25;
        benchmark::DoNotOptimize(draft.setTransforms(ids, poses));
    }
}
BENCHMARK(definitionFloor)->Name("definition/floor")->Unit(benchmark::kMillisecond)->UseRealTime();

void definitionMoved(benchmark::State& state) {
    Instances& all = instances();
    edit::Draft draft(all.session, model::definitionKey(all.prefab), "Move inside");
    base::Transform pose;
    for (auto _ : state) {
        pose.position.y += 0.25;
        benchmark::DoNotOptimize(draft.setTransforms({&all.inner, 1}, {&pose, 1}));
    }
    if (all.scene.local(all.scene.find(all.inside.back())).position.y != pose.position.y)
        state.SkipWithError("it did not reach the last instance");
}
BENCHMARK(definitionMoved)->Name("definition/one object moved")->Unit(benchmark::kMillisecond)->UseRealTime();

void definitionGrown(benchmark::State& state) {
    Instances& all = instances();
    edit::Draft draft(all.session, model::definitionKey(all.prefab), "Add inside");
    for (auto _ : state) {
        model::ObjectRecord r;
        r.id = all.session.random().nextId();
        r.item = all.session.intern("pear-crate");
        benchmark::DoNotOptimize(draft.create({&r, 1}));
    }
}
BENCHMARK(definitionGrown)
    ->Name("definition/one object added")
    ->Unit(benchmark::kMillisecond)
    ->Iterations(5)
    ->UseRealTime();

ops::BroomSettings scattering() {
    ops::BroomSettings s;
    s.item = "reed-clump-1";
    s.density = 1;
    s.spacingMetres = 0;
    s.radiusMetres = 57;  // about 10,000 square metres
    s.steepest = 90;
    return s;
}

/// The valley with its ground, which is what one scatters on.
struct Ground : bench::Indexed {
    Ground() : bench::Indexed(10'000) {
        edit::Draft draft(*workspace->session, "valley", "Ground");
        model::ObjectRecord ground;
        ground.id = workspace->session->random().nextId();
        ground.item = workspace->session->intern("valley-ground");
        (void)draft.create({&ground, 1});
        (void)draft.commit();
    }
};

void scatterFloor(benchmark::State& state) {
    Ground valley;
    const model::Scene& scene = valley.scene;
    const query::SceneIndex index(scene, valley.lookup());
    for (auto _ : state)
        for (int i = 0; i < 10'000; ++i)
            benchmark::DoNotOptimize(index.pick(scene, {{(i % 100) - 50.0, 50, (i / 100) - 50.0}, {0, -1, 0}}));
}
BENCHMARK(scatterFloor)->Name("scatter/floor: the rays")->Unit(benchmark::kMillisecond)->UseRealTime();

void scatter(benchmark::State& state) {
    Ground valley;
    edit::Session& session = *valley.workspace->session;
    query::SceneIndex index(valley.scene, valley.lookup());
    session.sceneChanged.listen([&](const edit::SceneDelta& delta) {
        index.touch(delta.created);
        index.touch(delta.removed);
    });
    std::size_t placed = 0;
    for (auto _ : state) {
        edit::Draft draft(session, "valley", "Scatter");
        ops::Broom broom(draft, index, scattering());
        benchmark::DoNotOptimize(broom.sweep({0, 0, 0}));
        placed = broom.count();
    }
    state.counters["placed"] = static_cast<double>(placed);
}
BENCHMARK(scatter)->Name("scatter/10,000 candidates")->Unit(benchmark::kMillisecond)->Iterations(5)->UseRealTime();

}  // namespace
