#include <QtTest>

#include "ops/align.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace align_test {

using base::ObjectId;
using base::Vec3;
using query::BoxSide;

class AlignTest : public QObject {
    Q_OBJECT
    template <class Verb>
    static bool run(test::Blocks& b, const Verb& verb) {
        edit::Draft draft(b.session(), "first", "Arrange");
        return verb(draft).has_value() && draft.commit().has_value();
    }

  private Q_SLOTS:
    void everySideGoesWhereTheLastOnesIs() {
        for (int axis = 0; axis < 3; ++axis)
            for (BoxSide side : {BoxSide::Low, BoxSide::Centre, BoxSide::High}) {
                test::Blocks b;
                const ObjectId group = b.add("Group", {}, {{1, 2, 3}, base::fromDegrees({0, 30, 0}), {2, 1, -1}});
                const std::vector<ObjectId> ids = {b.put("cube", {0, 1, 0}, {0, 20, 0}, {1, 3, 1}, group),
                                                   b.put("cube", {7, -3, 2}), b.put("beam", {4, 5, 6}, {10, 40, 5})};
                const std::string before = b.bytes();
                const base::Aabb last = b.bounds(ids[2]);
                QVERIFY(run(b, [&](edit::Draft& d) { return ops::align(d, ids, axis, side, {ids.back()}); }));
                for (ObjectId id : ids)
                    QVERIFY(std::abs(query::sideAt(b.bounds(id), axis, side) - query::sideAt(last, axis, side)) < 1e-9);
                QVERIFY(b.bounds(ids[2]) == last);
                QVERIFY(b.session().undo().has_value());
                QCOMPARE(b.bytes(), before);
            }
    }
    void theOnesBetweenGetEqualGapsOrEqualSteps() {
        test::Blocks b;
        const std::vector<ObjectId> ids = {b.put("cube", {9, 0, 0}), b.put("cube", {0, 0, 0}),
                                           b.put("cube", {2, 0, 0}, {}, {3, 1, 1}), b.put("cube", {3, 0, 0})};
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::distribute(d, ids, 0, ops::Spacing::Gaps); }));
        // 0.5 | gap | 3 long | gap | 1 long | gap | 8.5: three gaps in 4 metres.
        QVERIFY(std::abs(b.bounds(ids[2]).low.x - (0.5 + 4.0 / 3)) < 1e-9);
        QVERIFY(std::abs(b.bounds(ids[3]).low.x - b.bounds(ids[2]).high.x - 4.0 / 3) < 1e-9);
        QVERIFY(b.bounds(ids[0]).centre().x == 9 && b.bounds(ids[1]).centre().x == 0);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::distribute(d, ids, 0, ops::Spacing::Centres); }));
        QVERIFY(std::abs(b.bounds(ids[2]).centre().x - 3) < 1e-9 && std::abs(b.bounds(ids[3]).centre().x - 6) < 1e-9);
    }
    void positionTurnSizeAndHeightAreMatched() {
        test::Blocks b;
        const ObjectId group = b.add("Group", {}, {{1, 2, 3}, base::fromDegrees({0, 30, 0}), {2, 2, 2}});
        const std::vector<ObjectId> ids = {b.put("cube", {0, 1, 0}, {}, Vec3(1.0), group),
                                           b.put("cube", {7, -3, 2}, {0, 50, 10}, {1, 2, 3})};
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::match(d, ids, ops::PosePart::Height, ids.back()); }));
        QVERIFY(std::abs(b.bounds(ids[0]).low.y - b.bounds(ids[1]).low.y) < 1e-9);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::match(d, ids, ops::PosePart::Turn, ids.back()); }));
        const auto turn = [&](ObjectId id) { return base::toTransform(b.scene().world(b.slot(id))).rotation; };
        QVERIFY(std::abs(std::abs(glm::dot(turn(ids[0]), turn(ids[1]))) - 1) < 1e-9);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::match(d, ids, ops::PosePart::Size, ids.back()); }));
        QVERIFY(b.scene().local(b.slot(ids[0])).scale == Vec3(1, 2, 3));
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::match(d, ids, ops::PosePart::Position, ids.back()); }));
        QVERIFY(glm::length(b.scene().world(b.slot(ids[0])).translation - Vec3(7, -3, 2)) < 1e-9);
    }
    void turnAndSizeGoBackAndPositionsGoToTheLattice() {
        test::Blocks b;
        const ObjectId id = b.put("cube", {0.6, 1.1, -0.4}, {10, 50, 10}, {1, 2, 3});
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::reset(d, {&id, 1}, ops::PosePart::Turn); }));
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::reset(d, {&id, 1}, ops::PosePart::Size); }));
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::snapToLattice(d, {&id, 1}, 0.5); }));
        QVERIFY(b.scene().local(b.slot(id)) == (base::Transform{{0.5, 1, -0.5}}));
    }
    void anotherObjectOrTheWorldsZeroLeads() {
        test::Blocks b;
        const ObjectId one = b.put("cube", {2, 3, 4}), leader = b.put("beam", {7, 9, 1}, {0, 30, 0});
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::setFlag(d, {&leader, 1}, model::flags::kProtected, true); }));
        const base::Aabb there = b.bounds(leader);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::align(d, {&one, 1}, 1, BoxSide::High, {leader}); }));
        QVERIFY(std::abs(b.bounds(one).high.y - there.high.y) < 1e-6);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::align(d, {&one, 1}, 0, BoxSide::Low, {}); }));
        QVERIFY(std::abs(b.bounds(one).low.x) < 1e-9);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::match(d, {&one, 1}, ops::PosePart::Height, leader); }));
        QVERIFY(std::abs(b.bounds(one).low.y - there.low.y) < 1e-9);
        QVERIFY(b.bounds(leader) == there);
        QVERIFY(!run(b, [&](edit::Draft& d) { return ops::match(d, {&one, 1}, ops::PosePart::Turn, one); }));
        QVERIFY(!run(b, [&](edit::Draft& d) { return ops::match(d, {&one, 1}, ops::PosePart::Turn, {99}); }));
    }
    void thePreviousPoseComesBackAndGoesAgain() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, 0, 0}), other = b.put("cube", {5, 0, 0});
        QVERIFY(!run(b, [&](edit::Draft& d) { return ops::swapWithPrevious(d, {&cube, 1}); }));
        const base::Transform first = b.scene().local(b.slot(cube)),
                              second{{1, 2, 3}, base::fromDegrees({0, 45, 0}), Vec3(2)};
        QVERIFY(run(b, [&](edit::Draft& d) { return d.setTransforms({&cube, 1}, {&second, 1}); }));
        QVERIFY(run(b, [&](edit::Draft& d) { return d.setTransforms({&other, 1}, {&second, 1}); }));
        b.close();
        QVERIFY(b.reopen().has_value());  // it is read from the ledger
        const std::vector<ObjectId> both = {cube, other};
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::swapWithPrevious(d, both); }));
        QCOMPARE(b.scene().local(b.slot(cube)), first);
        QCOMPARE(b.scene().local(b.slot(other)).position, Vec3(5, 0, 0));
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::swapWithPrevious(d, both); }));
        QCOMPARE(b.scene().local(b.slot(cube)), second);
    }
    void tooFewOrAProtectedOneAreRefusedAndNothingIsTouched() {
        test::Blocks b;
        const std::vector<ObjectId> ids = {b.put("cube", {0, 0, 0}), b.put("cube", {5, 1, 0}),
                                           b.put("cube", {9, 4, 0})};
        QVERIFY(run(b, [&](edit::Draft& d) {
            return ops::setFlag(d, std::span(ids).subspan(0, 1), model::flags::kProtected, true);
        }));
        const std::string before = b.bytes();
        edit::Draft draft(b.session(), "first", "Arrange");
        QVERIFY(!ops::align(draft, std::span(ids).subspan(1, 1), 0, BoxSide::Low, {ids[1]}));
        QVERIFY(!ops::distribute(draft, std::span(ids).subspan(1, 2), 0, ops::Spacing::Gaps));
        QVERIFY(!ops::align(draft, ids, 0, BoxSide::Low, {ids.back()}));
        QVERIFY(!ops::match(draft, ids, ops::PosePart::Turn, ids.back()));
        QCOMPARE(b.bytes(), before);
    }
};

MELLOW_TEST(AlignTest)
}  // namespace align_test
#include "align_test.moc"
