// Typed properties in the real window: fields that fit, several objects at once, links by pointing, states in the view.
#include <QAbstractButton>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QPointer>
#include <QSlider>
#include <QToolButton>

#include "app/panels/curve_field.h"
#include "app/shell/asking.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "ops/kinds.h"
#include "ops/properties.h"
#include "support/test_main.h"

namespace window_property_test {

using base::ObjectId;
using base::Vec3;

class WindowPropertyTest : public WindowFixture {
    Q_OBJECT
    const model::Scene& scene() { return editor_->scene(); }
    edit::Session& session() { return editor_->session(); }
    /// Of what is selected: the scene's own form, hidden meanwhile, has names like these as well.
    QWidget* editor(const char* property) {
        auto* panel = window_->findChild<app::PropertiesPanel*>();
        QWidget* others = panel->findChild<QWidget*>("sceneForm")->parentWidget()->parentWidget();
        for (auto* w : panel->findChildren<QWidget*>(QString("property.%1").arg(property)))
            if (!others->parentWidget()->isAncestorOf(w) || others->parentWidget()->isVisible()) return w;
        return nullptr;
    }
    template <class W>
    W* part(const char* property) {
        QWidget* w = editor(property);
        if (w == nullptr) return nullptr;
        if (auto* self = qobject_cast<W*>(w)) return self;
        return w->findChild<W*>();
    }
    model::Value value(ObjectId id, const char* name) {
        const Slot s = scene().find(id);
        model::Value room;
        return *ops::propertyValue(scene(), s, *ops::propertyOf(session().library(), scene(), s, name), room);
    }
    void type(QLineEdit* field, const char* text) {
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    /// Looks at an object from near, and gives the pixel of its middle.
    QPoint lookAt(ObjectId id, const Vec3& from) {
        const Vec3 middle = scene().bounds(scene().find(id)).centre();
        view().setCamera(render::Camera::looking(middle + from, middle));
        test::settle();
        return pixelOf(scene().find(id));
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-property-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void aLookThatMovesIsSeenToAndStandsWhenAskedTo() {
        const base::ObjectId notice = idOf("Market notice");
        (void)lookAt(notice, {3, 2, 4});
        // It may never come to rest, so nobody waits for that; and a comparison may take as long as many others.
        const auto seen = [&] {
            QTest::qWait(60);
            return view().grab().toImage();
        };
        const auto comes = [&](const std::function<bool()>& isSo) {
            QElapsedTimer since;
            for (since.start(); !isSo();)
                if (since.hasExpired(8000)) return false;
            return true;
        };
        QVERIFY(comes([&] { return seen() == seen(); }));  // the picture has come to rest
        const QImage still = seen();
        // One more way that its kind looks, from the clock alone.
        const auto looks = [&](model::ValueMap look) {
            QVERIFY(editor_->run("Look", [&](edit::Draft& d) -> base::Status {
                const model::Kind* kind = d.session().library().kindNamed("Notice");
                model::ValueMap own = kind->own;
                model::setValue(own, "appearances", {model::ValueList{{std::move(look)}}});
                auto set = ops::setKind(d, "Notice", own);
                return set ? base::Status{} : base::Status(tl::unexpected(set.error()));
            }));
        };
        const std::string before = bytes();
        looks({{"turns", {180.0}}});
        const std::size_t steps = session().history().steps().size();
        QVERIFY(comes([&] { return seen() != still; }));
        const QImage first = seen();
        QVERIFY(comes([&] { return seen() != first; }));  // and it goes on
        run("look.clock");
        QVERIFY(comes([&] { return seen() == seen(); }));
        const QImage stands = seen();
        QTest::qWait(300);
        QCOMPARE(seen(), stands);
        run("look.clock");
        QVERIFY(comes([&] { return seen() != stands; }));
        looks({{"tint", {model::ValueList{{1.0}, {0.1}, {0.1}}}}, {"every", {2.0}}});
        const QImage red = seen();
        QVERIFY(comes([&] { return seen() != red; }));  // it comes
        QVERIFY(comes([&] { return seen() == red; }));  // and goes
        QCOMPARE(bytes(), before);
        QCOMPARE(session().history().steps().size(), steps + 1);  // what the clock does is no step
        run("edit.undo");
        run("edit.undo");
        QVERIFY(comes([&] { return seen() == still; }));
    }
    void whatOneLookedForIsForgottenWithTheSelection() {
        editor_->select({idOf("Lantern post 2")});
        auto* filter = window_->findChild<QLineEdit*>("propertyFilter");
        filter->setFocus();
        QTest::keyClicks(filter, "oil");
        QVERIFY(editor("oil")->isVisible());
        editor_->select({idOf("Lantern post 3")});
        QVERIFY(filter->text().isEmpty());
        // Units of what it measures, and its own behind the number.
        const ObjectId leaf = idOf("Windlass, right");
        editor_->select({leaf});
        type(part<QLineEdit>("opensAfter"), "1 min");
        QVERIFY(value(leaf, "opensAfter") == model::Value{60.0});
        type(part<QLineEdit>("opensAfter"), "250 ms");
        QVERIFY(value(leaf, "opensAfter") == model::Value{0.25});
        type(part<QLineEdit>("opensAfter"), "2 m");
        QVERIFY(value(leaf, "opensAfter") == model::Value{0.25});
    }
    void aNumberIsTypedSlidResetAndBounded() {
        const ObjectId post = idOf("Lantern post 2");
        editor_->select({post});
        const std::string before = bytes();
        type(part<QLineEdit>("oil"), "2 + 0.5");
        QVERIFY(value(post, "oil") == model::Value{2.5});
        type(part<QLineEdit>("oil"), "77");  // it holds five
        QVERIFY(value(post, "oil") == model::Value{2.5});
        auto* slider = part<QSlider>("oil");
        QVERIFY(slider != nullptr && slider->value() == 500);
        slider->setSliderDown(true);
        slider->setSliderPosition(800);
        slider->setSliderDown(false);
        QVERIFY(value(post, "oil") == model::Value{4.0});
        QVERIFY(session().undo() && session().undo());
        QCOMPARE(bytes(), before);
    }
    /// A row may be made anew while its menu is open: the menu stays, and speaks of the same property.
    void aRowsMenuOutlivesItsRow() {
        const ObjectId post = idOf("Lantern post 2");
        editor_->select({post});
        type(part<QLineEdit>("oil"), "2.5");
        const std::string before = bytes();
        const auto open = [this] {
            QWidget* row = editor("oil")->parentWidget();
            QContextMenuEvent event(QContextMenuEvent::Mouse, {4, 4}, row->mapToGlobal(QPoint(4, 4)));
            QApplication::sendEvent(row, &event);
            return qobject_cast<QMenu*>(QApplication::activePopupWidget());
        };
        const auto act = [](QMenu* menu, const char* text) {
            for (QAction* one : menu->actions())
                if (one->text() == QLatin1String(text)) return one;
            return static_cast<QAction*>(nullptr);
        };
        QPointer<QMenu> menu = open();
        QVERIFY(menu != nullptr);
        editor_->select({idOf("Windlass, left")});  // which has no oil
        editor_->select({idOf("Keeper's cottage")});
        QVERIFY(menu != nullptr && menu->isVisible());
        act(menu, "Copy the value")->trigger();
        QCOMPARE(QApplication::clipboard()->text(), QString("2.5"));
        act(menu, "Back to the default")->trigger();
        act(menu, "Paste a value")->trigger();
        QCOMPARE(bytes(), before);  // the cottage has none
        QTest::keyClick(menu, Qt::Key_Escape);
        QTRY_VERIFY(menu.isNull());
        // By the keyboard, where it is: what it says is done, and one step.
        editor_->select({post});
        menu = open();
        QVERIFY(menu != nullptr);
        QTest::keyClick(menu, Qt::Key_Down);
        QTest::keyClick(menu, Qt::Key_Return);
        QTRY_VERIFY(menu.isNull());
        QVERIFY(value(post, "oil") == model::Value{1.5});
        QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
    }
    void aSwitchShowsAndHidesWhatDependsOnIt() {
        editor_->select({idOf("Lantern post 2")});
        QVERIFY(editor("oil") != nullptr);
        QTest::mouseClick(part<QCheckBox>("lit"), Qt::LeftButton, {}, QPoint(8, 10));
        QVERIFY(value(idOf("Lantern post 2"), "lit") == model::Value{false});
        QVERIFY(editor("oil") == nullptr);
    }
    void severalAtOnceAreMixedAndChangeEachFromItsOwn() {
        const ObjectId a = idOf("Lantern post 2"), b = idOf("Lantern post 4");
        editor_->select({a, b});
        auto* field = part<QLineEdit>("oil");
        QVERIFY(field->text().isEmpty() || !field->text().contains(QRegularExpression("[0-9]")));
        const double before = std::get<double>(value(a, "oil").data), other = std::get<double>(value(b, "oil").data);
        const auto steps = session().history().steps().size();
        type(field, "+= 1");
        QVERIFY(value(a, "oil") == model::Value{before + 1} && value(b, "oil") == model::Value{other + 1});
        QCOMPARE(session().history().steps().size(), steps + 1);
    }
    void aLinkIsMadeByPointingOnlyAtWhatFits() {
        const ObjectId windlass = idOf("Windlass, left"), bollard = idOf("Bollard 1");
        ObjectId paddle = idOf("Sluice paddle");
        editor_->select({windlass});
        QTest::mouseClick(part<QToolButton>("serves"), Qt::LeftButton);  // a chip goes to its target
        QVERIFY(editor_->selection() != std::vector<ObjectId>{windlass});
        editor_->select({windlass});
        auto press = [&] {
            for (QToolButton* b : editor("serves")->findChildren<QToolButton*>("linkButton"))
                if (b->text().contains("oint")) return QTest::mouseClick(b, Qt::LeftButton);
        };
        press();
        QVERIFY(editor_->asking().asksObject());
        const auto count = ops::links(scene()).size();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, lookAt(bollard, {0, 3, 5}));
        QVERIFY(editor_->asking().asksObject());  // a bollard is nothing to serve
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->asking().asksObject());
        press();
        QVERIFY(!editor_->asking().objectFits(scene().find(bollard)) &&
                editor_->asking().objectFits(scene().find(paddle)));
        editor_->asking().giveObject(editor_->scene(), scene().find(paddle));
        QVERIFY(!editor_->asking().asksObject());
        QCOMPARE(ops::links(scene()).size(), count + 1);
        QVERIFY(editor_->selection() == std::vector<ObjectId>{windlass});
        QVERIFY(session().undo());
        QCOMPARE(ops::links(scene()).size(), count);
    }
    void theListOffersWhatFitsWithDistances() {
        editor_->select({idOf("Windlass, left")});
        for (QToolButton* b : editor("serves")->findChildren<QToolButton*>("linkButton"))
            if (b->menu() != nullptr) {
                Q_EMIT b->menu()->aboutToShow();
                const auto actions = b->menu()->actions();
                QVERIFY(actions.size() >= 4);
                QVERIFY(actions[0]->text().contains(" m"));
                int ticked = 0;
                for (const QAction* action : actions) ticked += action->isChecked() ? 1 : 0;
                QCOMPARE(ticked, 1);
                return;
            }
        QFAIL("no list");
    }
    void aChoiceARangeAColourAndACurveHaveFieldsOfTheirOwn() {
        const ObjectId leaf = idOf("Gate leaf, left");
        editor_->select({leaf});
        auto* combo = part<QComboBox>("state");
        combo->setCurrentIndex(combo->findData("broken"));
        Q_EMIT combo->activated(combo->currentIndex());
        QVERIFY(value(leaf, "state") == model::Value{std::string("broken")});
        type(part<QLineEdit>("swing"), "-10");
        QVERIFY(value(leaf, "swing") == (model::Value{model::ValueList{{-10.0}, {72.5}}}));
        auto* curve = part<app::CurveField>("speed");
        QTest::mouseDClick(curve, Qt::LeftButton, {}, QPoint(curve->width() / 4, 20));
        QCOMPARE(std::get<model::ValueList>(value(leaf, "speed").data).size(), std::size_t{4});
        const ObjectId post = idOf("Lantern post 2");
        editor_->select({post});
        type(part<QLineEdit>("glass"), "#ff0000");
        QVERIFY(std::get<model::ValueList>(value(post, "glass").data)[1] == model::Value{0.0});
    }
    void statesAreSeenInTheViewAtOnce() {
        const ObjectId leaf = idOf("Gate leaf, left");
        editor_->select({});
        lookAt(leaf, {3, 3, 8});
        const QImage before = view().drawNow();
        QVERIFY(editor_->run("Break", [&](edit::Draft& d) {
            return ops::setProperty(d, {&leaf, 1}, "state", {std::string("broken")});
        }));
        test::settle();
        QVERIFY(view().drawNow() != before);
        run("look.states");
        test::settle();
        const QImage asMade = view().drawNow();
        run("look.states");
        test::settle();
        QVERIFY(view().drawNow() != asMade);
    }
    void aPropertyIsFoundByItsName() {
        editor_->select({idOf("Gate leaf, left")});
        auto* filter = window_->findChild<QLineEdit*>("propertyFilter");
        QTest::keyClicks(filter, "swing");
        QVERIFY(!editor("swing")->isHidden() && editor("swing")->isVisibleTo(window_.get()));
        QVERIFY(!editor("speed")->isVisibleTo(window_.get()));
    }
};

MELLOW_TEST(WindowPropertyTest)
}  // namespace window_property_test
#include "window_property_test.moc"
