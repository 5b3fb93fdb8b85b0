// How one looks at it: panes, ways of painting, light, cameras, views that are kept.
#include <QMenu>
#include <QStatusBar>

#include "app/dialogs/kept_popover.h"
#include "app/dialogs/plan_card.h"
#include "app/dialogs/popovers.h"
#include "app/look/parts.h"
#include "app/shell/main_window.h"
#include "model/facets/camera.h"
#include "ops/aim.h"
#include "ops/keep.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {}  // namespace

void MainWindow::changeLooks(const std::function<void(Looks&)>& change) {
    Looks looks = editor_.looks();
    change(looks);
    editor_.setLooks(looks);
}

/// The one selected object with a camera; else a message and nothing.
Slot MainWindow::selectedCamera() {
    if (hasSelection() && editor_.selection().size() == 1) {
        const Slot s = editor_.scene().find(editor_.selection().front());
        if (s != kNoSlot && editor_.scene().facet<model::Camera>(s)) return s;
    }
    editor_.say(tr("Select one camera first."));
    return kNoSlot;
}

void MainWindow::keepView() {
    const auto& kept = editor_.scene().settings().bookmarks;
    new NamePopover(this, tr("Keep this view as"), tr("Keep"), tr("View %1").arg(kept.size() + 1), {},
                    [this](const QString& name, const QString&) {
                        const render::Camera& c = view_->camera();
                        model::Bookmark view{name.toStdString(), c.eye, c.eye + c.forward(), c.heightMetres, {}};
                        const bool done = editor_.run("Keep view " + view.name,
                                                      [&](edit::Draft& draft) { return ops::keepView(draft, view); });
                        return done ? QString() : tr("It could not be kept under this name.");
                    });
}

void MainWindow::goToView(const QString& name) {
    for (const model::Bookmark& b : editor_.scene().settings().bookmarks)
        if (toQt(b.name) == name) {
            render::Camera camera = render::Camera::looking(b.from, b.to);
            camera.heightMetres = b.heightMetres;
            if (b.heightMetres > 0 && std::abs(b.to.y - b.from.y) > 0.999) {
                camera.pitchDegrees = b.to.y < b.from.y ? -90 : 90;
                camera.yawDegrees = 0;
            }
            view_->eye().jumpTo(camera);
        }
}

void MainWindow::showKept(ops::Kept what) {
    const bool views = what == ops::Kept::Views;
    auto names = [this, views] {
        QStringList all;
        const model::SceneSettings& s = editor_.scene().settings();
        if (views)
            for (const auto& b : s.bookmarks) all << toQt(b.name);
        else
            for (const auto& k : s.selections) all << toQt(k.name);
        return all;
    };
    auto run = [this](const QString& verb, const QString& name, const std::function<base::Status(edit::Draft&)>& act) {
        return editor_.run((verb + " " + name).toStdString(), act);
    };
    new KeptPopover(
        this, views ? tr("Views kept with this scene") : tr("Selections kept with this scene"),
        views ? tr("None yet. “Keep this view” adds the one you are looking from.")
              : tr("None yet. “Keep this selection” adds what is selected."),
        {views ? tr("Go there") : tr("Select"), names,
         [this, views](const QString& name) { views ? goToView(name) : takeUpSelection(name); },
         [run, what](const QString& name, const QString& to) {
             return run("Rename", name,
                        [&](edit::Draft& d) { return ops::renameKept(d, what, name.toStdString(), to.toStdString()); });
         },
         [run, what](const QString& name) {
             run("Remove", name, [&](edit::Draft& d) { return ops::dropKept(d, what, name.toStdString()); });
         }});
}

void MainWindow::fillCaptionMenu(ViewWidget* view, QMenu* menu) {
    if (!editor_.isOpen()) return;
    for (const PaneSide side :
         {PaneSide::Free, PaneSide::Top, PaneSide::Front, PaneSide::Back, PaneSide::Left, PaneSide::Right}) {
        QAction* action = menu->addAction(paneSideName(side), this, [view, side] { view->eye().setSide(side); });
        action->setCheckable(true);
        action->setChecked(view->eye().side() == side);
    }
    menu->addSeparator();
    for (const model::Bookmark& b : editor_.scene().settings().bookmarks) {
        const QString name = toQt(b.name);
        menu->addAction(name, this, [this, name] { goToView(name); });
    }
    menu->addAction(commands_->action("look.keep"));
    menu->addSeparator();
    constexpr int kMost = 12;
    int count = 0;
    for (Slot s : stage_->marked()) {
        if (!editor_.scene().facet<model::Camera>(s) || count++ >= kMost) continue;
        menu->addAction(tr("Through %1").arg(toQt(editor_.scene().nameText(s))), this,
                        [this, view, id = editor_.scene().id(s)] {
                            if (const Slot camera = editor_.scene().find(id); camera != kNoSlot)
                                view->eye().lookThrough(camera);
                        });
    }
    menu->addAction(commands_->action("look.panes"));
}

void MainWindow::addLookCommands() {
    auto open = [this] { return editor_.isOpen(); };
    auto change = [this] { return canEdit(); };
    auto selected = [this] { return canEdit() && hasSelection(); };
    commands_->add({"look.panes", tr("Four panes"), tr("Four views side by side, or the one worked in alone"),
                    Qt::Key_F4, [this] { panes_->setFour(!panes_->isFour()); }, open,
                    [this] { return panes_->isFour(); }});
    const std::tuple<const char*, PaneSide, QString> sides[] = {
        {"look.free", PaneSide::Free, tr("Look freely, in perspective")},
        {"look.top", PaneSide::Top, tr("Look straight down, to scale")},
        {"look.front", PaneSide::Front, tr("Look north, to scale")},
        {"look.back", PaneSide::Back, tr("Look south, to scale")},
        {"look.left", PaneSide::Left, tr("Look east from the left, to scale")},
        {"look.right", PaneSide::Right, tr("Look west from the right, to scale")}};
    for (const auto& [id, side, tip] : sides)
        commands_->add({id,
                        tr("View: %1").arg(paneSideName(side)),
                        tip,
                        {},
                        [this, side = side] { view_->eye().setSide(side); },
                        open,
                        [this, side = side] { return view_->eye().side() == side; }});
    commands_->add({"look.plan", tr("Plan of the level"), tr("The whole level from above; a click goes there"),
                    Qt::Key_F3, [this] { showPlan(); }, open});
    commands_->add({"look.walk", tr("Walk"),
                    tr("Stands under the pointer at eye height and walks with W A S D; again: back"), Qt::Key_F6,
                    [this] { view_->eye().toggleWalk(); }, open, [this] { return view_->eye().isWalking(); }});
    commands_->add({"look.clean", tr("Clean view"), tr("Nothing but the scene; again: everything"), Qt::Key_F11,
                    [this] { setClean(!editor_.looks().clean); }, open, [this] { return editor_.looks().clean; }});
    const std::tuple<const char*, Paint, QString, QString> paints[] = {
        {"look.shaded", Paint::Shaded, tr("Shaded"), tr("As it is lit")},
        {"look.byKind", Paint::ByKind, tr("Coloured by kind"), tr("Each kind in the colour of its mark")},
        {"look.collision", Paint::Collision, tr("Collision shapes"), tr("What one bumps into and walks on")},
        {"look.wire", Paint::Wire, tr("Wire"), tr("Only the edges of triangles")},
        {"look.contrast", Paint::Contrast, tr("Contrast"), tr("Shapes without colours, lit from the eye")}};
    for (const auto& [id, paint, text, tip] : paints)
        commands_->add({id,
                        text,
                        tip,
                        {},
                        [this, paint = paint] { changeLooks([&](Looks& l) { l.paint = paint; }); },
                        open,
                        [this, paint = paint] { return editor_.looks().paint == paint; }});
    const std::tuple<const char*, render::Daylight, QString> lights[] = {
        {"look.asSet", render::Daylight::AsSet, tr("Light as the scene has it")},
        {"look.day", render::Daylight::Day, tr("Look at it by day")},
        {"look.dusk", render::Daylight::Dusk, tr("Look at it at dusk")},
        {"look.night", render::Daylight::Night, tr("Look at it by night")}};
    for (const auto& [id, light, text] : lights)
        commands_->add({id,
                        text,
                        tr("Only for looking; the scene keeps its own light"),
                        {},
                        [this, light = light] { changeLooks([&](Looks& l) { l.daylight = light; }); },
                        open,
                        [this, light = light] { return editor_.looks().daylight == light; }});
    commands_->add({"look.lamp",
                    tr("Work light"),
                    tr("Lights up what is selected, for looking only"),
                    {},
                    [this] { changeLooks([](Looks& l) { l.lamp = !l.lamp; }); },
                    open,
                    [this] { return editor_.looks().lamp; }});
    const std::tuple<const char*, const char*, QString> labels[] = {{"look.noLabels", "", tr("No labels")},
                                                                    {"look.labelName", "name", tr("Label with names")},
                                                                    {"look.labelKind", "kind", tr("Label with kinds")},
                                                                    {"look.labelItem", "item", tr("Label with items")}};
    for (const auto& [id, key, text] : labels)
        commands_->add({id,
                        text,
                        tr("Writes it at every object near what one looks at"),
                        {},
                        [this, key = key] { changeLooks([&](Looks& l) { l.label = key; }); },
                        open,
                        [this, key = key] { return editor_.looks().label == key; }});
    commands_->add({"look.labelProperty",
                    tr("Label with a property…"),
                    tr("Writes the value of one property at every object"),
                    {},
                    [this] {
                        new NamePopover(this, tr("Label with the property"), tr("Label"), toQt(editor_.looks().label),
                                        {}, [this](const QString& name, const QString&) {
                                            changeLooks([&](Looks& l) { l.label = name.toStdString(); });
                                            return QString();
                                        });
                    },
                    open});
    commands_->add({"look.through",
                    tr("Look through the selected camera"),
                    tr("Sees what it sees; Q goes back"),
                    {},
                    [this] {
                        if (const Slot s = selectedCamera(); s != kNoSlot) view_->eye().lookThrough(s);
                    },
                    open});
    commands_->add({"look.inset",
                    tr("Show what the selected camera sees"),
                    tr("In a corner of the view"),
                    {},
                    [this] { changeLooks([](Looks& l) { l.inset = !l.inset; }); },
                    open,
                    [this] { return editor_.looks().inset; }});
    commands_->add({"look.setCamera",
                    tr("Set the selected camera from this view"),
                    tr("It then sees what you see now"),
                    {},
                    [this] {
                        const Slot s = selectedCamera();
                        const render::Camera& c = view_->camera();
                        if (s == kNoSlot || c.isFlat()) return;
                        const base::ObjectId id = editor_.scene().id(s);
                        editor_.run("Set " + ops::describe(editor_.scene(), {&id, 1}) + " from the view",
                                    [&](edit::Draft& draft) {
                                        return ops::standAt(draft, id, c.eye, c.eye + c.forward(), c.verticalDegrees);
                                    });
                    },
                    selected});
    commands_->add({"look.aim",
                    tr("Aim at the pointer"),
                    tr("Turns the selection so that its front faces the point under the pointer"),
                    {},
                    [this] {
                        if (const auto at = view_->eye().pointedAt())
                            editor_.run("Aim " + ops::describe(editor_.scene(), editor_.selection()),
                                        [&](edit::Draft& draft) { return ops::aim(draft, editor_.selection(), *at); });
                    },
                    selected});
    commands_->add({"look.keep", tr("Keep this view…"), tr("Keeps it under a name, with the scene"),
                    Qt::CTRL | Qt::Key_B, [this] { keepView(); }, change});
    commands_->add({"look.views", tr("Views kept…"), tr("Goes to one, renames or removes it"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_V, [this] { showKept(ops::Kept::Views); }, open});
    commands_->add({"look.firstView",
                    tr("Make this the first view"),
                    tr("The scene is looked at from here when it is opened"),
                    {},
                    [this] {
                        const render::Camera& c = view_->camera();
                        if (c.isFlat()) return editor_.say(tr("The first view is one in perspective."));
                        editor_.run("Set the first view", [&](edit::Draft& draft) {
                            return ops::setFirstView(draft, c.eye, c.eye + c.forward() * 10.0);
                        });
                    },
                    change});
    commands_->add({"look.glide",
                    tr("Glide to other places"),
                    tr("The camera goes there in a moment instead of at once"),
                    {},
                    [this] { changeLooks([](Looks& l) { l.glide = !l.glide; }); },
                    {},
                    [this] { return editor_.looks().glide; }});
    commands_->add({"look.states",
                    tr("As at the start"),
                    tr("Objects look as their properties make them when play begins; off: as they are made"),
                    {},
                    [this] { changeLooks([](Looks& l) { l.states = !l.states; }); },
                    {},
                    [this] { return editor_.looks().states; }});
    commands_->add({"look.allLinks",
                    tr("All links"),
                    tr("Lines between everything that is linked, not only for the selection"),
                    {},
                    [this] { changeLooks([](Looks& l) { l.allLinks = !l.allLinks; }); },
                    {},
                    [this] { return editor_.looks().allLinks; }});
    commands_->add({"look.pierced",
                    tr("Where the axes meet surfaces"),
                    tr("A small ring wherever the handle’s axes go through something"),
                    Qt::Key_H,
                    [this] { changeLooks([](Looks& l) { l.piercedBy = !l.piercedBy; }); },
                    {},
                    [this] { return editor_.looks().piercedBy; }});
    commands_->add({"look.follow",
                    tr("Travel along in a drag"),
                    tr("The camera goes along with what is dragged"),
                    {},
                    [this] { changeLooks([](Looks& l) { l.follow = !l.follow; }); },
                    {},
                    [this] { return editor_.looks().follow; }});
    commands_->add({"look.largerHandle", tr("Larger handles"), tr("Makes the handle larger on the screen"), {}, [this] {
                        changeLooks([](Looks& l) { l.handleSize = std::min(l.handleSize * 1.2, 2.5); });
                    }});
    commands_->add(
        {"look.smallerHandle", tr("Smaller handles"), tr("Makes the handle smaller on the screen"), {}, [this] {
             changeLooks([](Looks& l) { l.handleSize = std::max(l.handleSize / 1.2, 0.5); });
         }});
}

void MainWindow::showPlan() {
    if (auto* open = panes_->findChild<PlanCard*>()) {
        open->close();
        return;
    }
    new PlanCard(panes_, editor_, *stage_, view_->camera(), [this](const base::Vec3& at) {
        // The same way of looking, at another place.
        render::Camera camera = view_->camera();
        if (camera.isFlat())
            camera.eye = at;
        else
            camera.eye = at - camera.forward() * std::clamp(view_->context().focusDistance(), 5.0, 60.0);
        if (!camera.isFlat()) camera.eye.y = std::max(camera.eye.y, at.y + 2);
        view_->eye().jumpTo(camera);
        view_->setFocus();
    });
}

// Panels and what lies over the picture go, and come back as they were.
void MainWindow::setClean(bool clean) {
    if (clean) {
        beforeClean_ = saveState();
        for (QDockWidget* d : {stockDock_, rosterDock_, propertiesDock_}) d->hide();
    } else if (!beforeClean_.isEmpty()) {
        restoreState(beforeClean_);
    }
    statusBar()->setVisible(!clean);
    trail_->setVisible(!clean);
    changeLooks([&](Looks& l) { l.clean = clean; });
    refreshOverlays();
    view_->setFocus();
}

}  // namespace app
