#include <QtTest>

#include "render/handle.h"
#include "support/test_main.h"

namespace handle_test {

using render::Handle;
using render::HandleDrag;
using render::HandlePart;
using render::kAll;
using render::Task;
using render::Vec2;
using render::Vec3;

class HandleTest : public QObject {
    Q_OBJECT
    const render::Viewport view_{772, 700};
    render::Camera camera_ = render::Camera::looking({6, 5, 9}, {0, 1, 0});
    Handle handle_;
    Vec2 pixelOf(const Vec3& p) const { return *camera_.project(p, view_); }
    static Handle only(Task task) {
        Handle h;
        h.slide = task == Task::Slide;
        h.turn = task == Task::Turn;
        h.fit = task == Task::Fit;
        return h;
    }
    HandlePart hit(const Handle& h, const Vec3& p) const { return h.hit(pixelOf(p), camera_, view_); }

  private Q_SLOTS:
    void stepsCountFromWhereItStoodOrFromTheWorldsZero() {
        Handle h = only(Task::Slide);
        h.origin = {1.1, 2.2, 3.3};
        render::HandleAmount amount;
        amount.offset = {0.6, 0, 0};
        for (const bool lattice : {false, true}) {
            const render::Steps steps{0.5, 0, 0, lattice};
            const HandleDrag along(h, {Task::Slide, 0}, {300, 300}, camera_, view_);
            const Vec3 moved = along.snapped(amount, steps).offset;
            QVERIFY(glm::length(moved - Vec3(lattice ? 0.4 : 0.5, 0, 0)) < 1e-12);  // to 1.5, or by 0.5
            const HandleDrag free(h, {Task::Slide, kAll}, {300, 300}, camera_, view_);
            const Vec3 all = h.origin + free.snapped(amount, steps).offset;
            if (lattice) QVERIFY(glm::length(all - Vec3(1.5, 2, 3.5)) < 1e-12);
        }
    }
    void eachPartIsHitWhereItIsDrawn() {
        for (const Task task : {Task::Slide, Task::Fit}) {
            const Handle h = only(task);
            for (int axis = 0; axis < 3; ++axis) {
                QVERIFY(hit(h, h.tip(task, axis, camera_, view_)) == (HandlePart{task, axis}));
                const auto square = h.planeSquare(task, axis, camera_, view_);
                QVERIFY(hit(h, (square[0] + square[2]) * 0.5) == (HandlePart{task, axis + 3}));
            }
            QVERIFY(hit(h, h.origin) == (HandlePart{task, kAll}));
            QVERIFY(!h.hit({5, 5}, camera_, view_));
        }
        const Handle dial = only(Task::Turn);
        for (const int which : {0, 1, 2, kAll}) {
            const auto ring = dial.ring(which, camera_, view_);
            int own = 0, front = 0;
            for (const auto& point : ring)
                if (point.front) ++front, own += hit(dial, point.at) == HandlePart{Task::Turn, which} ? 1 : 0;
            QVERIFY2(own > front * 2 / 3, qPrintable(QString("%1 of %2").arg(own).arg(front)));
        }
        QVERIFY(hit(dial, dial.origin) == (HandlePart{Task::Turn, render::kFree}));
    }
    void togetherEveryTaskCanBeReached() {
        Handle h;
        h.turn = h.fit = true;
        for (int axis = 0; axis < 3; ++axis) {
            QVERIFY(hit(h, h.tip(Task::Slide, axis, camera_, view_)) == (HandlePart{Task::Slide, axis}));
            QVERIFY(hit(h, h.tip(Task::Fit, axis, camera_, view_)) == (HandlePart{Task::Fit, axis}));
        }
        QVERIFY(hit(h, h.ring(kAll, camera_, view_)[5].at) == (HandlePart{Task::Turn, kAll}));
    }
    void itsSizeOnTheScreenDoesNotDependOnTheDistance() {
        render::Camera far = render::Camera::looking({600, 500, 900}, {0, 1, 0});
        for (const auto* c : {&camera_, &far}) {
            const double length = glm::length(*c->project(handle_.tip(Task::Slide, 1, *c, view_), view_) -
                                              *c->project(handle_.origin, view_));
            QVERIFY(length > 60 && length < 90);
        }
    }
    void nothingJumpsWhenADragBegins() {
        for (const Task task : {Task::Slide, Task::Turn, Task::Fit})
            for (int which = 0; which <= kAll; ++which) {
                const Vec2 press = pixelOf(handle_.origin) + Vec2(31, -22);
                HandleDrag drag(only(task), {task, which}, press, camera_, view_);
                const auto amount = drag.amount(press, camera_, view_);
                QVERIFY(glm::length(amount.offset) < 1e-9 && std::abs(amount.radians) < 1e-9);
                QVERIFY(glm::length(amount.factors - Vec3(1.0)) < 1e-9);
            }
    }
    void anAxisFollowsThePointerExactly() {
        const Vec3 from = handle_.tip(Task::Slide, 0, camera_, view_);
        HandleDrag drag(handle_, {Task::Slide, 0}, pixelOf(from), camera_, view_);
        const auto amount = drag.amount(pixelOf(from + Vec3(2.5, 0, 0)), camera_, view_);
        QVERIFY(glm::length(amount.offset - Vec3(2.5, 0, 0)) < 1e-6);
    }
    void anAxisFollowsThePointerAlsoWhenTheCameraHasMoved() {
        const Vec3 from = handle_.tip(Task::Slide, 0, camera_, view_);
        HandleDrag drag(handle_, {Task::Slide, 0}, pixelOf(from), camera_, view_);
        const auto later = render::Camera::looking({9, 5, 7}, {1, 1, 0});
        const auto amount = drag.amount(*later.project(from + Vec3(1.5, 0, 0), view_), later, view_);
        QVERIFY(glm::length(amount.offset - Vec3(1.5, 0, 0)) < 1e-6);
    }
    void aPlaneStaysInItsPlane() {
        HandleDrag drag(handle_, {Task::Slide, 4}, pixelOf({0.5, 0, 0.5}), camera_, view_);
        const auto amount = drag.amount(pixelOf({-1, 0, 2}), camera_, view_);
        QVERIFY(glm::length(amount.offset - Vec3(-1.5, 0, 1.5)) < 1e-6);
    }
    void overTheHorizonTheLastPlaceIsKept() {
        HandleDrag drag(handle_, {Task::Slide, 4}, pixelOf({0.5, 0, 0.5}), camera_, view_);
        const Vec3 before = drag.amount(pixelOf({-1, 0, 2}), camera_, view_).offset;
        auto up = camera_;
        up.pitchDegrees = 60;
        QVERIFY(drag.amount({386, 10}, up, view_).offset == before);
    }
    void aTurnFollowsThePointerRoundAndRound() {
        HandleDrag drag(only(Task::Turn), {Task::Turn, 1}, pixelOf({1, 0, 0}), camera_, view_);
        double radians = 0;
        for (int i = 1; i <= 50; ++i) {  // two and a bit full turns; about Y, from X towards -Z
            const double a = i * 0.3;
            radians = drag.amount(pixelOf({std::cos(a), 0, -std::sin(a)}), camera_, view_).radians;
        }
        QVERIFY2(std::abs(radians - 15.0) < 1e-6, qPrintable(QString::number(radians)));
    }
    void aRingSeenFromItsEdgeTurnsWithThePointersWay() {
        const auto level = render::Camera::looking({0, 0, 9}, {0, 0, 0});
        const Vec2 press = *level.project({0, 0, 0}, view_);
        HandleDrag drag(only(Task::Turn), {Task::Turn, 1}, press, level, view_);
        const double radians = drag.amount(press + Vec2(84, 0), level, view_).radians;
        QVERIFY2(std::abs(std::abs(radians) - 1.0) < 1e-6, qPrintable(QString::number(radians)));
    }
    void sizingFollowsThePointerAndStaysPositive() {
        const Handle h = only(Task::Fit);
        const Vec3 from = h.tip(Task::Fit, 0, camera_, view_);
        HandleDrag drag(h, {Task::Fit, 0}, pixelOf(from), camera_, view_);
        QVERIFY(glm::length(drag.amount(pixelOf(from * 2.0), camera_, view_).factors - Vec3(2, 1, 1)) < 1e-6);
        QVERIFY(drag.amount(pixelOf(from * -3.0), camera_, view_).factors.x > 0);
    }
    void anAxisSeenEndOnIsNotOffered() {
        const auto c = render::Camera::looking({0, 0, 10}, {0, 0, 0});
        QVERIFY(!handle_.axisUsable(Task::Slide, 2, c));
        QVERIFY(handle_.axisUsable(Task::Slide, 0, c));
        QVERIFY(!handle_.planeUsable(Task::Slide, 0, c));
    }
    void amountsSnapToTheirSteps() {
        HandleDrag slide(handle_, {Task::Slide, 0}, pixelOf({1, 0, 0}), camera_, view_);
        render::HandleAmount amount;
        amount.offset = {1.13, 0, 0};
        amount.radians = base::radians(40);
        amount.factors = {1.27, 1, 1};
        const auto snapped = slide.snapped(amount, {0.25, 15, 0.1});
        QCOMPARE(snapped.offset.x, 1.25);
        QVERIFY(std::abs(snapped.radians - base::radians(45)) < 1e-12);
        QVERIFY(std::abs(snapped.factors.x - 1.3) < 1e-12 && snapped.factors.y == 1.0);
        QVERIFY(slide.snapped(amount, {}).offset == amount.offset);
    }
};

MELLOW_TEST(HandleTest)
}  // namespace handle_test
#include "handle_test.moc"
