// What comes from outside while the window is open: files that others write, projects that cannot be written or whose
// history cannot be read, names that look like markup; and the ways out.
#include <QAbstractButton>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QToolButton>
#include <QToolTip>

#include "app/panels/script_panel.h"
#include "app/shell/scripts.h"
#include "edit/session.h"
#include "io/templates.h"
#include "io/workspace.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_outside_test {

namespace fs = std::filesystem;

class WindowOutsideTest : public WindowFixture {
    Q_OBJECT

    template <class T>
    T* the(const char* name) {
        return window_->findChild<T*>(name);
    }
    QLabel* barText() { return the<QLabel>("theirsText"); }
    void click(const char* name) {
        auto* button = the<QToolButton>(name);
        QVERIFY(button != nullptr && button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton);
    }
    /// Presses a button of the question that comes, by what it says; gives what was asked.
    QString answer(const QString& button, const std::function<void()>& cause) {
        QString asked;
        QTimer later;
        later.setInterval(30);
        connect(&later, &QTimer::timeout, this, [&] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (box == nullptr) return;
            asked = box->text();
            for (QAbstractButton* one : box->buttons())
                if (one->text().remove('&') == button) return later.stop(), QTest::mouseClick(one, Qt::LeftButton);
        });
        later.start();
        cause();
        for (int i = 0; i < 100 && later.isActive() && asked.isEmpty(); ++i) test::settle();
        test::settle();
        return asked;
    }
    std::string theirs() {
        std::string text = test::fileBytes(demo_->scenePath());
        const std::size_t at = text.find("\"Bench 1\"");
        return text.replace(at, 9, "\"their bench\"");
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("outside"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aFileThatOthersWriteIsToldAndReadAsOneStep() {
        const std::string before = bytes(), now = theirs();
        test::writeBytes(demo_->scenePath(), now);
        QTRY_VERIFY(barText()->isVisible());
        QVERIFY(barText()->text().contains("lower-basin"));
        click("compareTheirs");
        auto* list = the<QPlainTextEdit>("theirsList");
        QVERIFY(list != nullptr && list->toPlainText().contains("renamed from Bench 1"));
        QTest::keyClick(list, Qt::Key_Escape);
        click("readTheirs");
        QVERIFY(!barText()->isVisible());
        QVERIFY(bytes() == now);
        QVERIFY(named("their bench") != kNoSlot);
        QVERIFY(!editor_->session().isUnsaved("lower-basin"));
        run("edit.undo");
        QVERIFY(bytes() == before);
    }
    void savingOverTheirsIsRefusedUntilOneDecides() {
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
        const std::string mine = bytes(), now = theirs();
        test::writeBytes(demo_->scenePath(), now);
        run("project.save");  // at once, before anything was noticed
        QTRY_VERIFY(barText()->isVisible());
        QVERIFY(test::fileBytes(demo_->scenePath()) == now);
        QVERIFY(the<QLabel>("toastText")->text().contains("Kept in the history"));
        QVERIFY(barText()->text().contains("also changed here"));
        click("keepMine");
        QVERIFY(test::fileBytes(demo_->scenePath().string() + ".theirs") == now);
        run("project.save");
        QTRY_VERIFY(test::fileBytes(demo_->scenePath()) == mine);
        QTest::qWait(400);  // nothing is to come
        QVERIFY(!barText()->isVisible());
    }
    void ourOwnSavesAreNoNews() {
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
        run("project.save");
        QTRY_VERIFY(!editor_->session().isUnsaved("lower-basin"));
        QTest::qWait(500);  // nothing is to come
        QVERIFY(!barText()->isVisible());
    }
    void newKindsAndScenesOfOthersComeIn() {
        fs::copy_file(demo_->scenePath(), demo_->folder() / "scenes" / "pulled.scene.jsonl");
        test::writeBytes(demo_->folder() / "kinds" / "Owl.kind.json",
                         R"({"format":"mellow-kind","version":1,"name":"Owl"})");
        QTRY_VERIFY(barText()->isVisible() && barText()->text().contains("pulled"));
        QTRY_VERIFY(barText()->text().contains("Owl"));
        click("readTheirs");
        QVERIFY(!barText()->isVisible());
        QVERIFY(editor_->showScene("pulled").has_value());
        QVERIFY(editor_->session().library().kindNamed("Owl") != nullptr);
    }
    void theScriptPageAsksToo() {
        if (editor_->scripts().asksTrust()) the<QToolButton>("trustYes")->click();
        const fs::path file = demo_->folder() / "scripts" / "mine.lua";
        test::writeBytes(file, "say(1)\n");
        editor_->scripts().refresh();
        run("desk.script");
        auto* page = the<app::ScriptPanel>("scriptPanel");
        page->open(file);
        auto* text = the<QWidget>("scriptText");
        text->setFocus();
        QTest::keyClicks(text, "-- mine ");
        test::writeBytes(file, "say(2)\n");
        QTest::keyClick(text, Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(test::fileBytes(file), std::string("say(2)\n"));
        QLabel* bar = page->findChild<QLabel*>("theirsText");
        QVERIFY(bar->isVisible());
        QTest::mouseClick(page->findChild<QToolButton*>("keepMine"), Qt::LeftButton);
        QVERIFY(!bar->isVisible());
        QTest::keyClick(text, Qt::Key_S, Qt::ControlModifier);
        QVERIFY(test::fileBytes(file).starts_with("-- mine say(1)"));
        QCOMPARE(test::fileBytes(file.string() + ".theirs"), std::string("say(2)\n"));
    }

    void everyWayOutLeavesTheFilesAsTheyAreAndQuits_data() {
        QTest::addColumn<int>("way");
        QTest::newRow("Ctrl+Q") << 0;
        QTest::newRow("the menu") << 1;
        QTest::newRow("the window's button") << 2;
    }
    void everyWayOutLeavesTheFilesAsTheyAreAndQuits() {
        QFETCH(int, way);
        const std::string file = test::fileBytes(demo_->scenePath());
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
        auto leave = [&] {
            QApplication::setActiveWindow(window_.get());
            view().setFocus();
            if (way == 0) QTest::keyClick(&view(), Qt::Key_Q, Qt::ControlModifier);
            if (way == 1) run("project.quit");
            if (way == 2) window_->close();
        };
        // Called off, it stays and asks again.
        QVERIFY(answer("Cancel", leave).contains("lower-basin"));
        QVERIFY(window_->isVisible());
        QVERIFY(answer("Leave the files as they are", leave).contains("lower-basin"));
        QTRY_VERIFY(!window_->isVisible());
        QVERIFY(test::fileBytes(demo_->scenePath()) == file);
        closeWindow();
        openWindow();
        QVERIFY(named("Bench") != kNoSlot);  // every step is there
        QVERIFY(answer("Save", leave).contains("lower-basin"));
        QTRY_VERIFY(!window_->isVisible());
        QVERIFY(test::fileBytes(demo_->scenePath()) != file);
    }
    void whatIsUnsavedIsToldByFile() {
        auto* state = the<QLabel>("savedState");
        QVERIFY(state->text().contains("all files saved"));
        {
            edit::Draft draft(editor_->session(), "lower-basin", "Owl");
            const std::string key;
            const std::optional<model::ValueMap> owl = model::ValueMap{{"name", {"Owl"}}};
            QVERIFY(draft.setEntries("@kind/Owl", {&key, 1}, {&owl, 1}).has_value());
            QVERIFY(draft.commit().has_value());
        }
        QVERIFY2(state->text().contains("kind Owl"), qPrintable(state->text()));
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
        QVERIFY(state->text().contains("1 more file") && state->toolTip().contains("lower-basin"));
        run("project.save");
        QTRY_VERIFY(state->text().contains("all files saved"));
        QVERIFY(fs::exists(demo_->folder() / "kinds" / "Owl.kind.json"));
    }

    void aHistoryThatCannotBeReadCanBeBegunAnew() {
        closeWindow();
        fs::create_directories(demo_->folder() / ".mellow");
        test::writeBytes(demo_->folder() / ".mellow" / "ledger.db", std::string(5000, 'x'));
        editor_ = std::make_unique<app::Editor>(test::chance());
        window_ = std::make_unique<app::MainWindow>(*editor_);
        window_->show();
        const QString asked = answer("Start a new history", [&] {
            window_->openProject(QString::fromStdString(demo_->folder().string()), io::OpenMode::Edit);
        });
        QVERIFY(asked.contains("ledger.db"));
        QVERIFY(editor_->isOpen() && editor_->session().readOnlyReason().empty());
        QVERIFY(fs::exists(demo_->folder() / ".mellow" / "ledger-1.db"));
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
    }
    void aFileGivenToTheWindowOpensItsProjectOrOffersImport() {
        window_->openPath(QString::fromStdString((demo_->folder() / "scenes" / "broken-lock.scene.jsonl").string()),
                          io::OpenMode::Edit);
        QCOMPARE(editor_->sceneName(), std::string("broken-lock"));
        const fs::path model = demo_->folder().parent_path() / "Brücke 水.glb";
        fs::copy_file(demo_->folder() / "items" / "bench.glb", model);
        const QString asked =
            answer("Import", [&] { window_->openPath(QString::fromStdString(model.string()), io::OpenMode::Edit); });
        QVERIFY(asked.contains("Brücke 水.glb"));
        QVERIFY(editor_->session().library().item(editor_->session().intern("Brucke")) != nullptr);
        run("edit.undo");
        QVERIFY(editor_->session().library().item(editor_->session().intern("Brucke")) == nullptr);
    }
    void namesAreNeverTakenForMarkup() {
        const QString name = "<b>bold</b><img src='file:///etc/hostname'>";
        editor_->say(name);
        auto* toast = the<QLabel>("toastText");
        QCOMPARE(toast->textFormat(), Qt::PlainText);
        for (QLabel* label : window_->findChildren<QLabel*>())
            if (label->isVisible()) QVERIFY2(label->textFormat() == Qt::PlainText, qPrintable(label->objectName()));
        QToolTip::showText(window_->mapToGlobal(QPoint(20, 20)), name, window_.get());
        bool found = false;
        for (QWidget* widget : QApplication::topLevelWidgets())
            if (auto* tip = qobject_cast<QLabel*>(widget); tip != nullptr && tip->text() == name) {
                QCOMPARE(tip->textFormat(), Qt::PlainText);
                found = true;
            }
        QVERIFY(found);
    }
    void scriptsThatHadToBeStoppedAreAskedAboutAgain() {
        closeWindow();
        test::writeBytes(demo_->folder() / "scripts" / "endless.lua", "while true do end");
        openWindow();
        QVERIFY(editor_->scripts().asksTrust());
        the<QToolButton>("trustYes")->click();
        closeWindow();
        openWindow();
        QVERIFY(editor_->scripts().asksTrust());  // it was not kept
        fs::remove(demo_->folder() / "scripts" / "endless.lua");
        the<QToolButton>("trustYes")->click();
        closeWindow();
        openWindow();
        QVERIFY(!editor_->scripts().asksTrust());
    }
    void scriptsThatHungAreLeftAloneNextTime() {
        the<QToolButton>("trustYes")->click();
        QTRY_VERIFY(!QSettings().contains("scripts/trying"));  // they have run for a while: it is kept
        // The process was ended by force while they ran.
        QSettings().setValue("scripts/trying", QString::fromStdString(fs::canonical(demo_->folder()).string()));
        closeWindow();
        QSettings().setValue("scripts/trying", QString::fromStdString(fs::canonical(demo_->folder()).string()));
        openWindow();
        QVERIFY(editor_->scripts().hungLastTime() && !editor_->scripts().isTrusted());
        QVERIFY(the<QLabel>("trustText")->isVisible());
        QVERIFY(the<QLabel>("trustText")->text().contains("did not come to an end"));
    }
    void aScriptStopsWithinAFifthOfASecondWhenCancelled() {
        the<QToolButton>("trustYes")->click();
        const std::string before = bytes();
        for (const char* text : {"while true do end", "local a = ('x'):rep(2e6) while true do a:lower() end",
                                 "local c = {} for i = 1, 500 do c[i] = place('crate', i % 30, 40, i // 30) end "
                                 "while true do seat(c) end"}) {
            app::ScriptJob job;
            job.name = "Endless";
            job.source.name = "endless.lua";
            job.source.text = text;
            QElapsedTimer since;
            QTimer::singleShot(700, this, [&] {
                auto* cancel = the<QAbstractButton>("openingCancel");
                QVERIFY(cancel != nullptr);
                since.start();
                cancel->click();
            });
            QVERIFY(!editor_->scripts().run(job));
            const qint64 took = since.elapsed();
            QVERIFY2(took < 1000, qPrintable(QString("%1 ms: %2").arg(took).arg(text)));
            QVERIFY(bytes() == before);
        }
    }
};

MELLOW_TEST(WindowOutsideTest)
}  // namespace window_outside_test
#include "window_outside_test.moc"
