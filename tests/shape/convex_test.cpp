// Convex pieces stay convex and closed whatever is cut from them, and nothing of them is lost or made.
#include "shape/convex.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>
#include <map>

#include "shape/hull.h"
#include "shape/solid.h"

namespace convex_test {

using base::Vec2;
using base::Vec3;
using shape::Convex;
using shape::Pieces;
using shape::SolidNumbers;
using shape::SolidShape;

double between(double low, double high) {
    return low + (high - low) * *rc::gen::inRange(0, 1001) / 1000;
}

Vec3 someWay() {
    const Vec3 v(between(-1, 1), between(-1, 1), between(-1, 1));
    return glm::length(v) > 0.1 ? glm::normalize(v) : Vec3(0, 1, 0);
}

SolidNumbers someSolid() {
    static constexpr SolidShape kAll[] = {
        SolidShape::Box,    SolidShape::Wedge, SolidShape::Cylinder,   SolidShape::Cone,    SolidShape::Sphere,
        SolidShape::Stairs, SolidShape::Arch,  SolidShape::CurvedWall, SolidShape::Frustum, SolidShape::Ramp,
        SolidShape::Torus,  SolidShape::Pipe,  SolidShape::Prism,      SolidShape::Room};
    SolidNumbers n;
    n.shape = kAll[*rc::gen::inRange<std::size_t>(0, std::size(kAll))];
    n.size = {between(1, 6), between(1, 6), between(1, 6)};
    n.parts = *rc::gen::inRange(3, 9);
    n.thickness = between(0.05, 0.45);
    n.sweepDegrees = between(30, 360);
    n.startDegrees = between(0, 180);
    n.rise = n.shape == SolidShape::Arch && *rc::gen::arbitrary<bool>() ? 0.1 : 0;
    n.filled = *rc::gen::arbitrary<bool>();
    n.footprint = {{0, 0}, {4, 0}, {4, 1}, {1, 1}, {1, 3}, {0, 3}};
    return n;
}

void assertSound(const Pieces& pieces) {
    for (const Convex& piece : pieces) {
        const base::Status sound = shape::wellFormed(piece);
        if (!sound) RC_FAIL(sound.error().message);
    }
}

/// Each edge of a triangle is one of another, the other way.
bool isClosed(const shape::Mesh& mesh) {
    std::map<std::array<long long, 3>, std::uint32_t> places;
    auto place = [&](std::uint32_t i) {
        const auto& p = mesh.positions[i];
        const std::array<long long, 3> key = {std::llround(p[0] * 1e4), std::llround(p[1] * 1e4),
                                              std::llround(p[2] * 1e4)};
        return places.try_emplace(key, static_cast<std::uint32_t>(places.size())).first->second;
    };
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
        for (std::size_t k = 0; k < 3; ++k)
            ++edges[{place(mesh.indices[3 * t + k]), place(mesh.indices[3 * t + (k + 1) % 3])}];
    for (const auto& [edge, count] : edges) {
        const auto back = edges.find({edge.second, edge.first});
        if (back == edges.end() || back->second != count) return false;
    }
    return true;
}

class ConvexTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void anyShapeIsMadeOfSoundPiecesThatDoNotMeet() {
        QVERIFY(rc::check("shapes", [] {
            const SolidNumbers n = someSolid();
            const Pieces pieces = shape::solidPieces(n);
            RC_ASSERT(!pieces.empty());
            assertSound(pieces);
            for (std::size_t i = 0; i < pieces.size(); ++i)
                for (std::size_t k = 0; k < i; ++k)
                    if (const auto both = shape::within(pieces[i], pieces[k], 0))
                        RC_ASSERT(shape::volumeOf(*both) < 1e-6);
            const shape::Mesh mesh = shape::solidMesh(n);
            RC_ASSERT(isClosed(mesh));
            RC_ASSERT(std::abs(shape::volumeOf(mesh) - shape::volumeOf(pieces)) < 1e-3);
        }));
    }
    void aCutKeepsTheVolumeAndBothHalvesSound() {
        QVERIFY(rc::check("cuts", [] {
            Pieces pieces = shape::solidPieces(someSolid());
            const double volume = shape::volumeOf(pieces);
            double apart = 0;
            for (int cut = 0; cut < 3; ++cut) {
                const Vec3 at(between(-2, 2), between(0, 3), between(-2, 2));
                auto halves = shape::cut(pieces, shape::planeThrough(at, someWay()), 99);
                assertSound(halves.behind);
                assertSound(halves.before);
                apart += shape::volumeOf(halves.before);
                pieces = std::move(halves.behind);
            }
            RC_ASSERT(std::abs(apart + shape::volumeOf(pieces) - volume) < 1e-6 * std::max(1.0, volume));
        }));
    }
    void takingOutAndWhatIsCommonMakeTheWhole() {
        QVERIFY(rc::check("tools", [] {
            const Pieces pieces = shape::solidPieces(someSolid());
            base::Affine map;
            map.linear = glm::mat3_cast(glm::angleAxis(between(0, 6), someWay()));
            map.translation = {between(-2, 2), between(-1, 2), between(-2, 2)};
            const Pieces tools = shape::mapped(shape::solidPieces(someSolid()), map);
            const Pieces left = shape::without(pieces, tools, 99), common = shape::within(pieces, tools, 99);
            assertSound(left);
            assertSound(common);
            const double volume = shape::volumeOf(pieces);
            RC_ASSERT(std::abs(shape::volumeOf(left) + shape::volumeOf(common) - volume) <
                      1e-6 * std::max(1.0, volume));
            const Pieces both = shape::together(pieces, tools);
            assertSound(both);
            RC_ASSERT(std::abs(shape::volumeOf(both) - shape::volumeOf(pieces) - shape::volumeOf(tools) +
                               shape::volumeOf(common)) < 1e-6 * std::max(1.0, volume));
        }));
    }
    void aCutMeshHasNoCracks() {
        QVERIFY(rc::check("cracks", [] {
            SolidNumbers wall;
            wall.size = {6, 3, 0.3};
            for (int i = 0; i < 3; ++i) {
                shape::Opening opening;
                opening.outline = i == 1 ? shape::Opening::Outline::Arch : shape::Opening::Outline::Rectangle;
                opening.at = {-2.0 + 2 * i + between(-0.3, 0.3), i == 2 ? between(0.1, 1) : 0, 0.15};
                opening.size = {between(0.3, 1.2), between(0.5, 1.9)};
                wall.openings.push_back(opening);
            }
            const Pieces pieces = shape::solidPieces(wall);
            assertSound(pieces);
            const shape::Mesh mesh = shape::solidMesh(wall);
            RC_ASSERT(isClosed(mesh));
            RC_ASSERT(std::abs(shape::volumeOf(mesh) - shape::volumeOf(pieces)) < 1e-4);
        }));
    }
    void anOpeningIsAsLargeAsAskedToANanometre() {
        SolidNumbers wall;
        wall.size = {5, 3, 0.25};
        shape::Opening door;
        door.at = {0.37, 0, 0.125};
        door.size = {1.013, 2.117};
        wall.openings = {door};
        const Pieces pieces = shape::solidPieces(wall);
        QVERIFY(std::abs(shape::volumeOf(pieces) - (5 * 3 - 1.013 * 2.117) * 0.25) < 1e-9);
        double left = -1e9, right = 1e9, head = 1e9;
        for (const shape::FacePolygon& face : shape::outsideOf(pieces)) {
            if (face.tag != shape::kOpeningTag) continue;
            if (face.normal.x > 0.99) left = std::max(left, face.corners[0].x);
            if (face.normal.x < -0.99) right = std::min(right, face.corners[0].x);
            if (face.normal.y < -0.99) head = std::min(head, face.corners[0].y);
        }
        QVERIFY(std::abs(left - (0.37 - 1.013 / 2)) < 1e-9 && std::abs(right - (0.37 + 1.013 / 2)) < 1e-9);
        QVERIFY(std::abs(head - 2.117) < 1e-9);
    }
    void aRoomWithOpeningsHasNoCracks() {
        QVERIFY(rc::check("rooms", [] {
            SolidNumbers room;
            room.shape = SolidShape::Room;
            room.size = {between(3, 7), between(2, 4), between(3, 7)};
            const Vec3 half = room.size / 2.0;
            const std::pair<Vec3, Vec3> faces[] = {{{0, 0, half.z}, {0, 0, 1}},
                                                   {{0, 0, -half.z}, {0, 0, -1}},
                                                   {{half.x, 0, 0}, {1, 0, 0}},
                                                   {{-half.x, 0, 0}, {-1, 0, 0}}};
            for (const auto& [at, facing] : faces) {
                shape::Opening opening;
                opening.outline =
                    *rc::gen::arbitrary<bool>() ? shape::Opening::Outline::Arch : shape::Opening::Outline::Rectangle;
                opening.at = at + Vec3(0, *rc::gen::arbitrary<bool>() ? 0 : between(0.1, 0.9), 0);
                opening.facing = facing;
                opening.size = {between(0.4, 1.5), between(0.4, 1.6)};
                room.openings.push_back(opening);
            }
            assertSound(shape::solidPieces(room));
            RC_ASSERT(isClosed(shape::solidMesh(room)));
        }));
    }
    void anOpeningGoesThroughOneWallOfARoomOnly() {
        SolidNumbers room;
        room.shape = SolidShape::Room;
        room.size = {6, 3, 5};
        shape::Opening door;
        door.at = {1, 0.2, 2.5};
        room.openings = {door};
        const double whole = 6 * 3 * 5 - 5.6 * 2.6 * 4.6;
        QVERIFY(std::abs(shape::volumeOf(shape::solidPieces(room)) - (whole - 1 * 2 * 0.2)) < 1e-9);
        // Near the corner, where another wall runs away from it: as deep as the wall, no deeper.
        room.openings[0].at.x = -2.6;
        room.openings[0].size.x = 0.7;
        const double left = shape::volumeOf(shape::solidPieces(room));
        QVERIFY(std::abs(left - (whole - 0.7 * 2 * 0.2)) < 0.01);
    }
    void anOpeningInARoundWallGoesThroughAllOfIt() {
        SolidNumbers wall;
        wall.shape = SolidShape::CurvedWall;
        wall.size = {8, 3, 4};
        shape::Opening window;
        window.at = {0, 1, -2};  // the outermost place of the ring, seen from outside
        window.facing = {0, 0, -1};
        window.size = {2, 1};
        const double whole = shape::volumeOf(shape::solidPieces(wall));
        wall.openings = {window};
        const double cut = whole - shape::volumeOf(shape::solidPieces(wall));
        QVERIFY2(cut > 0.39 && cut < 0.5, std::to_string(cut).c_str());
        const double middle = *shape::thicknessAt(shape::wholePieces(wall), {0, 1.5, -2}, {0, 0, -1});
        QVERIFY(std::abs(middle - 0.2) < 0.02);
    }
    void aHullHasTheCornersThatStickOut() {
        const Convex box = shape::boxOf({{0, 0, 0}, {2, 1, 3}});
        std::vector<Vec3> points = box.corners;
        points.emplace_back(1, 0.5, 1);  // inside
        points.emplace_back(1, 1, 0);    // on an edge
        points.emplace_back(1, 1, 1);    // on a face
        const auto hull = shape::hullOf(points, box, 50);
        QVERIFY(hull && hull->corners.size() == 8 && hull->faces.size() == 6);
        QVERIFY(std::abs(shape::volumeOf(*hull) - 6) < 1e-12);
        for (const shape::ConvexFace& face : hull->faces) QVERIFY(face.tag >= 0 && face.tag < 6);
        QVERIFY(!shape::hullOf(std::vector<Vec3>{{0, 0, 0}, {1, 0, 0}, {0, 0, 1}, {1, 0, 1}}, box, 0));
    }
    void piecesThatMakeAConvexOneAreMended() {
        const Convex box = shape::boxOf({{0, 0, 0}, {4, 1, 3}});
        auto halves = shape::cut(std::vector<Convex>{box}, shape::planeThrough({1, 0, 0}, {1, 0, 0}), 9);
        Pieces all = halves.behind;
        all.push_back(halves.before[0]);
        const Pieces one = shape::mended(all);
        QCOMPARE(one.size(), std::size_t{1});
        QVERIFY(std::abs(shape::volumeOf(one) - 12) < 1e-9);
        // An angle stays two.
        QCOMPARE(shape::mended({shape::boxOf({{0, 0, 0}, {1, 1, 3}}), shape::boxOf({{1, 0, 0}, {3, 1, 1}})}).size(),
                 std::size_t{2});
    }
    void outlinesFallIntoConvexPartsOrAreRefused() {
        const auto parts = shape::convexParts({{0, 0}, {4, 0}, {4, 1}, {1, 1}, {1, 3}, {0, 3}});
        QVERIFY(parts && parts->size() == 2);
        double area = 0;
        for (const auto& part : *parts)
            for (std::size_t i = 0; i < part.size(); ++i) area += base::cross(part[i], part[(i + 1) % part.size()]) / 2;
        QVERIFY(std::abs(area - 6) < 1e-12);
        QVERIFY(!shape::convexParts({{0, 0}, {1, 1}, {1, 0}, {0, 1}}));
        QVERIFY(!shape::convexParts({{0, 0}, {1, 0}, {2, 0}}));
        QVERIFY(!shape::convexParts({{0, 0}, {1, 0}}));
    }
    void whatIsNoPieceIsNamed() {
        Convex box = shape::boxOf({{0, 0, 0}, {1, 1, 1}});
        QVERIFY(shape::wellFormed(box));
        Convex open = box;
        open.faces.pop_back();
        QVERIFY(!shape::wellFormed(open));
        Convex dented = box;
        dented.corners[0] = {0.5, 0.5, 0.5};
        QVERIFY(!shape::wellFormed(dented));
        Convex flat = box;
        for (Vec3& c : flat.corners) c.y = 0;
        QVERIFY(!shape::wellFormed(flat));
    }
    void anImageRunsOnRoundACylinder() {
        SolidNumbers round;
        round.shape = SolidShape::Cylinder;
        round.size = {2, 1, 2};
        round.looks = {{2, "brick", shape::FaceLook::Lies::Runs, 0, 0, {}}};
        const shape::Mesh mesh = shape::solidMesh(round);
        QCOMPARE(mesh.materials.size(), std::size_t{2});
        float low = 1e9F, high = -1e9F;
        for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
            for (const shape::Submesh& part : mesh.submeshes) {
                if (mesh.materials[part.material].name != "brick" || t * 3 < part.firstIndex ||
                    t * 3 >= part.firstIndex + part.indexCount)
                    continue;
                for (std::size_t k = 0; k < 3; ++k) {
                    const auto& a = mesh.texture[mesh.indices[3 * t + k]];
                    const auto& b = mesh.texture[mesh.indices[3 * t + (k + 1) % 3]];
                    const auto& p = mesh.positions[mesh.indices[3 * t + k]];
                    const auto& q = mesh.positions[mesh.indices[3 * t + (k + 1) % 3]];
                    // As long on the image as on the body: nothing is stretched.
                    const double on = std::hypot(a[0] - b[0], a[1] - b[1]);
                    const double off = std::hypot(std::hypot(p[0] - q[0], p[1] - q[1]), p[2] - q[2]);
                    QVERIFY(std::abs(on - off) < 1e-4);
                    low = std::min(low, a[0]);
                    high = std::max(high, a[0]);
                }
            }
        // All the way round, less nothing.
        QVERIFY(std::abs(high - low - 24 * 2 * std::sin(base::kPi / 24)) < 0.27);
    }
};

MELLOW_TEST(ConvexTest)
}  // namespace convex_test
#include "convex_test.moc"
