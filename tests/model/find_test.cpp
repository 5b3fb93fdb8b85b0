#include <QtTest>

#include "base/id.h"
#include "support/steps.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace find_test {

using base::ObjectId;

class FindTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void manyAreFoundAsEachIsAlone() {
        test::TestProject p;
        constexpr std::size_t kCount = 3000;
        std::vector<ObjectId> ids;
        const auto made = test::asStep(p, [&](edit::Draft& draft) {
            std::vector<model::ObjectRecord> all(kCount);
            for (model::ObjectRecord& r : all) ids.push_back(r.id = p.session().random().nextId());
            return draft.create(all);
        });
        QVERIFY(made);
        std::vector<ObjectId> gone;
        for (std::size_t i = 0; i < kCount; i += 7) gone.push_back(ids[i]);  // holes that others moved up into
        QVERIFY(test::asStep(p, [&](edit::Draft& draft) { return draft.remove(gone); }));
        ids.push_back({});                     // none
        ids.push_back(ids[1]);                 // twice
        ids.insert(ids.begin(), ObjectId{5});  // never there
        const model::Scene& scene = p.scene();
        const std::vector<model::Slot> slots = scene.find(ids);
        QCOMPARE(slots.size(), ids.size());
        std::size_t found = 0;
        for (std::size_t i = 0; i < ids.size(); ++i) {
            QCOMPARE(slots[i], scene.find(ids[i]));
            if (slots[i] == model::kNoSlot) continue;
            QCOMPARE(scene.id(slots[i]), ids[i]);
            ++found;
        }
        QCOMPARE(found, kCount - gone.size() + 1);
        QVERIFY(scene.find(std::span<const ObjectId>{}).empty());
    }
    void nothingIsFoundInAnEmptyScene() {
        test::TestProject p;
        const std::vector<ObjectId> ids = {ObjectId{1}, ObjectId{2}, {}};
        for (const model::Slot slot : model::Scene(p.scene()).find(ids)) QCOMPARE(slot, model::kNoSlot);
    }
};

MELLOW_TEST(FindTest)
}  // namespace find_test
#include "find_test.moc"
