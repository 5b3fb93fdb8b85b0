#include <sys/wait.h>
#include <unistd.h>

#include <QTemporaryDir>
#include <QtTest>

#include "base/files.h"
#include "support/test_project.h"

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
        fs::create_symlink("/dev/full", path(("kept.part-" + std::to_string(getpid())).c_str()));
        const auto full = base::writeFileWhole(path("kept"), "new and longer");
        QVERIFY(!full);
        QVERIFY(full.error().message.find("No space left") != std::string::npos);
        QCOMPARE(*base::readFile(path("kept")), std::string("old"));
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
    }
};

QTEST_APPLESS_MAIN(FilesTest)
#include "files_test.moc"
