// Cues set up by pointing and keys in the real window: made, given targets, delayed in the strip, seen in a rehearsal.
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QTableWidget>
#include <QTreeWidget>

#include "app/panels/cue_sheet.h"
#include "app/panels/cues_form.h"
#include "app/shell/asking.h"
#include "app/shell/rehearsal.h"
#include "app/window_fixture.h"
#include "edit/draft.h"
#include "model/facets/goal.h"
#include "model/facets/surfaces.h"
#include "ops/cues.h"
#include "support/test_main.h"

namespace window_cues_test {

using model::CueThen;

class WindowCuesTest : public WindowFixture {
    Q_OBJECT

    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    QTableWidget& sheet() { return *the<QTableWidget>("cueTable"); }
    const model::Cue& cue(const char* object, std::size_t which = 0) {
        return scene().facet<model::Cues>(named(object))->all[which];
    }
    int rowOf(const QString& name) {
        for (int row = 0; row < sheet().rowCount(); ++row)
            if (sheet().item(row, 1)->text() == name) return row;
        return -1;
    }
    void choose(int row) {
        sheet().scrollToItem(sheet().item(row, 1));
        QTest::mouseClick(sheet().viewport(), Qt::LeftButton, {},
                          sheet().visualItemRect(sheet().item(row, 1)).center());
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-cues-test"); }
    void init() {
        openFreshCopy();
        run("rehearse.cues");
    }
    void cleanup() { closeWindow(); }

    void aCueIsMadeGivenTargetsByPointingAndTakenBack() {
        QCOMPARE(sheet().rowCount(), 4);
        const std::string before = document();
        editor_->select({idOf("Bench 1")});
        press("cueAdd");
        QCOMPARE(sheet().rowCount(), 5);
        QCOMPARE(cue("Bench 1").name, std::string("Cue 1"));
        // Its effect is to be one that has targets: chosen in the field, then pointed at.
        QVERIFY(editor_->run("Exists", [&](edit::Draft& draft) {
            return ops::changeCues(draft, idOf("Bench 1"), [](model::Cues& cues) {
                cues.all[0].then[0].does = CueThen::Does::Exists;
                return base::Status{};
            });
        }));
        auto* point = the<QToolButton>("cueTargets");
        QVERIFY(point != nullptr && point->isVisibleTo(window_.get()));
        point->click();
        QVERIFY(editor_->asking().asksObject());
        editor_->asking().giveObject(scene(), named("Barge 2"));
        editor_->asking().giveObject(scene(), named("Barge 1"));
        editor_->asking().giveObject(scene(), named("Barge 1"));  // once more: it goes
        editor_->asking().stop();
        QCOMPARE(cue("Bench 1").then[0].targets.size(), std::size_t(1));
        QCOMPARE(cue("Bench 1").then[0].targets[0].object, idOf("Barge 2"));
        QVERIFY(sheet().item(rowOf("Cue 1"), 4)->text().contains("Barge 2"));
        // What it was done to goes, and comes back with its link.
        editor_->select({idOf("Barge 2")});
        run("edit.delete");
        QVERIFY(sheet().item(rowOf("Cue 1"), 4)->text().contains("what is gone"));
        run("edit.undo");
        QVERIFY(sheet().item(rowOf("Cue 1"), 4)->text().contains("Barge 2"));
        while (document() != before) {
            QVERIFY(session().history().present() > 0);
            run("edit.undo");
        }
        QCOMPARE(sheet().rowCount(), 4);
    }
    void targetsArePointedAtByTheMouse() {
        const base::Vec3 place(-40, 0, 40);
        (void)lookAtGround(place);
        QVERIFY(editor_->placeAt("bollard", place));
        const base::ObjectId first = editor_->selection().front();
        QVERIFY(editor_->placeAt("bollard", place + base::Vec3(3, 0, 0)));
        const base::ObjectId second = editor_->selection().front();
        editor_->select({idOf("Bench 1")});
        press("cueAdd");
        auto* does = the<QComboBox>("property.does", the<QWidget>("cues.then"));
        QVERIFY(does != nullptr);
        does->setCurrentIndex(does->findText("exists", Qt::MatchFixedString));
        Q_EMIT does->activated(does->currentIndex());
        QVERIFY(cue("Bench 1").then[0].does == CueThen::Does::Exists);
        const std::string before = document();
        press("cueTargets");
        for (const base::ObjectId id : {first, second, first}) {
            const QPoint at = pixelOf(scene().find(id));
            QTest::mouseMove(&view(), at - QPoint(4, 0));
            QTest::mouseMove(&view(), at);
            QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        }
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->asking().asks());
        const auto& targets = cue("Bench 1").then[0].targets;
        QCOMPARE(targets.size(), std::size_t(1));  // the first was clicked twice: it is none any more
        QCOMPARE(targets[0].object, second);
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{idOf("Bench 1")});
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QCOMPARE(document(), before);
    }
    void theSceneItselfHasCuesToo() {
        const std::string before = document();
        editor_->select({});
        press("cueAdd");
        QCOMPARE(cue("Cues of the scene").when[0].what, model::CueWhen::What::Start);
        editor_->select({});
        press("cueAdd");  // one more of the same
        QCOMPARE(scene().facet<model::Cues>(named("Cues of the scene"))->all.size(), std::size_t(2));
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{idOf("Cues of the scene")});
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void whatIsDressedInPlayIsSeenAndLookedBackAt() {
        const std::string before = document();
        const auto surfaces = session().library().surfaces();
        const std::string brass = surfaces.begin()->first, guise = session().library().guises().begin()->first;
        QVERIFY(editor_->run("Cue", [&](edit::Draft& draft) {
            return ops::changeCues(draft, idOf("Bench 1"), [&](model::Cues& cues) {
                model::Cue made = model::freshCue(cues);
                made.when[0].what = model::CueWhen::What::Start;
                made.then[0].does = CueThen::Does::Surface;
                made.then[0].to = CueThen::To::Myself;
                made.then[0].after = 0.5;
                made.then[0].look = brass;
                made.then.push_back(made.then[0]);
                made.then[1].does = CueThen::Does::Guise;
                made.then[1].look = guise;
                cues.all.push_back(made);
                return base::Status{};
            });
        }));
        const auto laid = [&] {
            const auto* has = scene().facet<model::Surfaces>(named("Bench 1"));
            return has != nullptr && !has->slots.empty() && has->slots[0].surface == brass;
        };
        const std::string with = document();
        run("rehearse.start");
        auto& play = editor_->rehearsal();
        QVERIFY(!laid());
        QTRY_VERIFY(laid());
        const auto inGuise = [&] { return editor_->guise() != nullptr && editor_->guise()->name == guise; };
        QVERIFY(inGuise());
        play.setPaused(true);
        play.show(10);
        QVERIFY(!laid() && !inGuise());
        play.show(play.run()->steps());
        QVERIFY(laid() && inGuise());
        play.show(5);
        play.setPaused(false);  // on from where it was
        QTRY_VERIFY(laid() && inGuise());
        int told = 0;
        connect(editor_.get(), &app::Editor::shownChanged, this, [&] { ++told; });
        run("rehearse.end");
        QVERIFY(!laid() && !inGuise());
        QVERIFY(told > 0);  // the view hears that the guise is the scene's own again
        QCOMPARE(document(), with);
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void namesTimesAndArmedAreChangedInTheRow() {
        choose(rowOf("Raises it"));
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{idOf("Barge 3")});
        QTest::keyClick(&sheet(), Qt::Key_F2);
        auto* editor = sheet().findChild<QLineEdit*>();
        QVERIFY(editor != nullptr);
        editor->selectAll();
        QTest::keyClicks(editor, "Lifts it");
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(cue("Barge 3").name, std::string("Lifts it"));
        QCOMPARE(cue("Barge 3", 1).name, std::string("It is up"));
        sheet().item(rowOf("Lifts it"), 5)->setCheckState(Qt::Unchecked);
        QVERIFY(!cue("Barge 3").armed);
        sheet().item(rowOf("Lifts it"), 6)->setText("-3");  // it cannot be
        QCOMPARE(cue("Barge 3").times, std::int64_t(1));
        QCOMPARE(sheet().item(rowOf("Lifts it"), 6)->text(), QString("1"));
        QCOMPARE(session().history().steps().size(), std::size_t(2));
    }
    void aDelayIsDraggedInTheStrip() {
        choose(rowOf("Raises it"));
        auto* strip = window_->findChild<app::CueStrip*>("cueStrip");
        QVERIFY(strip->isVisibleTo(window_.get()));
        QCOMPARE(cue("Barge 3").then[0].after, 12.0);
        const std::string before = document();
        const QPoint from = strip->beginOf(0).toPoint();
        QTest::mousePress(strip, Qt::LeftButton, {}, from);
        QTest::mouseMove(strip, from - QPoint(60, 0));
        QCOMPARE(document(), before);  // not before it is let go
        QTest::mouseRelease(strip, Qt::LeftButton, {}, from - QPoint(60, 0));
        const double after = cue("Barge 3").then[0].after;
        QVERIFY2(after < 11.5 && after > 0, qPrintable(QString::number(after)));
        QCOMPARE(after, std::round(after * 10) / 10);
        QCOMPARE(cue("Barge 3").then[1].after, 12.0);
        QTest::keyClick(strip, Qt::Key_Right);
        QVERIFY(std::abs(cue("Barge 3").then[0].after - after - 0.1) < 1e-9);
        // Esc lets go.
        const double now = cue("Barge 3").then[0].after;
        const QPoint again = strip->beginOf(0).toPoint();
        QTest::mousePress(strip, Qt::LeftButton, {}, again);
        QTest::mouseMove(strip, again + QPoint(40, 0));
        QTest::keyClick(strip, Qt::Key_Escape);
        QTest::mouseRelease(strip, Qt::LeftButton, {}, again + QPoint(40, 0));
        QCOMPARE(cue("Barge 3").then[0].after, now);
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void rowsAreSortedByAColumnAndKeepTheirCue() {
        const auto names = [&] {
            QStringList all;
            for (int row = 0; row < sheet().rowCount(); ++row) all << sheet().item(row, 1)->text();
            return all;
        };
        const QStringList before = names();
        choose(rowOf("Raises it"));
        Q_EMIT sheet().horizontalHeader()->sectionClicked(1);
        QStringList rising = before;
        rising.sort();
        QCOMPARE(names(), rising);
        QCOMPARE(sheet().item(sheet().currentRow(), 1)->text(), QString("Raises it"));
        Q_EMIT sheet().horizontalHeader()->sectionClicked(1);
        std::reverse(rising.begin(), rising.end());
        QCOMPARE(names(), rising);
        // What is changed in a row is of the cue that stands there.
        sheet().item(rowOf("It is up"), 5)->setCheckState(Qt::Unchecked);
        QVERIFY(!cue("Barge 3", 1).armed && cue("Barge 3", 0).armed);
        Q_EMIT sheet().horizontalHeader()->sectionClicked(1);
        QCOMPARE(names(), before);
    }
    void cuesAreCopiedAndPastedOnOthers() {
        const std::string before = document();
        choose(rowOf("Lets the barge in"));
        sheet().setFocus();
        QTest::keyClick(&sheet(), Qt::Key_C, Qt::ControlModifier);
        editor_->select({idOf("Bench 1"), idOf("Bench 2")});
        QTest::keyClick(&sheet(), Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(cue("Bench 1").name, std::string("Lets the barge in"));
        QCOMPARE(cue("Bench 2").then, cue("Windlass, right").then);
        QCOMPARE(sheet().rowCount(), 6);
        QCOMPARE(session().history().steps().size(), std::size_t(1));
        run("edit.undo");
        QCOMPARE(document(), before);
        QGuiApplication::clipboard()->setText("no cue");
        press("cuePaste");
        QCOMPARE(document(), before);
    }
    void afterTheLevelOneGoesOnInTheNextScene() {
        QVERIFY(editor_->run("Cue", [&](edit::Draft& draft) {
            return ops::changeCues(draft, idOf("Bench 1"), [](model::Cues& cues) {
                model::Cue made = model::freshCue(cues);
                made.when[0].what = model::CueWhen::What::Start;
                made.then[0].does = CueThen::Does::Won;
                made.then[0].after = 0.2;
                made.then[0].next = "broken-lock";
                cues.all.push_back(made);
                return base::Status{};
            });
        }));
        const std::string before = document();
        run("rehearse.start");
        QTRY_VERIFY(the<QToolButton>("traceOffer1") != nullptr && the<QToolButton>("traceOffer1")->isVisible());
        the<QToolButton>("traceOffer1")->click();
        QTRY_COMPARE(editor_->sceneName(), std::string("broken-lock"));
        run("rehearse.end");
        QVERIFY(editor_->report(editor_->showScene("lower-basin")));
        QCOMPARE(document(), before);
    }
    void onlyWhatHasToDoWithTheSelectionIsListed() {
        editor_->select({idOf("High water")});
        the<QCheckBox>("cueSelected")->click();
        QCOMPARE(sheet().rowCount(), 1);
        QCOMPARE(sheet().item(0, 1)->text(), QString("Raises it"));
        the<QCheckBox>("cueSelected")->click();
        QCOMPARE(sheet().rowCount(), 4);
    }
    void whatIsPutAboardGoesAlongAndIsSetAshoreAgain() {
        const std::string before = document();
        const Slot bench = named("Bench 1");
        const base::ObjectId id = scene().id(bench);
        const base::Affine stood = scene().world(bench);
        const auto isThere = [&](const base::Vec3& off) {
            return glm::length(scene().world(scene().find(id)).translation - stood.translation - off) < 1e-9;
        };
        editor_->select({id});
        run("group.aboard");
        QVERIFY(editor_->asking().asksObject());
        QVERIFY(!editor_->asking().objectFits(bench));  // not of itself
        Slot hull = kNoSlot;
        for (const Slot s : scene().subtree(named("Barge 3")))
            if (scene().nameText(s) == "Hull") hull = s;
        editor_->asking().giveObject(scene(), hull);  // the whole barge is meant
        QCOMPARE(scene().nameText(scene().parent(scene().find(id))), std::string_view("Barge 3"));
        QVERIFY(isThere(base::Vec3(0.0)));
        editor_->select({idOf("Barge 3")});
        QTest::keyClick(&view(), Qt::Key_Right);  // by a step, in the view
        const bool moved = !isThere(base::Vec3(0.0));
        QVERIFY(moved);
        run("edit.undo");
        editor_->select({id});
        run("group.ashore");
        QVERIFY(isThere(base::Vec3(0.0)));
        QCOMPARE(scene().nameText(scene().parent(scene().find(id))), std::string_view("Barges"));
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(document(), before);
        // What is protected is put nowhere, and what is aboard of nothing is not set ashore.
        editor_->select({idOf("Valley")});
        run("group.aboard");
        if (editor_->asking().asksObject()) editor_->asking().giveObject(scene(), hull);
        QCOMPARE(document(), before);
        editor_->select({idOf("Boathouse")});
        run("group.ashore");
        QCOMPARE(document(), before);
    }
    void aCarrierIsShownOnItsWayAndIsBackThen() {
        const std::string before = document();
        const base::ObjectId stops = idOf("Heron’s stops"), barge = idOf("Barge 2");
        const base::Vec3 stood = scene().world(scene().find(barge)).translation;
        editor_->select({barge});
        run("group.ride");  // it has no points
        QVERIFY(!editor_->rehearsal().isOn());
        editor_->select({barge, stops});
        run("group.ride");
        QVERIFY(editor_->rehearsal().isOn());
        const auto at = [&] { return scene().world(scene().find(barge)).translation; };
        QTRY_VERIFY(glm::length(at() - stood) > 1);
        const Slot hull = scene().firstChild(scene().find(barge));
        QVERIFY(glm::length(scene().world(hull).translation - at()) < 12);  // all aboard goes along
        QVERIFY(!editor_->run("Rename", [](edit::Draft&) { return base::Status{}; }));
        QCOMPARE(document(), before);
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->rehearsal().isOn());
        QCOMPARE(at(), stood);
        QCOMPARE(bytes(), before);
        QCOMPARE(editor_->selection(), (std::vector<base::ObjectId>{barge, stops}));
    }
    void inARehearsalItIsSetOffByHandAndSaysSo() {
        const std::string before = document();
        view().setFocus();
        run("rehearse.start");
        const auto& rehearsal = editor_->rehearsal();
        QTRY_VERIFY(rehearsal.run() != nullptr && rehearsal.run()->steps() > 5);
        QVERIFY(rehearsal.run()->cues().goal(0) == rehearse::GoalState::Set);
        choose(rowOf("It is up"));
        press("cueSetOff");
        QTRY_VERIFY(sheet().item(rowOf("It is up"), 2)->text().contains("gone off"));
        QTRY_VERIFY_WITH_TIMEOUT(rehearsal.run()->cues().end().has_value(), 8000);
        QTRY_VERIFY(sheet().item(rowOf("Raises it"), 2)->text().contains("never"));
        QVERIFY(!the<QToolButton>("cueAdd")->isEnabled());
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->rehearsal().isOn());
        QCOMPARE(document(), before);
    }
};

MELLOW_TEST(WindowCuesTest)
}  // namespace window_cues_test
#include "window_cues_test.moc"
