#include <QtTest>

#include "base/id.h"
#include "query/flush.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace flush_test {

using base::Vec3;
using query::BoxSide;

class FlushTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void theTopOfAWallThreeHundredMetresAwayIsFound() {
        test::Blocks b;
        const auto wall = b.put("cube", {300, 0, 0}, {}, {1, 4.2, 8});
        const auto crate = b.put("cube", {0, 3.199, 0});
        const query::FlushIndex index(b.scene(), b.lookup());
        const auto own = b.slot(crate);
        const auto found = index.near(b.scene(), b.bounds(crate), 1, 0.01, 4, [&](model::Slot s) { return s != own; });
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].slot, b.slot(wall));
        QVERIFY(found[0].own == BoxSide::High && found[0].other == BoxSide::High);
        QVERIFY2(std::abs(found[0].residue - 0.001) < 1e-6, qPrintable(QString::number(found[0].residue)));
        QVERIFY(std::abs(found[0].distance - 300) < 1);
    }
    void itFindsWhatLookingAtEveryObjectFinds() {
        test::Blocks b;
        base::Random random(8);
        std::vector<base::ObjectId> ids;
        for (int i = 0; i < 400; ++i)
            ids.push_back(b.put("cube", {std::round(random.between(-30, 30) * 8) / 8, random.between(0, 3),
                                         std::round(random.between(-30, 30) * 4) / 4}));
        const query::FlushIndex index(b.scene(), b.lookup());
        for (int i = 0; i < 200; ++i) {
            const auto self = b.slot(ids[std::size_t(i)]);
            const base::Aabb box = b.scene().bounds(self);
            const int axis = i % 3;
            const double tolerance = 0.05;
            const auto found =
                index.near(b.scene(), box, axis, tolerance, 500, [&](model::Slot s) { return s != self; });
            for (BoxSide own : {BoxSide::Low, BoxSide::Centre, BoxSide::High}) {
                double best = tolerance;
                for (auto id : ids)
                    for (BoxSide other : {BoxSide::Low, BoxSide::Centre, BoxSide::High})
                        if (b.slot(id) != self && (own == BoxSide::Centre) == (other == BoxSide::Centre))
                            best = std::min(best, std::abs(query::sideAt(b.bounds(id), axis, other) -
                                                           query::sideAt(box, axis, own)));
                double got = tolerance;
                for (const auto& f : found)
                    if (f.own == own) got = std::min(got, std::abs(f.residue));
                QVERIFY2(std::abs(best - got) < 2e-6, qPrintable(QString("%1 against %2").arg(got).arg(best)));
            }
        }
    }
    void aTurnedObjectIsInLineByItsCornersAndNotByItsBox() {
        test::Blocks b;
        // A ramp turned by 30 degrees: its box reaches where none of its corners is.
        const auto ramp = b.put("ramp", {40, 0, 0}, {0, 30, -40});
        const query::FlushIndex index(b.scene(), b.lookup());
        const shape::Mesh& mesh = b.lookup()(b.name("ramp"))->mesh();
        base::Aabb truth;
        for (std::size_t i = 0; i < mesh.triangleCount(); ++i)
            for (std::size_t k = 0; k < 3; ++k)
                truth.add(b.scene().world(b.slot(ramp)).point(shape::cornerOf(mesh, i, k)));
        QVERIFY(truth.high.y < b.bounds(ramp).high.y - 0.5);
        const base::Aabb own{{0, truth.high.y - 1, 0}, {1, truth.high.y, 1}};
        const auto found = index.near(b.scene(), own, 1, 0.01, 4);
        QCOMPARE(found.size(), std::size_t{1});
        QVERIFY(std::abs(found[0].residue) < 1e-9);
        const base::Aabb boxHigh{{0, b.bounds(ramp).high.y - 1, 0}, {1, b.bounds(ramp).high.y, 1}};
        QVERIFY(index.near(b.scene(), boxHigh, 1, 0.01, 4).empty());
    }
    void linesLieAlongAnyAxes() {
        test::Blocks b;
        const base::Vec3 turn(0, 37, 0);
        const base::Mat3 frame = glm::mat3_cast(base::fromDegrees(turn));
        const auto own = b.put("cube", {0, 0, 0}, turn);
        const auto far = b.put("cube", frame * base::Vec3(0.003, 0, 60), turn);
        b.put("cube", {0.003, 0, 70}, {});  // in line with the world's axes, not with these
        const query::FlushIndex index(b.scene(), b.lookup(), frame);
        const base::Aabb box = query::boxAlong(b.scene(), b.lookup(), b.slot(own), frame);
        const auto found = index.near(b.scene(), box, 0, 0.01, 4, [&](model::Slot s) { return s != b.slot(own); });
        QCOMPARE(found.size(), std::size_t{3});  // both sides and the middle
        for (const query::Flush& f : found) {
            QCOMPARE(f.slot, b.slot(far));
            QVERIFY2(std::abs(f.residue - 0.003) < 1e-6, qPrintable(QString::number(f.residue)));
        }
    }
    void whatMovedSinceOrDiedIsLeftOut() {
        test::Blocks b;
        const auto moved = b.put("cube", {5, 0, 0}), gone = b.put("cube", {9, 0, 0}), own = b.put("cube", {0, 0, 0});
        const query::FlushIndex index(b.scene(), b.lookup());
        const auto filter = [&](model::Slot s) { return s != b.slot(own); };
        QVERIFY(!index.near(b.scene(), b.bounds(own), 1, 0.01, 4, filter).empty());
        edit::Draft draft(b.session(), "first", "Stir");
        const base::Transform up{{5, 7, 0}};
        QVERIFY(draft.setTransforms({&moved, 1}, {&up, 1}).has_value());
        QVERIFY(draft.remove({&gone, 1}).has_value());
        QVERIFY(index.near(b.scene(), b.bounds(own), 1, 0.01, 4, filter).empty());
    }
};

MELLOW_TEST(FlushTest)
}  // namespace flush_test
#include "flush_test.moc"
