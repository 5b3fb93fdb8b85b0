#include <QtTest>

#include "io/scene_file.h"
#include "io/templates.h"
#include "support/test_project.h"

namespace fs = std::filesystem;

class WorkspaceTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
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
        QVERIFY(io::createScene(p.workspace(), "second", "ground").has_value());
        auto scene = p.session().scene("second");
        QVERIFY(scene.has_value());
        QCOMPARE((*scene)->objectCount(), std::size_t{3});
        QVERIFY(!(*scene)->subtreeBounds(model::kNoSlot).empty());
        QVERIFY(fs::exists(p.folder() / "scenes" / "second.scene.jsonl"));
        QVERIFY(!io::createScene(p.workspace(), "second", "ground"));
        QVERIFY(!io::createScene(p.workspace(), "third", "no such"));
        QVERIFY(!io::createScene(p.workspace(), "../out", "ground"));
    }
    void savingAsLeavesTheOriginal() {
        test::TestProject p;
        p.add("Bench");
        const std::string before = test::fileBytes(p.scenePath());
        QVERIFY(io::saveSceneAs(p.workspace(), "first", "copy").has_value());
        QCOMPARE(test::fileBytes(p.scenePath()), before);
        auto copy = p.session().scene("copy");
        QVERIFY(copy.has_value());
        QCOMPARE((*copy)->objectCount(), std::size_t{1});
        QVERIFY(!p.session().isUnsaved("copy"));
        QVERIFY(p.session().isUnsaved("first"));
    }
    void importingAddsAnItemOnce() {
        test::TestProject p;
        const fs::path model = test::demoFolder() / "items" / "bench.glb";
        const auto item = io::importModel(p.workspace(), model);
        QVERIFY(item.has_value());
        QVERIFY(item->triangles > 10);
        QVERIFY(p.session().library().item(p.name("bench")) != nullptr);
        QVERIFY(test::fileBytes(p.folder() / "items" / "bench.glb") == test::fileBytes(model));
        QVERIFY(!io::importModel(p.workspace(), model));
        QVERIFY(!io::importModel(p.workspace(), p.scenePath()));
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

QTEST_APPLESS_MAIN(WorkspaceTest)
#include "workspace_test.moc"
