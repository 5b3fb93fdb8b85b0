// What prefabs come down to: ids inside instances, differences of one object, what lies inside an instance.
#include "model/prefab.h"
#include "support/test_main.h"

#include <QtTest>

#include "model/facets/light.h"
#include "model/facets/tint.h"
#include "support/test_project.h"

namespace prefab_model_test {

using base::ObjectId;
using base::Vec3;
using model::Difference;
using model::ObjectRecord;
namespace part = model::part;

class ModelPrefabTest : public QObject {
    Q_OBJECT
    base::NameTable names_;

    static ObjectId id(std::uint64_t n) { return ObjectId{n}; }
    ObjectRecord record(std::uint64_t n, std::uint64_t parent = 0) {
        ObjectRecord r;
        r.id = id(n);
        r.parent = id(parent);
        r.name = names_.intern("Object " + std::to_string(n));
        return r;
    }
    static model::DetailPtr properties(model::ValueMap map) {
        model::Detail detail;
        detail.properties = std::move(map);
        return std::make_shared<const model::Detail>(std::move(detail));
    }
    /// Ids of what a link holds, in order.
    static std::vector<std::uint64_t> idsOf(const model::PrefabLink& link, const model::Definitions& definitions) {
        std::vector<std::uint64_t> all;
        for (const ObjectRecord& r : model::contents(link, definitions)) all.push_back(r.id.value);
        return all;
    }
    /// A definition of 1 (2, 3) and 4, as an open project keeps it.
    struct Market {
        test::TestProject project;
        ObjectId prefab = project.session().newDefinition();
        explicit Market(ModelPrefabTest& test) {
            edit::Draft draft(project.session(), model::definitionKey(prefab), "Market");
            model::SceneSettings settings;
            settings.prefab = model::PrefabHead{"Market", ""};
            const std::vector<ObjectRecord> objects = {test.record(1), test.record(2, 1), test.record(3, 1),
                                                       test.record(4)};
            if (!draft.setSettings(settings) || !draft.create(objects) || !draft.commit()) qFatal("no definition");
        }
        const model::Definitions& all() { return project.session().definitions(); }
        model::PrefabLink link() const {
            model::PrefabLink l;
            l.of = prefab;
            return l;
        }
    };

  private Q_SLOTS:
    void idsInsideDoNotDependOnHowPrefabsNest() {
        base::Random random(11);
        for (int i = 0; i < 1000; ++i) {
            const ObjectId a = random.nextId(), b = random.nextId(), c = random.nextId();
            QVERIFY(base::joined(a, base::joined(b, c)) == base::joined(base::joined(a, b), c));
            QVERIFY(base::innerOf(a, base::joined(a, b)) == b);
            QVERIFY(base::joined(a, b) != a && base::joined(a, b) != b);
        }
    }
    void smallIdsDoNotFallTogether() {
        std::set<std::uint64_t> seen;
        for (std::uint64_t a = 1; a <= 60; ++a)
            for (std::uint64_t b = 1000; b < 1060; ++b) seen.insert(base::joined(id(a), id(b)).value);
        QCOMPARE(seen.size(), std::size_t{3600});
    }
    void onlyWhatDiffersIsNamedAndApplyingItGivesTheOther() {
        ObjectRecord before = record(7), now = before;
        now.local.position = {1, 2, 3};
        now.flags = model::flags::kHidden;
        model::Detail lit;
        lit.edit<model::Light>().intensity = 9;
        now.detail = std::make_shared<const model::Detail>(lit);
        const Difference d = model::differenceOf(before, now);
        QVERIFY(d.parts == model::PartSet(part::kPosition | part::kFlags).with(model::Light::type()));
        model::apply(d, before);
        QVERIFY(before.local == now.local && before.flags == now.flags && model::sameDetail(before.detail, now.detail));
    }
    void aFacetTakenAwayIsADifferenceToo() {
        ObjectRecord before = record(7), now = before;
        model::Detail tinted;
        tinted.put(model::Tint{Vec3(0.5)});
        before.detail = std::make_shared<const model::Detail>(tinted);
        const Difference d = model::differenceOf(before, now);
        QVERIFY(d.parts == model::PartSet(model::Tint::type()));
        model::apply(d, before);
        QVERIFY(!before.detail);
    }
    void propertiesDifferOneByOne() {
        ObjectRecord before = record(7), now = before;
        before.detail = properties({{"oil", {std::int64_t{3}}}, {"lit", {true}}});
        now.detail = properties({{"oil", {std::int64_t{5}}}, {"crew", {std::string("heron")}}});
        const Difference d = model::differenceOf(before, now);
        QCOMPARE(d.goneProperties, std::vector<std::string>{"lit"});
        QCOMPARE(d.value.detail->properties.size(), std::size_t{2});
        // What the definition gains meanwhile is there as well.
        before.detail = properties({{"oil", {std::int64_t{4}}}, {"lit", {true}}, {"name", {std::string("post")}}});
        model::apply(d, before);
        const model::ValueMap wanted = {
            {"oil", {std::int64_t{5}}}, {"name", {std::string("post")}}, {"crew", {std::string("heron")}}};
        QVERIFY(before.detail->properties == wanted);
    }
    void aLinkKeepsWhatItSaysOfOtherParts() {
        model::PrefabLink link;
        Difference moved, named;
        moved.value.id = named.value.id = id(7);
        moved.parts = part::kPosition;
        moved.value.local.position = {1, 0, 0};
        named.parts = part::kName;
        named.value.name = names_.intern("Other");
        model::put(link, moved, part::kPose);
        model::put(link, named, part::kName);
        QCOMPARE(link.changed.size(), std::size_t{1});
        QVERIFY(link.changed[0].parts == model::PartSet(part::kPosition | part::kName));
        Difference nothing;
        nothing.value.id = id(7);
        model::put(link, nothing, part::kPose);
        QVERIFY(link.changed[0].parts == model::PartSet(part::kName));
        QVERIFY(link.changed[0].value.local.position == Vec3(0.0));  // what is not named is as if never set
        model::put(link, nothing, part::kName);
        QVERIFY(link.plain());
    }
    void removedObjectsGoWithAllBelowUnlessTheyWereMovedOut() {
        Market m(*this);
        model::PrefabLink link = m.link();
        QCOMPARE(idsOf(link, m.all()), (std::vector<std::uint64_t>{1, 2, 3, 4}));
        link.removed = {id(1)};
        QCOMPARE(idsOf(link, m.all()), std::vector<std::uint64_t>{4});
        Difference out;
        out.value.id = id(3);
        out.parts = part::kPlace;
        out.value.before = id(4);
        model::put(link, out, part::kPlace);
        QCOMPARE(idsOf(link, m.all()), (std::vector<std::uint64_t>{3, 4}));
    }
    void addedObjectsStandWhereTheySay() {
        Market m(*this);
        model::PrefabLink link = m.link();
        link.added = {record(9, 1)};
        QCOMPARE(idsOf(link, m.all()), (std::vector<std::uint64_t>{1, 2, 3, 9, 4}));
        link.added[0].before = id(2);
        QCOMPARE(idsOf(link, m.all()), (std::vector<std::uint64_t>{1, 9, 2, 3, 4}));
        link.added[0].parent = id(77);  // gone
        QCOMPARE(idsOf(link, m.all()), (std::vector<std::uint64_t>{1, 2, 3, 4}));
        QCOMPARE(model::withoutTarget(link, m.all()), std::vector<ObjectId>{id(9)});
    }
    void whatLeadsRoundInACircleIsLeftOut() {
        Market m(*this);
        model::PrefabLink link = m.link();
        Difference under;
        under.value.id = id(1);
        under.parts = part::kPlace;
        under.value.parent = id(2);
        model::put(link, under, part::kPlace);
        QCOMPARE(idsOf(link, m.all()), std::vector<std::uint64_t>{4});
    }
    void aMissingPrefabIsEmptyAndKeepsItsDifferences() {
        model::PrefabLink link;
        link.of = id(5);
        Difference d;
        d.value.id = id(1);
        d.parts = part::kSize;
        model::put(link, d, model::PartSet::all());
        QVERIFY(model::contents(link, {}).empty());
        QCOMPARE(model::withoutTarget(link, {}), std::vector<ObjectId>{id(1)});
    }
    void keysOfDefinitionsAreReadBackAndScenesAreNone() {
        QCOMPARE(model::prefabOf(model::definitionKey(id(0xabc))), id(0xabc));
        QVERIFY(!model::prefabOf("lower-basin") && !model::prefabOf("") && !model::prefabOf("#bench"));
    }
};

MELLOW_TEST(ModelPrefabTest)
}  // namespace prefab_model_test
#include "prefab_model_test.moc"
