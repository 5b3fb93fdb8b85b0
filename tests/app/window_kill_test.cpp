// The window is killed in the middle of twenty edits, each made with mouse or keys, and opened again.
#include <QLineEdit>
#include <QProcess>
#include <QtTest>
#include <cstdio>

#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QToolButton>
#include "app/panels/desk.h"
#include "app/panels/find_field.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "app/view/gestures/handle.h"
#include "app/view/panes.h"
#include "edit/session.h"
#include "io/scene_file.h"
#include "io/workspace.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace window_kill_test {

constexpr int kEdits = 20;

struct Open {
    app::Editor editor;
    app::MainWindow window;
    explicit Open(const QString& folder)
        : editor(test::chance(static_cast<std::uint64_t>(QDateTime::currentMSecsSinceEpoch()))), window(editor) {
        window.resize(1280, 800);
        window.show();
        (void)QTest::qWaitForWindowExposed(&window);
        window.openProject(folder, io::OpenMode::Edit);
    }
};

/// Placing by name, lifting by the handle, nudging by keys, duplicating, by turns; tells of each when it is done.
int editUntilKilled(const QString& folder) {
    Open open(folder);
    app::ViewWidget& view = open.window.view();
    for (int i = 0; i < kEdits; ++i) {
        const auto before = open.editor.session().history().steps().size();
        if (i % 4 == 0) {
            auto* search = open.window.findChild<QLineEdit*>("stockSearch");
            search->clear();
            QTest::keyClicks(search, "bench");
            QTest::keyClick(search, Qt::Key_Return);
        } else if (i % 4 == 1) {
            const QPoint tip = view.gesture<app::PullHandle>().tip(1)->toPoint();
            QTest::mousePress(&view, Qt::LeftButton, {}, tip);
            QTest::mouseMove(&view, tip - QPoint(0, 30));
            QTest::mouseMove(&view, tip - QPoint(0, 60));
            QTest::mouseRelease(&view, Qt::LeftButton, {}, tip - QPoint(0, 60));
        } else if (i % 4 == 2) {
            QTest::keyClick(&view, Qt::Key_PageUp);
        } else {
            open.window.commands().action("edit.duplicate")->trigger();
        }
        if (open.editor.session().history().steps().size() != before + 1)
            return std::fprintf(stderr, "edit %d made no step\n", i), 3;
        std::puts("kept");
        std::fflush(stdout);
    }
    QTest::qWait(60'000);
    return 4;
}

class WindowKillTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void everyStepThatWasSeenIsThereAfterTheKill_data() {
        QTest::addColumn<int>("after");
        for (int n : {3, 10, 17}) QTest::newRow(std::to_string(n).c_str()) << n;
    }
    void everyStepThatWasSeenIsThereAfterTheKill() {
        QFETCH(int, after);
        test::DemoCopy demo;
        const QString folder = QString::fromStdString(demo.folder().string());
        const std::string untouched = test::fileBytes(demo.scenePath());
        QProcess process;
        process.setProcessChannelMode(QProcess::ForwardedErrorChannel);
        process.start(QCoreApplication::applicationFilePath(), {"window_kill_test", "--edit-until-killed", folder});
        QVERIFY(process.waitForStarted());
        QByteArray told;
        while (told.count('\n') < after && process.waitForReadyRead(60'000)) told += process.readAllStandardOutput();
        process.kill();
        process.waitForFinished();
        told += process.readAllStandardOutput();
        QCOMPARE(process.exitStatus(), QProcess::CrashExit);
        Open open(folder);
        const int kept = static_cast<int>(open.editor.session().history().steps().size());
        const int seen = static_cast<int>(told.count('\n'));
        QVERIFY2(seen >= after && (kept == seen || kept == seen + 1),
                 qPrintable(QString("%1 kept, %2 seen").arg(kept).arg(seen)));
        const std::string there = io::formatScene(open.editor.scene());
        QVERIFY(there != untouched);
        for (int i = 0; i < kept; ++i) open.window.commands().action("edit.undo")->trigger();
        QVERIFY(io::formatScene(open.editor.scene()) == untouched);
        for (int i = 0; i < kept; ++i) open.window.commands().action("edit.redo")->trigger();
        QVERIFY(io::formatScene(open.editor.scene()) == there);
    }
};

static const test::Registered known(__FILE__, [](int argc, char** argv) {
    QCoreApplication::setOrganizationName("mellow-lattice-test");
    QCoreApplication::setApplicationName("window-kill-test");
    QTemporaryDir settings;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
    if (argc == 3 && QByteArray(argv[1]) == "--edit-until-killed") return editUntilKilled(argv[2]);
    WindowKillTest tests;
    return QTest::qExec(&tests, argc, argv);
});
}  // namespace window_kill_test
#include "window_kill_test.moc"
