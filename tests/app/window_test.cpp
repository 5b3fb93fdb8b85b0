// The real window, driven as a person would. Needs a display; tests/CMakeLists.txt runs it under one of its own.
// Selecting and transforming in the view are in window_exact_test.cpp.
#include <QClipboard>
#include <QComboBox>
#include <QMenu>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTreeView>

#include "app/shell/preferences.h"
#include "app/shell/tools.h"
#include "app/walkthrough.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "render/handle.h"
#include "support/test_main.h"

namespace window_test {

class WindowTest : public WindowFixture {
    Q_OBJECT
  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void theFirstMinutesGiveTheSameBytesAfterReopening() {
        const std::string untouched = test::fileBytes(demo_->scenePath());
        test::Walkthrough walk(*window_, *editor_, [](const QString&) {});
        QVERIFY(walk.fetchByTyping());
        QVERIFY(walk.dragIntoView());
        QVERIFY(walk.dragHandle());
        QVERIFY(walk.typeValue());
        const std::string done = bytes();
        QVERIFY(walk.undoAll());
        QVERIFY(bytes() == untouched);
        QVERIFY(walk.redoAll());
        QVERIFY(bytes() == done);
        QVERIFY(walk.save());
        const std::string saved = test::fileBytes(demo_->scenePath());
        QVERIFY(saved == done);
        closeWindow();
        openWindow();
        QVERIFY(bytes() == saved);
        QVERIFY(editor_->session().history().undoTarget().has_value());
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QVERIFY(bytes() == untouched);
        run("project.save");
        window_->finishSaving();
        QVERIFY(test::fileBytes(demo_->scenePath()) == untouched);
    }
    void thePictureShowsThePlaceAndNotOneColour() {
        const QImage picture = view().drawNow();
        QCOMPARE(picture.size(), view().size());
        std::set<QRgb> colours;
        for (int y = 0; y < picture.height(); y += 7)
            for (int x = 0; x < picture.width(); x += 7) colours.insert(picture.pixel(x, y));
        QVERIFY2(colours.size() > 300, qPrintable(QString::number(colours.size())));
    }
    void anotherSelectionIsBroughtIntoViewInsteadOfGoingBack() {
        const auto start = view().camera();
        editor_->select({idOf("Bench 1")});
        run("view.bring");
        const auto first = view().camera();
        editor_->select({idOf("Bollard 3")});
        run("view.bring");
        QVERIFY(!(view().camera() == start) && !(view().camera() == first));
        run("view.bring");
        QVERIFY(view().camera() == first);
    }
    void aClickSelectsWhatIsUnderIt() {
        const Slot cargo = named("Cargo");
        QTest::mouseClick(&view(), Qt::LeftButton, {}, pixelOf(cargo));
        // It is part of a barge, which is taken whole.
        const auto barge = editor_->scene().id(editor_->scene().parent(cargo));
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{barge});
        // Shift adds, Ctrl takes away, a click on nothing lets go.
        editor_->select({idOf("Bench 1")});
        QTest::mouseClick(&view(), Qt::LeftButton, Qt::ShiftModifier, pixelOf(cargo));
        QCOMPARE(editor_->selection().size(), std::size_t{2});
        QTest::mouseClick(&view(), Qt::LeftButton, Qt::ControlModifier, pixelOf(cargo));
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(view().width() / 2, 4));
        QVERIFY(editor_->selection().empty());
    }
    void aStockItemIsPlacedAgainAndAgainUntilEscape() {
        const std::size_t before = editor_->scene().objectCount();
        editor_->setPlacing("bench");
        const QPoint spot(view().width() / 2, view().height() * 3 / 4);
        QTest::mouseMove(&view(), spot);
        QTest::mouseClick(&view(), Qt::LeftButton, {}, spot);
        QTest::mouseClick(&view(), Qt::LeftButton, {}, spot + QPoint(60, 0));
        QCOMPARE(editor_->scene().objectCount(), before + 2);
        run("edit.escape");
        QVERIFY(editor_->placing().empty());
        QTest::mouseClick(&view(), Qt::LeftButton, {}, spot + QPoint(0, 40));
        QCOMPARE(editor_->scene().objectCount(), before + 2);
    }
    void findPlacesItemsRunsCommandsAndGoesToObjects() {
        auto* find = window_->findChild<app::FindField*>("find");
        const std::size_t before = editor_->scene().objectCount();
        run("help.find");
        QTest::keyClicks(find, "place milestone");
        find->clear();
        QTest::keyClicks(find, "milestone");
        QTest::keyClick(find, Qt::Key_Return);
        QCOMPARE(editor_->scene().objectCount(), before + 1);
        QTest::keyClicks(find, "undo");
        QTest::keyClick(find, Qt::Key_Return);
        QCOMPARE(editor_->scene().objectCount(), before);
        QTest::keyClicks(find, "Heron over");
        QTest::keyClick(find, Qt::Key_Return);
        QVERIFY(editor_->isSelected(named("Heron over the basin")));
    }
    void copiesCutsAndDuplicatesAreOneStepEach() {
        const base::ObjectId barge = idOf("Barge 2");
        const std::size_t inBarge = editor_->scene().subtree(editor_->scene().find(barge)).size();
        const std::size_t before = editor_->scene().objectCount();
        const std::string untouched = bytes();
        editor_->select({barge, idOf("Bench 1")});
        run("edit.duplicate");
        QCOMPARE(editor_->scene().objectCount(), before + inBarge + 1);
        run("edit.undo");
        QVERIFY(bytes() == untouched);
        editor_->select({barge});
        run("edit.copy");
        QVERIFY(QApplication::clipboard()->text().startsWith("{\"format\":\"mellow-scene\""));
        run("edit.paste");
        QCOMPARE(editor_->scene().objectCount(), before + inBarge);
        run("edit.undo");
        editor_->select({barge});
        run("edit.cut");
        QCOMPARE(editor_->scene().objectCount(), before - inBarge);
        run("edit.paste");
        QCOMPARE(editor_->scene().objectCount(), before);
        run("edit.delete");
        QCOMPARE(editor_->scene().objectCount(), before - inBarge);
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QVERIFY(bytes() == untouched);
    }
    void theRosterRenamesAndReparentsKeepingPlace() {
        auto* tree = window_->findChild<QTreeView*>("rosterTree");
        auto* roster = static_cast<app::RosterModel*>(tree->model());
        const Slot bench = named("Bench 1");
        const base::ObjectId id = editor_->scene().id(bench);
        QVERIFY(roster->setData(roster->indexOf(bench), "Bench by the bridge", Qt::EditRole));
        QCOMPARE(std::string(editor_->scene().nameText(bench)), std::string("Bench by the bridge"));
        QVERIFY(!roster->setData(roster->indexOf(bench), "  ", Qt::EditRole));
        const base::Vec3 place = editor_->scene().world(bench).translation;
        std::unique_ptr<QMimeData> data(roster->mimeData({roster->indexOf(bench)}));
        roster->dropMimeData(data.get(), Qt::MoveAction, -1, 0, roster->indexOf(named("Keeper's place")));
        const Slot now = editor_->scene().find(id);
        QCOMPARE(editor_->scene().parent(now), named("Keeper's place"));
        QVERIFY(glm::length(editor_->scene().world(now).translation - place) < 1e-9);
    }
    void theRosterFilterAndSelectionAgree() {
        auto* tree = window_->findChild<QTreeView*>("rosterTree");
        auto* filter = window_->findChild<QLineEdit*>("rosterFilter");
        QTest::keyClicks(filter, "kind:Lantern");
        QCOMPARE(tree->model()->rowCount(), 12);
        tree->selectAll();
        QCOMPARE(editor_->selection().size(), std::size_t{12});
        filter->clear();
        QCOMPARE(editor_->selection().size(), std::size_t{12});
    }
    void severalObjectsTakeRelativeValues() {
        const base::ObjectId a = idOf("Milestone 1"), b = idOf("Milestone 2");
        const double ya = editor_->scene().local(editor_->scene().find(a)).position.y,
                     yb = editor_->scene().local(editor_->scene().find(b)).position.y;
        editor_->select({a, b});
        auto* field = window_->findChild<app::NumberField*>("posePositionY");
        field->setFocus();
        field->clear();
        QTest::keyClicks(field, "+= 1");
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(editor_->scene().local(editor_->scene().find(a)).position.y, ya + 1);
        QCOMPARE(editor_->scene().local(editor_->scene().find(b)).position.y, yb + 1);
        run("edit.undo");
        QCOMPARE(editor_->scene().local(editor_->scene().find(b)).position.y, yb);
    }
    void aWrongValueIsRefusedInWords() {
        editor_->select({idOf("Lantern post 1")});
        const std::string before = bytes();
        QSignalSpy said(editor_.get(), &app::Editor::message);
        auto* size = window_->findChild<app::NumberField*>("poseSizeX");
        for (const char* text : {"0", "abc", "3"}) {  // a lantern may not be sized
            size->setFocus();
            size->selectAll();
            QTest::keyClicks(size, text);
            QTest::keyClick(size, Qt::Key_Return);
        }
        QCOMPARE(said.count(), 3);
        QVERIFY(bytes() == before);
    }
    void aDragAlongTheHistoryStripGoesThroughTime() {
        auto* strip = window_->findChild<app::HistoryStrip*>("strip");
        const std::string first = bytes();
        editor_->placeAt("bench", {0, 2, 0});
        const std::string second = bytes();
        editor_->placeAt("bench", {3, 2, 0});
        const std::string third = bytes();
        const auto& steps = editor_->session().history().steps();
        const QPoint last = strip->placeOf(steps[1].id)->toPoint(), middle = strip->placeOf(steps[0].id)->toPoint();
        QTest::mousePress(strip, Qt::LeftButton, {}, last);
        QTest::mouseMove(strip, middle + QPoint(2, 5));
        QVERIFY(bytes() == second);
        QTest::mouseMove(strip, strip->placeOf(edit::kRoot)->toPoint() - QPoint(20, 0));
        QVERIFY(bytes() == first);
        QTest::keyClick(strip, Qt::Key_Escape);
        QVERIFY(bytes() == third);
        QTest::mouseRelease(strip, Qt::LeftButton, {}, middle);
        QTest::mousePress(strip, Qt::LeftButton, {}, last);
        QTest::mouseMove(strip, middle);
        QTest::mouseRelease(strip, Qt::LeftButton, {}, middle);
        QVERIFY(bytes() == second);
        QCOMPARE(editor_->session().history().steps().size(), std::size_t{2});
    }
    void theHistoryStripJumps() {
        auto* strip = window_->findChild<app::HistoryStrip*>("strip");
        const std::string untouched = bytes();
        for (const char* item : {"bench", "plank", "bollard"}) editor_->placeAt(item, {-30, 0, 20});
        const std::string full = bytes();
        QVERIFY(strip->placeOf(edit::kRoot).has_value());
        QTest::mouseClick(strip, Qt::LeftButton, {}, strip->placeOf(edit::kRoot)->toPoint());
        QVERIFY(bytes() == untouched);
        QTest::mouseClick(strip, Qt::LeftButton, {},
                          strip->placeOf(editor_->session().history().steps().back().id)->toPoint());
        QVERIFY(bytes() == full);
        run("edit.undo");
        editor_->placeAt("bench", {-20, 0, 20});  // a branch: what was there stays reachable
        QVERIFY(strip->placeOf(editor_->session().history().steps()[2].id).has_value());
    }
    void arrowsMoveByAStep() {
        const base::ObjectId id = idOf("Bench 1");
        editor_->select({id});
        view().setFocus();
        const base::Vec3 before = editor_->scene().world(editor_->scene().find(id)).translation;
        QTest::keyClick(&view(), Qt::Key_PageUp);
        QTest::keyClick(&view(), Qt::Key_Right);
        const base::Vec3 d = editor_->scene().world(editor_->scene().find(id)).translation - before;
        QCOMPARE(d.y, 0.25);
        QCOMPARE(std::abs(d.x) + std::abs(d.z), 0.25);
    }
    void theMouseTurnsSlidesAndZoomsTheView() {
        const auto before = view().camera();
        const QPoint middle = view().rect().center();
        QTest::mousePress(&view(), Qt::MiddleButton, {}, middle);
        QTest::mouseMove(&view(), middle + QPoint(40, 10));
        QTest::mouseRelease(&view(), Qt::MiddleButton, {}, middle + QPoint(40, 10));
        QVERIFY(view().camera().yawDegrees != before.yawDegrees);
        const auto orbited = view().camera();
        QTest::mousePress(&view(), Qt::MiddleButton, Qt::ShiftModifier, middle);
        QTest::mouseMove(&view(), middle + QPoint(30, 0));
        QTest::mouseRelease(&view(), Qt::MiddleButton, Qt::ShiftModifier, middle + QPoint(30, 0));
        QCOMPARE(view().camera().yawDegrees, orbited.yawDegrees);
        QVERIFY(view().camera().eye != orbited.eye);
        const auto slid = view().camera();
        QWheelEvent wheel(middle, view().mapToGlobal(middle), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&view(), &wheel);
        QVERIFY(view().camera().eye != slid.eye);
    }
    void everyCommandIsInAMenuWithATipAndReachableByName() {
        QSet<QAction*> inMenus;
        for (QMenu* menu : window_->findChildren<QMenu*>())
            for (QAction* action : menu->actions()) inMenus.insert(action);
        QSet<QString> keys;
        for (const app::Command& command : window_->commands().all()) {
            QAction* action = window_->commands().action(command.id);
            QVERIFY2(inMenus.contains(action), qPrintable(command.id));
            QVERIFY2(!command.tip.isEmpty(), qPrintable(command.id));
            const QString shortcut = action->shortcut().toString();
            QVERIFY2(shortcut.isEmpty() || !keys.contains(shortcut), qPrintable(command.id + " " + shortcut));
            keys.insert(shortcut);
        }
    }
    void controlsHaveNamesForThoseWhoDoNotSee() {
        for (QWidget* widget : window_->findChildren<QWidget*>()) {
            const bool control = qobject_cast<QLineEdit*>(widget) || qobject_cast<QToolButton*>(widget) ||
                                 qobject_cast<QAbstractItemView*>(widget);
            if (!control || !widget->isVisible() || widget->objectName().startsWith("qt_") ||
                widget->objectName() == "findResults")
                continue;
            const auto* button = qobject_cast<QToolButton*>(widget);
            QVERIFY2(!widget->accessibleName().isEmpty() || (button && !button->text().isEmpty()) ||
                         qobject_cast<QLineEdit*>(widget->parentWidget()),
                     qPrintable(widget->objectName() + " " + widget->metaObject()->className()));
        }
    }
    void bothThemesDrawAndAreRemembered() {
        run("view.oat");
        QCOMPARE(editor_->theme().name, QString("oat"));
        QVERIFY(!view().drawNow().isNull());
        window_->close();
        QTRY_VERIFY(!window_->isVisible());
        closeWindow();
        openWindow();
        QCOMPARE(editor_->theme().name, QString("oat"));
    }
    /// Each by its own name: what is not there, or there too much, takes nothing else with it.
    void whatIsSetIsThereAtTheNextStart() {
        const auto change = [this] {
            editor_->change(&app::Tools::uniform, !editor_->tools().uniform);
            editor_->change(&app::Tools::seatOntoSeen, !editor_->tools().seatOntoSeen);
            editor_->setStep(render::Task::Turn, {7.5, false});
            app::Catching catching = editor_->tools().catching;
            catching.hidden = !catching.hidden;
            editor_->change(&app::Tools::catching, catching);
            editor_->change(&app::Tools::selecting, {app::SelectShape::Lasso, true, false});
            app::Preferences likes = editor_->preferences();
            likes.handleSize = 1.75;
            editor_->setPreferences(likes);
        };
        const auto now = [this] {
            return QStringList{QString::number(editor_->tools().uniform),
                               QString::number(editor_->tools().seatOntoSeen),
                               QString::number(editor_->tools().step(render::Task::Turn).value),
                               QString::number(editor_->tools().step(render::Task::Turn).on),
                               QString::number(editor_->tools().catching.hidden),
                               QString::number(static_cast<int>(editor_->tools().selecting.shape)),
                               QString::number(editor_->tools().selecting.whole),
                               QString::number(editor_->preferences().handleSize)}
                .join(' ');
        };
        const auto usual = now();
        change();
        const auto set = now();
        QVERIFY(set != usual);
        window_->close();
        QTRY_VERIFY(!window_->isVisible());
        closeWindow();
        openWindow();
        QCOMPARE(now(), set);
        window_->close();
        QTRY_VERIFY(!window_->isVisible());
        closeWindow();
        std::filesystem::remove(demo_->folder() / ".mellow" / "window.json");  // else the project says it
        QSettings().remove("drag/uniform");
        QSettings().setValue("drag/whatIsToCome", true);
        openWindow();
        QCOMPARE(now(), usual.left(1) + set.mid(1));
    }
    void closingWithUnsavedStepsAsksAndNamesThem() {
        editor_->placeAt("bench", {-30, 0, 20});
        QString text;
        QTimer::singleShot(100, this, [&] {
            auto* question = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (question == nullptr) return;
            text = question->text();
            question->button(QMessageBox::Cancel)->click();
        });
        window_->close();
        QTRY_VERIFY(text.contains("lower-basin"));
        QVERIFY(text.contains("1 step"));
        QVERIFY(text.contains("Place Bench"));
        QVERIFY(window_->isVisible());
    }
    void aDamagedProjectOpensReadOnlyWithTheDamageListed() {
        closeWindow();
        test::writeBytes(demo_->scenePath(), test::fileBytes(demo_->scenePath()) + "{\"id\":\n");
        openWindow();
        auto* text = window_->findChild<QLabel*>("bannerText");
        QVERIFY(text->isVisible());
        QVERIFY(text->text().contains("damaged"));
        QVERIFY(!window_->commands().action("edit.delete")->isEnabled());
        window_->findChild<QToolButton*>("bannerShow")->click();
        QVERIFY(
            window_->findChild<QPlainTextEdit*>("damageList")->toPlainText().contains("lower-basin.scene.jsonl:317"));
        window_->findChild<QToolButton*>("bannerEdit")->click();
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
    }
    void aNewProjectIsMadeFromATemplateAndOpened() {
        QTemporaryDir place;
        run("project.new");
        auto* name = window_->findChild<QLineEdit*>("popoverName");
        QVERIFY(name != nullptr);
        name->setText(QString::fromStdString(demo_->folder().string()));
        QTest::keyClick(name, Qt::Key_Return);  // is not empty: says so and stays
        QVERIFY(name->isVisible());
        window_->findChild<QComboBox*>("popoverTemplate")->setCurrentText("empty");
        name->setText(place.filePath("mill"));
        QTest::keyClick(name, Qt::Key_Return);
        QTRY_COMPARE(editor_->session().project().name, std::string("mill"));
        QTRY_COMPARE(editor_->scene().objectCount(), std::size_t{0});
    }
    void aNewSceneIsMadeAndShown() {
        run("project.newScene");
        auto* name = window_->findChild<QLineEdit*>("popoverName");
        QVERIFY(name != nullptr);
        name->setText("mill pond");
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(editor_->sceneName(), std::string("mill pond"));
        QCOMPARE(editor_->scene().objectCount(), std::size_t{3});
    }
    void shortcutsCanBeChangedAndAreRemembered() {
        const QString lost = window_->commands().setShortcut("view.bring", Qt::Key_K);
        QCOMPARE(lost, QString("Hide"));
        closeWindow();
        openWindow();
        QCOMPARE(window_->commands().action("view.bring")->shortcut(), QKeySequence(Qt::Key_K));
        window_->commands().resetShortcuts();
        QCOMPARE(window_->commands().action("view.bring")->shortcut(), QKeySequence(Qt::Key_Q));
    }
};

MELLOW_TEST(WindowTest)
}  // namespace window_test
#include "window_test.moc"
