// Routes that lead to one another, and what follows them: where forks join, how often each way is gone, goals that open
// one, speed that is gained and lost.
#include <QtTest>
#include <map>

#include "model/facets/goal.h"
#include "ops/routes.h"
#include "query/pace.h"
#include "query/route.h"
#include "rehearse/follow.h"
#include "support/steps.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace follow_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using model::Route;
using rehearse::Following;
using rehearse::kStep;

struct Ways : test::Yard {
    ObjectId route(const std::vector<Vec3>& way, bool closed = false) {
        const ObjectId id = *test::asStep(*this, [&](edit::Draft& d) { return ops::addRoute(d, way, closed); });
        change(id, [](Route& r) {
            for (model::RoutePoint& p : r.points) p.bend = model::RoutePoint::Bend::Corner;
            r.speed = 2;
        });
        return id;
    }
    void change(ObjectId id, const std::function<void(Route&)>& how) {
        const auto step = [&](edit::Draft& d) {
            return ops::changeRoute(d, id, [&](model::Slot, Route& r) -> Status {
                how(r);
                return {};
            });
        };
        if (!test::asStep(*this, step)) qFatal("the route cannot be so");
    }
    void fork(ObjectId from, std::size_t point, ObjectId to, double share = 1, ObjectId goal = {}) {
        if (!test::asStep(*this, [&](edit::Draft& d) { return ops::addFork(d, from, point, to); })) qFatal("no fork");
        change(from, [&](Route& r) {
            r.forks.back().share = share;
            r.forks.back().goal = goal;
        });
    }
    std::shared_ptr<const rehearse::Network> network(ObjectId id) {
        return std::make_shared<const rehearse::Network>(rehearse::networkOf(scene(), slot(id)));
    }
    bool ends(ObjectId id) { return query::comesToAnEnd(scene(), slot(id)); }
    std::string fault(ObjectId id, std::size_t fork = 0) { return query::faultOf(scene(), slot(id), fork); }
};

bool nothingIsMet(ObjectId) {
    return false;
}

/// Until it is over or so many steps are gone: how many, and where it is then.
std::pair<int, rehearse::Pose> gone(Following& one, int most = 20'000) {
    rehearse::Pose at;
    int steps = 0;
    while (!one.isOver() && steps < most) at = one.step(nothingIsMet), ++steps;
    return {steps, at};
}

bool near(const Vec3& a, const Vec3& b, double within = 1e-6) {
    return glm::length(a - b) < within;
}

class FollowTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void speedIsGainedAndLostAsTheFormulaSays() {
        Ways y;
        const ObjectId id = y.route({{0, 0, 0}, {0, 0, 40}});
        const auto pace = [&] {
            return query::Pace(y.scene().facet<Route>(y.slot(id))[0], query::curveOf(y.scene(), y.slot(id)));
        };
        QVERIFY(std::abs(pace().seconds() - 20) < 1e-9);
        QCOMPARE(pace().at(0), 2.0);
        // Up to 2 m/s with 0.5 m/s²: 4 s and 4 m, and as much in the end.
        y.change(id, [](Route& r) { r.gains = 0.5; });
        QVERIFY2(std::abs(pace().seconds() - (4 + 16 + 4)) < 1e-9, qPrintable(QString::number(pace().seconds())));
        QVERIFY(std::abs(pace().at(1) - 1) < 1e-9 && std::abs(pace().at(39) - 1) < 1e-9 && pace().at(20) == 2);
        // So short that it never comes to it: sqrt(2 · 0.5 · 0.5 · 3).
        y.change(id, [](Route& r) { r.points[1].at = {0, 0, 3}; });
        QVERIFY(std::abs(pace().seconds() - 2 * std::sqrt(2 * 1.5 / 0.5)) < 1e-9);
        // Into a slower leg it comes as slow as that is; where it waits it stands.
        y.change(id, [](Route& r) {
            r.points.assign(3, {});
            for (std::size_t i = 0; i < 3; ++i) r.points[i].at = {0, 0, 20.0 * static_cast<double>(i)};
            for (model::RoutePoint& p : r.points) p.straight = true;
            r.points[1].speed = 1;
        });
        QVERIFY(std::abs(pace().at(20) - 1) < 1e-9 && pace().at(18) > 1.7);
        y.change(id, [](Route& r) { r.points[1].waits = 2; });
        QVERIFY(pace().at(20) < 1e-6);
        // Round and round without standing, but for what it waits.
        const ObjectId round = y.route({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}}, true);
        y.change(round, [](Route& r) { r.gains = 0.5; });
        const query::Pace lap(*y.scene().facet<Route>(y.slot(round)), query::curveOf(y.scene(), y.slot(round)));
        QVERIFY(std::abs(lap.seconds() - 20) < 1e-9 && std::abs(lap.secondsToStand() - 4) < 1e-9);
    }
    void whatFollowsTakesAsLongAsTheRouteSays() {
        base::Random random(3);
        for (int round = 0; round < 40; ++round) {
            Ways y;
            std::vector<Vec3> way;
            for (int i = 0; i < 3 + round % 5; ++i) way.push_back({i * 6.0, 0, random.between(-4, 4)});
            const ObjectId id = y.route(way, round % 4 == 3);
            y.change(id, [&](Route& r) {
                r.gains = round % 2 == 0 ? random.between(0.3, 3) : 0;
                r.laps = 1 + round % 3;
                for (model::RoutePoint& p : r.points) {
                    p.bend = static_cast<model::RoutePoint::Bend>(random.next() % 3);
                    p.radius = 1;
                    p.speed = random.next() % 2 == 0 ? random.between(0.5, 3) : 0;
                    p.waits = random.next() % 4 == 0 ? 1.5 : 0;
                }
            });
            const auto ways = y.network(id);
            const double says = query::factsOf(ways->front().route, ways->front().curve).seconds;
            rehearse::Pose from;
            from.at = ways->front().curve.at(0);
            Following one(ways, from, 1);
            const auto [steps, at] = gone(one);
            // A step for each wait, and what whole steps cannot meet.
            QVERIFY2(one.isOver() && std::abs(steps * kStep - says) < 0.03 * says + 0.5,
                     qPrintable(QString("%1: %2, said %3").arg(round).arg(steps * kStep).arg(says)));
            QVERIFY(near(at.at, ways->front().curve.at(round % 4 == 3 ? 0 : ways->front().curve.length()), 1e-3));
        }
    }
    void denseWaitsAndAClosedOneWithARoundBeginning() {
        Ways y;
        std::vector<Vec3> way;
        for (int i = 0; i < 200; ++i) way.push_back({i * 0.01, 0, 0});
        const ObjectId id = y.route(way);
        y.change(id, [](Route& r) { r.points[150].waits = 3; });
        rehearse::Pose from;
        Following one(y.network(id), from, 1);
        for (int i = 0; i < 120; ++i) one.step(nothingIsMet);
        QVERIFY(near(one.step(nothingIsMet).at, {1.5, 0, 0}));  // points nearer than a step do not hide a wait
        const ObjectId round = y.route({{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}}, true);
        y.change(round, [](Route& r) {
            r.points[0].bend = model::RoutePoint::Bend::Round;
            r.points[0].radius = 2;
            r.points[2].waits = 30;
        });
        const auto ways = y.network(round);
        from.at = ways->front().curve.at(0);
        Following two(ways, from, 1);
        for (int i = 0; i < 1500; ++i) two.step(nothingIsMet);
        QVERIFY(near(two.step(nothingIsMet).at, {10, 0, 10}));
    }
    void aForkIsTakenAsOftenAsItsShareSays() {
        Ways y;
        const ObjectId stem = y.route({{0, 0, 0}, {0, 0, 4}, {0, 0, 8}});
        const ObjectId left = y.route({{-4, 0, 4}, {-8, 0, 4}}), right = y.route({{0, 0, 4}, {8, 0, 4}});
        y.fork(stem, 1, left, 2);
        y.fork(stem, 1, right, 1);
        const auto ways = y.network(stem);
        QCOMPARE(ways->size(), std::size_t(3));
        std::map<std::size_t, int> taken;
        constexpr int kTimes = 2000;
        for (int i = 0; i < kTimes; ++i) {
            Following one(ways, {}, static_cast<std::uint64_t>(i));
            const auto [steps, at] = gone(one);
            QVERIFY(one.isOver());
            QVERIFY(near(at.at,
                         one.way() == 0   ? Vec3(0, 0, 8)
                         : one.way() == 1 ? Vec3(-8, 0, 4)
                                          : Vec3(8, 0, 4),
                         1e-3));
            ++taken[one.way()];
        }
        // Going on 1, left 2, right 1.
        for (const auto& [way, share] : std::map<std::size_t, double>{{0, 0.25}, {1, 0.5}, {2, 0.25}})
            QVERIFY2(std::abs(taken[way] / double(kTimes) - share) < 0.04, qPrintable(QString::number(taken[way])));
        // The same seed, the same way; nothing jumps between the two.
        Following one(ways, {}, 7), again(ways, {}, 7);
        Vec3 before(0.0);
        for (int i = 0; i < 2000; ++i) {
            const Vec3 at = one.step(nothingIsMet).at;
            QCOMPARE(at, again.step(nothingIsMet).at);
            QVERIFY(glm::length(at - before) < 2 * kStep + 1e-6);
            before = at;
        }
    }
    void atTheEndItIsTakenAlwaysAndAGoalOpensIt() {
        Ways y;
        const ObjectId goal = y.put("", {5, 0, 5});
        y.give(goal, model::Goal{});
        const ObjectId first = y.route({{0, 0, 0}, {0, 0, 4}}), second = y.route({{-3, 0, 6}, {3, 0, 6}});
        y.fork(first, 1, second, 0.1, goal);
        for (int seed = 0; seed < 20; ++seed) {
            Following shut(y.network(first), {}, static_cast<std::uint64_t>(seed)),
                open(y.network(first), {}, static_cast<std::uint64_t>(seed));
            QVERIFY(near(gone(shut).second.at, {0, 0, 4}));
            rehearse::Pose at;
            for (int i = 0; i < 2000; ++i) at = open.step([&](ObjectId asked) { return asked == goal; });
            // In the middle of the other one, and on from there.
            QVERIFY(open.isOver() && near(at.at, {3, 0, 6}));
        }
    }
    void whatIsWrongWithAForkIsSaid() {
        Ways y;
        const ObjectId a = y.route({{0, 0, 0}, {0, 0, 4}}), b = y.route({{4, 0, 0}, {4, 0, 4}}),
                       cube = y.put("cube", {9, 0, 0});
        y.fork(a, 1, b);
        QCOMPARE(y.fault(a), std::string());
        QVERIFY(!test::asStep(y, [&](edit::Draft& d) { return ops::addFork(d, a, 1, b); }));  // there is one
        QVERIFY(!test::asStep(y, [&](edit::Draft& d) { return ops::addFork(d, a, 1, a); }));
        QVERIFY(!test::asStep(y, [&](edit::Draft& d) { return ops::addFork(d, a, 2, b); }));
        QVERIFY(!test::asStep(y, [&](edit::Draft& d) { return ops::addFork(d, a, 1, cube); }));
        const auto with = [&](const std::function<void(model::RouteFork&)>& how) {
            y.change(a, [&](Route& r) {
                r.forks = {{}};
                r.forks[0].point = 2;
                r.forks[0].to = b;
                how(r.forks[0]);
            });
            return y.fault(a);
        };
        QCOMPARE(with([](model::RouteFork& f) { f.to = {}; }), std::string("leads to no route yet"));
        QCOMPARE(with([](model::RouteFork& f) { f.to = ObjectId{99}; }),
                 std::string("leads to something that is gone"));
        QCOMPARE(with([&](model::RouteFork& f) { f.to = a; }), std::string("leads back to its own route"));
        QCOMPARE(with([&](model::RouteFork& f) { f.to = cube; }), std::string("leads to something that is no route"));
        QCOMPARE(with([](model::RouteFork& f) { f.point = 3; }), std::string("leaves from a point that there is not"));
        QCOMPARE(with([](model::RouteFork& f) { f.share = 0; }), std::string("is never taken: its share is 0"));
        QCOMPARE(with([](model::RouteFork& f) { f.goal = ObjectId{99}; }),
                 std::string("waits for a goal that is gone"));
        QCOMPARE(y.network(a)->front().branches.size(), std::size_t(0));  // nothing goes that way
    }
    void aNetworkComesToAnEndOrGoesRoundForEver() {
        Ways y;
        const ObjectId a = y.route({{0, 0, 0}, {0, 0, 4}}), b = y.route({{4, 0, 4}, {4, 0, 0}});
        QVERIFY(y.ends(a));
        y.fork(a, 1, b);
        QVERIFY(y.ends(a));
        y.fork(b, 1, a);  // round and round, with no way out
        QVERIFY(!y.ends(a) && !y.ends(b));
        const ObjectId out = y.route({{8, 0, 0}, {12, 0, 0}});
        y.fork(b, 1, out, 0.1);
        QVERIFY(y.ends(a) && y.ends(b) && y.ends(out));
        Following one(y.network(a), {}, 5);
        QVERIFY(near(gone(one, 500'000).second.at, {12, 0, 0}));
        // A way out that is never open is none.
        y.change(b, [](Route& r) { r.forks.back().share = 0; });
        QVERIFY(!y.ends(a));
        // What follows one that goes round for ever stays on it, and costs a step what a step costs.
        Following round(y.network(a), {}, 5);
        QVERIFY(!round.isOver() && gone(round, 5000).first == 5000);
    }
    void twoRoutesInOnePlaceDoNotHoldWhatFollowsThem() {
        Ways y;
        const ObjectId a = y.route({{0, 0, 0}, {0, 0, 4}}), b = y.route({{0, 0, 4}, {0, 0, 0}});
        y.fork(a, 1, b);
        y.fork(b, 0, a);
        y.fork(a, 0, b);
        Following one(y.network(a), {}, 2);
        for (int i = 0; i < 3000; ++i) QVERIFY(std::isfinite(one.step(nothingIsMet).at.z));
    }
};

MELLOW_TEST(FollowTest)
}  // namespace follow_test
#include "follow_test.moc"
