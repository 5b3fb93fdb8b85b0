// Prefabs, solids and the broom in the real window, as a designer works with them.
#include <QAbstractButton>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTreeWidget>

#include "app/window_fixture.h"

using base::ObjectId;
using base::Vec3;

class WindowPrefabTest : public WindowFixture {
    Q_OBJECT
    const model::Scene& scene() { return editor_->scene(); }
    edit::Session& session() { return editor_->session(); }
    ObjectId selected() { return editor_->selection().size() == 1 ? editor_->selection()[0] : ObjectId{}; }
    template <class W>
    W* child(const char* name) {
        return window_->findChild<W*>(name);
    }
    void press(const char* button) { QTest::mouseClick(child<QAbstractButton>(button), Qt::LeftButton); }

    /// Makes a prefab of a stall through the card; gives its first instance.
    ObjectId makeStall(const char* from = "Stall 8", const char* name = "Booth") {
        editor_->select({idOf(from)});
        run("prefab.make");
        auto* field = child<QLineEdit>("prefabName");
        field->selectAll();
        QTest::keyClicks(field, name);
        press("prefabMake");
        QTest::qWait(60);
        return selected();
    }
    ObjectId prefabOf(ObjectId instance) { return scene().detail(scene().find(instance))->prefab->of; }
    std::string itemOf(ObjectId instance) { return model::definitionKey(prefabOf(instance)); }
    ObjectId partOf(ObjectId instance, const char* name) {
        for (Slot s : scene().subtree(scene().find(instance)))
            if (scene().nameText(s).starts_with(name)) return scene().id(s);
        return {};
    }
    Vec3 at(ObjectId id) { return scene().local(scene().find(id)).position; }
    /// Looks at level ground with nothing on it, from the south.
    QPoint lookAtGround(const Vec3& place = {-40, 0, 40}) {
        view().setCamera(render::Camera::looking(place + Vec3(0, 7, 9), place));
        QTest::qWait(60);
        return pixel(place);
    }
    QPoint pixel(const Vec3& at) {
        const auto p = view().camera().project(at, view().viewport());
        return {int(p->x), int(p->y)};
    }
    void drag(const QPoint& from, const QPoint& to) {
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 6);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-prefab-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aPrefabIsMadeInTheCardAndIsInTheStockAtOnce() {
        editor_->select({idOf("Stall 8")});
        run("prefab.make");
        QVERIFY(editor_->basePoint());
        const double bottom = editor_->basePoint()->y;
        child<QComboBox>("baseHeight")->setCurrentIndex(2);
        Q_EMIT child<QComboBox>("baseHeight")->activated(2);
        QVERIFY(editor_->basePoint()->y > bottom + 2);
        press("base00");
        QVERIFY(child<QLabel>("prefabSize")->text().contains("footprint"));
        press("prefabMake");
        QTest::qWait(20);
        QVERIFY(scene().isInstance(scene().find(selected())));
        const model::Item* item = session().library().item(session().intern(itemOf(selected())));
        QVERIFY(item != nullptr && item->label == "Stall");
        QVERIFY(!editor_->basePoint());
    }
    void manyAreMadeInARowWithATally() {
        editor_->select({idOf("Stall 8")});
        run("prefab.make");
        auto* field = child<QLineEdit>("prefabName");
        field->setText("Booth ##");
        press("prefabMakeMore");
        editor_->select({idOf("Stall 9")});
        press("prefabMakeMore");
        QCOMPARE(child<QLabel>("prefabTally")->text(), QString("2 made"));
        QVERIFY(session().prefabNamed("Booth 01") && session().prefabNamed("Booth 02"));
    }
    void aNameInUseAsks() {
        const ObjectId first = makeStall();
        editor_->select({idOf("Stall 9")});
        run("prefab.make");
        child<QLineEdit>("prefabName")->setText("Booth");
        press("prefabMake");
        QVERIFY(child<QWidget>("prefabQuestion")->isVisible());
        const std::size_t before = session().definitions().size();
        press("prefabUpdate");
        QTest::qWait(20);
        auto* problem = child<QLabel>("problem");
        QVERIFY2(problem == nullptr || !problem->isVisible(), problem != nullptr ? qPrintable(problem->text()) : "");
        QVERIFY(selected() && scene().isInstance(scene().find(selected())));
        QCOMPARE(session().definitions().size(), before);
        QCOMPARE(prefabOf(selected()), prefabOf(first));
    }
    void aChangeInPlaceReachesTheOtherInstanceAndOneInsideDoesNot() {
        const ObjectId first = makeStall();
        QVERIFY(editor_->placeAt(itemOf(first), {-40, 0, 40}));
        const ObjectId second = selected();
        const ObjectId here = partOf(first, "Awning"), there = partOf(second, "Awning");
        // Inside the instance: a difference.
        view().enterSelected();
        editor_->select({there});
        const Vec3 before = at(there);
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_PageUp);
        QVERIFY(at(there).y > before.y && at(here) == before);
        QVERIFY(child<QLabel>("differs")->text().contains("Position"));
        editor_->leave();
        // In the definition: both.
        editor_->select({first});
        run("prefab.editHere");
        QVERIFY(editor_->editsDefinition());
        QTest::qWait(20);
        QVERIFY(child<QAbstractButton>("trailGroup")->text().contains("definition of Booth"));
        const ObjectId frame = partOf(first, "Frame"), frameThere = partOf(second, "Frame");
        editor_->select({frame});
        const Vec3 frameBefore = at(frameThere);
        QTest::keyClick(&view(), Qt::Key_PageUp);
        QVERIFY(at(frameThere).y > frameBefore.y);
        run("edit.escape");
        run("edit.escape");
        QVERIFY(!editor_->editsDefinition());
        QVERIFY(session().undo());
        QCOMPARE(at(frameThere), frameBefore);
    }
    void oneDifferenceIsGivenAndAnotherTakenBack() {
        const ObjectId first = makeStall();
        QVERIFY(editor_->placeAt(itemOf(first), {-40, 0, 40}));
        const ObjectId second = selected();
        const ObjectId awning = partOf(second, "Awning"), frame = partOf(second, "Frame");
        for (ObjectId id : {awning, frame}) {
            editor_->select({id});
            view().setFocus();
            QTest::keyClick(&view(), Qt::Key_PageUp);
        }
        const Vec3 raised = at(awning), raisedFrame = at(frame);
        run("prefab.differences");
        auto* list = child<QTreeWidget>("differencesList");
        QCOMPARE(list->topLevelItemCount(), 2);
        auto choose = [&](const char* name) {
            list->clearSelection();
            for (int i = 0; i < list->topLevelItemCount(); ++i)
                if (list->topLevelItem(i)->text(0).startsWith(name)) list->topLevelItem(i)->setSelected(true);
        };
        choose("Awning");
        press("giveDifference");
        QCOMPARE(at(partOf(first, "Awning")), raised);
        QCOMPARE(list->topLevelItemCount(), 1);
        choose("Frame");
        press("takeDifferenceBack");
        QVERIFY(at(frame).y < raisedFrame.y);
        QCOMPARE(list->topLevelItemCount(), 0);
    }
    void aPrefabInUseIsDeletedAfterItsConsequencesWereListed() {
        const std::string before = bytes();
        const ObjectId first = makeStall();
        const ObjectId prefab = prefabOf(first);
        editor_->select({first});
        run("prefab.delete");
        QCOMPARE(child<QTreeWidget>("usesList")->topLevelItemCount(), 1);
        press("deletePrefab");
        QVERIFY(!session().definitions().contains(prefab));
        QVERIFY(!scene().isInstance(scene().find(first)) && partOf(first, "Awning"));
        QVERIFY(session().undo());
        QVERIFY(session().definitions().contains(prefab) && scene().isInstance(scene().find(first)));
        QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
    }
    void savingWritesThePrefabToo() {
        (void)makeStall();
        run("project.save");
        window_->finishSaving();
        QTest::qWait(20);
        QVERIFY(std::filesystem::exists(demo_->folder() / "prefabs" / "Booth.prefab.jsonl"));
        QVERIFY(session().unsavedScenes().empty());
    }
    void aDefinitionIsOpenedAloneAndLeftAgain() {
        const std::string definition = itemOf(makeStall());
        run("prefab.open");
        QCOMPARE(editor_->sceneName(), definition);
        QVERIFY(window_->windowTitle().contains("prefab Booth"));
        run("prefab.back");
        QCOMPARE(editor_->sceneName(), std::string("lower-basin"));
    }
    void stairsAreDrawnByDraggingThenRaising() {
        const QPoint from = lookAtGround();
        run("draw.stairs");
        const QPoint to = pixel({-38, 0, 37});
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 6);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
        QTest::mouseMove(&view(), to - QPoint(0, 60));
        QTest::mouseMove(&view(), to - QPoint(0, 90));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, to - QPoint(0, 90));
        const model::DetailPtr& detail = scene().detail(scene().find(selected()));
        QVERIFY(detail && detail->solid && detail->solid->shape == model::Solid::Shape::Stairs);
        QVERIFY(std::abs(detail->solid->size.x - 2) < 0.51 && std::abs(detail->solid->size.z - 3) < 0.51);
        QVERIFY(detail->solid->size.y > 0.5);
        QCOMPARE(editor_->tool(), app::Tool::Slide);
        auto* width = child<QLineEdit>("facetWidthm");
        QVERIFY(width != nullptr);
        QVERIFY(session().undo());
        QVERIFY(!selected() || scene().find(selected()) == kNoSlot || !scene().detail(scene().find(selected())));
    }
    void escapeTakesADrawingBack() {
        const std::string before = bytes();
        const QPoint from = lookAtGround();
        run("draw.box");
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&view(), from + QPoint(40, 20));
        QTest::mouseMove(&view(), from + QPoint(60, 30));
        QVERIFY(bytes() != before);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from);
        QCOMPARE(bytes(), before);
    }
    void theBroomScattersInOneStepAndIsTakenBackWhileSweeping() {
        const std::string before = bytes();
        const QPoint from = lookAtGround(), to = pixel({-36, 0, 40});
        ops::BroomSettings s = editor_->broom();
        s.item = "reed-clump-1";
        s.density = 1;
        s.radiusMetres = 2;
        editor_->setBroom(s);
        editor_->setTool(app::Tool::Broom);
        QVERIFY(child<QWidget>("broomVerb")->isVisible());
        QTest::mouseMove(&view(), from);
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 6);
        QVERIFY(bytes() != before);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
        QCOMPARE(bytes(), before);
        const std::size_t steps = session().history().steps().size();
        drag(from, to);
        QCOMPARE(session().history().steps().size(), steps + 1);
        QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
    }
};

QTEST_MAIN(WindowPrefabTest)
#include "window_prefab_test.moc"
