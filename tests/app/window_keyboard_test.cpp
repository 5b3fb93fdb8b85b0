// Where the keyboard goes: one gesture after another, every key to whatever has the focus by then.
#include <QComboBox>
#include <QTreeView>

#include "app/dialogs/kinds_window.h"
#include "app/dialogs/records_window.h"
#include "app/kit/number_field.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/view/gestures/pull_side.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "ops/kinds.h"
#include "render/handle.h"
#include "support/test_main.h"

namespace window_keyboard_test {

class WindowKeyboardTest : public WindowFixture {
    Q_OBJECT
    void key(int key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QWidget* at = QApplication::activePopupWidget();
        if (at == nullptr) at = QApplication::focusWidget();
        QVERIFY(at != nullptr);
        QTest::keyClick(at, static_cast<Qt::Key>(key), modifiers);
        test::settle();
    }
    void type(const char* text) {
        QTest::keyClicks(QApplication::focusWidget(), text);
        test::settle();
    }
    bool viewHasIt() { return QApplication::focusWidget() == &view(); }
    void clickObject(const char* name) {
        editor_->select({idOf(name)});
        view().eye().showSelection();
        editor_->select({});
        test::settle();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, pixelOf(named(name)));
        test::settle();
        QCOMPARE(editor_->selection().size(), std::size_t{1});
    }
    std::vector<std::string> kindsOf(const std::vector<base::ObjectId>& ids) {
        std::vector<std::string> kinds;
        for (base::ObjectId id : ids) kinds.emplace_back(editor_->scene().kindText(editor_->scene().find(id)));
        return kinds;
    }
    std::vector<base::ObjectId> allOf(std::string_view kind) {
        std::vector<base::ObjectId> ids;
        for (Slot s : editor_->scene().subtree(kNoSlot))
            if (editor_->scene().kindText(s) == kind) ids.push_back(editor_->scene().id(s));
        return ids;
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-keyboard-test"); }
    void init() {
        openFreshCopy();
        window_->activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(window_.get()));
    }
    void cleanup() { closeWindow(); }

    void afterATypedAmountTheKeysAreCommandsAgain() {
        clickObject("Bollard 2");
        const std::string before = bytes();
        const std::string name = std::string(editor_->scene().nameText(named("Bollard 2")));
        for (int round = 0; round < 2; ++round) {
            key(Qt::Key_Tab);
            QCOMPARE(QApplication::focusWidget()->objectName(), QString("amountField"));
            type("+0.5");
            key(Qt::Key_Return);
            QVERIFY(viewHasIt());
            QVERIFY(bytes() != before);
            key(Qt::Key_F);
            QVERIFY(editor_->tools().activeTask() == render::Task::Fit);
            key(Qt::Key_S);
            QVERIFY(editor_->tools().activeTask() == render::Task::Slide);
            key(Qt::Key_Z, Qt::ControlModifier);
            QCOMPARE(bytes(), before);
        }
        // What makes no sense stays to be mended; Esc closes the field and nothing else.
        key(Qt::Key_Tab);
        type("nonsense");
        key(Qt::Key_Return);
        QCOMPARE(QApplication::focusWidget()->objectName(), QString("amountField"));
        key(Qt::Key_Escape);
        QVERIFY(viewHasIt());
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        QCOMPARE(bytes(), before);
        QCOMPARE(std::string(editor_->scene().nameText(named("Bollard 2"))), name);
    }
    void anObjectChosenInTheRosterIsMovedByATypedAmount() {
        clickObject("Bollard 2");
        const std::string before = bytes();
        auto* roster = window_->findChild<QTreeView*>("rosterTree");
        QVERIFY(roster != nullptr);
        roster->setFocus();
        const QPoint over = view().mapToGlobal(view().rect().center());
        QCursor::setPos(over);
        QTRY_COMPARE(QCursor::pos(), over);
        QTest::keyClick(roster, Qt::Key_Tab);
        QTRY_COMPARE(QApplication::focusWidget()->objectName(), QString("amountField"));
        type("+0.5");
        key(Qt::Key_Return);
        QVERIFY(viewHasIt());
        QVERIFY(bytes() != before);
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(bytes(), before);
    }
    void afterAFieldOfPropertiesTheKeysAreCommandsAgain() {
        clickObject("Bollard 2");
        const std::string before = bytes();
        auto fields = window_->findChild<QWidget*>("propertiesDock")->findChildren<app::NumberField*>();
        auto* number = *std::find_if(fields.begin(), fields.end(), [](auto* f) { return f->isVisible(); });
        QTest::mouseClick(number, Qt::LeftButton);
        number->selectAll();
        type("+= 1");
        key(Qt::Key_Return);
        QVERIFY(viewHasIt());
        QVERIFY(bytes() != before);
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(bytes(), before);
        // Esc takes back what was typed, keeps the selection, and gives the keyboard back.
        auto* name = window_->findChild<QLineEdit*>("propertyName");
        for (QLineEdit* field : {static_cast<QLineEdit*>(number), name}) {
            const QString held = field->text();
            QTest::mouseClick(field, Qt::LeftButton);
            field->selectAll();
            type("99");
            key(Qt::Key_Escape);
            QVERIFY(viewHasIt());
            QCOMPARE(field->text(), held);
            QCOMPARE(bytes(), before);
            QCOMPARE(editor_->selection().size(), std::size_t{1});
        }
        QTest::mouseClick(name, Qt::LeftButton);
        name->selectAll();
        type("Harbour pilot");
        key(Qt::Key_Return);
        QVERIFY(viewHasIt());
        QVERIFY(named("Harbour pilot") != kNoSlot);
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(bytes(), before);
    }
    void numbersGiveItBackWhereverTheyAre() {
        run("stock.vary");
        std::size_t tried = 0;
        for (app::NumberField* field : window_->findChildren<app::NumberField*>()) {
            if (!field->isVisible() || !field->isEnabled() ||
                window_->childAt(field->mapTo(window_.get(), QPoint(9, 9))) != field)
                continue;
            QTest::mouseClick(field, Qt::LeftButton);
            QVERIFY(field->hasFocus());
            key(++tried % 2 == 0 ? Qt::Key_Return : Qt::Key_Escape);
            QVERIFY2(viewHasIt(), qPrintable(field->objectName()));
        }
        QVERIFY(tried > 0);
    }
    void afterNamingAGroupTheKeysAreCommandsAgain() {
        clickObject("Bollard 2");
        const std::string before = bytes();
        key(Qt::Key_G, Qt::ControlModifier);
        QVERIFY(qobject_cast<QLineEdit*>(QApplication::focusWidget()) != nullptr);
        type("Crew");
        key(Qt::Key_Return);
        QTRY_VERIFY(viewHasIt());
        QVERIFY(named("Crew") != kNoSlot);
        while (bytes() != before) key(Qt::Key_Z, Qt::ControlModifier);
    }
    void aCardThatClosesGivesTheKeyboardBack() {
        clickObject("Bollard 2");
        for (const char* command : {"select.keep", "prefab.make", "edit.broom"}) {
            QAction* action = window_->commands().action(command);
            if (action == nullptr) continue;
            action->trigger();
            test::settle();
            key(Qt::Key_Escape);
            QVERIFY2(viewHasIt(), command);
        }
    }
    void keysOverTheViewAreTheViewsWhileNobodyTypes() {
        // The tree of the Roster has the focus; letters would go through its names.
        auto* tree = window_->findChild<QTreeView*>("rosterTree");
        tree->setCurrentIndex(tree->model()->index(0, 0));
        const QModelIndex before = tree->currentIndex();
        tree->setFocus();
        QCursor::setPos(view().mapToGlobal(view().rect().center()));
        test::settle();
        QTest::keyPress(tree, Qt::Key_W);
        QTest::keyRelease(tree, Qt::Key_W);
        QCOMPARE(tree->currentIndex(), before);
        QCursor::setPos(tree->mapToGlobal(tree->rect().center()));
        test::settle();
        QTest::keyClick(tree, Qt::Key_W);
        QVERIFY(tree->currentIndex() != before);
        auto* filter = window_->findChild<QLineEdit*>("rosterFilter");
        filter->setFocus();
        type("willow");
        QCOMPARE(filter->text(), QString("willow"));
    }
    void escInAnOpenDropDownClosesOnlyThat() {
        clickObject("Lantern post 4");
        auto boxes = window_->findChildren<QComboBox*>();
        auto* properties = window_->findChild<QWidget*>("propertiesDock");
        QComboBox* box = nullptr;
        for (QComboBox* b : boxes)
            if (b->isVisible() && b->isEnabled() && properties->isAncestorOf(b)) box = b;
        QVERIFY(box != nullptr);
        const std::string before = bytes();
        QTest::mouseClick(box, Qt::LeftButton);
        test::settle();
        QVERIFY(box->view()->isVisible());
        QTest::keyClick(box->view(), Qt::Key_Escape);
        test::settle();
        QVERIFY(!box->view()->isVisible());
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        QVERIFY(viewHasIt());
        QCOMPARE(bytes(), before);
    }
    void aKindIsMadeNamedAndRenamedAndOnlyItsObjectsFollow() {
        const std::vector<base::ObjectId> herons = allOf("Plant"), lanterns = allOf("Lantern");
        QVERIFY(herons.size() > 1 && lanterns.size() > 1);
        const std::string before = bytes();
        run("kinds.open");
        QWidget* kinds = window_->findChild<app::KindsWindow*>();
        QVERIFY(kinds != nullptr);
        QTRY_COMPARE(QApplication::activeWindow(), kinds->window());
        QTest::mouseClick(kinds->findChild<QWidget*>("kindNew"), Qt::LeftButton);
        QCOMPARE(QApplication::focusWidget()->objectName(), QString("kindName"));
        type("Probe");
        key(Qt::Key_Return);
        QVERIFY(editor_->session().library().kindNamed("Probe") != nullptr);
        QVERIFY(editor_->session().library().kindNamed("Kind") == nullptr);
        QCOMPARE(kindsOf(herons), std::vector<std::string>(herons.size(), "Plant"));
        QCOMPARE(bytes(), before);
        // Objects of it, and of the one next to it in the list.
        const std::vector<base::ObjectId> some(lanterns.begin(), lanterns.begin() + 2);
        QVERIFY(editor_->run("Give", [&](edit::Draft& draft) {
            return draft.setLabels(model::LabelField::Kind, some,
                                   std::vector<base::Name>(2, draft.session().intern("Probe")));
        }));
        const std::string given = bytes();
        for (const char* name : {"Sounding", "Aft", "Zebra", "Probe"}) {
            auto* field = kinds->findChild<QLineEdit*>("kindName");
            QTest::mouseClick(field, Qt::LeftButton);
            field->selectAll();
            type(name);
            key(Qt::Key_Return);
            QCOMPARE(kindsOf(some), (std::vector<std::string>{name, name}));
            QCOMPARE(kindsOf(herons), std::vector<std::string>(herons.size(), "Plant"));
            QCOMPARE(allOf("Lantern").size(), lanterns.size() - 2);
            QCOMPARE(field->text(), QString(name));
        }
        QCOMPARE(bytes(), given);
        for (int i = 0; i < 7; ++i) QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(editor_->session().library().kindNamed("Probe") == nullptr);
    }
    void whatIsWorkedInBesideTheViewKeepsItsKeys() {
        clickObject("Bollard 2");
        const auto selected = editor_->selection();
        const std::string before = bytes();
        run("records.open");
        auto* records = window_->findChild<app::RecordsWindow*>();
        auto* list = records->findChild<QTreeWidget*>("recordList");
        QTRY_COMPARE(QApplication::focusWidget(), static_cast<QWidget*>(list));
        QCursor::setPos(list->mapToGlobal(QPoint(20, 20)));
        test::settle();
        // Letters look for a row there, Delete deletes no object, Ctrl+A selects none.
        for (const int k : {Qt::Key_P, Qt::Key_T, Qt::Key_M, Qt::Key_H, Qt::Key_Delete, Qt::Key_Up, Qt::Key_PageDown}) {
            list->setFocus();
            key(k);
        }
        key(Qt::Key_A, Qt::ControlModifier);
        QCOMPARE(bytes(), before);
        QCOMPARE(editor_->selection(), selected);
        QVERIFY(editor_->tools().tool == app::Tool::Slide);
        // A value, one that is refused, another: the keyboard stays in the field.
        list->setCurrentItem(list->findItems("Pears", Qt::MatchExactly | Qt::MatchRecursive).value(0));
        auto* field = records->findChild<QWidget*>("property.weight")->findChild<app::NumberField*>();
        QTest::mouseClick(field, Qt::LeftButton);
        for (const char* text : {"ninety", "900", "4", "+= 1"}) {
            QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(field));
            field->selectAll();
            type(text);
            key(Qt::Key_Return);
            test::settle();
        }
        QCOMPARE(field->text(), QString("5.00"));
        QCOMPARE(editor_->selection(), selected);
        // Esc takes back what is typed, and only then closes; the view has the keyboard again.
        auto* name = records->findChild<QLineEdit*>("recordName");
        QTest::mouseClick(name, Qt::LeftButton);
        type(" of the lock");
        key(Qt::Key_Escape);
        QCOMPARE(name->text(), QString("Pears"));
        QVERIFY(records->isVisible());
        key(Qt::Key_Escape);
        QTRY_VERIFY(window_->findChild<app::RecordsWindow*>() == nullptr);
        QVERIFY(viewHasIt());
        QCOMPARE(editor_->selection(), selected);
        for (int i = 0; i < 2; ++i) key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!editor_->session().history().undoTarget().has_value());
        QCOMPARE(bytes(), before);
        key(Qt::Key_T);  // a command again
        QVERIFY(editor_->tools().tool == app::Tool::Slide);
    }
    void withNothingSelectedAllIsSeenFromWhereOneLooks() {
        const double yaw = view().camera().yawDegrees, pitch = view().camera().pitchDegrees;
        editor_->select({});
        view().setFocus();
        key(Qt::Key_Q);
        test::settle();
        QVERIFY(std::abs(view().camera().yawDegrees - yaw) < 1e-6);
        QVERIFY(std::abs(view().camera().pitchDegrees - pitch) < 1e-6);
    }
    void whatWasInLineIsToldUntilTheNextThingIsDone() {
        const base::Vec3 centre = editor_->scene().bounds(named("Bollard 3")).centre();
        view().setCamera(render::Camera::looking(centre + base::Vec3(1, 1.6, 5), centre));
        editor_->select({idOf("Bollard 3")});
        test::settle();
        const std::string before = bytes();
        const double foot = editor_->scene().local(named("Bollard 3")).position.y;
        auto upAndDown = [&] {  // back to where all the quay is
            for (const int way : {-60, 60}) {
                const QPoint tip = view().gesture<app::PullHandle>().tip(1)->toPoint();
                drag(tip, tip + QPoint(0, way));
                test::settle();
            }
            return std::abs(editor_->scene().local(named("Bollard 3")).position.y - foot) < 1e-9;
        };
        QVERIFY(upAndDown());
        QVERIFY(!view().context().lines.told().isEmpty());
        QVERIFY(view().context().lines.told().size() <= 3);
        key(Qt::Key_S);
        QVERIFY(view().context().lines.told().isEmpty());
        QVERIFY(upAndDown());
        QVERIFY(!view().context().lines.told().isEmpty());
        editor_->select({});
        QVERIFY(view().context().lines.told().isEmpty());
        QCOMPARE(bytes(), before);
    }
    void gripsThinOutWhereThereIsNoRoom() {
        editor_->select({idOf("Bench 2")});
        run("view.fit");
        const base::Vec3 centre = editor_->scene().bounds(named("Bench 2")).centre();
        std::size_t before = 0;
        for (const double away : {60.0, 25.0, 10.0, 4.0}) {
            view().setCamera(render::Camera::looking(centre + base::Vec3(0.4, 0.5, 1) * away, centre));
            test::settle();
            const auto shown = view().gesture<app::PullSide>().grips();
            QVERIFY2(shown.size() >= before, qPrintable(QString::number(away)));  // nearer: never fewer
            before = shown.size();
            for (std::size_t i = 0; i < shown.size(); ++i)
                for (std::size_t k = 0; k < i; ++k)
                    QVERIFY(std::hypot(shown[i].x() - shown[k].x(), shown[i].y() - shown[k].y()) >= 10);
        }
        QCOMPARE(before, std::size_t{26});  // close by, all of them
    }
};

MELLOW_TEST(WindowKeyboardTest)
}  // namespace window_keyboard_test
#include "window_keyboard_test.moc"
