// Loose things that would not stay where they are when play begins: by letting them fall.
#include "base/tidy.h"
#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "ops/move.h"
#include "rehearse/settle.h"

namespace check {

namespace {

using model::Mark;
using Looks = Rule::Looks;

constexpr std::size_t kMostLoose = 2000;  // more are not let fall for a check

void wouldMove(const Subject& s, Slot, Report& r) {
    if (r.text("where").empty()) return;
    std::vector<base::ObjectId> ids;
    for (const base::ObjectId id : rehearse::looseOf(s.scene))
        if (r.fits("where", s.scene, s.scene.find(id))) ids.push_back(id);
    if (ids.empty() || ids.size() > kMostLoose) return;
    base::Progress progress;
    const auto rests = rehearse::settle(std::make_shared<const model::Scene>(s.scene),
                                        {s.facts.library, rehearse::shapesIn(s.index), s.facts.project.walker, {}}, ids,
                                        r.number("seconds"), progress);
    if (!rests) return;
    for (const rehearse::Rest& rest : *rests) {
        const double over = r.number("over");
        if (rest.isFine(over)) continue;
        Finding& f = r.add(rest.object, rehearse::textOf(rest, s.scene, over) + ".");
        f.other = rest.inside;
        const Vec3 from = s.scene.bounds(s.scene.find(rest.object)).centre();
        if (!rest.lost) f.marks = {{Mark::Shape::Arrow, from, rest.motion.point(from), 0, {}, {}, {}}};
    }
}

/// Where it comes to rest by itself, all others as they stand.
base::Status settleIt(edit::Draft& draft, const Finding& finding, const query::SceneIndex& index) {
    base::Progress progress;
    const auto rests = rehearse::settle(std::make_shared<const model::Scene>(draft.scene()),
                                        {draft.session().library(), rehearse::shapesIn(index), {}, {}},
                                        {&finding.object, 1}, 20, progress);
    if (!rests) return tl::unexpected(rests.error());
    if (rests->empty() || !rests->front().rests)
        return base::fail(base::ErrorCode::Refused, "It does not come to rest.");
    return ops::moveEach(draft, {&finding.object, 1}, {&rests->front().motion, 1});
}

}  // namespace

std::vector<Rule> settleRules() {
    return {{"would-move",
             "In play",
             "Loose thing does not stay",
             "It moves, tips or falls as the level begins, or is thrown out of what it begins inside.",
             Severity::Caution,
             {words("where", "Among", "As the Roster takes filters; empty: the rule rests, for it lets things fall"),
              amount("over", "Moves over", "m", 0.05, 0, 100), amount("seconds", "Let go for", "s", 4, 0.1, 60)},
             Looks::Scene,
             wouldMove,
             "Settle it",
             settleIt}};
}

}  // namespace check
