#include "check/rule.h"

#include <fmt/format.h>
#include "base/hash.h"

#include <algorithm>

#include "base/text.h"
#include "ops/seat.h"
#include "query/object_filter.h"

namespace check {

using model::kNoSlot;
using model::Slot;

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
        for (auto part : {standingRules(), poseRules(), meaningRules(), playRules(), sceneRules()})
            list.insert(list.end(), std::make_move_iterator(part.begin()), std::make_move_iterator(part.end()));
        return list;
    }();
    return all;
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

model::ValueMap parametersOf(const std::string& rule, const std::vector<model::Property>& parameters,
                             const RuleSettings& settings) {
    model::ValueMap all;
    const auto set = settings.find(rule);
    for (const model::Property& p : parameters) {
        const model::Value* given = set == settings.end() ? nullptr : model::valueOf(set->second.values, p.name);
        model::setValue(all, p.name, given != nullptr ? *given : model::defaultOf(p));
    }
    return all;
}

Report::Report(const Rule& rule, const Facts& facts, std::vector<Finding>& into) : rule_(rule), into_(into) {
    const auto place = facts.settings.find(rule.id);
    setting_ = place == facts.settings.end() ? nullptr : &place->second;
}

const model::Value& Report::value(const char* parameter) const {
    if (setting_ != nullptr)
        if (const model::Value* given = model::valueOf(setting_->values, parameter)) return *given;
    for (const model::Property& p : rule_.parameters)
        if (p.name == parameter) room_ = model::defaultOf(p);
    return room_;
}
double Report::number(const char* parameter) const {
    double room = 0;
    const double* n = model::asNumber(value(parameter), room);
    return n != nullptr ? *n : 0;
}
std::string Report::text(const char* parameter) const {
    const auto* t = std::get_if<std::string>(&value(parameter).data);
    return t != nullptr ? *t : std::string();
}
bool Report::truth(const char* parameter) const {
    const auto* b = std::get_if<bool>(&value(parameter).data);
    return b != nullptr && *b;
}
base::Vec3 Report::vector(const char* parameter) const {
    base::Vec3 v(0.0);
    if (const auto* list = std::get_if<model::ValueList>(&value(parameter).data); list != nullptr && list->size() == 3)
        for (std::size_t k = 0; k < 3; ++k) {
            double room = 0;
            if (const double* n = model::asNumber((*list)[k], room)) v[static_cast<int>(k)] = *n;
        }
    return v;
}

Finding& Report::add(base::ObjectId object, std::string message) {
    Finding finding;
    finding.rule = rule_.id;
    finding.object = object;
    finding.severity = setting_ != nullptr && setting_->severity ? *setting_->severity : rule_.severity;
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

bool isLoose(const model::Scene& scene, Slot slot) {
    const auto& detail = scene.detail(slot);
    return detail && detail->body && detail->body->role != model::Body::Role::Fixed &&
           detail->body->role != model::Body::Role::Guided;
}

bool isGround(const model::Scene& scene, Slot unit) {
    constexpr double kGroundSquareMetres = 1000;
    const base::Vec3 size = scene.subtreeBounds(unit).size();
    return size.x * size.z >= kGroundSquareMetres;
}

std::optional<double> Subject::gapOf(Slot unit) const {
    if (gapFor_ == unit) return gap_;
    gapFor_ = unit;
    gap_ = isGround(scene, unit) ? std::nullopt : ops::heightAboveSupport(scene, index, unit);
    return gap_;
}

std::string metres(double value) {
    return base::fixed(value, std::abs(value) < 0.1 ? 3 : 2) + " m";
}

bool fitsAny(const std::string& filters, const model::Scene& scene, Slot slot) {
    std::size_t at = 0;
    while (at < filters.size()) {
        const std::size_t comma = std::min(filters.find(',', at), filters.size());
        const std::string one = filters.substr(at, comma - at);
        at = comma + 1;
        const query::ObjectFilter filter(one);
        if (!filter.empty() && filter.fits(scene, slot)) return true;
    }
    return false;
}

}  // namespace check
