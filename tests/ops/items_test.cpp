// What is said of items, and what objects are: each a step, kept over a restart, refused where it cannot be.
#include <QtTest>

#include "io/workspace.h"
#include "model/property_types.h"
#include "ops/items.h"
#include "ops/kinds.h"
#include "ops/properties.h"
#include "support/blocks.h"
#include "support/steps.h"
#include "support/test_main.h"

namespace items_test {

using base::ObjectId;
using model::ItemFacts;

struct Yard : test::Blocks {
    Yard() {
        if (!set("cube", [](ItemFacts& f) { f.label = "Cube", f.folder = "Blocks"; })) qFatal("no name for the cube");
    }
    const model::Item* item(const char* key) { return session().library().item(session().intern(key)); }
    base::Status set(const char* key, const std::function<void(ItemFacts&)>& change) {
        edit::Draft draft(session(), "first", "Set item");
        ItemFacts facts = item(key) != nullptr ? ItemFacts(*item(key)) : ItemFacts{};
        change(facts);
        if (base::Status done = ops::setItem(draft, session().intern(key), facts); !done) return done;
        auto step = draft.commit();
        return step ? base::Status{} : base::Status(tl::unexpected(step.error()));
    }
    std::size_t steps() { return session().history().steps().size(); }
};

class ItemsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whatIsSaidOfAnItemIsAStepAndKept() {
        Yard p;
        const ItemFacts before = ItemFacts(*p.item("cube"));
        QVERIFY(p.set("cube", [](ItemFacts& f) {
            f.label = "Crate";
            f.folder = "Goods";
            f.collision = model::CollisionShape::Box;
            f.offered = false;
        }));
        const ItemFacts after = ItemFacts(*p.item("cube"));
        QCOMPARE(after.label, std::string("Crate"));
        QVERIFY(!after.offered && after.collision == model::CollisionShape::Box);
        QVERIFY(p.session().undo());
        QVERIFY(ItemFacts(*p.item("cube")) == before);
        QVERIFY(p.session().redo());
        QVERIFY(ItemFacts(*p.item("cube")) == after);
        p.close();
        QVERIFY(p.reopen());
        QVERIFY(ItemFacts(*p.item("cube")) == after);  // from the history alone
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        const std::string text = test::fileBytes(p.folder() / "project.json");
        QVERIFY(text.find("\"offered\": false") != std::string::npos);
        QVERIFY(p.set("cube", [](ItemFacts& f) { f.offered = true; }));
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        QVERIFY(test::fileBytes(p.folder() / "project.json").find("offered") == std::string::npos);  // as usual
    }
    void whatCannotBeIsRefused_data() {
        QTest::addColumn<QString>("label");
        QTest::addColumn<QString>("folder");
        QTest::addColumn<QString>("kind");
        QTest::newRow("no name") << QString() << QString("Goods") << QString();
        QTest::newRow("no folder") << QString("Crate") << QString() << QString();
        QTest::newRow("long name") << QString(201, 'x') << QString("Goods") << QString();
        QTest::newRow("long folder") << QString("Crate") << QString(201, 'x') << QString();
        QTest::newRow("no such kind") << QString("Crate") << QString("Goods") << QString("Ghost");
    }
    void whatCannotBeIsRefused() {
        QFETCH(QString, label);
        QFETCH(QString, folder);
        QFETCH(QString, kind);
        Yard p;
        const std::size_t steps = p.steps();
        const ItemFacts before = ItemFacts(*p.item("cube"));
        QVERIFY(!p.set("cube", [&](ItemFacts& f) {
            f.label = label.toStdString();
            f.folder = folder.toStdString();
            f.kind = kind.toStdString();
        }));
        QVERIFY(ItemFacts(*p.item("cube")) == before);
        QCOMPARE(p.steps(), steps);
    }
    void anItemThatIsNotThereHasNothingToBeSaidOf() {
        Yard p;
        QVERIFY(!p.set("ghost", [](ItemFacts& f) { f.label = f.folder = "x"; }));
    }
    void aNewNameKeepsWhatElseIsSaid() {
        Yard p;
        QVERIFY(p.set("cube", [](ItemFacts& f) { f.offered = false; }));
        edit::Draft draft(p.session(), "first", "Rename");
        QVERIFY(ops::renameItem(draft, p.name("cube"), "Crate", "Goods"));
        QVERIFY(draft.commit());
        QVERIFY(!p.item("cube")->offered);
        QCOMPARE(p.item("cube")->label, std::string("Crate"));
    }
    void aModelInCentimetresWithZUpIsPutRight() {
        Yard p;
        QVERIFY(test::importModel(p, test::demoFolder() / "items" / "bench.glb").has_value());
        const ObjectId bench = p.put("bench", {0, 0, 0});
        const std::string before = p.bytes();
        const base::Vec3 was = p.item("bench")->bounds.size();
        QVERIFY(p.set("bench", [](ItemFacts& f) { f.unit = model::FileUnit::Centimetre, f.up = model::FileUp::Z; }));
        const base::Vec3 now = p.item("bench")->bounds.size();
        QVERIFY(glm::length(now - base::Vec3(was.x, was.z, was.y) * 0.01) < 1e-6);
        QVERIFY(glm::length(p.scene().bounds(p.slot(bench)).size() - now) < 1e-6);  // what is placed follows
        QVERIFY(p.workspace().mesh(p.name("bench"))->bounds == p.item("bench")->bounds);
        QVERIFY(p.set("bench", [](ItemFacts& f) { f.up = model::FileUp::X; }));  // from its file, not from what it was
        QVERIFY(glm::length(p.item("bench")->bounds.size() - base::Vec3(was.y, was.x, was.z) * 0.01) < 1e-6);
        QVERIFY(p.session().undo() && p.session().undo());
        QVERIFY(glm::length(p.item("bench")->bounds.size() - was) < 1e-9);
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo());
        p.close();
        QVERIFY(p.reopen());
        QVERIFY(glm::length(p.item("bench")->bounds.size() - now) < 1e-6);
    }
    void aNodeOfItsFileIsItsCollisionAndIsNotShown() {
        Yard p;
        shape::Mesh mesh = shape::boxMesh({{0, 0, 0}, {2, 2, 2}});
        const shape::Mesh hull = shape::boxMesh({{0, 0, 0}, {1, 1, 1}});
        const auto first = static_cast<std::uint32_t>(mesh.positions.size()),
                   index = static_cast<std::uint32_t>(mesh.indices.size());
        mesh.nodes = {{"body", {{0, 0, 0}, {2, 2, 2}}, 0, index}, {"bump", {{0, 0, 0}, {1, 1, 1}}, index, index}};
        mesh.positions.insert(mesh.positions.end(), hull.positions.begin(), hull.positions.end());
        mesh.normals.insert(mesh.normals.end(), hull.normals.begin(), hull.normals.end());
        for (const std::uint32_t i : hull.indices) mesh.indices.push_back(first + i);
        mesh.submeshes.push_back({index, index, 0});
        shape::Mesh whole = mesh;
        const auto part = shape::takeNode(mesh, "bump");
        QVERIFY(part && part->triangleCount() == 12 && mesh.triangleCount() == 12);
        QVERIFY(part->bounds == (base::Aabb{{0, 0, 0}, {1, 1, 1}}) &&
                mesh.bounds == (base::Aabb{{0, 0, 0}, {2, 2, 2}}));
        QCOMPARE(mesh.nodes.size(), std::size_t{2});
        QVERIFY(!shape::takeNode(mesh, "bump"));  // nothing is left of it
        QVERIFY(!shape::takeNode(mesh, "body"));  // nothing would be left of the rest
        QVERIFY(!shape::takeNode(whole, "ghost"));
    }
    void aNodeThatTheFileHasNotCannotBeTheCollision() {
        Yard p;
        using model::CollisionShape;
        QVERIFY(!p.set("ramp", [](ItemFacts& f) { f.collision = CollisionShape::Part, f.collisionPart = "ghost"; }));
    }
    void itsOwnSizesAndCostGoBeforeThoseOfItsKind() {
        Yard p;
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Crate", ""); }));
        QVERIFY(
            p.set("cube", [](ItemFacts& f) { f.kind = "Crate", f.smallestSize = 0.5, f.largestSize = 2, f.cost = 7; }));
        const model::Kind* kind = p.session().library().kindNamed("Crate");
        QCOMPARE(model::costOf(kind, p.item("cube")), 7.0);
        QVERIFY(!model::sizesOf(kind, p.item("cube")).allows(3) && model::sizesOf(kind, nullptr).allows(3));
        ops::Placement placement;
        placement.item = p.name("cube");
        placement.size = 9;
        const auto made = test::asStep(p, [&](edit::Draft& d) { return ops::place(d, placement); });
        QVERIFY(made && std::abs(p.scene().local(p.slot(*made)).scale.x - 2) < 1e-12);
        QVERIFY(!p.set("cube", [](ItemFacts& f) { f.smallestSize = 3; }));
    }
    void theBasePointLandsOnTheSurface() {
        Yard p;
        QVERIFY(p.set("cube", [](ItemFacts& f) { f.basePoint = base::Vec3(0.5, 0.25, 0); }));
        ops::Placement placement;
        placement.item = p.name("cube");
        placement.position = {10, 2, 3};
        placement.rotation = base::fromDegrees({0, 90, 0});
        const auto made = test::asStep(p, [&](edit::Draft& d) { return ops::place(d, placement); });
        QVERIFY(made.has_value());
        QVERIFY(glm::length(p.scene().world(p.slot(*made)).point({0.5, 0.25, 0}) - placement.position) < 1e-9);
    }
    void listsOfPlacesAreKeptWithWhatANewerVersionSays() {
        Yard p;
        QVERIFY(p.set("cube", [](ItemFacts& f) {
            f.uses = {{"front", {0, 0, -1}, 180}}, f.berths = {{"lid", {0, 1, 0}, 0}};
        }));
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        p.close();
        const auto file = p.folder() / "project.json";
        QString text = QString::fromStdString(test::fileBytes(file));
        QVERIFY(text.contains("\"berths\""));
        text.replace("\"name\": \"lid\"", "\"name\": \"lid\", \"latch\": \"iron\"");
        test::writeBytes(file, text.toStdString());
        QVERIFY(p.reopen());
        QCOMPARE(p.item("cube")->berths.size(), std::size_t{1});
        QCOMPARE(p.item("cube")->uses.front().turnDegrees, 180.0);
        QVERIFY(p.set("cube", [](ItemFacts& f) { f.berths[0].at.y = 2; }));
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        QVERIFY(test::fileBytes(file).find("\"latch\": \"iron\"") != std::string::npos);
    }
    void objectsBecomeOfAnotherKindAndBack() {
        Yard p;
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Lamp post", ""); }));
        const ObjectId a = p.put("cube", {0, 0, 0}), b = p.put("cube", {4, 0, 0});
        const std::string before = p.bytes();
        const std::vector<ObjectId> both = {a, b};
        const auto aside = test::asStep(p, [&](edit::Draft& d) { return ops::changeKind(d, both, "Lamp post"); });
        QVERIFY(aside && *aside == 0);
        QCOMPARE(p.scene().kindText(p.slot(b)), std::string_view("Lamp post"));
        QVERIFY(test::asStep(p, [&](edit::Draft& d) { return ops::changeKind(d, both, ""); }));
        QCOMPARE(p.scene().kindText(p.slot(a)), std::string_view(""));
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::changeKind(d, both, "Ghost"); }));
        const std::vector<ObjectId> gone = {a, ObjectId{0xdead}};
        QVERIFY(!test::asStep(p, [&](edit::Draft& d) { return ops::changeKind(d, gone, "Lamp post"); }));
        QVERIFY(p.session().undo() && p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void valuesThatAKindDoesNotTakeAreKeptAside() {
        Yard p;
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Plain", ""); }));
        const ObjectId a = p.put("cube", {0, 0, 0});
        QVERIFY(test::asStep(p, [&](edit::Draft& d) {
            auto detail = std::make_shared<model::Detail>();
            detail->properties = {{"oil", {2.5}}, {"lit", {true}}};
            const model::DetailPtr value = detail;
            return d.setDetails({&a, 1}, {&value, 1});
        }));
        const auto aside = test::asStep(p, [&](edit::Draft& d) { return ops::changeKind(d, {&a, 1}, "Plain"); });
        QVERIFY(aside.has_value());
        QCOMPARE(*aside, std::size_t{2});
        QCOMPARE(p.scene().detail(p.slot(a))->properties.size(), std::size_t{2});  // they stay, by name
    }
    void aKindIsPutIntoTheStockUnderAFreeName() {
        Yard p;
        QVERIFY(test::asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Cube", ""); }));  // an item is called that
        const auto key = test::asStep(p, [](edit::Draft& d) { return ops::putInStock(d, "Cube"); });
        QVERIFY(key.has_value());
        QVERIFY(*key != "cube");
        const model::Item* made = p.item(key->c_str());
        QVERIFY(made != nullptr && made->kind == "Cube" && made->label == "Cube" && made->offered);
        const auto second = test::asStep(p, [](edit::Draft& d) { return ops::putInStock(d, "Cube"); });
        QVERIFY(second && *second != *key);
        QVERIFY(!test::asStep(p, [](edit::Draft& d) { return ops::putInStock(d, "Ghost"); }));
        QVERIFY(p.session().undo() && p.session().undo());
        QVERIFY(p.item(key->c_str()) == nullptr);
    }
};

MELLOW_TEST(ItemsTest)
}  // namespace items_test
#include "items_test.moc"
