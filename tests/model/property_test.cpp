// Types of properties: what each takes and refuses, what it begins as, and that what is shown reads back the same.
#include "model/property.h"
#include "model/kind.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

namespace property_test {

using model::Property;
using model::PropertyType;
using model::Value;
using model::ValueList;

struct Sort {
    PropertyType type;
    std::vector<const char*> taken, refused;
};

/// Every type there is, with limits from -10 to 10 where they mean something.
const std::vector<Sort>& sorts() {
    using enum PropertyType;
    static const std::vector<Sort> all = {
        {Bool, {"yes", "no", "TRUE", "off", " 1 "}, {"", "perhaps", "2"}},
        {Integer, {"3", "-4", "+7", " 10 "}, {"", "3.5", "eleven", "11", "-1e300", "nan", "inf", "1e400"}},
        {Number, {"3.5", "-0.25", "1e1", "+2"}, {"", "3,5", "ten", "10.001", "nan", "inf", "-1e999", "3 m"}},
        {Angle, {"7.5", "-10"}, {"", "north", "90", "nan"}},
        {Time, {"0.25", "10"}, {"", "soon", "-11"}},
        {Text, {"", "a | b; c", "Écluse 4", " held "}, {}},
        {LongText, {"", "one\ntwo"}, {}},
        {Choice, {"open", "Shut tight", "shut", "SHUT TIGHT"}, {"ajar", "ope"}},
        {Flags, {"", "open", "open, shut"}, {"open, ajar", "ajar"}},
        {Colour,
         {"#ff8800", "#000000", "0.5, 0.25, 1"},
         {"#ff88", "#ff88zz", "#", "red", "1, 2, 3", "0.5, 0.5", "-1, 0, 0"}},
        {Vector, {"1, 2, 3", "-1,0.5,10"}, {"", "1, 2", "1, 2, 3, 4", "1, x, 3", "1, 2, 11"}},
        {Range, {"1..4", "-2..-1", "3..3", "1, 4"}, {"4..1", "1..", "..4", "1..x", "1..11", "1"}},
        {Curve, {"", "0, 1; 0.5, 2", "0, 0"}, {"0", "0, 1; 1", "1, 1; 0, 1"}},
        {Object, {"", "5a0c4be19d0f3b01"}, {"bench", "5a0c", "0000000000000000"}},
        {Zone, {"", "5a0c4be19d0f3b01"}, {"here"}},
        {Route, {"", "5a0c4be19d0f3b01"}, {"here"}},
        {Stop, {"", "5a0c4be19d0f3b01"}, {"here"}},
        {Points, {"", "5a0c4be19d0f3b01"}, {"there"}},
        {Item, {"", "lantern-post"}, {}},
        {Record, {"", "5a0c4be19d0f3b01"}, {"crew", "0000000000000000"}},
        {Media, {"", "notice.png"}, {}},
        {List, {"", "1 | 2.5", "-3"}, {"1 | x", "1 | 99"}}};
    return all;
}

Property of(PropertyType type) {
    Property p;
    p.name = "one";
    p.label = "One";
    p.type = type;
    p.low = -10;
    p.high = 10;
    p.choices = {{"open", "Open"}, {"shut", "Shut tight"}};
    if (type == PropertyType::List) {
        Property element;
        element.label = p.label;
        element.type = PropertyType::Number;
        element.low = -10;
        element.high = 10;
        p.element = {element};
    }
    return p;
}

class PropertyTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aStateChangesSurfaceImageAndComesAndGoesByTheClock() {
        using model::Value;
        using model::ValueList;
        using model::ValueMap;
        const auto text = [](const char* t) { return Value{std::string(t)}; };
        const ValueMap map = {
            {"name", text("Notice")},
            {"properties", Value{ValueList{{ValueMap{{"name", text("wet")}, {"type", text("bool")}}}}}},
            {"appearances",
             Value{ValueList{
                 {ValueMap{{"when", text("wet")}, {"surface", text("rust")}, {"image", text("a.png")}}},
                 {ValueMap{{"when", text("wet")}, {"badge", text("drips")}, {"every", {2.0}}, {"turns", {90.0}}}},
                 {ValueMap{{"badge", text("never so")}, {"every", {-1.0}}, {"when", text("!wet")}}}}}}};
        std::vector<std::string> problems;
        const model::Kind kind = model::kindFrom(map, problems);
        QCOMPARE(problems.size(), std::size_t(1));  // no such time
        const ValueMap wet = {{"wet", {true}}};
        QVERIFY(model::appearanceOf(kind, {}).surface.empty());
        QCOMPARE(model::appearanceOf(kind, wet).surface, std::string("rust"));
        QCOMPARE(model::appearanceOf(kind, wet).image, std::string("a.png"));
        for (const auto& [seconds, badge] :
             {std::pair(0.0, "drips"), {0.9, "drips"}, {1.1, ""}, {1.9, ""}, {2.5, "drips"}})
            QCOMPARE(model::appearanceOf(kind, wet, seconds).badge, std::string(badge));
        QCOMPARE(model::appearanceOf(kind, wet, 0.5).turnsDegrees, 90.0);
        QCOMPARE(model::appearanceOf(kind, wet, 1.5).turnsDegrees, 0.0);
        std::vector<std::string> none;
        const model::Kind again = model::kindFrom(model::toValues(kind), none);
        QCOMPARE(again.appearances[0], kind.appearances[0]);
        QCOMPARE(again.appearances[1], kind.appearances[1]);
    }
    void everyTypeIsHere() {
        std::set<std::string_view> names;
        for (const Sort& sort : sorts()) names.insert(model::typeName(sort.type));
        QCOMPARE(names.size(), static_cast<std::size_t>(PropertyType::List) + 1);
    }
    void whatIsTypedReadsBackTheSame() {
        for (const Sort& sort : sorts())
            for (const char* text : sort.taken) {
                const Property p = of(sort.type);
                const std::string what = fmt::format("{}: “{}”", model::typeName(sort.type), text);
                const auto value = model::parsedValue(p, text);
                QVERIFY2(value, what.c_str());
                QVERIFY2(model::fitted(p, *value) == *value, what.c_str());
                const auto again = model::parsedValue(p, model::valueText(p, *value));
                QVERIFY2(again && *again == *value, what.c_str());
            }
    }
    void whatDoesNotFitIsRefusedByItsName() {
        for (const Sort& sort : sorts())
            for (const char* text : sort.refused) {
                const auto value = model::parsedValue(of(sort.type), text);
                const std::string what = fmt::format("{}: “{}”", model::typeName(sort.type), text);
                QVERIFY2(!value, what.c_str());
                QVERIFY2(value.error().message.starts_with("One"), value.error().message.c_str());
            }
    }
    void whatItBeginsAsFits() {
        for (const Sort& sort : sorts()) {
            Property p = of(sort.type);
            QVERIFY2(model::fitted(p, model::defaultOf(p)), model::typeName(sort.type).data());
            p.low = 2;  // nought is out of its range
            if (sort.type != PropertyType::List) QVERIFY2(model::fitted(p, model::defaultOf(p)), "from two");
            const auto usual = model::parsedValue(of(sort.type), sort.taken.back());
            p = of(sort.type);
            p.fallback = *usual;
            QVERIFY(model::defaultOf(p) == *usual);
        }
    }
    void aFileGivesBackEveryMember() {
        for (const Sort& sort : sorts()) {
            Property p = of(sort.type);
            p.category = "Light";
            p.help = "What it is";
            p.unit = "l";
            p.step = 0.5;
            p.shownIf = "lit";
            p.required = p.readOnly = p.hidden = true;
            p.unknown = {{"newer", Value{std::string("kept")}}};
            std::vector<std::string> problems;
            const auto back = model::propertyFrom(model::toValues(p), problems);
            QVERIFY(back && problems.empty());
            QVERIFY2(model::toValues(*back) == model::toValues(p), model::typeName(sort.type).data());
            QVERIFY(back->type == p.type && back->shownIf == p.shownIf && back->unknown == p.unknown);
        }
    }
    /// Whatever is typed is refused in words, or taken and reads back the same.
    void chanceTypes() {
        QVERIFY(rc::check("typed", [] {
            const auto type = static_cast<PropertyType>(*rc::gen::inRange(0, static_cast<int>(PropertyType::List) + 1));
            const std::string text = *rc::gen::container<std::string>(
                rc::gen::oneOf(rc::gen::elementOf(std::string("0123456789.,;|-+e# ")), rc::gen::arbitrary<char>()));
            const Property p = of(type);
            const auto value = model::parsedValue(p, text);
            if (!value) return;
            RC_ASSERT(model::fitted(p, *value) == *value);
            const auto again = model::parsedValue(p, model::valueText(p, *value));
            RC_ASSERT(again && *again == *value);
        }));
    }
    void conditionsAskWhatTheySay() {
        const auto holds = [](const char* condition, const Value& value) {
            return model::holds(*model::parseCondition(condition), &value);
        };
        QVERIFY(holds("lit", {true}) && !holds("!lit", {true}) && holds("lit = false", {false}));
        QVERIFY(holds("oil > 1", {1.5}) && !holds("oil > 1.5", {1.5}) && holds("oil >= 1.5", {1.5}));
        QVERIFY(holds("oil < 2", {std::int64_t{1}}) && holds("oil != 2", {1.0}) && !holds("oil <= 0", {0.5}));
        QVERIFY(holds("state = OPEN", {std::string("open")}) && !holds("state != open", {std::string("open")}));
        QVERIFY(holds("with = mast", {ValueList{{std::string("oar")}, {std::string("mast")}}}));
        QVERIFY(!model::holds(*model::parseCondition("lit"), nullptr) &&
                model::holds(*model::parseCondition("!lit"), nullptr));
        for (const char* wrong : {"", " ", "!", "= 3", "> 1"}) QVERIFY2(!model::parseCondition(wrong), wrong);
    }
};

MELLOW_TEST(PropertyTest)
}  // namespace property_test
#include "property_test.moc"
