#include <QtTest>
#include <cmath>

#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace draft_test {

using base::ObjectId;
using base::Transform;
using base::Vec3;

/// Every verb of a draft: its effect, that undo gives back the same bytes, that a refusal leaves everything untouched.
class DraftTest : public QObject {
    Q_OBJECT

    /// Commits `verb`, checks that it changed something, and that undo and redo give back the same bytes.
    static void thereAndBack(test::TestProject& p, const std::function<base::Status(edit::Draft&)>& verb) {
        const std::string before = p.bytes();
        {
            edit::Draft draft(p.session(), "first", "Try");
            const auto done = verb(draft);
            QVERIFY2(done.has_value(), done ? "" : done.error().message.c_str());
            QVERIFY(draft.commit().has_value());
        }
        const std::string after = p.bytes();
        QVERIFY(after != before);
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo().has_value());
        QCOMPARE(p.bytes(), after);
        QVERIFY(p.session().undo().has_value());
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo().has_value());
        QCOMPARE(p.bytes(), after);
    }
    static void refused(test::TestProject& p, const std::function<base::Status(edit::Draft&)>& verb) {
        const std::string before = p.bytes();
        const auto present = p.session().history().present();
        {
            edit::Draft draft(p.session(), "first", "Try");
            const auto done = verb(draft);
            QVERIFY(!done);
            QVERIFY(!done.error().message.empty());
            QCOMPARE(p.bytes(), before);
            QVERIFY(draft.commit().has_value());
        }
        QCOMPARE(p.bytes(), before);
        QCOMPARE(p.session().history().present(), present);
    }

  private Q_SLOTS:
    void creating() {
        test::TestProject p;
        const ObjectId parent = p.add("Stall");
        thereAndBack(p, [&](edit::Draft& d) {
            model::ObjectRecord r;
            r.id = ObjectId{42};
            r.parent = parent;
            r.name = p.name("Awning");
            return d.create({&r, 1});
        });
    }
    void creatingUnderAnUnknownParentIsRefused() {
        test::TestProject p;
        refused(p, [&](edit::Draft& d) {
            std::vector<model::ObjectRecord> objects(2);
            objects[0].id = ObjectId{1};
            objects[1].id = ObjectId{2};
            objects[1].parent = ObjectId{99};
            return d.create(objects);
        });
    }
    void creatingAnIdThatExistsIsRefused() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        refused(p, [&](edit::Draft& d) {
            model::ObjectRecord r;
            r.id = id;
            return d.create({&r, 1});
        });
    }
    void removingASubtreeKeepsItsOrder() {
        test::TestProject p;
        p.add("First");
        const ObjectId stall = p.add("Stall");
        const ObjectId frame = p.add("Frame", stall);
        p.add("Crate 1", frame);
        p.add("Crate 2", frame);
        const ObjectId last = p.add("Last");
        thereAndBack(p, [&](edit::Draft& d) { return d.remove(std::array{last, frame, stall, stall}); });
    }
    void removingWhatIsNotThereIsRefused() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        refused(p, [&](edit::Draft& d) { return d.remove(std::array{id, ObjectId{12345}}); });
    }
    void movingTakesChildrenAlongOnce() {
        test::TestProject p;
        const ObjectId group = p.add("Barge", {}, {{10, 0, 0}});
        const ObjectId hull = p.add("Hull", group, {{1, 0, 0}});
        thereAndBack(p, [&](edit::Draft& d) {
            return d.setTransforms(std::array{group, hull}, std::array{Transform{{20, 0, 0}}, Transform{{2, 0, 0}}});
        });
        QCOMPARE(p.scene().world(p.slot(hull)).translation.x, 22.0);
    }
    void posesThatAreNoneAreRefused_data() {
        QTest::addColumn<int>("which");
        QTest::newRow("not a number") << 0;
        QTest::newRow("infinite") << 1;
        QTest::newRow("rotation of no length") << 2;
    }
    void posesThatAreNoneAreRefused() {
        QFETCH(int, which);
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        Transform t;
        if (which == 0) t.position.x = std::nan("");
        if (which == 1) t.scale.y = INFINITY;
        if (which == 2) t.rotation = base::Quat(0, 0, 0, 0);
        refused(p, [&](edit::Draft& d) { return d.setTransforms({&id, 1}, {&t, 1}); });
    }
    void aDragKeepsFirstBeforeAndLastAfter() {
        test::TestProject p;
        const ObjectId id = p.add("Bench", {}, {{0.1, 0.2, 0.3}});
        thereAndBack(p, [&](edit::Draft& d) {
            for (int i = 1; i <= 100; ++i) {
                const Transform t{{0.1 + i * 0.1, 0.2, 0.3}};
                if (auto done = d.setTransforms({&id, 1}, {&t, 1}); !done) return done;
            }
            return base::Status{};
        });
        QCOMPARE(p.session().history().step(p.session().history().present())->rows, std::size_t{1});
    }
    void aDragBackToWhereItBeganIsNoStep() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        const auto present = p.session().history().present();
        edit::Draft draft(p.session(), "first", "Move");
        const Transform there{{5, 0, 0}}, back;
        QVERIFY(draft.setTransforms({&id, 1}, {&there, 1}).has_value());
        QVERIFY(draft.setTransforms({&id, 1}, {&back, 1}).has_value());
        QCOMPARE(*draft.commit(), present);
    }
    void renamingAndKindsAndItems() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        for (auto field : {model::LabelField::Name, model::LabelField::Kind, model::LabelField::Item}) {
            const base::Name value = p.name("ground-slab");
            thereAndBack(p, [&](edit::Draft& d) { return d.setLabels(field, {&id, 1}, {&value, 1}); });
        }
    }
    void flags() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        const std::uint8_t both = model::flags::kHidden | model::flags::kProtected;
        thereAndBack(p, [&](edit::Draft& d) { return d.setFlags({&id, 1}, {&both, 1}); });
    }
    void facetsAndProperties() {
        test::TestProject p;
        const ObjectId id = p.add("Lantern");
        auto detail = std::make_shared<model::Detail>();
        detail->put(model::Light{});
        detail->edit<model::Light>().shape = model::Light::Shape::Spot;
        detail->put(model::Camera{});
        detail->put(model::Note{"check the oil › daily"});
        detail->properties = {{"oil", {1.5}},
                              {"lit", {true}},
                              {"crew", {model::ValueList{{std::string("Ada")}, {std::int64_t{3}}}}},
                              {"more", {model::ValueMap{{"deep", {-2.0}}}}}};
        detail->unknownKeys = "\"later\":[1,2]";
        const model::DetailPtr shared = detail;
        thereAndBack(p, [&](edit::Draft& d) { return d.setDetails({&id, 1}, {&shared, 1}); });
    }
    void movesInTheTree() {
        test::TestProject p;
        const ObjectId a = p.add("A"), b = p.add("B"), c = p.add("C"), inside = p.add("Inside", a);
        thereAndBack(p, [&](edit::Draft& d) {
            return d.moveInTree(std::array{c, inside}, std::array{model::TreePlace{{}, a}, model::TreePlace{b, {}}});
        });
        thereAndBack(p, [&](edit::Draft& d) {
            return d.moveInTree(std::array{a, b}, std::array{model::TreePlace{b, {}}, model::TreePlace{c, {}}});
        });
    }
    void movingBelowOneselfIsRefused() {
        test::TestProject p;
        const ObjectId a = p.add("A"), b = p.add("B", a), c = p.add("C", b);
        refused(p, [&](edit::Draft& d) {
            return d.moveInTree(std::array{c, a}, std::array{model::TreePlace{}, model::TreePlace{b, {}}});
        });
        refused(p, [&](edit::Draft& d) { return d.moveInTree(std::array{a}, std::array{model::TreePlace{a, {}}}); });
    }
    void theScenesSettings() {
        test::TestProject p;
        model::SceneSettings s = p.scene().settings();
        s.sunDirection = {0, -1, 0};
        s.viewTo = {5, 5, 5};
        thereAndBack(p, [&](edit::Draft& d) { return d.setSettings(s); });
    }
    void leavingScopeRestoresEveryByte() {
        test::TestProject p;
        const ObjectId id = p.add("Stall", {}, {{0.1, 0.7, 0.3}});
        p.add("Frame", id);
        const std::string before = p.bytes();
        p.session().select({id});
        {
            edit::Draft draft(p.session(), "first", "Everything");
            const Transform t{{1, 2, 3}, base::fromDegrees({1, 2, 3}), {2, 2, 2}};
            const base::Name name = p.name("Other");
            QVERIFY(draft.setTransforms({&id, 1}, {&t, 1}).has_value());
            QVERIFY(draft.setLabels(model::LabelField::Name, {&id, 1}, {&name, 1}).has_value());
            p.session().select({});
            QVERIFY(draft.remove({&id, 1}).has_value());
            QVERIFY(p.bytes() != before);
        }
        QCOMPARE(p.bytes(), before);
        QCOMPARE(p.session().selection().size(), std::size_t{1});
    }
    void onlyOneDraftIsOpen() {
        test::TestProject p;
        edit::Draft first(p.session(), "first", "One");
        edit::Draft second(p.session(), "first", "Two");
        QVERIFY(first.state().has_value());
        QVERIFY(!second.state());
        QVERIFY(!second.commit());
        QVERIFY(!p.session().undo());
    }
    void aDraftCannotBeUsedAfterItsCommit() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        edit::Draft draft(p.session(), "first", "One");
        const Transform t{{1, 0, 0}};
        QVERIFY(draft.setTransforms({&id, 1}, {&t, 1}).has_value());
        QVERIFY(draft.commit().has_value());
        QVERIFY(!draft.commit());
    }
    void listenersHearWhatChangedAndOnlyThat() {
        test::TestProject p;
        const ObjectId group = p.add("Group"), child = p.add("Child", group), other = p.add("Other");
        std::vector<model::Slot> moved;
        p.session().sceneChanged.listen(
            [&](const edit::SceneDelta& delta) { moved.insert(moved.end(), delta.moved.begin(), delta.moved.end()); });
        edit::Draft draft(p.session(), "first", "Move");
        const Transform t{{1, 0, 0}};
        QVERIFY(draft.setTransforms({&group, 1}, {&t, 1}).has_value());
        QCOMPARE(moved.size(), std::size_t{2});
        QVERIFY(std::find(moved.begin(), moved.end(), p.slot(child)) != moved.end());
        QVERIFY(std::find(moved.begin(), moved.end(), p.slot(other)) == moved.end());
    }
};

MELLOW_TEST(DraftTest)
}  // namespace draft_test
#include "draft_test.moc"
