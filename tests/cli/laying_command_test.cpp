// `mellow lay`, `push`, `quarter`, `mix`, `pieces`, `relate`: each a step, written, refused by name, undone to the
// byte.
#include "command_line.h"
#include "support/test_main.h"

namespace laying_command_test {

class LayingCommandTest : public CommandLine {
    Q_OBJECT
  private Q_SLOTS:
    void aPathIsLaidAndTakenAwayAgain() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"lay", scene, "--set", "Path", "--from", "-70", "60", "--to", "-60", "60"}),
                 cli::exitCode::kFine);
        QCOMPARE(out_, std::string("Lay Path\n6 laid, 0 gave way\n"));
        QCOMPARE(run({"lay", scene, "--set", "Path", "--from", "-70", "60", "--to", "-60", "60"}),
                 cli::exitCode::kFine);
        QVERIFY(out_.ends_with("0 laid, 0 gave way\n"));
        QCOMPARE(run({"lay", scene, "--item", "path-cross", "--from", "-70", "60", "--quarters", "1"}),
                 cli::exitCode::kFine);
        QVERIFY(out_.ends_with("1 laid, 1 gave way\n"));
        QCOMPARE(run({"lay", scene, "--clear", "--set", "Path", "--from", "-68", "60"}), cli::exitCode::kFine);
        QVERIFY2(out_.find("gave way") != std::string::npos, out_.c_str());
        for (const std::vector<std::string>& wrong : {std::vector<std::string>{"--set", "Ghost"},
                                                      {"--item", "ghost"},
                                                      {"--item", "pear-crate", "--cell", "2"},
                                                      {"--item", "path-cross", "--height", "nan"},
                                                      {"--item", "path-cross", "--height", "1e9"},
                                                      {"--item", "path-cross", "--cell", "-2"},
                                                      {"--set", "Path", "--to", "1e12", "1e12"},
                                                      {"--item", "notice-board", "--cell", "0.01", "--mirrored"},
                                                      {}}) {
            std::vector<std::string> all = {"lay", scene, "--from", "0", "0"};
            all.insert(all.end(), wrong.begin(), wrong.end());
            QCOMPARE(run(all), cli::exitCode::kFailed);
            QVERIFY(err_.starts_with("mellow: "));
        }
        QCOMPARE(run({"undo", folder, "3"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void setsAndMixesAreKeptInFilesOfTheirOwn() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string mixes = test::fileBytes(demo.folder() / "mixes.jsonl");
        QCOMPARE(run({"mix", "set", folder, "Yard", "stone-block=3", "gravel-heap=1"}), cli::exitCode::kFine);
        QCOMPARE(run({"mix", "list", folder}), cli::exitCode::kFine);
        QVERIFY2(out_.find("Yard  gravel-heap=1  stone-block=3") != std::string::npos, out_.c_str());
        QCOMPARE(run({"mix", "list", folder, "--json"}), cli::exitCode::kFine);
        QVERIFY2(out_.find(R"("stone-block":3)") != std::string::npos, out_.c_str());
        QCOMPARE(run({"mix", "use", scene, "Yard", "--where", "item:bollard"}), cli::exitCode::kFine);
        QCOMPARE(run({"list", scene, "--where", "item:bollard"}), cli::exitCode::kFine);
        QVERIFY(out_.empty());
        QCOMPARE(run({"pieces", folder, "Quay", "path-straight=ns", "path-corner=ne", "--cell", "2"}),
                 cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.folder() / "sets.jsonl").find("\"Quay\"") != std::string::npos);
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        for (const std::vector<std::string>& wrong : {std::vector<std::string>{"mix", "set", folder, "Yard", "ghost=1"},
                                                      {"mix", "set", folder, "Yard", "stone-block=0"},
                                                      {"mix", "set", folder, "Yard", "stone-block"},
                                                      {"mix", "delete", folder, "Nothing"},
                                                      {"mix", "use", scene, "Nothing", "--where", "item:bench"},
                                                      {"pieces", folder, "Quay", "path-straight=up"},
                                                      {"pieces", folder, "Quay", "path-straight"}}) {
            QCOMPARE(run(wrong), cli::exitCode::kFailed);
            QVERIFY(err_.starts_with("mellow: "));
        }
        QCOMPARE(run({"undo", folder, "3"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.folder() / "mixes.jsonl"), mixes);
    }
    void aBrokenMixIsNamedAndTheRestIsKept() {
        test::DemoCopy demo;
        test::writeBytes(
            demo.folder() / "mixes.jsonl",
            "{\"format\":\"mellow-mixes\",\"version\":1}\n"
            "{\"name\":\"Bad\",\"items\":{\"bench\":-1},\"later\":7}\n{\"name\":\"Good\",\"items\":{\"bench\":1}}\n");
        QVERIFY(run({"validate-file", demo.folder().string()}) != cli::exitCode::kFine);
        QVERIFY2((out_ + err_).find("Bad") != std::string::npos, (out_ + err_).c_str());
        QCOMPARE(run({"mix", "list", demo.folder().string()}), cli::exitCode::kFine);
        QVERIFY(out_.find("Good  bench=1") != std::string::npos);
    }
    void relationsAreKeptByWhatIsRunLater() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"relate", scene, "distance", "--where", "\"Bench 2\"", "--to", "Bench 3"}), cli::exitCode::kFine);
        QCOMPARE(run({"relate", scene, "facing", "--where", "\"Bench 2\"", "--to", "Bench 3"}), cli::exitCode::kFine);
        QCOMPARE(run({"list", scene, "--json", "--where", "\"Bench 2\""}), cli::exitCode::kFine);
        QVERIFY2(out_.find("away from “Bench 3”") != std::string::npos, out_.c_str());
        QVERIFY(out_.find(R"("collision":{"shape":"box","of":"item"})") != std::string::npos);
        const auto where = [&] {
            run({"table", "export", scene, "--where", "\"Bench 2\"", "--columns", "x,z"});
            return out_;
        };
        const std::string there = where();
        test::writeBytes(demo.folder() / "move.lua", "local b = find('\"Bench 3\"')[1] b:move(vec(5, 0, 0))");
        QCOMPARE(run({"run", (demo.folder() / "move.lua").string(), scene}), cli::exitCode::kFine);
        QVERIFY2(where() != there, err_.c_str());
        QCOMPARE(run({"relate", scene, "--where", "\"Bench 2\"", "--break", "2"}), cli::exitCode::kFine);
        QCOMPARE(run({"relate", scene, "--where", "\"Bench 2\"", "--break", "2"}), cli::exitCode::kFailed);
        QCOMPARE(run({"relate", scene, "near", "--where", "\"Bench 2\"", "--to", "Bench 3"}), cli::exitCode::kFailed);
        QCOMPARE(run({"relate", scene, "facing", "--where", "\"Bench 2\"", "--to", "Nobody"}), cli::exitCode::kFailed);
        QCOMPARE(run({"undo", folder, "4"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void pushedAndTurned() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"quarter", scene, "--where", "\"Bench 2\"", "--turns", "-1"}), cli::exitCode::kFine);
        QCOMPARE(run({"push", scene, "--where", "\"Bench 2\"", "--direction", "0", "0", "-1"}), cli::exitCode::kFine);
        QVERIFY2(out_.find(" m, to ") != std::string::npos, out_.c_str());
        QCOMPARE(run({"push", scene, "--where", "\"Bench 2\"", "--direction", "0", "1", "0"}), cli::exitCode::kFailed);
        QVERIFY(err_.find("Nothing is in the way") != std::string::npos);
        QCOMPARE(run({"push", scene, "--where", "\"Bench 2\"", "--direction", "0", "0", "0"}), cli::exitCode::kFailed);
        QCOMPARE(run({"push", scene, "--where", "\"Bench 2\"", "--direction", "0", "0.5", "0", "--by"}),
                 cli::exitCode::kFine);
        QVERIFY2(out_.find("came 0.0000 0.5000 0.0000") != std::string::npos, out_.c_str());
        QCOMPARE(run({"undo", folder, "3"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
};

MELLOW_TEST(LayingCommandTest)
}  // namespace laying_command_test
#include "laying_command_test.moc"
