// What must not be lost or let in: ledgers, locks, rights, bombs, files that are wrong.
#include <fmt/format.h>
#include <sys/wait.h>
#include <unistd.h>

#include "command_line.h"
#include "support/test_main.h"

namespace care_command_test {

namespace fs = std::filesystem;

class CareCommandTest : public CommandLine {
    Q_OBJECT
    /// What `work` gives, done by somebody who can write nothing in `folder`, whoever runs this.
    template <class Work>
    static int withoutRights(const fs::path& folder, const Work& work) {
        const bool isRoot = getuid() == 0;
        if (isRoot)
            for (fs::path up = folder; up != up.root_path(); up = up.parent_path())
                fs::permissions(up, fs::perms::others_read | fs::perms::others_exec, fs::perm_options::add);
        const auto every = [&](fs::perm_options how) {
            fs::permissions(folder, fs::perms::owner_write, how);
            for (const auto& one :
                 fs::recursive_directory_iterator(folder, fs::directory_options::skip_permission_denied))
                if (!one.is_symlink()) fs::permissions(one, fs::perms::owner_write, how);
        };
        every(fs::perm_options::remove);
        const pid_t child = fork();
        if (child == 0) {
            if (isRoot && (setgid(65534) != 0 || setuid(65534) != 0)) _exit(99);
            _exit(work());
        }
        int status = 0;
        waitpid(child, &status, 0);
        every(fs::perm_options::add);
        return WIFEXITED(status) ? WEXITSTATUS(status) : 98;
    }
  private Q_SLOTS:
    void validateFileTellsLinesAndExitsWithOne() {
        test::DemoCopy demo;
        QCOMPARE(run({"validate-file", demo.scenePath().string()}), cli::exitCode::kFine);
        test::writeBytes(demo.scenePath(), test::fileBytes(demo.scenePath()) + "{\"id\":\"zz\"}\n");
        QCOMPARE(run({"validate-file", demo.scenePath().string()}), cli::exitCode::kFindings);
        QVERIFY(err_.find("lower-basin.scene.jsonl:317: id: ") != std::string::npos);
        QCOMPARE(run({"validate-file", (demo.folder() / "items" / "bench.glb").string()}), cli::exitCode::kFine);
        QCOMPARE(run({"validate-file", demo.folder().string()}), cli::exitCode::kFindings);
        QVERIFY(err_.find("lower-basin.scene.jsonl:317: id: ") != std::string::npos);
        QCOMPARE(run({"validate-file", "/no/such.scene.jsonl"}), cli::exitCode::kFailed);
        test::DemoCopy whole;
        QCOMPARE(run({"validate-file", whole.folder().string()}), cli::exitCode::kFine);
        for (const char* part : {"3 scenes", "prefabs", "kinds", "record types", "models", "images", "scripts"})
            QVERIFY2(out_.find(part) != std::string::npos, out_.c_str());
    }
    void aProjectInUseIsNotTouched() {
        test::TestProject p;
        p.add("Bench");
        QCOMPARE(run({"undo", p.folder().string()}), cli::exitCode::kFailed);
        QVERIFY(err_.find("open in another window") != std::string::npos);
        QCOMPARE(run({"list", p.folder().string()}), cli::exitCode::kFine);
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
        test::DemoCopy demo;
        QCOMPARE(run({"set", demo.scenePath().string(), "oil=2", "--where", "kind:Lantern"}), cli::exitCode::kFine);
        const fs::path folder = demo.folder();
        for (const bool withLedger : {true, false}) {
            if (!withLedger) fs::remove_all(folder / ".mellow");
            const int worst = withoutRights(folder, [&] {
                const std::string scene = demo.scenePath().string();
                int bad = run({"info", scene}) | run({"list", scene}) | run({"check", scene}) |
                          run({"validate-file", folder.string()});
                if (run({"export", scene, "--to", "/dev/shm/mellow-test-out.glb", "--overwrite"}) != 0) bad = 8;
                if (run({"undo", folder.string()}) != cli::exitCode::kFailed) bad = 7;
                if (err_.find("reading only") == std::string::npos) bad = 6;
                return bad;
            });
            QCOMPARE(worst, 0);
        }
        fs::remove("/dev/shm/mellow-test-out.glb");
    }
    void foldersThatCannotBeReadAreNamed() {
        test::DemoCopy demo;
        fs::permissions(demo.folder() / "kinds", fs::perms::none);
        const int told = withoutRights(demo.folder(), [&] {
            const int code = run({"validate-file", demo.folder().string()});
            return code == cli::exitCode::kFindings && err_.find("kinds") != std::string::npos ? 0 : 1;
        });
        fs::permissions(demo.folder() / "kinds", fs::perms::owner_all);
        QCOMPARE(told, 0);
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
        QCOMPARE(run({"--version"}), cli::exitCode::kFine);
        QVERIFY(out_.starts_with("mellow ") && err_.empty());
    }
};

MELLOW_TEST(CareCommandTest)
}  // namespace care_command_test
#include "care_command_test.moc"
