#include "cli/cue_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "cli/names.h"
#include "cli/verbs.h"
#include "io/csv.h"
#include "io/json_text.h"
#include "model/facets/cues.h"
#include "ops/acts.h"

namespace cli {
namespace {

struct Arguments {
    std::string path, where;
    bool json = false, csv = false;
};

int listCues(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    io::CsvWriter csv(v.io.out);
    if (a.csv) csv.row({"scene", "id", "object", "cue", "armed", "any", "times", "rest", "when", "then"});
    io::Json all = io::Json::array();
    for (const std::string& name : opened->scenes) {
        auto read = opened->session().scene(name);
        if (!read) return v.io.fail(read.error());
        const model::Scene& scene = **read;
        auto among = chosen(scene, a.where);
        if (!among && opened->scenes.size() == 1) return v.io.fail(among.error());
        if (!among) continue;  // another scene may have some
        for (const base::ObjectId id : *among) {
            const model::Slot s = scene.find(id);
            const auto* cues = scene.facet<model::Cues>(s);
            if (cues == nullptr) continue;
            for (const model::Cue& cue : cues->all) {
                const std::string object(scene.nameText(s)), when = model::whenText(cue, scene),
                                                             then = model::thenText(cue, scene);
                if (a.csv) {
                    csv.row({name, base::toText(id), object, cue.name, cue.armed ? "yes" : "no", cue.any ? "yes" : "no",
                             std::to_string(cue.times), fmt::format("{:g}", cue.rest), when, then});
                } else if (a.json) {
                    all.push_back({{"scene", name},
                                   {"object", {{"id", base::toText(id)}, {"name", object}}},
                                   {"cue", cue.name},
                                   {"armed", cue.armed},
                                   {"any", cue.any},
                                   {"times", cue.times},
                                   {"rest", cue.rest},
                                   {"when", when},
                                   {"then", then}});
                } else {
                    v.io.out << fmt::format("{}{} · {}{}: when {}, then {}\n",
                                            opened->scenes.size() > 1 ? name + ": " : "", object, cue.name,
                                            cue.armed ? "" : " (not armed)", when.empty() ? "set off" : when, then);
                }
            }
        }
    }
    if (a.json) v.io.out << io::toText(all) << "\n";
    return exitCode::kFine;
}

/// What each act adds and takes, and what is there in it.
int listActs(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    io::CsvWriter csv(v.io.out);
    if (a.csv)
        csv.row({"scene", "id", "act", "begins", "adds", "takes", "moved", "changed", "objects", "triangles", "cost"});
    io::Json all = io::Json::array();
    for (const std::string& name : opened->scenes) {
        auto read = opened->session().scene(name);
        if (!read) return v.io.fail(read.error());
        const model::Scene& scene = **read;
        for (const base::ObjectId id : ops::actsOf(scene)) {
            const bool begins = scene.facet<model::Act>(scene.find(id))->begins;
            const ops::ActSums sums = ops::sumsOf(scene, opened->session().library(), id);
            const std::string act(scene.nameText(scene.find(id)));
            if (a.csv) {
                csv.row({name, base::toText(id), act, begins ? "yes" : "no", std::to_string(sums.adds),
                         std::to_string(sums.takes), std::to_string(sums.poses), std::to_string(sums.values),
                         std::to_string(sums.objects), std::to_string(sums.triangles), fmt::format("{:g}", sums.cost)});
            } else if (a.json) {
                all.push_back({{"scene", name},
                               {"act", {{"id", base::toText(id)}, {"name", act}}},
                               {"begins", begins},
                               {"adds", sums.adds},
                               {"takes", sums.takes},
                               {"moved", sums.poses},
                               {"changed", sums.values},
                               {"objects", sums.objects},
                               {"triangles", sums.triangles},
                               {"cost", sums.cost}});
            } else {
                v.io.out << fmt::format(
                    "{}: {}{}: adds {}, takes {}, {} elsewhere, {} otherwise; {} objects, {} "
                    "triangles, cost {:g}\n",
                    name, act, begins ? " (begins)" : "", sums.adds, sums.takes, sums.poses, sums.values, sums.objects,
                    sums.triangles, sums.cost);
            }
        }
    }
    if (a.json) v.io.out << io::toText(all) << "\n";
    return exitCode::kFine;
}

}  // namespace

void addCueCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* cues = addVerb(app, "cues", "What happens when: the cues of a scene, one a line", "A project or a scene file",
                         a, verbs, listCues);
    cues->add_option("--where", a->where, "Of which objects, as list takes filters");
    cues->add_flag("--csv", a->csv, "As a table");
    cues->add_flag("--json", a->json, "For other programs");
    auto b = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* acts = addVerb(app, "acts", "The acts of a scene: what each adds and takes, and what is there in it",
                         "A project or a scene file", b, verbs, listActs);
    acts->add_flag("--csv", b->csv, "As a table");
    acts->add_flag("--json", b->json, "For other programs");
}

}  // namespace cli
