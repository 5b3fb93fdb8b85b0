// `mellow handover`, `takein` and their kin on build machines, with the stand-in for a game at the other end.
#include <QProcess>
#include <QTemporaryDir>

#include "command_line.h"
#include "support/test_main.h"

namespace hand_command_test {

namespace fs = std::filesystem;

class HandCommandTest : public CommandLine {
    Q_OBJECT

    /// What the stand-in says of a project's levels, beside this program.
    QString game(const fs::path& folder, int& code) {
        QProcess process;
        process.start(QCoreApplication::applicationDirPath() + "/heron-game",
                      {QString::fromStdString((folder / "game" / "levels.json").string()), "--reload"});
        process.waitForFinished();
        code = process.exitCode();
        return QString::fromUtf8(process.readAllStandardOutput());
    }

  private Q_SLOTS:
    void theStandInGetsWhatIsHandedOver() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QCOMPARE(run({"handover", folder, "--to", "stand-in", "--dry-run", "--json"}), cli::exitCode::kFindings);
        QVERIFY(!fs::exists(demo.folder() / "game" / "levels"));
        QCOMPARE(json()["files"].toArray().size(), 3);
        const int entries = json()["files"].toArray()[0].toObject()["entries"].toInt();
        QCOMPARE(run({"handover", folder, "--to", "stand-in"}), cli::exitCode::kFailed);  // its command needs a word
        QVERIFY(err_.find("--run") != std::string::npos);
        QVERIFY(!fs::exists(demo.folder() / "game" / "levels"));
        QCOMPARE(run({"handover", folder, "--to", "stand-in", "--run"}),
                 cli::exitCode::kFindings);  // cues are lost there
        QVERIFY2(out_.find("ended") != std::string::npos || out_.find("0 wrong") != std::string::npos, out_.c_str());
        int code = 1;
        const QString says = game(demo.folder(), code);
        QVERIFY2(says.contains(QString("%1 things").arg(entries)), qPrintable(says));
        QVERIFY2(says.contains("everything is still there") && code == 0, qPrintable(says));
        QCOMPARE(run({"launch", folder, "play"}), cli::exitCode::kFine);
        QCOMPARE(run({"handover", folder, "--to", "stand-in", "--back"}), cli::exitCode::kFine);
        QVERIFY(!fs::exists(demo.folder() / "game" / "levels" / "lower-basin.json"));
    }
    void bothEndsNameTheSameFaults() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QVERIFY(run({"handover", folder, "--to", "stand-in", "--run"}) != cli::exitCode::kFailed);
        const fs::path list = demo.folder() / "game" / "levels" / "lower-basin.json";
        std::string text = test::fileBytes(list);
        const std::size_t bench = text.find("\"name\":\"Bench 1\"");
        text.replace(text.find("\"item\":\"bench\"", bench), 14, "\"item\":\"\"");
        const std::size_t second = text.find("\"name\":\"Bench 2\""), place = text.find("\"place\":[", second);
        text.replace(place, text.find(']', place) - place + 1, "\"place\":[\"far\",0,0]");
        test::writeBytes(list, text);
        int code = 0;
        const QString says = game(demo.folder(), code);
        QVERIFY2(code == 1 && says.contains("2 wrong"), qPrintable(says));
        QVERIFY(says.contains("“Bench 1”") && says.contains("“Bench 2”"));
        QCOMPARE(run({"takein", folder, list.string(), "--recipe", "json-list", "--dry-run", "--json"}),
                 cli::exitCode::kFindings);
        const QJsonArray problems = json()["problems"].toArray();
        QCOMPARE(problems.size(), 1);  // no item is no fault here: it would be taken away
        QVERIFY(problems[0].toObject()["message"].toString().contains("3 numbers were expected"));
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"takein", folder, list.string(), "--recipe", "json-list"}), cli::exitCode::kFailed);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void aListComesBackByTheCommandLine() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QTemporaryDir out;
        QCOMPARE(run({"write", folder, "--recipe", "csv-table", "--to", out.path().toStdString()}),
                 cli::exitCode::kFine);
        const std::string list = out.filePath("lower-basin.csv").toStdString();
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"takein", folder, list, "--recipe", "csv-table"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);  // nothing was otherwise
        test::writeBytes(list, test::fileBytes(list) + ";Seat by the water;Seat07;100;0;3000;0;90;0;1;1;1\r\n");
        QCOMPARE(run({"takein", folder, list, "--recipe", "csv-table"}), cli::exitCode::kFailed);
        QVERIFY2(err_.find("Seat07=ITEM") != std::string::npos, err_.c_str());
        QCOMPARE(run({"recipes", folder, "--json"}), cli::exitCode::kFine);
        QCOMPARE(run({"takein", folder, list, "--recipe", "csv-table", "--skip-faulty"}), cli::exitCode::kFindings);
        test::writeBytes(list, "name,model,x,z,heading\nSeat by the water,bench,1,30,90\n");
        QCOMPARE(run({"takein", folder, list, "--save-recipe", "seats"}), cli::exitCode::kFine);
        QVERIFY(fs::exists(demo.folder() / "recipes" / "seats.recipe.json"));
        QCOMPARE(run({"list", demo.scenePath().string(), "--where", "name:Seat*"}), cli::exitCode::kFine);
        QVERIFY(out_.find("Seat by the water  Structure  bench") != std::string::npos);
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        QCOMPARE(run({"undo", folder, "1"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void examplesBecomeRecipes() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QCOMPARE(run({"recipes", folder, "--examples"}), cli::exitCode::kFine);
        QVERIFY(std::count(out_.begin(), out_.end(), '\n') >= 10);
        QCOMPARE(run({"recipes", folder, "--add", "xml-things"}), cli::exitCode::kFine);
        QCOMPARE(run({"recipes", folder, "--add", "xml-things"}), cli::exitCode::kFailed);
        QCOMPARE(run({"recipes", folder, "--add", "nothing"}), cli::exitCode::kFailed);
        QCOMPARE(run({"write", folder, "--recipe", "xml-things"}), cli::exitCode::kFine);
        QVERIFY(out_.starts_with("<?xml"));
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
    }
    void limitsAreCheckedForAReceiver() {
        test::DemoCopy demo;
        QCOMPARE(run({"check", demo.scenePath().string(), "--for", "stand-in", "--rule", "receiver-lost"}),
                 cli::exitCode::kCheckCautions);
        QVERIFY(out_.find("Windlass, right") != std::string::npos);
        QCOMPARE(run({"check", demo.scenePath().string(), "--for", "nobody"}), cli::exitCode::kFailed);
    }
    void partsGoOutAsGltf() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QTemporaryDir out;
        const auto file = [&](const char* name) { return out.filePath(name).toStdString(); };
        QCOMPARE(run({"export", folder, "--where", "name:Bench*", "--to", file("benches.glb"), "--json"}),
                 cli::exitCode::kFine);
        QVERIFY(json()["objects"].toInt() >= 3 && json()["meshes"].toInt() == 1);
        QCOMPARE(run({"export", folder, "--item", "bench", "--to", file("bench.glb")}), cli::exitCode::kFine);
        QCOMPARE(run({"export", folder, "--prefab", "Market stall", "--to", file("stall.glb")}), cli::exitCode::kFine);
        QCOMPARE(run({"export", folder, "--to", file("all.gltf"), "--images-beside"}), cli::exitCode::kFine);
        QVERIFY(fs::exists(file("all.bin")) && fs::exists(file("textures/image-001.png")));
        QCOMPARE(run({"export", folder, "--to", file("bench.glb")}), cli::exitCode::kFailed);  // it is there
        QCOMPARE(run({"export", folder, "--to", file("x.glb"), "--images-beside"}), cli::exitCode::kFailed);
        QCOMPARE(run({"export", folder, "--item", "nothing", "--to", file("x.glb")}), cli::exitCode::kFailed);
    }
    void cataloguePlanAndPictures() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QTemporaryDir out;
        const auto file = [&](const char* name) { return out.filePath(name).toStdString(); };
        for (const char* of : {"items", "kinds", "outfits", "records"}) {
            QCOMPARE(run({"catalogue", folder, "--of", of}), cli::exitCode::kFine);
            QVERIFY2(std::count(out_.begin(), out_.end(), '\n') > 2, of);
        }
        QCOMPARE(run({"plan", folder, "--to", file("plan.svg")}), cli::exitCode::kFine);
        const std::string svg = test::fileBytes(file("plan.svg"));
        for (const char* said : {"<svg", "<title>Bench 1</title>", "Deep water 1", " m</text>", "</svg>"})
            QVERIFY2(svg.find(said) != std::string::npos, said);
        QCOMPARE(run({"picture", folder, "--to", file("scene.png"), "--size", "320x200"}), cli::exitCode::kFine);
        const QByteArray png = QByteArray::fromStdString(test::fileBytes(file("scene.png")));
        QVERIFY(png.startsWith("\x89PNG") && png.mid(16, 8) == QByteArray("\0\0\x01\x40\0\0\0\xC8", 8));
        QCOMPARE(run({"picture", folder, "--item", "bench", "--sides", "4", "--size", "1x64", "--to", file("row.png")}),
                 cli::exitCode::kFine);
        QVERIFY(QByteArray::fromStdString(test::fileBytes(file("row.png"))).mid(16, 8) ==
                QByteArray("\0\0\x01\0\0\0\0\x40", 8));
        for (const char* size : {"0x5", "5", "99999x4", "4x4x4", "axb"})
            QCOMPARE(run({"picture", folder, "--to", file("x.png"), "--size", size}), cli::exitCode::kFailed);
        QCOMPARE(run({"picture", folder, "--to", file("x.png"), "--view", "nowhere"}), cli::exitCode::kFailed);
        QVERIFY(!fs::exists(file("x.png")));
    }
};

MELLOW_TEST(HandCommandTest)
}  // namespace hand_command_test
#include "hand_command_test.moc"
