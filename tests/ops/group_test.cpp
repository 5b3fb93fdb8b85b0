#include <QtTest>
#include <cmath>

#include "model/facets/tint.h"
#include "ops/chance.h"
#include "ops/group.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace group_test {

using base::Vec3;
using test::asStep;

class GroupTest : public QObject {
    Q_OBJECT
    static bool same(const base::Affine& a, const base::Affine& b) {
        double apart = glm::length(a.translation - b.translation);
        for (int c = 0; c < 3; ++c) apart = std::max(apart, glm::length(a.linear[c] - b.linear[c]));
        return apart < 1e-9;
    }

  private Q_SLOTS:
    void groupingMovesNothingAndStandsWhereTheFirstStood() {
        test::TestProject p;
        const auto a = p.add("Crate 1", {}, {{1, 0, 2}, base::fromDegrees({0, 30, 0}), Vec3(2, 1, 1)});
        const auto between = p.add("Bench");
        const auto b = p.add("Crate 2", {}, {{5, 1, 2}});
        const auto worldA = p.scene().world(p.slot(a)), worldB = p.scene().world(p.slot(b));
        const base::ObjectId ids[] = {b, a};
        auto made = asStep(p, [&](edit::Draft& d) { return ops::group(d, ids, ops::groupName(p.scene(), ids)); });
        QVERIFY(made.has_value());
        const auto g = p.slot(*made);
        QCOMPARE(p.scene().nameText(g), std::string_view("Crates, 2"));
        QVERIFY((p.scene().flagsOf(g) & model::flags::kWhole) != 0);
        QVERIFY(same(p.scene().world(p.slot(a)), worldA) && same(p.scene().world(p.slot(b)), worldB));
        QCOMPARE(p.scene().firstChild(g), p.slot(a));  // in the order of the tree
        QCOMPARE(p.scene().firstChild(model::kNoSlot), g);
        QCOMPARE(p.scene().nextSibling(g), p.slot(between));
        QVERIFY(glm::length(p.scene().world(g).translation - Vec3(3, 0, 2)) < 1e-9);
    }
    void aGroupOfWhatLiesAtDifferentDepthsStandsBelowTheirCommonParent() {
        test::TestProject p;
        const auto area = p.add("Yard", {}, {{10, 0, 0}, base::fromDegrees({0, 90, 0}), Vec3(1)});
        const auto shed = p.add("Shed", area, {{2, 0, 0}});
        const auto deep = p.add("Barrel", shed, {{1, 0, 0}});
        const auto flat = p.add("Cart", area, {{0, 0, 4}});
        const auto world = p.scene().world(p.slot(deep));
        const base::ObjectId ids[] = {deep, flat};
        auto made = asStep(p, [&](edit::Draft& d) { return ops::group(d, ids, "Both"); });
        QVERIFY(made.has_value());
        QCOMPARE(p.scene().parent(p.slot(*made)), p.slot(area));
        QVERIFY(same(p.scene().world(p.slot(deep)), world));
    }
    void ungroupingKeepsEveryWorldPoseAlsoMirroredSizedAndNested() {
        test::TestProject p;
        const auto outer = p.add("Outer", {}, {{3, 1, 0}, base::fromDegrees({10, 40, 0}), Vec3(-2, 2, 2)});
        const auto inner = p.add("Inner", outer, {{1, 0, 0}, base::fromDegrees({0, 0, 25}), Vec3(0.5)});
        const auto leaf = p.add("Leaf", inner, {{0, 2, 0}, base::fromDegrees({5, 6, 7}), Vec3(1, 3, 1)});
        const auto other = p.add("Other", outer, {{0, 0, 1}});
        const auto before = p.scene().world(p.slot(leaf)), beforeOther = p.scene().world(p.slot(other));
        auto freed = asStep(p, [&](edit::Draft& d) { return ops::ungroup(d, {&outer, 1}, {true, false}); });
        QVERIFY2(freed.has_value(), freed ? "" : freed.error().message.c_str());
        QCOMPARE(freed->size(), std::size_t{2});
        QCOMPARE(p.scene().parent(p.slot(leaf)), model::kNoSlot);
        QVERIFY(same(p.scene().world(p.slot(leaf)), before) && same(p.scene().world(p.slot(other)), beforeOther));
        QCOMPARE(p.slot(inner), model::kNoSlot);
    }
    void aShearIsRefusedByNameUnlessTheNearestPoseIsWanted() {
        test::TestProject p;
        const auto g = p.add("Stretched", {}, {{0, 0, 0}, {1, 0, 0, 0}, Vec3(3, 1, 1)});
        const auto leaf = p.add("Turned plank", g, {{0, 0, 0}, base::fromDegrees({0, 45, 0}), Vec3(1)});
        auto refused = asStep(p, [&](edit::Draft& d) { return ops::ungroup(d, {&g, 1}); });
        QVERIFY(!refused && refused.error().code == base::ErrorCode::BadInput);
        QVERIFY(refused.error().message.find("Turned plank") != std::string::npos);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::ungroup(d, {&g, 1}, {false, true}); }).has_value());
        QCOMPARE(p.scene().parent(p.slot(leaf)), model::kNoSlot);
    }
    void protectedThingsAndWhatIsMoreThanAGroupAreRefused() {
        test::TestProject p;
        const auto a = p.add("Crate");
        {
            edit::Draft d(p.session(), "first", "Protect");
            QVERIFY(ops::setFlag(d, {&a, 1}, model::flags::kProtected, true).has_value() && d.commit());
        }
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::group(d, {&a, 1}, "G"); }));
        const auto item = p.add("Post", {}, {}, "post");
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::ungroup(d, {&item, 1}); }));
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::group(d, {}, "G"); }));
    }
    void emptyGroupsAreFound() {
        test::TestProject p;
        const auto empty = p.add("Nothing here"), full = p.add("Full");
        p.add("Part", full, {}, "post");
        QCOMPARE(ops::emptyGroups(p.scene()), ops::Ids{empty});
    }
    void namesAreMadeOfWhatAGroupHolds() {
        test::TestProject p;
        const base::ObjectId boxes[] = {p.add("Box 1"), p.add("Box 2"), p.add("Box 3")};
        QCOMPARE(ops::groupName(p.scene(), boxes), std::string("Boxes, 3"));
        const base::ObjectId mixed[] = {boxes[0], p.add("Ferry")};
        QCOMPARE(ops::groupName(p.scene(), mixed), std::string("Group of 2"));
        const base::ObjectId ferries[] = {mixed[1], p.add("Ferry 2")};
        QCOMPARE(ops::groupName(p.scene(), ferries), std::string("Ferries, 2"));
    }
    void aTintIsAStepAndTakesNumbersFromZeroToOneOnly() {
        test::TestProject p;
        const auto a = p.add("Crate");
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setTint(d, {&a, 1}, Vec3(0.5, 1, 0)); }).has_value());
        QVERIFY(p.bytes().find("\"tint\":[0.5,1,0]") != std::string::npos);
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::setTint(d, {&a, 1}, Vec3(0.5, 1.5, 0)); }));
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::setTint(d, {&a, 1}, Vec3(0.5, std::nan(""), 0)); }));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setTint(d, {&a, 1}, std::nullopt); }).has_value());
        QVERIFY(p.bytes().find("tint") == std::string::npos);
    }
    void placingByChanceStaysInItsRangesAndIsTheSameForTheSameSeed() {
        test::TestProject p;
        model::Item item;
        item.name = item.label = "reed-1";
        item.bounds = {{0, 0, 0}, {1, 1, 1}};
        p.session().putItem(item);
        item.name = item.label = "reed-2";
        p.session().putItem(item);
        ops::Chances chances{90, 0.5, 2, 0.3, true};
        QCOMPARE(ops::variationsOf(p.session().library(), "reed-2").size(), std::size_t{2});
        auto run = [&] {
            base::Random random(7);
            std::vector<base::Transform> poses;
            std::set<std::string> items;
            edit::Draft draft(p.session(), "first", "Place");
            for (int i = 0; i < 40; ++i) {
                ops::Placement placement;
                placement.item = p.name("reed-1");
                auto id = ops::placeByChance(draft, placement, chances, random);
                if (!id) qFatal("not placed");
                const auto s = p.slot(*id);
                poses.push_back(p.scene().local(s));
                items.insert(std::string(p.scene().itemText(s)));
                const Vec3 tint = p.scene().facet<model::Tint>(s)->colour;
                for (int k = 0; k < 3; ++k)
                    if (tint[k] < 0.5 || tint[k] > 1) qFatal("tint out of range");
                if (poses.back().scale.x < 0.5 || poses.back().scale.x > 2) qFatal("size out of range");
            }
            if (items.size() != 2) qFatal("variations");
            return poses;
        };
        QVERIFY(run() == run());
    }
};

MELLOW_TEST(GroupTest)
}  // namespace group_test
#include "group_test.moc"
