// How one looks at it: panes, ways of painting, light, cameras, views that are kept.
#include <QMenu>
#include <QStatusBar>

#include "app/commands/all.h"
#include "app/commands/kept.h"
#include "app/dialogs/kept_popover.h"
#include "app/dialogs/plan_card.h"
#include "app/dialogs/popovers.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/main_window.h"
#include "app/shell/preferences.h"
#include "app/view/looks.h"
#include "app/view/panes.h"
#include "model/facets/camera.h"
#include "ops/aim.h"
#include "ops/keep.h"
#include "ops/objects.h"

namespace app {

namespace {

class LookCommands : public Rows {
  public:
    explicit LookCommands(Shell& shell);

  private:
    void addDirections();
    void addPainting();
    void addLabels();
    void addCameras();
    void addKept();
    void addSwitches();
    Slot selectedCamera();
    void keepView();
    void fillCaptionMenu(ViewWidget* view, QMenu* menu);
    void showPlan();
    void setClean(bool clean);

    QByteArray beforeClean_;
};

LookCommands::LookCommands(Shell& shell) : Rows(shell) {
    connect(&shell.panes, &ViewPanes::captionMenu, this, &LookCommands::fillCaptionMenu);
    addDirections();
    addPainting();
    addLabels();
    addCameras();
    addKept();
    addSwitches();
}

void LookCommands::addDirections() {
    toggle(
        "look.panes", tr("Four panes"), tr("Four views side by side, or the one worked in alone"), Qt::Key_F4,
        [this] { shell_.panes.setFour(!shell_.panes.isFour()); }, [this] { return shell_.panes.isFour(); }, open());
    const std::tuple<const char*, PaneSide, QString> sides[] = {
        {"look.free", PaneSide::Free, tr("Look freely, in perspective")},
        {"look.top", PaneSide::Top, tr("Look straight down, to scale")},
        {"look.front", PaneSide::Front, tr("Look north, to scale")},
        {"look.back", PaneSide::Back, tr("Look south, to scale")},
        {"look.left", PaneSide::Left, tr("Look east from the left, to scale")},
        {"look.right", PaneSide::Right, tr("Look west from the right, to scale")}};
    for (const auto& [id, side, tip] : sides)
        toggle(
            id, tr("View: %1").arg(paneSideName(side)), tip, {}, [this, side = side] { view().eye().setSide(side); },
            [this, side = side] { return view().eye().side() == side; }, open());
    verb(
        "look.plan", tr("Plan of the level"), tr("The whole level from above; a click goes there"), Qt::Key_F3,
        [this] { showPlan(); }, open());
    toggle(
        "look.walk", tr("Walk"), tr("Stands under the pointer at eye height and walks with W A S D; again: back"),
        Qt::Key_F6, [this] { view().eye().toggleWalk(); }, [this] { return view().eye().isWalking(); }, open());
    toggle(
        "look.clean", tr("Clean view"), tr("Nothing but the scene; again: everything"), Qt::Key_F11,
        [this] { setClean(!editor_.looks().clean); }, [this] { return editor_.looks().clean; }, open());
}

void LookCommands::addPainting() {
    const std::tuple<const char*, Paint, QString, QString> paints[] = {
        {"look.shaded", Paint::Shaded, tr("Shaded"), tr("As it is lit")},
        {"look.byKind", Paint::ByKind, tr("Coloured by kind"), tr("Each kind in the colour of its mark")},
        {"look.collision", Paint::Collision, tr("Collision shapes"), tr("What one bumps into and walks on")},
        {"look.wire", Paint::Wire, tr("Wire"), tr("Only the edges of triangles")},
        {"look.contrast", Paint::Contrast, tr("Contrast"), tr("Shapes without colours, lit from the eye")}};
    for (const auto& [id, paint, text, tip] : paints) choice(id, text, tip, {}, &Looks::paint, paint, open());
    const std::tuple<const char*, render::Daylight, QString> lights[] = {
        {"look.asSet", render::Daylight::AsSet, tr("Light as the scene has it")},
        {"look.day", render::Daylight::Day, tr("Look at it by day")},
        {"look.dusk", render::Daylight::Dusk, tr("Look at it at dusk")},
        {"look.night", render::Daylight::Night, tr("Look at it by night")}};
    for (const auto& [id, light, text] : lights)
        choice(id, text, tr("Only for looking; the scene keeps its own light"), {}, &Looks::daylight, light, open());
    toggle("look.lamp", tr("Work light"), tr("Lights up what is selected, for looking only"), {}, &Looks::lamp);
}

void LookCommands::addLabels() {
    const std::tuple<const char*, const char*, QString> labels[] = {{"look.noLabels", "", tr("No labels")},
                                                                    {"look.labelName", "name", tr("Label with names")},
                                                                    {"look.labelKind", "kind", tr("Label with kinds")},
                                                                    {"look.labelItem", "item", tr("Label with items")}};
    for (const auto& [id, key, text] : labels)
        choice(id, text, tr("Writes it at every object near what one looks at"), {}, &Looks::label, std::string(key),
               open());
    verb(
        "look.labelProperty", tr("Label with a property…"), tr("Writes the value of one property at every object"), {},
        [this] {
            new NamePopover(over(), tr("Label with the property"), tr("Label"), toQt(editor_.looks().label), {},
                            [this](const QString& name, const QString&) {
                                change(&Looks::label, name.toStdString());
                                return QString();
                            });
        },
        open());
}

void LookCommands::addCameras() {
    verb(
        "look.through", tr("Look through the selected camera"), tr("Sees what it sees; Q goes back"), {},
        [this] {
            if (const Slot s = selectedCamera(); s != kNoSlot) view().eye().lookThrough(s);
        },
        open());
    toggle("look.inset", tr("Show what the selected camera sees"), tr("In a corner of the view"), {}, &Looks::inset);
    verb(
        "look.setCamera", tr("Set the selected camera from this view"), tr("It then sees what you see now"), {},
        [this] {
            const Slot s = selectedCamera();
            const render::Camera& c = view().camera();
            if (s == kNoSlot || c.isFlat()) return;
            const base::ObjectId id = editor_.scene().id(s);
            editor_.run("Set " + ops::describe(editor_.scene(), {&id, 1}) + " from the view", [&](edit::Draft& draft) {
                return ops::standAt(draft, id, c.eye, c.eye + c.forward(), c.verticalDegrees);
            });
        },
        changes());
    verb(
        "look.aim", tr("Aim at the pointer"),
        tr("Turns the selection so that its front faces the point under the pointer"), {},
        [this] {
            if (const auto at = view().eye().pointedAt())
                editor_.run("Aim " + ops::describe(editor_.scene(), editor_.selection()),
                            [&](edit::Draft& draft) { return ops::aim(draft, editor_.selection(), *at); });
        },
        changes());
}

void LookCommands::addKept() {
    verb(
        "look.keep", tr("Keep this view…"), tr("Keeps it under a name, with the scene"), Qt::CTRL | Qt::Key_B,
        [this] { keepView(); }, edits());
    verb(
        "look.views", tr("Views kept…"), tr("Goes to one, renames or removes it"), Qt::CTRL | Qt::SHIFT | Qt::Key_V,
        [this] { showKept(shell_, ops::Kept::Views); }, open());
    verb(
        "look.firstView", tr("Make this the first view"), tr("The scene is looked at from here when it is opened"), {},
        [this] {
            const render::Camera& c = view().camera();
            if (c.isFlat()) return editor_.say(tr("The first view is one in perspective."));
            editor_.run("Set the first view", [&](edit::Draft& draft) {
                return ops::setFirstView(draft, c.eye, c.eye + c.forward() * 10.0);
            });
        },
        edits());
}

void LookCommands::addSwitches() {
    const auto prefer = [this](const std::function<void(Preferences&)>& change) {
        Preferences changed = editor_.preferences();
        change(changed);
        editor_.setPreferences(changed);
    };
    toggle(
        "look.glide", tr("Glide to other places"), tr("The camera goes there in a moment instead of at once"), {},
        [prefer] { prefer([](Preferences& p) { p.glide = !p.glide; }); },
        [this] { return editor_.preferences().glide; });
    toggle("look.states", tr("As at the start"),
           tr("Objects look as their properties make them when play begins; off: as they are made"), {},
           &Looks::states);
    toggle("look.clock", tr("Looks change with time"),
           tr("Appearances that come and go by a clock do so; off: they stand. Nothing of it is kept"),
           Qt::ALT | Qt::Key_W, &Looks::clock);
    toggle("look.allLinks", tr("All links"), tr("Lines between everything that is linked, not only for the selection"),
           {}, &Looks::allLinks);
    toggle("look.pierced", tr("Where the axes meet surfaces"),
           tr("A small ring wherever the handle’s axes go through something"), Qt::Key_H, &Looks::piercedBy);
    toggle("look.follow", tr("Travel along in a drag"), tr("The camera goes along with what is dragged"), {},
           &Looks::follow);
    verb("look.largerHandle", tr("Larger handles"), tr("Makes the handle larger on the screen"), {},
         [prefer] { prefer([](Preferences& p) { p.handleSize = std::min(p.handleSize * 1.2, 2.5); }); });
    verb("look.smallerHandle", tr("Smaller handles"), tr("Makes the handle smaller on the screen"), {},
         [prefer] { prefer([](Preferences& p) { p.handleSize = std::max(p.handleSize / 1.2, 0.5); }); });
}

/// The one selected object with a camera; else a message and nothing.
Slot LookCommands::selectedCamera() {
    if (hasSelection() && editor_.selection().size() == 1) {
        const Slot s = editor_.scene().find(editor_.selection().front());
        if (s != kNoSlot && editor_.scene().facet<model::Camera>(s)) return s;
    }
    editor_.say(tr("Select one camera first."));
    return kNoSlot;
}

void LookCommands::keepView() {
    const auto& kept = editor_.scene().settings().bookmarks;
    new NamePopover(over(), tr("Keep this view as"), tr("Keep"), tr("View %1").arg(kept.size() + 1), {},
                    [this](const QString& name, const QString&) {
                        const render::Camera& c = view().camera();
                        model::Bookmark view{name.toStdString(), c.eye, c.eye + c.forward(), c.heightMetres, {}};
                        const bool done = editor_.run("Keep view " + view.name,
                                                      [&](edit::Draft& draft) { return ops::keepView(draft, view); });
                        return done ? QString() : tr("It could not be kept under this name.");
                    });
}

void LookCommands::fillCaptionMenu(ViewWidget* view, QMenu* menu) {
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
        menu->addAction(name, this, [this, name] { goToView(shell_, name); });
    }
    menu->addAction(commands_->action("look.keep"));
    menu->addSeparator();
    constexpr int kMost = 12;
    int count = 0;
    for (Slot s : shell_.stage.marked()) {
        if (!editor_.scene().facet<model::Camera>(s) || count++ >= kMost) continue;
        menu->addAction(tr("Through %1").arg(toQt(editor_.scene().nameText(s))), this,
                        [this, view, id = editor_.scene().id(s)] {
                            if (const Slot camera = editor_.scene().find(id); camera != kNoSlot)
                                view->eye().lookThrough(camera);
                        });
    }
    menu->addAction(commands_->action("look.panes"));
}

void LookCommands::showPlan() {
    if (auto* open = shell_.panes.findChild<PlanCard*>()) {
        open->close();
        return;
    }
    new PlanCard(&shell_.panes, editor_, shell_.stage, view().camera(), [this](const base::Vec3& at) {
        // The same way of looking, at another place.
        render::Camera camera = view().camera();
        if (camera.isFlat())
            camera.eye = at;
        else
            camera.eye = at - camera.forward() * std::clamp(view().context().focusDistance(), 5.0, 60.0);
        if (!camera.isFlat()) camera.eye.y = std::max(camera.eye.y, at.y + 2);
        view().eye().jumpTo(camera);
        view().setFocus();
    });
}

// Panels and what lies over the picture go, and come back as they were.
void LookCommands::setClean(bool clean) {
    if (clean) {
        beforeClean_ = shell_.window.saveState();
        for (QDockWidget* d : {&shell_.stockDock, &shell_.rosterDock, &shell_.propertiesDock}) d->hide();
    } else if (!beforeClean_.isEmpty()) {
        shell_.window.restoreState(beforeClean_);
    }
    change(&Looks::clean, clean);
    view().setFocus();
}

}  // namespace

RowsPtr lookCommands(Shell& shell) {
    return std::make_unique<LookCommands>(shell);
}

}  // namespace app
