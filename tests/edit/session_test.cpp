#include <sqlite3.h>

#include <QtTest>

#include "io/scene_file.h"
#include "support/test_project.h"

using base::ObjectId;

class SessionTest : public QObject {
    Q_OBJECT
    static void move(test::TestProject& p, ObjectId id, double x) {
        edit::Draft draft(p.session(), "first", "Move");
        const base::Transform t{{x, 0, 0}};
        QVERIFY(draft.setTransforms({&id, 1}, {&t, 1}).has_value());
        QVERIFY(draft.commit().has_value());
    }
  private Q_SLOTS:
    void stepsThatWereNotSavedComeBackOnReopening() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        for (int i = 1; i <= 10; ++i) move(p, id, i);
        QVERIFY(p.session().undo().has_value());
        const std::string before = p.bytes();
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo().has_value());
        QCOMPARE(p.scene().local(p.slot(id)).position.x, 10.0);
        while (p.session().undo()) {
        }
        QCOMPARE(p.scene().objectCount(), std::size_t{0});
    }
    void savingMakesItSavedAndUndoingPastItUnsaved() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        QVERIFY(p.session().isUnsaved("first"));
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        QVERIFY(!p.session().isUnsaved("first"));
        move(p, id, 3);
        QVERIFY(p.session().isUnsaved("first"));
        QVERIFY(p.session().undo().has_value());
        QVERIFY(!p.session().isUnsaved("first"));
        QVERIFY(p.session().undo().has_value());
        QVERIFY(p.session().isUnsaved("first"));
    }
    void undoCrossesASaveAndARestart() {
        test::TestProject p;
        const std::string empty = p.bytes();
        const ObjectId id = p.add("Bench");
        move(p, id, 2);
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string saved = test::fileBytes(p.scenePath());
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.session().undo().has_value());
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), empty);
        QVERIFY(p.session().redo().has_value());
        QVERIFY(p.session().redo().has_value());
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        QCOMPARE(test::fileBytes(p.scenePath()), saved);
    }
    void anEarlierVersionOfTheFileIsRecognised() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string early = test::fileBytes(p.scenePath());
        move(p, id, 2);
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        test::writeBytes(p.scenePath(), early);
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.session().remarks().empty());
        QCOMPARE(p.scene().local(p.slot(id)).position.x, 2.0);  // the ledger's present, with the step since
        QVERIFY(p.session().isUnsaved("first"));
    }
    void aFileChangedOutsideStartsAHistoryOfItsOwn() {
        test::TestProject p;
        p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        test::writeBytes(p.scenePath(),
                         test::fileBytes(p.scenePath()) + "{\"id\":\"00000000000000aa\",\"name\":\"By hand\"}\n");
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.session().remarks().size(), std::size_t{1});
        QCOMPARE(p.scene().objectCount(), std::size_t{2});
        QVERIFY(!p.session().undo());
        QVERIFY(!p.session().isUnsaved("first"));
        p.add("Another");
        QVERIFY(p.session().undo().has_value());
        QVERIFY(!p.session().undo());
        QCOMPARE(p.scene().objectCount(), std::size_t{2});
    }
    void jumpingAcrossBranchesGivesEachItsBytes() {
        test::TestProject p;
        std::map<edit::StepId, std::string> bytes;
        auto note = [&] { bytes[p.session().history().present()] = p.bytes(); };
        note();
        const ObjectId id = p.add("Bench");
        note();
        move(p, id, 1);
        note();
        QVERIFY(p.session().undo().has_value());
        p.add("Other");
        note();
        p.add("Third", id);
        note();
        for (int round = 0; round < 3; ++round)
            for (const auto& [step, text] : bytes) {
                QVERIFY(p.session().jumpTo(step).has_value());
                QCOMPARE(p.bytes(), text);
            }
        QVERIFY(!p.session().jumpTo(999));
    }
    void theSelectionComesBackWithTheStep() {
        test::TestProject p;
        const ObjectId a = p.add("A"), b = p.add("B");
        p.session().select({a});
        {
            edit::Draft draft(p.session(), "first", "Delete");
            QVERIFY(draft.remove({&a, 1}).has_value());
            p.session().select({b});
            QVERIFY(draft.commit().has_value());
        }
        QVERIFY(p.session().undo().has_value());
        QVERIFY(p.session().selection() == std::vector<ObjectId>{a});
        QVERIFY(p.session().redo().has_value());
        QVERIFY(p.session().selection() == std::vector<ObjectId>{b});
    }
    void aSnapshotStaysWhileTheSceneChanges() {
        test::TestProject p;
        std::vector<ObjectId> ids;
        for (int i = 0; i < 50; ++i) ids.push_back(p.add("Reed"));
        const model::Scene snapshot = p.scene();
        const std::string before = io::formatScene(snapshot);
        for (ObjectId id : ids) move(p, id, 9);
        {
            edit::Draft draft(p.session(), "first", "Delete");
            QVERIFY(draft.remove(ids).has_value());
            QVERIFY(draft.commit().has_value());
        }
        QCOMPARE(io::formatScene(snapshot), before);
        QCOMPARE(snapshot.find(ids[7]) == model::kNoSlot, false);
        QCOMPARE(p.scene().find(ids[7]), model::kNoSlot);
    }
    void aStepThatCannotBeKeptIsTakenBack() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        const std::string before = p.bytes();
        sqlite3* db = nullptr;
        sqlite3_open((p.folder() / ".mellow" / "ledger.db").c_str(), &db);
        QCOMPARE(sqlite3_exec(db, "DROP TABLE steps", nullptr, nullptr, nullptr), SQLITE_OK);
        sqlite3_close(db);
        edit::Draft draft(p.session(), "first", "Move");
        const base::Transform t{{9, 0, 0}};
        QVERIFY(draft.setTransforms({&id, 1}, {&t, 1}).has_value());
        const auto step = draft.commit();
        QVERIFY(!step);
        QVERIFY(step.error().message.find("ledger.db") != std::string::npos);
        QCOMPARE(p.bytes(), before);
        edit::Draft next(p.session(), "first", "Another");
        QVERIFY(next.state().has_value());
    }
    void aBulkStepIsKeptInItsTurn() {
        test::TestProject p;
        std::vector<model::ObjectRecord> many(6000);
        for (std::size_t i = 0; i < many.size(); ++i) {
            many[i].id = p.session().random().nextId();
            many[i].name = p.name("Reed " + std::to_string(i));
        }
        {
            edit::Draft draft(p.session(), "first", "Scatter");
            QVERIFY(draft.create(many).has_value());
            QVERIFY(draft.commit().has_value());
        }
        const ObjectId id = p.add("Bench");  // on disk only after the bulk before it
        const std::string bytes = p.bytes();
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.bytes(), bytes);
        QVERIFY(p.scene().find(id) != model::kNoSlot);
        QVERIFY(p.session().undo().has_value());
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.scene().objectCount(), std::size_t{0});
    }
    void readOnlyRefusesEverythingAndSaysWhy() {
        test::TestProject p;
        p.add("Bench");
        p.session().makeReadOnly("Only for looking.");
        edit::Draft draft(p.session(), "first", "Try");
        QVERIFY(!draft.state());
        QCOMPARE(draft.state().error().message, std::string("Only for looking."));
        QVERIFY(!p.session().undo());
        QVERIFY(!io::saveScene(p.workspace(), "first"));
    }
};

QTEST_APPLESS_MAIN(SessionTest)
#include "session_test.moc"
