// Scenes as wholes: made, copied, called otherwise, deleted, put in order; each a step, kept and taken back.
#include <QtTest>
#include <fstream>

#include "io/outside.h"
#include "io/scene_file.h"
#include "io/templates.h"
#include "ops/scenes.h"
#include "support/steps.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace scenes_test {

namespace fs = std::filesystem;
using edit::Draft;
using model::ProjectFacts;
using Names = std::vector<std::string>;

class ScenesTest : public QObject {
    Q_OBJECT
    struct Project : test::TestProject {
        Names names() { return session().project().sceneNames; }
        bool hasFile(const std::string& name) { return fs::exists(fileOf(name)); }
        fs::path fileOf(const std::string& name) { return folder() / "scenes" / (name + ".scene.jsonl"); }
        base::Status step(const std::function<base::Status(Draft&)>& verb, const std::string& on = "first") {
            Draft draft(session(), on, "A step");
            if (!draft.state()) return draft.state();
            if (base::Status done = verb(draft); !done) return done;
            auto kept = draft.commit();
            return kept ? base::Status{} : base::Status(tl::unexpected(kept.error()));
        }
        base::Status rename(const std::string& from, const std::string& to) {
            return step([&](Draft& d) { return ops::renameScene(d, from, to); });
        }
        base::Status remove(const std::string& name) {
            return step([&](Draft& d) { return ops::deleteScene(d, name); });
        }
        base::Status duplicate(const std::string& from, const std::string& to) {
            return step([&](Draft& d) { return ops::duplicateScene(d, from, to); });
        }
        base::Status make(const std::string& name, const std::string& like = "ground") {
            return step([&](Draft& d) { return io::createScene(workspace(), d, name, like); });
        }
        void save() {
            for (const std::string& document : session().unsavedScenes()) {
                const base::Status saved = io::saveScene(workspace(), document);
                QVERIFY2(saved, saved ? "" : saved.error().message.c_str());
            }
            QVERIFY(session().unsavedScenes().empty());
        }
        std::string text(const std::string& name) { return io::formatScene(**session().scene(name)); }
        /// As a process that was killed leaves it, or one that ended well: both keep what is on disk.
        void comeBack() {
            close();
            QVERIFY(reopen());
        }
    };

  private Q_SLOTS:
    void aNewSceneIsAStepAndItsFileComesWithSave() {
        Project p;
        QVERIFY(p.make("second"));
        QCOMPARE(p.names(), (Names{"first", "second"}));
        QVERIFY(!p.hasFile("second"));
        const std::string text = p.text("second");
        QCOMPARE((*p.session().scene("second"))->objectCount(), std::size_t{3});
        p.comeBack();  // killed before it was saved
        QCOMPARE(p.text("second"), text);
        p.save();
        QVERIFY(p.hasFile("second"));
        QCOMPARE(test::fileBytes(p.fileOf("second")), text);
        // Undone: not there, and its file goes with the next save; done again, all is back.
        QVERIFY(p.session().undo());
        QCOMPARE(p.names(), Names{"first"});
        QVERIFY(p.hasFile("second"));
        p.comeBack();
        QCOMPARE(p.names(), Names{"first"});  // though its file is there
        p.save();
        QVERIFY(!p.hasFile("second"));
        p.comeBack();
        QVERIFY(p.session().redo());
        QCOMPARE(p.text("second"), text);
        p.save();
        QCOMPARE(test::fileBytes(p.fileOf("second")), text);
    }
    void namesThatCannotBeAreRefused_data() {
        QTest::addColumn<QString>("name");
        for (const char* name : {"first", "", "../out", "a/b", "#12", "@items", ".hidden", "line\nbreak"})
            QTest::newRow(name) << QString(name);
        QTest::newRow("long") << QString(300, 'x');
    }
    void namesThatCannotBeAreRefused() {
        QFETCH(QString, name);
        Project p;
        const std::size_t steps = p.session().history().steps().size();
        QVERIFY(!p.make(name.toStdString()));
        QVERIFY(!p.duplicate("first", name.toStdString()));
        if (name != "first") QVERIFY(!p.rename("first", name.toStdString()));
        QCOMPARE(p.session().history().steps().size(), steps);
        QCOMPARE(p.names(), Names{"first"});
    }
    void aCopyHoldsTheSameAndIsItsOwn() {
        Project p;
        p.add("Bench");
        QVERIFY(p.duplicate("first", "copy"));
        QCOMPARE(p.text("copy"), p.text("first"));
        QVERIFY(p.step([](Draft& d) { return d.setSettings({}); }, "copy"));
        p.add("Lamp");  // in the first
        QCOMPARE((*p.session().scene("copy"))->objectCount(), std::size_t{1});
        QVERIFY(!p.duplicate("nowhere", "other"));
    }
    void aSceneIsCalledOtherwiseAndBack() {
        Project p;
        const auto bench = p.add("Bench");
        p.save();
        const std::string text = p.text("first"), project = test::fileBytes(p.folder() / "project.json");
        QVERIFY(p.rename("first", "quay"));
        QCOMPARE(p.names(), Names{"quay"});
        QCOMPARE(p.session().project().firstScene, std::string("quay"));
        QCOMPARE(p.text("quay"), text);
        QVERIFY((*p.session().scene("quay"))->find(bench) != model::kNoSlot);
        p.comeBack();
        QCOMPARE(p.names(), Names{"quay"});
        p.save();
        QVERIFY(p.hasFile("quay") && !p.hasFile("first"));
        QVERIFY(!io::outsideChanges(p.workspace()).size());
        // Back by undo, over a restart.
        p.comeBack();
        QVERIFY(p.session().undo());
        QCOMPARE(p.names(), Names{"first"});
        QCOMPARE(p.text("first"), text);
        p.save();
        QVERIFY(!p.hasFile("quay"));
        QCOMPARE(test::fileBytes(p.fileOf("first")), text);
        QCOMPARE(test::fileBytes(p.folder() / "project.json"), project);
        // And there and back by name.
        QVERIFY(p.session().redo());
        QVERIFY(p.rename("quay", "first"));
        QCOMPARE(p.text("first"), text);
        p.save();
        QVERIFY(p.hasFile("first") && !p.hasFile("quay"));
        for (int i = 0; i < 2; ++i) QVERIFY(p.session().undo());
        QCOMPARE(p.text("first"), text);
    }
    void aDeletedSceneIsBackWithUndoThoughItsFileWent() {
        Project p;
        QVERIFY(p.make("second"));
        p.save();
        const std::string text = test::fileBytes(p.fileOf("second"));
        QVERIFY(p.remove("second"));
        QCOMPARE(p.names(), Names{"first"});
        p.save();
        QVERIFY(!p.hasFile("second"));
        p.comeBack();
        QCOMPARE(p.names(), Names{"first"});
        QVERIFY(p.session().undo());
        QCOMPARE(p.text("second"), text);
        p.comeBack();
        p.save();
        QCOMPARE(test::fileBytes(p.fileOf("second")), text);
        // Twice in a row, the first scene too: another one is first then.
        QVERIFY(p.remove("first"));
        QCOMPARE(p.session().project().firstScene, std::string("second"));
        QVERIFY(!p.remove("second"));  // the last one
        QVERIFY(!p.remove("first"));
        p.save();
        QVERIFY(p.hasFile("second") && !p.hasFile("first"));
    }
    void whatWasNotSavedOfADeletedSceneIsNotLost() {
        Project p;
        QVERIFY(p.make("second"));
        p.save();
        p.add("Bench");  // in the first, which then goes
        const std::string text = p.text("first");
        QVERIFY(p.remove("first"));
        p.save();
        p.comeBack();
        QVERIFY(p.session().undo());
        QCOMPARE(p.text("first"), text);
        p.save();
        QCOMPARE(test::fileBytes(p.fileOf("first")), text);
    }
    void theirOrderAndWhatIsSaidOfThemAreKept() {
        Project p;
        for (const char* name : {"b", "a"}) QVERIFY(p.make(name, "empty"));
        QVERIFY(p.step([](Draft& d) { return ops::orderScenes(d, {"first", "a", "b"}); }));
        QVERIFY(!p.step([](Draft& d) { return ops::orderScenes(d, {"first", "a"}); }));
        QVERIFY(!p.step([](Draft& d) { return ops::orderScenes(d, {"first", "a", "a"}); }));
        QVERIFY(p.step([](Draft& d) { return ops::changeScene(d, "a", [](auto& s) { s.scratch = true; }); }));
        QVERIFY(!p.step([](Draft& d) { return ops::makeFirstScene(d, "a"); }));
        QVERIFY(p.step([](Draft& d) { return ops::makeFirstScene(d, "b"); }));
        QVERIFY(!p.step([](Draft& d) { return ops::changeScene(d, "b", [](auto& s) { s.scratch = true; }); }));
        p.save();
        p.comeBack();
        QCOMPARE(p.names(), (Names{"first", "a", "b"}));
        QCOMPARE(ops::scenesInPlay(p.session()), (Names{"first", "b"}));
        // Called otherwise it stays where it was, and what it was.
        QVERIFY(p.rename("a", "trial"));
        QCOMPARE(p.names(), (Names{"first", "trial", "b"}));
        QVERIFY(ops::isScratch(p.session(), "trial"));
    }
    void whatTheProjectSaysOfItselfIsAStep() {
        Project p;
        const std::string before = test::fileBytes(p.folder() / "project.json");
        QVERIFY(p.step([](Draft& d) {
            return edit::changeFacts(d, [](ProjectFacts& f) -> base::Status {
                f.name = "Another valley";
                f.walker.eyeHeight = 1.2;
                return {};
            });
        }));
        QCOMPARE(p.session().project().walker.eyeHeight, 1.2);
        p.save();
        p.comeBack();
        QCOMPARE(p.session().project().name, std::string("Another valley"));
        QVERIFY(p.session().undo());
        p.save();
        QCOMPARE(test::fileBytes(p.folder() / "project.json"), before);
        QVERIFY(!p.step([](Draft& d) {
            return edit::changeFacts(d, [](ProjectFacts& f) -> base::Status { return f.name.clear(), base::Status{}; });
        }));
    }
    void whatOthersWriteOfTheProjectIsAStepAndUnknownMembersStay() {
        Project p;
        std::string text = test::fileBytes(p.folder() / "project.json");
        const auto at = text.find("\"firstScene\"");
        text.insert(at, "\"later\": [null, {\"x\": 1.0}], ");
        test::writeBytes(p.folder() / "project.json", text);
        const auto changes = io::outsideChanges(p.workspace());
        QCOMPARE(changes.size(), std::size_t{1});
        QVERIFY(io::readTheirs(p.workspace(), changes));
        QVERIFY(p.make("second", "empty"));
        p.save();
        const std::string now = test::fileBytes(p.folder() / "project.json");
        QVERIFY2(now.find("null") != std::string::npos && now.find("1.0") != std::string::npos, now.c_str());
        QVERIFY(p.session().undo());
        QVERIFY(p.session().undo());
        p.save();
        QVERIFY(test::fileBytes(p.folder() / "project.json").find("later") == std::string::npos);
    }
    void anOpenSceneWhoseFileOthersTookAwayStaysAndItsNextSaveBringsIt() {
        Project p;
        p.add("Bench");
        p.save();
        QVERIFY(p.make("second", "empty"));
        p.save();
        const std::string text = p.text("first");
        fs::remove(p.fileOf("first"));
        QVERIFY(p.step([](Draft& d) { return ops::changeScene(d, "second", [](auto& s) { s.scratch = true; }); }));
        p.save();  // of something else
        QCOMPARE(p.names(), (Names{"first", "second"}));
        QVERIFY(p.session().unsavedScenes().empty());
        const auto changes = io::outsideChanges(p.workspace());
        QCOMPARE(changes.size(), std::size_t{1});
        QVERIFY(io::keepMine(p.workspace(), changes));
        p.save();
        QCOMPARE(test::fileBytes(p.fileOf("first")), text);
    }
    void aFileOfOthersByTheNameOfADeletedSceneIsNotTakenForIt() {
        Project p;
        QVERIFY(p.make("second"));
        p.save();
        QVERIFY(p.remove("second"));
        p.save();
        QVERIFY(p.hasFile("first") && !p.hasFile("second"));
        fs::copy_file(p.fileOf("first"), p.fileOf("second"));
        p.comeBack();
        QCOMPARE(p.names(), Names{"first"});
        QVERIFY(p.hasFile("second"));  // theirs is left alone
    }
    void scenesOfChanceComeBackToTheByte_data() {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 24; ++seed) QTest::addRow("%d", seed) << seed;
    }
    /// Whatever is done, saved, undone and left in whatever order: after all is undone the files are as at first.
    void scenesOfChanceComeBackToTheByte() {
        QFETCH(int, seed);
        Project p;
        p.add("Bench");
        p.save();
        const std::string first = test::fileBytes(p.fileOf("first")),
                          project = test::fileBytes(p.folder() / "project.json");
        const std::size_t from = p.session().history().steps().size();
        base::Random random(static_cast<std::uint64_t>(seed));
        auto any = [&] {
            const Names names = p.names();
            return names[random.next() % names.size()];
        };
        for (int i = 0; i < 30; ++i) {
            const std::string fresh = "s" + std::to_string(random.next() % 6);
            switch (random.next() % 8) {
                case 0: (void)p.make(fresh, "empty"); break;
                case 1: (void)p.duplicate(any(), fresh); break;
                case 2: (void)p.rename(any(), fresh); break;
                case 3: (void)p.remove(any()); break;
                case 4: p.save(); break;
                case 5: p.comeBack(); break;
                case 6: (void)p.session().undo(); break;
                default: (void)p.session().redo();
            }
            for (const std::string& name : p.names()) QVERIFY2(p.session().scene(name), name.c_str());
            if (QTest::currentTestFailed()) return;
        }
        p.save();
        p.comeBack();
        const auto& steps = p.session().history().steps();
        QVERIFY(p.session().jumpTo(steps[from - 1].id));
        p.save();
        QCOMPARE(p.names(), Names{"first"});
        QCOMPARE(test::fileBytes(p.fileOf("first")), first);
        QCOMPARE(test::fileBytes(p.folder() / "project.json"), project);
        std::size_t files = 0;
        for ([[maybe_unused]] const auto& entry : fs::directory_iterator(p.folder() / "scenes")) ++files;
        QCOMPARE(files, std::size_t{1});
        QVERIFY(io::outsideChanges(p.workspace()).empty());
    }
};

MELLOW_TEST(ScenesTest)
}  // namespace scenes_test
#include "scenes_test.moc"
