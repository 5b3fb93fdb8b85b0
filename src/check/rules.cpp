#include "check/rule.h"

#include <fmt/format.h>
#include "base/hash.h"

#include <algorithm>

#include "base/text.h"
#include "check/names.h"
#include "check/parameters.h"
#include "model/facets/body.h"
#include "ops/objects.h"
#include "ops/seat.h"

namespace check {

std::string_view severityWord(Severity severity) {
    return severity == Severity::Error ? "error" : severity == Severity::Caution ? "caution" : "hint";
}
std::optional<Severity> severityFrom(std::string_view word) {
    for (const Severity s : {Severity::Hint, Severity::Caution, Severity::Error})
        if (severityWord(s) == word) return s;
    return std::nullopt;
}

std::string fingerprint(const std::string& scene, const Finding& f) {
    const std::string all = fmt::format("{}\n{}\n{}\n{}\n{}", scene, f.rule, f.object.value, f.other.value, f.part);
    return fmt::format("{:016x}", base::hashBytes(all));
}

model::Definitions Facts::definitionMap() const {
    model::Definitions map;
    for (const auto& [id, scene] : definitions) map[id] = scene.get();
    return map;
}

const std::vector<Rule>& builtInRules() {
    static const std::vector<Rule> all = [] {
        std::vector<Rule> list;
        for (auto part : {standingRules(), poseRules(), meaningRules(), playRules(), settleRules(), cueRules(),
                          cameraRules(), soundRules(), routeRules(), sceneRules(), solidRules()})
            list.insert(list.end(), std::make_move_iterator(part.begin()), std::make_move_iterator(part.end()));
        return list;
    }();
    return all;
}

Parameters parametersIn(const edit::Session& session, const std::string& rule,
                        const std::vector<model::Property>& parameters) {
    Rule one;
    one.id = rule;
    one.parameters = parameters;
    std::vector<std::string> problems;
    const auto settings = settingsFrom(session.entries(std::string(model::data::kChecks)), {&one, 1}, problems);
    return {rule, parameters, settings};
}

std::shared_ptr<const std::vector<Rule>> withRules(std::vector<Rule> more) {
    auto all = std::make_shared<std::vector<Rule>>(builtInRules());
    all->insert(all->end(), std::make_move_iterator(more.begin()), std::make_move_iterator(more.end()));
    return all;
}

const Rule* ruleOf(std::span<const Rule> rules, std::string_view id) {
    for (const Rule& rule : rules)
        if (rule.id == id) return &rule;
    return nullptr;
}

RuleSettings settingsFrom(const model::DataEntries& entries, std::span<const Rule> rules,
                          std::vector<std::string>& problems) {
    RuleSettings settings;
    for (const auto& [id, map] : entries) {
        const Rule* rule = ruleOf(rules, id);
        if (rule == nullptr) continue;  // of a newer version, or of a script
        RuleSetting& setting = settings[id];
        setting.off = model::boolOf(map, "off", false);
        for (const std::string& kind : model::textsOf(map, "offKinds")) setting.offKinds.insert(kind);
        if (const std::string word = model::textOf(map, "severity"); !word.empty()) {
            setting.severity = severityFrom(word);
            if (!setting.severity) problems.push_back(fmt::format("{}: “{}” is no severity", id, word));
        }
        for (const model::Property& p : rule->parameters) {
            const model::Value* given = model::valueOf(map, p.name);
            if (given == nullptr && p.name == "fixedTwins") given = model::valueOf(map, "lookAlikes");  // as it was
            if (given == nullptr) continue;
            auto fine = model::fitted(p, *given);
            if (fine)
                model::setValue(setting.values, p.name, *fine);
            else
                problems.push_back(fmt::format("{}: {}", id, fine.error().message));
        }
    }
    return settings;
}

Parameters::Parameters(const std::string& rule, const std::vector<model::Property>& all, const RuleSettings& settings) {
    const auto set = settings.find(rule);
    for (const model::Property& p : all) {
        const model::Value* given = set == settings.end() ? nullptr : model::valueOf(set->second.values, p.name);
        One one{p.name, given != nullptr ? *given : model::defaultOf(p), {}};
        if (const auto* text = std::get_if<std::string>(&one.value.data))
            for (const std::string_view words : listed(*text, ',')) one.filters.emplace_back(words);
        all_.push_back(std::move(one));
    }
}

const Parameters::One& Parameters::one(std::string_view name) const {
    static const One none;
    for (const One& one : all_)
        if (one.name == name) return one;
    return none;
}
double Parameters::number(std::string_view name) const {
    double room = 0;
    const double* n = model::asNumber(one(name).value, room);
    return n != nullptr ? *n : 0;
}
std::string Parameters::text(std::string_view name) const {
    const auto* t = std::get_if<std::string>(&one(name).value.data);
    return t != nullptr ? *t : std::string();
}
bool Parameters::truth(std::string_view name) const {
    const auto* b = std::get_if<bool>(&one(name).value.data);
    return b != nullptr && *b;
}
base::Vec3 Parameters::vector(std::string_view name) const {
    base::Vec3 v(0.0);
    const auto* list = std::get_if<model::ValueList>(&one(name).value.data);
    for (std::size_t k = 0; list != nullptr && list->size() == 3 && k < 3; ++k) {
        double room = 0;
        if (const double* n = model::asNumber((*list)[k], room)) v[static_cast<int>(k)] = *n;
    }
    return v;
}
bool Parameters::fits(std::string_view name, const model::Scene& scene, Slot slot) const {
    const auto& filters = one(name).filters;
    return std::any_of(filters.begin(), filters.end(), [&](const auto& filter) { return filter.fits(scene, slot); });
}
model::ValueMap Parameters::values() const {
    model::ValueMap map;
    for (const One& one : all_) model::setValue(map, one.name, one.value);
    return map;
}

Severity severityOf(const Rule& rule, const RuleSettings& settings) {
    const auto set = settings.find(rule.id);
    return set != settings.end() && set->second.severity ? *set->second.severity : rule.severity;
}

Finding& Report::add(base::ObjectId object, std::string message) {
    Finding finding;
    finding.rule = rule_.id;
    finding.object = object;
    finding.severity = severity_;
    finding.message = std::move(message);
    finding.mendable = static_cast<bool>(rule_.fix);
    into_.push_back(std::move(finding));
    return into_.back();
}

void Report::fail(base::ObjectId object, const std::string& why) {
    Finding& finding = add(object, fmt::format("“{}” could not be asked: {}", rule_.label, why));
    finding.part = kFailed;
    finding.severity = Severity::Error;
    finding.mendable = false;
    failed_ = true;
}

bool isOff(const Rule& rule, const Facts& facts, const model::Scene& scene, Slot slot) {
    const auto setting = facts.settings.find(rule.id);
    if (setting != facts.settings.end()) {
        if (setting->second.off) return true;
        if (slot != kNoSlot && setting->second.offKinds.contains(std::string(scene.kindText(slot)))) return true;
    }
    const base::ObjectId id = slot == kNoSlot ? base::ObjectId{} : scene.id(slot);
    for (const model::RuleOff& off : scene.settings().rulesOff)
        if (off.rule == rule.id && (!off.object || off.object == id)) return true;
    return false;
}

std::string named(const Subject& subject, Slot slot) {
    return fmt::format("“{}”", subject.scene.nameText(slot));
}

base::Status seatIt(edit::Draft& draft, const Finding& finding, const query::SceneIndex& index) {
    auto done = ops::seat(draft, index, {&finding.object, 1}, {});
    return done ? base::Status{} : base::Status(tl::unexpected(done.error()));
}

base::Status seatFrom(edit::Draft& draft, const Finding& finding, const query::SceneIndex& index, double metresUp) {
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(finding.object), parent = scene.parent(slot);
    if (auto may = ops::refuseMoving(scene, {&finding.object, 1}, "moved"); !may) return may;
    const auto back = parent == kNoSlot ? std::optional(base::Affine{}) : base::inverse(scene.world(parent));
    if (!back) return base::fail(base::ErrorCode::Refused, "What it lies in is sized to nothing.");
    base::Transform local = scene.local(slot);
    local.position = back->point(scene.world(slot).translation + base::Vec3(0, metresUp, 0));
    if (auto moved = draft.setTransforms({&finding.object, 1}, {&local, 1}); !moved) return moved;
    return seatIt(draft, finding, index);
}

bool isLoose(const model::Scene& scene, Slot slot) {
    const auto& detail = scene.detail(slot);
    return detail && detail->get<model::Body>() && detail->get<model::Body>()->role == model::Body::Role::Loose;
}

bool isGround(const model::Scene& scene, Slot unit) {
    constexpr double kGroundSquareMetres = 1000;
    const base::Vec3 size = scene.subtreeBounds(unit).size();
    return size.x * size.z >= kGroundSquareMetres;
}

std::optional<double> Subject::gapOf(Slot unit, double enough) const {
    const bool isKnown = gapFor_ == unit && (!gap_ || *gap_ > gapEnough_ || gapEnough_ <= enough);
    if (isKnown) return gap_;
    gapFor_ = unit;
    gapEnough_ = enough;
    gap_ = isGround(scene, unit) ? std::nullopt : ops::heightAboveSupport(scene, index.solid(), unit, enough);
    // What is fixed does not fall: there it also stands where it is seen to stand.
    constexpr double kStands = 0.001;  // metres
    if (!isGround(scene, unit) && !isLoose(scene, unit) && (!gap_ || *gap_ > kStands))
        if (const auto seen = ops::heightAboveSupport(scene, index, unit, enough); seen && (!gap_ || *seen < *gap_))
            gap_ = seen;
    return gap_;
}

std::string metres(double value) {
    return base::lengthText(value, base::LengthUnit::Metre, std::abs(value) < 0.1 ? 3 : 2);
}

}  // namespace check
