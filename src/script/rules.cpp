#include "script/rules.h"

#include <fmt/format.h>

#include <chrono>
#include <mutex>

#include "check/checker.h"
#include "check/gather.h"
#include "ops/properties.h"
#include "script/names.h"

namespace script {

using check::Finding;
using check::Report;
using check::Subject;

namespace {

/// For one object; a scene as a whole may take more.
constexpr Limits kForObject{std::size_t{64} << 20, 5'000'000, 2};
constexpr Limits kForScene{std::size_t{128} << 20, 300'000'000, 20};
/// Of one rule and thread, each time that a scene is looked at; of all rules that scripts bring, on all threads.
constexpr double kSecondsForEach = 60, kSecondsForRules = 300;

/// What all rules of scripts have taken since a scene began to be looked at. Any thread.
class SharedTime {
  public:
    double add(std::uint64_t pass, double seconds) {
        const std::lock_guard held(lock_);
        if (pass != pass_) seconds_ = 0;
        pass_ = pass;
        return seconds_ += seconds;
    }

  private:
    std::mutex lock_;
    std::uint64_t pass_ = 0;
    double seconds_ = 0;
};

/// One check of one file.
struct One {
    Source source;
    CheckSpec spec;
    std::size_t index = 0;             ///< among its file's
    std::shared_ptr<SharedTime> time;  // by all rules and threads
};

/// A failure in one line: where in the file, and what.
std::string brief(const Outcome& outcome, const std::string& file) {
    std::string line = outcome.message.substr(0, outcome.message.find('\n'));
    if (line.starts_with(file + ":") || outcome.line == 0) return line;
    if (line.starts_with("mellow:")) line.erase(0, std::min(line.size(), line.find(": ") + 2));  // of the prelude
    return fmt::format("{}:{}: {}", file, outcome.line, line);
}

bool isMeant(const One& one, const model::Library& library, const model::Scene& scene, Slot slot) {
    if (one.spec.kinds.empty()) return true;
    return std::any_of(one.spec.kinds.begin(), one.spec.kinds.end(),
                       [&](const std::string& kind) { return ops::isOfKind(library, scene, slot, kind); });
}

/// What a thread keeps from one object to the next.
class Asking {
  public:
    explicit Asking(std::shared_ptr<const One> one) : one_(std::move(one)) {}  // shared with the rule

    void find(const Subject& subject, Slot slot, Report& report) {
        using Clock = std::chrono::steady_clock;
        if (slot != kNoSlot && !isMeant(*one_, subject.facts.library, subject.scene, slot)) return;
        const ObjectId object = slot == kNoSlot ? ObjectId{} : subject.scene.id(slot);
        turnTo(subject);
        const Clock::time_point began = Clock::now();
        std::vector<Found> all;
        const Outcome outcome =
            program_->outcome().done() ? program_->find(one_->index, object, parameters_, all) : program_->outcome();
        const double took = std::chrono::duration<double>(Clock::now() - began).count();
        seconds_ += took;
        const double ofAllRules = one_->time->add(pass_, took);
        if (outcome.ending == Ending::Cancelled) return;
        if (!outcome.done()) return report.fail(object, brief(outcome, one_->source.name));
        if (seconds_ > kSecondsForEach || ofAllRules > kSecondsForRules)
            return report.fail(object, "it takes too long for so many objects");
        for (const ObjectId other : program_->lookedAt())
            if (other != object) report.lookedAt(other);
        for (Found& found : all) {
            Finding& f = report.add(found.object ? found.object : object, std::move(found.message));
            f.other = found.other;
            f.part = std::move(found.part);
            f.marks = std::move(found.marks);
        }
    }

  private:
    void turnTo(const Subject& subject) {
        snapshot_ = {&subject.scene, &subject.facts};
        now_ = &subject;
        if (pass_ != subject.pass) seconds_ = 0;
        pass_ = subject.pass;
        if (program_ != nullptr) return;
        parameters_ = check::Parameters(one_->spec.id, one_->spec.parameters, subject.facts.settings).values();
        Settings settings;
        settings.limits = one_->spec.looks == CheckSpec::Looks::Scene ? kForScene : kForObject;
        settings.shapes = subject.facts.shapes;
        settings.index = [this] { return &now_->index; };
        settings.pulse = [this](double, const std::string&) { return !now_->cancelled(); };
        program_ = std::make_unique<Program>(one_->source, settings, Place(snapshot_));
    }

    std::shared_ptr<const One> one_;
    Snapshot snapshot_;
    const Subject* now_ = nullptr;
    std::uint64_t pass_ = 0;
    double seconds_ = 0;
    model::ValueMap parameters_;
    std::unique_ptr<Program> program_;
};

base::Status fixIt(const One& one, edit::Draft& draft, const Finding& finding, const query::SceneIndex& index) {
    Settings settings;
    settings.limits = kForScene;
    settings.index = [&index] { return &index; };
    Program program(one.source, settings, Place(draft));
    Outcome outcome = program.outcome();
    if (outcome.done())
        outcome = program.fix(one.index, {finding.message, finding.object, finding.other, finding.part, {}},
                              check::parametersIn(draft.session(), one.spec.id, one.spec.parameters).values());
    if (outcome.done()) return {};
    return base::fail(base::ErrorCode::Refused, outcome.message);
}

check::Rule ruleFrom(std::shared_ptr<const One> one) {
    using Looks = check::Rule::Looks;
    const CheckSpec& spec = one->spec;
    check::Rule rule;
    rule.id = spec.id;
    rule.group = one->source.name;
    rule.label = spec.label;
    rule.why = spec.why;
    rule.severity = check::severityFrom(spec.severity).value_or(check::Severity::Caution);
    rule.parameters = spec.parameters;
    rule.looks = spec.looks == CheckSpec::Looks::Object   ? Looks::Own
                 : spec.looks == CheckSpec::Looks::Around ? Looks::Watch
                                                          : Looks::Scene;
    if (rule.looks == Looks::Watch)
        rule.reach = [one](const model::Scene& scene, const check::Facts& facts, Slot slot) {
            return isMeant(*one, facts.library, scene, slot) ? std::optional(one->spec.reachMetres) : std::nullopt;
        };
    rule.makeFind = [one]() -> check::Find {
        auto asking = std::make_shared<Asking>(one);  // std::function copies what it holds
        return [asking](const Subject& subject, Slot slot, Report& report) { asking->find(subject, slot, report); };
    };
    rule.fixLabel = spec.fixLabel;
    if (!spec.fixLabel.empty())
        rule.fix = [one](edit::Draft& draft, const Finding& finding, const query::SceneIndex& index) {
            return fixIt(*one, draft, finding, index);
        };
    return rule;
}

}  // namespace

std::vector<check::Rule> rulesOf(const Shelf& shelf) {
    std::vector<check::Rule> rules;
    const auto time = std::make_shared<SharedTime>();
    for (const auto& [script, index] : shelf.checks()) {
        const Script& file = shelf.scripts()[script];
        rules.push_back(
            ruleFrom(std::make_shared<const One>(One{shelf.source(file), file.declared.checks[index], index, time})));
    }
    return rules;
}

Outcome tryChecks(edit::Draft& draft, const Source& source, const Settings& settings,
                  const std::vector<CheckSpec>& checks) {
    constexpr std::size_t kMostMarks = 2000;
    auto rules = std::make_shared<std::vector<check::Rule>>();  // shared with the facts
    const auto time = std::make_shared<SharedTime>();
    for (std::size_t i = 0; i < checks.size(); ++i)
        rules->push_back(ruleFrom(std::make_shared<const One>(One{source, checks[i], i, time})));
    const query::MeshLookup none = [](base::Name) { return nullptr; };
    check::Checker checker(
        check::gatherFacts(draft.session(), rules, settings.shapes ? settings.shapes : query::Shapes(none), {}, false));
    checker.checkAll(draft.scene());
    Outcome outcome;
    const auto found = checker.findings(draft.scene());
    for (const Finding& f : found) {
        if (f.part == check::kFailed && outcome.done()) outcome = failed(Ending::Error, f.message);
        outcome.said.push_back({fmt::format("{}: {} [{}]", check::severityWord(f.severity), f.message, f.rule), 0});
        if (outcome.marks.size() < kMostMarks)
            outcome.marks.insert(outcome.marks.end(), f.marks.begin(), f.marks.end());
    }
    if (found.empty()) outcome.said.push_back({"Nothing was found.", 0});
    return outcome;
}

}  // namespace script
