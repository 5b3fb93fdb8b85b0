// A list of 100,000 rows comes in, beside reading and parsing it; and goes out, beside going over the objects.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include "base/files.h"
#include "edit/draft.h"
#include "hand/take_in.h"
#include "hand/write.h"
#include "io/csv.h"
#include "io/json_text.h"
#include "large_scene.h"

namespace {

constexpr std::size_t kRows = 100'000;

/// Written once, to be read from disk each time.
const std::filesystem::path& listFile() {
    static const std::filesystem::path file = [] {
        std::string text = "name,item,x,y,z,heading\n";
        for (std::size_t i = 0; i < kRows; ++i)
            text += fmt::format("Row {},bench,{:.3f},0,{:.3f},{}\n", i, static_cast<double>(i % 400),
                                static_cast<double>(i) / 400, i % 360);
        std::filesystem::path path = std::filesystem::temp_directory_path() / "mellow-bench-list.csv";
        (void)base::writeFileWhole(path, text);
        return path;
    }();
    return file;
}

hand::Recipe recipe() {
    std::vector<std::string> problems;
    return hand::recipeFrom(
        "list",
        io::toValues(io::Json::parse(
            R"({"form": "csv", "fields": [{"name": "name", "is": "name"}, {"name": "item", "is": "item"}, {"name": "x", "is": "x"}, {"name": "y", "is": "y"}, {"name": "z", "is": "z"}, {"name": "heading", "is": "turnY"}]})")),
        problems);
}

void readFloor(benchmark::State& state) {
    const auto& file = listFile();
    for (auto _ : state) benchmark::DoNotOptimize(io::parseCells(*base::readFile(file), ','));
}
BENCHMARK(readFloor)->Name("hand/floor (read and parse 100,000 rows)")->Unit(benchmark::kMillisecond);

void takeIn(benchmark::State& state) {
    const auto workspace = bench::open(bench::project(1000));
    edit::Session& session = *workspace->session;
    const hand::Recipe list = recipe();
    const auto& file = listFile();
    for (auto _ : state) {
        const auto read = hand::read(list, *base::readFile(file), "list.csv");
        const hand::Source source{**session.scene("valley"), session.library(), {}};
        const hand::TakeInPlan plan = hand::planTakeIn(source, session, list, *read);
        edit::Draft draft(session, "valley", "Take in");  // taken back when it goes
        if (!hand::takeIn(draft, plan, {}) || plan.added != kRows) return state.SkipWithError("not taken in");
        state.PauseTiming();
        draft.rollback();
        state.ResumeTiming();
    }
}
BENCHMARK(takeIn)->Name("hand/take in 100,000 rows")->Unit(benchmark::kMillisecond)->Iterations(5);

void write(benchmark::State& state) {
    const auto workspace = bench::open(bench::project(kRows));
    const hand::Recipe list = recipe();
    const hand::Source source{**workspace->session->scene("valley"), workspace->session->library(), {}};
    for (auto _ : state) benchmark::DoNotOptimize(hand::write(source, list));
}
BENCHMARK(write)->Name("hand/write 100,000 rows")->Unit(benchmark::kMillisecond)->Iterations(5);

}  // namespace
