// What objects are and what goes with them: the desk’s pages, kinds, surfaces, points, zones, bodies.
#include "app/commands/all.h"
#include "app/commands/docked.h"
#include "app/dialogs/kinds_window.h"
#include "app/dialogs/records_window.h"
#include "app/names.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/tools.h"
#include "app/view/view_widget.h"
#include "edit/session.h"
#include "model/facets/body.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "ops/objects.h"
#include "ops/properties.h"
#include "ops/surfaces.h"

namespace app {

namespace {

class ObjectCommands : public Rows {
  public:
    explicit ObjectCommands(Shell& shell);

  private:
    void tool(const char* id, const QString& text, const QString& tip, const QKeySequence& keys, Tool which);
    void addDesk();
    void addPoints();
    void addZones();
    void addBodies();
    void addSurfaces();
    void addLinks();
    void addStart();
};

ObjectCommands::ObjectCommands(Shell& shell) : Rows(shell) {
    addDesk();
    addPoints();
    addZones();
    addBodies();
    addSurfaces();
    addLinks();
    addStart();
}

void ObjectCommands::addDesk() {
    toggle(
        "desk.table", tr("Table"), tr("All objects as rows, to be sorted, filtered and changed by the hundred"),
        Qt::ALT | Qt::Key_T, [this] { shell_.toggleDesk(shell_.table); },
        [this] { return shell_.deskShows(shell_.table); }, open());
    toggle(
        "desk.surfaces", tr("Surfaces"), tr("The project’s surfaces, to be dragged onto objects"), Qt::ALT | Qt::Key_S,
        [this] { shell_.toggleDesk(shell_.surfaces); }, [this] { return shell_.deskShows(shell_.surfaces); }, open());
    verb(
        "table.export", tr("Table to CSV…"), tr("Writes the rows and columns that the table shows"), {},
        [this] { shell_.table.chooseExport(); }, open());
    verb(
        "table.import", tr("CSV into the table…"), tr("Shows what a CSV file would change before anything is changed"),
        {},
        [this] {
            if (!shell_.deskShows(shell_.table)) shell_.toggleDesk(shell_.table);
            shell_.table.chooseImport();
        },
        edits());
    verb(
        "kinds.open", tr("Kinds"), tr("What objects can be: their properties, limits, appearances"),
        Qt::ALT | Qt::Key_K,
        [this] {
            KindsWindow& kinds = openKinds(shell_);
            const Slot s = hasSelection() ? editor_.scene().find(editor_.selection().back()) : kNoSlot;
            if (s != kNoSlot && editor_.session().library().kind(editor_.scene().kind(s)) != nullptr)
                kinds.reveal(std::string(editor_.scene().kindText(s)));
        },
        open());
}

/// A tool is put away by the command that takes it in the hand.
void ObjectCommands::tool(const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                          Tool which) {
    toggle(
        id, text, tip, keys,
        [this, which] {
            editor_.setTool(editor_.tools().tool == which ? Tool::Slide : which);
            view().setFocus();
        },
        [this, which] { return editor_.tools().tool == which; }, edits());
}

void ObjectCommands::addPoints() {
    tool("points.place", tr("Place points"),
         tr("Each click on a surface is a point more: of the selected object, or of a new one"), Qt::ALT | Qt::Key_P,
         Tool::Points);
    verb(
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
        changes());
    verb(
        "points.spread", tr("Make objects of the points"),
        tr("At each point an object of the item chosen in the Stock, or a bare one"), {},
        [this] {
            const auto ids = editor_.selection();
            const std::string item = shell_.stock.current().toStdString();
            editor_.run("Objects of points", [&](edit::Draft& draft) -> Status {
                auto made =
                    ops::spreadPoints(draft, ids.front(), item.empty() ? base::Name{} : editor_.session().intern(item));
                if (!made) return tl::unexpected(made.error());
                editor_.session().select(*made);
                return {};
            });
        },
        [this] { return canEdit() && editor_.selection().size() == 1; });
}

void ObjectCommands::addZones() {
    tool("zone.draw", tr("Draw a zone"), tr("Click its corners on the ground; Enter or the first corner ends it"),
         Qt::ALT | Qt::Key_Z, Tool::Zone);
    auto place = [&](const char* id, const QString& text, const QString& tip, model::Zone::Shape shape) {
        verb(
            id, text, tip, {},
            [this, shape] {
                model::Zone zone;
                zone.shape = shape;
                const base::Vec3 at = view().placeInFront();
                editor_.run("Place a zone", [&](edit::Draft& draft) -> Status {
                    auto made = ops::addZone(draft, zone, at, editor_.entered());
                    if (!made) return tl::unexpected(made.error());
                    editor_.session().select({*made});
                    return {};
                });
            },
            edits());
    };
    place("zone.box", tr("Place a box zone"), tr("In front; pull its sides to size it"), model::Zone::Shape::Box);
    place("zone.sphere", tr("Place a round zone"), tr("In front; pull its shell to size it"),
          model::Zone::Shape::Sphere);
    verb(
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
            return s != kNoSlot && editor_.scene().facet<model::Zone>(s);
        });
}

void ObjectCommands::addBodies() {
    auto body = [&](const char* id, const QString& text, const QString& tip, model::Body::Shape shape) {
        verb(
            id, text, tip, {},
            [this, shape, text] {
                const auto ids = editor_.selection();
                editor_.run(text.toStdString() + ": " + ops::describe(editor_.scene(), ids),
                            [&](edit::Draft& draft) -> Status {
                                return ops::changeDetails(draft, ids, [&](Slot, model::Detail& detail) -> Status {
                                    model::Body now = detail.copy<model::Body>().value_or(model::Body{});
                                    now.shape = shape;
                                    detail.put(now);
                                    return {};
                                });
                            });
            },
            changes());
    };
    body("body.box", tr("Box body"), tr("The selection collides as boxes round its meshes"), model::Body::Shape::Box);
    body("body.hull", tr("Hull body"), tr("The selection collides as the hulls of its meshes"),
         model::Body::Shape::Hull);
    verb(
        "body.none", tr("No body"), tr("Takes the bodies of the selection away"), {},
        [this] {
            const auto ids = editor_.selection();
            editor_.run("No body: " + ops::describe(editor_.scene(), ids),
                        [&](edit::Draft& draft) { return ops::setBody(draft, ids, std::nullopt); });
        },
        changes());
}

void ObjectCommands::addSurfaces() {
    verb(
        "surfaces.give", tr("Give surfaces to the others"),
        tr("The other selected objects get the surfaces of the one selected first"), {},
        [this] {
            const auto ids = editor_.selection();
            editor_.run(
                "Give surfaces of " + ops::describe(editor_.scene(), {&ids.front(), 1}),
                [&](edit::Draft& draft) { return ops::copySurfaces(draft, ids.front(), std::span(ids).subspan(1)); });
        },
        [this] { return canEdit() && editor_.selection().size() > 1; });
    const std::tuple<const char*, QString, ops::SurfacesGo> ways[] = {
        {"surfaces.map", tr("Replacing an item maps its surfaces"), ops::SurfacesGo::Map},
        {"surfaces.keep", tr("Replacing an item keeps its surfaces"), ops::SurfacesGo::Keep},
        {"surfaces.drop", tr("Replacing an item drops its surfaces"), ops::SurfacesGo::Drop}};
    for (const auto& [id, text, go] : ways)
        choice(id, text,
               go == ops::SurfacesGo::Map    ? tr("To slots of the same name, then in order")
               : go == ops::SurfacesGo::Keep ? tr("Only slots of the same name show them")
                                             : tr("The new item looks as it is"),
               {}, &Tools::surfacesGo, go);
}

void ObjectCommands::addLinks() {
    verb(
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
        selected());
    verb(
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
        selected());
}

void ObjectCommands::addStart() {
    struct Switch {
        const char* id;
        QString text, tip;
        std::uint8_t flag;
    };
    const Switch switches[] = {
        {"start.unseen", tr("Seen in play"), tr("The game draws it"), model::flags::kUnseen},
        {"start.untouched", tr("Solid in play"), tr("Things bump into it"), model::flags::kUntouched},
        {"start.absent", tr("Exists at the start"), tr("Without this it is not there until something brings it"),
         model::flags::kAbsent}};
    // They are kept as what is not so: an object is seen, solid and there unless it says otherwise.
    const auto anyHas = [this](std::uint8_t flag) {
        const auto& ids = editor_.selection();
        return std::any_of(ids.begin(), ids.end(), [&](base::ObjectId id) {
            const Slot s = editor_.scene().find(id);
            return s != kNoSlot && (editor_.scene().flagsOf(s) & flag) != 0;
        });
    };
    for (const Switch& s : switches)
        toggle(
            s.id, s.text, s.tip, {},
            [this, s, anyHas] {
                const auto ids = editor_.selection();
                const bool so = anyHas(s.flag);
                editor_.run(s.text.toStdString() + (so ? ": " : ", no more: ") + ops::describe(editor_.scene(), ids),
                            [&](edit::Draft& draft) { return ops::setFlag(draft, ids, s.flag, !so); });
            },
            [this, s, anyHas] { return hasSelection() && editor_.isOpen() && !anyHas(s.flag); }, changes());
    connect(&shell_.surfaces, &SurfacesPanel::usesAsked, this, [this](const std::string& surface) {
        const auto ids = ops::showing(editor_.scene(), surface);
        if (ids.empty()) return editor_.say(tr("No object of this scene shows it."));
        editor_.select(ids);
    });
}

}  // namespace

RowsPtr objectCommands(Shell& shell) {
    return std::make_unique<ObjectCommands>(shell);
}

}  // namespace app
