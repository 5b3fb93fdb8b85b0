#include <QtTest>

#include "base/id.h"
#include "query/region.h"
#include "render/camera.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace region_test {

using base::Vec2;
using base::Vec3;
using query::Region;

class RegionTest : public QObject {
    Q_OBJECT
    const render::Viewport view_{800, 600};
    render::Camera camera_ = render::Camera::looking({3, 4, 9}, {0, 0.5, 0});
    const shape::Mesh cube_ = test::prismMesh({{-0.5, 0}, {0.5, 0}, {0.5, 1}, {-0.5, 1}}, 1);
    query::Project project() const {
        return [this](const Vec3& p) { return camera_.project(p, view_); };
    }
    bool in(const Region& region, const base::Affine& world, bool whole) const {
        return query::inRegion(region, cube_, world, project(), whole);
    }

  private Q_SLOTS:
    void aLassoHoldsTouchesOrMisses() {
        const base::Affine here;
        const Vec2 middle = *camera_.project({0, 0.5, 0}, view_);
        auto square = [&](Vec2 at, double half) {
            return Region(
                {at + Vec2(-half, -half), at + Vec2(half, -half), at + Vec2(half, half), at + Vec2(-half, half)});
        };
        QVERIFY(in(square(middle, 200), here, true) && in(square(middle, 200), here, false));
        QVERIFY(!in(square(middle, 20), here, true) && in(square(middle, 20), here, false));  // wholly on one face
        QVERIFY(!in(square(middle + Vec2(300, 0), 40), here, false));
        QVERIFY(!in(Region({middle, middle + Vec2(1, 1)}), here, false));
    }
    void aConcaveOutlineDoesNotHoldWhatItGoesRound() {
        const Vec2 middle = *camera_.project({0, 0.5, 0}, view_);
        // A horseshoe round the cube, open at the top.
        const Region shoe({middle + Vec2(-250, -150), middle + Vec2(-200, -150), middle + Vec2(-200, 150),
                           middle + Vec2(200, 150), middle + Vec2(200, -150), middle + Vec2(250, -150),
                           middle + Vec2(250, 250), middle + Vec2(-250, 250)});
        QVERIFY(!shoe.holds(middle));
        QVERIFY(!in(shoe, {}, false) && !in(shoe, {}, true));
    }
    void whatLiesBehindTheEyeIsOutside() {
        base::Affine behind;
        behind.translation = camera_.eye - camera_.forward() * 5.0;
        const Region all({{-5000, -5000}, {5000, -5000}, {5000, 5000}, {-5000, 5000}});
        QVERIFY(!in(all, behind, false) && !in(all, behind, true));
    }
    void touchingAgreesWithManyPointsOfTheSurface() {
        base::Random random(5);
        int touched = 0;
        for (int i = 0; i < 120; ++i) {
            std::vector<Vec2> corners;
            const Vec2 at(random.between(250, 550), random.between(180, 420));
            for (int k = 0; k < 7; ++k) {
                const double a = k * 2 * base::kPi / 7, r = random.between(10, 60);
                corners.push_back(at + Vec2(std::cos(a), std::sin(a)) * r);
            }
            const Region region(corners);
            bool sampled = false;
            for (std::size_t t = 0; t + 2 < cube_.indices.size() && !sampled; t += 3)
                for (int u = 0; u <= 40; ++u)
                    for (int v = 0; u + v <= 40; ++v) {
                        auto p = [&](std::size_t k) {
                            const auto& f = cube_.positions[cube_.indices[t + k]];
                            return Vec3(f[0], f[1], f[2]);
                        };
                        const Vec3 point = p(0) + (p(1) - p(0)) * (u / 40.0) + (p(2) - p(0)) * (v / 40.0);
                        sampled = sampled || region.holds(*camera_.project(point, view_));
                    }
            const bool found = in(region, {}, false);
            if (sampled) QVERIFY(found);  // points may miss a thin overlap, never find one that is not there
            touched += found ? 1 : 0;
        }
        QVERIFY(touched > 20 && touched < 115);
    }
};

MELLOW_TEST(RegionTest)
}  // namespace region_test
#include "region_test.moc"
