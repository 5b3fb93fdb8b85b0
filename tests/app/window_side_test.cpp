// What stands beside the view and over it: the Stock, folding cards and bars, cards at its edge, colours.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>
#include <QTreeView>
#include <QTreeWidget>

#include "app/dialogs/plan_card.h"
#include "app/kit/fold_card.h"
#include "app/kit/folding_bar.h"
#include "app/panels/colour_popover.h"
#include "app/panels/property_rows.h"
#include "app/panels/roster_model.h"
#include "app/panels/stock_panel.h"
#include "app/shell/checks.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "model/facets/tint.h"
#include "ops/facets.h"
#include "support/test_main.h"

namespace window_side_test {

class WindowSideTest : public WindowFixture {
    Q_OBJECT
    template <class T>
    T* the(const char* name) {
        auto* found = window_->findChild<T*>(QLatin1String(name));
        if (found == nullptr) qFatal("no such widget: %s", name);
        return found;
    }
    /// As it is written in the list of categories: the count that fits, or -1.
    int fits(const char* category) {
        const auto row = folder(category);
        return row != nullptr ? row->text(1).toInt() : -1;
    }
    QTreeWidgetItem* folder(const char* name) {
        auto* folders = the<QTreeWidget>("stockFolders");
        folders->hide();
        QTest::mouseClick(the<QToolButton>("stockCategory"), Qt::LeftButton);
        const auto found = folders->findItems(name, Qt::MatchExactly | Qt::MatchRecursive, 0);
        return found.empty() ? nullptr : found.front();
    }
    static bool overlaps(const QWidget* a, const QWidget* b) {
        return QRect(a->mapToGlobal(QPoint(0, 0)), a->size())
            .intersects(QRect(b->mapToGlobal(QPoint(0, 0)), b->size()));
    }
    app::FoldCard* card(const char* name) {
        for (auto* one : window_->findChildren<app::FoldCard*>())
            if (one->property("facet") == QLatin1String(name)) return one;
        qFatal("no such card: %s", name);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-side-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void theStocksCategoriesSayHowManyFit() {
        auto* list = the<QListView>("stockList");
        const int all = list->model()->rowCount();
        QCOMPARE(fits("All"), all);
        QCOMPARE(fits("Market"), 11);
        auto* search = the<QLineEdit>("stockSearch");
        search->setFocus();
        QTest::keyClicks(search, "awning");
        QCOMPARE(fits("All"), list->model()->rowCount());
        QVERIFY(fits("Market") > 0 && fits("Market") < 11);
        QCOMPARE(fits("Plants"), 0);
        // Chosen, the category holds while one types on; what fits only elsewhere is said.
        auto* folders = the<QTreeWidget>("stockFolders");
        const QRect row = folders->visualItemRect(folder("Market"));
        QTest::mouseClick(folders->viewport(), Qt::LeftButton, {}, row.center());
        QCOMPARE(the<QToolButton>("stockCategory")->text(), QString("Market %1").arg(list->model()->rowCount()));
        search->selectAll();
        QTest::keyClicks(search, "alder");
        QCOMPARE(list->model()->rowCount(), 0);
        QCOMPARE(the<QToolButton>("stockCategory")->text(), QString("Market 0"));
        search->clear();
        QCOMPARE(list->model()->rowCount(), 11);
    }
    void theStockTakesPatternsAsTheRosterDoes() {
        auto* search = the<QLineEdit>("stockSearch");
        auto* list = the<QListView>("stockList");
        search->setFocus();
        QTest::keyClicks(search, "*barge*");
        const int barges = list->model()->rowCount();
        QVERIFY(barges > 1);
        search->selectAll();
        QTest::keyClicks(search, "barge ?ull");
        QCOMPARE(list->model()->rowCount(), 1);
        QCOMPARE(list->model()->index(0, 0).data().toString(), QString("Barge hull"));
        search->selectAll();
        QTest::keyClicks(search, "?ull");  // all of the name, not a part of it
        QCOMPARE(list->model()->rowCount(), 0);
    }
    void choosingAnItemMovesNoTile() {
        auto* list = the<QListView>("stockList");
        test::settle();
        const QRect before = list->visualRect(list->model()->index(3, 0));
        const QSize size = list->size();
        for (int row : {3, 0, 8}) {
            QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                              list->visualRect(list->model()->index(row, 0)).center());
            test::settle();
            QCOMPARE(list->size(), size);
            QVERIFY(the<QLabel>("stockPreview")->isVisible());
        }
        QCOMPARE(list->visualRect(list->model()->index(3, 0)), before);
        run("edit.escape");
    }
    void aDarkItemsTileIsLit() {
        auto* list = the<QListView>("stockList");
        QTRY_VERIFY(!list->model()->index(0, 0).data(Qt::DecorationRole).value<QPixmap>().isNull());
        auto corner = [&](const char* label) {  // beside the model, inside the disc
            for (int row = 0; row < list->model()->rowCount(); ++row) {
                const QModelIndex at = list->model()->index(row, 0);
                if (at.data().toString() != label) continue;
                const QImage image = at.data(Qt::DecorationRole).value<QPixmap>().toImage();
                return image.isNull() ? QColor() : image.pixelColor(image.width() / 2, 5);
            }
            return QColor();
        };
        QTRY_VERIFY(corner("Bollard").isValid());
        QVERIFY(corner("Bollard").alpha() > 150);  // iron, before a light disc
        QTRY_VERIFY(corner("Barge cargo").isValid());
        QCOMPARE(corner("Barge cargo").alpha(), 0);  // canvas, seen as it is
    }
    void unseatedAndFindingsAreWordsOfTheRoster() {
        QVERIFY(editor_->run("Lift", [&](edit::Draft& draft) {
            base::Transform up = editor_->scene().local(named("Bench 2"));
            up.position.y += 3;
            const base::ObjectId bench = idOf("Bench 2");
            return draft.setTransforms({&bench, 1}, {&up, 1});
        }));
        QTRY_VERIFY(editor_->checks().worstAt(idOf("Bench 2")).has_value());
        auto* filter = the<QLineEdit>("rosterFilter");
        auto* tree = the<QTreeView>("rosterTree");
        filter->setFocus();
        QTest::keyClicks(filter, "unseated bench");
        QTRY_COMPARE(tree->model()->rowCount(), 1);
        QCOMPARE(tree->model()->index(0, 0).data().toString(), QString("Bench 2"));
        // Seated again it fits no more, without a letter typed.
        QVERIFY(editor_->session().undo());
        QTRY_COMPARE(tree->model()->rowCount(), 0);
        filter->selectAll();
        QTest::keyClicks(filter, "\"unseated\"");  // a name
        QCOMPARE(tree->model()->rowCount(), 0);
    }
    void cardsFoldAndStayFolded() {
        editor_->select({idOf("Bench 2")});
        auto* x = the<QLineEdit>("posePositionX");
        QVERIFY(x->isVisible());
        QTest::mouseClick(card("pose")->findChild<QAbstractButton*>("cardFold"), Qt::LeftButton);
        QVERIFY(!x->isVisible() && card("pose")->isVisible());
        editor_->select({idOf("Bollard 1")});
        QVERIFY(!x->isVisible());
        closeWindow();
        openWindow();
        editor_->select({idOf("Bench 2")});
        QVERIFY(!the<QLineEdit>("posePositionX")->isVisible());
        auto* fold = card("pose")->findChild<QAbstractButton*>("cardFold");
        fold->setFocus();
        QTest::keyClick(fold, Qt::Key_Space);
        QVERIFY(the<QLineEdit>("posePositionX")->isVisible());
    }
    void aNarrowDeskFoldsItsBarAndLosesNothing() {
        run("desk.checks");
        test::settle();
        auto* all = the<QToolButton>("checksAll");
        auto* bar = qobject_cast<app::FoldingBar*>(all->parentWidget());
        QVERIFY(bar != nullptr);
        auto* more = bar->findChild<QToolButton*>("more");
        for (const int width : {1280, 760, 640, 1280}) {
            window_->resize(width, 800);
            test::settle();
            QStringList reached;
            for (const char* name : {"checksAll", "checksFix", "checksFixAll", "checksAccept", "checksRule",
                                     "checksRules", "checksFacts"}) {
                auto* button = the<QToolButton>(name);
                if (!button->isVisible()) continue;
                QVERIFY2(button->width() >= button->sizeHint().width(), name);  // never cut
                reached << button->text();
            }
            if (more->isVisible()) {
                Q_EMIT more->menu()->aboutToShow();
                QVERIFY(!more->menu()->actions().isEmpty());
                for (const QAction* a : more->menu()->actions()) reached << a->text();
            }
            QCOMPARE(reached.size(), 7);
            QVERIFY(bar->width() <= window_->width());
        }
        // What is in the menu works as the button does.
        QWidget narrow;
        auto* row = new QHBoxLayout(&narrow);
        auto* few = new app::FoldingBar;
        row->addWidget(few);
        int pressed = 0;
        for (const char* text : {"One", "Two", "Three"}) {
            auto* b = new QToolButton;
            b->setText(text);
            connect(b, &QToolButton::clicked, b, [&pressed, text] { pressed = text[1]; });
            few->addFolding(b);
        }
        narrow.resize(120, 60);
        narrow.show();
        test::settle();
        auto* menu = few->findChild<QToolButton*>("more")->menu();
        Q_EMIT menu->aboutToShow();
        QVERIFY(!menu->actions().isEmpty());
        QCOMPARE(menu->actions().last()->text(), QString("Three"));
        menu->actions().last()->trigger();
        QCOMPARE(pressed, int('h'));
    }
    void cardsAtTheEdgeNeverReachTheBar() {
        QWidget* bar = the<QWidget>("stepSwitch")->parentWidget();
        run("draw.broom");
        test::settle();
        auto* verb = the<QComboBox>("broomVerb");
        QWidget* broom = verb;
        while (broom->parentWidget() != &window_->panes()) broom = broom->parentWidget();
        for (const int height : {800, 560, 470}) {
            window_->resize(1280, height);
            test::settle();
            QVERIFY(broom->isVisible());
            QVERIFY2(broom->geometry().bottom() < bar->geometry().top(), qPrintable(QString::number(height)));
            QVERIFY(broom->geometry().right() < window_->panes().width());
        }
        // What has no room is reached by scrolling.
        auto* area = broom->findChild<QScrollArea*>();
        QVERIFY(area->verticalScrollBar()->maximum() > 0);
        window_->resize(1280, 800);
        test::settle();
        QCOMPARE(area->verticalScrollBar()->maximum(), 0);
    }
    void aColourIsDraggedTypedAndTakenBack() {
        QWidget at;
        at.resize(60, 30);
        at.show();
        QList<QColor> taken;
        auto open = [&] {
            auto* p = new app::ColourPopover(&at, QColor("#804020"), [&](const QColor& c) { taken << c; });
            if (!QTest::qWaitForWindowExposed(p)) qFatal("not shown");
            return p;
        };
        QPointer<app::ColourPopover> popover = open();
        auto* square = popover->findChild<QWidget*>("colourSquare");
        const QPoint from(40, 40), to(190, 5);
        QTest::mousePress(square, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 5; ++i) QTest::mouseMove(square, from + (to - from) * i / 5);
        QVERIFY(taken.isEmpty());  // a drag is one choice, when it ends
        QTest::mouseRelease(square, Qt::LeftButton, {}, to);
        QCOMPARE(taken.size(), 1);
        QVERIFY(taken[0].value() > 230 && taken[0].saturation() > 230);
        QVERIFY(std::abs(taken[0].hue() - QColor("#804020").hue()) <= 2);
        auto* code = popover->findChild<QLineEdit*>("colourCode");
        code->selectAll();
        QTest::keyClicks(code, "reddish one");
        QTest::keyClick(code, Qt::Key_Return);
        QCOMPARE(taken.size(), 1);  // refused; what it was stands there
        QVERIFY(QColor(code->text()).isValid());
        code->selectAll();
        QTest::keyClicks(code, "#336699");
        QTest::keyClick(code, Qt::Key_Return);
        QCOMPARE(taken.size(), 2);
        QCOMPARE(taken[1].name(), QString("#336699"));
        QTRY_VERIFY(popover.isNull());
        // By keys, and Esc: as it was.
        popover = open();
        square = popover->findChild<QWidget*>("colourSquare");
        for (int i = 0; i < 9; ++i) QTest::keyClick(square, Qt::Key_Up);
        QTest::keyClick(square, Qt::Key_Escape);
        QTRY_VERIFY(popover.isNull());
        QCOMPARE(taken.size(), 2);
        popover = open();
        QVERIFY(!popover->findChildren<QToolButton*>("colourLately").isEmpty());  // what was chosen is at hand
        square = popover->findChild<QWidget*>("colourSquare");
        for (int i = 0; i < 9; ++i) QTest::keyClick(square, Qt::Key_Up);
        QTest::keyClick(square, Qt::Key_Return);
        QCOMPARE(taken.size(), 3);
        QVERIFY(taken[2].value() > QColor("#804020").value());
        QTRY_VERIFY(popover.isNull());
    }
    void aListIsAddedToChangedReorderedAndCutShort() {
        model::Property cargo;
        cargo.name = "holds";
        cargo.label = "Holds";
        cargo.type = model::PropertyType::List;
        model::Property number;
        number.name = "n";
        number.label = "N";
        number.type = model::PropertyType::Number;
        number.low = 0;
        number.high = 10;
        cargo.element = {number};
        model::Value value{model::ValueList{{1.0}, {2.5}}};
        app::PropertyRows rows(*editor_);
        rows.resize(300, 300);
        rows.setVisible(true);
        auto show = [&] { rows.show({app::PropertyShown{cargo, value, {}, true, false, {}}}); };
        connect(&rows, &app::PropertyRows::chosen, &rows, [&](const QString&, const model::Value& v) {
            value = v;
            show();
        });
        show();
        auto numbers = [&] {
            std::vector<double> all;
            for (const model::Value& v : std::get<model::ValueList>(value.data)) {
                double room = 0;
                const double* n = model::asNumber(v, room);
                all.push_back(n != nullptr ? *n : -1);
            }
            return all;
        };
        auto visible = [&](const char* name) {
            QList<QWidget*> shown;
            for (QWidget* w : rows.findChildren<QWidget*>(name))
                if (w->isVisible()) shown << w;
            return shown;
        };
        auto* add = rows.findChild<QLineEdit*>("listAdd");
        add->setFocus();
        QTest::keyClicks(add, "7");
        QTest::keyClick(add, Qt::Key_Return);
        QCOMPARE(numbers(), (std::vector<double>{1, 2.5, 7}));
        QVERIFY(add->text().isEmpty());
        QTest::keyClicks(add, "seven");  // no number
        QTest::keyClick(add, Qt::Key_Return);
        QCOMPARE(numbers(), (std::vector<double>{1, 2.5, 7}));
        add->clear();
        QCOMPARE(visible("listPart").size(), 3);
        QVERIFY(!visible("listEarlier")[0]->isEnabled() && !visible("listLater")[2]->isEnabled());
        QTest::mouseClick(visible("listEarlier")[2], Qt::LeftButton);
        QCOMPARE(numbers(), (std::vector<double>{1, 7, 2.5}));
        auto* part = qobject_cast<QLineEdit*>(visible("listPart")[0]);
        part->setFocus();
        part->selectAll();
        QTest::keyClicks(part, "4");
        QTest::keyClick(part, Qt::Key_Return);
        QCOMPARE(numbers(), (std::vector<double>{4, 7, 2.5}));
        QTest::mouseClick(visible("listRemove")[1], Qt::LeftButton);
        QTest::mouseClick(visible("listRemove")[1], Qt::LeftButton);
        QCOMPARE(numbers(), (std::vector<double>{4}));
        QTest::mouseClick(visible("listRemove")[0], Qt::LeftButton);
        QVERIFY(numbers().empty());
        QVERIFY(visible("listPart").isEmpty());
    }
    void aLinkInAListIsMovedAndTakenOut() {
        const base::ObjectId lamps[] = {idOf("Lantern post 1"), idOf("Lantern post 2")};
        model::Property serves;
        serves.name = "serves";
        serves.label = "Serves";
        serves.type = model::PropertyType::List;
        model::Property object;
        object.name = object.label = "o";
        object.type = model::PropertyType::Object;
        serves.element = {object};
        model::Value value{model::ValueList{model::objectLink(lamps[0]), model::objectLink(lamps[1])}};
        app::PropertyRows rows(*editor_);
        rows.setVisible(true);
        auto show = [&] { rows.show({app::PropertyShown{serves, value, {}, true, false, {}}}); };
        connect(&rows, &app::PropertyRows::chosen, &rows, [&](const QString&, const model::Value& v) {
            value = v;
            show();
        });
        show();
        auto chips = [&] {
            QStringList names;
            for (auto* chip : rows.findChildren<QToolButton*>("linkChip"))
                if (chip->isVisible()) names << chip->text();
            return names;
        };
        auto act = [&](int chip, int action) {
            QList<QToolButton*> shown;
            for (auto* c : rows.findChildren<QToolButton*>("linkChip"))
                if (c->isVisible()) shown << c;
            shown[chip]->actions()[action]->trigger();
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        };
        QCOMPARE(chips(), (QStringList{"Lantern post 1", "Lantern post 2"}));
        act(0, 1);  // later
        QCOMPARE(chips(), (QStringList{"Lantern post 2", "Lantern post 1"}));
        act(0, 2);
        QCOMPARE(chips(), (QStringList{"Lantern post 1"}));
    }
    void theColourOfATintIsOneStep() {
        editor_->select({idOf("Bench 2")});
        const std::string before = bytes();
        const std::size_t steps = editor_->session().history().steps().size();
        QVERIFY(editor_->run("Tint", [&](edit::Draft& draft) {
            const base::ObjectId bench = idOf("Bench 2");
            return ops::changeDetails(draft, {&bench, 1}, [](model::Slot, model::Detail& d) -> base::Status {
                d.put(model::Tint{base::Vec3(0.5, 0.2, 0.1)});
                return {};
            });
        }));
        test::settle();
        QTest::mouseClick(the<QWidget>("property.tint.colour")->findChild<QToolButton*>(), Qt::LeftButton);
        auto* popover = window_->findChild<app::ColourPopover*>();
        QVERIFY(popover != nullptr);
        auto* strip = popover->findChild<QWidget*>("colourHue");
        QTest::mouseClick(strip, Qt::LeftButton, {}, {120, 8});
        QCOMPARE(editor_->session().history().steps().size(), steps + 2);
        if (auto* still = window_->findChild<app::ColourPopover*>()) still->close();
        QVERIFY(editor_->session().undo());
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
    void thePlanLooksCloserSlidesAndGoes() {
        run("look.plan");
        auto* plan = window_->findChild<app::PlanCard*>();
        QVERIFY(plan != nullptr);
        const QPoint middle(plan->width() / 2, plan->height() / 2);
        auto wheel = [&](int notches) {
            QWheelEvent event(middle, plan->mapToGlobal(middle), {}, {0, 120 * notches}, {}, {}, Qt::NoScrollPhase,
                              false);
            QApplication::sendEvent(plan, &event);
        };
        auto picture = [&] { return plan->grab().toImage(); };
        QTest::mouseMove(plan, middle);
        const QImage whole = picture();
        for (int i = 0; i < 6; ++i) wheel(1);
        const QImage close = picture();
        QVERIFY(close != whole);
        QTest::mousePress(plan, Qt::LeftButton, {}, middle);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(plan, middle + QPoint(12 * i, 6 * i));
        QTest::mouseRelease(plan, Qt::LeftButton, {}, middle + QPoint(72, 36));
        QVERIFY(window_->findChild<app::PlanCard*>() == plan);  // a slide goes nowhere
        QVERIFY(picture() != close);
        for (int i = 0; i < 20; ++i) wheel(-1);  // no farther than the whole
        const render::Camera before = view().camera();
        QTest::mouseClick(plan, Qt::LeftButton, {}, middle + QPoint(20, 10));
        QTRY_VERIFY(window_->findChild<app::PlanCard*>() == nullptr);
        QVERIFY(!(view().camera() == before));
    }
    void bringingIntoViewComesRoundWhatStandsInFront() {
        // A crate behind a wall, looked at through the wall.
        const base::Vec3 place(-40, 0.5, 40);
        std::vector<base::ObjectId> made;
        for (const base::Vec3& at : {place, place + base::Vec3(0, 0, 2)}) {
            editor_->placeAt("pear-crate", at);
            made.push_back(editor_->selection().back());
        }
        QVERIFY(editor_->run("Wall", [&](edit::Draft& draft) {
            base::Transform wall = editor_->scene().local(editor_->scene().find(made[1]));
            wall.scale = {14, 9, 0.3};
            return draft.setTransforms({&made[1], 1}, {&wall, 1});
        }));
        view().setCamera(render::Camera::looking(place + base::Vec3(0, 1.2, 14), place));
        editor_->select({made[0]});
        run("view.bring");
        test::settle();
        const model::Slot crate = editor_->scene().find(made[0]);
        const base::Vec3 centre = editor_->scene().bounds(crate).centre();
        const auto hit = editor_->surfaceUnder(view().camera().rayTo(centre), false);
        QVERIFY(hit.has_value());
        QCOMPARE(hit->slot, crate);
        const auto pixel = view().camera().project(centre, view().viewport());
        QVERIFY(pixel && std::abs(pixel->x - view().width() / 2.0) < 80);
        const render::Camera round = view().camera();
        run("view.bring");  // and back
        test::settle();
        QVERIFY(!(view().camera() == round));
        // Nothing before it: the way one looks stays.
        view().setCamera(render::Camera::looking(place + base::Vec3(0, 1.2, -14), place));
        const double yaw = view().camera().yawDegrees;
        editor_->select({});
        editor_->select({made[0]});
        run("view.bring");
        test::settle();
        QVERIFY(std::abs(view().camera().yawDegrees - yaw) < 1e-6);
    }
};

MELLOW_TEST(WindowSideTest)
}  // namespace window_side_test
#include "window_side_test.moc"
