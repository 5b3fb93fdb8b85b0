#include <fmt/format.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>
#include <sstream>

#include "cli/commands.h"
#include "scenes.h"
#include "support/test_project.h"

namespace fs = std::filesystem;

class CommandsTest : public QObject {
    Q_OBJECT
    std::string out_, err_;

    int run(const std::vector<std::string>& arguments) {
        std::ostringstream out, err;
        const int code = cli::run(arguments, test::chance(), out, err);
        out_ = out.str();
        err_ = err.str();
        return code;
    }
    QJsonObject json() const { return QJsonDocument::fromJson(QByteArray::fromStdString(out_)).object(); }

  private Q_SLOTS:
    void infoTellsWhatAProjectHolds() {
        test::DemoCopy demo;
        QCOMPARE(run({"info", demo.scenePath().string(), "--json"}), cli::exitCode::kFine);
        QVERIFY(json()["objects"].toInt() > 280);
        QVERIFY(json()["triangles"].toInt() > 50'000);
        QCOMPARE(json()["items"].toObject()["cottage"].toInt(), 1);
        QCOMPARE(json()["kinds"].toObject()["Lantern"].toInt(), 12);
        QCOMPARE(json()["bounds"].toObject()["min"].toArray()[0].toDouble(), -200.0);
        QCOMPARE(json()["ledger"].toObject()["steps"].toInt(), 0);
        QVERIFY(err_.empty());
    }
    void listGivesALinePerObjectThatFits() {
        test::DemoCopy demo;
        QCOMPARE(run({"list", demo.scenePath().string(), "--where", "kind:Lantern", "--json"}), cli::exitCode::kFine);
        const auto lines = QString::fromStdString(out_).split('\n', Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 12);
        const QJsonObject first = QJsonDocument::fromJson(lines[0].toUtf8()).object();
        for (const char* key : {"id", "name", "parent", "kind", "item", "local", "world", "flags"})
            QVERIFY2(first.contains(key), key);
        for (const char* pose : {"local", "world"})
            for (const char* key : {"position", "rotation", "scale"}) QVERIFY(first[pose].toObject().contains(key));
    }
    void listTellsFlags() {
        test::DemoCopy demo;
        auto flagsOf = [&](const char* name) {
            run({"list", demo.scenePath().string(), "--where", name, "--json"});
            return QJsonDocument::fromJson(QByteArray::fromStdString(out_)).object()["flags"].toArray();
        };
        QCOMPARE(flagsOf("\"barge 1\""), QJsonArray{"whole"});
        QCOMPARE(flagsOf("valley"), QJsonArray{"protected"});
        QCOMPARE(flagsOf("\"bench 1\""), QJsonArray{});
    }
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
    void aTableGoesOutAndComesIn() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string();
        QCOMPARE(run({"table", "export", scene, "--where", "kind:Lantern", "--columns", "name,x,oil"}),
                 cli::exitCode::kFine);
        QStringList lines = QString::fromStdString(out_).split('\n', Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 13);
        QCOMPARE(lines[0].trimmed(), QString("id,name,x,oil"));
        const std::string file = (demo.folder() / "lanterns.csv").string(), before = test::fileBytes(demo.scenePath());
        test::writeBytes(file, out_);
        QCOMPARE(run({"table", "import", scene, file}), cli::exitCode::kFine);  // as it is: nothing changes
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        lines[1] = lines[1].section(',', 0, 2) + ",4.5";
        test::writeBytes(file, lines.join('\n').toStdString());
        QCOMPARE(run({"table", "import", scene, file, "--preview", "--json"}), cli::exitCode::kFine);
        QCOMPARE(json()["changes"].toArray().size(), 1);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        QCOMPARE(run({"table", "import", scene, file}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()) != before);
        const std::string id = lines[1].section(',', 0, 0).toStdString();
        QCOMPARE(run({"get", scene, "oil", "--where", "oil=4.5"}), cli::exitCode::kFine);
        QVERIFY(out_.find(id) != std::string::npos);
    }
    void aFaultyTableIsRefusedWhole() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string(), before = test::fileBytes(demo.scenePath());
        const std::string file = (demo.folder() / "bad.csv").string();
        for (const auto& [text, says] : {std::pair{"name,x\nNobody,1\n", "Nobody"},
                                         {"id,x\nzz,1\n", "zz"},
                                         {"id,wings\n", "wings"},
                                         {"x\n1\n", "needed"},
                                         {"name,oil\nBench 1,3\n", "no such property"},
                                         {"name,x\n\"Bench 1,3\n", "quote"}}) {
            test::writeBytes(file, text);
            QVERIFY(run({"table", "import", scene, file}) != cli::exitCode::kFine);
            QVERIFY2(err_.find(says) != std::string::npos, err_.c_str());
            QCOMPARE(test::fileBytes(demo.scenePath()), before);
        }
        QVERIFY(run({"table", "export", scene, "--columns", "wings"}) != cli::exitCode::kFine);
        QVERIFY(run({"table", "export", scene, "--seen-from", "1"}) != cli::exitCode::kFine);
    }
    void validateFileTellsLinesAndExitsWithOne() {
        test::DemoCopy demo;
        QCOMPARE(run({"validate-file", demo.scenePath().string()}), cli::exitCode::kFine);
        test::writeBytes(demo.scenePath(), test::fileBytes(demo.scenePath()) + "{\"id\":\"zz\"}\n");
        QCOMPARE(run({"validate-file", demo.scenePath().string()}), cli::exitCode::kFindings);
        QVERIFY(err_.find("lower-basin.scene.jsonl:299: id: ") != std::string::npos);
        QCOMPARE(run({"validate-file", (demo.folder() / "items" / "bench.glb").string()}), cli::exitCode::kFine);
        QCOMPARE(run({"validate-file", demo.folder().string()}), cli::exitCode::kFindings);
        QVERIFY(err_.find("lower-basin.scene.jsonl:299: id: ") != std::string::npos);
        QCOMPARE(run({"validate-file", "/no/such.scene.jsonl"}), cli::exitCode::kFailed);
        test::DemoCopy whole;
        QCOMPARE(run({"validate-file", whole.folder().string()}), cli::exitCode::kFine);
        for (const char* part : {"2 scenes", "prefabs", "kinds", "record types", "models", "images", "scripts"})
            QVERIFY2(out_.find(part) != std::string::npos, out_.c_str());
    }
    void undoAndRedoMoveThePresentAndWriteTheFiles() {
        test::TestProject p;
        const std::string empty = test::fileBytes(p.scenePath());
        p.add("Bench");
        p.add("Stall");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        const std::string full = test::fileBytes(p.scenePath());
        p.close();
        QCOMPARE(run({"undo", p.folder().string(), "2"}), cli::exitCode::kFine);
        QCOMPARE(out_, std::string("undone: Add Stall\nundone: Add Bench\n"));
        QCOMPARE(test::fileBytes(p.scenePath()), empty);
        QCOMPARE(run({"redo", p.folder().string(), "9"}), cli::exitCode::kFailed);  // not all that was asked for
        QVERIFY(err_.find("2 of 9 done") != std::string::npos);
        QCOMPARE(test::fileBytes(p.scenePath()), full);
        QCOMPARE(run({"redo", p.folder().string()}), cli::exitCode::kFailed);
    }
    void aProjectInUseIsNotTouched() {
        test::TestProject p;
        p.add("Bench");
        QCOMPARE(run({"undo", p.folder().string()}), cli::exitCode::kFailed);
        QVERIFY(err_.find("open in another window") != std::string::npos);
        QCOMPARE(run({"list", p.folder().string()}), cli::exitCode::kFine);
    }
    void newImportAndExport() {
        QTemporaryDir folder;
        const std::string project = folder.path().toStdString() + "/new";
        QCOMPARE(run({"new", project, "--template", "ground"}), cli::exitCode::kFine);
        QCOMPARE(run({"new", project}), cli::exitCode::kFailed);
        QCOMPARE(run({"new", project + "2", "--template", "nope"}), cli::exitCode::kFailed);
        QCOMPARE(run({"import", (test::demoFolder() / "items" / "bench.glb").string(),
                      (test::demoFolder() / "project.json").string(), "--into", project}),
                 cli::exitCode::kFailed);
        QVERIFY(!fs::exists(project + "/items/bench.glb"));  // all of them or none
        QCOMPARE(run({"import", (test::demoFolder() / "items" / "bench.glb").string(), "--into", project}),
                 cli::exitCode::kFine);
        QVERIFY(out_.find("bench: ") != std::string::npos);
        QVERIFY(fs::exists(project + "/items/bench.glb"));
        QCOMPARE(run({"undo", project}), cli::exitCode::kFine);
        QVERIFY(!fs::exists(project + "/items/bench.glb"));
        QCOMPARE(run({"redo", project}), cli::exitCode::kFine);
        QVERIFY(fs::exists(project + "/items/bench.glb"));
        QCOMPARE(run({"export", project, "--to", project + "/out.glb"}), cli::exitCode::kFine);
        QCOMPARE(run({"export", project, "--to", project + "/out.glb"}), cli::exitCode::kFailed);
        QCOMPARE(run({"export", project, "--to", project + "/out.glb", "--overwrite"}), cli::exitCode::kFine);
        QCOMPARE(run({"validate-file", project + "/out.glb"}), cli::exitCode::kFine);
        QCOMPARE(run({"export", project, "--to", "/no/such/folder/out.glb"}), cli::exitCode::kFailed);
    }
    void aSceneComesBackFromGltfWithTreeNamesLightsAndCameras() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), file = demo.folder().parent_path().string() + "/basin.glb";
        QCOMPARE(run({"export", demo.scenePath().string(), "--to", file}), cli::exitCode::kFine);
        QTemporaryDir other;
        const std::string project = other.path().toStdString() + "/new";
        QCOMPARE(run({"new", project}), cli::exitCode::kFine);
        QCOMPARE(run({"import", file, "--into", project, "--as-scene"}), cli::exitCode::kFine);
        const std::string back = project + "/scenes/basin.scene.jsonl";
        QVERIFY(fs::exists(back));
        auto facts = [&](const std::string& scene) {
            run({"list", scene, "--json"});
            std::map<std::string, int> names;
            for (const QString& line : QString::fromStdString(out_).split('\n', Qt::SkipEmptyParts))
                ++names[QJsonDocument::fromJson(line.toUtf8()).object()["name"].toString().toStdString()];
            return names;
        };
        auto before = facts(demo.scenePath().string()), after = facts(back);
        QCOMPARE(after.count("Sun"), std::size_t{1});
        after.erase("Sun");
        QCOMPARE(after, before);
        auto bounds = [&](const std::string& scene) {
            run({"info", scene, "--json"});
            return json()["bounds"].toObject();
        };
        const auto was = bounds(demo.scenePath().string()), is = bounds(back);
        for (const char* side : {"min", "max"})
            for (int k = 0; k < 3; ++k)
                QVERIFY(std::abs(was[side].toArray()[k].toDouble() - is[side].toArray()[k].toDouble()) < 1e-3);
        const std::string text = test::fileBytes(back);
        QVERIFY(text.find("\"light\":") != std::string::npos && text.find("\"camera\":") != std::string::npos);
        QCOMPARE(run({"validate-file", project}), cli::exitCode::kFine);
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
    void whatIsKeptButNotWrittenHasACodeOfItsOwn() {
        test::TestProject p;
        p.add("A");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        const std::string scene = p.scenePath().string(), file = (p.folder() / "own.lua").string();
        // The scene becomes unwritable while the script runs: what it loads is told, and what it cannot write too.
        test::writeBytes(file, "find('A')[1]:name('B')");
        const std::string before = test::fileBytes(scene);
        fs::create_directory(scene + ".part-" + std::to_string(getpid()));
        QCOMPARE(run({"run", file, scene}), cli::exitCode::kNotWritten);
        QVERIFY2(err_.find("kept in the history, but not written") != std::string::npos, err_.c_str());
        QCOMPARE(test::fileBytes(scene), before);
        fs::remove(scene + ".part-" + std::to_string(getpid()));
        QCOMPARE(run({"list", scene}), cli::exitCode::kFine);
        QVERIFY(out_.find("  B  ") != std::string::npos);
    }
    void theLedgerIsCheckedAndRepaired() {
        test::TestProject p;
        for (const char* name : {"A", "B", "C", "D"}) p.add(name);
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        const std::string project = p.folder().string();
        QCOMPARE(run({"ledger", "check", project, "--json"}), cli::exitCode::kFine);
        QCOMPARE(json()["steps"].toInt(), 4);
        QCOMPARE(json()["withSum"].toInt(), 4);
        const fs::path ledger = p.folder() / ".mellow" / "ledger.db";
        std::string bytes = test::fileBytes(ledger);
        const std::size_t at = bytes.find("Add B");
        QVERIFY(at != std::string::npos);
        bytes[at + 4] = 'X';
        test::writeBytes(ledger, bytes);
        QCOMPARE(run({"ledger", "check", project}), cli::exitCode::kFindings);
        QVERIFY2(err_.find("Step 2") != std::string::npos, err_.c_str());
        QCOMPARE(run({"undo", project, "4"}), cli::exitCode::kFailed);
        QVERIFY2(err_.find("2 of 4 done") != std::string::npos, err_.c_str());
        QCOMPARE(run({"redo", project, "2"}), cli::exitCode::kFine);
        QCOMPARE(run({"ledger", "repair", project}), cli::exitCode::kFine);
        QVERIFY2(err_.find("3 steps were taken over, 1 are marked") != std::string::npos, err_.c_str());
        QVERIFY(fs::exists(p.folder() / ".mellow" / "ledger-1.db"));
        QCOMPARE(run({"ledger", "check", project}), cli::exitCode::kFine);
        QCOMPARE(run({"undo", project, "2"}), cli::exitCode::kFine);
        QCOMPARE(run({"undo", project}), cli::exitCode::kFailed);
        test::writeBytes(ledger, "nothing of the kind");
        QCOMPARE(run({"undo", project}), cli::exitCode::kFailed);
        QCOMPARE(run({"list", project}), cli::exitCode::kFine);
        QCOMPARE(run({"ledger", "renew", project}), cli::exitCode::kFine);
        QCOMPARE(run({"info", project, "--json"}), cli::exitCode::kFine);
        QCOMPARE(json()["ledger"].toObject()["steps"].toInt(), 0);
    }
    void aHistoryFolderThatIsALinkIsLeftAlone() {
        test::TestProject p;
        p.close();
        const QTemporaryDir outside;
        fs::remove_all(p.folder() / ".mellow");
        fs::create_directory_symlink(outside.path().toStdString(), p.folder() / ".mellow");
        for (const char* verb : {"check", "repair", "renew"})
            QVERIFY(run({"ledger", verb, p.folder().string()}) != cli::exitCode::kFine);
        QVERIFY(QDir(outside.path()).isEmpty());
    }
    void aRepairCutAtItsEndIsFinished() {
        test::TestProject p;
        for (const char* name : {"A", "B"}) p.add(name);
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        const std::string project = p.folder().string();
        const fs::path ledger = p.folder() / ".mellow" / "ledger.db", fresh = p.folder() / ".mellow" / "ledger-new.db";
        // Before the old one is moved, and after.
        fs::copy_file(ledger, fresh);
        test::writeBytes(ledger, "damaged");
        QCOMPARE(run({"undo", project}), cli::exitCode::kFine);
        QVERIFY(!fs::exists(fresh));
        QCOMPARE(test::fileBytes(p.folder() / ".mellow" / "ledger-1.db"), std::string("damaged"));
        fs::rename(ledger, fresh);
        QCOMPARE(run({"ledger", "repair", project}), cli::exitCode::kFine);
        QVERIFY2(err_.find("2 steps were taken over, 0 are marked") != std::string::npos, err_.c_str());
        QCOMPARE(run({"redo", project}), cli::exitCode::kFine);
    }
    void nothingGivesATerminalOrders() {
        test::TestProject p;
        p.add("A");
        QVERIFY(io::saveScene(p.workspace(), "first").has_value());
        p.close();
        const std::string file = (p.folder() / "own.lua").string();
        test::writeBytes(file, "say('\\27[31mred\\27[0m', 'bell\\7', '\\194\\1551m')");
        QCOMPARE(run({"run", file, p.scenePath().string()}), cli::exitCode::kFine);
        QVERIFY2(out_.find("\\u001b[31mred") != std::string::npos, out_.c_str());
        QCOMPARE(run({"list", "/no\x1b[2J"}), cli::exitCode::kFailed);
        for (const std::string* text : {&out_, &err_})
            for (char c : *text) QVERIFY(static_cast<unsigned char>(c) >= 0x20 || c == '\n');
        test::writeBytes(p.scenePath(),
                         test::fileBytes(p.scenePath()) + "{\"id\":\"00000000000000aa\",\"name\":\"x\\u001b[2J\"}\n");
        QCOMPARE(run({"validate-file", p.scenePath().string()}), cli::exitCode::kFindings);
        QVERIFY(err_.find("control characters") != std::string::npos);
    }
    void readingNeedsNothingThatCanBeWritten() {
        if (getuid() != 0) QSKIP("Needs a user who can become another one.");
        test::DemoCopy demo;
        QCOMPARE(run({"set", demo.scenePath().string(), "oil=2", "--where", "kind:Lantern"}), cli::exitCode::kFine);
        const fs::path folder = demo.folder(), to = folder.parent_path() / "out.glb";
        for (fs::path up = folder; up != up.root_path(); up = up.parent_path())
            fs::permissions(up, fs::perms::others_read | fs::perms::others_exec, fs::perm_options::add);
        for (const bool withLedger : {true, false}) {
            if (!withLedger) fs::remove_all(folder / ".mellow");
            const pid_t child = fork();
            if (child == 0) {
                if (setgid(65534) != 0 || setuid(65534) != 0) _exit(9);
                const std::string scene = demo.scenePath().string();
                int worst = run({"info", scene}) | run({"list", scene}) | run({"check", scene}) |
                            run({"validate-file", folder.string()});
                if (run({"export", scene, "--to", "/dev/shm/mellow-test-out.glb", "--overwrite"}) != 0) worst = 8;
                if (run({"undo", folder.string()}) != cli::exitCode::kFailed) worst = 7;
                if (err_.find("reading only") == std::string::npos) worst = 6;
                _exit(worst);
            }
            int status = 0;
            waitpid(child, &status, 0);
            QCOMPARE(WEXITSTATUS(status), 0);
        }
        fs::remove("/dev/shm/mellow-test-out.glb");
        (void)to;
    }
    void foldersThatCannotBeReadAreNamed() {
        if (getuid() != 0) QSKIP("Needs a user who can become another one.");
        test::DemoCopy demo;
        for (fs::path up = demo.folder(); up != up.root_path(); up = up.parent_path())
            fs::permissions(up, fs::perms::others_read | fs::perms::others_exec, fs::perm_options::add);
        fs::permissions(demo.folder() / "kinds", fs::perms::none);
        const pid_t child = fork();
        if (child == 0) {
            if (setgid(65534) != 0 || setuid(65534) != 0) _exit(9);
            const int code = run({"validate-file", demo.folder().string()});
            _exit(code == cli::exitCode::kFindings && err_.find("kinds") != std::string::npos ? 0 : 1);
        }
        int status = 0;
        waitpid(child, &status, 0);
        fs::permissions(demo.folder() / "kinds", fs::perms::owner_all);
        QCOMPARE(WEXITSTATUS(status), 0);
    }
    void sizeBombsAreRefusedWithTheLimitNamed() {
        test::TestProject p;
        p.close();
        // Ten prefabs, each of ten of the one before; the first of ten objects.
        fs::create_directories(p.folder() / "prefabs");
        for (int level = 1; level <= 10; ++level) {
            std::string text =
                fmt::format("{{\"format\":\"mellow-prefab\",\"version\":1,\"id\":\"{:016x}\"}}\n", level);
            for (int i = 1; i <= 10; ++i)
                text += fmt::format("{{\"id\":\"{:016x}\",\"name\":\"x\"{}}}\n", 0x1000 * level + i,
                                    level == 1 ? "" : fmt::format(",\"prefab\":{{\"of\":\"{:016x}\"}}", level - 1));
            test::writeBytes(p.folder() / "prefabs" / fmt::format("P{}.prefab.jsonl", level), text);
        }
        std::string deep = "{\"format\":\"mellow-scene\",\"version\":1}\n";
        for (int i = 1; i <= 100'000; ++i)
            deep += fmt::format("{{\"id\":\"{:016x}\"{},\"name\":\"x\"}}\n", i,
                                i == 1 ? "" : fmt::format(",\"parent\":\"{:016x}\"", i - 1));
        test::writeBytes(p.scenePath(), deep);
        QCOMPARE(run({"list", p.scenePath().string()}), cli::exitCode::kFine);
        QVERIFY2(err_.find("more than 256 objects deep") != std::string::npos, err_.substr(0, 500).c_str());
        QVERIFY2(err_.find("250000 objects") != std::string::npos, err_.substr(0, 500).c_str());
        QCOMPARE(QString::fromStdString(out_).count('\n'), 100'000);
        QVERIFY(run({"check", p.scenePath().string()}) <= cli::exitCode::kCheckErrors);
        test::writeBytes(p.folder() / "scenes" / (std::string(240, 'n') + ".scene.jsonl"), "x");
        QCOMPARE(run({"info", p.folder().string()}), cli::exitCode::kFine);
        QVERIFY(err_.find("its name is too long") != std::string::npos);
    }
    void prefabsThatHoldThemselvesAreReported() {
        test::TestProject p;
        p.close();
        fs::create_directories(p.folder() / "prefabs");
        for (int n : {1, 2})
            test::writeBytes(p.folder() / "prefabs" / fmt::format("P{}.prefab.jsonl", n),
                             fmt::format("{{\"format\":\"mellow-prefab\",\"version\":1,\"id\":\"{0:016x}\"}}\n"
                                         "{{\"id\":\"{1:016x}\",\"name\":\"x\",\"prefab\":{{\"of\":\"{2:016x}\"}}}}\n",
                                         n, 16 * n, 3 - n));
        QCOMPARE(run({"validate-file", p.folder().string()}), cli::exitCode::kFindings);
        QVERIFY2(err_.find("Holds itself: P1 › P2 › P1") != std::string::npos, err_.c_str());
        QCOMPARE(run({"info", p.folder().string()}), cli::exitCode::kFine);
        QVERIFY2(err_.find("holds itself, be it further down") != std::string::npos, err_.c_str());
    }
    void filesAreHeldToTheirPublishedSchemas() {
        test::DemoCopy demo;
        const std::pair<const char*, const char*> wrong[] = {
            {"kinds/Bad.kind.json", R"({"format":"mellow-kind","version":1,"name":"Bad","mark":"blue"})"},
            {"records/bad.records.jsonl", "{\"format\":\"mellow-records\",\"version\":1,\"label\":3}\n"},
            {"records/nul.records.jsonl", nullptr},
            {"checks.jsonl",
             "{\"format\":\"mellow-checks\",\"version\":1}\n{\"rule\":\"floating\",\"offKinds\":1e300}\n"},
            {"surfaces.jsonl", "{\"format\":\"mellow-surfaces\",\"version\":1}\n{\"name\":\"x\",\"colour\":\"red\"}\n"},
            {"project.json",
             R"({"format":"mellow-project","version":1,"items":{"x":{"label":"x","collision":"round"}}})"}};
        for (const auto& [name, text] : wrong) {
            constexpr char kNul[] =
                "{\"format\":\"mellow-records\",\"version\":1}\n{\"id\":\"00000000000000aa\"}\0\n{bad\n";
            const std::string nul(kNul, sizeof kNul - 1);
            test::writeBytes(demo.folder() / name, text != nullptr ? text : nul);
            QCOMPARE(run({"validate-file", (demo.folder() / name).string()}), cli::exitCode::kFindings);
            QVERIFY2(err_.find(fs::path(name).filename().string()) != std::string::npos, err_.c_str());
            QVERIFY2(err_.find("json.exception") == std::string::npos, err_.c_str());
            const std::string first = err_.substr(0, err_.find('\n'));
            QCOMPARE(QString::fromStdString(first).count(QString::fromStdString(demo.folder().string())), 1);
        }
        QCOMPARE(run({"validate-file", demo.folder().string()}), cli::exitCode::kFindings);
    }
    void wrongArgumentsExitWithTwo() {
        QCOMPARE(run({}), cli::exitCode::kUsage);
        QCOMPARE(run({"dance"}), cli::exitCode::kUsage);
        QCOMPARE(run({"undo", "x", "-5"}), cli::exitCode::kUsage);
        QVERIFY(out_.empty());
        QVERIFY(!err_.empty());
        QCOMPARE(run({"--help"}), cli::exitCode::kFine);
        for (const char* verb : {"info", "list", "validate-file", "undo", "redo", "new", "import", "export"}) {
            QVERIFY(out_.find(verb) != std::string::npos);
        }
    }
    void prefabsAreListedMadeUsedAndTakenApart() {
        test::DemoCopy demo;
        const std::string project = demo.folder().string(), scene = demo.scenePath().string();
        QCOMPARE(run({"prefab", "list", project, "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find("\"name\":\"Row of stalls\"") != std::string::npos);
        QCOMPARE(run({"prefab", "used-by", project, "Market stall"}), cli::exitCode::kFine);
        QVERIFY(out_.find("prefab Stall of cloth  1") != std::string::npos);
        QCOMPARE(run({"list", scene, "--where", "\"Upper market\"", "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find("\"prefab\":\"Row of stalls\"") != std::string::npos);
        QCOMPARE(run({"list", scene, "--where", "\"Crate in front\"", "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find("\"flags\":[\"inside\"]") != std::string::npos);
        QCOMPARE(run({"prefab", "make", scene, "Booth ##", "--where", "\"Stall 8\"", "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find("\"name\":\"Booth 01\"") != std::string::npos);
        QVERIFY(fs::exists(demo.folder() / "prefabs" / "Booth 01.prefab.jsonl"));
        QCOMPARE(run({"validate-file", (demo.folder() / "prefabs" / "Booth 01.prefab.jsonl").string()}),
                 cli::exitCode::kFine);
        QCOMPARE(run({"prefab", "take-apart", scene, "--where", "booth*"}), cli::exitCode::kFine);
        QCOMPARE(run({"prefab", "take-apart", scene, "--where", "\"Stall 7\""}), cli::exitCode::kFailed);
        QVERIFY(err_.find("no instance of a prefab") != std::string::npos);
        QCOMPARE(run({"prefab", "used-by", project, "no such"}), cli::exitCode::kFailed);
        QCOMPARE(run({"undo", project, "2"}), cli::exitCode::kFine);
        QVERIFY(!fs::exists(demo.folder() / "prefabs" / "Booth 01.prefab.jsonl"));
        QVERIFY(test::fileBytes(demo.scenePath()) == demo::lowerBasin());
    }
    void theDemoIsWhatItsGeneratorMakes() {
        QVERIFY(test::fileBytes(test::demoFolder() / "scenes" / "lower-basin.scene.jsonl") == demo::lowerBasin());
        for (const demo::DemoPrefab& prefab : demo::prefabs())
            QVERIFY(test::fileBytes(test::demoFolder() / "prefabs" / (prefab.name + ".prefab.jsonl")) == prefab.text);
    }
    void theValleyHasAsManyObjectsAsAskedFor() {
        const std::string text = demo::many(10'000);
        QCOMPARE(std::count(text.begin(), text.end(), '\n'), 10'001);
        QVERIFY(demo::many(500) == demo::many(500));
    }
    void propertiesAreReadAndSetAllOrNone() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string();
        QCOMPARE(run({"get", scene, "oil", "--where", "kind:Lantern", "--json"}), cli::exitCode::kFine);
        QCOMPARE(QString::fromStdString(out_).count('\n'), 12);
        QCOMPARE(run({"set", scene, "oil=+=1", "--where", "kind:Lantern"}), cli::exitCode::kFine);
        QVERIFY(out_.starts_with("oil set for 12 objects"));
        const std::string after = test::fileBytes(demo.scenePath());
        // One of them would be out of its range: none is changed.
        QCOMPARE(run({"set", scene, "oil=+=2", "--where", "kind:Lantern"}), cli::exitCode::kFailed);
        QVERIFY(QString::fromStdString(err_).contains("out of its range"));
        QCOMPARE(test::fileBytes(demo.scenePath()), after);
        QCOMPARE(run({"set", scene, "oil=1", "--where", "kind:Bench"}), cli::exitCode::kFailed);
        QCOMPARE(run({"set", scene, "oil=1", "--where", "Bench*"}), cli::exitCode::kFailed);
        QVERIFY(QString::fromStdString(err_).contains("no property"));
        QCOMPARE(run({"set", scene, "oil", "--where", "kind:Lantern"}), cli::exitCode::kUsage);
    }
    void itemsAreATable() {
        test::DemoCopy demo;
        QCOMPARE(run({"items", demo.folder().string(), "--csv"}), cli::exitCode::kFine);
        QVERIFY(out_.starts_with("name,label,category,kind,"));
        QVERIFY(QString::fromStdString(out_).contains("\"Awning, ember\""));
    }
};

QTEST_APPLESS_MAIN(CommandsTest)
#include "commands_test.moc"
