// What is done to solids: clipped, opened, taken apart, pulled by their parts.
#include "app/commands/all.h"
#include "app/commands/rows.h"
#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/view_widget.h"
#include "edit/session.h"
#include "ops/solid_edit.h"

namespace app {

namespace {

using Outline = model::SolidOpening::Outline;

class SolidCommands : public Rows {
  public:
    explicit SolidCommands(Shell& shell);

  private:
    void openingRow(const char* id, const QString& text, const QString& tip, const QKeySequence& keys, Outline outline);
    void partRows();
    void bodyRows();
    void lookRows();
    model::SolidFace lookOfFace() const;
    ops::Ids solids() const;
    /// Those of the selection, two or more.
    Asked several() {
        return [this] { return canEdit() && solids().size() > 1; };
    }
    Asked some() {
        return [this] { return canEdit() && !solids().empty(); };
    }
    void onSolids(const std::string& what, const std::function<Status(edit::Draft&, const ops::Ids&)>& verb);
    void enterParts();
    void onFace(const std::string& what,
                const std::function<base::Result<ops::SolidPart>(edit::Draft&, const ops::SolidPart&)>& verb);
    const ops::SolidPart* face() const;
    double step() const;
};

ops::Ids SolidCommands::solids() const {
    ops::Ids all;
    if (!editor_.isOpen()) return all;
    for (base::ObjectId id : editor_.selection())
        if (const Slot slot = editor_.scene().find(id); slot != kNoSlot)
            if (const auto* solid = editor_.scene().facet<model::Solid>(slot))
                if (solid->shape != model::Solid::Shape::Plane) all.push_back(id);
    return all;
}

void SolidCommands::onSolids(const std::string& what,
                             const std::function<Status(edit::Draft&, const ops::Ids&)>& verb) {
    const ops::Ids ids = solids();
    editor_.run(what + " " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) { return verb(draft, ids); });
}

/// How far a face is pulled or set in at once.
double SolidCommands::step() const {
    const double metres = editor_.tools().activeSteps().metres;
    return metres > 0 ? metres : 0.25;
}

void SolidCommands::openingRow(const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                               Outline outline) {
    toggle(
        id, text, tip, keys,
        [this, outline] {
            editor_.change(&Tools::opening, outline);
            editor_.setTool(Tool::Opening);
            view().setFocus();
        },
        [this, outline] { return editor_.tools().tool == Tool::Opening && editor_.tools().opening == outline; },
        edits());
}

const ops::SolidPart* SolidCommands::face() const {
    const PartWork& work = editor_.tools().parts;
    const bool one = editor_.tools().tool == Tool::Parts && work.chosen.size() == 1;
    return one && work.chosen[0].kind == ops::SolidPart::Kind::Face ? &work.chosen[0] : nullptr;
}

void SolidCommands::onFace(
    const std::string& what,
    const std::function<base::Result<ops::SolidPart>(edit::Draft&, const ops::SolidPart&)>& verb) {
    if (face() == nullptr) return;
    PartWork work = editor_.tools().parts;
    const ops::SolidPart part = *face();
    const bool done = editor_.run(what, [&](edit::Draft& draft) -> Status {
        auto made = verb(draft, part);
        if (!made) return tl::unexpected(made.error());
        work.chosen = {*made};
        return {};
    });
    if (done) editor_.change(&Tools::parts, work);
}

void SolidCommands::enterParts() {
    const ops::Ids ids = solids();
    if (editor_.tools().tool == Tool::Parts) {
        editor_.setTool(Tool::Slide);
        return editor_.change(&Tools::parts, PartWork{});
    }
    if (ids.size() != 1) return editor_.say(tr("Select one solid to work on its parts."));
    editor_.change(&Tools::parts, PartWork{ids[0], {}});
    editor_.setTool(Tool::Parts);
    view().setFocus();
}

void SolidCommands::partRows() {
    toggle(
        "solid.parts", tr("Parts of the solid"),
        tr("Its faces, edges and corners are selected and pulled; Esc goes out again"), Qt::ALT | Qt::Key_E,
        [this] { enterParts(); }, [this] { return editor_.tools().tool == Tool::Parts; },
        [this] { return canEdit() && (solids().size() == 1 || editor_.tools().tool == Tool::Parts); });
    const auto hasFace = [this] { return canEdit() && face() != nullptr; };
    verb(
        "solid.extrude", tr("Pull out the face"),
        tr("The selected face goes out by a step, as a new piece; by the mouse: drag it with Ctrl"), {},
        [this] {
            onFace("Pull out a face", [this](edit::Draft& draft, const ops::SolidPart& part) {
                return ops::extrude(draft, editor_.tools().parts.of, part, step());
            });
        },
        hasFace);
    verb(
        "solid.inset", tr("Smaller face in the face"),
        tr("The selected face is cut a step inside its edges; the smaller one is selected"), {},
        [this] {
            onFace("Set in a face", [this](edit::Draft& draft, const ops::SolidPart& part) {
                return ops::inset(draft, editor_.tools().parts.of, part, step());
            });
        },
        hasFace);
}

/// Of the first face that is selected; an empty slot: it is as the rest.
model::SolidFace SolidCommands::lookOfFace() const {
    model::SolidFace look;
    if (const ops::SolidPart* part = face())
        for (const model::SolidFace& known :
             editor_.scene().facet<model::Solid>(editor_.scene().find(editor_.tools().parts.of))->faces)
            if (known.tag == part->tag) look = known;
    return look;
}

void SolidCommands::lookRows() {
    verb(
        "solid.takeLook", tr("Take the look of the face"), tr("How the selected face is dressed, for others"), {},
        [this] { editor_.change(&Tools::faceLook, std::optional(lookOfFace())); },
        [this] { return canEdit() && face() != nullptr && !lookOfFace().slot.empty(); });
    verb(
        "solid.giveLook", tr("Give the look to the faces"), tr("The selected faces are dressed as the one taken"), {},
        [this] {
            const PartWork work = editor_.tools().parts;
            const model::SolidFace look = *editor_.tools().faceLook;
            editor_.run("Dress faces", [&](edit::Draft& draft) -> Status {
                for (const ops::SolidPart& part : work.chosen) {
                    if (part.kind != ops::SolidPart::Kind::Face) continue;
                    if (Status done = ops::setFaceSurface(draft, work.of, part.tag, look.slot); !done) return done;
                    if (Status done = ops::dressFace(draft, work.of, part.tag, look); !done) return done;
                }
                return {};
            });
        },
        [this] {
            const Tools& t = editor_.tools();
            return canEdit() && t.tool == Tool::Parts && t.faceLook && !t.parts.chosen.empty();
        });
}

void SolidCommands::bodyRows() {
    verb(
        "solid.subtract", tr("Subtract"),
        tr("What lies in the solid selected last is taken out of the others; it stays"), {},
        [this] {
            ops::Ids ids = solids();
            const base::ObjectId tool = ids.back();
            ids.pop_back();
            editor_.run("Subtract from " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
                return ops::subtract(draft, ids, {&tool, 1});
            });
        },
        several());
    const auto asOne = [this](const char* id, const QString& text, const QString& tip, auto make) {
        verb(
            id, text, tip, {},
            [this, text, make] {
                onSolids(text.toStdString(), [this, make](edit::Draft& draft, const ops::Ids& ids) -> Status {
                    auto made = make(draft, ids);
                    if (!made) return tl::unexpected(made.error());
                    editor_.session().select({*made});
                    return {};
                });
            },
            several());
    };
    asOne("solid.join", tr("Join"), tr("Several solids become one, the first of them"), &ops::join);
    asOne("solid.intersect", tr("Intersect"), tr("What all of them have in common is left, in the first"),
          &ops::intersect);
    verb(
        "solid.hollow", tr("Hollow"), tr("A shell as thick as a step, measured straight in from each face"), {},
        [this] {
            onSolids("Hollow",
                     [this](edit::Draft& draft, const ops::Ids& ids) { return ops::hollow(draft, ids, step()); });
        },
        some());
    verb(
        "solid.plain", tr("Keep as plain faces"),
        tr("The numbers it was made from go; its openings can no more be moved"), {},
        [this] {
            onSolids("Keep as plain faces",
                     [](edit::Draft& draft, const ops::Ids& ids) { return ops::keepAsPlain(draft, ids); });
        },
        some());
    verb(
        "solid.apart", tr("Take into pieces"), tr("One solid of each convex piece"), {},
        [this] {
            onSolids("Take into pieces", [this](edit::Draft& draft, const ops::Ids& ids) -> Status {
                auto made = ops::takePiecesApart(draft, ids);
                if (!made) return tl::unexpected(made.error());
                editor_.session().select(*made);
                return {};
            });
        },
        some());
    verb(
        "solid.merge", tr("Merge pieces"), tr("Pieces that are convex together become one"), {},
        [this] {
            onSolids("Merge pieces of", [](edit::Draft& draft, const ops::Ids& ids) -> Status {
                for (base::ObjectId id : ids)
                    if (Status done = ops::mergePieces(draft, id); !done) return done;
                return {};
            });
        },
        some());
}

SolidCommands::SolidCommands(Shell& shell) : Rows(shell) {
    toggle(
        "solid.clip", tr("Clip"),
        tr("Cut the selected solids by a plane through two or three points; each half is kept or not"),
        Qt::ALT | Qt::Key_X,
        [this] {
            editor_.setTool(editor_.tools().tool == Tool::Clip ? Tool::Slide : Tool::Clip);
            view().setFocus();
        },
        [this] { return editor_.tools().tool == Tool::Clip; }, edits());
    openingRow("solid.opening", tr("Opening"),
               tr("Drag a door or a window on the face of a solid; it stays a part of it"), Qt::ALT | Qt::Key_O,
               Outline::Rectangle);
    openingRow("solid.archOpening", tr("Arched opening"), tr("The same, with a round head"), {}, Outline::Arch);
    openingRow("solid.drawnOpening", tr("Drawn opening"), tr("Its outline is clicked corner by corner"), {},
               Outline::Drawn);
    partRows();
    bodyRows();
    lookRows();
    // Whoever selects something else has gone out of the solid.
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        const bool in = editor_.tools().tool == Tool::Parts;
        if (in && editor_.selection() != std::vector{editor_.tools().parts.of}) editor_.setTool(Tool::Slide);
    });
}

}  // namespace

RowsPtr solidCommands(Shell& shell) {
    return std::make_unique<SolidCommands>(shell);
}

}  // namespace app
