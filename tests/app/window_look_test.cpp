// Panes, walking, views kept, ways of looking, in the real window with mouse and keys.
#include <QListWidget>
#include <QMenu>
#include <QPushButton>

#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "support/test_main.h"

namespace window_look_test {

class WindowLookTest : public WindowFixture {
    Q_OBJECT
    app::ViewWidget& pane(std::size_t i) { return *window_->panes().pane(i); }
    static QRgb middle(app::ViewWidget& view) {
        const QImage image = view.drawNow();
        return image.pixel(image.width() / 2, image.height() / 2);
    }

    /// But for a shade, as it comes and goes with the rest of the camera.
    static bool isAs(QRgb a, QRgb b) {
        const int apart[] = {qRed(a) - qRed(b), qGreen(a) - qGreen(b), qBlue(a) - qBlue(b)};
        return std::all_of(std::begin(apart), std::end(apart), [](int d) { return std::abs(d) <= 2; });
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-look-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void fourPanesAndBackToTheOneWorkedIn() {
        run("look.panes");
        test::settle();
        for (std::size_t i = 0; i < 4; ++i) QVERIFY(pane(i).isVisible());
        QCOMPARE(pane(1).eye().side(), app::PaneSide::Top);
        QVERIFY(pane(1).camera().isFlat() && !pane(0).camera().isFlat());
        QTest::mouseClick(&pane(2), Qt::LeftButton, {}, {30, 150});
        QCOMPARE(&view(), &pane(2));
        run("look.panes");
        test::settle();
        QVERIFY(pane(2).isVisible() && !pane(0).isVisible());
        run("look.free");
        QVERIFY(!view().camera().isFlat());
    }
    void whatIsDraggedInOnePaneMovesInAllAndIsOneStep() {
        run("look.panes");
        const auto bench = idOf("Bench 2");
        editor_->select({bench});
        for (std::size_t i = 0; i < 4; ++i) pane(i).eye().bringIntoView();
        test::settle();
        const std::string before = bytes();
        app::ViewWidget& top = pane(1);
        const auto tip = top.gesture<app::PullHandle>().tip(0);
        QVERIFY(tip);
        const double x = editor_->scene().world(named("Bench 2")).translation.x;
        const QPoint from = tip->toPoint();
        const int pixels = int(std::lround(1.0 / top.camera().metresPerPixel({}, top.viewport())));
        QTest::mousePress(&top, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) QTest::mouseMove(&top, from + QPoint(pixels * i / 8, 0));
        QVERIFY(!pane(0).gesture<app::PullHandle>().tip(0));  // only the pane that drags shows a handle
        QTest::mouseRelease(&top, Qt::LeftButton, {}, from + QPoint(pixels, 0));
        QVERIFY2(std::abs(editor_->scene().world(named("Bench 2")).translation.x - x - 1) < 1e-9,
                 qPrintable(QString::number(editor_->scene().world(named("Bench 2")).translation.x - x)));
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aPaneToScalePicksWhatItShows() {
        run("look.top");
        editor_->select({idOf("Bench 2")});
        view().eye().bringIntoView();
        test::settle();
        editor_->select({});
        run("view.select");
        QTest::mouseClick(&view(), Qt::LeftButton, {}, pixelOf(named("Bench 2")));
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{idOf("Bench 2")});
    }
    void oneWalksOnTheGroundAndComesBack() {
        const QPoint open = lookAtGround();
        const render::Camera before = view().camera();
        QTest::mouseMove(&view(), open);
        run("look.walk");
        test::settle();
        QVERIFY(view().eye().isWalking());
        const base::Vec3 start = view().camera().eye;
        const auto ground = editor_->surfaceUnder({start, {0, -1, 0}}, false);
        QVERIFY(ground && std::abs(ground->distance - editor_->session().project().walker.eyeHeight) < 0.05);
        QTest::keyPress(&view(), Qt::Key_D);
        QTRY_VERIFY(glm::length(view().camera().eye - start) > 0.3);
        QTest::keyRelease(&view(), Qt::Key_D);
        QVERIFY(editor_->tools().tool == app::Tool::Slide);  // the key walked, it did not change the tool
        run("edit.escape");
        test::settle();
        QVERIFY(!view().eye().isWalking());
        QCOMPARE(view().camera(), before);
    }
    /// The pointer is where the view came under it, though it has not moved since.
    void oneWalksWhereThePointerStands() {
        const QPointF at = lookAtGround();
        QCursor::setPos(view().mapToGlobal(QPoint(12, 12)));
        QTRY_VERIFY(view().underMouse());
        QEnterEvent enter(at, view().mapTo(window_.get(), at), view().mapToGlobal(at));
        QApplication::sendEvent(&view(), &enter);
        const auto pointed = view().eye().pointedAt();
        QVERIFY(pointed && glm::length(*pointed - base::Vec3(-40, 0, 40)) < 1.0);
    }
    void aViewIsKeptAndGoneBackTo() {
        const render::Camera kept = view().camera();
        run("look.keep");
        auto* name = window_->findChild<QLineEdit*>("popoverName");
        QVERIFY(name != nullptr);
        name->setText("Quay");
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(editor_->scene().settings().bookmarks.size(), std::size_t{1});
        view().setCamera(render::Camera::looking({0, 50, 0}, {10, 0, 10}));
        run("look.views");
        auto* list = window_->findChild<QListWidget*>("keptList");
        QVERIFY(list != nullptr && list->count() == 1);
        list->item(0)->setText("The quay");
        QCOMPARE(editor_->scene().settings().bookmarks[0].name, std::string("The quay"));
        window_->findChild<QPushButton*>("keptGo")->click();
        test::settle();
        QVERIFY(glm::length(view().camera().eye - kept.eye) < 1e-9);
        QVERIFY(std::abs(view().camera().yawDegrees - kept.yawDegrees) < 1e-6);
    }
    void aSelectionIsKeptAndTakenUp() {
        const std::vector<base::ObjectId> both = {idOf("Bench 1"), idOf("Bench 3")};
        editor_->select(both);
        run("select.keep");
        QTest::keyClick(window_->findChild<QLineEdit*>("popoverName"), Qt::Key_Return);
        editor_->select({idOf("Bench 1")});
        run("edit.delete");
        run("select.kept");
        window_->findChild<QPushButton*>("keptGo")->click();
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{both[1]});  // the other is gone
    }
    void jumpsGlideUnlessTheyAreSwitchedOff() {
        run("look.glide");
        const render::Camera before = view().camera();
        editor_->select({idOf("Bench 2")});
        view().eye().bringIntoView();
        QVERIFY(view().camera() == before);  // it has only begun
        test::settle();
        const render::Camera there = view().camera();
        QVERIFY(!(there == before));
        view().eye().bringIntoView();
        test::settle();
        QCOMPARE(view().camera(), before);
        run("look.glide");
        view().eye().bringIntoView();
        QCOMPARE(view().camera(), there);
    }
    void theSceneIsShownInOtherWaysAndStaysAsItWas() {
        const std::string before = bytes();
        view().setCamera(render::Camera::looking({-30, 8, 30}, {-30, 12, -120}));  // at the hill, far from lamps
        QTRY_VERIFY_WITH_TIMEOUT(window_->findChild<app::Stage*>()->isShaded(), 60'000);
        const QRgb shaded = middle(view());
        std::set<QRgb> seen = {shaded};
        for (const char* way : {"look.byKind", "look.contrast", "look.shaded"}) {
            run(way);
            seen.insert(middle(view()));
        }
        QVERIFY(isAs(middle(view()), shaded));
        QVERIFY(seen.size() >= 3);
        run("look.night");
        QVERIFY(qGray(middle(view())) < qGray(shaded) * 0.6);
        run("look.asSet");
        QVERIFY(isAs(middle(view()), shaded));
        run("look.wire");
        run("look.collision");
        run("look.labelKind");
        view().grab();
        run("look.noLabels");
        QCOMPARE(bytes(), before);
        QVERIFY(!editor_->session().isUnsaved("lower-basin"));
    }
    void aCameraIsLookedThroughSetAndAimed() {
        Slot camera = named("Basin camera");
        editor_->select({editor_->scene().id(camera)});
        run("look.through");
        test::settle();
        QVERIFY(glm::length(view().camera().eye - editor_->scene().world(camera).translation) < 1e-9);
        view().setCamera(render::Camera::looking({-50, 12, 40}, {-30, 0, 0}));
        run("look.setCamera");
        QVERIFY(glm::length(editor_->scene().world(camera).translation - base::Vec3(-50, 12, 40)) < 1e-9);
        editor_->select({idOf("Bench 2")});
        const QPoint at(300, 500);
        QTest::mouseMove(&view(), at);
        run("look.aim");
        const base::Affine& bench = editor_->scene().world(named("Bench 2"));
        const auto aimed = view().eye().pointedAt();
        QVERIFY(aimed);
        QVERIFY(glm::length(glm::normalize(bench.direction({0, 0, -1})) - glm::normalize(*aimed - bench.translation)) <
                1e-6);
    }
    void theCleanViewHidesAllAndGivesItBack() {
        run("look.clean");
        QVERIFY(!window_->findChild<QWidget*>("stockDock")->isVisible());
        QVERIFY(!window_->findChild<QWidget*>("trail")->isVisible());
        run("look.clean");
        QVERIFY(window_->findChild<QWidget*>("stockDock")->isVisible());
        QVERIFY(window_->findChild<QWidget*>("trail")->isVisible());
    }
    void escClosesWhatLiesOverTheView() {
        editor_->select({idOf("Bench 2")});
        auto cards = [&] {
            int count = 0;
            for (QFrame* f : window_->findChildren<QFrame*>())
                count += f->isVisible() && (f->objectName() == "popover" || f->objectName() == "planCard") ? 1 : 0;
            return count;
        };
        for (const char* card : {"look.plan", "look.views", "look.keep"}) {
            run(card);
            QCOMPARE(cards(), 1);
            run("edit.escape");
            QCOMPARE(cards(), 0);
            QVERIFY(!editor_->selection().empty());
        }
    }
    void whatIsFoundIsShownAlsoASecondTime() {
        auto* find = window_->findChild<app::FindField*>();
        QVERIFY(find != nullptr);
        Q_EMIT find->objectChosen(idOf("Bench 2"));
        const render::Camera there = view().camera();
        Q_EMIT find->objectChosen(idOf("Bench 2"));
        QCOMPARE(view().camera(), there);
    }
    void aClickInThePlanLooksThere() {
        run("look.plan");
        auto* plan = window_->findChild<QWidget*>("planCard");
        QVERIFY(plan != nullptr);
        const base::Vec3 before = view().camera().eye;
        QTest::mouseClick(plan, Qt::LeftButton, {}, QPoint(plan->width() / 4, plan->height() / 3));
        test::settle();
        QVERIFY(glm::length(view().camera().eye - before) > 20);
        QVERIFY(window_->findChild<QWidget*>("planCard") == nullptr);
    }
    void theCaptionOffersSidesAndCameras() {
        auto* caption = view().findChild<QToolButton*>("viewCaption");
        QVERIFY(caption != nullptr);
        Q_EMIT caption->menu()->aboutToShow();
        QStringList texts;
        for (QAction* action : caption->menu()->actions()) texts << action->text();
        QVERIFY(texts.contains("Top") && texts.contains("Through Basin camera"));
        for (QAction* action : caption->menu()->actions())
            if (action->text() == "Top") action->trigger();
        QVERIFY(view().camera().isFlat());
        QVERIFY(caption->text().startsWith("Top"));
    }
};

MELLOW_TEST(WindowLookTest)
}  // namespace window_look_test
#include "window_look_test.moc"
