// Scripts on build machines: run, previewed, refused.
#include "command_line.h"
#include "support/test_main.h"

namespace run_command_test {

namespace fs = std::filesystem;

class RunCommandTest : public CommandLine {
    Q_OBJECT
  private Q_SLOTS:
    void aScriptIsRunAsOneStep() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string(), file = (demo.folder() / "raise.lua").string();
        const std::string before = test::fileBytes(demo.scenePath());
        test::writeBytes(file,
                         "for _, o in ipairs(find('kind:Lantern')) do o:move(vec(0, "
                         "argument('by', 1), 0)) end say('done')");
        QCOMPARE(run({"run", file, scene, "--preview", "--json"}), cli::exitCode::kFine);
        QCOMPARE(json()["scenes"].toArray()[0].toObject()["changed"].toInt(), 12);
        QCOMPARE(json()["scenes"].toArray()[0].toObject()["objects"].toArray()[0].toObject()["how"].toString(),
                 QString("moved 1.00 m"));
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        QCOMPARE(run({"run", file, scene, "--arg", "by=2"}), cli::exitCode::kFine);
        QVERIFY(out_.find("done") != std::string::npos && out_.find("12 changed") != std::string::npos);
        QVERIFY(test::fileBytes(demo.scenePath()) != before);
        QCOMPARE(run({"undo", demo.folder().string()}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void aCommandTakesItsFormFromArguments() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string();
        const std::string file = (demo.folder() / "scripts" / "rename-along-quay.lua").string();
        QCOMPARE(run({"run", file, scene, "--arg", "name=Post", "--arg", "first=5"}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()).find("\"name\":\"Post 10\"") != std::string::npos);
        QCOMPARE(run({"run", file, scene, "--arg", "first=-1"}), cli::exitCode::kScriptError);
        QVERIFY2(err_.find("first:") != std::string::npos, err_.c_str());
        QCOMPARE(run({"run", file, scene, "--command", "Nothing"}), cli::exitCode::kScriptError);
        QVERIFY2(err_.find("Number along the quay") != std::string::npos, err_.c_str());
    }
    void behavioursHaveTheirSayOnBuildMachinesToo() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string();
        QCOMPARE(run({"set", scene, "lit=no", "--where", "\"lantern post 4\""}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()).find("unseen") != std::string::npos);
        QCOMPARE(run({"set", scene, "oil=0", "--where", "\"lantern post 3\""}), cli::exitCode::kFailed);
        QVERIFY2(err_.find("has some oil") != std::string::npos, err_.c_str());
    }
    void whatScriptsCanCallIsListed() {
        QCOMPARE(run({"functions"}), cli::exitCode::kFine);
        QVERIFY(out_.find("object:at([point])") != std::string::npos);
    }
    void severalScenesAreOneStep() {
        test::DemoCopy demo;
        const fs::path other = demo.folder() / "scenes" / "upper.scene.jsonl";
        const std::string scene = demo.scenePath().string(), file = (demo.folder() / "oil.lua").string();
        const std::string before = test::fileBytes(demo.scenePath());
        test::writeBytes(other, before);
        test::writeBytes(file, "for _, o in ipairs(find('kind:Lantern')) do o:set('oil', 2) end");
        QCOMPARE(run({"run", file, scene, other.string()}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()) != before && test::fileBytes(other) != before);
        QCOMPARE(run({"undo", demo.folder().string()}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()) == before && test::fileBytes(other) == before);
        QCOMPARE(run({"run", file, scene, "no such scene"}), cli::exitCode::kFailed);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void aFailingScriptChangesNothingAndSaysWhy() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string(), file = (demo.folder() / "bad.lua").string();
        const std::string before = test::fileBytes(demo.scenePath());
        for (const auto& [text, code, says] :
             {std::tuple{"remove(find('kind:Lantern')) nothing()", cli::exitCode::kScriptError, "bad.lua:1:"},
              {"remove(find('kind:Lantern')) while true do end", cli::exitCode::kScriptCap, "budget"},
              {"remove(named('Valley'))", cli::exitCode::kScriptRefused, "protected"}}) {
            test::writeBytes(file, text);
            QCOMPARE(run({"run", file, scene, "--budget", "1000000"}), code);
            QVERIFY2(err_.find(says) != std::string::npos, err_.c_str());
            QCOMPARE(test::fileBytes(demo.scenePath()), before);
        }
        QCOMPARE(run({"run", file, scene, "--arg", "x"}), cli::exitCode::kUsage);
        QCOMPARE(run({"run", "/no/such.lua", scene}), cli::exitCode::kFailed);
    }
    void aBrokenScriptFailsTheBuild() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string(), before = test::fileBytes(demo.scenePath());
        test::writeBytes(demo.folder() / "scripts" / "broken.lua", "behaviour { kind = ");
        QCOMPARE(run({"check", scene, "--format", "sarif"}), cli::exitCode::kScriptBroken);
        const QJsonObject invocation = json()["runs"].toArray()[0].toObject()["invocations"].toArray()[0].toObject();
        QVERIFY(!invocation["executionSuccessful"].toBool());
        QVERIFY(invocation["toolConfigurationNotifications"]
                    .toArray()[0]
                    .toObject()["message"]
                    .toObject()["text"]
                    .toString()
                    .contains("broken.lua"));
        QCOMPARE(run({"set", scene, "oil=2", "--where", "kind:Lantern"}), cli::exitCode::kScriptBroken);
        QVERIFY(err_.find("nothing was done") != std::string::npos);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        QCOMPARE(run({"validate-file", demo.folder().string()}), cli::exitCode::kFindings);
        test::writeBytes(demo.folder() / "own.lua", "say(1)");
        QCOMPARE(run({"run", (demo.folder() / "own.lua").string(), scene}), cli::exitCode::kScriptBroken);
        // The one that is run says itself what is wrong with it.
        QCOMPARE(run({"run", (demo.folder() / "scripts" / "broken.lua").string(), scene}), cli::exitCode::kScriptError);
    }
    void aScriptTakesASelectionAndSaysWhatIsTrue() {
        test::TestProject p;
        p.add("A");
        p.add("B");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        const std::string scene = p.scenePath().string(), file = (p.folder() / "own.lua").string();
        test::writeBytes(file, "for _, o in ipairs(selected()) do o:name('Chosen') end say(#selected())");
        QCOMPARE(run({"run", file, scene, "--select", "A"}), cli::exitCode::kFine);
        QCOMPARE(out_, std::string("1\nfirst: 0 created, 1 changed, 0 removed\n"));
        QCOMPARE(run({"run", file, scene, "--arg", "none=3"}), cli::exitCode::kScriptError);
        test::writeBytes(file, "pcall(function() local o = find()[1] o:put(o) end) error('mine')");
        QCOMPARE(run({"run", file, scene}), cli::exitCode::kScriptError);
        test::writeBytes(file, "local o = find()[1] o:put(o)");
        QCOMPARE(run({"run", file, scene}), cli::exitCode::kScriptRefused);
        test::writeBytes(p.folder() / "scripts" / "no.lua",
                         "behaviour { kind = 'Lamp', allow = function() return false, 'not today' end }");
        test::writeBytes(file, "local o = find()[1] o:kind('Lamp') o:at(1, 1, 1)");
        for (const bool preview : {true, false}) {
            std::vector<std::string> arguments = {"run", file, scene};
            if (preview) arguments.emplace_back("--preview");
            QCOMPARE(run(arguments), cli::exitCode::kScriptRefused);
            QVERIFY(err_.find("not today") != std::string::npos);
            QVERIFY(out_.find("changed") == std::string::npos);
        }
    }
};

MELLOW_TEST(RunCommandTest)
}  // namespace run_command_test
#include "run_command_test.moc"
