// `mellow solid …`: each a step, written, refused by name, undone to the byte.
#include "command_line.h"
#include "support/test_main.h"

namespace solid_command_test {

class SolidCommandTest : public CommandLine {
    Q_OBJECT
    using Words = std::vector<std::string>;
    static Words with(Words first, const Words& more) {
        first.insert(first.end(), more.begin(), more.end());
        return first;
    }
  private Q_SLOTS:
    void aWallIsBuiltOpenedAndClipped() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        const Words at = {"--at", "0", "0", "200"}, up = {"--normal", "0", "1", "0"};
        QCOMPARE(run({"solid", "add", scene, "wall", "--size", "6", "3", "0.2", "--at", "0", "0", "200"}),
                 cli::exitCode::kFine);
        const Words mine = {"--where", "Wal?"};
        QCOMPARE(run(with({"solid", "open",   scene, "--at", "-1",     "0", "200.1",   "--facing", "0", "0",
                           "1",     "--size", "1",   "2",    "--more", "1", "--apart", "2",        "0", "0"},
                          mine)),
                 cli::exitCode::kFine);
        QVERIFY2(out_.find("Wall: opening 1") != std::string::npos, out_.c_str());
        QCOMPARE(run({"list", scene, "--where", "Wal?", "--json"}), cli::exitCode::kFine);
        QVERIFY2(out_.find("\"numbers\"") != std::string::npos && out_.find("Opening 2") != std::string::npos,
                 out_.c_str());
        QCOMPARE(run(with({"solid", "close", scene, "--number", "2"}, mine)), cli::exitCode::kFine);
        QCOMPARE(
            run(with({"solid", "clip", scene, "--at", "0", "2.5", "200", "--normal", "0", "1", "0", "--keep", "behind"},
                     mine)),
            cli::exitCode::kFine);
        QCOMPARE(run(with({"solid", "move-face", scene, "--facing", "0", "0", "1", "--by", "0.1"}, mine)),
                 cli::exitCode::kFine);
        QCOMPARE(run(with({"solid", "extrude", scene, "--facing", "1", "0", "0", "--by", "1"}, mine)),
                 cli::exitCode::kFine);
        QCOMPARE(run(with({"solid", "dress", scene, "brass", "--facing", "1", "0", "0"}, mine)), cli::exitCode::kFine);
        QVERIFY2(run(with({"solid", "apart", scene}, mine)) == cli::exitCode::kFine, err_.c_str());
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        QCOMPARE(run({"undo", folder, "8"}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void whatCannotBeIsRefusedAndNothingIsWritten() {
        test::DemoCopy demo;
        const std::string scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        const Words where = {"--where", "Boathouse walls"};
        for (const Words& wrong :
             {Words{"solid", "add", scene, "ball", "--size", "1", "1", "1", "--at", "0", "0", "0"},
              {"solid", "add", scene, "box", "--size", "1", "0", "1", "--at", "0", "0", "0"},
              with({"solid", "clip", scene, "--at", "0", "90", "0", "--normal", "0", "1", "0"}, where),
              with({"solid", "clip", scene, "--at", "0", "0", "0", "--normal", "0", "0", "0"}, where),
              with({"solid", "clip", scene, "--at", "0", "0", "0", "--normal", "0", "1", "0", "--keep", "none"}, where),
              with({"solid", "open", scene, "--at", "0", "0", "0", "--facing", "0", "0", "1", "--size", "1", "2"},
                   where),
              with({"solid", "hollow", scene, "--thickness", "9"}, where),
              with({"solid", "close", scene, "--number", "77"}, where),
              with({"solid", "join", scene}, where),
              with({"solid", "plain", scene}, {"--where", "item:bench"}),
              with({"solid", "plain", scene}, {"--where", "nobody"})}) {
            QVERIFY2(run(wrong) != cli::exitCode::kFine, wrong[1].c_str());
            QVERIFY2(err_.starts_with("mellow: "), err_.c_str());
        }
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
};

MELLOW_TEST(SolidCommandTest)
}  // namespace solid_command_test
#include "solid_command_test.moc"
