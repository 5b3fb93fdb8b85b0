// Prefabs: made, placed, changed at either end, taken apart and made again, renamed and deleted; each a step that
// comes back byte for byte in every document it touched.
#include "ops/prefab.h"
#include "support/test_main.h"

#include <QtTest>

#include "io/scene_file.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "model/facets/zone.h"
#include "ops/copies.h"
#include "ops/group.h"
#include "ops/routes.h"
#include "support/blocks.h"
#include "support/naive_prefabs.h"
#include "support/steps.h"

namespace prefab_test {

using base::ObjectId;
using base::Vec3;
using model::kNoSlot;
using ops::Ids;

using Bytes = std::map<std::string, std::string>;

/// Runs a verb as one step and holds it to its promises.
template <class Verb>
auto stepOf(test::TestProject& p, const Verb& verb) {
    const Bytes before = test::documentBytes(p.session());
    edit::Draft draft(p.session(), "first", "Verb");
    auto result = verb(draft);
    if (!result) {
        draft.rollback();
        if (test::documentBytes(p.session()) != before) qFatal("a refusal left something behind");
        return result;
    }
    if (!draft.commit()) qFatal("no step");
    const Bytes after = test::documentBytes(p.session());
    if (!p.session().undo() || test::documentBytes(p.session()) != before) qFatal("undo gave other bytes");
    if (!p.session().redo() || test::documentBytes(p.session()) != after) qFatal("redo gave other bytes");
    const std::string naive = test::differsFromNaive(p.session(), "first");
    if (!naive.empty()) qFatal("%s", naive.c_str());
    return result;
}

struct Stall : test::Blocks {
    ObjectId frame = put("cube", {4, 0, 2});
    ObjectId crate = put("cube", {5, 0, 2}, {}, Vec3(0.5), frame);
    ObjectId lamp = add("Lamp", frame);
    ops::MadePrefab made;

    Stall() {
        ops::MakePrefab how{"Stall", "Market", {4, 0, 2}, true};
        made = *stepOf(*this, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{frame}, how); });
    }
    const model::Scene& definition() { return *session().definitions().at(made.prefab); }
    ObjectId place(const Vec3& at) {
        ops::Placement placement;
        placement.item = name(model::definitionKey(made.prefab));
        placement.position = at;
        return *stepOf(*this, [&](edit::Draft& d) { return ops::place(d, placement); });
    }
    ObjectId inside(ObjectId instance, ObjectId own) {
        return base::joined(instance, base::innerOf(made.instance, own));
    }
    base::Status slide(ObjectId id, const Vec3& to) {
        base::Transform pose = scene().local(slot(id));
        pose.position = to;
        return stepOf(*this, [&](edit::Draft& d) { return d.setTransforms({&id, 1}, {&pose, 1}); });
    }
    Vec3 at(ObjectId id) { return scene().local(slot(id)).position; }
    const model::PrefabLink& link(ObjectId instance) { return *scene().detail(slot(instance))->prefab; }
};

class PrefabTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void makingOneMovesNothingAndKeepsIds() {
        test::Blocks b;
        const ObjectId a = b.put("cube", {4, 1, 2}, {0, 30, 0});
        const ObjectId c = b.put("cube", {6, 0, 2});
        const auto before = b.scene().world(b.slot(a));
        ops::MakePrefab how{"Two cubes", "", {5, 0, 2}, true};
        auto made = stepOf(b, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{a, c}, how); });
        QVERIFY(made);
        QVERIFY(b.slot(a) != kNoSlot && b.slot(c) != kNoSlot);
        QVERIFY(glm::length(b.scene().world(b.slot(a)).translation - before.translation) < 1e-12);
        QVERIFY(b.scene().isInstance(b.slot(made->instance)));
        QCOMPARE(b.scene().ownSubtree(kNoSlot).size(), std::size_t{1});
        const model::Item* item = b.session().library().item(b.name(model::definitionKey(made->prefab)));
        QVERIFY(item != nullptr);
        QCOMPARE(item->label, std::string("Two cubes"));
    }
    void aChangeOfTheDefinitionReachesEveryInstance() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        const ObjectId inner = base::innerOf(s.made.instance, s.crate);
        stepOf(s, [&](edit::Draft& d) -> base::Status {
            if (auto turned = d.turnTo(model::definitionKey(s.made.prefab)); !turned) return turned;
            base::Transform pose;
            pose.position = {0, 3, 0};
            return d.setTransforms({&inner, 1}, {&pose, 1});
        });
        QCOMPARE(s.at(s.crate), Vec3(0, 3, 0));
        QCOMPARE(s.at(s.inside(other, s.crate)), Vec3(0, 3, 0));
    }
    void whatDiffersStaysWhenTheDefinitionChanges() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        const ObjectId there = s.inside(other, s.crate);
        QVERIFY(s.slide(there, {0, 0, 7}));
        QCOMPARE(s.link(other).changed.size(), std::size_t{1});
        const ObjectId inner = base::innerOf(s.made.instance, s.crate);
        stepOf(s, [&](edit::Draft& d) -> base::Status {
            if (auto turned = d.turnTo(model::definitionKey(s.made.prefab)); !turned) return turned;
            base::Transform pose;
            pose.position = {0, 3, 0};
            pose.scale = Vec3(2);
            return d.setTransforms({&inner, 1}, {&pose, 1});
        });
        QCOMPARE(s.at(there), Vec3(0, 0, 7));
        QCOMPARE(s.scene().local(s.slot(there)).scale, Vec3(2));
        QCOMPARE(s.at(s.crate), Vec3(0, 3, 0));
        // Put back by hand to what the definition says: nothing differs any more.
        QVERIFY(s.slide(there, {0, 3, 0}));
        QVERIFY(s.link(other).plain());
    }
    void objectsAreAddedAndRemovedInsideAnInstance() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        const ObjectId frame = s.inside(other, s.frame), crate = s.inside(other, s.crate);
        stepOf(s, [&](edit::Draft& d) { return ops::remove(d, Ids{crate}); });
        QVERIFY(s.slot(crate) == kNoSlot && s.slot(s.crate) != kNoSlot);
        ops::Placement placement;
        placement.item = s.name("cube");
        placement.parent = frame;
        const ObjectId added = *stepOf(s, [&](edit::Draft& d) { return ops::place(d, placement); });
        QCOMPARE(s.scene().id(s.scene().parent(s.slot(added))), frame);
        QCOMPARE(s.link(other).added.size(), std::size_t{1});
        QCOMPARE(s.link(other).removed.size(), std::size_t{1});
        // Out of it again: it is an object of the scene, the same one.
        stepOf(s, [&](edit::Draft& d) { return ops::reparent(d, Ids{added}, {}, {}); });
        QVERIFY(s.link(other).added.empty());
        QVERIFY(s.scene().instanceAround(s.slot(added)) == kNoSlot);
        auto refused = stepOf(s, [&](edit::Draft& d) { return ops::reparent(d, Ids{frame}, {}, {}); });
        QVERIFY(!refused && QString::fromStdString(refused.error().message).contains("take that apart"));
    }
    void differencesAreGivenAndTakenBackOneByOne() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        const ObjectId there = s.inside(other, s.crate);
        QVERIFY(s.slide(there, {0, 0, 7}));
        stepOf(s, [&](edit::Draft& d) { return ops::setTint(d, Ids{there}, Vec3(0.5)); });
        auto all = ops::differences(s.session(), s.link(other));
        QCOMPARE(all.size(), std::size_t{2});
        stepOf(s, [&](edit::Draft& d) { return ops::giveToDefinition(d, other, std::span(all).first(1)); });
        QCOMPARE(s.at(s.crate), Vec3(0, 0, 7));
        QCOMPARE(s.link(other).changed.size(), std::size_t{1});
        stepOf(s, [&](edit::Draft& d) { return ops::takeBack(d, other, std::span(all).last(1)); });
        QVERIFY(s.link(other).plain());
        QVERIFY(!s.scene().detail(s.slot(there)));
    }
    /// Every part of an object that can differ is listed, and given or taken back alone.
    void everyPartThatDiffersIsGivenAndTakenBack() {
        const model::Detail full = [] {
            model::Detail d;
            d.edit<model::Light>();
            d.edit<model::Camera>();
            d.put(model::Note{"Mind the step"});
            d.put(model::Tint{Vec3(0.5)});
            d.put(model::Body{});
            d.edit<model::PointSet>().points.push_back({"Mooring", {1, 0, 0}, 90, 0.5, {}, {}});
            d.put(model::Zone{});
            d.edit<model::Route>().points.resize(2);
            d.edit<model::Route>().stops.emplace_back().object = base::ObjectId{77};
            d.put(model::Surfaces{{{"oak", "stone", {}, {}, model::ImageFit::Tile, {}}}});
            d.properties = {{"oil", {2.5}}};
            return d;
        }();
        for (const bool gives : {true, false}) {
            Stall s;
            const ObjectId other = s.place({20, 0, 0});
            const ObjectId there = s.inside(other, s.lamp);
            const auto detail = std::make_shared<const model::Detail>(full);
            const base::Name name = s.name("Harbour lamp"), kind = s.name("Lantern");
            const std::uint8_t flags = model::flags::kUnseen;
            stepOf(s, [&](edit::Draft& d) -> base::Status {
                (void)d.setDetails({&there, 1}, {&detail, 1});
                (void)d.setLabels(model::LabelField::Name, {&there, 1}, {&name, 1});
                (void)d.setLabels(model::LabelField::Kind, {&there, 1}, {&kind, 1});
                (void)d.setFlags({&there, 1}, {&flags, 1});
                return d.state();
            });
            QVERIFY(s.slide(there, {0, 3, 0}));
            auto all = ops::differences(s.session(), s.link(other));
            QCOMPARE(all.size(), std::size_t{14});
            while (!all.empty()) {
                const model::PartSet part = all.front().parts();
                const auto one = std::span(all).first(1);
                QVERIFY(stepOf(s, [&](edit::Draft& d) {
                    return gives ? ops::giveToDefinition(d, other, one) : ops::takeBack(d, other, one);
                }));
                const auto left = ops::differences(s.session(), s.link(other));
                QCOMPARE(left.size(), all.size() - 1);  // that one alone
                QVERIFY(std::none_of(left.begin(), left.end(), [&](const auto& e) { return e.parts() == part; }));
                all = left;
            }
            const auto& held = s.scene().detail(s.slot(there));
            const auto& defined = s.definition().detail(s.definition().find(base::innerOf(s.made.instance, s.lamp)));
            if (gives)
                QVERIFY(held && defined && *held == full && *defined == full);
            else
                QVERIFY(!held && !defined);
        }
    }
    void whatWasRemovedDeepInsideStaysAwayWhenAGroupIsMadeAgain() {
        Stall s;
        const auto prefabOf = [&](const char* name, const Ids& ids) {
            ops::MakePrefab how{name, "", {}, true};
            return *stepOf(s, [&](edit::Draft& d) { return ops::makePrefab(d, ids, how); });
        };
        const ops::MadePrefab pair = prefabOf("Pair", Ids{s.place({20, 0, 0}), s.place({24, 0, 0})});
        const ops::MadePrefab row = prefabOf("Row", Ids{pair.instance});
        QVERIFY(stepOf(s, [&](edit::Draft& d) { return ops::takeApart(d, Ids{row.instance}, true); }));
        const model::Slot outer = s.slot(row.instance);
        const model::Slot inner = s.scene().firstChild(outer);
        const ObjectId gone = s.scene().id(s.scene().nextSibling(s.scene().firstChild(inner)));
        QVERIFY(stepOf(s, [&](edit::Draft& d) { return d.remove({&gone, 1}); }));
        QVERIFY(stepOf(s, [&](edit::Draft& d) { return ops::makeAgain(d, Ids{row.instance}); }));
        QVERIFY(s.scene().isInstance(s.slot(row.instance)));
        QCOMPARE(s.link(row.instance).removed.size(), std::size_t{1});
        QCOMPARE(s.scene().find(gone), kNoSlot);
    }
    void aRefusalHalfWayLeavesEveryDocumentAsItWas() {
        for (const bool inPlace : {false, true}) {
            Stall s;
            const ObjectId other = s.place({20, 0, 0}), third = s.place({40, 0, 0});
            if (inPlace) s.session().editDefinitionOf(other);
            const ObjectId own = s.put("cube", {9, 0, 9}), inner = s.inside(other, s.lamp),
                           far = s.inside(third, s.lamp);
            const std::vector<ObjectId> ids = {own, inner, far};
            const std::vector<std::uint8_t> flags(3, model::flags::kUnseen);
            const std::vector<base::Transform> poses(3, base::Transform{{1, 2, 3}});
            const std::vector<base::Name> names(3, s.name("Renamed"));
            model::Detail noted;
            noted.put(model::Note{"Mind"});
            const std::vector<model::DetailPtr> details(3, std::make_shared<const model::Detail>(noted));
            const std::vector<model::TreePlace> places = {
                {s.inside(third, s.frame), {}}, {s.inside(other, s.frame), {}}, {s.inside(third, s.frame), {}}};
            auto made = [&] {
                std::vector<model::ObjectRecord> objects(3);
                const ObjectId parents[] = {own, s.inside(other, s.frame), s.inside(third, s.frame)};
                for (std::size_t i = 0; i < 3; ++i) {
                    objects[i].id = s.session().random().nextId();
                    objects[i].parent = parents[i];
                }
                return objects;
            };
            const std::function<base::Status(edit::Draft&)> verbs[] = {
                [&](edit::Draft& d) { return d.setFlags(ids, flags); },
                [&](edit::Draft& d) { return d.setTransforms(ids, poses); },
                [&](edit::Draft& d) { return d.setLabels(model::LabelField::Name, ids, names); },
                [&](edit::Draft& d) { return d.setDetails(ids, details); },
                [&](edit::Draft& d) { return d.moveInTree(ids, places); },
                [&](edit::Draft& d) { return d.create(made()); },
                [&](edit::Draft& d) { return d.remove(ids); }};
            const Bytes before = test::documentBytes(s.session());
            for (std::size_t v = 0; v < std::size(verbs); ++v) {
                bool done = false;
                std::size_t halfWay = 0;
                for (int allowed = 0; allowed < 100 && !done; ++allowed) {
                    edit::Draft draft(s.session(), "first", "Verb");
                    int asked = 0;
                    draft.setMeter([&](std::size_t, std::size_t) -> base::Status {
                        if (asked++ < allowed) return {};
                        return base::fail(base::ErrorCode::Refused, "No further.");
                    });
                    done = verbs[v](draft).has_value();
                    if (!done && test::documentBytes(s.session()) != before)
                        qFatal("verb %zu left something behind after %d writes", v, allowed);
                    halfWay += done ? 0 : 1;
                }
                QVERIFY2(done, "it comes to its end when nothing holds it up");
                QVERIFY(halfWay > 1);
                QVERIFY(test::documentBytes(s.session()) == before);  // the draft was given up
            }
        }
    }
    /// Each instance has a course of its own, with its own stops; what one changes of it is its difference.
    void aRouteInsideHasTheStopsOfItsOwnInstance() {
        test::Blocks b;
        const ObjectId group = b.put("cube", {0, 0, 0}), gate = b.put("cube", {4, 0, 0}, {}, Vec3(1), group);
        const ObjectId way = *test::asStep(b, [&](edit::Draft& d) {
            const std::vector<Vec3> places = {{0, 0, 0}, {8, 0, 0}};
            return ops::addRoute(d, places, false, group);
        });
        (void)test::asStep(b, [&](edit::Draft& d) { return ops::addStops(d, way, Ids{gate}); });
        ops::MakePrefab how{"Course", "", {0, 0, 0}, true};
        const auto made = *test::asStep(b, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{group}, how); });
        ops::Placement placement;
        placement.item = b.name(model::definitionKey(made.prefab));
        placement.position = {20, 0, 30};
        const ObjectId other = *test::asStep(b, [&](edit::Draft& d) { return ops::place(d, placement); });
        const auto inside = [&](ObjectId own) { return base::joined(other, base::innerOf(made.instance, own)); };
        const auto route = [&](ObjectId id) { return *b.scene().facet<model::Route>(b.slot(id)); };
        QCOMPARE(route(way).stops[0].object, gate);
        QCOMPARE(route(inside(way)).stops[0].object, inside(gate));
        const auto at = query::stopsOf(b.scene(), b.slot(inside(way)), query::curveOf(b.scene(), b.slot(inside(way))));
        QVERIFY(std::abs(at[0].metres - 4) < 1e-6 && at[0].away < 1e-6);
        // A copy of the instance: its own again.
        const ObjectId copy = test::asStep(b, [&](edit::Draft& d) { return ops::duplicate(d, Ids{other}); })->front();
        const ObjectId third = base::joined(copy, base::innerOf(made.instance, way));
        QCOMPARE(route(third).stops[0].object, base::joined(copy, base::innerOf(made.instance, gate)));
        // One instance's course goes elsewhere: a difference, and taken back.
        (void)test::asStep(b, [&](edit::Draft& d) { return ops::moveRoutePoint(d, inside(way), 1, {28, 0, 34}); });
        QCOMPARE(route(way).points[1].at, Vec3(8, 0, 0));
        const auto& link = *b.scene().detail(b.slot(other))->prefab;
        const auto all = ops::differences(b.session(), link);
        QCOMPARE(all.size(), std::size_t{1});
        (void)test::asStep(b, [&](edit::Draft& d) { return ops::takeBack(d, other, all); });
        QCOMPARE(route(inside(way)).points[1].at, Vec3(8, 0, 0));
        // The definition's course is bent: all of them are.
        (void)test::asStep(b, [&](edit::Draft& d) -> base::Status {
            if (auto turned = d.turnTo(model::definitionKey(made.prefab)); !turned) return turned;
            return ops::moveRoutePoint(d, base::innerOf(made.instance, way), 1, {8, 0, 3});
        });
        QVERIFY(glm::length(route(third).points[1].at - Vec3(8, 0, 3)) < 1e-9);
    }
    void whatIsGoneFromTheDefinitionIsKeptAndCanBeDropped() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        QVERIFY(s.slide(s.inside(other, s.crate), {0, 0, 7}));
        const ObjectId inner = base::innerOf(s.made.instance, s.crate);
        stepOf(s, [&](edit::Draft& d) -> base::Status {
            if (auto turned = d.turnTo(model::definitionKey(s.made.prefab)); !turned) return turned;
            return d.remove({&inner, 1});
        });
        auto all = ops::differences(s.session(), s.link(other));
        QCOMPARE(all.size(), std::size_t{1});
        QVERIFY(all[0].gone);
        auto given = stepOf(s, [&](edit::Draft& d) { return ops::giveToDefinition(d, other, all); });
        QVERIFY(!given);
        stepOf(s, [&](edit::Draft& d) { return ops::takeBack(d, other, all); });
        QVERIFY(s.link(other).plain());
    }
    void editingInPlaceWritesToTheDefinition() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        const ObjectId there = s.inside(other, s.crate);
        QVERIFY(s.slide(there, {0, 0, 7}));
        s.session().editDefinitionOf(other);
        QVERIFY(s.slide(there, {1, 1, 1}));
        s.session().editDefinitionOf({});
        QVERIFY(s.link(other).plain());
        QCOMPARE(s.at(s.crate), Vec3(1, 1, 1));
        QCOMPARE(s.at(there), Vec3(1, 1, 1));
    }
    void aCircleIsRefusedWithTheChainNamed() {
        Stall s;
        ops::MakePrefab how{"Row", "", {}, true};
        auto row = stepOf(s, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{s.made.instance}, how); });
        auto refused = stepOf(s, [&](edit::Draft& d) -> base::Status {
            if (auto turned = d.turnTo(model::definitionKey(s.made.prefab)); !turned) return turned;
            ops::Placement placement;
            placement.item = s.name(model::definitionKey(row->prefab));
            auto placed = ops::place(d, placement);
            return placed ? base::Status{} : tl::unexpected(placed.error());
        });
        QVERIFY(!refused);
        QCOMPARE(QString::fromStdString(refused.error().message),
                 QString("A prefab cannot hold itself: Stall › Row › Stall."));
    }
    void takenApartObjectsKeepTheirIdsAndCanBeMadeAgain() {
        Stall s;
        ops::MakePrefab how{"Row", "", {}, true};
        const auto row = *stepOf(s, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{s.made.instance}, how); });
        QVERIFY(s.slide(s.crate, {0, 0, 7}));  // two levels down: a difference of the row's instance
        QCOMPARE(s.link(row.instance).changed.size(), std::size_t{1});
        const std::string expanded = test::rowsText(s.session(), "first");
        stepOf(s, [&](edit::Draft& d) { return ops::takeApart(d, Ids{row.instance}, false); });
        QVERIFY(s.scene().isInstance(s.slot(s.made.instance)));
        QCOMPARE(s.link(s.made.instance).changed.size(), std::size_t{1});
        QCOMPARE(s.at(s.crate), Vec3(0, 0, 7));
        stepOf(s, [&](edit::Draft& d) { return ops::makeAgain(d, Ids{row.instance}); });
        QCOMPARE(test::rowsText(s.session(), "first"), expanded);
        stepOf(s, [&](edit::Draft& d) { return ops::takeApart(d, Ids{row.instance}, true); });
        QVERIFY(!s.scene().isInstance(s.slot(s.made.instance)));
        QCOMPARE(s.at(s.crate), Vec3(0, 0, 7));
    }
    void anEditionIsThePrefabPlusDifferencesAndCanBeSwappedFor() {
        Stall s;
        const ObjectId edition =
            *stepOf(s, [&](edit::Draft& d) { return ops::makeEdition(d, s.made.prefab, "Stall pears"); });
        QVERIFY(s.slide(s.crate, {0, 0, 7}));
        const std::size_t lost =
            *stepOf(s, [&](edit::Draft& d) { return ops::swapPrefab(d, Ids{s.made.instance}, edition); });
        QCOMPARE(lost, std::size_t{0});
        QCOMPARE(s.link(s.made.instance).changed.size(), std::size_t{1});
        QVERIFY(s.scene().nameText(s.slot(s.made.instance)).starts_with("Stall pears"));
    }
    void anEditionBeginsWithWhatDiffersInAnInstance() {
        Stall s;
        QVERIFY(s.slide(s.crate, {0, 0, 7}));
        const ObjectId edition = *stepOf(
            s, [&](edit::Draft& d) { return ops::makeEdition(d, s.made.prefab, "Stall apart", s.made.instance); });
        const model::Scene& definition = *s.session().definitions().at(edition);
        const auto& link = *definition.detail(definition.firstChild(kNoSlot))->prefab;
        QCOMPARE(link.of, s.made.prefab);
        QCOMPARE(link.changed, s.link(s.made.instance).changed);
        QCOMPARE(link.changed.size(), std::size_t{1});
        const ObjectId other = s.put("cube", {0, 0, 0});
        QVERIFY(!stepOf(s, [&](edit::Draft& d) { return ops::makeEdition(d, s.made.prefab, "No", other); }));
    }
    void aGroupBecomesTheInstanceItselfAndIsNoLevelMore() {
        test::Blocks p;
        const ObjectId yard = p.add("Yard", {}, {{10, 0, 0}, base::fromDegrees({0, 30, 0})});
        const ObjectId group = p.add("Pair", yard, {{1, 0, 2}, base::fromDegrees({0, 20, 0}), Vec3(2)});
        const ObjectId a = p.put("cube", {0, 0, 0}, {}, Vec3(1), group),
                       b = p.put("ramp", {2, 0, 1}, {0, 40, 0}, Vec3(1), group);
        const base::Affine was = p.scene().world(p.slot(b));
        ops::MakePrefab how{"Pair", "", p.scene().world(p.slot(group)).translation, true};
        const auto made = *stepOf(p, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{group}, how); });
        QCOMPARE(made.instance, group);
        QVERIFY(p.scene().isInstance(p.slot(group)));
        const model::Scene& definition = *p.session().definitions().at(made.prefab);
        QCOMPARE(definition.objectCount(), std::size_t{2});
        QVERIFY(definition.parent(definition.find(base::innerOf(group, a))) == kNoSlot);
        QCOMPARE(p.scene().parent(p.slot(b)), p.slot(group));
        for (int k = 0; k < 3; ++k) QVERIFY(glm::length(p.scene().world(p.slot(b)).linear[k] - was.linear[k]) < 1e-9);
        QVERIFY(glm::length(p.scene().world(p.slot(b)).translation - was.translation) < 1e-9);
    }
    void whatWasTakenApartAndMadeAgainDiffersInNothing() {
        Stall s;
        // A row of stalls in a prefab of its own, turned and sized, below something turned.
        const ObjectId yard = s.add("Yard", {}, {{7, 1, 0}, base::fromDegrees({0, 33, 0}), Vec3(1.3)});
        const ObjectId second = s.place({8, 0, 2}), third = s.place({12, 0, 2});
        const ObjectId row = *stepOf(s, [&](edit::Draft& d) { return ops::group(d, Ids{second, third}, "Row"); });
        ops::MakePrefab how{"Row", "", {8, 0, 2}, true};
        const auto made = *stepOf(s, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{row}, how); });
        stepOf(s, [&](edit::Draft& d) { return ops::reparent(d, Ids{made.instance}, yard, {}); });
        base::Transform pose = s.scene().local(s.slot(made.instance));
        pose.rotation = base::fromDegrees({5, 71, 3});
        pose.scale = Vec3(1.7);
        stepOf(s, [&](edit::Draft& d) { return d.setTransforms({&made.instance, 1}, {&pose, 1}); });
        for (const bool all : {false, true})
            for (int twice = 0; twice < 2; ++twice) {
                stepOf(s, [&](edit::Draft& d) { return ops::takeApart(d, Ids{made.instance}, all); });
                stepOf(s, [&](edit::Draft& d) { return ops::makeAgain(d, Ids{made.instance}); });
                QVERIFY(s.scene().isInstance(s.slot(made.instance)));
                const auto& link = s.link(made.instance);
                QCOMPARE(link.of, made.prefab);
                for (const model::Difference& d : link.changed) qWarning("parts %u", d.parts.common());
                QVERIFY2(link.plain(), all ? "all levels" : "one level");
            }
    }
    void linkedCopiesKeepSpacesAndGetCleanNumbers() {
        test::Blocks p;
        const ObjectId post = p.put("cube", {0, 0, 0});
        const base::Name called = p.name("Lantern post 7");
        stepOf(p, [&](edit::Draft& d) { return d.setLabels(model::LabelField::Name, {&post, 1}, {&called, 1}); });
        const Ids copies = *stepOf(p, [&](edit::Draft& d) { return ops::linkedCopies(d, Ids{post}); });
        QVERIFY(p.session().prefabNamed("Lantern post"));
        QVERIFY(p.scene().nameText(p.slot(copies[0])).starts_with("Lantern post"));
        QCOMPARE(ops::freePrefabName(p.session(), "Lantern post"), std::string("Lantern post 2"));
    }
    void aNameIsRefusedOrNumbered() {
        Stall s;
        QCOMPARE(ops::freePrefabName(s.session(), "Stall"), std::string("Stall 2"));
        QCOMPARE(ops::freePrefabName(s.session(), "Stall ###"), std::string("Stall 001"));
        stepOf(s, [&](edit::Draft& d) { return ops::makeEdition(d, s.made.prefab, "Stall 2"); });
        QCOMPARE(ops::freePrefabName(s.session(), "Stall 2"), std::string("Stall 3"));
        QVERIFY(!ops::usablePrefabName(s.session(), "Stall"));
        QVERIFY(!ops::usablePrefabName(s.session(), "a/b"));
        QVERIFY(ops::usablePrefabName(s.session(), "Stall", s.made.prefab));
    }
    void renamingTakesTheFileAlongAndDeletingTakesItAway() {
        Stall s;
        auto saveAll = [&] {
            for (const std::string& name : s.session().unsavedScenes()) QVERIFY(io::saveScene(s.workspace(), name));
        };
        saveAll();
        const auto folder = s.folder() / "prefabs";
        QVERIFY(std::filesystem::exists(folder / "Stall.prefab.jsonl"));
        stepOf(s, [&](edit::Draft& d) { return ops::renamePrefab(d, s.made.prefab, "Booth", "Market"); });
        saveAll();
        QVERIFY(!std::filesystem::exists(folder / "Stall.prefab.jsonl"));
        QVERIFY(std::filesystem::exists(folder / "Booth.prefab.jsonl"));
        const std::string kept = test::fileBytes(folder / "Booth.prefab.jsonl");
        stepOf(s, [&](edit::Draft& d) { return ops::deletePrefab(d, s.made.prefab, {}); });
        QVERIFY(!s.scene().isInstance(s.slot(s.made.instance)));
        QVERIFY(s.slot(s.crate) != kNoSlot);
        saveAll();
        QVERIFY(!std::filesystem::exists(folder / "Booth.prefab.jsonl"));
        QVERIFY(s.session().undo());
        saveAll();
        QCOMPARE(test::fileBytes(folder / "Booth.prefab.jsonl"), kept);
        s.close();
        QVERIFY(s.reopen());
        QVERIFY(s.workspace().damage.empty());
        QVERIFY(s.scene().isInstance(s.slot(s.made.instance)));
        QVERIFY(s.session().redo());
        QVERIFY(s.session().definitions().empty());
    }
    void aDefinitionChangesByTheLinesThatChanged() {
        Stall s;
        auto lines = [&] { return QString::fromStdString(io::formatScene(s.definition())).split('\n'); };
        const QStringList before = lines();
        const ObjectId inner = base::innerOf(s.made.instance, s.crate);
        stepOf(s, [&](edit::Draft& d) -> base::Status {
            if (auto turned = d.turnTo(model::definitionKey(s.made.prefab)); !turned) return turned;
            return ops::rename(d, inner, "Crate of pears");
        });
        const QStringList after = lines();
        QCOMPARE(after.size(), before.size());
        int other = 0;
        for (int i = 0; i < before.size(); ++i) other += before[i] != after[i] ? 1 : 0;
        QCOMPARE(other, 1);
    }
    void usesAreCountedAcrossScenesAndDefinitions() {
        Stall s;
        (void)s.place({20, 0, 0});
        ops::MakePrefab how{"Row", "", {}, false};
        (void)stepOf(s, [&](edit::Draft& d) { return ops::makePrefab(d, Ids{s.made.instance}, how); });
        const auto uses = *ops::usedBy(s.session(), s.made.prefab);
        QCOMPARE(uses.size(), std::size_t{2});
        QCOMPARE(uses[0].document, std::string("first"));
        QCOMPARE(uses[0].ids.size(), std::size_t{2});
        QCOMPARE(uses[1].ids.size(), std::size_t{1});
    }
    void theBasePointComesFromSolidGeometryOnly() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {4, 1, 2});
        model::Detail detail;
        detail.edit<model::Light>().reachMetres = 50;
        const ObjectId lamp = b.add("Lamp");
        const model::DetailPtr light = std::make_shared<const model::Detail>(detail);
        edit::Draft d(b.session(), "first", "Light");
        QVERIFY(d.setDetails({&lamp, 1}, {&light, 1}) && d.commit());
        const base::Aabb box = ops::solidBounds(b.scene(), Ids{cube, lamp});
        QVERIFY(box.low == b.bounds(cube).low && box.high == b.bounds(cube).high);
        using Height = ops::BaseChoice::Height;
        QCOMPARE(ops::basePointOf(box, {0, 2, Height::Top, {}}), Vec3(box.low.x, box.high.y, box.high.z));
        QCOMPARE(ops::basePointOf(box, {1, 1, Height::WorldZero, {}}), Vec3(4, 0, 2));
        QCOMPARE(ops::basePointOf(box, {1, 1, Height::Top, Vec3(9, 9, 9)}), Vec3(9, 9, 9));
        QVERIFY(ops::tiles(box, 0.25) && !ops::tiles(box, 0.3));
    }
    void updatingOneKeepsDifferencesOfWhatIsCalledAlike() {
        Stall s;
        const ObjectId other = s.place({20, 0, 0});
        stepOf(s, [&](edit::Draft& d) { return ops::takeApart(d, Ids{s.made.instance}, false); });
        QVERIFY(s.slide(s.inside(other, s.crate), {0, 0, 7}));
        QVERIFY(s.slide(s.crate, {3, 0, 0}));
        ops::MakePrefab how{"", "", {4, 0, 2}, true};
        auto updated =
            stepOf(s, [&](edit::Draft& d) { return ops::updatePrefab(d, s.made.prefab, Ids{s.frame}, how); });
        QVERIFY(updated);
        QCOMPARE(s.at(s.inside(other, s.crate)), Vec3(0, 0, 7));
    }
};

MELLOW_TEST(PrefabTest)
}  // namespace prefab_test
#include "prefab_test.moc"
