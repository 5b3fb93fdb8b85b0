#include <rapidcheck.h>

#include <QtTest>
#include <map>

#include "io/scene_file.h"
#include "ops/objects.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace random_edits_test {

using base::ObjectId;
using base::Status;

/// The scene as anyone would write it first: a map from id to values, and a list of children.
struct Naive {
    struct Object {
        ObjectId parent;
        std::string name;
        base::Transform local;
        std::uint8_t flags = 0;
    };
    std::map<ObjectId, Object> objects;
    std::map<ObjectId, std::vector<ObjectId>> children;

    void remove(ObjectId id) {
        for (ObjectId child : std::vector<ObjectId>(children[id])) remove(child);
        auto& siblings = children[objects[id].parent];
        siblings.erase(std::find(siblings.begin(), siblings.end(), id));
        children.erase(id);
        objects.erase(id);
    }
    bool within(ObjectId id, ObjectId top) const {
        for (; id; id = objects.at(id).parent)
            if (id == top) return true;
        return false;
    }
    base::Affine world(ObjectId id) const {
        const base::Affine own = base::toAffine(objects.at(id).local);
        return objects.at(id).parent ? world(objects.at(id).parent) * own : own;
    }
};

void compare(const Naive& naive, const model::Scene& scene) {
    RC_ASSERT(scene.objectCount() == naive.objects.size());
    for (const auto& [id, object] : naive.objects) {
        const model::Slot s = scene.find(id);
        RC_ASSERT(s != model::kNoSlot);
        RC_ASSERT(scene.nameText(s) == object.name);
        RC_ASSERT(scene.local(s) == object.local);
        RC_ASSERT(scene.flagsOf(s) == object.flags);
        RC_ASSERT(scene.world(s) == naive.world(id));
    }
    for (const auto& [parent, list] : naive.children) {
        std::vector<ObjectId> found;
        for (model::Slot s = scene.firstChild(scene.find(parent)); s != model::kNoSlot; s = scene.nextSibling(s))
            found.push_back(scene.id(s));
        RC_ASSERT(found == list);
    }
}

/// One random step, done to both.
void step(test::TestProject& p, Naive& naive) {
    std::vector<ObjectId> ids;
    for (const auto& [id, object] : naive.objects) ids.push_back(id);
    const int what = ids.empty() ? 0 : *rc::gen::inRange(0, 6);
    auto any = [&] { return ids[*rc::gen::inRange<std::size_t>(0, ids.size())]; };
    edit::Draft draft(p.session(), "first", "Random");
    RC_ASSERT(draft.state().has_value());
    if (what == 0) {
        model::ObjectRecord r;
        r.id = p.session().random().nextId();
        if (!ids.empty() && *rc::gen::arbitrary<bool>()) r.parent = any();
        auto& siblings = naive.children[r.parent];
        const std::size_t at = *rc::gen::inRange<std::size_t>(0, siblings.size() + 1);
        if (at < siblings.size()) r.before = siblings[at];
        r.name = p.name("Object " + std::to_string(ids.size()));
        RC_ASSERT(draft.create({&r, 1}).has_value());
        siblings.insert(siblings.begin() + static_cast<std::ptrdiff_t>(at), r.id);
        naive.objects[r.id] = {r.parent, "Object " + std::to_string(ids.size()), {}, 0};
    } else if (what == 1) {
        const ObjectId id = any();
        RC_ASSERT(draft.remove({&id, 1}).has_value());
        naive.remove(id);
    } else if (what == 2) {
        const std::vector<ObjectId> some = {any(), any()};
        const std::vector<ObjectId> unique(some.begin(), some.end() - (some[0] == some[1] ? 1 : 0));
        std::vector<base::Transform> poses;
        for (ObjectId id : unique) {
            base::Transform t{{*rc::gen::inRange(-9, 9) * 0.1, 0.3, 1},
                              base::fromDegrees({0, double(*rc::gen::inRange(0, 360)), 0}),
                              {1, 2, 1}};
            poses.push_back(t);
            naive.objects[id].local = t;
        }
        RC_ASSERT(draft.setTransforms(unique, poses).has_value());
    } else if (what == 3) {
        const ObjectId id = any();
        const std::string text = "Name " + std::to_string(*rc::gen::inRange(0, 50));
        const base::Name name = p.name(text);
        RC_ASSERT(draft.setLabels(model::LabelField::Name, {&id, 1}, {&name, 1}).has_value());
        naive.objects[id].name = text;
    } else if (what == 4) {
        const ObjectId id = any();
        const auto flags = static_cast<std::uint8_t>(*rc::gen::inRange(0, 4));
        RC_ASSERT(draft.setFlags({&id, 1}, {&flags, 1}).has_value());
        naive.objects[id].flags = flags;
    } else {
        const ObjectId id = any(), parent = *rc::gen::arbitrary<bool>() ? any() : ObjectId{};
        const model::TreePlace place{parent, {}};
        const bool possible = !parent || !naive.within(parent, id);
        RC_ASSERT(draft.moveInTree({&id, 1}, {&place, 1}).has_value() == possible);
        if (possible) {
            auto& from = naive.children[naive.objects[id].parent];
            from.erase(std::find(from.begin(), from.end(), id));
            naive.children[parent].push_back(id);
            naive.objects[id].parent = parent;
        }
    }
    if (*rc::gen::inRange(0, 8) == 0) {  // given up: nothing has happened
        draft.rollback();
        return;
    }
    RC_ASSERT(draft.commit().has_value());
}

class RandomEditsTest : public QObject {
    Q_OBJECT
    static bool holds(const char* what, const std::function<void()>& property) { return rc::check(what, property); }
  private Q_SLOTS:
    void randomEditsAgreeWithANaiveModelAndUndoToTheSameBytes() {
        QVERIFY(holds("edits, undone and redone", [] {
            test::TestProject p;
            Naive naive;
            std::vector<std::string> bytes = {p.bytes()};
            std::vector<edit::StepId> steps = {edit::kRoot};
            const int count = *rc::gen::inRange(1, 25);
            for (int i = 0; i < count; ++i) {
                const Naive before = naive;
                const auto present = p.session().history().present();
                step(p, naive);
                if (p.session().history().present() == present) {
                    naive = before;
                    RC_ASSERT(p.bytes() == bytes.back());
                } else {
                    bytes.push_back(p.bytes());
                    steps.push_back(p.session().history().present());
                }
                compare(naive, p.scene());
            }
            for (std::size_t i = bytes.size(); i-- > 0;) {
                RC_ASSERT(p.bytes() == bytes[i]);
                if (i > 0) RC_ASSERT(p.session().undo().has_value());
            }
            RC_ASSERT(p.reopen().has_value());
            for (std::size_t i = 0; i < bytes.size(); ++i) {
                RC_ASSERT(p.bytes() == bytes[i]);
                if (i + 1 < bytes.size()) RC_ASSERT(p.session().redo().has_value());
            }
            compare(naive, p.scene());
        }));
    }
    void anySceneBecomesAnyOtherInOneStep() {
        QVERIFY(holds("read theirs, undo, redo", [] {
            test::TestProject p;
            Naive naive;
            std::vector<std::string> all = {p.bytes()};
            for (int i = *rc::gen::inRange(2, 30); i > 0; --i) {
                const Naive before = naive;
                const auto present = p.session().history().present();
                step(p, naive);
                if (p.session().history().present() == present) naive = before;
                all.push_back(p.bytes());
            }
            const std::string mine = p.bytes(), theirs = all[*rc::gen::inRange<std::size_t>(0, all.size())];
            const auto file =
                io::parseScene("first", theirs, "first", p.session().project().names, p.session().library());
            RC_ASSERT(file.has_value());
            const std::size_t steps = p.session().history().steps().size();
            RC_ASSERT(p.session().takeFiles({{"first", {file->scene, 1, 1, {}}}}, "Theirs").has_value());
            RC_ASSERT(p.bytes() == theirs);
            RC_ASSERT(!p.session().isUnsaved("first"));
            if (p.session().history().steps().size() == steps) return;  // they were the same
            RC_ASSERT(p.session().undo().has_value());
            RC_ASSERT(p.bytes() == mine);
            RC_ASSERT(p.session().redo().has_value());
            RC_ASSERT(p.bytes() == theirs);
        }));
    }
    void savingLoadingAndSavingAgainGivesTheSameBytes() {
        QVERIFY(holds("save, load, save", [] {
            test::TestProject p;
            Naive naive;
            for (int i = *rc::gen::inRange(1, 20); i > 0; --i) {
                const Naive before = naive;
                const auto present = p.session().history().present();
                step(p, naive);
                if (p.session().history().present() == present) naive = before;
            }
            const std::string bytes = p.bytes();
            const auto back =
                io::parseScene("first", bytes, "first", std::make_shared<base::NameTable>(), p.session().library());
            RC_ASSERT(back.has_value());
            RC_ASSERT(back->damage.empty());
            RC_ASSERT(io::formatScene(back->scene) == bytes);
        }));
    }
};

MELLOW_TEST(RandomEditsTest)
}  // namespace random_edits_test
#include "random_edits_test.moc"
