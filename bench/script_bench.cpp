// Scripts at size: writing positions beside a bare loop of calls from Lua, and beside one bulk write and its commit.
#include <benchmark/benchmark.h>

#include <lua.hpp>

#include "large_scene.h"
#include "script/engine.h"

namespace {

constexpr int kWrites = 100'000;

int nothing(lua_State*) {
    return 0;
}

void callsFloor(benchmark::State& state) {
    lua_State* L = luaL_newstate();
    luaL_openlibs(L);
    lua_pushcfunction(L, nothing);
    lua_setglobal(L, "at");
    for (auto _ : state)
        if (luaL_dostring(L, "for i = 1, 100000 do at(i, 1, 2, 3) end") != LUA_OK) state.SkipWithError("lua");
    lua_close(L);
}
BENCHMARK(callsFloor)->Name("script/floor (100,000 calls of nothing)")->Unit(benchmark::kMillisecond);

struct Large {
    std::unique_ptr<io::Workspace> workspace = bench::open(bench::project(bench::largeCount()));
    edit::Session& session = *workspace->session;
    const model::Scene& scene = **session.scene("valley");
};

/// The same written by a verb: what one commit of as many takes.
void bulkFloor(benchmark::State& state) {
    Large large;
    for (auto _ : state) {
        edit::Draft draft(large.session, "valley", "Bulk");
        std::vector<base::ObjectId> ids;
        std::vector<base::Transform> poses;
        for (model::Slot s : large.scene.subtree(model::kNoSlot)) {
            if (ids.size() == kWrites) break;
            ids.push_back(large.scene.id(s));
            poses.push_back(large.scene.local(s));
            poses.back().position.y += 1;
        }
        if (!draft.setTransforms(ids, poses) || !draft.commit()) state.SkipWithError("no step");
    }
}
BENCHMARK(bulkFloor)
    ->Name("script/floor (one bulk write and its commit)")
    ->Unit(benchmark::kMillisecond)
    ->Iterations(3);

void writes(benchmark::State& state) {
    Large large;
    const script::Source source{
        "move.lua",
        "for i, o in ipairs(find()) do if i > 100000 then break end o:ownAt(o:ownAt() + vec(0, 1, 0)) end",
        {}};
    script::Settings settings;
    for (auto _ : state) {
        edit::Draft draft(large.session, "valley", "Script");
        if (!script::run(draft, source, settings).done() || !draft.commit()) state.SkipWithError("no step");
    }
}
BENCHMARK(writes)->Name("script/100,000 positions read and written")->Unit(benchmark::kMillisecond)->Iterations(3);

void setsOnly(benchmark::State& state) {
    Large large;
    const script::Source source{
        "set.lua",
        "local p = vec(1, 2, 3) for i, o in ipairs(find()) do if i > 100000 then break end o:ownAt(p) end",
        {}};
    script::Settings settings;
    for (auto _ : state) {
        edit::Draft draft(large.session, "valley", "Script");
        if (!script::run(draft, source, settings).done()) state.SkipWithError("no run");
        draft.rollback();
    }
}
BENCHMARK(setsOnly)->Name("script/100,000 positions written, not kept")->Unit(benchmark::kMillisecond)->Iterations(3);

}  // namespace
