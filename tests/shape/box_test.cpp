#include <QtTest>

#include "shape/mesh.h"
#include "support/test_main.h"

namespace box_test {

class BoxTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aBoxIsClosedAndFacesOutwards() {
        const base::Aabb box{{-1, 0, 2}, {3, 1, 5}};
        const shape::Mesh mesh = shape::boxMesh(box);
        QCOMPARE(shape::boundsOf(mesh), box);
        QCOMPARE(mesh.triangleCount(), std::size_t{12});
        QVERIFY(shape::isFlat(mesh));
        double volume = 0;
        for (std::size_t i = 0; i < mesh.indices.size(); i += 3) {
            base::Vec3 p[3];
            for (std::size_t k = 0; k < 3; ++k) {
                const shape::Float3& v = mesh.positions[mesh.indices[i + k]];
                p[k] = {v[0], v[1], v[2]};
            }
            const shape::Float3& n = mesh.normals[mesh.indices[i]];
            QVERIFY(glm::dot(glm::cross(p[1] - p[0], p[2] - p[0]), base::Vec3(n[0], n[1], n[2])) > 0);
            volume += glm::dot(p[0], glm::cross(p[1], p[2])) / 6;
        }
        QVERIFY(std::abs(volume - 12) < 1e-6);
    }
    void fromOutsideARayMeetsIt() {
        const shape::Mesh mesh = shape::boxMesh({{-1, -1, -1}, {1, 1, 1}});
        for (const base::Vec3 way : {base::Vec3(1, 0, 0), {0, 1, 0}, {0, 0, 1}, {-1, 0, 0}, {0, -1, 0}, {0, 0, -1}}) {
            const auto hit =
                shape::intersect({way * -5.0 + base::Vec3(0.1, 0.2, 0.3) * (base::Vec3(1) - glm::abs(way)), way}, mesh);
            QVERIFY(hit && std::abs(hit->distance - 4) < 1e-6);
        }
    }
};

MELLOW_TEST(BoxTest)
}  // namespace box_test
#include "box_test.moc"
