#include <rapidcheck.h>

#include <QtTest>

#include "base/text.h"
#include "hand/examples.h"
#include "hand/take_in.h"
#include "hand/write.h"
#include "io/json_text.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace recipe_test {

using base::Vec3;
using hand::Recipe;
using model::Slot;

hand::Recipe recipeOf(const std::string& json) {
    std::vector<std::string> problems;
    Recipe recipe = hand::recipeFrom("mine", io::toValues(io::Json::parse(json)), problems);
    for (const std::string& problem : problems) qFatal("%s", problem.c_str());
    return recipe;
}

hand::Recipe exampleOf(const std::string& name) {
    for (const hand::Example& one : hand::examples())
        if (one.name == name) return recipeOf(one.text);
    qFatal("no example %s", name.c_str());
}

class RecipeTest : public QObject {
    Q_OBJECT
    test::DemoCopy demo_;
    std::unique_ptr<io::Workspace> workspace_;

    edit::Session& session() { return *workspace_->session; }
    const model::Scene& basin() { return **session().scene("lower-basin"); }
    hand::Source source() {
        return {basin(), session().library(), [this](base::ObjectId id) { return session().prefabName(id); }};
    }
    hand::Written written(const Recipe& recipe) { return hand::write(source(), recipe); }
    /// What coming back would change.
    hand::TakeInPlan back(const Recipe& recipe, const std::string& bytes) {
        auto list = hand::read(recipe, bytes, "list");
        if (!list) qFatal("%s", list.error().message.c_str());
        return hand::planTakeIn(source(), session(), recipe, *list);
    }
    Slot named(std::string_view name) {
        for (const Slot s : basin().subtree(model::kNoSlot))
            if (basin().nameText(s) == name) return s;
        return model::kNoSlot;
    }

  private Q_SLOTS:
    void init() { workspace_ = *io::openWorkspace(demo_.folder(), io::OpenMode::Edit, test::chance()); }
    void cleanup() { workspace_.reset(); }

    void everyExampleIsSoundAndWrites() {
        QVERIFY(hand::examples().size() >= 10);
        for (const hand::Example& one : hand::examples()) {
            const Recipe recipe = recipeOf(one.text);
            QVERIFY2(hand::unusable(recipe).empty(), one.name.c_str());
            const hand::Written out = written(recipe);
            QVERIFY2(out.entries > 0 && !out.files.empty(), one.name.c_str());
            for (const hand::WrittenFile& file : out.files)
                for (const auto& span : file.spans) QVERIFY(span.from < span.to && span.to <= file.text.size());
        }
    }
    /// What was written comes back as nothing: no object differs, none is new or gone.
    void everyExampleThatCanComesBackAsItWas() {
        for (const char* name : {"json-list", "json-tree", "csv-table", "xml-things", "text-lines", "csv-lanterns"}) {
            const Recipe recipe = exampleOf(name);
            const hand::Written out = written(recipe);
            QCOMPARE(out.files.size(), std::size_t{1});
            const hand::TakeInPlan plan = back(recipe, out.files[0].coded);
            for (const hand::ListProblem& p : plan.problems)
                QVERIFY2(false,
                         (std::string(name) + " " + std::to_string(p.row) + " " + p.field + ": " + p.message).c_str());
            for (const hand::TakenChange& c : plan.changes)
                QVERIFY2(false, (std::string(name) + " " + c.field + ": " + c.before + " > " + c.after).c_str());
            QVERIFY2(plan.empty() && plan.gone.empty(), name);
            QCOMPARE(plan.same, out.entries);
        }
    }
    void aMovedThingComesBackMovedWithinTheRounding() {
        QVERIFY(rc::check("moved and back", [this] {
            const char* const names[] = {"json-list", "csv-table", "xml-things", "text-lines"};
            const Recipe recipe = exampleOf(names[*rc::gen::inRange(0, 4)]);
            const Slot bench = named("Bench 1");
            RC_ASSERT(bench != model::kNoSlot);
            const base::ObjectId id = basin().id(bench);
            base::Transform pose = basin().local(bench);
            for (int k = 0; k < 3; ++k) pose.position[k] += *rc::gen::inRange(-2000, 2000) / 64.0;
            pose.rotation = base::fromDegrees({double(*rc::gen::inRange(-89, 90)), double(*rc::gen::inRange(-179, 180)),
                                               double(*rc::gen::inRange(-179, 180))});
            std::string list;
            {
                edit::Draft draft(session(), "lower-basin", "Move");  // taken back when it goes
                const base::ObjectId ids[] = {id};
                const base::Transform poses[] = {pose};
                RC_ASSERT(draft.setTransforms(ids, poses).has_value());
                list = written(recipe).files.at(0).coded;
            }
            const hand::TakeInPlan plan = back(recipe, list);
            RC_ASSERT(plan.problems.empty() && plan.added == 0 && plan.gone.empty());
            RC_ASSERT(plan.changed.size() <= 1);
            edit::Draft draft(session(), "lower-basin", "Take in");
            RC_ASSERT(hand::takeIn(draft, plan, {}).has_value());
            const base::Transform& now = basin().local(basin().find(id));
            const double off = std::max(1e-9, std::pow(10.0, -recipe.decimals) * recipe.convention.metres);
            RC_ASSERT(glm::length(now.position - pose.position) <= 2 * off);
            RC_ASSERT(std::abs(glm::dot(now.rotation, pose.rotation)) > 1 - 1e-4);
        }));
    }
    void fieldsAreNamedRoundedLeftOutAndRenamed() {
        const Recipe recipe = recipeOf(R"({"objects": "Bench*", "form": "json lines", "decimals": 1, "fields": [
            {"name": "what", "is": "item", "names": "seats"}, {"name": "at.x", "is": "x"}, {"name": "at.y", "is": "y", "leaveOut": 0},
            {"name": "size", "is": "size", "leaveOut": 1}, {"name": "twice", "is": "= x * 2", "decimals": 2},
            {"name": "v", "value": 3}, {"name": "n", "is": "number", "text": true}, {"name": "none", "is": "no-such", "otherwise": "-"}],
            "names": {"seats": {"bench": "Seat"}}, "numbers": {"from": 5, "digits": 3}})");
        const hand::Written out = written(recipe);
        const io::Json first = io::Json::parse(out.files[0].text.substr(0, out.files[0].text.find('\n')));
        QCOMPARE(first["what"].get<std::string>(), "Seat");
        const double x = basin().world(basin().find(out.files[0].spans[0].id)).translation.x;
        QVERIFY(std::abs(first["at"]["x"].get<double>() - x) <= 0.05 + 1e-9);
        QVERIFY(!first.contains("size"));
        QVERIFY(std::abs(first["twice"].get<double>() - 2 * x) <= 0.005 + 1e-9);
        QCOMPARE(first["v"].get<int>(), 3);
        QCOMPARE(first["n"].get<std::string>(), "005");
        QCOMPARE(first["none"].get<std::string>(), "-");
        QVERIFY(out.passedOver > 0);
    }
    void placesAreToldFromACarrier() {
        const std::string fields =
            "\"decimals\": 6, \"fields\": [{\"name\": \"id\", \"is\": \"id\"}, {\"name\": \"p\", \"is\": "
            "\"position\"}]";
        const Recipe recipe = recipeOf(R"({"objects": "Bench*", "relativeTo": "Bench 1", )" + fields + "}");
        const hand::Written out = written(recipe);
        const io::Json list = io::Json::parse(out.files[0].text);
        const std::string own = base::toText(basin().id(named("Bench 1")));
        bool met = false;
        for (const io::Json& one : list)
            if (one["id"] == own) {
                met = true;
                QVERIFY(one["p"] == io::Json({0, 0, 0}));
            }
        QVERIFY(met);
        // And back: what stands 1 m farther along the carrier's own x stands there in the world.
        const std::string moved = "[{\"id\": \"" + own + "\", \"p\": [1, 0, 0]}]";
        const hand::TakeInPlan plan = back(recipe, moved);
        edit::Draft draft(session(), "lower-basin", "Take in");
        const base::Affine before = basin().world(named("Bench 1"));
        QVERIFY(hand::takeIn(draft, plan, {}).has_value());
        const base::Affine now = basin().world(named("Bench 1"));
        QVERIFY(glm::length(now.translation - before.point({1, 0, 0})) < 1e-9);
        const Recipe nobody = recipeOf(R"({"relativeTo": "No such thing", )" + fields + "}");
        QVERIFY(!written(nobody).remarks.empty());
        QCOMPARE(written(nobody).entries, std::size_t{0});
    }
    void encodingsComeBack() {
        {
            edit::Draft draft(session(), "lower-basin", "Rename");
            const base::ObjectId ids[] = {basin().id(named("Bench 1"))};
            const base::Name names[] = {session().intern("Bänk ”åtta” 🛶")};
            QVERIFY(draft.setLabels(model::LabelField::Name, ids, names) && draft.commit());
        }
        for (const char* encoding : {"utf-8", "utf-8 with mark", "utf-16"})
            for (const char* lines : {"lf", "crlf"})
                for (const char* form : {"json", "csv", "xml"}) {
                    const Recipe recipe = recipeOf(
                        std::string(
                            R"({"objects": "B*", "fields": [{"name": "name", "is": "name"}, {"name": "x", "is": "x"}], "form": ")") +
                        form + R"(", "encoding": ")" + encoding + R"(", "lines": ")" + lines + "\"}");
                    const hand::Written out = written(recipe);
                    auto list = hand::read(recipe, out.files[0].coded, "list");
                    QVERIFY2(list.has_value(), list ? "" : list.error().message.c_str());
                    QCOMPARE(list->entries.size(), out.entries);
                    QVERIFY(std::any_of(list->entries.begin(), list->entries.end(), [](const hand::ReadEntry& entry) {
                        return entry.values[0] && *entry.values[0] == model::Value{"Bänk ”åtta” 🛶"};
                    }));
                }
        const Recipe latin = recipeOf(
            R"({"objects": "B*", "encoding": "latin-1", "form": "csv", "fields": [{"name": "name", "is": "name"}]})");
        const hand::Written out = written(latin);
        QVERIFY(out.files[0].coded.find("B\xE4nk") != std::string::npos);
        QVERIFY(!out.remarks.empty());  // no sign for the boat
        const auto bad = hand::read(recipeOf(R"({"form": "csv", "fields": [{"name": "name", "is": "name"}]})"),
                                    "name\nfine\nB\xE4nk\n", "list.csv");
        QVERIFY(!bad.has_value());
        QVERIFY(bad.error().message.find("list.csv:3") != std::string::npos);
    }
    void filesGoByGroupAndByAct() {
        const hand::Written groups = written(exampleOf("json-lines")), acts = written(exampleOf("csv-acts"));
        QVERIFY(groups.files.size() > 3 && acts.files.size() >= 2);
        std::set<std::string> names;
        for (const hand::WrittenFile& file : groups.files) names.insert(file.name);
        QCOMPARE(names.size(), groups.files.size());
        QVERIFY(std::any_of(acts.files.begin(), acts.files.end(), [](const hand::WrittenFile& file) {
            return file.name == "lower-basin-Market day.csv" && file.text.find("Awning") != std::string::npos;
        }));
    }
    void theCatalogueGoesByRecipeToo() {
        const Recipe recipe = recipeOf(
            "{\"entries\": \"item\", \"form\": \"json lines\", \"fields\": [{\"name\": \"key\", \"is\": \"item\"}, "
            "{\"name\": \"faces\", \"is\": \"triangles\"}, {\"name\": \"wide\", \"is\": \"width\", \"decimals\": 1}]}");
        const hand::Written out = written(recipe);
        QVERIFY(out.entries > 30);
        bool met = false;
        for (std::size_t from = 0; from < out.files[0].text.size();) {
            const std::size_t to = out.files[0].text.find('\n', from);
            const io::Json one = io::Json::parse(out.files[0].text.substr(from, to - from));
            from = to + 1;
            if (one["key"] != "bench") continue;
            met = true;
            const model::Item& bench = *session().library().item(session().intern("bench"));
            QCOMPARE(one["faces"].get<std::size_t>(), bench.triangles);
            QVERIFY(std::abs(one["wide"].get<double>() - bench.bounds.size().x) <= 0.05 + 1e-9);
        }
        QVERIFY(met);
        QVERIFY(!back(recipe, out.files[0].coded).problems.empty());  // none of it stands in a scene
    }
    void whatIsWrongInARecipeIsNamed() {
        const std::pair<const char*, const char*> wrong[] = {
            {R"({"fields": []})", "fields"},
            {R"({"fields": [{"name": "a"}]})", "fields.a.is"},
            {R"({"fields": [{"is": "x"}]})", "name"},
            {R"({"form": "yaml", "fields": [{"name": "a", "is": "x"}]})", "form"},
            {R"({"axes": "x x y", "fields": [{"name": "a", "is": "x"}]})", "axes"},
            {R"({"unit": "ell", "fields": [{"name": "a", "is": "x"}]})", "unit"},
            {R"({"turns": {"order": "xx"}, "fields": [{"name": "a", "is": "x"}]})", "turns.order"},
            {R"({"decimals": 99, "fields": [{"name": "a", "is": "x"}]})", "decimals"},
            {R"({"speling": 1, "fields": [{"name": "a", "is": "x"}]})", "speling"},
            {R"({"fields": [{"name": "a", "is": "light.nothing"}]})", "light.nothing"},
            {R"({"fields": [{"name": "a", "is": "item", "names": "none"}]})", "names"},
            {R"({"form": "text", "fields": [{"name": "a", "is": "x"}]})", "each"},
            {R"({"separator": "ab", "fields": [{"name": "a", "is": "x"}]})", "separator"}};
        for (const auto& [json, says] : wrong) {
            std::vector<std::string> problems;
            (void)hand::recipeFrom("mine", io::toValues(io::Json::parse(json)), problems);
            QVERIFY2(std::any_of(problems.begin(), problems.end(),
                                 [&](const std::string& problem) { return problem.find(says) != std::string::npos; }),
                     json);
        }
        QVERIFY(
            !hand::unusable(recipeOf(R"({"form": "text", "each": "{nothing}", "fields": [{"name": "a", "is": "x"}]})"))
                 .empty());
        QVERIFY(!hand::unusable(recipeOf(R"({"form": "xml", "fields": [{"name": "a b", "is": "x"}]})")).empty());
        QVERIFY(!hand::unusable(recipeOf(R"({"inside": {"list": []}, "fields": [{"name": "a", "is": "x"}]})")).empty());
    }
};

MELLOW_TEST(RecipeTest)
}  // namespace recipe_test
#include "recipe_test.moc"
