#pragma once
// A level of blocks with kinds to put faults into, and what checks find there.
#include "check/checker.h"
#include "check/gather.h"
#include "check/verbs.h"
#include "io/media_facts.h"
#include "io/scene_file.h"
#include "model/data.h"
#include "ops/facets.h"
#include "ops/group.h"
#include "ops/objects.h"
#include "ops/prefab.h"
#include "ops/properties.h"
#include "query/mesh_index.h"
#include "support/blocks.h"

namespace test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using check::Finding;
using model::Slot;

using Map = model::ValueMap;

struct Level : Blocks {
    ObjectId ground = put("slab", {0, 0, 0});

    Level() {
        kind("Thing", {{"properties",
                        {model::ValueList{{Map{{"name", {std::string("oil")}},
                                               {"type", {std::string("number")}},
                                               {"low", {0.0}},
                                               {"high", {5.0}}}},
                                          {Map{{"name", {std::string("next")}},
                                               {"type", {std::string("object")}},
                                               {"kinds", {model::ValueList{{std::string("Thing")}}}}}},
                                          {Map{{"name", {std::string("word")}}, {"type", {std::string("text")}}}},
                                          {Map{{"name", {std::string("of")}},
                                               {"type", {std::string("record")}},
                                               {"records", {std::string("none")}}}}}}}});
        kind("Needy",
             {{"properties",
               {model::ValueList{
                   {Map{{"name", {std::string("word")}}, {"type", {std::string("text")}}, {"required", {true}}}}}}}});
        kind("Fixed size", {{"smallestSize", {1.0}}, {"largestSize", {1.0}}});
        kind("Other", {});
        kind("Cargo", {{"isMoved", {true}}});
        set("required-kinds", {{"off", {true}}});  // the template's wants a start
    }
    void kind(const std::string& called, Map more) {
        Map map = {{"name", {called}}};
        map.insert(map.end(), more.begin(), more.end());
        entry(model::data::kindDocument(called), "", map);
    }
    void entry(const std::string& document, const std::string& key, const Map& map) {
        edit::Draft draft(session(), "first", "Data");
        const std::optional<Map> value = map;
        if (!draft.setEntries(document, {&key, 1}, {&value, 1}) || !draft.commit()) qFatal("no data");
    }
    void step(const std::function<Status(edit::Draft&)>& verb) {
        edit::Draft draft(session(), "first", "Step");
        if (Status done = verb(draft); !done) qFatal("%s", done.error().message.c_str());
        if (!draft.commit()) qFatal("no step");
    }
    void detail(ObjectId id, const std::function<void(model::Detail&)>& change) {
        step([&](edit::Draft& d) {
            auto copy = scene().detail(slot(id)) ? *scene().detail(slot(id)) : model::Detail{};
            change(copy);
            const model::DetailPtr value = std::make_shared<const model::Detail>(copy);
            return d.setDetails({&id, 1}, {&value, 1});
        });
    }
    void ofKind(ObjectId id, const std::string& called) {
        const base::Name label = name(called);
        step([&](edit::Draft& d) { return d.setLabels(model::LabelField::Kind, {&id, 1}, {&label, 1}); });
    }
    void pose(ObjectId id, const Vec3& at, const Vec3& turn = {}, const Vec3& size = Vec3(1.0)) {
        step([&](edit::Draft& d) {
            const base::Transform t{at, base::fromDegrees(turn), size};
            return d.setTransforms({&id, 1}, {&t, 1});
        });
    }
    std::shared_ptr<const std::vector<check::Rule>> rules = check::withRules();  // as facts hold them
    static const check::Rule& rule(const char* id) { return *check::ruleOf(check::builtInRules(), id); }
    bool thorough = false;
    std::shared_ptr<const check::Facts> facts(bool uses = false) {
        return check::gatherFacts(session(), rules, shapes(), check::Media([media = media] { return media; }), uses,
                                  nullptr, thorough);
    }
    std::vector<Finding> all() {
        check::Checker checker(facts(true));
        checker.checkAll(scene());
        return checker.findings(scene());
    }
    /// How often a rule finds something at an object (zero: anywhere).
    std::size_t count(const std::string& rule, ObjectId id = {}) {
        std::size_t n = 0;
        for (const Finding& f : all()) n += f.rule == rule && (!id || f.object == id || f.other == id) ? 1 : 0;
        return n;
    }
    void set(const std::string& rule, const Map& map) { entry(std::string(model::data::kChecks), rule, map); }
    check::Media::All media;
};

}  // namespace test
