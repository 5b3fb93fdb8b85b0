// Placing, laying, contact, going on, mixes and lasting relations in the real window, by mouse and keys.
#include <QComboBox>
#include <QMenu>
#include <QPushButton>
#include <QtTest>

#include "app/dialogs/lay_card.h"
#include "app/dialogs/mix_card.h"
#include "app/dialogs/set_card.h"
#include "app/shell/go_on.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/view/gestures/pull_side.h"
#include "edit/session.h"
#include "model/facets/relations.h"
#include "model/library.h"
#include "ops/assortments.h"
#include "ops/lay.h"
#include "ops/move.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_place_test {

using base::Vec3;

class WindowPlaceTest : public WindowFixture {
    Q_OBJECT
    const Vec3 place_{-60, 0, 60};

    void wheel(const QPoint& at, int notches, Qt::KeyboardModifiers modifiers = {}) {
        QWheelEvent event(at, view().mapToGlobal(at), {}, {0, 120 * notches}, Qt::NoButton, modifiers,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&view(), &event);
    }
    void point(const QPoint& at) {
        QTest::mouseMove(&view(), at - QPoint(3, 3));
        QTest::mouseMove(&view(), at);
    }
    const base::Transform pose() { return scene().local(scene().find(editor_->selection().back())); }
    const base::Aabb box(base::ObjectId id) { return scene().subtreeBounds(scene().find(id)); }
    std::size_t steps() { return session().history().steps().size(); }
    static double yaw(const base::Transform& t) { return base::toDegrees(t.rotation).y; }
    /// The height of the ground somewhere.
    double ground(double x, double z) { return editor_->surfaceUnder({{x, 90, z}, {0, -1, 0}}, false)->point.y; }
    base::ObjectId put(const char* item, const Vec3& at, const Vec3& size = Vec3(1.0)) {
        if (!editor_->placeAt(item, at)) qFatal("nothing was placed");
        const auto id = editor_->selection().front();
        if (size != Vec3(1.0))
            editor_->run("Size", [&](edit::Draft& d) -> base::Status {
                auto mover = ops::Mover::begin(d.scene(), {&id, 1});
                auto sized = mover->sizeBy(d, size, ops::PivotMode::Base);
                return sized ? base::Status{} : tl::unexpected(sized.error());
            });
        return id;
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window_place_test"); }
    void init() {
        openFreshCopy();
        window_->activateWindow();
        QTRY_VERIFY(QApplication::activeWindow() == window_.get());
        view().setFocus();
    }
    void cleanup() { closeWindow(); }

    void theGhostIsTurnedSizedAndRaisedBeforeTheClickAndTheNextKeepsIt() {
        const QPoint at = lookAtGround(place_);
        editor_->setPlacing("bench");
        point(at);
        QVERIFY(view().context().ghost());
        wheel(at, 3);  // 15 degrees each
        wheel(at, 2, Qt::ShiftModifier);
        run("place.larger");
        run("edit.quarterLeft");
        QVERIFY(view().context().ghost());
        QCOMPARE(editor_->tools().placed.turnDegrees, 135.0);
        const app::Ghost ghost = *view().context().ghost();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(steps(), std::size_t{1});
        QVERIFY(std::abs(yaw(pose()) - 135) < 1e-9);
        QVERIFY(std::abs(pose().scale.x - 1.1) < 1e-12);
        QVERIFY(glm::length(pose().position - ghost.position) < 1e-9);
        QVERIFY(std::abs(ghost.position.y - ground(ghost.position.x, ghost.position.z) - 0.5) < 0.9);
        for (int axis : {0, 2})  // in steps of the lattice
            QVERIFY(std::abs(ghost.position[axis] / 0.25 - std::round(ghost.position[axis] / 0.25)) < 1e-9);
        // The next is as that was; half round with the key that does the same to the selection.
        QTest::keyClick(&view(), Qt::Key_M);
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at + QPoint(120, 0));
        QVERIFY(std::abs(yaw(pose()) - -45) < 1e-9);
        QVERIFY(std::abs(pose().scale.x - 1.1) < 1e-12);
        run("place.asItIs");
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at + QPoint(200, 0));
        QVERIFY(std::abs(yaw(pose())) < 1e-9);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->placing().empty() || !view().context().ghost());
    }
    void piecesAreDraggedSideBySideWithoutAGapAsOneStep() {
        const QPoint at = lookAtGround(place_);
        const std::string before = bytes();
        editor_->setPlacing("stone-block");
        drag(at - QPoint(200, 0), at + QPoint(220, 20));
        const auto ids = editor_->selection();
        QVERIFY2(ids.size() >= 3, qPrintable(QString::number(ids.size())));
        QCOMPARE(steps(), std::size_t{1});
        for (std::size_t i = 1; i < ids.size(); ++i)
            QVERIFY(std::abs(box(ids[i]).low.x - box(ids[i - 1]).high.x) < 1e-6);
        run("edit.undo");
        QCOMPARE(bytes(), before);
        // Esc in the drag leaves nothing behind.
        editor_->setPlacing("stone-block");
        point(at);
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        for (int i = 1; i < 6; ++i) QTest::mouseMove(&view(), at + QPoint(30 * i, 0));
        QVERIFY(!view().context().moreGhosts().empty());
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(view().context().moreGhosts().empty());
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(bytes(), before);
    }
    void aGhostIsCaughtOnACornerAndStandsInLine() {
        put("path-alone", {place_.x, ground(place_.x, place_.z) + 0.4, place_.z});
        const auto block = editor_->selection().front();
        editor_->select({});
        lookAtGround(place_);
        const Vec3 corner(box(block).high.x, box(block).high.y, box(block).high.z);
        editor_->setPlacing("bollard");
        const QPoint at = pixel(corner) + QPoint(3, 2);
        point(at);
        QTest::keyPress(&view(), Qt::Key_1);
        point(at);
        QVERIFY(view().context().catcher.caught());
        const Vec3 caught = view().context().catcher.caught()->point;
        QVERIFY(glm::length(caught - corner) < 1e-5);
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        QTest::keyRelease(&view(), Qt::Key_1);
        QVERIFY(glm::length(pose().position - caught) < 1e-9);
    }
    void quarterTurnsOfTheSelectionComeBackAfterFour() {
        const auto bench = put("bench", place_);
        const std::string before = bytes();
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_M, Qt::ShiftModifier);
        QVERIFY(std::abs(yaw(scene().local(scene().find(bench))) - 90) < 1e-9);
        QTest::keyClick(&view(), Qt::Key_M, Qt::ControlModifier);
        QVERIFY(std::abs(yaw(scene().local(scene().find(bench)))) < 1e-9);
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void whatIsDraggedStopsAtWhatItWouldEnterUntilTheKeyIsHeld() {
        const auto wall = put("stone-block", place_ + Vec3(3, 0, 0), Vec3(1, 3, 6));
        const auto block = put("stone-block", place_);
        run("drag.contact");
        lookAtGround(place_ + Vec3(1.5, 0, 0));
        auto& handle = view().gesture<app::PullHandle>();
        const auto tip = handle.tip(0, render::Task::Slide);
        QVERIFY(tip);
        const QPoint from = tip->toPoint(), to = from + (pixel(place_ + Vec3(6, 0, 0)) - pixel(place_));
        point(from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 12; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 12);
        QVERIFY2(std::abs(box(block).high.x - box(wall).low.x) < 1e-4,
                 qPrintable(QString::number(box(block).high.x - box(wall).low.x)));
        // With X held it goes through, and out again at the other side.
        QTest::keyPress(&view(), Qt::Key_X);
        QTest::mouseMove(&view(), to + QPoint(1, 0));
        QVERIFY(box(block).high.x > box(wall).low.x + 0.5);
        QTest::keyRelease(&view(), Qt::Key_X);
        QTest::mouseMove(&view(), from);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from);
        QCOMPARE(steps(), std::size_t{4});
        run("drag.contact");
    }
    void pushedItTouchesAndSaysWhat() {
        const auto wall = put("stone-block", place_ + Vec3(5, 0, 0), Vec3(1, 3, 6));
        const auto block = put("stone-block", place_);
        lookAtGround(place_);
        QSignalSpy said(editor_.get(), &app::Editor::message);
        run("push.right");
        QVERIFY(std::abs(box(block).high.x - box(wall).low.x) < 1e-5);
        QVERIFY(said.last().first().toString().contains("Stone block"));
        run("push.right");
        QVERIFY(said.last().first().toString().contains("already"));
    }
    void aPathIsLaidRoundACornerAndUndone() {
        const QPoint at = lookAtGround(place_);
        const std::string before = bytes();
        run("draw.lay");
        auto* card = window_->findChild<app::LayCard*>();
        QVERIFY(card != nullptr && card->isVisible());
        auto* what = the<QComboBox>("layWhat");
        const int row = what->findData(QString("Path"));
        QVERIFY(row > 0);
        what->setCurrentIndex(row);
        Q_EMIT what->activated(row);
        QCOMPARE(editor_->tools().laying.cellMetres, 2.0);
        const double high = std::round(ground(-60, 60) * 100) / 100;
        app::Laying laying = editor_->tools().laying;
        laying.heightMetres = high;
        editor_->change(&app::Tools::laying, laying);
        const auto cell = [&](double x, double z) { return pixel({x, high, z}); };
        (void)at;
        point(cell(-63, 59));
        QVERIFY(!view().context().moreGhosts().empty());
        drag(cell(-63, 59), cell(-59, 59));
        QCOMPARE(steps(), std::size_t{1});
        drag(cell(-59, 61), cell(-59, 61));
        QCOMPARE(steps(), std::size_t{2});
        const ops::Lattice lattice{2, high, {}};
        const auto laid = [&](std::int64_t x, std::int64_t z) {
            return ops::laidAt(scene(), *editor_->sight().index(), session().library(), lattice, {x, z});
        };
        QCOMPARE(laid(-32, 29)->piece.item, std::string("path-end"));
        QCOMPARE(laid(-31, 29)->piece.item, std::string("path-straight"));
        QCOMPARE(laid(-30, 29)->piece.item, std::string("path-corner"));
        QCOMPARE(laid(-30, 30)->piece.item, std::string("path-end"));
        // Picked up as it lies; then taken away, and the others close.
        QTest::mouseClick(&view(), Qt::LeftButton, Qt::ControlModifier, cell(-59, 59));
        QCOMPARE(editor_->tools().laying.item, std::string("path-corner"));
        QCOMPARE(editor_->tools().laying.quarters, laid(-30, 29)->piece.quarters);
        laying = editor_->tools().laying;
        laying.set = "Path";
        laying.takesAway = true;
        editor_->change(&app::Tools::laying, laying);
        QTest::mouseClick(&view(), Qt::LeftButton, {}, cell(-59, 59));
        QVERIFY(!laid(-30, 29));
        QCOMPARE(laid(-30, 30)->piece.item, std::string("path-alone"));
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QCOMPARE(bytes(), before);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->tools().tool == app::Tool::Slide);
    }
    void aSetOfPiecesIsMadeInItsCard() {
        run("draw.sets");
        auto* card = window_->findChild<app::SetCard*>();
        QVERIFY(card != nullptr && card->isVisible());
        the<QComboBox>("setName")->setEditText("Kerb");
        card->setItem("path-straight");
        press("setAdd");
        const auto& sets = session().library().sets();
        QVERIFY(sets.contains("Kerb"));
        QCOMPARE(sets.at("Kerb").cellMetres, 2.0);  // as wide as the first piece
        test::settle();
        press("setSidepath-straightN");
        test::settle();
        press("setSidepath-straightS");
        test::settle();
        QCOMPARE(int(sets.at("Kerb").pieces.front().joins), model::kNorth | model::kSouth);
        press("setSidepath-straightS");
        test::settle();
        QCOMPARE(int(sets.at("Kerb").pieces.front().joins), int(model::kNorth));
        typeInto(the<app::NumberField>("setCell"), "0");  // is refused
        QCOMPARE(sets.at("Kerb").cellMetres, 2.0);
        for (int i = 0; i < 4; ++i) run("edit.undo");
        QVERIFY(!sets.contains("Kerb"));
        press("setDone");
    }
    void escClosesTheCardAndNoTwoLieOnEachOther() {
        const auto chosen = put("bollard", place_);
        editor_->select({chosen});
        const auto shown = [&](auto* one) {
            const auto* card = window_->findChild<std::remove_pointer_t<decltype(one)>*>();
            return card != nullptr && card->isVisible();
        };
        app::SetCard* set = nullptr;
        app::MixCard* mix = nullptr;
        run("draw.sets");
        QVERIFY(shown(set));
        run("stock.mixes");
        test::settle();
        QVERIFY(shown(mix) && !shown(set));
        QWidget* field = the<QComboBox>("mixName")->lineEdit();
        field->setFocus();
        QTest::keyClicks(field, "Ya");
        QTest::keyClick(field, Qt::Key_Escape);
        test::settle();
        QVERIFY(!shown(mix));
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{chosen});  // Esc was the card's
        QVERIFY(view().hasFocus());
    }
    void afterTwoLikeThingsTheNextIsShownAndTaken() {
        put("bollard", place_);
        QVERIFY(!editor_->goOn().offers());
        put("bollard", place_ + Vec3(2, 0, 0));
        QVERIFY(editor_->goOn().offers());
        QCOMPARE(editor_->goOn().next().size(), std::size_t{1});
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_R);
        QVERIFY(glm::length(pose().position - (place_ + Vec3(4, 0, 0))) < 1e-9);
        QTest::keyClick(&view(), Qt::Key_R);
        QVERIFY(glm::length(pose().position - (place_ + Vec3(6, 0, 0))) < 1e-9);
        // Any other work drops it, and what is undone does too.
        run("edit.undo");
        QVERIFY(!editor_->goOn().offers());
        put("bollard", place_ + Vec3(9, 0, 0));
        put("bench", place_ + Vec3(12, 0, 0));
        QVERIFY(!editor_->goOn().offers());
        put("bench", place_ + Vec3(15, 0, 0));
        QVERIFY(editor_->goOn().offers());
        editor_->select({});
        QVERIFY(!editor_->goOn().offers());
    }
    void aMixIsMadeAndWhatIsSelectedIsMadeOfIt() {
        run("stock.mixes");
        auto* card = window_->findChild<app::MixCard*>();
        QVERIFY(card != nullptr && card->isVisible());
        auto* name = the<QComboBox>("mixName");
        name->setEditText("Yard");
        card->setItem("stone-block");
        press("mixAdd");
        card->setItem("gravel-heap");
        press("mixAdd");
        const auto& mixes = session().library().mixes();
        QVERIFY(mixes.contains("Yard") && mixes.at("Yard").shares.size() == 2);
        auto* share = the<app::NumberField>("mixSharestone-block");
        QVERIFY(share != nullptr);
        typeInto(share, "0");  // is refused
        QCOMPARE(mixes.at("Yard").shares.at("stone-block"), 1.0);
        typeInto(the<app::NumberField>("mixSharestone-block"), "3");
        QCOMPARE(mixes.at("Yard").shares.at("stone-block"), 3.0);
        std::vector<base::ObjectId> ids;
        for (int i = 0; i < 12; ++i) ids.push_back(put("bollard", place_ + Vec3(2.0 * i, 0, 0)));
        editor_->select(ids);
        const std::string before = bytes();
        press("mixRemake");
        for (auto id : ids) {
            const auto item = scene().itemText(scene().find(id));
            QVERIFY(item == "stone-block" || item == "gravel-heap");
        }
        run("edit.undo");
        QCOMPARE(bytes(), before);
        press("mixRemove");
        QVERIFY(!mixes.contains("Yard"));
    }
    void aBenchFollowsThePlatformItStandsOnAndTheRelationIsBrokenFromAMenu() {
        const Vec3 on(place_.x, ground(place_.x, place_.z) + 0.3, place_.z);
        const auto platform = put("stone-block", on, Vec3(4, 1, 4));
        const auto bench = put("bench", {on.x, box(platform).high.y, on.z});
        run("edit.seat");
        run("stay.seated");
        QVERIFY(editor_->relatedObjects().contains(bench));
        const Vec3 was = scene().world(scene().find(bench)).translation;
        editor_->select({platform});
        lookAtGround(place_);
        view().gesture<app::PullHandle>().nudge(Qt::Key_Right, {});
        const Vec3 now = scene().world(scene().find(bench)).translation;
        QVERIFY2(glm::length(now - was - Vec3(0.25, 0, 0)) < 1e-6, qPrintable(QString::number(now.x - was.x)));
        run("edit.undo");  // one step: both go back
        QVERIFY(glm::length(scene().world(scene().find(bench)).translation - was) < 1e-12);
        view().grab();  // with the sign
        editor_->select({bench});
        view().grab();  // and the line
        run("stay.break");
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu != nullptr && menu->actions().size() == 1);
        menu->actions().front()->trigger();
        menu->close();
        QVERIFY(!editor_->relatedObjects().contains(bench));
    }
    void whatStandsOnItIsSelectedAndTakenAlong() {
        const Vec3 on(place_.x, ground(place_.x, place_.z) + 0.3, place_.z);
        const auto table = put("stone-block", on, Vec3(2, 1, 2));
        const auto crate = put("pear-crate", {on.x, box(table).high.y, on.z});
        run("edit.seat");
        editor_->select({table});
        run("select.standing");
        QCOMPARE(editor_->selection().size(), std::size_t{2});
        QVERIFY(editor_->selection().back() == table);
        editor_->select({table});
        run("drag.standing");
        const Vec3 was = scene().world(scene().find(crate)).translation;
        lookAtGround(place_);
        const auto tip = view().gesture<app::PullHandle>().tip(0, render::Task::Slide);
        QVERIFY(tip);
        drag(tip->toPoint(), tip->toPoint() + QPoint(80, 0));
        QVERIFY(scene().world(scene().find(crate)).translation.x > was.x + 0.2);
        run("drag.standing");
    }
    void aSmallBoxOnTheScreenHasFewGrips() {
        const auto block = put("stone-block", place_);
        (void)block;
        run("view.fit");
        lookAtGround(place_);
        view().setCamera(render::Camera::looking(place_ + Vec3(0, 2, 3), place_));
        test::settle();
        const std::size_t near = view().gesture<app::PullSide>().grips().size();
        view().setCamera(render::Camera::looking(place_ + Vec3(0, 16, 20), place_));
        test::settle();
        const std::size_t far = view().gesture<app::PullSide>().grips().size();
        QVERIFY2(near > 12 && far <= 6 && far >= 2, qPrintable(QString("%1 %2").arg(near).arg(far)));
    }
};

MELLOW_TEST(WindowPlaceTest)
}  // namespace window_place_test
#include "window_place_test.moc"
