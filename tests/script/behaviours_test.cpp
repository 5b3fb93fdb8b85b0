// What kinds do while one edits: within the step that caused it, bounded, and without harm when they fail.
#include "script/behaviours.h"
#include "support/test_main.h"

#include <QtTest>

#include "model/data.h"
#include "ops/prefab.h"
#include "ops/properties.h"
#include "support/blocks.h"

namespace behaviours_test {

using base::ObjectId;
using base::Vec3;

model::ValueMap property(const std::string& name, const std::string& type) {
    return {{"name", {name}}, {"type", {type}}};
}

struct Kinds : test::Blocks {
    QTemporaryDir dir;
    script::Shelf shelf;
    script::Behaviours behaviours;
    std::vector<std::string> told;
    ObjectId lamp = put("cube", {0, 0, 0}), other = put("cube", {5, 0, 0});

    Kinds() {
        model::ValueMap kind = {{"name", {std::string("Lamp")}},
                                {"properties",
                                 {model::ValueList{{property("lit", "bool")},
                                                   {property("oil", "number")},
                                                   {property("hours", "number")},
                                                   {property("next", "object")},
                                                   {property("state", "text")}}}}};
        edit::Draft draft(session(), "first", "Kind");
        const std::string key;
        const std::optional<model::ValueMap> entry = kind;
        if (!draft.setEntries(model::data::kindDocument("Lamp"), {&key, 1}, {&entry, 1}) || !draft.commit())
            qFatal("no kind");
        const std::vector<ObjectId> ids = {lamp, other};
        const std::vector<base::Name> names(2, name("Lamp"));
        edit::Draft again(session(), "first", "Lamps");
        if (!again.setLabels(model::LabelField::Kind, ids, names) || !again.commit()) qFatal("no lamps");
        behaviours.settings.shapes = lookup();
        behaviours.onSwitchedOff = [this](const std::string& message) { told.push_back(message); };
        session().setBeforeCommit([this](edit::Draft& d) { return behaviours.beforeCommit(d); });
    }
    void use(const std::string& text) {
        test::writeBytes(std::filesystem::path(dir.path().toStdString()) / "lamp.lua", text);
        shelf.setFolder(script::Owner::Project, dir.path().toStdString(), "Test");
        shelf.refresh();
        if (!shelf.scripts()[0].problem.empty()) qFatal("%s", shelf.scripts()[0].problem.c_str());
        behaviours.take(shelf);
    }
    base::Status set(ObjectId id, const std::string& key, model::Value value) {
        edit::Draft draft(session(), "first", "Set " + key);
        if (base::Status done = ops::setProperty(draft, {&id, 1}, key, value); !done) return done;
        if (auto step = draft.commit(); !step) return tl::unexpected(step.error());
        return {};
    }
    double number(ObjectId id, const std::string& key) {
        model::Value room;
        const auto* p = ops::propertyOf(session().library(), scene(), slot(id), key);
        double n = 0;
        const double* is = model::asNumber(*ops::propertyValue(scene(), slot(id), *p, room), n);
        return is != nullptr ? *is : -1;
    }
    Vec3 at(ObjectId id) { return scene().local(slot(id)).position; }
};

class BehavioursTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void whatFollowsIsPartOfTheStep() {
        Kinds p;
        p.use(
            "behaviour { kind = 'Lamp', changed = function(o, before) "
            "if before.oil then o:set('hours', o:get('oil') * 2) end end }");
        const std::string before = p.bytes();
        const auto steps = p.session().history().present();
        QVERIFY(p.set(p.lamp, "oil", {1.5}));
        QCOMPARE(p.number(p.lamp, "hours"), 3.0);
        QVERIFY(p.session().undo());
        QCOMPARE(p.session().history().present(), steps);
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo());
        QCOMPARE(p.number(p.lamp, "hours"), 3.0);
    }
    void itHearsWhatItWasAndReactsToPoses() {
        Kinds p;
        p.use(
            "behaviour { kind = 'Lamp', changed = function(o, before) "
            "if before.at then o:set('state', 'from ' .. tostring(before.at)) end "
            "if before.created then o:set('oil', 4) end "
            "if before.lit ~= nil then o:set('state', 'was ' .. tostring(before.lit)) end end }");
        edit::Draft draft(p.session(), "first", "Move");
        base::Transform to;
        to.position = {1, 2, 3};
        QVERIFY(draft.setTransforms({&p.lamp, 1}, {&to, 1}));
        QVERIFY(draft.commit());
        QVERIFY(p.bytes().find("from (0, 0, 0)") != std::string::npos);
        QVERIFY(p.set(p.lamp, "lit", {true}));
        QVERIFY(p.bytes().find("was false") != std::string::npos);
        model::ObjectRecord fresh;
        fresh.id = ObjectId{4711};
        fresh.kind = p.name("Lamp");
        fresh.name = p.name("New");
        edit::Draft more(p.session(), "first", "New");
        QVERIFY(more.create({&fresh, 1}));
        QVERIFY(more.commit());
        QCOMPARE(p.number(fresh.id, "oil"), 4.0);
    }
    void itMayRefuseAStep() {
        Kinds p;
        p.use(
            "behaviour { kind = 'Lamp', allow = function(o, before) "
            "if o:get('oil') > 5 then return false, 'holds five litres' end end }");
        const std::string before = p.bytes();
        const auto refused = p.set(p.lamp, "oil", {6.0});
        QVERIFY(!refused);
        QVERIFY(refused.error().message.find("holds five litres") != std::string::npos);
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.set(p.lamp, "oil", {5.0}));
    }
    void aFailingOneIsSwitchedOffAndTheEditStays() {
        const std::pair<const char*, const char*> faults[] = {
            {"o:set('hours', 9) error('no')", "no"},
            {"o:set('hours', 9) while true do end", "too long"},
            {"o:set('hours', 9) for _, c in ipairs(find('cube')) do c:at(vec(9, 9, 9)) end", "touches"},
            {"remove(o)", "cannot make or remove"},
            {"place('cube', vec(0, 0, 0))", "cannot make or remove"},
            {"o:set('hours', (o:get('hours') or 0) + 1)", "come to rest"}};
        for (const auto& [fault, message] : faults) {
            Kinds p;
            p.use(std::string("behaviour { kind = 'Lamp', changed = function(o, before) ") + fault + " end }");
            QVERIFY(p.set(p.lamp, "oil", {2.0}));
            QCOMPARE(p.number(p.lamp, "oil"), 2.0);
            QCOMPARE(p.number(p.lamp, "hours"), 0.0);
            QCOMPARE(p.told.size(), std::size_t{1});
            QVERIFY2(p.told[0].find(message) != std::string::npos, p.told[0].c_str());
            QVERIFY(p.at(p.other) == Vec3(5, 0, 0));
            QVERIFY(p.set(p.lamp, "oil", {3.0}));
            QCOMPARE(p.told.size(), std::size_t{1});  // off
            p.use(
                std::string("behaviour { kind = 'Lamp', changed = function(o, b) if b.oil then "
                            "o:set('hours', 7) end end }"));
            QVERIFY(p.set(p.lamp, "oil", {1.0}));
            QCOMPARE(p.number(p.lamp, "hours"), 7.0);  // the file has changed: on again
        }
    }
    void itTouchesWhatItDeclares() {
        Kinds p;
        p.use(
            "behaviour { kind = 'Lamp', touches = {'links'}, changed = function(o, before) "
            "local n = o:get('next') if n and before.lit ~= nil then n:set('lit', o:get('lit')) end end }");
        QVERIFY(p.set(p.lamp, "next", model::objectLink(p.other)));
        QVERIFY(p.set(p.lamp, "lit", {true}));
        QVERIFY2(p.told.empty(), p.told.empty() ? "" : p.told[0].c_str());
        QCOMPARE(p.number(p.other, "hours"), 0.0);
        model::Value room;
        const auto* lit = ops::propertyOf(p.session().library(), p.scene(), p.slot(p.other), "lit");
        QVERIFY(std::get<bool>(ops::propertyValue(p.scene(), p.slot(p.other), *lit, room)->data));
    }
    void whatLiesInsideAnInstanceIsHeardToo() {
        Kinds p;
        edit::Draft make(p.session(), "first", "Prefab");
        auto made = ops::makePrefab(make, std::vector<ObjectId>{p.lamp, p.other}, {"Pair", "", {}, true});
        QVERIFY(made && make.commit());
        const model::Scene& scene = p.scene();
        const ObjectId inner = scene.id(scene.firstChild(scene.find(made->instance)));
        p.use(
            "behaviour { kind = 'Lamp', changed = function(o, before) "
            "if before.oil then o:set('hours', o:get('oil') * 2) end end }");
        const std::string before = p.bytes();
        QVERIFY(p.set(inner, "oil", {1.5}));
        QVERIFY2(p.told.empty(), p.told.empty() ? "" : p.told[0].c_str());
        QCOMPARE(p.number(inner, "hours"), 3.0);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
    }
    void looksAndHandles() {
        Kinds p;
        p.use(
            "behaviour { kind = 'Lamp', look = function(o) "
            "circle(o:at(), o:get('hours')) handle(o:at() + vec(o:get('hours'), 0, 0), 'hours') "
            "handle(o:at(), function(o, to) o:at(to) end) "
            "return { badge = 'lamp', tint = vec(1, 0.5, 0) } end }");
        QVERIFY(p.behaviours.giveLooks());
        std::map<model::Slot, script::Look> looks;
        const std::vector<model::Slot> slots = {p.slot(p.lamp), p.slot(p.other)};
        p.behaviours.looks(p.session(), "first", slots,
                           [&](model::Slot s, const script::Look& look) { looks[s] = look; });
        QCOMPARE(looks.size(), std::size_t{2});
        const script::Look& look = looks[p.slot(p.lamp)];
        QVERIFY(look.badge == "lamp" && look.tint == Vec3(1, 0.5, 0) && look.marks.size() == 3);
        QCOMPARE(look.marks[1].object, p.lamp);
        edit::Draft draft(p.session(), "first", "Pull");
        QVERIFY(p.behaviours.moveHandle(draft, p.lamp, 0, {0, 0, 4}));
        QVERIFY(p.behaviours.moveHandle(draft, p.lamp, 1, {0, 2, 0}));
        QVERIFY(draft.commit());
        QCOMPARE(p.number(p.lamp, "hours"), 4.0);
        QVERIFY(p.at(p.lamp) == Vec3(0, 2, 0));
        QVERIFY(p.session().undo());
        QCOMPARE(p.number(p.lamp, "hours"), 0.0);
    }
    void lookingCannotWrite() {
        Kinds p;
        p.use("behaviour { kind = 'Lamp', look = function(o) o:set('oil', 3) end }");
        const std::vector<model::Slot> slots = {p.slot(p.lamp)};
        p.behaviours.looks(p.session(), "first", slots, [](model::Slot, const script::Look&) {});
        QCOMPARE(p.told.size(), std::size_t{1});
        QVERIFY(p.told[0].find("only looks") != std::string::npos);
    }
    void onOpeningItPutsRight() {
        Kinds p;
        QVERIFY(p.set(p.lamp, "oil", {2.0}));
        p.use("behaviour { kind = 'Lamp', opened = function(o) o:set('hours', o:get('oil') * 2) end }");
        edit::Draft draft(p.session(), "first", "On opening");
        p.behaviours.opened(draft);
        QVERIFY(draft.commit());
        QCOMPARE(p.number(p.lamp, "hours"), 4.0);
        QCOMPARE(p.number(p.other, "hours"), 0.0);
    }
};

MELLOW_TEST(BehavioursTest)
}  // namespace behaviours_test
#include "behaviours_test.moc"
