#include <QtTest>

#include "render/draw_list.h"
#include "render/occlusion.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace draw_list_test {

using model::Slot;

class DrawListTest : public QObject {
    Q_OBJECT
    const render::Viewport view_{772, 700};

    static std::size_t count(const render::DrawList& list) {
        std::size_t n = list.boxes.size() + list.points.size();
        for (const auto& [item, instances] : list.meshes) n += instances.size();
        return n;
    }
    render::OtherLooks looks_;
    render::DrawList collect(
        const render::DrawCells& cells, const model::Scene& scene, const render::Camera& camera,
        std::function<bool(Slot)> hidden = [](Slot) { return false; }) {
        render::DrawList list;
        cells.collect(
            scene, camera, view_, {}, [](base::Name) { return 0xFF808080u; }, [](Slot) { return 0u; }, hidden, looks_,
            list);
        return list;
    }

  private Q_SLOTS:
    void theLatticeRefinesByZoom() {
        QVERIFY(std::abs(render::latticeSpacing(0.0001) - 0.01) < 1e-12);
        double last = 0;
        for (double metres = 0.0005; metres < 10; metres *= 1.3) {
            const double spacing = render::latticeSpacing(metres);
            QVERIFY(spacing >= metres * 12 && spacing < metres * 61 && spacing >= last);
            last = spacing;
        }
    }
    void collisionShapesTakeThePlaceOfModels() {
        test::TestProject p;
        model::Item item;
        item.name = "crate";
        item.bounds = {{-1, 0, -2}, {1, 3, 2}};
        item.collision = model::CollisionShape::Box;
        p.session().putItem(item);
        item.name = "reed";
        item.collision = model::CollisionShape::None;
        p.session().putItem(item);
        base::Affine world;
        world.translation = {10, 0, 0};
        render::DrawList list;
        for (const char* name : {"crate", "reed", "other"})
            list.meshes[p.name(name)].push_back(render::instanceOf(world, {1, 0, 0}, 0));
        render::showCollision(list, p.session().library(), [](base::Name shown) { return shown; });
        QVERIFY(list.meshes[p.name("crate")].empty() && list.meshes[p.name("reed")].empty());
        QCOMPARE(list.meshes[p.name("other")].size(), std::size_t{1});
        QCOMPARE(list.boxes.size(), std::size_t{1});
        const float* r = list.boxes[0].rows;  // from the unit cube
        QCOMPARE(r[3], 8.0F);
        QCOMPARE(r[0], 2.0F);
        QCOMPARE(r[5], 3.0F);
        QCOMPARE(r[11], -2.0F);
    }
    void anOrthographicPictureDrawsByScaleAndNotByDistance() {
        test::TestProject p;
        for (double z : {-5.0, -4000.0}) p.add("Slab", {}, {{0, 0, z}, {1, 0, 0, 0}, base::Vec3(0.5)}, "ground-slab");
        render::DrawCells cells;
        cells.build(p.scene());
        const auto list = collect(cells, p.scene(), render::Camera::flat({0, 5, 0}, 0, 0, 60));
        QCOMPARE(list.meshes.at(p.name("ground-slab")).size(), std::size_t{2});
    }
    void whatIsFarIsDrawnCoarser() {
        test::TestProject p;
        for (double z : {-5.0, -4000.0, -8000.0})
            p.add("Slab", {}, {{0, 0, z}, {1, 0, 0, 0}, base::Vec3(0.5)}, "ground-slab");
        render::DrawCells cells;
        cells.build(p.scene());
        render::Camera camera = render::Camera::looking({0, 30, 60}, {0, 0, -1000});
        const auto list = collect(cells, p.scene(), camera);
        QCOMPARE(count(list), std::size_t{3});
        QCOMPARE(list.meshes.at(p.name("ground-slab")).size(), std::size_t{1});
        QCOMPARE(list.boxes.size(), std::size_t{1});
        QCOMPARE(list.points.size(), std::size_t{1});
    }
    void whatIsBehindOrHiddenIsNotDrawn() {
        test::TestProject p;
        const auto seen = p.add("Slab", {}, {{0, 0, -50}, {1, 0, 0, 0}, base::Vec3(0.1)}, "ground-slab");
        p.add("Slab", {}, {{0, 0, 500}, {1, 0, 0, 0}, base::Vec3(0.1)}, "ground-slab");
        render::DrawCells cells;
        cells.build(p.scene());
        render::Camera camera;
        QCOMPARE(count(collect(cells, p.scene(), camera)), std::size_t{1});
        QCOMPARE(count(collect(cells, p.scene(), camera, [&](Slot s) { return s == p.slot(seen); })), std::size_t{0});
    }
    void changesReachTheCells() {
        test::TestProject p;
        render::DrawCells cells;
        cells.build(p.scene());
        p.session().sceneChanged.listen([&](const edit::SceneDelta& d) {
            for (const auto* slots : {&d.removed, &d.created, &d.moved}) cells.touch(p.scene(), *slots);
        });
        const auto id = p.add("Slab", {}, {{0, 0, -50}, {1, 0, 0, 0}, base::Vec3(0.1)}, "ground-slab");
        render::Camera camera;
        QCOMPARE(count(collect(cells, p.scene(), camera)), std::size_t{1});
        {
            edit::Draft draft(p.session(), "first", "Move");
            const base::Transform away{{0, 0, 900}};
            QVERIFY(draft.setTransforms({&id, 1}, {&away, 1}).has_value());
            QCOMPARE(count(collect(cells, p.scene(), camera)), std::size_t{0});
        }
        QCOMPARE(count(collect(cells, p.scene(), camera)), std::size_t{1});
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(count(collect(cells, p.scene(), camera)), std::size_t{0});
    }
    void aCornerIsDarkerThanAnOpenTop() {
        auto mesh = std::make_shared<shape::Mesh>();  // a floor with a wall
        mesh->positions = {{-5, 0, -5}, {-5, 0, 5}, {5, 0, 5},  {5, 0, -5},
                           {-5, 0, -5}, {5, 0, -5}, {5, 6, -5}, {-5, 6, -5}};
        mesh->normals = {{0, 1, 0}, {0, 1, 0}, {0, 1, 0}, {0, 1, 0}, {0, 0, 1}, {0, 0, 1}, {0, 0, 1}, {0, 0, 1}};
        mesh->indices = {0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7};
        mesh->bounds = shape::boundsOf(*mesh);
        const auto values = render::bakeOcclusion(query::MeshIndex(mesh), 64);
        QVERIFY(values[0] < values[1]);
        QVERIFY(values[4] < values[7]);
        QVERIFY(render::bakeOcclusion(query::MeshIndex(mesh), 64) == values);
    }
    void whatIsOtherwiseByItsPropertiesIsDrawnSo() {
        test::Blocks p;
        const Slot cube = p.slot(p.put("cube", {0, 0, 0}));
        render::DrawCells cells;
        cells.build(p.scene());
        const auto camera = render::Camera::looking({0, 2, 6}, {0, 0, 0});
        const base::Name own = p.name("cube"), other = p.name("ramp");
        const auto plain = collect(cells, p.scene(), camera);
        looks_[cube] = {other, base::Vec3(1, 0.25, 0), false};
        const auto changed = collect(cells, p.scene(), camera);
        QVERIFY(plain.meshes.contains(own) && !changed.meshes.contains(own));
        QVERIFY(std::memcmp(plain.meshes.at(own)[0].shade, changed.meshes.at(other)[0].shade, 4) != 0);
        looks_[cube].hidden = true;
        QCOMPARE(collect(cells, p.scene(), camera).drawn, std::size_t{0});
        looks_.clear();
    }
};

MELLOW_TEST(DrawListTest)
}  // namespace draw_list_test
#include "draw_list_test.moc"
