// Cutting solids, and pulling a face of one among very many objects.
#include <benchmark/benchmark.h>

#include <cstring>

#include "edit/draft.h"
#include "large_scene.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"

namespace {

constexpr std::size_t kSolids = 1000;

/// Walls with a door each, all turned otherwise.
std::vector<shape::Pieces> walls() {
    std::vector<shape::Pieces> all;
    for (std::size_t i = 0; i < kSolids; ++i) {
        shape::SolidNumbers wall;
        wall.size = {6, 3, 0.2};
        wall.openings.emplace_back();
        wall.openings[0].at = {static_cast<double>(i % 5) - 2, 0, 0.1};
        all.push_back(shape::solidPieces(wall));
    }
    return all;
}

// What it takes to have the meshes once more.
void clipFloor(benchmark::State& state) {
    std::vector<shape::Mesh> meshes;
    for (const shape::Pieces& wall : walls()) meshes.push_back(shape::meshOf(wall, {}));
    std::vector<char> into(1 << 20);
    for (auto _ : state)
        for (const shape::Mesh& mesh : meshes) {
            std::memcpy(into.data(), mesh.positions.data(), mesh.positions.size() * sizeof(shape::Float3));
            std::memcpy(into.data(), mesh.indices.data(), mesh.indices.size() * sizeof(std::uint32_t));
            benchmark::ClobberMemory();
        }
}
BENCHMARK(clipFloor)->Name("clip 1,000 solids/floor (copy of the meshes)")->Unit(benchmark::kMillisecond);

void clip(benchmark::State& state) {
    const auto all = walls();
    const shape::Plane plane = shape::planeThrough({0, 1.5, 0}, glm::normalize(base::Vec3(0.3, 1, 0.1)));
    for (auto _ : state)
        for (const shape::Pieces& wall : all) benchmark::DoNotOptimize(shape::cut(wall, plane, 9));
}
BENCHMARK(clip)->Name("clip 1,000 solids/both halves")->Unit(benchmark::kMillisecond);

void meshes(benchmark::State& state) {
    const auto all = walls();
    for (auto _ : state)
        for (const shape::Pieces& wall : all) benchmark::DoNotOptimize(shape::meshOf(wall, {}));
}
BENCHMARK(meshes)->Name("clip 1,000 solids/their meshes")->Unit(benchmark::kMillisecond);

// One face of one solid among 100,000 objects, a step of a drag: pieces, mesh, and the scene with them.
void pullFace(benchmark::State& state) {
    const auto workspace = bench::open(bench::project(100'000));
    edit::Session& session = *workspace->session;
    (void)session.scene("valley");
    base::ObjectId id;
    {
        edit::Draft draft(session, "valley", "Wall");
        model::Solid wall = model::usualSolid(model::Solid::Shape::Wall, {6, 3, 0.2});
        wall.openings.emplace_back();
        wall.openings[0].at.z = 0.1;
        id = *ops::addSolid(draft, wall, {}, {});
        (void)ops::keepAsPlain(draft, {&id, 1});
        (void)draft.commit();
    }
    double by = 0.001;
    for (auto _ : state) {
        edit::Draft draft(session, "valley", "Pull");
        const auto pieces = ops::piecesOf(draft.scene(), id);
        const auto face = ops::faceTowards(*pieces, {0, 0, 1});
        if (!ops::moveParts(draft, id, {&*face, 1}, {0, 0, by})) state.SkipWithError("refused");
        by += 0.001;
        draft.rollback();
    }
}
BENCHMARK(pullFace)->Name("pull a face among 100,000 objects/a move")->Unit(benchmark::kMillisecond);

}  // namespace
