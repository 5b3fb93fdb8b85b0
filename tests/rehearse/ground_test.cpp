#include <QtTest>

#include "rehearse/plan.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace ground_test {

using base::Vec3;
using rehearse::Ground;
using rehearse::Reach;

std::unique_ptr<Ground> groundOf(const rehearse::Level& level) {
    base::Progress progress;
    auto made = Ground::make(level, progress);
    if (!made) qFatal("%s", made.error().message.c_str());
    if (std::abs(progress.done() - 1) > 1e-6) qFatal("the progress is not whole");
    return std::move(*made);
}

/// Two yards with a gap, a shelf one can only jump on, one out of reach.
void build(test::Yard& y, double gap) {
    y.put("slab", {0, 0, 0});
    y.put("slab", {40 + gap, 0, 0});
    y.put("cube", {10, 0, 10}, {}, {3, y.walker.stepHeight + 0.35, 3});
    y.put("cube", {-10, 0, 10}, {}, {3, 4, 3});
    y.put("cube", {0, 0, -8}, {}, {24, 3, 0.5});
}

class GroundTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void aWayGoesRoundWhatIsInIt() {
        test::Yard y;
        build(y, 3);
        const auto level = y.level();
        const auto ground = groundOf(*level);
        const auto way = ground->way({0, 0, 0}, {0, 0, -14});
        QVERIFY(way.has_value());
        double length = 0;
        for (std::size_t i = 1; i < way->size(); ++i) length += glm::length((*way)[i] - (*way)[i - 1]);
        QVERIFY2(length > 26 && length < 32, qPrintable(QString::number(length)));  // round the end of a wall of 24 m
        QVERIFY(!ground->way({0, 0, 0}, {46, 0, 0}));                               // over the gap there is none
        QVERIFY(!ground->way({0, 0, 0}, {500, 0, 0}));
    }
    void theMapSaysWhatIsWalkedJumpedAndNeverReached() {
        test::Yard y;
        build(y, 3);
        const auto level = y.level();
        const auto ground = groundOf(*level);
        const rehearse::World world(*level);
        const auto map = ground->reach({0, 0, 0}, world);
        QCOMPARE(Ground::reachOf(map, {5, 0, -14}), std::optional(Reach::Walk));
        QCOMPARE(Ground::reachOf(map, {10, y.walker.stepHeight + 0.35, 10}, 0.8), std::optional(Reach::Jump));
        QCOMPARE(Ground::reachOf(map, {-10, 4, 10}, 0.8), std::optional(Reach::Never));
        QCOMPARE(Ground::reachOf(map, {43 + 3, 0, 0}), std::optional(Reach::Jump));
        QVERIFY(!Ground::reachOf(map, {0, 30, 0}));
        // Too far to jump: never.
        test::Yard wide;
        build(wide, 9);
        const auto far = wide.level();
        const rehearse::World farWorld(*far);
        QCOMPARE(Ground::reachOf(groundOf(*far)->reach({0, 0, 0}, farWorld), {56, 0, 0}), std::optional(Reach::Never));
    }
    void whatAnEyeSeesEndsAtWalls() {
        test::Yard y;
        build(y, 3);
        const auto level = y.level();
        const auto ground = groundOf(*level);
        const rehearse::World world(*level);
        const auto map = ground->reach({0, 0, 0}, world);
        const auto seen = rehearse::seenFrom(map, {0, 1.65, 0},
                                             [&](const Vec3& a, const Vec3& b) { return world.ray(a, b).has_value(); });
        QCOMPARE(seen.size(), map.size());
        bool sees = false, hidden = true;
        for (std::size_t i = 0; i < map.size(); ++i) {
            const Vec3 at = map[i].centre();
            if (at.y < 0.5 && at.z > 2 && std::abs(at.x) < 5 && at.z < 6) sees = sees || seen[i];
            if (at.y < 0.5 && at.z < -9 && std::abs(at.x) < 5) hidden = hidden && !seen[i];
        }
        QVERIFY(sees && hidden);
    }
    void aWrittenWalkIsFollowed() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        y.put("cube", {4, 0, 0}, {}, {0.5, 3, 10});
        y.start({0, 0, 0});
        const auto gate = y.guided("cube", {0, 0, 12}, {}, {2, 2, 0.2});
        const auto wheel = y.add("Wheel", {}, {{8, 0, 0}, {1, 0, 0, 0}, {0.4, 1.2, 0.4}}, "cube");
        model::Use use;
        use.slide = {3, 0, 0};
        use.targets.push_back({gate, {}});
        y.give(wheel, use);
        const auto crate = y.add("Crate", {}, {{-6, 0, -6}, {1, 0, 0, 0}, Vec3(0.4)}, "cube");
        model::Body loose;
        loose.role = model::Body::Role::Loose;
        y.give(crate, loose);
        const auto level = y.level();
        const auto ground = groundOf(*level);
        const auto plan = rehearse::planFrom(
            "mellow-walk 1\nname Round the wall\nuse wheel\nwait 3\ntake Crate\ngo 0 0 8\nput\nlook Wheel\nrun -5 0 "
            "5\njump\n");
        QVERIFY2(plan.has_value(), plan ? "" : plan.error().message.c_str());
        const auto walked = rehearse::follow(level, *plan, ground.get());
        QVERIFY(walked.has_value());
        std::string told;
        for (const auto& e : walked->trace.entries) told += rehearse::textOf(e, *level) + "\n";
        QVERIFY2(walked->finished, told.c_str());
        using rehearse::What;
        for (const What what : {What::Used, What::Taken, What::PutDown, What::Jumped})
            QCOMPARE(walked->trace.count(what), std::size_t(1));
        // What it pressed makes the same run again.
        QCOMPARE(rehearse::replay(level, walked->inputs).sums, walked->trace.sums);
    }
    void aWalkSaysWhatItCouldNotDo() {
        test::Yard y;
        build(y, 3);
        y.start({0, 0, 0});
        const auto level = y.level();
        const auto ground = groundOf(*level);
        const auto fails = [&](const std::string& orders) {
            const auto plan = rehearse::planFrom("mellow-walk 1\n" + orders);
            const auto walked = rehearse::follow(level, *plan, ground.get(), 30);
            if (walked->finished) return std::string();
            for (const auto& e : walked->trace.entries)
                if (e.what == rehearse::What::Failed) return e.note;
            return std::string("without a word");
        };
        QVERIFY(fails("go 46 0 0").find("no way") != std::string::npos);
        QVERIFY(fails("go Nowhere").find("no such object") != std::string::npos);
        QVERIFY(fails("put").find("nothing is in the hand") != std::string::npos);
        QVERIFY(fails("use cube").find("line 2") != std::string::npos);
        QCOMPARE(fails("go 5 0 5"), std::string());
    }
    void brokenWalksAreNamedByLine() {
        const auto says = [](const std::string& text) {
            const auto plan = rehearse::planFrom(text);
            return plan ? std::string() : plan.error().message;
        };
        QVERIFY(says("go 1 2 3").find("Line 1") != std::string::npos);
        QVERIFY(says("mellow-walk 1\nfly").find("no order") != std::string::npos);
        QVERIFY(says("mellow-walk 1\nwait long").find("seconds") != std::string::npos);
        QVERIFY(says("mellow-walk 1\nput it").find("stands alone") != std::string::npos);
        QVERIFY(says("mellow-walk 1\nuse 1 2 3").find("name of an object") != std::string::npos);
        QVERIFY(says("mellow-walk 1\n# only a remark\n").empty());
    }
    void whatCannotBeGroundDoesNoHarm() {
        test::Yard none;
        const auto empty = none.level();
        QVERIFY(!groundOf(*empty)->way({0, 0, 0}, {1, 0, 0}));
        test::Yard flat;
        flat.put("slab", {0, 0, 0}, {}, {1, 1e-9, 1});
        flat.put("cube", {1e6, 0, 0});
        base::Progress progress;
        QVERIFY(!Ground::make(*flat.level(), progress));  // said, not tried
        base::Progress stopped;
        stopped.cancel();
        test::Yard y;
        build(y, 3);
        QVERIFY(!Ground::make(*y.level(), stopped));
    }
};

MELLOW_TEST(GroundTest)
}  // namespace ground_test
#include "ground_test.moc"
