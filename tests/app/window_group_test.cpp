// Groups in the real window: taken whole, gone into, made, taken apart; and that Roster and view agree.
#include <QAbstractButton>
#include <QLineEdit>
#include <QMessageBox>
#include <QTreeView>

#include "app/view/gestures/pull_array.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "model/facets/array.h"
#include "support/test_main.h"

namespace window_group_test {

class WindowGroupTest : public WindowFixture {
    Q_OBJECT
    /// A stall in front of the camera, and the pixel of its top.
    QPoint lookAtStall() {
        const Slot stall = named("Stall 8");
        const base::Aabb box = editor_->scene().subtreeBounds(stall);
        view().setCamera(render::Camera::looking(box.centre() + base::Vec3(0, 2.5, 7), box.centre()));
        test::settle();
        const auto p = view().camera().project({box.centre().x, box.high.y, box.centre().z}, view().viewport());
        QPoint at(int(p->x), int(p->y));
        while (view().wholeAt(at) != stall) at.ry() += 2;
        return at;
    }
    const model::Scene& scene() { return editor_->scene(); }
    base::ObjectId selected() { return editor_->selection().size() == 1 ? editor_->selection()[0] : base::ObjectId{}; }
    QTreeView* tree() { return window_->findChild<QTreeView*>("rosterTree"); }
    std::set<Slot> shownAsSelected() {
        std::set<Slot> shown;
        const auto* model = static_cast<app::RosterModel*>(tree()->model());
        std::function<void(QModelIndex)> walk = [&](const QModelIndex& parent) {
            for (int row = 0; row < model->rowCount(parent); ++row) {
                const QModelIndex at = model->index(row, 0, parent);
                if (at.data(app::RosterModel::SelectedRole).toBool()) shown.insert(model->slotOf(at));
                walk(at);
            }
        };
        walk({});
        return shown;
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-group-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aClickTakesTheGroupAndWithTwoKeysThePart() {
        const QPoint at = lookAtStall();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(selected(), idOf("Stall 8"));
        QTest::mouseClick(&view(), Qt::LeftButton, Qt::ControlModifier | Qt::ShiftModifier, at);
        QVERIFY(selected() && scene().parent(scene().find(selected())) == named("Stall 8"));
    }
    void oneGoesInByDoubleClickAndOutBesideIt() {
        const QPoint at = lookAtStall();
        QTest::mouseDClick(&view(), Qt::LeftButton, {}, at);
        QCOMPARE(editor_->entered(), idOf("Stall 8"));
        QVERIFY(selected() && scene().isWithin(scene().find(selected()), named("Stall 8")));
        auto* trail = window_->findChild<QAbstractButton*>("trailGroup");
        QVERIFY(trail != nullptr && trail->text() == "Stall 8");
        // The ground and the other stalls are out of reach; what is placed lands inside.
        for (const char* other : {"Stall 9", "Stall 7"})
            for (Slot s : scene().subtree(named(other))) QVERIFY(!editor_->isPickable(s));
        QVERIFY(editor_->placeAt("pear-crate", scene().world(named("Stall 8")).translation));
        QCOMPARE(scene().parent(scene().find(selected())), named("Stall 8"));
        run("edit.copy");
        run("edit.paste");
        QCOMPARE(scene().parent(scene().find(selected())), named("Stall 8"));
        QTest::mouseDClick(&view(), Qt::LeftButton, {}, {30, 400});
        QVERIFY(!editor_->entered());
        QCOMPARE(selected(), idOf("Stall 8"));
    }
    void enterGoesInAndEscapeOut() {
        lookAtStall();
        editor_->select({idOf("Stall 8")});
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_Return);
        QCOMPARE(editor_->entered(), idOf("Stall 8"));
        run("edit.escape");
        QVERIFY(!editor_->entered());
        // Selecting something elsewhere in the Roster is going out as well; so is undoing what made the group.
        view().enterSelected();
        QVERIFY(editor_->entered());
        editor_->select({idOf("Stall 9")});
        QVERIFY(!editor_->entered());
    }
    void insideAGroupAllIsWhatItHolds() {
        lookAtStall();
        editor_->select({idOf("Stall 8")});
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_Return);
        run("edit.selectAll");
        QCOMPARE(editor_->entered(), idOf("Stall 8"));
        QVERIFY(editor_->selection().size() > 1);
        for (base::ObjectId id : editor_->selection()) QCOMPARE(scene().parent(scene().find(id)), named("Stall 8"));
    }
    void aGroupIsMadeNamedInPlaceAndTakenApart() {
        const std::string before = bytes();
        std::vector<base::ObjectId> ids;
        for (int i = 0; i < 3; ++i) {
            QVERIFY(editor_->placeAt("pear-crate", {-40.0 + i * 2, 40, 10}));
            ids.push_back(selected());
        }
        const std::string apart = bytes();
        editor_->select(ids);
        QTest::keyPress(&view(), Qt::Key_Control);  // as it is held for Ctrl+G
        QTest::keyPress(&view(), Qt::Key_F19, Qt::ControlModifier);
        QVERIFY((QApplication::keyboardModifiers() & Qt::ControlModifier) != 0);
        run("group.make");
        QTest::keyRelease(&view(), Qt::Key_F19, Qt::ControlModifier);
        QTest::keyRelease(&view(), Qt::Key_Control);
        const Slot made = scene().find(selected());
        QVERIFY(made != kNoSlot && scene().parent(scene().find(ids[0])) == made);
        auto* field = tree()->findChild<QLineEdit*>();
        QVERIFY(field != nullptr && field->isVisible());
        field->selectAll();
        QTest::keyClicks(field, "Pears for the market");
        QTest::keyClick(field, Qt::Key_Return);
        QTRY_COMPARE(scene().nameText(made), std::string_view("Pears for the market"));
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(bytes(), apart);
        run("edit.redo");
        editor_->select({scene().id(scene().parent(scene().find(ids[0])))});
        run("group.ungroup");
        QCOMPARE(editor_->selection().size(), std::size_t{3});
        for (int i = 0; i < 5; ++i) run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void ungroupingAsksWhereAShearWouldBeNeeded() {
        QVERIFY(editor_->placeAt("plank", {-40, 40, 10}));
        const auto plank = selected();
        run("group.make");
        const auto group = selected();
        editor_->run("Set up", [&](edit::Draft& d) -> base::Status {
            const base::ObjectId ids[] = {group, plank};
            base::Transform of[] = {scene().local(scene().find(group)), scene().local(scene().find(plank))};
            of[0].scale = {3, 1, 1};
            of[1].rotation = base::fromDegrees({0, 45, 0});
            return d.setTransforms(ids, of);
        });
        const std::string before = bytes();
        editor_->select({group});
        run("group.ungroup");
        auto* question = window_->findChild<QMessageBox*>("shearQuestion");
        QVERIFY(question != nullptr);
        QCOMPARE(bytes(), before);
        for (QAbstractButton* b : question->buttons())
            if (question->buttonRole(b) == QMessageBox::AcceptRole) QTest::mouseClick(b, Qt::LeftButton);
        QTRY_COMPARE(scene().find(group), kNoSlot);
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void aBoxTakesGroupsWhole() {
        lookAtStall();
        editor_->select({});
        QTest::mousePress(&view(), Qt::LeftButton, {}, {60, 60});
        for (const QPoint& p : {QPoint(200, 200), QPoint(500, 500), QPoint(view().width() - 60, view().height() - 60)})
            QTest::mouseMove(&view(), p);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, {view().width() - 60, view().height() - 60});
        QVERIFY(editor_->isSelected(named("Stall 8")));
        for (Slot s = scene().firstChild(named("Stall 8")); s != kNoSlot; s = scene().nextSibling(s))
            QVERIFY(!editor_->isSelected(s));
    }
    void aCopyIsPulledWithCtrlAndAgainTheSameWay() {
        QVERIFY(editor_->placeAt("pear-crate", {-40, 40, 10}));
        const auto crate = selected();
        view().setCamera(render::Camera::looking({-38, 43, 16}, {-40, 40, 10}));
        test::settle();
        const std::string before = bytes();
        const std::size_t count = scene().objectCount();
        auto drag = [&](const QPoint& by, bool letGo) {
            const auto p = view().camera().project(scene().bounds(scene().find(crate)).centre(), view().viewport());
            const QPoint from(int(p->x), int(p->y));
            run("view.select");
            editor_->select({crate});
            QTest::mouseMove(&view(), from);
            QTest::mousePress(&view(), Qt::LeftButton, Qt::ControlModifier, from);
            for (int i = 1; i <= 8; ++i) {
                QMouseEvent move(QEvent::MouseMove, from + by * i / 8, view().mapToGlobal(from + by * i / 8),
                                 Qt::NoButton, Qt::LeftButton, Qt::ControlModifier);
                QApplication::sendEvent(&view(), &move);
            }
            if (letGo) QTest::mouseRelease(&view(), Qt::LeftButton, Qt::ControlModifier, from + by);
        };
        drag({90, 10}, false);
        QCOMPARE(scene().objectCount(), count + 1);
        QVERIFY(selected() != crate);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QCOMPARE(bytes(), before);
        QCOMPARE(selected(), crate);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, {400, 400});
        drag({90, 10}, true);
        QCOMPARE(scene().objectCount(), count + 1);
        const auto copy = selected();
        const base::Vec3 by =
            scene().world(scene().find(copy)).translation - scene().world(scene().find(crate)).translation;
        QVERIFY(glm::length(by) > 0.2);
        run("edit.copyAgain");
        const base::Vec3 twice = scene().world(scene().find(selected())).translation;
        QVERIFY(glm::length(twice - scene().world(scene().find(crate)).translation - by * 2.0) < 1e-9);
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void anArrayIsPulledByTheMouseAsOneStep() {
        editor_->select({idOf("Bench 1")});
        run("array.row");
        const base::ObjectId row = editor_->selection()[0];
        view().setCamera(render::Camera::looking(scene().world(scene().find(row)).translation + base::Vec3(2, 12, 14),
                                                 scene().world(scene().find(row)).translation + base::Vec3(2, 0, 0)));
        test::settle();
        const std::string before = bytes();
        const auto steps = editor_->session().history().steps().size();
        auto array = [&] { return *scene().facet<model::Array>(scene().find(row)); };
        auto gripAt = [&](std::size_t i) { return view().gesture<app::PullArray>().grips().at(i).toPoint(); };
        const model::Array first = array();
        auto pull = [&](const QPoint& from, const QPoint& to) {
            QTest::mouseMove(&view(), from);
            QTest::mousePress(&view(), Qt::LeftButton, {}, from);
            for (int i = 1; i <= 8; ++i) QTest::mouseMove(&view(), from + (to - from) * i / 8);
        };
        pull(gripAt(0), gripAt(1));  // back to where the second stands: one is left
        QCOMPARE(array().counts[0], 1);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QCOMPARE(bytes(), before);
        const QPoint from = gripAt(1), to = from + QPoint(60, 40);
        pull(from, to);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, to);
        QVERIFY(array().spacing != first.spacing && array().spacing.z > 0);
        QCOMPARE(editor_->session().history().steps().size(), steps + 1);
        const std::string spread = bytes();
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(editor_->session().redo());
        QCOMPARE(bytes(), spread);
    }
    void anArraysNumbersAreTypedInPropertiesUntilItIsBaked() {
        QVERIFY(editor_->placeAt("bollard", {-40, 40, 10}));
        const std::string before = bytes();
        run("array.row");
        const auto row = selected();
        auto count = [&] {
            int n = 0;
            for (Slot s = scene().firstChild(scene().find(row)); s != kNoSlot; s = scene().nextSibling(s)) ++n;
            return n;
        };
        QCOMPARE(count(), 6);
        auto type = [&](const char* name, const char* text) {
            auto* line = window_->findChild<QWidget*>(QString("property.array.") + name);
            auto* field = line != nullptr ? line->findChild<app::NumberField*>() : nullptr;
            QVERIFY(field != nullptr && field->isVisibleTo(window_.get()));
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, text);
            QTest::keyClick(field, Qt::Key_Return);
        };
        type("count", "9");
        QCOMPARE(count(), 9);
        type("spacing", "75 cm");
        QCOMPARE(scene().facet<model::Array>(scene().find(row))->spacing.x, 0.75);
        type("length", "12");
        QVERIFY(std::abs(scene().facet<model::Array>(scene().find(row))->spacing.x - 1.5) < 1e-12);
        type("count", "0");
        QCOMPARE(count(), 9);
        run("array.bake");
        QVERIFY(!scene().detail(scene().find(row)));
        QCOMPARE(count(), 9);
        for (int i = 0; i < 5; ++i) run("edit.undo");
        QCOMPARE(bytes(), before);
    }
    void rosterAndViewAgreeOnAHundredThousandObjects() {
        // Every other one is selected: as many runs of rows as there can be.
        constexpr std::size_t kMany = 100'000;
        std::vector<model::ObjectRecord> records(kMany);
        base::Random random(3);
        for (std::size_t i = 0; i < kMany; ++i) {
            records[i].id = random.nextId();
            records[i].name = editor_->session().intern("Marker " + std::to_string(i));
            records[i].item = editor_->session().intern("pear-crate");
            records[i].local.position = {double(i % 400) * 2 - 400, 200, double(i / 400) * 2 - 250};
        }
        QVERIFY(editor_->run("Many", [&](edit::Draft& d) { return d.create(records); }));
        std::vector<base::ObjectId> every;
        std::set<Slot> wanted;
        for (std::size_t i = 0; i < kMany; i += 2) every.push_back(records[i].id);
        for (base::ObjectId id : every) wanted.insert(scene().find(id));
        editor_->select(every);
        QVERIFY(shownAsSelected() == wanted);
        // A box round some of them, from above: in both the very same.
        run("look.clean");
        view().setCamera(render::Camera::flat({0, 250, 0}, 0, -90, 120));
        test::settle();
        QTest::mousePress(&view(), Qt::LeftButton, {}, {40, 90});
        for (const QPoint& p : {QPoint(80, 120), QPoint(400, 300), QPoint(700, 500)}) QTest::mouseMove(&view(), p);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, {700, 500});
        std::set<Slot> chosen;
        for (base::ObjectId id : editor_->selection()) chosen.insert(scene().find(id));
        QVERIFY2(chosen.size() > 500 && chosen.size() < kMany, qPrintable(QString::number(chosen.size())));
        QVERIFY(shownAsSelected() == chosen);
        // The filter, on its worker, finds what looking at every name finds; a row selects in the view.
        run("look.clean");
        auto* filter = window_->findChild<QLineEdit*>("rosterFilter");
        filter->setText("\"marker 77\"");
        auto* model = static_cast<app::RosterModel*>(tree()->model());
        std::size_t fits = 0;
        for (std::size_t i = 0; i < kMany; ++i) fits += QString::number(i).startsWith("77") ? 1 : 0;
        QTRY_COMPARE(model->matches(), static_cast<int>(fits));
        tree()->setCurrentIndex(model->index(5, 0));
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        QVERIFY(scene().nameText(scene().find(selected())).starts_with("Marker 77"));
        filter->clear();
        QVERIFY(shownAsSelected() == std::set<Slot>{scene().find(selected())});
    }
};

MELLOW_TEST(WindowGroupTest)
}  // namespace window_group_test
#include "window_group_test.moc"
