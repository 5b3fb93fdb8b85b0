// Schemas as forms: every member reads back as it was, and what is typed becomes what a file says.
#include "ops/schema_form.h"
#include "support/test_main.h"

#include <QtTest>

#include "io/data_file.h"
#include "support/test_project.h"

namespace schema_form_test {

using model::Property;
using model::Value;
using model::ValueList;
using model::ValueMap;

const Property& field(const std::vector<Property>& form, const char* name) {
    for (const Property& f : form)
        if (f.name == name) return f;
    qFatal("no such field");
}

ValueMap typed(ValueMap entry, const char* name, const Value& value) {
    auto after = ops::withField(entry, field(ops::propertyForm(), name), value);
    if (!after) qFatal("not taken");
    return *after;
}

Value texts(std::initializer_list<const char*> all) {
    ValueList list;
    for (const char* one : all) list.push_back({std::string(one)});
    return {std::move(list)};
}

Property read(const ValueMap& entry) {
    std::vector<std::string> problems;
    auto property = model::propertyFrom(entry, problems);
    if (!property || !problems.empty()) qFatal("not read");
    return *property;
}

class SchemaFormTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    /// Writing what a field shows changes nothing: of every kind of the demo.
    void everyFieldReadsBackAsItIs() {
        test::DemoCopy demo;
        auto opened = io::openWorkspace(demo.folder(), io::OpenMode::ReadOnly, test::chance());
        QVERIFY(opened);
        std::size_t fields = 0;
        for (const model::Kind& kind : (*opened)->session->library().kinds()) {
            auto check = [&](const ValueMap& entry, const std::vector<Property>& form) {
                for (const Property& f : form) {
                    if (model::valueOf(entry, f.name) == nullptr) continue;
                    auto after = ops::withField(entry, f, ops::fieldOf(entry, f));
                    QVERIFY(after);
                    const Value* now = model::valueOf(*after, f.name);
                    QVERIFY2(now == nullptr || *now == *model::valueOf(entry, f.name) ||
                                 ops::fieldOf(*after, f) == ops::fieldOf(entry, f),
                             f.name.c_str());
                    ++fields;
                }
            };
            check(kind.own, ops::kindForm());
            for (const ValueMap& one : ops::listOf(kind.own, "properties")) check(one, ops::propertyForm());
            for (const ValueMap& one : ops::listOf(kind.own, "appearances")) check(one, ops::appearanceForm());
            for (const ValueMap& one : ops::listOf(kind.own, "buttons")) check(one, ops::buttonForm());
        }
        QVERIFY(fields > 100);
    }
    void choicesAreAListOfTexts() {
        ValueMap entry = {{"name", {std::string("state")}}, {"type", {std::string("choice")}}};
        entry = typed(entry, "choices", texts({"open", "shut=Shut tight", ""}));
        const Property p = read(entry);
        QCOMPARE(p.choices.size(), std::size_t{2});
        QCOMPARE(p.choices[1].value, std::string("shut"));
        QCOMPARE(p.choices[1].label, std::string("Shut tight"));
        QVERIFY(ops::fieldOf(entry, field(ops::propertyForm(), "choices")) == texts({"open", "shut=Shut tight"}));
        entry = typed(entry, "choicesFor", texts({"wood: oak | elm", "stone: granite"}));
        QCOMPARE(read(entry).choicesFor.size(), std::size_t{2});
        QCOMPARE(read(entry).choicesFor[0].second[1].value, std::string("elm"));
        QVERIFY(ops::fieldOf(entry, field(ops::propertyForm(), "choicesFor")) ==
                texts({"wood: oak | elm", "stone: granite"}));
        const auto astray = ops::withField(entry, field(ops::propertyForm(), "choicesFor"), texts({"oak | elm"}));
        QVERIFY(!astray && astray.error().message.find("oak | elm") != std::string::npos);
        entry = typed(entry, "choicesFor", texts({}));
        QVERIFY(model::valueOf(entry, "choicesFor") == nullptr);  // an empty one is not said
    }
    void aConditionAsksForPlainValuesBesideIt() {
        const auto entry = [](const char* name, const char* type) {
            return ValueMap{{"name", {std::string(name)}}, {"type", {std::string(type)}}};
        };
        const std::vector<ValueMap> all = {entry("lit", "bool"), entry("oil", "number"), entry("tint", "colour"),
                                           entry("way", "object")};
        const auto asked = ops::askedBy(all[1], all);
        QCOMPARE(asked.size(), std::size_t{1});  // not itself, no colour, no link
        QCOMPARE(asked[0].name, std::string("lit"));
        QVERIFY(ops::isCondition(field(ops::propertyForm(), "shownIf")) &&
                ops::isCondition(field(ops::appearanceForm(), "when")));
        QVERIFY(!ops::isCondition(field(ops::propertyForm(), "help")));
        for (const char* text : {"lit", "!lit", "oil > 3", "oil <= 0.5", "state = open", "state != shut tight"})
            QCOMPARE(model::conditionText(*model::parseCondition(text)), std::string(text));
        QCOMPARE(model::conditionText(*model::parseCondition(" lit=true ")), std::string("lit"));
    }
    void numbersMayBeEmpty() {
        ValueMap entry = {{"name", {std::string("oil")}}, {"type", {std::string("number")}}};
        entry = typed(entry, "low", {std::string("0.5")});
        QCOMPARE(*read(entry).low, 0.5);
        entry = typed(entry, "low", {std::string()});
        QVERIFY(!read(entry).low);
        QVERIFY(!ops::withField(entry, field(ops::propertyForm(), "low"), {std::string("some")}));
    }
    void aListSaysWhatItHolds() {
        ValueMap entry = {{"name", {std::string("serves")}}, {"type", {std::string("list")}}};
        entry = typed(entry, "of", {std::string("object")});
        entry = typed(entry, "kinds", texts({"Lantern", "Barge"}));
        const Property p = read(entry);
        QVERIFY(p.element.at(0).type == model::PropertyType::Object);
        QCOMPARE(p.element[0].kinds, (std::vector<std::string>{"Lantern", "Barge"}));
    }
    void whatCanOnlyBeSomeThingsIsChosen() {
        const auto values = [](const std::vector<model::Choice>& all) {
            std::vector<std::string> names;
            for (const model::Choice& c : all) names.push_back(c.value);
            return names;
        };
        const Property& usual = field(ops::propertyForm(), "default");
        const ValueMap lit = {{"name", {std::string("lit")}}, {"type", {std::string("bool")}}};
        const auto truth = ops::fieldChoices(lit, usual, {});
        QCOMPARE(truth.size(), std::size_t{3});
        for (const model::Choice& c : truth) QVERIFY(ops::withField(lit, usual, {c.value}));  // each is taken as it is
        ValueMap state = {{"name", {std::string("state")}}, {"type", {std::string("choice")}}};
        state = typed(state, "choices", texts({"open", "shut=Shut tight"}));
        QCOMPARE(values(ops::fieldChoices(state, usual, {})), (std::vector<std::string>{"", "open", "shut"}));
        const ValueMap oil = {{"name", {std::string("oil")}}, {"type", {std::string("number")}}};
        QVERIFY(ops::fieldChoices(oil, usual, {}).empty());  // any number
        // By which other property it is chosen: not by itself, nor by a number.
        QCOMPARE(values(ops::fieldChoices(state, field(ops::propertyForm(), "choicesBy"), {state, lit, oil})),
                 (std::vector<std::string>{"", "lit"}));
    }
    void aDefaultIsTypedAsItsTypeAndGoesWithIt() {
        ValueMap entry = {{"name", {std::string("glass")}}, {"type", {std::string("colour")}}};
        entry = typed(entry, "default", {std::string("#ff0000")});
        QVERIFY(read(entry).fallback.has_value());
        QVERIFY(!ops::withField(entry, field(ops::propertyForm(), "default"), {std::string("reddish")}));
        entry = typed(entry, "default", {ValueList{{0.5}, {0.25}, {1.0}}});  // as a field of colours gives it
        QVERIFY(*read(entry).fallback == (Value{ValueList{{0.5}, {0.25}, {1.0}}}));
        QVERIFY(!ops::withField(entry, field(ops::propertyForm(), "default"), {true}));
        entry = typed(entry, "type", {std::string("bool")});
        QVERIFY(!read(entry).fallback);
    }
    void aColourMarkIsAColourAndATextInFiles() {
        const Property& mark = field(ops::kindForm(), "mark");
        for (const char* text : {"#b7c4cc", "#000000", "#0100fe"}) {
            const ValueMap own = {{"mark", {std::string(text)}}};
            const auto after = ops::withField(own, mark, ops::fieldOf(own, mark));
            QVERIFY(after && *after == own);
        }
        const auto none = ops::withField({{"mark", {std::string("#b7c4cc")}}}, mark, model::defaultOf(mark));
        QVERIFY(none && none->empty());
    }
    void aDefaultHasTheEditorOfItsType() {
        const auto of = [](const char* type) {
            return ops::defaultField({{"name", {std::string("one")}}, {"type", {std::string(type)}}, {"high", {5.0}}});
        };
        for (const char* type : {"number", "integer", "angle", "time", "vector", "range", "curve", "colour", "item"}) {
            const auto shown = of(type);
            QVERIFY2(shown && shown->name == "default" && model::typeName(shown->type) == type, type);
            QVERIFY(shown->high == 5.0);
        }
        for (const char* type : {"text", "bool", "choice", "object", "list"}) QVERIFY2(!of(type), type);
    }
};

MELLOW_TEST(SchemaFormTest)
}  // namespace schema_form_test
#include "schema_form_test.moc"
