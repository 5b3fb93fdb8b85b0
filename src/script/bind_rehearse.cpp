// Playing the scene: what would happen, what can be come to, what would not stay. Bounded, and nothing of it is
// written.
#include <fmt/format.h>

#include <algorithm>

#include "ops/move.h"
#include "rehearse/plan.h"
#include "rehearse/settle.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;

constexpr int kMostRehearsals = 20;   // in one run of a script
constexpr double kMostSeconds = 120;  // of one
constexpr std::size_t kMostTold = 10'000;

rehearse::LevelSources sourcesIn(Context& c) {
    return rehearse::sourcesOf(c.project(), c.library(), rehearse::shapesIn(c.index()), c.scene().name());
}

/// One more is asked for.
void count(Context& c) {
    if (++c.rehearsals > kMostRehearsals)
        trouble(fmt::format("a script can ask for {} rehearsals in one run", kMostRehearsals));
}

std::shared_ptr<const rehearse::Level> begin(Context& c) {
    count(c);
    return std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(c.scene()), sourcesIn(c)));
}

std::unique_ptr<rehearse::Ground> groundOf(const rehearse::Level& level) {
    base::Progress progress;
    return taken(rehearse::Ground::make(level, progress));
}

Data rehearsed(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string orders = r.text("");
    const double seconds = std::clamp(r.number(10), 0.0, kMostSeconds);
    const auto level = begin(c);
    rehearse::Trace trace;
    bool finished = true;
    if (orders.empty()) {
        rehearse::Inputs inputs;
        if (!level->starts.empty()) inputs.start = level->starts.front();
        trace = rehearse::replay(level, inputs, seconds);
    } else {
        const rehearse::Plan plan = taken(rehearse::planFrom("mellow-walk 1\n" + orders));
        rehearse::Walked walked = taken(rehearse::follow(level, plan, groundOf(*level).get(), seconds));
        trace = std::move(walked.trace);
        finished = walked.finished;
    }
    std::vector<std::string> told;
    std::vector<Vec3> places;
    for (const rehearse::Entry& e : trace.entries) {
        if (told.size() >= kMostTold) break;
        told.push_back(fmt::format("{:.2f} {}", e.seconds(), rehearse::textOf(e, *level)));
        places.push_back(e.at);
    }
    return {std::move(told), std::move(places), finished};
}

Data reached(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const bool jumps = r.truth(false);
    const auto level = begin(c);
    if (level->starts.empty()) trouble("there is no start");
    const rehearse::World world(*level);
    const auto map = groundOf(*level)->reach(level->starts.front().feet, world);
    Objects all;
    for (const ObjectId id : ids) {
        const auto reach = rehearse::Ground::reachOf(map, *level->scene, level->scene->find(id));
        if (reach && (*reach == rehearse::Reach::Walk || (jumps && *reach == rehearse::Reach::Jump))) all.push_back(id);
    }
    return {std::move(all)};
}

std::vector<rehearse::Rest> rests(Context& c, const Objects& ids) {
    count(c);
    base::Progress progress;
    return taken(rehearse::settle(std::make_shared<const model::Scene>(c.scene()), sourcesIn(c), ids, 20, progress));
}

Data wouldMove(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const double over = r.number(0.05);
    Objects moving;
    for (const rehearse::Rest& rest : rests(c, ids))
        if (!rest.isFine(over)) moving.push_back(rest.object);
    return {std::move(moving)};
}

Data settle(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    Objects kept;
    std::vector<base::Affine> motions;
    for (const rehearse::Rest& rest : rests(c, ids))
        if (rest.rests) {
            kept.push_back(rest.object);
            motions.push_back(rest.motion);
        }
    if (!kept.empty()) check(ops::moveEach(c.change(kept), kept, motions));
    return {std::move(kept)};
}

}  // namespace

Bindings rehearseBindings() {
    return {
        {{"rehearsed", "[walk [, seconds]]",
          "Plays the scene for so long (10, up to 120), or until a written walk is done: what happened, a line each; "
          "where; and whether the walk was done. Up to 20 in one run; nothing of it is kept."},
         Needs::Scene,
         false,
         rehearsed},
        {{"reached", "objects [, jumps]", "Those that can be come to on foot from the start, or also by a jump."},
         Needs::Scene,
         false,
         reached},
        {{"wouldMove", "objects [, metres]",
          "Those that would not stay if they were let go: move over 0.05 m, tip, fall, or begin inside another."},
         Needs::Scene,
         false,
         wouldMove},
        {{"settle", "objects", "Lets them fall where they are and leaves them where they come to rest; gives these."},
         Needs::Scene,
         false,
         settle},
    };
}

}  // namespace script
