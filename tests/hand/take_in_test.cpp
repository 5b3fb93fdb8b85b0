#include <QtTest>

#include "hand/take_in.h"
#include "hand/write.h"
#include "io/json_text.h"
#include "io/scene_file.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace take_in_test {

using base::ObjectId;
using model::Slot;

hand::Recipe recipeOf(const std::string& json) {
    std::vector<std::string> problems;
    hand::Recipe recipe = hand::recipeFrom("mine", io::toValues(io::Json::parse(json)), problems);
    for (const std::string& problem : problems) qFatal("%s", problem.c_str());
    return recipe;
}

/// A table of what stands where.
hand::Recipe tableRecipe() {
    return recipeOf(
        "{\"objects\": \"item:?*\", \"form\": \"csv\", \"decimals\": 3, \"fields\": [{\"name\": \"id\", \"is\": "
        "\"id\"}, "
        "{\"name\": \"name\", \"is\": \"name\"}, {\"name\": \"item\", \"is\": \"item\", \"names\": \"items\"}, "
        "{\"name\": \"x\", \"is\": \"x\"}, {\"name\": \"y\", \"is\": \"y\"}, {\"name\": \"z\", \"is\": \"z\"}, "
        "{\"name\": \"heading\", \"is\": \"turnY\"}, {\"name\": \"oil\", \"is\": \"oil\"}], \"names\": {\"items\": "
        "{}}}");
}

class TakeInTest : public QObject {
    Q_OBJECT
    std::unique_ptr<test::DemoCopy> demo_;
    std::unique_ptr<io::Workspace> workspace_;
    hand::Recipe recipe_ = tableRecipe();

    edit::Session& session() { return *workspace_->session; }
    const model::Scene& basin() { return **session().scene("lower-basin"); }
    hand::Source source() {
        return {basin(), session().library(), [this](ObjectId id) { return session().prefabName(id); }};
    }
    Slot named(std::string_view name) {
        for (const Slot s : basin().subtree(model::kNoSlot))
            if (basin().nameText(s) == name) return s;
        return model::kNoSlot;
    }
    std::string idOf(std::string_view name) { return base::toText(basin().id(named(name))); }
    hand::TakeInPlan planOf(const std::string& rows) {
        const auto list = hand::read(recipe_, "id,name,item,x,y,z,heading,oil\n" + rows, "list.csv");
        if (!list) qFatal("%s", list.error().message.c_str());
        return hand::planTakeIn(source(), session(), recipe_, *list);
    }
    std::string text() { return io::formatScene(basin()); }
    base::Status takeIn(const hand::TakeInPlan& plan, const hand::TakeInChoice& choice = {}) {
        edit::Draft draft(session(), "lower-basin", "Take in");
        if (base::Status done = hand::takeIn(draft, plan, choice); !done) return done;
        const auto step = draft.commit();
        return step ? base::Status{} : base::Status(tl::unexpected(step.error()));
    }
    static bool says(const hand::TakeInPlan& plan, const std::string& words) {
        return std::any_of(plan.problems.begin(), plan.problems.end(),
                           [&](const hand::ListProblem& p) { return p.message.find(words) != std::string::npos; });
    }

  private Q_SLOTS:
    void init() {
        demo_ = std::make_unique<test::DemoCopy>();
        workspace_ = *io::openWorkspace(demo_->folder(), io::OpenMode::Edit, test::chance());
    }
    void cleanup() { workspace_.reset(); }

    void newChangedAndGoneAreTold() {
        const hand::TakeInPlan plan =
            planOf(idOf("Bench 1") + ",Long bench,bench,1,2,3,450,\n,Another,bench,5,0,6,0,\n" +
                   idOf("Lantern post 1") + ",Lantern post 1,lantern-post,-62,0,15.3,0,3.25\n");
        QVERIFY(plan.problems.empty());
        QCOMPARE(plan.added, std::size_t{1});
        QVERIFY(plan.changed.contains(basin().id(named("Bench 1"))));
        QVERIFY(plan.gone.size() > 100);
        const std::string before = text();
        QVERIFY(takeIn(plan).has_value());
        const Slot bench = named("Long bench");
        QVERIFY(glm::length(basin().world(bench).translation - base::Vec3(1, 2, 3)) < 1e-9);
        QVERIFY(std::abs(base::toDegrees(base::toTransform(basin().world(bench)).rotation).y - 90) < 1e-6);
        QCOMPARE(basin().itemText(named("Another")), std::string_view("bench"));
        QVERIFY(!basin().kindText(named("Another")).empty());  // as one that is placed
        const auto& properties = basin().detail(named("Lantern post 1"))->properties;
        QVERIFY(*model::valueOf(properties, "oil") == model::Value{3.25});
        QVERIFY(session().undo().has_value());
        QCOMPARE(text(), before);
        QVERIFY(session().redo().has_value());
        QVERIFY(named("Another") != model::kNoSlot);
    }
    void whatIsGoneGoesOnlyWhenThatIsChosen() {
        const hand::TakeInPlan plan = planOf(idOf("Bench 1") + ",Bench 1,bench,1,0,1,0,\n");
        const std::size_t all = basin().objectCount();
        {
            edit::Draft draft(session(), "lower-basin", "Take in");
            QVERIFY(hand::takeIn(draft, plan, {}).has_value());
            QCOMPARE(basin().objectCount(), all);
        }
        // Within instances nothing can go; so the refusal is whole.
        const std::string before = text();
        (void)takeIn(plan, {true, false});
        if (text() != before) QVERIFY(basin().objectCount() < all);
    }
    void threeFaultsAreNamedAndNothingHappens() {
        const hand::TakeInPlan plan =
            planOf(idOf("Bench 1") + ",Bench 1,bench,far,0,1,0,\n,New,no-such-item,1,2,3,0,\n" +
                   "nonsense,Third,bench,1,2,3,0,\n" + idOf("Bench 2") + ",Bench 2,bench,4,0,4,0,\n" +
                   idOf("Lantern post 1") + ",Lantern post 1,lantern-post,-62,0,15.3,0,99\nshort,row\n");
        QVERIFY(says(plan, "a number was expected"));
        QVERIFY(says(plan, "There is no item “no-such-item”"));
        QVERIFY(says(plan, "“nonsense” is no id"));
        QVERIFY(says(plan, "2 cells; 8 were expected"));
        QCOMPARE(plan.problems.size(), std::size_t{5});
        QCOMPARE(plan.unknown.at("items").at("no-such-item"), std::size_t{1});
        const std::string before = text();
        const base::Status refused = takeIn(plan);
        QVERIFY(!refused.has_value());
        QVERIFY(refused.error().message.find("Entry ") != std::string::npos);
        QCOMPARE(text(), before);
        // Left out by choice: what is right happens.
        QVERIFY(takeIn(plan, {false, true}).has_value());
        QVERIFY(glm::length(basin().world(named("Bench 2")).translation - base::Vec3(4, 0, 4)) < 1e-9);
        QCOMPARE(named("New"), model::kNoSlot);
    }
    void namesAreToldOnceAndRemembered() {
        {
            edit::Draft draft(session(), "lower-basin", "Add the recipe");
            QVERIFY(hand::putRecipe(draft, "seats", hand::valuesOf(recipe_)).has_value());
            QVERIFY(draft.commit().has_value());
        }
        QCOMPARE(planOf(",New,Seat07,1,2,3,0,\n").unknown.size(), std::size_t{1});
        {
            edit::Draft draft(session(), "lower-basin", "Take in");
            QVERIFY(hand::remember(draft, "seats", "items", {{"Seat07", "bench"}}).has_value());
            QVERIFY(draft.commit().has_value());
        }
        std::vector<std::string> problems;
        recipe_ = hand::recipeFrom("seats", session().library().recipes.at("seats"), problems);
        QVERIFY(problems.empty());
        const hand::TakeInPlan plan = planOf(",New,Seat07,1,2,3,0,\n");
        QVERIFY(plan.problems.empty());
        QCOMPARE(plan.added, std::size_t{1});
        QVERIFY(takeIn(plan).has_value());
        QCOMPARE(basin().itemText(named("New")), std::string_view("bench"));
    }
    void anglesOfManyTurnsAreToldAndBroughtIntoRange() {
        const hand::TakeInPlan plan = planOf(",New,bench,1,2,3,3690,\n");
        QVERIFY(plan.problems.empty());
        QVERIFY(std::any_of(plan.told.begin(), plan.told.end(),
                            [](const std::string& told) { return told.find("full turn") != std::string::npos; }));
        QVERIFY(takeIn(plan).has_value());
        QVERIFY(std::abs(base::toDegrees(basin().local(named("New")).rotation).y - 90) < 1e-6);
    }
    void anglesInRadiansAreToldAndReadSo() {
        const std::string csv =
            "name,item,x,y,z,heading\nA,bench,1,0,2,1.5708\nB,bench,3,0,2,-0.7854\nC,bench,5,0,2,3.1416\n";
        const auto recipe = hand::guessed(csv, "others.csv");
        QVERIFY(recipe && recipe->convention.angles == hand::AngleUnit::Radians);
        const auto list = hand::read(*recipe, csv, "others.csv");
        const hand::TakeInPlan plan = hand::planTakeIn(source(), session(), *recipe, *list);
        const auto tells = [](const hand::TakeInPlan& of, const char* words) {
            return std::any_of(of.told.begin(), of.told.end(),
                               [&](const std::string& told) { return told.find(words) != std::string::npos; });
        };
        QVERIFY(tells(plan, "read as radians"));
        QVERIFY(takeIn(plan).has_value());
        QVERIFY(std::abs(base::toDegrees(basin().local(named("A")).rotation).y - 90) < 1e-2);
        // A recipe that says degrees is obeyed, and doubted.
        QVERIFY(tells(planOf(",D,bench,1,0,2,1.5708,\n,E,bench,3,0,2,-0.7854,\n,F,bench,5,0,2,3.1416,\n"),
                      "look like radians"));
        QVERIFY(!tells(planOf(",D,bench,1,0,2,1,\n,E,bench,3,0,2,2,\n,F,bench,5,0,2,3,\n"), "radians"));
        QVERIFY(!tells(planOf(",D,bench,1,0,2,1.5,\n,E,bench,3,0,2,90,\n,F,bench,5,0,2,3,\n"), "radians"));
    }
    void whatTheListHasIsNotTakenAlongWithWhatItHasNoMore() {
        ObjectId post, crate, lamp;
        {
            edit::Draft draft(session(), "lower-basin", "Nest");
            model::ObjectRecord a, b, c;
            a.id = post = session().random().nextId();
            b.id = crate = session().random().nextId();
            c.id = lamp = session().random().nextId();
            b.parent = a.id;
            c.parent = b.id;  // two deep, and without an item: the recipe does not take it
            a.item = session().intern("bench");
            b.item = session().intern("pear-crate");
            for (auto* r : {&a, &b, &c}) r->name = session().intern("Nested");
            const model::ObjectRecord all[] = {a, b, c};
            QVERIFY(draft.create(all) && draft.commit());
        }
        std::string rows;
        const hand::Written out = hand::write(source(), recipe_);
        for (const auto& span : out.files[0].spans)
            if (span.id != post) rows += out.files[0].text.substr(span.from, span.to - span.from) + "\n";
        hand::TakeInPlan plan = planOf(rows);
        QCOMPARE(plan.gone, (std::vector<ObjectId>{post}));
        QVERIFY(plan.removable.empty());
        QVERIFY(std::any_of(plan.told.begin(), plan.told.end(),
                            [](const std::string& told) { return told.find("They stay") != std::string::npos; }));
        QVERIFY(takeIn(plan, {true, false}).has_value());
        QVERIFY(basin().find(post) != model::kNoSlot && basin().find(crate) != model::kNoSlot);
        // Gone together they go, with what lies below; what that is, is told.
        rows.clear();
        for (const auto& span : out.files[0].spans)
            if (span.id != post && span.id != crate)
                rows += out.files[0].text.substr(span.from, span.to - span.from) + "\n";
        plan = planOf(rows);
        QCOMPARE(plan.removable.size(), std::size_t{2});
        QVERIFY(std::any_of(plan.told.begin(), plan.told.end(),
                            [](const std::string& told) { return told.find("does not take: ") != std::string::npos; }));
        const std::string before = text();
        QVERIFY(takeIn(plan, {true, false}).has_value());
        QVERIFY(basin().find(post) == model::kNoSlot && basin().find(lamp) == model::kNoSlot);
        QVERIFY(session().undo().has_value());
        QCOMPARE(text(), before);
    }
    void whatAListCannotChangeIsTold() {
        const hand::Recipe recipe = recipeOf(
            "{\"form\": \"csv\", \"fields\": [{\"name\": \"id\", \"is\": \"id\"}, {\"name\": \"below\", \"is\": "
            "\"parent\"}]}");
        const auto list =
            hand::read(recipe, "id,below\n" + idOf("Bench 1") + "," + idOf("Lantern post 1") + "\n", "list.csv");
        const hand::TakeInPlan plan = hand::planTakeIn(source(), session(), recipe, *list);
        QVERIFY(plan.empty() && plan.problems.empty());
        QVERIFY(std::any_of(plan.told.begin(), plan.told.end(), [](const std::string& told) {
            return told.find("“below” cannot be changed") != std::string::npos;
        }));
    }
    void absurdNumbersAreNoPlaces() {
        for (const char* row : {",New,bench,1e300,2,3,0,\n", ",New,bench,nan,2,3,0,\n", ",New,bench,inf,2,3,0,\n",
                                ",New,bench,1,2,3,1e999,\n", ",New,bench,20000000,2,3,0,\n"}) {
            const hand::TakeInPlan plan = planOf(row);
            QVERIFY2(!plan.problems.empty(), row);
            QCOMPARE(plan.added, std::size_t{0});
        }
    }
    void anObjectTwiceInTheListIsAFault() {
        const std::string row = idOf("Bench 1") + ",Bench 1,bench,1,0,1,0,\n";
        QVERIFY(says(planOf(row + row), "already"));
    }
    void columnsOfOthersAreGuessedByTheirNames() {
        const std::string csv = "Label;Model;PosX;PosY;PosZ;Yaw;Remark\nSeat by the water;bench;1;0;2;90;new\n";
        const auto recipe = hand::guessed(csv, "others.csv");
        QVERIFY(recipe.has_value());
        QCOMPARE(recipe->separator, std::string(";"));
        const auto list = hand::read(*recipe, csv, "others.csv");
        QVERIFY(list.has_value());
        const hand::TakeInPlan plan = hand::planTakeIn(source(), session(), *recipe, *list);
        QCOMPARE(plan.added, std::size_t{1});
        QVERIFY(takeIn(plan).has_value());
        QCOMPARE(basin().itemText(named("Seat by the water")), std::string_view("bench"));
        QVERIFY(std::abs(base::toDegrees(basin().local(named("Seat by the water")).rotation).y - 90) < 1e-6);
        const std::string json =
            "{\"v\": 1, \"objects\": [{\"type\": \"bench\", \"position\": [1, 2, 3], \"scale\": 2}]}";
        const auto second = hand::guessed(json, "others.json");
        QVERIFY(second.has_value());
        const auto read = hand::read(*second, json, "others.json");
        QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
        const hand::TakeInPlan found = hand::planTakeIn(source(), session(), *second, *read);
        QCOMPARE(found.added, std::size_t{1});
        QCOMPARE(found.written.records.at(0).local.scale, base::Vec3(2.0));
        QVERIFY(!hand::guessed("", "empty").has_value());
        QVERIFY(!hand::guessed("{\"a\": 1}", "no list").has_value());
        QVERIFY(!hand::guessed("<a", "broken").has_value());
    }
    void whatIsNoEntryTakesNoOtherAway() {
        const hand::Recipe lines =
            recipeOf("{\"form\": \"json lines\", \"fields\": [{\"name\": \"item\", \"is\": \"item\"}]}");
        const auto list =
            hand::read(lines, "{\"item\": \"bench\"}\nnonsense\n{\"item\": \"bench\"}\n[1]\n", "list.jsonl");
        QVERIFY(list.has_value());
        QCOMPARE(list->entries.size(), std::size_t{2});
        QCOMPARE(list->problems.size(), std::size_t{2});
        QCOMPARE(hand::planTakeIn(source(), session(), lines, *list).added, std::size_t{2});
    }
    void aTextThatDoesNotFitIsSoonKnownNotTo() {
        const hand::Recipe text = recipeOf(
            "{\"form\": \"text\", \"each\": \"{name} {item} {kind} {parent} {path} {scene} {x} {y} {z}\", \"between\": "
            "\"\\n\", \"fields\": [{\"name\": \"name\", \"is\": \"name\"}, {\"name\": \"item\", \"is\": \"item\"}, "
            "{\"name\": \"kind\", \"is\": \"kind\"}, {\"name\": \"parent\", \"is\": \"parent\"}, {\"name\": \"path\", "
            "\"is\": \"path\"}, {\"name\": \"scene\", \"is\": \"scene\"}, {\"name\": \"x\", \"is\": \"x\"}, {\"name\": "
            "\"y\", \"is\": \"y\"}, {\"name\": \"z\", \"is\": \"z\"}]}");
        std::string lines;
        for (int i = 0; i < 40; ++i) lines += std::string(200, ' ') + "none\n";
        const auto list = hand::read(text, lines + "a b c d e f 1 2 3", "list.txt");
        QVERIFY(list.has_value());
        QCOMPARE(list->entries.size(), std::size_t{1});
        QCOMPARE(list->problems.size(), std::size_t{40});
        QVERIFY(list->problems.back().message.find("Line 40") != std::string::npos);
    }
    void brokenListsAreRefusedWithTheirPlace() {
        const hand::Recipe json =
            recipeOf("{\"fields\": [{\"name\": \"x\", \"is\": \"x\"}], \"inside\": {\"list\": \"*\"}}");
        for (const char* text : {"", "{", "{\"list\": 3}", "[]", "{\"list\": [1"}) {
            const auto list = hand::read(json, text, "list.json");
            QVERIFY2(!list.has_value(), text);
            QVERIFY2(list.error().message.find("list.json") != std::string::npos, list.error().message.c_str());
        }
        const hand::Recipe xml = recipeOf("{\"form\": \"xml\", \"fields\": [{\"name\": \"x\", \"is\": \"x\"}]}");
        for (const char* text : {"", "<level><thing>", "<level><other/></level>"})
            QVERIFY2(!hand::read(xml, text, "list.xml").has_value(), text);
    }
};

MELLOW_TEST(TakeInTest)
}  // namespace take_in_test
#include "take_in_test.moc"
