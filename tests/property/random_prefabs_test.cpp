// Random nests of prefabs, differences, edits of definitions, taking apart and undo, against the plain expansion.
#include <rapidcheck.h>

#include <QtTest>

#include "ops/group.h"
#include "ops/prefab.h"
#include "support/naive_prefabs.h"
#include "support/test_main.h"

namespace random_prefabs_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using model::kNoSlot;
using model::Slot;

template <class T>
Status statusOf(const tl::expected<T, base::Error>& result) {
    return result ? Status{} : tl::unexpected(result.error());
}

class Verbs {
  public:
    explicit Verbs(test::TestProject& project) : p_(project) {}

    std::string document() {
        std::vector<std::string> all = {"first", "first"};
        for (const auto& [id, scene] : p_.session().definitions()) all.push_back(scene->name());
        std::sort(all.begin(), all.end());
        return *rc::gen::elementOf(all);
    }

    Status any(edit::Draft& draft) {
        const model::Scene& scene = draft.scene();
        const ObjectId one = object(scene, true);
        edit::Session& session = p_.session();
        const int which = *rc::gen::inRange(0, 20);
        RC_LOG() << "verb " << which << " in " << scene.name() << ", definition edited at "
                 << base::toText(session.definitionEditedAt()) << "\n";
        switch (which) {
            case 0:
            case 1: {
                ops::MakePrefab how{ops::freePrefabName(session, "Stall ##"), "Market", point(), flip()};
                return statusOf(ops::makePrefab(draft, some(scene), how));
            }
            case 2:
            case 3:
            case 4: return place(draft);
            case 5: return draft.remove(some(scene));
            case 6: {
                const ObjectId parent = flip() ? ObjectId{} : one;
                return ops::reparent(draft, some(scene), parent, {});
            }
            case 7: return statusOf(ops::duplicate(draft, some(scene)));
            case 8: return statusOf(ops::takeApart(draft, {&one, 1}, flip()));
            case 9: {
                const ObjectId group = object(scene, false);
                return ops::makeAgain(draft, {&group, 1});
            }
            case 10: return statusOf(ops::swapPrefab(draft, {&one, 1}, prefab()));
            case 11: return difference(draft, one, flip());
            case 12: return statusOf(ops::makeEdition(draft, prefab(), ops::freePrefabName(session, "Edition")));
            case 13: {
                using Instances = ops::DeletePrefab::Instances;
                return ops::deletePrefab(
                    draft, prefab(),
                    {*rc::gen::element(Instances::TakeApart, Instances::Swap, Instances::Keep), prefab()});
            }
            case 14: return ops::rename(draft, object(scene, false), *rc::gen::element<std::string>("Awning", "Frame"));
            case 15: return ops::setTint(draft, some(scene), Vec3(0.5, 0.25, *rc::gen::inRange(0, 4) * 0.25));
            case 16: return ops::renamePrefab(draft, prefab(), ops::freePrefabName(session, "Renamed ##"), "");
            case 17: {
                ops::MakePrefab how{"", "", point(), flip()};
                return statusOf(ops::updatePrefab(draft, prefab(), some(scene), how));
            }
            default: return move(draft);
        }
    }

  private:
    static bool flip() { return *rc::gen::arbitrary<bool>(); }
    static Vec3 point() { return {*rc::gen::inRange(-8, 9) * 0.5, *rc::gen::inRange(0, 3), *rc::gen::inRange(-8, 9)}; }
    ObjectId prefab() {
        std::vector<ObjectId> all;
        for (const auto& [id, scene] : p_.session().definitions()) all.push_back(id);
        std::sort(all.begin(), all.end());
        return all.empty() ? ObjectId{42} : *rc::gen::elementOf(all);
    }
    static ObjectId object(const model::Scene& scene, bool instance) {
        std::vector<ObjectId> all;
        for (Slot s : scene.subtree(kNoSlot))
            if (!instance || scene.isInstance(s)) all.push_back(scene.id(s));
        return all.empty() ? ObjectId{43} : *rc::gen::elementOf(all);
    }
    static std::vector<ObjectId> some(const model::Scene& scene) {
        std::vector<ObjectId> ids;
        for (int i = *rc::gen::inRange(1, 4); i > 0; --i) ids.push_back(object(scene, false));
        return ids;
    }
    Status place(edit::Draft& draft) {
        ops::Placement placement;
        placement.item = p_.name(model::definitionKey(prefab()));
        placement.position = point();
        if (flip()) placement.parent = object(draft.scene(), false);
        if (placement.parent && draft.scene().find(placement.parent) == kNoSlot) placement.parent = {};
        return statusOf(ops::place(draft, placement));
    }
    static Status move(edit::Draft& draft) {
        std::vector<ObjectId> ids;
        std::vector<base::Transform> poses;
        for (ObjectId id : some(draft.scene())) {
            if (draft.scene().find(id) == kNoSlot || std::find(ids.begin(), ids.end(), id) != ids.end()) continue;
            ids.push_back(id);
            poses.push_back(draft.scene().local(draft.scene().find(id)));
            poses.back().position += point();
            if (flip()) poses.back().scale *= 2;
        }
        return draft.setTransforms(ids, poses);
    }
    Status difference(edit::Draft& draft, ObjectId instance, bool give) {
        const Slot s = draft.scene().find(instance);
        if (s == kNoSlot) return {};
        const auto all = ops::differences(p_.session(), *draft.scene().detail(s)->prefab);
        if (all.empty()) return {};
        const std::vector<ops::DifferenceEntry> one = {all[std::size_t(*rc::gen::inRange(0, int(all.size())))]};
        return give ? ops::giveToDefinition(draft, instance, one) : ops::takeBack(draft, instance, one);
    }

    test::TestProject& p_;
};

using Bytes = std::map<std::string, std::string>;

/// The first line in which two sets of documents differ; empty when they are the same.
std::string firstOther(const Bytes& is, const Bytes& wanted) {
    for (const auto& [name, text] : is)
        if (!wanted.contains(name)) return name + " is there";
    for (const auto& [name, text] : wanted) {
        if (!is.contains(name)) return name + " is missing";
        const QStringList a = QString::fromStdString(is.at(name)).split('\n');
        const QStringList b = QString::fromStdString(text).split('\n');
        for (int i = 0; i < std::max(a.size(), b.size()); ++i)
            if (a.value(i) != b.value(i)) return (a.value(i) + "\ninstead of\n" + b.value(i)).toStdString();
    }
    return {};
}

void compareWithNaive(edit::Session& session) {
    std::vector<std::string> documents = {"first"};
    for (const auto& [id, scene] : session.definitions()) documents.push_back(scene->name());
    for (const std::string& document : documents) {
        const std::string differs = test::differsFromNaive(session, document);
        if (differs != "")
            for (const auto& [name, text] : test::documentBytes(session)) RC_LOG() << name << " " << text;
        RC_ASSERT(differs == "");
    }
}

void saveAll(test::TestProject& p) {
    for (const std::string& name : p.session().unsavedScenes())
        RC_ASSERT(io::saveScene(p.workspace(), name).has_value());
}

class RandomPrefabsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void nestsAreWhatThePlainExpansionSays() {
        QVERIFY(rc::check("prefabs", [] {
            test::TestProject p;
            const ObjectId group = p.add("Market");
            for (int i = 0; i < 4; ++i) {
                base::Transform pose;
                pose.position = {i * 2.0, 0, 0};
                p.add("Crate", i % 2 == 0 ? ObjectId{} : group, pose);
            }
            std::vector<std::map<std::string, std::string>> bytes = {test::documentBytes(p.session())};
            std::vector<std::string> rows = {test::rowsText(p.session(), "first")};
            const int saveAt = *rc::gen::inRange(0, 24);
            for (int i = 0; i < 24; ++i) {
                Verbs verbs(p);
                edit::Draft draft(p.session(), verbs.document(), "Random");
                // Now and then what is inside an instance is written to its definition.
                std::vector<ObjectId> instances;
                for (Slot s : draft.scene().subtree(kNoSlot))
                    if (draft.scene().isInstance(s)) instances.push_back(draft.scene().id(s));
                const bool inPlace = !instances.empty() && *rc::gen::inRange(0, 3) == 0;
                p.session().editDefinitionOf(inPlace ? *rc::gen::elementOf(instances) : ObjectId{});
                const Status done = verbs.any(draft);
                if (!done) {
                    RC_ASSERT(!done.error().message.empty());
                    draft.rollback();
                    RC_ASSERT(firstOther(test::documentBytes(p.session()), bytes.back()) == "");
                    compareWithNaive(p.session());
                    continue;
                }
                const auto before = p.session().history().present();
                RC_ASSERT(draft.commit().has_value());
                compareWithNaive(p.session());
                if (p.session().history().present() == before) continue;
                bytes.push_back(test::documentBytes(p.session()));
                rows.push_back(test::rowsText(p.session(), "first"));
                if (i == saveAt) saveAll(p);
            }
            p.session().editDefinitionOf({});
            for (std::size_t i = bytes.size(); i-- > 0;) {
                RC_ASSERT(firstOther(test::documentBytes(p.session()), bytes[i]) == "");
                compareWithNaive(p.session());
                if (i > 0) RC_ASSERT(p.session().undo().has_value());
            }
            p.close();
            const Status again = p.reopen();
            RC_ASSERT((again ? "" : again.error().message) == "");
            for (std::size_t i = 0; i < bytes.size(); ++i) {
                RC_ASSERT(firstOther(test::documentBytes(p.session()), bytes[i]) == "");
                compareWithNaive(p.session());
                if (i + 1 < bytes.size()) RC_ASSERT(p.session().redo().has_value());
            }
            saveAll(p);
            p.close();
            std::filesystem::remove_all(p.folder() / ".mellow");
            RC_ASSERT(p.reopen().has_value());
            RC_ASSERT(p.workspace().damage.empty());
            RC_ASSERT(firstOther(test::documentBytes(p.session()), bytes.back()) == "");
            RC_ASSERT(test::rowsText(p.session(), "first") == rows.back());
        }));
    }
};

MELLOW_TEST(RandomPrefabsTest)
}  // namespace random_prefabs_test
#include "random_prefabs_test.moc"
