// Lights pulled by their grips: reach, and the cones of a spot, from ugly starts too.
#include <QtTest>

#include "ops/lights.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace lights_test {

using base::Vec3;
using ops::LightGrip;

struct Lamp : test::Blocks {
    base::ObjectId id = put("cube", {10, 3, -4}, {20, 110, 5}, Vec3(2.0));
    explicit Lamp(model::Light light) {
        if (!test::asStep(*this, [&](edit::Draft& d) { return ops::setLight(d, id, light); })) qFatal("no light");
    }
    LightGrip grip(LightGrip::Pulls pulls) {
        for (const LightGrip& one : ops::lightGrips(scene(), slot(id)))
            if (one.pulls == pulls) return one;
        qFatal("no such grip");
    }
    model::Light pulled(LightGrip::Pulls pulls, const Vec3& to, double metres = 0, double degrees = 0) {
        return ops::pulledLight(scene(), slot(id), grip(pulls), to, metres, degrees);
    }
};

class LightsTest : public QObject {
    Q_OBJECT
    static model::Light spot() {
        model::Light light;
        light.shape = model::Light::Shape::Spot;
        return light;
    }
  private Q_SLOTS:
    void aGripThatIsNotMovedChangesNothing() {
        for (const bool isSpot : {false, true}) {
            Lamp p(isSpot ? spot() : model::Light{});
            QCOMPARE(ops::lightGrips(p.scene(), p.slot(p.id)).size(), std::size_t(isSpot ? 3 : 1));
            const model::Light before = *p.scene().facet<model::Light>(p.slot(p.id));
            for (const LightGrip& grip : ops::lightGrips(p.scene(), p.slot(p.id))) {
                const model::Light now = ops::pulledLight(p.scene(), p.slot(p.id), grip, grip.at, 0, 0);
                QVERIFY(std::abs(now.reachMetres - before.reachMetres) < 1e-9);
                QVERIFY(std::abs(now.outerDegrees - before.outerDegrees) < 1e-6);
                QVERIFY(std::abs(now.innerDegrees - before.innerDegrees) < 1e-6);
            }
        }
    }
    void theReachIsPulledInSteps() {
        Lamp p(spot());
        using enum LightGrip::Pulls;
        const LightGrip grip = p.grip(Reach);
        QCOMPARE(p.pulled(Reach, grip.at + grip.along * 1.1, 0.5).reachMetres, 9.0);
        QVERIFY(std::abs(p.pulled(Reach, grip.at + grip.along * 1.1).reachMetres - 9.1) < 1e-9);
        QCOMPARE(p.pulled(Reach, grip.at - grip.along * 50.0).reachMetres, 0.1);  // never nothing
    }
    void theInnerConeStaysWithinTheOuter() {
        Lamp p(spot());
        using enum LightGrip::Pulls;
        const Vec3 centre = p.scene().world(p.slot(p.id)).translation;
        const LightGrip reach = p.grip(Reach), outer = p.grip(Outer);
        const model::Light narrow = p.pulled(Outer, centre + reach.along * 5.0);
        QVERIFY(narrow.outerDegrees >= 1 && narrow.innerDegrees <= narrow.outerDegrees);
        QCOMPARE(p.pulled(Outer, centre - reach.along * 5.0).outerDegrees, 90.0);
        const model::Light wide = p.pulled(Inner, centre + glm::cross(outer.along, reach.along) * 5.0);
        QVERIFY(std::abs(wide.innerDegrees - wide.outerDegrees) < 1e-9);
        QCOMPARE(p.pulled(Outer, outer.at + reach.along * 0.4, 0, 15).outerDegrees, 30.0);
        (void)p.pulled(Outer, centre);  // no direction: as it was
    }
    void itIsAStepAndRefusedForWhatIsProtected() {
        Lamp p(spot());
        model::Light light = *p.scene().facet<model::Light>(p.slot(p.id));
        light.reachMetres = 3;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::setLight(d, p.id, light); }));
        const std::uint8_t flag = model::flags::kProtected;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return d.setFlags({&p.id, 1}, {&flag, 1}); }));
        light.reachMetres = 4;
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::setLight(d, p.id, light); }));
        QVERIFY(ops::lightGrips(p.scene(), p.slot(p.put("cube", {0, 0, 0}))).empty());
    }
};

MELLOW_TEST(LightsTest)
}  // namespace lights_test
#include "lights_test.moc"
