// Solids in the real window, by mouse and keys: drawn, opened, clipped, pulled by their parts, walked through.
#include <QMenu>
#include <QToolButton>
#include <QTreeWidget>
#include <QtTest>

#include "app/shell/tools.h"
#include "app/view/eye.h"
#include "edit/session.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_solid_test {

using base::ObjectId;
using base::Vec3;
using model::Solid;

class WindowSolidTest : public WindowFixture {
    Q_OBJECT
    const Vec3 floor_{-60, 6, 60};  ///< the middle of a floor to build on
    int actions_ = 0;

    ObjectId add(Solid::Shape shape, const Vec3& size, const Vec3& at) {
        ObjectId id;
        editor_->run("Add", [&](edit::Draft& d) -> base::Status {
            base::Transform frame;
            frame.position = at;
            auto made = ops::addSolid(d, model::usualSolid(shape, size), frame, {});
            if (!made) return tl::unexpected(made.error());
            id = *made;
            return {};
        });
        test::settle();
        return id;
    }
    const Solid& solid(ObjectId id) { return *scene().facet<Solid>(scene().find(id)); }
    shape::Pieces pieces(ObjectId id) { return query::piecesOf(solid(id)); }
    base::Aabb box(ObjectId id) { return scene().bounds(scene().find(id)); }
    ObjectId selected() { return editor_->selection().size() == 1 ? editor_->selection()[0] : ObjectId{}; }
    void look(const Vec3& from, const Vec3& to) {
        view().setCamera(render::Camera::looking(from, to));
        test::settle();
    }
    void point(const QPoint& at) {
        QTest::mouseMove(&view(), at - QPoint(3, 3));
        QTest::mouseMove(&view(), at);
    }
    void click(const QPoint& at, Qt::KeyboardModifiers modifiers = {}) {
        point(at);
        QTest::mouseClick(&view(), Qt::LeftButton, modifiers, at);
        ++actions_;
    }
    void act(const char* command) {
        run(command);
        ++actions_;
    }
    void pull(const Vec3& from, const Vec3& to, Qt::KeyboardModifiers modifiers = {}) {
        drag(pixel(from), pixel(to), modifiers);
        ++actions_;
    }
    void key(int which) {
        view().setFocus();
        QTest::keyClick(&view(), static_cast<Qt::Key>(which));
        ++actions_;
    }
    /// Drags a footprint and gives it a height by typing.
    ObjectId draw(const char* command, const Vec3& from, const Vec3& to, const char* height) {
        act(command);
        pull(from, to);
        QTest::mouseMove(&view(), pixel(to) - QPoint(0, 30));
        QTest::keyClick(&view(), Qt::Key_Tab);
        auto* amount = the<QLineEdit>("amountField");
        QTest::keyClicks(amount, height);
        QTest::keyClick(amount, Qt::Key_Return);
        ++actions_;
        return selected();
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window_solid_test"); }
    void init() {
        openFreshCopy();
        add(Solid::Shape::Box, {60, 0.5, 60}, floor_ - Vec3(0, 0.5, 0));
        editor_->select({});
        actions_ = 0;
        look(floor_ + Vec3(0, 9, 14), floor_);
    }
    void cleanup() { closeWindow(); }

    void aRoomIsRoughedOutFromNothingAndWalkedThrough() {
        const std::string before = bytes();
        // A room, a door, a window, an arch before the door, stairs that wind.
        const ObjectId room = draw("draw.room", floor_ + Vec3(-3, 0, -3), floor_ + Vec3(3, 0, 2), "3");
        QVERIFY(room && solid(room).shape == Solid::Shape::Room);
        const double front = box(room).high.z;
        look(floor_ + Vec3(0, 2.5, 12), floor_ + Vec3(0, 1.5, 0));
        act("solid.opening");
        click(pixel({floor_.x - 1.5, floor_.y + 1, front}));
        QCOMPARE(solid(room).openings.size(), std::size_t{1});
        QVERIFY(std::abs(solid(room).openings[0].at.y) < 1e-9);  // it stands on the foot of the wall
        act("solid.archOpening");
        pull({floor_.x + 0.5, floor_.y + 1, front}, {floor_.x + 2, floor_.y + 2, front});
        QCOMPARE(solid(room).openings.size(), std::size_t{2});
        const model::SolidOpening& window = solid(room).openings[1];
        QVERIFY(std::abs(window.width - 1.5) < 1e-9 && std::abs(window.height - 1) < 1e-9);
        const double shell = 6 * 3 * 5 - 5.6 * 2.6 * 4.6;
        QVERIFY2(shape::volumeOf(pieces(room)) < shell - 0.2, "both go through");
        look(floor_ + Vec3(0, 9, 14), floor_ + Vec3(0, 0, 2));
        const ObjectId arch = draw("draw.arch", floor_ + Vec3(-2.5, 0, 4), floor_ + Vec3(-0.5, 0, 5), "3");
        QVERIFY(arch && solid(arch).shape == Solid::Shape::Arch);
        const ObjectId winding = draw("draw.winding", floor_ + Vec3(4, 0, -1), floor_ + Vec3(7, 0, 2), "2.7");
        QVERIFY(winding && solid(winding).rise > 0 && pieces(winding).size() == 15);
        QVERIFY2(actions_ < 60, qPrintable(QString::number(actions_)));
        // Through the arch and the door into the room, on foot.
        editor_->select({});
        look(floor_ + Vec3(-1.5, 3, 9), floor_ + Vec3(-1.5, 0, 5.5));
        point(pixel(floor_ + Vec3(-1.5, 0, 5.5)));
        run("look.walk");
        test::settle();
        QVERIFY(view().eye().isWalking());
        view().setFocus();
        QTest::keyPress(&view(), Qt::Key_W);
        QTRY_VERIFY_WITH_TIMEOUT(view().camera().eye.z < front - 1, 90'000);
        QTest::keyRelease(&view(), Qt::Key_W);
        QVERIFY(std::abs(view().camera().eye.x - floor_.x + 1.5) < 0.5);
        run("edit.escape");
        while (bytes() != before && session().undo()) {
        }
        QCOMPARE(bytes(), before);
    }
    void threeWallsAreClippedAtOnceInAFlatPane() {
        std::vector<ObjectId> walls;
        for (int i = 0; i < 3; ++i) walls.push_back(add(Solid::Shape::Wall, {2, 3, 0.2}, floor_ + Vec3(3.0 * i, 0, 0)));
        const std::string before = bytes();
        editor_->select(walls);
        view().eye().setSide(app::PaneSide::Front);
        view().setCamera(render::Camera::flat(floor_ + Vec3(3, 1.5, 0), 0, 0, 10));
        test::settle();
        act("solid.clip");
        click(pixel(floor_ + Vec3(-2, 2, 0)));
        click(pixel(floor_ + Vec3(8, 2, 0)));
        QCOMPARE(bytes(), before);               // nothing is cut yet
        click(pixel(floor_ + Vec3(3, 2.6, 0)));  // the upper halves: no more
        key(Qt::Key_Return);
        for (ObjectId wall : walls)
            QVERIFY2(std::abs(box(wall).size().y - 2) < 1e-5, qPrintable(QString::number(box(wall).size().y)));
        QCOMPARE(editor_->selection().size(), std::size_t{3});
        run("edit.undo");
        QCOMPARE(bytes(), before);
        // Both halves: three more, with numbers.
        const std::size_t objects = scene().objectCount();
        act("solid.clip");
        click(pixel(floor_ + Vec3(-2, 1, 0)));
        click(pixel(floor_ + Vec3(8, 1, 0)));
        key(Qt::Key_Return);
        QCOMPARE(scene().objectCount(), objects + 3);
        // Esc takes back point by point, and changes nothing.
        const std::string now = bytes();
        act("solid.clip");
        click(pixel(floor_ + Vec3(-2, 0.5, 0)));
        key(Qt::Key_Escape);
        key(Qt::Key_Escape);
        QCOMPARE(bytes(), now);
        QVERIFY(editor_->tools().tool == app::Tool::Slide);
    }
    void aFaceAnEdgeAndACornerArePulledAndWhatWouldBeHollowIsNot() {
        const ObjectId block = add(Solid::Shape::Box, {2, 2, 2}, floor_);
        look(floor_ + Vec3(3, 5, 6), floor_ + Vec3(0, 1, 0));
        const std::string before = bytes();
        QTest::mouseDClick(&view(), Qt::LeftButton, {}, pixel(floor_ + Vec3(0, 1, 1)));
        QVERIFY(editor_->tools().tool == app::Tool::Parts && selected() == block);
        QVERIFY(the<QToolButton>("trailSolid") != nullptr);
        // A face, along its normal: a box stays one.
        pull(floor_ + Vec3(0, 2, 0), floor_ + Vec3(0, 3, 0));
        QVERIFY2(std::abs(box(block).size().y - 3) < 0.3, qPrintable(QString::number(box(block).size().y)));
        QVERIFY(solid(block).shape == Solid::Shape::Box);
        const double high = box(block).size().y;
        QVERIFY(std::abs(high * 4 - std::round(high * 4)) < 1e-6);  // on steps
        QCOMPARE(editor_->tools().parts.chosen.size(), std::size_t{1});
        // With Ctrl a new piece comes out of it.
        const double volume = shape::volumeOf(pieces(block));
        pull(floor_ + Vec3(1, 1.2, 0.2), floor_ + Vec3(2, 1.2, 0.2), Qt::ControlModifier);
        QVERIFY(shape::volumeOf(pieces(block)) > volume + 0.4);
        run("edit.undo");
        // A corner into the solid: refused, nothing changes.
        const std::string still = bytes();
        const std::size_t steps = session().history().steps().size();
        pull(floor_ + Vec3(1, high, 1), floor_ + Vec3(-0.6, high, -0.6));
        const bool sound = [&] {
            for (const auto& piece : pieces(block))
                if (!shape::wellFormed(piece)) return false;
            return true;
        }();
        QVERIFY(sound);
        QVERIFY(bytes() == still || session().history().steps().size() == steps + 1);
        while (bytes() != still) QVERIFY(session().undo());
        view().setFocus();
        key(Qt::Key_Escape);
        key(Qt::Key_Escape);
        QVERIFY(editor_->tools().tool == app::Tool::Slide);
        test::settle();
        QVERIFY(the<QToolButton>("trailSolid") == nullptr);
        while (bytes() != before) QVERIFY(session().undo());
    }
    void aFaceIsBroughtLevelWithSomething200MetresAway() {
        const ObjectId near = add(Solid::Shape::Box, {2, 2, 2}, floor_);
        const ObjectId far = add(Solid::Shape::Box, {8, 5.37, 2}, floor_ + Vec3(200, 0, 0));
        editor_->select({near});
        view().eye().setSide(app::PaneSide::Front);
        view().setCamera(render::Camera::flat(floor_ + Vec3(100, 2, 0), 0, 0, 150));
        test::settle();
        run("solid.parts");
        // Close to the near one first: the face is taken where one sees it.
        view().setCamera(render::Camera::flat(floor_ + Vec3(0, 2, 0), 0, 0, 10));
        test::settle();
        click(pixel(floor_ + Vec3(0, 1, 0)));
        editor_->change(&app::Tools::parts, app::PartWork{near, {*ops::faceTowards(pieces(near), {0, 1, 0})}});
        look(floor_ + Vec3(-4, 7, 6), floor_ + Vec3(60, 2, 0));
        const QPoint from = pixel(floor_ + Vec3(0, 2, 0));
        point(from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        view().setFocus();
        QTest::keyPress(&view(), Qt::Key_1);
        const QPoint corner = pixel({box(far).low.x, box(far).high.y, box(far).high.z});
        for (int i = 1; i <= 10; ++i) QTest::mouseMove(&view(), from + (corner - from) * i / 10);
        QTest::mouseMove(&view(), corner + QPoint(1, 0));
        QTest::mouseMove(&view(), corner);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, corner);
        QTest::keyRelease(&view(), Qt::Key_1);
        QVERIFY2(std::abs(box(near).high.y - box(far).high.y) < 1e-5,
                 qPrintable(QString::number(box(near).high.y - box(far).high.y)));
    }
    void openingsArePulledCopiedAndTakenAwayInProperties() {
        const ObjectId wall = add(Solid::Shape::Wall, {8, 3, 0.3}, floor_);
        editor_->run("Open", [&](edit::Draft& d) -> base::Status {
            model::SolidOpening door;
            door.at = {-2, 0, 0.15};
            auto made = ops::addOpening(d, wall, door);
            return made ? base::Status{} : tl::unexpected(made.error());
        });
        editor_->select({wall});
        look(floor_ + Vec3(0, 2, 9), floor_ + Vec3(0, 1.2, 0));
        const std::string before = bytes();
        const double face = 0.15;
        pull(floor_ + Vec3(-1.5, 1, face), floor_ + Vec3(-1, 1, face));  // the right side
        QVERIFY2(std::abs(solid(wall).openings[0].width - 1.5) < 1e-9,
                 qPrintable(QString::number(solid(wall).openings[0].width)));
        QVERIFY(std::abs(solid(wall).openings[0].at.x + 1.75) < 1e-9);
        pull(floor_ + Vec3(-1.75 + 0.375, 1.5, face), floor_ + Vec3(1.25, 1.5, face));  // the copy’s grip
        QCOMPARE(solid(wall).openings.size(), std::size_t{2});
        auto* list = the<QTreeWidget>("openingsList");
        QVERIFY(list != nullptr && list->topLevelItemCount() == 2);
        list->setCurrentItem(list->topLevelItem(1));
        QTest::mouseClick(the<QToolButton>("openingsRemove"), Qt::LeftButton);
        QCOMPARE(solid(wall).openings.size(), std::size_t{1});
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void anImageIsShiftedOnItsFaceAndAnOpeningRepeated() {
        const ObjectId wall = add(Solid::Shape::Wall, {8, 3, 0.3}, floor_);
        editor_->select({wall});
        look(floor_ + Vec3(0, 2, 9), floor_ + Vec3(0, 1.2, 0));
        const std::string before = bytes();
        run("solid.parts");
        pull(floor_ + Vec3(1, 1, 0.15), floor_ + Vec3(2, 1.5, 0.15), Qt::AltModifier);
        QCOMPARE(solid(wall).faces.size(), std::size_t{1});
        QVERIFY2(std::abs(solid(wall).faces[0].across + 1) < 1e-9,
                 qPrintable(QString::number(solid(wall).faces[0].across)));
        QVERIFY(std::abs(solid(wall).faces[0].down - 0.5) < 1e-9);
        QVERIFY(solid(wall).shape == Solid::Shape::Wall);
        run("edit.undo");
        QCOMPARE(bytes(), before);
        key(Qt::Key_Escape);
        run("solid.opening");
        click(pixel(floor_ + Vec3(-3, 1, 0.15)));
        QCOMPARE(solid(wall).openings.size(), std::size_t{1});
        test::settle();
        for (QAction* action : the<QToolButton>("openingRepeat")->menu()->actions())
            if (action->text() == "3 more") action->trigger();
        QCOMPARE(solid(wall).openings.size(), std::size_t{4});
        QVERIFY(std::abs(solid(wall).openings[3].at.x - solid(wall).openings[0].at.x - 6) < 1e-9);
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aSideIsPulledAsWideAsAGap() {
        add(Solid::Shape::Box, {1, 2, 2}, floor_ + Vec3(-3, 0, 3));
        add(Solid::Shape::Box, {1, 2, 2}, floor_ + Vec3(0.37, 0, 3));
        const ObjectId plank = add(Solid::Shape::Box, {1, 0.5, 1}, floor_ + Vec3(-1, 0, -2));
        editor_->select({plank});
        look(floor_ + Vec3(-1, 9, 10), floor_ + Vec3(-1, 0, 0.5));
        run("view.fit");
        test::settle();
        const QPoint from = pixel(floor_ + Vec3(-0.5, 0.25, -2)), to = pixel(floor_ + Vec3(-1.3, 0, 3));
        point(from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        view().setFocus();
        QTest::keyPress(&view(), Qt::Key_7);
        for (int i = 1; i <= 10; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 10);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
        QTest::keyRelease(&view(), Qt::Key_7);
        QVERIFY2(std::abs(box(plank).size().x - 2.37) < 1e-5, qPrintable(QString::number(box(plank).size().x)));
        QVERIFY(std::abs(box(plank).low.x - floor_.x + 1.5) < 1e-6);
    }
    void aPrismIsDrawnCornerByCorner() {
        const std::string before = bytes();
        act("draw.prism");
        const Vec3 corners[] = {{-2, 0, -2}, {2, 0, -2}, {2, 0, 0}, {0, 0, 0}, {0, 0, 3}, {-2, 0, 3}};
        for (const Vec3& corner : corners) click(pixel(floor_ + corner));
        click(pixel(floor_ + corners[0]));
        QTest::mouseMove(&view(), pixel(floor_) - QPoint(0, 60));
        QTest::mouseMove(&view(), pixel(floor_) - QPoint(0, 80));
        click(pixel(floor_) - QPoint(0, 80));
        const ObjectId prism = selected();
        QVERIFY(prism && solid(prism).shape == Solid::Shape::Prism);
        QVERIFY(std::abs(shape::volumeOf(pieces(prism)) / solid(prism).size.y - 14) < 0.8);
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void whatIsDrawnGetsTheChosenSurfaceWhenOneDrawsSo() {
        const std::string surface = session().library().surfaces().begin()->first;
        run("desk.surfaces");
        test::settle();
        QCOMPARE(editor_->tools().chosenSurface, surface);  // the first in the list
        run("desk.surfaces");
        run("draw.dressed");
        look(floor_ + Vec3(0, 9, 14), floor_);
        const ObjectId box = draw("draw.box", floor_ + Vec3(-1, 0, -1), floor_ + Vec3(1, 0, 1), "2");
        QVERIFY(box);
        const auto* dressed = scene().facet<model::Surfaces>(scene().find(box));
        QVERIFY(dressed != nullptr && dressed->slots.size() == 1 && dressed->slots[0].surface == surface);
        run("edit.undo");  // one step
        QCOMPARE(scene().find(box), kNoSlot);
    }
    void aSolidIsCutIntoPiecesAndStaysOne() {
        const ObjectId block = add(Solid::Shape::Box, {2, 2, 2}, floor_);
        const std::string before = bytes();
        editor_->select({block});
        look(floor_ + Vec3(3, 5, 6), floor_ + Vec3(0, 1, 0));
        act("solid.clip");
        click(pixel(floor_ + Vec3(0, 2, -0.5)));
        click(pixel(floor_ + Vec3(0, 2, 0.5)));
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_Return, Qt::ShiftModifier);
        QCOMPARE(pieces(block).size(), std::size_t{2});
        QVERIFY(std::abs(shape::volumeOf(pieces(block)) - 8) < 1e-9);
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aSurfaceIsDroppedOnOneFaceOfASolid() {
        const ObjectId block = add(Solid::Shape::Box, {2, 2, 2}, floor_);
        look(floor_ + Vec3(3, 5, 6), floor_ + Vec3(0, 1, 0));
        const std::string surface = session().library().surfaces().begin()->first;
        auto* mime = new QMimeData;
        mime->setData(app::kSurfaceMime, QByteArray::fromStdString(surface));
        drop(mime, pixel(floor_ + Vec3(0, 2, 0)));
        QCOMPARE(solid(block).faces.size(), std::size_t{1});
        QCOMPARE(solid(block).faces[0].tag, 1);
        QCOMPARE(solid(block).faces[0].slot, surface);
    }
};

MELLOW_TEST(WindowSolidTest)
}  // namespace window_solid_test
#include "window_solid_test.moc"
