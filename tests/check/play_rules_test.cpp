// What the rules of play find and pass over: cues, acts, zones, cameras, sounds, ends.
#include <QtTest>

#include "check/level.h"
#include "model/facets/act.h"
#include "model/facets/camera.h"
#include "model/facets/cues.h"
#include "model/facets/goal.h"
#include "model/facets/shot.h"
#include "model/facets/sound.h"
#include "support/test_main.h"

namespace play_rules_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using check::Finding;
using test::Level;

class PlayRulesTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aZoneThatNobodyReaches() {
        Level p;
        const ObjectId zone = p.put("", {6, 0, 0}), wall = p.put("cube", {0, 0, 30});
        Q_UNUSED(wall);
        const auto shape = [&](const Vec3& at, const Vec3& size) {
            p.pose(zone, at);
            p.detail(zone, [&](model::Detail& d) {
                d.edit<model::Zone>().size = size;
                model::Cue cue{"Waits"};
                cue.when.emplace_back().what = model::CueWhen::What::Enters;
                cue.then.emplace_back().words = "Here";
                d.edit<model::Cues>().all = {cue};
            });
        };
        shape({6, 0, 0}, {2, 2, 2});
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        shape({6, 6, 0}, {2, 2, 2});  // in the air
        QCOMPARE(p.count("zone-reach", zone), std::size_t{1});
        shape({6, 0.5, 0}, {2, 2, 2});  // knee-high: the middle of who walks comes in
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        // Walled in on all sides, and with one wall gone.
        shape({6, 0, 0}, {1, 2, 1});
        std::vector<ObjectId> walls;
        for (const Vec3& way : {Vec3(2, 0, 0), Vec3(-2, 0, 0), Vec3(0, 0, 2), Vec3(0, 0, -2)})
            walls.push_back(p.put("cube", Vec3(6, 0, 0) + way, {}, way.x != 0 ? Vec3(0.4, 4, 5) : Vec3(5, 4, 0.4)));
        QCOMPARE(p.count("zone-reach", zone), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&walls[0], 1}); });
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        shape({6, 6, 0}, {2, 2, 2});
        p.detail(zone,
                 [](model::Detail& d) { d.edit<model::Cues>().all[0].when[0].who = model::CueWhen::Who::Anything; });
        QCOMPARE(p.count("zone-reach"), std::size_t{0});  // what flies may come there
    }
    void aZoneOnATerraceIsReachedByAWayFromAStart() {
        Level p;
        const ObjectId terrace = p.put("cube", {8, 0, 0}, {}, {12, 4, 12}), zone = p.put("", {8, 4, 0});
        p.detail(zone, [&](model::Detail& d) {
            d.edit<model::Zone>().size = {2, 2, 2};
            model::Cue cue{"Up there"};
            cue.when.emplace_back().what = model::CueWhen::What::Enters;
            cue.then.emplace_back().words = "You made it.";
            d.edit<model::Cues>().all = {cue};
        });
        const ObjectId start = p.put("", {-8, 0, 0});
        const base::Name kind = p.name("Walker start");
        p.step([&](edit::Draft& d) { return d.setLabels(model::LabelField::Kind, {&start, 1}, {&kind, 1}); });
        QCOMPARE(p.count("zone-reach"), std::size_t{0});  // one could come from four metres off
        p.thorough = true;
        QCOMPARE(p.count("zone-reach", zone), std::size_t{1});             // but nobody comes up there
        const ObjectId ramp = p.put("ramp", {-8, 0, 0}, {}, {1, 0.8, 1});  // ten metres long, four high
        QCOMPARE(p.count("zone-reach"), std::size_t{0});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&ramp, 1}); });
        QCOMPARE(p.count("zone-reach", zone), std::size_t{1});
        p.step([&](edit::Draft& d) { return ops::remove(d, {&start, 1}); });
        QCOMPARE(p.count("zone-reach"), std::size_t{0});  // without a start another rule speaks
        (void)terrace;
    }
    void actsAndEndsThatAreNotAsTheyShouldBe() {
        Level p;
        const ObjectId act = p.put("", {0, 0, 3}), lever = p.put("cube", {6, 0, 0});
        const auto acts = [&](bool begins, bool worked) {
            p.detail(act, [&](model::Detail& d) { d.put(model::Act{begins, worked, {}}); });
        };
        const auto does = [&](model::CueThen::Does what) {
            p.detail(lever, [&](model::Detail& d) {
                model::Cue cue{"Fine"};
                cue.when.emplace_back();
                cue.then.emplace_back().does = what;
                cue.then[0].targets = {{act, {}}};
                d.edit<model::Cues>().all = {cue};
            });
        };
        acts(false, false);
        QCOMPARE(p.count("act-idle", act), std::size_t{1});
        does(model::CueThen::Does::ActEnds);
        QCOMPARE(p.count("act-idle", act), std::size_t{1});
        does(model::CueThen::Does::ActBegins);
        QCOMPARE(p.count("act-idle"), std::size_t{0});
        does(model::CueThen::Does::Camera);  // it is none
        QCOMPARE(p.count("cue-target"), std::size_t{1});
        acts(true, false);
        QCOMPARE(p.count("act-idle") + p.count("act-open"), std::size_t{0});
        acts(true, true);
        QCOMPARE(p.count("act-open", act), std::size_t{1});
        for (const Finding& f : p.all())
            if (f.rule == "act-open")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        QCOMPARE(p.count("act-open"), std::size_t{0});
        QCOMPARE(p.count("no-end"), std::size_t{0});
        p.detail(act, [](model::Detail& d) { d.edit<model::Goal>(); });
        QCOMPARE(p.count("no-end"), std::size_t{1});
        does(model::CueThen::Does::Lost);
        QCOMPARE(p.count("no-end"), std::size_t{1});
        does(model::CueThen::Does::Won);
        QCOMPARE(p.count("no-end"), std::size_t{0});
    }
    void camerasThatDoNotShowWhatTheyShould() {
        Level p;
        const ObjectId zone = p.put("", {0, 0, 0}), camera = p.put("", {0, 3, 8});
        p.detail(zone, [](model::Detail& d) { d.edit<model::Zone>().size = {4, 3, 4}; });
        const auto shot = [&](ObjectId id, const std::function<void(model::Shot&)>& change) {
            p.detail(id, [&](model::Detail& d) {
                d.put(model::Camera{});
                model::Shot fine;
                fine.zones = {{zone, {}}};
                change(fine);
                d.put(fine);
            });
        };
        const char* all[] = {"camera-unshown", "camera-lost", "camera-wall", "camera-through", "camera-glide"};
        const auto only = [&](const std::string& rule) {
            for (const char* one : all)
                QVERIFY2(p.count(one) == std::size_t(rule == one ? 1 : 0), (rule + ": " + one).c_str());
        };
        shot(camera, [](model::Shot&) {});
        only("");
        shot(camera, [](model::Shot& s) { s.zones = {{ObjectId{77}, {}}}; });
        only("camera-unshown");
        shot(camera, [](model::Shot& s) { s.zones.clear(); });
        only("");
        const ObjectId second = p.put("", {8, 3, 0});
        shot(second, [](model::Shot& s) { s.zones.clear(); });
        only("camera-unshown");  // the first one shows wherever it would
        shot(second, [](model::Shot& s) { s.zones.clear(), s.weight = 2; });
        only("camera-unshown");  // now the other way round
        shot(second, [](model::Shot&) {});
        only("");
        // It stays: turned away, nearly so, and towards the zone.
        for (const auto& [yaw, rule] : {std::pair(180.0, "camera-lost"), {100.0, "camera-lost"}, {0.0, ""}}) {
            p.pose(camera, {0, 1.5, 8}, {0, yaw, 0});
            shot(camera, [](model::Shot& s) { s.does = model::Shot::Does::Stays; });
            only(rule);
        }
        shot(camera, [](model::Shot&) {});
        const ObjectId wall = p.put("cube", {0, 0, 4}, {}, {12, 5, 0.3});
        only("camera-wall");
        shot(camera, [](model::Shot& s) { s.walls = model::Shot::Walls::Lift; });
        only("");
        p.pose(wall, {0, 0, 4}, {}, {12, 0.4, 0.3});  // one looks over it
        shot(camera, [](model::Shot&) {});
        only("");
        for (const auto& [glide, rule] :
             {std::pair(5.0, "camera-glide"), {0.05, "camera-glide"}, {3.0, ""}, {0.0, ""}}) {
            shot(camera, [glide = glide](model::Shot& s) { s.glideSeconds = glide; });
            only(rule);
        }
        const ObjectId rail = p.put("", {-6, 4, 6});
        p.detail(rail, [](model::Detail& d) {
            d.edit<model::PointSet>().points.resize(2);
            d.edit<model::PointSet>().points[1].at = {12, 0, 0};
        });
        const auto rides = [&](model::Shot& s) { s.does = model::Shot::Does::Rides, s.path = rail; };
        shot(camera, rides);
        only("");
        p.pose(wall, {5, 0, 6}, {}, {0.3, 6, 2});
        only("camera-through");
        p.pose(wall, {5, 0, 6}, {}, {0.3, 3.5, 2});  // below it
        only("");
    }
    void soundsThatAreNotHeardOrCutOff() {
        Level p;
        p.media["bell.wav"] = {0, 0, 1000, 1.8, 0.6, {}};
        p.media["broken.wav"] = {0, 0, 10, 0, 0, "It cannot be read."};
        const ObjectId bell = p.put("", {0, 1, 3});
        const auto sound = [&](const std::function<void(model::Sound&)>& change) {
            p.detail(bell, [&](model::Detail& d) {
                model::Sound fine;
                fine.file = "bell.wav";
                fine.begins = true;
                change(fine);
                d.put(fine);
            });
        };
        const char* all[] = {"sound-missing", "sound-unheard", "sound-loud", "sound-cut"};
        const auto only = [&](const std::string& rule) {
            for (const char* one : all)
                QVERIFY2(p.count(one) == std::size_t(rule == one ? 1 : 0), (rule + ": " + one).c_str());
        };
        sound([](model::Sound&) {});
        only("");
        for (const char* file : {"", "none.wav", "broken.wav"}) {
            sound([&](model::Sound& s) { s.file = file; });
            only("sound-missing");
        }
        sound([](model::Sound& s) { s.begins = false; });
        only("sound-unheard");
        sound([](model::Sound& s) { s.gain = 0; });
        only("sound-unheard");
        sound([](model::Sound& s) { s.gain = 1.7; });
        only("sound-loud");
        sound([](model::Sound& s) { s.gain = 1.6; });
        only("");
        const auto ends = [&](double soundAt, double endAt, bool loop) {
            sound([&](model::Sound& s) { s.begins = false, s.loop = loop; });
            p.detail(bell, [&](model::Detail& d) {
                model::Cue cue{"Ends"};
                cue.when.emplace_back();
                cue.then.resize(2);
                cue.then[0].does = model::CueThen::Does::Sound;
                cue.then[0].targets = {{bell, {}}};
                cue.then[0].after = soundAt;
                cue.then[1].does = model::CueThen::Does::Won;
                cue.then[1].after = endAt;
                d.edit<model::Cues>().all = {cue};
            });
        };
        ends(0, 1, false);
        only("sound-cut");
        const std::string before = p.bytes();
        for (const Finding& f : p.all())
            if (f.rule == "sound-cut")
                p.step([&](edit::Draft& d) -> Status {
                    auto done = check::mend(d, check::builtInRules(), {&f, 1}, p.index());
                    return done ? Status{} : Status(tl::unexpected(done.error()));
                });
        only("");
        QCOMPARE(p.scene().facet<model::Cues>(p.slot(bell))->all[0].then[1].after, 1.8);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        ends(0.5, 2.2, false);
        only("sound-cut");
        ends(0.5, 2.3, false);
        only("");
        ends(3, 2, false);  // it comes after the end
        only("");
        ends(0, 1, true);  // without an end it is meant to be cut
        only("");
    }
    void cuesThatCannotDoWhatTheyAreThereFor() {
        Level p;
        const ObjectId lever = p.put("cube", {6, 0, 0}), other = p.put("cube", {9, 0, 0});
        const auto cue = [&](const std::function<void(model::Cue&)>& change) {
            p.detail(lever, [&](model::Detail& d) {
                model::Cue fine{"Fine"};
                fine.when.emplace_back();
                fine.then.emplace_back().words = "Hello";
                change(fine);
                d.edit<model::Cues>().all = {fine};
            });
        };
        const char* all[] = {"cue-target", "cue-idle", "cue-at-start", "goal-unmet", "two-ends", "endless-cues"};
        const auto only = [&](const std::string& rule) {
            for (const char* one : all) QCOMPARE(p.count(one), std::size_t(rule == one ? 1 : 0));
        };
        using Does = model::CueThen::Does;
        cue([](model::Cue&) {});
        only("");
        const auto does = [&](Does what, ObjectId to) {
            cue([&](model::Cue& c) {
                c.then[0].does = what;
                c.then[0].targets = {{to, {}}};
            });
        };
        does(Does::Exists, ObjectId{0x77});
        only("cue-target");
        does(Does::Exists, other);
        only("");
        does(Does::GoalMet, other);  // it is no goal
        only("cue-target");
        p.detail(other, [](model::Detail& d) { d.edit<model::Goal>(); });
        only("");
        does(Does::GoalSet, other);  // that does not meet it
        only("goal-unmet");
        does(Does::GoalMet, other);
        cue([](model::Cue& c) { c.when[0].what = model::CueWhen::What::Enters; });  // the cube is no zone
        QCOMPARE(p.count("cue-target"), std::size_t{1});
        p.detail(other, [](model::Detail& d) { d.facets.drop(model::Goal::type()); });
        cue([](model::Cue& c) { c.then.clear(); });
        only("cue-idle");
        cue([](model::Cue& c) { c.armed = false; });
        only("cue-idle");
        cue([](model::Cue& c) { c.then[0].words.clear(); });
        only("cue-idle");
        cue([](model::Cue& c) {
            c.then.assign(2, c.then[0]), c.then[0].does = Does::Won, c.then[1].does = Does::Lost;
        });
        only("two-ends");
        cue([](model::Cue& c) { c.then.assign(1, c.then[0]), c.then[0].does = Does::Won; });
        only("");
        const auto round = [&](std::int64_t times, double after) {
            cue([&](model::Cue& c) {
                c.times = times;
                c.then[0].does = Does::SetOff;
                c.then[0].to = model::CueThen::To::Myself;
                c.then[0].after = after;
            });
        };
        round(0, 0);
        only("endless-cues");
        round(3, 0);
        only("");
        round(0, 0.5);
        only("");
    }
};

MELLOW_TEST(PlayRulesTest)
}  // namespace play_rules_test
#include "play_rules_test.moc"
