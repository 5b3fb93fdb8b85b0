#include <QtTest>

#include "io/outside.h"
#include "io/scene_file.h"
#include "io/templates.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace workspace_test {

namespace fs = std::filesystem;

class WorkspaceTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aWordOfANewerVersionIsToldOnceAndTheSceneStaysOpenToEdits() {
        test::TestProject p;
        const base::ObjectId id = p.add("Lamp");
        QVERIFY(io::saveScene(p.workspace(), "first"));
        p.close();
        std::string text = test::fileBytes(p.scenePath());
        text.insert(text.rfind('}'), R"(,"light":{"shape":"tube"})");
        test::writeBytes(p.scenePath(), text);
        QVERIFY(p.reopen());
        (void)p.scene();
        QCOMPARE(p.workspace().damage.size(), std::size_t{1});
        QVERIFY(p.workspace().damage[0].message.find("stays as it is") != std::string::npos);
        QVERIFY(p.session().readOnlyReason().empty());
        p.add("Another");
        QVERIFY(io::saveScene(p.workspace(), "first"));
        QVERIFY(test::fileBytes(p.scenePath()).find(R"("light":{"shape":"tube"})") != std::string::npos);
        QVERIFY(p.slot(id) != model::kNoSlot);
    }
    void theDemoOpensWhole() {
        test::DemoCopy demo;
        auto workspace = io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        QVERIFY(workspace.has_value());
        QVERIFY((*workspace)->damage.empty());
        auto scene = (*workspace)->session->scene("lower-basin");
        QVERIFY(scene.has_value());
        QVERIFY((*scene)->objectCount() > 280 && (*scene)->objectCount() < 380);
        for (model::Slot s : (*scene)->subtree(model::kNoSlot)) {
            if ((*scene)->item(s)) QVERIFY2(!(*scene)->bounds(s).empty(), std::string((*scene)->nameText(s)).c_str());
            if ((*scene)->kind(s)) QVERIFY((*workspace)->session->library().kind((*scene)->kind(s)) != nullptr);
        }
    }
    void aSecondOneIsToldAndMayLook() {
        test::TestProject p;
        p.add("Bench");
        const auto second = io::openWorkspace(p.folder(), io::OpenMode::Edit, test::chance());
        QVERIFY(!second);
        QVERIFY(second.error().code == base::ErrorCode::InUse);
        auto looking = io::openWorkspace(p.folder(), io::OpenMode::ReadOnly, test::chance());
        QVERIFY(looking.has_value());
        auto scene = (*looking)->session->scene("first");
        QVERIFY(scene.has_value());
        QCOMPARE((*scene)->objectCount(), std::size_t{1});
        QVERIFY(!(*looking)->session->readOnlyReason().empty());
    }
    void aDamagedSceneOpensReadOnlyAndIsKeptWhenSavedOver() {
        test::TestProject p;
        const auto id = p.add("Bench");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        const std::string damaged = test::fileBytes(p.scenePath()) + "{broken\n";
        test::writeBytes(p.scenePath(), damaged);
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.workspace().damage.size(), std::size_t{1});
        QVERIFY(p.scene().find(id) != model::kNoSlot);
        QVERIFY(!io::saveScene(p.workspace(), "first"));
        QCOMPARE(test::fileBytes(p.scenePath()), damaged);
        io::acceptDamage(p.workspace());
        p.add("More");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        QCOMPARE(test::fileBytes(p.scenePath().string() + ".damaged"), damaged);
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.workspace().damage.empty());
        QCOMPARE(p.scene().objectCount(), std::size_t{2});
    }
    void savingAnUnchangedSceneGivesTheSameBytes() {
        test::DemoCopy demo;
        const std::string before = test::fileBytes(demo.scenePath());
        auto workspace = io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        QVERIFY((*workspace)->session->scene("lower-basin").has_value());
        QVERIFY(io::saveScene(**workspace, "lower-basin").has_value());
        QVERIFY(test::fileBytes(demo.scenePath()) == before);
    }
    void aFullDiskLeavesFileAndStateAsTheyWere() {
        test::TestProject p;
        p.add("Bench");
        const std::string before = test::fileBytes(p.scenePath());
        const test::FullDisk full;
        const auto saved = io::saveScene(p.workspace(), "first");
        QVERIFY(!saved);
        QVERIFY(saved.error().message.find("File too large") != std::string::npos);
        QCOMPARE(test::fileBytes(p.scenePath()), before);
        QVERIFY(p.session().isUnsaved("first"));
    }
    void newScenesHaveWhatASceneNeeds() {
        test::TestProject p;
        QVERIFY(test::createScene(p, "second", "ground"));
        auto scene = p.session().scene("second");
        QVERIFY(scene.has_value());
        QCOMPARE((*scene)->objectCount(), std::size_t{3});
        QVERIFY(!(*scene)->subtreeBounds(model::kNoSlot).empty());
        QVERIFY(!test::createScene(p, "second", "ground"));
        QVERIFY(!test::createScene(p, "third", "no such"));
        QVERIFY(!test::createScene(p, "../out", "ground"));
    }
    void importingIsAStepAndSaveBringsTheFileAndTakesItAwayAgain() {
        test::TestProject p;
        const fs::path model = test::demoFolder() / "items" / "bench.glb";
        const fs::path file = p.folder() / "items" / "bench.glb";
        const auto isItem = [&] { return p.session().library().item(p.name("bench")) != nullptr; };
        const auto saveAll = [&] {
            for (const std::string& name : p.session().unsavedScenes())
                if (!io::saveScene(p.workspace(), name)) return false;
            return p.session().unsavedScenes().empty();
        };
        const auto item = test::importModel(p, model);
        QVERIFY2(item.has_value(), item ? "" : item.error().message.c_str());
        QVERIFY(item->triangles > 10);
        QVERIFY(isItem());
        QVERIFY(!fs::exists(file));
        QVERIFY(p.reopen().has_value());  // never saved, and still there
        QVERIFY(isItem());
        QVERIFY(saveAll());
        QVERIFY(test::fileBytes(file) == test::fileBytes(model));
        QVERIFY(p.session().undo().has_value());
        QVERIFY(!isItem());
        QVERIFY(fs::exists(file));
        QVERIFY(p.reopen().has_value());
        QVERIFY(!isItem());
        QVERIFY(saveAll());
        QVERIFY(!fs::exists(file));
        QVERIFY(p.reopen().has_value());
        QVERIFY(!isItem());
        QVERIFY(p.session().redo().has_value());
        QVERIFY(isItem());
        QVERIFY(saveAll());
        QVERIFY(test::fileBytes(file) == test::fileBytes(model));
    }
    void anImportThatWasUndoneAndNeverSavedLeavesNothing() {
        test::TestProject p;
        QVERIFY(test::importModel(p, test::demoFolder() / "items" / "bench.glb").has_value());
        QVERIFY(p.session().undo().has_value());
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.session().library().item(p.name("bench")) == nullptr);
        QVERIFY(p.session().unsavedScenes().empty());
    }
    void anyNameBecomesAnItem() {
        test::TestProject p;
        const fs::path model = test::demoFolder() / "items" / "bench.glb";
        const fs::path odd = p.folder() / "Brücke 水.glb";
        fs::copy_file(model, odd);
        QCOMPARE(test::importModel(p, model)->name, std::string("bench"));
        QCOMPARE(test::importModel(p, model)->name, std::string("bench 2"));
        QCOMPARE(test::importModel(p, odd)->name, std::string("Brucke"));
        QCOMPARE(p.session().library().item(p.name("Brucke"))->label, std::string("Brücke 水"));
        QVERIFY(!test::importModel(p, p.scenePath()));
    }
    void whatOthersHaveWrittenIsNotWrittenOver() {
        test::TestProject p;
        p.add("Mine");
        const std::string theirs =
            test::fileBytes(p.scenePath()) + "{\"id\":\"00000000000000aa\",\"name\":\"Theirs\"}\n";
        test::writeBytes(p.scenePath(), theirs);
        const auto refused = io::saveScene(p.workspace(), "first");
        QCOMPARE(refused.error().code, base::ErrorCode::Changed);
        QCOMPARE(test::fileBytes(p.scenePath()), theirs);
        QVERIFY(p.session().isUnsaved("first"));
        const auto changes = io::outsideChanges(p.workspace());
        QCOMPARE(changes.size(), std::size_t{1});
        QCOMPARE(changes[0].document, std::string("first"));
        QVERIFY(changes[0].isUnsaved);
        const std::string mine = p.bytes();
        QVERIFY(io::readTheirs(p.workspace(), changes).has_value());
        QCOMPARE(p.bytes(), theirs);
        QVERIFY(!p.session().isUnsaved("first"));
        QVERIFY(io::outsideChanges(p.workspace()).empty());
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), mine);
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        QCOMPARE(test::fileBytes(p.scenePath()), mine);
    }
    void mineMayStayAndTheirsIsKeptBeside() {
        test::TestProject p;
        p.add("Mine");
        const std::string mine = p.bytes(), theirs = test::fileBytes(p.scenePath()) + "\n";
        test::writeBytes(p.scenePath(), theirs);
        const auto kept = io::keepMine(p.workspace(), io::outsideChanges(p.workspace()));
        QCOMPARE(kept->size(), std::size_t{1});
        QCOMPARE(test::fileBytes(kept->front()), theirs);
        QVERIFY(io::outsideChanges(p.workspace()).empty());
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        QCOMPARE(test::fileBytes(p.scenePath()), mine);
        // They did it again: told again.
        test::writeBytes(p.scenePath(), theirs + "\n");
        QCOMPARE(io::outsideChanges(p.workspace()).size(), std::size_t{1});
    }
    void theirDamagedFileIsRefusedWhole() {
        test::TestProject p;
        p.add("Mine");
        const std::string mine = p.bytes();
        test::writeBytes(p.scenePath(), test::fileBytes(p.scenePath()) + "{broken\n");
        const auto changes = io::outsideChanges(p.workspace());
        QVERIFY(!io::readTheirs(p.workspace(), changes));
        QCOMPARE(p.bytes(), mine);
        QVERIFY(p.session().readOnlyReason().empty());
    }
    void newFilesOfOthersComeIn() {
        test::DemoCopy demo;
        auto workspace = *io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        edit::Session& session = *workspace->session;
        QVERIFY(io::outsideChanges(*workspace).empty());
        fs::copy_file(demo.scenePath(), demo.folder() / "scenes" / "pulled.scene.jsonl");
        test::writeBytes(demo.folder() / "kinds" / "Owl.kind.json",
                         R"({"format":"mellow-kind","version":1,"name":"Owl"})");
        const fs::path prefab = demo.folder() / "prefabs" / "Pulled.prefab.jsonl";
        std::string text;
        for (const auto& entry : fs::directory_iterator(demo.folder() / "prefabs"))
            text = test::fileBytes(entry.path());
        const std::size_t id = text.find("\"id\":\"") + 6;
        test::writeBytes(prefab, text.replace(id, 16, "00000000000000bb"));
        const auto changes = io::outsideChanges(*workspace);
        QCOMPARE(changes.size(), std::size_t{3});
        QVERIFY(io::readTheirs(*workspace, changes).has_value());
        QVERIFY(session.scene("pulled").has_value());
        QVERIFY(session.library().kindNamed("Owl") != nullptr);
        QVERIFY(session.prefabNamed("Pulled"));
        QVERIFY(io::outsideChanges(*workspace).empty());
    }
    void strayPartsAreGoneAfterOpening() {
        test::TestProject p;
        const fs::path stray = p.scenePath().string() + ".part-999999999";
        test::writeBytes(stray, "half");
        QVERIFY(p.reopen(io::OpenMode::ReadOnly).has_value());
        QVERIFY(fs::exists(stray));
        QVERIFY(p.reopen().has_value());
        QVERIFY(!fs::exists(stray));
    }
    void aLedgerThatCannotBeReadLocksNobodyOut() {
        for (const char* bytes : {"SQLite format 3", "not a database at all, but long enough to be looked at as one"}) {
            test::TestProject p;
            p.add("Bench");
            QVERIFY(io::saveScene(p.workspace(), "first").has_value());
            p.close();
            const fs::path ledger = p.folder() / ".mellow" / "ledger.db";
            test::writeBytes(ledger, std::string(bytes) + std::string(5000, 'x'));
            const auto refused = p.reopen();
            QCOMPARE(refused.error().code, base::ErrorCode::BadLedger);
            QVERIFY(p.reopen(io::OpenMode::ReadOnly).has_value());
            QCOMPARE(p.scene().objectCount(), std::size_t{1});
            QCOMPARE(p.workspace().damage.size(), std::size_t{1});
            p.close();
            const auto aside = io::setHistoryAside(p.folder());
            QVERIFY(aside.has_value() && fs::exists(*aside));
            QVERIFY(p.reopen().has_value());
            QCOMPARE(p.scene().objectCount(), std::size_t{1});
        }
    }
    void foreignNamesNeverLeadOut() {
        test::TestProject p;
        const fs::path outside = p.folder().parent_path();
        fs::create_directories(outside / "out" / "items");
        test::writeBytes(outside / "out" / "x.glb", "precious");
        p.close();
        test::writeBytes(p.folder() / "project.json",
                         R"({"format":"mellow-project","version":1,"name":"p","firstScene":"first",
                             "items":{"../../out/x":{"label":"x","gone":true},"../x":{"label":"y"}}})");
        fs::create_symlink("/etc/passwd", p.folder() / "scenes" / "link.scene.jsonl");
        fs::create_symlink(outside / "out" / "x.glb", p.folder() / "items" / "link.glb");
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.workspace().damage.size() >= 4);
        p.add("Bench");
        {
            edit::Draft draft(p.session(), "first", "Evil");
            const std::string key = "00000000000000aa";
            const std::optional<model::ValueMap> value = model::ValueMap{{"name", {"x"}}};
            QVERIFY(!draft.setEntries("@records/../../out/evil", {&key, 1}, {&value, 1}));
            QVERIFY(!draft.turnTo("../../out/scene"));
        }
        for (const std::string& name : {std::string("first"), std::string(model::data::kItems)})
            (void)io::saveScene(p.workspace(), name);
        QCOMPARE(test::fileBytes(outside / "out" / "x.glb"), std::string("precious"));
        QCOMPARE(std::distance(fs::directory_iterator(outside / "out"), {}), 2);
    }
    void aLinkedFolderOfTheHistoryIsRefused() {
        test::TestProject p;
        p.close();
        const fs::path outside = p.folder().parent_path() / "elsewhere";
        fs::create_directories(outside);
        fs::remove_all(p.folder() / ".mellow");
        fs::create_directory_symlink(outside, p.folder() / ".mellow");
        QVERIFY(!p.reopen());
        QVERIFY(fs::is_empty(outside));
    }
    void aWriteThatFailsAfterTheStepLeavesItInTheHistory() {
        test::TestProject p;
        const auto id = p.add("Bench");
        fs::remove(p.scenePath());
        fs::create_directory(p.scenePath());
        QVERIFY(!io::saveScene(p.workspace(), "first"));
        QVERIFY(p.session().isUnsaved("first"));
        fs::remove(p.scenePath());
        io::keepMine(p.workspace(), io::outsideChanges(p.workspace())).value();
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        QVERIFY(p.slot(id) != model::kNoSlot);
    }
    void anItemWithoutItsModelIsListedNotFatal() {
        test::DemoCopy demo;
        test::writeBytes(demo.folder() / "items" / "bench.glb", "glTFxxxx");
        fs::remove(demo.folder() / "items" / "plank.glb");
        auto workspace = io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        QVERIFY(workspace.has_value());
        QCOMPARE((*workspace)->damage.size(), std::size_t{1});
        QVERIFY((*workspace)->session->scene("lower-basin").has_value());
    }
    void aNewProjectNeedsAnEmptyFolder() {
        test::TestProject p;
        QVERIFY(!io::createProject(p.folder(), "empty", 1));
        QVERIFY(!io::createProject(p.folder() / "new", "no such", 1));
    }
};

MELLOW_TEST(WorkspaceTest)
}  // namespace workspace_test
#include "workspace_test.moc"
