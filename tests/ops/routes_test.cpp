// Routes: drawn, changed point by point, split and joined; stops in their order; things put along them. Each step is
// undone and done again to the byte.
#include <QtTest>

#include "model/facets/route.h"
#include "ops/along.h"
#include "ops/properties.h"
#include "ops/routes.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace routes_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using model::Route;
using model::RoutePoint;
using model::RouteStop;

struct Course : test::Blocks {
    ObjectId id;
    explicit Course(std::vector<Vec3> places = {{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {20, 0, 10}}, bool closed = false) {
        const auto made = test::asStep(*this, [&](edit::Draft& d) { return ops::addRoute(d, places, closed); });
        if (!made) qFatal("%s", made.error().message.c_str());
        id = *made;
    }
    const Route& route(ObjectId of = {}) { return *scene().facet<Route>(slot(of ? of : id)); }
    shape::Curve curve(ObjectId of = {}) { return query::curveOf(scene(), slot(of ? of : id)); }
    std::vector<Vec3> places(ObjectId of = {}) {
        std::vector<Vec3> all;
        for (const RoutePoint& p : route(of).points) all.push_back(scene().world(slot(of ? of : id)).point(p.at));
        return all;
    }
    std::vector<ObjectId> stops(ObjectId of = {}) {
        std::vector<ObjectId> all;
        for (const RouteStop& s : route(of).stops) all.push_back(s.object);
        return all;
    }
    Status corners() {
        return test::asStep(*this, [&](edit::Draft& d) {
            return ops::changeRoute(d, id, [](model::Slot, Route& r) -> Status {
                for (RoutePoint& p : r.points) p.bend = RoutePoint::Bend::Corner;
                return {};
            });
        });
    }
    Status addStops(std::vector<ObjectId> ids, std::optional<std::size_t> before = {}) {
        return test::asStep(*this, [&](edit::Draft& d) { return ops::addStops(d, id, ids, before); });
    }
    Vec3 at(ObjectId of) { return scene().world(slot(of)).translation; }
};

bool near(const Vec3& a, const Vec3& b, double within = 1e-6) {
    return glm::length(a - b) < within;
}

class RoutesTest : public QObject {
    Q_OBJECT

    static Status bend(Course& c, std::size_t point, const Vec3& end, bool behind = false) {
        return test::asStep(c, [&](edit::Draft& d) { return ops::bendRoute(d, c.id, point, end, behind); });
    }

  private Q_SLOTS:
    void propertiesLinkToRoutesAndToStopsOnly() {
        Course c;
        const ObjectId gate = c.put("cube", {5, 0, 0}), other = c.put("cube", {8, 0, 3});
        QVERIFY(c.addStops({gate}));
        model::Property route, stop;
        route.type = model::PropertyType::Route;
        stop.type = model::PropertyType::Stop;
        const auto may = [&](const model::Property& p, ObjectId id) {
            return ops::mayLinkTo(c.scene(), p, c.slot(id));
        };
        QVERIFY(may(route, c.id) && !may(route, gate) && !may(route, other));
        QVERIFY(may(stop, gate) && !may(stop, c.id) && !may(stop, other));
        const auto targets = [&](const model::Property& p) {
            std::vector<ObjectId> all;
            for (const ops::LinkTarget& t : ops::linkTargets(c.scene(), c.slot(other), p, 10)) all.push_back(t.id);
            return all;
        };
        QCOMPARE(targets(route), std::vector<ObjectId>{c.id});
        QCOMPARE(targets(stop), std::vector<ObjectId>{gate});
    }
    void aPointIsBentByTheEndsOfItsTangent() {
        Course c;
        const std::string before = c.bytes();
        QVERIFY(bend(c, 1, {10, 0, 4}));
        QVERIFY(near(*c.route().points[1].tangent, {0, 0, 4}));
        QVERIFY(near(c.curve().direction(c.curve().metresOf(1)), {0, 0, 1}));
        QVERIFY(bend(c, 1, {10, 0, 3}, true));  // pulled from behind it goes the other way
        QVERIFY(near(*c.route().points[1].tangent, {0, 0, -3}));
        QVERIFY(!bend(c, 1, c.places()[1]) && !bend(c, 9, {0, 0, 0}) && !bend(c, 1, Vec3(std::nan(""))));
        QVERIFY(c.session().undo() && c.session().undo());
        QCOMPARE(c.bytes(), before);
        QVERIFY(c.corners());
        QVERIFY(!bend(c, 1, {10, 0, 4}));
    }
    void oneIsDrawnAndStandsAtItsFirstPoint() {
        Course p({{4, 1, 2}, {8, 1, 2}});
        QVERIFY(near(p.at(p.id), {4, 1, 2}));
        QVERIFY(near(p.places()[1], {8, 1, 2}));
        QVERIFY(std::abs(p.curve().length() - 4) < 1e-9);
        const std::string before = p.bytes();
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::addRoute(d, std::vector{Vec3(1.0)}, false); }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) {
            return ops::addRoute(d, std::vector{Vec3(0.0), Vec3(std::nan(""))}, false);
        }));
        QCOMPARE(p.bytes(), before);
    }
    void inATurnedAndSizedGroupItIsWhereItWasDrawn() {
        Course p;
        base::Transform skew;
        skew.position = {3, 2, 1};
        skew.rotation = glm::angleAxis(0.7, Vec3(0, 1, 0));
        skew.scale = Vec3(2, 2, 2);
        const ObjectId group = p.add("Group", {}, skew);
        const std::vector<Vec3> drawn = {{1, 1, 1}, {5, 1, 4}, {9, 2, 4}};
        const auto made = test::asStep(p, [&](edit::Draft& d) { return ops::addRoute(d, drawn, false, group); });
        QVERIFY(made.has_value());
        const auto places = p.places(*made);
        for (std::size_t i = 0; i < drawn.size(); ++i) QVERIFY(near(places[i], drawn[i]));
    }
    void pointsAreAddedMovedAndTakenOut() {
        Course p;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::extendRoute(d, p.id, {30, 0, 10}); }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::extendRoute(d, p.id, {-5, 0, 0}, true); }));
        QVERIFY(near(p.places().front(), {-5, 0, 0}) && near(p.places().back(), {30, 0, 10}));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::moveRoutePoint(d, p.id, 2, {12, 1, 0}); }));
        QVERIFY(near(p.places()[2], {12, 1, 0}));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::removeRoutePoints(d, p.id, {1, 3, 1}); }));
        QCOMPARE(p.places().size(), std::size_t(4));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::removeRoutePoints(d, p.id, {0, 1, 2}); }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::moveRoutePoint(d, p.id, 99, {0, 0, 0}); }));
        const ObjectId plain = p.put("cube", {0, 9, 0});
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::extendRoute(d, plain, {}); }));
    }
    void aPointPutInLeavesTheWayAsItWas() {
        for (const bool closed : {false, true}) {
            Course p({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}}, closed);
            QVERIFY(p.corners());
            const double length = p.curve().length();
            for (const double metres : {4.0, 15.0, 25.0, length - 3}) {
                const Vec3 there = p.curve().at(metres);
                const auto at = test::asStep(p, [&](edit::Draft& d) { return ops::insertRoutePoint(d, p.id, metres); });
                QVERIFY(at.has_value());
                QVERIFY(near(p.places()[*at], there));
                QVERIFY(std::abs(p.curve().length() - length) < 1e-9);
                QVERIFY(std::abs(p.curve().metresOf(*at) - metres) < 1e-9);
            }
        }
        Course p;
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::insertRoutePoint(d, p.id, -1); }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::insertRoutePoint(d, p.id, 1e9); }));
    }
    void turnedAboutTwiceItIsAsItWas() {
        Course p;
        const ObjectId gate = p.put("cube", {10, 0, 5}), pier = p.put("cube", {18, 0, 10});
        QVERIFY(p.addStops({gate, pier}));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) {
            return ops::changeRoute(d, p.id, [](model::Slot, Route& r) -> Status {
                r.points[1].bend = RoutePoint::Bend::Round;
                r.points[1].straight = true;
                r.points[2].speed = 5;
                r.points[2].tangent = Vec3(1, 0, 2);
                r.forks.push_back({2, {}, 0.5, {}, {}});
                return {};
            });
        }));
        const Route was = p.route();
        const shape::Curve way = p.curve();
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::reverseRoute(d, p.id); }));
        QCOMPARE(p.stops(), (std::vector<ObjectId>{pier, gate}));
        QCOMPARE(p.route().stops[0].passed, RouteStop::Passed::Backwards);
        QVERIFY(std::abs(p.curve().length() - way.length()) < 1e-9);
        for (double m = 0; m <= way.length(); m += 0.5) QVERIFY(near(p.curve().at(way.length() - m), way.at(m), 1e-5));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::reverseRoute(d, p.id); }));
        QVERIFY(p.route() == was);
    }
    void splitAndJoinedItGoesTheSameWay() {
        Course p;
        QVERIFY(p.corners());
        const ObjectId first = p.put("cube", {5, 0, 0}), second = p.put("cube", {15, 0, 10});
        QVERIFY(p.addStops({first, second}));
        const auto places = p.places();
        const auto rest = test::asStep(p, [&](edit::Draft& d) { return ops::splitRoute(d, p.id, 2); });
        QVERIFY(rest.has_value());
        QCOMPARE(p.places().size(), std::size_t(3));
        QCOMPARE(p.places(*rest).size(), std::size_t(2));
        QVERIFY(near(p.places(*rest).front(), places[2]));
        QCOMPARE(p.stops(), std::vector<ObjectId>{first});
        QCOMPARE(p.stops(*rest), std::vector<ObjectId>{second});
        // Whichever way the other one was turned about meanwhile.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::reverseRoute(d, *rest); }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::joinRoutes(d, p.id, *rest); }));
        QCOMPARE(p.slot(*rest), model::kNoSlot);
        QCOMPARE(p.places().size(), places.size());
        for (std::size_t i = 0; i < places.size(); ++i) QVERIFY(near(p.places()[i], places[i]));
        QCOMPARE(p.stops(), (std::vector<ObjectId>{first, second}));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::splitRoute(d, p.id, 0); }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::joinRoutes(d, p.id, p.id); }));
    }
    void whatHasARouteBesidesIsNotLostWithIt() {
        Course p;
        const ObjectId boat = p.put("cube", {30, 0, 10});
        const Route second = [&] {
            Route r = p.route();
            r.points.resize(2);
            return r;
        }();
        const auto give = [&](edit::Draft& d) {
            return ops::changeDetails(d, {&boat, 1}, [&](model::Slot, model::Detail& detail) -> Status {
                detail.put(second);
                return {};
            });
        };
        QVERIFY(test::asStep(p, give));
        // Split, what goes on is a way and no second boat.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::insertRoutePoint(d, boat, 5); }));
        const auto rest = test::asStep(p, [&](edit::Draft& d) { return ops::splitRoute(d, boat, 1); });
        QVERIFY(rest && !p.scene().item(p.slot(*rest)) && p.scene().item(p.slot(boat)));
        // Joined to another, the boat stays and has no route any more.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::joinRoutes(d, p.id, boat); }));
        QVERIFY(p.slot(boat) != model::kNoSlot && p.scene().facet<Route>(p.slot(boat)) == nullptr);
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::joinRoutes(d, p.id, *rest); }));
        QCOMPARE(p.slot(*rest), model::kNoSlot);
        // What holds a route is not put along it, and what is protected is left alone.
        const ObjectId group = p.add("Group");
        const ObjectId inner = *test::asStep(p, [&](edit::Draft& d) {
            return ops::addRoute(d, std::vector{Vec3(0.0), Vec3(9, 0, 0)}, false, group);
        });
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::putAlong(d, inner, {&group, 1}, {}); }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::putAlong(d, inner, {&inner, 1}, {}); }));
        const auto fix = [&](edit::Draft& d) { return ops::setFlag(d, {&inner, 1}, model::flags::kProtected, true); };
        QVERIFY(test::asStep(p, fix));
        for (const auto& refused : std::vector<std::function<Status(edit::Draft&)>>{
                 [&](edit::Draft& d) { return ops::reverseRoute(d, inner); },
                 [&](edit::Draft& d) {
                     return ops::extendRoute(d, inner, {1, 2, 3});
                 },
                 [&](edit::Draft& d) { return ops::joinRoutes(d, p.id, inner); },
                 [&](edit::Draft& d) {
                     return ops::addStops(d, inner, {&boat, 1});
                 }})
            QVERIFY(!test::asStep(p, refused));
    }
    void aClosedOneIsOpenedWhereItIsSplit() {
        Course p({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}}, true);
        QVERIFY(p.corners());
        const auto same = test::asStep(p, [&](edit::Draft& d) { return ops::splitRoute(d, p.id, 2); });
        QVERIFY(same && *same == p.id);
        QVERIFY(!p.route().closed);
        QCOMPARE(p.places().size(), std::size_t(5));
        QVERIFY(near(p.places().front(), {10, 0, 10}) && near(p.places().back(), {10, 0, 10}));
        QVERIFY(std::abs(p.curve().length() - 40) < 1e-9);
    }
    void whatTheCurveNeedsNotIsLeftOut() {
        std::vector<Vec3> many;
        for (int i = 0; i <= 40; ++i) many.push_back({i * 0.5, 0, 3 * std::sin(i * 0.157)});
        Course p(many);
        const shape::Curve before = p.curve();
        const auto went = test::asStep(p, [&](edit::Draft& d) { return ops::simplifyRoute(d, p.id, 0.05); });
        QVERIFY(went.has_value());
        QVERIFY2(*went > 20, qPrintable(QString::number(*went)));
        for (double m = 0; m < before.length(); m += 0.2) QVERIFY(p.curve().nearest(before.at(m)).away < 0.06);
        QVERIFY(near(p.places().front(), many.front()) && near(p.places().back(), many.back()));
    }
    void ofManyPointsItIsSimplifiedInAMoment() {
        for (const bool closed : {false, true}) {
            std::vector<Vec3> many;
            for (int i = 0; i < 3000; ++i)
                many.push_back({60 * std::cos(i * 2 * base::kPi / 3000), 0, 60 * std::sin(i * 2 * base::kPi / 3000)});
            Course p(many, closed);
            const shape::Curve before = p.curve();
            const auto went = test::asStep(p, [&](edit::Draft& d) { return ops::simplifyRoute(d, p.id, 0.05); });
            QVERIFY(went.has_value());
            QVERIFY2(*went > 2900, qPrintable(QString::number(*went)));
            for (double m = 0; m < before.length(); m += 1.7) QVERIFY(p.curve().nearest(before.at(m)).away < 0.06);
        }
    }
    void itIsSeatedPointByPointOrWhole() {
        Course p({{-10, 5, 0}, {0, 7, 0}, {10, 5, 0}});
        p.put("slab", {0, 0, 0});
        p.put("cube", {0, 0, 0});
        const Vec3 top = p.scene().bounds(p.slot(p.put("cube", {0, 0, 0}))).high;
        QVERIFY(p.session().undo());
        const double ground =
            p.index().solid().pick(p.scene(), {{-10, 50, 0}, {0, -1, 0}}, [](model::Slot) { return true; })->point.y;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::seatRoute(d, p.index(), p.id, false); }));
        QVERIFY(std::abs(p.places()[0].y - ground) < 1e-6 && std::abs(p.places()[1].y - ground - 2) < 1e-6);
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::seatRoute(d, p.index(), p.id, true); }));
        QVERIFY(std::abs(p.places()[0].y - ground) < 1e-6 && std::abs(p.places()[2].y - ground) < 1e-6);
        QVERIFY(std::abs(p.places()[1].y - top.y) < 1e-6);
    }
    void stopsFindTheirPlaceAndKeepTheOrderTheyWereGiven() {
        Course p;
        const ObjectId late = p.put("cube", {19, 0, 11}), early = p.put("cube", {2, 0, 1}),
                       middle = p.put("cube", {10, 0, 4});
        QVERIFY(p.addStops({late}) && p.addStops({early}) && p.addStops({middle}));
        QCOMPARE(p.stops(), (std::vector<ObjectId>{early, middle, late}));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::moveStop(d, p.id, 2, 0); }));
        QCOMPARE(p.stops(), (std::vector<ObjectId>{late, early, middle}));
        QVERIFY(p.addStops({middle}, 0));  // in front of the first, by hand
        QCOMPARE(p.stops(), (std::vector<ObjectId>{middle, late, early}));
        QVERIFY(p.addStops({late}));  // and where it lies again
        QCOMPARE(p.stops(), (std::vector<ObjectId>{middle, early, late}));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::removeStops(d, p.id, {&early, 1}); }));
        QCOMPARE(p.stops(), (std::vector<ObjectId>{middle, late}));
        QVERIFY(!p.addStops({p.id}));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::removeStops(d, p.id, {&early, 1}); }));
        // A stop that is deleted leaves its place; undone, it is a stop again.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::remove(d, {&middle, 1}); }));
        QCOMPARE(query::stopsOf(p.scene(), p.slot(p.id), p.curve())[0].slot, model::kNoSlot);
        QVERIFY(p.session().undo());
        QCOMPARE(query::stopsOf(p.scene(), p.slot(p.id), p.curve())[0].slot, p.slot(middle));
    }
    void chanceEditsGiveWhatAPlainListGives() {
        base::Random random(3);
        Course p({{0, 0, 0}, {100, 0, 0}});
        std::vector<ObjectId> things, list;
        for (int i = 0; i < 12; ++i) things.push_back(p.put("cube", {i * 8.0, 0, 1}));
        for (int n = 0; n < 200; ++n) {
            const ObjectId id = things[random.next() % things.size()];
            const auto known = std::ranges::find(list, id);
            if (random.next() % 3 == 0 && !list.empty()) {
                const std::size_t from = random.next() % list.size(), to = random.next() % list.size();
                QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::moveStop(d, p.id, from, to); }));
                const ObjectId moved = list[from];
                list.erase(list.begin() + std::ptrdiff_t(from));
                list.insert(list.begin() + std::ptrdiff_t(to), moved);
            } else if (known != list.end() && random.next() % 2 == 0) {
                QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::removeStops(d, p.id, {&id, 1}); }));
                list.erase(known);
            } else {
                std::size_t before = random.next() % (list.size() + 1);
                QVERIFY(p.addStops({id}, before));
                if (known != list.end()) {
                    if (known - list.begin() < std::ptrdiff_t(before)) --before;
                    list.erase(known);
                }
                list.insert(list.begin() + std::ptrdiff_t(before), id);
            }
            QCOMPARE(p.stops(), list);
        }
    }
    void thingsAreSpreadAndCopiedAlongIt() {
        Course p({{0, 0, 0}, {30, 0, 0}});
        const ObjectId a = p.put("cube", {0, 0, 9}), b = p.put("cube", {1, 0, 9}), c = p.put("cube", {2, 0, 9});
        ops::Along along;
        along.aside = 2;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putAlong(d, p.id, std::vector{c, a, b}, along); }));
        // The way goes east: its right is south.
        QVERIFY(near(p.at(c), {0, 0, 2}) && near(p.at(a), {15, 0, 2}) && near(p.at(b), {30, 0, 2}));
        QVERIFY(near(p.scene().world(p.slot(a)).direction({0, 0, 1}), {1, 0, 0}));
        ops::Along every;
        every.spacing = 12;
        every.from = 3;
        every.turned = false;
        const auto all = test::asStep(p, [&](edit::Draft& d) { return ops::copyAlong(d, p.id, a, every); });
        QVERIFY(all.has_value());
        QCOMPARE(all->size(), std::size_t(3));
        for (std::size_t i = 0; i < 3; ++i) QVERIFY(near(p.at((*all)[i]), {3 + 12.0 * double(i), 0, 0}));
        QVERIFY(near(p.scene().world(p.slot((*all)[2])).direction({0, 0, 1}), {1, 0, 0}));  // as it was
        const std::string before = p.bytes();
        every.spacing = 20;
        every.count = 3;
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::copyAlong(d, p.id, a, every); }));
        every.spacing = 1e-9;
        every.count = 0;
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::copyAlong(d, p.id, a, every); }));
        every.from = -1;
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::copyAlong(d, p.id, a, every); }));
        QCOMPARE(p.bytes(), before);
    }
    void roundAClosedOneTheLastIsNotOnTheFirst() {
        Course p({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}}, true);
        QVERIFY(p.corners());
        const ObjectId post = p.put("cube", {5, 5, 5});
        ops::Along along;
        along.count = 8;
        const auto all = test::asStep(p, [&](edit::Draft& d) { return ops::copyAlong(d, p.id, post, along); });
        QVERIFY(all.has_value());
        QVERIFY(near(p.at((*all)[0]), {0, 0, 0}) && near(p.at((*all)[7]), {0, 0, 5}));
        along.spacing = 10;
        along.count = 0;
        const auto fit = test::asStep(p, [&](edit::Draft& d) { return ops::copyAlong(d, p.id, post, along); });
        QCOMPARE(fit->size(), std::size_t(4));
    }
    void factsAreMeasured() {
        Course p({{0, 0, 0}, {10, 0, 0}, {20, 5, 0}});
        QVERIFY(p.corners());
        QVERIFY(test::asStep(p, [&](edit::Draft& d) {
            return ops::changeRoute(d, p.id, [](model::Slot, Route& r) -> Status {
                r.speed = 2;
                r.points[1].speed = 5;
                r.points[1].waits = 3;
                return {};
            });
        }));
        const auto facts = query::factsOf(p.route(), p.curve());
        const double slope = std::hypot(10.0, 5.0);
        QVERIFY(std::abs(facts.length - 10 - slope) < 1e-9);
        QVERIFY(std::abs(facts.seconds - 5 - 3 - slope / 5) < 1e-9);
        QVERIFY(std::abs(facts.steepestDegrees - base::degrees(std::atan2(5, 10))) < 1e-6);
        QCOMPARE(facts.sharpestRadius, 0.0);
        QVERIFY(std::abs(facts.highest - 5) < 0.2 && facts.lowest == 0);
        const auto profile = query::profileOf(p.route(), p.curve(), 50);
        QCOMPARE(profile.size(), std::size_t(50));
        QCOMPARE(profile.front().speed, 2.0);
        QCOMPARE(profile[48].speed, 5.0);
        QCOMPARE(profile.back().speed, 2.0);  // what the last point says begins there
        QVERIFY(std::abs(profile.back().height - 5) < 1e-9);
    }
    void whereItCrossesItselfIsFound() {
        Course loop({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {5, 0, 10}, {5, 0, -5}});
        QVERIFY(loop.corners());
        const auto at = query::crossingOf(loop.curve(), 0.5, 1);
        QVERIFY(at.has_value());
        QVERIFY(std::abs(at->first - 5) < 1e-6 && std::abs(at->second - 35) < 1e-6);
        QVERIFY(!query::crossingOf(Course().curve(), 0.5, 1));
        Course bridge({{0, 0, 0}, {10, 0, 0}, {10, 4, 10}, {5, 4, 10}, {5, 4, -5}});
        QVERIFY(bridge.corners());
        QVERIFY(!query::crossingOf(bridge.curve(), 0.5, 1));  // it goes over itself
    }
};

MELLOW_TEST(RoutesTest)
}  // namespace routes_test
#include "routes_test.moc"
