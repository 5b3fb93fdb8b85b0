// Outfits, guises and berths: each a step, refused where it cannot be, and nothing else follows than what should.
#include <QtTest>

#include "io/workspace.h"
#include "model/facets/outfit.h"
#include "model/facets/surfaces.h"
#include "model/scene_fields.h"
#include "ops/berths.h"
#include "ops/facet_members.h"
#include "ops/guises.h"
#include "ops/items.h"
#include "ops/kinds.h"
#include "ops/outfits.h"
#include "ops/prefab.h"
#include "ops/properties.h"
#include "ops/scenes.h"
#include "ops/surfaces.h"
#include "ops/table.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace outfits_test {

using base::ObjectId;
using base::Vec3;
using model::Outfit;
using model::ValueList;
using model::ValueMap;

/// Boats of a kind that says how laden they are and by whom, some of them in another scene.
struct Harbour : test::Blocks {
    Harbour() {
        const auto made = test::asStep(*this, [](edit::Draft& d) -> base::Status {
            if (auto kind = ops::newKind(d, "Boat", ""); !kind) return kind;
            ValueMap own = d.session().library().kindNamed("Boat")->own;
            ValueMap load = {{"name", {"load"}}, {"type", {"integer"}}, {"label", {"Load"}}},
                     crew = {{"name", {"crew"}}, {"type", {"text"}}, {"label", {"Crew"}}};
            model::setValue(own, "properties", {ValueList{{load}, {crew}}});
            if (auto set = ops::setKind(d, "Boat", own); !set) return tl::unexpected(set.error());
            model::Surface tar;
            tar.name = "tar", tar.label = "Tar";
            if (auto put = ops::putSurface(d, tar); !put) return put;
            return ops::duplicateScene(d, "first", "second");
        });
        if (!made) qFatal("%s", made.error().message.c_str());
    }
    ObjectId boat(const Vec3& at, const std::string& item = "cube") {
        const ObjectId id = put(item, at);
        const base::Name kind = session().intern("Boat");
        if (!test::asStep(*this, [&](edit::Draft& d) {
                return d.setLabels(model::LabelField::Kind, {&id, 1}, {&kind, 1});
            }))
            qFatal("no boat");
        return id;
    }
    std::int64_t load(ObjectId id) {
        const auto& detail = scene().detail(slot(id));
        const model::Value* v = detail ? model::valueOf(detail->properties, "load") : nullptr;
        return v != nullptr ? std::get<std::int64_t>(v->data) : 0;
    }
    void giveBerth(const std::string& item) {
        const auto given = test::asStep(*this, [&](edit::Draft& d) {
            model::ItemFacts facts = *d.session().library().item(d.session().intern(item));
            facts.berths = {{"fore", {3, 0.25, -4}, 90}};
            return ops::setItem(d, d.session().intern(item), facts);
        });
        if (!given) qFatal("%s", given.error().message.c_str());
    }
    base::Status set(ObjectId id, std::int64_t load) {
        return test::asStep(*this, [&](edit::Draft& d) { return ops::setProperty(d, {&id, 1}, "load", {load}); });
    }
    base::Status wear(std::vector<ObjectId> ids, const std::string& outfit) {
        return test::asStep(*this, [&](edit::Draft& d) { return ops::wear(d, ids, outfit); });
    }
    base::Result<std::size_t> put(const Outfit& outfit) {
        return test::asStep(*this, [&](edit::Draft& d) { return ops::putOutfit(d, "Boat", outfit); });
    }
    using test::Blocks::put;
};

Outfit laden(std::int64_t load) {
    Outfit outfit;
    outfit.name = "laden";
    outfit.values = {{"load", {load}}};
    return outfit;
}

class OutfitsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whoWearsAnOutfitFollowsItButForItsOwn() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        const ObjectId a = p.boat({0, 0, 0}), b = p.boat({4, 0, 0}), bare = p.boat({8, 0, 0});
        QVERIFY(p.wear({a, b}, "laden"));
        QCOMPARE(p.load(a), std::int64_t{5});
        QVERIFY(p.set(b, 9));
        QCOMPARE(ops::outfitDifferences(p.session(), p.scene(), p.slot(b)), std::vector<std::string>{"Load"});
        const auto followed = p.put(laden(7));
        QVERIFY(followed.has_value());
        QCOMPARE(*followed, std::size_t{1});
        QCOMPARE(p.load(a), std::int64_t{7});
        QCOMPARE(p.load(b), std::int64_t{9});  // its own
        QCOMPARE(p.load(bare), std::int64_t{0});
        QVERIFY(p.wear({b}, "laden"));  // once more: as it says
        QCOMPARE(p.load(b), std::int64_t{7});
        QVERIFY(ops::outfitDifferences(p.session(), p.scene(), p.slot(b)).empty());
    }
    void anotherOutfitTakesAwayWhatTheFirstGave() {
        Harbour p;
        Outfit tarred = laden(3);
        tarred.name = "tarred";
        tarred.values = {{"crew", {"Odo"}}};
        tarred.tint = Vec3(0.2, 0.2, 0.2);
        QVERIFY(p.put(laden(5)) && p.put(tarred));
        const ObjectId a = p.boat({0, 0, 0});
        const std::string before = p.bytes();
        QVERIFY(p.wear({a}, "laden") && p.wear({a}, "tarred"));
        QCOMPARE(p.load(a), std::int64_t{0});
        QCOMPARE(model::textOf(p.scene().detail(p.slot(a))->properties, "crew"), std::string("Odo"));
        QVERIFY(p.wear({a}, "laden"));
        QVERIFY(model::textOf(p.scene().detail(p.slot(a))->properties, "crew").empty());
        QVERIFY(p.scene().facet<model::Wears>(p.slot(a))->outfit == "laden");
        QVERIFY(p.session().undo() && p.session().undo() && p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void anOutfitThatGoesLeavesWhatWoreItAsItIs() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        const ObjectId a = p.boat({0, 0, 0});
        QVERIFY(p.wear({a}, "laden"));
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::removeOutfit(d, "Boat", "laden"); }));
        QCOMPARE(p.load(a), std::int64_t{5});
        QVERIFY(p.scene().facet<model::Wears>(p.slot(a)) == nullptr);
        QVERIFY(!test::asStep(p, [](edit::Draft& d) { return ops::removeOutfit(d, "Boat", "laden"); }));
    }
    void everySceneFollowsInOneStep() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        std::vector<ObjectId> all;
        for (int i = 0; i < 50; ++i) all.push_back(p.boat({i * 3.0, 0, 0}));
        QVERIFY(p.wear(all, "laden"));
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::duplicateScene(d, "first", "third"); }));
        const auto third = p.session().scene("third");
        QVERIFY(third.has_value());
        const std::size_t steps = p.session().history().steps().size();
        const auto followed = p.put(laden(8));
        QVERIFY(followed.has_value());
        QCOMPARE(*followed, std::size_t{100});
        QCOMPARE(p.session().history().steps().size(), steps + 1);
        std::size_t eights = 0;
        for (model::Slot s : (*third)->subtree(model::kNoSlot)) {
            const auto& detail = (*third)->detail(s);
            const model::Value* load = detail ? model::valueOf(detail->properties, "load") : nullptr;
            if (load != nullptr && std::get<std::int64_t>(load->data) == 8) ++eights;
        }
        QCOMPARE(eights, std::size_t{50});
    }
    void anHeirWearsWhatItsParentHas() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::newKindOf(d, "Barge", "Boat"); }));
        const ObjectId a = p.put("cube", {0, 0, 0});
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::changeKind(d, {&a, 1}, "Barge"); }));
        QVERIFY(p.wear({a}, "laden"));
        QVERIFY(p.put(laden(6)));
        QCOMPARE(p.load(a), std::int64_t{6});
        const auto refused = test::asStep(p, [](edit::Draft& d) { return ops::removeOutfit(d, "Barge", "laden"); });
        QVERIFY(!refused && refused.error().code == base::ErrorCode::Refused);
    }
    void theVariationAndTheSurfacesComeAlong() {
        Harbour p;
        Outfit outfit = laden(1);
        outfit.item = "beam";
        QVERIFY(p.put(outfit));
        const ObjectId a = p.boat({0, 0, 0});
        QVERIFY(p.wear({a}, "laden"));
        QCOMPARE(p.scene().itemText(p.slot(a)), std::string_view("beam"));
        const std::string slot = p.session().library().item(p.session().intern("beam"))->slots.front();
        outfit.surfaces[slot] = "tar";
        outfit.item = "cube";
        QVERIFY(p.put(outfit));
        QCOMPARE(p.scene().itemText(p.slot(a)), std::string_view("cube"));
        const auto* surfaces = p.scene().facet<model::Surfaces>(p.slot(a));
        QVERIFY(surfaces != nullptr && surfaces->slots.front().surface == "tar");
    }
    void whatCannotBeWornIsRefused() {
        Harbour p;
        const ObjectId a = p.boat({0, 0, 0}), stone = p.put("cube", {9, 0, 0});
        Outfit wrong = laden(1);
        wrong.name.clear();
        QVERIFY(!p.put(wrong));
        wrong = laden(1);
        wrong.values.emplace_back("sails", model::Value{true});
        QVERIFY(!p.put(wrong));
        wrong = laden(1);
        wrong.values[0].second = {"heavy"};
        QVERIFY(!p.put(wrong));
        wrong = laden(1);
        wrong.item = "ghost";
        QVERIFY(!p.put(wrong));
        wrong = laden(1);
        wrong.surfaces["hull"] = "ghost";
        QVERIFY(!p.put(wrong));
        QVERIFY(p.put(laden(1)));
        QVERIFY(!p.wear({a}, "ghost"));
        QVERIFY(!p.wear({a, stone}, "laden"));  // all or none
        QCOMPARE(p.load(a), std::int64_t{0});
        const std::uint8_t flag = model::flags::kProtected;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return d.setFlags({&a, 1}, {&flag, 1}); }));
        const auto refused = p.wear({a}, "laden");
        QVERIFY(!refused && refused.error().code == base::ErrorCode::Refused);
    }
    void aTableOrAScriptPutsItOnByItsMember() {
        Harbour p;
        QVERIFY(p.put(laden(4)));
        const ObjectId a = p.boat({0, 0, 0});
        const ops::FacetMember member = ops::facetMember("outfit.name");
        QVERIFY(member);
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::setMember(d, {&a, 1}, member, {"laden"}); }));
        QCOMPARE(p.load(a), std::int64_t{4});
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::setMember(d, {&a, 1}, member, {"ghost"}); }));
    }
    void aTableDressesWhatWearsNothingYet() {
        Harbour p;
        QVERIFY(p.put(laden(4)));
        const ObjectId a = p.boat({0, 0, 0}), b = p.boat({4, 0, 0});
        const auto& library = p.session().library();
        const auto columns = ops::tableColumns(library, p.scene());
        const auto column =
            std::find_if(columns.begin(), columns.end(), [](const auto& c) { return c.key == "outfit.name"; });
        QVERIFY(column != columns.end());
        QCOMPARE(column->label, std::string("Outfit"));
        const ops::TableSource source{library, p.scene(), {}};
        QCOMPARE(ops::cellText(source, p.slot(a), *column), std::string());
        const auto plan = ops::planCells(source, {{a, *column, "laden", 1}, {b, *column, "ghost", 2}});
        QVERIFY(plan.problems.empty());  // whether the kind has it is asked when it is put on
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::apply(d, plan); }));
        QCOMPARE(p.load(a), std::int64_t{0});  // all of it or nothing
        const auto good = ops::planCells(source, {{a, *column, "laden", 1}});
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::apply(d, good); }));
        QCOMPARE(p.load(a), std::int64_t{4});
        QCOMPARE(ops::cellText({library, p.scene(), {}}, p.slot(a), *column), std::string("laden"));
        // By its short name; a kind's own property of that name goes before it.
        QCOMPARE(ops::propertyOf(library, p.scene(), p.slot(b), "outfit")->name, std::string("outfit.name"));
        QVERIFY(ops::propertyOf(library, p.scene(), p.slot(b), "light") == nullptr);
    }
    void whatIsPlacedCanWearItFromTheStart() {
        Harbour p;
        QVERIFY(p.put(laden(2)));
        QVERIFY(test::asStep(p, [](edit::Draft& d) {
            model::ItemFacts facts = *d.session().library().item(d.session().intern("cube"));
            facts.kind = "Boat";
            return ops::setItem(d, d.session().intern("cube"), facts);
        }));
        ops::Placement placement;
        placement.item = p.session().intern("cube");
        placement.outfit = "laden";
        const auto made = test::asStep(p, [&](edit::Draft& d) { return ops::place(d, placement); });
        QVERIFY(made.has_value());
        QCOMPARE(p.load(*made), std::int64_t{2});
        placement.outfit = "ghost";
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::place(d, placement); }));
    }
    void aRenamedPropertyAndKindAreFollowed() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        const ObjectId a = p.boat({0, 0, 0});
        QVERIFY(p.wear({a}, "laden"));
        model::Guise frost;
        frost.name = "Frost";
        frost.tints["Boat"] = Vec3(0.5);
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putGuise(d, frost); }));
        QVERIFY(test::asStep(p, [](edit::Draft& d) {
            ValueMap own = d.session().library().kindNamed("Boat")->own;
            auto list = std::get<ValueList>(model::valueOf(own, "properties")->data);
            model::setValue(std::get<ValueMap>(list[0].data), "name", {std::string("burden")});
            model::setValue(own, "properties", {list});
            return ops::setKind(d, "Boat", own, {{"load", "burden"}});
        }));
        const Outfit* outfit = p.session().library().kindNamed("Boat")->outfit("laden");
        QVERIFY(model::valueOf(outfit->values, "burden") != nullptr && outfit->values.size() == 1);
        QVERIFY(ops::outfitDifferences(p.session(), p.scene(), p.slot(a)).empty());
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::renameKind(d, "Boat", "Skiff"); }));
        QVERIFY(p.session().library().guise("Frost")->tints.contains("Skiff"));
        QVERIFY(!p.session().library().guise("Frost")->tints.contains("Boat"));
        QVERIFY(p.session().library().kindNamed("Skiff")->outfit("laden") != nullptr);
        QVERIFY(p.wear({a}, "laden"));
        for (int i = 0; i < 2; ++i)
            QVERIFY(p.session().undo());  // nothing changed by the last: the kind and its property
        QVERIFY(p.session().library().guise("Frost")->tints.contains("Boat"));
    }
    void insideAnInstanceItIsADifference() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        const ObjectId a = p.boat({0, 0, 0}), b = p.put("cube", {2, 0, 0});
        ops::MakePrefab how;
        how.name = "Mooring";
        const std::vector<ObjectId> both = {a, b};
        const auto made = test::asStep(p, [&](edit::Draft& d) { return ops::makePrefab(d, both, how); });
        QVERIFY2(made.has_value(), made ? "" : made.error().message.c_str());
        ObjectId inside;
        for (model::Slot s : p.scene().subtree(model::kNoSlot))
            if (p.scene().kindText(s) == "Boat" && p.scene().instanceAround(s) != model::kNoSlot)
                inside = p.scene().id(s);
        QVERIFY(inside);
        const std::string before = p.bytes();
        QVERIFY(p.wear({inside}, "laden"));
        QCOMPARE(p.load(inside), std::int64_t{5});
        QVERIFY(p.bytes() != before);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void itSurvivesARestart() {
        Harbour p;
        QVERIFY(p.put(laden(5)));
        const ObjectId a = p.boat({0, 0, 0});
        QVERIFY(p.wear({a}, "laden"));
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        const std::string before = p.bytes();
        p.close();
        QVERIFY(p.reopen());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().library().kindNamed("Boat")->outfit("laden") != nullptr);
        QVERIFY(p.workspace().damage.empty());
    }

    void aGuiseIsKeptAndItsScenesFollowItsName() {
        Harbour p;
        model::Guise frost;
        frost.name = "Frost";
        frost.surfaces["hull"] = "tar";
        frost.items["cube"] = "beam";
        frost.tints["Boat"] = Vec3(1, 1, 1);
        frost.light = {{"sunStrength", {0.25}}};
        const std::string before = p.bytes();
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putGuise(d, frost); }));
        QVERIFY(*p.session().library().guise("Frost") == frost);
        QVERIFY(test::asStep(p, [](edit::Draft& d) {
            model::SceneSettings settings = d.scene().settings();
            settings.guise = "Frost";
            return d.setSettings(settings);
        }));
        const model::SceneSettings lit = model::inGuise(p.scene().settings(), frost);
        QCOMPARE(lit.sunStrength, 0.25);
        QCOMPARE(lit.skyColour, p.scene().settings().skyColour);
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::renameGuise(d, "Frost", "Hard frost"); }));
        QCOMPARE(p.scene().settings().guise, std::string("Hard frost"));
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        p.close();
        QVERIFY(p.reopen());
        QCOMPARE(p.scene().settings().guise, std::string("Hard frost"));
        QVERIFY(p.session().library().guise("Hard frost") != nullptr && p.workspace().damage.empty());
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::removeGuise(d, "Hard frost"); }));
        QVERIFY(p.scene().settings().guise.empty());
        for (int i = 0; i < 4; ++i) QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void aGuiseThatCannotBeIsRefused() {
        Harbour p;
        for (const auto& spoil : std::vector<std::function<void(model::Guise&)>>{
                 [](model::Guise& g) { g.name.clear(); }, [](model::Guise& g) { g.surfaces["a"] = "ghost"; },
                 [](model::Guise& g) { g.items["cube"] = "ghost"; }, [](model::Guise& g) { g.items["ghost"] = "cube"; },
                 [](model::Guise& g) { g.tints["Ghost"] = Vec3(1); },
                 [](model::Guise& g) {
                     g.light = {{"sunStrength", {500.0}}};
                 }}) {
            model::Guise guise;
            guise.name = "Frost";
            spoil(guise);
            QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::putGuise(d, guise); }));
        }
        QVERIFY(!test::asStep(p, [](edit::Draft& d) { return ops::removeGuise(d, "Frost"); }));
        QVERIFY(!test::asStep(p, [](edit::Draft& d) { return ops::renameGuise(d, "Frost", "Thaw"); }));
    }

    void whatIsPutInABerthIsThereExactly_data() {
        QTest::addColumn<QList<double>>("holderTurn");
        QTest::addColumn<double>("holderSize");
        QTest::newRow("as it is") << QList<double>{0, 0, 0} << 1.0;
        QTest::newRow("turned") << QList<double>{0, 37, 0} << 1.0;
        QTest::newRow("leaning, large") << QList<double>{12, -71, 8} << 3.5;
    }
    void whatIsPutInABerthIsThereExactly() {
        QFETCH(QList<double>, holderTurn);
        QFETCH(double, holderSize);
        Harbour p;
        QVERIFY(test::asStep(p, [](edit::Draft& d) {
            model::ItemFacts facts = *d.session().library().item(d.session().intern("slab"));
            facts.berths = {{"fore", {3, 0.25, -4}, 90}, {"aft", {-3, 0.25, 4}, 0}};
            return ops::setItem(d, d.session().intern("slab"), facts);
        }));
        const ObjectId deck = p.put("slab", {100, 7, -30}, {holderTurn[0], holderTurn[1], holderTurn[2]},
                                    Vec3(holderSize)),
                       a = p.put("cube", {0, 0, 0}, {0, 20, 0}, Vec3(2.0)), b = p.put("cube", {5, 0, 0});
        const auto fore = ops::berthOf(p.session().library(), p.scene(), deck, "fore");
        QVERIFY(fore.has_value());
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putInBerth(d, a, *fore); }));
        QCOMPARE(p.scene().parent(p.slot(a)), p.slot(deck));
        const base::Affine& world = p.scene().world(p.slot(a));
        const Vec3 foot = world.point(p.session().library().item(p.session().intern("cube"))->landingPoint());
        QVERIFY(glm::length(foot - p.scene().world(p.slot(deck)).point({3, 0.25, -4})) < 1e-9);
        QVERIFY(std::abs(glm::length(world.linear[0]) - 2.0) < 1e-9);  // as large as it was
        // Twice in a row it stays; it is taken for another.
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putInBerth(d, a, *fore); }));
        QCOMPARE(p.scene().firstChild(p.slot(deck)), p.slot(a));
        const auto free = ops::freeBerths(p.session().library(), p.scene());
        QCOMPARE(free.size(), std::size_t{1});
        QCOMPARE(free.front().name, std::string("aft"));
        QVERIFY(ops::nearestBerth(free, free.front().at + Vec3(0.3, 0, 0), 0.5, {}) != nullptr);
        QVERIFY(ops::nearestBerth(free, free.front().at + Vec3(0.6, 0, 0), 0.5, {}) == nullptr);
        QCOMPARE(ops::freeBerths(p.session().library(), p.scene(), {&a, 1}).size(), std::size_t{2});
        QVERIFY(ops::freeBerths(p.session().library(), p.scene(), {&deck, 1}).empty());
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::putInBerth(d, deck, free.front()); }));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putInBerth(d, b, free.front()); }));
        QVERIFY(ops::freeBerths(p.session().library(), p.scene()).empty());
    }
    void berthsOfWhatIsHiddenOrProtectedAreNotOffered() {
        Harbour p;
        p.giveBerth("slab");
        const ObjectId deck = p.put("slab", {0, 0, 0}), inner = p.put("slab", {20, 0, 0});
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::reparent(d, {&inner, 1}, deck, {}); }));
        const auto offered = [&] { return ops::freeBerths(p.session().library(), p.scene()).size(); };
        QCOMPARE(offered(), std::size_t{2});
        for (const std::uint8_t flag : {model::flags::kProtected, model::flags::kHidden}) {
            QVERIFY(test::asStep(p, [&](edit::Draft& d) { return d.setFlags({&deck, 1}, {&flag, 1}); }));
            QCOMPARE(offered(), std::size_t{0});  // nor what is below it
            QVERIFY(p.session().undo());
        }
        const std::uint8_t flag = model::flags::kProtected;
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return d.setFlags({&inner, 1}, {&flag, 1}); }));
        QCOMPARE(offered(), std::size_t{1});
    }
    void aBerthInsideAGroupAndAnInstanceTakesThingsExactly() {
        Harbour p;
        p.giveBerth("slab");
        const ObjectId deck = p.put("slab", {4, 1, 2}, {0, 30, 0}), post = p.put("cube", {9, 0, 0});
        const std::vector<ObjectId> both = {deck, post};
        ops::MakePrefab how;
        how.name = "Jetty";
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::makePrefab(d, both, how); }));
        const auto berths = ops::freeBerths(p.session().library(), p.scene());
        QCOMPARE(berths.size(), std::size_t{1});
        const ops::Berth berth = berths.front();
        const ObjectId crate = p.put("cube", {40, 0, 0}, {0, 11, 0}, Vec3(0.5));
        const std::string before = p.bytes();
        const Vec3 landing = p.session().library().item(p.session().intern("cube"))->landingPoint();
        const auto foot = [&] { return p.scene().world(p.slot(crate)).point(landing); };
        for (int twice = 0; twice < 2; ++twice) {
            QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::putInBerth(d, crate, berth); }));
            QVERIFY(glm::length(foot() - berth.at) < 1e-9);
            QVERIFY(p.scene().instanceAround(p.slot(crate)) != model::kNoSlot);
            QVERIFY(std::abs(glm::length(p.scene().world(p.slot(crate)).linear[0]) - 0.5) < 1e-9);
        }
        QVERIFY(p.reopen());
        (void)p.scene();
        QVERIFY(glm::length(foot() - berth.at) < 1e-9);
        QVERIFY(p.session().undo() && p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
};

MELLOW_TEST(OutfitsTest)
}  // namespace outfits_test
#include "outfits_test.moc"
