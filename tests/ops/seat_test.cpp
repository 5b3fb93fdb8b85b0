#include <QtTest>

#include "ops/seat.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace seat_test {

using base::ObjectId;
using base::Vec3;

class SeatTest : public QObject {
    Q_OBJECT
    static std::vector<ops::SeatDrop> seat(test::Blocks& b, const std::vector<ObjectId>& ids,
                                           const ops::SeatOptions& options = {}) {
        edit::Draft draft(b.session(), "first", "Seat");
        auto done = ops::seat(draft, b.index(), ids, options);
        if (!done || !draft.commit()) return {};
        return *done;
    }

  private Q_SLOTS:
    void theUndersideOfABodyOfVeryManyTrianglesStandsWhereTheBodyDoes() {
        // A bumpy sheet of 80,000 triangles with a lid over it.
        query::FallingBody body;
        constexpr int kCells = 200;
        auto at = [](int x, int z) {
            return Vec3(x * 0.01, 3 + 0.05 * std::sin(x * 0.31) * std::cos(z * 0.23) + 0.02 * std::sin(x * z * 0.7),
                        z * 0.01);
        };
        for (int x = 0; x < kCells; ++x)
            for (int z = 0; z < kCells; ++z)
                for (const query::Triangle& t : {query::Triangle{at(x, z), at(x + 1, z), at(x, z + 1)},
                                                 query::Triangle{at(x + 1, z + 1), at(x + 1, z), at(x, z + 1)}}) {
                    body.triangles.push_back(t);
                    for (const Vec3& p : t) body.bounds.add(p);
                }
        const Vec3 high(0, 4, 0);
        body.triangles.push_back({high, high + Vec3(2, 0, 0), high + Vec3(0, 0, 2)});
        body.bounds.add(high + Vec3(2, 0, 2));
        const query::FallingBody few = query::underside(body, 96);
        QVERIFY2(few.triangles.size() < 96 * 96 + 1, qPrintable(QString::number(few.triangles.size())));
        const query::Triangle ground[] = {{Vec3(-9, 0, -9), Vec3(30, 0, -9), Vec3(-9, 0, 30)}};
        const query::Triangle slope[] = {{Vec3(-9, -3, -9), Vec3(30, 4, -9), Vec3(-9, -3, 30)}};
        QCOMPARE(*query::fallOnto(few, ground, 99), *query::fallOnto(body, ground, 99));
        QVERIFY(std::abs(*query::fallOnto(few, slope, 99) - *query::fallOnto(body, slope, 99)) < 0.005);
    }
    void aCubeFallsOntoTheFloorExactlyAndUndoGivesTheSameBytes() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId cube = b.put("cube", {1, 3.7, 2}, {0, 30, 0});
        const std::string before = b.bytes();
        QCOMPARE(seat(b, {cube}).size(), std::size_t{1});
        QVERIFY2(std::abs(b.bounds(cube).low.y) < 1e-9, qPrintable(QString::number(b.bounds(cube).low.y)));
        QVERIFY(b.session().undo().has_value());
        QCOMPARE(b.bytes(), before);
    }
    void itStandsOnItsLowestCornerWhenItLeans() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId cube = b.put("cube", {0, 5, 0}, {35, 20, 50});
        seat(b, {cube});
        QVERIFY(std::abs(b.bounds(cube).low.y) < 2e-6);  // models are in single precision
    }
    void aPlankLiesAcrossTwoTrestlesAndABeamAcrossABeam() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("beam", {-2, 1, 0});
        b.put("beam", {2, 1.5, 0});
        const ObjectId across = b.put("beam", {0, 4, 0}, {0, 90, 0});
        seat(b, {across});  // crosswise: no corner of either lies over the other
        QVERIFY2(std::abs(b.bounds(across).low.y - 1.7) < 1e-6, qPrintable(QString::number(b.bounds(across).low.y)));
    }
    void onASlopeTheLowerEdgeTouchesOrItLeansWithIt() {
        test::Blocks b;
        b.put("ramp", {0, 0, 0});
        const ObjectId level = b.put("cube", {5, 6, 1}), leaning = b.put("cube", {5, 6, -2});
        seat(b, {level});
        QVERIFY2(std::abs(b.bounds(level).low.y - 2.75) < 2e-4, qPrintable(QString::number(b.bounds(level).low.y)));
        seat(b, {leaning}, {true, 0});
        const Vec3 up = glm::normalize(b.scene().world(b.slot(leaning)).linear[1]);
        QVERIFY(glm::length(up - glm::normalize(Vec3(-1, 2, 0))) < 1e-6);
        QVERIFY(std::abs(b.scene().world(b.slot(leaning)).translation.y - 2.5) < 0.06);
        const auto left = ops::heightAboveSupport(b.scene(), b.index(), b.slot(leaning));
        QVERIFY(left && std::abs(*left) < 2e-4);
    }
    void whatIsPartlyBuriedComesUpAndMaySinkOnPurpose() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId cube = b.put("cube", {0, -0.3, 0});
        auto done = seat(b, {cube});
        QVERIFY(std::abs(done.at(0).metres + 0.3) < 1e-6);
        seat(b, {cube}, {false, 0.2});
        QVERIFY(std::abs(b.bounds(cube).low.y + 0.2) < 1e-6);
    }
    void fromAnyDepthItComesUpAtOnce() {
        for (const double depth : {-0.05, -0.3, -0.43, -0.44, -0.47}) {
            test::Blocks b;
            b.put("slab", {0, 0, 0});
            const ObjectId crate = b.put("cube", {0, depth, 0}, {0, 20, 0}, Vec3(0.44));
            seat(b, {crate});
            QVERIFY2(std::abs(b.bounds(crate).low.y) < 1e-6, qPrintable(QString::number(depth)));
            const std::string once = b.bytes();
            seat(b, {crate});
            QCOMPARE(b.bytes(), once);
        }
    }
    void whatOverlapsABlockEndsOnTopOfTheHighestItOverlaps() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0.6, 0, 0}, {}, {1, 0.5, 1});
        const ObjectId crate = b.put("cube", {0, 0.1, 0}, {}, Vec3(0.44));
        seat(b, {crate});
        QVERIFY2(std::abs(b.bounds(crate).low.y - 0.5) < 1e-6, qPrintable(QString::number(b.bounds(crate).low.y)));
        b.put("cube", {-0.6, 0.3, 0}, {}, {1, 1.2, 1});  // now it overlaps that, too
        seat(b, {crate});
        QVERIFY2(std::abs(b.bounds(crate).low.y - 1.5) < 1e-6, qPrintable(QString::number(b.bounds(crate).low.y)));
    }
    void deepInsideASolidItComesOutOnTop() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0, 0, 0}, {}, Vec3(6));
        const ObjectId crate = b.put("cube", {1, 2.5, 1}, {10, 30, 0}, Vec3(0.44));
        seat(b, {crate});
        QVERIFY2(std::abs(b.bounds(crate).low.y - 6) < 1e-5, qPrintable(QString::number(b.bounds(crate).low.y)));
    }
    void aLongThingThatCutsThroughAWallEndsOnIt() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0, 0, 0.13}, {}, {4, 3, 0.2});
        const ObjectId beam = b.put("beam", {0.3, 0.4, 0});
        seat(b, {beam});
        QVERIFY2(std::abs(b.bounds(beam).low.y - 3) < 1e-6, qPrintable(QString::number(b.bounds(beam).low.y)));
    }
    void underATableOrARoofItStaysThere() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0, 0.8, 0}, {}, {2, 0.05, 2});  // a board over it, and a mirrored one
        b.put("cube", {0, 3, 0}, {}, {-9, 0.2, 9});
        const ObjectId crate = b.put("cube", {0, -0.1, 0}, {}, Vec3(0.44));
        seat(b, {crate});
        QVERIFY2(std::abs(b.bounds(crate).low.y) < 1e-6, qPrintable(QString::number(b.bounds(crate).low.y)));
    }
    void outOfAShelfBelowItWhenThatIsAsked() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {0, 1, 0}, {}, {2, 0.1, 2});
        const ObjectId crate = b.put("cube", {0, 0.8, 0}, {}, Vec3(0.44));
        ops::SeatOptions below;
        below.out = query::Way::Down;
        seat(b, {crate}, below);
        QVERIFY2(std::abs(b.bounds(crate).low.y) < 1e-6, qPrintable(QString::number(b.bounds(crate).low.y)));
        QVERIFY(b.session().undo().has_value());
        seat(b, {crate});
        QVERIFY2(std::abs(b.bounds(crate).low.y - 1.1) < 1e-6, qPrintable(QString::number(b.bounds(crate).low.y)));
    }
    void sidesThatOverlapALittleLieBeside() {
        for (const double by : {0.003, 0.02}) {
            test::Blocks b;
            b.put("slab", {0, 0, 0});
            b.put("cube", {1 - by, 0, 0}, {}, {1, 2, 1});
            const ObjectId cube = b.put("cube", {0, 0.4, 0});
            seat(b, {cube});
            const double wanted = by < 0.01 ? 0 : 2;
            QVERIFY2(std::abs(b.bounds(cube).low.y - wanted) < 1e-6, qPrintable(QString::number(b.bounds(cube).low.y)));
        }
    }
    void twoThatOverlapBothSettleOneOnTheOther() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId low = b.put("cube", {0, -0.2, 0}), high = b.put("cube", {0.2, 0.3, 0.1});
        seat(b, {high, low});
        QVERIFY(std::abs(b.bounds(low).low.y) < 1e-6);
        QVERIFY2(std::abs(b.bounds(high).low.y - 1) < 1e-6, qPrintable(QString::number(b.bounds(high).low.y)));
    }
    void belowGroundWithNothingUnderItComesUp() {
        test::Blocks b;
        b.put("sheet", {0, 0, 0});
        for (const double depth : {-0.2, -7.0}) {
            const ObjectId crate = b.put("cube", {3, depth, depth}, {}, Vec3(0.44));
            seat(b, {crate});
            const double wanted = b.bounds(crate).low.y;
            QVERIFY2(std::abs(wanted) < 0.2, qPrintable(QString::number(wanted)));
            const auto left = ops::heightAboveSupport(b.scene(), b.index(), b.slot(crate));
            QVERIFY(left && std::abs(*left) < 1e-5);
            QVERIFY(b.session().undo().has_value());
        }
    }
    void boxesOfAnySizeAndPlaceSettleAsABruteCountSays() {
        base::Random random(11);
        for (int round = 0; round < 120; ++round) {
            test::Blocks b;
            b.put("slab", {0, 0, 0});
            std::vector<base::Aabb> boxes;
            for (int i = 0; i < 9; ++i) {
                const Vec3 size(random.between(0.3, 3), random.between(0.2, 2), random.between(0.3, 3));
                const ObjectId id =
                    b.put("cube", {random.between(-2, 2), random.between(0, 3), random.between(-2, 2)}, {}, size);
                boxes.push_back(b.bounds(id));
            }
            boxes.push_back({{-20, -0.5, -20}, {20, 0, 20}});
            const Vec3 size(random.between(0.3, 2), random.between(0.2, 2), random.between(0.3, 2));
            const ObjectId crate =
                b.put("cube", {random.between(-2, 2), random.between(-0.4, 4), random.between(-2, 2)}, {}, size);
            const base::Aabb start = b.bounds(crate);
            auto meets = [&](const base::Aabb& o, double inset) {
                return start.low.x + inset < o.high.x && start.high.x - inset > o.low.x &&
                       start.low.z + inset < o.high.z && start.high.z - inset > o.low.z;
            };
            const double beside = std::min(0.01, std::min(size.x, size.z) / 100);
            double y = start.low.y;
            for (bool again = true; again;) {
                again = false;
                for (const base::Aabb& o : boxes)
                    if (meets(o, beside) && y + 1e-6 < o.high.y && y + size.y > o.low.y + 1e-6)
                        y = o.high.y, again = true;
            }
            double rests = -99;
            for (const base::Aabb& o : boxes)
                if (meets(o, 1e-4) && o.high.y <= y + 2e-6) rests = std::max(rests, o.high.y);
            seat(b, {crate});
            QVERIFY2(std::abs(b.bounds(crate).low.y - rests) < 1e-5,
                     qPrintable(QString("%1: %2, not %3").arg(round).arg(b.bounds(crate).low.y).arg(rests)));
            const std::string once = b.bytes();
            seat(b, {crate});
            QCOMPARE(b.bytes(), once);
        }
    }
    void whatStandsCloseBesideOrOverItDoesNotCarry() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {1, 0, 0}, {}, {1, 1.2, 1});  // touches its side, a little higher
        b.put("slab", {0, 3, 0});                   // a ceiling
        const ObjectId cube = b.put("cube", {0, 1, 0});
        seat(b, {cube});
        QVERIFY2(std::abs(b.bounds(cube).low.y) < 1e-6, qPrintable(QString::number(b.bounds(cube).low.y)));
    }
    void aStackSettlesFromTheLowestUpWhateverTheOrder() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId top = b.put("cube", {0.1, 9, 0}), middle = b.put("cube", {0, 5, 0.1}),
                       low = b.put("cube", {0, 2, 0});
        const auto done = seat(b, {top, middle, low});
        QCOMPARE(done.front().id, low);
        QVERIFY(std::abs(b.bounds(low).low.y) < 1e-6 && std::abs(b.bounds(middle).low.y - 1) < 1e-6);
        QVERIFY(std::abs(b.bounds(top).low.y - 2) < 1e-6);
    }
    void aGroupGoesDownAsOneUnderATurnedParent() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId outer = b.add("Outer", {}, {{3, 1, 0}, base::fromDegrees({0, 0, 90}), {2, 2, 2}});
        const ObjectId group = b.add("Group", outer, {{1, 0, 0}, base::fromDegrees({0, 0, -90}), {1, 1, 1}});
        const ObjectId a = b.put("cube", {0, 0, 0}, {}, Vec3(1.0), group),
                       c = b.put("cube", {0, 2, 0}, {}, Vec3(1.0), group);
        const double gap = b.bounds(c).low.y - b.bounds(a).low.y;
        seat(b, {group});
        QVERIFY(std::abs(b.bounds(a).low.y) < 1e-6);
        QVERIFY(std::abs(b.bounds(c).low.y - b.bounds(a).low.y - gap) < 1e-9);
    }
    void withNothingBelowItStaysAndIsNamed() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId over = b.put("cube", {0, 2, 0}), outside = b.put("cube", {50, 2, 0});
        const auto done = seat(b, {over, outside});
        QCOMPARE(done.size(), std::size_t{2});
        for (const auto& drop : done) QCOMPARE(drop.supported, drop.id == over);
        QCOMPARE(b.scene().local(b.slot(outside)).position.y, 2.0);
        const std::string before = b.bytes();
        edit::Draft draft(b.session(), "first", "Seat");
        const auto refused = ops::seat(draft, b.index(), {&outside, 1}, {});
        QVERIFY(!refused && refused.error().message.find("nothing below cube") != std::string::npos);
        QCOMPARE(b.bytes(), before);
    }
    void itSinksIntoWhatItIsSeatedOn() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId cube = b.put("cube", {5, 6, 0});
        ops::SeatOptions options;
        options.sinkMetres = 0.1;
        const auto drops = seat(b, {cube}, options);
        QCOMPARE(drops.size(), std::size_t{1});
        QVERIFY2(std::abs(b.bounds(cube).low.y + 0.1) < 1e-6, qPrintable(QString::number(b.bounds(cube).low.y)));
        QVERIFY(std::abs(drops[0].metres - 6.1) < 1e-6);
    }
    void theIndexGivesEveryObjectABoxMeets() {
        test::Blocks b;
        base::Random random(3);
        std::vector<ObjectId> ids;
        for (int i = 0; i < 300; ++i)
            ids.push_back(b.put("cube", {random.between(-40, 40), random.between(0, 9), random.between(-40, 40)}));
        b.index();
        edit::Draft draft(b.session(), "first", "Stir");
        const base::Transform elsewhere{{5, 1, 5}};
        QVERIFY(draft.setTransforms({&ids[4], 1}, {&elsewhere, 1}).has_value());
        for (int i = 0; i < 50; ++i) {
            const Vec3 low(random.between(-40, 30), random.between(0, 5), random.between(-40, 30));
            const base::Aabb box{low, low + Vec3(random.between(0, 12), random.between(0, 6), random.between(0, 12))};
            std::set<model::Slot> found, wanted;
            b.index().overlapping(b.scene(), box, [&](model::Slot s) { found.insert(s); });
            for (ObjectId id : ids)
                if (b.bounds(id).overlaps(box)) wanted.insert(b.slot(id));
            QVERIFY(found == wanted);
        }
    }
};

MELLOW_TEST(SeatTest)
}  // namespace seat_test
#include "seat_test.moc"
