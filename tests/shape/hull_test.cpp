// Hulls, balls and capsules round points: closed, convex, and holding what they are made of.
#include "shape/hull.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

#include "shape/solid.h"

namespace hull_test {

using base::Vec3;
using shape::Float3;
using shape::Mesh;

/// How far a point lies outside a convex mesh, metres; below 0: inside.
double outside(const Mesh& mesh, const Vec3& p) {
    double most = -1e300;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const Vec3 a = shape::cornerOf(mesh, t, 0);
        const Vec3 normal =
            glm::normalize(glm::cross(shape::cornerOf(mesh, t, 1) - a, shape::cornerOf(mesh, t, 2) - a));
        most = std::max(most, glm::dot(normal, p - a));
    }
    return most;
}

class HullTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void theHullOfABoxIsTheBox() {
        const Mesh box = shape::boxMesh({{-1, 0, -2}, {1, 3, 2}});
        const Mesh hull = shape::convexHull(box.positions);
        QVERIFY(std::abs(shape::volumeOf(hull) - 24) < 1e-6);
        QCOMPARE(hull.triangleCount(), std::size_t{12});
    }
    void aHullHoldsAllItsPoints() {
        const bool held = rc::check("hulls", [] {
            std::vector<Float3> points;
            const int count = *rc::gen::inRange(4, 60);
            for (int i = 0; i < count; ++i)
                points.push_back({static_cast<float>(*rc::gen::inRange(-100, 100)) / 10,
                                  static_cast<float>(*rc::gen::inRange(-100, 100)) / 10,
                                  static_cast<float>(*rc::gen::inRange(-100, 100)) / 10});
            const Mesh hull = shape::convexHull(points);
            for (const Float3& p : points) RC_ASSERT(outside(hull, {p[0], p[1], p[2]}) < 1e-3);
            RC_ASSERT(shape::volumeOf(hull) > 0);
        });
        QVERIFY(held);
    }
    void flatOnesAreThinBoxes() {
        const Mesh flat = shape::convexHull(std::vector<Float3>{{0, 0, 0}, {1, 0, 0}, {0, 0, 1}, {1, 0, 1}});
        QVERIFY(shape::volumeOf(flat) > 0);
        QVERIFY(flat.bounds.size().y >= 0.001 - 1e-9);
        QVERIFY(shape::convexHull({}).indices.empty());
    }
    void manyPointsKeepTheFurthest() {
        const Mesh ball = [] {
            shape::SolidNumbers n;
            n.shape = shape::SolidShape::Sphere;
            n.size = Vec3(2);
            n.parts = 64;
            return shape::solidMesh(n);
        }();
        const Mesh hull = shape::convexHull(ball.positions, 64);
        QVERIFY(hull.triangleCount() <= 2 * 64 - 4);
        QVERIFY(shape::volumeOf(hull) > 0.8 * shape::volumeOf(ball));
    }
    void ballsAndCapsulesAreAsLargeAsTheyShould() {
        const Mesh ball = shape::ballMesh({1, 2, 3}, {2, 1, 1});
        QVERIFY(glm::length(ball.bounds.centre() - Vec3(1, 2, 3)) < 1e-5);
        const double whole = 4.0 / 3 * base::kPi;
        QVERIFY(shape::volumeOf(ball) > 0.85 * whole && shape::volumeOf(ball) < whole);
        const Mesh capsule = shape::capsuleMesh({0, 0, 0}, {1, 1, 5});
        QVERIFY(std::abs(capsule.bounds.size().z - 5) < 1e-5);
        QVERIFY(std::abs(capsule.bounds.size().x - 1) < 1e-5);
        const double rod = base::kPi * 0.25 * 4 + base::kPi / 6;
        QVERIFY(shape::volumeOf(capsule) > 0.9 * rod && shape::volumeOf(capsule) < rod);
    }
};

MELLOW_TEST(HullTest)
}  // namespace hull_test
#include "hull_test.moc"
