#include <QtTest>

#include "base/id.h"
#include "query/catch.h"
#include "render/camera.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace catch_test {

using base::Vec2;
using base::Vec3;
using query::CatchKind;

class CatchTest : public QObject {
    Q_OBJECT
    const render::Viewport view_{800, 600};
    render::Camera camera_ = render::Camera::looking({5, 6, 9}, {0, 0.5, 0});

    query::Aim aim(const Vec2& pixel) const {
        return {pixel, [this](const Vec3& p) { return camera_.rayTo(p); },
                [this](const Vec2& p) { return camera_.rayThrough(p, view_); },
                [this](const Vec3& p) { return camera_.project(p, view_); },
                [this](const Vec3& p) { return camera_.metresPerPixel(p, view_); }};
    }
    Vec2 pixelOf(const Vec3& p) const { return *camera_.project(p, view_); }
    static std::optional<query::CatchPoint> at(test::Blocks& b, const query::Aim& aim, CatchKind kind) {
        return query::catchAt(b.scene(), b.index(), aim, kind, {});
    }

  private Q_SLOTS:
    void everyCornerInSightIsCaughtAndNoHiddenOne() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const auto cube = b.put("cube", {0, 0, 0}, {0, 30, 0});
        int hidden = 0;
        for (int i = 0; i < 8; ++i) {
            const Vec3 corner =
                b.scene()
                    .world(b.slot(cube))
                    .point({(i & 1) != 0 ? 0.5 : -0.5, (i & 2) != 0 ? 1.0 : 0.0, (i & 4) != 0 ? 0.5 : -0.5});
            const auto caught = at(b, aim(pixelOf(corner) + Vec2(4, -3)), CatchKind::Corner);
            const auto toOwn = base::inverse(b.scene().world(b.slot(cube)));
            const base::Ray sight{toOwn->point(camera_.eye), toOwn->direction(corner - camera_.eye)};
            const auto enters = base::intersect(sight, {{-0.499, 0.001, -0.499}, {0.499, 0.999, 0.499}});
            const bool behind = enters && *enters < 1;
            hidden += behind ? 1 : 0;
            const bool own = caught && glm::length(caught->point - corner) < 1e-5;
            QVERIFY2(own != behind, qPrintable(QString("corner %1").arg(i)));
        }
        QVERIFY(hidden >= 1 && hidden <= 2);
    }
    void theMiddleOfAGapIsCaughtWithItsWidth() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        b.put("cube", {-2, 0, 0});
        b.put("cube", {3, 0, 0});
        const auto caught = at(b, aim(pixelOf({-0.9, 0, 0.1})), CatchKind::Gap);
        QVERIFY(caught && std::abs(caught->gapMetres - 4) < 1e-5);
        QVERIFY(std::abs(caught->point.x - 0.5) < 1e-5 && std::abs(caught->point.z - 0.1) < 1e-4);
        QVERIFY(!at(b, aim(pixelOf({-0.9, 0, 2})), CatchKind::Gap));  // nothing stands to its sides there
    }
    void theSeamOfAFlatFaceIsNoEdgeAndItsEndsAreNoCornersInTheMiddle() {
        test::Blocks b;
        b.put("cube", {0, 0, 0}, {}, {4, 4, 4});
        const Vec3 middle(0, 4, 0);  // on the diagonal of the top
        QVERIFY(!at(b, aim(pixelOf(middle)), CatchKind::Edge));
        QVERIFY(!at(b, aim(pixelOf(middle)), CatchKind::Corner));
        const Vec3 onEdge(1.0, 4, 2);
        const auto caught = at(b, aim(pixelOf(onEdge) + Vec2(2, 5)), CatchKind::Edge);
        QVERIFY(caught && std::abs(caught->point.y - 4) < 1e-5 && std::abs(caught->point.z - 2) < 1e-5);
    }
    void edgesAreCaughtFromOutsideAgainstBruteForce() {
        test::Blocks b;
        b.put("cube", {0, 0, 0}, {10, 25, 0}, {3, 2, 3});
        base::Random random(4);
        int caughtCount = 0;
        for (int i = 0; i < 200; ++i) {
            const Vec2 pixel(random.between(250, 550), random.between(150, 450));
            const auto caught = at(b, aim(pixel), CatchKind::Edge);
            if (!caught) continue;
            ++caughtCount;
            QVERIFY(glm::length(pixelOf(caught->point) - pixel) < 14);
            // It lies on one of the twelve edges: two of its own coordinates are at their limits.
            const auto own = base::inverse(b.scene().world(b.slot(b.scene().id(0))))->point(caught->point);
            int limits = 0;
            for (double d : {std::abs(std::abs(own.x) - 0.5), std::min(std::abs(own.y), std::abs(own.y - 1)),
                             std::abs(std::abs(own.z) - 0.5)})
                limits += d < 1e-5 ? 1 : 0;
            QVERIFY2(limits >= 2, qPrintable(QString("%1 %2 %3").arg(own.x).arg(own.y).arg(own.z)));
        }
        QVERIFY(caughtCount > 10);
    }
    void facesAndCentres() {
        test::Blocks b;
        const auto cube = b.put("cube", {0, 0, 0}, {}, {2, 2, 2});
        const auto face = at(b, aim(pixelOf({0.3, 2, 0.4})), CatchKind::Face);
        QVERIFY(face && glm::length(face->normal - Vec3(0, 1, 0)) < 1e-6);
        QVERIFY(glm::length(face->point - Vec3(0.3, 2, 0.4)) < 1e-4);
        const auto centre = at(b, aim(pixelOf({0.1, 2, 0.1})), CatchKind::Centre);
        QVERIFY(centre && glm::length(centre->point - Vec3(0, 2, 0)) < 1e-5);
        QCOMPARE(centre->slot, b.slot(cube));
        QVERIFY(!at(b, aim({5, 5}), CatchKind::Face));
    }
    void whatDoesNotPassIsNotCaughtOn() {
        test::Blocks b;
        const auto cube = b.put("cube", {0, 0, 0});
        const auto slot = b.slot(cube);
        QVERIFY(!query::catchAt(b.scene(), b.index(), aim(pixelOf({0.5, 1, 0.5})), CatchKind::Corner,
                                [&](model::Slot s) { return s != slot; }));
    }
};

MELLOW_TEST(CatchTest)
}  // namespace catch_test
#include "catch_test.moc"
