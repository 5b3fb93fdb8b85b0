#include <QtTest>

#include "query/walk.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace walk_test {

using base::Vec3;

class WalkTest : public QObject {
    Q_OBJECT
    const model::Walker walker_{};  // eye 1.65 m, step 0.4 m, slope 45°, radius 0.3 m

    static Vec3 go(test::Blocks& b, const Vec3& from, const Vec3& by, const model::Walker& walker) {
        return query::walk(b.scene(), b.index(), from, by, walker, {});
    }

  private Q_SLOTS:
    void overLevelGroundOneComesAsFarAsOneGoes() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const Vec3 to = go(b, {0, 0, 0}, {3, 9, -4}, walker_);  // the way's height does not count
        QVERIFY(glm::length(to - Vec3(3, 0, -4)) < 1e-6);
    }
    void aStepIsClimbedAndAWallIsNot() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {3, 0, 0}, {}, {2, 0.35, 2});   // 2 x 2 m, 35 cm high
        b.put("cube", {-3, 0, 0}, {}, {2, 0.45, 2});  // 45 cm high
        const Vec3 up = go(b, {0, 0, 0}, {3, 0, 0}, walker_);
        QVERIFY2(glm::length(up - Vec3(3, 0.35, 0)) < 1e-5, qPrintable(QString::number(up.y)));
        const Vec3 stopped = go(b, {0, 0, 0}, {-3, 0, 0}, walker_);
        QVERIFY(std::abs(stopped.y) < 1e-6);
        QVERIFY2(stopped.x > -2 && stopped.x < -1.5, qPrintable(QString::number(stopped.x)));
        model::Walker tall = walker_;
        tall.stepHeight = 0.5;
        QVERIFY(std::abs(go(b, {0, 0, 0}, {-3, 0, 0}, tall).y - 0.45) < 1e-5);
    }
    void alongAWallOneSlides() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0, 0, -2}, {}, {20, 3, 1});  // its near face at z = -1.5
        const Vec3 to = go(b, {0, 0, 0}, {4, 0, -4}, walker_);
        QVERIFY2(std::abs(to.x - 4) < 1e-5 && to.z > -1.5 && to.z < -1.0,
                 qPrintable(QString("%1 %2").arg(to.x).arg(to.z)));
    }
    void aGentleSlopeIsClimbedAndASteepOneIsNot() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("ramp", {1, 0, 0});  // 1 in 2: 26.6°
        const Vec3 up = go(b, {0, 0, 0}, {5, 0, 0}, walker_);
        QVERIFY2(std::abs(up.x - 5) < 1e-5 && std::abs(up.y - 2) < 1e-4, qPrintable(QString::number(up.y)));
        model::Walker careful = walker_;
        careful.slopeDegrees = 20;
        QVERIFY(go(b, {0, 0, 0}, {5, 0, 0}, careful).x < 1.6);
    }
    void offALedgeOneComesDownAndOverNothingOneStays() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});  // its edge at x = 20
        b.put("cube", {0, 0, 0}, {}, {2, 3, 2});
        QVERIFY(glm::length(go(b, {0, 3, 0}, {2, 0, 0}, walker_) - Vec3(2, 0, 0)) < 1e-5);
        const Vec3 edge = go(b, {19, 0, 0}, {5, 0, 0}, walker_);
        QVERIFY2(edge.x <= 20.001 && edge.x > 19.5, qPrintable(QString::number(edge.x)));
    }
    void oneStandsOnWhatIsBelowButNotOnAWall() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0, 0, 0}, {0, 0, 30});
        const auto feet = query::floorBelow(b.scene(), b.index(), {5, 4, 5}, walker_, 50, {});
        QVERIFY(feet && std::abs(feet->y) < 1e-6);
        model::Walker careful = walker_;
        careful.slopeDegrees = 10;
        QVERIFY(!query::floorBelow(b.scene(), b.index(), {-0.3, 4, 0}, careful, 50, {}));
        QVERIFY(!query::floorBelow(b.scene(), b.index(), {5, 4, 5}, walker_, 3, {}));
    }
};

MELLOW_TEST(WalkTest)
}  // namespace walk_test
#include "walk_test.moc"
