#include "io/check_report.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "io/json_text.h"

namespace io {

using check::Finding;
using check::Severity;

namespace {

template <class Value>
const Value* lookUp(const std::vector<std::pair<base::ObjectId, Value>>& all, base::ObjectId id) {
    const auto place = std::lower_bound(all.begin(), all.end(), id,
                                        [](const auto& entry, base::ObjectId wanted) { return entry.first < wanted; });
    return place != all.end() && place->first == id ? &place->second : nullptr;
}
int lineOf(const CheckedScene& scene, const Finding& f) {
    const int* line = lookUp(scene.lines, f.object);
    return line != nullptr ? *line : 1;  // the header: the scene as a whole
}
std::string nameOf(const CheckedScene& scene, base::ObjectId id) {
    const std::string* name = lookUp(scene.names, id);
    return name != nullptr ? *name : std::string();
}

struct Counts {
    std::size_t errors = 0, cautions = 0, hints = 0;
};
Counts countsOf(const std::vector<CheckedScene>& scenes) {
    Counts counts;
    for (const CheckedScene& scene : scenes)
        for (const Finding& f : scene.findings)
            (f.severity == Severity::Error     ? counts.errors
             : f.severity == Severity::Caution ? counts.cautions
                                               : counts.hints) += 1;
    return counts;
}

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '"')
            out += "&quot;";
        else if (static_cast<unsigned char>(c) < 0x20)  // what XML 1.0 cannot hold
            out += ' ';
        else
            out += c;
    }
    return out;
}

}  // namespace

std::vector<std::pair<base::ObjectId, int>> objectLines(const model::Scene& scene) {
    std::vector<std::pair<base::ObjectId, int>> lines;
    int line = 1;
    for (const model::Slot s : scene.ownSubtree(model::kNoSlot)) lines.emplace_back(scene.id(s), ++line);
    // What lies inside an instance is told at the instance's line.
    for (const model::Slot s : scene.subtree(model::kNoSlot))
        if (const model::Slot around = scene.instanceAround(s); around != model::kNoSlot)
            lines.emplace_back(scene.id(s), -static_cast<int>(around) - 1);
    std::sort(lines.begin(), lines.end());
    for (auto& [id, at] : lines)
        if (at < 0) {
            const int* own = lookUp(lines, scene.id(static_cast<model::Slot>(-at - 1)));
            at = own != nullptr && *own > 0 ? *own : 1;
        }
    return lines;
}

std::string checkText(const std::vector<CheckedScene>& scenes) {
    std::string out;
    for (const CheckedScene& scene : scenes) {
        for (const Finding& f : scene.findings)
            out += fmt::format("{}:{}: {}: {} [{}]\n", scene.file, lineOf(scene, f), severityWord(f.severity),
                               f.message, f.rule);
        if (!scene.accepted.empty()) out += fmt::format("{}: {} accepted\n", scene.file, scene.accepted.size());
    }
    const Counts n = countsOf(scenes);
    return out +
           fmt::format("{} errors, {} cautions, {} hints in {} scenes\n", n.errors, n.cautions, n.hints, scenes.size());
}

std::string checkJson(const std::vector<CheckedScene>& scenes) {
    Json all = Json::array();
    for (const CheckedScene& scene : scenes) {
        auto list = [&](const std::vector<Finding>& findings) {
            Json array = Json::array();
            for (const Finding& f : findings) {
                Json one = {
                    {"rule", f.rule},           {"severity", severityWord(f.severity)},      {"message", f.message},
                    {"line", lineOf(scene, f)}, {"fingerprint", fingerprint(scene.name, f)}, {"mendable", f.mendable}};
                if (f.object) one["object"] = {{"id", base::toText(f.object)}, {"name", nameOf(scene, f.object)}};
                if (f.other) one["other"] = {{"id", base::toText(f.other)}, {"name", nameOf(scene, f.other)}};
                if (!f.part.empty()) one["part"] = f.part;
                array.push_back(std::move(one));
            }
            return array;
        };
        all.push_back({{"scene", scene.name},
                       {"file", scene.file},
                       {"findings", list(scene.findings)},
                       {"accepted", list(scene.accepted)}});
    }
    const Counts n = countsOf(scenes);
    return toText({{"errors", n.errors}, {"cautions", n.cautions}, {"hints", n.hints}, {"scenes", all}}) + "\n";
}

std::string checkSarif(const std::vector<CheckedScene>& scenes, std::span<const check::Rule> rules,
                       std::span<const std::string> broken) {
    auto level = [](Severity s) {
        return s == Severity::Error ? "error" : s == Severity::Caution ? "warning" : "note";
    };
    Json ruleList = Json::array(), results = Json::array();
    std::vector<std::string> ids;
    for (const check::Rule& rule : rules) {
        ids.push_back(rule.id);
        ruleList.push_back({{"id", rule.id},
                            {"shortDescription", {{"text", rule.label}}},
                            {"fullDescription", {{"text", rule.why}}},
                            {"defaultConfiguration", {{"level", level(rule.severity)}}}});
    }
    auto add = [&](const CheckedScene& scene, const Finding& f, bool accepted) {
        Json location = {
            {"physicalLocation",
             {{"artifactLocation", {{"uri", scene.file}}}, {"region", {{"startLine", lineOf(scene, f)}}}}}};
        if (f.object)
            location["logicalLocations"] =
                Json::array({{{"name", nameOf(scene, f.object)},
                              {"fullyQualifiedName", scene.name + "/" + base::toText(f.object)},
                              {"kind", "object"}}});
        Json result = {{"ruleId", f.rule},
                       {"level", level(f.severity)},
                       {"message", {{"text", f.message}}},
                       {"locations", Json::array({location})},
                       {"partialFingerprints", {{"mellowFinding/v1", fingerprint(scene.name, f)}}}};
        const auto rule = std::find(ids.begin(), ids.end(), f.rule);
        if (rule != ids.end()) result["ruleIndex"] = rule - ids.begin();
        if (accepted) result["suppressions"] = Json::array({{{"kind", "inSource"}, {"status", "accepted"}}});
        results.push_back(std::move(result));
    };
    for (const CheckedScene& scene : scenes) {
        for (const Finding& f : scene.findings) add(scene, f, false);
        for (const Finding& f : scene.accepted) add(scene, f, true);
    }
    Json notifications = Json::array();
    for (const std::string& problem : broken)
        notifications.push_back(
            {{"level", "error"}, {"descriptor", {{"id", "script-broken"}}}, {"message", {{"text", problem}}}});
    const Json invocation = {{"executionSuccessful", broken.empty()},
                             {"toolConfigurationNotifications", notifications}};
    const Json sarif = {{"$schema", "https://json.schemastore.org/sarif-2.1.0.json"},
                        {"version", "2.1.0"},
                        {"runs", Json::array({{{"tool", {{"driver", {{"name", "mellow"}, {"rules", ruleList}}}}},
                                               {"invocations", Json::array({invocation})},
                                               {"columnKind", "utf16CodeUnits"},
                                               {"results", results}}})}};
    return toText(sarif, 1) + "\n";
}

std::string checkJunit(const std::vector<CheckedScene>& scenes, std::span<const check::Rule> rules) {
    std::string suites;
    std::size_t allTests = 0, allFailures = 0;
    for (const CheckedScene& scene : scenes) {
        std::string cases;
        std::size_t tests = 0, failures = 0;
        for (const check::Rule& rule : rules) {
            std::string text, kind;
            std::size_t count = 0;
            for (const Finding& f : scene.findings) {
                if (f.rule != rule.id || f.severity == Severity::Hint) continue;
                ++count;
                kind = severityWord(f.severity);
                text += fmt::format("{}:{}: {}\n", scene.file, lineOf(scene, f), f.message);
            }
            ++tests;
            cases += fmt::format("    <testcase name=\"{}\" classname=\"{}\" time=\"0\"", escaped(rule.label),
                                 escaped(scene.name));
            if (count == 0) {
                cases += "/>\n";
                continue;
            }
            ++failures;
            cases += fmt::format(">\n      <failure message=\"{} found\" type=\"{}\">{}</failure>\n    </testcase>\n",
                                 count, kind, escaped(text));
        }
        suites += fmt::format(
            "  <testsuite name=\"{}\" tests=\"{}\" failures=\"{}\" errors=\"0\" skipped=\"0\" time=\"0\">\n{}  "
            "</testsuite>\n",
            escaped(scene.name), tests, failures, cases);
        allTests += tests;
        allFailures += failures;
    }
    return fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites tests=\"{}\" failures=\"{}\" errors=\"0\" "
        "time=\"0\">\n{}</testsuites>\n",
        allTests, allFailures, suites);
}

}  // namespace io
