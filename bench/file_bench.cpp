// How long opening and saving a large scene takes, beside reading and writing its bytes.
#include <benchmark/benchmark.h>
#include <fcntl.h>
#include <malloc.h>
#include <unistd.h>

#include <cstring>

#include "base/files.h"
#include "io/scene_file.h"
#include "large_scene.h"

namespace {

void openFloor(benchmark::State& state) {
    const auto file = io::sceneFile(bench::project(bench::largeCount()), "valley");
    for (auto _ : state) {
        const auto text = base::readFile(file);
        std::size_t lines = 0;
        for (const char* p = text->data();
             (p = static_cast<const char*>(
                  std::memchr(p, '\n', static_cast<std::size_t>(text->data() + text->size() - p)))) != nullptr;
             ++p)
            ++lines;
        benchmark::DoNotOptimize(lines);
    }
}
BENCHMARK(openFloor)->Name("open/floor")->Unit(benchmark::kMillisecond)->UseRealTime();

void openScene(benchmark::State& state) {
    const auto folder = bench::project(bench::largeCount());
    auto workspace = bench::open(folder);
    const auto file = io::sceneFile(folder, "valley");
    double bytesPerObject = 0;
    for (auto _ : state) {
        malloc_trim(0);
        const std::size_t before = bench::residentBytes();
        auto text = base::readFile(file);
        auto scene = io::parseScene("valley", *text, "valley", workspace->session->project().names,
                                    workspace->session->library());
        state.PauseTiming();
        text = std::string();
        malloc_trim(0);
        bytesPerObject =
            static_cast<double>(bench::residentBytes() - before) / static_cast<double>(scene->scene.objectCount());
        scene = base::fail(base::ErrorCode::Io, "");
        state.ResumeTiming();
    }
    state.counters["bytes_per_object"] = bytesPerObject;
}
BENCHMARK(openScene)->Name("open/scene")->Unit(benchmark::kMillisecond)->UseRealTime();

void saveFloor(benchmark::State& state) {
    const auto file = bench::project(bench::largeCount()) / "floor";
    const std::string& text = bench::sceneText(bench::largeCount());
    for (auto _ : state) benchmark::DoNotOptimize(base::writeFileWhole(file, text));
}
BENCHMARK(saveFloor)->Name("save/floor")->Unit(benchmark::kMillisecond)->UseRealTime();

void saveScene(benchmark::State& state) {
    const auto folder = bench::project(bench::largeCount());
    auto workspace = bench::open(folder);
    auto scene = workspace->session->scene("valley");
    const io::SaveJob job{**scene, folder, folder / "scenes" / "valley.scene.jsonl", 0};
    for (auto _ : state) benchmark::DoNotOptimize(io::prepareSave(job));
}
BENCHMARK(saveScene)->Name("save/scene")->Unit(benchmark::kMillisecond)->UseRealTime();

void snapshot(benchmark::State& state) {
    auto workspace = bench::open(bench::project(bench::largeCount()));
    auto scene = workspace->session->scene("valley");
    for (auto _ : state) {
        model::Scene copy = **scene;
        benchmark::DoNotOptimize(copy);
    }
}
BENCHMARK(snapshot)->Name("save/snapshot")->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
