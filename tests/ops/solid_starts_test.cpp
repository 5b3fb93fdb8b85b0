// Solids from ugly starts: turned, mirrored, sized, in groups, in instances, at the limits, twice in a row.
#include <QtTest>

#include "model/facets/surfaces.h"
#include "ops/brick.h"
#include "ops/group.h"
#include "ops/prefab.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"
#include "ops/surfaces.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace solid_starts_test {

using base::ObjectId;
using base::Vec3;
using model::Solid;
using ops::SolidPart;

struct Yard : test::Blocks {
    ObjectId add(Solid::Shape shape, const Vec3& size, const base::Transform& frame = {}) {
        return *test::asStep(
            *this, [&](edit::Draft& d) { return ops::addSolid(d, model::usualSolid(shape, size), frame, {}); });
    }
    const Solid& solid(ObjectId id) { return *scene().facet<Solid>(slot(id)); }
    shape::Pieces pieces(ObjectId id) { return query::piecesOf(solid(id)); }
    /// In the world.
    double volume(ObjectId id) {
        return shape::volumeOf(pieces(id)) * std::abs(glm::determinant(scene().world(slot(id)).linear));
    }
    base::Aabb worldBox(ObjectId id) {
        base::Aabb box;
        for (const shape::Convex& piece : pieces(id))
            for (const Vec3& c : piece.corners) box.add(scene().world(slot(id)).point(c));
        return box;
    }
    void pose(ObjectId id, const base::Transform& local) {
        QVERIFY(test::asStep(*this, [&](edit::Draft& d) { return d.setTransforms({&id, 1}, {&local, 1}); }));
    }
    template <class Verb>
    auto step(const Verb& verb) {
        return test::asStep(*this, verb);
    }
};

class SolidStartsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whatIsTurnedSizedAndMirroredIsCutWhereThePlaneIs() {
        Yard b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        base::Transform odd;
        odd.position = {10, 3, -5};
        odd.rotation = base::fromDegrees({20, 50, -10});
        odd.scale = {-2, 0.5, 1.5};
        b.pose(box, odd);
        const double before = b.volume(box);
        const auto plane = shape::planeThrough(b.worldBox(box).centre(), {0.2, 1, 0.3});
        const auto left = b.step([&](edit::Draft& d) { return ops::clip(d, {&box, 1}, plane, {}); });
        QVERIFY(left && left->size() == 2);
        QVERIFY(std::abs(b.volume((*left)[0]) + b.volume((*left)[1]) - before) < 1e-9);
        for (ObjectId id : *left)
            for (const shape::Convex& piece : b.pieces(id)) {
                QVERIFY(shape::wellFormed(piece));
                for (const Vec3& c : piece.corners) {
                    const double h = plane.height(b.scene().world(b.slot(id)).point(c));
                    QVERIFY(id == box ? h < 1e-6 : h > -1e-6);
                }
            }
    }
    void theSameCutTwiceMissesTheSecondTime() {
        Yard b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        const auto cut = [&] {
            return b.step([&](edit::Draft& d) {
                return ops::clip(d, {&box, 1}, shape::planeThrough({0, 1, 0}, {0, 1, 0}), {false, true});
            });
        };
        QVERIFY(cut());
        QVERIFY(!cut());  // nothing lies before it any more
        QVERIFY(std::abs(b.volume(box) - 4) < 1e-9);
    }
    void aPlaneAlongAFaceCutsNothing() {
        Yard b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        for (double y : {0.0, 2.0, 2.0 - 1e-9, 1e-9})
            QVERIFY(!b.step([&](edit::Draft& d) {
                return ops::clip(d, {&box, 1}, shape::planeThrough({0, y, 0}, {0, 1, 0}), {});
            }));
        QVERIFY(b.solid(box).shape == Solid::Shape::Box);
    }
    void aGroupedSolidKeepsItsPlaceInTheTreeAndSoDoesItsOtherHalf() {
        Yard b;
        const ObjectId a = b.add(Solid::Shape::Box, {2, 2, 2}),
                       other = b.add(Solid::Shape::Box, {1, 1, 1}, {{5, 0, 0}, base::Quat(1, 0, 0, 0), Vec3(1)});
        const std::vector<ObjectId> both = {a, other};
        const ObjectId group = *b.step([&](edit::Draft& d) { return ops::group(d, both, "Yard"); });
        base::Transform turned;
        turned.position = {3, 1, 2};
        turned.rotation = base::fromDegrees({0, 37, 0});
        b.pose(group, turned);
        const base::Aabb before = b.worldBox(a);
        const auto left = b.step([&](edit::Draft& d) {
            return ops::clip(d, {&a, 1}, shape::planeThrough(before.centre(), {1, 0, 0}), {});
        });
        QVERIFY(left && left->size() == 2);
        base::Aabb after;
        for (ObjectId id : *left) {
            QCOMPARE(b.scene().parent(b.slot(id)), b.slot(group));
            after.add(b.worldBox(id));
        }
        QVERIFY(glm::length(after.low - before.low) < 1e-6 && glm::length(after.high - before.high) < 1e-6);
    }
    void insideAnInstanceAnOpeningIsADifferenceOfIt() {
        Yard b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2});
        ops::MakePrefab how;
        how.name = "Wall piece";
        const auto made = b.step([&](edit::Draft& d) { return ops::makePrefab(d, {&wall, 1}, how); });
        QVERIFY(made);
        ObjectId inside;
        for (model::Slot s : b.scene().subtree(b.slot(made->instance)))
            if (b.scene().facet<Solid>(s)) inside = b.scene().id(s);
        QVERIFY(inside);
        model::SolidOpening door;
        door.at = {0, 0, 0.1};
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, inside, door); }));
        QVERIFY(std::abs(b.volume(inside) - (18 - 2) * 0.2) < 1e-9);
        QVERIFY(b.scene().detail(b.slot(made->instance))->prefab->changed.size() == 1);
    }
    void anOpeningOnASlopeGoesStraightThroughIt() {
        Yard b;
        const ObjectId ramp = b.add(Solid::Shape::Ramp, {4, 3, 4});
        const auto pieces = b.pieces(ramp);
        const auto slope = *ops::faceTowards(pieces, glm::normalize(Vec3(0, 4, 3)));
        const Vec3 middle = ops::middleOf(pieces, slope);
        model::SolidOpening hatch = ops::openingAt(b.scene(), ramp, middle, slope.plane.normal);
        hatch.width = hatch.height = 0.5;
        const double before = b.volume(ramp);
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, ramp, hatch); }));
        QVERIFY(std::abs(before - b.volume(ramp) - 0.5 * 0.5 * 0.2) < 1e-6);
    }
    void openingsThatOverlapTakeOutWhatBothCover() {
        Yard b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2});
        for (double x : {0.0, 0.5}) {
            model::SolidOpening door;
            door.at = {x, 0, 0.1};
            QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, door); }));
        }
        QVERIFY(std::abs(b.volume(wall) - (18 - 3) * 0.2) < 1e-9);
    }
    void anOpeningCanBeABlindOne() {
        Yard b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.4});
        model::SolidOpening niche;
        niche.at = {0, 1, 0.2};
        niche.height = 1;
        niche.depth = 0.25;
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, niche); }));
        QVERIFY(std::abs(b.volume(wall) - (18 * 0.4 - 0.25)) < 1e-9);
        // Deeper than the wall it is a hole.
        niche.depth = 9;
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setOpening(d, wall, 0, niche); }));
        QVERIFY(std::abs(b.volume(wall) - 17 * 0.4) < 1e-9);
    }
    void aDrawnOpeningHasItsOutline() {
        Yard b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2});
        model::SolidOpening cross;
        cross.outline = model::SolidOpening::Outline::Drawn;
        cross.at = {0, 0.5, 0.1};
        cross.width = 3;
        cross.height = 1.5;
        cross.corners = {{0, 0}, {2, 0}, {2, 1}, {1, 1}, {1, 2}, {0, 2}};  // an angle
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, cross); }));
        QVERIFY(std::abs(b.volume(wall) - (18 - 4.5 * 0.75) * 0.2) < 1e-9);
    }
    void aSolidThatWouldHaveTooManyFacesIsLeftAsItWas() {
        Yard b;
        const ObjectId stairs = b.add(Solid::Shape::Stairs, {2, 3, 8});
        Solid many = b.solid(stairs);
        many.parts = 200;
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setSolid(d, stairs, many); }));
        const auto plain = b.step([&](edit::Draft& d) { return ops::keepAsPlain(d, {&stairs, 1}); });
        QVERIFY(!plain);
        QVERIFY(plain.error().message.find("1200 faces") != std::string::npos);
        QVERIFY(b.solid(stairs).shape == Solid::Shape::Stairs);
    }
    void whatLiesInAProtectedGroupIsNotCut() {
        Yard b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        const ObjectId group = *b.step([&](edit::Draft& d) { return ops::group(d, {&box, 1}, "Kept"); });
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setFlag(d, {&group, 1}, model::flags::kProtected, true); }));
        const auto top = *ops::faceTowards(b.pieces(box), {0, 1, 0});
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&top, 1}, {0, 1, 0}); }));
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::extrude(d, box, top, 1); }));
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::hollow(d, {&box, 1}, 0.2); }));
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::setFaceSurface(d, box, 1, "brass"); }));
    }
    void partsThatAreGoneAreSaidToBe() {
        Yard b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        const auto top = *ops::faceTowards(b.pieces(box), {0, 1, 0});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&top, 1}, {0, 1, 0}); }));
        const auto again = b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&top, 1}, {0, 1, 0}); });
        QVERIFY(!again && again.error().code == base::ErrorCode::NotFound);
    }
    void aSideOfABoxWithOpeningsLeavesItABox() {
        Yard b;
        const ObjectId wall =
            b.add(Solid::Shape::Wall, {6, 3, 0.2}, {{4, 1, 2}, base::fromDegrees({0, 30, 0}), Vec3(1)});
        model::SolidOpening door;
        door.at = {-1, 0, 0.1};
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, door); }));
        const Vec3 sill = b.scene().world(b.slot(wall)).point(b.solid(wall).openings[0].at);
        for (const Vec3& way : {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(-1, 0, 0)}) {
            const auto face = *ops::faceTowards(b.pieces(wall), way);
            QVERIFY(b.step([&](edit::Draft& d) {
                return ops::moveParts(d, wall, {&face, 1}, face.plane.normal * 0.5);
            }));
        }
        QVERIFY(b.solid(wall).shape == Solid::Shape::Wall);
        QVERIFY(glm::length(b.solid(wall).size - Vec3(7, 3.5, 0.2)) < 1e-9);
        // The door is where it was.
        QVERIFY(glm::length(b.scene().world(b.slot(wall)).point(b.solid(wall).openings[0].at) - sill) < 1e-9);
        QVERIFY(std::abs(b.volume(wall) - (7 * 3.5 - 2) * 0.2) < 1e-9);
    }
    void aFaceGetsAnotherLookAndLosesIt() {
        Yard b;
        QVERIFY(b.step(test::addBrick));
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        const std::string before = b.bytes();
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setFaceSurface(d, box, 3, "brick"); }));
        model::SolidFace look = b.solid(box).faces[0];
        look.metres = 0.5;
        look.lies = model::SolidFace::Lies::Runs;
        QVERIFY(b.step([&](edit::Draft& d) { return ops::dressFace(d, box, 3, look); }));
        QCOMPARE(b.solid(box).faces.size(), std::size_t{1});
        QVERIFY(b.solid(box).faces[0].lies == model::SolidFace::Lies::Runs);
        look.metres = -1;
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::dressFace(d, box, 3, look); }));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setFaceSurface(d, box, 3, ""); }));
        QVERIFY(b.solid(box).faces.empty());
        for (int i = 0; i < 3; ++i) QVERIFY(b.session().undo());
        QCOMPARE(b.bytes(), before);
    }
    void aRayFindsCornersBeforeEdgesBeforeFaces() {
        const shape::Pieces box = {shape::boxOf({{-1, 0, -1}, {1, 2, 1}})};
        const auto at = [&](double x, double z) { return ops::partAt(box, {{x, 9, z}, {0, -1, 0}}, 0.2)->kind; };
        QVERIFY(at(0, 0) == SolidPart::Kind::Face);
        QVERIFY(at(0.9, 0) == SolidPart::Kind::Edge);
        QVERIFY(at(0.9, 0.9) == SolidPart::Kind::Corner);
        QVERIFY(!ops::partAt(box, {{5, 9, 0}, {0, -1, 0}}, 0.2));
        QVERIFY(!ops::partAt(box, {{0, 1, 0}, {0, -1, 0}}, 0.2));  // from inside
    }
    void windingStairsThatDoNotFitAreRefused() {
        Solid stairs = model::usualSolid(Solid::Shape::Arch, {3, 2, 3}, 20);
        stairs.rise = 0.2;
        QVERIFY(!ops::usableSolid(stairs));
        stairs.parts = 9;
        QVERIFY(ops::usableSolid(stairs));
        Solid room = model::usualSolid(Solid::Shape::Room, {3, 0.3, 3});
        QVERIFY(!ops::usableSolid(room));
        Solid pipe = model::usualSolid(Solid::Shape::Pipe, {0.3, 1, 0.3});
        QVERIFY(!ops::usableSolid(pipe));
        Solid prism = model::usualSolid(Solid::Shape::Prism, {1, 1, 1});
        prism.footprint = {{0, 0}, {1, 1}, {1, 0}, {0, 1}};
        QVERIFY(!ops::usableSolid(prism));
    }
};

MELLOW_TEST(SolidStartsTest)
}  // namespace solid_starts_test
#include "solid_starts_test.moc"
