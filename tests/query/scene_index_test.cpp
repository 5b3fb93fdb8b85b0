#include <QtTest>
#include <limits>

#include "base/id.h"
#include "query/scene_index.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace scene_index_test {

using base::Ray;
using base::Vec3;
using model::Slot;

/// The index against trying every triangle of every object.
class SceneIndexTest : public QObject {
    Q_OBJECT
    std::unique_ptr<test::DemoCopy> demo_;
    std::unique_ptr<io::Workspace> workspace_;
    const model::Scene* scene_ = nullptr;
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes_;

    query::MeshLookup lookup() {
        return [this](base::Name item) { return meshes_.contains(item) ? meshes_[item].get() : nullptr; };
    }
    double bruteForce(const Ray& ray, Slot& which) const {
        double best = std::numeric_limits<double>::infinity();
        for (Slot s : scene_->subtree(model::kNoSlot)) {
            const shape::Mesh* mesh = workspace_->mesh(scene_->item(s));
            if (mesh == nullptr || !base::intersect(ray, scene_->bounds(s))) continue;
            const auto toLocal = base::inverse(scene_->world(s));
            const auto hit = shape::intersect({toLocal->point(ray.origin), toLocal->direction(ray.direction)}, *mesh);
            if (hit && hit->distance < best) {
                best = hit->distance;
                which = s;
            }
        }
        return best;
    }
    void compare(const query::SceneIndex& index, std::uint64_t seed, int rays) {
        base::Random random(seed);
        int met = 0;
        for (int i = 0; i < rays; ++i) {
            const Vec3 from(random.between(-80, 60), random.between(3, 30), random.between(-40, 40));
            const Vec3 to(random.between(-70, 40), random.between(-2, 3), random.between(-30, 30));
            const Ray ray{from, glm::normalize(to - from)};
            Slot wanted = model::kNoSlot;
            const double distance = bruteForce(ray, wanted);
            const auto hit = index.pick(*scene_, ray);
            QCOMPARE(hit.has_value(), wanted != model::kNoSlot);
            if (!hit) continue;
            ++met;
            QVERIFY2(std::abs(hit->distance - distance) < 2e-3,
                     qPrintable(QString("%1 against %2").arg(hit->distance).arg(distance)));
            QVERIFY(glm::dot(hit->normal, ray.direction) <= 1e-9);
        }
        QVERIFY(met > rays / 2);
    }

    /// Boxes of every size and height, against asking every object.
    void compareBoxes(const query::SceneIndex& index, std::uint64_t seed) {
        base::Random random(seed);
        std::size_t met = 0;
        for (int i = 0; i < 200; ++i) {
            const Vec3 at(random.between(-120, 120), random.between(-20, 20), random.between(-80, 80));
            const double side = std::pow(10, random.between(-1, 2.5)), high = std::pow(10, random.between(-1, 3.5));
            base::Aabb box;
            box.add(at - Vec3(side, high, side) / 2.0);
            box.add(at + Vec3(side, high, side) / 2.0);
            std::vector<Slot> wanted, found;
            for (Slot s : scene_->subtree(model::kNoSlot))
                if (!scene_->bounds(s).empty() && scene_->bounds(s).overlaps(box)) wanted.push_back(s);
            index.overlapping(*scene_, box, [&](Slot s) { found.push_back(s); });
            std::sort(wanted.begin(), wanted.end());
            std::sort(found.begin(), found.end());
            QVERIFY(found == wanted);  // each once
            met += found.size();
        }
        QVERIFY(met > 1000);
    }

  private Q_SLOTS:
    void initTestCase() {
        demo_ = std::make_unique<test::DemoCopy>();
        workspace_ = std::move(*io::openWorkspace(demo_->folder(), io::OpenMode::Edit, test::chance()));
        scene_ = *workspace_->session->scene("lower-basin");
        for (const auto& [item, mesh] : workspace_->meshes) meshes_[item] = std::make_unique<query::MeshIndex>(mesh);
    }
    void boxesMeetWhatAskingEveryObjectMeets() { compareBoxes(query::SceneIndex(*scene_, lookup()), 4); }
    void raysMeetWhatTryingEveryTriangleMeets() { compare(query::SceneIndex(*scene_, lookup()), 1, 150); }
    void afterMovesRemovalsAndNewOnesToo() {
        query::SceneIndex index(*scene_, lookup());
        const auto token = workspace_->session->sceneChanged.listen([&](const edit::SceneDelta& d) {
            for (const auto* slots : {&d.created, &d.removed, &d.moved}) index.touch(*slots);
        });
        edit::Draft draft(*workspace_->session, "lower-basin", "Stir");
        base::Random random(6);
        std::vector<base::ObjectId> ids, gone;
        std::vector<base::Transform> poses;
        for (Slot s : scene_->subtree(model::kNoSlot)) {
            if (!scene_->item(s) || scene_->protectedInTree(s)) continue;
            if (random.unit() < 0.1)
                gone.push_back(scene_->id(s));
            else if (random.unit() < 0.4) {
                ids.push_back(scene_->id(s));
                base::Transform t = scene_->local(s);
                t.position += Vec3(random.between(-6, 6), 0, random.between(-6, 6));
                t.rotation = base::fromDegrees({0, random.between(0, 360), 0});
                t.scale = Vec3(random.between(0.5, 2), 1, 1);
                poses.push_back(t);
            }
        }
        QVERIFY(draft.setTransforms(ids, poses).has_value());
        QVERIFY(draft.remove(gone).has_value());
        model::ObjectRecord r;
        r.id = base::ObjectId{77};
        r.item = workspace_->session->intern("cottage");
        r.local.position = {-30, 0, 0};
        QVERIFY(draft.create({&r, 1}).has_value());
        compare(index, 2, 150);
        compareBoxes(index, 5);
        draft.rollback();
        compare(index, 3, 100);
        compareBoxes(index, 6);
        workspace_->session->sceneChanged.forget(token);
    }
    void aFilterSkipsAndPickAllGoesOnBehind() {
        const query::SceneIndex index(*scene_, lookup());
        const Ray ray{{-34, 40, 2}, {0, -1, 0}};
        const auto all = index.pickAll(*scene_, ray, 10);
        QVERIFY(all.size() >= 3);
        for (std::size_t i = 1; i < all.size(); ++i) QVERIFY(all[i].distance >= all[i - 1].distance - 1e-6);
        const auto behind = index.pick(*scene_, ray, [&](Slot s) { return s != all[0].slot; });
        QCOMPARE(behind->slot, all[1].slot);
    }
    void anEmptySceneIsMetNowhere() {
        const model::Scene empty("empty", std::make_shared<base::NameTable>());
        const query::SceneIndex index(empty, lookup());
        QVERIFY(!index.pick(empty, {{0, 1, 0}, {0, -1, 0}}));
    }
};

MELLOW_TEST(SceneIndexTest)
}  // namespace scene_index_test
#include "scene_index_test.moc"
