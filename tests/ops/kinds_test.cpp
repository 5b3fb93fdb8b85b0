// Kinds that are made, changed and renamed, and what becomes of their objects.
#include "ops/kinds.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

#include "io/data_file.h"
#include "ops/properties.h"
#include "support/blocks.h"
#include "support/steps.h"

namespace kinds_test {

using base::ObjectId;
using model::Value;
using model::ValueList;
using model::ValueMap;
using test::asStep;

Value typed(const char* name, const char* type, ValueMap more = {}) {
    ValueMap map = {{"name", {std::string(name)}}, {"type", {std::string(type)}}};
    map.insert(map.end(), more.begin(), more.end());
    return {std::move(map)};
}

struct Kinds : test::Blocks {
    ObjectId lantern;
    Kinds() {
        if (!asStep(*this, [](edit::Draft& d) { return ops::newKind(d, "Light", ""); })) qFatal("no kind");
        if (!change("Light", {typed("oil", "number", {{"default", {1.0}}}), typed("note", "text")}))
            qFatal("no properties");
        lantern = put("cube", {0, 0, 0});
        edit::Draft draft(session(), "first", "Lantern");
        const base::Name kind = name("Light");
        if (!draft.setLabels(model::LabelField::Kind, {&lantern, 1}, {&kind, 1}) || !draft.commit())
            qFatal("no lantern");
        set("oil", {3.5});
        set("note", {std::string("12")});
    }
    void set(const char* key, const Value& value) {
        if (!asStep(*this, [&](edit::Draft& d) { return ops::setProperty(d, {&lantern, 1}, key, value); }))
            qFatal("not set");
    }
    base::Result<ops::Migration> change(const char* kind, const ValueList& properties,
                                        const std::map<std::string, std::string>& renamed = {}, ValueMap more = {}) {
        ValueMap own = {{"name", {std::string(kind)}}};
        own.insert(own.end(), more.begin(), more.end());
        own.emplace_back("properties", Value{properties});
        return asStep(*this, [&](edit::Draft& d) { return ops::setKind(d, kind, own, renamed); });
    }
    bool saveAll() {
        for (const std::string& document : session().unsavedScenes())
            if (!io::saveScene(workspace(), document)) return false;
        return true;
    }
    const Value* value(const char* key) {
        const auto& detail = scene().detail(slot(lantern));
        return detail ? model::valueOf(detail->properties, key) : nullptr;
    }
    const model::Kind& kind(const char* called) { return *session().library().kindNamed(called); }
};

class KindsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aNewKindBeginsLikeAnother() {
        Kinds p;
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Lock light", "Light"); }));
        QCOMPARE(p.kind("Lock light").properties.size(), std::size_t{2});
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKindOf(d, "Bow light", "Light"); }));
        QCOMPARE(p.kind("Bow light").properties.size(), std::size_t{2});
        for (const char* name : {"", "Light", "Bow light"})
            QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::newKind(d, name, ""); }));
        QVERIFY(!asStep(p, [](edit::Draft& d) { return ops::newKind(d, "X", "Nothing"); }));
        QVERIFY(p.reopen());
        QCOMPARE(p.kind("Bow light").inherits, std::string("Light"));
    }
    void aKindRenamedBeforeItWasEverSavedLeavesNothingUnsaved() {
        Kinds p;
        QVERIFY(p.saveAll());
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Kind", ""); }));
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::renameKind(d, "Kind", "Sluice"); }));
        const auto unsaved = p.session().unsavedScenes();
        QCOMPARE(unsaved, std::vector<std::string>{model::data::kindDocument("Sluice")});
        QVERIFY(p.saveAll());
        QVERIFY(p.session().unsavedScenes().empty());
    }
    void aRenamedPropertyKeepsItsValues() {
        Kinds p;
        const auto report = p.change("Light", {typed("fuel", "number", {{"default", {1.0}}}), typed("note", "text")},
                                     {{"oil", "fuel"}});
        QVERIFY(report);
        QCOMPARE(report->renamed, std::size_t{1});
        QCOMPARE(report->aside, std::size_t{0});
        QVERIFY(p.value("oil") == nullptr);
        QVERIFY(*p.value("fuel") == Value{3.5});
    }
    void anotherTypeReadsTheValueAnew() {
        Kinds p;
        const auto report = p.change("Light", {typed("oil", "text"), typed("note", "integer")});
        QVERIFY(report);
        QCOMPARE(report->retyped, std::size_t{2});
        QVERIFY(*p.value("oil") == Value{std::string("3.5")});
        QVERIFY(*p.value("note") == Value{std::int64_t{12}});
    }
    void whatFitsNoMoreIsKeptAsideAndReported() {
        Kinds p;
        const auto report = p.change("Light", {typed("oil", "number", {{"high", {2.0}}})});
        QVERIFY(report);
        QCOMPARE(report->aside, std::size_t{2});
        QVERIFY(report->lines.at(0).find("first") != std::string::npos);
        QVERIFY(*p.value("oil") == Value{3.5});
        QVERIFY(p.value("note") != nullptr);
        QCOMPARE(ops::setAside(p.kind("Light"), p.scene().detail(p.slot(p.lantern))->properties).size(),
                 std::size_t{2});
    }
    void aNewDefaultIsFollowedByThoseWithoutAValue() {
        Kinds p;
        p.set("oil", {1.0});  // the default: not kept
        QVERIFY(p.change("Light", {typed("oil", "number", {{"default", {2.0}}}), typed("note", "text")}));
        Value room;
        QVERIFY(*ops::propertyValue(p.scene(), p.slot(p.lantern), p.kind("Light").properties[0], room) == Value{2.0});
    }
    void heirsAreBroughtInLineToo() {
        Kinds p;
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKindOf(d, "Bow light", "Light"); }));
        QVERIFY(asStep(p, [&](edit::Draft& d) {
            const base::Name kind = p.name("Bow light");
            return d.setLabels(model::LabelField::Kind, {&p.lantern, 1}, {&kind, 1});
        }));
        QVERIFY(p.change("Light", {typed("fuel", "number")}, {{"oil", "fuel"}}));
        QVERIFY(*p.value("fuel") == Value{3.5});
    }
    void circlesAndBadSchemasAreRefused() {
        Kinds p;
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKindOf(d, "Bow light", "Light"); }));
        QVERIFY(!p.change("Light", {}, {}, {{"inherits", {std::string("Bow light")}}}));
        QVERIFY(!p.change("Light", {}, {}, {{"inherits", {std::string("Nothing")}}}));
        QVERIFY(!p.change("Light", {typed("oil", "rainge")}));
        QVERIFY(!p.change("Light", {typed("oil", "number"), typed("oil", "text")}));
        QVERIFY(!p.change("Light", {typed("oil", "number")}, {{"oil", "gone"}}));
        QVERIFY(!p.change("No kind", {}));
    }
    void whatNamesAPropertyFollowsItsNewName() {
        Kinds p;
        auto text = [](const char* t) { return Value{std::string(t)}; };
        const ValueMap more = {
            {"appearances", Value{ValueList{{ValueMap{{"when", text("!lit")}, {"badge", text("dark")}}},
                                            {ValueMap{{"when", text("litter > 3")}, {"badge", text("full")}}}}}},
            {"buttons", Value{ValueList{{ValueMap{{"label", text("Switch")}, {"property", text("lit")}}}}}},
            {"facts", Value{ValueList{text("cost"), text("lit")}}}};
        auto properties = [&](const char* lit) {
            return ValueList{typed(lit, "bool"), typed("litter", "number"),
                             typed("glow", "number", {{"shownIf", text("lit = true")}}), typed("oil", "number"),
                             typed("note", "text")};
        };
        QVERIFY(p.change("Light", properties("lit"), {}, more));
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKindOf(d, "Bow light", "Light"); }));
        QVERIFY(p.change("Bow light", {typed("flicker", "bool", {{"shownIf", text("lit")}})}, {},
                         {{"inherits", text("Light")}}));
        QVERIFY(p.change("Light", properties("burns"), {{"lit", "burns"}}, more));
        const model::Kind& kind = p.kind("Light");
        QCOMPARE(kind.appearances[0].when, std::string("!burns"));
        QCOMPARE(kind.appearances[1].when, std::string("litter > 3"));
        QCOMPARE(kind.buttons[0].property, std::string("burns"));
        QCOMPARE(kind.facts, (std::vector<std::string>{"cost", "burns"}));
        QCOMPARE(kind.property("glow")->shownIf, std::string("burns = true"));
        QCOMPARE(p.kind("Bow light").property("flicker")->shownIf, std::string("burns"));
    }
    void whatANewEntryNamesMustBeThere() {
        Kinds p;
        auto text = [](const char* t) { return Value{std::string(t)}; };
        auto refused = [&](Value property, ValueMap more = {}) {
            return !p.change("Light", {typed("oil", "number", {{"default", {1.0}}}), std::move(property)}, {}, more);
        };
        QVERIFY(refused(typed("glow", "number", {{"shownIf", text("nothing > 3")}})));
        QVERIFY(refused(typed("glow", "choice", {{"choicesBy", text("nothing")}})));
        QVERIFY(refused(typed("to", "object", {{"kinds", Value{ValueList{text("Ghost")}}}})));
        QVERIFY(refused(typed("lamp", "record", {{"records", text("ghosts")}})));
        QVERIFY(refused(
            typed("to", "list",
                  {{"of", Value{ValueMap{{"type", text("object")}, {"kinds", Value{ValueList{text("Ghost")}}}}}}})));
        QVERIFY(refused(typed("glow", "number"),
                        {{"appearances", Value{ValueList{{ValueMap{{"when", text("nothing")}}}}}}}));
        QVERIFY(refused(typed("glow", "number"),
                        {{"buttons", Value{ValueList{{ValueMap{{"property", text("nothing")}}}}}}}));
        QVERIFY(!refused(typed("to", "object", {{"kinds", Value{ValueList{text("Light")}}}})));
    }
    void usesAreCountedInEveryScene() {
        Kinds p;
        const auto uses = ops::kindUses(p.session(), "Light");
        QVERIFY(uses.has_value());
        QCOMPARE(uses->size(), std::size_t{1});
        QCOMPARE(uses->at(0).ids, (ops::Ids{p.lantern}));
        QVERIFY(ops::kindUses(p.session(), "Nothing")->empty());
    }
    void choicesThatDependOnADefaultAreThere() {
        std::vector<std::string> problems;
        auto property = [&](const ValueMap& map) { return *model::propertyFrom(map, problems); };
        auto text = [](const char* t) { return Value{std::string(t)}; };
        const std::vector<model::Property> all = {
            property({{"name", text("stuff")},
                      {"type", text("choice")},
                      {"choices", Value{ValueList{text("wood"), text("stone")}}},
                      {"default", text("stone")}}),
            property({{"name", text("sort")},
                      {"type", text("choice")},
                      {"choicesBy", text("stuff")},
                      {"choicesFor", Value{ValueMap{{"wood", Value{ValueList{text("oak"), text("elm")}}},
                                                    {"stone", Value{ValueList{text("slate")}}}}}}})};
        QCOMPARE(model::choicesOf(all[1], all, {}).size(), std::size_t{1});
        QCOMPARE(model::choicesOf(all[1], all, {{"stuff", text("wood")}}).size(), std::size_t{2});
    }
    void aRenamedKindTakesItsObjectsAlong() {
        Kinds p;
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKindOf(d, "Bow light", "Light"); }));
        QVERIFY(p.change("Bow light", {typed("next", "object", {{"kinds", {ValueList{{std::string("Light")}}}}})}, {},
                         {{"inherits", {std::string("Light")}}}));
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::renameKind(d, "Light", "Lantern"); }));
        QCOMPARE(p.scene().kindText(p.slot(p.lantern)), std::string_view("Lantern"));
        QCOMPARE(p.kind("Bow light").inherits, std::string("Lantern"));
        QCOMPARE(p.kind("Bow light").property("next")->kinds, std::vector<std::string>{"Lantern"});
        QVERIFY(p.session().library().kindNamed("Light") == nullptr);
        QVERIFY(p.reopen());
        QVERIFY(p.session().library().kindNamed("Lantern") != nullptr);
        QVERIFY(!asStep(p, [](edit::Draft& d) { return ops::removeKind(d, "Lantern"); }));  // one inherits from it
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::removeKind(d, "Bow light"); }));
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::removeKind(d, "Lantern"); }));
        QCOMPARE(p.scene().kindText(p.slot(p.lantern)), std::string_view("Lantern"));
    }
    /// A file is called as its kind, through renaming, undo, saving and opening; one called otherwise stays.
    void aFileFollowsItsKindsName() {
        Kinds p;
        const auto rename = [&](const char* from, const char* to) {
            return bool(asStep(p, [&](edit::Draft& d) { return ops::renameKind(d, from, to); }));
        };
        const auto file = [&](const char* kind) { return io::dataFile(p.folder(), p.kind(kind).document); };
        QVERIFY(p.saveAll());
        const auto first = file("Light");
        QCOMPARE(first.filename().string(), std::string("Light.kind.json"));
        const std::string was = test::fileBytes(first);
        QVERIFY(rename("Light", "Bow: light"));
        QVERIFY(p.saveAll());
        const auto second = file("Bow: light");
        QCOMPARE(second.filename().string(), std::string("Bow- light.kind.json"));
        QVERIFY(std::filesystem::exists(second) && !std::filesystem::exists(first));
        QVERIFY(p.reopen());
        QCOMPARE(p.scene().kindText(p.slot(p.lantern)), std::string_view("Bow: light"));
        QVERIFY(p.session().undo());
        QVERIFY(p.saveAll());
        QCOMPARE(test::fileBytes(first), was);
        QVERIFY(!std::filesystem::exists(second));
        // Where another kind's file is called so, it gets a number; back and forth, twice in a row.
        QVERIFY(rename("Light", "Lamp.1"));
        QVERIFY(asStep(p, [](edit::Draft& d) { return ops::newKind(d, "Lamp:1", ""); }));
        QVERIFY(p.kind("Lamp:1").document != p.kind("Lamp.1").document);
        QVERIFY(rename("Lamp.1", "Light") && rename("Light", "LIGHT") && rename("LIGHT", "Light"));
        QCOMPARE(file("Light"), first);
        const std::string numbered = p.kind("Lamp:1").document;
        QVERIFY(rename("Lamp:1", "Wick"));
        QCOMPARE(p.kind("Wick").document, numbered);
        QVERIFY(p.saveAll() && p.reopen());
        QVERIFY(p.session().library().kindNamed("Wick") != nullptr);
    }
    void whatMustExistIsMissed() {
        Kinds p;
        QVERIFY(p.change("Light", {}, {}, {{"needed", {std::string("one")}}}));
        auto missed = [&] {
            const auto lines = ops::missingKinds(p.session().library(), p.scene());
            return std::count_if(lines.begin(), lines.end(),
                                 [](const std::string& line) { return line.find("Light") != std::string::npos; });
        };
        QCOMPARE(missed(), 0);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::duplicate(d, {&p.lantern, 1}); }));
        QCOMPARE(missed(), 1);
        QVERIFY(p.session().undo());
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::remove(d, {&p.lantern, 1}); }));
        QCOMPARE(missed(), 1);
    }
    void buttonsResetAndGoOn() {
        Kinds p;
        QVERIFY(p.change("Light",
                         {typed("state", "choice", {{"choices", {ValueList{{std::string("a")}, {std::string("b")}}}}}),
                          typed("step", "integer", {{"low", {0.0}}, {"high", {2.0}}}), typed("lit", "bool")}));
        auto press = [&](const char* name) {
            const model::KindButton button{model::KindButton::Does::Next, "Next", name};
            return bool(asStep(p, [&](edit::Draft& d) { return ops::press(d, {&p.lantern, 1}, button); }));
        };
        QVERIFY(press("state"));
        QVERIFY(*p.value("state") == Value{std::string("b")});
        QVERIFY(press("state"));
        QVERIFY(p.value("state") == nullptr);  // round to the first, the default
        for (int k = 0; k < 3; ++k) QVERIFY(press("step"));
        QVERIFY(p.value("step") == nullptr);
        QVERIFY(press("lit") && *p.value("lit") == Value{true});
        QVERIFY(!press("nothing"));
        QVERIFY(asStep(p, [&](edit::Draft& d) {
            return ops::press(d, {&p.lantern, 1}, {model::KindButton::Does::Reset, "", ""});
        }));
        QVERIFY(p.value("lit") == nullptr);
    }
    /// Whatever a schema turns into, nothing is lost: what the new one does not take is still there, and undo gives
    /// back every byte (asStep looks).
    void randomSchemasLoseNothing() {
        const bool held = rc::check("schemas", [] {
            Kinds p;
            const auto types = rc::gen::element<std::string>("bool", "integer", "number", "text", "choice", "colour",
                                                             "vector", "range", "time", "list");
            for (int round = 0; round < 3; ++round) {
                ValueList schema;
                for (const char* name : {"oil", "note"})
                    if (*rc::gen::arbitrary<bool>()) {
                        ValueMap more;
                        const std::string type = *types;
                        if (type == "choice")
                            more = {{"choices", {ValueList{{std::string("12")}, {std::string("x")}}}}};
                        if (type == "list") more = {{"of", {ValueMap{{"type", {std::string("text")}}}}}};
                        schema.push_back(typed(name, type.c_str(), more));
                    }
                const bool had = p.value("oil") != nullptr;
                const Value before = had ? *p.value("oil") : Value{};
                RC_ASSERT(bool(p.change("Light", schema)));
                const model::Property* now = p.kind("Light").property("oil");
                if (had && now == nullptr) RC_ASSERT(*p.value("oil") == before);
                if (had && now != nullptr)
                    RC_ASSERT(p.value("oil") == nullptr || bool(model::fitted(*now, *p.value("oil"))) ||
                              *p.value("oil") == before);
            }
        });
        QVERIFY(held);
    }
};

MELLOW_TEST(KindsTest)
}  // namespace kinds_test
#include "kinds_test.moc"
