// Schemas as forms: every member reads back as it was, and what is typed becomes what a file says.
#include "ops/schema_form.h"

#include <QtTest>

#include "io/data_file.h"
#include "support/test_project.h"

using model::Property;
using model::Value;
using model::ValueList;
using model::ValueMap;

namespace {

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

Property read(const ValueMap& entry) {
    std::vector<std::string> problems;
    auto property = model::propertyFrom(entry, problems);
    if (!property || !problems.empty()) qFatal("not read");
    return *property;
}

}  // namespace

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
    void choicesAreTypedWithBars() {
        ValueMap entry = {{"name", {std::string("state")}}, {"type", {std::string("choice")}}};
        entry = typed(entry, "choices", {std::string("open | shut=Shut tight")});
        const Property p = read(entry);
        QCOMPARE(p.choices.size(), std::size_t{2});
        QCOMPARE(p.choices[1].value, std::string("shut"));
        QCOMPARE(p.choices[1].label, std::string("Shut tight"));
        QVERIFY(ops::fieldOf(entry, field(ops::propertyForm(), "choices")) ==
                Value{std::string("open | shut=Shut tight")});
        entry = typed(entry, "choicesFor", {std::string("wood: oak | elm; stone: granite")});
        QCOMPARE(read(entry).choicesFor.size(), std::size_t{2});
        QCOMPARE(read(entry).choicesFor[0].second[1].value, std::string("elm"));
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
        entry = typed(entry, "kinds", {std::string("Lantern | Barge")});
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
        state = typed(state, "choices", {std::string("open | shut=Shut tight")});
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
        entry = typed(entry, "type", {std::string("bool")});
        QVERIFY(!read(entry).fallback);
    }
};

QTEST_GUILESS_MAIN(SchemaFormTest)
#include "schema_form_test.moc"
