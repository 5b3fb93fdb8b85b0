// Meaning in the real window: the table, points and zones, surfaces and images, kinds, the switches.
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QMimeData>
#include <QSlider>
#include <QTableView>
#include <QTreeWidget>

#include "app/dialogs/kinds_window.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/tools.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "io/added.h"
#include "model/facets/points.h"
#include "model/facets/surfaces.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "ops/kinds.h"
#include "ops/surfaces.h"
#include "support/test_main.h"

namespace window_meaning_test {

class WindowMeaningTest : public WindowFixture {
    Q_OBJECT
    app::TablePanel* table() { return window_->findChild<app::TablePanel*>(); }
    QTableView* cells() { return window_->findChild<QTableView*>("tableView"); }
    app::TableModel* rows() { return static_cast<app::TableModel*>(cells()->model()); }
    void showTable(const QStringList& columns, const char* filter) {
        run("desk.table");
        rows()->setColumns(columns);
        auto* field = window_->findChild<QLineEdit*>("tableFilter");
        field->setText(filter);
        test::settle();
    }
    void selectCells(int row, int column, int rowCount, int columnCount) {
        cells()->selectionModel()->select(
            QItemSelection(rows()->index(row, column), rows()->index(row + rowCount - 1, column + columnCount - 1)),
            QItemSelectionModel::ClearAndSelect);
        cells()->selectionModel()->setCurrentIndex(rows()->index(row, column), QItemSelectionModel::NoUpdate);
    }
    void paste(const QString& text) {
        QApplication::clipboard()->setText(text);
        cells()->setFocus();
        QTest::keyClick(cells(), Qt::Key_V, Qt::ControlModifier);
    }
    template <class T>
    T* child(QWidget* in, const char* name) {
        auto* found = in->findChild<T*>(QLatin1String(name));
        if (found == nullptr) qFatal("no such widget: %s", name);
        return found;
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-meaning-test"); }
    void init() {
        openFreshCopy();
        connect(editor_.get(), &app::Editor::message, this, [](const QString& text, bool isError) {
            if (isError) qInfo("%s", qPrintable(text));
        });
    }
    void cleanup() { closeWindow(); }

    void aCellIsTypedAndTakenBack() {
        showTable({"name", "x", "oil"}, "kind:Lantern");
        QVERIFY(rows()->rowCount() > 3);
        const std::string before = bytes();
        QVERIFY(rows()->setData(rows()->index(0, 2), "+= 0.5", Qt::EditRole));
        QVERIFY(bytes() != before);
        QVERIFY(!rows()->setData(rows()->index(0, 2), "900", Qt::EditRole));  // out of its range: said, not written
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
    void aBlockIsPastedAsOneStep() {
        showTable({"name", "x", "oil"}, "kind:Lantern");
        const std::string before = bytes();
        selectCells(0, 1, 1, 1);
        paste("1.5\t2\n2.5\t3\n3.5\t4");
        QCOMPARE(rows()->text(0, 1), QString("1.5"));
        QCOMPARE(rows()->text(2, 2), QString("4"));
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
        // A fault in it: shown, and nothing is written until that is accepted.
        selectCells(0, 1, 1, 1);
        paste("1.5\t2\n2.5\tmuch");
        QCOMPARE(bytes(), before);
        auto* preview = child<QTreeWidget>(window_.get(), "tablePreview");
        QVERIFY(preview->isVisible());
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "tablePreviewDrop"), Qt::LeftButton);
        QCOMPARE(bytes(), before);
    }
    void aCsvWithThreeFaultyRowsChangesNothingUntilAccepted() {
        showTable({"name", "x", "oil"}, "kind:Lantern");
        const QString file = settings_.filePath("lanterns.csv");
        QVERIFY(table()->exportCsv(file));
        QStringList lines = QString::fromStdString(test::fileBytes(file.toStdString())).split('\n');
        const int count = rows()->rowCount();
        lines[1] = lines[1].section(',', 0, 2) + ",3";
        lines[2] = lines[2].section(',', 0, 2) + ",lots";
        lines[3] = "ffffffffffffffff,Nobody,1,1";
        lines[4] = lines[4].section(',', 0, 1);
        test::writeBytes(file.toStdString(), lines.join('\n').toStdString());
        const std::string before = bytes();
        QVERIFY(table()->importCsv(file));
        auto* preview = child<QTreeWidget>(window_.get(), "tablePreview");
        QCOMPARE(preview->topLevelItemCount(), 4);
        QCOMPARE(bytes(), before);
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "tablePreviewAccept"), Qt::LeftButton);
        QVERIFY(bytes() != before);
        QCOMPARE(rows()->text(0, 2), QString("3"));
        QCOMPARE(rows()->rowCount(), count);
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
    void fillSeriesFindAndReplace() {
        showTable({"name", "x", "oil"}, "kind:Lantern");
        selectCells(0, 2, 3, 1);
        QVERIFY(rows()->setData(rows()->index(0, 2), "2.25", Qt::EditRole));
        selectCells(0, 2, 3, 1);
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "tableFill"), Qt::LeftButton);
        QCOMPARE(rows()->text(2, 2), QString("2.25"));
        QVERIFY(rows()->setData(rows()->index(0, 0), "Row light 1", Qt::EditRole));
        selectCells(0, 0, 3, 1);
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "tableSeries"), Qt::LeftButton);
        QCOMPARE(rows()->text(2, 0), QString("Row light 3"));
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "tableFind"), Qt::LeftButton);
        child<QLineEdit>(window_.get(), "tableFindText")->setText("Row");
        child<QLineEdit>(window_.get(), "tableReplaceText")->setText("Quay");
        selectCells(0, 0, 1, 1);
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "tableReplaceAll"), Qt::LeftButton);
        QCOMPARE(rows()->text(1, 0), QString("Quay light 2"));
    }
    void tableAndViewSelectTheSame() {
        showTable({"name", "x"}, "kind:Lantern");
        selectCells(1, 0, 2, 1);
        QCOMPARE(editor_->selection().size(), std::size_t{2});
        QCOMPARE(editor_->selection()[0], editor_->scene().id(rows()->slotAt(1)));
        editor_->select({editor_->scene().id(rows()->slotAt(0))});
        QCOMPARE(cells()->selectionModel()->selectedRows().size(), 1);
        QVERIFY(cells()->selectionModel()->isRowSelected(0));
    }
    void fivePointsArePlacedAndOneIsDragged() {
        editor_->select({});
        run("points.place");
        const QPoint middle(view().width() / 2, view().height() / 2);
        for (int i = 0; i < 5; ++i) QTest::mouseClick(&view(), Qt::LeftButton, {}, middle + QPoint(40 * i - 80, 30));
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        const base::ObjectId owner = editor_->selection()[0];
        auto points = [&] { return editor_->scene().facet<model::PointSet>(editor_->scene().find(owner))->points; };
        QCOMPARE(points().size(), std::size_t{5});
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->tools().tool != app::Tool::Points);
        const auto at = view().grips().at(4);
        const base::Vec3 before = points()[4].at;
        const std::string placed = bytes();
        const QPoint from = at.toPoint();
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&view(), from + QPoint(0, 12));
        QTest::mouseMove(&view(), from + QPoint(0, 25));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from + QPoint(0, 25));
        QVERIFY(glm::length(points()[4].at - before) > 0.1);
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), placed);
        // In Properties: its name and its turn.
        editor_->setChosenPoint(2);
        auto* name = child<QWidget>(window_.get(), "pointForm")->findChild<QLineEdit*>("property.name");
        name->setFocus();
        QTest::keyClicks(name, "Look-out");
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(points()[2].name, std::string("Look-out"));
        QTest::mouseClick(child<QAbstractButton>(window_.get(), "pointEarlier"), Qt::LeftButton);
        QCOMPARE(points()[1].name, std::string("Look-out"));
        for (int i = 0; i < 7; ++i) QVERIFY(editor_->session().undo());
        QCOMPARE(editor_->scene().find(owner), kNoSlot);
    }
    void aZoneIsDrawnAndItsTopPulled() {
        run("zone.draw");
        const QPoint middle(view().width() / 2, view().height() / 2);
        const std::string before = bytes();
        for (const QPoint& by : {QPoint(-90, 60), QPoint(60, 60), QPoint(90, 10)})
            QTest::mouseClick(&view(), Qt::LeftButton, {}, middle + by);
        QTest::keyClick(&view(), Qt::Key_Return);
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        const base::ObjectId id = editor_->selection()[0];
        auto zone = [&] { return *editor_->scene().facet<model::Zone>(editor_->scene().find(id)); };
        QCOMPARE(zone().corners.size(), std::size_t{3});
        const auto top = view().grips().at(0);
        const double height = zone().size.y;
        QTest::mousePress(&view(), Qt::LeftButton, {}, top.toPoint());
        QTest::mouseMove(&view(), top.toPoint() - QPoint(0, 20));
        QTest::mouseMove(&view(), top.toPoint() - QPoint(0, 40));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, top.toPoint() - QPoint(0, 40));
        QVERIFY(zone().size.y > height + 0.2);
        QVERIFY(editor_->session().undo());
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
    void aSurfaceAndAnImageAreDropped() {
        // Somewhere on something that takes images.
        std::optional<query::SceneHit> hit;
        QPoint at;
        for (int y = 100; y < view().height() && !hit; y += 9)
            for (int x = 20; x < view().width() && !hit; x += 9) {
                at = QPoint(x, y);
                hit =
                    editor_->surfaceUnder(view().camera().rayThrough({double(x), double(y)}, view().viewport()), true);
                if (hit && editor_->scene().kindText(hit->slot) != "Structure") hit.reset();
            }
        QVERIFY(hit);
        const base::ObjectId id = editor_->scene().id(hit->slot);
        auto* mime = new QMimeData;
        mime->setData(app::kSurfaceMime, "market-red");
        drop(mime, at);
        auto surfaces = [&] {
            const auto& detail = editor_->scene().detail(editor_->scene().find(id));
            return detail && detail->get<model::Surfaces>() ? detail->get<model::Surfaces>()->slots
                                                            : std::vector<model::SlotSurface>{};
        };
        QCOMPARE(surfaces().size(), std::size_t{1});
        QCOMPARE(surfaces()[0].surface, std::string("market-red"));
        QImage picture(64, 48, QImage::Format_RGB32);
        picture.fill(Qt::darkGreen);
        const QString file = settings_.filePath("notice of the day.png");
        QVERIFY(picture.save(file));
        for (int twice = 0; twice < 2; ++twice) {
            mime = new QMimeData;
            mime->setUrls({QUrl::fromLocalFile(file)});
            drop(mime, at);
        }
        QCOMPARE(surfaces()[0].image, std::string("notice of the day.png"));
        auto copies = [&] {
            const auto names = io::mediaNames(editor_->session());
            return std::count_if(names.begin(), names.end(),
                                 [](const std::string& name) { return name.starts_with("notice of the day"); });
        };
        const auto inMedia = demo_->folder() / "media" / "notice of the day.png";
        QCOMPARE(copies(), 1);
        run("project.save");
        QTRY_VERIFY(std::filesystem::exists(inMedia));
        QVERIFY(editor_->session().undo());
        QCOMPARE(copies(), 0);
        run("project.save");
        QTRY_VERIFY(!std::filesystem::exists(inMedia));
        QVERIFY(editor_->session().undo());
        QVERIFY(surfaces().empty());
    }
    void aSurfaceIsMadeAndChanged() {
        run("desk.surfaces");
        auto* panel = window_->findChild<app::SurfacesPanel*>();
        const std::size_t before = editor_->session().library().surfaces().size();
        QTest::mouseClick(child<QAbstractButton>(panel, "surfaceNew"), Qt::LeftButton);
        QCOMPARE(editor_->session().library().surfaces().size(), before + 1);
        auto* hex =
            child<QWidget>(panel, "surfaceForm")->findChild<QWidget*>("property.colour")->findChild<QLineEdit*>();
        hex->setFocus();
        hex->selectAll();
        QTest::keyClicks(hex, "#804020");
        QTest::keyClick(hex, Qt::Key_Return);
        hex->selectAll();
        QTest::keyClicks(hex, "reddish");
        QTest::keyClick(hex, Qt::Key_Return);
        QCOMPARE(hex->text(), QString("#804020"));  // refused: what it was
        const auto& all = editor_->session().library().surfaces();
        QVERIFY(std::any_of(all.begin(), all.end(),
                            [](const auto& s) { return std::abs(s.second.colour.x - 0.2159) < 0.001; }));
        QVERIFY(editor_->session().undo());
        QVERIFY(editor_->session().undo());
        QCOMPARE(editor_->session().library().surfaces().size(), before);
    }
    void whatAKindInheritsIsShownAndSaidAnewInPlace() {
        run("kinds.open");
        auto* kinds = window_->findChild<app::KindsWindow*>();
        QVERIFY(kinds != nullptr && QTest::qWaitForWindowExposed(kinds));
        run("kinds.open");  // the same window
        QCOMPARE(window_->findChildren<app::KindsWindow*>().size(), 1);
        kinds->reveal("Lantern");
        QTest::mouseClick(child<QAbstractButton>(kinds, "kindHeir"), Qt::LeftButton);
        auto* name = child<QLineEdit>(kinds, "kindName");
        QTest::keyClicks(name, "Storm lantern");
        QTest::keyClick(name, Qt::Key_Return);
        const auto heir = [this] { return editor_->session().library().kindNamed("Storm lantern"); };
        QVERIFY(heir() != nullptr && heir()->inherits == "Lantern");
        child<QTabBar>(kinds, "kindTabs")->setCurrentIndex(1);
        auto* list = child<QTreeWidget>(kinds, "kindEntries");
        const int inherited = list->topLevelItemCount();
        QVERIFY(inherited > 2);
        int oil = -1;
        for (int i = 0; i < inherited; ++i)
            if (list->topLevelItem(i)->text(0).startsWith("Oil")) oil = i;
        QVERIFY(oil >= 0 && list->topLevelItem(oil)->text(0).contains("Lantern"));
        list->setCurrentItem(list->topLevelItem(oil));
        auto* label = child<QLineEdit>(kinds, "property.label");
        label->setFocus();
        label->selectAll();
        QTest::keyClicks(label, "Whale oil");
        QTest::keyClick(label, Qt::Key_Return);
        QCOMPARE(heir()->property("oil")->label, std::string("Whale oil"));
        QVERIFY(editor_->session().library().kindNamed("Lantern")->property("oil")->label != "Whale oil");
        QCOMPARE(list->topLevelItemCount(), inherited);
        QVERIFY(!list->topLevelItem(0)->text(0).contains("Lantern"));  // its own come first
        // An inherited one is not taken away here, nor called otherwise.
        list->setCurrentItem(list->topLevelItem(inherited - 1));
        QTest::mouseClick(child<QAbstractButton>(kinds, "entryRemove"), Qt::LeftButton);
        QCOMPARE(list->topLevelItemCount(), inherited);
        // One more: the keyboard is in its key, and only what its type has is asked.
        QTest::mouseClick(child<QAbstractButton>(kinds, "entryAdd"), Qt::LeftButton);
        QCOMPARE(kinds->focusWidget()->objectName(), QString("property.name"));
        QVERIFY(kinds->findChild<QWidget*>("property.choices") == nullptr ||
                !kinds->findChild<QWidget*>("property.choices")->isVisible());
    }
    void aConditionIsChosenFromWhatThereIs() {
        run("kinds.open");
        auto* kinds = window_->findChild<app::KindsWindow*>();
        QVERIFY(kinds != nullptr && QTest::qWaitForWindowExposed(kinds));
        kinds->reveal("Lantern");
        child<QTabBar>(kinds, "kindTabs")->setCurrentIndex(1);
        auto* list = child<QTreeWidget>(kinds, "kindEntries");
        const auto kind = [this] { return editor_->session().library().kindNamed("Lantern"); };
        const auto before = kind()->own;
        const auto at = editor_->session().history().present();
        QTest::mouseClick(child<QAbstractButton>(kinds, "entryAdd"), Qt::LeftButton);
        const auto said = [&] { return kind()->properties.back().shownIf; };
        const auto field = [&](const char* name) { return child<QWidget>(kinds, name); };
        // The row stays, its widgets may be new after each step.
        const auto choose = [&](const char* name, const QString& text) {
            auto* box = child<QComboBox>(kinds, name);
            QVERIFY2(box->isVisible() && box->findText(text) >= 0, qPrintable(text));
            box->setFocus();
            while (box->currentText() != text) {
                const int was = box->currentIndex();
                QTest::keyClick(box, box->findText(text) > was ? Qt::Key_Down : Qt::Key_Up);
                QVERIFY(box->currentIndex() != was);
            }
        };
        QVERIFY(!field("conditionSign")->isVisible() && said().empty());
        choose("conditionProperty", "Lit at dusk");
        QCOMPARE(said(), std::string("lit"));
        QVERIFY(field("conditionSign")->isVisible() && !field("conditionOperand")->isVisible() &&
                !field("conditionChoice")->isVisible());
        choose("conditionSign", "is off");
        QCOMPARE(said(), std::string("!lit"));
        choose("conditionProperty", "Oil");
        QCOMPARE(said(), std::string("oil > 0"));
        auto* operand = child<QLineEdit>(kinds, "conditionOperand");
        QVERIFY(operand->isVisible());
        QTest::mouseClick(operand, Qt::LeftButton);
        operand->selectAll();
        QTest::keyClicks(operand, "0.5");
        QTest::keyClick(operand, Qt::Key_Return);
        QCOMPARE(said(), std::string("oil > 0.5"));
        QVERIFY(kinds->focusWidget() == operand);  // one works on here
        choose("conditionProperty", "always");
        QVERIFY(said().empty());
        // Its own property is not among them.
        list->setCurrentItem(list->topLevelItem(0));
        auto* box = child<QComboBox>(kinds, "conditionProperty");
        QVERIFY(box->findText(list->topLevelItem(0)->text(0)) < 0);
        while (editor_->session().history().present() != at) QVERIFY(editor_->session().undo());
        QVERIFY(kind()->own == before);
    }
    void aDefaultIsSetByTheEditorOfItsTypeAndChoicesAreLines() {
        run("kinds.open");
        auto* kinds = window_->findChild<app::KindsWindow*>();
        QVERIFY(kinds != nullptr && QTest::qWaitForWindowExposed(kinds));
        kinds->reveal("Lantern");
        child<QTabBar>(kinds, "kindTabs")->setCurrentIndex(1);
        const auto kind = [this] { return editor_->session().library().kindNamed("Lantern"); };
        const auto before = kind()->own;
        const auto at = editor_->session().history().present();
        const auto property = [&](const char* name) { return kind()->property(name); };
        const auto turnTo = [&](const char* label) {
            auto* list = child<QTreeWidget>(kinds, "kindEntries");
            const auto rows = list->findItems(label, Qt::MatchStartsWith);
            if (rows.isEmpty()) qFatal("no such property");
            list->setCurrentItem(rows.front());
        };
        const auto type = [&](QLineEdit* field, const char* text) {
            QVERIFY(field != nullptr);
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, text);
            QTest::keyClick(field, Qt::Key_Return);
        };
        turnTo("Oil");
        auto* oil = child<QWidget>(kinds, "property.default");
        QVERIFY(oil->findChild<QSlider*>() != nullptr);  // between its limits
        type(oil->findChild<QLineEdit*>(), "+= 0.5");
        QVERIFY(*property("oil")->fallback == model::Value{2.0});
        type(child<QWidget>(kinds, "property.default")->findChild<QLineEdit*>(), "77");  // it holds five
        QVERIFY(*property("oil")->fallback == model::Value{2.0});
        turnTo("Glass");
        type(child<QWidget>(kinds, "property.default")->findChild<QLineEdit*>(), "#ffffff");
        QVERIFY(*property("glass")->fallback == (model::Value{model::ValueList{{1.0}, {1.0}, {1.0}}}));
        // A choice: lines that are added, moved and taken out.
        QTest::mouseClick(child<QAbstractButton>(kinds, "entryAdd"), Qt::LeftButton);
        auto* types = child<QComboBox>(kinds, "property.type");
        types->setCurrentIndex(types->findData("choice"));
        Q_EMIT types->activated(types->currentIndex());
        const auto choices = [&] {
            QStringList all;
            for (const model::Choice& c : kind()->properties.back().choices)
                all << QString::fromStdString(c.value + ":" + c.label);
            return all.join(' ');
        };
        for (const char* one : {"lit", "out=Gone out"}) {
            auto* box = child<QWidget>(kinds, "property.choices");
            auto* add = child<QLineEdit>(box, "listAdd");
            QTest::mouseClick(add, Qt::LeftButton);
            QTest::keyClicks(add, one);
            QTest::keyClick(add, Qt::Key_Return);
        }
        QCOMPARE(choices(), QString("lit:lit out:Gone out"));
        test::settle();  // lines that are there no more go
        QTest::mouseClick(child<QWidget>(child<QWidget>(kinds, "property.choices"), "listLater"), Qt::LeftButton);
        QCOMPARE(choices(), QString("out:Gone out lit:lit"));
        test::settle();
        QTest::mouseClick(child<QWidget>(child<QWidget>(kinds, "property.choices"), "listRemove"), Qt::LeftButton);
        QCOMPARE(choices(), QString("lit:lit"));
        while (editor_->session().history().present() != at) QVERIFY(editor_->session().undo());
        QVERIFY(kind()->own == before);
    }
    void aPropertyOfAKindIsRenamedWithItsValues() {
        run("kinds.open");
        auto* kinds = window_->findChild<app::KindsWindow*>();
        QVERIFY(kinds != nullptr && QTest::qWaitForWindowExposed(kinds));
        kinds->reveal("Lantern");
        child<QTabBar>(kinds, "kindTabs")->setCurrentIndex(1);
        auto own = [&](const char* key) {
            std::size_t n = 0;
            for (Slot s : editor_->scene().subtree(kNoSlot))
                if (editor_->scene().detail(s) &&
                    model::valueOf(editor_->scene().detail(s)->properties, key) != nullptr &&
                    editor_->scene().kindText(s) == "Lantern")
                    ++n;
            return n;
        };
        const std::size_t before = own("lit");
        QVERIFY(before > 0);
        const std::string was = bytes();
        auto* box = child<QWidget>(kinds, "property.name");
        auto* key = qobject_cast<QLineEdit*>(box);
        if (key == nullptr) key = box->findChild<QLineEdit*>();
        key->setFocus();
        key->selectAll();
        QTest::keyClicks(key, "burning");
        QTest::keyClick(key, Qt::Key_Return);
        QCOMPARE(own("burning"), before);
        QCOMPARE(own("lit"), std::size_t{0});
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), was);
        // A new kind that begins like it is there at once.
        const std::size_t count = editor_->session().library().kinds().size();
        QTest::mouseClick(child<QAbstractButton>(kinds, "kindLike"), Qt::LeftButton);
        QCOMPARE(editor_->session().library().kinds().size(), count + 1);
        delete kinds;
    }
    void switchesAreFourDifferentThings() {
        const Slot s = named("Keeper's cottage");
        const base::ObjectId id = editor_->scene().id(s);
        editor_->select({id});
        auto flags = [&] { return editor_->scene().flagsOf(editor_->scene().find(id)); };
        for (const auto& [name, flag] : {std::pair{"switchSeeninplay", model::flags::kUnseen},
                                         {"switchSolid", model::flags::kUntouched},
                                         {"switchExistsatthestart", model::flags::kAbsent}}) {
            child<QCheckBox>(window_.get(), name)->click();
            QVERIFY((flags() & flag) != 0);
            QVERIFY(editor_->session().undo());
            QVERIFY((flags() & flag) == 0);
        }
        child<QCheckBox>(window_.get(), "switchSeenintheeditor")->click();
        QVERIFY((flags() & model::flags::kHidden) != 0);
    }
    void theWheelScrollsAndChangesNothing() {
        const Slot s = named("Bench 1");
        editor_->select({editor_->scene().id(s)});
        run("body.box");
        const std::string before = bytes();
        auto* role = child<QComboBox>(window_.get(), "property.body.role");
        view().setFocus();
        const QPointF middle(role->width() / 2.0, role->height() / 2.0);
        QWheelEvent wheel(middle, role->mapToGlobal(middle), {}, {0, -120}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(role, &wheel);
        QCOMPARE(bytes(), before);
    }
    void theLastOneOfANeededKindIsMissedAtOnce() {
        Slot start = kNoSlot;
        for (Slot s : editor_->scene().subtree(kNoSlot))
            if (editor_->scene().kindText(s) == "Walker start") start = s;
        QVERIFY(start != kNoSlot);
        editor_->select({editor_->scene().id(start)});
        QString said;
        connect(editor_.get(), &app::Editor::message, this, [&](const QString& text) { said = text; });
        run("edit.delete");
        const auto* toast = window_->findChild<QLabel*>("toastText");
        const QString shown = toast != nullptr ? toast->text() : said;
        QVERIFY2(shown.contains("Walker start"), qPrintable(shown));
    }
};

MELLOW_TEST(WindowMeaningTest)
}  // namespace window_meaning_test
#include "window_meaning_test.moc"
