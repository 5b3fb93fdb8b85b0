// The table: what cells say, sorting and filters, cells changed by plan, rows matched by id or name.
#include "ops/table.h"
#include "support/test_main.h"

#include <QtTest>

#include "support/blocks.h"
#include "support/steps.h"

namespace table_test {

using base::ObjectId;
using base::Vec3;
using ops::TableColumn;
using test::asStep;

struct Posts : test::Blocks {
    ObjectId a, b, c;
    Posts() {
        const std::string key;
        const std::optional<model::ValueMap> kind = model::ValueMap{
            {"name", {std::string("Post")}},
            {"smallestSize", {0.5}},
            {"largestSize", {2.0}},
            {"properties",
             {model::ValueList{{model::ValueMap{{"name", {std::string("oil")}},
                                                {"type", {std::string("number")}},
                                                {"low", {0.0}},
                                                {"high", {5.0}},
                                                {"default", {1.0}}}},
                               {model::ValueMap{{"name", {std::string("lit")}}, {"type", {std::string("bool")}}}}}}}};
        edit::Draft draft(session(), "first", "Kind");
        if (!draft.setEntries(model::data::kindDocument("post"), {&key, 1}, {&kind, 1}) || !draft.commit())
            qFatal("no kind");
        a = post("Post 1", {1, 0, 0}, {0, 90, 0});
        b = post("Post 2", {5, 0, 2}, {0, -30, 0});
        c = post("Post 10", {3, 1, 0}, {});
    }
    ObjectId post(const char* called, const Vec3& at, const Vec3& turn) {
        const ObjectId id = put("cube", at, turn);
        edit::Draft draft(session(), "first", "Post");
        const base::Name text = name(called), kind = name("Post");
        if (!draft.setLabels(model::LabelField::Name, {&id, 1}, {&text, 1}) ||
            !draft.setLabels(model::LabelField::Kind, {&id, 1}, {&kind, 1}) || !draft.commit())
            qFatal("no post");
        return id;
    }
    std::vector<TableColumn> columns() { return ops::tableColumns(session().library(), scene()); }
    TableColumn column(const char* key) {
        for (const TableColumn& one : columns())
            if (one.key == key) return one;
        qFatal("no such column");
    }
    ops::TableSource source(ObjectId from = {}) { return {session().library(), scene(), from}; }
    std::string cell(ObjectId id, const char* key, ObjectId from = {}) {
        return ops::cellText(source(from), slot(id), column(key));
    }
    ops::CellPlan plan(std::vector<ops::CellInput> cells, ObjectId from = {}) {
        return ops::planCells(source(from), cells);
    }
    base::Status write(const ops::CellPlan& plan) {
        return asStep(*this, [&](edit::Draft& d) { return ops::apply(d, plan); });
    }
};

class TableTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void cellsSayWhatIs() {
        Posts p;
        QCOMPARE(p.cell(p.b, "name"), std::string("Post 2"));
        QCOMPARE(p.cell(p.b, "x"), std::string("5"));
        QCOMPARE(p.cell(p.b, "turnY"), std::string("-30"));
        QCOMPARE(p.cell(p.b, "oil"), std::string("1"));
        QCOMPARE(p.cell(p.b, "lit"), std::string("no"));
        QCOMPARE(p.cell(p.b, "hidden"), std::string("no"));
        QCOMPARE(p.cell(p.b, "children"), std::string("0"));
        QCOMPARE(p.cell(p.b, "id"), base::toText(p.b));
    }
    void posesCanBeSeenFromAnotherObject() {
        Posts p;  // a looks along +x: what is 4 m along x and 2 along z of it
        QCOMPARE(p.cell(p.b, "x", p.a), std::string("-2"));
        QCOMPARE(p.cell(p.b, "z", p.a), std::string("4"));
        QCOMPARE(p.cell(p.b, "turnY", p.a), std::string("-120"));
        QCOMPARE(p.cell(p.a, "turnY", p.a), std::string("0"));
        const auto plan = p.plan({{p.b, p.column("z"), "6"}, {p.b, p.column("turnY"), "0"}}, p.a);
        QVERIFY(plan.problems.empty() && p.write(plan));
        QVERIFY(glm::length(p.scene().world(p.slot(p.b)).translation - Vec3(7, 0, 2)) < 1e-9);
        QCOMPARE(p.cell(p.b, "turnY"), std::string("90"));
    }
    void anglesAreAbove180BelowAndUpTo180() {
        Posts p;
        QVERIFY(p.write(p.plan({{p.a, p.column("turnY"), "540"}})));
        QCOMPARE(p.cell(p.a, "turnY"), std::string("180"));
        QVERIFY(p.write(p.plan({{p.a, p.column("turnY"), "-190"}})));
        QCOMPARE(p.cell(p.a, "turnY"), std::string("170"));
    }
    void aPlanListsChangesAndProblemsAndWritesNothing() {
        Posts p;
        const std::string before = p.bytes();
        const auto plan = p.plan({{p.a, p.column("oil"), "2.5", 1},
                                  {p.a, p.column("x"), "1", 1},  // as it is
                                  {p.b, p.column("oil"), "9", 2},
                                  {p.b, p.column("sizeX"), "3", 2},
                                  {p.c, p.column("lit"), "perhaps", 3},
                                  {p.c, p.column("kind"), "Barge", 3},
                                  {p.c, p.column("y"), "+= 2", 3}});
        QCOMPARE(p.bytes(), before);
        QCOMPARE(plan.changes.size(), std::size_t{2});
        QCOMPARE(plan.changes[0].before, std::string("1"));
        QCOMPARE(plan.changes[0].after, std::string("2.5"));
        QCOMPARE(plan.problems.size(), std::size_t{4});
        QCOMPARE(plan.problems[0].row, std::size_t{2});
        QCOMPARE(plan.problems[0].column, std::string("oil"));
        QVERIFY(!p.write(plan));
    }
    void severalColumnsAreOneStep() {
        Posts p;
        const auto plan = p.plan({{p.a, p.column("name"), " Gate post "},
                                  {p.a, p.column("x"), "2"},
                                  {p.a, p.column("hidden"), "yes"},
                                  {p.a, p.column("oil"), "*= 3"},
                                  {p.c, p.column("sizeY"), "1.5"}});
        QVERIFY(p.write(plan));
        QCOMPARE(p.cell(p.a, "name"), std::string("Gate post"));
        QCOMPARE(p.cell(p.a, "oil"), std::string("3"));
        QCOMPARE(p.cell(p.a, "hidden"), std::string("yes"));
        QCOMPARE(p.cell(p.c, "sizeY"), std::string("1.5"));
        // What was not changed is what it was to the last bit.
        QVERIFY(p.scene().local(p.slot(p.a)).rotation == base::fromDegrees({0, 90, 0}));
    }
    void whatIsProtectedIsAProblem() {
        Posts p;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setFlag(d, {&p.a, 1}, model::flags::kProtected, true); }));
        QCOMPARE(p.plan({{p.a, p.column("x"), "2"}}).problems.size(), std::size_t{1});
        QVERIFY(p.write(p.plan({{p.a, p.column("protected"), "no"}})));
        QVERIFY(p.plan({{p.a, p.column("x"), "2"}}).problems.empty());
    }
    void filtersAndSorting() {
        Posts p;
        auto fitting = [&](const char* text) {
            const ops::TableFilter filter(text, p.columns());
            std::string names;
            for (ObjectId id : {p.a, p.b, p.c})
                if (filter.fits(p.source(), p.slot(id))) names += p.cell(id, "name") + " ";
            return names;
        };
        QCOMPARE(fitting("x=2..5"), std::string("Post 2 Post 10 "));
        QCOMPARE(fitting("x>1 z=0"), std::string("Post 10 "));
        QCOMPARE(fitting("name=*1*"), std::string("Post 1 Post 10 "));
        QCOMPARE(fitting("kind:Post turnY<0"), std::string("Post 2 "));
        QCOMPARE(fitting("oil=..0.5"), std::string(""));
        std::vector<model::Slot> rows = {p.slot(p.c), p.slot(p.b), p.slot(p.a)};
        ops::sortRows(p.source(), rows, p.column("name"), false);
        QVERIFY((rows == std::vector{p.slot(p.a), p.slot(p.b), p.slot(p.c)}));
        ops::sortRows(p.source(), rows, p.column("x"), true);
        QVERIFY((rows == std::vector{p.slot(p.b), p.slot(p.c), p.slot(p.a)}));
    }
    void rowsAreMatchedByIdOrName() {
        Posts p;
        const auto byId = ops::planRows(p.source(), {{"id", "name", "oil"}, {base::toText(p.a), "First", "2"}});
        QVERIFY(byId.problems.empty());
        QCOMPARE(byId.changes.size(), std::size_t{2});
        const auto byName = ops::planRows(p.source(), {{"name", "oil"}, {"Post 10", "3"}, {"Post 2", "1"}});
        QVERIFY(byName.problems.empty());
        QCOMPARE(byName.changes.size(), std::size_t{1});
        QVERIFY(p.write(byName));
        QCOMPARE(p.cell(p.c, "oil"), std::string("3"));
    }
    void faultyRowsAreNamedByRowAndColumn() {
        Posts p;
        p.post("Post 2", {9, 0, 0}, {});
        const auto plan = ops::planRows(p.source(), {{"name", "x", "oil"},
                                                     {"Post 1", "4", "1"},
                                                     {"Post 2", "4", "1"},
                                                     {"Nobody", "4", "1"},
                                                     {"Post 10", "wide", "1"},
                                                     {"Post 10", "1"}});
        QCOMPARE(plan.changes.size(), std::size_t{1});
        QCOMPARE(plan.problems.size(), std::size_t{4});
        QCOMPARE(plan.problems[0].row, std::size_t{3});
        QVERIFY(plan.problems[0].message.find("2 objects") != std::string::npos);
        QCOMPARE(plan.problems[2].column, std::string("x"));
        QCOMPARE(ops::planRows(p.source(), {}).problems.size(), std::size_t{1});
        QCOMPARE(ops::planRows(p.source(), {{"x"}, {"1"}}).problems.size(), std::size_t{1});
        QCOMPARE(ops::planRows(p.source(), {{"name", "colour"}}).problems.size(), std::size_t{1});
    }
    /// What the table writes out, it reads back as no change at all.
    void allCellsReadBackAsTheyAre() {
        Posts p;
        std::vector<std::vector<std::string>> rows(1);
        for (const TableColumn& column : p.columns()) rows[0].push_back(column.key);
        for (model::Slot s : p.scene().subtree(model::kNoSlot)) {
            rows.emplace_back();
            for (const TableColumn& column : p.columns()) rows.back().push_back(ops::cellText(p.source(), s, column));
        }
        const auto plan = ops::planRows(p.source(), rows);
        QVERIFY(plan.problems.empty());
        QVERIFY(plan.changes.empty());
    }
    void seriesGoOn() {
        using Texts = std::vector<std::string>;
        QCOMPARE(ops::series({"2"}, 4), (Texts{"2", "3", "4", "5"}));
        QCOMPARE(ops::series({"1", "1.5"}, 4), (Texts{"1", "1.5", "2", "2.5"}));
        QCOMPARE(ops::series({"Post 8"}, 3), (Texts{"Post 8", "Post 9", "Post 10"}));
        QCOMPARE(ops::series({"open", "shut"}, 5), (Texts{"open", "shut", "open", "shut", "open"}));
        QVERIFY(ops::series({}, 3).empty());
    }
    void kindsItemsAndRecordsAreWrittenByName() {
        Posts p;
        const std::string key;
        const std::optional<model::ValueMap> head = model::ValueMap{{"label", {std::string("Lamp")}}};
        const std::string glow = base::toText(ObjectId{0x1234}), dim = base::toText(ObjectId{0x1235});
        auto named = [](const char* name) { return std::optional(model::ValueMap{{"name", {std::string(name)}}}); };
        const std::optional<model::ValueMap> lamp =
            model::ValueMap{{"name", {std::string("Lit post")}},
                            {"properties",
                             {model::ValueList{{model::ValueMap{{"name", {std::string("lamp")}},
                                                                {"type", {std::string("record")}},
                                                                {"records", {std::string("lamps")}}}}}}}};
        const auto glowing = named("Glow"), dimmed = named("Dim");
        QVERIFY(asStep(p, [&](edit::Draft& d) -> base::Status {
            const std::string lamps = model::data::recordsDocument("lamps");
            if (auto s = d.setEntries(lamps, {&key, 1}, {&head, 1}); !s) return s;
            if (auto s = d.setEntries(lamps, {&glow, 1}, {&glowing, 1}); !s) return s;
            if (auto s = d.setEntries(lamps, {&dim, 1}, {&dimmed, 1}); !s) return s;
            return d.setEntries(model::data::kindDocument("lit-post"), {&key, 1}, {&lamp, 1});
        }));
        const std::string before = p.bytes();
        const auto plan = ops::planRows(
            p.source(), {{"name", "kind", "item"}, {"Post 1", "lit post", "ramp"}, {"Post 2", "Post", "cube"}});
        QVERIFY(plan.problems.empty());
        QCOMPARE(plan.changes.size(), std::size_t{2});
        QVERIFY(p.write(plan));
        QCOMPARE(p.cell(p.a, "kind"), std::string("Lit post"));
        QCOMPARE(p.cell(p.a, "item"), std::string("ramp"));
        const auto records = ops::planRows(p.source(), {{"name", "lamp"}, {"Post 1", "dim"}});
        QVERIFY(records.problems.empty());
        QVERIFY(p.write(records));
        QCOMPARE(p.cell(p.a, "lamp"), std::string("Dim"));
        QVERIFY(p.bytes().find(dim) != std::string::npos);
        const std::string items(model::data::kItems), ramp = "ramp";
        const std::optional<model::ValueMap> lit = model::ValueMap{{"kind", {std::string("Lit post")}}};
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setEntries(items, {&ramp, 1}, {&lit, 1}); }));
        const auto alone = ops::planRows(p.source(), {{"name", "item"}, {"Post 2", "ramp"}});
        QVERIFY(alone.written.kinds == std::vector<std::string>{"Lit post"});
        // The kind that the table says stays, also when it is the present one and the item has another.
        const auto both = ops::planRows(p.source(), {{"name", "kind", "item"}, {"Post 2", "Post", "ramp"}});
        QVERIFY(both.written.kindred.empty() && both.written.replaced.size() == 1);
        QVERIFY(ops::planRows(p.source(), {{"name", "lamp"}, {"Post 1", "Dim"}}).changes.empty());
        QCOMPARE(ops::planRows(p.source(), {{"name", "lamp"}, {"Post 1", "Bright"}}).problems.size(), std::size_t{1});
        QCOMPARE(ops::planRows(p.source(), {{"name", "kind"}, {"Post 1", "Ghost"}}).problems.size(), std::size_t{1});
        QCOMPARE(ops::planRows(p.source(), {{"name", "item"}, {"Post 1", "ghost"}}).problems.size(), std::size_t{1});
        QVERIFY(p.session().undo() && p.session().undo() && p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void whatATableCannotSayIsSaid() {
        Posts p;
        const auto twice = ops::planRows(p.source(), {{"name", "oil", "oil"}, {"Post 1", "2", "3"}});
        QVERIFY(twice.changes.empty());
        QCOMPARE(twice.problems.size(), std::size_t{1});
        const auto passed = ops::planRows(p.source(), {{"id", "oil", "parent", "children"},
                                                       {base::toText(p.a), "2", "Yard", "0"},
                                                       {base::toText(p.b), "1", "", "7"}});
        QVERIFY(passed.problems.empty());
        QCOMPARE(passed.changes.size(), std::size_t{1});
        QCOMPARE(passed.remarks.size(), std::size_t{2});  // a parent, and a count of children
    }
    void numbersAreWrittenWithoutNoise() {
        Posts p;
        base::Transform pose = p.scene().local(p.slot(p.a));
        pose.position = {3.66e-8, -49.599999994, 0.123456789};
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setTransforms({&p.a, 1}, {&pose, 1}); }));
        QCOMPARE(p.cell(p.a, "x"), std::string("0"));
        QCOMPARE(p.cell(p.a, "y"), std::string("-49.6"));
        QCOMPARE(p.cell(p.a, "z"), std::string("0.123456789"));
        const std::string x = p.cell(p.a, "x"), y = p.cell(p.a, "y");
        QVERIFY(ops::planRows(p.source(), {{"name", "x", "y"}, {"Post 1", x, y}}).changes.empty());
    }
};

MELLOW_TEST(TableTest)
}  // namespace table_test
#include "table_test.moc"
