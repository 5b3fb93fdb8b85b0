// Checks at size: the whole scene, and again after one object was moved; beside asking every object's box once.
#include <benchmark/benchmark.h>

#include <fstream>
#include <thread>
#include "check/checker.h"
#include "check/gather.h"

#include "large_scene.h"
#include "model/facets/solid.h"
#include "ops/solid.h"
#include "query/mesh_index.h"
#include "script/rules.h"

namespace {

struct Large {
    std::unique_ptr<io::Workspace> workspace = bench::open(bench::project(bench::largeCount()));
    edit::Session& session = *workspace->session;
    const model::Scene& scene = **session.scene("valley");
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes;
    std::shared_ptr<const check::Facts> facts;

    /// Everything stands on level ground, as it does in a level: there is something below it.
    Large() {
        {
            edit::Draft draft(session, "valley", "Ground");
            model::Solid solid;
            solid.size = {5000, 1, 5000};
            base::Transform below;
            below.position = {0, -1, 0};
            std::vector<base::ObjectId> ids;
            std::vector<base::Transform> poses;
            for (const model::Slot s : scene.subtree(model::kNoSlot)) {
                ids.push_back(scene.id(s));
                poses.push_back(scene.local(s));
                poses.back().position.y = 0;
            }
            if (!draft.setTransforms(ids, poses) || !ops::addSolid(draft, solid, below, {}) || !draft.commit())
                throw std::runtime_error("no ground");
        }
        for (const auto& [item, mesh] : workspace->meshes) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        facts = check::gatherFacts(session, check::withRules(),
                                   query::MeshLookup([this](base::Name item) -> const query::MeshIndex* {
                                       const auto place = meshes.find(item);
                                       return place == meshes.end() ? nullptr : place->second.get();
                                   }),
                                   {}, false);
    }
};

/// Made once: all rows look at the same.
Large& valley() {
    static Large one;
    return one;
}

void boxesFloor(benchmark::State& state) {
    Large& large = valley();
    for (auto _ : state) {
        double sum = 0;
        for (model::Slot s = 0; s < large.scene.slotEnd(); ++s)
            if (large.scene.alive(s)) sum += large.scene.bounds(s).high.y;
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(boxesFloor)->Name("check/floor (every box once)")->Unit(benchmark::kMillisecond);

void whole(benchmark::State& state) {
    Large& large = valley();
    for (auto _ : state) {
        check::Checker checker(large.facts, std::thread::hardware_concurrency());
        checker.checkAll(large.scene);
        state.counters["findings"] = static_cast<double>(checker.findings(large.scene).size());
    }
}
BENCHMARK(whole)->Name("check/whole scene")->Unit(benchmark::kMillisecond)->Iterations(1);

void again(benchmark::State& state) {
    Large& large = valley();
    check::Checker checker(large.facts);
    checker.checkAll(large.scene);
    const model::Slot one = large.scene.subtree(model::kNoSlot)[large.scene.objectCount() / 2];
    const base::ObjectId id = large.scene.id(one);
    double up = 0.1;
    for (auto _ : state) {
        state.PauseTiming();
        edit::Draft draft(large.session, "valley", "Move");
        base::Transform t = large.scene.local(one);
        t.position.y += up;
        up = -up;
        if (!draft.setTransforms({&id, 1}, {&t, 1}) || !draft.commit()) state.SkipWithError("no step");
        state.ResumeTiming();
        checker.update(large.scene, {&one, 1});
    }
    state.counters["looked at"] = static_cast<double>(checker.unitsLookedAt());
}
BENCHMARK(again)->Name("check/again after one edit")->Unit(benchmark::kMillisecond)->Iterations(20);

/// One check of a script, asked about every object.
void scripted(benchmark::State& state) {
    Large& large = valley();
    const auto folder = std::filesystem::temp_directory_path() / "mellow-bench-checks";
    std::filesystem::create_directories(folder);
    std::ofstream(folder / "one.lua")
        << "check { id = 'far', find = function(o) if o:at().x > 1e6 then return 'far' end end }";
    script::Shelf shelf;
    shelf.setFolder(script::Owner::Project, folder, "Bench");
    shelf.refresh();
    auto facts = std::make_shared<check::Facts>(*large.facts);
    facts->rules = std::make_shared<const std::vector<check::Rule>>(script::rulesOf(shelf));
    for (auto _ : state) {
        check::Checker checker(facts, std::thread::hardware_concurrency());
        checker.checkAll(large.scene);
        if (!checker.findings(large.scene).empty()) state.SkipWithError("it found something");
    }
}
BENCHMARK(scripted)->Name("check/whole scene, one rule of a script")->Unit(benchmark::kMillisecond)->Iterations(1);

}  // namespace
