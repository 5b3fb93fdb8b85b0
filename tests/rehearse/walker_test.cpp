#include <QtTest>

#include "rehearse/start.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace walker_test {

using base::Vec3;
using rehearse::Input;
using rehearse::What;

/// Facing +x.
constexpr double kEast = 90;

class WalkerTest : public QObject {
    Q_OBJECT

    static Vec3 feet(const rehearse::Run& run) { return run.player().footing.feet; }

  private Q_SLOTS:
    void overLevelGroundOneGoesAsFastAsTheProjectSays() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto run = y.run({-10, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 0.5);
        const double from = feet(*run).x;
        test::press(*run, test::ahead(kEast), 4);
        QVERIFY2(std::abs(feet(*run).x - from - 4 * y.walker.metresPerSecond) < 0.02,
                 qPrintable(QString::number(feet(*run).x - from)));
        QVERIFY(std::abs(feet(*run).y) < 5e-3);
        QVERIFY(std::abs(feet(*run).z) < 1e-6);
        const double ran = feet(*run).x;
        test::press(*run, test::ahead(kEast, Input::Run), 1);
        QVERIFY(feet(*run).x - ran > 0.9 * y.walker.runsPerSecond);
    }
    void aStepOfJustLessIsClimbedAndOneOfJustMoreIsNot() {
        for (const double off : {-0.01, 0.01}) {
            test::Yard y;
            y.put("slab", {0, 0, 0});
            y.put("cube", {4, 0, 0}, {}, {4, y.walker.stepHeight + off, 6});
            const auto run = y.run({0, 0, 0.1}, kEast);
            test::press(*run, test::ahead(kEast), 2.2);
            const Vec3 at = feet(*run);
            if (off < 0)
                QVERIFY2(std::abs(at.y - (y.walker.stepHeight + off)) < 0.01 && at.x > 3,
                         qPrintable(QString("%1 %2").arg(at.x).arg(at.y)));
            else
                QVERIFY2(std::abs(at.y) < 0.01 && at.x < 1.72, qPrintable(QString("%1 %2").arg(at.x).arg(at.y)));
        }
    }
    void gapsOfItsWidthPlusACentimetreArePassedAndMinusOneAreNot() {
        for (const double off : {0.01, -0.01}) {
            test::Yard y;
            y.put("slab", {0, 0, 0});
            const double half = y.walker.radius + off / 2;
            y.put("cube", {4, 0, half + 1}, {}, {1, 3, 2});
            y.put("cube", {4, 0, -half - 1}, {}, {1, 3, 2});
            const auto run = y.run({0, 0, 0}, kEast);
            test::press(*run, test::ahead(kEast), 3);
            QVERIFY2((feet(*run).x > 6) == (off > 0), qPrintable(QString("%1: %2").arg(off).arg(feet(*run).x)));
        }
    }
    void aSlopeUpToTheSteepestIsWalkedAndASteeperOneIsNot() {
        for (const bool steep : {false, true}) {
            test::Yard y;
            y.put("slab", {0, 0, 0});
            y.walker.slopeDegrees = base::degrees(std::atan(0.5)) + (steep ? -1 : 1);
            y.put("ramp", {2, 0, 0});
            const auto run = y.run({0, 0, 0}, kEast);
            test::press(*run, test::ahead(kEast), 4);
            const Vec3 at = feet(*run);
            if (steep)
                QVERIFY2(at.y < 0.1, qPrintable(QString("%1 %2").arg(at.x).arg(at.y)));
            else
                QVERIFY2(at.y > 3 && at.x > 8, qPrintable(QString("%1 %2").arg(at.x).arg(at.y)));
            // And down again, feet on the ground all the way.
            if (steep) continue;
            test::press(*run, test::ahead(-kEast), 3);
            QVERIFY(run->player().footing.onGround);
            QVERIFY2(std::abs(feet(*run).y - std::max(0.0, (feet(*run).x - 2) / 2)) < 0.1,
                     qPrintable(QString::number(feet(*run).y)));
        }
    }
    void aFlightOfStairsIsGoneUpAndDown() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        for (int i = 0; i < 10; ++i) y.put("cube", {2 + i * 0.3 + 5, 0, 0}, {}, {10, 0.2 * (i + 1), 3});
        const auto run = y.run({0, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 3);
        QVERIFY2(std::abs(feet(*run).y - 2) < 0.01, qPrintable(QString::number(feet(*run).y)));
        test::press(*run, test::ahead(-kEast), 3.2);
        QVERIFY2(std::abs(feet(*run).y) < 0.01 && feet(*run).x < 1,
                 qPrintable(QString("%1 %2").arg(feet(*run).x).arg(feet(*run).y)));
        QCOMPARE(run->trace().count(What::Fell), std::size_t(0));
    }
    void alongAWallOneSlides() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        y.put("cube", {5, 0, 0}, {}, {2, 3, 20});
        const auto run = y.run({0, 0, 5}, 45);
        test::press(*run, test::ahead(45), 4);
        QVERIFY2(feet(*run).z < -1 && std::abs(feet(*run).x - (4 - y.walker.radius)) < 0.01,
                 qPrintable(QString("%1 %2").arg(feet(*run).x).arg(feet(*run).z)));
    }
    void offALedgeOneFallsAndTheFallIsTold() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        y.put("slab", {35, -3, 0});
        const auto run = y.run({17, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 4);
        QVERIFY2(std::abs(feet(*run).y + 3) < 0.01, qPrintable(QString::number(feet(*run).y)));
        QCOMPARE(run->trace().count(What::Fell), std::size_t(1));
        for (const auto& e : run->trace().entries)
            if (e.what == What::Fell) QVERIFY(std::abs(e.amount - 3) < 0.05);
    }
    void aJumpComesAsHighAsTheProjectSays() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.2);
        Input jump;
        jump.keys = Input::Jump;
        double highest = 0;
        for (int i = 0; i < 120; ++i) {
            run->step(jump);
            highest = std::max(highest, feet(*run).y);
        }
        QVERIFY2(std::abs(highest - y.walker.jumpHeight) < 0.02, qPrintable(QString::number(highest)));
        QCOMPARE(run->trace().count(What::Jumped), std::size_t(1));  // a key that is held jumps once
    }
    void underWhatIsLowItDucksAndRisesAgain() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        y.put("cube", {6, 1.3, 0}, {}, {3, 1, 4});  // 1.3 m of room
        const auto run = y.run({0, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 2.6);
        QVERIFY2(run->player().ducked && feet(*run).x > 4.3, qPrintable(QString::number(feet(*run).x)));
        test::press(*run, test::ahead(kEast), 4);
        QVERIFY2(!run->player().ducked && feet(*run).x > 8, qPrintable(QString::number(feet(*run).x)));
        // Who may not duck stays before it.
        test::Yard stiff;
        stiff.walker.duckedHeight = stiff.walker.height;
        stiff.put("slab", {0, 0, 0});
        stiff.put("cube", {6, 1.3, 0}, {}, {3, 1, 4});
        const auto stays = stiff.run({0, 0, 0}, kEast);
        test::press(*stays, test::ahead(kEast), 4);
        QVERIFY(feet(*stays).x < 4.5 - stiff.walker.radius + 0.01);
    }
    void aCrateIsPushedAndAHeavyOneIsNot() {
        for (const bool heavy : {false, true}) {
            test::Yard y;
            y.put("slab", {0, 0, 0});
            model::Body body;
            body.massKilograms = heavy ? 2000 : 25;
            const auto id = y.loose("cube", {2, 0, 0}, {}, Vec3(1.0), body);
            const auto run = y.run({0, 0, 0}, kEast);
            test::press(*run, test::ahead(kEast), 4);
            const double went = run->world().motion(test::thingIndex(*run, id)).translation.x;
            if (heavy)
                QVERIFY2(std::abs(went) < 0.02, qPrintable(QString::number(went)));
            else
                QVERIFY2(went > 2, qPrintable(QString::number(went)));
            QVERIFY(!heavy || feet(*run).x < 1.21);
        }
    }
    void onWhatMovesOneIsCarried() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto lift = y.guided("cube", {0, 0, 0}, {}, {3, 0.2, 3});
        model::Use use;
        use.slide = {0, 4, 0};
        use.seconds = 3;
        y.give(lift, use);
        const auto run = y.run({0, 0.2, 0});
        test::press(*run, {}, 0.3);
        run->use(test::thingIndex(*run, lift));
        test::press(*run, {}, 4);
        QVERIFY2(std::abs(feet(*run).y - 4.2) < 0.01, qPrintable(QString::number(feet(*run).y)));
        run->use(test::thingIndex(*run, lift));
        test::press(*run, {}, 4);
        QVERIFY2(std::abs(feet(*run).y - 0.2) < 0.01, qPrintable(QString::number(feet(*run).y)));
        QCOMPARE(run->trace().count(What::Fell), std::size_t(0));
    }
    void whatIsLookedAtAndInReachIsUsed() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto door = y.guided("cube", {0, 0, -8}, {}, {2, 2.5, 0.1});
        const auto wheel = y.put("cube", {0, 1.2, -1.4}, {}, Vec3(0.4));
        model::Use use;
        use.words = "Turn the wheel";
        use.turnDegrees = 90;
        use.afterSeconds = 0.5;
        use.seconds = 1;
        use.targets.push_back({door, {}});
        y.give(wheel, use);
        const auto run = y.run({0, 0, 0}, 0);
        Input look;
        look.pitch = -1000;
        test::press(*run, look, 0.2);
        QCOMPARE(run->focus().words, std::string("Turn the wheel"));
        Input away = look;
        away.yaw = 9000;
        test::press(*run, away, 0.1);
        QCOMPARE(run->focus().thing, -1);
        test::press(*run, look, 0.1);
        look.keys = Input::Use;
        test::press(*run, look, 3);  // held: used once
        QCOMPARE(run->trace().count(What::Used), std::size_t(1));
        const auto index = test::thingIndex(*run, door);
        const base::Quat turned = run->world().pose(index).turn;
        QVERIFY(std::abs(std::abs(turned.y) - std::sin(base::kPi / 4)) < 1e-6);
        // And back.
        look.keys = 0;
        test::press(*run, look, 0.1);
        look.keys = Input::Use;
        test::press(*run, look, 3);
        QVERIFY(std::abs(run->world().pose(index).turn.y) < 1e-9);
    }
    void aThingIsTakenCarriedPutDownAndThrown() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        y.put("cube", {0, 0, -1.5}, {}, Vec3(1.0));
        const auto id = y.loose("cube", {0, 1, -1.3}, {}, Vec3(0.4));
        const auto run = y.run({0, 0, 0}, 0);
        Input look;
        look.pitch = -2000;
        test::press(*run, look, 0.3);
        QVERIFY(run->focus().canTake);
        look.keys = Input::Take;
        test::press(*run, look, 0.1);
        QVERIFY(run->player().holds >= 0);
        Input walk = test::ahead(180);
        test::press(*run, walk, 2);
        const auto index = test::thingIndex(*run, id);
        QVERIFY(glm::length(run->world().pose(index).at - feet(*run)) < 2);
        Input drop;
        drop.yaw = 18000;
        test::press(*run, drop, 0.5);
        drop.keys = Input::Take;
        test::press(*run, drop, 2);
        QVERIFY(run->player().holds < 0);
        QVERIFY2(std::abs(run->world().pose(index).at.y - 0.2) < 0.02,
                 qPrintable(QString::number(run->world().pose(index).at.y)));
        QCOMPARE(run->trace().count(What::PutDown), std::size_t(1));
        // Up again, and away with it.
        Input down;
        down.yaw = 18000;
        down.pitch = -5600;
        test::press(*run, down, 0.1);
        down.keys = Input::Take;
        test::press(*run, down, 0.1);
        QVERIFY(run->player().holds >= 0);
        Input toss;
        toss.yaw = 18000;
        toss.keys = Input::Throw;
        const Vec3 from = feet(*run);
        test::press(*run, toss, 2);
        QVERIFY(run->world().pose(index).at.z - from.z > 1.5);
    }
    void whatIsTooHeavyIsNotTaken() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        model::Body body;
        body.massKilograms = 60;
        y.loose("cube", {0, 1, -1.3}, {}, Vec3(0.4), body);
        const auto run = y.run({0, 0, 0}, 0);
        run->step({});
        QVERIFY(!run->focus().canTake);
    }
    void whatFallsOnItHitsIt() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        y.loose("cube", {0.2, 5, 0}, {}, Vec3(0.5));
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 3);
        QVERIFY(run->trace().count(What::Hit) >= 1);
    }
    void inWaterItSwimsAndComesOut() {
        test::Yard y;
        y.put("slab", {0, -4, 0});
        y.put("cube", {-14, -4, 0}, {}, {12, 4, 40});
        const auto lake = y.put("", {0, -4, 0});
        model::Zone zone;
        zone.size = {40, 3.9, 40};
        zone.water = true;
        y.give(lake, zone);
        const auto run = y.run({-12, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 5);
        QVERIFY(run->player().swims);
        QVERIFY2(feet(*run).y > -2.5 && feet(*run).y < -1, qPrintable(QString::number(feet(*run).y)));
        QVERIFY(run->trace().count(What::Entered) == 1);
        const double from = feet(*run).x;
        test::press(*run, test::ahead(kEast), 2);
        QVERIFY(feet(*run).x > from + 1.5);
    }
    void zonesAreEnteredAndLeft() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto gate = y.put("", {4, 0, 0});
        model::Zone zone;
        zone.size = {2, 3, 6};
        y.give(gate, zone);
        const auto run = y.run({0, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 4);
        std::vector<What> all;
        for (const auto& e : run->trace().entries)
            if (e.object == gate) all.push_back(e.what);
        QCOMPARE(all, (std::vector{What::Entered, What::Left}));
    }
    void whoFallsOutOfTheLevelIsPutBack() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto run = y.run({18, 0, 0}, kEast);
        test::press(*run, test::ahead(kEast), 9);
        QVERIFY(run->trace().count(What::Stopped) >= 1);
        QVERIFY(feet(*run).y > -210);
    }
    void aCraftFliesAndSteersACourse() {
        test::Yard y;
        y.inCraft = true;
        y.put("slab", {0, -20, 0}, {}, {10, 1, 10});
        const auto run = y.run({0, 0, 0}, 0);
        Input input;
        input.ahead = 100;
        test::press(*run, input, 4);
        QVERIFY2(feet(*run).z < -30 && std::abs(feet(*run).y) < 0.1, qPrintable(QString::number(feet(*run).z)));
        QVERIFY(std::abs(run->player().speed - y.craft.metresPerSecond) < 1e-6);
        input.side = 100;
        test::press(*run, input, 90 / y.craft.turnDegrees);
        QVERIFY2(std::abs(run->player().heading - 90) < 1, qPrintable(QString::number(run->player().heading)));
        QVERIFY(run->player().bank > 10);
        input.side = 0;
        input.up = 100;
        const double from = feet(*run).y;
        test::press(*run, input, 2);
        QVERIFY(feet(*run).y > from + 10);
    }
    void aCraftThatDrivesStaysOnTheGround() {
        test::Yard y;
        y.inCraft = true;
        y.craft.flies = false;
        y.put("slab", {0, 0, 0}, {}, {10, 1, 10});
        y.put("ramp", {0, 0, -30}, {0, 90, 0}, {3, 1, 3});
        y.put("cube", {0, 0, -100}, {}, {20, 10, 1});
        const auto run = y.run({0, 0, 0}, 0);
        Input input;
        input.ahead = 100;
        double highest = 0;
        for (int i = 0; i < 120 * 12; ++i) {
            run->step(input);
            highest = std::max(highest, feet(*run).y);
        }
        QVERIFY2(highest > 3, qPrintable(QString::number(highest)));
        QVERIFY2(feet(*run).z > -99.5 && feet(*run).z < -90, qPrintable(QString::number(feet(*run).z)));  // the wall
        QVERIFY(run->trace().count(What::Hit) >= 1);
    }
    void aBadStartIsNamedWithWhereOneCouldStand() {
        using Fault = rehearse::StartFault::What;
        const auto faults = [](test::Yard& y) {
            const auto level = y.level();
            const rehearse::World world(*level);
            return rehearse::startFaults(*level, world);
        };
        test::Yard none;
        none.put("slab", {0, 0, 0});
        QCOMPARE(faults(none).at(0).what, Fault::Missing);
        test::Yard well;
        well.put("slab", {0, 0, 0});
        const auto here = well.start({1, 0, 1});
        QVERIFY(faults(well).empty());
        QCOMPARE(well.level()->starts.at(0).id, here);
        well.start({3, 0, 1}, "There");
        QCOMPARE(faults(well).at(0).what, Fault::Several);
        test::Yard high;
        high.put("slab", {0, 0, 0});
        high.start({0, 4, 0});
        auto found = faults(high);
        QCOMPARE(found.at(0).what, Fault::InTheAir);
        QVERIFY(found.at(0).mended && std::abs(found.at(0).mended->y) < 0.01);
        test::Yard inside;
        inside.put("slab", {0, 0, 0});
        const auto wall = inside.put("cube", {0, 0, 0}, {}, Vec3(3.0));
        inside.start({0, 0, 0});
        found = faults(inside);
        QCOMPARE(found.at(0).what, Fault::InsideSomething);
        QCOMPARE(found.at(0).other, wall);
        QVERIFY(found.at(0).mended);
        const Vec3 out = *found.at(0).mended;
        QVERIFY(std::abs(out.x) > 1.5 || std::abs(out.z) > 1.5 || out.y > 2.9);
    }
};

MELLOW_TEST(WalkerTest)
}  // namespace walker_test
#include "walker_test.moc"
