// Many changes told as one: who hears only that knows as much as who heard each.
#include "edit/held_delta.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>
#include <map>
#include <set>

#include "ops/objects.h"
#include "support/test_project.h"

namespace held_delta_test {

using base::ObjectId;
using model::kNoSlot;
using model::Slot;

/// What somebody keeps of a scene who looks only at what deltas name.
struct Mirror {
    struct Row {
        std::string name;
        base::Vec3 at;
        std::uint8_t flags;
        bool operator==(const Row&) const = default;
    };
    std::map<Slot, Row> rows;

    void follow(const model::Scene& scene, const edit::SceneDelta& delta) {
        for (Slot s : delta.removed) rows.erase(s);
        for (const auto* named : {&delta.created, &delta.moved, &delta.relabelled, &delta.detailed})
            for (Slot s : *named) {
                if (!scene.alive(s)) qFatal("told of what is not there");
                rows[s] = {std::string(scene.nameText(s)), scene.world(s).translation, scene.flagsOf(s)};
            }
    }
    static Mirror of(const model::Scene& scene) {
        Mirror m;
        for (Slot s = 0; s < scene.slotEnd(); ++s)
            if (scene.alive(s))
                m.rows[s] = {std::string(scene.nameText(s)), scene.world(s).translation, scene.flagsOf(s)};
        return m;
    }
};

model::ObjectRecord named(test::TestProject& p, ObjectId id, const char* name) {
    model::ObjectRecord r;
    r.id = id;
    r.name = p.session().intern(name);
    return r;
}

class HeldDeltaTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whatCameAndWentMeanwhileIsNotTold() {
        test::TestProject p;
        const ObjectId stays = p.add("Stays");
        edit::HeldDelta held;
        p.session().sceneChanged.listen([&](const edit::SceneDelta& d) { held.add(d); });
        edit::Draft draft(p.session(), "first", "Many");
        const model::ObjectRecord r = named(p, ObjectId{77}, "Short");
        QVERIFY(draft.create({&r, 1}));
        QVERIFY(draft.remove({&r.id, 1}));
        const base::Name other = p.session().intern("Stays here");
        QVERIFY(draft.setLabels(model::LabelField::Name, {&stays, 1}, {&other, 1}));
        const edit::SceneDelta told = held.take(p.scene());
        QVERIFY(told.created.empty() && told.removed.empty());
        QCOMPARE(told.relabelled, std::vector<Slot>{p.scene().find(stays)});
        QVERIFY(held.take(p.scene()).empty());
    }
    void whatIsReplacedInItsSlotIsGoneAndThere() {
        test::TestProject p;
        const ObjectId was = p.add("Was");
        const Slot slot = p.scene().find(was);
        edit::HeldDelta held;
        p.session().sceneChanged.listen([&](const edit::SceneDelta& d) { held.add(d); });
        edit::Draft draft(p.session(), "first", "Swap");
        QVERIFY(draft.remove({&was, 1}));
        const model::ObjectRecord r = named(p, ObjectId{78}, "Is");
        QVERIFY(draft.create({&r, 1}));
        QCOMPARE(p.scene().find(r.id), slot);
        const edit::SceneDelta told = held.take(p.scene());
        QCOMPARE(told.removed, std::vector<Slot>{slot});
        QCOMPARE(told.created, std::vector<Slot>{slot});
    }
    void whoHearsAllAtOnceKnowsAsMuch() {
        QVERIFY(rc::check("after any changes and their taking back", [] {
            test::TestProject p;
            std::vector<ObjectId> ids;
            for (int i = 0; i < 5; ++i) ids.push_back(p.add("Post " + std::to_string(i)));
            Mirror mirror = Mirror::of(p.scene());
            edit::HeldDelta held;
            p.session().sceneChanged.listen([&](const edit::SceneDelta& d) { held.add(d); });
            auto alive = [&] {
                std::vector<ObjectId> all;
                for (Slot s : p.scene().subtree(kNoSlot)) all.push_back(p.scene().id(s));
                return all;
            };
            const int rounds = *rc::gen::inRange(1, 5);
            for (int round = 0; round < rounds; ++round) {
                edit::Draft draft(p.session(), "first", "Some");
                const int steps = *rc::gen::inRange(1, 8);
                for (int k = 0; k < steps; ++k) {
                    const auto all = alive();
                    const int what = *rc::gen::inRange(0, 5);
                    if (what == 0 || all.empty()) {
                        model::ObjectRecord r;
                        r.id = p.session().random().nextId();
                        r.name = p.session().intern(draft.freeNames().next("Post"));
                        if (!all.empty() && *rc::gen::arbitrary<bool>()) r.parent = *rc::gen::elementOf(all);
                        RC_ASSERT(draft.create({&r, 1}).has_value());
                        continue;
                    }
                    const ObjectId id = *rc::gen::elementOf(all);
                    const base::Transform pose{{double(*rc::gen::inRange(-9, 9)), 0, 0}};
                    const std::uint8_t flags = *rc::gen::arbitrary<bool>() ? model::flags::kHidden : 0;
                    const base::Name name = p.session().intern("Name " + std::to_string(*rc::gen::inRange(0, 9)));
                    if (what == 1) (void)draft.remove({&id, 1});
                    if (what == 2) (void)draft.setTransforms({&id, 1}, {&pose, 1});
                    if (what == 3) (void)draft.setFlags({&id, 1}, {&flags, 1});
                    if (what == 4) (void)draft.setLabels(model::LabelField::Name, {&id, 1}, {&name, 1});
                }
                if (*rc::gen::arbitrary<bool>()) RC_ASSERT(draft.commit().has_value());
            }
            mirror.follow(p.scene(), held.take(p.scene()));
            RC_ASSERT(mirror.rows == Mirror::of(p.scene()).rows);
        }));
    }
};

MELLOW_TEST(HeldDeltaTest)
}  // namespace held_delta_test
#include "held_delta_test.moc"
