#include "query/sweep.h"

#include <QtTest>

#include "ops/push.h"
#include "shape/hull.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace sweep_test {

using base::ObjectId;
using base::Vec3;

class SweepTest : public QObject {
    Q_OBJECT
    static query::Sweep sweep(test::Blocks& b, std::initializer_list<ObjectId> ids) {
        std::vector<model::Slot> tops;
        for (ObjectId id : ids) tops.push_back(b.slot(id));
        return {b.scene(), b.index(), tops, {}};
    }
    static bool near(const Vec3& a, const Vec3& b, double within = 1e-5) { return glm::length(a - b) < within; }
    static const char* text(const Vec3& v) {
        static std::string held;
        held = QString("%1 %2 %3").arg(v.x, 0, 'g', 12).arg(v.y, 0, 'g', 12).arg(v.z, 0, 'g', 12).toStdString();
        return held.c_str();
    }
    /// How deep two convex shapes are in one another: along the axes that could part them.
    static double depth(test::Blocks& b, ObjectId one, ObjectId other) {
        const auto corners = [&](ObjectId id) {
            std::vector<Vec3> all;
            const shape::Mesh& mesh = b.index().solid().meshOf(b.scene(), b.slot(id))->mesh();
            for (const shape::Float3& p : mesh.positions)
                all.push_back(b.scene().world(b.slot(id)).point({p[0], p[1], p[2]}));
            return all;
        };
        const auto p = corners(one), q = corners(other);
        std::vector<Vec3> axes;
        const auto &u = b.scene().world(b.slot(one)).linear, &v = b.scene().world(b.slot(other)).linear;
        for (int i = 0; i < 3; ++i) {
            axes.push_back(u[i]);
            axes.push_back(v[i]);
            for (int k = 0; k < 3; ++k) axes.push_back(glm::cross(u[i], v[k]));
        }
        double least = 1e9;
        for (const Vec3& axis : axes) {
            if (glm::length(axis) < 1e-6) continue;
            const Vec3 n = glm::normalize(axis);
            double lowP = 1e9, highP = -1e9, lowQ = 1e9, highQ = -1e9;
            for (const Vec3& at : p) lowP = std::min(lowP, glm::dot(at, n)), highP = std::max(highP, glm::dot(at, n));
            for (const Vec3& at : q) lowQ = std::min(lowQ, glm::dot(at, n)), highQ = std::max(highQ, glm::dot(at, n));
            least = std::min({least, highP - lowQ, highQ - lowP});
        }
        return least;
    }

  private Q_SLOTS:
    void aCubeStopsAtAWallAndSlidesAlongIt() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, 0, 0});
        b.put("cube", {5, 0, 0}, {}, {1, 3, 8});  // its near side at 4.5
        auto s = sweep(b, {cube});
        const Vec3 came = s.go({0, 0, 0}, {9, 0, 2});
        QVERIFY2(near(came, {4, 0, 2}), text(came));
        QCOMPARE(came.x, 4.0);  // a round figure, not 3.999999
        QCOMPARE(b.scene().nameText(s.stops().front().on), std::string_view("cube"));
        // Away from it nothing holds; along it nothing does either.
        QVERIFY(near(s.go(came, {1, 0, 2}), {1, 0, 2}));
        const Vec3 beside = s.go(came, {4, 1, 3});
        QVERIFY2(near(beside, {4, 1, 3}), text(beside));
        QVERIFY(s.stops().empty());
    }
    void itSlidesOverAFlatFloorOfManyTrianglesWithoutCatching() {
        test::Blocks b;
        for (int x = -3; x <= 3; ++x)
            for (int z = -3; z <= 3; ++z) b.put("cube", {x, -1, z});  // seams everywhere
        const ObjectId cube = b.put("cube", {0.3, 0, 0.2}, {0, 17, 0});
        auto s = sweep(b, {cube});
        Vec3 at(0.0);
        base::Random random(5);
        for (int i = 0; i < 200; ++i) {
            const Vec3 to(random.between(-2, 2), -0.4, random.between(-2, 2));
            at = s.go(at, to);
            QVERIFY2(near(at, {to.x, 0, to.z}), text(at - to));
        }
    }
    void inACornerItComesToRestAndInASlotItGoesOn() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, 0, 0});
        b.put("cube", {3, 0, 0}, {}, {1, 1, 9});
        b.put("cube", {0, 0, 3}, {}, {9, 1, 1});
        auto s = sweep(b, {cube});
        QVERIFY(near(s.go({0, 0, 0}, {7, 0, 6}), {2, 0, 2}));
        const Vec3 over = s.go({2, 0, 2}, {7, 4, 6});
        QVERIFY2(near(over, {2, 4, 2}) || near(over, {7, 4, 6}), text(over));
    }
    void itGoesUpARampWhenItIsPushedAgainstIt() {
        test::Blocks b;
        b.put("ramp", {0, 0, 0});
        const ObjectId cube = b.put("cube", {-2, 0.001, 0});
        auto s = sweep(b, {cube});
        const Vec3 came = s.go({0, 0, 0}, {4, 0, 0});
        QVERIFY2(came.x > 2 && came.y > 0.3, text(came));
        QVERIFY(std::abs(came.y - (came.x - 1.5) / 2 + 0.001) < 1e-3);
    }
    void edgesMeetEdgesAtTheRightPlace() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, 0.5, 0}, {45, 0, 0});  // an edge along x below
        b.put("cube", {0, -4, 0}, {0, 0, 45});                         // an edge along z above
        const double bottom = b.bounds(cube).low.y, top = -4 + std::sqrt(0.5);
        double high = -1e9;
        for (model::Slot other = 0; other < b.scene().slotEnd(); ++other)
            if (b.scene().alive(other) && other != b.slot(cube)) high = std::max(high, b.scene().bounds(other).high.y);
        (void)top;
        const auto stop = sweep(b, {cube}).along({0, -1, 0}, 10);
        QVERIFY(stop);
        QVERIFY2(std::abs(stop->share * 10 - (bottom - high)) < 1e-6, text({stop->share * 10, bottom, high}));
    }
    void whatItLayInDoesNotHoldItUntilItHasComeOut() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, -0.6, 0});
        b.put("slab", {0, 0, 0});
        b.put("cube", {3, 0, 0});
        auto s = sweep(b, {cube});
        QVERIFY(near(s.go({0, 0, 0}, {1, 0, 1}), {1, 0, 1}));  // within the ground it goes as it likes
        QVERIFY(near(s.go({1, 0, 1}, {1, 3, 1}), {1, 3, 1}));  // and up out of it
        const Vec3 down = s.go({1, 3, 1}, {1, -2, 1});
        QVERIFY2(near(down, {1, 0.6, 1}), text(down));  // not in again
        QVERIFY2(near(s.go(down, {5, 0.6, 0}), {2, 0.6, 0}, 1e-4), text(s.go(down, {5, 0.6, 0})));
    }
    void aGroupGoesAsOneAndStopsAtItsFirstTouch() {
        test::Blocks b;
        const ObjectId first = b.put("cube", {0, 0, 0}), second = b.put("cube", {2, 0, 0}, {}, Vec3(1.0), first);
        b.put("cube", {7, 0, 0});
        auto s = sweep(b, {first});
        const Vec3 came = s.go({0, 0, 0}, {9, 0, 0});
        QVERIFY2(near(came, {4, 0, 0}), text(came));
        QCOMPARE(s.stops().front().moved, b.slot(second));
    }
    void chanceNeverLeavesAnOverlapDeeperThanATenthOfAMillimetre() {
        for (std::uint64_t seed = 1; seed <= 12; ++seed) {
            test::Blocks b;
            base::Random random(seed);
            const auto turn = [&] { return Vec3(random.between(-180, 180), random.between(-80, 80), 0); };
            const auto size = [&] {
                return Vec3(random.between(0.3, 2), random.between(0.3, 2), random.between(0.3, 2));
            };
            std::vector<ObjectId> others;
            const ObjectId mine = b.put("cube", {0, 0, 0}, turn(), size());
            for (int i = 0; i < 40; ++i) {
                const Vec3 at(random.between(-6, 6), random.between(-6, 6), random.between(-6, 6));
                if (glm::length(at) > 3.6) others.push_back(b.put("cube", at, turn(), size()));
            }
            auto s = sweep(b, {mine});
            Vec3 at(0.0);
            edit::Draft draft(b.session(), "first", "Push about");
            const base::Transform start = b.scene().local(b.slot(mine));
            int held = 0;
            for (int i = 0; i < 60; ++i) {
                at = s.go(at, {random.between(-7, 7), random.between(-7, 7), random.between(-7, 7)});
                held += s.stops().empty() ? 0 : 1;
                base::Transform moved = start;
                moved.position += at;
                QVERIFY(draft.setTransforms({&mine, 1}, {&moved, 1}).has_value());
                for (ObjectId other : others)
                    QVERIFY2(depth(b, mine, other) < 1e-4,
                             qPrintable(QString("seed %1, move %2: %3 m").arg(seed).arg(i).arg(depth(b, mine, other))));
            }
            QVERIFY2(held > 10, qPrintable(QString::number(held)));
        }
    }
    void pushedItTouchesAndTwiceItStays() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId cube = b.put("cube", {1, 4, 1}, {20, 30, 0});
        const std::string before = b.bytes();
        for (const double expected : {1.0, 0.0}) {
            edit::Draft draft(b.session(), "first", "Push down");
            const auto pushed = ops::push(draft, b.index(), {&cube, 1}, {0, -3, 0});
            QVERIFY2(pushed.has_value(), pushed ? "" : pushed.error().message.c_str());
            QCOMPARE(pushed->metres > 1, expected > 0);
            QVERIFY(std::abs(b.bounds(cube).low.y) < 1e-5);
            if (expected > 0) QVERIFY(draft.commit().has_value());
        }
        QVERIFY(b.session().undo().has_value());
        QCOMPARE(b.bytes(), before);
    }
    void withNothingInTheWayItRefusesAndStays() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {1, 4, 1});
        const std::string before = b.bytes();
        edit::Draft draft(b.session(), "first", "Push");
        QVERIFY(!ops::push(draft, b.index(), {&cube, 1}, {1, 0, 0}));
        QVERIFY(!ops::push(draft, b.index(), {&cube, 1}, {0, 0, 0}));
        QVERIFY(!ops::push(draft, b.index(), {}, {1, 0, 0}));
        QCOMPARE(b.bytes(), before);
    }
};

MELLOW_TEST(SweepTest)
}  // namespace sweep_test
#include "sweep_test.moc"
