// What each rule finds, and what it passes over.
#include <QtTest>

#include "check/level.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
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
