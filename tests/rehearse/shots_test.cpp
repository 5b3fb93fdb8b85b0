// Cameras in a level: which one shows, from where, how one comes from one to the next, and what walls do to it.
#include <QtTest>

#include "model/facets/camera.h"
#include "model/facets/cues.h"
#include "model/facets/points.h"
#include "ops/cues.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace shots_test {

using base::ObjectId;
using base::Vec3;
using model::Shot;
using rehearse::View;
using rehearse::What;

struct Studio : test::Yard {
    Studio() { put("slab", {0, 0, 0}); }
    ObjectId camera(const Vec3& at, Shot shot, std::initializer_list<ObjectId> zones = {}, const Vec3& turn = {}) {
        const ObjectId id = put("", at, turn);
        for (const ObjectId z : zones) shot.zones.push_back({z, {}});
        give(id, model::Camera{});
        give(id, shot);
        return id;
    }
    static Shot plain(Shot::Does does = Shot::Does::Turns) {
        Shot shot;
        shot.does = does;
        shot.lag = 0;
        shot.glideSeconds = 0;
        return shot;
    }
};

ObjectId showing(const rehearse::Run& run) {
    const std::int32_t at = run.shots().showing();
    return at < 0 ? ObjectId{} : (*run.level().shots)[static_cast<std::size_t>(at)].camera;
}
bool near(const Vec3& a, const Vec3& b, double within = 1e-6) {
    return glm::length(a - b) < within;
}
View seen(const rehearse::Run& run) {
    return run.shots().view().value_or(View{Vec3(1e9), Vec3(1e9), 0});
}

class ShotsTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void withoutAShotOneSeesWithOnesOwnEyes() {
        Studio y;
        const ObjectId id = y.put("", {0, 3, 3});
        y.give(id, model::Camera{});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.3);
        QVERIFY(!run->shots().view());
        for (const rehearse::Entry& e : run->trace().entries) QVERIFY(e.what != What::Shown);
    }
    void theZoneSaysWhichOneAndTheHeaviestWins() {
        Studio y;
        const ObjectId wide = y.zone({0, 0, 0}, {40, 4, 40}), ahead = y.zone({0, 0, -4}, {4, 4, 2});
        Shot heavy = Studio::plain();
        heavy.weight = 2;
        const ObjectId a = y.camera({0, 5, 9}, Studio::plain(), {wide}), b = y.camera({5, 4, -4}, heavy, {ahead}),
                       rest = y.camera({9, 9, 9}, heavy);
        Q_UNUSED(rest);  // watches nothing: only where no other shows
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.2);
        QCOMPARE(showing(*run), a);
        test::press(*run, test::ahead(0), 1.6);
        QCOMPARE(showing(*run), b);
        test::press(*run, test::ahead(0), 1.5);
        QCOMPARE(showing(*run), a);
        std::vector<ObjectId> told;
        for (const rehearse::Entry& e : run->trace().entries)
            if (e.what == What::Shown) told.push_back(e.object);
        QCOMPARE(told, (std::vector<ObjectId>{a, b, a}));
    }
    void oneThatStaysLooksWhereItIsTurnedAndOneThatTurnsAtWhoPlays() {
        for (const Shot::Does does : {Shot::Does::Stays, Shot::Does::Turns}) {
            Studio y;
            y.camera({4, 3, 0}, Studio::plain(does), {}, {0, 90, 0});
            const auto run = y.run({0, 0, 0});
            test::press(*run, {}, 0.5);
            const View view = seen(*run);
            QVERIFY(near(view.eye, {4, 3, 0}));
            const Vec3 way = glm::normalize(view.to - view.eye);
            if (does == Shot::Does::Stays)
                QVERIFY(near(way, {-1, 0, 0}));
            else
                QVERIFY(near(view.to, run->player().footing.feet + Vec3(0, 1.2, 0)));
        }
    }
    void itFollowsAtItsOffsetAndLags() {
        for (const double lag : {0.0, 0.5}) {
            Studio y;
            Shot shot = Studio::plain(Shot::Does::Follows);
            shot.offset = {0, 2, 4};
            shot.lag = lag;
            y.camera({0, 1, 0}, shot);
            const auto run = y.run({0, 0, 0});
            test::press(*run, test::ahead(0), 2);
            const double behind = glm::length(seen(*run).eye - (run->player().footing.feet + Vec3(0, 2, 4)));
            if (lag == 0)
                QVERIFY(behind < 1e-9);
            else
                QVERIFY2(behind > 0.5 && behind < 4, qPrintable(QString::number(behind)));
            test::press(*run, {}, 5);  // it comes up once one stands
            QVERIFY(near(seen(*run).eye, run->player().footing.feet + Vec3(0, 2, 4), 0.01));
        }
    }
    void byItsOwnDirectionsItStaysBehindWhoTurns() {
        Studio y;
        Shot shot = Studio::plain(Shot::Does::Follows);
        shot.offset = {0, 2, 4};
        shot.along = Shot::Along::Own;
        y.camera({0, 1, 0}, shot);
        const auto run = y.run({0, 0, 0});
        test::press(*run, test::ahead(90), 0.1);  // towards +X
        test::press(*run, test::ahead(90), 1);
        const Vec3 from = seen(*run).eye - run->player().footing.feet;
        QVERIFY2(near(from, {-4, 2, 0}, 1e-6), qPrintable(QString("%1 %2 %3").arg(from.x).arg(from.y).arg(from.z)));
    }
    void itRidesToWhereItIsNearest() {
        Studio y;
        const ObjectId rail = y.put("", {0, 0, 0});
        model::PointSet set;
        for (const double x : {-6.0, 0.0, 6.0}) {
            model::PlacePoint point;
            point.at = {x, 3, 5};
            set.points.push_back(point);
        }
        y.give(rail, set);
        Shot shot = Studio::plain(Shot::Does::Rides);
        shot.path = rail;
        y.camera({0, 9, 9}, shot);
        const auto run = y.run({0, 0, 0});
        test::press(*run, test::ahead(90), 1.5);
        const Vec3 feet = run->player().footing.feet;
        QVERIFY(feet.x > 1 && feet.x < 6);
        QVERIFY(near(seen(*run).eye, {feet.x, 3, 5}, 1e-6));
        test::press(*run, test::ahead(90), 4);
        QVERIFY(near(seen(*run).eye, {6, 3, 5}, 1e-6));  // no farther than the rail
    }
    void itGlidesFromTheViewBefore() {
        Studio y;
        const ObjectId ahead = y.zone({0, 0, -3}, {6, 4, 3});
        Shot to = Studio::plain();
        to.glideSeconds = 1;
        y.camera({0, 5, 9}, Studio::plain());
        y.camera({8, 5, -3}, to, {ahead});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.2);
        QVERIFY(near(seen(*run).eye, {0, 5, 9}));
        test::press(*run, test::ahead(0), 0.8);
        Vec3 last = seen(*run).eye;
        double farthest = 0;
        for (int i = 0; i < 180; ++i) {
            run->step({});
            farthest = std::max(farthest, glm::length(seen(*run).eye - last));
            last = seen(*run).eye;
        }
        QVERIFY2(farthest < 0.25, qPrintable(QString::number(farthest)));  // nowhere a jump
        QVERIFY(near(last, {8, 5, -3}));
    }
    void wallsPullItInOrLiftIt() {
        for (const Shot::Walls walls : {Shot::Walls::Through, Shot::Walls::PullIn, Shot::Walls::Lift}) {
            Studio y;
            y.put("cube", {0, 0, 2}, {}, {6, 3, 0.2});
            Shot shot = Studio::plain(Shot::Does::Follows);
            shot.offset = {0, 1.2, 5};
            shot.walls = walls;
            y.camera({0, 1, 0}, shot);
            const auto run = y.run({0, 0, 0});
            test::press(*run, {}, 0.5);
            const Vec3 eye = seen(*run).eye;
            if (walls == Shot::Walls::Through) QVERIFY(near(eye, run->player().footing.feet + Vec3(0, 1.2, 5)));
            if (walls == Shot::Walls::PullIn) QVERIFY2(eye.z > 1.3 && eye.z < 1.9, qPrintable(QString::number(eye.z)));
            if (walls == Shot::Walls::Lift) {
                QVERIFY2(eye.y > 3 && eye.z > 4.9, qPrintable(QString("%1 %2").arg(eye.y).arg(eye.z)));
                QVERIFY(!run->world().ray(seen(*run).to, eye));
            }
        }
    }
    void aCueShowsByACameraAndLetsItGoAgain() {
        Studio y;
        const ObjectId a = y.camera({0, 5, 9}, Studio::plain()), b = y.camera({5, 5, 0}, Studio::plain());
        {
            edit::Draft draft(y.session(), "first", "Cue");
            QVERIFY(ops::changeCues(draft, a, [&](model::Cues& cues) {
                model::Cue cue = model::freshCue(cues);
                cue.when[0].what = model::CueWhen::What::Start;
                cue.then.assign(2, model::CueThen{});
                for (model::CueThen& then : cue.then) then.does = model::CueThen::Does::Camera;
                cue.then[0].after = 0.5;
                cue.then[0].targets = {{b, {}}};
                cue.then[1].after = 1;
                cue.then[1].on = false;
                cues.all = {cue};
                return base::Status{};
            }));
            QVERIFY(draft.commit());
        }
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 0.3);
        QCOMPARE(showing(*run), a);
        test::press(*run, {}, 0.4);
        QCOMPARE(showing(*run), b);
        test::press(*run, {}, 0.5);
        QCOMPARE(showing(*run), a);
    }
    void whatIsInThePicture() {
        const View view{{0, 0, 0}, {0, 0, -10}, 60};
        QVERIFY(rehearse::isInPicture(view, {0, 0, -5}) && rehearse::isInPicture(view, {3, 2, -5}));
        QVERIFY(!rehearse::isInPicture(view, {0, 0, 5}) && !rehearse::isInPicture(view, {0, 4, -5}));
        QVERIFY(!rehearse::isInPicture(view, {6, 0, -5}));
        QVERIFY(!rehearse::isInPicture(view, {0, 2.8, -5}, 16.0 / 9, 0.1) && rehearse::isInPicture(view, {0, 2.8, -5}));
    }
};

MELLOW_TEST(ShotsTest)
}  // namespace shots_test
#include "shots_test.moc"
