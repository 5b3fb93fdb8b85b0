// The real window, driven as a person would. Needs a display; tests/CMakeLists.txt runs it under one of its own.
#include <QClipboard>
#include <QComboBox>
#include <QMenu>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTreeView>
#include <QtTest>

#include "app/walkthrough.h"
#include "io/scene_file.h"
#include "support/test_project.h"

using model::kNoSlot;
using model::Slot;

class WindowTest : public QObject {
    Q_OBJECT
    QTemporaryDir settings_;
    std::unique_ptr<test::DemoCopy> demo_;
    std::unique_ptr<app::Editor> editor_;
    std::unique_ptr<app::MainWindow> window_;

    void openWindow() {
        editor_ = std::make_unique<app::Editor>(
            test::chance(static_cast<std::uint64_t>(QDateTime::currentMSecsSinceEpoch())));
        window_ = std::make_unique<app::MainWindow>(*editor_);
        window_->resize(1280, 800);
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        QVERIFY(window_->openProject(QString::fromStdString(demo_->folder().string()), io::OpenMode::Edit));
        QTest::qWait(50);
    }
    void closeWindow() {
        window_.reset();
        editor_.reset();
    }
    app::ViewWidget& view() { return window_->view(); }
    std::string bytes() { return io::formatScene(editor_->scene()); }
    Slot named(const char* name) {
        for (Slot s : editor_->scene().subtree(kNoSlot))
            if (editor_->scene().nameText(s) == name) return s;
        return kNoSlot;
    }
    base::ObjectId idOf(const char* name) { return editor_->scene().id(named(name)); }
    QPoint pixelOf(Slot s) {
        const auto p = view().camera().project(editor_->scene().bounds(s).centre(), view().viewport());
        return QPoint(int(p->x), int(p->y));
    }
    void run(const char* command) { window_->commands().action(command)->trigger(); }

  private Q_SLOTS:
    void initTestCase() {
        QCoreApplication::setOrganizationName("mellow-lattice-test");
        QCoreApplication::setApplicationName("window-test");
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings_.path());
    }
    void init() {
        QSettings().clear();
        demo_ = std::make_unique<test::DemoCopy>();
        openWindow();
    }
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
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{editor_->scene().id(cargo)});
        // Shift adds, Ctrl takes away, a click on nothing lets go.
        editor_->select({idOf("Bench 1")});
        QTest::mouseClick(&view(), Qt::LeftButton, Qt::ShiftModifier, pixelOf(cargo));
        QCOMPARE(editor_->selection().size(), std::size_t{2});
        QTest::mouseClick(&view(), Qt::LeftButton, Qt::ControlModifier, pixelOf(cargo));
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(view().width() / 2, 4));
        QVERIFY(editor_->selection().empty());
    }
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
        QTest::qWait(200);
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
        QTest::qWait(200);
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
        run("arrange.fronts");
        for (const char* name : {"Bench 1", "Bench 3"})
            QVERIFY(std::abs(editor_->scene().bounds(named(name)).low.z -
                             editor_->scene().bounds(named("Bench 2")).low.z) < 1e-9);
        run("edit.undo");
        QVERIFY(bytes() == before);
        QVERIFY(window_->commands().action("arrange.gapsX")->isEnabled());
        editor_->select({idOf("Bench 1")});
        QVERIFY(!window_->commands().action("arrange.fronts")->isEnabled());
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
        editor_->setAxesMode(static_cast<ops::AxesMode>(axes));
        const std::string before = bytes();
        const auto kind = static_cast<render::Task>(task);
        int dragged = 0;
        for (int axis = 0; axis < 3; ++axis) {
            const base::Transform start = editor_->scene().local(named("Bench 2"));
            const auto tip = view().handleTip(axis, kind);
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
    // A level place of its own: a floor block, with crates on it.
    base::ObjectId placeAt(const char* item, const base::Vec3& at) {
        editor_->placeAt(item, at);
        return editor_->selection().front();
    }
    void aCrateIsCarriedOntoAnotherAndStaysSeated() {
        run("view.select");
        const auto first = placeAt("pear-crate", {-40, 40, 10}), second = placeAt("pear-crate", {-37, 40, 10});
        const model::Scene& scene = editor_->scene();
        auto slot = [&](base::ObjectId id) { return scene.find(id); };
        view().setCamera(render::Camera::looking({-38, 42.5, 15}, {-38.5, 40.3, 10}));
        QTest::qWait(200);
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
        const auto height = ops::heightAboveSupport(scene, *editor_->index(), slot(second));
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
    void aCornerIsCaughtWhileItsKeyIsHeld() {
        const auto still = placeAt("plank", {-40, 40, 10}), moving = placeAt("plank", {-38, 41, 12});
        run("view.slide");
        const model::Scene& scene = editor_->scene();
        view().setCamera(render::Camera::looking({-38, 43, 17}, {-39, 40.3, 10}));
        QTest::qWait(200);
        const base::Vec3 corner = scene.bounds(scene.find(still)).corner(7);
        const auto target = view().camera().project(corner, view().viewport());
        const auto middle = view().camera().project(scene.bounds(scene.find(moving)).baseCentre(), view().viewport());
        const QPoint from(int(middle->x), int(middle->y)), to(int(target->x) - 2, int(target->y) + 3);
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
        QTest::qWait(200);
        const QPoint grip = view().sideGrip(1)->toPoint();  // its right end
        QTest::mouseMove(&view(), grip);
        QTest::mousePress(&view(), Qt::LeftButton, {}, grip);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view(), grip - QPoint(12 * i, 0));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, grip - QPoint(72, 0));
        QVERIFY(std::abs(box().low.x - before.low.x) < 1e-9);
        const double length = box().size().x;
        QVERIFY2(length < before.size().x - 0.1, qPrintable(QString::number(length)));
        const double step = editor_->step(render::Task::Slide).value;
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
        QTest::qWait(200);
        const QPoint tip = view().handleTip(1)->toPoint();
        QTest::mousePress(&view(), Qt::LeftButton, {}, tip);
        QTest::mouseMove(&view(), tip - QPoint(0, 20));
        QTest::keyPress(&view(), Qt::Key_C);
        bool found = false;
        for (int up = 20; up < 220 && !found; up += 2) {
            QTest::mouseMove(&view(), tip - QPoint(0, up));
            for (const query::Flush& f : view().inLine())
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
            const auto height = ops::heightAboveSupport(editor_->scene(), *editor_->index(), editor_->scene().find(id));
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
            const QPoint tip = view().handleTip(0)->toPoint();
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
        QTest::qWait(20);
        const std::string before = bytes();
        const auto present = editor_->session().history().present();
        const QPoint tip = view().handleTip(1)->toPoint();
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
        closeWindow();
        openWindow();
        QCOMPARE(editor_->theme().name, QString("oat"));
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
        QVERIFY(text.contains("lower-basin"));
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
            window_->findChild<QPlainTextEdit*>("damageList")->toPlainText().contains("lower-basin.scene.jsonl:296"));
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

QTEST_MAIN(WindowTest)
#include "window_test.moc"
