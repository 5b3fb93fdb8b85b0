// Selecting, handles, carrying, catching, lines and seating in the real window, with mouse and keys.
#include <QLineEdit>
#include <QMenu>
#include <algorithm>

#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/view/gestures/pull_side.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "query/flush.h"
#include "render/handle.h"
#include "support/test_main.h"

namespace window_exact_test {

class WindowExactTest : public WindowFixture {
    Q_OBJECT
    // Places an item in the air, where nothing else is, and selects it.
    base::ObjectId placeAt(const char* item, const base::Vec3& at) {
        editor_->placeAt(item, at);
        return editor_->selection().front();
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-exact-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aLassoSelectsWhatItGoesRoundAndAsItIsSet() {
        std::vector<base::ObjectId> row;
        for (double x : {-42.0, -40.0, -38.0}) {
            editor_->placeAt("pear-crate", {x, 40, 10});
            row.push_back(editor_->selection().front());
        }
        editor_->placeAt("pear-crate", {-40, 40, 4});  // behind the middle one
        const auto behind = editor_->selection().front();
        run("view.select");
        view().setCamera(render::Camera::looking({-40, 40.3, 16}, {-40, 40.25, 5}));
        test::settle();
        const auto at = [&](const base::Vec3& p) {
            const auto pixel = view().camera().project(p, view().viewport());
            return QPoint(int(pixel->x), int(pixel->y));
        };
        // Round the left and the middle one, through the air.
        const auto draw = [&] {
            editor_->select({});
            const QPoint corners[] = {at({-43, 39.5, 10}), at({-43, 41, 10}), at({-39.2, 41, 10}),
                                      at({-39.2, 39.5, 10})};
            QTest::mousePress(&view(), Qt::LeftButton, {}, corners[0]);
            for (int side = 0; side < 4; ++side)
                for (int i = 1; i <= 8; ++i)
                    QTest::mouseMove(&view(), corners[side] + (corners[(side + 1) % 4] - corners[side]) * i / 8);
            QTest::mouseRelease(&view(), Qt::LeftButton, {}, corners[0]);
            return std::set<base::ObjectId>(editor_->selection().begin(), editor_->selection().end());
        };
        run("edit.selectLasso");
        run("edit.selectWhole");
        auto picked = draw();
        QVERIFY(picked.contains(row[0]) && picked.contains(row[1]) && picked.contains(behind));
        QVERIFY(!picked.contains(row[2]));
        run("edit.selectThrough");  // off: only what can be seen; behind, one sees a little between the boards
        picked = draw();
        QVERIFY(picked.contains(row[0]) && picked.contains(row[1]) && !picked.contains(row[2]));
        run("edit.selectThrough");
        run("edit.selectCircle");
        editor_->select({});
        const QPoint middle = at({-42, 41.2, 10});
        const int r = std::abs(at({-42, 40.5, 10}).y() - middle.y());
        QTest::mousePress(&view(), Qt::LeftButton, {}, middle);
        QTest::mouseMove(&view(), middle + QPoint(10, 0));
        QTest::mouseMove(&view(), middle + QPoint(r, 0));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, middle + QPoint(r, 0));
        QVERIFY(editor_->selection().empty());  // wholly inside: it only touches it
        run("edit.selectWhole");
        run("edit.selectBox");
    }
    void clickingAgainCyclesThroughWhatLiesBehind() {
        std::vector<base::ObjectId> row;
        for (double z : {10.0, 8.0, 6.0}) {
            editor_->placeAt("pear-crate", {-40, 40, z});
            row.push_back(editor_->selection().front());
        }
        run("view.select");
        editor_->select({});
        view().setCamera(render::Camera::looking({-40, 40.3, 15}, {-40, 40.25, 5}));
        test::settle();
        const QPoint at = pixelOf(editor_->scene().find(row.front()));
        std::vector<base::ObjectId> seen;
        for (int i = 0; i < 20; ++i) {
            QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
            QCOMPARE(editor_->selection().size(), std::size_t{1});
            const auto id = editor_->selection().front();
            if (!seen.empty() && id == seen.front()) break;  // once round
            QVERIFY(std::find(seen.begin(), seen.end(), id) == seen.end());
            QVERIFY(!editor_->scene().protectedInTree(editor_->scene().find(id)));
            seen.push_back(id);
        }
        QVERIFY2(seen.size() >= 2, qPrintable(QString::number(seen.size())));
        QCOMPARE(seen[0], row[0]);
        QVERIFY(std::find(row.begin() + 1, row.end(), seen[1]) != row.end());  // one sees between the boards
    }
    void aGroupIsSelectedFromInsideAndWhatItHoldsFromOutside() {
        const Slot frame = named("Frame");
        const Slot stall = editor_->scene().parent(frame), market = editor_->scene().parent(stall);
        view().setCamera(render::Camera::looking(editor_->scene().bounds(frame).centre() + base::Vec3(4, 3, 6),
                                                 editor_->scene().bounds(frame).centre()));
        test::settle();
        run("view.select");
        editor_->select({});
        QPoint at;
        for (int i = 0; i < 4000 && at.isNull(); ++i) {  // a pixel where it is seen
            const QPoint p(view().width() * (i % 64) / 64, view().height() * (i / 64) / 64);
            const auto hit = editor_->surfaceUnder(
                view().camera().rayThrough({double(p.x()), double(p.y())}, view().viewport()), false);
            if (hit && hit->slot == frame) at = p;
        }
        QVERIFY(!at.isNull());
        const auto both = Qt::ControlModifier | Qt::ShiftModifier;
        QTest::mouseClick(&view(), Qt::LeftButton, both, at);
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{editor_->scene().id(frame)});
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{editor_->scene().id(stall)});
        run("select.group");
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{editor_->scene().id(market)});
        run("select.inside");
        QVERIFY(editor_->selection().size() > 2 && editor_->isSelected(stall));
        run("select.group");
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{editor_->scene().id(market)});
    }
    void theSameItemAndTheSameKindAreSelected() {
        editor_->select({idOf("Bench 2")});
        run("edit.sameItem");
        QVERIFY(editor_->selection().size() >= 3);
        for (base::ObjectId id : editor_->selection())
            QCOMPARE(std::string(editor_->scene().itemText(editor_->scene().find(id))), std::string("bench"));
        run("edit.sameKind");
        QVERIFY(editor_->selection().size() > 20);
        for (base::ObjectId id : editor_->selection())
            QCOMPARE(std::string(editor_->scene().kindText(editor_->scene().find(id))), std::string("Structure"));
    }
    void alignedFromTheMenuInOneStep() {
        editor_->select({idOf("Bench 1"), idOf("Bench 3"), idOf("Bench 2")});
        const std::string before = bytes();
        run("arrange.north");
        for (const char* name : {"Bench 1", "Bench 3"})
            QVERIFY(std::abs(editor_->scene().bounds(named(name)).low.z -
                             editor_->scene().bounds(named("Bench 2")).low.z) < 1e-9);
        run("edit.undo");
        QVERIFY(bytes() == before);
        QVERIFY(window_->commands().action("arrange.gapsX")->isEnabled());
        editor_->select({idOf("Bench 1")});
        QVERIFY(!window_->commands().action("arrange.north")->isEnabled());
    }
    void whatIsHiddenIsListedAndOneOfItComesBack() {
        const auto bench = idOf("Bench 1"), other = idOf("Bench 2");
        editor_->select({bench, other});
        run("edit.hide");
        QCOMPARE(editor_->hiddenCount(), std::size_t{2});
        QMenu* menu = window_->findChild<QToolButton*>("hiddenCount")->menu();
        Q_EMIT menu->aboutToShow();
        QAction* one = nullptr;
        for (QAction* action : menu->actions())
            if (action->text() == "Bench 2") one = action;
        QVERIFY(one != nullptr);
        one->trigger();
        QCOMPARE(editor_->hiddenCount(), std::size_t{1});
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{other});
        run("edit.showAll");
        QCOMPARE(editor_->hiddenCount(), std::size_t{0});
    }
    void aloneShowsOnlyTheSelectionAndIsNoStep() {
        const std::string before = bytes();
        const auto drawn = [&] { return view().drawNow(), view().lastDrawn(); };
        const std::size_t all = drawn();
        editor_->select({idOf("Bench 2")});
        run("edit.alone");
        QCOMPARE(drawn(), std::size_t{1});
        QVERIFY(bytes() == before && editor_->session().history().steps().empty());
        editor_->placeAt("plank", {0, 0, 0});
        QVERIFY(!editor_->isHidden(editor_->scene().find(editor_->selection().front())));
        run("edit.undo");
        run("edit.alone");
        QCOMPARE(drawn(), all);
    }
    void theProtectedGroundIsNotPicked() {
        QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(view().width() - 40, view().height() - 40));
        for (base::ObjectId id : editor_->selection())
            QVERIFY(!editor_->scene().protectedInTree(editor_->scene().find(id)));
    }
    void aBoxSelectsWhatItTouches() {
        run("view.select");
        QTest::mousePress(&view(), Qt::LeftButton, {}, QPoint(2, 2));
        QTest::mouseMove(&view(), QPoint(200, 200));
        QTest::mouseMove(&view(), QPoint(view().width() - 2, view().height() - 2));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, QPoint(view().width() - 2, view().height() - 2));
        QVERIFY(editor_->selection().size() > 60);
        for (base::ObjectId id : editor_->selection())
            QVERIFY(!editor_->scene().protectedInTree(editor_->scene().find(id)));
    }
    void everyHandleDragsAlongEveryAxesAndUndoesToTheSameBytes_data() {
        QTest::addColumn<int>("axes");
        QTest::addColumn<int>("task");
        const char* names[] = {"World", "Own", "Parent", "View"};
        for (int axes = 0; axes < 4; ++axes)
            for (int task = 1; task <= 3; ++task)
                QTest::newRow(qPrintable(QString("%1, task %2").arg(names[axes]).arg(task))) << axes << task;
    }
    void everyHandleDragsAlongEveryAxesAndUndoesToTheSameBytes() {
        QFETCH(int, axes);
        QFETCH(int, task);
        editor_->select({idOf("Bench 2")});
        run("view.bring");
        run(task == 1 ? "view.slide" : task == 2 ? "view.dial" : "view.fit");
        editor_->change(&app::Tools::axes, static_cast<ops::AxesMode>(axes));
        const std::string before = bytes();
        const auto kind = static_cast<render::Task>(task);
        int dragged = 0;
        for (int axis = 0; axis < 3; ++axis) {
            const base::Transform start = editor_->scene().local(named("Bench 2"));
            const auto tip = view().gesture<app::PullHandle>().tip(axis, kind);
            const auto present = editor_->session().history().present();
            QTest::mousePress(&view(), Qt::LeftButton, {}, tip->toPoint());
            if (!view().isDragging()) {  // seen end on: not offered
                QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip->toPoint());
                continue;
            }
            for (int i = 1; i <= 5; ++i) QTest::mouseMove(&view(), tip->toPoint() + QPoint(14 * i, 9 * i));
            QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip->toPoint() + QPoint(70, 45));
            if (editor_->session().history().present() == present) continue;  // moved by less than a step
            ++dragged;
            const base::Transform end = editor_->scene().local(named("Bench 2"));
            if (kind == render::Task::Slide) QVERIFY(end.rotation == start.rotation && end.scale == start.scale);
            if (kind == render::Task::Turn) QVERIFY(end.rotation != start.rotation && end.scale == start.scale);
            if (kind == render::Task::Fit) QVERIFY(end.rotation == start.rotation && end.scale != start.scale);
            run("edit.undo");
            QVERIFY(bytes() == before);
        }
        QVERIFY2(dragged >= 2, qPrintable(QString::number(dragged)));
    }
    void anExactAmountIsTypedForTheActiveAxis() {
        editor_->select({idOf("Bench 2")});
        run("view.bring");
        const auto type = [&](const char* text) {
            QTest::keyClick(&view(), Qt::Key_Tab);
            auto* field = view().findChild<QLineEdit*>("amountField");
            QVERIFY(field != nullptr && field->isVisible());
            QTest::keyClicks(field, text);
            QTest::keyClick(field, Qt::Key_Return);
        };
        const double x = editor_->scene().local(named("Bench 2")).position.x;
        type("+0.5");
        QVERIFY(std::abs(editor_->scene().world(named("Bench 2")).translation.x - x - 0.5) < 1e-9);
        type("=-30 m");
        QVERIFY(std::abs(editor_->scene().bounds(named("Bench 2")).centre().x + 30) < 0.2);
        run("view.dial");
        const base::Quat turn = editor_->scene().local(named("Bench 2")).rotation;
        type("90");
        const base::Quat turned = editor_->scene().local(named("Bench 2")).rotation;
        QVERIFY(std::abs(glm::angle(turned * glm::conjugate(turn)) - base::kPi / 2) < 1e-9);
        run("view.fit");
        type("2");
        QVERIFY(glm::length(editor_->scene().local(named("Bench 2")).scale - base::Vec3(2.0)) < 1e-12);
        QTest::keyClick(&view(), Qt::Key_Tab);
        auto* field = view().findChild<QLineEdit*>("amountField");
        QTest::keyClicks(field, "a lot");
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(field->isVisible());  // told what is wrong, still there to be mended
    }
    void aCrateIsCarriedOntoAnotherAndStaysSeated() {
        run("view.select");
        const auto first = placeAt("pear-crate", {-40, 40, 10}), second = placeAt("pear-crate", {-37, 40, 10});
        const model::Scene& scene = editor_->scene();
        auto slot = [&](base::ObjectId id) { return scene.find(id); };
        view().setCamera(render::Camera::looking({-38, 42.5, 15}, {-38.5, 40.3, 10}));
        test::settle();
        const std::string before = bytes();
        auto pixel = [&](const base::Vec3& p) {
            const auto at = view().camera().project(p, view().viewport());
            return QPoint(int(at->x), int(at->y));
        };
        const QPoint from = pixel(scene.bounds(slot(second)).centre());
        const base::Vec3 base = scene.bounds(slot(second)).baseCentre();
        base::Vec3 onTop = scene.bounds(slot(first)).centre();
        onTop.y = scene.bounds(slot(first)).high.y;
        const QPoint by = pixel(onTop) - pixel(base);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) QTest::mouseMove(&view(), from + by * i / 8);
        QVERIFY(view().isDragging());
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from + by);
        const auto height = ops::heightAboveSupport(scene, editor_->sight().index()->solid(), slot(second));
        QVERIFY2(height && std::abs(*height) < 1e-3, qPrintable(QString::number(height.value_or(99))));
        QVERIFY(scene.bounds(slot(second)).low.y > scene.bounds(slot(first)).low.y + 0.2);
        run("edit.undo");
        QVERIFY(bytes() == before);
        // Escape takes the whole of it back.
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 4; ++i) QTest::mouseMove(&view(), from + by * i / 8);
        QVERIFY(bytes() != before);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from + by);
        QVERIFY(bytes() == before);
    }
    void whatIsCarriedIntoAnotherEndsWhereSeatingPutsIt() {
        const auto block = placeAt("pear-crate", {-60, 40, 60}), crate = placeAt("pear-crate", {-58, 40, 60});
        run("view.select");  // no handle in the way
        editor_->select({block, crate});
        run("edit.seat");
        editor_->select({crate});
        const model::Scene& scene = editor_->scene();
        const base::Vec3 ground = scene.bounds(scene.find(block)).baseCentre();
        view().setCamera(render::Camera::looking(ground + base::Vec3(1, 3.5, 4), ground + base::Vec3(1, 0.2, 0)));
        test::settle();
        auto pixel = [&](const base::Vec3& p) {
            const auto at = view().camera().project(p, view().viewport());
            return QPoint(int(at->x), int(at->y));
        };
        const base::Aabb at = scene.bounds(scene.find(crate)), other = scene.bounds(scene.find(block));
        const QPoint from = pixel(at.centre());
        // Onto the ground beside the other one, so that they overlap by half.
        const base::Vec3 goal(other.high.x + at.size().x * 0.1, at.low.y, at.baseCentre().z + 0.4);
        const QPoint by = pixel(goal) - pixel(at.baseCentre());
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) QTest::mouseMove(&view(), from + by * i / 8);
        const double across = scene.bounds(scene.find(crate)).low.x;
        // Raised and lowered by the wheel with Shift: it goes straight up and down.
        for (const int notch : {120, 120, -120, -120}) {
            QWheelEvent wheel(from + by, view().mapToGlobal(from + by), {}, {0, notch}, Qt::LeftButton,
                              Qt::ShiftModifier, Qt::NoScrollPhase, false);
            QApplication::sendEvent(&view(), &wheel);
            QCOMPARE(scene.bounds(scene.find(crate)).low.x, across);
        }
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from + by);
        const std::string carried = bytes();
        run("edit.seat");
        QCOMPARE(bytes(), carried);
        const base::Aabb now = scene.bounds(scene.find(crate));
        const bool overlaps = now.low.x < other.high.x - 0.02 && now.high.x > other.low.x + 0.02 &&
                              now.low.z < other.high.z - 0.02 && now.high.z > other.low.z + 0.02;
        QVERIFY(!overlaps || now.low.y > other.low.y + 0.2);
    }
    void theWheelOverTheBottomBarZoomsAsOverTheView() {
        auto* bar = window_->findChild<QWidget*>("stepField")->parentWidget();
        QVERIFY(bar != nullptr && bar->isVisible());
        const base::Vec3 eye = view().camera().eye;
        const QPoint at = bar->rect().center();
        QWheelEvent wheel(at, bar->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                          false);
        QSpontaneKeyEvent::setSpontaneous(&wheel);  // as from the mouse: it goes on to whoever wants it
        qApp->notify(bar, &wheel);
        QVERIFY(view().camera().eye != eye);
    }
    void anEndFarAwayIsNotCaught() {
        const auto plank = placeAt("plank", {-38, 41, 12});
        (void)plank;
        run("view.slide");
        view().setCamera(render::Camera::looking({-38, 43, 17}, {-39, 40.3, 10}));
        test::settle();
        const model::Scene& scene = editor_->scene();
        const auto from = view().camera().project(scene.bounds(scene.find(plank)).centre(), view().viewport());
        const QPoint at(int(from->x), int(from->y));
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        QTest::mouseMove(&view(), at + QPoint(20, 10));
        QTest::keyPress(&view(), Qt::Key_6);
        QTest::mouseMove(&view(), at + QPoint(40, 60));
        QTest::keyRelease(&view(), Qt::Key_6);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, at + QPoint(40, 60));
        QVERIFY(glm::length(scene.bounds(scene.find(plank)).centre() - base::Vec3(-38, 41, 12)) < 20);
    }
    void aCornerIsCaughtWhileItsKeyIsHeld() {
        const auto still = placeAt("plank", {-40, 40, 10}), moving = placeAt("plank", {-38, 41, 12});
        run("view.slide");
        const model::Scene& scene = editor_->scene();
        view().setCamera(render::Camera::looking({-38, 43, 17}, {-39, 40.3, 10}));
        test::settle();
        const base::Vec3 corner = scene.bounds(scene.find(still)).corner(7);
        const auto target = view().camera().project(corner, view().viewport());
        const auto middle = view().camera().project(scene.bounds(scene.find(moving)).baseCentre(), view().viewport());
        const QPoint from(int(middle->x), int(middle->y)), to(int(target->x) - 1, int(target->y) - 2);
        QTest::mouseMove(&view(), from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);  // the handle's middle: freely
        QTest::mouseMove(&view(), (from + to) / 2);
        QTest::keyPress(&view(), Qt::Key_1);
        QTest::mouseMove(&view(), to);
        // What was nearest to the corner lands on it: the base that was taken by its handle.
        const double off = glm::length(scene.bounds(scene.find(moving)).baseCentre() - corner);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
        QTest::keyRelease(&view(), Qt::Key_1);
        QVERIFY2(off < 1e-5, qPrintable(QString::number(off)));
    }
    void aPlankIsFittedIntoAGapByItsSide() {
        const auto plank = placeAt("plank", {-40, 40, 10});
        const model::Scene& scene = editor_->scene();
        auto box = [&] { return scene.bounds(scene.find(plank)); };
        const base::Aabb before = box();
        const std::string untouched = bytes();
        run("view.fit");
        view().setCamera(render::Camera::looking({-40, 43, 15}, {-40, 40, 10}));
        test::settle();
        const QPoint grip = view().gesture<app::PullSide>().pixel({{1, 0, 0}})->toPoint();  // its right end
        QTest::mouseMove(&view(), grip);
        QTest::mousePress(&view(), Qt::LeftButton, {}, grip);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view(), grip - QPoint(12 * i, 0));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, grip - QPoint(72, 0));
        QVERIFY(std::abs(box().low.x - before.low.x) < 1e-9);
        const double length = box().size().x;
        QVERIFY2(length < before.size().x - 0.1, qPrintable(QString::number(length)));
        const double step = editor_->tools().step(render::Task::Slide).value;
        QVERIFY(std::abs(length / step - std::round(length / step)) < 1e-6);
        QVERIFY(std::abs(box().size().z - before.size().z) < 1e-9);
        run("edit.undo");
        QVERIFY(bytes() == untouched);
    }
    void aFarHeightIsMatchedInOneDrag() {
        const auto far = placeAt("cottage", {120, 5, -90}), near = placeAt("pear-crate", {-38, 40, 10});
        const model::Scene& scene = editor_->scene();
        const double top = scene.bounds(scene.find(far)).high.y;
        editor_->select({near});
        edit::Draft draft(editor_->session(), editor_->sceneName(), "Bring near");
        base::Transform pose = scene.local(scene.find(near));
        pose.position.y += top - scene.bounds(scene.find(near)).high.y - 1.03;
        QVERIFY(draft.setTransforms({&near, 1}, {&pose, 1}).has_value());
        QVERIFY(draft.commit().has_value());
        run("view.slide");
        const base::Vec3 at = scene.bounds(scene.find(near)).centre();
        view().setCamera(render::Camera::looking(at + base::Vec3(0, 0.4, 6), at));
        test::settle();
        const QPoint tip = view().gesture<app::PullHandle>().tip(1)->toPoint();
        QTest::mousePress(&view(), Qt::LeftButton, {}, tip);
        QTest::mouseMove(&view(), tip - QPoint(0, 20));
        QTest::keyPress(&view(), Qt::Key_C);
        bool found = false;
        for (int up = 20; up < 220 && !found; up += 2) {
            QTest::mouseMove(&view(), tip - QPoint(0, up));
            for (const query::Flush& f : view().context().lines.inLine())
                found = found || (f.slot == scene.find(far) && f.own == query::BoxSide::High && f.other == f.own);
        }
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip);
        QTest::keyRelease(&view(), Qt::Key_C);
        QVERIFY(found);
        QVERIFY2(std::abs(scene.bounds(scene.find(near)).high.y - top) < 1e-9,
                 qPrintable(QString::number(scene.bounds(scene.find(near)).high.y - top)));
    }
    void tenThingsAreSeatedOnASlopeInOneStep() {
        std::vector<base::ObjectId> ids;
        for (int i = 0; i < 10; ++i) ids.push_back(placeAt("pear-crate", {-70.0 + 3 * i, 30, -50}));
        editor_->select(ids);
        const auto steps = editor_->session().history().steps().size();
        run("edit.seat");
        QCOMPARE(editor_->session().history().steps().size(), steps + 1);
        for (base::ObjectId id : ids) {
            const auto height =
                ops::heightAboveSupport(editor_->scene(), editor_->sight().index()->solid(), editor_->scene().find(id));
            QVERIFY2(height && std::abs(*height) < 1e-3, qPrintable(QString::number(height.value_or(99))));
        }
    }
    void anAmountIsTypedInTheMiddleOfADragAndAPressElsewhereTakesItBack() {
        editor_->select({idOf("Bench 2")});
        run("view.bring");
        run("view.slide");
        const std::string before = bytes();
        const double x = editor_->scene().world(named("Bench 2")).translation.x;
        const auto dragAndTab = [&] {
            const QPoint tip = view().gesture<app::PullHandle>().tip(0)->toPoint();
            QTest::mousePress(&view(), Qt::LeftButton, {}, tip);
            QTest::mouseMove(&view(), tip + QPoint(20, 0));
            QTest::mouseMove(&view(), tip + QPoint(60, 0));
            QTest::keyClick(&view(), Qt::Key_Tab);
            QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip + QPoint(60, 0));
            QVERIFY(view().isDragging());
        };
        dragAndTab();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(30, 600));
        QVERIFY(!view().isDragging() && bytes() == before);
        dragAndTab();
        auto* field = view().findChild<QLineEdit*>("amountField");
        QTest::keyClicks(field, "=" + QString::number(x + 2.125));
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(!view().isDragging());
        QCOMPARE(editor_->session().history().steps().size(), std::size_t{1});
        QVERIFY2(std::abs(editor_->scene().world(named("Bench 2")).translation.x - x - 2.125) < 1e-3,
                 qPrintable(QString::number(editor_->scene().world(named("Bench 2")).translation.x - x)));
    }
    void arrowsDoWhatTheActiveHandleDoes() {
        editor_->select({idOf("Bench 2")});
        run("view.dial");
        const base::Quat before = editor_->scene().local(named("Bench 2")).rotation;
        QTest::keyClick(&view(), Qt::Key_Right);
        const base::Quat after = editor_->scene().local(named("Bench 2")).rotation;
        QVERIFY(std::abs(glm::angle(after * glm::conjugate(before)) - base::radians(15)) < 1e-9);
        run("view.fit");
        QTest::keyClick(&view(), Qt::Key_PageUp);
        QVERIFY(std::abs(editor_->scene().local(named("Bench 2")).scale.y - 1.1) < 1e-9);
    }
    void escapeDuringADragGivesEveryByteBack() {
        editor_->select({idOf("Bench 2")});
        run("view.bring");
        test::settle();
        const std::string before = bytes();
        const auto present = editor_->session().history().present();
        const QPoint tip = view().gesture<app::PullHandle>().tip(1)->toPoint();
        QTest::mousePress(&view(), Qt::LeftButton, {}, tip);
        QTest::mouseMove(&view(), tip - QPoint(0, 40));
        QTest::mouseMove(&view(), tip - QPoint(0, 80));
        QVERIFY(bytes() != before);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(bytes() == before);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip - QPoint(0, 80));
        QVERIFY(bytes() == before);
        QCOMPARE(editor_->session().history().present(), present);
    }
};

MELLOW_TEST(WindowExactTest)
}  // namespace window_exact_test
#include "window_exact_test.moc"
