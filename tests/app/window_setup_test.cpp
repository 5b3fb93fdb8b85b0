// Setting up by mouse and keys: scenes as wholes, what is set for a scene and the project, items, kinds, what can be
// done at the pointer.
#include <QAbstractButton>
#include <QComboBox>
#include <QListWidget>
#include <QMenu>
#include <QTreeWidget>

#include "app/dialogs/item_card.h"
#include "app/dialogs/scenes_popover.h"
#include "app/panels/scene_card.h"
#include "app/shell/tools.h"
#include "edit/scene_list.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "model/facets/solid.h"
#include "model/scene_fields.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_setup_test {

namespace fs = std::filesystem;

class WindowSetupTest : public WindowFixture {
    Q_OBJECT
    QTreeWidget* scenes() {
        run("scene.list");
        test::settle();
        return the<QTreeWidget>("scenesList");
    }
    QStringList listed(QTreeWidget* list) {
        QStringList names;
        for (int i = 0; i < list->topLevelItemCount(); ++i) names << list->topLevelItem(i)->text(0);
        return names;
    }
    void choose(QTreeWidget* list, const QString& name) {
        list->setCurrentItem(list->findItems(name, Qt::MatchExactly, 0).front());
    }
    bool hasFile(const char* name) {
        return fs::exists(demo_->folder() / "scenes" / (std::string(name) + ".scene.jsonl"));
    }
    /// The first kind of the window is put there, by the menu as a hand would.
    void putInStock(const char* as) {
        auto* button = the<QToolButton>("kindInStock");
        auto* menu = the<QMenu>("kindLooks");
        QTimer::singleShot(0, menu, [menu, as] {
            for (QAction* action : menu->actions())
                if (action->text() == as)
                    QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
            menu->close();
        });
        QTest::mouseClick(button, Qt::LeftButton);
        test::settle();
    }
    void save() {
        run("project.save");
        QTRY_VERIFY(session().unsavedScenes().empty());
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-setup-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aSceneIsRenamedInTheListAndTheWindowFollows() {
        const std::string before = bytes();
        auto* list = scenes();
        QCOMPARE(listed(list), (QStringList{"broken-lock", "lower-basin", "three-chambers"}));
        QCOMPARE(list->currentItem()->text(0), QString("lower-basin"));
        list->setFocus();
        QTest::keyClick(list, Qt::Key_F2);
        auto* edit = list->findChild<QLineEdit*>();
        QVERIFY(edit != nullptr);
        edit->selectAll();
        QTest::keyClicks(edit, "the basin");
        QTest::keyClick(edit, Qt::Key_Return);
        test::settle();
        QCOMPARE(editor_->sceneName(), std::string("the basin"));
        QCOMPARE(session().project().firstScene, std::string("the basin"));
        QCOMPARE(bytes(), before);
        QCOMPARE(listed(list), (QStringList{"broken-lock", "the basin", "three-chambers"}));
        save();
        QVERIFY(hasFile("the basin") && !hasFile("lower-basin"));
        // A name that cannot be leaves all as it was, and says so.
        list = the<QTreeWidget>("scenesList");
        list->currentItem()->setText(0, "../out");
        test::settle();
        QVERIFY(the<QLabel>("toastText")->text().contains("cannot be"));
        QCOMPARE(listed(list), (QStringList{"broken-lock", "the basin", "three-chambers"}));
        // Back: the window shows what there is.
        run("edit.undo");
        QTRY_COMPARE(editor_->sceneName(), std::string("lower-basin"));
        QCOMPARE(bytes(), before);
        save();
        QVERIFY(!hasFile("the basin") && hasFile("lower-basin"));
    }
    void theSceneThatIsShownIsDeletedAndComesBack() {
        const std::string before = bytes();
        auto* list = scenes();
        choose(list, "three-chambers");
        QTest::keyClick(list, Qt::Key_Delete);
        test::settle();
        list = the<QTreeWidget>("scenesList");
        QCOMPARE(editor_->sceneName(), std::string("lower-basin"));
        choose(list, "lower-basin");
        QTest::keyClick(list, Qt::Key_Delete);
        QTRY_COMPARE(editor_->sceneName(), std::string("broken-lock"));
        test::settle();
        QVERIFY(!the<QAbstractButton>("sceneDelete")->isEnabled());  // the last one
        save();
        QVERIFY(!hasFile("lower-basin"));
        run("edit.undo");
        test::settle();
        QCOMPARE(listed(the<QTreeWidget>("scenesList")), (QStringList{"broken-lock", "lower-basin"}));
        choose(the<QTreeWidget>("scenesList"), "lower-basin");
        press("sceneGo");
        QCOMPARE(bytes(), before);
        save();
        QVERIFY(hasFile("lower-basin"));
    }
    void orderAndMarksAreSetInTheList() {
        auto* list = scenes();
        press("sceneUp");
        QCOMPARE(listed(list), (QStringList{"lower-basin", "broken-lock", "three-chambers"}));
        QVERIFY(!the<QAbstractButton>("sceneUp")->isEnabled());
        press("sceneScratch");  // the first scene cannot be one
        QVERIFY(!the<QAbstractButton>("sceneScratch")->isChecked());
        choose(list, "broken-lock");
        press("sceneScratch");
        press("sceneTemplate");
        QVERIFY(list->currentItem()->text(1).contains("scratch, template"));
        run("project.newScene");
        auto* from = the<QComboBox>("popoverTemplate");
        QVERIFY(from->findText("broken-lock") >= 0);
        from->setCurrentText("broken-lock");
        typeInto(the<QLineEdit>("popoverName"), "like it");
        QCOMPARE(editor_->sceneName(), std::string("like it"));
        QCOMPARE(scene().objectCount(), std::size_t{488});
        for (int i = 0; i < 4; ++i) QVERIFY(session().undo());
        QCOMPARE(session().project().sceneNames,
                 (std::vector<std::string>{"broken-lock", "lower-basin", "three-chambers"}));
    }
    void aDuplicateIsShownAndItsOwn() {
        const std::string before = bytes();
        run("scene.duplicate");
        typeInto(the<QLineEdit>("popoverName"), "evening");
        QCOMPARE(editor_->sceneName(), std::string("evening"));
        QCOMPARE(bytes(), before);
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
        QVERIFY(editor_->showScene("lower-basin"));
        QCOMPARE(bytes(), before);
    }
    void withNothingSelectedTheSunIsSet() {
        const std::string before = bytes();
        editor_->select({});
        test::settle();
        QVERIFY(the<QWidget>("sceneForm")->isVisible());
        typeInto(field("sceneForm", "property.sunHeight"), "10");
        QVERIFY(std::abs(glm::normalize(scene().settings().sunDirection).y + std::sin(base::radians(10.0))) < 1e-9);
        typeInto(field("sceneForm", "property.sunBearing"), "+= 90");
        typeInto(field("sceneForm", "property.haze"), "300");
        QCOMPARE(scene().settings().hazeMetres, 300.0);
        typeInto(field("sceneForm", "property.haze"), "-4");  // refused: the field shows what there is
        QCOMPARE(scene().settings().hazeMetres, 300.0);
        QVERIFY(field("sceneForm", "property.haze")->text().startsWith("300"));
        const std::string after = bytes();
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QCOMPARE(bytes(), before);
        for (int i = 0; i < 3; ++i) run("edit.redo");
        QCOMPARE(bytes(), after);
        // What is selected takes its place, and gives it back.
        editor_->select({idOf("Bench 2")});
        QVERIFY(!the<QWidget>("sceneForm")->isVisible());
        editor_->select({});
        QVERIFY(the<QWidget>("sceneForm")->isVisible());
    }
    void theSunIsDraggedInTheView() {
        const std::string before = bytes();
        editor_->select({});
        const base::Vec3 to = -glm::normalize(scene().settings().sunDirection);
        view().setCamera(render::Camera::looking({0, 30, 0}, base::Vec3(0, 30, 0) + to * 10.0 + base::Vec3(0, -3, 0)));
        test::settle();
        QCOMPARE(view().grips().size(), std::size_t{1});
        const QPoint sun = view().grips().front().toPoint();
        auto honeyAt = [&](const QPoint& centre) {
            const QImage shot = view().grab().toImage();
            int found = 0;
            for (int x = -16; x <= 16; ++x)
                for (int y = -16; y <= 16; ++y) {
                    const QColor c = shot.pixelColor(centre + QPoint(x, y));
                    found += c.red() > c.blue() + 40 ? 1 : 0;
                }
            return found;
        };
        QVERIFY2(honeyAt(sun) > 20, qPrintable(QString::number(honeyAt(sun))));
        drag(sun, sun + QPoint(120, -60));
        test::settle();
        const base::Vec3 now = -scene().settings().sunDirection;
        QVERIFY(std::abs(glm::length(now) - 1) < 1e-9);
        QVERIFY((view().grips().front() - QPointF(sun + QPoint(120, -60))).manhattanLength() < 3);
        QCOMPARE(session().history().steps().back().name, std::string("Move the sun"));
        const std::string after = bytes();
        run("edit.undo");
        QCOMPARE(bytes(), before);
        run("edit.redo");
        QCOMPARE(bytes(), after);
        // Taken back by Esc, in the middle.
        const QPoint there = view().grips().front().toPoint();
        QTest::mousePress(&view(), Qt::LeftButton, {}, there);
        for (int k = 1; k < 6; ++k) QTest::mouseMove(&view(), there + QPoint(-10 * k, 0));
        QVERIFY(bytes() != after);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QCOMPARE(bytes(), after);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, there);
        QCOMPARE(bytes(), after);
        // By Shift in steps of five degrees.
        QTest::mousePress(&view(), Qt::LeftButton, Qt::ShiftModifier, there);
        for (int k = 1; k < 6; ++k) {
            QMouseEvent move(QEvent::MouseMove, QPointF(there + QPoint(-10 * k, 4 * k)),
                             view().mapToGlobal(QPointF(there + QPoint(-10 * k, 4 * k))), Qt::NoButton, Qt::LeftButton,
                             Qt::ShiftModifier);
            QApplication::sendEvent(&view(), &move);
        }
        QTest::mouseRelease(&view(), Qt::LeftButton, Qt::ShiftModifier, there + QPoint(-50, 20));
        const model::SunPlace place = model::sunPlace(scene().settings().sunDirection);
        QVERIFY(std::abs(std::remainder(place.heightDegrees, 5)) < 1e-6);
        QVERIFY(std::abs(std::remainder(place.bearingDegrees, 5)) < 1e-6);
        // With something selected, or by another light, it is not there to be taken.
        editor_->select({idOf("Bench 2")});
        test::settle();
        const std::size_t steps = session().history().steps().size();
        drag(there + QPoint(-50, 20), there);
        QCOMPARE(session().history().steps().size(), steps);
        editor_->select({});
        QVERIFY(glm::length(scene().settings().sunDirection - model::sunDirection(place)) < 1e-9);
    }
    void theWalkerIsSetForTheProject() {
        editor_->select({});
        test::settle();
        typeInto(field("projectForm", "property.eyeHeight"), "1.2");
        QCOMPARE(session().project().walker.eyeHeight, 1.2);
        typeInto(field("projectForm", "property.name"), "The valley");
        QTRY_VERIFY(window_->windowTitle().startsWith("The valley"));
        save();
        QVERIFY(test::fileBytes(demo_->folder() / "project.json").find("The valley") != std::string::npos);
    }
    void lengthsAreShownInTheProjectsUnit() {
        editor_->select({});
        test::settle();
        const auto before = session().entries(std::string(model::data::kItems));
        editor_->checks().wait();
        const auto findings = editor_->checks().findings().size();
        auto* units = the<QComboBox>("property.units", the<QWidget>("projectForm"));
        QVERIFY(units != nullptr && units->count() == 3);
        units->setCurrentText("centimetre");
        Q_EMIT units->activated(units->currentIndex());
        QCOMPARE(session().project().units, base::LengthUnit::Centimetre);
        editor_->checks().wait();
        QCOMPARE(editor_->checks().findings().size(), findings);  // what was accepted stays so
        const base::ObjectId bench = idOf("Bench 2");
        editor_->select({bench});
        test::settle();
        auto* x = the<QLineEdit>("posePositionX");
        const auto place = [&] { return scene().local(scene().find(bench)).position.x; };
        QVERIFY(std::abs(x->text().toDouble() - place() * 100) < 0.051);
        typeInto(x, "135");
        QCOMPARE(place(), 1.35);
        QCOMPARE(x->text(), QString("135.0"));
        typeInto(x, "+=5");
        QCOMPARE(place(), 1.4);
        typeInto(x, "2 m");
        QCOMPARE(place(), 2.0);
        // What one reads and types while a side is drawn out.
        const QPoint at = lookAtGround();
        run("draw.box");
        drag(at, at + QPoint(120, 60));
        QTest::keyClick(&view(), Qt::Key_Tab);
        auto* amount = the<QLineEdit>("amountField");
        QVERIFY(amount != nullptr && amount->isVisible());
        QTest::keyClicks(amount, "150");
        QTest::keyClick(amount, Qt::Key_Return);
        test::settle();
        const Slot solid = scene().find(editor_->selection().front());
        QVERIFY(solid != kNoSlot && scene().facet<model::Solid>(solid) != nullptr);
        QCOMPARE(scene().facet<model::Solid>(solid)->size.y, 1.5);
        run("edit.undo");
        editor_->setTool(app::Tool::Slide);
        editor_->select({bench});
        test::settle();
        auto* step = the<QLineEdit>("stepField");
        editor_->setStep(render::Task::Slide, {0.25, true});
        test::settle();
        QCOMPARE(step->text(), QString("25"));
        typeInto(step, "40");
        QCOMPARE(editor_->tools().step(render::Task::Slide).value, 0.4);
        editor_->setStep(render::Task::Slide, {0.25, true});
        save();
        QVERIFY(test::fileBytes(demo_->folder() / "project.json").find("\"units\":") != std::string::npos);
        while (session().project().units != base::LengthUnit::Metre) run("edit.undo");
        QVERIFY(session().entries(std::string(model::data::kItems)) == before);
        editor_->select({bench});
        test::settle();
        QVERIFY(std::abs(the<QLineEdit>("posePositionX")->text().toDouble() - place()) < 6e-4);
    }
    void anItemIsGivenAKindAndTakenOutOfUse() {
        const auto before = session().entries(std::string(model::data::kItems));
        auto* stock = window_->findChild<app::StockPanel*>();
        stock->reveal("bench");
        run("stock.card");
        test::settle();
        QVERIFY(the<QWidget>("itemForm") != nullptr);
        auto* kind = the<QComboBox>("property.kind", the<QWidget>("itemForm"));
        QVERIFY(kind != nullptr && kind->findText("Lantern") >= 0);
        kind->setCurrentText("Lantern");
        Q_EMIT kind->activated(kind->currentIndex());
        QCOMPARE(session().library().item(session().intern("bench"))->kind, std::string("Lantern"));
        QCOMPARE(stock->current(), QString("bench"));  // what is chosen stays so
        QVERIFY(editor_->placeAt("bench", {-30, 0, 20}));
        QCOMPARE(scene().kindText(scene().find(editor_->selection()[0])), std::string_view("Lantern"));
        typeInto(field("itemForm", "property.folder"), "Seats");
        QCOMPARE(session().library().item(session().intern("bench"))->folder, std::string("Seats"));
        QVERIFY(the<QLabel>("itemFacts")->text().contains("m high"));
        typeInto(field("itemForm", "property.label"), "");  // no name: refused
        QVERIFY(!session().library().item(session().intern("bench"))->label.empty());
        auto* offeredBox = the<QAbstractButton>("property.offered", the<QWidget>("itemForm"));
        QTest::mouseClick(offeredBox, Qt::LeftButton, {}, QPoint(8, offeredBox->height() / 2));
        QVERIFY(!session().library().item(session().intern("bench"))->offered);
        auto* tiles = the<QListView>("stockList");
        QStringList offered;
        stock->findChild<QLineEdit*>("stockSearch")->clear();
        for (int i = 0; i < tiles->model()->rowCount(); ++i) offered << tiles->model()->index(i, 0).data().toString();
        QVERIFY(!offered.contains("Bench"));
        QVERIFY(named("Bench 2") != kNoSlot);  // what is placed stays
        for (int i = 0; i < 4; ++i) run("edit.undo");
        QVERIFY(session().entries(std::string(model::data::kItems)) == before);
    }
    void aNewKindIsPutInTheStockAndPlaced() {
        run("kinds.open");
        auto* kinds = the<QWidget>("kindsDock");
        QVERIFY(kinds != nullptr);
        QTest::mouseClick(the<QAbstractButton>("kindNew", kinds), Qt::LeftButton);
        test::settle();
        const std::string kind = session().library().kinds().back().name;
        putInStock("Cylinder");
        const model::Item* made = nullptr;
        for (const model::Item& item : session().library().items())
            if (item.kind == kind) made = &item;
        QVERIFY(made != nullptr);
        QVERIFY(the<QWidget>("itemForm") != nullptr);
        QVERIFY(std::abs(made->bounds.size().y - 1) < 1e-6);
        QVERIFY(editor_->placeAt(made->name, {-40, 0, 40}));
        QCOMPARE(scene().kindText(scene().find(editor_->selection()[0])), std::string_view(kind));
        QVERIFY(editor_->surfaceUnder({{-40, 5, 40}, {0, -1, 0}}, true));  // it can be met
        const auto before = session().library().items().size();
        window_->findChild<app::StockPanel*>()->reveal("bench");
        putInStock("The model of Bench");
        QCOMPARE(session().library().items().size(), before + 1);
        const model::Item& like = session().library().items().back();
        QCOMPARE(like.kind, kind);
        QVERIFY(like.bounds.size() == session().library().item(session().intern("bench"))->bounds.size());
        putInStock("A mark");
        QCOMPARE(session().library().items().size(), before + 2);
        for (int i = 0; i < 2; ++i) run("edit.undo");
        QCOMPARE(session().library().items().size(), before);
    }
    void tenThousandAreMadeOfAnotherKindInOneStep() {
        const std::string before = bytes();
        QVERIFY(editor_->run("Many", [&](edit::Draft& draft) {
            std::vector<model::ObjectRecord> all(10'000);
            for (auto& r : all) {
                r.id = session().random().nextId();
                r.kind = session().intern("Lantern");
                auto detail = std::make_shared<model::Detail>();
                detail->properties = {{"oil", {1.5}}};
                r.detail = detail;
            }
            return draft.create(all);
        }));
        const std::string many = bytes();
        std::vector<base::ObjectId> ids;
        for (Slot s : scene().subtree(kNoSlot))
            if (scene().kindText(s) == "Lantern" && scene().item(s) == base::Name{}) ids.push_back(scene().id(s));
        QVERIFY(ids.size() >= 10'000);
        editor_->select(ids);
        auto* kind = the<QComboBox>("kindChoice");
        const std::size_t steps = session().history().steps().size();
        kind->setCurrentText("Bench");
        if (kind->currentText() != "Bench") kind->setCurrentIndex(kind->findText("Structure"));
        const std::string wanted = kind->currentText().toStdString();
        Q_EMIT kind->activated(kind->currentIndex());
        QCOMPARE(session().history().steps().size(), steps + 1);
        QCOMPARE(std::string(scene().kindText(scene().find(ids.back()))), wanted);
        QVERIFY(the<QLabel>("toastText")->text().contains("set aside"));
        run("edit.undo");
        QCOMPARE(bytes(), many);
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aRightPressAtAThingOffersWhatCanBeDoneWithIt() {
        editor_->select({idOf("Bench 2")});
        view().eye().showSelection();
        editor_->select({});
        test::settle();
        QTest::mouseClick(&view(), Qt::RightButton, {}, pixelOf(named("Bench 2")));
        test::settle();
        auto* menu = the<QMenu>("pointerMenu");
        QVERIFY(menu != nullptr && menu->isVisible());
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{idOf("Bench 2")});
        QVERIFY(menu->actions().size() <= 10);
        QAction* hide = nullptr;
        for (QAction* action : menu->actions())
            if (action->text() == window_->commands().action("edit.hide")->text()) hide = action;
        QVERIFY(hide != nullptr && hide->isEnabled());
        QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(hide).center());
        test::settle();
        QCOMPARE(editor_->hiddenCount(), std::size_t{1});
        QVERIFY(the<QMenu>("pointerMenu") == nullptr);
        run("edit.undo");
        // One that looks round opens none.
        const render::Camera before = view().camera();
        QTest::mousePress(&view(), Qt::RightButton, {}, QPoint(300, 300));
        QTest::mouseMove(&view(), QPoint(360, 300));
        QTest::mouseRelease(&view(), Qt::RightButton, {}, QPoint(360, 300));
        test::settle();
        QVERIFY(the<QMenu>("pointerMenu") == nullptr);
        QVERIFY(!(view().camera() == before));
    }
    void theNextOfAKindIsGoneThroughAndRound() {
        editor_->select({idOf("Bench 2")});
        const base::Name kind = scene().kind(named("Bench 2"));
        std::set<base::ObjectId> seen;
        for (int i = 0; i < 500 && seen.insert(editor_->selection()[0]).second; ++i) {
            run("select.nextOfKind");
            QCOMPARE(editor_->selection().size(), std::size_t{1});
            QVERIFY(scene().kind(scene().find(editor_->selection()[0])) == kind);
        }
        QVERIFY(seen.size() > 1);
        QCOMPARE(editor_->selection()[0], idOf("Bench 2"));
    }
    void whatStandsOutsideTheLevelIsFound() {
        editor_->select({});
        test::settle();
        QVERIFY(editor_->placeAt("bench", {-40, 0, 40}));
        const base::ObjectId bench = editor_->selection().front();
        editor_->select({});
        test::settle();
        const auto found = [&] {
            for (const check::Finding& f : editor_->checks().findings())
                if (f.rule == "outside" && f.object == bench) return true;
            return false;
        };
        editor_->checks().wait();
        QVERIFY(!found());
        const auto part = [&](const char* property, int k) {
            return the<QWidget>(property, the<QWidget>("sceneForm"))->findChildren<QLineEdit*>().at(k);
        };
        const std::string before = bytes();
        typeInto(part("property.levelHigh", 2), "10");
        QVERIFY(scene().settings().level.has_value());
        QCOMPARE(scene().settings().level->high.z, 10.0);
        typeInto(part("property.levelLow", 2), "-200");
        QCOMPARE(scene().settings().level->low.z, -200.0);
        editor_->checks().wait();
        QTRY_VERIFY(found());
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(bytes(), before);
        editor_->checks().wait();
        QTRY_VERIFY(!found());
    }
    void theProjectsLimitsAreSetThere() {
        editor_->select({});
        test::settle();
        typeInto(field("limitsForm", "property.budget.objects"), "77");
        QCOMPARE(model::numberOf(session().entries(std::string(model::data::kChecks)).at("budget"), "objects", 0),
                 77.0);
        run("edit.undo");
        QCOMPARE(model::numberOf(session().entries(std::string(model::data::kChecks)).at("budget"), "objects", 0),
                 355.0);
    }
    void menusOpenAtThePointerInTheLowerPanelsToo() {
        QVERIFY(editor_->placeAt("bench", {-40, 0, 40}));
        const base::ObjectId bench = editor_->selection().front();
        editor_->select({});
        test::settle();
        auto* strip = window_->findChild<app::HistoryStrip*>();
        const auto mark = strip->placeOf(session().history().present());
        QVERIFY(mark.has_value());
        QContextMenuEvent asked(QContextMenuEvent::Mouse, mark->toPoint(), strip->mapToGlobal(mark->toPoint()));
        QApplication::sendEvent(strip, &asked);
        test::settle();
        auto* menu = the<QMenu>("historyMenu");
        QVERIFY(menu != nullptr && menu->actions().size() == 3 && !menu->actions()[0]->isEnabled());
        QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(menu->actions()[1]).center());
        test::settle();
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{bench});
        QVERIFY(editor_->showScene("broken-lock"));
        run("desk.checks");
        editor_->checks().wait();
        test::settle();
        auto* list = the<QTreeWidget>("checksList");
        QTRY_VERIFY(list->topLevelItemCount() > 0);
        const QPoint at = list->visualItemRect(list->topLevelItem(0)->child(0)).center();
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, at);
        Q_EMIT list->customContextMenuRequested(at);
        test::settle();
        menu = the<QMenu>("checksMenu");
        QVERIFY(menu != nullptr && menu->isVisible() && menu->actions().size() <= 10);
        QTest::keyClick(menu, Qt::Key_Escape);
    }
};

MELLOW_TEST(WindowSetupTest)
}  // namespace window_setup_test
#include "window_setup_test.moc"
