// The scripts that the demo brings: each does its chore, is one step, and undoing it gives back every byte.
#include <QtTest>

#include "check/checker.h"
#include "check/gather.h"
#include "check/verbs.h"
#include "io/scene_file.h"
#include "model/facets/body.h"
#include "model/facets/tint.h"
#include "script/behaviours.h"
#include "script/rules.h"
#include "script/shapes.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace gallery_test {

using base::ObjectId;
using base::Vec3;
using model::kNoSlot;
using model::Slot;

struct Gallery {
    test::DemoCopy demo;
    std::unique_ptr<io::Workspace> workspace;
    script::Shelf shelf;

    Gallery() {
        auto opened = io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        if (!opened) qFatal("%s", opened.error().message.c_str());
        workspace = std::move(*opened);
        shelf.setFolder(script::Owner::Project, demo.folder() / "scripts", "Heron Lock");
        shelf.refresh();
        (void)scene();
    }
    edit::Session& session() { return *workspace->session; }
    const model::Scene& scene() { return **session().scene("lower-basin"); }
    std::string bytes() { return io::formatScene(scene()); }
    Slot named(std::string_view name) {
        for (Slot s : scene().subtree(kNoSlot))
            if (scene().nameText(s) == name) return s;
        qFatal("no %s", std::string(name).c_str());
        return kNoSlot;
    }
    std::vector<Slot> ofItem(std::string_view item) {
        std::vector<Slot> all;
        for (Slot s : scene().subtree(kNoSlot))
            if (scene().itemText(s) == item) all.push_back(s);
        return all;
    }
    Vec3 at(Slot s) { return scene().world(s).translation; }

    /// One step, and undone byte by byte once `look` has looked.
    script::Outcome run(const std::string& command, const model::ValueMap& form, const std::function<void()>& look) {
        const std::string before = bytes();
        for (const script::Offer& offer : shelf.offers()) {
            if (offer.spec.name != command) continue;
            script::Settings settings;
            settings.command = command;
            settings.form = form;
            settings.shapes = script::shapesIn(*workspace);
            edit::Draft draft(session(), "lower-basin", command);
            script::Outcome outcome = script::run(draft, shelf.source(shelf.scripts()[offer.script]), settings);
            if (!outcome.done()) {
                draft.rollback();
                if (bytes() != before) qFatal("something was left behind");
                return outcome;
            }
            if (!draft.commit()) qFatal("no step");
            const std::string after = bytes();
            look();
            if (before != after) {
                if (!session().undo() || bytes() != before) qFatal("undo is not exact: %s", command.c_str());
                if (!session().redo() || bytes() != after) qFatal("redo is not exact: %s", command.c_str());
                if (!session().undo()) qFatal("no undo");
            }
            return outcome;
        }
        qFatal("no command %s", command.c_str());
        return {};
    }
};

model::Value point(double x, double y, double z) {
    return {model::ValueList{{x}, {y}, {z}}};
}

#define RUN(...)                                        \
    const script::Outcome outcome = g.run(__VA_ARGS__); \
    QVERIFY2(outcome.done(), outcome.message.c_str())

class GalleryTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void checksOfTheWorldFindWhatIsBroken() {
        Gallery g;
        const auto rules = check::withRules(script::rulesOf(g.shelf));
        QCOMPARE(rules->size(), check::builtInRules().size() + 2);
        auto facts = [&] { return check::gatherFacts(g.session(), rules, script::shapesIn(*g.workspace), {}, false); };
        const std::vector<std::string> ours = {"windlass-apart", "lantern-off-grid"};
        auto found = [&](const std::string& scene) {
            const model::Scene& in = **g.session().scene(scene);
            check::Checker checker(facts());
            checker.checkAll(in, nullptr, ours);
            return checker.findings(in);
        };
        QVERIFY(found("lower-basin").empty());
        const auto apart = found("broken-lock");
        QCOMPARE(apart.size(), std::size_t{1});
        QCOMPARE(apart[0].rule, std::string("windlass-apart"));
        QVERIFY(!apart[0].marks.empty());

        const model::Scene& scene = **g.session().scene("lower-basin");
        const std::string before = io::formatScene(scene);
        const base::ObjectId post = scene.id(g.named("Lantern post 1"));
        edit::Draft draft(g.session(), "lower-basin", "Push");
        base::Transform to = scene.local(g.named("Lantern post 1"));
        to.position.x += 0.034;
        QVERIFY(draft.setTransforms({&post, 1}, {&to, 1}) && draft.commit());
        const auto pushed = found("lower-basin");
        QCOMPARE(pushed.size(), std::size_t{1});
        QVERIFY(pushed[0].message.find("0.034 m") != std::string::npos);
        edit::Draft mending(g.session(), "lower-basin", "Mend");
        const query::SceneIndex index(scene, script::shapesIn(*g.workspace));
        QVERIFY(check::mend(mending, *rules, pushed, index) && mending.commit());
        QVERIFY(found("lower-basin").empty());
        QVERIFY(g.session().undo() && g.session().undo());
        QCOMPARE(io::formatScene(scene), before);
    }
    void allAreReadAndOffered() {
        Gallery g;
        for (const script::Script& one : g.shelf.scripts()) QVERIFY2(one.problem.empty(), one.problem.c_str());
        QVERIFY(g.shelf.conflicts().empty());
        QVERIFY(g.shelf.offers().size() >= 9);
        for (const script::Offer& offer : g.shelf.offers()) {
            QVERIFY2(offer.menu.starts_with("Heron Lock"), offer.menu.c_str());
            QVERIFY2(!offer.spec.help.empty(), offer.spec.name.c_str());
        }
    }
    void bollardsAreNumberedAlongTheQuay() {
        Gallery g;
        RUN("Number along the quay", {{"name", {std::string("Quay bollard")}}, {"first", {std::int64_t{10}}}}, [&] {
            auto all = g.ofItem("bollard");
            std::sort(all.begin(), all.end(), [&](Slot a, Slot b) { return g.at(a).x < g.at(b).x; });
            for (std::size_t i = 0; i < all.size(); ++i)
                QCOMPARE(std::string(g.scene().nameText(all[i])), "Quay bollard " + std::to_string(10 + i));
        });
        QVERIFY(!g.run("Number along the quay", {{"item", {std::string("nothing")}}}, [] {}).done());
    }
    void goodsGetHulls() {
        Gallery g;
        RUN("Bodies for goods", {}, [&] {
            for (Slot s : g.ofItem("pear-crate"))
                QVERIFY(g.scene().protectedInTree(s) || (g.scene().facet<model::Body>(s)));
        });
        QVERIFY(outcome.said.back().text.ends_with("got a body"));
    }
    void lanternsStandOnTheGroundAtEqualSpacing() {
        Gallery g;
        const std::size_t before = g.ofItem("lantern-post").size();
        RUN("Lanterns between", {{"count", {std::int64_t{4}}}, {"from", point(-60, 5, 40)}, {"to", point(-30, 5, 40)}},
            [&] {
                const auto all = g.ofItem("lantern-post");
                QCOMPARE(all.size(), before + 4);
                std::vector<double> xs;
                for (std::size_t i = before; i < all.size(); ++i) xs.push_back(g.at(all[i]).x);
                std::sort(xs.begin(), xs.end());
                for (std::size_t i = 1; i < 4; ++i) QVERIFY(std::abs(xs[i] - xs[i - 1] - 10) < 1e-6);
            });
    }
    void stoneIsDarkAtTheWaterAndPlainAboveIt() {
        Gallery g;
        RUN("Weathered stone", {{"which", {std::string("item:coping")}}, {"water", {0.0}}, {"reach", {2.0}}}, [&] {
            for (Slot s : g.ofItem("coping")) {
                const double low = g.scene().bounds(s).low.y;
                const Vec3 tint = g.scene().facet<model::Tint>(s) ? g.scene().facet<model::Tint>(s)->colour : Vec3(1);
                QVERIFY(low >= 2 ? tint == Vec3(1.0) : tint.x < 1);
            }
        });
    }
    void itemsAreSwappedByTheTable() {
        Gallery g;
        const std::size_t ember = g.ofItem("awning-ember").size(), tide = g.ofItem("awning-tide").size();
        QVERIFY(ember + tide > 0);
        RUN("Swap items by the table", {}, [&] {
            QCOMPARE(g.ofItem("awning-ember").size(), tide);
            QCOMPARE(g.ofItem("awning-moss").size(), ember);
        });
    }
    void spacingIsEvened() {
        Gallery g;
        const auto posts = g.ofItem("lantern-post");
        std::vector<ObjectId> some;
        for (std::size_t i = 0; i < 4; ++i) some.push_back(g.scene().id(posts[i]));
        g.session().select(some);
        RUN("Even spacing", {}, [&] {
            std::vector<Vec3> places;
            for (ObjectId id : some) places.push_back(g.at(g.scene().find(id)));
            std::sort(places.begin(), places.end(), [](Vec3 a, Vec3 b) { return a.x + a.z < b.x + b.z; });
            const double step = glm::length(places[1] - places[0]);
            for (std::size_t i = 2; i < places.size(); ++i)
                QVERIFY(std::abs(glm::length(places[i] - places[i - 1]) - step) < 1e-6);
        });
    }
    void aRampRisesFromItsFootToThePickedHeight() {
        Gallery g;
        for (const bool steps : {false, true}) {
            RUN("Stone ramp",
                {{"foot", point(50, 1, 50)}, {"top", point(50, 4, 58)}, {"width", {3.0}}, {"steps", {steps}}}, [&] {
                    const base::Aabb box = g.scene().subtreeBounds(g.named("Stone ramp"));
                    QVERIFY(glm::length(box.low - Vec3(48.5, 1, 50)) < 1e-6);
                    QVERIFY(glm::length(box.high - Vec3(51.5, 4, 58)) < 1e-6);
                });
        }
        const auto refused = g.run("Stone ramp", {{"foot", point(0, 5, 0)}, {"top", point(9, 1, 0)}}, [] {});
        QVERIFY(refused.message.find("above the foot") != std::string::npos);
    }
    void idleWindlassesAreToldMarkedAndSelected() {
        Gallery g;
        RUN("Windlasses that serve no leaf", {}, [] {});
        const std::size_t idle = g.session().selection().size();
        QCOMPARE(outcome.said.size(), idle + 1);
        QCOMPARE(outcome.marks.size(), idle * 2);
        QVERIFY(outcome.said.back().text.ends_with("windlasses serve no leaf"));
    }
    void reachSelectsAndDraws() {
        Gallery g;
        g.session().select({g.scene().id(g.named("Bollard 1"))});
        for (const script::Offer& offer : g.shelf.offers()) {
            if (offer.spec.name != "Within reach") continue;
            QVERIFY(offer.spec.stays && offer.spec.marks);
            script::Program program(g.shelf.source(g.shelf.scripts()[offer.script]), {},
                                    script::Place(g.session(), "lower-basin"));
            const auto drawn = program.marks(0, {{"reach", {6.0}}});
            QVERIFY2(drawn.done(), drawn.message.c_str());
            QCOMPARE(drawn.marks.size(), std::size_t{2});
            QCOMPARE(drawn.marks[0].radiusMetres, 6.0);
        }
        RUN("Within reach", {{"reach", {30.0}}}, [&] { QVERIFY(!g.session().selection().empty()); });
    }
    void theBehaviourOfLanternsFollowsTheirSwitch() {
        Gallery g;
        script::Behaviours behaviours;
        behaviours.take(g.shelf);
        std::vector<std::string> told;
        behaviours.onSwitchedOff = [&](const std::string& message) { told.push_back(message); };
        g.session().setBeforeCommit([&](edit::Draft& draft) { return behaviours.beforeCommit(draft); });
        const Slot post = g.ofItem("lantern-post")[0];
        const ObjectId id = g.scene().id(post);
        script::Settings settings;
        settings.args["id"] = base::toText(id);
        auto set = [&](const std::string& text) {
            edit::Draft draft(g.session(), "lower-basin", "Set");
            const std::string find =
                "for _, o in ipairs(find('item:lantern-post')) do if o:id() == argument('id') then ";
            const auto outcome = script::run(draft, {"t.lua", find + text + " end end", {}}, settings);
            if (!outcome.done()) qFatal("%s", outcome.message.c_str());
            return draft.commit().has_value();
        };
        QVERIFY(set("o:set('lit', false)"));
        for (Slot s = g.scene().firstChild(g.scene().find(id)); s != kNoSlot; s = g.scene().nextSibling(s))
            QVERIFY(g.scene().kindText(s) != "Lamp" || (g.scene().flagsOf(s) & model::flags::kUnseen) != 0);
        QVERIFY(set("o:set('lit', true)"));
        QVERIFY(!set("o:set('oil', 0)"));  // not allowed
        QVERIFY2(told.empty(), told.empty() ? "" : told[0].c_str());
        std::size_t rings = 0;
        const std::vector<Slot> slots = {g.scene().find(id)};
        behaviours.looks(g.session(), "lower-basin", slots,
                         [&](Slot, const script::Look& look) { rings += look.marks.size(); });
        QCOMPARE(rings, std::size_t{2});
    }
};

MELLOW_TEST(GalleryTest)
}  // namespace gallery_test
#include "gallery_test.moc"
