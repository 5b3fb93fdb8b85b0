// Typed properties: what fits, many at once, relative changes, links and what becomes of them.
#include "ops/properties.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

#include "ops/copies.h"
#include "ops/prefab.h"
#include "support/blocks.h"
#include "support/naive_prefabs.h"
#include "support/steps.h"

namespace properties_test {

using base::ObjectId;
using base::Vec3;
using model::Property;
using model::PropertyType;
using model::Value;
using model::ValueList;
using model::ValueMap;
using test::asStep;

/// Lanterns with oil, a state and links; posts that nothing links to.
struct Lanterns : test::TestProject {
    ObjectId a, b, post;
    Lanterns() {
        add("Ground");
        setKind("Lantern");
        const std::optional<ValueMap> plain =
            ValueMap{{"name", {std::string("Post")}}, {"category", {std::string("x")}}};
        put("Post", plain);
        a = lantern("Lantern 1", {1, 0, 0});
        b = lantern("Lantern 2", {5, 0, 0});
        post = ofKind("Post 1", "Post", {2, 0, 0});
    }
    void put(const std::string& name, const std::optional<ValueMap>& values) {
        edit::Draft draft(session(), "first", "Kind");
        const std::string key;
        if (!draft.setEntries(model::data::kindDocument(name), {&key, 1}, {&values, 1}) || !draft.commit())
            qFatal("no kind");
    }
    void setKind(const std::string& name) {
        auto property = [](const char* key, const char* type, ValueMap more = {}) {
            ValueMap map = {{"name", {std::string(key)}}, {"type", {std::string(type)}}};
            map.insert(map.end(), more.begin(), more.end());
            return Value{std::move(map)};
        };
        const Value kinds{ValueList{{std::string("Lantern")}}};
        const Value leads{ValueMap{{"type", {std::string("object")}}, {"kinds", kinds}}};
        put(name,
            ValueMap{{"name", {name}},
                     {"category", {std::string("Towpath")}},
                     {"properties",
                      {ValueList{property("oil", "number", {{"low", {0.0}}, {"high", {5.0}}, {"default", {1.5}}}),
                                 property("state", "choice",
                                          {{"choices", {ValueList{{std::string("lit")}, {std::string("dark")}}}}}),
                                 property("fixed", "text", {{"readOnly", {true}}}),
                                 property("next", "object", {{"kinds", kinds}}),
                                 property("lights", "list", {{"of", leads}})}}}});
    }
    ObjectId ofKind(const std::string& name, const std::string& kind, const Vec3& at, ObjectId parent = {}) {
        const ObjectId id = add(name, parent, {at});
        edit::Draft draft(session(), "first", "Kind of");
        const base::Name value = session().intern(kind);
        if (!draft.setLabels(model::LabelField::Kind, {&id, 1}, {&value, 1}) || !draft.commit()) qFatal("no kind");
        return id;
    }
    ObjectId lantern(const std::string& name, const Vec3& at, ObjectId parent = {}) {
        return ofKind(name, "Lantern", at, parent);
    }
    base::Status set(ObjectId id, const std::string& name, const Value& value) {
        return asStep(*this, [&](edit::Draft& d) { return ops::setProperty(d, {&id, 1}, name, value); });
    }
    Value value(ObjectId id, const std::string& name) {
        Value room;
        return *ops::propertyValue(scene(), slot(id), *ops::propertyOf(session().library(), scene(), slot(id), name),
                                   room);
    }
    ObjectId next(ObjectId id) { return model::objectIn(value(id, "next")); }
};

Property of(PropertyType type) {
    Property p;
    p.name = p.label = "p";
    p.type = type;
    return p;
}

class PropertiesTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whatFitsIsKeptAndTheDefaultIsLeftOut() {
        Lanterns p;
        QVERIFY(p.set(p.a, "oil", {2.5}));
        QVERIFY(p.value(p.a, "oil") == Value{2.5});
        QVERIFY(p.set(p.a, "oil", {std::int64_t{3}}));
        QVERIFY(p.value(p.a, "oil") == Value{3.0});
        QVERIFY(p.set(p.a, "oil", {1.5}));
        QVERIFY(!p.scene().detail(p.slot(p.a)));
    }
    void whatDoesNotFitIsRefusedByName() {
        Lanterns p;
        for (const auto& [name, value, says] : std::vector<std::tuple<std::string, Value, const char*>>{
                 {"oil", {6.0}, "range"},
                 {"oil", {std::string("much")}, "number"},
                 {"oil", {std::nan("")}, "finite"},
                 {"state", {std::string("blue")}, "choices"},
                 {"fixed", {std::string("x")}, "read-only"},
                 {"nothing", {true}, "no property"},
                 {"next", model::objectLink(p.post), "nothing it can link"},
                 {"next", model::objectLink(ObjectId{99}), "no object"},
                 {"lights", {ValueList{{true}}}, "link"}}) {
            const base::Status set = p.set(p.a, name, value);
            QVERIFY2(!set && QString::fromStdString(set.error().message).contains(says), name.c_str());
        }
        QVERIFY(!p.set(p.post, "oil", {1.0}));
    }
    void manyChangeByAnAmountEachFromItsOwn() {
        Lanterns p;
        QVERIFY(p.set(p.b, "oil", {3.0}));
        const ops::Ids both = {p.a, p.b};
        auto type = [&](const char* text) {
            return asStep(p, [&](edit::Draft& d) {
                return ops::changeProperty(d, both, "oil", [&](const Property& property, const Value& now) {
                    return ops::typedValue(property, text, now);
                });
            });
        };
        QVERIFY(type("+= 1"));
        QVERIFY(p.value(p.a, "oil") == Value{2.5} && p.value(p.b, "oil") == Value{4.0});
        QVERIFY(!type("*2"));  // the second would be out of its range: neither changes
        QVERIFY(p.value(p.a, "oil") == Value{2.5});
        QVERIFY(type("1/2"));
        QVERIFY(p.value(p.a, "oil") == Value{0.5} && p.value(p.b, "oil") == Value{0.5});
    }
    void linksAreOfferedByKindTheNearestFirst() {
        Lanterns p;
        const ObjectId far = p.lantern("Lantern 3", {50, 0, 0});
        const Property& next = *ops::propertyOf(p.session().library(), p.scene(), p.slot(p.a), "next");
        QVERIFY(p.set(p.a, "next", model::objectLink(far)));
        const auto targets = ops::linkTargets(p.scene(), p.slot(p.a), next);
        QCOMPARE(targets.size(), std::size_t{2});
        QVERIFY(targets[0].id == p.b && !targets[0].linked && std::abs(targets[0].metres - 4) < 1e-9);
        QVERIFY(targets[1].id == far && targets[1].linked);
    }
    void aListOfLinksGrowsAndShrinksByPointing() {
        Lanterns p;
        auto point = [&](ObjectId to) {
            return asStep(p, [&](edit::Draft& d) { return ops::toggleLink(d, {&p.a, 1}, "lights", to); });
        };
        const ObjectId c = p.lantern("Lantern 3", {9, 0, 0});
        QVERIFY(point(p.b) && point(c));
        QCOMPARE(ops::links(p.scene()).size(), std::size_t{2});
        QVERIFY(point(p.b));
        QVERIFY(ops::links(p.scene()) == (std::vector<ops::Link>{{p.a, c, "lights", false}}));
        QVERIFY(!point(p.post));
    }
    void aLinkToWhatIsDeletedStaysBrokenAndComesBack() {
        Lanterns p;
        QVERIFY(p.set(p.a, "next", model::objectLink(p.b)));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::remove(d, {&p.b, 1}); }));
        QVERIFY(ops::links(p.scene()).at(0).broken);
        QVERIFY(p.session().undo());
        QVERIFY(!ops::links(p.scene()).at(0).broken);
    }
    void copiesLinkAmongThemselvesAndOutwardsAsBefore() {
        Lanterns p;
        QVERIFY(p.set(p.a, "next", model::objectLink(p.b)));
        auto both = asStep(p, [&](edit::Draft& d) { return ops::duplicate(d, ops::Ids{p.a, p.b}); });
        QVERIFY(p.next(both->at(0)) == both->at(1));
        auto alone = asStep(p, [&](edit::Draft& d) { return ops::duplicate(d, ops::Ids{p.a}); });
        QVERIFY(p.next(alone->at(0)) == p.b);
    }
    void insidePrefabsLinksStayInsideEachInstance() {
        Lanterns p;
        QVERIFY(p.set(p.a, "next", model::objectLink(p.b)));
        auto made = asStep(p, [&](edit::Draft& d) {
            return ops::makePrefab(d, ops::Ids{p.a, p.b}, {"Pair", "", {0, 0, 0}, true});
        });
        QVERIFY(made.has_value());
        QVERIFY(p.next(p.a) == p.b);
        auto copy = asStep(p, [&](edit::Draft& d) { return ops::duplicate(d, {&made->instance, 1}); });
        const ObjectId inner = base::innerOf(made->instance, p.a), other = base::innerOf(made->instance, p.b);
        const ObjectId a2 = base::joined(copy->at(0), inner), b2 = base::joined(copy->at(0), other);
        QVERIFY(p.next(a2) == b2);
        QCOMPARE(ops::differences(p.session(), *p.scene().detail(p.slot(copy->at(0)))->prefab).size(), std::size_t{0});
        // Set anew inside one, it is a difference in the definition's terms: what was there before is none.
        QVERIFY(p.set(a2, "next", {std::string()}));
        QVERIFY(p.set(a2, "next", model::objectLink(b2)));
        QCOMPARE(ops::differences(p.session(), *p.scene().detail(p.slot(copy->at(0)))->prefab).size(), std::size_t{0});
        // From outside into an instance, across an edit of the definition.
        const ObjectId c = p.lantern("Lantern 9", {20, 0, 0});
        QVERIFY(p.set(c, "next", model::objectLink(b2)));
        QVERIFY(asStep(p, [&](edit::Draft& d) {
            if (base::Status turned = d.turnTo(model::definitionKey(made->prefab)); !turned) return turned;
            const base::Transform moved{{0, 3, 0}};
            return d.setTransforms({&other, 1}, {&moved, 1});
        }));
        QVERIFY(p.next(c) == b2 && !ops::links(p.scene()).back().broken);
        // Taken apart they are what they were.
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::takeApart(d, *copy, true); }).has_value());
        QVERIFY(p.next(a2) == b2 && p.next(c) == b2);
        // All of it is read again from the files.
        const std::string rows = test::rowsText(p.session(), "first");
        for (const std::string& name : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), name));
        p.close();
        std::filesystem::remove_all(p.folder() / ".mellow");
        QVERIFY(p.reopen());
        QCOMPARE(test::rowsText(p.session(), "first"), rows);
    }
    void typedTextReadsBackAsTheSameValue() {
        QVERIFY(rc::check("values", [] {
            const auto number = [] { return *rc::gen::inRange(-40, 41) * 0.25; };
            Property p = of(static_cast<PropertyType>(*rc::gen::inRange(0, 18)));
            p.choices = {{"lit", "Lit"}, {"dark", "dark"}};
            if (p.type == PropertyType::List) p.element.push_back(of(PropertyType::Vector));
            Value v = model::defaultOf(p);
            switch (p.type) {
                case PropertyType::Number:
                case PropertyType::Angle:
                case PropertyType::Time: v = {number()}; break;
                case PropertyType::Integer: v = {std::int64_t{*rc::gen::inRange(-99, 100)}}; break;
                case PropertyType::Vector: v = {ValueList{{number()}, {number()}, {number()}}}; break;
                case PropertyType::Range: {
                    const double from = number();
                    v = {ValueList{{from}, {from + std::abs(number())}}};
                    break;
                }
                case PropertyType::Curve:
                    v = {ValueList{{ValueList{{-1.0}, {number()}}}, {ValueList{{2.0}, {number()}}}}};
                    break;
                case PropertyType::Object:
                    v = model::objectLink(ObjectId{*rc::gen::inRange<std::uint64_t>(1, 1u << 30)});
                    break;
                case PropertyType::Record: v = model::recordLink(ObjectId{7}); break;
                case PropertyType::Flags: v = {ValueList{{std::string("lit")}, {std::string("dark")}}}; break;
                case PropertyType::List: v = {ValueList{{ValueList{{number()}, {number()}, {number()}}}}}; break;
                default: break;
            }
            auto fine = model::fitted(p, v);
            RC_ASSERT(fine.has_value());
            auto back = model::parsedValue(p, model::valueText(p, *fine));
            RC_ASSERT(back.has_value());
            RC_ASSERT(*back == *fine);
            std::vector<std::string> problems;
            auto schema = model::propertyFrom(model::toValues(p), problems);
            RC_ASSERT(schema && problems.empty() && *schema == p);
        }));
    }
    void conditionsHoldAsTheyRead() {
        const Value dark{std::string("Dark")}, three{3.0}, yes{true}, several{ValueList{{std::string("lit")}}};
        for (const auto& [text, value, want] :
             std::vector<std::tuple<const char*, const Value*, bool>>{{"lit", &yes, true},
                                                                      {"!lit", &yes, false},
                                                                      {"lit", nullptr, false},
                                                                      {"!lit", nullptr, true},
                                                                      {"oil>2", &three, true},
                                                                      {"oil > 3", &three, false},
                                                                      {"oil>=3", &three, true},
                                                                      {"oil<=2", &three, false},
                                                                      {"oil=3", &three, true},
                                                                      {"s=dark", &dark, true},
                                                                      {"s!=dark", &dark, false},
                                                                      {"f=lit", &several, true}}) {
            auto condition = model::parseCondition(text);
            QVERIFY(condition.has_value());
            QVERIFY2(model::holds(*condition, value) == want, text);
        }
        QVERIFY(!model::parseCondition("") && !model::parseCondition("=3"));
    }
};

MELLOW_TEST(PropertiesTest)
}  // namespace properties_test
#include "properties_test.moc"
