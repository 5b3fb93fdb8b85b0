// What objects mean: the desk's pages, kinds, surfaces, points, zones, bodies.
#include "app/dialogs/kinds_window.h"
#include "app/shell/main_window.h"
#include "ops/facets.h"
#include "ops/surfaces.h"

namespace app {

using base::Status;
using model::kNoSlot;
using model::Slot;

void MainWindow::toggleDesk(QWidget* page) {
    const bool shown = deskShows(page);
    deskDock_->setVisible(!shown);
    if (shown) return;
    desk_->showPage(page);
    if (deskDock_->height() < 160) resizeDocks({deskDock_}, {230}, Qt::Vertical);
}

void MainWindow::addMeaningCommands() {
    const QString menu = tr("Meaning");
    const auto open = [this] { return editor_.isOpen(); };
    const auto change = [this] { return canEdit() && hasSelection(); };
    const auto one = [this] { return canEdit() && editor_.selection().size() == 1; };
    auto add = [&](const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                   std::function<void()> run, std::function<bool()> enabled, bool separator = false,
                   std::function<bool()> checked = {}) {
        commands_->add({id, menu, text, tip, keys, std::move(run), std::move(enabled), std::move(checked), separator});
    };
    add(
        "desk.table", tr("Table"), tr("All objects as rows, to be sorted, filtered and changed by the hundred"),
        Qt::ALT | Qt::Key_T, [this] { toggleDesk(table_); }, open, false, [this] { return deskShows(table_); });
    add(
        "desk.surfaces", tr("Surfaces"), tr("The project's surfaces, to be dragged onto objects"), Qt::ALT | Qt::Key_S,
        [this] { toggleDesk(surfaces_); }, open, false, [this] { return deskShows(surfaces_); });
    add(
        "table.export", tr("Table to CSV…"), tr("Writes the rows and columns that the table shows"), {},
        [this] { table_->chooseExport(); }, open);
    add(
        "table.import", tr("CSV into the table…"), tr("Shows what a CSV file would change before anything is changed"),
        {},
        [this] {
            if (!deskShows(table_)) toggleDesk(table_);
            table_->chooseImport();
        },
        [this] { return canEdit(); });
    add(
        "kinds.open", tr("Kinds"), tr("What objects can be: their properties, limits, appearances"),
        Qt::ALT | Qt::Key_K,
        [this] {
            auto* window = new KindsWindow(this, editor_);
            const Slot s = hasSelection() ? editor_.scene().find(editor_.selection().back()) : kNoSlot;
            if (s != kNoSlot && editor_.session().library().kind(editor_.scene().kind(s)) != nullptr)
                window->reveal(std::string(editor_.scene().kindText(s)));
            window->show();
        },
        open, true);
    auto tool = [&](const char* id, const QString& text, const QString& tip, const QKeySequence& keys, Tool which,
                    bool separator) {
        add(
            id, text, tip, keys,
            [this, which] {
                editor_.setTool(editor_.tool() == which ? Tool::Slide : which);
                view_->setFocus();
            },
            [this] { return canEdit(); }, separator, [this, which] { return editor_.tool() == which; });
    };
    tool("points.place", tr("Place points"),
         tr("Each click on a surface is a point more: of the selected object, or of a new one"), Qt::ALT | Qt::Key_P,
         Tool::Points, true);
    add(
        "points.collect", tr("Make points of the selection"),
        tr("The selected objects become the points of one object, in their order"), {},
        [this] {
            const auto ids = editor_.selection();
            editor_.run("Points of " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
                auto made = ops::collectPoints(draft, ids);
                if (!made) return tl::unexpected(made.error());
                editor_.session().select({*made});
                return {};
            });
        },
        change);
    add(
        "points.spread", tr("Make objects of the points"),
        tr("At each point an object of the item chosen in the Stock, or a bare one"), {},
        [this] {
            const auto ids = editor_.selection();
            const std::string item = stock_->current().toStdString();
            editor_.run("Objects of points", [&](edit::Draft& draft) -> Status {
                auto made =
                    ops::spreadPoints(draft, ids.front(), item.empty() ? base::Name{} : editor_.session().intern(item));
                if (!made) return tl::unexpected(made.error());
                editor_.session().select(*made);
                return {};
            });
        },
        one);
    tool("zone.draw", tr("Draw a zone"), tr("Click its corners on the ground; Enter or the first corner ends it"),
         Qt::ALT | Qt::Key_Z, Tool::Zone, true);
    auto place = [&](const char* id, const QString& text, const QString& tip, model::Zone::Shape shape) {
        add(
            id, text, tip, {},
            [this, shape] {
                model::Zone zone;
                zone.shape = shape;
                const base::Vec3 at = view_->placeInFront();
                editor_.run("Place a zone", [&](edit::Draft& draft) -> Status {
                    auto made = ops::addZone(draft, zone, at, editor_.entered());
                    if (!made) return tl::unexpected(made.error());
                    editor_.session().select({*made});
                    return {};
                });
            },
            [this] { return canEdit(); });
    };
    place("zone.box", tr("Place a box zone"), tr("In front; pull its sides to size it"), model::Zone::Shape::Box);
    place("zone.sphere", tr("Place a round zone"), tr("In front; pull its shell to size it"),
          model::Zone::Shape::Sphere);
    add(
        "zone.inside", tr("Select what is in the zone"), tr("Objects whose base lies inside the selected zone"), {},
        [this] {
            const model::Scene& scene = editor_.scene();
            const Slot zone = scene.find(editor_.selection().front());
            ops::Ids inside;
            for (Slot s : scene.subtree(kNoSlot))
                if (s != zone && !scene.bounds(s).empty() &&
                    ops::isInZone(scene, zone, scene.bounds(s).baseCentre() + base::Vec3(0, 1e-3, 0)))
                    inside.push_back(scene.id(s));
            if (inside.empty()) return editor_.say(tr("Nothing stands in this zone."));
            editor_.select(ops::topmost(scene, inside));
        },
        [this] {
            if (!editor_.isOpen() || editor_.selection().size() != 1) return false;
            const Slot s = editor_.scene().find(editor_.selection().front());
            return s != kNoSlot && editor_.scene().detail(s) && editor_.scene().detail(s)->zone;
        });
    auto body = [&](const char* id, const QString& text, const QString& tip, model::Body::Shape shape, bool separator) {
        add(
            id, text, tip, {},
            [this, shape, text] {
                const auto ids = editor_.selection();
                editor_.run(text.toStdString() + ": " + ops::describe(editor_.scene(), ids),
                            [&](edit::Draft& draft) -> Status {
                                return ops::changeDetails(draft, ids, [&](Slot, model::Detail& detail) -> Status {
                                    model::Body now = detail.body.value_or(model::Body{});
                                    now.shape = shape;
                                    detail.body = now;
                                    return {};
                                });
                            });
            },
            change, separator);
    };
    body("body.box", tr("Box body"), tr("The selection collides as boxes round its meshes"), model::Body::Shape::Box,
         true);
    body("body.hull", tr("Hull body"), tr("The selection collides as the hulls of its meshes"),
         model::Body::Shape::Hull, false);
    add(
        "body.none", tr("No body"), tr("Takes the bodies of the selection away"), {},
        [this] {
            const auto ids = editor_.selection();
            editor_.run("No body: " + ops::describe(editor_.scene(), ids),
                        [&](edit::Draft& draft) { return ops::setBody(draft, ids, std::nullopt); });
        },
        change);
    add(
        "surfaces.give", tr("Give surfaces to the others"),
        tr("The other selected objects get the surfaces of the one selected first"), {},
        [this] {
            const auto ids = editor_.selection();
            editor_.run(
                "Give surfaces of " + ops::describe(editor_.scene(), {&ids.front(), 1}),
                [&](edit::Draft& draft) { return ops::copySurfaces(draft, ids.front(), std::span(ids).subspan(1)); });
        },
        [this] { return canEdit() && editor_.selection().size() > 1; }, true);
    const std::tuple<const char*, QString, ops::SurfacesGo> ways[] = {
        {"surfaces.map", tr("Replacing an item maps its surfaces"), ops::SurfacesGo::Map},
        {"surfaces.keep", tr("Replacing an item keeps its surfaces"), ops::SurfacesGo::Keep},
        {"surfaces.drop", tr("Replacing an item drops its surfaces"), ops::SurfacesGo::Drop}};
    for (const auto& [id, text, go] : ways)
        add(
            id, text,
            go == ops::SurfacesGo::Map    ? tr("To slots of the same name, then in order")
            : go == ops::SurfacesGo::Keep ? tr("Only slots of the same name show them")
                                          : tr("The new item looks as it is"),
            {}, [this, go = go] { editor_.setSurfacesGo(go); }, {}, false,
            [this, go = go] { return editor_.surfacesGo() == go; });
    add(
        "links.usedBy", tr("Select what links here"), tr("The objects with a link to one of the selection"), {},
        [this] {
            ops::Ids from;
            for (const ops::Link& link : editor_.links())
                if (editor_.isSelected(editor_.scene().find(link.to)) &&
                    std::find(from.begin(), from.end(), link.from) == from.end())
                    from.push_back(link.from);
            if (from.empty()) return editor_.say(tr("Nothing in this scene links to the selection."));
            editor_.select(std::move(from));
        },
        [this] { return hasSelection(); }, true);
    add(
        "links.follow", tr("Select what it links to"), tr("The objects to which links of the selection lead"), {},
        [this] {
            ops::Ids to;
            for (const ops::Link& link : editor_.links())
                if (!link.broken && editor_.isSelected(editor_.scene().find(link.from)) &&
                    std::find(to.begin(), to.end(), link.to) == to.end())
                    to.push_back(link.to);
            if (to.empty()) return editor_.say(tr("The selection links to nothing."));
            editor_.select(std::move(to));
        },
        [this] { return hasSelection(); });
    struct Switch {
        const char* id;
        QString text, tip;
        std::uint8_t flag;
    };
    const Switch switches[] = {
        {"start.unseen", tr("Not seen in play"), tr("The game does not draw it"), model::flags::kUnseen},
        {"start.untouched", tr("Not solid"), tr("Nothing bumps into it in play"), model::flags::kUntouched},
        {"start.absent", tr("Not there at the start"), tr("It is not there until something brings it"),
         model::flags::kAbsent}};
    for (const Switch& s : switches)
        add(
            s.id, s.text, s.tip, {},
            [this, s] {
                const auto ids = editor_.selection();
                const bool on = !allSelected(s.flag);
                editor_.run(s.text.toStdString() + (on ? ": " : ", no more: ") + ops::describe(editor_.scene(), ids),
                            [&](edit::Draft& draft) { return ops::setFlag(draft, ids, s.flag, on); });
            },
            change, s.flag == model::flags::kUnseen, [this, s] { return allSelected(s.flag); });
    connect(surfaces_, &SurfacesPanel::usesAsked, this, [this](const std::string& surface) {
        const auto ids = ops::showing(editor_.scene(), surface);
        if (ids.empty()) return editor_.say(tr("No object of this scene shows it."));
        editor_.select(ids);
    });
}

}  // namespace app
