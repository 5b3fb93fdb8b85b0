#include "model/project_facts.h"

#include <algorithm>

#include "base/files.h"
#include "base/text.h"
#include "model/facet_builder.h"
#include "model/value_reader.h"

namespace model {
namespace {

const Fields& walkerFields() {
    static const Fields fields = [] {
        FieldsOf<Walker> f;
        f.real("eyeHeight", "Eye height", &Walker::eyeHeight, "m", 0.1, 100).property.help = "Above the feet";
        f.real("stepHeight", "Step height", &Walker::stepHeight, "m", 0, 100).property.help =
            "What one foot can climb at once";
        f.angle("slope", "Steepest slope", &Walker::slopeDegrees, 0, 89).property.help =
            "Steeper ground is not walked on";
        f.real("radius", "Radius", &Walker::radius, "m", 0.01, 100).property.help = "How near to a wall";
        f.real("speed", "Speed", &Walker::metresPerSecond, "m/s", 0.01, 1000).property.help = "On foot";
        f.real("height", "Height", &Walker::height, "m", 0.1, 100).property.help = "Standing";
        f.real("duckedHeight", "Ducked", &Walker::duckedHeight, "m", 0.1, 100).property.help =
            "Under what is low; as high as standing: never ducks";
        f.real("runs", "Runs", &Walker::runsPerSecond, "m/s", 0.01, 1000);
        f.real("jump", "Jumps", &Walker::jumpHeight, "m", 0, 100).property.help = "So high the feet come up";
        f.real("reach", "Reach", &Walker::reach, "m", 0.1, 100).property.help =
            "From the eye to what can be used or taken";
        f.real("carries", "Carries", &Walker::carries, "kg", 0, 1e6).property.help = "The most that can be taken";
        f.real("force", "Pushes with", &Walker::force, "N", 0, 1e6).property.help = "Against what is loose";
        f.real("throws", "Throws", &Walker::throwSpeed, "m/s", 0, 100).property.help = "What weighs little";
        f.text("starts", "Begins at", &Walker::starts).property.help =
            "Kinds of what marks the start; * is any letters, several after commas";
        return f.done();
    }();
    return fields;
}

const Fields& craftFields() {
    static const Fields fields = [] {
        FieldsOf<Craft> f;
        f.flag("flies", "Flies", &Craft::flies).property.help = "Else it drives on the ground";
        f.real("speed", "Speed", &Craft::metresPerSecond, "m/s", 0.01, 1000).property.help = "At most";
        f.real("gains", "Gains speed", &Craft::gains, "m/s", 0.01, 1000).property.help = "In each second";
        f.angle("turn", "Turns", &Craft::turnDegrees, 0, 720).property.help = "In each second, at most";
        f.angle("bank", "Leans", &Craft::bankDegrees, 0, 89).property.help = "So far in the tightest turn";
        f.angle("climb", "Climbs", &Craft::climbDegrees, 0, 89).property.help = "Steeper up or down it does not fly";
        f.real("radius", "Radius", &Craft::radius, "m", 0.05, 100).property.help = "Of what bumps into things";
        return f.done();
    }();
    return fields;
}

struct Switch {
    const char* key;
    bool SceneEntry::*member;
};
constexpr Switch kSwitches[] = {{"made", &SceneEntry::made},
                                {"gone", &SceneEntry::gone},
                                {"scratch", &SceneEntry::scratch},
                                {"template", &SceneEntry::isTemplate},
                                {"craft", &SceneEntry::craft}};

SceneEntry sceneFrom(const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    SceneEntry entry;
    read.text("name", entry.name);
    std::vector<std::string_view> known = {"name"};
    for (const Switch& s : kSwitches) {
        read.flag(s.key, entry.*s.member);
        known.emplace_back(s.key);
    }
    entry.unknown = read.rest(known);
    return entry;
}

ValueMap toValues(const SceneEntry& entry) {
    ValueMap map = {{"name", {entry.name}}};
    for (const Switch& s : kSwitches)
        if (entry.*s.member) map.emplace_back(s.key, Value{true});
    map.insert(map.end(), entry.unknown.begin(), entry.unknown.end());
    return map;
}

ValueMap mapIn(const ValueMap& head, std::string_view key) {
    const Value* value = valueOf(head, key);
    const auto* map = value != nullptr ? std::get_if<ValueMap>(&value->data) : nullptr;
    return map != nullptr ? *map : ValueMap{};
}

/// A member of project.json with members of its own: "walker", "craft".
void readPart(const ValueMap& head, const std::string& key, const Fields& fields, void* part,
              std::vector<std::string>& problems) {
    const Value* value = valueOf(head, key);
    if (value == nullptr) return;
    const auto* map = std::get_if<ValueMap>(&value->data);
    if (map == nullptr) {
        const std::string first = fields.members[0].property.name, second = fields.members[1].property.name;
        return problems.push_back(key + ": is no object; " + first + ", " + second + " and others were expected."),
               void();
    }
    for (const Member& member : fields.members)
        if (const Value* given = valueOf(*map, member.property.name))
            if (auto set = setMember(fields, part, member, *given); !set)
                problems.push_back(key + "." + member.property.name + ": " + set.error().message);
}

/// Members that are as usual are only said where others are.
void putPart(ValueMap& head, const std::string& key, const Fields& fields, const void* part, bool isUsual) {
    ValueMap said = mapIn(head, key);
    if (said.empty() && isUsual) return;
    for (const Member& member : fields.members) setValue(said, member.property.name, *member.get(part));
    setValue(head, key, {std::move(said)});
}

}  // namespace

bool beginsAt(std::string_view starts, std::string_view kind) {
    const auto patterns = base::split(starts, ',');
    return std::any_of(patterns.begin(), patterns.end(),
                       [&](std::string_view pattern) { return base::matchesWildcard(pattern, kind); });
}

const SceneEntry* ProjectFacts::scene(std::string_view named) const {
    const auto place = std::find_if(scenes.begin(), scenes.end(), [&](const auto& s) { return s.name == named; });
    return place == scenes.end() ? nullptr : &*place;
}

SceneEntry& ProjectFacts::entry(const std::string& named) {
    for (SceneEntry& held : scenes)
        if (held.name == named) return held;
    SceneEntry& made = scenes.emplace_back();
    made.name = named;
    return made;
}

const Fields& projectFields() {
    static const Fields fields = [] {
        FieldsOf<ProjectFacts> f;
        f.text("name", "Name", &ProjectFacts::name);
        f.word("units", "Lengths are shown in", &ProjectFacts::units, {"metre", "centimetre", "millimetre"})
            .property.help = "In files, tables, scripts and findings they are metres";
        // Who walks, and what flies or drives, are parts of it.
        const auto parts = [&f](const Fields& of, const char* category, const std::string& before, auto part) {
            for (const Member& own : of.members) {
                Member& member = f.add(own.property.name.c_str(), own.property.label.c_str(), own.property.type);
                member = own;
                member.property.category = category;
                if (!before.empty()) member.property.name = before + member.property.name;
                member.get = [get = own.get, part](const void* t) {
                    return get(&(FieldsOf<ProjectFacts>::self(t).*part));
                };
                member.set = [set = own.set, part](void* t, const Value& v) {
                    return set(&(FieldsOf<ProjectFacts>::self(t).*part), v);
                };
            }
        };
        parts(walkerFields(), "Walker", "", &ProjectFacts::walker);
        parts(craftFields(), "Craft", "craft-", &ProjectFacts::craft);
        return f.done();
    }();
    return fields;
}

namespace {

void readUnits(const ValueMap& head, ProjectFacts& facts, std::vector<std::string>& problems) {
    const Value* given = valueOf(head, "units");
    if (given == nullptr) return;
    if (auto set = setMember(projectFields(), &facts, *projectFields().find("units"), *given); !set)
        problems.push_back("units: " + set.error().message);
}

}  // namespace

ProjectFacts factsFrom(const ValueMap& head, std::vector<std::string>& problems) {
    const ValueReader read{head, problems};
    ProjectFacts facts;
    read.text("name", facts.name);
    read.text("firstScene", facts.firstScene);
    readUnits(head, facts, problems);
    readPart(head, "walker", walkerFields(), &facts.walker, problems);
    readPart(head, "craft", craftFields(), &facts.craft, problems);
    read.each("scenes", [&](const ValueMap& map) {
        SceneEntry entry = sceneFrom(map, problems);
        if (!entry.name.empty() && !base::isFileName(entry.name)) {
            problems.push_back("scenes: “" + base::forTerminal(entry.name) + "” cannot be the name of a scene.");
            return;
        }
        if (!entry.name.empty() && facts.scene(entry.name) == nullptr) facts.scenes.push_back(std::move(entry));
    });
    return facts;
}

void putFacts(ValueMap& head, const ProjectFacts& facts) {
    setValue(head, "name", {facts.name});
    setValue(head, "firstScene", {facts.firstScene});
    const Member& units = *projectFields().find("units");
    if (facts.units != base::LengthUnit::Metre || valueOf(head, "units") != nullptr)
        setValue(head, "units", *units.get(&facts));
    putPart(head, "walker", walkerFields(), &facts.walker, facts.walker == Walker{});
    putPart(head, "craft", craftFields(), &facts.craft, facts.craft == Craft{});
    if (facts.scenes.empty()) return eraseValue(head, "scenes");
    ValueList list;
    for (const SceneEntry& entry : facts.scenes) list.push_back({toValues(entry)});
    setValue(head, "scenes", {std::move(list)});
}

}  // namespace model
