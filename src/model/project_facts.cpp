#include "model/project_facts.h"

#include <algorithm>

#include "base/files.h"
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
                                {"template", &SceneEntry::isTemplate}};

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

void readWalker(const ValueMap& head, Walker& walker, std::vector<std::string>& problems) {
    const Value* value = valueOf(head, "walker");
    if (value == nullptr) return;
    const auto* map = std::get_if<ValueMap>(&value->data);
    if (map == nullptr)
        return problems.emplace_back("walker: is no object; eyeHeight, stepHeight, slope were expected."), void();
    for (const Member& member : walkerFields().members)
        if (const Value* given = valueOf(*map, member.property.name))
            if (auto set = setMember(walkerFields(), &walker, member, *given); !set)
                problems.push_back("walker." + member.property.name + ": " + set.error().message);
}

}  // namespace

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
        // Who walks is a part of it.
        for (const Member& own : walkerFields().members) {
            Member& member = f.add(own.property.name.c_str(), own.property.label.c_str(), own.property.type);
            member = own;
            member.property.category = "Walker";
            member.get = [get = own.get](const void* t) { return get(&FieldsOf<ProjectFacts>::self(t).walker); };
            member.set = [set = own.set](void* t, const Value& v) {
                return set(&FieldsOf<ProjectFacts>::self(t).walker, v);
            };
        }
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
    readWalker(head, facts.walker, problems);
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
    ValueMap walker = mapIn(head, "walker");
    if (!walker.empty() || !(facts.walker == Walker{})) {
        for (const Member& member : walkerFields().members)
            setValue(walker, member.property.name, *member.get(&facts.walker));
        setValue(head, "walker", {std::move(walker)});
    }
    if (facts.scenes.empty()) return eraseValue(head, "scenes");
    ValueList list;
    for (const SceneEntry& entry : facts.scenes) list.push_back({toValues(entry)});
    setValue(head, "scenes", {std::move(list)});
}

}  // namespace model
