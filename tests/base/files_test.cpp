#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QTemporaryDir>
#include <QtTest>

#include "base/files.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace files_test {

namespace fs = std::filesystem;

class FilesTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    fs::path path(const char* name) const { return fs::path(folder_.path().toStdString()) / name; }
  private Q_SLOTS:
    void whatIsWrittenReadsBack() {
        const std::string bytes("a\0b\n", 4);
        QVERIFY(base::writeFileWhole(path("whole"), bytes).has_value());
        QCOMPARE(*base::readFile(path("whole")), bytes);
    }
    void aMissingFileIsNamed() {
        const auto text = base::readFile(path("absent"));
        QVERIFY(!text);
        QVERIFY(text.error().code == base::ErrorCode::NotFound);
        QVERIFY(text.error().message.find("absent") != std::string::npos);
    }
    void aFolderIsNoFile() { QVERIFY(!base::readFile(folder_.path().toStdString())); }
    void aFullDiskLeavesTheOldFile() {
        const auto done = base::writeFileWhole("/dev/full/nothing", "x");
        QVERIFY(!done);
        // /dev/full refuses every byte: what is written there is told, and the target stays as it was.
        fs::create_symlink("/dev/full", path("full"));
        QVERIFY(!base::writePart(path("no") / "where", "x"));
        QVERIFY(base::writeFileWhole(path("kept"), "old").has_value());
        const test::FullDisk fullDisk;
        const auto full = base::writeFileWhole(path("kept"), "new and longer");
        QVERIFY(!full);
        QVERIFY(full.error().message.find("File too large") != std::string::npos);
        QCOMPARE(*base::readFile(path("kept")), std::string("old"));
    }
    void onlyOrdinaryFilesAreRead() {
        QCOMPARE(mkfifo(path("pipe").c_str(), 0600), 0);
        for (const fs::path& file : {path("pipe"), fs::path("/dev/zero")}) {
            const auto text = base::readFile(file);
            QVERIFY(!text);
            QVERIFY(text.error().message.find("no ordinary file") != std::string::npos);
        }
        QVERIFY(!base::FileLock::take(path("pipe")));
    }
    void whatIsTooLargeIsRefusedWithTheLimit() {
        QVERIFY(base::writeFileWhole(path("large"), std::string(3 << 20, 'x')).has_value());
        const auto text = base::readFile(path("large"), std::uint64_t{2} << 20);
        QVERIFY(!text);
        QVERIFY(text.error().message.find("at most 2 MB") != std::string::npos);
        QCOMPARE(*base::readHead(path("large"), 3), std::string("xxx"));
    }
    void aNameNeverLeadsOut() {
        fs::create_directories(path("in") / "a");
        QVERIFY(base::writeFileWhole(path("outside"), "x").has_value());
        fs::create_symlink(path("outside"), path("in") / "link");
        fs::create_directory_symlink(path("."), path("in") / "up");
        fs::create_symlink(path("in") / "a", path("in") / "within");
        QVERIFY(base::inside(path("in"), "a/new.glb").has_value());
        QVERIFY(base::inside(path("in"), "within/new.glb").has_value());
        for (const char* bad : {"", "..", "../outside", "a/../../outside", "/etc/passwd", "link", "up/outside", "a/.b",
                                "a\nb", "a//../..", "./a"})
            QVERIFY2(!base::inside(path("in"), bad), bad);
        QVERIFY(!base::inside(path("in"), std::string(300, 'x')));
    }
    void aPartIsNeverWrittenThroughALink() {
        QVERIFY(base::writeFileWhole(path("outside2"), "mine").has_value());
        fs::create_symlink(path("outside2"), path(("doc.part-" + std::to_string(getpid())).c_str()));
        QVERIFY(base::writeFileWhole(path("doc"), "theirs").has_value());
        QCOMPARE(*base::readFile(path("outside2")), std::string("mine"));
        QVERIFY(!fs::is_symlink(path("doc")));
    }
    void aLockNeverFollowsALinkAndChangesNothingThere() {
        QVERIFY(base::writeFileWhole(path("precious"), "do not touch").has_value());
        fs::create_symlink(path("precious"), path("lock2"));
        QVERIFY(!base::FileLock::take(path("lock2")));
        fs::create_hard_link(path("precious"), path("lock3"));
        QVERIFY(!base::FileLock::take(path("lock3")));
        QCOMPARE(*base::readFile(path("precious")), std::string("do not touch"));
    }
    void strayPartsGoUnlessTheirProcessLives() {
        fs::create_directories(path("stray"));
        for (const std::string& name : {std::string("a.part-999999999"), "b.part-" + std::to_string(getppid()),
                                        "c.part-" + std::to_string(getpid()), std::string("d.part-x")})
            QVERIFY(base::writeFileWhole(path("stray") / name, "x").has_value());
        base::removeStrayParts(path("stray"));
        std::vector<std::string> left;
        const auto all = base::listFolder(path("stray"));
        for (const auto& file : *all) left.push_back(file.filename().string());
        QCOMPARE(left, (std::vector<std::string>{"b.part-" + std::to_string(getppid()), "d.part-x"}));
    }
    void onlyOneHoldsALock() {
        auto first = base::FileLock::take(path("lock"));
        QVERIFY(first.has_value());
        const auto second = base::FileLock::take(path("lock"));
        QVERIFY(!second);
        QVERIFY(second.error().code == base::ErrorCode::InUse);
        QVERIFY(second.error().message.find(std::to_string(getpid())) != std::string::npos);
    }
    void aKilledProcessHoldsNoLock() {
        const pid_t child = fork();
        if (child == 0) {
            auto lock = base::FileLock::take(path("killed"));
            _exit(lock ? 0 : 1);
        }
        int status = 0;
        waitpid(child, &status, 0);
        QCOMPARE(WEXITSTATUS(status), 0);
        QVERIFY(base::FileLock::take(path("killed")).has_value());
    }
    void plainFileNamesAreTold() {
        for (const char* good : {"lower-basin", "Scene 2", "a.b_c"}) QVERIFY(base::isPlainFileName(good));
        for (const char* bad : {"", ".hidden", "a/b", "..", "ä", " a", "a "}) QVERIFY(!base::isPlainFileName(bad));
        for (const char* good : {"ä", "Brücke 水", "a b"}) QVERIFY(base::isFileName(good));
        for (const char* bad : {"", ".", "..", "a/b", "a\nb", "\xff", "a\xe2\x80\xae"}) QVERIFY(!base::isFileName(bad));
    }
    void anyNameCanBeMadePlain() {
        QCOMPARE(base::plainFileName("Brücke 水"), std::string("Brucke"));
        QCOMPARE(base::plainFileName("Łódź/../../etc"), std::string("Lodz-..-..-etc"));
        QCOMPARE(base::plainFileName("水"), std::string("model"));
        QCOMPARE(base::plainFileName("..\xff"), std::string("model"));
        QVERIFY(base::isPlainFileName(base::plainFileName(std::string(500, 'x'))));
    }
};

MELLOW_TEST(FilesTest)
}  // namespace files_test
#include "files_test.moc"
