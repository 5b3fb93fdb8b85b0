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
using ops::ItemFacts;

struct Yard : test::Blocks {
    Yard() {
        if (!set("cube", [](ItemFacts& f) { f.label = "Cube", f.folder = "Blocks"; })) qFatal("no name for the cube");
    }
    const model::Item* item(const char* key) { return session().library().item(session().intern(key)); }
    base::Status set(const char* key, const std::function<void(ItemFacts&)>& change) {
        edit::Draft draft(session(), "first", "Set item");
        ItemFacts facts = item(key) != nullptr ? ops::factsOf(*item(key)) : ItemFacts{};
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
        const ItemFacts before = ops::factsOf(*p.item("cube"));
        QVERIFY(p.set("cube", [](ItemFacts& f) {
            f.label = "Crate";
            f.folder = "Goods";
            f.collision = model::CollisionShape::Box;
            f.offered = false;
        }));
        const ItemFacts after = ops::factsOf(*p.item("cube"));
        QCOMPARE(after.label, std::string("Crate"));
        QVERIFY(!after.offered && after.collision == model::CollisionShape::Box);
        QVERIFY(p.session().undo());
        QVERIFY(ops::factsOf(*p.item("cube")) == before);
        QVERIFY(p.session().redo());
        QVERIFY(ops::factsOf(*p.item("cube")) == after);
        p.close();
        QVERIFY(p.reopen());
        QVERIFY(ops::factsOf(*p.item("cube")) == after);  // from the history alone
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
        const ItemFacts before = ops::factsOf(*p.item("cube"));
        QVERIFY(!p.set("cube", [&](ItemFacts& f) {
            f.label = label.toStdString();
            f.folder = folder.toStdString();
            f.kind = kind.toStdString();
        }));
        QVERIFY(ops::factsOf(*p.item("cube")) == before);
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
