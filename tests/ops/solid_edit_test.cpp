// Solids are clipped, opened, pulled and joined: what is left is sound, refusals change nothing, undo gives the same
// bytes.
#include "ops/solid_edit.h"

#include <rapidcheck.h>

#include <QtTest>

#include "model/facets/surfaces.h"
#include "ops/berths.h"
#include "ops/brick.h"
#include "ops/solid.h"
#include "ops/surfaces.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace solid_edit_test {

using base::ObjectId;
using base::Vec3;
using model::Solid;
using ops::SolidPart;

double between(double low, double high) {
    return low + (high - low) * *rc::gen::inRange(0, 1001) / 1000;
}

struct Bench : test::Blocks {
    ObjectId add(Solid::Shape shape, const Vec3& size, const Vec3& at = {}, double degrees = 0) {
        const Solid solid = model::usualSolid(shape, size);
        base::Transform frame;
        frame.position = at;
        frame.rotation = base::fromDegrees({0, degrees, 0});
        return *test::asStep(*this, [&](edit::Draft& d) { return ops::addSolid(d, solid, frame, {}); });
    }
    const Solid& solid(ObjectId id) { return *scene().facet<Solid>(slot(id)); }
    shape::Pieces pieces(ObjectId id) { return query::piecesOf(solid(id)); }
    double volume(ObjectId id) { return shape::volumeOf(pieces(id)); }
    template <class Verb>
    auto step(const Verb& verb) {
        return test::asStep(*this, verb);
    }
    static SolidPart face(const Vec3& normal, double offset, int tag) {
        return {SolidPart::Kind::Face, tag, {normal, offset}, {}, {}};
    }
    static SolidPart corner(const Vec3& at) { return {SolidPart::Kind::Corner, 0, {}, at, at}; }
    static SolidPart edge(const Vec3& a, const Vec3& b) { return {SolidPart::Kind::Edge, 0, {}, a, b}; }
};

void assertSound(const shape::Pieces& pieces) {
    for (const shape::Convex& piece : pieces)
        if (const base::Status sound = shape::wellFormed(piece); !sound) qFatal("%s", sound.error().message.c_str());
}

class SolidEditTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aClipLeavesBothHalvesWithNamesAndSurfaces() {
        Bench b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2}, {10, 1, -4}, 30);
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setFlag(d, {&wall, 1}, model::flags::kUnseen, true); }));
        const auto plane = shape::planeThrough({10, 1, -4}, {1, 0.3, 0.1});
        const auto left = b.step([&](edit::Draft& d) { return ops::clip(d, {&wall, 1}, plane, {}); });
        QVERIFY(left && left->size() == 2);
        QVERIFY(std::abs(b.volume(wall) + b.volume((*left)[1]) - 6 * 3 * 0.2) < 1e-9);
        QCOMPARE(b.scene().nameText(b.slot(wall)), std::string_view("Wall"));
        QCOMPARE(b.scene().nameText(b.slot((*left)[1])), std::string_view("Wall 2"));
        QVERIFY((b.scene().flagsOf(b.slot((*left)[1])) & model::flags::kUnseen) != 0);
        // Both stand on their bases, and are where they were.
        for (ObjectId id : *left) {
            assertSound(b.pieces(id));
            const auto box = shape::boundsOf(b.pieces(id));
            QVERIFY(glm::length(box.baseCentre()) < 1e-9);
            const base::Affine& world = b.scene().world(b.slot(id));
            for (const auto& piece : b.pieces(id))
                for (const Vec3& corner : piece.corners) {
                    const double h = plane.height(world.point(corner));
                    QVERIFY(id == wall ? h < 1e-6 : h > -1e-6);
                }
        }
    }
    void aClipOfManyKeepsTheAskedSideAndLeavesWhatItMisses() {
        Bench b;
        std::vector<ObjectId> all;
        for (int i = 0; i < 3; ++i) all.push_back(b.add(Solid::Shape::Box, {2, 2, 2}, {3.0 * i, 0, 0}));
        const ObjectId high = b.add(Solid::Shape::Cylinder, {1, 1, 1}, {0, 5, 0});
        all.push_back(high);
        const auto left = b.step([&](edit::Draft& d) {
            return ops::clip(d, all, shape::planeThrough({0, 1.5, 0}, {0, 1, 0}), {false, true});
        });
        QVERIFY(left && left->size() == 3);
        for (ObjectId id : *left) QVERIFY(std::abs(b.volume(id) - 6) < 1e-9);
        QCOMPARE(b.scene().find(high), model::kNoSlot);
        // It misses all of them: nothing changes, not even the numbers of what is wholly kept.
        const ObjectId round = b.add(Solid::Shape::Cylinder, {1, 1, 1}, {0, 5, 0});
        QVERIFY(!b.step([&](edit::Draft& d) {
            return ops::clip(d, {&round, 1}, shape::planeThrough({0, 0, 0}, {0, 1, 0}), {});
        }));
        QVERIFY(!b.step([&](edit::Draft& d) {
            return ops::clip(d, {&round, 1}, shape::planeThrough({0, 5.5, 0}, {0, 1, 0}), {false, false});
        }));
        QVERIFY(b.solid(round).shape == Solid::Shape::Cylinder);
    }
    void whatIsProtectedOrNoSolidIsNotCut() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {1, 1, 1}), cube = b.put("cube", {3, 0, 0}),
                       plane = b.add(Solid::Shape::Plane, {1, 1, 1}, {0, 3, 0});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setFlag(d, {&box, 1}, model::flags::kProtected, true); }));
        const auto cut = shape::planeThrough({0, 0.5, 0}, {0, 1, 0});
        for (ObjectId id : {box, cube, plane}) {
            QVERIFY(!b.step([&](edit::Draft& d) { return ops::clip(d, {&id, 1}, cut, {}); }));
            QVERIFY(!b.step([&](edit::Draft& d) { return ops::keepAsPlain(d, {&id, 1}); }));
            QVERIFY(!b.step([&](edit::Draft& d) { return ops::addOpening(d, id, {}); }));
        }
    }
    void anOpeningStaysAPartOfTheWall() {
        Bench b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2});
        model::SolidOpening door;
        door.at = {-1, 0, 0.1};
        QCOMPARE(*b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, door); }), std::size_t{0});
        QVERIFY(std::abs(b.volume(wall) - (6 * 3 - 2) * 0.2) < 1e-9);
        QVERIFY(b.solid(wall).shape == Solid::Shape::Wall);
        // Sized, repeated, taken away: the wall closes.
        model::SolidOpening wider = b.solid(wall).openings[0];
        wider.width = 1.2;
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setOpening(d, wall, 0, wider); }));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::repeatOpening(d, wall, 0, 2, {1.6, 0, 0}); }));
        QCOMPARE(b.solid(wall).openings.size(), std::size_t{3});
        QVERIFY(std::abs(b.volume(wall) - (6 * 3 - 3 * 2.4) * 0.2) < 1e-9);
        for (int i = 0; i < 3; ++i) QVERIFY(b.step([&](edit::Draft& d) { return ops::removeOpening(d, wall, 0); }));
        QVERIFY(std::abs(b.volume(wall) - 6 * 3 * 0.2) < 1e-9);
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::removeOpening(d, wall, 0); }));
        // The wall grows: the opening stays where it is.
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, door); }));
        Solid longer = b.solid(wall);
        longer.size = {9, 4, 0.4};
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setSolid(d, wall, longer); }));
        QVERIFY(std::abs(b.volume(wall) - (9 * 4 - 2) * 0.4) < 1e-6);
    }
    void anOpeningThatMissesOrLeavesNothingIsRefused() {
        Bench b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {2, 2, 0.2});
        model::SolidOpening far;
        far.at = {9, 0, 0.1};
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, far); }));
        model::SolidOpening all;
        all.at = {0, -1, 0.1};
        all.width = 9;
        all.height = 9;
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, all); }));
        model::SolidOpening crossed;
        crossed.at = {0, 0, 0.1};
        crossed.outline = model::SolidOpening::Outline::Drawn;
        crossed.corners = {{0, 0}, {1, 1}, {1, 0}, {0, 1}};
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, crossed); }));
        model::SolidOpening nothing;
        nothing.width = 0;
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, nothing); }));
    }
    void solidsAreTakenOutOfJoinedAndIntersectedWherverTheyStand() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {4, 2, 4}, {5, 0, 5}, 45);
        const ObjectId tool = b.add(Solid::Shape::Box, {1, 5, 1}, {5, -1, 5}, 45);
        QVERIFY(b.step([&](edit::Draft& d) { return ops::subtract(d, {&box, 1}, {&tool, 1}); }));
        QVERIFY(std::abs(b.volume(box) - 30) < 1e-9);
        const ObjectId away = b.add(Solid::Shape::Box, {1, 1, 1}, {50, 0, 0});
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::subtract(d, {&box, 1}, {&away, 1}); }));
        const std::vector<ObjectId> both = {box, tool};
        const auto joined = b.step([&](edit::Draft& d) { return ops::join(d, both); });
        QVERIFY(joined && *joined == box);
        QVERIFY(std::abs(b.volume(box) - 30 - 5) < 1e-9);
        QCOMPARE(b.scene().find(tool), model::kNoSlot);
        const auto apart = b.step([&](edit::Draft& d) { return ops::takePiecesApart(d, {&box, 1}); });
        QVERIFY(apart && apart->size() > 2);
        double sum = 0;
        for (ObjectId id : *apart) sum += b.volume(id);
        QVERIFY(std::abs(sum - 35) < 1e-9);

        const ObjectId one = b.add(Solid::Shape::Box, {2, 2, 2}, {20, 0, 0}),
                       two = b.add(Solid::Shape::Box, {2, 2, 2}, {21, 1, 0});
        const std::vector<ObjectId> pair = {one, two}, none = {one, away};
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::intersect(d, none); }));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::intersect(d, pair); }));
        QVERIFY(std::abs(b.volume(one) - 1 * 1 * 2) < 1e-9);
    }
    void hollowKeepsTheOutsideAndRefusesWhatIsTooThin() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {4, 3, 2});
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::hollow(d, {&box, 1}, 1.5); }));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::hollow(d, {&box, 1}, 0.5); }));
        QVERIFY(std::abs(b.volume(box) - (24 - 3 * 2 * 1)) < 1e-9);
        // The shell itself is half a metre thick: it can be hollowed once more, by less than half of that.
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::hollow(d, {&box, 1}, 0.3); }));
    }
    void anAngleIsHollowedAllRound() {
        Bench b;
        const ObjectId a = b.add(Solid::Shape::Box, {4, 2, 2}), c = b.add(Solid::Shape::Box, {2, 2, 2}, {1, 0, 2});
        const std::vector<ObjectId> both = {a, c};
        QVERIFY(b.step([&](edit::Draft& d) { return ops::join(d, both); }));
        QVERIFY(std::abs(b.volume(a) - 24) < 1e-9);
        QVERIFY(b.step([&](edit::Draft& d) { return ops::hollow(d, {&a, 1}, 0.5); }));
        assertSound(b.pieces(a));
        // Inside: an angle again, half a metre from every side: 3 x 1 and 1 x 2, one high.
        QVERIFY2(std::abs(b.volume(a) - (24 - (3 * 1 + 1 * 2) * 1)) < 1e-6, qPrintable(QString::number(b.volume(a))));
    }
    void aSlantedShellIsAsThickAsAsked() {
        Bench b;
        const ObjectId wedge = b.add(Solid::Shape::Wedge, {4, 3, 4});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::hollow(d, {&wedge, 1}, 0.3); }));
        assertSound(b.pieces(wedge));
        // The inside of a triangle of 3, 4, 5 is one as well, smaller by the inner radius: (1 - 0.3) / 1.
        QVERIFY(std::abs(b.volume(wedge) - (6 * 4 - 6 * 0.49 * 3.4)) < 1e-6);
    }
    void facesEdgesAndCornersMoveInAllPiecesThatHaveThem() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        const SolidPart top = b.face({0, 1, 0}, 2, 1);
        auto moved = b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&top, 1}, {0, 1, 0}); });
        QVERIFY(moved && std::abs(b.volume(box) - 12) < 1e-9);
        QVERIFY(std::abs((*moved)[0].plane.offset - 3) < 1e-9);
        // An edge down: a wedge-like piece. A corner into the middle: hollow, refused.
        const SolidPart edge = b.edge({-1, 3, 1}, {1, 3, 1});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&edge, 1}, {0, -1, 0}); }));
        QVERIFY(std::abs(b.volume(box) - 10) < 1e-9);
        const SolidPart corner = b.corner({-1, 3, -1});
        const auto dented = b.step([&](edit::Draft& d) {
            return ops::moveParts(d, box, {&corner, 1}, {0.8, -2.2, 0.8});
        });
        QVERIFY(!dented && dented.error().message.find("hollow") != std::string::npos);
        // Out: its neighbours break into triangles, and stay closed.
        QVERIFY(b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&corner, 1}, {-0.5, 0.5, -0.5}); }));
        assertSound(b.pieces(box));
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::moveParts(d, box, {&corner, 1}, {0, 1, 0}); }));
    }
    void aFaceOfAClippedWallIsOneAlthoughItLiesInSeveralPieces() {
        Bench b;
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2});
        model::SolidOpening window;
        window.at = {0, 1, 0.1};
        window.height = 1;
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, window); }));
        const SolidPart front = b.face({0, 0, 1}, 0.1, 4);
        QVERIFY(ops::cornersOf(b.pieces(wall), front).size() >= 8);
        QVERIFY(b.step([&](edit::Draft& d) { return ops::moveParts(d, wall, {&front, 1}, {0, 0, 0.3}); }));
        QVERIFY(std::abs(b.volume(wall) - (18 - 1) * 0.5) < 1e-9);
        // Its side goes into the opening no further than the piece beside it is wide.
        const auto box = shape::boundsOf(b.pieces(wall));
        const SolidPart side = b.face({1, 0, 0}, box.high.x, 3);
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::moveParts(d, wall, {&side, 1}, {-2.9, 0, 0}); }));
    }
    void aFacePulledOutMakesANewPieceAndPushedInTakesOneAway() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        auto face = b.step([&](edit::Draft& d) { return ops::inset(d, box, b.face({0, 1, 0}, 2, 1), 0.5); });
        QVERIFY(face && b.pieces(box).size() == 5);
        QVERIFY(std::abs(b.volume(box) - 8) < 1e-9);
        face = b.step([&](edit::Draft& d) { return ops::extrude(d, box, *face, 1); });
        QVERIFY(face && std::abs(b.volume(box) - 9) < 1e-9);
        face = b.step([&](edit::Draft& d) { return ops::extrude(d, box, *face, -0.5); });
        QVERIFY(face && std::abs(b.volume(box) - 8.5) < 1e-9);
        assertSound(b.pieces(box));
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::inset(d, box, *face, 0.6); }));
        // Its faces are not all of one tag: it stays several.
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::mergePieces(d, box); }));
    }
    void aSplitSolidIsOneObjectOfTwoPieces() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2}, {4, 0, 0});
        QVERIFY(b.step([&](edit::Draft& d) {
            return ops::split(d, box, shape::planeThrough({4.5, 0, 0}, {1, 0, 0}));
        }));
        QCOMPARE(b.pieces(box).size(), std::size_t{2});
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::split(d, box, shape::planeThrough({9, 0, 0}, {1, 0, 0})); }));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::mergePieces(d, box); }));
        QCOMPARE(b.pieces(box).size(), std::size_t{1});
    }
    void faceSurfacesAreKeptThroughAClip() {
        Bench b;
        QVERIFY(b.step(test::addBrick));
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::setFaceSurface(d, box, 1, "nothing"); }));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setFaceSurface(d, box, 1, "brick"); }));
        QCOMPARE(ops::slotOf(b.scene(), b.slot(box), "brick").surface, std::string("brick"));
        const auto left = b.step([&](edit::Draft& d) {
            return ops::clip(d, {&box, 1}, shape::planeThrough({0, 0, 0}, {1, 0, 0}), {});
        });
        QVERIFY(left && left->size() == 2);
        for (ObjectId id : *left) {
            QCOMPARE(b.solid(id).faces.size(), std::size_t{1});
            QCOMPARE(ops::slotOf(b.scene(), b.slot(id), "brick").surface, std::string("brick"));
        }
    }
    void anOpeningIsABerthForWhatIsAsLarge() {
        Bench b;
        b.addItem("door", shape::boxMesh({{-0.5, 0, -0.05}, {0.5, 2, 0.05}}));
        const ObjectId wall = b.add(Solid::Shape::Wall, {6, 3, 0.2}, {10, 0, 5}, 90);
        model::SolidOpening hole;
        hole.at = {-1, 0, 0.1};
        QVERIFY(b.step([&](edit::Draft& d) { return ops::addOpening(d, wall, hole); }));
        const model::Library& library = b.session().library();
        const auto free = ops::freeBerths(library, b.scene());
        QCOMPARE(free.size(), std::size_t{1});
        QVERIFY(ops::fits(free[0], library.item(b.session().intern("door"))->bounds));
        QVERIFY(!ops::fits(free[0], library.item(b.session().intern("slab"))->bounds));
        const ObjectId door = b.put("door", {0, 0, 0});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::putInBerth(d, door, free[0]); }));
        // In the middle of the wall, on its foot; and it is taken.
        const base::Aabb box = b.scene().bounds(b.slot(door));
        QVERIFY(glm::length(box.baseCentre() - b.scene().world(b.slot(wall)).point({-1, 0, 0})) < 1e-6);
        QVERIFY(std::abs(box.size().z - 1) < 1e-6);
        QVERIFY(ops::freeBerths(library, b.scene()).empty());
    }
    void childrenStayWhereTheyAreWhenTheirSolidIsCut() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {4, 2, 2}), cube = b.put("cube", {1, 2, 0}, {}, Vec3(1), box);
        const base::Affine before = b.scene().world(b.slot(cube));
        QVERIFY(b.step([&](edit::Draft& d) {
            return ops::clip(d, {&box, 1}, shape::planeThrough({0, 0, 0}, {1, 0, 0}), {true, false});
        }));
        QVERIFY(glm::length(b.scene().world(b.slot(cube)).translation - before.translation) < 1e-12);
        QVERIFY(std::abs(b.volume(box) - 8) < 1e-9);
    }
    void filesKeepEveryPieceAndWhatIsWrongInThemIsNamed() {
        Bench b;
        const ObjectId arch = b.add(Solid::Shape::Arch, {4, 3, 1});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::keepAsPlain(d, {&arch, 1}); }));
        const std::string bytes = b.bytes();
        QVERIFY(bytes.find("\"shape\":\"plain\"") != std::string::npos);
        const double volume = b.volume(arch);
        b.close();
        QVERIFY(b.reopen());
        QCOMPARE(b.bytes(), bytes);
        QVERIFY(std::abs(b.volume(arch) - volume) < 1e-12);
        Solid broken = b.solid(arch);
        broken.pieces[0].corners[0] = {0, 0.5, 0};
        QVERIFY(!b.step([&](edit::Draft& d) { return ops::setSolid(d, arch, broken); }));
    }
    void sizedAsANumberItsCornersGoAlong() {
        Bench b;
        const ObjectId box = b.add(Solid::Shape::Box, {2, 2, 2});
        QVERIFY(b.step([&](edit::Draft& d) { return ops::keepAsPlain(d, {&box, 1}); }));
        Solid wider = b.solid(box);
        const model::Member* width = Solid::type().fields.find("width");
        QVERIFY(model::setMember(Solid::type().fields, &wider, *width, model::Value{3.0}));
        QVERIFY(b.step([&](edit::Draft& d) { return ops::setSolid(d, box, wider); }));
        QVERIFY(std::abs(b.volume(box) - 12) < 1e-9);
    }
    void whateverIsDoneSolidsStaySound() {
        QVERIFY(rc::check("any edits", [] {
            Bench b;
            static constexpr Solid::Shape kAll[] = {Solid::Shape::Box,  Solid::Shape::Wall, Solid::Shape::Cylinder,
                                                    Solid::Shape::Arch, Solid::Shape::Room, Solid::Shape::Stairs};
            const ObjectId id = b.add(kAll[*rc::gen::inRange(0, 6)], {between(1, 5), between(1, 5), between(1, 5)},
                                      {between(-5, 5), 0, between(-5, 5)}, between(0, 360));
            for (int i = 0; i < 4; ++i) {
                const shape::Pieces pieces = b.pieces(id);
                const auto box = shape::boundsOf(pieces);
                const Vec3 at = box.low + box.size() * Vec3(between(0, 1), between(0, 1), between(0, 1));
                const Vec3 way = glm::normalize(Vec3(between(-1, 1), between(-1, 1), between(0.1, 1)));
                const auto& world = b.scene().world(b.slot(id));
                const auto part = ops::partAt(pieces, {at - way * 20.0, way}, 0.2);
                const double before = shape::volumeOf(pieces);
                switch (*rc::gen::inRange(0, 4)) {
                    case 0:
                        (void)b.step([&](edit::Draft& d) {
                            return ops::clip(d, {&id, 1}, shape::planeThrough(world.point(at), way), {false, true});
                        });
                        RC_ASSERT(b.volume(id) <= before + 1e-9);
                        break;
                    case 1: {
                        model::SolidOpening hole;
                        hole.at = at;
                        hole.facing = -way;
                        hole.width = between(0.2, 1);
                        hole.height = between(0.2, 1);
                        (void)b.step([&](edit::Draft& d) { return ops::addOpening(d, id, hole); });
                        RC_ASSERT(b.volume(id) <= before + 1e-9);
                        break;
                    }
                    case 2:
                        if (part)
                            (void)b.step([&](edit::Draft& d) {
                                return ops::moveParts(d, id, {&*part, 1}, Vec3(between(-1, 1), between(-1, 1), 0.1));
                            });
                        break;
                    default:
                        if (part && part->kind == SolidPart::Kind::Face)
                            (void)b.step([&](edit::Draft& d) { return ops::extrude(d, id, *part, between(0.1, 1)); });
                }
                assertSound(b.pieces(id));
            }
        }));
    }
};

MELLOW_TEST(SolidEditTest)
}  // namespace solid_edit_test
#include "solid_edit_test.moc"
