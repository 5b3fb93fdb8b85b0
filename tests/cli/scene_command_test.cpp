// `mellow scene` and `mellow project`.
#include "command_line.h"
#include "support/test_main.h"

namespace scene_command_test {

namespace fs = std::filesystem;

class SceneCommandTest : public CommandLine {
    Q_OBJECT
    static bool has(const test::DemoCopy& demo, const char* name) {
        return fs::exists(demo.folder() / "scenes" / (std::string(name) + ".scene.jsonl"));
    }
  private Q_SLOTS:
    void scenesAreMadeCopiedRenamedAndDeleted() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QCOMPARE(run({"scene", "new", folder, "trial"}), cli::exitCode::kFine);
        QVERIFY(has(demo, "trial"));
        QCOMPARE(run({"scene", "duplicate", folder, "lower-basin", "upper-basin"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.folder() / "scenes" / "upper-basin.scene.jsonl"),
                 test::fileBytes(demo.scenePath()));
        QCOMPARE(run({"scene", "rename", folder, "trial", "yard"}), cli::exitCode::kFine);
        QVERIFY(!has(demo, "trial") && has(demo, "yard"));
        QCOMPARE(run({"scene", "new", folder, "like-yard", "--template", "yard"}), cli::exitCode::kFine);
        QCOMPARE(run({"scene", "delete", folder, "yard"}), cli::exitCode::kFine);
        QVERIFY(!has(demo, "yard"));
        // What the kinds require is there, so no check asks for it.
        QCOMPARE(run({"scene", "new", folder, "bare", "--template", "required"}), cli::exitCode::kFine);
        const std::string bare = (demo.folder() / "scenes" / "bare.scene.jsonl").string();
        (void)run({"check", bare});
        QVERIFY2(out_.find("is needed") == std::string::npos, out_.c_str());
        QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QVERIFY(!has(demo, "yard"));
        QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QVERIFY(has(demo, "yard"));
        QCOMPARE(run({"redo", folder}), cli::exitCode::kFine);
        QVERIFY(!has(demo, "yard"));
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        for (const std::vector<std::string>& wrong : {std::vector<std::string>{"scene", "delete", folder, "yard"},
                                                      {"scene", "new", folder, "lower-basin"},
                                                      {"scene", "new", folder, "../out"},
                                                      {"scene", "new", folder, "fine", "--template", "nothing"},
                                                      {"scene", "rename", folder, "lower-basin", "upper-basin"}}) {
            QCOMPARE(run(wrong), cli::exitCode::kFailed);
            QVERIFY(err_.starts_with("mellow: "));
        }
        for (int i = 0; i < 5; ++i) QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QVERIFY(!has(demo, "upper-basin") && !has(demo, "like-yard") && !has(demo, "trial"));
        QCOMPARE(test::fileBytes(demo.folder() / "project.json"), test::fileBytes(test::demoFolder() / "project.json"));
    }
    void orderFirstAndScratchAreSaidAndListed() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QCOMPARE(run({"scene", "new", folder, "trial", "--template", "empty"}), cli::exitCode::kFine);
        QVERIFY(has(demo, "trial"));  // though nothing is in it
        QCOMPARE(run({"scene", "set", folder, "trial", "--scratch", "true", "--place", "4"}), cli::exitCode::kFine);
        QCOMPARE(run({"scene", "list", folder}), cli::exitCode::kFine);
        QVERIFY2(out_.starts_with("broken-lock  488 objects\nlower-basin  351 objects first\nthree-chambers  340 "
                                  "objects\ntrial  0 objects scratch\n"),
                 out_.c_str());
        QCOMPARE(run({"scene", "set", folder, "trial", "--first"}), cli::exitCode::kFailed);  // a scratch one
        QCOMPARE(run({"scene", "list", folder, "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find(R"("name":"trial","objects":0,"first":false,"scratch":true)") != std::string::npos);
        // Never exported; a check of the project is not about it.
        const std::string trial = (demo.folder() / "scenes" / "trial.scene.jsonl").string();
        QCOMPARE(run({"export", trial, "--to", (demo.folder() / "x.glb").string()}), cli::exitCode::kFailed);
        QVERIFY(!fs::exists(demo.folder() / "x.glb"));
        (void)run({"check", folder});
        QVERIFY2(out_.find("in 3 scenes") != std::string::npos, out_.c_str());
    }
    void whatOthersWroteOfScenesHarmsNothing() {
        for (
            const char* said :
            {"5", R"([{"name":"../../x","made":true}])", R"([{"name":"a/b","gone":true}])", R"([{"name":7}])",
             R"([{"name":"lower-basin","gone":true},{"name":"broken-lock","gone":true},{"name":"three-chambers","gone":true}])",
             R"([{"name":"ghost"},{"name":"ghost2","made":true}])"}) {
            test::DemoCopy demo;
            const std::string folder = demo.folder().string();
            std::string text = test::fileBytes(demo.folder() / "project.json");
            text.insert(text.find("\"firstScene\""), std::string("\"scenes\": ") + said + ", ");
            test::writeBytes(demo.folder() / "project.json", text);
            QCOMPARE(run({"scene", "list", folder}), cli::exitCode::kFine);
            QVERIFY2(out_.find("lower-basin  351") != std::string::npos && out_.find("ghost") == std::string::npos,
                     said);
            QCOMPARE(run({"scene", "new", folder, "extra", "--template", "empty"}), cli::exitCode::kFine);
            QVERIFY2(has(demo, "extra") && !has(demo, "ghost2"), said);
        }
    }
    void settingsAreShownAndSet() {
        test::DemoCopy demo;
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"scene", "settings", demo.scenePath().string()}), cli::exitCode::kFine);
        QVERIFY(out_.find("sunHeight=") != std::string::npos);
        QCOMPARE(run({"scene", "settings", demo.scenePath().string(), "sunHeight=12", "sunBearing=90", "sky=#8090a0"}),
                 cli::exitCode::kFine);
        QCOMPARE(run({"scene", "settings", demo.scenePath().string(), "--json"}), cli::exitCode::kFine);
        QVERIFY2(out_.find("\"sunHeight\":12.0") != std::string::npos ||
                     out_.find("\"sunHeight\":11.99") == std::string::npos,
                 out_.c_str());
        for (const char* wrong : {"sunHeight=far", "sunHeight=1000", "moon=1", "sunHeight", "=3", "sky=#12"}) {
            QCOMPARE(run({"scene", "settings", demo.scenePath().string(), wrong}), cli::exitCode::kFailed);
            QVERIFY2(err_.size() > 20, err_.c_str());
        }
        QCOMPARE(run({"undo", demo.folder().string()}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        QCOMPARE(run({"project", demo.folder().string(), "eyeHeight=1.2", "name=The valley"}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.folder() / "project.json").find("The valley") != std::string::npos);
        QCOMPARE(run({"project", demo.folder().string(), "name="}), cli::exitCode::kFailed);
        QCOMPARE(run({"project", demo.folder().string(), "eyeHeight=-4"}), cli::exitCode::kFailed);
        QCOMPARE(run({"undo", demo.folder().string()}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.folder() / "project.json"), test::fileBytes(test::demoFolder() / "project.json"));
    }
};

MELLOW_TEST(SceneCommandTest)
}  // namespace scene_command_test
#include "scene_command_test.moc"
