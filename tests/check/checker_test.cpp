// Checks: what each rule finds and what it passes over, again after edits as from scratch, mended and undone.
#include "check/checker.h"

#include <rapidcheck.h>

#include <QtTest>

#include "check/gather.h"
#include "check/verbs.h"
#include "io/check_report.h"
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

using base::ObjectId;
using base::Status;
using base::Vec3;
using check::Finding;
using model::Slot;

namespace {

using Map = model::ValueMap;

struct Level : test::Blocks {
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
    std::shared_ptr<const check::Facts> facts(bool uses = false) {
        return check::gatherFacts(session(), rules, lookup(), media, uses);
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
    std::map<std::string, check::MediaFacts> media;
};

}  // namespace

class CheckerTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whatStandsWellIsLeftAlone() {
        Level p;
        p.put("cube", {0, 0, 0});
        p.put("cube", {3, 0, 0}, {0, 33, 0}, {2, 1, 1});
        p.put("cube", {3, 1, 0});
        const auto found = p.all();
        QVERIFY2(found.empty(), found.empty() ? "" : found[0].message.c_str());
    }
    void floatingIsToldByItsGap() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0.029, 0}), b = p.put("cube", {5, 0.031, 0});
        QCOMPARE(p.count("floating", a), std::size_t{0});
        QCOMPARE(p.count("floating", b), std::size_t{1});
        p.set("floating", {{"most", {0.02}}});
        QCOMPARE(p.count("floating", a), std::size_t{1});
        p.set("floating", {{"except", {std::string("item:cube")}}});
        QCOMPARE(p.count("floating"), std::size_t{0});
    }
    void whatHangsFlushOnASideDoesNotFloatNorDoesASheetOnTheGround() {
        Level p;
        p.put("cube", {10, 0, 0}, {}, {1, 3, 4});
        const ObjectId flush = p.put("cube", {10.65, 1.5, 0}, {}, Vec3(0.3)),
                       off = p.put("cube", {9.2, 1.5, 0}, {}, Vec3(0.3)),
                       below = p.put("cube", {10, -0.0, 8}, {}, {1, 3, 1}),
                       sheet = p.put("cube", {0, 0, 0}, {}, {2, 1e-7, 2});
        QCOMPARE(p.count("floating", flush), std::size_t{0});
        QCOMPARE(p.count("floating", off), std::size_t{1});
        QCOMPARE(p.count("floating", sheet), std::size_t{0});
        QCOMPARE(p.count("floating", below), std::size_t{0});
    }
    void sunkIsToldByItsShare() {
        Level p;
        const ObjectId a = p.put("cube", {0, -0.29, 0}), b = p.put("cube", {5, -0.31, 0});
        p.set("overlapping", {{"off", {true}}});
        QCOMPARE(p.count("sunk", a), std::size_t{0});
        QCOMPARE(p.count("sunk", b), std::size_t{1});
        const ObjectId wall = p.put("cube", {10, 0, 0}, {}, {1, 3, 4});
        p.put("cube", {11, 0, 0}, {}, {1.2, 3, 1});  // a little into the wall's side: not sunk
        QCOMPARE(p.count("sunk", wall), std::size_t{0});
    }
    void withoutAnythingBelow() {
        Level p;
        const ObjectId on = p.put("cube", {0, 0, 0}), off = p.put("cube", {50, 0, 0});
        QCOMPARE(p.count("unsupported", on), std::size_t{0});
        QCOMPARE(p.count("unsupported", off), std::size_t{1});
        QCOMPARE(p.count("unsupported", p.ground), std::size_t{0});
    }
    void overlappingIsToldByItsDepth() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0, 0}), touching = p.put("cube", {1, 0, 0}), b = p.put("cube", {5, 0, 0}),
                       near = p.put("cube", {5.96, 0, 0}), deep = p.put("cube", {5, 0, 0.94});
        QCOMPARE(p.count("overlapping", a), std::size_t{0});
        QCOMPARE(p.count("overlapping", touching), std::size_t{0});
        QCOMPARE(p.count("overlapping", near), std::size_t{0});  // 4 cm of 5
        QCOMPARE(p.count("overlapping", deep), std::size_t{1});  // 6 cm
        QCOMPARE(p.count("overlapping", b), std::size_t{1});
        for (const Finding& f : p.all())
            if (f.rule == "overlapping") QVERIFY2(f.message.find("0.060 m") != std::string::npos, f.message.c_str());
        p.ofKind(b, "Thing");
        p.ofKind(deep, "Other");
        p.set("overlapping", {{"allowed", {std::string("Other+Thing")}}});
        QCOMPARE(p.count("overlapping"), std::size_t{0});
    }
    void crossingWithoutACornerInside() {
        Level p;
        p.put("beam", {0, 0.3, 0});
        const ObjectId across = p.put("beam", {0, 0.35, 0}, {0, 90, 0});
        QCOMPARE(p.count("overlapping", across), std::size_t{1});
    }
    void twiceInOnePlace() {
        Level p;
        p.put("cube", {0, 0, 0});
        p.put("cube", {0, 0, 0});
        const ObjectId turned = p.put("cube", {0, 0, 0}, {0, 10, 0});
        QCOMPARE(p.count("twice"), std::size_t{1});
        QCOMPARE(p.count("twice", turned), std::size_t{0});
    }
    void outsideAndBelow() {
        Level p;
        p.set("outside", {{"low", {model::ValueList{{-30.0}, {-5.0}, {-30.0}}}},
                          {"high", {model::ValueList{{30.0}, {9.0}, {30.0}}}}});
        const ObjectId in = p.put("cube", {19, 0, 0}), out = p.put("cube", {29.6, 0, 0});
        QCOMPARE(p.count("outside", in), std::size_t{0});
        QCOMPARE(p.count("outside", out), std::size_t{1});
        p.set("below-ground", {{"ground", {std::string("item:slab")}}});
        const ObjectId buried = p.put("cube", {0, -3, 0});
        QCOMPARE(p.count("below-ground", buried), std::size_t{1});
        QCOMPARE(p.count("below-ground", in), std::size_t{0});
    }
    void poses() {
        Level p;
        const ObjectId upright = p.put("cube", {0, 0.5, 0}, {29, 0, 0}),
                       leaning = p.put("cube", {5, 0.5, 0}, {31, 0, 0});
        QCOMPARE(p.count("leaning", upright), std::size_t{0});
        QCOMPARE(p.count("leaning", leaning), std::size_t{1});
        const ObjectId sized = p.put("cube", {9, 0, 0}, {}, Vec3(1.001));
        QCOMPARE(p.count("sized-beyond", sized), std::size_t{0});
        p.ofKind(sized, "Fixed size");
        QCOMPARE(p.count("sized-beyond", sized), std::size_t{1});
        const ObjectId parent = p.add("Group");
        p.pose(parent, {}, {}, {1, 1, 2});
        const ObjectId child = p.put("cube", {0, 0, 6}, {0, 45, 0}, Vec3(1.0), parent);
        QCOMPARE(p.count("skewed", child), std::size_t{1});
        const ObjectId mirrored = p.put("cube", {-9, 0, 0}, {}, {-1, 1, 1});
        QCOMPARE(p.count("mirrored"), std::size_t{0});  // only notices, unless it is said
        p.set("mirrored", {{"where", {std::string("item:cube")}}});
        QCOMPARE(p.count("mirrored", mirrored), std::size_t{1});
        QCOMPARE(p.count("mirrored"), std::size_t{1});
    }
    void whatIsMissingOrWrong() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0, 0}), b = p.put("cube", {3, 0, 0});
        p.ofKind(a, "Thing");
        p.ofKind(b, "Other");
        const std::vector<Finding> none = p.all();
        QVERIFY2(none.empty(), none.empty() ? "" : none[0].message.c_str());
        p.detail(a, [&](model::Detail& d) {
            d.properties = {{"oil", {9.0}}, {"next", model::objectLink(b)}, {"of", model::recordLink(ObjectId{77})}};
        });
        QCOMPARE(p.count("out-of-range", a), std::size_t{1});
        QCOMPARE(p.count("wrong-link", a), std::size_t{1});
        QCOMPARE(p.count("missing-record", a), std::size_t{1});
        p.detail(a, [&](model::Detail& d) {
            d.properties = {{"oil", {5.0}}, {"next", model::objectLink(ObjectId{99})}};
        });
        QCOMPARE(p.count("out-of-range", a), std::size_t{0});
        QCOMPARE(p.count("broken-link", a), std::size_t{1});
        p.ofKind(b, "Needy");
        QCOMPARE(p.count("required", b), std::size_t{1});
        p.detail(b, [](model::Detail& d) { d.properties = {{"word", {std::string("x")}}}; });
        QCOMPARE(p.count("required", b), std::size_t{0});
        p.ofKind(b, "Gone");
        QCOMPARE(p.count("missing-kind", b), std::size_t{1});
        const ObjectId gone = p.add("Nothing", {}, {}, "no-such-item");
        QCOMPARE(p.count("missing-item", gone), std::size_t{1});
        p.detail(b, [](model::Detail& d) {
            d.surfaces = model::Surfaces{{{"stone", "gone", {}, "gone.png", {}, {}}}};
        });
        QCOMPARE(p.count("missing-image", b), std::size_t{2});
        p.media["gone.png"] = {100, 64, 10};
        QCOMPARE(p.count("missing-image", b), std::size_t{1});
        p.set("images", {{"powers", {true}}, {"side", {99.0}}, {"formats", {std::string("jpg")}}});
        QCOMPARE(p.count("images"), std::size_t{3});
        const ObjectId empty = p.add("Empty");
        QCOMPARE(p.count("empty-group", empty), std::size_t{1});
        p.add("Child", empty);
        QCOMPARE(p.count("empty-group", empty), std::size_t{0});
        p.set("name-pattern", {{"where", {std::string("item:cube")}}, {"pattern", {std::string("C?be*")}}});
        const std::size_t before = p.count("name-pattern");
        p.step([&](edit::Draft& d) { return ops::rename(d, a, "block"); });
        QCOMPARE(p.count("name-pattern"), before + (before < 2 ? 1 : 0));
        p.set("item-folder", {{"folders", {std::string("Elsewhere")}}});
        QVERIFY(p.count("item-folder", a) == 1);
    }
    void inPlay() {
        Level p;
        const ObjectId low = p.put("cube", {0, 0, 0});
        p.put("cube", {10, 0, 0}, {}, {0.4, 5, 0.4});
        const ObjectId high = p.put("cube", {10, 5, 0}, {}, Vec3(0.5));
        QCOMPARE(p.count("out-of-reach"), std::size_t{0});
        p.set("out-of-reach", {{"where", {std::string("item:cube")}}});
        QCOMPARE(p.count("out-of-reach", low), std::size_t{0});
        QCOMPARE(p.count("out-of-reach", high), std::size_t{1});
        const ObjectId lamp = p.add("Lamp", {}, {{0, 2, 0}, {1, 0, 0, 0}, Vec3(1.0)});
        p.detail(lamp, [](model::Detail& d) { d.light = model::Light{}; });
        QCOMPARE(p.count("dead-light", lamp), std::size_t{0});
        p.pose(lamp, {0, 90, 0});
        QCOMPARE(p.count("dead-light", lamp), std::size_t{1});
        const ObjectId camera = p.add("Camera", {}, {{0, 0.5, 0}, {1, 0, 0, 0}, Vec3(1.0)});
        p.detail(camera, [](model::Detail& d) { d.camera = model::Camera{}; });
        QCOMPARE(p.count("blind-camera", camera), std::size_t{1});
        p.pose(camera, {0, 1.5, 0});
        QCOMPARE(p.count("blind-camera", camera), std::size_t{0});
        const ObjectId crate = p.put("cube", {-8, 0, 0}), top = p.put("cube", {-8, 1, 0});
        QCOMPARE(p.count("carried-off"), std::size_t{0});
        p.ofKind(crate, "Cargo");
        QCOMPARE(p.count("carried-off", crate), std::size_t{1});
        p.detail(crate, [](model::Detail& d) { d.body = model::Body{}; });
        QCOMPARE(p.count("carried-off", crate), std::size_t{0});  // a fixed body
        QVERIFY(p.session().undo());
        // The project knows something that looks like it and stays.
        p.set("carried-off", {{"lookAlikes", {std::string("slab>beam, cube > beam")}}});
        for (const Finding& f : p.all())
            if (f.rule == "carried-off")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        QCOMPARE(std::string(p.scene().itemText(p.slot(crate))), std::string("beam"));
        QVERIFY(p.scene().detail(p.slot(crate))->body->role == model::Body::Role::Fixed);
        QVERIFY(p.session().undo());
        p.detail(crate, [](model::Detail& d) { d.body = model::Body{}; });
        p.detail(top, [](model::Detail& d) { d.body = model::Body{}, d.body->role = model::Body::Role::Loose; });
        QCOMPARE(p.count("loose-overlap") + p.count("tips-over") + p.count("loose-permanent"), std::size_t{0});
        p.pose(top, {-7.6, 0.9, 0});
        QCOMPARE(p.count("loose-overlap", top), std::size_t{1});
        p.pose(top, {-7.4, 1, 0});
        QCOMPARE(p.count("tips-over", top), std::size_t{1});
        p.pose(top, {-7.6, 1, 0});
        QCOMPARE(p.count("tips-over", top), std::size_t{0});
        p.step([&](edit::Draft& d) { return ops::setFlag(d, {&top, 1}, model::flags::kProtected, true); });
        QCOMPARE(p.count("loose-permanent", top), std::size_t{1});
        QCOMPARE(p.count("left-protected", top), std::size_t{1});
    }
    void scenesAsAWhole() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0, 0}), b = p.put("cube", {3, 0, 0});
        p.set("required-kinds", {});
        const std::size_t others = p.count("required-kinds");
        p.kind("Start", {{"needed", {std::string("one")}}});
        QCOMPARE(p.count("required-kinds"), others + 1);
        p.ofKind(a, "Start");
        QCOMPARE(p.count("required-kinds"), others);
        p.ofKind(b, "Start");
        QCOMPARE(p.count("required-kinds"), others + 1);
        p.set("same-names", {{"where", {std::string("kind:Start")}}});
        p.step([&](edit::Draft& d) { return ops::rename(d, a, "Same"); });
        QCOMPARE(p.count("same-names"), std::size_t{0});
        p.step([&](edit::Draft& d) { return ops::rename(d, b, "Same"); });
        QCOMPARE(p.count("same-names"), std::size_t{1});
        p.set("budget", {{"objects", {3.0}}});
        QCOMPARE(p.count("budget"), std::size_t{0});
        p.set("budget", {{"objects", {2.0}}});
        QCOMPARE(p.count("budget"), std::size_t{1});
        p.set("area-budget", {{"objects", {1.0}}, {"size", {10.0}}});
        QCOMPARE(p.count("area-budget"), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::setFlag(d, {&a, 1}, model::flags::kHidden, true); });
        QCOMPARE(p.count("left-hidden", a), std::size_t{1});
        p.step([&](edit::Draft& d) {
            auto made = ops::makePrefab(d, std::vector<ObjectId>{b}, {"Pair", "", {}, false});
            return made ? Status{} : Status(tl::unexpected(made.error()));
        });
        QCOMPARE(p.count("unused-prefab"), std::size_t{1});
    }
    void fixesMendAndAreUndoneExactly() {
        Level p;
        p.put("cube", {0, 0.4, 0});
        p.put("cube", {4, 0, 0});
        p.put("cube", {4, 0, 0});
        p.put("cube", {8, 0, 0}, {40, 20, 0});
        p.add("Empty");
        const ObjectId hidden = p.put("cube", {12, 0, 0}), wrong = p.put("cube", {15, 0, 0});
        p.ofKind(wrong, "Thing");
        p.detail(wrong, [](model::Detail& d) { d.properties = {{"oil", {9.0}}}; });
        p.step([&](edit::Draft& d) { return ops::setFlag(d, {&hidden, 1}, model::flags::kHidden, true); });
        for (int round = 0; round < 3; ++round) {
            for (const Finding& f : p.all()) {
                if (!f.mendable) continue;
                const std::string before = p.bytes();
                const std::size_t had = p.count(f.rule, f.object);
                edit::Draft draft(p.session(), "first", "Mend");
                auto done = check::mend(draft, check::builtInRules(), {&f, 1}, p.index());
                QVERIFY2(done, done ? "" : done.error().message.c_str());
                QVERIFY(draft.commit());
                QVERIFY2(p.count(f.rule, f.object) < had, f.message.c_str());
                const std::string after = p.bytes();
                QVERIFY(p.session().undo());
                QCOMPARE(p.bytes(), before);
                QVERIFY(p.session().redo());
                QCOMPARE(p.bytes(), after);
                break;
            }
        }
        edit::Draft draft(p.session(), "first", "Mend");
        QVERIFY(!check::mend(draft, check::builtInRules(), {}, p.index()));
    }
    void acceptedComesBackWhenTheThingChanges() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0.4, 0});
        check::Checker checker(p.facts());
        checker.checkAll(p.scene());
        const auto found = checker.findings(p.scene());
        QCOMPARE(found.size(), std::size_t{1});
        {
            edit::Draft draft(p.session(), "first", "Accept");
            QVERIFY(!check::accept(draft, found, "  "));
        }
        p.step([&](edit::Draft& d) { return check::accept(d, found, "It hangs on a rope."); });
        QCOMPARE(checker.findings(p.scene()).size(), std::size_t{0});
        QCOMPARE(checker.accepted(p.scene()).size(), std::size_t{1});
        p.pose(a, {0, 0.9, 0});
        QCOMPARE(p.count("floating", a), std::size_t{1});
        QVERIFY(p.session().undo());
        QCOMPARE(p.count("floating", a), std::size_t{0});
        // It is in the file, and there again after opening it.
        QVERIFY(p.bytes().find("It hangs on a rope.") != std::string::npos);
        QVERIFY(io::saveScene(p.workspace(), "first"));
        const std::string saved = p.bytes();
        QVERIFY(p.reopen());
        QCOMPARE(p.bytes(), saved);
        QCOMPARE(p.scene().settings().accepted.size(), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::acceptNoMore(d, found); });
        QVERIFY(p.scene().settings().accepted.empty());
    }
    void rulesAreSwitchedOffForOneAKindOrAll() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0.4, 0}), b = p.put("cube", {4, 0.4, 0});
        p.ofKind(b, "Other");
        QCOMPARE(p.count("floating"), std::size_t{2});
        p.step([&](edit::Draft& d) { return check::setRuleOff(d, "floating", a, true); });
        QCOMPARE(p.count("floating"), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::setRuleOffForKind(d, "floating", "Other", true); });
        QCOMPARE(p.count("floating"), std::size_t{0});
        p.step([&](edit::Draft& d) { return check::setRuleOff(d, "floating", a, false); });
        QCOMPARE(p.count("floating"), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::setSeverity(d, Level::rule("floating"), check::Severity::Error); });
        QVERIFY(p.all().front().severity == check::Severity::Error);
        p.step([&](edit::Draft& d) { return check::setOff(d, "floating", true); });
        QCOMPARE(p.count("floating"), std::size_t{0});
        edit::Draft draft(p.session(), "first", "No");
        QVERIFY(!check::setParameter(draft, Level::rule("floating"), "most", {-1.0}));
        QVERIFY(!check::setParameter(draft, Level::rule("floating"), "nothing", {1.0}));
        draft.rollback();
        QVERIFY(io::saveScene(p.workspace(), std::string(model::data::kChecks)));
        QVERIFY(p.reopen());
        QVERIFY(p.facts()->settings.at("floating").off);
    }
    void wrongSettingsOfAFileAreNamed() {
        Level p;
        test::writeBytes(p.folder() / "checks.jsonl",
                         "{\"format\":\"mellow-checks\",\"version\":1}\n{\"rule\":\"floating\",\"most\":-4}\n"
                         "{\"rule\":\"sunk\",\"severity\":\"grave\"}\n{\"rule\":\"of-tomorrow\",\"x\":1}\n");
        QVERIFY(p.reopen());
        QCOMPARE(p.workspace().damage.size(), std::size_t{2});
    }
    void everyRuleExplainsItself() {
        std::set<std::string> ids;
        for (const check::Rule& rule : check::builtInRules()) {
            QVERIFY2(ids.insert(rule.id).second, rule.id.c_str());
            QVERIFY(!rule.label.empty() && !rule.why.empty() && rule.find);
            QCOMPARE(rule.fixLabel.empty(), !rule.fix);
            for (const model::Property& parameter : rule.parameters) QVERIFY(!parameter.label.empty());
        }
        QVERIFY(ids.size() >= 35);
    }
    /// After any edits, and after taking them back, the findings are those of looking at all of it.
    void checkedAgainIsCheckedFromScratch() {
        qputenv("RC_PARAMS", "max_success=120");
        const bool held = rc::check("incremental", [] {
            Level p;
            p.set("out-of-reach", {{"where", {std::string("item:beam")}}});
            std::vector<ObjectId> ids;
            for (int i = 0; i < 8; ++i)
                ids.push_back(p.put(i % 3 == 0 ? "beam" : "cube", {i * 0.9 - 4, (i % 2) * 0.5, (i % 3) * 0.8}));
            const ObjectId lamp = p.add("Lamp", {}, {{0, 9, 0}, {1, 0, 0, 0}, Vec3(1.0)});
            p.detail(lamp, [](model::Detail& d) { d.light = model::Light{}; });
            ids.push_back(lamp);
            p.ofKind(ids[1], "Cargo");
            p.ofKind(ids[2], "Thing");
            check::Checker live(p.facts());
            live.checkAll(p.scene());
            std::vector<Slot> touched;
            auto token = p.session().sceneChanged.listen([&](const edit::SceneDelta& delta) {
                for (const auto* slots :
                     {&delta.created, &delta.removed, &delta.moved, &delta.relabelled, &delta.detailed})
                    touched.insert(touched.end(), slots->begin(), slots->end());
            });
            for (int edits = *rc::gen::inRange(1, 7); edits > 0; --edits) {
                touched.clear();
                std::vector<ObjectId> there;
                for (ObjectId id : ids)
                    if (p.slot(id) != model::kNoSlot) there.push_back(id);
                if (there.empty()) break;
                const ObjectId one = *rc::gen::elementOf(there), other = *rc::gen::elementOf(there);
                const double x = *rc::gen::inRange(-40, 40) / 10.0, y = *rc::gen::inRange(-8, 20) / 10.0;
                switch (*rc::gen::inRange(0, 9)) {
                    case 0: p.pose(one, {x, y, x / 2}); break;
                    case 1: p.pose(one, {x, 0, y}, {0, x * 9, 0}, {1, 1.5, 1}); break;
                    case 2: p.step([&](edit::Draft& d) { return ops::remove(d, {&one, 1}); }); break;
                    case 3: ids.push_back(p.put("cube", {x, y, 0})); break;
                    case 4: p.ofKind(one, x > 0 ? "Cargo" : "Thing"); break;
                    case 5:
                        p.detail(one, [&](model::Detail& d) {
                            d.body = model::Body{};
                            d.body->role = x > 0 ? model::Body::Role::Loose : model::Body::Role::Fixed;
                        });
                        break;
                    case 6:
                        p.detail(one, [&](model::Detail& d) { d.properties = {{"next", model::objectLink(other)}}; });
                        break;
                    case 7:
                        if (one != other) {
                            edit::Draft d(p.session(), "first", "Group");
                            if (auto made = ops::group(d, std::vector<ObjectId>{one, other}, "Both")) {
                                (void)d.commit();
                                ids.push_back(*made);
                            }
                        }
                        break;
                    default: (void)p.session().undo(); break;
                }
                live.update(p.scene(), touched);
                check::Checker fresh(p.facts(), 3);
                fresh.checkAll(p.scene());
                const auto again = live.findings(p.scene()), anew = fresh.findings(p.scene());
                if (again != anew) {
                    for (const Finding& f : again) RC_LOG() << "again " << f.rule << " " << f.message << "\n";
                    for (const Finding& f : anew) RC_LOG() << "anew " << f.rule << " " << f.message << "\n";
                }
                RC_ASSERT(again == anew);
            }
            p.session().sceneChanged.forget(token);
        });
        QVERIFY(held);
    }
    /// Of every rule that has a fix: its fault in the broken scene goes, and comes back byte by byte with undo.
    void everyFixMendsAndIsUndoneExactly() {
        test::DemoCopy demo;
        auto opened = io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        QVERIFY(opened);
        edit::Session& session = *(*opened)->session;
        const model::Scene& scene = **session.scene("broken-lock");
        std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes;
        for (const auto& [item, mesh] : (*opened)->meshes) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        const query::MeshLookup lookup = [&](base::Name item) -> const query::MeshIndex* {
            const auto place = meshes.find(item);
            return place == meshes.end() ? nullptr : place->second.get();
        };
        const auto rules = check::withRules();
        auto found = [&] {
            check::Checker checker(check::gatherFacts(session, rules, lookup, io::mediaFacts(session), false));
            checker.checkAll(scene);
            return checker.findings(scene);
        };
        auto has = [&](const Finding& f) {
            const auto now = found();
            return std::any_of(now.begin(), now.end(), [&](const Finding& one) {
                return one.rule == f.rule && one.object == f.object && one.part == f.part;
            });
        };
        std::set<std::string> mended, fixes;
        for (const check::Rule& rule : *rules)
            if (rule.fix) fixes.insert(rule.id);
        const std::string before = io::formatScene(scene);
        for (const Finding& f : found()) {
            if (!f.mendable) continue;
            const query::SceneIndex index(scene, lookup);
            {
                edit::Draft draft(session, "broken-lock", "Mend");
                auto done = check::mend(draft, *rules, {&f, 1}, index);
                QVERIFY2(done, done ? "" : (f.rule + ": " + done.error().message).c_str());
                QVERIFY2(draft.commit(), f.rule.c_str());
            }
            const std::string after = io::formatScene(scene);
            QVERIFY2(after != before && !has(f), f.rule.c_str());
            QVERIFY(session.undo());
            QVERIFY2(io::formatScene(scene) == before, f.rule.c_str());
            QVERIFY(session.redo());
            QVERIFY2(io::formatScene(scene) == after, f.rule.c_str());
            QVERIFY(session.undo());
            mended.insert(f.rule);
        }
        QVERIFY2(mended == fixes, std::to_string(mended.size()).c_str());
    }
    void theDemoHasNoFaultAndItsBrokenSceneOneOfEach() {
        test::DemoCopy demo;
        auto opened = io::openWorkspace(demo.folder(), io::OpenMode::ReadOnly, test::chance());
        QVERIFY(opened);
        std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes;
        for (const auto& [item, mesh] : (*opened)->meshes) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        auto& session = *(*opened)->session;
        const model::Scene& broken = **session.scene("broken-lock");
        for (const auto& [item, mesh] : (*opened)->meshes)  // its solids came with it
            if (!meshes.contains(item)) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        const auto facts = check::gatherFacts(
            session, check::withRules(),
            [&](base::Name item) -> const query::MeshIndex* {
                const auto place = meshes.find(item);
                return place == meshes.end() ? nullptr : place->second.get();
            },
            io::mediaFacts(session), true);
        check::Checker checker(facts);
        const model::Scene& scene = **session.scene("lower-basin");
        checker.checkAll(scene);
        const auto found = checker.findings(scene);
        QVERIFY2(found.empty(), found.empty() ? "" : found[0].message.c_str());
        QCOMPARE(checker.accepted(scene).size(), std::size_t{2});
        checker.checkAll(broken);
        std::map<std::string, int> counts;
        for (const Finding& f : checker.findings(broken)) ++counts[f.rule];
        for (const check::Rule& rule : check::builtInRules()) {
            if (rule.id == "unused-prefab") continue;  // of a project, not of a scene
            QVERIFY2(counts[rule.id] == 1, (rule.id + ": " + std::to_string(counts[rule.id])).c_str());
        }
        QCOMPARE(counts.size(), check::builtInRules().size() - 1);
    }
};

QTEST_GUILESS_MAIN(CheckerTest)
#include "checker_test.moc"
