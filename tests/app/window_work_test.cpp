// Work that takes long: it shows how far it has come, goes on beside the window, and is stopped without a trace.
#include <QLabel>
#include <QPushButton>
#include <thread>

#include "app/dialogs/progress_card.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "ops/objects.h"
#include "support/test_main.h"

namespace window_work_test {

using base::ObjectId;

class WindowWorkTest : public WindowFixture {
    Q_OBJECT
    /// Writes a few objects at a time, and takes `pieces` times five milliseconds.
    static base::Status slowly(edit::Draft& draft, int pieces) {
        for (int i = 0; i < pieces; ++i) {
            std::this_thread::sleep_for(std::chrono::milliseconds(5));
            model::ObjectRecord r;
            r.id = draft.session().random().nextId();
            r.name = draft.session().intern("Slow " + std::to_string(i));
            if (base::Status made = draft.create({&r, 1}); !made) return made;
        }
        return {};
    }
    app::ProgressCard* card() { return window_->findChild<app::ProgressCard*>(); }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-work-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void whatIsQuickShowsNothing() {
        bool shown = false;
        QTimer watch;
        connect(&watch, &QTimer::timeout, this, [&] { shown = shown || card() != nullptr; });
        watch.start(1);
        QVERIFY(editor_->run("Quick", [](edit::Draft& d) { return slowly(d, 3); }));
        QVERIFY(!shown);
    }
    void itSaysWhatItHasComeToAndIsAStep() {
        QStringList said;
        QTimer watch;
        connect(&watch, &QTimer::timeout, this, [&] {
            if (card() != nullptr && card()->isVisible())
                for (QLabel* l : card()->findChildren<QLabel*>()) said << l->text();
        });
        watch.start(10);
        const std::size_t before = editor_->session().history().steps().size();
        QVERIFY(editor_->run("Slow work", [](edit::Draft& d) { return slowly(d, 200); }));
        QVERIFY2(said.contains("Slow work"), qPrintable(said.join("; ")));
        QVERIFY2(!said.filter("new objects so far").isEmpty(), qPrintable(said.join("; ")));
        QVERIFY(card() == nullptr);
        QCOMPARE(editor_->session().history().steps().size(), before + 1);
    }
    void stoppedItLeavesNothingBehind() {
        const std::string before = bytes();
        QTimer watch;
        connect(&watch, &QTimer::timeout, this, [&] {
            if (card() == nullptr || !card()->isVisible()) return;
            watch.stop();
            QTest::mouseClick(card()->findChild<QPushButton*>("openingCancel"), Qt::LeftButton);
        });
        watch.start(20);
        QVERIFY(!editor_->run("Slow work", [](edit::Draft& d) { return slowly(d, 2000); }));
        QCOMPARE(bytes(), before);
        test::settle();
        QVERIFY(window_->findChild<QLabel*>("toastText")->text().contains("nothing was changed"));
        // The next one is not stopped.
        QVERIFY(editor_->run("Again", [](edit::Draft& d) { return slowly(d, 3); }));
    }
    void duplicatingAHundredThousandShowsItAndIsUndoneToTheByte() {
        constexpr std::size_t kMany = 100000;
        std::vector<model::ObjectRecord> records(kMany);
        ops::Ids ids;
        for (std::size_t i = 0; i < kMany; ++i) {
            records[i].id = editor_->session().random().nextId();
            records[i].name = editor_->session().intern("Marker " + std::to_string(i));
            records[i].item = editor_->session().intern("pear-crate");
            records[i].local.position = {double(i % 400) * 2 - 400, 200, double(i / 400) * 2 - 250};
            ids.push_back(records[i].id);
        }
        QVERIFY(editor_->run("Many", [&](edit::Draft& d) { return d.create(records); }));
        const std::string before = bytes();
        const std::size_t count = editor_->scene().objectCount();
        editor_->select(ids);
        bool shown = false;
        QTimer watch;
        connect(&watch, &QTimer::timeout, this, [&] { shown = shown || card() != nullptr; });
        watch.start(5);
        QElapsedTimer clock;
        clock.start();
        run("edit.duplicate");
        qInfo("duplicating 100,000: %lld ms", clock.elapsed());
        QVERIFY(shown);
        QCOMPARE(editor_->scene().objectCount(), count + kMany);
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
};

MELLOW_TEST(WindowWorkTest)
}  // namespace window_work_test
#include "window_work_test.moc"
