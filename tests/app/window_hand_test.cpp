// Handing over in the real window: a recipe made, its list live beside it and lit, written; a list with faults looked
// at and taken in; a hand-over with its report, and files put back.
#include <QCheckBox>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTreeWidget>

#include "app/panels/hand_panel.h"
#include "app/window_fixture.h"
#include "base/text.h"
#include "support/test_main.h"

namespace window_hand_test {

namespace fs = std::filesystem;

class WindowHandTest : public WindowFixture {
    Q_OBJECT

    base::ObjectId bench_;

    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    QPlainTextEdit& text() { return *the<QPlainTextEdit>("recipeText"); }
    QPlainTextEdit& out() { return *the<QPlainTextEdit>("recipeOut"); }
    QTreeWidget& rows() { return *the<QTreeWidget>("takeInRows"); }
    app::HandPanel& panel() { return *window_->findChild<app::HandPanel*>(); }
    /// All rows of the report, a line each.
    QString report() {
        QString all;
        auto* tree = the<QTreeWidget>("reportRows");
        for (int i = 0; i < tree->topLevelItemCount(); ++i) {
            all += tree->topLevelItem(i)->text(0) + "\n";
            for (int k = 0; k < tree->topLevelItem(i)->childCount(); ++k)
                all += "  " + tree->topLevelItem(i)->child(k)->text(0) + " | " +
                       tree->topLevelItem(i)->child(k)->text(1) + "\n";
        }
        return all;
    }
    QString litText() {
        QStringList lines;
        for (const auto& lit : out().extraSelections()) lines << lit.cursor.selectedText();
        return lines.join("\n");
    }
    void showRecipe(const char* name) {
        auto* names = the<QComboBox>("recipeNames");
        names->setCurrentIndex(names->findData("-" + QString::fromLatin1(name)));
        Q_EMIT names->activated(names->currentIndex());
    }
    void replaceInText(const QString& from, const QString& to) {
        QTextCursor at = text().document()->find(from);
        QVERIFY2(!at.isNull(), qPrintable(from));
        text().setFocus();
        text().setTextCursor(at);
        QTest::keyClicks(&text(), to);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-hand-test"); }
    void init() {
        openFreshCopy();
        run("desk.hand");
        test::settle();
    }
    void cleanup() { closeWindow(); }

    void aRecipeIsMadeSeenLiveKeptAndUndone() {
        const std::size_t had = session().library().recipes.size();
        the<QAction>("recipeExample.json-lines")->trigger();
        QCOMPARE(session().library().recipes.size(), had + 1);
        QTRY_VERIFY(out().toPlainText().contains("\"model\":\"bench\"") || the<QComboBox>("recipeFiles")->count() > 3);
        replaceInText("\"group\"", "\"one\"");
        QTRY_COMPARE(the<QComboBox>("recipeFiles")->count(), 1);
        QTRY_VERIFY(out().toPlainText().contains("\"model\":\"bench\""));
        replaceInText("\"model\"", "\"thing\"");
        QTRY_VERIFY(out().toPlainText().contains("\"thing\":\"bench\""));
        QCOMPARE(session().library().recipes.size(), had + 1);
        press("recipeKeep");
        const auto& kept = session().library().recipes.at("json-lines");
        QCOMPARE(model::textOf(kept, "files"), std::string("one"));
        QVERIFY(!the<QPushButton>("recipeKeep")->isEnabled());
        run("edit.undo");
        QCOMPARE(model::textOf(session().library().recipes.at("json-lines"), "files"), std::string("group"));
        QTRY_VERIFY(text().toPlainText().contains("\"group\""));
        run("edit.undo");
        QCOMPARE(session().library().recipes.size(), had);
    }
    void aReceiverIsMadeChangedAndUndone() {
        showRecipe("json-list");
        the<QAction>("receiverNew")->trigger();
        QCOMPARE(session().library().receivers.size(), std::size_t{2});
        QTRY_VERIFY(text().toPlainText().contains("mellow-receiver"));
        replaceInText("\"handover\"", "\"out\"");
        press("recipeKeep");
        QCOMPARE(model::textOf(session().library().receivers.at("game"), "folder"), std::string("out"));
        auto* receivers = the<QComboBox>("handReceivers");
        receivers->setCurrentIndex(receivers->findData("game"));
        press("handOver");  // nothing that needs to be asked about
        QTRY_VERIFY(report().contains("lower-basin.glb"));
        QVERIFY(fs::exists(demo_->folder() / "out" / "lower-basin.json"));
        press("reportClose");
        replaceInText("\"gives\"", "\"givs\"");
        QTRY_VERIFY(the<QLabel>("recipeProblem")->text().contains("giv"));
        press("handBack");
        QVERIFY(!fs::exists(demo_->folder() / "out" / "lower-basin.json"));
    }
    void aFaultIsNamedAtItsLineAndTheListStays() {
        showRecipe("json-list");
        QTRY_VERIFY(out().toPlainText().contains("\"item\":\"bench\""));
        replaceInText("\"yxz\"", "\"yyz\"");
        QTRY_VERIFY(the<QLabel>("recipeProblem")->text().contains("turns.order"));
        QVERIFY(out().toPlainText().contains("\"item\":\"bench\""));
        replaceInText("\"yyz\"", "\"yxz\"");
        QTRY_VERIFY(the<QLabel>("recipeProblem")->isHidden());
        replaceInText("\"fields\":", "fields:");
        QTRY_VERIFY(the<QLabel>("recipeProblem")->text().contains("json-list:"));
        QVERIFY(!text().extraSelections().isEmpty());
    }
    void theLineOfWhatIsSelectedIsLitAndAClickSelects() {
        showRecipe("json-list");
        QTRY_VERIFY(out().toPlainText().contains("\"item\":\"bench\""));
        editor_->select({idOf("Bench 2")});
        QTRY_VERIFY(litText().contains("\"Bench 2\""));
        QVERIFY(litText().contains(QString::fromStdString(base::toText(idOf("Bench 2")))));
        editor_->select({idOf("Bench 2"), idOf("Lantern post 1")});
        QTRY_COMPARE(out().extraSelections().size(), 2);
        // A click on another line, by the mouse.
        const QTextCursor other = out().document()->find("\"Bench 1\"");
        out().setFocus();
        QTextCursor near = other;
        near.clearSelection();
        out().setTextCursor(near);
        out().ensureCursorVisible();
        test::settle();
        QTest::mouseClick(out().viewport(), Qt::LeftButton, {}, out().cursorRect(near).center() - QPoint(20, 0));
        QTRY_COMPARE(editor_->selection().size(), std::size_t{1});
        QCOMPARE(editor_->selection().front(), idOf("Bench 1"));
    }
    void theListFollowsTheScene() {
        showRecipe("csv-table");
        QTRY_VERIFY(out().toPlainText().contains("Bench 1"));
        editor_->run("Rename", [&](edit::Draft& draft) {
            const base::ObjectId ids[] = {idOf("Bench 1")};
            const base::Name names[] = {session().intern("Long bench")};
            return draft.setLabels(model::LabelField::Name, ids, names);
        });
        QTRY_VERIFY(out().toPlainText().contains("Long bench"));
        run("edit.undo");
        QTRY_VERIFY(!out().toPlainText().contains("Long bench"));
    }
    void aHandOverIsLookedAtDoneAndPutBack() {
        const std::string settings = test::fileBytes(demo_->folder() / "game" / "levels.json"), before = document();
        auto* receivers = the<QComboBox>("handReceivers");
        QCOMPARE(receivers->count(), 1);
        press("handPreview");
        QTRY_VERIFY(report().contains("lower-basin.json"));
        QVERIFY(report().contains("heron-game"));
        QVERIFY(!fs::exists(demo_->folder() / "game" / "levels" / "lower-basin.json"));
        press("reportClose");
        // Its command is asked about once; the answer is given by the key.
        QTimer::singleShot(0, this, [] {
            for (QWidget* w : QApplication::topLevelWidgets())
                if (w->objectName() == "handAllow")
                    if (auto* yes = w->findChild<QPushButton*>("handAllowYes")) QTest::mouseClick(yes, Qt::LeftButton);
        });
        press("handOver");
        QTRY_VERIFY_WITH_TIMEOUT(report().contains("ended well"), 20000);
        QVERIFY2(report().contains("things of"), qPrintable(report()));
        QVERIFY(fs::exists(demo_->folder() / "game" / "levels" / "lower-basin.csv"));
        QVERIFY(test::fileBytes(demo_->folder() / "game" / "levels.json") != settings);
        QCOMPARE(document(), before);
        press("handOver");  // allowed from now on: nobody asks
        QTRY_VERIFY_WITH_TIMEOUT(!panel().isRunning(), 20000);
        run("hand.back");
        QCOMPARE(test::fileBytes(demo_->folder() / "game" / "levels.json"), settings);
        QVERIFY(!fs::exists(demo_->folder() / "game" / "levels" / "lower-basin.json"));
    }
    void itsLimitsAreCheckedAllTheTime() {
        const auto beyond = [this] {
            const auto& all = editor_->checks().findings();
            return std::count_if(all.begin(), all.end(),
                                 [](const check::Finding& f) { return f.rule == "receiver-name"; });
        };
        const auto rename = [this](const char* name) {
            editor_->run("Rename", [&](edit::Draft& draft) {
                const base::ObjectId ids[] = {scene().id(scene().find(bench_))};
                const base::Name names[] = {session().intern(name)};
                return draft.setLabels(model::LabelField::Name, ids, names);
            });
        };
        bench_ = idOf("Bench 1");
        rename("A bench by the water, before the third stall of the market");
        editor_->checks().wait();
        QCOMPARE(beyond(), 0);
        press("handCheck");
        editor_->checks().wait();
        QTRY_COMPARE(beyond(), 1);
        rename("Bench 1");
        QTRY_COMPARE(beyond(), 0);
        run("edit.undo");
        QTRY_COMPARE(beyond(), 1);
        press("handCheck");
        QTRY_COMPARE(beyond(), 0);
    }
    void aNoToItsCommandsDoesNothing() {
        QTimer::singleShot(0, this, [] {
            for (QWidget* w : QApplication::topLevelWidgets())
                if (w->objectName() == "handAllow") QTest::keyClick(w, Qt::Key_Escape);
        });
        press("handOver");
        QVERIFY(!fs::exists(demo_->folder() / "game" / "levels" / "lower-basin.json"));
    }
    void aListWithThreeFaultsIsReadBack() {
        showRecipe("csv-table");
        const hand::Recipe recipe = *panel().recipes().typed();
        const hand::Source source{scene(), session().library(), {}};
        std::string list = hand::write(source, recipe).files.at(0).text;
        const auto replaceCell = [&](const std::string& name, const std::string& from, const std::string& to) {
            const std::size_t line = list.find(";" + name + ";"), at = list.find(from, line);
            QVERIFY(line != std::string::npos && at != std::string::npos && at < list.find('\n', line));
            list.replace(at, from.size(), to);
        };
        replaceCell("Bench 1", ";bench;", ";Seat07;");
        replaceCell("Bench 2", ";bench;", ";bench;far");
        list += "no-id;Another;bench;1;2;3;0;0;0;1;1;1\r\n";
        replaceCell("Lantern post 1", "Lantern post 1", "First lantern");
        const std::string path = (demo_->folder() / "list.csv").string(), before = document();
        test::writeBytes(path, list);
        panel().lookAt(QString::fromStdString(path));
        test::settle();
        QVERIFY2(the<QLabel>("takeInSummary")->text().contains("3 wrong"),
                 qPrintable(the<QLabel>("takeInSummary")->text()));
        QVERIFY(!the<QPushButton>("takeInAccept")->isEnabled());
        int wrong = 0;
        for (int i = 0; i < rows().topLevelItemCount(); ++i)
            wrong += rows().topLevelItem(i)->text(0).contains("wrong") ? 1 : 0;
        QCOMPARE(wrong, 3);
        QCOMPARE(document(), before);
        the<QCheckBox>("takeInDespite")->click();
        press("takeInAccept");
        QVERIFY(named("First lantern") != kNoSlot);
        QCOMPARE(named("Another"), kNoSlot);
        run("edit.undo");
        QCOMPARE(document(), before);
        run("edit.redo");
        QVERIFY(named("First lantern") != kNoSlot);
    }
    void aNameIsToldOnce() {
        const std::string path = (demo_->folder() / "list.json").string();
        test::writeBytes(
            path, "{\"things\": [{\"name\": \"Seat by the water\", \"item\": \"Seat07\", \"place\": [1, 0, 30]}]}");
        showRecipe("json-list");
        panel().lookAt(QString::fromStdString(path));
        test::settle();
        auto* is = the<QComboBox>("takeInItem.Seat07");
        QVERIFY(is != nullptr);
        is->setCurrentIndex(is->findData(QString("bench")));
        Q_EMIT is->activated(is->currentIndex());
        QTRY_VERIFY(the<QPushButton>("takeInAccept")->isEnabled());
        press("takeInAccept");
        QCOMPARE(scene().itemText(named("Seat by the water")), std::string_view("bench"));
        panel().lookAt(QString::fromStdString(path));
        test::settle();
        QVERIFY(the<QPushButton>("takeInAccept")->isEnabled());  // it knows by now
    }
    void columnsOfOthersAreToldWhatTheyAre() {
        const std::string path = (demo_->folder() / "others.csv").string();
        test::writeBytes(path, "Label,Model,PosX,PosY,PosZ,Spin\nSeat by the water,bench,1,0,30,90\n");
        panel().lookAt(QString::fromStdString(path));
        auto* recipes = the<QComboBox>("takeInRecipe");
        recipes->setCurrentIndex(0);
        Q_EMIT recipes->activated(0);
        test::settle();
        QVERIFY2(the<QLabel>("takeInSummary")->text().startsWith("1 new"),
                 qPrintable(the<QLabel>("takeInSummary")->text()));
        auto* spin = the<QComboBox>("takeInIs.5");
        QVERIFY(spin != nullptr);
        spin->setCurrentText("turnY");
        press("takeInAccept");
        const Slot made = named("Seat by the water");
        QVERIFY(made != kNoSlot);
        QVERIFY(std::abs(base::toDegrees(scene().local(made).rotation).y - 90) < 1e-6);
    }
};

MELLOW_TEST(WindowHandTest)
}  // namespace window_hand_test
#include "window_hand_test.moc"
