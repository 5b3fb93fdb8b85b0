// Each write, sync and rename of the ledger and of Save goes wrong once, or the process ends before it: what was
// committed is there, what was refused is not, and the project opens undamaged.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QtTest>
#include <functional>

#include "faults/calls.h"
#include "ops/prefab.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace write_faults_test {

using base::Status;

/// What one does: steps, undo, redo, and saves between them.
class Work {
  public:
    explicit Work(test::TestProject& project) : p_(project) {
        all_ = {[this] { return add("Mooring post"); }, [this] { return save(); },
                [this] { return add("Crate"); },        [this] { return p_.session().undo(); },
                [this] { return p_.session().redo(); }, [this] { return save(); },
                [this] { return moveAll(1.5); },        [this] { return add("Lamp"); },
                [this] { return p_.session().undo(); }, [this] { return save(); },
                [this] { return moveAll(-4); }};
    }
    std::size_t count() const { return all_.size(); }
    Status run(std::size_t i) { return all_[i](); }

  private:
    Status add(const std::string& name) {
        edit::Draft draft(p_.session(), "first", "Add " + name);
        if (!draft.state()) return draft.state();
        model::ObjectRecord record;
        record.id = p_.session().random().nextId();
        record.name = p_.name(name);
        record.local.position = {1, 2, 3};
        if (Status made = draft.create({&record, 1}); !made) return made;
        return committed(draft);
    }
    Status moveAll(double x) {
        edit::Draft draft(p_.session(), "first", "Move");
        if (!draft.state()) return draft.state();
        std::vector<base::ObjectId> ids;
        std::vector<base::Transform> poses;
        for (model::Slot s : p_.scene().subtree(model::kNoSlot)) {
            ids.push_back(p_.scene().id(s));
            poses.push_back(p_.scene().local(s));
            poses.back().position.x += x;
        }
        if (Status moved = draft.setTransforms(ids, poses); !moved) return moved;
        return committed(draft);
    }
    /// A prefab, whose definition has a file of its own.
    Status pack() {
        edit::Draft draft(p_.session(), "first", "Pack");
        if (!draft.state()) return draft.state();
        ops::MakePrefab making;
        making.name = "Quay set";
        const base::ObjectId post = p_.scene().id(p_.scene().firstChild(model::kNoSlot));
        auto made = ops::makePrefab(draft, {&post, 1}, making);
        if (!made) return tl::unexpected(made.error());
        return committed(draft);
    }
    static Status committed(edit::Draft& draft) {
        auto step = draft.commit();
        return step ? Status{} : tl::unexpected(step.error());
    }
    Status save() { return io::saveScene(p_.workspace(), "first"); }

    test::TestProject& p_;
    std::vector<std::function<Status()>> all_;
};

/// The scene after the first n things done, without any fault: n = 0 is before all of them.
std::vector<std::string> statesWithoutFaults(int* calls) {
    test::TestProject p;
    p.close();
    faults::arm(faults::How::Count);
    if (!p.reopen()) qFatal("it does not open");
    std::vector<std::string> states{p.bytes()};
    Work work(p);
    for (std::size_t i = 0; i < work.count(); ++i) {
        if (auto done = work.run(i); !done) qFatal("%s", done.error().message.c_str());
        states.push_back(p.bytes());
    }
    p.close();
    *calls = faults::disarm();
    return states;
}

/// All undone, then all done again: nothing between is missing.
void throughTheHistory(test::TestProject& p, const std::string& first) {
    const std::string now = p.bytes();
    int steps = 0;
    while (p.session().history().undoTarget()) {
        QVERIFY(p.session().undo().has_value());
        ++steps;
    }
    QVERIFY(p.bytes() == first);
    for (int i = 0; i < steps; ++i) QVERIFY(p.session().redo().has_value());
    QVERIFY(p.bytes() == now);
}

class WriteFaultsTest : public QObject {
    Q_OBJECT
    std::vector<std::string> states_;
    int calls_ = 0;

    /// A call fails; what is refused has changed nothing, and either all goes on or the project is closed at once.
    void failAt(int call, bool goesOn) {
        test::TestProject p;
        p.close();
        faults::arm(faults::How::Fail, call);
        if (Status opened = p.reopen(); !opened) {
            QVERIFY(!opened.error().message.empty());
            faults::disarm();
            QVERIFY(p.reopen().has_value());
        }
        const std::string first = p.bytes();
        QVERIFY(first == states_.front());
        Work work(p);
        std::string now = first;
        for (std::size_t i = 0; i < work.count(); ++i) {
            const Status done = work.run(i);
            if (!done) {
                QVERIFY(!done.error().message.empty());
                QVERIFY2(p.bytes() == now, qPrintable(QString("refused, but something was done: thing %1, %2")
                                                          .arg(i)
                                                          .arg(QString::fromStdString(done.error().message))));
                if (!goesOn) break;
                const Status again = work.run(i);
                QVERIFY2(again.has_value(), again ? "" : again.error().message.c_str());
            }
            now = p.bytes();
        }
        p.close();
        faults::disarm();
        QVERIFY(p.reopen().has_value());
        QVERIFY(p.workspace().damage.empty());
        QVERIFY2(p.bytes() == now, "what was there before it was closed is not there afterwards");
        throughTheHistory(p, first);
    }
    /// The process ends at a call. False: it came to its end first.
    bool endAt(faults::How how, int call) {
        test::TestProject p;
        p.close();
        int pipes[2];
        if (pipe(pipes) != 0) qFatal("no pipe");
        const pid_t child = fork();
        if (child == 0) {
            faults::arm(how, call);
            if (!p.reopen()) _exit(1);
            Work work(p);
            for (std::size_t i = 0; i < work.count(); ++i) {
                if (!work.run(i)) _exit(2);
                const char told = 'x';
                if (::write(pipes[1], &told, 1) != 1) _exit(3);
            }
            p.close();
            _exit(0);
        }
        ::close(pipes[1]);
        std::size_t told = 0;
        for (char c = 0; ::read(pipes[0], &c, 1) == 1;) ++told;
        ::close(pipes[0]);
        int status = 0;
        waitpid(child, &status, 0);
        if (WIFEXITED(status) && WEXITSTATUS(status) == 0) return false;
        [&] {
            QVERIFY2(WIFSIGNALED(status), qPrintable(QString("the child gave up with %1").arg(WEXITSTATUS(status))));
            const Status opened = p.reopen();
            QVERIFY2(opened.has_value(), opened ? "" : opened.error().message.c_str());
            QVERIFY(p.workspace().damage.empty());
            const std::string now = p.bytes();
            const bool asTold = now == states_[told], oneMore = told + 1 < states_.size() && now == states_[told + 1];
            QVERIFY2(asTold || oneMore, qPrintable(QString("%1 things were told done").arg(told)));
            throughTheHistory(p, states_.front());
        }();
        return true;
    }

  private Q_SLOTS:
    void initTestCase() {
        states_ = statesWithoutFaults(&calls_);
        QVERIFY2(calls_ > 60, qPrintable(QString::number(calls_)));
    }
    void whatFailsOnceIsRefusedOrDoneAndAllGoesOn() {
        for (int call = 0; call < calls_ && !QTest::currentTestFailed(); ++call) {
            failAt(call, true);
            if (QTest::currentTestFailed()) qWarning("at call %d of %d", call, calls_);
        }
    }
    void whatWasCommittedBeforeAFailureIsThereWhenItIsOpenedAgain() {
        for (int call = 0; call < calls_ && !QTest::currentTestFailed(); ++call) {
            failAt(call, false);
            if (QTest::currentTestFailed()) qWarning("at call %d of %d", call, calls_);
        }
    }
    void whatWasCommittedBeforeTheProcessEndedIsThere_data() {
        QTest::addColumn<int>("how");
        QTest::newRow("between two calls") << static_cast<int>(faults::How::Kill);
        QTest::newRow("in the middle of a write") << static_cast<int>(faults::How::Tear);
    }
    void whatWasCommittedBeforeTheProcessEndedIsThere() {
        QFETCH(int, how);
        int call = 0;
        while (endAt(static_cast<faults::How>(how), call) && !QTest::currentTestFailed()) ++call;
        if (QTest::currentTestFailed()) qWarning("at call %d", call);
        QVERIFY2(call > 60, qPrintable(QString("only %1 calls").arg(call)));
    }
};

MELLOW_TEST(WriteFaultsTest)
}  // namespace write_faults_test
#include "write_faults_test.moc"
