// What rules find in solids, and what their fix makes of it.
#include <QtTest>

#include "check/level.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"
#include "support/test_main.h"

namespace solid_rules_test {

using base::ObjectId;
using base::Vec3;
using model::Solid;
using test::Level;

class SolidRulesTest : public QObject {
    Q_OBJECT
    static ObjectId add(Level& p, Solid solid, const Vec3& at) {
        ObjectId id;
        p.step([&](edit::Draft& d) -> base::Status {
            base::Transform frame;
            frame.position = at;
            auto made = ops::addSolid(d, solid, frame, {});
            if (!made) return tl::unexpected(made.error());
            id = *made;
            return {};
        });
        return id;
    }

  private Q_SLOTS:
    void manyPiecesAreToldByTheirNumberAndMergedByTheFix() {
        Level p;
        p.set("solid-pieces", {{"most", {4.0}}});
        const ObjectId box = add(p, model::usualSolid(Solid::Shape::Box, {3, 1, 1}), {5, 0, 0});
        QCOMPARE(p.count("solid-pieces"), std::size_t{0});
        for (double x : {3.8, 4.4, 5.0, 5.6, 6.2})
            p.step([&](edit::Draft& d) { return ops::split(d, box, shape::planeThrough({x, 0, 0}, {1, 0, 0})); });
        QCOMPARE(p.count("solid-pieces", box), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::mergePieces(d, box); });
        QCOMPARE(p.count("solid-pieces"), std::size_t{0});
        QVERIFY(std::abs(shape::volumeOf(*ops::piecesOf(p.scene(), box)) - 3) < 1e-9);
    }
    void aLargerSolidMayHaveMorePieces() {
        Level p;
        p.set("solid-pieces", {{"most", {6.0}}});
        const ObjectId small = add(p, model::usualSolid(Solid::Shape::Stairs, {1, 1, 2}, 8), {0, 0, 8}),
                       large = add(p, model::usualSolid(Solid::Shape::Stairs, {10, 1, 12}, 8), {0, 0, -8});
        QCOMPARE(p.count("solid-pieces", small), std::size_t{1});
        QCOMPARE(p.count("solid-pieces", large), std::size_t{0});
    }
    void aSliverIsWhatACutLeftNotWhatWasDrawnThin() {
        Level p;
        add(p, model::usualSolid(Solid::Shape::Box, {2, 0.001, 2}), {0, 0, 0});
        QCOMPARE(p.count("solid-sliver"), std::size_t{0});
        Solid wall = model::usualSolid(Solid::Shape::Wall, {4, 3, 0.2});
        wall.openings.emplace_back();
        wall.openings[0].at = {1.496, 0, 0.1};
        const ObjectId id = add(p, wall, {8, 0, 0});
        QCOMPARE(p.count("solid-sliver", id), std::size_t{1});
        p.set("solid-sliver", {{"least", {0.002}}});
        QCOMPARE(p.count("solid-sliver"), std::size_t{0});
    }
    void piecesOfOnePlaceAreCountedTogether() {
        Level p;
        p.set("solid-area", {{"most", {10.0}}, {"size", {50.0}}});
        add(p, model::usualSolid(Solid::Shape::Stairs, {1, 1, 2}, 6), {3, 0, 3});
        QCOMPARE(p.count("solid-area"), std::size_t{0});
        add(p, model::usualSolid(Solid::Shape::Stairs, {1, 1, 2}, 6), {9, 0, 9});
        QCOMPARE(p.count("solid-area"), std::size_t{1});
        p.set("solid-area", {{"most", {10.0}}, {"size", {8.0}}});
        QCOMPARE(p.count("solid-area"), std::size_t{0});
    }
};

MELLOW_TEST(SolidRulesTest)
}  // namespace solid_rules_test
#include "solid_rules_test.moc"
