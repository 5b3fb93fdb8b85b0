#include <QtTest>

#include "base/id.h"
#include "render/slide_handle.h"

using render::SlideDrag;
using render::SlidePart;
using render::Vec2;
using render::Vec3;

class SlideHandleTest : public QObject {
    Q_OBJECT
    const render::Viewport view_{772, 700};
    render::Camera camera_ = render::Camera::looking({6, 5, 9}, {0, 1, 0});
    render::SlideHandle handle_;
    base::Ray rayAt(const Vec3& p) const { return camera_.rayThrough(*camera_.project(p, view_), view_); }
  private Q_SLOTS:
    void eachPartIsHitWhereItIsDrawn() {
        for (int axis = 0; axis < 3; ++axis) {
            const auto tip = camera_.project(handle_.tip(axis, camera_, view_), view_);
            QCOMPARE(static_cast<int>(handle_.hit(*tip, camera_, view_)), axis + 1);
            const auto square = handle_.planeSquare(axis, camera_, view_);
            const auto middle = camera_.project((square[0] + square[2]) * 0.5, view_);
            QCOMPARE(static_cast<int>(handle_.hit(*middle, camera_, view_)), axis + 4);
        }
        QVERIFY(handle_.hit(*camera_.project(handle_.origin, view_), camera_, view_) == SlidePart::Free);
        QVERIFY(handle_.hit({5, 5}, camera_, view_) == SlidePart::None);
    }
    void itsSizeOnTheScreenDoesNotDependOnTheDistance() {
        render::Camera far = render::Camera::looking({600, 500, 900}, {0, 1, 0});
        for (const auto* c : {&camera_, &far}) {
            const double length =
                glm::length(*c->project(handle_.tip(1, *c, view_), view_) - *c->project(handle_.origin, view_));
            QVERIFY(length > 60 && length < 90);
        }
    }
    void nothingJumpsWhenADragBegins() {
        const auto tip = handle_.tip(0, camera_, view_);
        SlideDrag drag(handle_, SlidePart::X, rayAt(tip), camera_);
        QVERIFY(glm::length(drag.offset(rayAt(tip))) < 1e-9);
    }
    void anAxisFollowsThePointerExactly() {
        const Vec3 from = handle_.tip(0, camera_, view_);
        SlideDrag drag(handle_, SlidePart::X, rayAt(from), camera_);
        const Vec3 offset = drag.offset(rayAt(from + Vec3(2.5, 0, 0)));
        QVERIFY(glm::length(offset - Vec3(2.5, 0, 0)) < 1e-6);
    }
    void aPlaneStaysInItsPlane() {
        SlideDrag drag(handle_, SlidePart::ZX, rayAt({0.5, 0, 0.5}), camera_);
        const Vec3 offset = drag.offset(rayAt({-1, 0, 2}));
        QVERIFY(glm::length(offset - Vec3(-1.5, 0, 1.5)) < 1e-6);
    }
    void overTheHorizonTheLastPlaceIsKept() {
        SlideDrag drag(handle_, SlidePart::ZX, rayAt({0.5, 0, 0.5}), camera_);
        const Vec3 before = drag.offset(rayAt({-1, 0, 2}));
        QVERIFY(drag.offset({camera_.eye, {0, 1, 0}}) == before);
    }
    void anAxisSeenEndOnIsNotOffered() {
        const auto c = render::Camera::looking({0, 0, 10}, {0, 0, 0});
        QVERIFY(!handle_.axisUsable(2, c));
        QVERIFY(handle_.axisUsable(0, c));
        QVERIFY(!handle_.planeUsable(0, c));
    }
    void offsetsSnapToTheStep() {
        const Vec3 o = render::snapOffset(handle_, SlidePart::X, {1.13, 0, 0}, 0.25);
        QCOMPARE(o.x, 1.25);
        QVERIFY(render::snapOffset(handle_, SlidePart::Free, {1.13, 0, 0}, 0) == Vec3(1.13, 0, 0));
    }
};

QTEST_APPLESS_MAIN(SlideHandleTest)
#include "slide_handle_test.moc"
