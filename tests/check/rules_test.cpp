// What each rule finds, and what it passes over.
#include <QtTest>

#include "check/level.h"
#include "model/facets/act.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/cues.h"
#include "model/facets/goal.h"
#include "model/facets/light.h"
#include "model/facets/shot.h"
#include "model/facets/sound.h"
#include "model/facets/surfaces.h"
#include "ops/items.h"
#include "support/test_main.h"

namespace rules_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using check::Finding;
using model::Slot;
using test::Level;
using test::Map;

class RulesTest : public QObject {
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
    void whatIsWalledInOrOnAPillarCannotBeReached() {
        Level p;
        p.set("out-of-reach", {{"where", {std::string("item:beam")}}});
        const ObjectId thing = p.put("beam", {8, 0, 8}, {}, Vec3(0.2));
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{0});
        // A pillar of 2 m across: one could stand beside it up there, but nobody climbs it.
        const ObjectId pillar = p.put("cube", {8, 0, 8}, {}, {2.4, 3, 2.4});
        p.pose(thing, {8, 3, 8}, {}, Vec3(0.2));
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{1});
        // Steps lead up.
        std::vector<ObjectId> steps;
        for (int i = 0; i < 8; ++i)
            steps.push_back(p.put("cube", {9.5 + i * 0.6, 0, 8}, {}, {0.6, 2.65 - i * 0.35, 1.4}));
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{0});
        steps.push_back(pillar);
        p.step([&](edit::Draft& d) { return ops::remove(d, steps); });
        // Four walls round it, with room to stand; then a gap.
        p.pose(thing, {8, 0, 8}, {}, Vec3(0.2));
        std::vector<ObjectId> walls;
        for (const auto& [x, z, wide, deep] :
             {std::tuple{8.0, 6.4, 3.4, 0.2}, {8.0, 9.6, 3.4, 0.2}, {6.4, 8.0, 0.2, 3.4}, {9.6, 8.0, 0.2, 3.4}})
            walls.push_back(p.put("cube", {x, 0, z}, {}, {wide, 2.5, deep}));
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&walls[0], 1}); });
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{0});
        // Inside something closed.
        p.put("cube", {8, 0, 8}, {}, {1.5, 2, 1.5});
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{1});
    }
    /// Where one stands to use a thing is measured once it is sized; one of several places is enough.
    void whatIsUsedFromAPlaceIsReachedFromThere() {
        Level p;
        p.set("out-of-reach", {{"where", {std::string("item:beam")}}});
        p.step([](edit::Draft& d) {
            const base::Name beam = d.session().intern("beam");
            model::ItemFacts facts = *d.session().library().item(beam);
            facts.folder = "Blocks";
            facts.uses = {{"crank", {3, 0, 0}, 90}};
            return ops::setItem(d, beam, facts);
        });
        const ObjectId thing = p.put("beam", {8, 0, 8}, {}, Vec3(1));
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{0});
        const ObjectId block = p.put("cube", {11.1, 0, 8.2}, {}, {1.5, 2.5, 1.5});  // stands where one would
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{1});
        p.pose(thing, {8, 0, 8}, {}, Vec3(2, 1, 1));  // sized, the place is elsewhere
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{0});
        p.pose(thing, {8, 0, 8}, {}, Vec3(1));
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{1});
        p.step([](edit::Draft& d) {
            const base::Name beam = d.session().intern("beam");
            model::ItemFacts facts = *d.session().library().item(beam);
            facts.uses.push_back({"other side", {-3, 0, 0}, 270});
            return ops::setItem(d, beam, facts);
        });
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{0});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&block, 1}); });
        p.pose(thing, {8, 30, 8}, {}, Vec3(1));  // up in the air
        QCOMPARE(p.count("out-of-reach", thing), std::size_t{1});
    }
    void aStartStandsOnAFloorAndInNothing() {
        Level p;
        p.kind("Level start", {});
        p.set("required-kinds", {{"off", {false}}});
        const ObjectId start = p.add("Start", {}, {{0, 0, 0}});
        p.ofKind(start, "Level start");
        QCOMPARE(p.count("required-kinds", start), std::size_t{0});
        p.pose(start, {0, 0.8, 0});
        QCOMPARE(p.count("required-kinds", start), std::size_t{1});
        p.pose(start, {0, 0, 0});
        p.put("cube", {0.2, 0, 0}, {}, {2, 3, 2});
        QCOMPARE(p.count("required-kinds", start), std::size_t{1});
        p.pose(start, {60, 0, 60});
        QCOMPARE(p.count("required-kinds", start), std::size_t{1});
    }
    void aBuriedLightAnUnknownPropertyAndWhatStandsOnAir() {
        Level p;
        const ObjectId lamp = p.add("Lamp", {}, {{0, 0.5, 0}});
        p.detail(lamp, [](model::Detail& d) { d.put(model::Light{}); });
        QCOMPARE(p.count("dead-light", lamp), std::size_t{0});
        const ObjectId block = p.put("cube", {0, 0, 0});
        QCOMPARE(p.count("dead-light", lamp), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&block, 1}); });
        const ObjectId thing = p.put("cube", {5, 0, 0});
        p.ofKind(thing, "Thing");
        p.detail(thing, [](model::Detail& d) { model::setValue(d.properties, "colour", {std::string("red")}); });
        QCOMPARE(p.count("out-of-range", thing), std::size_t{1});
        const ObjectId below = p.put("cube", {10, 0, 0}), crate = p.put("cube", {10, 1, 0}, {}, Vec3(0.5));
        p.detail(crate, [](model::Detail& d) { d.edit<model::Body>().role = model::Body::Role::Loose; });
        QCOMPARE(p.count("unsupported", crate), std::size_t{0});
        p.step([&](edit::Draft& d) { return ops::setFlag(d, {&below, 1}, model::flags::kUntouched, true); });
        QCOMPARE(p.count("unsupported", crate), std::size_t{1});
    }
    void anyNumberOfTwinsIsOneFindingAndOneFix() {
        Level p;
        std::vector<ObjectId> all;
        for (int i = 0; i < 5; ++i) all.push_back(p.put("cube", {3, 0, 3}));
        QCOMPARE(p.count("twice"), std::size_t{1});
        const auto found = p.all();
        const auto twice = std::find_if(found.begin(), found.end(), [](const Finding& f) { return f.rule == "twice"; });
        QVERIFY2(twice->message.find("4 others") != std::string::npos, twice->message.c_str());
        const auto facts = p.facts();
        p.step([&](edit::Draft& d) -> Status {
            auto done = check::mend(d, check::builtInRules(), {&*twice, 1}, p.index(), facts.get());
            return done ? Status{} : Status(tl::unexpected(done.error()));
        });
        QCOMPARE(p.count("twice"), std::size_t{0});
        QVERIFY(p.scene().find(twice->object) != model::kNoSlot);
    }
    void aFixThatDoesNotHelpIsTakenBack() {
        Level p;
        const std::string before = p.bytes();
        const ObjectId low = p.put("cube", {3, -3, 3});
        p.set("below-ground", {{"ground", {std::string("item:slab")}}});
        // The fix of another rule, which leaves it where it is.
        std::vector<check::Rule> rules = check::builtInRules();
        for (check::Rule& rule : rules)
            if (rule.id == "below-ground")
                rule.fix = [](edit::Draft& d, const Finding& f, const query::SceneIndex&) {
                    const base::Transform aside{{4, -3, 3}};
                    return d.setTransforms({&f.object, 1}, {&aside, 1});
                };
        const auto found = p.all();
        const auto buried = std::find_if(found.begin(), found.end(),
                                         [&](const Finding& f) { return f.rule == "below-ground" && f.object == low; });
        QVERIFY(buried != found.end());
        const std::string then = p.bytes();
        edit::Draft draft(p.session(), "first", "Mend");
        const auto done = check::mend(draft, rules, {&*buried, 1}, p.index(), p.facts().get());
        QVERIFY(!done.has_value() && done.error().message.find("does not help") != std::string::npos);
        QCOMPARE(p.bytes(), then);
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
        p.detail(b, [](model::Detail& d) { d.put(model::Surfaces{{{"stone", "gone", {}, "gone.png", {}, {}}}}); });
        QCOMPARE(p.count("missing-image", b), std::size_t{2});
        p.media["gone.png"] = {100, 64, 10, 0, 0, {}};
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
        // Letters are as they are written; a pattern of many stars takes no longer than others.
        p.set("name-pattern", {{"where", {std::string("item:cube")}}, {"pattern", {std::string("BLOCK")}}});
        QCOMPARE(p.count("name-pattern", a), std::size_t{1});
        std::string stars;
        for (int i = 0; i < 40; ++i) stars += "*o";
        p.step([&](edit::Draft& d) { return ops::rename(d, a, std::string(90, 'o')); });
        p.set("name-pattern", {{"where", {std::string("item:cube")}}, {"pattern", {stars + "k"}}});
        QCOMPARE(p.count("name-pattern", a), std::size_t{1});
        p.set("name-pattern", {{"where", {std::string("item:cube")}}, {"pattern", {stars}}});
        QCOMPARE(p.count("name-pattern", a), std::size_t{0});
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
        p.detail(lamp, [](model::Detail& d) { d.put(model::Light{}); });
        QCOMPARE(p.count("dead-light", lamp), std::size_t{0});
        p.pose(lamp, {0, 90, 0});
        QCOMPARE(p.count("dead-light", lamp), std::size_t{1});
        const ObjectId camera = p.add("Camera", {}, {{0, 0.5, 0}, {1, 0, 0, 0}, Vec3(1.0)});
        p.detail(camera, [](model::Detail& d) { d.put(model::Camera{}); });
        QCOMPARE(p.count("blind-camera", camera), std::size_t{1});
        p.pose(camera, {0, 1.5, 0});
        QCOMPARE(p.count("blind-camera", camera), std::size_t{0});
        const ObjectId crate = p.put("cube", {-8, 0, 0}), top = p.put("cube", {-8, 1, 0});
        QCOMPARE(p.count("carried-off"), std::size_t{0});
        p.ofKind(crate, "Cargo");
        QCOMPARE(p.count("carried-off", crate), std::size_t{1});
        p.detail(crate, [](model::Detail& d) { d.put(model::Body{}); });
        QCOMPARE(p.count("carried-off", crate), std::size_t{0});  // a fixed body
        QVERIFY(p.session().undo());
        // The project knows something that looks like it and stays.
        p.set("carried-off", {{"fixedTwins", {std::string("slab>beam, cube > beam")}}});
        for (const Finding& f : p.all())
            if (f.rule == "carried-off")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        QCOMPARE(std::string(p.scene().itemText(p.slot(crate))), std::string("beam"));
        QVERIFY(p.scene().facet<model::Body>(p.slot(crate))->role == model::Body::Role::Fixed);
        QVERIFY(p.session().undo());
        p.detail(crate, [](model::Detail& d) { d.put(model::Body{}); });
        p.detail(top, [](model::Detail& d) { d.edit<model::Body>().role = model::Body::Role::Loose; });
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
    void whatIsLooseAndWouldNotStayIsLetFallAndSettled() {
        Level p;
        const ObjectId stays = p.put("cube", {6, 0, 0}), hangs = p.put("cube", {9, 0.5, 0});
        for (const ObjectId id : {stays, hangs})
            p.detail(id, [](model::Detail& d) { d.edit<model::Body>().role = model::Body::Role::Loose; });
        QCOMPARE(p.count("would-move"), std::size_t{0});  // it rests until one says among which
        p.set("would-move", {{"where", {std::string("item:cube")}}});
        QCOMPARE(p.count("would-move", stays), std::size_t{0});
        QCOMPARE(p.count("would-move", hangs), std::size_t{1});
        const std::string before = p.bytes();
        for (const Finding& f : p.all())
            if (f.rule == "would-move")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        QCOMPARE(p.count("would-move"), std::size_t{0});
        QVERIFY(std::abs(p.scene().world(p.slot(hangs)).translation.y) < 0.01);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void aZoneThatNobodyReaches() {
        Level p;
        const ObjectId zone = p.put("", {6, 0, 0}), wall = p.put("cube", {0, 0, 30});
        Q_UNUSED(wall);
        const auto shape = [&](const Vec3& at, const Vec3& size) {
            p.pose(zone, at);
            p.detail(zone, [&](model::Detail& d) {
                d.edit<model::Zone>().size = size;
                model::Cue cue{"Waits"};
                cue.when.emplace_back().what = model::CueWhen::What::Enters;
                cue.then.emplace_back().words = "Here";
                d.edit<model::Cues>().all = {cue};
            });
        };
        shape({6, 0, 0}, {2, 2, 2});
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        shape({6, 6, 0}, {2, 2, 2});  // in the air
        QCOMPARE(p.count("zone-reach", zone), std::size_t{1});
        shape({6, 0.5, 0}, {2, 2, 2});  // knee-high: the middle of who walks comes in
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        // Walled in on all sides, and with one wall gone.
        shape({6, 0, 0}, {1, 2, 1});
        std::vector<ObjectId> walls;
        for (const Vec3& way : {Vec3(2, 0, 0), Vec3(-2, 0, 0), Vec3(0, 0, 2), Vec3(0, 0, -2)})
            walls.push_back(p.put("cube", Vec3(6, 0, 0) + way, {}, way.x != 0 ? Vec3(0.4, 4, 5) : Vec3(5, 4, 0.4)));
        QCOMPARE(p.count("zone-reach", zone), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&walls[0], 1}); });
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        shape({6, 6, 0}, {2, 2, 2});
        p.detail(zone,
                 [](model::Detail& d) { d.edit<model::Cues>().all[0].when[0].who = model::CueWhen::Who::Anything; });
        QCOMPARE(p.count("zone-reach"), std::size_t{0});  // what flies may come there
    }
    void actsAndEndsThatAreNotAsTheyShouldBe() {
        Level p;
        const ObjectId act = p.put("", {0, 0, 3}), lever = p.put("cube", {6, 0, 0});
        const auto acts = [&](bool begins, bool worked) {
            p.detail(act, [&](model::Detail& d) { d.put(model::Act{begins, worked, {}}); });
        };
        const auto does = [&](model::CueThen::Does what) {
            p.detail(lever, [&](model::Detail& d) {
                model::Cue cue{"Fine"};
                cue.when.emplace_back();
                cue.then.emplace_back().does = what;
                cue.then[0].targets = {{act, {}}};
                d.edit<model::Cues>().all = {cue};
            });
        };
        acts(false, false);
        QCOMPARE(p.count("act-idle", act), std::size_t{1});
        does(model::CueThen::Does::ActEnds);
        QCOMPARE(p.count("act-idle", act), std::size_t{1});
        does(model::CueThen::Does::ActBegins);
        QCOMPARE(p.count("act-idle"), std::size_t{0});
        does(model::CueThen::Does::Camera);  // it is none
        QCOMPARE(p.count("cue-target"), std::size_t{1});
        acts(true, false);
        QCOMPARE(p.count("act-idle") + p.count("act-open"), std::size_t{0});
        acts(true, true);
        QCOMPARE(p.count("act-open", act), std::size_t{1});
        for (const Finding& f : p.all())
            if (f.rule == "act-open")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        QCOMPARE(p.count("act-open"), std::size_t{0});
        QCOMPARE(p.count("no-end"), std::size_t{0});
        p.detail(act, [](model::Detail& d) { d.edit<model::Goal>(); });
        QCOMPARE(p.count("no-end"), std::size_t{1});
        does(model::CueThen::Does::Lost);
        QCOMPARE(p.count("no-end"), std::size_t{1});
        does(model::CueThen::Does::Won);
        QCOMPARE(p.count("no-end"), std::size_t{0});
    }
    void camerasThatDoNotShowWhatTheyShould() {
        Level p;
        const ObjectId zone = p.put("", {0, 0, 0}), camera = p.put("", {0, 3, 8});
        p.detail(zone, [](model::Detail& d) { d.edit<model::Zone>().size = {4, 3, 4}; });
        const auto shot = [&](ObjectId id, const std::function<void(model::Shot&)>& change) {
            p.detail(id, [&](model::Detail& d) {
                d.put(model::Camera{});
                model::Shot fine;
                fine.zones = {{zone, {}}};
                change(fine);
                d.put(fine);
            });
        };
        const char* all[] = {"camera-unshown", "camera-lost", "camera-wall", "camera-through", "camera-glide"};
        const auto only = [&](const std::string& rule) {
            for (const char* one : all)
                QVERIFY2(p.count(one) == std::size_t(rule == one ? 1 : 0), (rule + ": " + one).c_str());
        };
        shot(camera, [](model::Shot&) {});
        only("");
        shot(camera, [](model::Shot& s) { s.zones = {{ObjectId{77}, {}}}; });
        only("camera-unshown");
        shot(camera, [](model::Shot& s) { s.zones.clear(); });
        only("");
        const ObjectId second = p.put("", {8, 3, 0});
        shot(second, [](model::Shot& s) { s.zones.clear(); });
        only("camera-unshown");  // the first one shows wherever it would
        shot(second, [](model::Shot& s) { s.zones.clear(), s.weight = 2; });
        only("camera-unshown");  // now the other way round
        shot(second, [](model::Shot&) {});
        only("");
        // It stays: turned away, nearly so, and towards the zone.
        for (const auto& [yaw, rule] : {std::pair(180.0, "camera-lost"), {100.0, "camera-lost"}, {0.0, ""}}) {
            p.pose(camera, {0, 1.5, 8}, {0, yaw, 0});
            shot(camera, [](model::Shot& s) { s.does = model::Shot::Does::Stays; });
            only(rule);
        }
        shot(camera, [](model::Shot&) {});
        const ObjectId wall = p.put("cube", {0, 0, 4}, {}, {12, 5, 0.3});
        only("camera-wall");
        shot(camera, [](model::Shot& s) { s.walls = model::Shot::Walls::Lift; });
        only("");
        p.pose(wall, {0, 0, 4}, {}, {12, 0.4, 0.3});  // one looks over it
        shot(camera, [](model::Shot&) {});
        only("");
        for (const auto& [glide, rule] :
             {std::pair(5.0, "camera-glide"), {0.05, "camera-glide"}, {3.0, ""}, {0.0, ""}}) {
            shot(camera, [glide = glide](model::Shot& s) { s.glideSeconds = glide; });
            only(rule);
        }
        const ObjectId rail = p.put("", {-6, 4, 6});
        p.detail(rail, [](model::Detail& d) {
            d.edit<model::PointSet>().points.resize(2);
            d.edit<model::PointSet>().points[1].at = {12, 0, 0};
        });
        const auto rides = [&](model::Shot& s) { s.does = model::Shot::Does::Rides, s.path = rail; };
        shot(camera, rides);
        only("");
        p.pose(wall, {5, 0, 6}, {}, {0.3, 6, 2});
        only("camera-through");
        p.pose(wall, {5, 0, 6}, {}, {0.3, 3.5, 2});  // below it
        only("");
    }
    void soundsThatAreNotHeardOrCutOff() {
        Level p;
        p.media["bell.wav"] = {0, 0, 1000, 1.8, 0.6, {}};
        p.media["broken.wav"] = {0, 0, 10, 0, 0, "It cannot be read."};
        const ObjectId bell = p.put("", {0, 1, 3});
        const auto sound = [&](const std::function<void(model::Sound&)>& change) {
            p.detail(bell, [&](model::Detail& d) {
                model::Sound fine;
                fine.file = "bell.wav";
                fine.begins = true;
                change(fine);
                d.put(fine);
            });
        };
        const char* all[] = {"sound-missing", "sound-unheard", "sound-loud", "sound-cut"};
        const auto only = [&](const std::string& rule) {
            for (const char* one : all)
                QVERIFY2(p.count(one) == std::size_t(rule == one ? 1 : 0), (rule + ": " + one).c_str());
        };
        sound([](model::Sound&) {});
        only("");
        for (const char* file : {"", "none.wav", "broken.wav"}) {
            sound([&](model::Sound& s) { s.file = file; });
            only("sound-missing");
        }
        sound([](model::Sound& s) { s.begins = false; });
        only("sound-unheard");
        sound([](model::Sound& s) { s.gain = 0; });
        only("sound-unheard");
        sound([](model::Sound& s) { s.gain = 1.7; });
        only("sound-loud");
        sound([](model::Sound& s) { s.gain = 1.6; });
        only("");
        const auto ends = [&](double soundAt, double endAt, bool loop) {
            sound([&](model::Sound& s) { s.begins = false, s.loop = loop; });
            p.detail(bell, [&](model::Detail& d) {
                model::Cue cue{"Ends"};
                cue.when.emplace_back();
                cue.then.resize(2);
                cue.then[0].does = model::CueThen::Does::Sound;
                cue.then[0].targets = {{bell, {}}};
                cue.then[0].after = soundAt;
                cue.then[1].does = model::CueThen::Does::Won;
                cue.then[1].after = endAt;
                d.edit<model::Cues>().all = {cue};
            });
        };
        ends(0, 1, false);
        only("sound-cut");
        const std::string before = p.bytes();
        for (const Finding& f : p.all())
            if (f.rule == "sound-cut")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        only("");
        QCOMPARE(p.scene().facet<model::Cues>(p.slot(bell))->all[0].then[1].after, 1.8);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        ends(0.5, 2.2, false);
        only("sound-cut");
        ends(0.5, 2.3, false);
        only("");
        ends(3, 2, false);  // it comes after the end
        only("");
        ends(0, 1, true);  // without an end it is meant to be cut
        only("");
    }
    void cuesThatCannotDoWhatTheyAreThereFor() {
        Level p;
        const ObjectId lever = p.put("cube", {6, 0, 0}), other = p.put("cube", {9, 0, 0});
        const auto cue = [&](const std::function<void(model::Cue&)>& change) {
            p.detail(lever, [&](model::Detail& d) {
                model::Cue fine{"Fine"};
                fine.when.emplace_back();
                fine.then.emplace_back().words = "Hello";
                change(fine);
                d.edit<model::Cues>().all = {fine};
            });
        };
        const char* all[] = {"cue-target", "cue-idle", "cue-at-start", "goal-unmet", "two-ends", "endless-cues"};
        const auto only = [&](const std::string& rule) {
            for (const char* one : all) QCOMPARE(p.count(one), std::size_t(rule == one ? 1 : 0));
        };
        using Does = model::CueThen::Does;
        cue([](model::Cue&) {});
        only("");
        const auto does = [&](Does what, ObjectId to) {
            cue([&](model::Cue& c) {
                c.then[0].does = what;
                c.then[0].targets = {{to, {}}};
            });
        };
        does(Does::Exists, ObjectId{0x77});
        only("cue-target");
        does(Does::Exists, other);
        only("");
        does(Does::GoalMet, other);  // it is no goal
        only("cue-target");
        p.detail(other, [](model::Detail& d) { d.edit<model::Goal>(); });
        only("");
        does(Does::GoalSet, other);  // that does not meet it
        only("goal-unmet");
        does(Does::GoalMet, other);
        cue([](model::Cue& c) { c.when[0].what = model::CueWhen::What::Enters; });  // the cube is no zone
        QCOMPARE(p.count("cue-target"), std::size_t{1});
        p.detail(other, [](model::Detail& d) { d.facets.drop(model::Goal::type()); });
        cue([](model::Cue& c) { c.then.clear(); });
        only("cue-idle");
        cue([](model::Cue& c) { c.armed = false; });
        only("cue-idle");
        cue([](model::Cue& c) { c.then[0].words.clear(); });
        only("cue-idle");
        cue([](model::Cue& c) {
            c.then.assign(2, c.then[0]), c.then[0].does = Does::Won, c.then[1].does = Does::Lost;
        });
        only("two-ends");
        cue([](model::Cue& c) { c.then.assign(1, c.then[0]), c.then[0].does = Does::Won; });
        only("");
        const auto round = [&](std::int64_t times, double after) {
            cue([&](model::Cue& c) {
                c.times = times;
                c.then[0].does = Does::SetOff;
                c.then[0].to = model::CueThen::To::Myself;
                c.then[0].after = after;
            });
        };
        round(0, 0);
        only("endless-cues");
        round(3, 0);
        only("");
        round(0, 0.5);
        only("");
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
};

MELLOW_TEST(RulesTest)
}  // namespace rules_test
#include "rules_test.moc"
