// Records in their window, as a designer works with them.
#include <QAbstractButton>
#include <QDockWidget>
#include <QLineEdit>
#include <QTreeWidget>

#include "app/dialogs/records_window.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "ops/records.h"
#include "support/test_main.h"

namespace window_records_test {

class WindowRecordsTest : public WindowFixture {
    Q_OBJECT
    app::RecordsWindow* open() {
        run("records.open");
        auto* records = window_->findChild<app::RecordsWindow*>();
        if (records == nullptr || !QTest::qWaitForWindowExposed(records)) qFatal("no window");
        return records;
    }
    const model::RecordType& type(const char* name) { return *editor_->session().library().recordType(name); }
    static void choose(app::RecordsWindow* records, const QString& name) {
        auto* list = records->findChild<QTreeWidget*>("recordList");
        const auto rows = list->findItems(name, Qt::MatchExactly | Qt::MatchRecursive);
        if (rows.isEmpty()) qFatal("no such record");
        list->setCurrentItem(rows[0]);
    }
    static void press(app::RecordsWindow* records, const char* button) {
        QTest::mouseClick(records->findChild<QAbstractButton*>(button), Qt::LeftButton);
    }
    static QLineEdit* field(app::RecordsWindow* records, const char* property) {
        auto* w = records->findChild<QWidget*>(QString("property.%1").arg(property));
        auto* self = qobject_cast<QLineEdit*>(w);
        return self != nullptr ? self : w->findChild<QLineEdit*>();
    }
    static void type(QLineEdit* edit, const char* text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-records-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void oneThatIsUsedIsDeletedOnlyWhenThatIsMeant() {
        auto* records = open();
        choose(records, "Pears");
        const base::ObjectId pears{0x5a0c4be19d0f3b01};
        const auto there = [&] { return ops::findRecord(editor_->session().library(), pears).record != nullptr; };
        press(records, "recordDelete");
        auto* uses = records->findChild<QTreeWidget*>("usesList");
        QVERIFY(uses != nullptr && uses->topLevelItemCount() >= 1);
        QVERIFY(there());
        QTest::keyClick(uses->parentWidget(), Qt::Key_Escape);
        test::settle();
        QVERIFY(there() && records->isVisible());  // only the question went
        press(records, "recordDelete");
        press(records, "deleteUsed");
        QVERIFY(!there());
        QVERIFY(editor_->session().undo());
        QVERIFY(there());
    }
    void aRecordIsChangedAndTakenBack() {
        auto* records = open();
        choose(records, "Pears");
        type(field(records, "weight"), "+= 2");
        auto weighs = [this] {
            model::Value room;
            const model::RecordType& cargo = type("cargo");
            return ops::recordValue(cargo.records.at(base::ObjectId{0x5a0c4be19d0f3b01}), cargo.properties[0], room);
        };
        QVERIFY(weighs() == model::Value{5.5});
        type(field(records, "weight"), "900");  // more than any barge
        QVERIFY(weighs() == model::Value{5.5});
        QVERIFY(editor_->session().undo());
        QVERIFY(weighs() == model::Value{3.5});
        QCOMPARE(field(records, "weight")->text(), QString("3.50"));
    }
    void oneIsMadeFromAnotherFoundAndDeleted() {
        auto* records = open();
        const std::size_t before = type("crew").records.size();
        choose(records, "Market hands");
        press(records, "recordLike");
        QCOMPARE(type("crew").records.size(), before + 1);
        type(records->findChild<QLineEdit*>("recordName"), "Bridge hands");
        QTest::keyClicks(records->findChild<QLineEdit*>("recordSearch"), "bridge");
        auto* list = records->findChild<QTreeWidget*>("recordList");
        QCOMPARE(list->topLevelItemCount(), 1);
        QCOMPARE(list->topLevelItem(0)->text(0), QString("Crew 1"));
        QCOMPARE(list->topLevelItem(0)->childCount(), 1);
        QCOMPARE(field(records, "master")->text(), QString("Miller’s Ruth"));
        press(records, "recordDelete");
        QCOMPARE(type("crew").records.size(), before);
        QVERIFY(editor_->session().undo());
        QCOMPARE(type("crew").records.size(), before + 1);
    }
    void whoUsesItIsListed() {
        auto uses = ops::recordUses(editor_->session(), base::ObjectId{0x5a0c4be19d0f3a01});
        QVERIFY(uses && uses->size() == 3 && !uses->front().ids.empty());  // in all scenes
        auto* records = open();
        choose(records, "The Otter’s crew");
        press(records, "recordUses");
        auto* list = records->findChild<QTreeWidget*>("usesList");
        QVERIFY(list != nullptr);
        QCOMPARE(list->topLevelItem(0)->text(1), QString::number(uses->front().ids.size()));
    }
    void typesAreHeadingsThatFoldAndStaySo() {
        auto* records = open();
        auto heading = [](app::RecordsWindow* of, const char* name) {
            auto* list = of->findChild<QTreeWidget*>("recordList");
            for (int i = 0; i < list->topLevelItemCount(); ++i)
                if (list->topLevelItem(i)->text(0).startsWith(name)) return list->topLevelItem(i);
            return static_cast<QTreeWidgetItem*>(nullptr);
        };
        const std::size_t before = type("cargo").records.size();
        QTreeWidgetItem* cargo = heading(records, "Cargo");
        QVERIFY(cargo != nullptr && cargo->isExpanded());
        QCOMPARE(std::size_t(cargo->childCount()), before);
        QVERIFY(!cargo->child(0)->text(1).isEmpty());  // what it says, in a line
        // A new one is of the type that is chosen, by its heading or by one of its records.
        records->findChild<QTreeWidget*>("recordList")->setCurrentItem(cargo);
        press(records, "recordNew");
        QCOMPARE(type("cargo").records.size(), before + 1);
        QVERIFY(editor_->session().undo());
        heading(records, "Cargo")->setExpanded(false);
        QTest::keyClick(records->findChild<QTreeWidget*>("recordList"), Qt::Key_Escape);
        QTRY_VERIFY(window_->findChild<app::RecordsWindow*>() == nullptr);
        QVERIFY(view().hasFocus());
        records = open();
        QVERIFY(!heading(records, "Cargo")->isExpanded());
        // What is searched for shows, folded or not; and then all is as it was.
        auto* search = records->findChild<QLineEdit*>("recordSearch");
        QTest::keyClicks(search, "pears");
        QVERIFY(heading(records, "Cargo")->isExpanded());
        QCOMPARE(heading(records, "Cargo")->childCount(), 1);
        search->clear();
        QVERIFY(!heading(records, "Cargo")->isExpanded());
        heading(records, "Cargo")->setExpanded(true);
    }
    void theViewStaysInSightBesideThem() {
        const int alone = view().width();
        auto* records = open();
        QVERIFY(records->window() == window_.get());
        QVERIFY(view().isVisible() && view().width() > alone / 3);
        run("records.open");
        QCOMPARE(window_->findChildren<app::RecordsWindow*>().size(), 1);
        // Undo works while the keyboard is in them.
        choose(records, "Pears");
        type(field(records, "weight"), "+= 2");
        QVERIFY(editor_->session().history().undoTarget().has_value());
        auto* list = records->findChild<QTreeWidget*>("recordList");
        window_->activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(window_.get()));
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(field(records, "weight")->text(), QString("3.50"));
        // What a message says stands over no word of the view, however narrow it is; the list gives its room back.
        run("edit.delete");
        editor_->say("Nothing");
        auto* toast = window_->findChild<QLabel*>("toastText")->parentWidget();
        QVERIFY(toast->isVisible() && toast->width() < 140 && toast->height() < 50);
        editor_->say(QString("a word ").repeated(20));
        QVERIFY(toast->geometry().left() > 165 || toast->geometry().bottom() < view().height() - 160);
        QVERIFY(toast->height() < 80);
        QTest::keyClick(list, Qt::Key_Escape);
        QTRY_COMPARE(view().width(), alone);
        // Also when it is pulled out, and when the other of two goes last.
        open();
        run("kinds.open");
        for (QDockWidget* dock : window_->findChildren<QDockWidget*>())
            if (dock->testAttribute(Qt::WA_DeleteOnClose)) dock->close();
        QTRY_COMPARE(view().width(), alone);
        open();
        for (QDockWidget* dock : window_->findChildren<QDockWidget*>())
            if (dock->testAttribute(Qt::WA_DeleteOnClose)) dock->setFloating(true);
        QTRY_COMPARE(view().width(), alone);
    }
};

MELLOW_TEST(WindowRecordsTest)
}  // namespace window_records_test
#include "window_records_test.moc"
