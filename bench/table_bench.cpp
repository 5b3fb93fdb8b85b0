// The table at size, beside going over the names alone.
#include <benchmark/benchmark.h>

#include "large_scene.h"
#include "ops/table.h"

namespace {

struct Table {
    std::unique_ptr<io::Workspace> workspace = bench::open(bench::project(bench::largeCount()));
    const model::Scene& scene = **workspace->session->scene("valley");
    ops::TableSource source{workspace->session->library(), scene, {}};
    std::vector<ops::TableColumn> columns = ops::tableColumns(source.library, scene);
    std::vector<model::Slot> rows = scene.subtree(model::kNoSlot);
    const ops::TableColumn& column(const char* key) const {
        return *std::find_if(columns.begin(), columns.end(), [&](const auto& c) { return c.key == key; });
    }
};

void namesFloor(benchmark::State& state) {
    Table table;
    for (auto _ : state) {
        std::size_t found = 0;
        for (model::Slot s : table.rows)
            found += table.scene.nameText(s).find("heron") != std::string_view::npos ? 1 : 0;
        benchmark::DoNotOptimize(found);
    }
}
BENCHMARK(namesFloor)->Name("table/floor (names alone)")->Unit(benchmark::kMillisecond);

void filter(benchmark::State& state, const char* text) {
    Table table;
    const ops::TableFilter filter(text, table.columns);
    for (auto _ : state) {
        std::size_t found = 0;
        for (model::Slot s : table.rows) found += filter.fits(table.source, s) ? 1 : 0;
        benchmark::DoNotOptimize(found);
    }
}
BENCHMARK_CAPTURE(filter, name, "heron")->Name("table/filter by name")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(filter, range, "x=-100..100")->Name("table/filter by range")->Unit(benchmark::kMillisecond);

void sorted(benchmark::State& state, const char* key) {
    Table table;
    for (auto _ : state) {
        std::vector<model::Slot> rows = table.rows;
        ops::sortRows(table.source, rows, table.column(key), false);
        benchmark::DoNotOptimize(rows);
    }
}
BENCHMARK_CAPTURE(sorted, x, "x")->Name("table/sort by X")->Unit(benchmark::kMillisecond)->Iterations(2);
BENCHMARK_CAPTURE(sorted, name, "name")->Name("table/sort by name")->Unit(benchmark::kMillisecond)->Iterations(2);

void screen(benchmark::State& state) {
    Table table;
    std::size_t at = 0;
    for (auto _ : state) {
        for (std::size_t row = 0; row < 40; ++row)
            for (const char* key : {"name", "kind", "x", "y", "z", "turnY", "sizeX", "children"})
                benchmark::DoNotOptimize(
                    ops::cellText(table.source, table.rows[(at + row) % table.rows.size()], table.column(key)));
        at += 997;
    }
}
BENCHMARK(screen)->Name("table/a screen of 40 rows")->Unit(benchmark::kMicrosecond);

}  // namespace
