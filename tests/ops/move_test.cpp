#include <QtTest>

#include "ops/aim.h"
#include "ops/move.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace move_test {

using base::ObjectId;
using base::Vec3;

class MoveTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void groupsAndTheirChildrenMoveOnce() {
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{0, 0, 0}, base::fromDegrees({0, 90, 0}), {2, 2, 2}});
        const ObjectId child = p.add("Child", group, {{1, 0, 0}}), other = p.add("Other", {}, {{7, 0, 0}});
        const Vec3 before = p.scene().world(p.slot(child)).translation;
        auto mover = ops::Mover::begin(p.scene(), std::array{group, child, other});
        QVERIFY(mover.has_value());
        QCOMPARE(mover->ids().size(), std::size_t{2});
        edit::Draft draft(p.session(), "first", "Move");
        for (double x : {1.0, 5.0, 3.0}) QVERIFY(mover->moveBy(draft, {x, 0, 0}).has_value());
        QVERIFY(draft.commit().has_value());
        QVERIFY(glm::length(p.scene().world(p.slot(child)).translation - before - Vec3(3, 0, 0)) < 1e-12);
        QCOMPARE(p.scene().local(p.slot(other)).position.x, 10.0);
    }
    void aChildOfATurnedParentMovesAlongTheWorld() {
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{5, 0, 0}, base::fromDegrees({0, 30, 45}), {1, 2, 3}});
        const ObjectId child = p.add("Child", group, {{1, 1, 1}});
        const Vec3 before = p.scene().world(p.slot(child)).translation;
        auto mover = ops::Mover::begin(p.scene(), {&child, 1});
        edit::Draft draft(p.session(), "first", "Move");
        QVERIFY(mover->moveBy(draft, {0, 2, 0}).has_value());
        QVERIFY(glm::length(p.scene().world(p.slot(child)).translation - before - Vec3(0, 2, 0)) < 1e-9);
    }
    void aTurnKeepsThePivotAndTheShapeUnderAnyParent_data() {
        QTest::addColumn<double>("x");
        QTest::newRow("plain parent") << 1.0;
        QTest::newRow("mirrored parent") << -1.0;
    }
    void aTurnKeepsThePivotAndTheShapeUnderAnyParent() {
        QFETCH(double, x);
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{5, 1, 0}, base::fromDegrees({20, 30, 0}), {2 * x, 2, 2}});
        const ObjectId child = p.add("Child", group, {{1, 0, 3}, base::fromDegrees({0, 15, 0}), {1, 2, 1}});
        const base::Affine before = p.scene().world(p.slot(child));
        auto mover = ops::Mover::begin(p.scene(), {&child, 1});
        const Vec3 axis = glm::normalize(Vec3(1, 2, -1)), pivot(4, 4, 4);
        mover->setPicked(pivot);
        edit::Draft draft(p.session(), "first", "Turn");
        QVERIFY(mover->turnBy(draft, axis, 0.7, ops::PivotMode::Picked).has_value());
        const base::Affine after = p.scene().world(p.slot(child));
        const base::Mat3 turn = glm::mat3_cast(glm::angleAxis(0.7, axis));
        for (const Vec3& corner : {Vec3(0.0), Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(1, 1, 1)})
            QVERIFY(glm::length(after.point(corner) - (pivot + turn * (before.point(corner) - pivot))) < 1e-9);
        QVERIFY(p.scene().local(p.slot(child)).scale == Vec3(1, 2, 1));
    }
    void tenThousandTurnsAndBackDoNotDrift() {
        test::TestProject p;
        const ObjectId id = p.add("Crate", {}, {{3, 0, 2}, base::fromDegrees({10, 20, 30}), {1, 1, 1}});
        const Vec3 from = p.scene().world(p.slot(id)).point({1, 1, 1});
        edit::Draft draft(p.session(), "first", "Turn");
        for (int i = 0; i < 10'000; ++i) {
            auto mover = ops::Mover::begin(p.scene(), {&id, 1});
            mover->setPicked({1, 2, 3});
            QVERIFY(mover->turnBy(draft, {0, 1, 0}, base::radians(i < 5000 ? 7.2 : -7.2), ops::PivotMode::Picked));
        }
        QVERIFY(glm::length(p.scene().world(p.slot(id)).point({1, 1, 1}) - from) < 1e-9);
    }
    void severalTurnAboutOnePointOrEachAboutItsOwn() {
        test::TestProject p;
        const std::array ids{p.add("A", {}, {{1, 0, 0}}), p.add("B", {}, {{-1, 0, 0}})};
        auto mover = ops::Mover::begin(p.scene(), ids);
        edit::Draft draft(p.session(), "first", "Turn");
        QVERIFY(mover->turnBy(draft, {0, 1, 0}, base::kPi / 2, ops::PivotMode::Base).has_value());
        QVERIFY(glm::length(p.scene().local(p.slot(ids[0])).position - Vec3(0, 0, -1)) < 1e-12);
        QVERIFY(mover->turnBy(draft, {0, 1, 0}, base::kPi / 2, ops::PivotMode::Each).has_value());
        QVERIFY(p.scene().local(p.slot(ids[0])).position == Vec3(1, 0, 0));
    }
    void sizeKeepsThePivotAndStopsAtTheKindsLimits() {
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{5, 1, 0}, base::fromDegrees({0, 30, 0}), {1, 3, -2}});
        const ObjectId child = p.add("Child", group, {{1, 0, 3}, base::fromDegrees({0, 15, 0}), {1, 2, 1}});
        const base::Affine before = p.scene().world(p.slot(child));
        auto mover = ops::Mover::begin(p.scene(), {&child, 1});
        const Vec3 own(0.5, 0.25, -1);  // a point of the object
        mover->setPicked(before.point(own));
        edit::Draft draft(p.session(), "first", "Size");
        QCOMPARE(mover->sizeBy(draft, {2, 1, 0.5}, ops::PivotMode::Picked).value(), false);
        QVERIFY(glm::length(p.scene().world(p.slot(child)).point(own) - before.point(own)) < 1e-12);
        QVERIFY(p.scene().local(p.slot(child)).scale == Vec3(2, 2, 0.5));
        QCOMPARE(mover->sizeBy(draft, {1e9, 1, 1}, ops::PivotMode::Picked).value(), true);
        QVERIFY(p.scene().local(p.slot(child)).scale.x < 1e6);
    }
    void ownAxesAreAtRightAnglesUnderAMirroredParent() {
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{0, 0, 0}, base::fromDegrees({0, 90, 0}), {-1, 2, 1}});
        const ObjectId child = p.add("Child", group, {{1, 0, 0}, base::fromDegrees({0, 45, 0}), {1, 1, 1}});
        const auto mover = ops::Mover::begin(p.scene(), {&child, 1});
        for (auto mode : {ops::AxesMode::World, ops::AxesMode::Own, ops::AxesMode::Parent}) {
            const base::Mat3 axes = mover->axes(mode, base::Mat3(1.0));
            QVERIFY(std::abs(glm::determinant(axes) - 1) < 1e-9);
            QVERIFY(std::abs(glm::dot(axes[0], axes[1])) < 1e-9);
        }
    }
    void protectedOnesDoNotMove() {
        test::TestProject p;
        const ObjectId id = p.add("Ground");
        {
            edit::Draft draft(p.session(), "first", "Protect");
            QVERIFY(ops::setFlag(draft, {&id, 1}, model::flags::kProtected, true).has_value());
            QVERIFY(draft.commit().has_value());
        }
        QVERIFY(!ops::Mover::begin(p.scene(), {&id, 1}));
        QVERIFY(!ops::Mover::begin(p.scene(), {}));
    }
    void whatCarriesSomethingProtectedAlongDoesNotMoveEither() {
        test::TestProject p;
        const ObjectId all = p.add("All"), within = p.add("Area", all), ground = p.add("Ground", within);
        {
            edit::Draft draft(p.session(), "first", "Protect");
            QVERIFY(ops::setFlag(draft, {&ground, 1}, model::flags::kProtected, true).has_value());
            QVERIFY(draft.commit().has_value());
        }
        for (const ObjectId id : {all, within}) {
            const auto mover = ops::Mover::begin(p.scene(), {&id, 1});
            QVERIFY(!mover);
            QVERIFY2(mover.error().message.find("“Ground”, which is protected") == 0, mover.error().message.c_str());
            edit::Draft draft(p.session(), "first", "Aim");
            QVERIFY(!ops::aim(draft, {&id, 1}, {1, 2, 3}));
            QVERIFY(!ops::remove(draft, {&id, 1}));
        }
    }
    void fieldsOfAPoseReadBack() {
        const base::Transform t{{1, 2, 3}, base::fromDegrees({10, 20, 30}), {1, 2, 3}};
        for (int i = 0; i < 9; ++i) {
            const auto field = static_cast<ops::PoseField>(i);
            const auto changed = ops::withPoseField(t, field, 4.5);
            QVERIFY(changed.has_value());
            for (int k = 0; k < 9; ++k) {
                const auto other = static_cast<ops::PoseField>(k);
                QVERIFY(std::abs(ops::poseField(*changed, other) - (k == i ? 4.5 : ops::poseField(t, other))) < 1e-9);
            }
        }
        QVERIFY(!ops::withPoseField(t, ops::PoseField::SizeY, 0));
    }
};

MELLOW_TEST(MoveTest)
}  // namespace move_test
#include "move_test.moc"
