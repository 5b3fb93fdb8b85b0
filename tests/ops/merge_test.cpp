// Several meshes made one item: the mesh itself, and what becomes of the objects.
#include "ops/merge.h"
#include "support/test_main.h"

#include <QtTest>

#include "io/gltf_in.h"
#include "model/facets/light.h"
#include "shape/merge.h"
#include "support/blocks.h"
#include "support/steps.h"

namespace merge_test {

using base::ObjectId;
using base::Vec3;
using model::kNoSlot;
using test::asStep;

class MergeTest : public QObject {
    Q_OBJECT
    /// The mesh that a selection would become, its base point at `at`.
    static shape::Mesh meshOf(test::Blocks& p, const ops::Ids& ids, const Vec3& at) {
        std::vector<shape::MeshPart> parts;
        for (const ops::Merging& one : ops::toMerge(p.scene(), p.session().library(), ids)) {
            parts.push_back({p.workspace().mesh(one.item), one.world, one.tint});
            parts.back().pose.translation -= at;
        }
        return shape::merged(parts);
    }

  private Q_SLOTS:
    void theMergedMeshIsHitWhereItsPartsWere() {
        test::Blocks p;
        const ObjectId a = p.put("cube", {2, 0, 0}, {0, 30, 0}),
                       b = p.put("ramp", {-3, 1, 2}, {10, 20, 0}, Vec3(0.5, 1, -1));
        const shape::Mesh mesh = meshOf(p, {a, b}, {0, 0, 0});
        QCOMPARE(mesh.triangleCount(), p.workspace().mesh(p.name("cube"))->triangleCount() +
                                           p.workspace().mesh(p.name("ramp"))->triangleCount());
        for (int i = 0; i < 200; ++i) {
            const base::Ray ray{{i % 20 * 0.5 - 5, 20, i / 20 * 0.5 - 2}, {0.03, -1, 0.02}};
            double nearest = 1e300;
            for (ObjectId id : {a, b}) {
                const auto into = *base::inverse(p.scene().world(p.slot(id)));
                const auto hit = shape::intersect({into.point(ray.origin), into.direction(ray.direction)},
                                                  *p.workspace().mesh(p.scene().item(p.slot(id))));
                if (hit) nearest = std::min(nearest, hit->distance);
            }
            const auto hit = shape::intersect(ray, mesh);
            QCOMPARE(hit.has_value(), nearest < 1e300);
            if (hit) QVERIFY(std::abs(hit->distance - nearest) < 1e-4);
        }
    }
    void normalsPointOutAlsoOfMirroredParts() {
        test::Blocks p;
        const ObjectId cube = p.put("cube", {0, 0, 0}, {0, 40, 0}, {2, 1, -1});
        const shape::Mesh mesh = meshOf(p, {cube}, {0, 0, 0});
        for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
            const Vec3 a = cornerOf(mesh, t, 0), b = cornerOf(mesh, t, 1), c = cornerOf(mesh, t, 2);
            const shape::Float3& n = mesh.normals[mesh.indices[t * 3]];
            const Vec3 facing = glm::cross(b - a, c - a);
            QVERIFY(glm::dot(facing, Vec3(n[0], n[1], n[2])) > 0);
            QVERIFY(glm::dot(facing, (a + b + c) / 3.0 - Vec3(0, 0.5, 0)) > 0);
        }
    }
    void likeMaterialsAreOneAndTintsAreKept() {
        test::Blocks p;
        const ObjectId a = p.put("cube", {0, 0, 0}), b = p.put("cube", {2, 0, 0}), c = p.put("cube", {4, 0, 0});
        const std::size_t own = p.workspace().mesh(p.name("cube"))->materials.size();
        QCOMPARE(meshOf(p, {a, b}, {}).materials.size(), std::max<std::size_t>(own, 1));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setTint(d, {&c, 1}, Vec3(1, 0.5, 0.25)); }).has_value());
        const shape::Mesh mesh = meshOf(p, {a, b, c}, {});
        QCOMPARE(mesh.materials.size(), 2 * std::max<std::size_t>(own, 1));
        QCOMPARE(mesh.materials.back().baseColour[1], 0.5F * mesh.materials.front().baseColour[1]);
    }
    void theTurnOfWhatIsMergedIsKept() {
        test::Blocks p;
        const base::Quat turn = base::fromDegrees({0, 35, 0});
        const ObjectId a = p.put("cube", {2, 0, 0}, {0, 35, 0}), b = p.put("ramp", {5, 0, 1}, {0, 35, 0}),
                       c = p.put("cube", {9, 0, 0}, {0, 50, 0});
        auto frame = [&](const ops::Ids& ids) {
            return ops::mergeFrame(p.scene(), p.session().library(), ids, {3, 0, 0});
        };
        QVERIFY(std::abs(glm::dot(frame({a, b}).rotation, turn)) > 1 - 1e-12);
        QVERIFY(std::abs(glm::dot(frame({a, b, c}).rotation, base::Quat(1, 0, 0, 0))) > 1 - 1e-12);
        auto one = asStep(p, [&](edit::Draft& d) {
            return ops::replaceByMerged(d, ops::Ids{a, b}, p.name("pair"), "Pair", frame({a, b}));
        });
        QVERIFY(one.has_value());
        QVERIFY(std::abs(glm::dot(p.scene().local(p.slot(*one)).rotation, turn)) > 1 - 1e-12);
        QVERIFY(p.scene().local(p.slot(*one)).position == Vec3(3, 0, 0));
    }
    void theObjectTakesTheSelectionsPlaceAndLightsStay() {
        test::Blocks p;
        const ObjectId group = p.add("Yard", {}, {{10, 0, 0}});
        const ObjectId a = p.put("cube", {0, 0, 0}, {}, Vec3(1), group),
                       b = p.put("cube", {1, 0, 3}, {}, Vec3(1), group);
        const ObjectId lamp = p.add("Lamp", a, {{0, 2, 0}});
        model::Detail lit;
        lit.edit<model::Light>();
        const auto light = std::make_shared<const model::Detail>(lit);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setDetails({&lamp, 1}, {&light, 1}); }).has_value());
        const Vec3 lampAt = p.scene().world(p.slot(lamp)).translation;
        auto item = test::addModel(p, "pair", meshOf(p, {a, b}, {10.5, 0, 1.5}));
        QVERIFY(item.has_value());
        auto one = asStep(p, [&](edit::Draft& d) {
            return ops::replaceByMerged(d, ops::Ids{a, b}, p.name("pair"), "Pair", {{10.5, 0, 1.5}});
        });
        QVERIFY(one.has_value());
        const model::Slot s = p.slot(*one);
        QCOMPARE(p.scene().parent(s), p.slot(group));
        QVERIFY(glm::length(p.scene().world(s).translation - Vec3(10.5, 0, 1.5)) < 1e-12);
        QVERIFY(p.slot(a) == kNoSlot && p.slot(b) == kNoSlot);
        QCOMPARE(p.scene().parent(p.slot(lamp)), s);
        QVERIFY(glm::length(p.scene().world(p.slot(lamp)).translation - lampAt) < 1e-12);
        const base::Aabb box = p.scene().bounds(s);
        QVERIFY(glm::length(box.low - Vec3(9.5, 0, -0.5)) < 1e-5 && glm::length(box.high - Vec3(11.5, 1, 3.5)) < 1e-5);
        // The file can be read back as it is.
        QVERIFY(io::saveScene(p.workspace(), std::string(model::data::kAdded)).has_value());
        auto again = io::readModel(p.folder() / "items" / "pair.glb");
        QVERIFY(again && again->mesh.triangleCount() == item->triangles);
    }
    void whatHasNoMeshIsRefusedAndSoIsAUsedName() {
        test::Blocks p;
        const ObjectId group = p.add("Yard"), cube = p.put("cube", {0, 0, 0});
        QVERIFY(
            !asStep(p, [&](edit::Draft& d) { return ops::replaceByMerged(d, ops::Ids{group}, p.name("x"), "X", {}); }));
        const shape::Mesh mesh = meshOf(p, {cube}, {});
        QVERIFY(test::addModel(p, "one", mesh).has_value());
        QVERIFY(!test::addModel(p, "one", mesh));
        QVERIFY(!test::addModel(p, "../one", mesh));
        QVERIFY(!test::addModel(p, "cube", mesh));
    }
};

MELLOW_TEST(MergeTest)
}  // namespace merge_test
#include "merge_test.moc"
