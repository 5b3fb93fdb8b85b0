// Where one starts, and what is as it was when one comes back.
#include <QComboBox>
#include <QDockWidget>
#include <QListWidget>

#include "app/panels/start_page.h"
#include "app/shell/preferences.h"
#include "app/shell/recent_projects.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "model/facets/array.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_start_test {

namespace fs = std::filesystem;

class WindowStartTest : public WindowFixture {
    Q_OBJECT
    /// As after a start with nothing named.
    void startAnew() {
        closeWindow();
        editor_ = std::make_unique<app::Editor>(test::chance(99));
        window_ = std::make_unique<app::MainWindow>(*editor_);
        window_->resize(1280, 800);
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        window_->activateWindow();
        app::Preferences likes = editor_->preferences();
        likes.glide = false;
        editor_->setPreferences(likes);
        window_->showStart();
        test::settle();
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-start-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void theFirstStartMakesAProject() {
        const QString parent = QString::fromStdString(demo_->folder().parent_path().string());
        app::Preferences likes = editor_->preferences();
        likes.projectsFolder = parent.toStdString();
        app::keepPreferences(likes);
        startAnew();
        for (const auto& one : app::recentProjects()) app::forgetProject(one.folder);
        auto* start = window_->findChild<app::StartPage*>();
        start->refill();
        QCOMPARE(window_->focusWidget()->objectName(), QString("startNew.ground"));
        QTest::keyClick(window_->focusWidget(), Qt::Key_Space);
        test::settle();
        auto* like = the<QComboBox>("popoverTemplate");
        QVERIFY(like != nullptr);
        QCOMPARE(like->currentText(), QString("ground"));
        QTest::keyClick(window_->focusWidget(), Qt::Key_Return);
        QTRY_VERIFY(editor_->isOpen());
        QVERIFY(!start->isVisible());
        QVERIFY(scene().objectCount() > 0);
        QVERIFY(fs::exists(demo_->folder().parent_path() / "new-project" / "project.json"));
    }
    void whereOneWasIsThereAgain() {
        const QString folder = QString::fromStdString(demo_->folder().string());
        QVERIFY(editor_->showScene("broken-lock"));
        const auto there = render::Camera::looking({12, 5, 9}, {2, 1, 0});
        view().setCamera(there);
        QVERIFY(editor_->showScene("lower-basin"));
        const auto here = render::Camera::looking({-12, 7, 3}, {2, 1, 0});
        view().setCamera(here);
        QVERIFY(editor_->showScene("broken-lock"));
        QVERIFY(view().camera() == there);
        run("project.start");
        auto* start = window_->findChild<app::StartPage*>();
        QVERIFY(start->isVisible());
        QTest::keyClick(the<QListWidget>("startList"), Qt::Key_Escape);  // on with what is open
        QVERIFY(!start->isVisible() && editor_->isOpen());
        startAnew();
        start = window_->findChild<app::StartPage*>();
        QVERIFY(start->isVisible());
        auto* list = the<QListWidget>("startList");
        QCOMPARE(list->count(), 1);
        QVERIFY(list->item(0)->text().contains("Heron Lock › broken-lock"));
        QVERIFY(list->item(0)->text().contains(folder));
        QVERIFY(!app::recentProjects().front().picture.isNull());
        QCOMPARE(window_->focusWidget(), static_cast<QWidget*>(list));
        QTest::keyClick(list, Qt::Key_Return);
        QTRY_VERIFY(editor_->isOpen());
        QVERIFY(!start->isVisible());
        QCOMPARE(editor_->sceneName(), std::string("broken-lock"));
        QVERIFY(glm::length(view().camera().eye - there.eye) < 1e-9);
        QVERIFY(editor_->showScene("lower-basin"));
        QVERIFY(glm::length(view().camera().eye - here.eye) < 1e-9);
    }
    void aProjectThatHasGoneSaysSoAndIsForgotten() {
        run("project.start");
        startAnew();
        fs::rename(demo_->folder(), demo_->folder().parent_path() / "elsewhere");
        auto* start = window_->findChild<app::StartPage*>();
        start->refill();
        auto* list = the<QListWidget>("startList");
        QVERIFY(list->item(0)->text().contains("not there any more"));
        QTest::keyClick(list, Qt::Key_Delete);
        QVERIFY(app::recentProjects().isEmpty());
        QCOMPARE(list->count(), 1);  // what to do then
        QVERIFY(window_->openProject(QString::fromStdString((demo_->folder().parent_path() / "elsewhere").string()),
                                     io::OpenMode::Edit));
        QVERIFY(!start->isVisible());
    }
    void howOneWorkedIsThereAgain() {
        editor_->change(&app::Tools::uniform, true);
        app::Tools tools = editor_->tools();
        tools.broom.filter = "kind:Plant";
        editor_->setTools(tools);
        QVERIFY(editor_->placeAt("bench", {-40, 0, 40}));
        run("array.row");
        test::settle();
        auto* array = the<QWidget>("facetRows.array");
        QVERIFY(array != nullptr);
        typeInto(field("facetRows.array", "property.array.count"), "9");
        QCOMPARE(editor_->tools().arrays[0].counts[0], 9);
        the<QLineEdit>("rosterFilter")->setText("lantern");
        run("desk.table");
        window_->resizeDocks({the<QDockWidget>("deskDock")}, {301}, Qt::Vertical);
        run("look.panes");
        test::settle();
        run("project.start");  // one leaves it
        startAnew();
        QVERIFY(window_->openProject(QString::fromStdString(demo_->folder().string()), io::OpenMode::Edit));
        test::settle();
        QVERIFY(editor_->tools().uniform);
        QCOMPARE(editor_->tools().broom.filter, std::string("kind:Plant"));
        QCOMPARE(editor_->recentItems(), std::vector<std::string>{"bench"});
        QCOMPARE(the<QLineEdit>("rosterFilter")->text(), QString("lantern"));
        QVERIFY(window_->findChild<app::ViewPanes*>()->isFour());
        QVERIFY(the<QDockWidget>("deskDock")->isVisible());
        QCOMPARE(the<QDockWidget>("deskDock")->height(), 301);
        editor_->select({idOf("Bench 2")});
        run("array.row");  // as many as last time
        QCOMPARE(scene().facet<model::Array>(scene().find(editor_->selection()[0]))->counts[0], 9);
    }
    void aPlaceThatWasBrokenIsAsNone() {
        for (const char* text : {"", "{", "[]", R"({"scene":7})", R"({"scene":"../x"})", R"({"scene":"gone"})",
                                 R"({"scene":"lower-basin","cameras":{"lower-basin":{"eye":[1e99,0,0]}}})"}) {
            startAnew();
            test::writeBytes(demo_->folder() / ".mellow" / "window.json", text);
            QVERIFY2(window_->openProject(QString::fromStdString(demo_->folder().string()), io::OpenMode::Edit), text);
            QCOMPARE(editor_->sceneName(), std::string("lower-basin"));
            QVERIFY(glm::length(view().camera().eye) < 1e6);
        }
    }
};

MELLOW_TEST(WindowStartTest)
}  // namespace window_start_test
#include "window_start_test.moc"
