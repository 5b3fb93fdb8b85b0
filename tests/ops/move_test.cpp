#include <QtTest>

#include "ops/move.h"
#include "support/test_project.h"

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

QTEST_APPLESS_MAIN(MoveTest)
#include "move_test.moc"
