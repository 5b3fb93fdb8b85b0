// What stands along a route is moved on by lengths, from ugly beginnings; places as they are written.
#include <QtTest>

#include "ops/along.h"
#include "ops/array.h"
#include "ops/properties.h"
#include "ops/routes.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace along_test {

using base::ObjectId;
using base::Status;
using base::Vec3;

struct Path : test::Blocks {
    ObjectId route;
    explicit Path(const std::vector<Vec3>& way, bool closed = false) {
        route = *test::asStep(*this, [&](edit::Draft& d) { return ops::addRoute(d, way, closed); });
        const auto corners = [&](edit::Draft& d) {
            return ops::changeRoute(d, route, [](model::Slot, model::Route& r) -> Status {
                for (model::RoutePoint& p : r.points) p.bend = model::RoutePoint::Bend::Corner;
                return {};
            });
        };
        if (!test::asStep(*this, corners)) qFatal("no corners");
    }
    Status move(const std::vector<ObjectId>& ids, double metres) {
        return test::asStep(*this, [&](edit::Draft& d) { return ops::moveAlong(d, route, ids, metres); });
    }
    Vec3 at(ObjectId id) { return scene().world(slot(id)).translation; }
    Vec3 front(ObjectId id) { return scene().world(slot(id)).direction({0, 0, 1}); }
};

bool near(const Vec3& a, const Vec3& b, double within = 1e-6) {
    return glm::length(a - b) < within;
}

class AlongTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void besideAndAboveItAndTurnedAsItWas() {
        Path p({{0, 0, 0}, {0, 0, 10}, {10, 0, 10}});
        const ObjectId one = p.put("cube", {-2, 1, 3}), two = p.put("cube", {1, 0, 5}, {0, 90, 0});
        const std::string before = p.bytes();
        QVERIFY(p.move({one, two}, 14));  // round the corner, the second two metres on
        QVERIFY(near(p.at(one), {4, 1, 12}) && near(p.front(one), {1, 0, 0}));
        QVERIFY(near(p.at(two), {6, 0, 9}) && near(p.front(two), {0, 0, -1}));
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo());
        // Twice to the same place is once; and back is where they were.
        QVERIFY(p.move({one, two}, 14));
        QVERIFY(near(p.at(one), {4, 1, 12}));
        QVERIFY(p.move({one, two}, 3));
        QVERIFY(near(p.at(one), {-2, 1, 3}) && near(p.at(two), {1, 0, 5}) && near(p.front(two), {1, 0, 0}));
    }
    void notPastItsEndsAndRoundAClosedOne() {
        Path p({{0, 0, 0}, {0, 0, 10}});
        const ObjectId one = p.put("cube", {0, 0, 3}), two = p.put("cube", {0, 0, 7});
        const std::string before = p.bytes();
        QVERIFY(!p.move({one, two}, 7));
        QVERIFY(!p.move({one}, -1));
        QVERIFY(!p.move({one}, std::nan("")));
        QVERIFY(!p.move({p.route}, 2));
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.move({one, two}, 6));
        QVERIFY(near(p.at(two), {0, 0, 10}));
        Path round({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}}, true);
        const ObjectId there = round.put("cube", {0, 0, 4});  // at 36 of 40
        QVERIFY(round.move({there}, 46));
        QVERIFY(near(round.at(there), {6, 0, 0}));
    }
    void itsChildrenGoAlongAndProtectedOnesDoNot() {
        Path p({{0, 0, 0}, {0, 0, 10}, {10, 0, 10}});
        const ObjectId parent = p.put("cube", {0, 0, 3}), child = p.put("cube", {0, 1, 3});
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::reparent(d, {&child, 1}, parent, {}); }));
        QVERIFY(p.move({parent}, 14));
        QVERIFY(near(p.at(child), {4, 1, 10}));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) {
            return ops::setFlag(d, {&parent, 1}, model::flags::kProtected, true);
        }));
        const std::string before = p.bytes();
        QVERIFY(!p.move({parent}, 3));
        QCOMPARE(p.bytes(), before);
    }
    void anArrayAlongItFollowsWhenItChanges() {
        Path p({{0, 0, 0}, {0, 0, 10}});
        const ObjectId bench = p.put("cube", {30, 0, 30}, {0, 40, 0});
        const std::string before = p.bytes();
        model::Array every;
        every.everyMetres = 4;
        ObjectId array;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) -> Status {
            auto made = ops::makeArrayAlong(d, std::vector<ObjectId>{bench}, p.route, every, 1.5);
            if (!made) return tl::unexpected(made.error());
            array = *made;
            return {};
        }));
        const auto copies = [&] {
            std::vector<Vec3> all;
            for (model::Slot s = p.scene().firstChild(p.slot(array)); s != model::kNoSlot; s = p.scene().nextSibling(s))
                all.push_back(p.scene().world(s).translation);
            return all;
        };
        QCOMPARE(p.scene().id(p.scene().parent(p.slot(array))), p.route);
        QCOMPARE(copies().size(), std::size_t(3));  // 0, 4 and 8 m
        QVERIFY(near(copies()[0], {-1.5, 0, 0}) && near(copies()[2], {-1.5, 0, 8}));
        QVERIFY(near(p.front(bench), {0, 0, 1}));
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo());
        const std::string laid = p.bytes();
        const auto bend = [&](edit::Draft& d) { return ops::moveRoutePoint(d, p.route, 1, {20, 0, 0}); };
        QVERIFY(test::asStep(p, bend));
        QCOMPARE(copies().size(), std::size_t(6));
        QVERIFY(near(copies()[5], {20, 0, 1.5}) && near(p.front(bench), {1, 0, 0}));
        QVERIFY(p.session().undo());  // one step
        QCOMPARE(p.bytes(), laid);
        QVERIFY(p.session().redo());
        // Shorter: fewer; their ids stay; what was put elsewhere by hand stays there.
        const ObjectId third =
            p.scene().id(p.scene().nextSibling(p.scene().nextSibling(p.scene().firstChild(p.slot(array)))));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) {
            base::Transform pose = d.scene().local(d.scene().find(third));
            pose.position.y = 3;
            return d.setTransforms({&third, 1}, {&pose, 1});
        }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::moveRoutePoint(d, p.route, 1, {0, 0, 13}); }));
        QCOMPARE(copies().size(), std::size_t(4));
        QVERIFY(p.slot(third) != model::kNoSlot && near(p.at(third), {8, 3, 1.5}));
        // Its own numbers: evenly by a count, not turned.
        model::Array numbers = *p.scene().facet<model::Array>(p.slot(array));
        numbers.everyMetres = 0;
        numbers.counts[0] = 3;
        numbers.turned = false;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::setArray(d, array, numbers); }));
        QCOMPARE(copies().size(), std::size_t(3));
        QVERIFY(near(copies()[1], {-1.5, 0, 6.5}));
        // A fact of the route that is no point of it: closed.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::extendRoute(d, p.route, {13, 0, 13}); }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) {
            return ops::setProperty(d, {&p.route, 1}, "route.closed", model::Value{true});
        }));
        const auto closed = copies();
        const double lap = query::curveOf(p.scene(), p.slot(p.route)).length();
        QVERIFY(closed.size() == 3 && lap > 40);
        QVERIFY(std::abs(query::curveOf(p.scene(), p.slot(p.route)).nearest(closed[1] + Vec3(1.5, 0, 0)).metres -
                         lap / 3) < 0.01);
        // Taken out from below the route it is laid no more, and says so.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::reparent(d, {&array, 1}, {}, {}); }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::setArray(d, array, numbers); }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::moveRoutePoint(d, p.route, 1, {0, 0, 20}); }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::bakeArray(d, {&array, 1}); }));
    }
    void anArrayAlongItIsRefusedWhereItCannotBe() {
        Path p({{0, 0, 0}, {0, 0, 10}});
        const ObjectId bench = p.put("cube", {3, 0, 3});
        const std::string before = p.bytes();
        const auto make = [&](ObjectId of, ObjectId along, model::Array how) {
            return test::asStep(p, [&](edit::Draft& d) { return ops::makeArrayAlong(d, {&of, 1}, along, how); });
        };
        QVERIFY(!make(bench, bench, {}) && !make(p.route, p.route, {}) && !make(bench, ObjectId{99}, {}));
        model::Array wrong;
        wrong.everyMetres = -1;
        QVERIFY(!make(bench, p.route, wrong));
        QCOMPARE(p.bytes(), before);
        model::Array dense;
        dense.everyMetres = 1e-4;  // no more than there may be
        QVERIFY(make(bench, p.route, dense));
        QCOMPARE(model::countOf(*p.scene().facet<model::Array>(p.scene().parent(p.slot(bench)))), ops::kMostCopies);
    }
    void theBroomGoesAlongItOnTheGround() {
        Path p({{-12, 0.4, 0}, {12, 0.4, 0}});
        p.put("slab", {0, 0, 0});
        ops::BroomSettings settings;
        settings.item = "cube";
        settings.density = 0.5;
        settings.spacingMetres = 0.5;
        settings.radiusMetres = 1.5;
        const std::string before = p.bytes();
        (void)p.index();
        std::vector<Vec3> stand;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) -> Status {
            ops::Broom broom(d, p.index(), settings);
            const auto curve = query::curveOf(p.scene(), p.slot(p.route));
            if (Status swept = ops::sweepAlong(broom, curve, settings.radiusMetres, 3, p.index(), p.scene()); !swept)
                return swept;
            for (const ObjectId id : broom.met()) stand.push_back(p.at(id));
            return {};
        }));
        QVERIFY(stand.size() > 10);
        double west = 0, east = 0;
        for (const Vec3& at : stand) {
            QVERIFY(std::abs(at.y) < 1e-5);             // on the ground, not at the height of its line
            QVERIFY(std::abs(at.z - 3) <= 1.5 + 1e-9);  // three metres to the right of it
            west = std::min(west, at.x);
            east = std::max(east, at.x);
        }
        QVERIFY(west < -10 && east > 10);  // from one end to the other
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void placesAsTheyAreWritten() {
        std::vector<shape::CurvePoint> ends(2);
        ends[1].at = {0, 0, 40};
        const shape::Curve curve(ends, false);
        const auto place = [&](const char* text) { return ops::placeAlong(text, curve, 10); };
        const std::pair<const char*, double> good[] = {{"42 %", 16.8},   {" 12 m ", 12}, {"12", 12},  {"half way", 20},
                                                       {"Half Way", 20}, {"start", 0},   {"end", 40}, {"+2", 12},
                                                       {"-2 m", 8},      {"+5%", 12},    {"0", 0},    {"40", 40}};
        for (const auto& [text, metres] : good) {
            const auto is = place(text);
            QVERIFY2(is && std::abs(*is - metres) < 1e-9, text);
        }
        for (const char* bad : {"", "m", "12 ft", "41", "-11", "1e400", "nan", "inf", "half", "12 m m", "++2", "101 %"})
            QVERIFY2(!place(bad), bad);
        QVERIFY(place("41").error().message.find("40.00 m long") != std::string::npos);
    }
};

MELLOW_TEST(AlongTest)
}  // namespace along_test
#include "along_test.moc"
