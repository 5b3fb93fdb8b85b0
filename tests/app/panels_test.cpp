// Fields, models and the smaller parts of the window, each alone.
#include <QSignalSpy>
#include <QtTest>

#include <QComboBox>
#include <QPushButton>

#include "app/commands/commands.h"
#include "app/dialogs/kept_popover.h"
#include "app/dialogs/key_sheet.h"
#include "app/kit/hint_label.h"
#include "app/kit/number_field.h"
#include "app/look/theme.h"
#include "app/panels/condition_field.h"
#include "app/panels/roster_model.h"
#include "app/panels/stock_panel.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "ops/items.h"
#include "support/settle.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace panels_test {

using app::NumberField;

class PanelsTest : public QObject {
    Q_OBJECT
    QTemporaryDir settings_;

    static double luminance(const QColor& c) {
        auto linear = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    }
    static double contrast(const QColor& a, const QColor& b) {
        const double x = luminance(a), y = luminance(b);
        return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    }
    std::unique_ptr<app::Editor> open(const test::DemoCopy& demo) {
        auto editor = std::make_unique<app::Editor>(test::chance());
        if (!editor->openProject(demo.folder(), io::OpenMode::Edit)) qFatal("the demo cannot be opened");
        return editor;
    }

  private Q_SLOTS:
    void aCommandWhoseNeedHasGoneDoesNothing() {
        app::CommandSet commands(nullptr);
        bool needed = true;
        int done = 0;
        commands.add({"test.one", "One", "One", {}, [&] { ++done; }, [&] { return needed; }});
        commands.refresh();
        commands.action("test.one")->trigger();
        QCOMPARE(done, 1);
        needed = false;  // and nobody was told
        QVERIFY(commands.action("test.one")->isEnabled());
        commands.action("test.one")->trigger();
        QCOMPARE(done, 1);
        QVERIFY(!commands.action("test.one")->isEnabled());
    }
    void initTestCase() {
        QCoreApplication::setOrganizationName("mellow-lattice-test");
        QCoreApplication::setApplicationName("panels-test");
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings_.path());
    }
    void aTypedValueIsSentOnceAndEscapeTakesItBack() {
        NumberField field(base::Quantity::Length, 2);
        field.show();
        field.setValue(1.5);
        QSignalSpy typed(&field, &NumberField::typed);
        field.setFocus();
        field.selectAll();
        QTest::keyClicks(&field, "2 + 3");
        QTest::keyClick(&field, Qt::Key_Return);
        QCOMPARE(typed.count(), 1);
        QCOMPARE(typed[0][0].toString(), QString("2 + 3"));
        QCOMPARE(field.text(), QString("1.50"));  // until whoever listens sets the new value
        field.selectAll();
        QTest::keyClicks(&field, "9");
        QTest::keyClick(&field, Qt::Key_Escape);
        QTest::keyClick(&field, Qt::Key_Return);
        QCOMPARE(typed.count(), 1);
        QCOMPARE(field.text(), QString("1.50"));
    }
    void arrowsStepFineAndCoarse() {
        NumberField field(base::Quantity::Length, 2);
        field.setSteps(0.1, 0.25);
        QSignalSpy stepped(&field, &NumberField::stepped);
        QTest::keyClick(&field, Qt::Key_Up);
        QTest::keyClick(&field, Qt::Key_Down, Qt::ShiftModifier);
        QTest::keyClick(&field, Qt::Key_Up, Qt::ControlModifier);
        QCOMPARE(stepped[0][0].toDouble(), 0.25);
        QCOMPARE(stepped[1][0].toDouble(), -0.025);
        QCOMPARE(stepped[2][0].toDouble(), 1.0);
    }
    void draggingTheMarkChangesAndEscapeGivesItUp() {
        NumberField field(base::Quantity::Length, 2);
        field.setMark(app::FieldMark::Cube, Qt::red);
        field.setSteps(0.1, 1);
        field.resize(90, 24);
        field.show();
        QSignalSpy started(&field, &NumberField::dragStarted), dragged(&field, &NumberField::dragged),
            ended(&field, &NumberField::dragEnded);
        QTest::mousePress(&field, Qt::LeftButton, {}, QPoint(9, 12));
        QTest::mouseMove(&field, QPoint(29, 12));
        QCOMPARE(started.count(), 1);
        QVERIFY(std::abs(dragged.last()[0].toDouble() - 2.0) < 1e-9);
        QTest::keyClick(&field, Qt::Key_Escape);
        QCOMPARE(ended.count(), 1);
        QCOMPARE(ended[0][0].toBool(), false);
        QTest::mousePress(&field, Qt::LeftButton, {}, QPoint(60, 12));  // not on the mark
        QCOMPARE(started.count(), 1);
    }
    void differentValuesAreShownAsMixed() {
        NumberField field(base::Quantity::Angle, 1);
        field.setMixed();
        QVERIFY(field.text().isEmpty());
        QCOMPARE(field.placeholderText(), QString("mixed"));
        field.setValue(72.5);
        QCOMPARE(field.text(), QString("72.5°"));
    }
    void whatDoesNotFitLosesDecimalsAndNotItsFirstDigits() {
        NumberField field(base::Quantity::Length, 3);
        field.setFixedWidth(58);
        field.show();
        field.setValue(-312345.678);
        QCOMPARE(field.cursorPosition(), 0);  // its head is what is seen
        QTest::keyClick(&field, Qt::Key_End);
        QVERIFY(field.cursorPosition() > 0);
        QFocusEvent away(QEvent::FocusOut);
        QApplication::sendEvent(&field, &away);
        QCOMPARE(field.cursorPosition(), 0);
        QCOMPARE(field.text(), QString("-312345.678"));
    }
    void theStockFindsByStartOfNameFirstAndByCategory() {
        test::DemoCopy demo;
        auto editor = open(demo);
        app::StockModel model(*editor, nullptr);
        model.filter("", "");
        const int all = model.rowCount();
        const auto& items = editor->session().library().items();
        QCOMPARE(all, static_cast<int>(std::count_if(items.begin(), items.end(), [](auto& i) { return !i.isSolid; })));
        model.filter("lan", "");
        QCOMPARE(model.index(0).data().toString(), QString("Lantern post"));
        QVERIFY(model.rowCount() < all);
        model.filter("", "Market");
        QCOMPARE(model.rowCount(), 11);  // six models, five prefabs
        model.filter("no such thing", "");
        QCOMPARE(model.rowCount(), 0);
    }
    void theStockFindsByAbilityAndCost() {
        const test::DemoCopy demo;
        const auto editor = open(demo);
        app::StockModel model(*editor, nullptr);
        auto count = [&](const char* text) {
            model.filter(text, {});
            return model.rowCount();
        };
        const int all = count("");
        QVERIFY(count("tri<100") > 0 && count("tri<100") < all);
        QCOMPARE(count("tri<100") + count("tri>99"), all);
        QVERIFY(count("can:size") > 0 && count("can:size") < all);
        QCOMPARE(count("can:light"), count("can:light lamp"));
        QCOMPARE(count("can:camera"), 1);
        QCOMPARE(count("can:fly"), 0);
        QCOMPARE(count("tri<many"), 0);
        QVERIFY(count("bench tri<10000") == 1);
    }
    void theStockIsNarrowedByAForm() {
        const test::DemoCopy demo;
        const auto editor = open(demo);
        app::StockModel model(*editor, nullptr);
        const auto count = [&](const std::function<void(app::StockFilter&)>& change) {
            app::StockFilter filter;
            change(filter);
            model.filter({}, {}, filter);
            return model.rowCount();
        };
        const int all = count([](app::StockFilter&) {});
        QCOMPARE(count([](app::StockFilter& f) { f.berth = true; }), 1);
        QCOMPARE(model.index(0).data(app::StockModel::NameRole).toString(), QString("barge-hull"));
        const int sized = count([](app::StockFilter& f) { f.sized = true; });
        QVERIFY(sized > 0 && sized < all);
        QVERIFY(count([](app::StockFilter& f) { f.sized = f.images = true; }) < sized);
        const int low = count([](app::StockFilter&f) { f.mostHeight = 1; }),
                  high = count([](app::StockFilter&f) { f.leastHeight = 1; });
        QVERIFY(low > 0 && high > 0 && low + high >= all);
        QCOMPARE(count([](app::StockFilter& f) { f.leastTriangles = 1e8; }), 0);
        QVERIFY(count([](app::StockFilter& f) { f.variations = true; }) >= 2);
        app::StockFilter asked;
        QCOMPARE(asked.count(), 0);
        asked.moved = true;
        asked.mostCost = 3;
        QCOMPARE(asked.count(), 2);
        // What is typed may be an outfit, a kind or a folder.
        model.filter("put out", {});
        QVERIFY(model.rowCount() > 0);
        model.filter("waterworks", {});
        QVERIFY(model.rowCount() > 3);
    }
    void foldersLieInFolders() {
        const test::DemoCopy demo;
        const auto editor = open(demo);
        app::StockModel model(*editor, nullptr);
        QVERIFY(editor->run("Move", [&](edit::Draft& draft) -> base::Status {
            for (const char* name : {"bench", "bollard"}) {
                const base::Name key = editor->session().intern(name);
                model::ItemFacts facts = *editor->session().library().item(key);
                facts.folder = "Towpath/Iron and oak";
                if (base::Status set = ops::setItem(draft, key, facts); !set) return set;
            }
            return {};
        }));
        model.filter({}, {});
        const int towpath = model.fitting("Towpath"), within = model.fitting("Towpath/Iron and oak");
        QCOMPARE(within, 2);
        QVERIFY(towpath > within);
        model.filter({}, "Towpath");
        QCOMPARE(model.rowCount(), towpath);
        model.filter({}, "Towpath/Iron and oak");
        QCOMPARE(model.rowCount(), within);
    }
    void favouritesAndWhatWasPlacedAreListed() {
        const test::DemoCopy demo;
        const auto editor = open(demo);
        app::StockModel model(*editor, nullptr);
        model.filter({}, app::StockModel::kRecent);
        QCOMPARE(model.rowCount(), 0);
        for (const char* item : {"bench", "plank", "bench"}) editor->placeAt(item, {0, 40, 0});
        model.filter({}, app::StockModel::kRecent);
        QCOMPARE(model.rowCount(), 2);
        QCOMPARE(model.index(0).data(app::StockModel::NameRole).toString(), QString("bench"));  // the last one first
        model.favourites = {"plank"};
        model.filter({}, app::StockModel::kFavourites);
        QCOMPARE(model.rowCount(), 1);
        QVERIFY(model.index(0).data().toString().startsWith("★"));
    }
    void keptNamesAreGoneToRenamedAndRemoved() {
        QWidget parent;
        parent.resize(800, 600);
        parent.show();
        QStringList names = {"Gate", "Quay"};
        QString gone;
        auto* card = new app::KeptPopover(&parent, "Views", "None",
                                          {"Go there", [&] { return names; }, [&](const QString& name) { gone = name; },
                                           [&](const QString& name, const QString& to) {
                                               if (names.contains(to)) return false;
                                               names[names.indexOf(name)] = to;
                                               return true;
                                           },
                                           [&](const QString& name) { names.removeAll(name); }});
        auto* list = card->findChild<QListWidget*>("keptList");
        QCOMPARE(list->count(), 2);
        list->item(1)->setText("Gate");  // taken: it stays as it was
        QCOMPARE(list->item(1)->text(), QString("Quay"));
        list->item(1)->setText("The quay");
        QCOMPARE(names, (QStringList{"Gate", "The quay"}));
        list->setCurrentRow(0);
        QTest::keyClick(card, Qt::Key_Delete);
        QCOMPARE(names, QStringList{"The quay"});
        card->findChild<QPushButton*>("keptGo")->click();
        QCOMPARE(gone, QString("The quay"));
        test::settle();
        QVERIFY(parent.findChild<app::KeptPopover*>() == nullptr);
    }
    void theKeySheetTellsWhatIsDoneRightNow() {
        app::CommandSet commands(nullptr);
        commands.add({"test.one", "One", "Does one", Qt::Key_1, [] {}});
        app::KeySheet sheet(commands, "Drag: move · Shift: fine · Esc: let go", nullptr);
        QStringList texts;
        for (QLabel* label : sheet.findChildren<QLabel*>()) texts << label->text();
        const int now = int(texts.indexOf("Right now"));
        QVERIFY(now >= 0 && texts.mid(now, 7).contains("fine") && texts.mid(now, 7).contains("Shift"));
        QVERIFY(texts.contains("One"));
    }
    void aKeyInUseIsTakenOnlyWhenThatIsMeant() {
        QSettings().clear();
        app::CommandSet commands(nullptr);
        commands.add({"test.one", "One", "Does one", Qt::Key_1, [] {}});
        commands.add({"test.two", "Two", "Does two", Qt::Key_2, [] {}});
        app::KeySheet sheet(commands, {}, nullptr);
        sheet.show();
        auto* field = sheet.findChild<QKeySequenceEdit*>("key.test.two");
        auto type = [&] {
            field->setKeySequence(Qt::Key_1);
            Q_EMIT field->editingFinished();
        };
        type();
        QVERIFY(sheet.findChild<QLabel*>("keyQuestion")->text().contains("One"));
        QCOMPARE(commands.action("test.two")->shortcut(), QKeySequence(Qt::Key_2));
        sheet.findChild<QPushButton*>("keyLeave")->click();
        QCOMPARE(field->keySequence(), QKeySequence(Qt::Key_2));
        type();
        sheet.findChild<QPushButton*>("keyTake")->click();
        QCOMPARE(commands.action("test.two")->shortcut(), QKeySequence(Qt::Key_1));
        QVERIFY(commands.action("test.one")->shortcut().isEmpty());
        sheet.findChild<QLineEdit*>("keySearch")->setText("Two");
        QVERIFY(field->isVisible() && !sheet.findChild<QKeySequenceEdit*>("key.test.one")->isVisible());
        QSettings().clear();
    }
    void whatIsDraggedFromTheStockNamesItsItem() {
        test::DemoCopy demo;
        auto editor = open(demo);
        app::StockModel model(*editor, nullptr);
        model.filter("bench", "");
        std::unique_ptr<QMimeData> data(model.mimeData({model.index(0)}));
        QCOMPARE(data->data("application/x-mellow-item"), QByteArray("bench"));
    }
    void theRosterIsTheScenesTree() {
        test::DemoCopy demo;
        auto editor = open(demo);
        app::RosterModel model(*editor, nullptr);
        model.reload();
        const model::Scene& scene = editor->scene();
        std::size_t count = 0;
        std::function<void(const QModelIndex&)> walk = [&](const QModelIndex& parent) {
            for (int row = 0; row < model.rowCount(parent); ++row) {
                const QModelIndex at = model.index(row, 0, parent);
                QCOMPARE(model.parent(at), parent);
                QCOMPARE(model.indexOf(model.slotOf(at)), at);
                ++count;
                walk(at);
            }
        };
        walk({});
        QCOMPARE(count, scene.objectCount());
    }
    void theRosterFollowsEditsAndUndo() {
        test::DemoCopy demo;
        auto editor = open(demo);
        app::RosterModel model(*editor, nullptr);
        model.reload();
        const int top = model.rowCount();
        QVERIFY(editor->placeAt("bench", {0, 0, 0}));
        QCOMPARE(model.rowCount(), top + 1);
        QVERIFY(editor->session().undo().has_value());
        QCOMPARE(model.rowCount(), top);
        model.setFilter("kind:Barge");
        QCOMPARE(model.rowCount(), 3);
        QVERIFY(!model.hasChildren(model.index(0, 0)));
    }
    void whatCannotBePlacedSaysWhy() {
        test::DemoCopy demo;
        test::writeBytes(demo.folder() / "items" / "bench.glb", "broken");
        auto editor = open(demo);
        QSignalSpy said(editor.get(), &app::Editor::message);
        QVERIFY(!editor->placeAt("bench", {0, 0, 0}));
        QCOMPARE(said.count(), 1);
        QVERIFY(said[0][0].toString().contains("bench.glb"));
    }
    void aProjectThatCannotBeOpenedLeavesTheOpenOne() {
        test::DemoCopy demo;
        auto editor = open(demo);
        QVERIFY(!editor->openProject("/no/such/folder", io::OpenMode::Edit));
        QVERIFY(editor->isOpen());
        QCOMPARE(editor->sceneName(), std::string("lower-basin"));
        QVERIFY(editor->placeAt("plank", {0, 0, 0}));
    }
    void openingThatIsCalledOffLeavesTheOpenProject() {
        test::DemoCopy demo, other;
        auto editor = open(demo);
        connect(editor.get(), &app::Editor::openingChanged, this, [&](bool on) {
            if (on) editor->opening()->cancel();
        });
        const auto opened = editor->openProject(other.folder(), io::OpenMode::Edit);
        QVERIFY(!opened);
        QCOMPARE(opened.error().code, base::ErrorCode::Cancelled);
        QVERIFY(!editor->isOpening());
        QVERIFY(editor->workspace().folder() == demo.folder());
        QVERIFY(editor->placeAt("plank", {0, 0, 0}));
    }
    void textIsReadableOnEverySurfaceOfBothThemes() {
        for (const app::Theme* theme : {&app::dusk(), &app::oat()})
            for (const QColor& surface : {theme->window, theme->panel, theme->raised})
                for (const QColor& ink : {theme->text, theme->dim, theme->faint})
                    QVERIFY2(contrast(surface, ink) >= 4.5,
                             qPrintable(theme->name + " " + ink.name() + " on " + surface.name()));
    }
    void aShortcutGivenTwiceIsTakenFromTheFirst() {
        app::CommandSet set(nullptr);
        int ran = 0;
        set.add({"a", "First", "Does one thing", Qt::Key_P, [&] { ++ran; }});
        set.add({"b", "Second", "Does another", Qt::Key_O, [] {}, [] { return false; }});
        set.refresh();
        QVERIFY(!set.action("b")->isEnabled());
        set.action("a")->trigger();
        QCOMPARE(ran, 1);
        QCOMPARE(set.setShortcut("b", Qt::Key_P), QString("First"));
        QVERIFY(set.action("a")->shortcut().isEmpty());
        set.resetShortcuts();
        QCOMPARE(set.action("a")->shortcut(), QKeySequence(Qt::Key_P));
    }
    void aSecondShortcutStaysBesideTheFirstUntilThatIsChanged() {
        QSettings().clear();
        app::CommandSet set(nullptr);
        set.add({"a", "Again", "Does it again", Qt::Key_P, [] {}, {}, {}, Qt::CTRL | Qt::Key_Y});
        const QList<QKeySequence> both{Qt::Key_P, Qt::CTRL | Qt::Key_Y};
        QCOMPARE(set.action("a")->shortcuts(), both);
        set.setShortcut("a", Qt::Key_O);
        QCOMPARE(set.action("a")->shortcuts(), QList<QKeySequence>{Qt::Key_O});
        set.resetShortcuts();
        QCOMPARE(set.action("a")->shortcuts(), both);
    }
    void whyACommandIsOffIsReadWhenTheMenuOpens() {
        app::CommandSet set(nullptr);
        bool on = false;
        set.add({"a", "Again", "Does it again", Qt::Key_P, [] {}, [&] { return on; }});
        set.setWhyNot([](const app::Command&) { return QString("Needs a selection"); });
        set.refresh();
        set.refreshTips();
        QVERIFY2(set.action("a")->toolTip().contains("Needs a selection"), qPrintable(set.action("a")->toolTip()));
        on = true;
        set.refresh();
        set.refreshTips();
        QVERIFY(set.action("a")->isEnabled());
        QVERIFY(!set.action("a")->toolTip().contains("Needs a selection"));
        QVERIFY(set.action("a")->toolTip().contains("Does it again"));
    }
    void aHintIsCutBetweenPhrases() {
        app::HintLabel hint;
        const QString all = QStringLiteral("Click: select · middle drag: orbit · wheel: zoom");
        hint.setText(all);
        const QFontMetrics metrics = hint.fontMetrics();
        const auto wide = [&](const QString& text) { return metrics.horizontalAdvance(text); };
        hint.resize(wide(all) + 2, 24);
        QCOMPARE(hint.shown(), all);
        hint.resize(wide(all) - 2, 24);
        QCOMPARE(hint.shown(), QString("Click: select · middle drag: orbit"));
        hint.resize(wide("Click: select") + 2, 24);
        QCOMPARE(hint.shown(), QString("Click: select"));
        hint.resize(wide("Click"), 24);
        QVERIFY(hint.shown().endsWith(QChar(0x2026)) && wide(hint.shown()) <= hint.width());
        QCOMPARE(hint.text(), all);  // for whoever reads it aloud
    }
    void aConditionShowsAnyConditionThereIs() {
        model::Property lit, oil, state;
        lit.name = "lit", lit.label = "Lit", lit.type = model::PropertyType::Bool;
        oil.name = "oil", oil.label = "Oil", oil.type = model::PropertyType::Number;
        state.name = "state", state.label = "State", state.type = model::PropertyType::Choice;
        state.choices = {{"open", "Open"}, {"shut", "Shut tight"}};
        app::ConditionField field;
        QSignalSpy changed(&field, &app::ConditionField::changed);
        const auto box = [&](const char* name) { return field.findChild<QComboBox*>(QLatin1String(name)); };
        const auto read = [&](const char* condition) {
            field.show({lit, oil, state}, QLatin1String(condition));
            QStringList parts;
            for (const char* name : {"conditionProperty", "conditionSign", "conditionChoice"})
                if (!box(name)->isHidden()) parts << box(name)->currentText();
            if (auto* typed = field.findChild<QLineEdit*>("conditionOperand"); !typed->isHidden())
                parts << typed->text();
            return parts.join(' ');
        };
        QCOMPARE(read(""), QString("always"));
        QCOMPARE(read("lit"), QString("Lit is on"));
        QCOMPARE(read("!lit"), QString("Lit is off"));
        QCOMPARE(read("lit = false"), QString("Lit is off"));
        QCOMPARE(read("lit != false"), QString("Lit is on"));
        QCOMPARE(read("oil<=0.5"), QString::fromUtf8("Oil ≤ 0.5"));
        QCOMPARE(read("state = shut"), QString("State is Shut tight"));
        QCOMPARE(read("state != ajar"), QString("State is not ajar"));  // which is no choice any more
        QCOMPARE(read("gone > 3"), QString("missing: gone > 3"));
        QCOMPARE(changed.count(), 0);  // showing tells nothing
        // On a truth value the sign alone decides, however it was written.
        read("lit = false");
        box("conditionSign")->setCurrentIndex(0);
        Q_EMIT box("conditionSign")->activated(0);
        QCOMPARE(changed.count(), 1);
        QCOMPARE(changed[0][0].toString(), QString("lit"));
    }
};

MELLOW_TEST(PanelsTest)
}  // namespace panels_test
#include "panels_test.moc"
