// Every gesture of the view, by mouse and keys: what it begins can be taken back to the byte, nothing of it is left
// behind, and what is told of it is told by the one that would act.
#include <QtTest>

#include "app/shell/asking.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/view/gestures/measuring.h"
#include "app/view/gestures/pull_array.h"
#include "app/view/gestures/pull_side.h"
#include "edit/session.h"
#include "model/facets/points.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "ops/lights.h"
#include "render/handle.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_gesture_test {

using base::Vec3;

class WindowGestureTest : public WindowFixture {
    Q_OBJECT
    const Vec3 place_{-40, 0, 40};
    std::string untouched_;

    QString hint() const { return editor_->hint(); }
    /// The pointer comes to a pixel from beside it, as a hand's does.
    void point(const QPoint& at) {
        QTest::mouseMove(&view(), at - QPoint(3, 3));
        QTest::mouseMove(&view(), at);
    }
    /// Pressed there and dragged on, and the button is still down.
    void hold(const QPoint& from, const QPoint& by = {60, -24}) {
        point(from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view(), from + by * i / 6);
    }
    /// A bollard of our own on level ground, selected, in the middle of the view.
    base::ObjectId post() {
        lookAtGround(place_);
        if (!editor_->placeAt("bollard", place_)) qFatal("no bollard");
        view().setFocus();
        return editor_->selection().front();
    }
    /// An object whose facet is given by `verb`, selected alone.
    template <class Verb>
    void withFacet(const Verb& verb) {
        const base::ObjectId id = post();
        if (!editor_->run("Facet", [&](edit::Draft& d) { return verb(d, id); })) qFatal("no facet");
        editor_->select({id});
        test::settle();
    }
    QPoint free() { return pixel(place_ + Vec3(3, 0, 1)); }

    /// Begins the gesture of that name, which has something in the hand afterwards.
    void begin(const QString& name) {
        if (name == "handle") {
            post();
            hold(view().gesture<app::PullHandle>().tip(0)->toPoint());
        } else if (name == "turn") {
            post();
            editor_->setTool(app::Tool::Dial);
            hold(view().gesture<app::PullHandle>().tip(1, render::Task::Turn)->toPoint());
        } else if (name == "side") {
            post();
            editor_->setTool(app::Tool::Fit);
            hold(view().gesture<app::PullSide>().grips().front().toPoint());
        } else if (name == "carry") {
            editor_->setTool(app::Tool::Select);
            const base::ObjectId id = post();
            hold(pixelOf(editor_->scene().find(id)));
        } else if (name == "array") {
            post();
            run("array.row");
            test::settle();
            hold(view().gesture<app::PullArray>().grips().front().toPoint());
        } else if (name == "zone side") {
            withFacet([](edit::Draft& d, base::ObjectId id) { return ops::setZone(d, {&id, 1}, model::Zone{}); });
            hold(view().grips().front().toPoint(), {0, -40});
        } else if (name == "light reach" || name == "light cone") {
            editor_->setTool(app::Tool::Select);
            withFacet([](edit::Draft& d, base::ObjectId id) {
                model::Light light;
                light.shape = model::Light::Shape::Spot;
                light.reachMetres = 3;
                return ops::setLight(d, id, light);
            });
            const auto grips = view().grips();
            hold(grips.at(name == "light reach" ? 0 : 1).toPoint(), {24, -20});
        } else if (name == "point") {
            editor_->setTool(app::Tool::Select);
            withFacet(
                [this](edit::Draft& d, base::ObjectId id) { return ops::addPoint(d, id, place_ + Vec3(2, 0, 1)); });
            hold(view().grips().front().toPoint());
        } else if (name == "solid") {
            lookAtGround(place_);
            run("draw.box");
            hold(free());
        } else if (name == "zone") {
            lookAtGround(place_);
            run("zone.draw");
            QTest::mouseClick(&view(), Qt::LeftButton, {}, free());
        } else if (name == "broom") {
            post();
            run("draw.broom");
            app::Tools tools = editor_->tools();
            tools.broom.verb = ops::BroomVerb::Hide;
            editor_->setTools(tools);
            hold(free(), free() * -1 + pixel(place_));
        } else if (name == "shape") {
            lookAtGround(place_);
            hold(free());
        }
    }
    static void all() {
        QTest::addColumn<QString>("name");
        for (const char* name : {"handle", "turn", "side", "carry", "array", "zone side", "light reach", "light cone",
                                 "point", "solid", "zone", "broom", "shape"})
            QTest::newRow(name) << name;
    }
    /// Nothing is in the hand, and the next step can be made, undone and done again.
    void handIsEmpty() {
        QVERIFY(!view().isDragging());
        const std::string before = bytes();
        QVERIFY(editor_->placeAt("bollard", {-60, 0, 60}));
        const std::string after = bytes();
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(editor_->session().redo());
        QCOMPARE(bytes(), after);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-gesture-test"); }
    // One window for all of them: what one leaves behind, the next one meets.
    void init() {
        if (window_ == nullptr) openFreshCopy();
        if (untouched_.empty()) untouched_ = bytes();
        QCOMPARE(bytes(), untouched_);
    }
    void cleanup() {
        if (window_->panes().isFour()) run("look.panes");
        view().letGo();
        editor_->setPlacing({});
        editor_->setTools({});
        while (editor_->session().history().undoTarget()) QVERIFY(editor_->session().undo());
        editor_->select({});
        view().setFocus();
    }
    void cleanupTestCase() { closeWindow(); }

    void escTakesBackWhatIsHeld_data() { all(); }
    void escTakesBackWhatIsHeld() {
        QFETCH(QString, name);
        begin(name);
        QVERIFY(view().isDragging());
        const auto selection = editor_->selection();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!view().isDragging());
        QCOMPARE(editor_->selection(), selection);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, free());
        // Whatever was begun, the same begun and done once more is one step that undo takes back to the byte.
        const std::string before = bytes();
        handIsEmpty();
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
    void aHeldThingWhoseReleaseWasLostIsTakenBackByTheNextPress_data() { all(); }
    void aHeldThingWhoseReleaseWasLostIsTakenBackByTheNextPress() {
        QFETCH(QString, name);
        if (name == "solid" || name == "zone") return;  // those go on without a button
        begin(name);
        QVERIFY(view().isDragging());
        QTest::mousePress(&view(), Qt::LeftButton, {}, free());
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, free());
        handIsEmpty();
    }
    void anotherPaneTakesItBackAndTheToolStays_data() { all(); }
    void anotherPaneTakesItBackAndTheToolStays() {
        QFETCH(QString, name);
        begin(name);
        const app::Tool tool = editor_->tools().tool;
        run("look.panes");
        test::settle();
        app::ViewWidget* const held = &view();
        app::ViewWidget* other = window_->panes().pane(held == window_->panes().pane(0) ? 2 : 0);
        QTest::mouseClick(other, Qt::MiddleButton, {}, {60, 120});
        QVERIFY(!held->isDragging() && other == &view());
        QCOMPARE(editor_->tools().tool, tool);
        handIsEmpty();
    }
    void whatIsHeldTellsWhatItDoes_data() { all(); }
    void whatIsHeldTellsWhatItDoes() {
        QFETCH(QString, name);
        begin(name);
        const QString held = hint();
        QVERIFY2(!held.isEmpty() && held.contains(name == "broom" || name == "carry" || name == "shape" ? "" : "Esc"),
                 qPrintable(held));
        QTest::keyClick(&view(), Qt::Key_Escape);
        point(view().rect().topRight() + QPoint(-30, 60));
        QVERIFY2(hint() != held, qPrintable(held));
    }
    void theOneThatWouldActGivesTheHint() {
        const base::ObjectId id = post();
        point(view().gesture<app::PullHandle>().tip(0)->toPoint());
        QVERIFY2(hint().startsWith("Drag: slide"), qPrintable(hint()));
        point(free());
        QVERIFY2(hint().startsWith("Arrows"), qPrintable(hint()));
        editor_->setTool(app::Tool::Measure);
        QVERIFY2(hint().startsWith("Click: measure"), qPrintable(hint()));
        editor_->setTool(app::Tool::Fit);
        point(view().gesture<app::PullSide>().grips().front().toPoint());
        QVERIFY2(hint().startsWith("Drag this side"), qPrintable(hint()));
        editor_->asking().askPoint([](const Vec3&) {});
        QVERIFY2(hint().startsWith("Click: the place"), qPrintable(hint()));
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->asking().asks());
        editor_->setPlacing("bollard");
        QVERIFY2(hint().startsWith("Click: place"), qPrintable(hint()));
        QCOMPARE(editor_->selection(), std::vector{id});
    }
    void withAToolInTheHandNothingElseActs() {
        post();
        editor_->setTool(app::Tool::Slide);
        const QPoint tip = view().gesture<app::PullHandle>().tip(0)->toPoint();
        const std::string before = bytes();
        editor_->setTool(app::Tool::Measure);
        hold(tip);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, tip + QPoint(60, -24));
        QCOMPARE(bytes(), before);
        QVERIFY(!view().gesture<app::PullHandle>().tip(0));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, free());
        QVERIFY(!view().gesture<app::Measuring>().text().isEmpty());
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(view().gesture<app::Measuring>().text().isEmpty());
    }
    void aPointYieldsToTheHandleAndAZonesSideDoesNot() {
        editor_->setTool(app::Tool::Slide);
        withFacet([this](edit::Draft& d, base::ObjectId id) { return ops::addPoint(d, id, place_); });
        auto points = [&] {
            return editor_->scene().facet<model::PointSet>(editor_->scene().find(editor_->selection()[0]))->points;
        };
        const auto before = points();
        const QPoint middle = view().grips().back().toPoint();
        QVERIFY2((view().gesture<app::PullHandle>().tip(0)->toPoint() - middle).manhattanLength() > 20,
                 "they lie apart");
        point(middle);
        QVERIFY2(hint().startsWith("Drag: slide"), qPrintable(hint()));  // the handle's middle is there
        hold(middle, {40, 10});
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, middle + QPoint(40, 10));
        QCOMPARE(points(), before);
    }
    void aKeyThatCatchesActsAtOnceWhileOneDraws() {
        lookAtGround(place_);
        QVERIFY(editor_->placeAt("bollard", place_ + Vec3(2, 0, 0)));
        editor_->select({});
        run("draw.box");
        hold(free(), {-30, -10});
        const QPoint on = pixel(place_ + Vec3(2, 0, 0));
        QTest::mouseMove(&view(), on);
        const std::string drawn = bytes();
        QTest::keyPress(&view(), Qt::Key_1);
        QVERIFY(view().context().catcher.caught().has_value());
        QVERIFY(bytes() != drawn);
        QTest::keyRelease(&view(), Qt::Key_1);
        QVERIFY(!view().context().catcher.caught().has_value());
        QCOMPARE(bytes(), drawn);
        QTest::keyClick(&view(), Qt::Key_Escape);
    }
    void aPointIsMovedWithThePointsToolInTheHand() {
        withFacet([this](edit::Draft& d, base::ObjectId id) { return ops::addPoint(d, id, place_ + Vec3(2, 0, 1)); });
        const auto id = editor_->selection()[0];
        auto points = [&] { return editor_->scene().facet<model::PointSet>(editor_->scene().find(id))->points; };
        const auto before = points();
        run("points.place");
        const QPoint at = pixel(place_ + Vec3(2, 0, 1));
        point(at);
        QVERIFY2(hint().startsWith("Drag: move this point"), qPrintable(hint()));
        hold(at, {40, 12});
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, at + QPoint(40, 12));
        QCOMPARE(points().size(), before.size());
        QVERIFY(points() != before);
        point(at - QPoint(90, 0));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at - QPoint(90, 0));
        QCOMPARE(points().size(), before.size() + 1);
        QVERIFY(editor_->session().undo() && editor_->session().undo());
        QCOMPARE(points(), before);
    }
};

MELLOW_TEST(WindowGestureTest)
}  // namespace window_gesture_test
#include "window_gesture_test.moc"
