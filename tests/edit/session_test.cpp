#include <sqlite3.h>

#include <QtTest>

#include "io/scene_file.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace session_test {

using base::ObjectId;

class SessionTest : public QObject {
    Q_OBJECT
    static void move(test::TestProject& p, ObjectId id, double x) {
        edit::Draft draft(p.session(), "first", "Move");
        const base::Transform t{{x, 0, 0}};
        QVERIFY(draft.setTransforms({&id, 1}, {&t, 1}).has_value());
        QVERIFY(draft.commit().has_value());
    }
    static void sql(const std::filesystem::path& file, const char* text) {
        sqlite3* db = nullptr;
        sqlite3_open(file.c_str(), &db);
        QCOMPARE(sqlite3_exec(db, text, nullptr, nullptr, nullptr), SQLITE_OK);
        sqlite3_close(db);
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
    void aFileSetBackOutsideCountsAndUndoBringsBackWhatCameAfter() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string early = test::fileBytes(p.scenePath());
        move(p, id, 2);
        const ObjectId other = p.add("Other");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string late = test::fileBytes(p.scenePath());
        move(p, id, 3);  // and never saved
        const std::string latest = p.bytes();
        p.close();
        test::writeBytes(p.scenePath(), early);
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.session().remarks().size(), std::size_t{1});
        QCOMPARE(p.bytes(), early);
        QVERIFY(!p.session().isUnsaved("first"));
        const auto* step = p.session().history().step(p.session().history().present());
        QCOMPARE(step->name, std::string("File as of “Add Bench”"));
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), latest);
        QVERIFY(p.session().isUnsaved("first"));
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), late);
        QVERIFY(p.slot(other) != model::kNoSlot);
        QVERIFY(p.session().redo().has_value() && p.session().redo().has_value());
        QCOMPARE(p.bytes(), early);
        // Opened once more it is what it is, without another step.
        const auto steps = p.session().history().steps().size();
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.session().history().steps().size(), steps);
        QCOMPARE(p.bytes(), early);
    }
    void aFileSetBackIsShownAsItIsWhenOnlyReading() {
        test::TestProject p;
        p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string early = test::fileBytes(p.scenePath());
        p.add("Other");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        test::writeBytes(p.scenePath(), early);
        QVERIFY(p.reopen(io::OpenMode::ReadOnly).has_value());
        QCOMPARE(p.bytes(), early);
    }
    void aSaveThatWasCutIsNoSettingBack() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        move(p, id, 2);
        const std::string now = p.bytes();
        // Announced, and never put in place: as if the process had been killed between.
        auto scene = p.session().scene("first");
        auto prepared = io::prepareSave({**scene, p.folder(), p.scenePath(), p.session().history().present()});
        QVERIFY(p.session().noteSave("first", prepared->hash, prepared->size, prepared->step).has_value());
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.session().remarks().empty());
        QCOMPARE(p.bytes(), now);
        QVERIFY(p.session().isUnsaved("first"));
        // Put in place, and not confirmed.
        test::writeBytes(p.scenePath(), now);
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.session().remarks().empty());
        QCOMPARE(p.bytes(), now);
        QVERIFY(!p.session().isUnsaved("first"));
    }
    void aDamagedStepIsNamedAndNothingIsUndone() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        for (int i = 1; i <= 3; ++i) move(p, id, i);
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string saved = p.bytes();
        p.close();
        sql(p.folder() / ".mellow" / "ledger.db", "UPDATE steps SET payload=zeroblob(20) WHERE id=3");
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.bytes(), saved);
        QVERIFY(p.session().undo().has_value());
        const auto refused = p.session().undo();
        QVERIFY(!refused);
        QVERIFY(refused.error().message.find("Step 3, “Move”") != std::string::npos);
        QVERIFY(!p.session().jumpTo(1));
        QCOMPARE(p.scene().local(p.slot(id)).position.x, 2.0);  // it did not go half of the way
        QVERIFY(p.session().redo().has_value());
        QCOMPARE(p.bytes(), saved);
    }
    void stepsThatCannotBeReplayedLeaveTheFileAsItIs() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string saved = test::fileBytes(p.scenePath());
        move(p, id, 1);
        p.close();
        sql(p.folder() / ".mellow" / "ledger.db", "UPDATE steps SET payload=zeroblob(20) WHERE id=2");
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.bytes(), saved);
        QVERIFY(p.session().remarks().front().find("step 2") != std::string::npos);
        p.add("More");
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), saved);
    }
    void whatOthersWroteIsOneStepThatCanBeUndone() {
        test::TestProject p;
        const ObjectId a = p.add("A"), b = p.add("B"), c = p.add("C", b), d = p.add("D", c);
        for (int i = 0; i < 5; ++i) p.add("Child " + std::to_string(i), a);
        const std::string mine = p.bytes();
        // Theirs: the tree upside down, some gone, some new, all sorts of fields.
        const std::string theirs = R"({"format":"mellow-scene","version":1,"sun":{"strength":2}}
)" + ("{\"id\":\"" + base::toText(d) + "\",\"name\":\"D now\"}\n") +
                                   ("{\"id\":\"" + base::toText(b) + "\",\"parent\":\"" + base::toText(d) +
                                    "\",\"name\":\"B\",\"position\":[1,2,3],\"hidden\":true}\n") +
                                   ("{\"id\":\"00000000000000aa\",\"parent\":\"" + base::toText(b) +
                                    "\",\"name\":\"New\",\"light\":{\"type\":\"point\"}}\n") +
                                   ("{\"id\":\"" + base::toText(c) + "\",\"name\":\"C\",\"kind\":\"Lamp\"}\n");
        auto parsed = io::parseScene("first", theirs, "first", p.session().project().names, p.session().library());
        QVERIFY(parsed.has_value() && parsed->damage.empty());
        const std::string wanted = io::formatScene(parsed->scene);
        QVERIFY(p.session().takeFiles({{"first", {parsed->scene, 7, 7, {}}}}, "Read first again").has_value());
        QCOMPARE(p.bytes(), wanted);
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), mine);
        QVERIFY(p.session().redo().has_value());
        QCOMPARE(p.bytes(), wanted);
    }
    void whatOthersDoWhileItIsClosedIsAStepThatCanBeUndone() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string saved = p.bytes();
        move(p, id, 4);  // and never saved
        const std::string mine = p.bytes();
        p.close();
        test::writeBytes(p.scenePath(),
                         test::fileBytes(p.scenePath()) + "{\"id\":\"00000000000000aa\",\"name\":\"By hand\"}\n");
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.session().remarks().size(), std::size_t{1});
        QCOMPARE(p.scene().objectCount(), std::size_t{2});
        QVERIFY(!p.session().isUnsaved("first"));
        p.add("Another");
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.scene().objectCount(), std::size_t{2});
        QVERIFY(p.session().undo().has_value());  // what others did
        QCOMPARE(p.bytes(), mine);
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), saved);
    }
    void withoutItsFormerTextAFileChangedOutsideIsABarrier() {
        test::TestProject p;
        p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        sql(p.folder() / ".mellow" / "ledger.db", "DELETE FROM files");
        test::writeBytes(p.scenePath(),
                         test::fileBytes(p.scenePath()) + "{\"id\":\"00000000000000aa\",\"name\":\"By hand\"}\n");
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.scene().objectCount(), std::size_t{2});
        QVERIFY(!p.session().undo());
        QVERIFY(!p.session().isUnsaved("first"));
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

MELLOW_TEST(SessionTest)
}  // namespace session_test
#include "session_test.moc"
