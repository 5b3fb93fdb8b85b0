#include "query/collision.h"

#include <QtTest>

#include "ops/facets.h"
#include "ops/items.h"
#include "ops/seat.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace collision_test {

using base::ObjectId;
using base::Vec3;
using model::Body;
using model::CollisionShape;

class CollisionTest : public QObject {
    Q_OBJECT
    /// Blocks whose "cube" collides as is said.
    static void collide(test::Blocks& b, const std::string& item, CollisionShape as) {
        model::Item it = *b.session().library().item(b.name(item));
        it.collision = as;
        b.session().putItem(it);
    }
    static void give(test::Blocks& b, ObjectId id, const std::optional<Body>& body) {
        edit::Draft draft(b.session(), "first", "Body");
        QVERIFY(ops::setBody(draft, {&id, 1}, body).has_value());
        QVERIFY(draft.commit().has_value());
    }
    static Body sized(Body::Shape shape, const Vec3& centre, const Vec3& size) {
        Body body;
        body.shape = shape;
        body.fitted = false;
        body.centre = centre;
        body.size = size;
        return body;
    }
    static double seatedAt(test::Blocks& b, ObjectId id) {
        edit::Draft draft(b.session(), "first", "Seat");
        if (!ops::seat(draft, b.index(), {&id, 1}, {}) || !draft.commit()) return -99;
        return b.scene().world(b.slot(id)).translation.y;
    }

  private Q_SLOTS:
    void whatOthersBumpIntoIsWhatIsSaidOfTheItem() {
        test::Blocks b;
        const ObjectId ramp = b.put("ramp", {0, 0, 0});
        const auto triangles = [&](CollisionShape as) -> std::size_t {
            collide(b, "ramp", as);
            const query::Shapes shapes = b.shapes();
            const query::MeshIndex* mesh = shapes.bumpedOf(b.scene(), b.slot(ramp));
            return mesh != nullptr ? mesh->mesh().triangleCount() : 0;
        };
        QCOMPARE(triangles(CollisionShape::None), std::size_t{0});
        QCOMPARE(triangles(CollisionShape::Box), std::size_t{12});
        QCOMPARE(triangles(CollisionShape::Mesh), b.session().library().item(b.name("ramp"))->triangles);
        QVERIFY(triangles(CollisionShape::Hull) >= 8);
        QVERIFY(triangles(CollisionShape::Sphere) > 12 && triangles(CollisionShape::Capsule) > 12);
        QCOMPARE(triangles(CollisionShape::Part), b.session().library().item(b.name("ramp"))->triangles);  // none there
    }
    void aBodyGoesBeforeItsItem() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, 0, 0}), bare = b.add("mark");
        give(b, cube, sized(Body::Shape::Box, {0, 1, 0}, {4, 2, 4}));
        give(b, bare, sized(Body::Shape::Box, {0, 0.5, 0}, {2, 1, 2}));
        const query::SceneIndex& index = b.index();
        QCOMPARE(index.solid().boundsOf(b.scene(), b.slot(cube)), (base::Aabb{{-2, 0, -2}, {2, 2, 2}}));
        QCOMPARE(index.boundsOf(b.scene(), b.slot(cube)), b.bounds(cube));
        // Seen it is a metre high, bumped into it is two.
        const base::Ray down{{0.2, 9, 0.2}, {0, -1, 0}}, beside{{1.5, 9, 0}, {0, -1, 0}};
        QVERIFY(std::abs(index.pick(b.scene(), down)->point.y - 1) < 1e-5);
        QVERIFY(std::abs(index.solid().pick(b.scene(), down)->point.y - 2) < 1e-5);
        QVERIFY(!index.pick(b.scene(), beside));
        QVERIFY(index.solid().pick(b.scene(), beside));
        QCOMPARE(query::collisionSource(b.session().library(), b.scene(), b.slot(cube)).shape, std::string("box"));
        QVERIFY(query::collisionSource(b.session().library(), b.scene(), b.slot(bare)).ofBody);
    }
    void aBodyThatGrowsIsFoundWhereItIsNow() {
        test::Blocks b;
        const ObjectId cube = b.put("cube", {0, 0, 0});
        for (int i = 0; i < 40; ++i) b.put("cube", {20.0 + i, 0, 20});
        const base::Ray down{{6, 9, 0}, {0, -1, 0}};
        QVERIFY(!b.index().solid().pick(b.scene(), down));
        give(b, cube, sized(Body::Shape::Box, {0, 1, 0}, {14, 2, 4}));
        QVERIFY(b.index().solid().pick(b.scene(), down));
        give(b, cube, std::nullopt);
        QVERIFY(!b.index().solid().pick(b.scene(), down));
    }
    void whatIsNotSolidIsBumpedIntoByNothing() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId table = b.put("cube", {0, 0, 0}), cup = b.put("cube", {0, 4, 0}, {}, Vec3(0.2));
        edit::Draft draft(b.session(), "first", "Not solid");
        QVERIFY(ops::setFlag(draft, {&table, 1}, model::flags::kUntouched, true).has_value());
        QVERIFY(draft.commit().has_value());
        QVERIFY(std::abs(seatedAt(b, cup)) < 1e-6);
    }
    void aBallACapsuleAndAHullComeToRestWhereTheirFormsSay() {
        test::Blocks b;
        b.put("ramp", {0, 0, 0});  // rises 1 in 2
        const double slope = std::atan(0.5);
        // A ball of radius r over a slope: its middle is r / cos(slope) above the surface below it.
        const ObjectId ball = b.put("cube", {5, 8, 0});
        give(b, ball, sized(Body::Shape::Sphere, {0, 0, 0}, Vec3(1.0)));
        const double wanted = 2.5 + 0.5 / std::cos(slope);
        QVERIFY2(std::abs(seatedAt(b, ball) - wanted) < 0.002, qPrintable(QString::number(seatedAt(b, ball) - wanted)));
        // A capsule along the slope's level lies like a ball; along its fall its lower end does.
        const ObjectId lying = b.put("cube", {5, 8, 3});
        give(b, lying, sized(Body::Shape::Capsule, {0, 0, 0}, {1, 1, 3}));
        QVERIFY2(std::abs(seatedAt(b, lying) - wanted) < 0.003,
                 qPrintable(QString::number(seatedAt(b, lying) - wanted)));
        const ObjectId along = b.put("cube", {5, 8, -3});
        give(b, along, sized(Body::Shape::Capsule, {0, 0, 0}, {3, 1, 1}));
        // Its upper end is above 2.5 + 0.5: that end touches.
        const double upper = 2.5 + 1.0 / 2 + 0.5 / std::cos(slope);
        QVERIFY2(std::abs(seatedAt(b, along) - upper) < 0.003, qPrintable(QString::number(seatedAt(b, along) - upper)));
        // The hull of a ramp is the ramp; of a cube, its box.
        const ObjectId hull = b.put("cube", {5, 8, 1});
        Body body;
        body.shape = Body::Shape::Hull;
        give(b, hull, body);
        QVERIFY2(std::abs(seatedAt(b, hull) - 2.75) < 2e-4, qPrintable(QString::number(seatedAt(b, hull))));
    }
    void aBallUnderAFloorOfBallsStandsOnThem() {
        test::Blocks b;
        const ObjectId below = b.put("cube", {0, 0, 0}), above = b.put("cube", {0.6, 5, 0});
        for (ObjectId id : {below, above}) give(b, id, sized(Body::Shape::Sphere, {0, 0, 0}, Vec3(1.0)));
        // Two balls of radius 0.5, 0.6 apart on the plane: 0.8 apart in height.
        QVERIFY2(std::abs(seatedAt(b, above) - 0.8) < 0.003, qPrintable(QString::number(seatedAt(b, above))));
    }
    void whatHasNoCollisionFallsAsOneSeesItAndCarriesNothing() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId reed = b.put("beam", {0, 3, 0});
        collide(b, "beam", CollisionShape::None);
        const ObjectId cup = b.put("cube", {0, 6, 0}, {}, Vec3(0.1));
        QVERIFY(std::abs(seatedAt(b, reed)) < 1e-6);
        QVERIFY(std::abs(seatedAt(b, cup)) < 1e-6);
    }
    void byWhatIsSeenItStandsElsewhereIfThatIsAskedFor() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const ObjectId cube = b.put("cube", {0, 4, 0});
        give(b, cube, sized(Body::Shape::Box, {0, 0.5, 0}, {1, 3, 1}));
        const auto drops = [&](bool asSeen) {
            ops::SeatOptions options;
            options.asSeen = asSeen;
            return ops::seatDrops(b.scene(), b.index(), {&cube, 1}, options).front().metres;
        };
        QVERIFY(std::abs(drops(false) - 3) < 1e-6);
        QVERIFY(std::abs(drops(true) - 4) < 1e-6);
    }
};

MELLOW_TEST(CollisionTest)
}  // namespace collision_test
#include "collision_test.moc"
