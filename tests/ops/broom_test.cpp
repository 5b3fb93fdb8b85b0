// The broom: what it scatters stands where it may, the same for the same seed; what it meets is done once.
#include "ops/broom.h"
#include "support/test_main.h"

#include <QtTest>

#include "support/blocks.h"
#include "support/steps.h"

namespace broom_test {

using base::ObjectId;
using base::Vec3;
using ops::BroomSettings;
using ops::BroomVerb;

class BroomTest : public QObject {
    Q_OBJECT
    static BroomSettings scattering() {
        BroomSettings s;
        s.item = "cube";
        s.density = 0.25;
        s.spacingMetres = 1.5;
        s.radiusMetres = 6;
        s.chances.smallest = 0.5;
        return s;
    }
    /// Sweeps and gives where things then stand.
    static std::vector<Vec3> swept(test::Blocks& b, const BroomSettings& settings, const std::vector<Vec3>& way) {
        (void)b.index();
        edit::Draft draft(b.session(), "first", "Sweep");
        ops::Broom broom(draft, b.index(), settings);
        for (const Vec3& at : way)
            if (auto done = broom.sweep(at); !done) qFatal("%s", done.error().message.c_str());
        std::vector<Vec3> all;
        for (ObjectId id : broom.met()) all.push_back(b.scene().world(b.slot(id)).translation);
        std::sort(all.begin(), all.end(), [](const Vec3& p, const Vec3& q) { return p.x < q.x; });
        if (!draft.commit()) qFatal("no step");
        return all;
    }
  private Q_SLOTS:
    void whatIsScatteredStandsApartOnTheGroundAndWithinTheFootprint() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        const auto all = swept(b, scattering(), {{0, 0, 0}, {3, 0, 0}});
        QVERIFY(all.size() > 10);
        for (const Vec3& p : all) {
            QVERIFY(std::abs(p.y) < 1e-5);
            QVERIFY(std::min(std::hypot(p.x, p.z), std::hypot(p.x - 3, p.z)) <= 6 + 1e-9);
            for (const Vec3& q : all) QVERIFY(&p == &q || std::hypot(p.x - q.x, p.z - q.z) >= 1.5);
        }
    }
    void theSameSeedGivesTheSameWhicheverWayOneSweeps() {
        std::vector<std::vector<Vec3>> runs;
        for (const std::vector<Vec3>& way :
             {std::vector<Vec3>{{0, 0, 0}, {4, 0, 0}}, {{4, 0, 0}, {2, 0, 0}, {0, 0, 0}}}) {
            test::Blocks b;
            b.put("slab", {0, 0, 0});
            BroomSettings s = scattering();
            s.spacingMetres = 0;
            if (!runs.empty()) s.radiusMetres = 6;
            runs.push_back(swept(b, s, way));
        }
        for (const Vec3& p : runs[0]) QVERIFY(std::find(runs[1].begin(), runs[1].end(), p) != runs[1].end());
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        BroomSettings other = scattering();
        other.seed = 2;
        QVERIFY(swept(b, other, {{0, 0, 0}}) != runs[0]);
    }
    void slopesBeyondTheLimitsStayBare() {
        test::Blocks b;
        b.put("ramp", {0, 0, 0});  // rises one in two: 26.6 degrees
        BroomSettings s = scattering();
        s.steepest = 20;
        QVERIFY(swept(b, s, {{5, 2, 0}}).empty());
        s.steepest = 30;
        s.radiusMetres = 3;
        s.align = true;
        QVERIFY(!swept(b, s, {{5, 2, 0}}).empty());
    }
    void verbsTakeWhatFitsOnceAndLeaveWhatIsProtected() {
        test::Blocks b;
        const ObjectId one = b.put("cube", {0, 0, 0}), two = b.put("cube", {2, 0, 0}), beam = b.put("beam", {0, 0, 2});
        test::asStep(b,
                     [&](edit::Draft& d) { return ops::setFlag(d, std::vector{two}, model::flags::kProtected, true); });
        BroomSettings s;
        s.verb = BroomVerb::Hide;
        s.filter = "item:cube";
        s.radiusMetres = 5;
        QCOMPARE(swept(b, s, {{0, 0, 0}, {1, 0, 0}}).size(), std::size_t{1});
        QVERIFY((b.scene().flagsOf(b.slot(one)) & model::flags::kHidden) != 0);
        QVERIFY((b.scene().flagsOf(b.slot(two)) & model::flags::kHidden) == 0);
        QVERIFY((b.scene().flagsOf(b.slot(beam)) & model::flags::kHidden) == 0);
        s.verb = BroomVerb::Release;
        s.filter.clear();
        QCOMPARE(swept(b, s, {{0, 0, 0}}).size(), std::size_t{1});
        QVERIFY((b.scene().flagsOf(b.slot(two)) & model::flags::kProtected) == 0);
    }
    void aSweepIsOneStepAndUndoGivesTheSameBytes() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        for (BroomVerb verb : {BroomVerb::Scatter, BroomVerb::Vary, BroomVerb::Seat, BroomVerb::Remove}) {
            BroomSettings s = scattering();
            s.verb = verb;
            s.filter = "item:cube";
            s.chances.tint = 0.5;
            (void)b.index();
            std::size_t met = 0;
            QVERIFY(test::asStep(b, [&](edit::Draft& d) -> base::Status {
                ops::Broom broom(d, b.index(), s);
                for (double x = -4; x <= 4; x += 2)
                    if (auto done = broom.sweep({x, 0, 0}); !done) return done;
                met = broom.count();
                return {};
            }));
            QVERIFY2(met > 5, std::string(ops::broomLabel(verb)).c_str());
        }
    }
    void anUnknownItemIsRefused() {
        test::Blocks b;
        b.put("slab", {0, 0, 0});
        BroomSettings s = scattering();
        s.item = "no such";
        QVERIFY(!test::asStep(b, [&](edit::Draft& d) { return ops::Broom(d, b.index(), s).sweep({0, 0, 0}); }));
    }
};

MELLOW_TEST(BroomTest)
}  // namespace broom_test
#include "broom_test.moc"
