// What projects hold, changed and handed over without a window.
#include <fmt/format.h>

#include "command_line.h"
#include "scenes.h"
#include "support/test_main.h"

namespace commands_test {

namespace fs = std::filesystem;

class CommandsTest : public CommandLine {
    Q_OBJECT
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
    void whatDiffersIsToldGivenAndTakenBack() {
        test::DemoCopy demo;
        const std::string project = demo.folder().string(), scene = demo.scenePath().string();
        test::writeBytes(demo.folder() / "mark.lua",
                         "find(\"Crate in front\")[1]:note(\"Mind the nails\")\n"
                         "find(\"Crate in front\")[1]:move(vec(0, 0, 0.25))\n");
        QCOMPARE(run({"run", (demo.folder() / "mark.lua").string(), scene}), cli::exitCode::kFine);
        const std::string where = "\"Upper market\"", what = "note";
        const std::string before = test::fileBytes(demo.scenePath());
        const auto lines = [&](const std::string& part) {
            run({"prefab", "differences", scene, "--where", where, "--what", part, "--json"});
            return std::count(out_.begin(), out_.end(), '\n');
        };
        QCOMPARE(run({"prefab", "differences", scene, "--where", where}), cli::exitCode::kFine);
        const auto all = std::count(out_.begin(), out_.end(), '\n');
        QVERIFY2(out_.find("Crate in front  note: none → Mind the nails") != std::string::npos, out_.c_str());
        const auto some = lines(what);
        QVERIFY(some == 1 && all == 2);
        QCOMPARE(run({"prefab", "take-back", scene, "--where", where, "--what", what, "--json"}), cli::exitCode::kFine);
        QCOMPARE(json()["takenBack"].toInt(), int(some));
        QCOMPARE(lines(what), std::ptrdiff_t{0});
        QCOMPARE(lines(""), all - some);
        QCOMPARE(run({"prefab", "take-back", scene, "--where", where, "--what", what}), cli::exitCode::kFailed);
        QCOMPARE(run({"undo", project}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()) == before);
        QCOMPARE(run({"prefab", "give", scene, "--where", where, "--what", what}), cli::exitCode::kFine);
        QCOMPARE(lines(what), std::ptrdiff_t{0});
        QVERIFY(test::fileBytes(demo.scenePath()) != before);
    }
    void facetsAreListedAsFilesHaveThem() {
        test::DemoCopy demo;
        QCOMPARE(run({"list", demo.scenePath().string(), "--where", "\"Basin camera\"", "--json"}),
                 cli::exitCode::kFine);
        QVERIFY(json()["facets"].toObject().contains("camera"));
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
        QCOMPARE(run({"set", scene, "oil+=1", "--where", "kind:Lantern"}), cli::exitCode::kFine);
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

MELLOW_TEST(CommandsTest)
}  // namespace commands_test
#include "commands_test.moc"
