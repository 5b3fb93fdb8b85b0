#include "check/verbs.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>

#include "check/names.h"
#include "check/units.h"

namespace check {

using base::ErrorCode;
using base::fail;

namespace {

/// Does a rule find the same as before, now that it was mended?
bool isStillFound(const model::Scene& scene, const Facts& facts, const query::SceneIndex& index, const Rule& rule,
                  const Finding& before) {
    static std::atomic<std::uint64_t> pass = std::uint64_t{1} << 62;
    const Subject subject(scene, facts, index, nullptr, ++pass);
    const Parameters parameters(rule.id, rule.parameters, facts.settings);
    std::vector<Finding> found;
    Report report(rule, parameters, severityOf(rule, facts.settings), found);
    const Find find = rule.makeFind ? rule.makeFind() : rule.find;
    const model::Slot slot = before.object ? scene.find(before.object) : model::kNoSlot;
    if (rule.looks == Rule::Looks::Scene)
        find(subject, model::kNoSlot, report);
    else if (slot != model::kNoSlot)
        find(subject, rule.looks == Rule::Looks::Unit ? unitOf(scene, slot) : slot, report);
    return std::any_of(found.begin(), found.end(), [&](const Finding& f) {
        return f.object == before.object && f.other == before.other && f.part == before.part;
    });
}

}  // namespace

base::Result<Mended> mend(edit::Draft& draft, std::span<const Rule> rules, std::span<const Finding> findings,
                          const query::SceneIndex& index, const Facts* facts) {
    Mended mended;
    for (const Finding& f : findings) {
        const Rule* rule = ruleOf(rules, f.rule);
        if (rule == nullptr || !rule->fix || !f.mendable) continue;
        if (f.object && draft.scene().find(f.object) == model::kNoSlot) continue;
        if (f.other && draft.scene().find(f.other) == model::kNoSlot) continue;
        const auto before = draft.mark();
        if (Status done = rule->fix(draft, f, index); !done) return tl::unexpected(done.error());
        if (facts != nullptr && isStillFound(draft.scene(), *facts, index, *rule, f)) {
            draft.rollbackTo(before);
            mended.helpless.push_back(fmt::format("“{}” does not help: {}", rule->fixLabel, f.message));
            continue;
        }
        ++mended.count;
    }
    if (mended.count == 0 && !mended.helpless.empty()) return fail(ErrorCode::Refused, mended.helpless.front());
    if (mended.count == 0) return fail(ErrorCode::NotFound, "There is no fix for that: it has to be mended by hand.");
    return mended;
}

namespace {

Status changeScene(edit::Draft& draft, const std::function<void(model::SceneSettings&)>& change) {
    model::SceneSettings settings = draft.scene().settings();
    change(settings);
    return draft.setSettings(settings);
}

bool isOf(const model::AcceptedFinding& a, const Finding& f) {
    return a.rule == f.rule && a.object == f.object && a.other == f.other && a.part == f.part;
}

/// What the project's document says of a rule.
Status changeRule(edit::Draft& draft, const std::string& rule, const std::function<Status(model::ValueMap&)>& change) {
    const std::string document(model::data::kChecks);
    const model::DataEntries& held = draft.session().entries(document);
    const auto place = held.find(rule);
    model::ValueMap map = place == held.end() ? model::ValueMap{} : place->second;
    if (Status done = change(map); !done) return done;
    std::vector<std::string> keys = {rule};
    std::vector<std::optional<model::ValueMap>> values = {map.empty() ? std::nullopt : std::optional(map)};
    if (!held.contains("")) {  // the head of the file
        keys.emplace_back();
        values.emplace_back(model::ValueMap{});
    }
    return draft.setEntries(document, keys, values);
}

}  // namespace

Status accept(edit::Draft& draft, std::span<const Finding> findings, const std::string& reason) {
    if (reason.find_first_not_of(" \t\n") == std::string::npos || reason.size() > 1000)
        return fail(ErrorCode::BadInput, "Say in a few words why it may stay.");
    return changeScene(draft, [&](model::SceneSettings& s) {
        for (const Finding& f : findings) {
            std::erase_if(s.accepted, [&](const model::AcceptedFinding& a) { return isOf(a, f); });
            s.accepted.push_back({f.rule, f.object, f.other, f.part, f.message, reason, {}});
        }
    });
}

Status acceptNoMore(edit::Draft& draft, std::span<const Finding> findings) {
    return changeScene(draft, [&](model::SceneSettings& s) {
        for (const Finding& f : findings)
            std::erase_if(s.accepted, [&](const model::AcceptedFinding& a) { return isOf(a, f); });
    });
}

Status setRuleOff(edit::Draft& draft, const std::string& rule, ObjectId object, bool off) {
    return changeScene(draft, [&](model::SceneSettings& s) {
        std::erase_if(s.rulesOff, [&](const model::RuleOff& one) { return one.rule == rule && one.object == object; });
        if (off) s.rulesOff.push_back({rule, object, {}});
    });
}

Status setRuleOffForKind(edit::Draft& draft, const std::string& rule, const std::string& kind, bool off) {
    return changeRule(draft, rule, [&](model::ValueMap& map) -> Status {
        auto kinds = model::textsOf(map, "offKinds");
        std::erase(kinds, kind);
        if (off) kinds.push_back(kind);
        model::eraseValue(map, "offKinds");
        if (kinds.empty()) return {};
        model::ValueList list;
        for (const std::string& one : kinds) list.push_back({one});
        model::setValue(map, "offKinds", {std::move(list)});
        return {};
    });
}

Status setParameter(edit::Draft& draft, const Rule& rule, const std::string& parameter, const model::Value& value) {
    return changeRule(draft, rule.id, [&](model::ValueMap& map) -> Status {
        for (const model::Property& p : rule.parameters) {
            if (p.name != parameter) continue;
            auto fine = model::fitted(p, value);
            if (!fine) return tl::unexpected(fine.error());
            model::eraseValue(map, parameter);
            if (!(*fine == model::defaultOf(p))) model::setValue(map, parameter, *fine);
            return {};
        }
        return fail(ErrorCode::NotFound, fmt::format("The rule “{}” has no parameter “{}”.", rule.id, parameter));
    });
}

Status setSeverity(edit::Draft& draft, const Rule& rule, std::optional<Severity> severity) {
    return changeRule(draft, rule.id, [&](model::ValueMap& map) -> Status {
        model::eraseValue(map, "severity");
        if (severity && *severity != rule.severity)
            model::setValue(map, "severity", {std::string(severityWord(*severity))});
        return {};
    });
}

Status setOff(edit::Draft& draft, const std::string& rule, bool off) {
    return changeRule(draft, rule, [&](model::ValueMap& map) -> Status {
        model::eraseValue(map, "off");
        if (off) model::setValue(map, "off", {true});
        return {};
    });
}

}  // namespace check
