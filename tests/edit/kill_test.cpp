#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QtTest>

#include "support/test_main.h"
#include "support/test_project.h"

namespace kill_test {

/// A process that is killed in the middle of its edits: what commit told it was kept is there afterwards.
class KillTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void everyCommittedStepSurvivesKill_data() {
        QTest::addColumn<int>("after");
        for (int n : {1, 7, 20}) QTest::newRow(std::to_string(n).c_str()) << n;
    }
    void everyCommittedStepSurvivesKill() {
        QFETCH(int, after);
        test::TestProject p;
        p.close();
        int pipes[2];
        QCOMPARE(pipe(pipes), 0);
        const pid_t child = fork();
        if (child == 0) {
            if (!p.reopen()) _exit(1);
            for (int i = 0;; ++i) {
                p.add("Crate " + std::to_string(i));
                const char told = 'x';
                if (write(pipes[1], &told, 1) != 1) _exit(2);
            }
        }
        ::close(pipes[1]);
        int told = 0;
        char c = 0;
        while (told < after && read(pipes[0], &c, 1) == 1) ++told;
        kill(child, SIGKILL);
        int status = 0;
        waitpid(child, &status, 0);
        QVERIFY(WIFSIGNALED(status));
        while (read(pipes[0], &c, 1) == 1) ++told;
        ::close(pipes[0]);
        QVERIFY(p.reopen().has_value());
        const int kept = static_cast<int>(p.scene().objectCount());
        QVERIFY2(kept == told || kept == told + 1, qPrintable(QString("%1 kept, %2 told").arg(kept).arg(told)));
        for (int i = 0; i < kept; ++i) QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.scene().objectCount(), std::size_t{0});
    }
};

MELLOW_TEST(KillTest)
}  // namespace kill_test
#include "kill_test.moc"
