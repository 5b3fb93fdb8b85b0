// Checks in the window, driven as a person would: a fault is caused, counted, gone to, mended, undone, accepted.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>
#include <map>

#include "app/panels/checks_panel.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "check/verbs.h"
#include "window_fixture.h"

class WindowCheckTest : public WindowFixture {
    Q_OBJECT

    app::Checks& checks() { return editor_->checks(); }
    template <class T>
    T* the(const char* name) {
        return window_->findChild<T*>(name);
    }
    void raise(const char* name, double by) {
        const base::ObjectId id = idOf(name);
        editor_->run("Raise", [&](edit::Draft& draft) {
            base::Transform t = draft.scene().local(draft.scene().find(id));
            t.position.y += by;
            return draft.setTransforms({&id, 1}, {&t, 1});
        });
        checks().wait();
    }
    QString count() { return the<QToolButton>("checksCount")->text(); }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("checks"); }
    void init() {
        openFreshCopy();
        checks().wait();
    }
    void cleanup() { closeWindow(); }

    void theDemoIsFineAndSaysSo() {
        QVERIFY(checks().isKnown());
        QVERIFY2(checks().findings().empty(),
                 checks().findings().empty() ? "" : checks().findings()[0].message.c_str());
        QCOMPARE(checks().accepted().size(), std::size_t{2});
        QCOMPARE(count(), QString("✓ No findings"));
    }
    void aFaultByDraggingIsCountedGoneToMendedAndUndone() {
        const std::string before = bytes();
        editor_->select({idOf("Bench 1")});
        run("view.bring");
        const auto tip = view().handleTip(1);
        QVERIFY(tip.has_value());
        QTest::mouseMove(&view(), tip->toPoint());
        QTest::mousePress(&view(), Qt::LeftButton, {}, tip->toPoint());
        for (int i = 1; i <= 10; ++i) QTest::mouseMove(&view(), tip->toPoint() - QPoint(0, 8 * i));
        QVERIFY(checks().findings().empty());  // not while it is dragged
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip->toPoint() - QPoint(0, 80));
        checks().wait();
        QCOMPARE(checks().findings().size(), std::size_t{1});
        QCOMPARE(checks().findings()[0].rule, std::string("floating"));
        QVERIFY2(count().contains("1 caution"), qPrintable(count()));
        editor_->select({});
        const base::Vec3 eye = view().camera().eye;
        run("checks.next");
        QCOMPARE(editor_->selection(), (std::vector<base::ObjectId>{idOf("Bench 1")}));
        QVERIFY(checks().current().has_value() && checks().current()->marks.size() == 2);
        QVERIFY(glm::length(view().camera().eye - eye) > 0.01);
        const auto at = view().camera().project(editor_->scene().bounds(named("Bench 1")).centre(), view().viewport());
        QVERIFY(at.has_value() && view().rect().contains(int(at->x), int(at->y)));
        run("checks.mend");
        checks().wait();
        QVERIFY(checks().findings().empty());
        run("edit.undo");
        checks().wait();
        QCOMPARE(checks().findings().size(), std::size_t{1});
        run("edit.undo");
        checks().wait();
        QCOMPARE(bytes(), before);
        QVERIFY(checks().findings().empty());
    }
    void theListExplainsAndMendsAllOfARule() {
        raise("Bench 1", 0.5);
        raise("Bench 2", 0.7);
        run("desk.checks");
        auto* list = the<QTreeWidget>("checksList");
        QTRY_COMPARE(list->topLevelItemCount(), 2);  // and what is accepted
        QVERIFY(list->topLevelItem(0)->text(0).contains("Floating"));
        QCOMPARE(list->topLevelItem(0)->childCount(), 2);
        list->setCurrentItem(list->topLevelItem(0)->child(0));
        QVERIFY(checks().current().has_value());
        QVERIFY(the<QLabel>("checksMessage")->text().contains("floats"));
        const std::string before = bytes();
        the<QToolButton>("checksFixAll")->click();
        QVERIFY(editor_->scripts().preview().has_value());
        QCOMPARE(editor_->scripts().preview()->changed, std::size_t{2});
        QCOMPARE(bytes(), before);
        the<QPushButton>("scriptAccept")->click();
        checks().wait();
        QVERIFY(checks().findings().empty());
        run("edit.undo");
        QCOMPARE(bytes(), before);  // one step
    }
    void whatIsAcceptedStaysUntilItChanges() {
        raise("Bench 1", 0.5);
        run("checks.next");
        the<app::ChecksPanel>("checksPanel")->acceptCurrent("It is to be hung up.");
        checks().wait();
        QVERIFY(checks().findings().empty());
        QCOMPARE(checks().accepted().size(), std::size_t{3});
        run("desk.checks");
        auto* list = the<QTreeWidget>("checksList");
        QTRY_COMPARE(list->topLevelItemCount(), 1);  // they are listed, with their reasons
        QVERIFY(list->topLevelItem(0)->text(0).startsWith("Accepted"));
        bool told = false;
        for (int i = 0; i < 3; ++i)
            told = told || list->topLevelItem(0)->child(i)->text(0).endsWith("It is to be hung up.");
        QVERIFY(told);
        raise("Bench 1", 0.2);
        QCOMPARE(checks().findings().size(), std::size_t{1});
        run("edit.undo");
        checks().wait();
        QVERIFY(checks().findings().empty());
    }
    void aRuleIsSetInPlaceForTheProject() {
        raise("Bench 1", 0.5);
        run("checks.next");
        editor_->run("Set", [](edit::Draft& draft) { return check::setParameter(draft, *check::ruleOf(check::builtInRules(), "floating"), "most", {1.0}); });
        checks().wait();
        QVERIFY(checks().findings().empty());
        run("edit.undo");
        checks().wait();
        QCOMPARE(checks().findings().size(), std::size_t{1});
    }
    void theBrokenSceneHasOneFaultARuleInTheWindowToo() {
        QVERIFY(editor_->showScene("broken-lock"));
        checks().wait();
        std::map<std::string, int> counts;
        for (const check::Finding& f : checks().findings()) {
            QVERIFY2(++counts[f.rule] == 1, f.message.c_str());
            QVERIFY2(editor_->checks().rule(f.rule) != nullptr, f.rule.c_str());
        }
        QCOMPARE(counts.size(), check::builtInRules().size() - 1);
    }
    void theFactsAreThere() {
        run("desk.checks");
        the<QToolButton>("checksFacts")->click();
        auto* table = the<QTableWidget>("checksFactsTable");
        QTRY_VERIFY(table->isVisible());
        QCOMPARE(table->item(0, 1)->text(), QString::number(editor_->scene().objectCount()));
    }
};

QTEST_MAIN(WindowCheckTest)
#include "window_check_test.moc"
