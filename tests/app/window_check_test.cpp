// Checks in the window, driven as a person would: a fault is caused, counted, gone to, mended, undone, accepted.
#include <QComboBox>
#include <QFile>
#include <QIcon>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>
#include <cmath>
#include <map>

#include "app/panels/checks_panel.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "app/view/gestures/handle.h"
#include "check/verbs.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_check_test {

class WindowCheckTest : public WindowFixture {
    Q_OBJECT

    app::Checks& checks() { return editor_->checks(); }
    template <class T>
    T* the(const char* name) {
        return window_->findChild<T*>(name);
    }
    void raise(const char* name, double by) {
        const base::ObjectId id = idOf(name);
        editor_->run("Raise", [&](edit::Draft& draft) {
            base::Transform t = draft.scene().local(draft.scene().find(id));
            t.position.y += by;
            return draft.setTransforms({&id, 1}, {&t, 1});
        });
        checks().wait();
    }
    /// Takes it by the handle for Y; the button stays down. Gives where the mouse is.
    QPoint dragUp(const char* name) {
        editor_->select({idOf(name)});
        run("view.bring");
        const auto tip = view().gesture<app::PullHandle>().tip(1);
        if (!tip) qFatal("no handle");
        QTest::mouseMove(&view(), tip->toPoint());
        QTest::mousePress(&view(), Qt::LeftButton, {}, tip->toPoint());
        for (int i = 1; i <= 10; ++i) QTest::mouseMove(&view(), tip->toPoint() - QPoint(0, 8 * i));
        return tip->toPoint() - QPoint(0, 80);
    }
    QString count() { return the<QToolButton>("checksCount")->text(); }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("checks"); }
    void init() {
        openFreshCopy();
        checks().wait();
    }
    void cleanup() { closeWindow(); }

    void aSolidJustDrawnAndAnImageJustGivenAreKnownAtOnce() {
        const auto found = [this] {
            std::set<std::string> all;
            for (const check::Finding& f : checks().findings()) all.insert(f.rule + ": " + f.message);
            return all;
        };
        const auto before = found();
        run("draw.box");
        view().setCamera(render::Camera::looking({-20, 8, 20}, {-20, 0, 10}));
        test::settle();
        const QPoint middle = view().rect().center();
        QTest::mousePress(&view(), Qt::LeftButton, {}, middle);
        QTest::mouseMove(&view(), middle + QPoint(40, 20));
        QTest::mouseMove(&view(), middle + QPoint(90, 40));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, middle + QPoint(90, 40));
        QTest::mouseMove(&view(), middle + QPoint(90, -40));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, middle + QPoint(90, -40));
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        const base::ObjectId drawn = editor_->selection().front();
        QVERIFY(editor_->scene().facet<model::Solid>(editor_->scene().find(drawn)));
        checks().wait();
        QVERIFY(checks().isKnown());
        for (const std::string& one : found())
            QVERIFY2(before.contains(one) || one.find("=1") == std::string::npos, one.c_str());
        for (const check::Finding& f : checks().findings())
            QVERIFY2(f.object != drawn || (f.rule != "missing-item" && f.rule != "unsupported"), f.message.c_str());
        // An image that comes with a step.
        const QString file = settings_.filePath("new-notice.png");
        QImage(64, 32, QImage::Format_RGB32).save(file);
        auto* mime = new QMimeData;
        mime->setUrls({QUrl::fromLocalFile(file)});
        view().eye().showSelection();
        test::settle();
        const QPoint at = pixelOf(editor_->scene().find(drawn));
        drop(mime, at);
        QVERIFY(editor_->scene().facet<model::Surfaces>(editor_->scene().find(drawn)));
        checks().wait();
        for (const check::Finding& f : checks().findings())
            QVERIFY2(f.message.find("new-notice") == std::string::npos, f.message.c_str());
    }
    void theDemoIsFineAndSaysSo() {
        QVERIFY(checks().isKnown());
        QVERIFY2(checks().findings().empty(),
                 checks().findings().empty() ? "" : checks().findings()[0].message.c_str());
        QCOMPARE(checks().accepted().size(), std::size_t{2});
        QCOMPARE(count(), QString("✓ No findings"));
    }
    void aFaultByDraggingIsCountedGoneToMendedAndUndone() {
        const std::string before = bytes();
        const QPoint at = dragUp("Bench 1");
        QVERIFY(checks().findings().empty());  // not while it is dragged
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, at);
        checks().wait();
        QCOMPARE(checks().findings().size(), std::size_t{1});
        QCOMPARE(checks().findings()[0].rule, std::string("floating"));
        QVERIFY2(count().contains("1 caution"), qPrintable(count()));
        editor_->select({});
        const base::Vec3 eye = view().camera().eye;
        run("checks.next");
        QCOMPARE(editor_->selection(), (std::vector<base::ObjectId>{idOf("Bench 1")}));
        QVERIFY(checks().current().has_value() && checks().current()->marks.size() == 2);
        QVERIFY(glm::length(view().camera().eye - eye) > 0.01);
        const auto seen =
            view().camera().project(editor_->scene().bounds(named("Bench 1")).centre(), view().viewport());
        QVERIFY(seen.has_value() && view().rect().contains(int(seen->x), int(seen->y)));
        run("checks.mend");
        checks().wait();
        QVERIFY(checks().findings().empty());
        run("edit.undo");
        checks().wait();
        QCOMPARE(checks().findings().size(), std::size_t{1});
        run("edit.undo");
        checks().wait();
        QCOMPARE(bytes(), before);
        QVERIFY(checks().findings().empty());
    }
    /// Whoever closes the window with the button down gets no step, and no crash.
    void closingInTheMiddleOfADragIsSafe() {
        const std::string before = bytes();
        (void)dragUp("Bench 1");
        QVERIFY(bytes() != before);
        closeWindow();
        auto again = io::openWorkspace(demo_->folder(), io::OpenMode::ReadOnly, test::chance());
        QVERIFY(again);
        QCOMPARE(io::formatScene(**(*again)->session->scene("lower-basin")), before);
    }
    void theListExplainsAndMendsAllOfARule() {
        raise("Bench 1", 0.5);
        raise("Bench 2", 0.7);
        run("desk.checks");
        auto* list = the<QTreeWidget>("checksList");
        QTRY_COMPARE(list->topLevelItemCount(), 2);  // and what is accepted
        QVERIFY(list->topLevelItem(0)->text(0).contains("Floating"));
        QCOMPARE(list->topLevelItem(0)->childCount(), 2);
        list->setCurrentItem(list->topLevelItem(0)->child(0));
        QVERIFY(checks().current().has_value());
        QVERIFY(the<QLabel>("checksMessage")->text().contains("floats"));
        const std::string before = bytes();
        the<QToolButton>("checksFixAll")->click();
        QVERIFY(editor_->scripts().preview().has_value());
        QCOMPARE(editor_->scripts().preview()->changed, std::size_t{2});
        QCOMPARE(bytes(), before);
        the<QPushButton>("scriptAccept")->click();
        checks().wait();
        QVERIFY(checks().findings().empty());
        run("edit.undo");
        QCOMPARE(bytes(), before);  // one step
    }
    void whatIsAcceptedStaysUntilItChanges() {
        raise("Bench 1", 0.5);
        run("checks.next");
        the<app::ChecksPanel>("checksPanel")->acceptCurrent("It is to be hung up.");
        checks().wait();
        QVERIFY(checks().findings().empty());
        QCOMPARE(checks().accepted().size(), std::size_t{3});
        run("desk.checks");
        auto* list = the<QTreeWidget>("checksList");
        QTRY_COMPARE(list->topLevelItemCount(), 1);  // they are listed, with their reasons
        QVERIFY(list->topLevelItem(0)->text(0).startsWith("Accepted"));
        bool told = false;
        for (int i = 0; i < 3; ++i)
            told = told || list->topLevelItem(0)->child(i)->text(0).endsWith("It is to be hung up.");
        QVERIFY(told);
        raise("Bench 1", 0.2);
        QCOMPARE(checks().findings().size(), std::size_t{1});
        run("edit.undo");
        checks().wait();
        QVERIFY(checks().findings().empty());
    }
    void aRuleIsSetInPlaceForTheProject() {
        raise("Bench 1", 0.5);
        run("checks.next");
        editor_->run("Set", [](edit::Draft& draft) {
            return check::setParameter(draft, *check::ruleOf(check::builtInRules(), "floating"), "most", {1.0});
        });
        checks().wait();
        QVERIFY(checks().findings().empty());
        run("edit.undo");
        checks().wait();
        QCOMPARE(checks().findings().size(), std::size_t{1});
    }
    void theBrokenSceneHasOneFaultARuleInTheWindowToo() {
        QVERIFY(editor_->showScene("broken-lock"));
        checks().wait();
        std::map<std::string, int> counts;
        for (const check::Finding& f : checks().findings()) {
            QVERIFY2(++counts[f.rule] == 1, f.message.c_str());
            QVERIFY2(editor_->checks().rule(f.rule) != nullptr, f.rule.c_str());
        }
        QCOMPARE(counts.size(), check::builtInRules().size() - 1);
    }
    void everyRuleHasADrawing() {
        for (const check::Rule& rule : check::builtInRules()) {
            const QString file = QString(":/rules/%1.svg").arg(QString::fromStdString(rule.id));
            QVERIFY2(!QIcon(file).pixmap(168, 84).isNull() && QFile::exists(file), qPrintable(file));
        }
        raise("Bench 1", 0.5);
        run("desk.checks");
        run("checks.next");
        auto* picture = the<QLabel>("checksPicture");
        QTRY_VERIFY(picture->isVisible());
        QVERIFY(picture->accessibleName().contains("Floating"));
    }
    void findingsAreGroupedByWhereTheyAre() {
        raise("Bench 1", 0.5);
        raise("Bench 2", 0.5);
        const auto squareOf = [&](const char* name) {
            const base::Vec3 at = editor_->scene().world(named(name)).translation;
            return std::pair(std::floor(at.x / 50) * 50, std::floor(at.z / 50) * 50);
        };
        run("desk.checks");
        auto* by = the<QComboBox>("checksBy");
        by->setCurrentIndex(3);
        Q_EMIT by->activated(3);
        auto* list = the<QTreeWidget>("checksList");
        const auto [x, z] = squareOf("Bench 1");
        const QString head = QString("X %1 to %2, Z %3 to %4").arg(x).arg(x + 50).arg(z).arg(z + 50);
        QVERIFY2(!list->findItems(head, Qt::MatchStartsWith).isEmpty(), qPrintable(head));
        const int groups = squareOf("Bench 1") == squareOf("Bench 2") ? 1 : 2;
        QCOMPARE(list->topLevelItemCount(), groups + 1);  // and what is accepted
    }
    void aScriptBringsARuleThatIsShownSetAndMendedLikeTheOthers() {
        editor_->scripts().answerTrust(true);
        checks().wait();
        QVERIFY(checks().findings().empty());
        const auto file = demo_->folder() / "scripts" / "benches.lua";
        test::writeBytes(file,
                         "check { id = 'bench-turned', label = 'Bench turned', why = 'It looks at the water.', "
                         "parameters = { most = number{3, min = 0, max = 90} },\n"
                         "find = function(o, p) if o:name() == 'Bench 1' and o:at().y > p.most then\n"
                         "found('It is too high.') dot(o:at()) end end,\n"
                         "fixLabel = 'Bring it down', fix = function(o, f, p) local a = o:at() "
                         "o:at(vec(a.x, p.most, a.z)) end }");
        editor_->scripts().refresh();
        checks().wait();
        QVERIFY(checks().findings().empty());
        raise("Bench 1", 9);
        run("desk.checks");
        auto* list = the<QTreeWidget>("checksList");
        QTreeWidgetItem* row = nullptr;
        for (int i = 0; i < list->topLevelItemCount(); ++i)
            if (list->topLevelItem(i)->text(0).startsWith("Bench turned")) row = list->topLevelItem(i)->child(0);
        QVERIFY(row != nullptr);
        list->setCurrentItem(row);
        QCOMPARE(the<QToolButton>("checksFix")->text(), QString("Bring it down"));
        QCOMPARE(checks().current()->marks.size(), std::size_t{1});
        // Its parameter is a field, as those of the editor's rules are.
        auto* field = the<QWidget>("checksParameters")->findChild<QLineEdit*>();
        QVERIFY(field != nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, "5");
        QTest::keyClick(field, Qt::Key_Return);
        checks().wait();
        const std::string before = bytes();
        the<QToolButton>("checksFix")->click();
        checks().wait();
        QCOMPARE(editor_->scene().world(named("Bench 1")).translation.y, 5.0);
        run("edit.undo");
        QCOMPARE(bytes(), before);
        // The file is changed: what it says counts at once.
        test::writeBytes(file, "check { id = 'bench-turned', find = function(o) o:get('nothing') end }");
        editor_->scripts().refresh();
        checks().wait();
        const auto failed = checks().ofRule("bench-turned");
        QCOMPARE(failed.size(), std::size_t{1});
        QVERIFY(failed[0].message.find("benches.lua:1") != std::string::npos);
        // So does what it requires.
        const auto module = demo_->folder() / "scripts" / "limits.lua";
        test::writeBytes(module, "return { most = 100 }");
        test::writeBytes(file,
                         "local limits = require('limits') check { id = 'bench-turned', kind = 'Structure', "
                         "find = function(o) if o:name() == 'Bench 1' and o:at().y > limits.most then return 'high' "
                         "end end }");
        editor_->scripts().refresh();
        checks().wait();
        QVERIFY(checks().ofRule("bench-turned").empty());
        test::writeBytes(module, "return { most = 1 }");
        editor_->scripts().refresh();
        checks().wait();
        QCOMPARE(checks().ofRule("bench-turned").size(), std::size_t{1});
    }
    /// Rules that find nothing, rest or are off are reached too.
    void everyRuleCanBeSeenSetAndSwitchedOnAgain() {
        run("checks.rules");
        auto* list = the<QTreeWidget>("checksList");
        int rows = 0;
        QTreeWidgetItem* ground = nullptr;
        for (int i = 0; i < list->topLevelItemCount(); ++i)
            for (int k = 0; k < list->topLevelItem(i)->childCount(); ++k, ++rows)
                if (list->topLevelItem(i)->child(k)->text(0).contains("Leaning"))
                    ground = list->topLevelItem(i)->child(k);
        QCOMPARE(static_cast<std::size_t>(rows), checks().rules().size());
        QVERIFY(ground != nullptr);
        list->setCurrentItem(ground);
        auto* rule = the<QToolButton>("checksRule");
        auto choose = [&](const QString& text) {
            Q_EMIT rule->menu()->aboutToShow();
            for (QAction* action : rule->menu()->actions())
                if (action->text() == text) {
                    action->trigger();
                    checks().wait();
                    return true;
                }
            return false;
        };
        QVERIFY(choose("Off in the project"));
        QVERIFY2(list->currentItem()->text(0).contains("off in the project"), qPrintable(list->currentItem()->text(0)));
        QCOMPARE(the<QLabel>("checksMessage")->text(), QString("Off in the project."));
        QVERIFY(choose("Off in this scene"));
        QVERIFY(choose("On again in this scene"));
        QVERIFY(choose("On again in the project"));
        QVERIFY(!list->currentItem()->text(0).contains("off"));
        QVERIFY(choose("It is an error"));
        QVERIFY(list->currentItem()->text(0).startsWith(QStringLiteral("■")));
        QVERIFY(choose("It is a hint"));
        auto* field = the<QWidget>("checksParameters")->findChild<QLineEdit*>();
        QVERIFY(field != nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, "12");
        QTest::keyClick(field, Qt::Key_Return);
        checks().wait();
        QVERIFY(editor_->session().entries("@checks").at("leaning").size() == 1);
        raise("Bench 1", 0.5);
        run("checks.next");  // one goes through findings: they are listed again
        QVERIFY(!the<QToolButton>("checksRules")->isChecked());
        QVERIFY(list->currentItem() != nullptr && list->currentItem()->text(0).contains("floats"));
    }
    void theFactsAreThere() {
        run("desk.checks");
        the<QToolButton>("checksFacts")->click();
        auto* table = the<QTableWidget>("checksFactsTable");
        QTRY_VERIFY(table->isVisible());
        QCOMPARE(table->item(0, 1)->text(), QString::number(editor_->scene().objectCount()));
    }
};

MELLOW_TEST(WindowCheckTest)
}  // namespace window_check_test
#include "window_check_test.moc"
