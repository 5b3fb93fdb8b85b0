// Frames of the real view at 1280x800, beside a frame that is only cleared. Needs a display.
#include <benchmark/benchmark.h>

#include <QApplication>
#include <algorithm>

#include "app/view/view_widget.h"
#include "large_scene.h"

namespace {

struct Shown {
    app::Editor editor{{[] { return std::int64_t{0}; }, 5}};
    app::ViewWidget view{editor};
    explicit Shown(const std::filesystem::path& folder, const std::string& scene) {
        view.resize(1280, 800);
        if (!editor.openProject(folder, io::OpenMode::Edit, scene)) std::abort();
    }
};

void clearOnly(benchmark::State& state) {
    app::GlRenderer renderer;
    const render::DrawList nothing;
    app::Frame frame;
    frame.width = 1280;
    frame.height = 800;
    frame.list = &nothing;
    frame.shadows = frame.lattice = false;
    for (auto _ : state) benchmark::DoNotOptimize(renderer.draw(frame, app::dusk()));
}
BENCHMARK(clearOnly)->Name("frame/floor (sky only)")->Unit(benchmark::kMillisecond)->UseRealTime();

void orbit(benchmark::State& state, const std::filesystem::path& folder, const std::string& scene) {
    Shown shown(folder, scene);
    render::Camera camera = shown.view.camera();
    for (int i = 0; i < 30; ++i) {  // until the detail fits the time
        camera.orbit({0, 0, 0}, 1, 0);
        shown.view.setCamera(camera);
        (void)shown.view.drawNow();
    }
    std::vector<double> times;
    for (auto _ : state) {
        camera.orbit({0, 0, 0}, 1, 0);
        shown.view.setCamera(camera);
        benchmark::DoNotOptimize(shown.view.drawNow());
        times.push_back(shown.view.lastFrameMs());
    }
    std::sort(times.begin(), times.end());
    state.counters["median_ms"] = times[times.size() / 2];
    state.counters["worst_ms"] = times.back();
    state.counters["drawn"] = static_cast<double>(shown.view.lastDrawn());
}

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    benchmark::Initialize(&argc, argv);
    benchmark::RegisterBenchmark("frame/demo, orbiting",
                                 [](benchmark::State& s) { orbit(s, bench::project(100), "lower-basin"); })
        ->Unit(benchmark::kMillisecond)
        ->UseRealTime()
        ->Iterations(60);
    benchmark::RegisterBenchmark("frame/100k, orbiting",
                                 [](benchmark::State& s) { orbit(s, bench::project(100'000), "valley"); })
        ->Unit(benchmark::kMillisecond)
        ->UseRealTime()
        ->Iterations(60);
    benchmark::RegisterBenchmark("frame/large, orbiting",
                                 [](benchmark::State& s) { orbit(s, bench::project(bench::largeCount()), "valley"); })
        ->Unit(benchmark::kMillisecond)
        ->UseRealTime()
        ->Iterations(60);
    benchmark::RunSpecifiedBenchmarks();
    std::_Exit(0);
}
