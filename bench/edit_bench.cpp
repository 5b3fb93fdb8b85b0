// How long an edit takes, beside a bare insert into SQLite, or beside copying the columns it touches.
#include <benchmark/benchmark.h>
#include <sqlite3.h>

#include <cstring>

#include "edit/draft.h"
#include "large_scene.h"
#include "ops/move.h"

namespace {

struct Large {
    std::unique_ptr<io::Workspace> workspace = bench::open(bench::project(bench::largeCount()));
    const model::Scene& scene = **workspace->session->scene("valley");
    /// `count` objects that stand for themselves, spread over the scene.
    std::vector<base::ObjectId> some(std::size_t count) const {
        std::vector<base::ObjectId> ids;
        const std::size_t stride = std::max<std::size_t>(1, scene.slotEnd() / count);
        for (model::Slot s = 1; s < scene.slotEnd() && ids.size() < count; s += static_cast<model::Slot>(stride))
            if (scene.item(s)) ids.push_back(scene.id(s));
        return ids;
    }
};

void commitFloor(benchmark::State& state) {
    const auto file = bench::project(1000) / "floor.db";
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    sqlite3_exec(db,
                 "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;CREATE TABLE IF NOT EXISTS t(id INTEGER PRIMARY KEY, "
                 "payload BLOB)",
                 nullptr, nullptr, nullptr);
    sqlite3_stmt* insert = nullptr;
    sqlite3_prepare_v2(db, "INSERT INTO t VALUES(NULL,zeroblob(200))", -1, &insert, nullptr);
    for (auto _ : state) {
        sqlite3_step(insert);
        sqlite3_reset(insert);
    }
    sqlite3_finalize(insert);
    sqlite3_close(db);
}
BENCHMARK(commitFloor)->Name("commit/floor")->Unit(benchmark::kMicrosecond)->UseRealTime();

void commitOne(benchmark::State& state) {
    auto workspace = bench::open(bench::project(1000));
    edit::Session& session = *workspace->session;
    const model::Scene& scene = **session.scene("valley");
    const base::ObjectId id = scene.id(5);
    double x = 0;
    for (auto _ : state) {
        edit::Draft draft(session, "valley", "Move");
        base::Transform t = scene.local(5);
        t.position.x = x += 0.25;
        benchmark::DoNotOptimize(draft.setTransforms({&id, 1}, {&t, 1}));
        if (!draft.commit()) state.SkipWithError("not committed");
    }
}
BENCHMARK(commitOne)->Name("commit/one edit")->Unit(benchmark::kMicrosecond)->UseRealTime();

void moveFloor(benchmark::State& state) {
    const std::size_t bytes = 100'000 * (sizeof(base::Transform) + sizeof(base::Affine) + sizeof(base::Aabb));
    std::vector<char> from(bytes, 1), to(bytes);
    for (auto _ : state) {
        std::memcpy(to.data(), from.data(), bytes);
        benchmark::ClobberMemory();
    }
}
BENCHMARK(moveFloor)->Name("move 100k/floor")->Unit(benchmark::kMillisecond)->UseRealTime();

void moveApply(benchmark::State& state) {
    Large large;
    const auto ids = large.some(100'000);
    auto mover = ops::Mover::begin(large.scene, ids);
    edit::Draft draft(*large.workspace->session, "valley", "Move");
    double x = 0;
    for (auto _ : state) benchmark::DoNotOptimize(mover->moveBy(draft, {x += 0.25, 0, 0}));
}
BENCHMARK(moveApply)->Name("move 100k/apply")->Unit(benchmark::kMillisecond)->UseRealTime();

void moveCommitUndo(benchmark::State& state) {
    Large large;
    const auto ids = large.some(100'000);
    const bool undoing = state.range(0) != 0;
    for (auto _ : state) {
        if (undoing) state.PauseTiming();
        auto mover = ops::Mover::begin(large.scene, ids);
        edit::Draft draft(*large.workspace->session, "valley", "Move");
        (void)mover->moveBy(draft, {0.25, 0, 0});
        if (!draft.commit()) state.SkipWithError("not committed");
        if (undoing) {
            (void)large.workspace->session->flush();
            state.ResumeTiming();
            (void)large.workspace->session->undo();
        } else {
            state.PauseTiming();
            (void)large.workspace->session->flush();
            state.ResumeTiming();
        }
    }
}
BENCHMARK(moveCommitUndo)
    ->Name("move 100k/move and commit")
    ->Arg(0)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime()
    ->Iterations(5);
BENCHMARK(moveCommitUndo)->Name("move 100k/undo")->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(5);

}  // namespace
