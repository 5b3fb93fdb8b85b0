// What the rules of routes find, pass over, and mend.
#include <QtTest>

#include "check/level.h"
#include "ops/routes.h"
#include "support/test_main.h"

namespace route_rules_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using test::Level;

struct Ways : Level {
    ObjectId route(const std::vector<Vec3>& way, const std::function<void(model::Route&)>& how = {}) {
        ObjectId id;
        step([&](edit::Draft& d) -> Status {
            auto made = ops::addRoute(d, way, false);
            if (!made) return tl::unexpected(made.error());
            id = *made;
            return {};
        });
        change(id, [&](model::Route& r) {
            for (model::RoutePoint& p : r.points) p.bend = model::RoutePoint::Bend::Corner;
            if (how) how(r);
        });
        return id;
    }
    void change(ObjectId id, const std::function<void(model::Route&)>& how) {
        detail(id, [&](model::Detail& d) { how(d.edit<model::Route>()); });
    }
    /// Each finding of a rule by its fix; how many are left.
    std::size_t mend(const char* id) {
        for (const check::Finding& f : all()) {
            if (f.rule != id) continue;
            const query::SceneIndex index(scene(), shapes());
            step([&](edit::Draft& d) { return rule(id).fix(d, f, index); });
        }
        return count(id);
    }
    void stops(ObjectId id, const std::vector<ObjectId>& which) {
        step([&](edit::Draft& d) { return ops::addStops(d, id, which); });
    }
};

class RouteRulesTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void aStopThatFacesAway() {
        Ways p;
        const ObjectId gate = p.put("cube", {0, 0, 0}), way = p.route({{0, 0, -5}, {0, 0, 5}});
        p.stops(way, {gate});
        QCOMPARE(p.count("route-facing"), std::size_t{0});
        p.pose(gate, {0, 0, 0}, {0, 95, 0});  // nearly across
        QCOMPARE(p.count("route-facing"), std::size_t{0});
        p.pose(gate, {0, 0, 0}, {0, 180, 0});
        QCOMPARE(p.count("route-facing", gate), std::size_t{1});
        p.change(way, [](model::Route& r) { r.stops[0].passed = model::RouteStop::Passed::Backwards; });
        QCOMPARE(p.count("route-facing"), std::size_t{0});
        p.change(way, [](model::Route& r) { r.stops[0].passed = model::RouteStop::Passed::Forwards; });
        QCOMPARE(p.mend("route-facing"), std::size_t{0});
        QVERIFY(glm::length(p.scene().world(p.slot(gate)).direction({0, 0, 1}) - Vec3(0, 0, 1)) < 1e-6);
        QVERIFY(glm::length(p.scene().world(p.slot(gate)).translation) < 1e-6);
        // Without a look of its own it has no front.
        const ObjectId mark = p.put("", {0, 0, 2}, {0, 180, 0});
        p.stops(way, {mark});
        QCOMPARE(p.count("route-facing"), std::size_t{0});
    }
    void stopsInOneAnother() {
        Ways p;
        const ObjectId one = p.put("", {0, 0, 0}), two = p.put("", {0, 0, 1.1}), way = p.route({{0, 0, -5}, {0, 0, 5}});
        p.stops(way, {one, two});
        QCOMPARE(p.count("route-crowded"), std::size_t{0});
        p.pose(two, {0, 0, 0.9});
        QCOMPARE(p.count("route-crowded", way), std::size_t{1});
        p.change(way, [](model::Route& r) { r.stops[0].size.z = r.stops[1].size.z = 0.5; });
        QCOMPARE(p.count("route-crowded"), std::size_t{0});
    }
    void bendsThatAreTooSharp() {
        Ways p;
        const auto bend = [&](double radius) {
            return [radius](model::Route& r) {
                r.points[1].bend = model::RoutePoint::Bend::Round;
                r.points[1].radius = radius;
                r.width = 2;
            };
        };
        const ObjectId way = p.route({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}}, bend(0.9));
        QCOMPARE(p.count("route-sharp", way), std::size_t{1});
        p.change(way, bend(1.1));
        QCOMPARE(p.count("route-sharp"), std::size_t{0});
        p.change(way, bend(0.9));
        p.change(way, [](model::Route& r) { r.points[0].width = 1; });  // narrower from there on
        QCOMPARE(p.count("route-sharp"), std::size_t{0});
    }
    void throughThingsAndBetweenThem() {
        Ways p;
        const auto flat = [](model::Route& r) { r.width = 2, r.height = 2; };
        const ObjectId way = p.route({{0, 0, -6}, {0, 0, 6}}, flat);
        QCOMPARE(p.count("route-blocked"), std::size_t{0});
        QCOMPARE(p.count("route-narrow"), std::size_t{0});
        const ObjectId wall = p.put("cube", {0, 0, 0}, {}, {4, 3, 0.5});
        QCOMPARE(p.count("route-blocked", way), std::size_t{1});
        QCOMPARE(p.count("route-narrow"), std::size_t{0});  // one finding for one thing
        p.stops(way, {wall});                               // a gate is gone through
        QCOMPARE(p.count("route-blocked"), std::size_t{0});
        p.change(way, [](model::Route& r) { r.stops.clear(); });
        p.detail(wall, [](model::Detail& d) { d.edit<model::Body>().role = model::Body::Role::Guided; });
        QCOMPARE(p.count("route-blocked"), std::size_t{0});  // it may be out of the way by then
        p.detail(wall, [](model::Detail& d) { d.put(std::optional<model::Body>()); });
        const auto at = [&](const Vec3& place) { p.pose(wall, place, {}, {4, 3, 0.5}); };
        at({2.9, 0, 0});  // its side at 0.9 m
        QCOMPARE(p.count("route-blocked"), std::size_t{0});
        QCOMPARE(p.count("route-narrow", way), std::size_t{1});
        at({3.1, 0, 0});
        QCOMPARE(p.count("route-narrow"), std::size_t{0});
        // A beam over it: 1.9 m of two.
        at({0, 1.9, 0});
        QCOMPARE(p.count("route-narrow", way), std::size_t{1});
        at({0, 2.1, 0});
        QCOMPARE(p.count("route-narrow"), std::size_t{0});
    }
    void forksThatLeadNowhereAndRoutesWithoutAnEnd() {
        Ways p;
        const ObjectId a = p.route({{0, 0, 0}, {0, 0, 4}}), b = p.route({{4, 0, 4}, {4, 0, 0}});
        const auto fork = [&](ObjectId from, ObjectId to) {
            p.step([&](edit::Draft& d) { return ops::addFork(d, from, 1, to); });
        };
        fork(a, b);
        QCOMPARE(p.count("route-fork"), std::size_t{0});
        QCOMPARE(p.count("route-endless"), std::size_t{0});
        fork(b, a);
        QCOMPARE(p.count("route-endless"), std::size_t{1});  // one circle
        p.step([&](edit::Draft& d) { return ops::remove(d, {&b, 1}); });
        QCOMPARE(p.count("route-fork", a), std::size_t{1});
        QCOMPARE(p.count("route-endless"), std::size_t{0});
        QCOMPARE(p.mend("route-fork"), std::size_t{0});
        QVERIFY(p.scene().facet<model::Route>(p.slot(a))->forks.empty());
    }
};

MELLOW_TEST(RouteRulesTest)
}  // namespace route_rules_test
#include "route_rules_test.moc"
