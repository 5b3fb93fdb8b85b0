// Routes with stops in a run: passed in order, missed, the wrong way, laps and their times; cues hear of it.
#include <QtTest>

#include "model/data.h"
#include "model/facets/cues.h"
#include "ops/cues.h"
#include "ops/routes.h"
#include "rehearse/courses.h"
#include "support/steps.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace courses_test {

using base::ObjectId;
using base::Vec3;
using rehearse::Courses;
using rehearse::What;
using Is = Courses::Told::Is;
using Passed = model::RouteStop::Passed;

rehearse::GateAt gate(double z, Passed passed = Passed::Forwards) {
    rehearse::GateAt made;
    made.into = *base::inverse(base::Affine{base::Mat3(1.0), Vec3(0, 0, z)});
    made.size = {4, 3, 1};
    made.passed = passed;
    return made;
}

/// Along z from place to place; what is told of it.
std::vector<std::pair<Is, std::size_t>> walked(Courses& courses, std::initializer_list<Vec3> places) {
    std::vector<std::pair<Is, std::size_t>> told;
    std::optional<Vec3> before;
    int step = 0;
    for (const Vec3& place : places) {
        if (before)
            for (const Courses::Told& t : courses.step(*before, place, ++step)) told.emplace_back(t.is, t.gate);
        before = place;
    }
    return told;
}

using List = std::vector<std::pair<Is, std::size_t>>;

struct Lane : test::Yard {
    ObjectId route;
    std::vector<ObjectId> gates;
    explicit Lane(std::vector<double> at = {-4, -8, -12}) {
        put("slab", {0, 0, 0});
        const std::vector<Vec3> way = {{0, 0, 0}, {0, 0, -16}};
        route = *test::asStep(*this, [&](edit::Draft& d) { return ops::addRoute(d, way, false); });
        for (const double z : at) gates.push_back(put("cube", {3, 0, z}, {}, Vec3(0.2)));
        const auto stops = [&](edit::Draft& d) { return ops::addStops(d, route, gates); };
        if (!test::asStep(*this, stops)) qFatal("no stops");
        // A cube beside the lane: the volume lies on the route, as wide as the lane is.
        const auto wide = [&](edit::Draft& d) {
            return ops::changeRoute(d, route, [](model::Slot, model::Route& r) -> base::Status {
                for (model::RouteStop& stop : r.stops) stop.size = {4, 3, 1};
                return {};
            });
        };
        if (!test::asStep(*this, wide)) qFatal("no volume");
    }
};

class CoursesTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void stopsArePassedInOrderAndNoOthers() {
        const std::vector<rehearse::CourseAt> all = {{{}, "Lane", {gate(2), gate(4), gate(6)}, 1, false, {}}};
        Courses straight(all);
        QCOMPARE(walked(straight, {{0, 1, 0}, {0, 1, 3}, {0, 1, 5}, {0, 1, 7}}),
                 (List{{Is::Passed, 0}, {Is::Passed, 1}, {Is::Passed, 2}, {Is::Lap, 2}}));
        QVERIFY(straight.state(0).isDone && straight.state(0).passed == 3);
        // In one step through all of them.
        Courses fast(all);
        QCOMPARE(walked(fast, {{0, 1, 0}, {0, 1, 9}}).size(), std::size_t(4));
        // Round the second; beside it, over it, under it is not through it.
        for (const Vec3& past : {Vec3(3, 1, 3), Vec3(0, 4, 3), Vec3(0, -1, 3)}) {
            Courses round(all);
            QCOMPARE(walked(round, {{0, 1, 0}, {0, 1, 3}, past, past + Vec3(0, 0, 2), {0, 1, 5}, {0, 1, 7}}),
                     (List{{Is::Passed, 0}, {Is::Missed, 1}, {Is::Passed, 2}, {Is::Lap, 2}}));
            QCOMPARE(round.state(0).missed, std::size_t(1));
        }
        // It begins with its first.
        Courses late(all);
        QVERIFY(walked(late, {{0, 1, 3}, {0, 1, 5}, {0, 1, 7}}).empty());
    }
    void theWrongWayIsTold() {
        const std::vector<rehearse::CourseAt> all = {
            {{}, "Lane", {gate(2, Passed::EitherWay), gate(4), gate(6, Passed::Backwards)}, 1, false, {}}};
        Courses courses(all);
        QCOMPARE(walked(courses, {{0, 1, 3}, {0, 1, 1}, {0, 1, 5}, {0, 1, 3}, {0, 1, 7}, {0, 1, 5}}),
                 (List{{Is::Passed, 0},
                       {Is::Passed, 1},
                       {Is::WrongWay, 1},
                       {Is::WrongWay, 2},
                       {Is::Passed, 2},
                       {Is::Lap, 2}}));
    }
    void lapsAreCountedAndTimed() {
        const std::vector<rehearse::CourseAt> all = {{{}, "Ring", {gate(2), gate(4)}, 2, true, {}}};
        Courses courses(all);
        const List lap = {{Is::Passed, 0}, {Is::Passed, 1}, {Is::Lap, 1}};
        const std::initializer_list<Vec3> once = {{0, 1, 0}, {0, 1, 3}, {0, 1, 5}, {9, 1, 5}, {9, 1, 0}, {0, 1, 0}};
        QCOMPARE(walked(courses, once), lap);
        QVERIFY(!courses.state(0).isDone && courses.state(0).lap == 2);
        QCOMPARE(walked(courses, once), lap);
        QVERIFY(courses.state(0).isDone);
        QVERIFY(walked(courses, once).empty());
    }
    void whoeverWalksAlongIsToldAndTimed() {
        Lane y;
        const std::string before = y.bytes();
        const auto run = y.run({0, 0, 0});
        QCOMPARE(run->level().courses->size(), std::size_t(1));
        test::press(*run, test::ahead(0), 8);
        std::vector<ObjectId> passed;
        double last = -1;
        for (const rehearse::Entry& e : run->trace().entries) {
            if (e.what != What::Passed) continue;
            passed.push_back(e.object);
            QCOMPARE(e.other, y.route);
            QVERIFY(e.amount > last);
            last = e.amount;
        }
        QCOMPARE(passed, y.gates);
        QCOMPARE(run->trace().count(What::Lapped), std::size_t(1));
        // Two stops of 4 m apart, at the pace of who walks.
        QVERIFY2(std::abs(last - 8 / y.walker.metresPerSecond) < 0.3, qPrintable(QString::number(last)));
        QCOMPARE(y.bytes(), before);
        // Twice the same.
        QCOMPARE(rehearse::replay(y.level(), run->inputs()).sum(), run->trace().sum());
    }
    void aCarrierFollowsARouteWithItsSpeedsAndWaits() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId boat = y.put("cube", {-3, 1, 0}, {}, {6, 1, 6}),
                       crate = y.loose("cube", {-3, 2, 0}, {}, Vec3(0.5));
        const std::vector<Vec3> way = {{0, 1, 0}, {0, 1, 8}, {8, 1, 8}};
        const ObjectId route = *test::asStep(y, [&](edit::Draft& d) { return ops::addRoute(d, way, false); });
        const auto corners = [&](edit::Draft& d) {
            return ops::changeRoute(d, route, [](model::Slot, model::Route& r) -> base::Status {
                for (model::RoutePoint& p : r.points) p.bend = model::RoutePoint::Bend::Corner;
                r.speed = 2;
                r.points[1].waits = 1;
                r.points[1].speed = 4;
                return {};
            });
        };
        QVERIFY(test::asStep(y, corners));
        const auto sets = [&](edit::Draft& d) {
            return ops::changeCues(d, boat, [&](model::Cues& cues) -> base::Status {
                model::Cue made = model::freshCue(cues);
                made.when[0].what = model::CueWhen::What::Start;
                made.then[0].does = model::CueThen::Does::Follow;
                made.then[0].to = model::CueThen::To::Myself;
                made.then[0].place = route;
                cues.all.push_back(made);
                return {};
            });
        };
        QVERIFY(test::asStep(y, sets));
        const std::string before = y.bytes();
        const auto run = y.run({0, 0, -15});
        const std::size_t is = test::thingIndex(*run, boat);
        const auto at = [&] { return run->world().pose(is).at; };
        const auto near = [](const Vec3& a, const Vec3& b) { return glm::length(a - b) < 0.1; };
        test::press(*run, {}, 1.5);  // three metres to its beginning
        QVERIFY2(near(at(), {0, 1, 0}), qPrintable(QString::number(at().x)));
        test::press(*run, {}, 3);
        const Vec3 rides = run->world().pose(test::thingIndex(*run, crate)).at - at();
        QVERIFY2(std::abs(rides.x) < 2 && std::abs(rides.z) < 2 && rides.y > 0.5, qPrintable(QString::number(rides.z)));
        test::press(*run, {}, 1);
        QVERIFY(near(at(), {0, 1, 8}));
        test::press(*run, {}, 0.9);
        QVERIFY(near(at(), {0, 1, 8}));  // it waits
        test::press(*run, {}, 1.1);
        QVERIFY2(std::abs(at().x - 4) < 0.25 && std::abs(at().z - 8) < 0.05, qPrintable(QString::number(at().x)));
        test::press(*run, {}, 3);
        QVERIFY(near(at(), {8, 1, 8}));
        // Turned with the way: what looked along it does so still.
        QVERIFY(glm::length(run->world().pose(is).turn * Vec3(0, 0, 1) - Vec3(1, 0, 0)) < 1e-6);
        QVERIFY(run->trace().count(What::Rested) > 0);
        QCOMPARE(y.bytes(), before);
        QCOMPARE(rehearse::replay(y.level(), run->inputs()).sum(), run->trace().sum());
    }
    void aLapIsFlown() {
        Lane y(std::vector<double>{});
        y.inCraft = true;
        y.craft.flies = true;
        const double r = 60;
        std::vector<ObjectId> gates;
        const std::vector<Vec3> ring = {{0, 8, -r}, {r, 8, 0}, {0, 8, r}, {-r, 8, 0}};
        const ObjectId course = *test::asStep(y, [&](edit::Draft& d) { return ops::addRoute(d, ring, true); });
        for (const Vec3& at : ring) gates.push_back(y.put("", at));
        QVERIFY(test::asStep(y, [&](edit::Draft& d) { return ops::addStops(d, course, gates); }));
        QVERIFY(test::asStep(y, [&](edit::Draft& d) {
            return ops::changeRoute(d, course, [](model::Slot, model::Route& route) -> base::Status {
                for (model::RouteStop& stop : route.stops) stop.size = {24, 12, 2};
                for (model::RoutePoint& p : route.points) p.at.y -= 5;  // one flies through the middle of the volumes
                return {};
            });
        }));
        // Steered by hand, as it were: the craft turns towards a place a little ahead on the course.
        const shape::Curve curve = query::curveOf(y.scene(), y.slot(course));
        const auto run = y.run({-10, 6, -r}, 90);
        for (int i = 0; i < rehearse::kStepsPerSecond * 120 && run->trace().count(What::Lapped) == 0; ++i) {
            const Vec3 feet = run->player().footing.feet;
            const Vec3 to = curve.at(curve.nearest(feet).metres + 16) + Vec3(0, 5, 0) - feet;
            const double wanted = base::degrees(std::atan2(to.x, -to.z));
            const double off = std::remainder(wanted - run->player().heading, 360.0);
            rehearse::Input input;
            input.ahead = 100;
            input.side = static_cast<std::int16_t>(std::clamp(off * 8, -100.0, 100.0));
            input.up = static_cast<std::int16_t>(std::clamp((5 - feet.y) * 20, -100.0, 100.0));
            run->step(input);
        }
        QCOMPARE(run->trace().count(What::Lapped), std::size_t(1));
        QCOMPARE(run->trace().count(What::Missed), std::size_t(0));
        QCOMPARE(run->trace().count(What::WrongWay), std::size_t(0));
        std::vector<ObjectId> passed;
        for (const rehearse::Entry& e : run->trace().entries)
            if (e.what == What::Passed) passed.push_back(e.object);
        QCOMPARE(passed.size(), gates.size());
        QCOMPARE(rehearse::replay(y.level(), run->inputs()).sum(), run->trace().sum());
    }
    void twoRunsAreComparedAlongIt() {
        Lane y;
        const auto gone = [&](double pause) {
            const auto run = y.run({0, 0, 0});
            test::press(*run, test::ahead(0), 3);
            test::press(*run, {}, pause);
            test::press(*run, test::ahead(0), 4);
            return run->trace();
        };
        const rehearse::Trace fast = gone(0.1), slow = gone(2.1);
        const rehearse::Parting parting = rehearse::compare(fast, slow);
        QVERIFY(parting.stops.size() >= 2);
        QCOMPARE(parting.stops[0].stop, y.gates[0]);
        QCOMPARE(parting.stops[0].route, y.route);
        QVERIFY(parting.stops[0].first && parting.stops[0].second);
        QVERIFY(std::abs(*parting.stops[0].second - *parting.stops[0].first) < 1e-9);  // before the pause
        bool later = false;
        for (const rehearse::StopTimes& s : parting.stops)
            later = later || (s.first && s.second && std::abs(*s.second - *s.first - 2) < 0.1);
        QVERIFY(later);
        // One that comes less far: the other's stops are there, and said to be missing.
        rehearse::Trace cut = fast;
        std::erase_if(cut.entries, [&](const rehearse::Entry& e) { return e.object == y.gates[1]; });
        const rehearse::Parting less = rehearse::compare(fast, cut);
        QVERIFY(std::ranges::any_of(
            less.stops, [&](const rehearse::StopTimes& s) { return s.stop == y.gates[1] && s.first && !s.second; }));
        QVERIFY(rehearse::compare(fast, fast).alike());
    }
    void stopsHearHowTheyAre() {
        Lane y;
        using Map = model::ValueMap;
        const auto choice = [](const char* word) { return model::Value{std::string(word)}; };
        const std::optional<Map> kindOfGate =
            Map{{"name", {std::string("Gate")}},
                {"properties",
                 {model::ValueList{
                     {Map{{"name", {std::string("is")}},
                          {"type", {std::string("choice")}},
                          {"choices", {model::ValueList{choice("waiting"), choice("next"), choice("passed")}}}}}}}}};
        const std::string key;
        QVERIFY(test::asStep(y, [&](edit::Draft& d) {
            return d.setEntries(model::data::kindDocument("Gate"), {&key, 1}, {&kindOfGate, 1});
        }));
        const base::Name kind = y.name("Gate");
        for (const ObjectId id : {y.gates[0], y.gates[1]})
            QVERIFY(test::asStep(y, [&](edit::Draft& d) {
                return d.setLabels(model::LabelField::Kind, {&id, 1}, {&kind, 1});
            }));
        QVERIFY(test::asStep(y, [&](edit::Draft& d) {
            return ops::changeRoute(d, y.route, [](model::Slot, model::Route& r) -> base::Status {
                r.tells = "is";
                return {};
            });
        }));
        const auto run = y.run({0, 0, 0});
        const auto is = [&](ObjectId gate) {
            const auto& set = run->cues().set();
            const auto at = set.propertyOf.find({y.slot(gate), "is"});
            return at == set.propertyOf.end()
                       ? std::string()
                       : *std::get_if<std::string>(&run->cues().value(static_cast<std::size_t>(at->second)).data);
        };
        QCOMPARE(is(y.gates[0]), std::string("next"));
        QCOMPARE(is(y.gates[1]), std::string("waiting"));
        QCOMPARE(is(y.gates[2]), std::string());  // its kind has no such property
        while (run->player().footing.feet.z > -5 && run->steps() < 2000) run->step(test::ahead(0));
        QCOMPARE(is(y.gates[0]), std::string("passed"));
        QCOMPARE(is(y.gates[1]), std::string("next"));
        while (run->player().footing.feet.z > -13 && run->steps() < 2000) run->step(test::ahead(0));
        QCOMPARE(is(y.gates[1]), std::string("passed"));
        QVERIFY(run->trace().count(What::Became) >= 4);
        QVERIFY(std::ranges::any_of(run->trace().changes, [](const rehearse::Change& c) { return c.name == "is"; }));
    }
    void aJumpPassesNothing() {
        Lane y;
        const auto run = y.run({0, 0, 0});
        rehearse::Input jump;
        jump.place = Vec3(0, 0, -14);
        run->step(jump);
        test::press(*run, {}, 0.5);
        QCOMPARE(run->trace().count(What::Passed), std::size_t(0));
    }
    void cuesHearOfStopsAndOfTheWholeRoute() {
        Lane y;
        const auto cue = [&](ObjectId of, ObjectId at, const char* words) {
            const auto add = [&](edit::Draft& d) {
                return ops::changeCues(d, of, [&](model::Cues& cues) -> base::Status {
                    model::Cue made = model::freshCue(cues);
                    made.when[0].what = model::CueWhen::What::Passed;
                    made.when[0].object = at;
                    made.then[0].words = words;
                    cues.all.push_back(made);
                    return {};
                });
            };
            QVERIFY(test::asStep(y, add));
        };
        cue(y.gates[1], {}, "half way");
        cue(y.route, {}, "all of it");
        const auto run = y.run({0, 0, 0});
        test::press(*run, test::ahead(0), 8);
        QStringList said;
        for (const rehearse::Entry& e : run->trace().entries)
            if (e.what == What::Said) said << QString::fromStdString(e.note);
        QCOMPARE(said, (QStringList{"half way", "all of it"}));
    }
};

MELLOW_TEST(CoursesTest)
}  // namespace courses_test
#include "courses_test.moc"
