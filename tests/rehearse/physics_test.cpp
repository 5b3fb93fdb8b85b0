#include <QtTest>

#include "support/test_main.h"
#include "support/yard.h"

namespace physics_test {

using base::Vec3;

constexpr double kG = 9.81;

class PhysicsTest : public QObject {
    Q_OBJECT

    static Vec3 at(const rehearse::Run& run, base::ObjectId id) {
        return run.world()
            .motion(test::thingIndex(run, id))
            .point(run.level().scene->world(run.level().scene->find(id)).translation);
    }

  private Q_SLOTS:
    void whatFallsFreelyFollowsTheFormula() {
        test::Yard y;
        const auto id = y.loose("cube", {0, 50, 0});
        const auto run = y.run();
        test::press(*run, {}, 1.5);
        const double t = run->steps() * rehearse::kStep, wanted = 50 - kG * t * t / 2;
        // Each step falls with the speed at its end: half a step's speed ahead of the formula.
        QVERIFY2(std::abs(at(*run, id).y - wanted + kG * t * rehearse::kStep / 2) < 1e-6,
                 qPrintable(QString::number(at(*run, id).y - wanted)));
    }
    void onASlopeItSlidesJustWhenFrictionIsTooLittle() {
        // The ramp rises 1 in 2: it holds from a friction of 0.5 on.
        for (const auto& [friction, slides] : {std::pair{0.46, true}, {0.49, true}, {0.51, false}}) {
            test::Yard y;
            y.put("ramp", {0, 0, 0}, {}, {4, 4, 4});
            model::Body body;
            body.friction = friction;
            body.bounce = 0;
            const auto id = y.loose("cube", {30, 15.001, 0}, {0, 0, base::degrees(std::atan(0.5))}, Vec3(1.0), body);
            const auto run = y.run();
            test::press(*run, {}, 3);
            const double moved = glm::length(at(*run, id) - Vec3(30, 15.001, 0));
            QVERIFY2(slides ? moved > 0.25 : moved < 0.02, qPrintable(QString("%1: %2 m").arg(friction).arg(moved)));
            if (!slides) continue;
            const double slope = std::atan(0.5), a = kG * (std::sin(slope) - friction * std::cos(slope));
            QVERIFY2(std::abs(moved - a * 9 / 2) < 0.15,
                     qPrintable(QString("%1 m instead of %2").arg(moved).arg(a * 9 / 2)));
        }
    }
    void inABumpMomentumStays() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        model::Body light, heavy;
        light.massKilograms = 2;
        heavy.massKilograms = 6;
        light.friction = heavy.friction = 0;
        light.bounce = heavy.bounce = 1;
        light.shape = heavy.shape = model::Body::Shape::Sphere;
        const auto a = y.loose("cube", {0, 10, 0}, {}, Vec3(1.0), light),
                   b = y.loose("cube", {4, 10, 0}, {}, Vec3(1.0), heavy);
        rehearse::World world(*y.level());
        const auto level = y.level();
        rehearse::World w(*level);
        std::size_t ia = 0, ib = 1;
        if (level->things[0].id != a) std::swap(ia, ib);
        QVERIFY(level->things[ib].id == b);
        w.push(ia, Vec3(2 * 8.0, 0, 0), w.pose(ia).at);  // 8 m/s
        for (int i = 0; i < 90; ++i) w.step();
        const double momentum = 2 * w.velocity(ia).x + 6 * w.velocity(ib).x;
        QVERIFY2(std::abs(momentum - 16) < 0.05, qPrintable(QString::number(momentum)));
        QVERIFY2(std::abs(w.velocity(ib).x - 4) < 0.3, qPrintable(QString::number(w.velocity(ib).x)));
        QVERIFY2(std::abs(w.velocity(ia).x + 4) < 0.3, qPrintable(QString::number(w.velocity(ia).x)));
    }
    void aStackOfTwentyStandsForAMinute() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        std::vector<base::ObjectId> all;
        for (int i = 0; i < 20; ++i) all.push_back(y.loose("cube", {0, i * 1.0, 0}));
        const auto run = y.run({15, 0, 15});
        test::press(*run, {}, 60);
        for (int i = 0; i < 20; ++i) {
            const Vec3 is = at(*run, all[static_cast<std::size_t>(i)]);
            QVERIFY2(glm::length(is - Vec3(0, i, 0)) < 0.02,
                     qPrintable(QString("%1: %2 %3 %4").arg(i).arg(is.x).arg(is.y).arg(is.z)));
        }
        QVERIFY(run->isQuiet());
        QCOMPARE(run->trace().count(rehearse::What::Moved), std::size_t(0));
    }
    void whatWaitsStandsUntilItIsBumped() {
        test::Yard y;
        model::Body body;
        body.wakes = model::Body::Wakes::WhenBumped;
        y.put("slab", {0, 0, 0});
        const auto shelf = y.loose("cube", {0, 3, 0}, {}, Vec3(1.0), body);  // in the air: it would fall
        const auto stone = y.loose("cube", {0.3, 9, 0});
        const auto run = y.run({15, 0, 15});
        test::press(*run, {}, 0.9);
        QVERIFY(glm::length(at(*run, shelf) - Vec3(0, 3, 0)) < 1e-9);
        QVERIFY(at(*run, stone).y < 9);
        test::press(*run, {}, 4);
        QVERIFY2(at(*run, shelf).y < 0.6, qPrintable(QString::number(at(*run, shelf).y)));
        QVERIFY(run->trace().count(rehearse::What::Bumped) > 0);
    }
    void byACueOnlyACueWakesIt() {
        test::Yard y;
        model::Body body;
        body.wakes = model::Body::Wakes::ByCue;
        y.put("slab", {0, 0, 0});
        const auto shelf = y.loose("cube", {0, 3, 0}, {}, Vec3(1.0), body);
        y.loose("cube", {0.3, 9, 0});
        const auto level = y.level();
        rehearse::World w(*level);
        for (int i = 0; i < 300; ++i) w.step();
        const std::size_t index = level->things[0].id == shelf ? 0 : 1;
        QVERIFY(w.isWaiting(index));
        w.wake(index);
        for (int i = 0; i < 300; ++i) w.step();
        QVERIFY(w.motion(index).translation.y < -2);
    }
    void whatIsGuidedTakesAlongWhatStandsOnIt() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto raft = y.guided("cube", {0, 0.5, 0}, {}, {4, 0.2, 4});
        const auto crate = y.loose("cube", {1, 0.7, 1});
        const auto level = y.level();
        rehearse::World w(*level);
        const std::size_t ir = level->things[0].id == raft ? 0 : 1, ic = 1 - ir;
        QVERIFY(level->things[ic].id == crate);
        for (int i = 0; i < 360; ++i) w.step();  // all is asleep
        QVERIFY(!w.isAwake(ic));
        w.guide(ir, {w.pose(ir).at + Vec3(6, 2, 0), w.pose(ir).turn}, 4);
        for (int i = 0; i < 600; ++i) w.step();
        QVERIFY2(glm::length(w.motion(ir).translation - Vec3(6, 2, 0)) < 1e-9, "the raft is where it should be");
        const Vec3 went = w.motion(ic).point({1, 0.7, 1}) - Vec3(1, 0.7, 1);
        QVERIFY2(glm::length(went - Vec3(6, 2, 0)) < 0.1,
                 qPrintable(QString("%1 %2 %3").arg(went.x).arg(went.y).arg(went.z)));
    }
    void whatIsLightFloatsAndWhatIsHeavySinks() {
        test::Yard y;
        y.put("slab", {0, -5, 0});
        const auto lake = y.put("", {0, -5, 0});
        model::Zone zone;
        zone.size = {30, 5, 30};
        zone.water = true;
        y.give(lake, zone);
        model::Body stone;
        stone.massKilograms = 2500;
        const auto light = y.loose("cube", {4, 2, 0}), heavy = y.loose("cube", {-4, 2, 0}, {}, Vec3(1.0), stone);
        const auto run = y.run({15, -5, 15});
        test::press(*run, {}, 20);
        // 600 kg in 1000: six tenths of it are below the surface.
        QVERIFY2(std::abs(at(*run, light).y + 0.6) < 0.06, qPrintable(QString::number(at(*run, light).y)));
        QVERIFY2(at(*run, heavy).y < -4.9, qPrintable(QString::number(at(*run, heavy).y)));
    }
    void whatFallsForEverIsStoppedAndNamed() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto id = y.loose("cube", {60, 1, 0});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 12);
        QCOMPARE(run->trace().count(rehearse::What::Stopped), std::size_t(1));
        for (const auto& e : run->trace().entries)
            if (e.what == rehearse::What::Stopped) {
                QCOMPARE(e.object, id);
                QVERIFY(rehearse::textOf(e, run->level()).find("cube was stopped") == 0);
            }
    }
    void aBallRollsAndAHollowThingIsAsItsParts() {
        test::Yard y;
        y.put("ramp", {0, 0, 0}, {}, {4, 4, 4});
        model::Body ball;
        ball.shape = model::Body::Shape::Sphere;
        const auto id = y.loose("cube", {30, 15.2, 0}, {}, Vec3(1.0), ball);
        const auto run = y.run({100, 0, 100});
        test::press(*run, {}, 2);
        QVERIFY2(at(*run, id).x < 26,
                 qPrintable(QString::number(at(*run, id).x)));  // a cube of that friction would stay
    }
};

MELLOW_TEST(PhysicsTest)

}  // namespace physics_test
#include "physics_test.moc"
