// Scripts in the window, driven as a person would: written, run, previewed, asked for values, dragged by a handle.
#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStandardPaths>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeView>

#include "app/dialogs/script_card.h"
#include "app/panels/script_panel.h"
#include "app/shell/asking.h"
#include "app/shell/scripts.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "io/templates.h"
#include "io/workspace.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_script_test {

class WindowScriptTest : public WindowFixture {
    Q_OBJECT

    app::Scripts& scripts() { return editor_->scripts(); }
    template <class T>
    T* the(const char* name) {
        return window_->findChild<T*>(name);
    }
    void useScripts() {
        if (scripts().asksTrust()) the<QToolButton>("trustYes")->click();
    }
    void showPage() {
        if (!the<QWidget>("scriptPanel")->isVisible()) run("desk.script");
        test::settle();
    }
    /// Types a script into the page, as a new one.
    void type(const QString& text) {
        showPage();
        auto* edit = the<QWidget>("scriptText");
        edit->setFocus();
        QTest::keyClick(edit, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClick(edit, Qt::Key_Delete);
        for (const QString& line : text.split('\n')) {
            QTest::keyClicks(edit, line);
            QTest::keyClick(edit, Qt::Key_Return);
            QTest::keyClick(edit, Qt::Key_Home, Qt::ShiftModifier);  // no indentation of its own
            QTest::keyClick(edit, Qt::Key_Delete);
        }
    }
    void command(const QString& name) {
        for (const app::Command& one : window_->commands().all())
            if (one.text == name) return window_->commands().action(one.id)->trigger();
        qFatal("no command %s", qPrintable(name));
    }
    QString output() { return the<QPlainTextEdit>("scriptOutput")->toPlainText(); }
    QString toast() { return the<QLabel>("toastText")->text(); }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("scripts"); }
    void init() {
        QStandardPaths::setTestModeEnabled(true);
        QDir(QString::fromStdString(
                 (QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/scripts").toStdString()))
            .removeRecursively();
        openFreshCopy();
    }
    void cleanup() { closeWindow(); }

    void nobodyFollowsAScriptUntilItEndsOrAFrameIsDue() {
        const std::string before = bytes();
        std::size_t told = 0, created = 0;
        connect(editor_.get(), &app::Editor::sceneEdited, this, [&](const edit::SceneDelta& delta) {
            ++told;
            created += delta.created.size();
        });
        app::ScriptJob job;
        job.name = "Many";
        job.source = {"many.lua",
                      "local all = {} for i = 1, 400 do local o = place('bench', -40 + i % 20, 40, 10 + i // 20) "
                      "o:move(vec(0, 1, 0)) o:name('Row ' .. i) all[i] = o end remove({all[7]}) table.remove(all, 7) "
                      "seat(all)",
                      {}};
        QString said;
        connect(&scripts(), &app::Scripts::ran, this, [&](const app::ScriptJob&, const script::Outcome& outcome) {
            said = QString::fromStdString(outcome.message);
        });
        QVERIFY2(scripts().run(job), qPrintable(said));
        QVERIFY2(told < 60, qPrintable(QString::number(told)));  // 1,200 verbs
        QCOMPARE(created, std::size_t{399});
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(editor_->session().redo());
        // What shows the scene knows all of it.
        auto* tree = window_->findChild<QTreeView*>("rosterTree");
        const std::string after = bytes();
        auto* filter = window_->findChild<QLineEdit*>("rosterFilter");
        filter->setText("Row 399");
        QTRY_VERIFY(tree->model()->rowCount() > 0);
        // One that fails leaves nothing behind.
        job.source.text += " error('no')";
        told = 0;
        QVERIFY(!scripts().run(job));
        QVERIFY(told < 60);
        QCOMPARE(bytes(), after);
    }
    void aProjectFromElsewhereIsAskedAboutOnce() {
        QVERIFY(scripts().asksTrust());
        QVERIFY(scripts().shelf().offers().empty());
        QVERIFY(the<QLabel>("trustText")->isVisible());
        QVERIFY(the<QLabel>("trustText")->text().contains("13 scripts"));
        the<QToolButton>("trustNo")->click();
        QVERIFY(!the<QLabel>("trustText")->isVisible());
        QVERIFY(scripts().shelf().offers().empty());
        run("scripts.trust");
        QVERIFY(scripts().shelf().offers().size() >= 9);
        closeWindow();
        openWindow();
        QVERIFY(!scripts().asksTrust());
        QVERIFY(scripts().shelf().offers().size() >= 9);
    }
    void aScriptIsWrittenRunAndUndone() {
        const std::string before = bytes();
        type("for i, o in ipairs(find(\"item:bollard\")) do\no:name(\"Quay \" .. i)\nend\nsay(\"done\")");
        the<QToolButton>("scriptRun")->click();
        QVERIFY2(output().contains("done"), qPrintable(output()));
        QVERIFY(named("Quay 3") != kNoSlot);
        QVERIFY(bytes() != before);
        run("edit.undo");
        QCOMPARE(bytes(), before);  // one step
        run("scripts.repeat");
        QVERIFY(named("Quay 3") != kNoSlot);
    }
    void anErrorIsMarkedAtItsLineAndChangesNothing() {
        const std::string before = bytes();
        type("find()[1]:name(\"gone\")\nlocal x = nil\nx.y = 1");
        the<QToolButton>("scriptRun")->click();
        QCOMPARE(bytes(), before);
        QVERIFY2(output().contains("lines.lua:3:"), qPrintable(output()));
        QVERIFY(toast().contains("lines.lua:3:"));
    }
    void aPreviewIsShownDroppedAndAccepted() {
        useScripts();
        const std::string before = bytes();
        command("Number along the quay");
        auto* card = window_->findChild<app::ScriptCard*>();
        QVERIFY(card != nullptr && card->isVisible());
        the<QPushButton>("scriptPreview")->click();
        QVERIFY(scripts().preview().has_value());
        QCOMPARE(scripts().preview()->changed, std::size_t{0});  // they are numbered already
        auto* name = card->findChild<QLineEdit*>("property.name");
        name->setFocus();
        name->selectAll();
        QTest::keyClicks(name, "Post");
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(!scripts().canRepeat() || scripts().preview());  // in a field it only takes the value
        the<QPushButton>("scriptPreview")->click();
        QCOMPARE(scripts().preview()->changed, std::size_t{6});
        auto* table = the<QTableWidget>("scriptPreviewTable");
        QTRY_VERIFY(table->isVisible());
        QCOMPARE(table->rowCount(), 6);
        QVERIFY(table->item(0, 2)->text().contains("renamed from Bollard"));
        QCOMPARE(bytes(), before);
        the<QPushButton>("scriptDrop")->click();
        QVERIFY(!scripts().preview() && !table->isVisible());
        the<QPushButton>("scriptPreview")->click();
        the<QPushButton>("scriptAccept")->click();
        QVERIFY(named("Post 1") != kNoSlot);
        QVERIFY(!scripts().preview());
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aFormRefusesBadValuesAndRemembersTheLast() {
        useScripts();
        command("Lanterns between");
        auto* card = window_->findChild<app::ScriptCard*>();
        auto* count = card->findChild<app::NumberField*>("property.count") != nullptr
                          ? card->findChild<app::NumberField*>("property.count")
                          : card->findChild<QWidget*>("property.count")->findChild<app::NumberField*>();
        QVERIFY(count != nullptr);
        auto enter = [&](const QString& text) {
            count->setFocus();
            count->selectAll();
            QTest::keyClicks(count, text);
            QTest::keyClick(count, Qt::Key_Return);
        };
        enter("99");
        auto* problem = the<QLabel>("scriptProblem");
        QVERIFY2(problem->isVisible() && problem->text().contains("60"), qPrintable(problem->text()));
        enter("7");
        QVERIFY(!problem->isVisible());
        QVERIFY(!scripts().marks().empty());  // it draws where they would stand
        QCOMPARE(scripts().marks().size(), std::size_t{8});
        card->close();
        QTRY_VERIFY(window_->findChild<app::ScriptCard*>() == nullptr);
        QVERIFY(scripts().marks().empty());
        command("Lanterns between");
        QCOMPARE(scripts().marks().size(), std::size_t{8});  // seven again
        const std::size_t before = editor_->scene().objectCount();
        the<QPushButton>("scriptDo")->click();
        QVERIFY(editor_->scene().objectCount() >= before + 7);
        QTRY_VERIFY(window_->findChild<app::ScriptCard*>() == nullptr);  // done: it goes
    }
    void aPlaceIsPointedAt() {
        useScripts();
        command("Lanterns between");
        auto* card = window_->findChild<app::ScriptCard*>();
        card->findChild<QWidget*>("property.from")->findChild<QToolButton*>()->click();
        QVERIFY(editor_->asking().asksPoint());
        QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(view().width() / 3, view().height() * 3 / 4));
        QVERIFY(!editor_->asking().asksPoint());
        QVERIFY(glm::length(scripts().marks().front().a - base::Vec3(-58, 1, 17)) > 0.1);
    }
    void aPanelStaysAndFollowsTheSelection() {
        useScripts();
        command("Within reach");
        QVERIFY(scripts().marks().empty());
        editor_->select({idOf("Bollard 2")});
        QCOMPARE(scripts().marks().size(), std::size_t{2});
        the<QPushButton>("scriptDo")->click();
        QVERIFY(window_->findChild<app::ScriptCard*>() != nullptr);  // it stays
        run("edit.escape");
        QTRY_VERIFY(window_->findChild<app::ScriptCard*>() == nullptr);
        QVERIFY(scripts().marks().empty());
    }
    void commandsAreInTheirMenuAndInFind() {
        useScripts();
        auto* bar = window_->menuWidget()->findChild<QMenuBar*>("menus");
        bool found = false;
        for (const QAction* top : bar->actions())
            for (const QAction* one : top->menu()->actions())
                if (one->menu() != nullptr && one->text() == "Heron Lock")
                    for (const QAction* sub : one->menu()->actions())
                        found = found || (sub->menu() != nullptr && sub->text() == "Tidy up");
        QVERIFY(found);
        auto* find = the<QLineEdit>("find");
        find->setFocus();
        QTest::keyClicks(find, "Number along");
        QTest::keyClick(find, Qt::Key_Return);
        QVERIFY(window_->findChild<app::ScriptCard*>() != nullptr);
    }
    void filesAreReadAgainAndBrokenOnesSayWhere() {
        useScripts();
        const auto file = demo_->folder() / "scripts" / "fresh.lua";
        test::writeBytes(file, "command { name = \"Fresh\", run = function() say(\"one\") end }");
        auto offered = [this](const char* name) {
            for (const auto& offer : scripts().shelf().offers())
                if (offer.spec.name == name) return true;
            return false;
        };
        QTRY_VERIFY(offered("Fresh"));
        command("Fresh");
        QVERIFY(output().contains("one"));
        test::writeBytes(file, "command { name = \"Fresh\", run = function() say(\"two\") end");
        QTRY_VERIFY(!scripts().shelf().script(file)->problem.empty());
        QVERIFY(scripts().shelf().script(file)->problem.find("fresh.lua:1:") != std::string::npos);
        command("Fresh");  // the last good version
        QVERIFY(output().count("one") == 2 && !output().contains("two"));
        std::filesystem::remove(file);
        QTRY_VERIFY(!offered("Fresh"));
    }
    void aShortcutThatIsTakenIsReportedWithBothOwners() {
        useScripts();
        test::writeBytes(demo_->folder() / "scripts" / "taken.lua",
                         "command { name = \"Taken\", shortcut = \"Ctrl+Z\", run = function() end }");
        QTRY_VERIFY(toast().contains("taken.lua"));
        QVERIFY(toast().contains("Undo"));
    }
    void personalScriptsAreThereInEveryProject() {
        const auto folder = scripts().personalFolder();
        std::filesystem::create_directories(folder);
        test::writeBytes(folder / "mine.lua", "command { name = \"My own\", run = function() say(\"mine\") end }");
        scripts().refresh();
        command("My own");
        QVERIFY(output().contains("mine"));
        std::filesystem::remove_all(folder);
    }
    void theConsoleGivesValuesAndMakesSteps() {
        showPage();
        auto* line = the<QLineEdit>("scriptConsole");
        line->setFocus();
        QTest::keyClicks(line, "#find(\"item:bollard\")");
        QTest::keyClick(line, Qt::Key_Return);
        QVERIFY2(output().contains("\n6"), qPrintable(output()));
        QTest::keyClicks(line, "clock() > 1e9");
        QTest::keyClick(line, Qt::Key_Return);
        QVERIFY2(output().endsWith("true"), qPrintable(output()));
        const std::string before = bytes();
        QTest::keyClicks(line, "named(\"Bollard 1\"):name(\"First\")");
        QTest::keyClick(line, Qt::Key_Return);
        QVERIFY(named("First") != kNoSlot);
        run("edit.undo");
        QCOMPARE(bytes(), before);
        for (int back = 0; back < 3; ++back) QTest::keyClick(line, Qt::Key_Up);
        QCOMPARE(line->text(), QString("#find(\"item:bollard\")"));
    }
    void aBehaviourReactsToACheckboxWithinTheStep() {
        useScripts();
        const base::ObjectId post = idOf("Lantern post 5");
        editor_->select({post});
        test::settle();
        const std::string before = bytes();
        auto* lit = the<QCheckBox>("property.lit");
        QVERIFY(lit != nullptr);
        const bool wasLit = lit->isChecked();
        lit->click();
        Slot lamp = kNoSlot;
        const model::Scene& scene = editor_->scene();
        for (Slot s = scene.firstChild(scene.find(post)); s != kNoSlot; s = scene.nextSibling(s))
            if (scene.kindText(s) == "Lamp") lamp = s;
        QVERIFY(lamp != kNoSlot);
        QCOMPARE((scene.flagsOf(lamp) & model::flags::kUnseen) != 0, wasLit);
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aHandleOfABehaviourIsDraggedAsOneStep() {
        useScripts();
        const base::ObjectId post = idOf("Lantern post 4");
        editor_->select({post});
        run("view.bring");
        test::settle();
        const auto pixel = view().grips().at(0);
        const std::string before = bytes();
        const auto step = editor_->session().history().present();
        QTest::mouseMove(&view(), pixel.toPoint());
        QTest::mousePress(&view(), Qt::LeftButton, {}, pixel.toPoint());
        for (int i = 1; i <= 8; ++i) QTest::mouseMove(&view(), pixel.toPoint() + QPoint(4 * i, 2 * i));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, pixel.toPoint() + QPoint(32, 16));
        QVERIFY(bytes() != before);
        QVERIFY(editor_->session().history().present() != step);
        run("edit.undo");
        QCOMPARE(bytes(), before);
        QCOMPARE(editor_->session().history().present(), step);
    }
    void aLongRunShowsHowFarItIsAndIsCalledOff() {
        showPage();
        const std::string before = bytes();
        QTimer::singleShot(700, window_.get(), [this] {
            for (auto* stop : window_->findChildren<QPushButton*>("openingCancel")) stop->click();
        });
        type("find()[1]:name(\"x\")\nwhile true do progress(0.5) end");
        the<QToolButton>("scriptRun")->click();
        QTRY_VERIFY2(output().contains("called off") || output().contains("too long"), qPrintable(output()));
        QCOMPARE(bytes(), before);
    }
    void severalScenesAreOneStep() {
        QVERIFY(editor_->run(
            "New scene", [&](edit::Draft& d) { return io::createScene(editor_->workspace(), d, "second", "empty"); }));
        app::ScriptJob job;
        job.name = "Both";
        job.source = {"both.lua", "place(\"bollard\", vec(0, 0, 0)) say(sceneName())", {}};
        job.scenes = {"lower-basin", "second"};
        QVERIFY(scripts().showPreview(job));
        QCOMPARE(scripts().preview()->created, std::size_t{2});
        scripts().acceptPreview();
        auto second = editor_->session().scene("second");
        QVERIFY(second);
        const std::size_t with = (*second)->objectCount();
        run("edit.undo");
        QCOMPARE((*editor_->session().scene("second"))->objectCount(), with - 1);
        QVERIFY(output().contains("second"));
    }
    void templatesAndSnippetsStart() {
        useScripts();
        editor_->select({idOf("Lantern post 5")});
        for (const char* sort : {"plain", "command", "panel", "behaviour"}) {
            run((std::string("scripts.new.") + sort).c_str());
            showPage();
            script::Source source;
            source.name = "new.lua";
            source.text = window_->findChild<app::LuaEditor*>()->text().toStdString();
            const auto reading = script::declare(source);
            QVERIFY2(reading.outcome.done(), reading.outcome.message.c_str());
            QVERIFY(source.text.find("KIND") == std::string::npos);
        }
        QMenu menu;
        window_->findChild<app::ScriptPanel*>()->fillSnippets(&menu);
        bool found = false;
        for (QAction* action : menu.actions())
            if (action->text() == "This object: Lantern post 5") {
                action->trigger();
                found = true;
            }
        QVERIFY(found);
        QVERIFY(window_->findChild<app::LuaEditor*>()->text().contains("local o = named(\"Lantern post 5\")"));
    }
};

MELLOW_TEST(WindowScriptTest)
}  // namespace window_script_test
#include "window_script_test.moc"
