// Solids as objects: drawn, sized later, kept in files, met by rays.
#include <QtTest>

#include "model/facets/solid.h"
#include "ops/solid.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace solid_verbs_test {

using base::ObjectId;
using base::Vec3;
using model::Solid;

class SolidVerbsTest : public QObject {
    Q_OBJECT
    static ObjectId add(test::TestProject& p, Solid::Shape shape, const Vec3& size) {
        return *test::asStep(p,
                             [&](edit::Draft& d) { return ops::addSolid(d, model::usualSolid(shape, size), {}, {}); });
    }
  private Q_SLOTS:
    void aSolidIsAnObjectWithBoundsThatCanBeSizedLater() {
        test::TestProject p;
        const ObjectId id = add(p, Solid::Shape::Stairs, {1, 2, 3});
        QCOMPARE(p.scene().nameText(p.slot(id)), std::string_view("Stairs"));
        QVERIFY(glm::length(p.scene().bounds(p.slot(id)).size() - Vec3(1, 2, 3)) < 1e-5);
        Solid larger = *p.scene().facet<model::Solid>(p.slot(id));
        larger.size = {4, 2, 3};
        larger.parts = 7;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::setSolid(d, id, larger); }));
        QVERIFY(glm::length(p.scene().bounds(p.slot(id)).size() - Vec3(4, 2, 3)) < 1e-5);
        QVERIFY(p.workspace().mesh(p.scene().item(p.slot(id))) != nullptr);
    }
    void filesAndRestartGiveItBack() {
        test::TestProject p;
        const ObjectId id = add(p, Solid::Shape::Cylinder, {2, 3, 2});
        QVERIFY(p.bytes().find("\"solid\":{\"shape\":\"cylinder\",\"size\":[2,3,2]}") != std::string::npos);
        QVERIFY(p.bytes().find("\"item\"") == std::string::npos);
        const std::string bytes = p.bytes();
        p.close();
        QVERIFY(p.reopen());
        QCOMPARE(p.bytes(), bytes);
        QVERIFY(io::saveScene(p.workspace(), "first"));
        p.close();
        std::filesystem::remove_all(p.folder() / ".mellow");
        QVERIFY(p.reopen());
        QCOMPARE(p.bytes(), bytes);
        QVERIFY(!p.scene().bounds(p.slot(id)).empty());
    }
    void absurdNumbersAreRefused() {
        test::TestProject p;
        for (const Vec3& size : {Vec3(0, 1, 1), Vec3(1, -2, 1), Vec3(1, 1, 1e6), Vec3(1, std::nan(""), 1)})
            QVERIFY(!test::asStep(p, [&](edit::Draft& d) {
                return ops::addSolid(d, model::usualSolid(Solid::Shape::Box, size), {}, {});
            }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) {
            return ops::addSolid(d, model::usualSolid(Solid::Shape::Box, {1, 1, 1}, 5000), {}, {});
        }));
    }
    void aDragFromCornerToCornerIsTheFootprint() {
        ops::SolidDrawing d;
        d.corner = {1, 0, 1};
        d.across = {-2, 0, 3};
        d.height = 1.5;
        const auto drawn = ops::drawnSolid(d, 0.25);
        QVERIFY(drawn.solid.size == Vec3(2, 1.5, 3));
        QVERIFY(glm::length(drawn.frame.position - Vec3(0, 0, 2.5)) < 1e-12);
    }
    void stairsRiseAwayFromTheFirstCornerAndWallsRunAlongTheDrag() {
        ops::SolidDrawing d;
        d.shape = Solid::Shape::Stairs;
        d.across = {2, 0, 4};
        d.height = 1;
        const auto stairs = ops::drawnSolid(d, 0.25);
        QVERIFY(glm::length(stairs.frame.rotation * Vec3(0, 0, -1) - Vec3(0, 0, 1)) < 1e-9);
        d.shape = Solid::Shape::Wall;
        d.across = {3, 0, 4};
        const auto wall = ops::drawnSolid(d, 0.25);
        QVERIFY(std::abs(wall.solid.size.x - 5) < 1e-12 && wall.solid.size.z == ops::SolidDrawing::kThick);
        QVERIFY(glm::length(wall.frame.rotation * Vec3(1, 0, 0) - Vec3(0.6, 0, 0.8)) < 1e-9);
    }
    void stairsAndWallsStayUprightOnASlope() {
        const Vec3 slope = glm::normalize(Vec3(0.4, 1, 0.1));
        QCOMPARE(ops::drawingAxes(Solid::Shape::Stairs, slope), base::Mat3(1.0));
        QCOMPARE(ops::drawingAxes(Solid::Shape::Wall, slope), base::Mat3(1.0));
        QVERIFY(glm::length(ops::drawingAxes(Solid::Shape::Box, slope)[1] - slope) < 1e-12);
    }
    void heightIsTheWayFromTheFootprintSeenFromAbove() {
        ops::SolidDrawing d;
        d.corner = {1, 0, 1};
        d.across = {-2, 0, 3};
        QCOMPARE(ops::awayFromFootprint(d, {0, 0, 2}), 0.0);
        QCOMPARE(ops::awayFromFootprint(d, {4, 0, 2}), 3.0);
        QVERIFY(std::abs(ops::awayFromFootprint(d, {4, 0, 8}) - 5) < 1e-12);
        d.shape = Solid::Shape::Wall;
        QVERIFY(std::abs(ops::awayFromFootprint(d, {0, 0, 2.5}) - 0) < 1e-12);
        QVERIFY(ops::awayFromFootprint(d, {-1, 0, 1}) > 1);
    }
    void sizesCanBeTyped() {
        ops::SolidDrawing d;
        d.across = {-1, 0, 1};
        QCOMPARE(*ops::typeSizes(d, "4 x 3", false), false);
        QVERIFY(glm::length(d.across - Vec3(-4, 0, 3)) < 1e-12);
        QCOMPARE(*ops::typeSizes(d, "250 cm", true), true);
        QCOMPARE(d.height, 2.5);
        QCOMPARE(*ops::typeSizes(d, "1 + 1 × 2 × 3", false), true);
        QVERIFY(glm::length(d.across - Vec3(-2, 0, 3)) < 1e-12 && d.height == 2);
        d.shape = Solid::Shape::Wall;
        d.across = {0, 0, -2};
        QCOMPARE(*ops::typeSizes(d, "5", false), false);
        QVERIFY(glm::length(d.across - Vec3(0, 0, -5)) < 1e-12);
        QCOMPARE(*ops::typeSizes(d, "5 x 2.5 x 0.3", false), true);
        QVERIFY(d.height == 2.5 && d.thick == 0.3);
        for (const char* bad : {"", "x", "4 x", "4 x 3 x 2 x 1", "-3", "0", "1e9", "four"})
            QVERIFY2(!ops::typeSizes(d, bad, false), bad);
        d.shape = Solid::Shape::Sphere;
        QVERIFY(!ops::typeSizes(d, "1 x 2 x 3", false));
        QCOMPARE(*ops::typeSizes(d, "2", false), true);
    }
    void aWallBeginsAtTheFloorOfTheOneItMeetsAndClosesTheCorner() {
        test::TestProject p;
        auto draw = [&](const Vec3& from, const Vec3& to) {
            ops::SolidDrawing d;
            d.shape = Solid::Shape::Wall;
            d.corner = from;
            d.across = to - from;
            d.height = 2.5;
            const auto drawn = ops::drawnSolid(d, 0.25);
            return *test::asStep(p, [&](edit::Draft& draft) -> base::Result<ObjectId> {
                ops::Ids others;
                for (auto s : p.scene().ownSubtree(model::kNoSlot)) others.push_back(p.scene().id(s));
                auto id = ops::addSolid(draft, drawn.solid, drawn.frame, {});
                if (!id) return id;
                if (auto closed = ops::closeCorners(draft, *id, others); !closed) return tl::unexpected(closed.error());
                return id;
            });
        };
        const ObjectId first = draw({0, 1, 0}, {4, 1, 0});
        // From its top, near its end; from the middle of a side; from beside it.
        QVERIFY(glm::length(*ops::joinedWall(p.scene(), p.slot(first), {3.9, 3.5, 0.05}) - Vec3(4, 1, 0)) < 1e-9);
        QVERIFY(glm::length(*ops::joinedWall(p.scene(), p.slot(first), {2, 2, 0.1}) - Vec3(2, 1, 0)) < 1e-9);
        QVERIFY(!ops::joinedWall(p.scene(), p.slot(first), {2, 2, 0.4}));
        QVERIFY(!ops::joinedWall(p.scene(), p.slot(first), {3.9, 5, 0}));
        const ObjectId second = draw({4, 1, 0}, {4, 1, 3});
        const auto box = p.scene().bounds(p.slot(second));
        QVERIFY(std::abs(box.low.z + 0.1) < 1e-6 && std::abs(box.high.z - 3) < 1e-6);
        QVERIFY(std::abs(p.scene().bounds(p.slot(first)).high.x - 4) < 1e-6);
        // Not at a right angle: both go on to where their outer sides meet.
        const ObjectId third = draw({4, 1, 3}, {1, 1, 6});
        const double by = 0.1 * std::tan(base::kPi / 8);
        QVERIFY(std::abs(p.scene().facet<model::Solid>(p.slot(third))->size.x - std::sqrt(18.0) - by) < 1e-9);
        QVERIFY(std::abs(p.scene().bounds(p.slot(second)).high.z - 3 - by) < 1e-6);
        const ObjectId onwards = draw({0, 1, 0}, {-2, 1, 0});  // goes on where the first one begins
        QVERIFY(std::abs(p.scene().facet<model::Solid>(p.slot(onwards))->size.x - 2) < 1e-9);
    }
    void onAWallItStandsOutFromIt() {
        const base::Mat3 axes = ops::surfaceAxes({1, 0, 0});
        QVERIFY(glm::length(axes[1] - Vec3(1, 0, 0)) < 1e-12);
        QVERIFY(std::abs(axes[0].y) < 1e-12);
        QVERIFY(std::abs(glm::determinant(axes) - 1) < 1e-12);
    }
};

MELLOW_TEST(SolidVerbsTest)
}  // namespace solid_verbs_test
#include "solid_verbs_test.moc"
