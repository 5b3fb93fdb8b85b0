#include "cli/rehearse_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <atomic>
#include <ostream>
#include <thread>

#include "base/files.h"
#include "base/text.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/rehearsal_file.h"
#include "ops/move.h"
#include "ops/scenes.h"
#include "rehearse/plan.h"
#include "rehearse/settle.h"

namespace cli {
namespace {

namespace fs = std::filesystem;
using base::Vec3;
using io::Json;

constexpr double kThere = 1.5;  // metres: who came so near has reached it

struct Arguments {
    std::vector<std::string> paths, walks, inputs, expected;
    std::string path, where, trace, against, shard;
    std::vector<double> at;
    std::optional<double> seconds;
    bool json = false, keep = false;
};

/// One run of the list: a scene, and what is done in it.
struct Job {
    const Opened* opened;
    std::string scene, walk;  ///< the file of its walk or inputs; empty: nothing is done
    std::optional<rehearse::Plan> plan;
    std::optional<rehearse::Inputs> inputs;
};
struct Expectation {
    std::string text;
    bool met = false;
    std::string why;
};
struct Outcome {
    std::string scene, walk, error;
    rehearse::Trace trace;
    std::vector<Expectation> expected;
    std::optional<rehearse::Parting> parting;
    std::vector<Json> entries;
    bool finished = true;
    bool isFine() const {
        const bool all = std::all_of(expected.begin(), expected.end(), [](const Expectation& e) { return e.met; });
        return error.empty() && finished && all && (!parting || parting->alike());
    }
};

/// What a run may be expected to show; `name` is an object's.
bool isWord(std::string_view word, bool named) {
    constexpr std::string_view kNamed[] = {"reach", "jump", "used",   "taken", "entered", "moved",
                                           "still", "goal", "missed", "off",   "end"};
    constexpr std::string_view kAlone[] = {"rest", "finish", "no-falls", "no-hits", "nothing-lost"};
    return named ? std::find(std::begin(kNamed), std::end(kNamed), word) != std::end(kNamed)
                 : std::find(std::begin(kAlone), std::end(kAlone), word) != std::end(kAlone);
}

std::pair<std::string, std::string> partsOf(const std::string& text) {
    const auto colon = text.find(':');
    if (colon == std::string::npos) return {text, ""};
    return {text.substr(0, colon), std::string(base::trimmed(std::string_view(text).substr(colon + 1)))};
}

model::Slot namedSlot(const model::Scene& scene, const std::string& name) {
    const auto id = objectOf(scene, name);
    return id ? scene.find(*id) : model::kNoSlot;
}

/// What a run is measured against.
struct Ran {
    const rehearse::Level& level;
    const rehearse::Trace& trace;
    const rehearse::Ground* ground;
    bool hasWalk, finished, quiet;
};

bool happened(const Ran& ran, rehearse::What what, base::ObjectId id) {
    return std::any_of(ran.trace.entries.begin(), ran.trace.entries.end(),
                       [&](const rehearse::Entry& e) { return e.what == what && e.object == id; });
}

/// Whoever walked came to it; without a walk: there is a way over the ground, with a jump where that may be.
void expectReach(const Ran& ran, model::Slot slot, bool jumps, Expectation& e) {
    if (ran.hasWalk) {
        const base::Aabb box = rehearse::placeOf(*ran.level.scene, slot);
        double nearest = 1e9;
        for (const rehearse::PathPoint& p : ran.trace.path) {
            const Vec3 near = glm::clamp(p.feet, box.low, box.high);
            nearest = std::min(nearest, glm::length(near - p.feet));
        }
        e.met = nearest <= kThere;
        if (!e.met) e.why = fmt::format("the nearest that one came is {:.2f} m", nearest);
        return;
    }
    if (ran.ground == nullptr || ran.level.starts.empty()) {
        e.why = "there is no start";
        return;
    }
    const rehearse::World world(ran.level);
    const auto map = ran.ground->reach(ran.level.starts.front().feet, world);
    const auto best = rehearse::Ground::reachOf(map, *ran.level.scene, slot);
    e.met = best && (*best == rehearse::Reach::Walk || (jumps && *best == rehearse::Reach::Jump));
    if (!e.met)
        e.why = !best                            ? "there is no ground near it"
                : *best == rehearse::Reach::Jump ? "only by a jump"
                                                 : "there is no way to it from the start";
}

/// What went off last, for who asks why something did not come about.
std::string lastCues(const Ran& ran) {
    std::string last;
    int found = 0;
    for (auto e = ran.trace.entries.rbegin(); e != ran.trace.entries.rend() && found < 3; ++e)
        if (e->what == rehearse::What::WentOff && ++found > 0)
            last = fmt::format("{:.1f} s {}", e->seconds(), rehearse::textOf(*e, ran.level)) +
                   (last.empty() ? "" : "; " + last);
    return last.empty() ? "no cue went off" : "the last cues: " + last;
}

/// "won" or "lost".
void expectEnd(const Ran& ran, const std::string& name, Expectation& e) {
    const bool won = ran.trace.count(rehearse::What::Won) > 0, lost = ran.trace.count(rehearse::What::Lost) > 0;
    e.met = (name == "won" && won) || (name == "lost" && lost);
    if (e.met) return;
    e.why = (won ? "it was won" : lost ? "it was lost" : "it has not ended") + ("; " + lastCues(ran));
}

Expectation expect(const std::string& text, const Ran& ran) {
    using rehearse::What;
    Expectation e{text, false, {}};
    const auto [word, name] = partsOf(text);
    const auto count = [&](What what) { return ran.trace.count(what); };
    const auto none = [&](What what) {
        e.met = count(what) == 0;
        if (!e.met) e.why = fmt::format("{} times", count(what));
    };
    if (word == "rest") {
        e.met = ran.quiet && count(What::Stopped) == 0;
        if (!e.met) e.why = ran.quiet ? "something was lost" : "something still moves";
    } else if (word == "finish") {
        e.met = ran.finished;
    } else if (word == "no-falls") {
        none(What::Fell);
    } else if (word == "no-hits") {
        none(What::Hit);
    } else if (word == "nothing-lost") {
        none(What::Stopped);
    } else if (word == "end") {
        expectEnd(ran, name, e);
    } else {
        const model::Slot slot = namedSlot(*ran.level.scene, name);
        if (slot == model::kNoSlot) {
            e.why = "there is no such object";
            return e;
        }
        const base::ObjectId id = ran.level.scene->id(slot);
        if (word == "reach" || word == "jump") {
            expectReach(ran, slot, word == "jump", e);
            return e;
        }
        const What what = word == "used"      ? What::Used
                          : word == "taken"   ? What::Taken
                          : word == "entered" ? What::Entered
                          : word == "goal"    ? What::GoalMet
                          : word == "missed"  ? What::GoalMissed
                          : word == "off"     ? What::WentOff
                                              : What::Moved;
        e.met = happened(ran, what, id) == (word != "still");
        if (!e.met && (word == "goal" || word == "missed" || word == "off")) e.why = lastCues(ran);
    }
    return e;
}

rehearse::LevelSources sourcesOf(const Opened& opened, const query::Shapes& shapes, const std::string& scene) {
    return rehearse::sourcesOf(opened.session().project(), opened.session().library(), shapes, scene);
}

/// Errors: what the walk or the ground say.
base::Result<rehearse::Walked> play(const std::shared_ptr<const rehearse::Level>& level, const Job& job,
                                    const Arguments& a, const rehearse::Ground* ground) {
    if (job.plan) return rehearse::follow(level, *job.plan, ground, a.seconds.value_or(600));
    rehearse::Walked walked;
    if (job.inputs) {
        walked.inputs = *job.inputs;
    } else {
        if (a.at.size() == 3)
            walked.inputs.start.feet = {a.at[0], a.at[1], a.at[2]};
        else if (!level->starts.empty())
            walked.inputs.start = level->starts.front();
        else
            return base::fail(base::ErrorCode::BadInput, "There is no start; --at x y z says where to begin.");
    }
    walked.trace = rehearse::replay(level, walked.inputs, a.seconds.value_or(job.inputs ? 0 : 10));
    walked.finished = true;
    return walked;
}

Outcome runOne(const Job& job, const Arguments& a, const query::Shapes& shapes, const model::Scene& snapshot,
               const std::optional<rehearse::Trace>& against) {
    Outcome outcome;
    outcome.scene = job.scene;
    outcome.walk = job.walk;
    const auto level = std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(snapshot), sourcesOf(*job.opened, shapes, job.scene)));
    const bool asksGround = std::any_of(a.expected.begin(), a.expected.end(), [](const std::string& text) {
        return text.rfind("reach:", 0) == 0 || text.rfind("jump:", 0) == 0;
    });
    std::unique_ptr<rehearse::Ground> ground;
    using Does = rehearse::Order::Does;
    const bool goes = job.plan && std::any_of(job.plan->orders.begin(), job.plan->orders.end(), [](const auto& order) {
                          return order.does == Does::Go || order.does == Does::Run || order.does == Does::Use ||
                                 order.does == Does::Take;
                      });
    if (goes || (asksGround && !job.plan && !job.inputs)) {
        base::Progress progress;
        auto made = rehearse::Ground::make(*level, progress);
        if (!made) return outcome.error = made.error().message, outcome;
        ground = std::move(*made);
    }
    auto walked = play(level, job, a, ground.get());
    if (!walked) return outcome.error = walked.error().message, outcome;
    outcome.trace = std::move(walked->trace);
    outcome.finished = walked->finished;
    // Still: nothing moved in the last tenth of a second.
    bool quiet = true;
    for (const rehearse::Track& track : outcome.trace.tracks)
        quiet = quiet &&
                (track.keys.empty() || track.keys.back().step < outcome.trace.steps - rehearse::kStepsPerSecond / 10);
    const Ran ran{*level, outcome.trace, ground.get(), job.plan || job.inputs, outcome.finished, quiet};
    for (const std::string& text : a.expected) outcome.expected.push_back(expect(text, ran));
    if (against) outcome.parting = rehearse::compare(*against, outcome.trace);
    for (const rehearse::Entry& e : outcome.trace.entries) outcome.entries.push_back(io::toJson(e, *level));
    return outcome;
}

Json toJson(const std::vector<rehearse::StopTimes>& stops) {
    Json all = Json::array();
    const auto seconds = [](const std::optional<double>& s) { return s ? Json(*s) : Json(); };
    for (const rehearse::StopTimes& s : stops)
        all.push_back({{"stop", base::toText(s.stop)},
                       {"route", base::toText(s.route)},
                       {"time", s.time},
                       {"before", seconds(s.first)},
                       {"now", seconds(s.second)}});
    return all;
}

Json toJson(const Outcome& o) {
    Json expected = Json::array();
    for (const Expectation& e : o.expected) expected.push_back({{"expect", e.text}, {"met", e.met}, {"why", e.why}});
    Json one = {{"scene", o.scene}, {"walk", o.walk}, {"fine", o.isFine()}};
    if (!o.error.empty()) return one["error"] = o.error, one;
    one["seconds"] = o.trace.seconds();
    one["sum"] = fmt::format("{:016x}", o.trace.sum());
    one["finished"] = o.finished;
    one["expected"] = std::move(expected);
    if (o.parting) {
        one["parts"] = {{"alike", o.parting->alike()},
                        {"seconds", o.parting->step < 0 ? Json() : Json(o.parting->step * rehearse::kStep)},
                        {"farthest", o.parting->farthestMetres},
                        {"stops", toJson(o.parting->stops)}};
    }
    one["entries"] = o.entries;
    return one;
}

void print(const Outcome& o, std::ostream& out) {
    out << fmt::format("{}{}: ", o.scene, o.walk.empty() ? "" : " · " + fs::path(o.walk).filename().string());
    if (!o.error.empty()) {
        out << o.error << "\n";
        return;
    }
    out << fmt::format("{:.2f} s, {} entries, {}\n", o.trace.seconds(), o.entries.size(),
                       o.isFine() ? "fine" : "not as expected");
    for (const Json& e : o.entries)
        out << fmt::format("{:8.2f}  {}\n", e["seconds"].get<double>(), e["says"].get<std::string>());
    for (const Expectation& e : o.expected)
        out << fmt::format("  {} {}{}\n", e.met ? "✓" : "✗", e.text, e.why.empty() ? "" : ": " + e.why);
    if (!o.parting) return;
    if (o.parting->alike()) out << "  as before\n";
    if (o.parting->step >= 0)
        out << fmt::format("  parts after {:.2f} s; at most {:.2f} m apart\n", o.parting->step * rehearse::kStep,
                           o.parting->farthestMetres);
    for (const auto& [all, mark] : {std::pair{&o.parting->onlyFirst, '-'}, {&o.parting->onlySecond, '+'}})
        for (const rehearse::Entry& e : *all)
            out << fmt::format("  {} {:.2f} s {}\n", mark, e.seconds(), wordOf(e.what));
}

/// The runs that are asked for: each walk in each scene it is for.
base::Result<std::vector<Job>> jobsOf(const std::vector<Opened>& all, const Arguments& a) {
    std::vector<Job> jobs, with;
    const auto read = [&](const std::vector<std::string>& files, const auto& take) -> base::Status {
        for (const std::string& file : files) {
            auto text = base::readFile(file);
            if (!text) return tl::unexpected(text.error());
            Job job{nullptr, {}, file, {}, {}};
            if (base::Status taken = take(*text, job); !taken)
                return base::fail(taken.error().code, file + ": " + taken.error().message);
            with.push_back(std::move(job));
        }
        return {};
    };
    base::Status done = read(a.walks, [](const std::string& text, Job& job) -> base::Status {
        auto plan = rehearse::planFrom(text);
        if (!plan) return tl::unexpected(plan.error());
        job.scene = plan->scene;
        job.plan = std::move(*plan);
        return {};
    });
    if (done)
        done = read(a.inputs, [](const std::string& text, Job& job) -> base::Status {
            auto inputs = rehearse::inputsFrom(text);
            if (!inputs) return tl::unexpected(inputs.error());
            job.scene = inputs->scene;
            job.inputs = std::move(*inputs);
            return {};
        });
    if (!done) return tl::unexpected(done.error());
    for (const Opened& opened : all)
        for (const std::string& scene : opened.scenes) {
            if (with.empty()) jobs.push_back({&opened, scene, {}, {}, {}});
            for (const Job& job : with)
                if (job.scene.empty() || job.scene == scene) {
                    jobs.push_back(job);
                    jobs.back().opened = &opened;
                    jobs.back().scene = scene;
                }
        }
    return jobs;
}

base::Status writeTraces(const std::vector<Outcome>& outcomes, const Arguments& a, const Streams& io) {
    if (a.trace.empty()) return {};
    const bool many = outcomes.size() > 1;
    for (const Outcome& o : outcomes) {
        if (!o.error.empty()) continue;
        const std::string walk = o.walk.empty() ? "" : "-" + fs::path(o.walk).stem().string();
        const fs::path file = many ? fs::path(a.trace) / (o.scene + walk + ".trace.jsonl") : fs::path(a.trace);
        if (many) {
            std::error_code error;
            fs::create_directories(a.trace, error);
        }
        if (base::Status written = writeOut(file, io::formatTrace(o.trace), io); !written) return written;
    }
    return {};
}

int rehearsePaths(const Arguments& a, const Verbs& v) {
    for (const std::string& text : a.expected) {
        const auto [word, name] = partsOf(text);
        if (!isWord(word, !name.empty()) || (word == "end" && name != "won" && name != "lost"))
            return v.io.err << "mellow: “" << base::forTerminal(text)
                            << "” cannot be expected; reach:, jump:, used:, taken:, entered:, moved:, goal:, missed:, "
                               "off: and still: with a "
                               "name, end:won, end:lost, rest, finish, no-falls, no-hits and nothing-lost can.\n",
                   exitCode::kUsage;
    }
    const auto shard = shardFrom(a.shard);
    if (!shard) return v.io.err << "mellow: " << shard.error().message << "\n", exitCode::kUsage;
    if (a.seconds && !(*a.seconds >= 0 && *a.seconds <= 3600))
        return v.io.err << "mellow: --seconds is from 0 to 3600.\n", exitCode::kUsage;
    std::optional<rehearse::Trace> against;
    if (!a.against.empty()) {
        auto text = base::readFile(a.against);
        if (!text) return v.io.fail(text.error());
        auto trace = io::parseTrace(*text, a.against);
        if (!trace) return v.io.fail(trace.error());
        against = std::move(*trace);
    }
    std::vector<Opened> all;
    for (const std::string& path : a.paths) {
        auto opened = open(path, io::OpenMode::ReadOnly, v.chance);
        if (!opened) return v.io.fail(opened.error());
        if (opened->isWhole) opened->scenes = ops::scenesInPlay(opened->session());
        warnOfDamage(*opened->workspace, v.io);
        all.push_back(std::move(*opened));
    }
    auto jobs = jobsOf(all, a);
    if (!jobs) return v.io.fail(jobs.error());
    if (jobs->empty()) return v.io.err << "mellow: no scene is one that a walk is for.\n", exitCode::kUsage;
    std::size_t ordinal = 0;
    std::erase_if(*jobs, [&](const Job&) { return !shard->takes(ordinal++); });
    // Snapshots and shapes on this thread; then as many runs at once as there are cores.
    std::map<const Opened*, query::Shapes> shapes;
    std::vector<model::Scene> scenes;
    for (const Job& job : *jobs) {
        if (!shapes.contains(job.opened)) shapes.emplace(job.opened, allShapes(*job.opened->workspace));
        auto scene = job.opened->session().scene(job.scene);
        if (!scene) return v.io.fail(scene.error());
        scenes.push_back(**scene);
    }
    std::vector<Outcome> outcomes(jobs->size());
    std::atomic<std::size_t> next = 0;
    const auto work = [&] {
        for (std::size_t i = next++; i < outcomes.size(); i = next++)
            outcomes[i] = runOne((*jobs)[i], a, shapes.at((*jobs)[i].opened), scenes[i], against);
    };
    std::vector<std::thread> workers;
    const std::size_t atOnce =
        std::min<std::size_t>(outcomes.size(), std::max(1U, std::thread::hardware_concurrency()));
    for (std::size_t i = 1; i < atOnce; ++i) workers.emplace_back(work);
    work();
    for (std::thread& worker : workers) worker.join();
    if (base::Status written = writeTraces(outcomes, a, v.io); !written) return v.io.fail(written.error());
    bool fine = true, failed = false;
    Json runs = Json::array();
    for (const Outcome& o : outcomes) {
        fine = fine && o.isFine();
        failed = failed || !o.error.empty();
        if (a.json)
            runs.push_back(toJson(o));
        else
            print(o, v.io.out);
    }
    if (a.json) v.io.out << io::toText(Json{{"runs", std::move(runs)}}) << "\n";
    return failed ? exitCode::kFailed : fine ? exitCode::kFine : exitCode::kFindings;
}

/// Of a scene: what would become of its loose things; with --keep they stay where they come to rest.
int settleScene(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (opened->scenes.empty()) return v.io.err << "mellow: there is no scene.\n", exitCode::kUsage;
    const std::string name = opened->scenes.front();
    auto scene = opened->session().scene(name);
    if (!scene) return v.io.fail(scene.error());
    std::vector<base::ObjectId> ids = rehearse::looseOf(**scene);
    if (!a.where.empty()) {
        auto found = chosen(**scene, a.where);
        if (!found) return v.io.fail(found.error());
        ids = std::move(*found);
    }
    base::Progress progress;
    const auto rests = rehearse::settle(std::make_shared<const model::Scene>(**scene),
                                        sourcesOf(*opened, allShapes(*opened->workspace), name), ids,
                                        a.seconds.value_or(10), progress);
    if (!rests) return v.io.fail(rests.error());
    bool fine = true;
    Json all = Json::array();
    for (const rehearse::Rest& rest : *rests) {
        fine = fine && rest.isFine();
        const std::string says = rehearse::textOf(rest, **scene);
        if (!a.json && !says.empty()) v.io.out << says << "\n";
        all.push_back(
            {{"object", {{"id", base::toText(rest.object)}, {"name", (*scene)->nameText((*scene)->find(rest.object))}}},
             {"metres", rest.metres},
             {"degrees", rest.degrees},
             {"rests", rest.rests},
             {"lost", rest.lost},
             {"inside", rest.inside ? Json(base::toText(rest.inside)) : Json()},
             {"fine", rest.isFine()},
             {"says", says}});
    }
    if (a.json) v.io.out << io::toText(Json{{"scene", name}, {"things", std::move(all)}}) << "\n";
    if (!a.json)
        v.io.out << fmt::format("{} of {} stay where they are\n",
                                std::count_if(rests->begin(), rests->end(), [](const auto& r) { return r.isFine(); }),
                                rests->size());
    if (!a.keep) return fine ? exitCode::kFine : exitCode::kFindings;
    const std::vector<rehearse::Rest> settled = *rests;
    opened->workspace.reset();  // to be opened for editing
    return runStep(a.path, v, name, fmt::format("Settle {} objects", settled.size()),
                   [&](const Opened&, edit::Draft& draft) -> Status {
                       std::vector<base::ObjectId> kept;
                       std::vector<base::Affine> motions;
                       for (const rehearse::Rest& rest : settled)
                           if (rest.rests) {
                               kept.push_back(rest.object);
                               motions.push_back(rest.motion);
                           }
                       return ops::moveEach(draft, kept, motions);
                   });
}

/// Reports of shards as one: of rehearsals ("runs") or of checks ("scenes").
int joinReports(const Arguments& a, const Verbs& v) {
    Json joined = Json::object();
    for (const std::string& file : a.paths) {
        auto text = base::readFile(file);
        if (!text) return v.io.fail(text.error());
        auto report = io::parseJson(*text, file);
        if (!report) return v.io.fail(report.error());
        const bool runs = report->is_object() && report->contains("runs") && (*report)["runs"].is_array();
        const bool scenes = report->is_object() && report->contains("scenes") && (*report)["scenes"].is_array();
        if (!runs && !scenes)
            return v.io.fail({ErrorCode::BadInput,
                              file + ": is no report of mellow rehearse --json or mellow check --format json."});
        const char* list = runs ? "runs" : "scenes";
        if (!joined.empty() && !joined.contains(list))
            return v.io.fail({ErrorCode::BadInput, file + ": is of another kind than the reports before it."});
        for (const auto& [key, value] : report->items()) {
            if (value.is_array()) {
                if (!joined.contains(key)) joined[key] = Json::array();
                for (const Json& one : value) joined[key].push_back(one);
            } else if (value.is_number_integer()) {
                joined[key] = (joined.contains(key) ? joined[key].get<std::int64_t>() : 0) + value.get<std::int64_t>();
            } else {
                joined[key] = value;
            }
        }
    }
    v.io.out << io::toText(joined) << "\n";
    bool fine = !joined.contains("errors") || joined["errors"] == 0;
    if (joined.contains("runs"))
        for (const Json& run : joined["runs"]) fine = fine && run.is_object() && run.value("fine", false);
    return fine ? exitCode::kFine : exitCode::kFindings;
}

}  // namespace

void addRehearseCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    auto* rehearsal = app.add_subcommand("rehearse", "Plays scenes without a window and tells what happened");
    rehearsal->add_option("PATH", a->paths, "Projects or scene files")->required();
    rehearsal->add_option("--walk", a->walks, "A written walk; again for more")->take_all();
    rehearsal->add_option("--inputs", a->inputs, "What was pressed in a run; again for more")->take_all();
    rehearsal->add_option("--seconds", a->seconds,
                          "How long: 10 without a walk, at most 600 of one, so much more of inputs");
    rehearsal->add_option("--at", a->at, "Where to begin, x y z; else at the start")->expected(3);
    rehearsal
        ->add_option("--expect", a->expected,
                     "reach:NAME, jump:NAME, used:NAME, taken:NAME, entered:NAME, moved:NAME, still:NAME, goal:NAME, "
                     "missed:NAME, off:NAME, end:won, end:lost, rest, "
                     "finish, no-falls, no-hits, nothing-lost; again for more")
        ->take_all();
    rehearsal->add_option("--trace", a->trace, "Writes the trace there; of several runs, into that folder");
    rehearsal->add_option("--against", a->against, "A trace to compare with");
    rehearsal->add_option("--shard", a->shard, "i/n: only the i-th of n shares of the runs");
    rehearsal->add_flag("--json", a->json, "For other programs");
    rehearsal->callback([a, verbs] { verbs.code = rehearsePaths(*a, verbs); });

    auto* settle = addVerb(app, "settle", "Says which loose things would move, tip or fall", "A scene file", a, verbs,
                           settleScene);
    settle->add_option("--where", a->where, "Which objects, as list takes filters; else all that are loose");
    settle->add_option("--seconds", a->seconds, "For how long they are let go, 10");
    settle->add_flag("--keep", a->keep, "Leaves them where they come to rest, as one step");
    settle->add_flag("--json", a->json, "For other programs");

    CLI::App& report = addGroup(app, "report", "What to do with reports");
    auto* join = report.add_subcommand("join", "Puts the reports of several machines together");
    join->add_option("FILE", a->paths, "Of mellow rehearse --json or mellow check --format json")->required();
    join->callback([a, verbs] { verbs.code = joinReports(*a, verbs); });
}

}  // namespace cli
