// mellow-pictures DEMO FOLDER: every picture of docs/screenshots, taken anew from a copy of the demo in the real
// window.
#include <QApplication>
#include <QDir>
#include <QListWidget>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>
#include <QTabBar>
#include <QTableView>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QToolButton>
#include <QTreeWidget>
#include <QtTest>
#include <cstdio>

#include "app/dialogs/kinds_window.h"
#include "app/panels/stock_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/main_window.h"

#include <QDockWidget>
#include "app/panels/desk.h"
#include "app/panels/find_field.h"
#include "app/panels/hand_panel.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/shell/acts.h"
#include "app/shell/outside.h"
#include "app/shell/preferences.h"
#include "app/shell/recent_projects.h"
#include "app/shell/rehearsal.h"
#include "app/shell/scripts.h"
#include "app/shell/stand_in.h"
#include "app/view/gestures/handle.h"
#include "app/view/looks.h"
#include "app/view/panes.h"
#include "app/view/stage.h"
#include "edit/draft.h"
#include "io/workspace.h"
#include "model/facets/shot.h"
#include "ops/along.h"
#include "ops/facets.h"
#include "ops/move.h"
#include "support/settle.h"
#include "support/test_project.h"

namespace {

using base::Vec3;
using model::kNoSlot;
using model::Slot;

/// One window on a copy of its own; what it shows is one picture.
class Scene {
  public:
    explicit Scene(const std::filesystem::path& demo) {
        QSettings().clear();
        project_ = std::filesystem::path(folder_.path().toStdString()) / "heron-lock";
        std::filesystem::copy(demo, project_, std::filesystem::copy_options::recursive);
        std::filesystem::remove_all(project_ / ".mellow");
    }
    void open(const char* scene = "") {
        editor_ = std::make_unique<app::Editor>(test::chance(7));
        window_ = std::make_unique<app::MainWindow>(*editor_);
        window_->resize(1280, 800);
        window_->show();
        window_->activateWindow();
        (void)QTest::qWaitForWindowActive(window_.get());
        if (!window_->openProject(QString::fromStdString(project_.string()), io::OpenMode::Edit, scene))
            qFatal("the demo cannot be opened");
        app::Preferences likes = editor_->preferences();
        likes.glide = false;
        editor_->setPreferences(likes);
        if (editor_->scripts().asksTrust()) child<QToolButton>("trustYes")->click();
        editor_->checks().wait();
        test::settle();
    }
    const std::filesystem::path& project() const { return project_; }
    app::Editor& editor() { return *editor_; }
    app::MainWindow& window() { return *window_; }
    app::ViewWidget& view() { return window_->view(); }
    const model::Scene& scene() { return editor_->scene(); }
    void run(const char* command) {
        QAction* action = window_->commands().action(command);
        if (action == nullptr) qFatal("no command %s", command);
        action->trigger();
        test::settle();
    }
    template <class T>
    T* child(const char* name) {
        auto* found = window_->findChild<T*>(QLatin1String(name));
        if (found == nullptr) qFatal("no such widget: %s", name);
        return found;
    }
    Slot named(const char* name) {
        for (Slot s : scene().subtree(kNoSlot))
            if (scene().nameText(s) == name) return s;
        qFatal("no object %s", name);
    }
    /// Half of the window, for pages with much to read.
    void raiseDesk() {
        window_->resizeDocks({child<QDockWidget>("deskDock")}, {380}, Qt::Vertical);
        test::settle();
    }
    void select(const char* name) { editor_->select({scene().id(named(name))}); }
    void look(const Vec3& from, const Vec3& to) {
        view().setCamera(render::Camera::looking(from, to));
        test::settle();
    }
    QPoint pixel(const Vec3& place) {
        const auto at = view().camera().project(place, view().viewport());
        if (!at) qFatal("out of sight");
        return {int(at->x), int(at->y)};
    }
    void type(const char* field, const char* text) {
        auto* edit = child<QLineEdit>(field);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        test::settle();
    }
    /// As it is once the soft shading is in.
    void take(const QString& file, QWidget* what = nullptr) {
        if (!QTest::qWaitFor([this] { return window_->findChild<app::Stage*>()->isShaded(); }, 60'000))
            qFatal("no soft shading");
        test::settle();
        if (!(what != nullptr ? what : window_.get())->grab().save(file)) qFatal("cannot write %s", qPrintable(file));
        std::printf("  %s\n", qPrintable(file));
        std::fflush(stdout);
    }

  private:
    QTemporaryDir folder_;
    std::filesystem::path project_;
    std::unique_ptr<app::Editor> editor_;
    std::unique_ptr<app::MainWindow> window_;
};

using Make = void (*)(Scene&, const QString&);

void mainWindow(Scene& s, const QString& file) {
    s.open();
    s.take(file);
}
void oat(Scene& s, const QString& file) {
    s.open();
    s.run("view.oat");
    s.select("Boathouse walls");
    const base::Aabb box = s.scene().bounds(s.named("Boathouse walls"));
    s.look(box.centre() + Vec3(4.5, 3, 9), box.centre() + Vec3(0.4, -0.2, 0));
    if (auto* rows = s.window().findChild<QWidget*>("solid.openings")) {
        auto* area = s.window().findChild<app::PropertiesPanel*>()->findChild<QScrollArea*>();
        if (area != nullptr) area->ensureWidgetVisible(rows, 0, 120);
    }
    s.take(file);
}
/// A face in the hand, in line with what is far away; the button stays down while the picture is taken.
void parts(Scene& s, const QString& file) {
    s.open();
    s.select("Boathouse floor");
    const base::Aabb box = s.scene().bounds(s.named("Boathouse floor"));
    s.look(box.centre() + Vec3(7, 4.5, 9), box.centre() + Vec3(1, 0.6, 0));
    s.run("solid.parts");
    test::settle();
    const QPoint from = s.pixel({box.high.x, box.centre().y, box.centre().z + 1.5});
    const QPoint to = s.pixel({box.high.x + 1.6, box.centre().y, box.centre().z + 1.5});
    QTest::mouseMove(&s.view(), from);
    QTest::mousePress(&s.view(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 14; ++i) QTest::mouseMove(&s.view(), from + (to - from) * i / 14, 20);
    QCursor::setPos(s.view().mapToGlobal(to));  // where it really is, too
    s.take(file);
    QTest::keyClick(&s.view(), Qt::Key_Escape);
    QTest::mouseRelease(&s.view(), Qt::LeftButton, {}, to);
}
/// Where the chamber's water stands in the act that one works in, and what is not there.
void acts(Scene& s, const QString& file) {
    s.open();
    s.editor().acts().show({s.scene().id(s.named("High water"))});
    test::settle();
    s.take(file);
}
void panes(Scene& s, const QString& file) {
    s.open();
    s.select("Winding stairs");
    s.run("view.bring");
    s.run("look.panes");
    test::settle();
    auto* panes = s.window().findChild<app::ViewPanes*>();
    for (std::size_t i = 0; i < 4; ++i)
        if (auto* pane = panes->pane(i)) pane->eye().showSelection();
    if (auto* rows = s.window().findChild<QWidget*>("facetRows.solid"))
        if (auto* area = s.window().findChild<app::PropertiesPanel*>()->findChild<QScrollArea*>())
            area->ensureWidgetVisible(rows, 0, 20);
    // A clip on its way: both halves, of which one goes.
    s.run("solid.clip");
    const base::Aabb box = s.scene().bounds(s.named("Winding stairs"));
    for (std::size_t i = 0; i < 4; ++i) {
        auto* pane = panes->pane(i);
        if (pane == nullptr || pane->eye().side() != app::PaneSide::Front) continue;
        const auto click = [&](const Vec3& at) {
            const auto p = pane->camera().project(at, pane->viewport());
            const QPoint pixel(int(p->x), int(p->y));
            QTest::mouseMove(pane, pixel - QPoint(2, 2));
            QTest::mouseMove(pane, pixel);
            QTest::mouseClick(pane, Qt::LeftButton, {}, pixel);
        };
        click({box.low.x - 0.5, box.low.y + 0.4, box.centre().z});
        click({box.high.x + 0.5, box.low.y + 1.3, box.centre().z});
        click({box.low.x + 0.5, box.high.y - 0.15, box.centre().z});
    }
    s.take(file);
}
void checks(Scene& s, const QString& file) {
    s.open("broken-lock");
    s.run("desk.checks");
    for (int i = 0; i < 3; ++i) s.run("checks.next");
    s.take(file);
}
void table(Scene& s, const QString& file) {
    s.open();
    s.select("Lantern post 2");
    s.run("desk.table");
    s.child<QLineEdit>("tableFilter")->setText("kind:Lantern");
    s.take(file);
}
void surfaces(Scene& s, const QString& file) {
    s.open();
    s.select("Stall 7");
    s.run("view.bring");
    s.run("desk.surfaces");
    s.take(file);
}
/// Before the windlass of the lower gate, which was just turned.
void rehearsal(Scene& s, const QString& file) {
    s.open();
    s.run("rehearse.trace");
    const Vec3 wheel = s.scene().bounds(s.named("Windlass, right")).centre();
    s.editor().rehearsal().start(
        s.editor().rehearsal().prepare(),
        Vec3(wheel.x + 0.25, s.scene().bounds(s.named("Windlass, right")).low.y, wheel.z + 1.25), -10);
    s.view().setFocus();
    QTest::keyClick(&s.view(), Qt::Key_8);
    s.editor().rehearsal().lookBy(0, -32);
    QTest::qWait(200);
    QTest::keyClick(&s.view(), Qt::Key_E);
    QTest::qWait(1500);
    QTest::keyClick(&s.view(), Qt::Key_P);
    QTest::qWait(600);
    s.take(file);
}
/// What the windlass sets off, its effects in time, and the lines in the view.
void cues(Scene& s, const QString& file) {
    s.open();
    s.look({-6, 9, 27}, {0, 0, 3});
    s.run("rehearse.cues");
    s.editor().select({s.scene().id(s.named("Windlass, right"))});
    auto* table = s.window().findChild<QTableWidget*>("cueTable");
    for (int row = 0; row < table->rowCount(); ++row)
        if (table->item(row, 1)->text() == "Lets the barge in") table->setCurrentCell(row, 1);
    QTest::qWait(400);
    s.take(file);
}
void reach(Scene& s, const QString& file) {
    s.open();
    s.look({-78, 24, 44}, {-40, 0, 8});
    s.run("rehearse.reach");
    if (!QTest::qWaitFor([&] { return s.editor().rehearsal().ground().patches() != nullptr; }, 60'000))
        qFatal("no map");
    s.editor().rehearsal().ground().showSeenFrom(Vec3(-30, 1.65, 18));
    s.take(file);
}
void kinds(Scene& s, const QString& file) {
    s.open();
    s.run("kinds.open");
    auto* window = s.window().findChild<app::KindsWindow*>();
    window->reveal("Water control");
    window->findChild<QTabBar*>("kindTabs")->setCurrentIndex(1);
    s.take(file);
}
void script(Scene& s, const QString& file) {
    s.open();
    s.run("desk.script");
    for (const app::Command& one : s.window().commands().all())
        if (one.text == "Lanterns between") s.window().commands().action(one.id)->trigger();
    test::settle();
    for (QPushButton* button : s.window().findChildren<QPushButton*>())
        if (button->isVisible() && button->text() == "Preview") button->click();
    s.take(file);
}
void start(Scene& s, const QString& file) {
    s.open();
    app::rememberProject("/home/keeper/levels/upper-mill", "Upper mill", "mill pond");
    s.run("project.start");
    // As on somebody's machine, not on the one where the picture is taken.
    const QString places[] = {"/home/keeper/levels/heron-lock", "/home/keeper/levels/upper-mill"};
    auto* list = s.child<QListWidget>("startList");
    for (int i = 0; i < list->count(); ++i) {
        QStringList lines = list->item(i)->text().split('\n');
        lines[1] = places[i];
        lines[2] = "2026-05-04 09:30";
        list->item(i)->setText(lines.join('\n'));
    }
    s.take(file);
}
/// The barge's course through the chambers, with its stops, and its profile; benches that stay along the towpath.
void routes(Scene& s, const QString& file) {
    s.open("three-chambers");
    s.editor().placeAt("bench", {0, 0, 40});
    const base::ObjectId bench = s.editor().selection().front(), path = s.scene().id(s.named("Towpath way"));
    s.editor().run("Benches", [&](edit::Draft& draft) -> base::Status {
        model::Array every;
        every.fromMetres = 6;
        every.everyMetres = 30;
        auto made = ops::makeArrayAlong(draft, {&bench, 1}, path, every, 1.5);
        return made ? base::Status{} : base::Status(tl::unexpected(made.error()));
    });
    s.run("desk.route");
    s.select("Barge course");
    s.look({-14, 30, 44}, {30, 0, 0});
    s.take(file);
}
/// A camera that turns to whoever plays, and what it would show of the stand-in.
void cameras(Scene& s, const QString& file) {
    s.open();
    const base::ObjectId camera = s.scene().id(s.named("Basin camera"));
    s.editor().run("Shot", [&](edit::Draft& draft) {
        return ops::changeDetails(draft, {&camera, 1}, [](model::Slot, model::Detail& detail) -> base::Status {
            detail.put(model::Shot{});
            return {};
        });
    });
    s.editor().select({camera});
    s.editor().standIn().put({-47, 0.05, 16.6});
    s.look({-74, 17, 34}, {-46, 1, 14});
    s.take(file);
}

/// A recipe, what it makes of the scene, and the line of the bench that is selected.
void handOver(Scene& s, const QString& file) {
    s.open();
    s.run("desk.hand");
    s.raiseDesk();
    s.select("Bench 2");
    s.look({-52, 7, 34}, {-46, 0.5, 20});
    if (!QTest::qWaitFor([&] { return !s.child<QPlainTextEdit>("recipeOut")->extraSelections().isEmpty(); }, 10'000))
        qFatal("no list");
    s.take(file);
}
/// What a hand-over to the stand-in came to.
void report(Scene& s, const QString& file) {
    s.open();
    s.run("desk.hand");
    s.editor().run("Rename", [&](edit::Draft& draft) {
        const base::ObjectId bench = s.scene().id(s.named("Bench 2"));
        const base::Name name = s.editor().session().intern("Bench by the water, before the third stall");
        return draft.setLabels(model::LabelField::Name, {&bench, 1}, {&name, 1});
    });
    s.raiseDesk();
    s.run("hand.preview");
    s.take(file);
}
/// A list that came back with three faults.
void takeIn(Scene& s, const QString& file) {
    s.open();
    s.run("desk.hand");
    auto* panel = s.window().findChild<app::HandPanel*>();
    panel->recipes().show("csv-table");
    test::settle();
    const hand::Source source{s.scene(), s.editor().session().library(), {}};
    std::string list = hand::write(source, *panel->recipes().typed()).files.at(0).text;
    const auto change = [&](const std::string& name, const std::string& from, const std::string& to) {
        list.replace(list.find(from, list.find(";" + name + ";")), from.size(), to);
    };
    change("Bench 1", ";bench;", ";Seat07;");
    change("Bench 2", ";bench;", ";bench;far");
    change("Lantern post 1", "Lantern post 1", "First lantern");
    change("Lantern post 2", ";-5000;", ";-5120;");
    list += "no-id;Another;bench;1;2;3;0;0;0;1;1;1\r\n;Seat by the water;bench;-3000;0;2800;0;90;0;1;1;1\r\n";
    const std::string path = (s.project() / "from the game.csv").string();
    test::writeBytes(path, list);
    s.raiseDesk();
    panel->lookAt(QString::fromStdString(path));
    s.take(file);
}

constexpr std::pair<const char*, Make> kAll[] = {{"main-window", mainWindow},
                                                 {"oat", oat},
                                                 {"parts", parts},
                                                 {"acts", acts},
                                                 {"panes", panes},
                                                 {"checks", checks},
                                                 {"table", table},
                                                 {"surfaces", surfaces},
                                                 {"rehearsal", rehearsal},
                                                 {"kinds", kinds},
                                                 {"script", script},
                                                 {"start", start},
                                                 {"reach", reach},
                                                 {"routes", routes},
                                                 {"cues", cues},
                                                 {"cameras", cameras},
                                                 {"hand-over", handOver},
                                                 {"report", report},
                                                 {"take-in", takeIn}};

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setStyle("Fusion");
    QApplication::setOrganizationName("mellow-lattice");
    QApplication::setApplicationName("mellow-pictures");
    if (argc < 3) {
        std::fprintf(stderr, "usage: mellow-pictures DEMO FOLDER [NAME...]\n");
        return 2;
    }
    const QStringList wanted = QApplication::arguments().mid(3);
    for (const auto& [name, make] : kAll) {
        if (!wanted.isEmpty() && !wanted.contains(name)) continue;
        Scene scene(argv[1]);
        make(scene, QDir(argv[2]).filePath(QString("%1.png").arg(name)));
    }
    return 0;
}
