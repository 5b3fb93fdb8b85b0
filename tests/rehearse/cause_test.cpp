// Cues in a level: what is used moves things, zones hear who comes in, what vanishes is met by nobody, goals end it.
#include <QtTest>

#include "model/facets/cues.h"
#include "model/facets/goal.h"
#include "model/facets/points.h"
#include "ops/acts.h"
#include "ops/copies.h"
#include "ops/cues.h"
#include "ops/kinds.h"
#include "ops/outfits.h"
#include "ops/prefab.h"
#include "rehearse/ride.h"
#include "support/steps.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace cause_test {

using base::ObjectId;
using base::Vec3;
using model::CueThen;
using model::CueWhen;
using rehearse::What;
using Does = CueThen::Does;
using When = CueWhen::What;

CueWhen when(When what, ObjectId object = {}) {
    CueWhen w;
    w.what = what;
    w.object = object;
    return w;
}
CueThen then(Does does, std::initializer_list<ObjectId> to = {}, double after = 0) {
    CueThen t;
    t.does = does;
    t.after = after;
    for (const ObjectId id : to) t.targets.push_back({id, {}});
    return t;
}

struct Stage : test::Yard {
    Stage() { put("slab", {0, 0, 0}); }
    void cue(ObjectId of, std::vector<CueWhen> whens, std::vector<CueThen> thens, std::int64_t times = 1) {
        edit::Draft draft(session(), "first", "Cue");
        const base::Status done = ops::changeCues(draft, of, [&](model::Cues& cues) {
            model::Cue made = model::freshCue(cues);
            made.when = std::move(whens);
            made.then = std::move(thens);
            made.times = times;
            cues.all.push_back(made);
            return base::Status{};
        });
        if (!done || !draft.commit()) qFatal("no cue");
    }
};

bool told(const rehearse::Run& run, What what, ObjectId object = {}) {
    return std::ranges::any_of(run.trace().entries,
                               [&](const rehearse::Entry& e) { return e.what == what && e.object == object; });
}

class CauseTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void anActBringsWhatIsInItAndPutsItBack() {
        Stage y;
        const ObjectId act = y.put("", {9, 0, 0}), stall = y.put("cube", {0, 0, -3}), boat = y.put("cube", {6, 0, 0}),
                       crate = y.loose("cube", {6, 1, 0}, {}, Vec3(0.5)), lever = y.put("cube", {-6, 0, 0}),
                       zone = y.zone({0, 0, 0}, {2, 2, 2});
        y.give(act, model::Act{});
        y.give(stall, model::InActs{{{act}}, {}});
        model::ActPart up{act, model::ActPart::Is::AsItIs, true, {6, 2, 0}};
        y.give(boat, model::InActs{{up}, {}});
        y.give(zone, model::InActs{{{act}}, {}});
        CueThen begins = then(Does::ActBegins, {act}, 1), ends = then(Does::ActEnds, {act}, 5);
        begins.seconds = ends.seconds = 1;
        y.cue(lever, {when(When::Start)}, {begins, ends});
        const auto run = y.run({0, 0, 0});
        const std::size_t stallIs = test::thingIndex(*run, stall), boatIs = test::thingIndex(*run, boat),
                          crateIs = test::thingIndex(*run, crate);
        QVERIFY(!run->isThere(stallIs));
        test::press(*run, {}, 0.8);
        QVERIFY(!told(*run, What::Entered, zone));
        test::press(*run, {}, 2);
        QVERIFY(told(*run, What::ActBegan, act) && run->isThere(stallIs));
        QVERIFY(told(*run, What::Entered, zone));
        QVERIFY(glm::length(run->world().pose(boatIs).at - Vec3(6, 2, 0)) < 1e-9);
        QVERIFY(run->world().pose(crateIs).at.y > 3);  // it rides
        test::press(*run, {}, 4);
        QVERIFY(told(*run, What::ActEnded, act) && !run->isThere(stallIs) && told(*run, What::Left, zone));
        QVERIFY(glm::length(run->world().pose(boatIs).at - Vec3(6, 0, 0)) < 1e-9);
    }
    void whatGoesOnAtFirstIsThereBeforeTheFirstStep() {
        Stage y;
        const ObjectId act = y.put("", {9, 0, 0}), stall = y.put("cube", {0, 0, -3}), boat = y.put("cube", {6, 0, 0}),
                       crate = y.put("cube", {1, 0, 0}, {}, Vec3(0.5), boat);
        y.give(act, model::Act{true, false, {}});
        y.give(stall, model::InActs{{{act, model::ActPart::Is::Away}}, {}});
        y.give(boat, model::InActs{{{act, model::ActPart::Is::AsItIs, true, {6, 2, 0}}}, {}});
        model::Body loose;
        loose.role = model::Body::Role::Loose;
        y.give(crate, loose);
        const auto run = y.run({0, 0, 0});
        QVERIFY(!run->isThere(test::thingIndex(*run, stall)));
        QVERIFY(glm::length(run->world().pose(test::thingIndex(*run, boat)).at - Vec3(6, 2, 0)) < 1e-9);
        QVERIFY(run->world().pose(test::thingIndex(*run, crate)).at.y > 2);  // what lies below it as well
    }
    void aLevelIsTheSameWhileOneWorksInAnAct() {
        const auto told = [](bool worked) {
            Stage y;
            const ObjectId act = y.put("", {9, 0, 0}), boat = y.put("cube", {6, 0, 0}, {0, 30, 0});
            y.give(act, model::Act{});
            const Vec3 there(6, 2, 0);
            y.give(boat, model::InActs{{{act, model::ActPart::Is::AsItIs, true, there}}, {}});
            CueThen begins = then(Does::ActBegins, {act}, 1);
            y.cue(act, {when(When::Start)}, {begins});
            if (worked) {
                edit::Draft draft(y.session(), "first", "Work in it");
                if (!ops::workIn(draft, act) || !draft.commit()) qFatal("not worked in");
                if (y.scene().world(y.slot(boat)).translation != there) qFatal("it is elsewhere");
            }
            const auto run = y.run({0, 0, 0});
            const std::size_t is = test::thingIndex(*run, boat);
            test::press(*run, {}, 0.5);
            const Vec3 first = run->world().pose(is).at;
            test::press(*run, {}, 4);
            return std::pair(first, run->world().pose(is).at);
        };
        const auto plain = told(false), worked = told(true);
        QVERIFY(glm::length(plain.first - worked.first) < 1e-9 && glm::length(plain.second - worked.second) < 1e-9);
        QVERIFY(glm::length(plain.second - Vec3(6, 2, 0)) < 1e-9);
    }
    void anOutfitGivesItsValuesAndCuesHearThem() {
        Stage y;
        const auto boatKind = [&](edit::Draft& d) -> base::Status {
            model::ValueMap load{{"name", {"load"}}, {"type", {"integer"}}};
            if (auto kind = ops::newKind(d, "Boat", ""); !kind) return kind;
            model::ValueMap own = d.session().library().kindNamed("Boat")->own;
            model::setValue(own, "properties", {model::ValueList{{load}}});
            if (auto set = ops::setKind(d, "Boat", own); !set) return tl::unexpected(set.error());
            model::Outfit laden;
            laden.name = "laden";
            laden.values = {{"load", {std::int64_t{5}}}};
            auto put = ops::putOutfit(d, "Boat", laden);
            return put ? base::Status{} : base::Status(tl::unexpected(put.error()));
        };
        const base::Status made = test::asStep(y, boatKind);
        QVERIFY2(made, made ? "" : made.error().message.c_str());
        const ObjectId boat = y.put("cube", {6, 0, 0});
        QVERIFY(test::asStep(y, [&](edit::Draft& d) {
            return d.setLabels(model::LabelField::Kind, {&boat, 1}, std::vector{d.session().intern("Boat")});
        }));
        CueThen dress = then(Does::Outfit, {boat}, 0.5), lay = then(Does::Surface, {boat}, 1),
                guise = then(Does::Guise);
        dress.look = "laden";
        lay.look = "brass";
        guise.look = "Frost";
        y.cue(boat, {when(When::Start)}, {dress, lay, guise});
        CueWhen isFive = when(When::Is, boat);
        isFive.property = "load";
        isFive.value = "5";
        y.cue(boat, {isFive}, {then(Does::Outfit, {boat})});  // as at the start: what it wears; the load stays
        const std::string before = y.bytes();
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 2);
        using Of = rehearse::Change::Of;
        std::vector<std::pair<Of, std::string>> changes;
        for (const rehearse::Change& c : run->trace().changes)
            changes.emplace_back(c.of, c.of == Of::Property ? c.name : std::get<std::string>(c.value.data));
        const std::vector<std::pair<Of, std::string>> expected = {{Of::Guise, "Frost"},
                                                                  {Of::Property, "load"},
                                                                  {Of::Outfit, "laden"},
                                                                  {Of::Outfit, ""},
                                                                  {Of::Surface, "brass"}};
        QCOMPARE(changes, expected);
        QVERIFY(told(*run, What::Dressed, boat) && told(*run, What::Dressed));
        QCOMPARE(y.bytes(), before);
    }
    void aCarrierGoesAlongPointsAndTurnsWithItsWay() {
        Stage y;
        const ObjectId boat = y.put("cube", {0, 0, 0}), way = y.put("", {0, 0, 0});
        model::PointSet points;
        for (const Vec3& at : {Vec3(0, 0, 0), Vec3(0, 0, 10), Vec3(10, 0, 10)}) {
            model::PlacePoint point;
            point.at = at;
            points.points.push_back(point);
        }
        QVERIFY(!rehearse::Ride(y.scene(), y.slot(boat), y.slot(way)).hasWay());
        y.give(way, points);
        const rehearse::Ride ride(y.scene(), y.slot(boat), y.slot(way));
        QVERIFY(ride.hasWay());
        QVERIFY(std::abs(ride.metres() - 20) < 1e-9);
        QCOMPARE(ride.motionAt(0), base::Affine{});
        const auto is = [&](double metres, const Vec3& at, const Vec3& ahead) {
            const base::Affine motion = ride.motionAt(metres);
            return glm::length(motion.point({0, 0, 0}) - at) < 1e-9 &&
                   glm::length(motion.direction({0, 0, 1}) - ahead) < 1e-9;
        };
        QVERIFY(is(5, {0, 0, 5}, {0, 0, 1}));
        QVERIFY(is(15, {5, 0, 10}, {1, 0, 0}));
        QVERIFY(is(10, {0, 0, 10}, glm::normalize(Vec3(1, 0, 1))));
        QVERIFY(is(99, {10, 0, 10}, {1, 0, 0}));  // there it stays
    }
    void insideAPrefabCuesStayInside() {
        Stage y;
        const ObjectId lever = y.put("cube", {-6, 0, 0}), gate = y.put("cube", {-9, 0, 0}, {}, Vec3(0.5), lever),
                       bell = y.put("cube", {20, 0, 0});
        CueThen lift = then(Does::Move, {gate}), ring = then(Does::Seen, {bell});
        lift.slide = {0, 3, 0};
        lift.seconds = 0.5;
        ring.on = false;
        y.cue(lever, {when(When::Used)}, {lift});
        ops::MakePrefab how{"Gate", "", {-6, 0, 0}, true};
        const auto made = test::asStep(y, [&](edit::Draft& d) { return ops::makePrefab(d, {&lever, 1}, how); });
        QVERIFY(made.has_value());
        ops::Placement at;
        at.item = y.name(model::definitionKey(made->prefab));
        at.position = {6, 0, 0};
        const auto second = test::asStep(y, [&](edit::Draft& d) { return ops::place(d, at); });
        QVERIFY(second.has_value());
        y.cue(bell, {when(When::Used)}, {ring});
        const auto inside = [&](ObjectId instance, ObjectId own) {
            return base::joined(instance, base::innerOf(made->instance, own));
        };
        const auto run = y.run({0, 0, 0});
        const auto height = [&](ObjectId instance) {
            return run->world().pose(test::thingIndex(*run, inside(instance, gate))).at.y;
        };
        const double low = height(made->instance);
        run->use(test::thingIndex(*run, inside(*second, lever)));
        test::press(*run, {}, 1.5);
        QVERIFY(std::abs(height(*second) - low - 3) < 1e-6);
        QVERIFY(std::abs(height(made->instance) - low) < 1e-9);  // the other one's stays
        QVERIFY(run->isThere(test::thingIndex(*run, bell)));
    }
    void soundsBeginByThemselvesOrByACueAndEnd() {
        Stage y;
        const ObjectId brook = y.put("", {4, 0, 0}), voice = y.put("", {0, 2, 0});
        model::Sound always, line;
        always.file = line.file = "a.wav";
        always.begins = always.loop = true;
        line.is = model::Sound::Is::Spoken;
        line.words = "Mind the step.";
        y.give(brook, always);
        y.give(voice, line);
        CueThen stops = then(Does::Sound, {brook, voice}, 1);
        stops.on = false;
        y.cue(voice, {when(When::Start)}, {then(Does::Sound, {voice}, 0.5), stops});
        const auto run = y.run({0, 0, 0});
        const auto since = [&](ObjectId id) {
            for (std::size_t i = 0; i < run->level().sounds.size(); ++i)
                if (run->level().sounds[i].id == id) return run->soundSince(i);
            return -2;
        };
        QCOMPARE(since(brook), 0);
        QCOMPARE(since(voice), -1);
        test::press(*run, {}, 0.7);
        QVERIFY(since(voice) > 50 && since(voice) < 70);
        QVERIFY(told(*run, What::SoundBegan, voice) && told(*run, What::Said));
        test::press(*run, {}, 0.5);
        QVERIFY(since(brook) == -1 && since(voice) == -1 && told(*run, What::SoundEnded, brook));
    }
    void whatIsUsedMovesAnotherAfterAWhile() {
        Stage y;
        const ObjectId lever = y.put("cube", {0, 1.5, -1}, {}, Vec3(0.4)), door = y.put("cube", {5, 0, 0});
        CueThen opens = then(Does::Move, {door}, 1);
        opens.slide = {0, 2, 0};
        opens.seconds = 1;
        y.cue(lever, {when(When::Used)}, {opens});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.5);
        QVERIFY(run->focus().canUse);  // without a facet that says so
        test::press(*run, test::ahead(0, rehearse::Input::Use), 0.05);
        QVERIFY(told(*run, What::WentOff, lever));
        const std::size_t moved = test::thingIndex(*run, door);
        test::press(*run, {}, 0.8);
        QVERIFY(glm::length(run->world().pose(moved).at - Vec3(5, 0, 0)) < 1e-9);
        test::press(*run, {}, 1.4);
        QVERIFY(glm::length(run->world().pose(moved).at - Vec3(5, 2, 0)) < 1e-6);
    }
    void aZoneHearsWhoComesInAndWinsTheLevel() {
        Stage y;
        const ObjectId goal = y.put("", {0, 0, 0}), there = y.zone({0, 0, -4}, {2, 3, 2});
        model::Goal says;
        says.words = "Come here";
        y.give(goal, says);
        CueThen won = then(Does::Won, {}, 0.5);
        won.next = "second";
        y.cue(there, {when(When::Enters)}, {then(Does::GoalMet, {goal})});
        y.cue(goal, {when(When::Met)}, {won});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.3);
        QVERIFY(run->cues().goal(0) == rehearse::GoalState::Set);
        test::press(*run, test::ahead(0), 2.5);
        QVERIFY(told(*run, What::GoalMet, goal));
        QVERIFY(told(*run, What::Won));
        QCOMPARE(run->cues().end()->then.next, std::string("second"));
    }
    void whatVanishesIsMetByNobodyAndComesBack() {
        Stage y;
        const ObjectId wall = y.put("cube", {0, 0, -2}, {}, {6, 3, 0.3}),
                       late = y.put("cube", {0, 0, -6}, {}, {6, 3, 0.3});
        {
            edit::Draft draft(y.session(), "first", "Absent");
            QVERIFY(ops::setFlag(draft, {&late, 1}, model::flags::kAbsent, true) && draft.commit());
        }
        CueThen gone = then(Does::Exists, {wall}, 1), comes = then(Does::Exists, {late}, 1);
        gone.on = false;
        y.cue(wall, {when(When::Start)}, {gone, comes});
        const auto run = y.run({0, 0, 0});
        QVERIFY(!run->isThere(test::thingIndex(*run, late)));
        test::press(*run, test::ahead(0), 0.9);
        QVERIFY(run->player().footing.feet.z > -1.7);  // it stands in the way
        test::press(*run, test::ahead(0), 3);
        const double z = run->player().footing.feet.z;
        QVERIFY2(z < -5 && z > -5.8, qPrintable(QString::number(z)));  // through the first, up to the second
        QVERIFY(!run->isThere(test::thingIndex(*run, wall)) && run->isThere(test::thingIndex(*run, late)));
        const auto there = rehearse::thereAt(run->trace(), run->level(), 60);
        QVERIFY(there[test::thingIndex(*run, wall)] && !there[test::thingIndex(*run, late)]);
    }
    void pushedWokenAndSaid() {
        Stage y;
        model::Body waits;
        waits.wakes = model::Body::Wakes::ByCue;
        const ObjectId crate = y.loose("cube", {4, 0, 0}, {}, Vec3(0.5), waits);
        CueThen push = then(Does::Push, {crate}, 0.2), says = then(Does::Message);
        push.slide = {600, 0, 0};
        says.words = "Mind your feet";
        y.cue(crate, {when(When::Start)}, {says, push});
        const auto run = y.run({0, 0, 3});
        test::press(*run, {}, 2);
        QVERIFY(told(*run, What::Said));
        QVERIFY(run->world().pose(test::thingIndex(*run, crate)).at.x > 4.2);
    }
    void nearFarAndOutOfSight() {
        Stage y;
        const ObjectId post = y.put("cube", {0, 0, -6}, {}, Vec3(0.5));
        CueWhen near = when(When::Nearer), far = when(When::Farther), unseen = when(When::Unseen);
        near.metres = 2;
        far.metres = 9;
        const ObjectId a = y.put("", {}), b = y.put("", {}), c = y.put("", {});
        near.object = far.object = unseen.object = post;
        CueThen says = then(Does::Message);
        says.words = "x";
        y.cue(a, {near}, {says});
        y.cue(b, {far}, {says});
        y.cue(c, {unseen}, {says});
        const auto run = y.run({0, 0, 0});
        test::press(*run, test::ahead(0), 1);
        QVERIFY(!told(*run, What::WentOff, a) && !told(*run, What::WentOff, b) && !told(*run, What::WentOff, c));
        test::press(*run, test::ahead(0), 2);
        QVERIFY(told(*run, What::WentOff, a));
        test::press(*run, test::ahead(180), 1);
        QVERIFY(told(*run, What::WentOff, c));
        test::press(*run, test::ahead(180), 5);
        QVERIFY(told(*run, What::WentOff, b));
    }
    void whatIsSeenNoMoreIsStillMet() {
        Stage y;
        const ObjectId wall = y.put("cube", {0, 0, -2}, {}, {6, 3, 0.3});
        CueThen hides = then(Does::Seen, {wall}, 0.2);
        hides.on = false;
        y.cue(wall, {when(When::Start)}, {hides});
        const auto run = y.run({0, 0, 0});
        test::press(*run, test::ahead(0), 2);
        QVERIFY(!run->isThere(test::thingIndex(*run, wall)));
        QVERIFY(run->player().footing.feet.z > -1.8);
        const auto moment = [&](int step) -> bool {
            return rehearse::thereAt(run->trace(), run->level(), step)[test::thingIndex(*run, wall)];
        };
        QVERIFY(moment(10) && !moment(60));
    }
    void whatLiesBelowACarrierRides() {
        Stage y;
        const ObjectId barge = y.guided("cube", {0, 0, -5}, {}, {2, 0.5, 2}),
                       lamp = y.put("cube", {0, 0.5, -5}, {}, Vec3(0.3));
        const Vec3 stood = y.scene().world(y.scene().find(lamp)).translation;
        {
            edit::Draft draft(y.session(), "first", "Aboard");
            QVERIFY(ops::reparent(draft, {&lamp, 1}, barge, {}) && draft.commit());
        }
        QVERIFY(glm::length(y.scene().world(y.scene().find(lamp)).translation - stood) < 1e-9);
        CueThen sails = then(Does::Move, {barge});
        sails.slide = {4, 0, 0};
        sails.seconds = 1;
        y.cue(barge, {when(When::Start)}, {sails});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 1.5);
        const std::size_t thing = test::thingIndex(*run, barge);
        QCOMPARE(run->level().things[thing].slots.size(), std::size_t(2));
        QVERIFY(glm::length(run->world().motion(thing).translation - Vec3(4, 0, 0)) < 1e-6);
    }
    void whatIsMovedAboardGoesWithItsCarrierToo() {
        Stage y;
        const ObjectId barge = y.guided("cube", {0, 0, -5}, {}, {2, 0.5, 2}),
                       hatch = y.put("cube", {0, 0.5, -5}, {}, Vec3(0.3));
        {
            edit::Draft draft(y.session(), "first", "Aboard");
            QVERIFY(ops::reparent(draft, {&hatch, 1}, barge, {}) && draft.commit());
        }
        CueThen sails = then(Does::Move, {barge}), opens = then(Does::Move, {hatch}, 0.5),
                again = then(Does::Move, {hatch}, 3);
        sails.slide = {4 / 2.0, 0, 0};  // poses are not sized: metres along its axes
        sails.turnDegrees = 90;
        sails.seconds = 2;
        opens.slide = {0, 0, -1};
        opens.seconds = 1;
        again.slide = {0, 1, 0};
        again.seconds = 1;
        CueThen gone = then(Does::Exists, {barge}, 5);
        gone.on = false;
        y.cue(barge, {when(When::Start)}, {sails, opens, again, gone});
        const auto run = y.run({0, 0, 4});
        const std::size_t carrier = test::thingIndex(*run, barge), rides = test::thingIndex(*run, hatch);
        QCOMPARE(run->level().things[rides].carrier, static_cast<std::int32_t>(carrier));
        test::press(*run, {}, 4.5);
        // Aboard it is where it would be, had the barge stood still: 1 m ahead along its own axes, and 1 m up.
        const rehearse::Pose b = run->world().pose(carrier), h = run->world().pose(rides);
        const Vec3 aboard = glm::conjugate(b.turn) * (h.at - b.at);
        QVERIFY2(glm::length(aboard - Vec3(0, 1.5, -1)) < 1e-6,
                 qPrintable(QString("%1 %2 %3").arg(aboard.x).arg(aboard.y).arg(aboard.z)));
        QVERIFY(std::abs(glm::dot(b.turn, h.turn)) > 1 - 1e-9);
        test::press(*run, {}, 1);
        QVERIFY(!run->isThere(carrier) && !run->isThere(rides));  // all below it goes with it
    }
    void nothingOfItChangesTheSceneAndItRunsTheSame() {
        Stage y;
        const ObjectId lever = y.put("cube", {0, 1.5, -1}, {}, Vec3(0.4)), door = y.put("cube", {5, 0, 0});
        y.cue(lever, {when(When::Used)}, {then(Does::Exists, {door}), then(Does::Lost, {}, 1)}, 0);
        const auto before = y.bytes();
        rehearse::Inputs inputs;
        for (int i = 0; i < 300; ++i) {
            rehearse::Input input;
            input.keys = i % 40 == 20 ? rehearse::Input::Use : 0;
            inputs.steps.push_back(input);
        }
        const rehearse::Trace first = rehearse::replay(y.level(), inputs), again = rehearse::replay(y.level(), inputs);
        QCOMPARE(again.sums, first.sums);
        QCOMPARE(again.entries, first.entries);
        QVERIFY(first.count(What::Lost) == 1 && first.count(What::WentOff) >= 1);
        QCOMPARE(y.bytes(), before);
    }
    void copiesLinkAmongThemselvesAndUndoGivesTheSameBytes() {
        Stage y;
        const ObjectId lever = y.put("cube", {0, 1, -1}), door = y.put("cube", {5, 0, 0});
        const auto bare = y.bytes();
        y.cue(lever, {when(When::Used)}, {then(Does::Exists, {door})});
        const auto before = y.bytes();
        {
            edit::Draft draft(y.session(), "first", "Copy");
            const std::vector<ObjectId> both = {lever, door};
            const auto made = ops::duplicate(draft, both);
            QVERIFY(made && made->size() == 2 && draft.commit());
            const auto* cues = y.scene().facet<model::Cues>(y.scene().find((*made)[0]));
            QVERIFY(cues != nullptr);
            QCOMPARE(cues->all[0].then[0].targets[0].object, (*made)[1]);
        }
        QVERIFY(y.session().undo());
        QCOMPARE(y.bytes(), before);
        QVERIFY(y.session().undo());
        QCOMPARE(y.bytes(), bare);
        QVERIFY(y.session().redo());
        QCOMPARE(y.bytes(), before);
        // The last cue goes, and the facet with it.
        edit::Draft draft(y.session(), "first", "None");
        QVERIFY(ops::changeCues(draft, lever, [](model::Cues& cues) { return cues.all.clear(), base::Status{}; }));
        QVERIFY(draft.commit());
        QCOMPARE(y.bytes(), bare);
    }
};

MELLOW_TEST(CauseTest)
}  // namespace cause_test
#include "cause_test.moc"
