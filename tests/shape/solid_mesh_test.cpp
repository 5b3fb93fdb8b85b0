// The mesh of pieces: one vertex where corners are lit alike, images that lie as faces say, no faces that nobody sees.
#include "shape/solid_mesh.h"
#include "support/test_main.h"

#include <QtTest>
#include <set>

#include "shape/dress.h"
#include "shape/hull.h"
#include "shape/solid.h"

namespace solid_mesh_test {

using base::Vec2;
using base::Vec3;
using shape::FaceLook;
using shape::Mesh;
using shape::SolidNumbers;
using shape::SolidShape;

SolidNumbers solid(SolidShape shape, const Vec3& size) {
    SolidNumbers n;
    n.shape = shape;
    n.size = size;
    return n;
}

/// The box on the image of the triangles with a material.
std::pair<Vec2, Vec2> onImage(const Mesh& mesh, const std::string& material) {
    Vec2 low(1e9), high(-1e9);
    for (const shape::Submesh& part : mesh.submeshes)
        for (std::uint32_t i = part.firstIndex; i < part.firstIndex + part.indexCount; ++i)
            if (mesh.materials[part.material].name == material) {
                const auto& at = mesh.texture[mesh.indices[i]];
                low = glm::min(low, Vec2(at[0], at[1]));
                high = glm::max(high, Vec2(at[0], at[1]));
            }
    return {low, high};
}

double areaOf(const Mesh& mesh) {
    double all = 0;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const Vec3 a = shape::cornerOf(mesh, t, 0);
        all += glm::length(glm::cross(shape::cornerOf(mesh, t, 1) - a, shape::cornerOf(mesh, t, 2) - a)) / 2;
    }
    return all;
}

class SolidMeshTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aBoxHasFourVerticesAFaceAndIsFlat() {
        const Mesh box = shape::solidMesh(solid(SolidShape::Box, {2, 1, 3}));
        QCOMPARE(box.positions.size(), std::size_t{24});
        QCOMPARE(box.triangleCount(), std::size_t{12});
        QVERIFY(shape::isFlat(box));
        QVERIFY(box.texture.empty());
        QCOMPARE(box.submeshes.size(), std::size_t{1});
    }
    void whatIsRoundIsLitRoundAndAHexagonIsNot() {
        SolidNumbers round = solid(SolidShape::Cylinder, {2, 1, 2});
        QVERIFY(!shape::isFlat(shape::solidMesh(round)));
        round.parts = 6;
        QVERIFY(shape::isFlat(shape::solidMesh(round)));
    }
    void facesAgainstOneAnotherAreNotThere() {
        // Two boxes side by side: the surface of one long box.
        const shape::Pieces two = {shape::boxOf({{0, 0, 0}, {1, 1, 1}}), shape::boxOf({{1, 0, 0}, {3, 1, 1}})};
        QVERIFY(std::abs(areaOf(shape::meshOf(two, {})) - 2 * (3 + 3 + 1)) < 1e-6);
        // A small one on a large one: the large one’s top is left round it.
        const shape::Pieces on = {shape::boxOf({{0, 0, 0}, {4, 1, 4}}), shape::boxOf({{1, 1, 1}, {2, 2, 2}})};
        const Mesh mesh = shape::meshOf(on, {});
        QVERIFY(std::abs(areaOf(mesh) - (16 * 2 + 4 * 4 + 4)) < 1e-6);
        QVERIFY(std::abs(shape::volumeOf(mesh) - 17) < 1e-6);
    }
    void pointsOnEdgesAreCornersOfBothFaces() {
        const shape::Pieces on = {shape::boxOf({{0, 0, 0}, {4, 1, 1}}), shape::boxOf({{1, 1, 0}, {2, 2, 1}})};
        std::set<std::array<int, 3>> corners;
        for (const shape::FacePolygon& face : shape::jointed(shape::outsideOf(on))) {
            if (face.normal.z < 0.5 || face.corners[0].y > 1.5) continue;
            for (const Vec3& c : face.corners) corners.insert({int(c.x), int(c.y), int(c.z)});
        }
        QVERIFY(corners.contains({1, 1, 1}) && corners.contains({2, 1, 1}));
    }
    void anImageLiesInTilesFromTheSideOfItsFace() {
        SolidNumbers wall = solid(SolidShape::Wall, {6, 3, 0.2});
        wall.looks = {{4, "brick", FaceLook::Lies::Sides, 0.5, 0, {}}};
        const auto [low, high] = onImage(shape::solidMesh(wall), "brick");
        QVERIFY(glm::length(high - low - Vec2(12, 6)) < 1e-5);
        // Without a size of its own it is in metres, for the surface to divide.
        wall.looks[0].metres = 0;
        const Mesh mesh = shape::solidMesh(wall);
        const auto [from, to] = onImage(mesh, "brick");
        QVERIFY(glm::length(to - from - Vec2(6, 3)) < 1e-5);
        std::size_t slot = 0;
        while (mesh.materials[slot].name != "brick") ++slot;
        shape::SlotLook look;
        look.slot = slot;
        look.image = shape::Image{"image/png", "x"};
        look.tileMetres = 2;
        const auto [a, b] = onImage(shape::dressed(mesh, {look}, Vec3(1.0)), "brick");
        QVERIFY(glm::length(b - a - Vec2(3, 1.5)) < 1e-5);
    }
    void anImageIsTurnedAndShifted() {
        SolidNumbers wall = solid(SolidShape::Wall, {6, 3, 0.2});
        wall.looks = {{4, "brick", FaceLook::Lies::Sides, 1, 90, {}}};
        const auto [low, high] = onImage(shape::solidMesh(wall), "brick");
        QVERIFY(glm::length(high - low - Vec2(3, 6)) < 1e-5);
        wall.looks[0].shift = {0.25, 0.5};
        const auto [shifted, other] = onImage(shape::solidMesh(wall), "brick");
        QVERIFY(glm::length(shifted - low - Vec2(0.25, 0.5)) < 1e-5);
    }
    void anImageLiesOnceOverAFaceWithAHoleInIt() {
        SolidNumbers wall = solid(SolidShape::Wall, {6, 3, 0.2});
        wall.openings.emplace_back();
        wall.openings[0].at = {-1, 0.5, 0.1};
        wall.looks = {{4, "poster", FaceLook::Lies::Fits, 0, 0, {}}};
        const auto [low, high] = onImage(shape::solidMesh(wall), "poster");
        QVERIFY(glm::length(low) < 1e-5 && glm::length(high - Vec2(1)) < 1e-5);
    }
    void anImageRunsOnOverTheEdgeOfABox() {
        SolidNumbers box = solid(SolidShape::Box, {2, 1, 3});
        for (int tag : {3, 4}) box.looks.push_back({tag, "stripe", FaceLook::Lies::Runs, 0, 0, {}});
        const auto [low, high] = onImage(shape::solidMesh(box), "stripe");
        // Two faces side by side on the image, as wide as both and as high as one.
        QVERIFY2(glm::length(high - low - Vec2(5, 1)) < 1e-5, qPrintable(QString::number((high - low).x)));
    }
    void revealsOfAnOpeningHaveATagOfTheirOwn() {
        SolidNumbers wall = solid(SolidShape::Wall, {6, 3, 0.4});
        wall.openings.resize(2);
        wall.openings[0].at = {-2, 0.5, 0.2};
        wall.openings[1].at = {1, 0.5, 0.2};
        wall.looks = {{shape::kOpeningTag + 1, "oak", FaceLook::Lies::Sides, 0, 0, {}}};
        const Mesh mesh = shape::solidMesh(wall);
        double left = 1e9;
        for (const shape::Submesh& part : mesh.submeshes)
            for (std::uint32_t i = part.firstIndex; i < part.firstIndex + part.indexCount; ++i)
                if (mesh.materials[part.material].name == "oak")
                    left = std::min(left, double(mesh.positions[mesh.indices[i]][0]));
        QVERIFY(std::abs(left - 0.5) < 1e-6);
    }
    void aPlaneIsOneFaceLookingUp() {
        const Mesh plane = shape::solidMesh(solid(SolidShape::Plane, {2, 1, 3}));
        QCOMPARE(plane.triangleCount(), std::size_t{2});
        QVERIFY(std::abs(plane.normals[0][1] - 1) < 1e-6);
    }
    void stairsThatWindHaveAsManyTreadsAsPieces() {
        SolidNumbers stairs = solid(SolidShape::Arch, {3, 2.7, 3});
        stairs.rise = 0.18;
        stairs.thickness = 1;
        stairs.sweepDegrees = 270;
        stairs.filled = true;
        const shape::Pieces pieces = shape::solidPieces(stairs);
        QCOMPARE(pieces.size(), std::size_t{15});
        std::set<long> heights;
        for (const shape::Convex& piece : pieces) {
            heights.insert(std::lround(shape::boundsOf(piece).high.y * 1000));
            QVERIFY(std::abs(shape::boundsOf(piece).low.y) < 1e-9);  // down to the ground
        }
        QCOMPARE(heights.size(), std::size_t{15});
        stairs.filled = false;
        QVERIFY(shape::volumeOf(shape::solidPieces(stairs)) < shape::volumeOf(pieces) / 2);
    }
    void anArchIsFilledOutToItsBox() {
        SolidNumbers arch = solid(SolidShape::Arch, {4, 3, 1});
        arch.thickness = 0.5;
        const double open = shape::volumeOf(shape::solidPieces(arch));
        arch.filled = true;
        const shape::Pieces filled = shape::solidPieces(arch);
        QVERIFY(shape::volumeOf(filled) > open * 1.5);
        const base::Aabb box = shape::boundsOf(filled);
        QVERIFY(glm::length(box.low - Vec3(-2, 0, -0.5)) < 1e-9 && glm::length(box.high - Vec3(2, 3, 0.5)) < 1e-9);
    }
};

MELLOW_TEST(SolidMeshTest)
}  // namespace solid_mesh_test
#include "solid_mesh_test.moc"
