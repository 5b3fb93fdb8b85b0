// Frames of the real view at 1280x800, beside a frame that is only cleared. Needs a display.
#include <benchmark/benchmark.h>

#include <unistd.h>
#include <QApplication>
#include <QLineEdit>
#include <QMouseEvent>

#include <algorithm>
#include <chrono>

#include "app/panels/stock_panel.h"
#include "app/shell/preferences.h"
#include "app/shell/rehearsal.h"
#include "app/view/gestures/handle.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "edit/session.h"
#include "large_scene.h"

namespace {

struct Shown {
    app::Editor editor{{[] { return std::int64_t{0}; }, 5}};
    app::Stage stage{editor};
    app::ViewWidget view{editor, stage};
    explicit Shown(const std::filesystem::path& folder, const std::string& scene) {
        view.resize(1280, 800);
        app::Preferences likes;
        likes.glide = false;
        editor.setPreferences(likes);
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
    for (auto _ : state) benchmark::DoNotOptimize(renderer.draw(frame));
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

// Walking in a rehearsal: the steps that are due, and the picture of them.
void walk(benchmark::State& state, const std::filesystem::path& folder, const std::string& scene) {
    Shown shown(folder, scene);
    shown.view.show();
    QApplication::processEvents();
    app::Rehearsal& rehearsal = shown.editor.rehearsal();
    rehearsal.start(rehearsal.prepare(), shown.editor.scene().settings().viewTo + base::Vec3(0, 1, 0), 30);
    if (!rehearsal.isOn()) return state.SkipWithError("no rehearsal");
    rehearsal.pressed().ahead = 60;
    const auto next = [&] {
        rehearsal.lookBy(1, 0);
        QApplication::processEvents();
        benchmark::DoNotOptimize(shown.view.drawNow());
    };
    for (int i = 0; i < 30; ++i) next();
    std::vector<double> times;
    for (auto _ : state) {
        const auto before = std::chrono::steady_clock::now();
        next();
        times.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - before).count());
    }
    std::sort(times.begin(), times.end());
    state.counters["median_ms"] = times[times.size() / 2];
    state.counters["worst_ms"] = times.back();
    state.counters["drawn"] = static_cast<double>(shown.view.lastDrawn());
    rehearsal.end();
}

void mouse(app::ViewWidget& view, QEvent::Type type, const QPointF& at) {
    QMouseEvent event(type, at, view.mapToGlobal(at), Qt::LeftButton,
                      type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view, &event);
}

// A hundred objects near the first view, dragged by the handle while the camera stands: the whole of a mouse move and
// its picture.
void drag(benchmark::State& state, const std::filesystem::path& folder, const std::string& scene) {
    Shown shown(folder, scene);
    shown.view.show();
    QApplication::processEvents();
    const model::Scene& open = shown.editor.scene();
    std::vector<std::pair<double, base::ObjectId>> near;
    for (model::Slot s = 0; s < open.slotEnd(); ++s)
        if (open.alive(s) && !open.bounds(s).empty() && !open.protectedInTree(s) &&
            open.firstChild(s) == model::kNoSlot)
            near.emplace_back(glm::length(open.bounds(s).centre() - open.settings().viewTo), open.id(s));
    std::sort(near.begin(), near.end());
    std::vector<base::ObjectId> ids;
    for (std::size_t i = 0; i < std::min<std::size_t>(near.size(), 100); ++i) ids.push_back(near[i].second);
    shown.editor.select(ids);
    shown.view.eye().bringIntoView();
    (void)shown.view.drawNow();
    const auto tip = shown.view.gesture<app::PullHandle>().tip(1);
    if (!tip) return state.SkipWithError("no handle in sight");
    mouse(shown.view, QEvent::MouseMove, *tip);
    mouse(shown.view, QEvent::MouseButtonPress, *tip);
    double away = 0;
    for (int i = 0; i < 200; ++i) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 2);  // the camera rests
    for (auto _ : state) {
        away = away > 100 ? 5 : away + 3;
        mouse(shown.view, QEvent::MouseMove, *tip - QPointF(0, away));
        benchmark::DoNotOptimize(shown.view.drawNow());
    }
    mouse(shown.view, QEvent::MouseButtonRelease, *tip);
}

/// A project with so many items: the demo's, again and again under other names.
std::filesystem::path manyItems(std::size_t count) {
    namespace fs = std::filesystem;
    const fs::path folder = fs::temp_directory_path() / ("mellow-bench-items-" + std::to_string(::getpid()));
    fs::remove_all(folder);
    fs::copy(bench::project(100), folder, fs::copy_options::recursive);
    fs::remove_all(folder / ".mellow");
    std::vector<fs::path> models;
    for (const auto& file : fs::directory_iterator(folder / "items")) models.push_back(file.path());
    for (std::size_t i = models.size(); i < count; ++i) {
        const fs::path& model = models[i % models.size()];
        fs::copy_file(model, folder / "items" / (model.stem().string() + " " + std::to_string(i) + ".glb"));
    }
    return folder;
}

// What one waits for after a letter: the tiles are found, laid out and painted.
void typeInStock(benchmark::State& state) {
    app::Editor editor{{[] { return std::int64_t{0}; }, 5}};
    if (!editor.openProject(manyItems(500), io::OpenMode::Edit, "valley")) return state.SkipWithError("no project");
    app::GlRenderer renderer;
    app::StockPanel stock(editor, renderer);
    stock.resize(220, 700);
    stock.show();
    for (int i = 0; i < 1000; ++i) QApplication::processEvents(QEventLoop::AllEvents, 2);  // its pictures are made
    auto* search = stock.findChild<QLineEdit*>("stockSearch");
    const QString words[] = {"b", "be", "ben", "benc", "bench", "a", "1", "lantern 2", ""};
    std::size_t i = 0;
    for (auto _ : state) {
        search->setText(words[i++ % std::size(words)]);
        benchmark::DoNotOptimize(stock.grab());
    }
    state.counters["items"] = static_cast<double>(editor.session().library().items().size());
}

void searchNames(benchmark::State& state) {
    std::vector<std::string> names;
    for (int i = 0; i < 500; ++i) names.push_back("Towpath lantern " + std::to_string(i));
    for (auto _ : state) {
        std::size_t found = 0;
        for (const std::string& name : names) found += base::lowered(name).find("bench") != std::string::npos ? 1 : 0;
        benchmark::DoNotOptimize(found);
    }
}
BENCHMARK(searchNames)->Name("stock/floor (500 names searched)")->Unit(benchmark::kMillisecond);

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    benchmark::Initialize(&argc, argv);
    const auto frames = [](const std::string& size, const char* what, auto work) {
        benchmark::RegisterBenchmark(("frame/" + size + ", " + what).c_str(), work)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Iterations(100);
    };
    for (const auto& [name, count, scene] : {std::tuple("demo", std::size_t{100}, "lower-basin"),
                                             {"100k", std::size_t{100'000}, "valley"},
                                             {"large", bench::largeCount(), "valley"}}) {
        const auto of = [count = count, scene = scene](auto work) {
            return [=](benchmark::State& s) { work(s, bench::project(count), scene); };
        };
        frames(name, "orbiting", of(orbit));
        frames(name, "still, dragging 100", of(drag));
        frames(name, "rehearsing", of(walk));
    }
    benchmark::RegisterBenchmark("stock/500, a letter typed", typeInStock)
        ->Unit(benchmark::kMillisecond)
        ->UseRealTime()
        ->Iterations(90);
    benchmark::RunSpecifiedBenchmarks();
    std::_Exit(0);
}
