// Other surfaces in a mesh's slots: colours, and where images lie.
#include "shape/dress.h"
#include "support/test_main.h"

#include <QtTest>

#include "shape/solid.h"

namespace dress_test {

using base::Vec3;
using shape::Mesh;

shape::SlotLook imaged(bool stretched, double tile = 1) {
    shape::SlotLook look;
    look.image = shape::Image{"image/png", "x"};
    look.stretched = stretched;
    look.tileMetres = tile;
    return look;
}

class DressTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void coloursAreReplacedAndTinted() {
        const Mesh box = shape::boxMesh({{0, 0, 0}, {1, 1, 1}});
        shape::SlotLook look;
        look.colour = {{0.5F, 0.4F, 0.2F}};
        look.tint = {0.5F, 1.0F, 1.0F};
        look.gloss = 0.7F;
        const Mesh dressed = shape::dressed(box, {look}, Vec3(1.0));
        QCOMPARE(dressed.materials[0].baseColour[0], 0.25F);
        QCOMPARE(dressed.materials[0].baseColour[1], 0.4F);
        QCOMPARE(dressed.materials[0].gloss, 0.7F);
        QCOMPARE(dressed.positions.size(), box.positions.size());
        // What only tints keeps the mesh's own look.
        shape::SlotLook tint;
        tint.tint = {0.5F, 0.5F, 0.5F};
        QCOMPARE(shape::dressed(box, {tint}, Vec3(1.0)).materials[0].baseColour[0],
                 box.materials[0].baseColour[0] * 0.5F);
    }
    void aStretchedImageLiesOnceOverTheFace() {
        const Mesh wall = shape::boxMesh({{-2, 0, -0.1}, {2, 1, 0.1}});
        const Mesh dressed = shape::dressed(wall, {imaged(true)}, Vec3(1.0));
        QCOMPARE(shape::faceAspect(wall, 0, Vec3(1.0)), 4.0);
        QCOMPARE(shape::faceAspect(wall, 0, Vec3(1, 2, 1)), 2.0);
        double low = 1e9, high = -1e9;
        for (std::uint32_t t = 0; t < dressed.triangleCount(); ++t) {
            const Vec3 n = glm::cross(shape::cornerOf(dressed, t, 1) - shape::cornerOf(dressed, t, 0),
                                      shape::cornerOf(dressed, t, 2) - shape::cornerOf(dressed, t, 0));
            if (glm::normalize(n).z < 0.9) continue;
            for (std::size_t k = 0; k < 3; ++k) {
                const std::uint32_t i = dressed.indices[t * 3 + k];
                // Up in the world is up in the image, whose rows run downwards; from the left to the right.
                QCOMPARE(double(dressed.texture[i][1]), 1.0 - double(dressed.positions[i][1]));
                QVERIFY(std::abs(dressed.texture[i][0] - (dressed.positions[i][0] + 2) / 4) < 1e-6);
                low = std::min(low, double(dressed.texture[i][0]));
                high = std::max(high, double(dressed.texture[i][0]));
            }
        }
        QVERIFY(std::abs(low) < 1e-6 && std::abs(high - 1) < 1e-6);
    }
    void tilesAreAsLargeAsTheyShould() {
        const Mesh box = shape::boxMesh({{0, 0, 0}, {1, 1, 1}});
        for (const double factor : {1.0, 3.0}) {
            const Mesh dressed = shape::dressed(box, {imaged(false, 0.5)}, Vec3(factor));
            double low = 1e9, high = -1e9;
            for (const auto& uv : dressed.texture)
                low = std::min(low, double(uv[0])), high = std::max(high, double(uv[0]));
            QVERIFY(std::abs(high - low - 2 * 2 * factor) < 1e-5);  // from -z to x, each so many tiles
        }
    }
    void slotsHaveNamesAndTriangles() {
        Mesh two = shape::boxMesh({{0, 0, 0}, {1, 1, 1}});
        two.materials.push_back(two.materials[0]);
        two.materials[0].name = two.materials[1].name = "Wood";
        two.submeshes = {{0, 18, 0}, {18, 18, 1}};
        QCOMPARE(shape::slotNames(two), (std::vector<std::string>{"Wood", "Wood'"}));
        QCOMPARE(shape::slotOfTriangle(two, 5), std::size_t{0});
        QCOMPARE(shape::slotOfTriangle(two, 6), std::size_t{1});
        QCOMPARE(shape::slotNames(shape::boxMesh({{0, 0, 0}, {1, 1, 1}})).size(), std::size_t{1});
    }
};

MELLOW_TEST(DressTest)
}  // namespace dress_test
#include "dress_test.moc"
