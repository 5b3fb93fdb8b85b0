#include <QtTest>

#include "ops/objects.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace objects_test {

using base::ObjectId;
using base::Status;
using base::Vec3;

class ObjectsTest : public QObject {
    Q_OBJECT
    static bool run(test::TestProject& p, const std::function<Status(edit::Draft&)>& verb) {
        edit::Draft draft(p.session(), "first", "Try");
        return verb(draft).has_value() && draft.commit().has_value();
    }
    static void refused(test::TestProject& p, const std::function<Status(edit::Draft&)>& verb) {
        const std::string before = p.bytes();
        QVERIFY(!run(p, verb));
        QCOMPARE(p.bytes(), before);
    }
    static Vec3 world(test::TestProject& p, ObjectId id) { return p.scene().world(p.slot(id)).translation; }

  private Q_SLOTS:
    void placingPutsTheBasePointOnTheSurface() {
        test::TestProject p;
        QVERIFY(test::importModel(p, test::demoFolder() / "items" / "coping.glb").has_value());
        ObjectId id;
        const std::string before = p.bytes();
        QVERIFY(run(p, [&](edit::Draft& d) -> Status {
            auto made = ops::place(d, {p.name("coping"), {3, 1, 2}, {1, 0, 0, 0}, {}});
            if (made) id = *made;
            return made ? Status{} : tl::unexpected(made.error());
        }));
        QVERIFY(std::abs(p.scene().bounds(p.slot(id)).low.y - 1.0) < 1e-6);
        QCOMPARE(world(p, id).x, 3.0);
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), before);
    }
    void placingIntoAGroupLandsAtTheSamePlace() {
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{10, 0, 0}, base::fromDegrees({0, 90, 0}), {2, 2, 2}});
        ObjectId id;
        QVERIFY(run(p, [&](edit::Draft& d) -> Status {
            auto made = ops::place(d, {p.name("ground-slab"), {3, 1, 2}, {1, 0, 0, 0}, group});
            if (made) id = *made;
            return {};
        }));
        QVERIFY(std::abs(p.scene().bounds(p.slot(id)).low.y - 1.0) < 1e-6);
    }
    void anUnknownItemIsRefused() {
        test::TestProject p;
        refused(p, [&](edit::Draft& d) -> Status {
            auto made = ops::place(d, {p.name("no such item"), {}, {1, 0, 0, 0}, {}});
            return made ? Status{} : tl::unexpected(made.error());
        });
    }
    void duplicatesStandWhereTheirOriginalsDoWithNewNames() {
        test::TestProject p;
        const ObjectId stall = p.add("Stall 1", {}, {{5, 0, 0}});
        p.add("Frame", stall, {{0, 1, 0}});
        p.add("Stall 7");
        const std::string before = p.bytes();
        ops::Ids made;
        QVERIFY(run(p, [&](edit::Draft& d) -> Status {
            auto copies = ops::duplicate(d, std::array{stall, p.scene().id(p.scene().firstChild(p.slot(stall)))});
            if (copies) made = *copies;
            return copies ? Status{} : tl::unexpected(copies.error());
        }));
        QCOMPARE(made.size(), std::size_t{1});
        QCOMPARE(std::string(p.scene().nameText(p.slot(made[0]))), std::string("Stall 8"));
        QCOMPARE(world(p, made[0]).x, 5.0);
        QCOMPARE(p.scene().subtree(p.slot(made[0])).size(), std::size_t{2});
        QCOMPARE(p.scene().nextSibling(p.scene().previousSibling(p.slot(made[0]))), p.slot(made[0]));
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), before);
    }
    void namesGetTheNextNumberNobodyHas() {
        test::TestProject p;
        p.add("Bench");
        p.add("Lantern post 7");
        ops::FreeNames names(p.scene());
        QCOMPARE(names.next("Bench"), std::string("Bench 2"));
        QCOMPARE(names.next("Bench"), std::string("Bench 3"));
        QCOMPARE(names.next("Lantern post"), std::string("Lantern post 8"));
        QCOMPARE(names.next("Lantern post 2"), std::string("Lantern post 9"));
        QCOMPARE(names.next("Willow"), std::string("Willow"));
        QCOMPARE(names.next("Willow"), std::string("Willow 2"));
    }
    void protectedObjectsAreNotRemovedNorTheirParents() {
        test::TestProject p;
        const ObjectId group = p.add("Group"), child = p.add("Child", group);
        QVERIFY(run(p, [&](edit::Draft& d) { return ops::setFlag(d, {&child, 1}, model::flags::kProtected, true); }));
        refused(p, [&](edit::Draft& d) { return ops::remove(d, {&child, 1}); });
        refused(p, [&](edit::Draft& d) { return ops::remove(d, {&group, 1}); });
        QVERIFY(run(p, [&](edit::Draft& d) { return ops::setFlag(d, {&child, 1}, model::flags::kProtected, false); }));
        QVERIFY(run(p, [&](edit::Draft& d) { return ops::remove(d, {&group, 1}); }));
    }
    void newParentsKeepTheWorldPose_data() {
        QTest::addColumn<double>("sx");
        QTest::addColumn<double>("turn");
        QTest::newRow("moved") << 1.0 << 0.0;
        QTest::newRow("turned and sized") << 2.0 << 37.0;
        QTest::newRow("mirrored") << -1.0 << 20.0;
    }
    void newParentsKeepTheWorldPose() {
        QFETCH(double, sx);
        QFETCH(double, turn);
        test::TestProject p;
        const Vec3 size = sx < 0 ? Vec3(-1, 1, 1) : Vec3(sx);
        const ObjectId group = p.add("Group", {}, {{10, 2, 0}, base::fromDegrees({0, turn, 0}), size});
        const ObjectId id = p.add("Bench", {}, {{1, 2, 3}, base::fromDegrees({10, 20, 30}), {1, 1, 1}});
        const base::Affine before = p.scene().world(p.slot(id));
        const std::string bytes = p.bytes();
        QVERIFY(run(p, [&](edit::Draft& d) { return ops::reparent(d, {&id, 1}, group, {}); }));
        const base::Affine after = p.scene().world(p.slot(id));
        for (int i = 0; i < 3; ++i) QVERIFY(glm::length(before.linear[i] - after.linear[i]) < 1e-9);
        QVERIFY(glm::length(before.translation - after.translation) < 1e-9);
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), bytes);
    }
    void aPlaceThatNeedsShearIsRefused() {
        test::TestProject p;
        const ObjectId group = p.add("Group", {}, {{0, 0, 0}, {1, 0, 0, 0}, {1, 3, 1}});
        const ObjectId id = p.add("Bench", {}, {{1, 2, 3}, base::fromDegrees({0, 0, 30})});
        refused(p, [&](edit::Draft& d) { return ops::reparent(d, {&id, 1}, group, {}); });
    }
    void severalAreReorderedInTheirOrder() {
        test::TestProject p;
        const ObjectId a = p.add("A"), b = p.add("B"), c = p.add("C"), d = p.add("D");
        QVERIFY(run(p, [&](edit::Draft& draft) { return ops::reparent(draft, std::array{c, d}, {}, a); }));
        std::string order;
        for (model::Slot s : p.scene().subtree(model::kNoSlot)) order += p.scene().nameText(s);
        QCOMPARE(order, std::string("CDAB"));
        QVERIFY(run(p, [&](edit::Draft& draft) { return ops::reparent(draft, std::array{c, a}, {}, a); }));
        QVERIFY(b);
    }
    void aParentCannotGoBelowItsChild() {
        test::TestProject p;
        const ObjectId a = p.add("A"), b = p.add("B", a);
        refused(p, [&](edit::Draft& d) { return ops::reparent(d, {&a, 1}, b, {}); });
    }
    void anotherItemTakesThePlaceAndThePoseStays() {
        test::TestProject p;
        model::Item bench, block;
        bench.name = "bench";
        bench.label = "Bench";
        bench.bounds = {{-1, 0, -0.5}, {1, 1, 0.5}};
        block.name = "block";
        block.label = "Stone block";
        block.kind = "Structure";
        block.bounds = {{-1, -0.5, -1}, {1, 1.5, 1}};
        p.session().putItem(bench);
        p.session().putItem(block);
        const base::Transform pose{{1, 2, 3}, base::fromDegrees({0, 30, 0}), base::Vec3(2.0)};
        const ObjectId child = p.add("Note"), one = p.add("Bench 4", {}, pose, "bench"),
                       named = p.add("Where she sat", {}, pose, "bench");
        QVERIFY(run(p, [&](edit::Draft& d) { return ops::reparent(d, {&child, 1}, one, {}); }));
        const std::string before = p.bytes();
        ops::Replaced told;
        QVERIFY(run(p, [&](edit::Draft& d) -> base::Status {
            auto done = ops::replaceItem(d, std::array{one, named}, p.name("block"));
            if (!done) return tl::unexpected(done.error());
            told = *done;
            return {};
        }));
        QCOMPARE(std::string(p.scene().nameText(p.slot(one))), std::string("Stone block"));
        QCOMPARE(std::string(p.scene().nameText(p.slot(named))), std::string("Where she sat"));
        QCOMPARE(std::string(p.scene().kindText(p.slot(one))), std::string("Structure"));
        QCOMPARE(p.scene().local(p.slot(one)), pose);
        QCOMPARE(p.scene().parent(p.slot(child)), p.slot(one));
        QVERIFY(glm::length(told.sizeFactor - base::Vec3(1, 2, 2)) < 1e-12);
        QVERIFY(std::abs(told.baseMetres - 1) < 1e-12);  // half a metre, twice as large
        QVERIFY(p.scene().bounds(p.slot(one)).low.y < 1.01);
        QVERIFY(p.session().undo().has_value());
        QCOMPARE(p.bytes(), before);
        refused(p, [&](edit::Draft& d) -> base::Status {
            auto done = ops::replaceItem(d, {&one, 1}, p.name("nothing"));
            return done ? base::Status{} : tl::unexpected(done.error());
        });
    }
    void whatIsPlacedLargerStandsOnItsBasePoint() {
        model::Item item;
        item.bounds = {{-1, -0.5, -1}, {1, 1.5, 1}};
        const base::Transform t = ops::landing(item, {3, 7, 1}, base::fromDegrees({0, 90, 0}), 2);
        QVERIFY(glm::length(base::toAffine(t).point({0, -0.5, 0}) - base::Vec3(3, 7, 1)) < 1e-12);
        QCOMPARE(t.scale, base::Vec3(2.0));
    }
    void namesThatCannotBeAreRefused() {
        test::TestProject p;
        const ObjectId id = p.add("Bench");
        for (const std::string& name :
             {std::string(), std::string("   "), std::string("a\nb"), std::string(201, 'x'), std::string("\xff")})
            refused(p, [&](edit::Draft& d) { return ops::rename(d, id, name); });
        QVERIFY(run(p, [&](edit::Draft& d) { return ops::rename(d, id, "  Bank am Wasser "); }));
        QCOMPARE(std::string(p.scene().nameText(p.slot(id))), std::string("Bank am Wasser"));
    }
};

MELLOW_TEST(ObjectsTest)
}  // namespace objects_test
#include "objects_test.moc"
