#include "cli/route_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "cli/names.h"
#include "cli/verbs.h"
#include "io/csv.h"
#include "io/json_text.h"
#include "query/route.h"
#include "query/route_network.h"

namespace cli {
namespace {

struct Arguments {
    std::string path;
    bool json = false, csv = false;
};

/// The stops in order: name and metres along it.
io::Json stopsOf(const model::Scene& scene, model::Slot route, const shape::Curve& curve) {
    io::Json all = io::Json::array();
    const auto& listed = scene.facet<model::Route>(route)->stops;
    const auto stops = query::stopsOf(scene, route, curve);
    for (std::size_t i = 0; i < stops.size(); ++i) {
        io::Json one = {{"id", base::toText(listed[i].object)}};
        if (stops[i].slot != model::kNoSlot) {
            one["name"] = std::string(scene.nameText(stops[i].slot));
            one["metres"] = stops[i].metres;
        }
        all.push_back(std::move(one));
    }
    return all;
}

io::Json forksOf(const model::Scene& scene, model::Slot route) {
    io::Json all = io::Json::array();
    for (const query::Branch& branch : query::branchesOf(scene, route))
        all.push_back({{"point", branch.point + 1},
                       {"to", std::string(scene.nameText(branch.to))},
                       {"at", branch.metres},
                       {"share", branch.share}});
    return all;
}

int listRoutes(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    io::CsvWriter csv(v.io.out);
    if (a.csv)
        csv.row(
            {"scene", "id", "route", "closed", "laps", "length", "seconds", "points", "stops", "steepest", "sharpest"});
    io::Json all = io::Json::array();
    for (const std::string& name : opened->scenes) {
        auto read = opened->session().scene(name);
        if (!read) return v.io.fail(read.error());
        const model::Scene& scene = **read;
        for (const model::Slot s : scene.subtree(model::kNoSlot)) {
            const auto* route = scene.detail(s) ? scene.facet<model::Route>(s) : nullptr;
            if (route == nullptr) continue;
            const shape::Curve curve = query::curveOf(scene, s);
            const query::RouteFacts facts = query::factsOf(*route, curve);
            const std::string called(scene.nameText(s)), id = base::toText(scene.id(s));
            if (a.csv) {
                csv.row({name, id, called, route->closed ? "yes" : "no", std::to_string(route->laps),
                         fmt::format("{:.3f}", facts.lap), fmt::format("{:.2f}", facts.seconds),
                         std::to_string(route->points.size()), std::to_string(route->stops.size()),
                         fmt::format("{:.1f}", facts.steepestDegrees), fmt::format("{:.2f}", facts.sharpestRadius)});
            } else if (a.json) {
                all.push_back({{"scene", name},
                               {"route", {{"id", id}, {"name", called}}},
                               {"closed", route->closed},
                               {"laps", route->laps},
                               {"length", facts.lap},
                               {"seconds", facts.seconds},
                               {"points", route->points.size()},
                               {"steepest", facts.steepestDegrees},
                               {"sharpest", facts.sharpestRadius},
                               {"forks", forksOf(scene, s)},
                               {"comesToAnEnd", query::comesToAnEnd(scene, s)},
                               {"stops", stopsOf(scene, s, curve)}});
            } else {
                v.io.out << fmt::format("{}: {}: {:.2f} m, {:.1f} s, {} points, {} stops\n", name, called, facts.lap,
                                        facts.seconds, route->points.size(), route->stops.size());
            }
        }
    }
    if (a.json) v.io.out << io::toText(all) << "\n";
    return exitCode::kFine;
}

}  // namespace

void addRouteCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* routes = addVerb(app, "routes", "The routes of a scene: length, time, stops", "A project or a scene file", a,
                           verbs, listRoutes);
    routes->add_flag("--csv", a->csv, "As a table");
    routes->add_flag("--json", a->json, "For other programs");
}

}  // namespace cli
