// Prefabs, solids and the broom in the real window, as a designer works with them.
#include <QAbstractButton>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTreeWidget>

#include "app/shell/asking.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "model/facets/body.h"
#include "model/facets/solid.h"
#include "support/test_main.h"

namespace window_prefab_test {

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
        auto* field = child<QLineEdit>("property.name");
        field->selectAll();
        QTest::keyClicks(field, name);
        press("prefabMake");
        test::settle();
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
        test::settle();
        QVERIFY(scene().isInstance(scene().find(selected())));
        const model::Item* item = session().library().item(session().intern(itemOf(selected())));
        QVERIFY(item != nullptr && item->label == "Stall");
        QVERIFY(!editor_->basePoint());
    }
    void manyAreMadeInARowWithATally() {
        editor_->select({idOf("Stall 8")});
        run("prefab.make");
        auto* field = child<QLineEdit>("property.name");
        field->selectAll();
        QTest::keyClicks(field, "Booth ##");
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
        child<QLineEdit>("property.name")->selectAll();
        QTest::keyClicks(child<QLineEdit>("property.name"), "Booth");
        press("prefabMake");
        QVERIFY(child<QWidget>("prefabQuestion")->isVisible());
        const std::size_t before = session().definitions().size();
        press("prefabUpdate");
        test::settle();
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
        test::settle();
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
    void aBodyOfItsOwnIsListedAndTakenBack() {
        const ObjectId first = makeStall();
        QVERIFY(editor_->placeAt(itemOf(first), {-40, 0, 40}));
        const ObjectId second = selected(), frame = partOf(second, "Frame");
        const std::string before = bytes();
        editor_->select({frame});
        run("body.box");
        const auto body = [&] {
            const auto& detail = scene().detail(scene().find(frame));
            return detail && detail->get<model::Body>();
        };
        const bool had = scene().facet<model::Body>(scene().find(partOf(first, "Frame")));
        QVERIFY(body() && !had);
        run("prefab.differences");
        auto* list = child<QTreeWidget>("differencesList");
        QCOMPARE(list->topLevelItemCount(), 1);
        QCOMPARE(list->topLevelItem(0)->text(1), QString("Body"));
        QCOMPARE(list->topLevelItem(0)->text(2), QString("none"));
        QCOMPARE(list->topLevelItem(0)->text(3), QString("fixed, box"));
        list->topLevelItem(0)->setSelected(true);
        press("takeDifferenceBack");
        QVERIFY(!body());
        QCOMPARE(list->topLevelItemCount(), 0);
        QVERIFY(session().undo() && body());
        QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
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
        test::settle();
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
    void anInstanceIsTakenApartMadeAgainAndSwapped() {
        const ObjectId first = makeStall();
        const ObjectId prefab = prefabOf(first), awning = partOf(first, "Awning");
        run("prefab.takeApart");
        QVERIFY(!scene().isInstance(scene().find(first)) && scene().find(awning) != kNoSlot);
        editor_->select({awning});
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_PageUp);
        const Vec3 raised = at(awning);
        editor_->select({first});
        run("prefab.makeAgain");
        QCOMPARE(prefabOf(first), prefab);
        QCOMPARE(at(awning), raised);
        QCOMPARE(scene().detail(scene().find(first))->prefab->changed.size(), std::size_t{1});
        // An edition is opened to be changed; instances swapped for it keep what differs.
        run("prefab.edition");
        QTest::keyClick(child<QLineEdit>("popoverName"), Qt::Key_Return);
        const std::string edition = editor_->sceneName();
        QVERIFY(model::prefabOf(edition) && model::prefabOf(edition) != prefab);
        run("prefab.back");
        editor_->select({first});
        QVERIFY(editor_->run("Swap", [&](edit::Draft& draft) -> base::Status {
            auto lost = ops::swapPrefab(draft, editor_->selection(), model::prefabOf(edition));
            return lost ? base::Status{} : tl::unexpected(lost.error());
        }));
        QCOMPARE(itemOf(first), edition);
        QCOMPARE(at(partOf(first, "Awning")), raised);
    }
    void theBasePointIsPickedInTheView() {
        const QPoint ground = lookAtGround({-40, 0, 21});
        editor_->select({idOf("Stall 8")});
        run("prefab.make");
        press("basePick");
        QVERIFY(editor_->asking().asksPoint());
        const Vec3 before = *editor_->basePoint();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, ground + QPoint(60, 40));
        QVERIFY(*editor_->basePoint() != before);
        const Vec3 picked = *editor_->basePoint();
        press("prefabMake");
        test::settle();
        QVERIFY(glm::length(scene().world(scene().find(selected())).translation - picked) < 1e-9);
    }
    void usesAreListedAndTheListLeadsThere() {
        const ObjectId first = makeStall();
        editor_->select({first});
        run("prefab.usedBy");
        auto* list = child<QTreeWidget>("usesList");
        QCOMPARE(list->topLevelItemCount(), 1);
        QCOMPARE(list->topLevelItem(0)->text(1), QString("1"));
        editor_->select({});
        Q_EMIT list->itemActivated(list->topLevelItem(0), 0);
        QCOMPARE(selected(), first);
    }
    void aPrefabIsRenamedAndMovedToAFolderInPlace() {
        const ObjectId prefab = prefabOf(makeStall());
        for (const auto& [command, text] : {std::pair{"prefab.rename", "Kiosk"}, {"prefab.move", "Upper quay"}}) {
            run(command);
            test::settle();
            auto* field = window_->findChildren<QLineEdit*>("popoverName").last();
            field->setText(text);
            QTest::keyClick(field, Qt::Key_Return);
            test::settle();
        }
        const auto& head = *session().definitions().at(prefab)->settings().prefab;
        QVERIFY(head.name == "Kiosk" && head.folder == "Upper quay");
        const model::Item* item = session().library().item(session().intern(model::definitionKey(prefab)));
        QVERIFY(item->label == "Kiosk" && item->folder == "Upper quay");
    }
    void aLinkedCopyGoesOnBeingTheSame() {
        editor_->select({idOf("Stall 8")});
        run("prefab.copyLinked");
        const ObjectId copy = selected();
        QVERIFY(copy && scene().isInstance(scene().find(copy)));
        QCOMPARE(session().instancesOf(prefabOf(copy), editor_->sceneName()).size(), std::size_t{2});
    }
    void aPulledCopyGoesOnBeingTheSameWhenAskedTo() {
        editor_->select({idOf("Stall 8")});
        const base::Aabb box = scene().subtreeBounds(named("Stall 8"));
        view().setCamera(render::Camera::looking(box.centre() + Vec3(0, 5, 9), box.centre()));
        test::settle();
        run("prefab.pullLinked");
        const std::string before = bytes();
        const QPoint tip = view().gesture<app::PullHandle>().tip(0)->toPoint();
        auto pull = [&] {
            QTest::mousePress(&view(), Qt::LeftButton, Qt::ControlModifier, tip);
            for (int i = 1; i <= 6; ++i) {
                const QPointF at = tip + QPoint(20, 0) * i;
                QMouseEvent move(QEvent::MouseMove, at, view().mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                                 Qt::ControlModifier);
                QApplication::sendEvent(&view(), &move);
            }
        };
        pull();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QCOMPARE(bytes(), before);
        QCOMPARE(selected(), idOf("Stall 8"));
        pull();
        QTest::mouseRelease(&view(), Qt::LeftButton, Qt::ControlModifier, tip + QPoint(120, 0));
        run("prefab.pullLinked");
        const ObjectId copy = selected();
        QVERIFY(copy && scene().isInstance(scene().find(copy)));
        const auto both = session().instancesOf(prefabOf(copy), editor_->sceneName());
        QCOMPARE(both.size(), std::size_t{2});
        const ObjectId original = both[0] == copy ? both[1] : both[0];
        QVERIFY(glm::length(at(copy) - at(original)) > 0.2);
        QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
    }
    void aSelectionIsMergedIntoOneItem() {
        editor_->select({idOf("Stall 8")});
        const base::Aabb box = scene().subtreeBounds(named("Stall 8"));
        const std::string before = bytes();
        run("prefab.merge");
        auto* field = child<QLineEdit>("property.name");
        field->selectAll();
        QTest::keyClicks(field, "stall-baked");
        QVERIFY(child<QLabel>("prefabSize")->text().contains("triangles"));
        press("prefabMake");
        test::settle();
        const ObjectId one = selected();
        QVERIFY(one && scene().itemText(scene().find(one)) == "stall-baked");
        const base::Aabb now = scene().subtreeBounds(scene().find(one));
        QVERIFY(glm::length(now.low - box.low) < 1e-4 && glm::length(now.high - box.high) < 1e-4);
        QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(session().redo());
        QVERIFY(scene().find(one) != kNoSlot);
    }
    /// Where the release of a press went elsewhere, the next press takes back what was begun.
    void aSweepWhoseReleaseWasLostIsTakenBackByTheNextPress() {
        const QPoint at = lookAtGround();
        const std::string before = bytes();
        run("draw.broom");
        ops::BroomSettings scatter = editor_->tools().broom;
        scatter.verb = ops::BroomVerb::Scatter;
        scatter.item = "reed-clump-1";
        scatter.density = 1;
        editor_->change(&app::Tools::broom, scatter);
        QTest::mouseMove(&view(), at);
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        QTest::mouseMove(&view(), at + QPoint(60, 0));
        QVERIFY(bytes() != before);
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(bytes(), before);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(bytes(), before);
        QVERIFY(!view().isDragging());
    }
    void aSolidsNumbersAreTypedAfterwards() {
        const QPoint at = lookAtGround();
        run("draw.box");
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        const ObjectId box = selected();
        QVERIFY(scene().facet<model::Solid>(scene().find(box))->size == Vec3(1));
        auto* height = child<QWidget>("property.solid.height")->findChild<app::NumberField*>();
        height->setFocus();
        height->selectAll();
        QTest::keyClicks(height, "2.5");
        QTest::keyClick(height, Qt::Key_Return);
        QVERIFY(scene().facet<model::Solid>(scene().find(box))->size == Vec3(1, 2.5, 1));
        QVERIFY(std::abs(scene().bounds(scene().find(box)).size().y - 2.5) < 1e-5);
        height->selectAll();
        QTest::keyClicks(height, "-3");
        QTest::keyClick(height, Qt::Key_Return);
        QVERIFY(scene().facet<model::Solid>(scene().find(box))->size == Vec3(1, 2.5, 1));
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
        QVERIFY(detail && detail->get<model::Solid>() &&
                detail->get<model::Solid>()->shape == model::Solid::Shape::Stairs);
        QVERIFY(std::abs(detail->get<model::Solid>()->size.x - 2) < 0.51 &&
                std::abs(detail->get<model::Solid>()->size.z - 3) < 0.51);
        QVERIFY(detail->get<model::Solid>()->size.y > 0.5);
        QCOMPARE(editor_->tools().tool, app::Tool::Slide);
        auto* width = child<QWidget>("property.solid.width")->findChild<app::NumberField*>();
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
        ops::BroomSettings s = editor_->tools().broom;
        s.item = "reed-clump-1";
        s.density = 1;
        s.radiusMetres = 2;
        editor_->change(&app::Tools::broom, s);
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
    void theBroomHidesOnlyWhatItsFilterLetsThrough() {
        const base::Aabb box = scene().subtreeBounds(named("Stall 8"));
        view().setCamera(render::Camera::looking(box.centre() + Vec3(0, 6, 8), box.centre()));
        test::settle();
        ops::BroomSettings s = editor_->tools().broom;
        s.verb = ops::BroomVerb::Hide;
        s.filter = "item:pear-crate";
        s.radiusMetres = 4;
        editor_->change(&app::Tools::broom, s);
        editor_->setTool(app::Tool::Broom);
        const QPoint at = pixel({box.centre().x, box.low.y, box.high.z});
        drag(at, at + QPoint(10, 0));
        std::size_t hidden = 0;
        for (Slot slot : scene().subtree(kNoSlot))
            if ((scene().flagsOf(slot) & model::flags::kHidden) != 0) {
                QCOMPARE(scene().itemText(slot), std::string_view("pear-crate"));
                ++hidden;
            }
        QVERIFY(hidden >= 3);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QCOMPARE(editor_->tools().tool, app::Tool::Slide);
    }
};

MELLOW_TEST(WindowPrefabTest)
}  // namespace window_prefab_test
#include "window_prefab_test.moc"
