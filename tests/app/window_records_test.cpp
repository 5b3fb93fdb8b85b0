// Records in their window, as a designer works with them.
#include <QAbstractButton>
#include <QLineEdit>
#include <QTreeWidget>

#include "app/dialogs/records_window.h"
#include "app/window_fixture.h"
#include "ops/records.h"

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
        const auto rows = list->findItems(name, Qt::MatchExactly);
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
        QCOMPARE(field(records, "master")->text(), QString("Miller’s Ruth"));
        press(records, "recordDelete");
        QCOMPARE(type("crew").records.size(), before);
        QVERIFY(editor_->session().undo());
        QCOMPARE(type("crew").records.size(), before + 1);
    }
    void whoUsesItIsListed() {
        auto uses = ops::recordUses(editor_->session(), base::ObjectId{0x5a0c4be19d0f3a01});
        QVERIFY(uses && uses->size() == 2 && !uses->front().ids.empty());  // in both scenes
        auto* records = open();
        choose(records, "The Otter’s crew");
        press(records, "recordUses");
        auto* list = records->findChild<QTreeWidget*>("usesList");
        QVERIFY(list != nullptr);
        QCOMPARE(list->topLevelItem(0)->text(1), QString::number(uses->front().ids.size()));
    }
    void typesAreChipsAndTheLastOneIsRemembered() {
        auto* records = open();
        for (auto* chip : records->findChildren<QAbstractButton*>("chip"))
            if (chip->text().startsWith("Cargo")) {
                QTest::mouseClick(chip, Qt::LeftButton);
                break;
            }
        QTest::qWait(20);
        auto* list = records->findChild<QTreeWidget*>("recordList");
        QCOMPARE(list->topLevelItemCount(), int(type("cargo").records.size()));
        press(records, "recordNew");
        QCOMPARE(list->topLevelItemCount(), int(type("cargo").records.size()));
        records->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        auto* again = open()->findChild<QTreeWidget*>("recordList");
        QCOMPARE(again->topLevelItemCount(), int(type("cargo").records.size()));
    }
};

QTEST_MAIN(WindowRecordsTest)
#include "window_records_test.moc"
