// Solids as objects: drawn, sized later, kept in files, met by rays.
#include <QtTest>

#include "ops/solid.h"
#include "support/blocks.h"
#include "support/steps.h"

using base::ObjectId;
using base::Vec3;
using model::Solid;

class SolidVerbsTest : public QObject {
    Q_OBJECT
    static ObjectId add(test::TestProject& p, Solid::Shape shape, const Vec3& size) {
        return *test::asStep(p, [&](edit::Draft& d) { return ops::addSolid(d, {shape, size, 0, {}}, {}, {}); });
    }
  private Q_SLOTS:
    void aSolidIsAnObjectWithBoundsThatCanBeSizedLater() {
        test::TestProject p;
        const ObjectId id = add(p, Solid::Shape::Stairs, {1, 2, 3});
        QCOMPARE(p.scene().nameText(p.slot(id)), std::string_view("Stairs"));
        QVERIFY(glm::length(p.scene().bounds(p.slot(id)).size() - Vec3(1, 2, 3)) < 1e-5);
        Solid larger = *p.scene().detail(p.slot(id))->solid;
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
                return ops::addSolid(d, {Solid::Shape::Box, size, 0, {}}, {}, {});
            }));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) {
            return ops::addSolid(d, {Solid::Shape::Box, {1, 1, 1}, 5000, {}}, {}, {});
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
    void onAWallItStandsOutFromIt() {
        const base::Mat3 axes = ops::surfaceAxes({1, 0, 0});
        QVERIFY(glm::length(axes[1] - Vec3(1, 0, 0)) < 1e-12);
        QVERIFY(std::abs(axes[0].y) < 1e-12);
        QVERIFY(std::abs(glm::determinant(axes) - 1) < 1e-12);
    }
};

QTEST_APPLESS_MAIN(SolidVerbsTest)
#include "solid_verbs_test.moc"
