// Playing the scene and coming back, by keys and mouse in the real window.
#include <QComboBox>
#include <QListWidget>
#include <QTableWidget>

#include "app/panels/roster_model.h"
#include "app/panels/trace_panel.h"
#include "app/panels/trace_strip.h"
#include "app/shell/rehearsal.h"
#include "app/shell/tools.h"
#include "app/window_fixture.h"
#include "edit/draft.h"
#include "ops/move.h"
#include "support/test_main.h"

namespace window_rehearse_test {

using app::Rehearsal;
using base::Vec3;
using rehearse::What;

class WindowRehearseTest : public WindowFixture {
    Q_OBJECT

    Rehearsal& rehearsal() { return editor_->rehearsal(); }
    /// The scene itself, whatever is shown.
    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    Vec3 at(const char* name) { return scene().world(named(name)).translation; }
    void key(int key) { QTest::keyClick(&view(), Qt::Key(key)); }
    /// Stands at a place and looks at another.
    void standAt(const Vec3& feet, const Vec3& towards) {
        const Vec3 way = towards - feet - Vec3(0, 1.65, 0);
        rehearsal().start(rehearsal().prepare(), feet, base::degrees(std::atan2(way.x, -way.z)));
        rehearsal().lookBy(0, base::degrees(std::atan2(way.y, std::hypot(way.x, way.z))));
    }
    bool told(What what, const char* name = nullptr) {
        const rehearse::Trace* trace = rehearsal().trace();
        if (trace == nullptr) return false;
        return std::any_of(trace->entries.begin(), trace->entries.end(), [&](const rehearse::Entry& e) {
            return e.what == what &&
                   (name == nullptr || e.object == scene().id(named(name)) || e.other == scene().id(named(name)));
        });
    }
    app::TraceLine& line() { return *window_->findChild<app::TraceLine*>("traceLine"); }

    struct Before {
        render::Camera camera;
        std::vector<base::ObjectId> selection;
        app::Tool tool;
        std::string bytes;
        edit::StepId step;
        std::size_t unsaved;
    };
    Before before() {
        return {view().camera(), editor_->selection(),          editor_->tools().tool,
                document(),      session().history().present(), session().unsavedScenes().size()};
    }
    void verifyIsAs(const Before& was) {
        QVERIFY(!rehearsal().isOn());
        QCOMPARE(view().camera(), was.camera);
        QCOMPARE(editor_->selection(), was.selection);
        QVERIFY(editor_->tools().tool == was.tool);
        QCOMPARE(document(), was.bytes);
        QCOMPARE(bytes(), was.bytes);  // and so is what is shown
        QCOMPARE(session().history().present(), was.step);
        QCOMPARE(session().unsavedScenes().size(), was.unsaved);
        QVERIFY(session().readOnlyReason().empty());
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-rehearse-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void f5PlaysFromTheStartAndEscComesBack() {
        editor_->select({idOf("Bench 2")});
        run("view.dial");
        view().setFocus();
        const Before was = before();
        run("rehearse.start");
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Playing);
        const Vec3 start = at("Walker start");
        QTRY_VERIFY(rehearsal().run()->steps() > 20);
        QVERIFY(glm::length(view().camera().eye - start - Vec3(0, 1.65, 0)) < 0.05);
        QTest::keyPress(&view(), Qt::Key_W);
        QTRY_VERIFY(glm::length(rehearsal().run()->player().footing.feet - start) > 1);
        QTest::keyRelease(&view(), Qt::Key_W);
        QVERIFY(editor_->tools().tool == app::Tool::Dial);  // letters went to who plays
        QTest::keyPress(&view(), Qt::Key_S);                // the key of the slide tool
        QTRY_VERIFY(rehearsal().pressed().ahead < 0);
        QTest::keyRelease(&view(), Qt::Key_S);
        key(Qt::Key_Escape);
        verifyIsAs(was);
        QCOMPARE(rehearsal().kept().size(), std::size_t(1));
    }
    void whatIsPushedThrownAndTurnedLeavesTheSceneAsItWas() {
        const Before was = before();
        // That on the quay, not the one in a stall.
        Slot quay = kNoSlot;
        for (Slot s : scene().subtree(named("Goods on the quay")))
            if (scene().nameText(s) == "Crate of pears 6") quay = s;
        QVERIFY(quay != kNoSlot);
        const Vec3 goods = scene().world(quay).translation;
        standAt(goods + Vec3(0, 0, 1.0), goods + Vec3(0, 0.2, 0));
        view().setFocus();
        QTRY_VERIFY(rehearsal().focus().canTake);
        key(Qt::Key_G);
        QTRY_VERIFY(rehearsal().run()->player().holds >= 0);
        rehearsal().lookBy(0, 30);
        QTest::keyPress(&view(), Qt::Key_T);  // over the coping, into the basin
        QTRY_VERIFY(rehearsal().run()->player().holds < 0);
        QTest::keyRelease(&view(), Qt::Key_T);
        key(Qt::Key_8);
        QTRY_VERIFY(told(What::Thrown));
        QTRY_VERIFY(glm::length(scene().world(quay).translation - goods) > 0.5);
        QCOMPARE(document(), was.bytes);
        // Nothing can be edited meanwhile, and it is said why.
        editor_->select({scene().id(quay)});
        run("edit.delete");
        run("edit.undo");
        QVERIFY(!editor_->run("Rename", [](edit::Draft&) { return base::Status{}; }));
        QCOMPARE(document(), was.bytes);
        key(Qt::Key_Escape);
        verifyIsAs(was);
    }
    void aCrateIsPushedIntoTheWater() {
        Slot crate = kNoSlot;
        for (Slot s : scene().subtree(named("Goods on the quay")))
            if (scene().nameText(s) == "Crate of pears 6") crate = s;
        // Somebody left it on the coping, on end: from the quay below it could not be pushed over that, and over a
        // crate that lies one steps.
        const base::ObjectId id = scene().id(crate);
        base::Affine by{glm::mat3_cast(base::Quat(std::sqrt(0.5), 0, 0, std::sqrt(0.5))), Vec3(0.0)};
        const Vec3 from = scene().bounds(crate).centre();
        by.translation = Vec3(-40, 0.27 + scene().bounds(crate).size().x / 2, 13.35) - by.linear * from;
        QVERIFY(editor_->run("Leave it there", [&](edit::Draft& d) { return ops::moveEach(d, {&id, 1}, {&by, 1}); }));
        const Before was = before();
        const Vec3 quay = scene().world(crate).translation;
        const auto said = [&] {
            auto* roster = window_->findChild<app::RosterModel*>();
            return roster->indexOf(crate, app::RosterModel::KindColumn).data().toString();
        };
        const QString kind = said();
        standAt(quay + Vec3(0, 0, 0.7), quay + Vec3(0, 1.2, -3));
        view().setFocus();
        QTRY_COMPARE(said(), QString("rests"));
        QTest::keyPress(&view(), Qt::Key_W);
        QTRY_VERIFY(said().endsWith("m/s"));
        QTRY_VERIFY_WITH_TIMEOUT(scene().world(crate).translation.y < quay.y - 0.5, 15000);
        QTest::keyRelease(&view(), Qt::Key_W);
        QTRY_VERIFY(std::ranges::any_of(rehearsal().trace()->entries, [&](const rehearse::Entry& e) {
            return e.what == What::Entered && (e.object == id || e.other == id);
        }));
        key(Qt::Key_Escape);
        verifyIsAs(was);
        QCOMPARE(said(), kind);
    }
    void theWindlassSwingsItsLeaf() {
        const Before was = before();
        const Slot windlass = named("Windlass, right"), leaf = named("Gate leaf, right");
        const Vec3 stands = scene().bounds(windlass).centre();
        const base::Affine shut = scene().world(leaf);
        standAt(Vec3(stands.x, scene().bounds(windlass).low.y, stands.z + 1.1), stands);
        view().setFocus();
        QTRY_COMPARE(rehearsal().focus().words, std::string("Turn the windlass"));
        key(Qt::Key_E);
        QTRY_VERIFY(told(What::Used, "Windlass, right"));
        key(Qt::Key_8);
        QTRY_VERIFY_WITH_TIMEOUT(told(What::Rested, "Gate leaf, right"), 9000);
        QVERIFY(scene().world(leaf) != shut);
        // Its numbers can be looked at.
        editor_->select({scene().id(leaf)});
        QVERIFY(window_->findChild<app::PropertiesPanel*>()->isVisible());
        key(Qt::Key_Escape);
        verifyIsAs(was);
        QVERIFY(scene().world(leaf) == shut);
    }
    void theMouseLooksUntilTabLetsItGo() {
        view().setFocus();
        run("rehearse.start");
        const double yaw = rehearsal().camera().yawDegrees;
        QTest::mouseClick(&view(), Qt::LeftButton, {}, view().rect().center());
        QTRY_VERIFY(view().play().hasMouse());
        QMouseEvent right(QEvent::MouseMove, view().rect().center() + QPointF(50, 0),
                          view().mapToGlobal(view().rect().center() + QPointF(50, 0)), Qt::NoButton, Qt::NoButton, {});
        QApplication::sendEvent(&view(), &right);
        QVERIFY(rehearsal().camera().yawDegrees < yaw - 3);  // to the right
        key(Qt::Key_Tab);
        QVERIFY(!view().play().hasMouse());
        key(Qt::Key_Escape);
    }
    void timeStandsStillGoesFasterAndStepByStep() {
        view().setFocus();
        run("rehearse.start");
        QTRY_VERIFY(rehearsal().run()->steps() > 5);
        key(Qt::Key_P);
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Paused);
        const int steps = rehearsal().run()->steps();
        QTest::qWait(80);
        QCOMPARE(rehearsal().run()->steps(), steps);
        key(Qt::Key_N);
        QCOMPARE(rehearsal().run()->steps(), steps + 1);
        press("traceSpeed");
        QCOMPARE(rehearsal().speed(), 2);
        press("tracePause");
        QTRY_VERIFY(rehearsal().run()->steps() > steps + 60);
        run("rehearse.start");  // begins again
        QTRY_VERIFY(rehearsal().run()->steps() < 60);
        press("traceEnd");
        QVERIFY(!rehearsal().isOn());
    }
    void itsLineShowsEachMomentAndTakesObjects() {
        const Before was = before();
        const Slot windlass = named("Windlass, right");
        const Vec3 stands = scene().bounds(windlass).centre();
        standAt(Vec3(stands.x, scene().bounds(windlass).low.y, stands.z + 1.1), stands);
        view().setFocus();
        QTRY_COMPARE(rehearsal().focus().words, std::string("Turn the windlass"));
        QTest::qWait(400);  // what is told as it begins lies at another pixel
        key(Qt::Key_E);
        key(Qt::Key_8);
        QTRY_VERIFY_WITH_TIMEOUT(told(What::Rested, "Gate leaf, right"), 9000);
        const base::Affine open = scene().world(named("Gate leaf, right"));
        const auto& entries = rehearsal().trace()->entries;
        const auto used =
            std::find_if(entries.begin(), entries.end(), [](const auto& e) { return e.what == What::Used; });
        const int step = used->step;
        QTest::mouseClick(&line(), Qt::LeftButton, {}, QPoint(int(std::lround(line().xOf(step))), 15));
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Paused);
        QCOMPARE(rehearsal().shownStep(), step);  // not that of its cue, a step later at the same place
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{scene().id(windlass)});
        QVERIFY(scene().world(named("Gate leaf, right")) != open);  // at that moment it was shut
        // The desk lists it all, and goes there too.
        run("rehearse.trace");
        auto* table = the<QTableWidget>("traceEntries");
        QVERIFY(table->isVisible() && table->rowCount() == int(entries.size()));
        for (int row = 0; row < table->rowCount(); ++row)
            if (table->item(row, 1)->text().contains("Gate leaf, right came to rest")) table->setCurrentCell(row, 1);
        QVERIFY(rehearsal().shownStep() > step + 9 * rehearse::kStepsPerSecond);
        press("tracePause");  // goes on where it was
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Playing);
        view().setFocus();
        key(Qt::Key_Escape);
        verifyIsAs(was);
    }
    void aRunIsPlayedAgainAfterTheBridgeWasMoved() {
        // Over the footbridge, from a step in front of it.
        rehearsal().start(rehearsal().prepare(), Vec3(-3, 0.4, 6.6), 0);
        view().setFocus();
        QTest::keyPress(&view(), Qt::Key_W);
        QTest::keyPress(&view(), Qt::Key_Shift);
        QTRY_VERIFY_WITH_TIMEOUT(rehearsal().run()->player().footing.feet.z < -5, 8000);
        QTest::keyRelease(&view(), Qt::Key_Shift);
        QTest::keyRelease(&view(), Qt::Key_W);
        QVERIFY(rehearsal().run()->player().footing.feet.y > 0.2);
        key(Qt::Key_Escape);
        run("rehearse.replay");
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Looking);
        QVERIFY(rehearsal().parting() && rehearsal().parting()->alike());
        key(Qt::Key_Escape);
        const auto bridge = idOf("Footbridge");
        base::Affine by;
        by.translation = {4, 0, 0};
        QVERIFY(editor_->run("Move the bridge", [&](edit::Draft& d) {
            return ops::moveEach(d, {&bridge, 1}, {&by, 1});
        }));
        const Before was = before();
        run("rehearse.replay");
        QVERIFY(rehearsal().parting() && !rehearsal().parting()->alike());
        QVERIFY(rehearsal().parting()->farthestMetres > 0.5);
        QCOMPARE(rehearsal().shownStep(), rehearsal().parting()->step);
        QVERIFY(the<QLabel>("tracePartsText")->text().contains("part"));
        view().setFocus();
        key(Qt::Key_Escape);
        verifyIsAs(was);
        // Kept beside the project: there after a restart.
        const std::size_t kept = rehearsal().kept().size();
        closeWindow();
        openWindow();
        QCOMPARE(rehearsal().kept().size(), kept);
    }
    void aWrittenWalkIsGoneAndKept() {
        const Before was = before();
        const auto plan = rehearse::planFrom("mellow-walk 1\nname Across\nstart -4 0.1 9 0\ngo -4 0.1 7.5\nwait 0.5\n");
        QVERIFY2(plan.has_value(), plan ? "" : plan.error().message.c_str());
        const std::size_t kept = rehearsal().kept().size();
        rehearsal().follow(*plan);
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Looking);
        QVERIFY(told(What::Reached));
        QCOMPARE(rehearsal().kept().size(), kept + 1);
        rehearsal().end();
        verifyIsAs(was);
        auto elsewhere = *plan;
        elsewhere.scene = "broken-lock";
        rehearsal().follow(elsewhere);
        QVERIFY(!rehearsal().isOn());
        QCOMPARE(rehearsal().kept().size(), kept + 1);
    }
    void whatIsWrongWithTheStartIsSaidBeforeItBegins() {
        editor_->select({idOf("Walker start")});
        run("edit.delete");
        view().setFocus();
        run("rehearse.start");
        QVERIFY(!rehearsal().isOn());
        auto* said = the<QLabel>("traceAsked");
        QVERIFY(said != nullptr && said->isVisible() && said->text().contains("no start"));
        press("traceOffer1");  // places one
        QTRY_VERIFY(rehearsal().isOn());
        view().setFocus();
        key(Qt::Key_Escape);
        QVERIFY(named("Walker start") != kNoSlot);
        // In the air: moved to where one can stand.
        const auto start = idOf("Walker start");
        base::Affine by;
        by.translation = {0, 6, 0};
        QVERIFY(editor_->run("Lift", [&](edit::Draft& d) { return ops::moveEach(d, {&start, 1}, {&by, 1}); }));
        const double high = at("Walker start").y;
        run("rehearse.start");
        QVERIFY(!rehearsal().isOn());
        const QString lifted = the<QLabel>("traceAsked")->text();
        press("traceOffer1");
        const auto left = rehearsal().prepare().faults;
        QVERIFY2(rehearsal().isOn(),
                 qPrintable(lifted + " / " + QString::fromStdString(left.empty() ? "" : left.back().text)));
        view().setFocus();
        key(Qt::Key_Escape);
        QVERIFY(at("Walker start").y < high - 4);
    }
    void settlingIsKeptAsOneStepOrDropped() {
        Slot crate = kNoSlot;
        for (Slot s : scene().subtree(named("Goods on the quay")))
            if (scene().nameText(s) == "Crate of pears 4") crate = s;
        const auto id = scene().id(crate);
        base::Affine by;
        by.translation = {0, 1.5, 0};
        QVERIFY(editor_->run("Lift", [&](edit::Draft& d) { return ops::moveEach(d, {&id, 1}, {&by, 1}); }));
        editor_->select({id});
        const Before was = before();
        const double high = scene().world(crate).translation.y;
        run("settle.selected");
        QVERIFY(rehearsal().mode() == Rehearsal::Mode::Settling);
        QTRY_VERIFY(scene().world(crate).translation.y < high - 1);
        QCOMPARE(document(), was.bytes);
        press("settleDrop");
        verifyIsAs(was);
        run("settle.selected");
        QTRY_VERIFY(scene().world(crate).translation.y < high - 1.4);
        QTest::qWait(500);
        QTest::keyClick(the<QToolButton>("settleKeep"), Qt::Key_Space);
        QVERIFY(!rehearsal().isOn());
        QVERIFY(scene().world(crate).translation.y < high - 1.4);
        QCOMPARE(session().history().steps().size(), std::size_t(was.step) + 1);
        run("edit.undo");
        QCOMPARE(document(), was.bytes);
    }
    void whatChangesTheSceneFromOutsideEndsIt() {
        view().setFocus();
        run("rehearse.start");
        QVERIFY(rehearsal().isOn());
        QVERIFY(editor_->showScene("broken-lock"));
        QVERIFY(!rehearsal().isOn());
        QVERIFY(session().readOnlyReason().empty());
        QCOMPARE(scene().name(), std::string("broken-lock"));
        run("rehearse.start");
        closeWindow();  // in the middle of it
        openWindow();
        QVERIFY(session().history().steps().empty());
    }
    void theGroundIsColouredByHowOneComesThere() {
        run("rehearse.reach");
        QTRY_VERIFY_WITH_TIMEOUT(rehearsal().ground().patches() != nullptr, 30000);
        const Vec3 start = at("Walker start");
        QCOMPARE(rehearse::Ground::reachOf(*rehearsal().ground().patches(), start),
                 std::optional(rehearse::Reach::Walk));
        rehearsal().ground().showSeenFrom(start + Vec3(0, 1.65, 0));
        QVERIFY(rehearsal().ground().seen() != nullptr);
        QVERIFY(std::count(rehearsal().ground().seen()->begin(), rehearsal().ground().seen()->end(), true) > 10);
        run("rehearse.reach");
        QVERIFY(!rehearsal().ground().isShown());
    }
};

MELLOW_TEST(WindowRehearseTest)
}  // namespace window_rehearse_test
#include "window_rehearse_test.moc"
