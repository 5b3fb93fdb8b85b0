// Aiming objects, cameras from a view, what is kept under a name.
#include <QtTest>

#include "model/facets/camera.h"
#include "ops/aim.h"
#include "ops/keep.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace look_test {

using base::ObjectId;
using base::Vec3;

class LookTest : public QObject {
    Q_OBJECT
    template <class Verb>
    static base::Status run(test::TestProject& p, Verb&& verb) {
        edit::Draft draft(p.session(), "first", "Look");
        base::Status done = verb(draft);
        if (!done) return done;
        auto step = draft.commit();
        return step ? base::Status{} : tl::unexpected(step.error());
    }
    static Vec3 front(test::TestProject& p, ObjectId id) {
        return glm::normalize(p.scene().world(p.slot(id)).direction({0, 0, -1}));
    }

  private Q_SLOTS:
    void whatIsAimedFacesThePointAndStaysUpright() {
        test::Blocks b;
        const ObjectId parent = b.put("cube", {3, 1, -2}, {10, 40, -20});
        const ObjectId child = b.put("cube", {1, 2, 0}, {5, 6, 7}, base::Vec3(1.0), parent);
        const ObjectId alone = b.put("beam", {-4, 0, 1}, {0, 90, 0}, {1, 2, 3});
        const std::string before = b.bytes();
        const Vec3 point(7, 5, -9);
        const std::vector<ObjectId> both = {child, alone};
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::aim(d, both, point); }).has_value());
        for (ObjectId id : both) {
            const base::Affine& world = b.scene().world(b.slot(id));
            QVERIFY(glm::length(front(b, id) - glm::normalize(point - world.translation)) < 1e-9);
            QVERIFY(std::abs(world.direction({1, 0, 0}).y) < 1e-9);
        }
        QCOMPARE(b.scene().local(b.slot(alone)).scale, Vec3(1, 2, 3));
        QVERIFY(b.session().undo().has_value());
        QCOMPARE(b.bytes(), before);
    }
    void whatIsProtectedOrAtThePointIsNotTurned() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {1, 0, 0});
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::aim(d, {&cube, 1}, {1, 0, 0}); }).has_value());
        QVERIFY(run(b, [&](edit::Draft& d) {
                    return ops::setFlag(d, {&cube, 1}, model::flags::kProtected, true);
                }).has_value());
        const auto refused = run(b, [&](edit::Draft& d) { return ops::aim(d, {&cube, 1}, {5, 0, 0}); });
        QVERIFY(!refused);
        QCOMPARE(refused.error().code, base::ErrorCode::Refused);
    }
    void aCameraStandsWhereOneLooksFrom() {
        test::Blocks b;
        const ObjectId id = b.add("Camera");
        model::Detail detail;
        detail.edit<model::Camera>();
        const model::DetailPtr camera = std::make_shared<const model::Detail>(detail);
        QVERIFY(run(b, [&](edit::Draft& d) { return d.setDetails({&id, 1}, {&camera, 1}); }).has_value());
        const std::string before = b.bytes();
        const Vec3 from(4, 5, 6), to(1, 1, 1);
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::standAt(d, id, from, to, 35); }).has_value());
        QVERIFY(glm::length(b.scene().world(b.slot(id)).translation - from) < 1e-12);
        QVERIFY(glm::length(front(b, id) - glm::normalize(to - from)) < 1e-9);
        QCOMPARE(b.scene().facet<model::Camera>(b.slot(id))->verticalDegrees, 35.0);
        QVERIFY(b.session().undo().has_value());
        QCOMPARE(b.bytes(), before);
    }
    void viewsAndSelectionsAreKeptRenamedAndDropped() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {1, 0, 0});
        const std::string before = b.bytes();
        QVERIFY(run(b, [](edit::Draft& d) {
                    return ops::keepView(d, {"Gate", {1, 2, 3}, {0, 0, 0}, 0, {}});
                }).has_value());
        QVERIFY(run(b, [](edit::Draft& d) {
                    return ops::keepView(d, {"Plan", {1, 2, 3}, {1, 1, 3}, 40, {}});
                }).has_value());
        QVERIFY(run(b, [](edit::Draft& d) {
                    return ops::keepView(d, {"Gate", {9, 9, 9}, {0, 0, 0}, 0, {}});
                }).has_value());
        QVERIFY(run(b, [&](edit::Draft& d) { return ops::keepSelection(d, {"Cubes", {cube}, {}}); }).has_value());
        const auto& s = b.scene().settings();
        QCOMPARE(s.bookmarks.size(), std::size_t{2});
        QCOMPARE(s.bookmarks[0].from, Vec3(9, 9, 9));
        QVERIFY(!run(b, [](edit::Draft& d) { return ops::renameKept(d, ops::Kept::Views, "Gate", "Plan"); }));
        QVERIFY(!run(b, [](edit::Draft& d) { return ops::renameKept(d, ops::Kept::Views, "Gate", "a\nb"); }));
        QVERIFY(!run(b, [](edit::Draft& d) { return ops::dropKept(d, ops::Kept::Selections, "Gate"); }));
        QVERIFY(
            run(b, [](edit::Draft& d) { return ops::renameKept(d, ops::Kept::Views, "Gate", "Lock"); }).has_value());
        const std::string kept = b.bytes();
        // It is in the ledger, in the file, and comes back with both.
        b.close();
        QVERIFY(b.reopen().has_value());
        QCOMPARE(b.bytes(), kept);
        for (int i = 0; i < 5; ++i) QVERIFY(b.session().undo().has_value());
        QCOMPARE(b.bytes(), before);
        for (int i = 0; i < 5; ++i) QVERIFY(b.session().redo().has_value());
        QCOMPARE(b.bytes(), kept);
        QVERIFY(run(b, [](edit::Draft& d) { return ops::dropKept(d, ops::Kept::Selections, "Cubes"); }).has_value());
        QVERIFY(b.scene().settings().selections.empty());
    }
};

MELLOW_TEST(LookTest)
}  // namespace look_test
#include "look_test.moc"
