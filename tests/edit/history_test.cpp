#include <QtTest>

#include "edit/history.h"
#include "support/test_main.h"

namespace history_test {

using edit::History;
using edit::kRoot;
using edit::StepId;

class HistoryTest : public QObject {
    Q_OBJECT
    static void step(History& h, const char* scene = "a") {
        edit::StepInfo info;
        info.id = h.nextId();
        info.scenes = {scene};
        h.append(info);
    }
  private Q_SLOTS:
    void anEditAfterUndoStartsABranchAndLosesNothing() {
        History h;
        step(h);
        step(h);
        h.moveTo(1);
        step(h);
        QCOMPARE(h.steps().size(), std::size_t{3});
        QCOMPARE(h.step(3)->parent, StepId{1});
        QCOMPARE(*h.undoTarget(), StepId{1});
        h.moveTo(1);
        QCOMPARE(*h.redoTarget(), StepId{3});
        h.moveTo(2);
        h.moveTo(1);
        QCOMPARE(*h.redoTarget(), StepId{2});
    }
    void thePathBetweenBranchesGoesThroughTheirFork() {
        History h;
        step(h);
        step(h);
        step(h);
        h.moveTo(1);
        step(h);
        step(h);
        const auto path = h.path(3, 5);
        QCOMPARE(path.back, (std::vector<StepId>{3, 2}));
        QCOMPARE(path.forward, (std::vector<StepId>{4, 5}));
        QVERIFY(h.path(5, 5).back.empty());
    }
    void theRootHasNothingToUndo() {
        History h;
        QVERIFY(!h.undoTarget());
        QVERIFY(!h.redoTarget());
        step(h);
        QCOMPARE(*h.undoTarget(), kRoot);
    }
    void aBarrierCannotBeUndone() {
        History h;
        step(h);
        edit::StepInfo barrier;
        barrier.id = h.nextId();
        barrier.barrier = true;
        h.append(barrier);
        QVERIFY(!h.undoTarget());
    }
    void theLastTouchOfASceneSkipsTheOthers() {
        History h;
        step(h, "a");
        step(h, "b");
        step(h, "b");
        QCOMPARE(h.lastTouch(3, "a"), StepId{1});
        QCOMPARE(h.lastTouch(3, "b"), StepId{3});
        QCOMPARE(h.lastTouch(3, "c"), kRoot);
    }
    void theLineRunsThroughThePresentToTheEndOfItsBranch() {
        History h;
        for (int i = 0; i < 4; ++i) step(h);
        h.moveTo(2);
        QCOMPARE(h.line(), (std::vector<StepId>{1, 2, 3, 4}));
    }
};

MELLOW_TEST(HistoryTest)
}  // namespace history_test
#include "history_test.moc"
