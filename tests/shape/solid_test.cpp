// Solids are closed, as large as asked, and stand on their base.
#include "shape/solid.h"
#include "support/test_main.h"

#include <QtTest>
#include <map>
#include <set>

namespace solid_test {

using base::Vec3;
using shape::SolidShape;

class SolidTest : public QObject {
    Q_OBJECT
    static constexpr SolidShape kAll[] = {SolidShape::Box,    SolidShape::Wedge,  SolidShape::Cylinder,
                                          SolidShape::Cone,   SolidShape::Sphere, SolidShape::Plane,
                                          SolidShape::Stairs, SolidShape::Wall};
    static shape::SolidNumbers numbers(SolidShape kind, const Vec3& size, int parts = 0) {
        shape::SolidNumbers n;
        n.shape = kind;
        n.size = size;
        n.parts = parts;
        return n;
    }
  private Q_SLOTS:
    void eachIsAsLargeAsAskedAndStandsOnItsBase() {
        const Vec3 size(2, 3, 5);
        for (SolidShape kind : kAll) {
            const shape::Mesh mesh = shape::solidMesh(numbers(kind, size));
            QVERIFY(mesh.bounds.low.y == 0.0 || std::abs(mesh.bounds.low.y) < 1e-6);
            const Vec3 wanted = kind == SolidShape::Plane ? Vec3(2, 0, 5) : size;
            QVERIFY2(glm::length(mesh.bounds.size() - wanted) < 0.06, std::to_string(int(kind)).c_str());
            QCOMPARE(mesh.normals.size(), mesh.positions.size());
            QVERIFY(mesh.triangleCount() > 0);
        }
    }
    void everyTriangleFacesOutwards() {
        for (SolidShape kind : kAll) {
            const shape::Mesh mesh = shape::solidMesh(numbers(kind, {2, 1, 3}));
            double volume = 0;
            for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
                const Vec3 a = shape::cornerOf(mesh, t, 0), b = shape::cornerOf(mesh, t, 1),
                           c = shape::cornerOf(mesh, t, 2);
                const Vec3 across = glm::cross(b - a, c - a);
                QVERIFY2(glm::length(across) > 1e-12, "a triangle without a size");
                const auto& n = mesh.normals[mesh.indices[t * 3]];
                QVERIFY2(glm::dot(across, Vec3(n[0], n[1], n[2])) > 0, std::to_string(int(kind)).c_str());
                volume += glm::dot(a, glm::cross(b, c)) / 6;
            }
            const double box = 2 * 1 * 3;
            const std::map<SolidShape, double> share = {{SolidShape::Box, 1},
                                                        {SolidShape::Wall, 1},
                                                        {SolidShape::Wedge, 0.5},
                                                        {SolidShape::Cylinder, base::kPi / 4},
                                                        {SolidShape::Cone, base::kPi / 12},
                                                        {SolidShape::Sphere, base::kPi / 6},
                                                        {SolidShape::Plane, 0}};
            if (kind == SolidShape::Stairs)
                QVERIFY(volume > 0.5 * box && volume < 0.7 * box);
            else
                QVERIFY2(std::abs(volume - share.at(kind) * box) < 0.03 * box, std::to_string(volume).c_str());
        }
    }
    void stairsHaveTheStepsAskedForOrThoseThatAreClimbedWithEase() {
        QCOMPARE(shape::usualParts(numbers(SolidShape::Stairs, {1, 1.8, 3})), 10);
        const auto few = shape::solidMesh(numbers(SolidShape::Stairs, {1, 1, 1}, 2));
        const auto many = shape::solidMesh(numbers(SolidShape::Stairs, {1, 1, 1}, 5));
        auto levels = [](const shape::Mesh& mesh) {
            std::set<float> all;
            for (const auto& p : mesh.positions) all.insert(p[1]);
            return all.size();
        };
        QCOMPARE(levels(few), std::size_t{3});
        QCOMPARE(levels(many), std::size_t{6});
    }
};

MELLOW_TEST(SolidTest)
}  // namespace solid_test
#include "solid_test.moc"
