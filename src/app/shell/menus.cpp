// The menu bar: where each command stands. No menu is longer than fifteen rows; submenus are by what one does.
#include <QMenuBar>
#include <set>

#include "app/commands/rows.h"
#include "app/shell/main_window.h"
#include "app/shell/recent_projects.h"

#include <QMenu>
#include <QToolButton>
#include "app/shell/editor.h"
#include "app/shell/tools.h"
#include "edit/draft.h"
#include "edit/session.h"
#include "io/workspace.h"

namespace app {

namespace {

/// A menu, or ("View/Light") one in it; "-" is a line, "/Light" the place of a submenu, "recent" that of the list of
/// projects.
struct MenuPlan {
    QString path;
    std::vector<const char*> rows;
};

QString in(const QString& menu, const char* sub) {
    return menu + "/" + MainWindow::tr(sub);
}

std::vector<MenuPlan> menusOfWorking() {
    const QString project = MainWindow::tr("Project"), edit = MainWindow::tr("Edit"), select = MainWindow::tr("Select"),
                  view = MainWindow::tr("View"), tools = MainWindow::tr("Tools");
    return {
        {project,
         {"project.newScene", "project.new", "project.open", "recent", "project.start", "-", "project.save",
          "scene.duplicate", "scene.list", "-", "project.import", "/Hand over", "-", "help.settings", "project.quit"}},
        {in(project, "Hand over"),
         {"desk.hand", "-", "hand.over", "hand.preview", "hand.back", "-", "hand.write", "hand.take", "hand.stop", "-",
          "project.export", "project.export.selection", "hand.picture", "hand.plan"}},
        {edit,
         {"edit.undo", "edit.redo", "-", "edit.cut", "edit.copy", "edit.paste", "edit.duplicate", "edit.copyAgain",
          "edit.goOn", "edit.delete", "-", "edit.rename", "edit.tint", "/Hide and protect", "edit.escape"}},
        {in(edit, "Hide and protect"),
         {"edit.hide", "edit.showAll", "edit.alone", "-", "edit.protect", "edit.releaseAll"}},
        {select,
         {"edit.selectAll", "select.others", "select.group", "select.inside", "select.standing", "select.nextOfKind",
          "edit.sameKind", "edit.sameItem", "-", "select.what", "select.keep", "select.kept", "-",
          "/How a drag selects"}},
        {in(select, "How a drag selects"),
         {"edit.selectBox", "edit.selectCircle", "edit.selectLasso", "-", "edit.selectWhole", "edit.selectThrough"}},
        {view,
         {"view.bring", "look.walk", "look.plan", "/Direction", "/Cameras", "/Views kept", "-", "/Light", "/Guise",
          "/Painted as", "/Labels", "/Lines", "-", "look.glide", "look.clean", "view.oat"}},
        {in(view, "Direction"),
         {"look.panes", "-", "look.free", "look.top", "look.front", "look.back", "look.left", "look.right"}},
        {in(view, "Cameras"), {"look.through", "look.inset", "look.setCamera", "look.aim", "-", "look.follow"}},
        {in(view, "Views kept"), {"look.keep", "look.views", "look.firstView"}},
        {in(view, "Light"), {"look.asSet", "look.day", "look.dusk", "look.night", "-", "look.lamp"}},
        {in(view, "Guise"), {"guise.card", "guise.next", "-", "guise.own", "guise.none"}},
        {in(view, "Painted as"),
         {"look.shaded", "look.byKind", "look.collision", "look.wire", "look.contrast", "-", "look.states",
          "look.clock"}},
        {in(view, "Labels"),
         {"look.noLabels", "look.labelName", "look.labelKind", "look.labelItem", "look.labelProperty"}},
        {in(view, "Lines"), {"look.allLinks", "look.pierced", "look.drops"}},
        {tools,
         {"view.slide", "view.dial", "view.fit", "view.allHandles", "view.select", "-", "view.axes", "view.pivot",
          "view.pickPivot", "/Steps", "/Catching", "-", "view.measure", "view.copyMeasure", "/Panels"}},
        {in(tools, "Steps"),
         {"view.step", "view.stepLattice", "-", "view.notFine", "view.fine", "view.veryFine", "view.fineness", "-",
          "edit.uniform"}},
        {in(tools, "Catching"), {"view.catchFlush", "view.catchProtected", "view.catchHidden"}},
        {in(tools, "Panels"),
         {"view.stock", "view.roster", "view.properties", "view.sides", "-", "view.stockSearch", "view.rosterFilter",
          "-", "view.stockFloat", "view.rosterFloat", "view.propertiesFloat", "-", "view.first", "view.thumbnails",
          "look.largerHandle", "look.smallerHandle"}},
    };
}

std::vector<MenuPlan> menusOfMaking() {
    const QString arrange = MainWindow::tr("Arrange"), draw = MainWindow::tr("Draw"),
                  objects = MainWindow::tr("Objects"), prefab = MainWindow::tr("Prefab"), data = MainWindow::tr("Data"),
                  checks = MainWindow::tr("Checks"), rehearse = MainWindow::tr("Rehearse"),
                  scripts = MainWindow::tr("Scripts"), help = MainWindow::tr("Help");
    return {
        {arrange,
         {"edit.seat", "edit.seatBelow", "/Seat otherwise", "/Push", "/Turn and place", "/Stay", "arrange.lattice", "-",
          "/Align", "/Spread evenly", "/Match", "/Mirror", "/Copies", "-", "/Groups"}},
        {in(arrange, "Seat otherwise"),
         {"edit.seatLeaning", "edit.seatSunk", "edit.seatAsSeen", "edit.seatOntoSeen", "-", "edit.seatWhenPlacing",
          "edit.followSlopes"}},
        {in(arrange, "Push"),
         {"push.down", "push.up", "push.left", "push.right", "push.away", "push.nearer", "-", "drag.contact",
          "drag.standing"}},
        {in(arrange, "Stay"), {"stay.seated", "stay.flush", "stay.distance", "stay.facing", "-", "stay.break"}},
        {in(arrange, "Turn and place"),
         {"edit.quarterLeft", "edit.quarterRight", "edit.halfTurn", "-", "place.larger", "place.smaller",
          "place.asItIs"}},
        {in(arrange, "Align"),
         {"arrange.left", "arrange.middleX", "arrange.right", "arrange.north", "arrange.middleZ", "arrange.south",
          "arrange.tops", "arrange.middleY", "arrange.bottoms", "-", "arrange.followFirst", "arrange.followLast",
          "arrange.followPointed", "arrange.followWorld"}},
        {in(arrange, "Spread evenly"),
         {"arrange.gapsX", "arrange.gapsY", "arrange.gapsZ", "-", "arrange.centresX", "arrange.centresY",
          "arrange.centresZ"}},
        {in(arrange, "Match"),
         {"arrange.matchPosition", "arrange.matchHeight", "arrange.matchTurn", "arrange.matchSize", "-",
          "arrange.resetTurn", "arrange.resetSize", "arrange.swap"}},
        {in(arrange, "Mirror"), {"edit.mirrorX", "edit.mirrorY", "edit.mirrorZ"}},
        {in(arrange, "Copies"),
         {"array.row", "array.grid", "array.ring", "array.ringAbout", "-", "array.alike", "array.bake"}},
        {in(arrange, "Groups"),
         {"group.make", "group.ungroup", "group.ungroupAll", "group.whole", "-", "group.enter", "group.leave", "-",
          "group.empty"}},
        {draw,
         {"draw.box", "draw.wedge", "draw.cylinder", "draw.cone", "draw.sphere", "draw.plane", "draw.stairs",
          "draw.wall", "/More solids", "-", "/Change solids", "/Parts of solids", "-", "draw.lay", "draw.sets",
          "draw.broom", "/Broom"}},
        {in(draw, "More solids"),
         {"draw.arch", "draw.winding", "draw.curvedWall", "draw.room", "draw.prism", "-", "draw.ramp", "draw.frustum",
          "draw.pipe", "draw.torus", "-", "draw.dressed", "draw.on"}},
        {in(draw, "Change solids"),
         {"solid.clip", "solid.opening", "solid.archOpening", "solid.drawnOpening", "-", "solid.subtract", "solid.join",
          "solid.intersect", "solid.hollow", "-", "solid.plain", "solid.apart", "solid.merge"}},
        {in(draw, "Parts of solids"),
         {"solid.parts", "-", "solid.extrude", "solid.inset", "-", "solid.takeLook", "solid.giveLook"}},
        {in(draw, "Broom"), {"draw.broomLarger", "draw.broomSmaller", "draw.broomStronger", "draw.broomWeaker"}},
        {objects,
         {"kinds.open", "records.open", "/Outfits", "-", "/Links", "/Bodies", "/Points", "/Routes", "/Zones", "/Acts",
          "/In play", "-", "/Stock items", "/Surfaces"}},
        {in(objects, "Outfits"),
         {"outfit.next", "outfit.keep", "outfit.give", "outfit.again", "-", "outfit.select", "outfit.remove"}},
        {in(objects, "Links"), {"links.follow", "links.usedBy"}},
        {in(objects, "Bodies"), {"body.box", "body.hull", "body.none"}},
        {in(objects, "Points"), {"points.place", "points.collect", "points.spread"}},
        {in(objects, "Routes"),
         {"route.draw", "desk.route", "-", "route.removePoint", "route.split", "route.join", "route.fork",
          "route.reverse", "route.simplify", "route.seat", "route.seatEach", "-", "route.addStops", "route.removeStops",
          "/Along"}},
        {in(in(objects, "Routes"), "Along"), {"route.put", "route.copy", "route.array", "route.broom"}},
        {in(objects, "Zones"), {"zone.draw", "zone.box", "zone.sphere", "-", "zone.inside"}},
        {in(objects, "Acts"),
         {"acts.add", "-", "acts.there", "acts.away", "acts.unbound", "acts.putBack", "-", "acts.work", "acts.members",
          "-", "acts.next", "acts.all"}},
        {in(objects, "In play"),
         {"start.unseen", "start.untouched", "start.absent", "-", "group.aboard", "group.ashore", "group.ride"}},
        {in(objects, "Stock items"),
         {"stock.replace", "stock.findItem", "stock.selectObjects", "stock.favourite", "-", "stock.mixes", "stock.vary",
          "stock.nextVariation", "stock.previousVariation"}},
        {in(objects, "Surfaces"),
         {"desk.surfaces", "surfaces.give", "-", "surfaces.keep", "surfaces.map", "surfaces.drop"}},
        {prefab,
         {"prefab.make", "prefab.copyLinked", "prefab.pullLinked", "prefab.edition", "prefab.merge", "-",
          "prefab.editHere", "prefab.open", "prefab.back", "prefab.differences", "-", "/Instances",
          "/Prefabs and items"}},
        {in(prefab, "Instances"), {"prefab.takeApart", "prefab.takeAllApart", "prefab.makeAgain", "prefab.swap"}},
        {in(prefab, "Prefabs and items"),
         {"stock.card", "prefab.usedBy", "prefab.unused", "-", "prefab.rename", "prefab.move", "prefab.showFile",
          "prefab.delete"}},
        {data,
         {"desk.table", "table.export", "table.import", "-", "desk.sounds", "sounds.add", "sounds.place",
          "sounds.mute"}},
        {checks,
         {"desk.checks", "checks.all", "checks.rules", "-", "checks.next", "checks.previous", "checks.mend",
          "checks.mendAll", "checks.accept"}},
        {rehearse,
         {"rehearse.start", "rehearse.here", "rehearse.end", "-", "rehearse.pause", "rehearse.step", "/Time",
          "rehearse.free", "-", "rehearse.cues", "rehearse.trace", "/Runs", "/Ground", "-", "/Settle",
          "rehearse.craft"}},
        {in(rehearse, "Time"), {"rehearse.times1", "rehearse.times2", "rehearse.times8"}},
        {in(rehearse, "Runs"), {"rehearse.lookLast", "rehearse.replay", "rehearse.walk"}},
        {in(rehearse, "Ground"), {"rehearse.reach", "rehearse.seen", "rehearse.zones", "rehearse.cameras"}},
        {in(rehearse, "Settle"), {"settle.selected", "settle.ask"}},
        {in(scripts, "New script"),
         {"scripts.new.plain", "scripts.new.command", "scripts.new.panel", "scripts.new.behaviour",
          "scripts.new.check"}},
        {scripts,
         {"/New script", "desk.script", "scripts.console", "-", "scripts.run", "scripts.runSelection",
          "scripts.preview", "scripts.accept", "scripts.drop", "scripts.repeat", "scripts.everywhere",
          "scripts.clearMarks", "-", "scripts.trust", "scripts.personal"}},
        {help, {"help.firstSteps", "help.manual", "help.find", "help.keys", "-", "help.about"}},
    };
}

std::vector<MenuPlan> menuPlan() {
    std::vector<MenuPlan> all = menusOfWorking();
    for (MenuPlan& plan : menusOfMaking()) all.push_back(std::move(plan));
    return all;
}

/// Gives each row a letter of its own to be reached by; rows whose letters are all taken have none.
void giveLetters(QMenu* menu) {
    std::set<QChar> taken;
    for (QAction* row : menu->actions()) {
        const QString text = row->text().remove('&');
        for (int i = 0; i < text.size(); ++i) {
            const bool begins = i == 0 || text[i - 1] == ' ';
            if (!text[i].isLetter() || (!begins && i > 12) || !taken.insert(text[i].toLower()).second) continue;
            row->setText(text.left(i) + "&" + text.mid(i));
            break;
        }
    }
}

}  // namespace

QMenu* MainWindow::menuAt(const QString& path) {
    QMenu*& menu = menus_[path];
    if (menu != nullptr) return menu;
    const auto slash = path.lastIndexOf('/');
    menu = slash < 0 ? menuWidget()->findChild<QMenuBar*>("menus")->addMenu(path)
                     : new QMenu(path.mid(slash + 1), menuAt(path.left(slash)));
    menu->setToolTipsVisible(true);
    connect(menu, &QMenu::aboutToHide, this, [this] { shell_->preview.reset(); });
    connect(menu, &QMenu::aboutToShow, commands_, &CommandSet::refreshTips);
    return menu;
}

QMenu* MainWindow::recentMenu() {
    auto* menu = new QMenu(tr("Recent projects"), this);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        for (const QString& path : recentFolders())
            menu->addAction(path, this,
                            [this, path] { askUnsaved([this, path] { openProject(path, io::OpenMode::Edit); }); });
        if (recentFolders().isEmpty()) menu->addAction(tr("None yet"))->setEnabled(false);
    });
    return menu;
}

void MainWindow::fillMenus() {
    for (const Command& command : commands_->all()) addAction(commands_->action(command.id));
    const auto plan = menuPlan();
    for (const MenuPlan& part : plan) {
        QMenu* menu = menuAt(part.path);
        for (const char* row : part.rows) {
            const QString id = QLatin1String(row);
            if (id == "-")
                menu->addSeparator();
            else if (id == "recent")
                projectButton_->setMenu(menu->addMenu(recentMenu())->menu());
            else if (id.startsWith('/'))
                menu->addMenu(menuAt(part.path + "/" + tr(row + 1)));
            else if (QAction* action = commands_->action(id))
                menu->addAction(action), commands_->setPlace(id, QString(part.path).replace("/", " › "));
        }
    }
    shell_->scriptMenu = menuAt(tr("Scripts"));
    for (const MenuPlan& part : plan) giveLetters(menuAt(part.path));
    auto* scenes = new QMenu(this);
    connect(scenes, &QMenu::aboutToShow, this, [this, scenes] {
        scenes->clear();
        if (!editor_.isOpen()) return;
        for (const std::string& name : editor_.session().project().sceneNames)
            scenes->addAction(QString::fromStdString(name), this,
                              [this, name] { editor_.report(editor_.showScene(name)); });
        scenes->addSeparator();
        scenes->addAction(commands_->action("project.newScene"));
        scenes->addAction(commands_->action("scene.list"));
    });
    sceneButton_->setMenu(scenes);
}

}  // namespace app
