// Sides, steps, measuring, arranging with a preview, the Stock's deeper commands, in the real window.
#include <QClipboard>
#include <QMenu>
#include <QPushButton>

#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/view/gestures/measuring.h"
#include "app/view/gestures/pull_side.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "render/handle.h"
#include "support/test_main.h"

namespace window_arrange_test {

class WindowArrangeTest : public WindowFixture {
    Q_OBJECT
    base::ObjectId placeAt(const char* item, const base::Vec3& at) {
        editor_->placeAt(item, at);
        return editor_->selection().front();
    }
    const base::Aabb& box(base::ObjectId id) { return editor_->scene().bounds(editor_->scene().find(id)); }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-arrange-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aCornerIsDraggedAndTheOppositeOneStays() {
        const auto block = placeAt("stone-block", {-40, 40, 10});
        run("view.fit");
        editor_->setStep(render::Task::Slide, {0.25, false});  // sides go by the steps of sliding
        view().setCamera(render::Camera::looking({-38, 42, 14}, {-40, 40.3, 10}));
        test::settle();
        const std::string before = bytes();
        const base::Aabb start = box(block);
        const QPoint corner = pixel(start.high);
        drag(corner, corner + QPoint(40, -30));
        QVERIFY(glm::length(box(block).low - start.low) < 1e-9);
        QVERIFY(glm::length(box(block).high - start.high) > 0.05);
        QVERIFY(glm::length(glm::dvec2(pixel(box(block).high).x() - corner.x() - 40,
                                       pixel(box(block).high).y() - corner.y() + 30)) < 4);  // it went along
        run("edit.undo");
        QCOMPARE(bytes(), before);
        run("edit.uniform");
        drag(pixel(start.high), pixel(start.high) + QPoint(40, -30));
        const base::Vec3 factors = box(block).size() / start.size();
        QVERIFY(std::abs(factors.x - factors.y) < 1e-6 && std::abs(factors.x - factors.z) < 1e-6 && factors.x > 1.05);
        run("edit.uniform");
    }
    void aTypedSizeKeepsProportionsWhenAsked() {
        const auto block = placeAt("stone-block", {-40, 40, 10});
        const auto size = [&] { return editor_->scene().local(editor_->scene().find(block)).scale; };
        auto type = [&](const char* text) {
            auto* field = window_->findChild<app::NumberField*>("poseSizeX");
            QVERIFY(field != nullptr);
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, text);
            QTest::keyClick(field, Qt::Key_Return);
        };
        type("2");
        QCOMPARE(size(), base::Vec3(2, 1, 1));
        run("edit.uniform");
        type("* 2");
        QCOMPARE(size(), base::Vec3(4, 2, 2));
        run("edit.uniform");
    }
    void seatingGoesByWhatOneSeesOrByCollisionShapes() {
        // Reeds stop nobody: by collision shapes what stands on them falls through.
        const auto reed = placeAt("reed-clump-1", {-40, 40, 10});
        placeAt("stone-block", {-40, 38, 10});
        const double ground = box(editor_->selection().front()).high.y;
        const auto plank = placeAt("plank", {-40, 45, 10});
        run("edit.seat");
        QVERIFY2(std::abs(box(plank).low.y - ground) < 1e-4, qPrintable(QString::number(box(plank).low.y - ground)));
        run("edit.undo");
        run("edit.seatOntoSeen");
        run("edit.seat");
        QVERIFY(box(plank).low.y > ground + 0.2 && box(plank).low.y < box(reed).high.y + 1e-4);
        run("edit.seatAsSeen");  // a plank bumps into things as it looks
        run("edit.undo");
        run("edit.seat");
        QVERIFY(box(plank).low.y > ground + 0.2);
        run("edit.seatAsSeen");
        run("edit.seatOntoSeen");
        run("look.drops");
        view().grab();
        run("look.drops");
    }
    void aSideStopsInLineWithWhatIsFarAway() {
        const auto tall = placeAt("bench", {-40, 40, -60});
        const auto low = placeAt("stone-block", {-40, 40, 10});
        run("view.fit");
        view().setCamera(render::Camera::looking({-38, 41, 14}, {-40, 40.4, 10}));
        test::settle();
        const double top = box(tall).high.y, bottom = box(low).low.y;
        const auto grip = view().gesture<app::PullSide>().pixel({{0, 1, 0}});  // its top
        QVERIFY(grip);
        const base::Vec3 at(box(low).centre().x, top, box(low).centre().z);
        run("view.catchFlush");
        drag(grip->toPoint(), pixel(at) + QPoint(0, 2));
        run("view.catchFlush");
        QVERIFY2(std::abs(box(low).high.y - top) < 1e-6, qPrintable(QString::number(box(low).high.y - top)));
        QVERIFY(std::abs(box(low).low.y - bottom) < 1e-9);
    }
    void measuringCatchesCornersAndIsCopied() {
        const auto block = placeAt("plank", {-40, 40, 10});
        view().setCamera(render::Camera::looking({-37, 43, 14}, {-40, 40.1, 10}));
        test::settle();
        run("view.measure");
        const base::Aabb b = box(block);
        const base::Vec3 corners[] = {{b.low.x, b.high.y, b.high.z}, b.high, {b.high.x, b.high.y, b.low.z}};
        QTest::keyPress(&view(), Qt::Key_1);
        for (const base::Vec3& corner : corners) {
            QTest::mouseMove(&view(), pixel(corner) + QPoint(1, 1));
            QTest::mouseClick(&view(), Qt::LeftButton, {}, pixel(corner) + QPoint(1, 1));
        }
        QTest::keyRelease(&view(), Qt::Key_1);
        run("view.copyMeasure");
        const QStringList lines = QApplication::clipboard()->text().split('\n');
        QCOMPARE(lines.size(), 4);
        QVERIFY2(lines[0].startsWith(QString::number(b.size().x, 'f', 3)), qPrintable(lines[0]));
        QVERIFY2(lines[1].startsWith(QString::number(b.size().z, 'f', 3)), qPrintable(lines[1]));
        QCOMPARE(lines[2], QString("angle 90.0°"));
        QVERIFY(editor_->selection() == std::vector<base::ObjectId>{block});  // a click measured, it did not select
        run("edit.escape");
        QVERIFY(view().gesture<app::Measuring>().text().isEmpty());
        run("view.measure");
        QVERIFY(editor_->tools().tool == app::Tool::Slide);
    }
    void pointingAtACommandPreviewsItAndLeavingTakesItBack() {
        editor_->select({idOf("Bench 1"), idOf("Bench 3"), idOf("Bench 2")});
        const std::string before = bytes();
        const std::size_t steps = editor_->session().history().steps().size();
        QAction* action = window_->commands().action("arrange.left");
        Q_EMIT action->hovered();
        QVERIFY(bytes() != before);
        Q_EMIT window_->commands().action("arrange.right")->hovered();
        QVERIFY(bytes() != before);
        for (QMenu* menu : window_->findChildren<QMenu*>())
            if (menu->actions().contains(action)) Q_EMIT menu->aboutToHide();
        QCOMPARE(bytes(), before);
        QCOMPARE(editor_->session().history().steps().size(), steps);
        Q_EMIT action->hovered();
        action->trigger();
        QVERIFY(bytes() != before);
        QCOMPARE(editor_->session().history().steps().size(), steps + 1);
    }
    void theOthersFollowWhatIsPointedAt() {
        editor_->select({idOf("Bench 2")});
        const Slot post = named("Lantern post 4");
        view().setCamera(render::Camera::looking(editor_->scene().bounds(post).centre() + base::Vec3(3, 1, 3),
                                                 editor_->scene().bounds(post).centre()));
        test::settle();
        const QPoint at = pixelOf(post);
        auto point = [&] {
            QTest::mouseMove(&view(), at + QPoint(1, 0));
            QTest::mouseMove(&view(), at);
            return view().context().pointedObject();
        };
        run("arrange.followPointed");
        QTRY_VERIFY(point() != kNoSlot);
        const double bottom = editor_->scene().bounds(view().context().pointedObject()).low.y;
        QVERIFY(window_->commands().action("arrange.bottoms")->isEnabled());
        run("arrange.bottoms");
        QVERIFY(std::abs(editor_->scene().subtreeBounds(named("Bench 2")).low.y - bottom) < 1e-9);
        run("arrange.swap");
        run("arrange.followLast");
        QVERIFY(!window_->commands().action("arrange.bottoms")->isEnabled());
    }
    void stepsHaveUsualValuesAndTheSelectionsOwnLength() {
        const auto block = placeAt("stone-block", {-40, 40, 10});
        auto* button = window_->findChild<QToolButton*>("stepMenu");
        Q_EMIT button->menu()->aboutToShow();
        QAction* own = nullptr;
        for (QAction* action : button->menu()->actions())
            if (action->text().startsWith("Own length along X")) own = action;
        QVERIFY(own != nullptr);
        own->trigger();
        QVERIFY(std::abs(editor_->tools().step(render::Task::Slide).value - box(block).size().x) < 1e-9);
        const double edge = box(block).high.x;
        view().setCamera(render::Camera::looking({-40, 43, 16}, {-40, 40, 10}));
        view().gesture<app::PullHandle>().nudge(Qt::Key_Right, {});
        QVERIFY(std::abs(box(block).low.x - edge) < 1e-5);  // side by side, without a gap
        run("view.fine");
        QVERIFY(std::abs(editor_->tools().activeSteps().metres - box(block).size().x / 10) < 1e-9);
        run("view.fineness");
        QVERIFY(std::abs(editor_->tools().activeSteps().metres - box(block).size().x / 100) < 1e-9);
        QVERIFY(window_->findChild<QToolButton*>("stepMenu")->text().contains("very fine"));
        run("view.fineness");
        QVERIFY(std::abs(editor_->tools().activeSteps().metres - box(block).size().x) < 1e-9);
    }
    void objectsAreReplacedFoundAndSelectedByTheStocksItem() {
        const auto bench = idOf("Bench 2");
        editor_->select({bench});
        run("stock.findItem");
        auto* list = window_->findChild<QListView*>("stockList");
        QCOMPARE(list->currentIndex().data(app::StockModel::NameRole).toString(), QString("bench"));
        run("stock.selectObjects");
        QVERIFY(editor_->selection().size() >= 3);
        run("stock.favourite");
        QVERIFY(list->currentIndex().data().toString().startsWith("★"));
        editor_->select({idOf("Milestone 1")});
        run("stock.findItem");
        editor_->select({bench});
        const std::string before = bytes();
        const base::Transform pose = editor_->scene().local(editor_->scene().find(bench));
        run("stock.replace");
        const Slot now = editor_->scene().find(bench);
        QCOMPARE(std::string(editor_->scene().itemText(now)), std::string("milestone"));
        QCOMPARE(editor_->scene().local(now), pose);
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void whatIsPlacedVariesAndRedoIsExact() {
        run("stock.vary");
        app::Varying varying = editor_->tools().varying;
        varying.smallest = 0.8;
        varying.largest = 1.2;
        varying.variations = true;
        editor_->change(&app::Tools::varying, varying);
        std::set<std::string> items;
        std::set<double> sizes;
        for (int i = 0; i < 12; ++i) {
            editor_->placeAt("reed-clump-1", {-40.0 + i, 40, 0});
            const Slot s = editor_->scene().find(editor_->selection().front());
            items.insert(std::string(editor_->scene().itemText(s)));
            const double size = editor_->scene().local(s).scale.x;
            QVERIFY(size >= 0.8 && size <= 1.2);
            sizes.insert(size);
        }
        QVERIFY(items.size() > 1 && sizes.size() > 10);
        const std::string placed = bytes();
        for (int i = 0; i < 12; ++i) run("edit.undo");
        for (int i = 0; i < 12; ++i) run("edit.redo");
        QCOMPARE(bytes(), placed);
        editor_->setPlacing("reed-clump-4");
        run("stock.nextVariation");
        QCOMPARE(editor_->placing(), std::string("reed-clump-1"));
        run("stock.previousVariation");
        QCOMPARE(editor_->placing(), std::string("reed-clump-4"));
    }
    void whatIsCarriedLeansWithTheSlope() {
        editor_->select({});
        run("edit.followSlopes");
        const auto crate = placeAt("pear-crate", {-40, 40, 10});
        const auto ramp = placeAt("stone-block", {-36, 40, 10});
        const base::Transform leaning{{-36, 40, 10}, base::fromDegrees({0, 0, 20}), {4, 1, 4}};
        editor_->run("Lean", [&](edit::Draft& d) { return d.setTransforms({&ramp, 1}, {&leaning, 1}); });
        editor_->select({crate});
        run("view.select");
        view().setCamera(render::Camera::looking({-37, 45, 20}, {-37, 40.5, 10}));
        test::settle();
        const QPoint from = pixel(box(crate).centre()) + QPoint(14, 6);
        const base::Vec3 there = editor_->scene().bounds(editor_->scene().find(ramp)).centre();
        drag(from, from + pixel(there) - pixel(box(crate).baseCentre()));
        const base::Vec3 up = glm::normalize(editor_->scene().world(editor_->scene().find(crate)).direction({0, 1, 0}));
        QVERIFY2(std::abs(base::degrees(std::acos(up.y)) - 20) < 0.1, qPrintable(QString::number(up.y)));
        run("edit.followSlopes");
    }
    void theCameraTravelsAlongWhenAsked() {
        const auto block = placeAt("stone-block", {-40, 40, 10});
        run("view.slide");
        run("look.follow");
        view().setCamera(render::Camera::looking({-38, 43, 18}, {-40, 40.3, 10}));
        test::settle();
        const base::Vec3 eye = view().camera().eye, start = box(block).centre();
        const QPoint tip = view().gesture<app::PullHandle>().tip(0)->toPoint();
        drag(tip, tip + QPoint(90, 0));
        const base::Vec3 moved = box(block).centre() - start;
        QVERIFY(moved.x > 0.4 && std::abs(moved.y) < 1e-9);
        QVERIFY(glm::length(view().camera().eye - eye - moved) < 1e-6);
        run("look.follow");
    }
    void whatCatchesOnAFaceLeansWithIt() {
        const auto ramp = placeAt("stone-block", {-37, 40, 10});
        const base::Transform leaning{{-37, 40, 10}, base::fromDegrees({0, 0, 20}), {2, 1, 4}};
        editor_->run("Lean", [&](edit::Draft& d) { return d.setTransforms({&ramp, 1}, {&leaning, 1}); });
        const auto crate = placeAt("pear-crate", {-40, 40, 10});
        run("view.slide");
        run("edit.followSlopes");
        view().setCamera(render::Camera::looking({-38, 46, 18}, {-38, 40.5, 10}));
        test::settle();
        const QPoint from = pixel({-40, 40, 10});  // the handle's middle
        const QPoint to = pixel(box(ramp).centre() + base::Vec3(0, 0.3, 0));
        QTest::mouseMove(&view(), from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        QTest::keyPress(&view(), Qt::Key_3);
        for (int i = 1; i <= 10; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 10);
        QTest::keyRelease(&view(), Qt::Key_3);
        QTest::keyPress(&view(), Qt::Key_3);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
        QTest::keyRelease(&view(), Qt::Key_3);
        const base::Vec3 up = glm::normalize(editor_->scene().world(editor_->scene().find(crate)).direction({0, 1, 0}));
        QVERIFY2(std::abs(base::degrees(std::acos(up.y)) - 20) < 1, qPrintable(QString::number(up.y)));
        run("edit.followSlopes");
    }
    void modelsAreImportedByDropAndTheViewStays() {
        QTemporaryDir folder;
        const QString file = folder.filePath("garden-seat.glb");
        QVERIFY(QFile::copy(QString::fromStdString((demo_->folder() / "items" / "bench.glb").string()), file));
        const render::Camera before = view().camera();
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(file)});
        QDragEnterEvent enter({300, 300}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window_.get(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window_.get(), &drop);
        auto* list = window_->findChild<QListView*>("stockList");
        QTRY_COMPARE(list->currentIndex().data(app::StockModel::NameRole).toString(), QString("garden-seat"));
        QCOMPARE(view().camera(), before);
        placeAt("garden-seat", {-40, 40, 10});
        QVERIFY(!box(editor_->selection().front()).empty());
    }
};

MELLOW_TEST(WindowArrangeTest)
}  // namespace window_arrange_test
#include "window_arrange_test.moc"
