// What scripts reach of the project: scene, items, outfits, verbs, queries; each undone with its step.
#include <QtTest>

#include "ops/guises.h"
#include "ops/items.h"
#include "ops/kinds.h"
#include "ops/outfits.h"
#include "scripts.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace reach_test {

using base::ObjectId;
using base::Vec3;
using script::Ending;
using test::Scripts;

class ReachTest : public QObject {
    Q_OBJECT

    static void refuses(Scripts& p, const std::string& text) {
        const std::string before = p.bytes();
        QVERIFY2(!p.run(text).done(), text.c_str());
        QCOMPARE(p.bytes(), before);
    }
    /// What is there now came in one step from what was.
    static void isOneStep(Scripts& p, const std::string& was) {
        const std::string now = p.bytes();
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), was);
        QVERIFY(p.session().redo());
        QCOMPARE(p.bytes(), now);
    }

  private Q_SLOTS:
    void cuesAreWrittenReadAndRefusedAsText() {
        Scripts p;
        const std::string bare = p.bytes();
        const auto made = p.run(R"(
            local lever = place("cube", vec(3, 0, 100))
            local made = '[{"name":"Opens","when":[{"what":"used"}],"then":[{"does":"message","words":"It opens."}]}]'
            assert(lever:facetJson("cues") == "")
            lever:facetJson("cues", made)
            local says = lever:facetJson("cues")
            assert(says:find('"Opens"') and says:find('"message"'), says)
            lever:facetJson("cues", says)
            assert(lever:facetJson("cues") == says)
            lever:facetJson("goal", '{"words":"Be quick","order":2}')
            assert(lever:get("goal.words") == "Be quick"))");
        QVERIFY2(made.done(), made.message.c_str());
        const std::string before = p.bytes();
        QVERIFY(before != bare);
        for (const char* wrong :
             {"'{'", "'[]'", "'[{\"name\":\"x\",\"when\":[{\"what\":\"dance\"}],\"then\":[]}]'", "'7'"})
            refuses(p, "find('item:cube')[1]:facetJson('cues', " + std::string(wrong) + ")");
        isOneStep(p, bare);
    }
    void routesAreDrawnAskedAndHaveThingsAlongThem() {
        Scripts p;
        const std::string bare = p.bytes();
        const auto made = p.run(R"(
            local way = route({vec(0, 0, 60), vec(20, 0, 60)})
            local metres, seconds = routeLength(way)
            assert(math.abs(metres - 20) < 1e-9 and math.abs(seconds - 20 / 1.4) < 1e-9)
            local at, ahead = pointAlong(way, "half way")
            assert((at - vec(10, 0, 60)):length() < 1e-6 and ahead.x > 0.999)
            local on, off = nearestAlong(way, vec(4, 0, 63))
            assert(math.abs(on - 4) < 1e-6 and math.abs(off - 3) < 1e-6)
            local a, b = place("cube", vec(3, 0, 60)), place("cube", vec(9, 0, 60))
            assert(#stops(way) == 0)
            local all = stops(way, {b, a})
            assert(all[1]:id() == a:id() and all[2]:id() == b:id())
            along(way, {a, b}, 2, 5, 1)
            assert((b:at() - vec(7, 0, 61)):length() < 1e-6)
            moveAlong(way, {a, b}, "+3 m")
            assert((a:at() - vec(5, 0, 61)):length() < 1e-6)
            local arm = route({vec(20, 0, 60), vec(20, 0, 80)}, false)
            fork(way, 2, arm)
            assert(way:facetJson("route"):find('"forks"')))");
        QVERIFY2(made.done(), made.message.c_str());
        for (const char* wrong : {"route({vec(0,0,0)})", "pointAlong(find('Route')[1], 'nowhere')",
                                  "moveAlong(find('Route')[1], find('item:cube'), 900)",
                                  "fork(find('Route')[1], 9, find('Route 2')[1])", "routeLength(find('item:cube')[1])",
                                  "stops(find('item:cube')[1])", "along(find('Route')[1], find('item:cube'), 0, 900)"})
            refuses(p, wrong);
        isOneStep(p, bare);
    }
    void aRehearsalIsAskedForAndNothingOfItIsKept() {
        Scripts p;
        const auto prepared = p.run(R"(
            place("slab", vec(0, -0.5, 100))
            place("cube", vec(3, 2, 100))
            place("cube", vec(-8, 0, 100)))");
        QVERIFY2(prepared.done(), prepared.message.c_str());
        const std::string before = p.bytes();
        const auto steps = p.session().history().steps().size();
        const auto asked = p.run(R"(
            local lines, places = rehearsed("", 3)
            assert(#lines == #places and lines[1]:find("0.00 Began") and lines[#lines]:find("3.00 Ended"))
            local crate
            for _, o in ipairs(find("item:cube")) do
                local at = o:at()
                if math.abs(at.z - 100) < 0.1 and math.abs(at.y - 2) < 0.1 then crate = o end
            end
            assert(crate, "the crate is found")
            assert(#wouldMove(crate) == 1, "it would move")
            local told, where, done = rehearsed("start 0 0.1 100 0\ngo 5 0 104\nwait 0.2", 20)
            assert(done, told[#told])
            assert(not select(3, rehearsed("start 0 0.1 100 0\ngo -8 4 100", 20))))");
        QVERIFY2(asked.done(), asked.message.c_str());
        QCOMPARE(p.bytes(), before);
        QCOMPARE(p.session().history().steps().size(), steps);
        const auto settled = p.run(R"(
            local crate
            for _, o in ipairs(find("item:cube")) do
                local at = o:at()
                if math.abs(at.z - 100) < 0.1 and math.abs(at.y - 2) < 0.1 then crate = o end
            end
            assert(#settle(crate) == 1)
            assert(#wouldMove(crate) == 0))");
        QVERIFY2(settled.done(), settled.message.c_str());
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.run("for i = 1, 30 do wouldMove(find('item:cube')) end").message.find("20 rehearsals") !=
                std::string::npos);
        QVERIFY(p.run("rehearsed('fly home')").message.find("no order") != std::string::npos);
        QCOMPARE(p.bytes(), before);
    }
    void solidsAreMadeCutAndPulled() {
        Scripts p;
        const std::string before = p.bytes();
        const auto done = p.run(R"(
            local wall = solid("wall", vec(6, 3, 0.2), vec(0, 0, 30))
            local door = open(wall, vec(-1, 0, 30.1), vec(0, 0, 1), 1, 2)
            assert(door == 1)
            repeatOpening(wall, door, 1, vec(2, 0, 0))
            assert(math.abs(volume(wall) - (18 - 4) * 0.2) < 1e-6)
            close(wall, 2)
            local halves = clip(wall, vec(0, 2.5, 30), vec(0, 1, 0))
            assert(#halves == 2 and math.abs(volume(halves[2]) - 0.6) < 1e-6)
            local box = solid("box", vec(2, 2, 2), vec(10, 0, 30))
            moveFace(box, vec(0, 1, 0), 1)
            assert(math.abs(volume(box) - 12) < 1e-6)
            extrude(box, vec(1, 0, 0), 1)
            assert(math.abs(volume(box) - 18) < 1e-6)
            split(box, vec(10, 1, 30), vec(0, 1, 0))
            local tool = solid("box", vec(1, 9, 1), vec(10, -1, 30))
            subtract(box, tool)
            assert(math.abs(volume(box) - 15) < 1e-6)
            assert(#pieces(join({box, tool})) > 1)
            local shell = solid("box", vec(2, 2, 2), vec(20, 0, 30))
            hollow(shell, 0.5)
            assert(math.abs(volume(shell) - 7) < 1e-6)
            local arch = solid("arch", vec(4, 3, 1), vec(30, 0, 30))
            arch:set("solid.sweep", 90)
            assert(arch:get("solid.sweep") == 90)
            plain(arch)
            assert(arch:get("solid.shape") == "plain")
            prism({vec(0, 0, 40), vec(4, 0, 40), vec(4, 0, 42)}, 1))");
        QVERIFY2(done.done(), done.message.c_str());
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        for (const char* wrong :
             {"solid('ball', vec(1, 1, 1), vec(0, 0, 0))", "solid('plain', vec(1, 1, 1), vec(0, 0, 0))",
              "solid('box', vec(1, -1, 1), vec(0, 0, 0))", "clip(selected(), vec(0, 0, 0), vec(0, 0, 0))",
              "clip(solid('box', vec(1, 1, 1), vec(0, 0, 0)), vec(0, 9, 0), vec(0, 1, 0))",
              "open(solid('box', vec(1, 1, 1), vec(0, 0, 0)), vec(9, 0, 0), vec(0, 0, 1), 1, 1)",
              "close(solid('box', vec(1, 1, 1), vec(0, 0, 0)), 1)",
              "prism({vec(0, 0, 0), vec(1, 0, 1), vec(1, 0, 0), vec(0, 0, 1)}, 1)",
              "hollow(solid('box', vec(1, 1, 1), vec(0, 0, 0)), 0 / 0)",
              "join(solid('box', vec(1, 1, 1), vec(0, 0, 0)))"})
            QVERIFY2(!p.run(wrong).done(), wrong);
    }
    void outfitsBerthsAndViewsAreReached() {
        Scripts p;
        const auto made = test::asStep(p, [](edit::Draft& d) -> base::Status {
            if (auto kind = ops::newKind(d, "Boat", ""); !kind) return kind;
            model::Outfit tarred;
            tarred.name = "tarred";
            tarred.tint = base::Vec3(0.1);
            if (auto put = ops::putOutfit(d, "Boat", tarred); !put) return tl::unexpected(put.error());
            model::ItemFacts facts = *d.session().library().item(d.session().intern("slab"));
            facts.kind = "Boat";
            facts.folder = "Blocks";
            facts.berths = {{"fore", {2, 0, 0}, 0}};
            if (auto set = ops::setItem(d, d.session().intern("slab"), facts); !set) return set;
            model::Guise frost;
            frost.name = "Frost";
            return ops::putGuise(d, frost);
        });
        QVERIFY2(made, made ? "" : made.error().message.c_str());
        const std::string before = p.bytes();
        const auto done = p.run(R"(
            itemFact("cube", "folder", "Blocks")
            local boat = place("slab", vec(0, 1, 0))
            local crate = place("cube", vec(9, 0, 0))
            assert(outfits("Boat")[1] == "tarred" and guises()[1] == "Frost")
            wear(boat, "tarred")
            assert(boat:get("outfit.name") == "tarred")
            intoBerth(crate, boat, "fore")
            assert(#boat:children() == 1)
            setting("guise", "Frost")
            savedView("Above", vec(0, 30, 20), vec(0, 0, 0))
            local from, to = savedView("Above")
            assert(#views() == 1 and from.y == 30 and to.y == 0)
            setting("levelLow", vec(-10, -1, -10))
            itemFact("cube", "unit", "centimetre"))");
        QVERIFY2(done.done(), done.message.c_str());
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        for (const char* wrong : {"outfits('Ghost')", "wear(place('slab'), 'ghost')", "savedView('ghost')",
                                  "itemFact('cube', 'berths', 'x')", "itemFact('cube', 'berths')",
                                  "intoBerth(place('cube'), place('slab'), 'aft')", "wear(place('cube'), 'tarred')"})
            QVERIFY2(!p.run(wrong).done(), wrong);
        QCOMPARE(p.bytes(), before);
    }
    void theSceneAndItemsAreSetUp() {
        Scripts p;
        const std::string before = p.bytes();
        const auto done = p.run(R"(
            setting("sunHeight", 12)
            setting("sky", vec(0.1, 0.2, 0.3))
            setting("notes", "by a script")
            assert(math.abs(setting("sunHeight") - 12) < 1e-6 and setting("sky").y == 0.2)
            itemFact("cube", "folder", "Blocks")
            itemFact("cube", "collision", "box")
            itemFact("cube", "offered", false)
            assert(itemFact("cube", "folder") == "Blocks" and itemFact("cube", "offered") == false))");
        QVERIFY2(done.done(), done.message.c_str());
        QCOMPARE(p.scene().settings().notes, std::string("by a script"));
        QVERIFY(!p.session().library().item(p.name("cube"))->offered);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().library().item(p.name("cube"))->offered);
        for (const char* wrong :
             {"setting('moon', 1)", "setting('sunHeight', 1000)", "setting('sky', 'blueish')", "setting()",
              "itemFact('ghost', 'folder', 'x')", "itemFact('cube', 'folder', '')", "itemFact('cube', 'kind', 'Ghost')",
              "itemFact('cube', 'collision', 'soft')", "setting('haze', 0/0)"}) {
            const auto refused = p.run(wrong);
            QVERIFY2(!refused.done(), wrong);
            QVERIFY(!refused.message.empty());
        }
    }
    void groupsCopiesFlagsAndProperties() {
        Scripts p;
        const auto done = p.run(R"(
            local cubes = find("item:cube")
            local copies = copy(cubes)
            assert(#copies == 2)
            local g = group(copies, "Pair")
            assert(copies[1]:parent() == g and #g:children() == 2)
            copies[1]:hidden(true)
            assert(copies[1]:hidden() and not copies[2]:hidden())
            copies[1]:tint(0.5, 0.5, 0.5)
            copies[1]:put()
            assert(copies[1]:parent() == nil)
            copies[1]:size(2)
            assert(copies[1]:size() == vec(2, 2, 2))
            copies[1]:turn(0, 45, 0)
            assert(math.abs(missing(copies[1]) - 45) < 1e-9))");
        QVERIFY(done.ending == Ending::Error);  // there is no such function, and nothing of it stays
        const auto again = p.run(
            "local c = copy(find('item:cube')) choose(c) assert(#selected() == 2) assert(named('nobody') == nil)");
        QVERIFY2(again.ending == Ending::Done, again.message.c_str());
        QCOMPARE(p.session().selection().size(), std::size_t{2});
    }
    void verbsAndQueriesAreThere() {
        Scripts p;
        const auto done = p.run(R"(
            local cube = place("cube", vec(0, 3, 20), turn(0, 30, 0))
            local hit, point, normal, far = ray(vec(0, 10, 20), vec(0, -1, 0))
            assert(hit == cube and math.abs(far - 6) < 1e-6 and normal:to(vec(0, 1, 0)) < 1e-6, tostring(far))
            assert(below(vec(0, 10, 20), cube):item() == "slab")
            assert(math.abs(cube:gap() - 3) < 1e-4)
            assert(math.abs(seat(cube) - 3) < 1e-4)
            assert(#overlapping(vec(-1, -1, 19), vec(1, 1, 21)) == 2)
            local near, metres = nearest(vec(4, 0, 0), find("item:cube"))
            assert(metres == 1 and near:at() == vec(5, 0, 0))
            local corner, whose = catch(vec(1.4, 0, 0.6), 1)
            assert(whose:item() == "cube" and corner:to(vec(1.5, corner.y, 0.5)) < 1e-4, tostring(corner))
            align(find("item:cube"), "z", "low", near)
            spread(find("item:cube"), "x")
            match({cube}, "height", near)
            local line = row({cube}, 4, vec(2, 0, 0))
            assert(#line:children() == 4)
            bake({line})
            local made = prefab({line}, "Four cubes")
            assert(made:prefab() == "Four cubes")
            local again = place("Four cubes", vec(0, 0, 40))
            assert(again:prefab() == "Four cubes")
            takeApart({again})
            assert(again:prefab() == nil)
            local ramp = solid("wedge", vec(2, 1, 4), vec(30, 0, 0), 90)
            ramp:note("A ramp")
            assert(ramp:note() == "A ramp" and ramp:body() == nil)
            ramp:body("hull")
            assert(ramp:body() == "hull")
            ramp:points({vec(1, 2, 3), vec(4, 5, 6)})
            assert(ramp:points()[2]:to(vec(4, 5, 6)) < 1e-9)
            local twin = copyLinked({again and place("Four cubes", vec(9, 0, 40))})
            assert(#twin == 1 and twin[1]:prefab() == "Four cubes")
            twin[1]:children()[1]:hidden(true)
            assert(takeBack(twin[1]) == 1 and not twin[1]:children()[1]:hidden() and takeBack(twin[1]) == 0)
            twin[1]:children()[1]:hidden(true)
            assert(give(twin[1]) == 1)
            assert(edition("Four cubes", "Four more") == "Four more")
            local few = broom("scatter", vec(-15, 0, 15), 3, "cube", 0.2)
            assert(#few > 0 and few[1]:item() == "cube")
            assert(#broom("remove", vec(-15, 0, 15), 3.5, "item:cube") == 0 and not few[1]:alive())
            straighten({ramp}, "turn")
            mirror({ramp}, "x", vec(0, 0, 0))
            snap({ramp}, 0.5)
            aim({ramp}, vec(0, 0, 100))
            assert(not pcall(place, "nothing", vec(0, 0, 0)) and not pcall(align, {ramp}, "w", "low")))");
        QVERIFY2(done.done(), done.message.c_str());
        p.settings.shapes = {};
        QVERIFY(p.run("ray(vec(0, 0, 0), vec(0, -1, 0))").message.find("no meshes") != std::string::npos);
    }
    void contactLayingMixesAndRelationsAreReached() {
        Scripts p;
        const std::string before = p.bytes();
        const auto done = p.run(R"(
            local ground = place("slab", vec(0, 0, 40))
            local box = place("cube", vec(0, 3, 40))
            local metres, on = push(box, vec(0, -1, 0))
            assert(math.abs(metres - 2.5) < 1e-5 and on == ground)
            assert(box:support() == ground and #standingOn(ground) == 1)
            assert(moveInContact(box, vec(2, -1, 0)).x > 1.99)
            quarter(box, 1)
            local shape, ofBody = box:collision()
            assert(shape == "mesh" and ofBody == false)
            local tiles = lay("cube", 1, vec(10.5, 0, 40.5), vec(12.5, 0, 41.5))
            assert(#tiles == 6)
            assert(#lay("cube", 1, vec(10.5, 0, 40.5), vec(12.5, 0, 41.5)) == 0)
            assert(clearCells(1, vec(10.5, 0, 40.5), vec(10.5, 0, 41.5)) == 2)
            setMix("yard", "cube", 3) setMix("yard", "beam")
            assert(mixes()[1] == "yard")
            remake(tiles[6], "yard")
            setMix("yard", "cube", 0) setMix("yard", "beam", 0)
            assert(#mixes() == 0)
            relate(box, "seated")
            local lamp = place("cube", vec(5, 0, 44))
            relate(lamp, "facing", box)
            assert(#lamp:relations() == 1 and box:relations()[1]:find("seated on"))
            lamp:unrelate(1)
            assert(#lamp:relations() == 0)
            assert(not pcall(relate, box, "glued") and not pcall(laySet, "ghost", vec(0, 0, 0), vec(1, 0, 0)))
            assert(not pcall(lay, "ghost", 1, vec(0, 0, 0), vec(0, 0, 0)) and not pcall(setMix, "x", "ghost", 1)))");
        QVERIFY2(done.done(), done.message.c_str());
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), before);
    }
};

MELLOW_TEST(ReachTest)
}  // namespace reach_test
#include "reach_test.moc"
