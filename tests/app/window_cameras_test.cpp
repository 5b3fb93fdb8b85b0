// A camera set up in the real window: whom it would show is dragged about, and a rehearsal is seen by it.
#include "app/shell/asking.h"
#include "app/shell/rehearsal.h"
#include "app/shell/stand_in.h"
#include "app/window_fixture.h"
#include "edit/draft.h"
#include "model/facets/camera.h"
#include "model/facets/shot.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "support/test_main.h"

namespace window_cameras_test {

class WindowCamerasTest : public WindowFixture {
    Q_OBJECT

    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    void give(const char* camera, const model::Shot& shot) {
        const base::ObjectId id = idOf(camera);
        QVERIFY(editor_->run("Shot", [&](edit::Draft& draft) {
            return ops::changeDetails(draft, {&id, 1}, [&](Slot, model::Detail& detail) -> base::Status {
                detail.put(shot);
                return {};
            });
        }));
    }
    double away(const base::Vec3& a, const base::Vec3& b) { return glm::length(a - b); }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-cameras-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void theStandInIsDraggedAndTheCameraTurnsToIt() {
        app::StandIn& stand = editor_->standIn();
        editor_->select({idOf("Basin camera")});
        QVERIFY(!stand.view());  // it has no shot yet
        give("Basin camera", {});
        QVERIFY(stand.view() && stand.isWatched());
        stand.put({-40, 0.1, 40});
        const std::string before = document();
        const std::size_t steps = session().history().steps().size();
        (void)lookAtGround({-40, 0, 40});
        const base::Vec3 from = *stand.foot();
        const QPoint grip = pixel(from + base::Vec3(0, 0.9, 0));
        drag(grip, grip + QPoint(120, -30));
        const base::Vec3 to = *stand.foot();
        QVERIFY2(away(from, to) > 0.5, qPrintable(QString::number(away(from, to))));
        QVERIFY(away(stand.view()->to, to + base::Vec3(0, 1.2, 0)) < 1e-9);
        QVERIFY(away(stand.view()->eye, scene().world(named("Basin camera")).translation) < 1e-9);
        QCOMPARE(document(), before);  // only for looking
        QCOMPARE(session().history().steps().size(), steps);
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{idOf("Basin camera")});
        // Esc while it is dragged: it is where it was.
        const QPoint again = pixel(to + base::Vec3(0, 0.9, 0));
        QTest::mouseMove(&view(), again);
        QTest::mousePress(&view(), Qt::LeftButton, {}, again);
        QTest::mouseMove(&view(), again + QPoint(50, 0));
        QTest::mouseMove(&view(), again + QPoint(90, 0));
        QVERIFY(away(*stand.foot(), to) > 0.1);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, again + QPoint(90, 0));
        QVERIFY(away(*stand.foot(), to) < 1e-9);
    }
    void aZoneIsWatchedOnlyWithinIt() {
        model::Shot shot;
        shot.zones = {{idOf("Deep water 2"), {}}};
        give("Lock camera", shot);
        editor_->select({idOf("Lock camera")});
        editor_->standIn().put({-40, 0.1, 40});
        QVERIFY(!editor_->standIn().isWatched());
        editor_->standIn().put(scene().world(named("Deep water 2")).translation + base::Vec3(0, 1, 0));
        QVERIFY(editor_->standIn().isWatched());
        run("edit.undo");
        QVERIFY(!editor_->standIn().view());
    }
    void draggedThroughItsZonesItIsWatchedInEach() {
        std::vector<model::ShotZone> zones;
        for (const double x : {-43.0, -37.0}) {
            model::ObjectRecord zone;
            zone.id = session().random().nextId();
            zone.name = session().intern("Watched");
            zone.local.position = {x, -1, 40};
            auto has = std::make_shared<model::Detail>();
            has->edit<model::Zone>().size = {2, 4, 4};
            zone.detail = has;
            QVERIFY(editor_->run("Zone", [&](edit::Draft& draft) { return draft.create({&zone, 1}); }));
            zones.push_back({zone.id, {}});
        }
        model::Shot shot;
        shot.zones = zones;
        give("Lock camera", shot);
        editor_->select({idOf("Lock camera")});
        app::StandIn& stand = editor_->standIn();
        stand.put({-46, 0.1, 40});
        view().setCamera(render::Camera::looking({-40, 9, 54}, {-40, 0, 40}));
        test::settle();
        const std::string before = document();
        const auto grip = [&](double x) { return pixel({x, stand.foot()->y + 0.9, 40}); };
        std::vector<bool> watched;
        QTest::mouseMove(&view(), grip(-46));
        QTest::mousePress(&view(), Qt::LeftButton, {}, grip(-46));
        for (double x = -46; x <= -34; x += 0.25) {
            QTest::mouseMove(&view(), grip(x));
            if (watched.empty() || watched.back() != stand.isWatched()) watched.push_back(stand.isWatched());
        }
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, grip(-34));
        QCOMPARE(watched, (std::vector<bool>{false, true, false, true, false}));
        QCOMPARE(document(), before);
    }
    void itsZonesArePointedAt() {
        give("Lock camera", {});
        editor_->select({idOf("Lock camera")});
        const std::string before = document();
        auto* list = the<QWidget>("facetList.shot");
        QVERIFY(list->isVisibleTo(window_.get()));
        the<QToolButton>("listPoint", list)->click();
        QVERIFY(editor_->asking().asksObject());
        QVERIFY(!editor_->asking().objectFits(named("Bench 1")));  // it is no zone
        for (const char* zone : {"Deep water 2", "Deep water 1", "Deep water 2"})
            editor_->asking().giveObject(scene(), named(zone));
        editor_->asking().stop();
        const auto& zones = scene().facet<model::Shot>(named("Lock camera"))->zones;
        QCOMPARE(zones.size(), std::size_t(2));  // each once
        QCOMPARE(zones[0].zone, idOf("Deep water 2"));
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void aRehearsalIsSeenByItUntilOneWantsOnesOwnEyes() {
        model::Shot shot;
        shot.does = model::Shot::Does::Follows;
        shot.offset = {0, 4, 6};
        shot.lag = 0;
        give("Basin camera", shot);
        run("rehearse.start");
        app::Rehearsal& play = editor_->rehearsal();
        QTRY_VERIFY(play.isShownByCamera());
        const base::Vec3 feet = play.run()->player().footing.feet;
        QVERIFY(away(play.camera().eye, feet + base::Vec3(0, 4, 6)) < 0.5);
        QTest::keyClick(&view(), Qt::Key_V);
        QVERIFY(!play.isShownByCamera());
        QVERIFY(away(play.camera().eye, play.run()->player().footing.feet) < 2);
        QTest::keyClick(&view(), Qt::Key_V);
        QVERIFY(play.isShownByCamera());
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!play.isOn());
    }
};

MELLOW_TEST(WindowCamerasTest)
}  // namespace window_cameras_test
#include "window_cameras_test.moc"
