#include <QtTest>

#include "render/camera.h"
#include "support/test_main.h"

namespace camera_test {

using render::Camera;
using render::Vec2;
using render::Vec3;

class CameraTest : public QObject {
    Q_OBJECT
    const render::Viewport view_{772, 700};
  private Q_SLOTS:
    void aPixelsRayGoesThroughWhatAppearsThere() {
        const Camera c = Camera::looking({10, 8, 20}, {0, 1, 0});
        const Vec3 point(2, 3, -4);
        const auto pixel = c.project(point, view_);
        QVERIFY(pixel);
        const auto ray = c.rayThrough(*pixel, view_);
        QVERIFY(glm::length(glm::cross(ray.direction, glm::normalize(point - c.eye))) < 1e-9);
        QVERIFY(!c.project(c.eye - c.forward(), view_));
    }
    void theMatricesAgreeWithProject() {
        const Camera c = Camera::looking({10, 8, 20}, {0, 1, 0});
        const Vec3 point(2, 3, -4);
        const base::Vec4 clip = c.projection(view_) * c.viewMatrix() * base::Vec4(point, 1.0);
        const Vec2 pixel((clip.x / clip.w + 1) / 2 * view_.width, (1 - clip.y / clip.w) / 2 * view_.height);
        QVERIFY(glm::length(pixel - *c.project(point, view_)) < 1e-6);
    }
    void orbitingKeepsThePivotAtItsPixel() {
        Camera c = Camera::looking({10, 8, 20}, {0, 1, 0});
        const Vec3 pivot(3, 0, 5);
        const Vec2 before = *c.project(pivot, view_);
        c.orbit(pivot, 35, -12);
        QVERIFY(glm::length(*c.project(pivot, view_) - before) < 1e-6);
    }
    void panningCarriesThePointUnderThePointer() {
        Camera c = Camera::looking({10, 8, 20}, {0, 1, 0});
        const Vec3 point(1, 0, 2);
        const Vec2 before = *c.project(point, view_);
        c.pan({40, -25}, glm::dot(point - c.eye, c.forward()), view_);
        QVERIFY(glm::length(*c.project(point, view_) - before - Vec2(40, -25)) < 1e-6);
    }
    void zoomingNeverPassesThePoint() {
        Camera c = Camera::looking({0, 0, 10}, {0, 0, 0});
        for (int i = 0; i < 200; ++i) c.zoomTowards({0, 0, 0}, 0.3);
        QVERIFY(c.eye.z > 0);
        for (int i = 0; i < 5; ++i) c.zoomTowards({0, 0, 0}, -0.3);
        QVERIFY(c.eye.z > 0.3);
    }
    void framingShowsTheWholeBox() {
        Camera c = Camera::looking({10, 8, 20}, {0, 1, 0});
        const base::Aabb box{{-40, 0, -3}, {-20, 9, 30}};
        c.frame(box, view_);
        for (int i = 0; i < 8; ++i) {
            const auto p = c.project(box.corner(i), view_);
            QVERIFY(p && p->x >= 0 && p->y >= 0 && p->x <= view_.width && p->y <= view_.height);
        }
    }
    void aTippedCameraSeesTippedUntilItIsTurned() {
        base::Affine pose;
        pose.linear = glm::mat3_cast(base::fromDegrees({20, 35, 30}));
        pose.translation = {4, 2, 1};
        Camera c = Camera::at(pose);
        QVERIFY(glm::length(c.right() - pose.linear[0]) < 1e-9);
        QVERIFY(glm::length(c.up() - pose.linear[1]) < 1e-9);
        QVERIFY(glm::length(c.forward() + pose.linear[2]) < 1e-9);
        const Vec3 point = c.eye + c.forward() * 9.0 + c.up();
        const auto pixel = c.project(point, view_);
        QVERIFY(pixel && std::abs(pixel->x - view_.width / 2) < 1e-6 && pixel->y < view_.height / 2);
        c.look(1, 0);
        QCOMPARE(c.right().y, 0.0);
    }
    void lookingStraightDownDoesNotTipOver() {
        Camera c;
        c.look(0, -500);
        QVERIFY(c.pitchDegrees >= -89);
        QVERIFY(std::isfinite(c.viewMatrix()[0][0]));
    }
    void aRectanglesFrustumHoldsWhatIsSeenInIt() {
        const Camera c = Camera::looking({10, 8, 20}, {0, 1, 0});
        const auto f = c.frustum(view_, {300, 500}, {100, 200});
        auto inside = [&](const Vec2& pixel) {
            const Vec3 p = c.rayThrough(pixel, view_).at(15);
            return std::all_of(f.planes.begin(), f.planes.end(),
                               [&](const auto& plane) { return plane.distance(p) >= 0; });
        };
        QVERIFY(inside({200, 300}));
        QVERIFY(!inside({90, 300}));
        QVERIFY(!inside({200, 510}));
        QVERIFY(!inside({310, 300}));
    }
    void anOrthographicPictureIsToScale() {
        for (const auto& [yaw, pitch] :
             {std::pair{0.0, -90.0}, {0.0, 0.0}, {180.0, 0.0}, {-90.0, 0.0}, {35.0, -20.0}}) {
            const Camera c = Camera::flat({3, 4, 5}, yaw, pitch, 20);
            const Vec3 point(5, 7, 2);
            const Vec2 pixel = *c.project(point, view_);
            const base::Vec4 clip = c.projection(view_) * c.viewMatrix() * base::Vec4(point, 1.0);
            QVERIFY(glm::length(pixel - Vec2((clip.x + 1) / 2 * view_.width, (1 - clip.y) / 2 * view_.height)) < 1e-6);
            const base::Ray ray = c.rayThrough(pixel, view_);
            QVERIFY(glm::length(glm::cross(ray.direction, point - ray.origin)) < 1e-9);
            QVERIFY(std::abs(c.distanceTo(point) - glm::dot(point - ray.origin, ray.direction)) < 1e-9);
            QVERIFY(glm::length(c.rayTo(point).origin - ray.origin) < 1e-9);
            QVERIFY(std::abs(c.metresPerPixel(point, view_) - 20 / view_.height) < 1e-12);
            const auto f = c.frustum(view_);
            QVERIFY(
                std::all_of(f.planes.begin(), f.planes.end(), [&](const auto& p) { return p.distance(point) > 0; }));
            QVERIFY(f.planes[4].distance(c.eye - c.forward() * 17.0) < 0);  // cut away
        }
    }
    void anOrthographicPictureZoomsAboutThePointerPansAndFrames() {
        Camera c = Camera::flat({3, 4, 5}, 0, -90, 20);
        const Vec3 point(5, 1, 2);
        const Vec2 before = *c.project(point, view_);
        c.zoomTowards(point, 0.4);
        QVERIFY(glm::length(*c.project(point, view_) - before) < 1e-6);
        QVERIFY(std::abs(c.heightMetres - 12) < 1e-9);
        c.pan({40, -25}, 1, view_);
        QVERIFY(glm::length(*c.project(point, view_) - before - Vec2(40, -25)) < 1e-6);
        for (int i = 0; i < 300; ++i) c.zoomTowards(point, 0.3);
        QVERIFY(c.heightMetres > 0.01);
        const base::Aabb box{{-40, 0, -3}, {-20, 9, 30}};
        c.frame(box, view_);
        for (int i = 0; i < 8; ++i) {
            const auto p = c.project(box.corner(i), view_);
            QVERIFY(p && p->x >= 0 && p->y >= 0 && p->x <= view_.width && p->y <= view_.height);
            QVERIFY(c.distanceTo(box.corner(i)) > 0);
        }
    }
    void betweenTwoCamerasItGoesTheShorterWay() {
        Camera a, b;
        a.yawDegrees = 170;
        b.yawDegrees = -170;
        b.eye = {2, 2, 10};
        QCOMPARE(a.between(b, 0), a);
        QCOMPARE(a.between(b, 1), b);
        const Camera half = a.between(b, 0.5);
        QVERIFY(std::abs(std::abs(half.yawDegrees) - 180) < 1e-9);
        QVERIFY(std::abs(half.eye.x - 1) < 1e-12);
        const Camera flat = Camera::flat({0, 0, 0}, 0, -90, 10);
        QCOMPARE(a.between(flat, 0.5), flat);  // no way leads from the one to the other
        QVERIFY(std::abs(flat.between(Camera::flat({0, 0, 0}, 0, -90, 40), 0.5).heightMetres - 20) < 1e-9);
    }
    void theWayItLooksIsSaidInWords() {
        QCOMPARE(QString::fromStdString(Camera::flat({0, 0, 0}, 0, -90, 5).describe()),
                 QString("looking straight down"));
        QCOMPARE(QString::fromStdString(Camera::looking({0, 0, 0}, {0, 0, -1}).describe()),
                 QString("looking north, level"));
        QCOMPARE(QString::fromStdString(Camera::looking({0, 10, 0}, {-10, 0, -10}).describe()),
                 QString("looking north-west, down 35°"));
        QCOMPARE(QString::fromStdString(Camera::looking({0, 0, 0}, {10, 0, 0}).describe()),
                 QString("looking east, level"));
    }
};

MELLOW_TEST(CameraTest)
}  // namespace camera_test
#include "camera_test.moc"
