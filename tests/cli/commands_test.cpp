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
        QCOMPARE(run({"validate-file", demo.folder().string()}), cli::exitCode::kFine);
        QCOMPARE(run({"validate-file", "/no/such.scene.jsonl"}), cli::exitCode::kFailed);
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
        QCOMPARE(run({"redo", p.folder().string(), "9"}), cli::exitCode::kFine);
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
        QVERIFY(out_.find("bench: ") != std::string::npos);
        QVERIFY(fs::exists(project + "/items/bench.glb"));
        QCOMPARE(run({"export", project, "--to", project + "/out.glb"}), cli::exitCode::kFine);
        QCOMPARE(run({"validate-file", project + "/out.glb"}), cli::exitCode::kFine);
        QCOMPARE(run({"export", project, "--to", "/no/such/folder/out.glb"}), cli::exitCode::kFailed);
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
