// Editing: undo, clipboard, copies, flags, letting go.
#include <QApplication>
#include <QClipboard>
#include <QMenu>
#include <algorithm>

#include "app/commands/all.h"
#include "app/dialogs/script_card.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/history_strip.h"
#include "app/panels/roster_panel.h"
#include "app/shell/asking.h"
#include "app/shell/main_window.h"
#include "app/view/looks.h"
#include "app/view/view_widget.h"
#include "edit/session.h"
#include "io/copy_text.h"
#include "model/facets/tint.h"
#include "ops/objects.h"

namespace app {

namespace {

class EditCommands : public Rows {
  public:
    explicit EditCommands(Shell& shell);

  private:
    void copy();
    void cut();
    void paste();
    void duplicate();
    void removeSelected();
    void flagSelected(std::uint8_t flag, const char* name);
    void clearFlag(std::uint8_t flag, const char* name);
    void toggleTint();
    void escape();
};

EditCommands::EditCommands(Shell& shell) : Rows(shell) {
    verb(
        "edit.undo", tr("Undo"), tr("Undoes the last step"), QKeySequence::Undo,
        [this] { editor_.report(editor_.session().undo()); },
        [this] { return canEdit() && editor_.session().history().undoTarget().has_value(); });
    commands_->add({"edit.redo",
                    tr("Redo"),
                    tr("Does the undone step again"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_Z,
                    [this] { editor_.report(editor_.session().redo()); },
                    [this] { return canEdit() && editor_.session().history().redoTarget().has_value(); },
                    {},
                    Qt::CTRL | Qt::Key_Y});
    verb(
        "edit.cut", tr("Cut"), tr("Removes the selection and keeps it in the clipboard"), QKeySequence::Cut,
        [this] { cut(); }, changes());
    verb(
        "edit.copy", tr("Copy"), tr("Puts the selection into the clipboard, as text"), QKeySequence::Copy,
        [this] { copy(); }, selected());
    verb(
        "edit.paste", tr("Paste"), tr("Puts what is in the clipboard under the pointer"), QKeySequence::Paste,
        [this] { paste(); }, edits());
    verb(
        "edit.duplicate", tr("Duplicate"), tr("Copies the selection in place"), Qt::CTRL | Qt::Key_D,
        [this] { duplicate(); }, changes());
    verb(
        "edit.delete", tr("Delete"), tr("Removes the selection with all below it"), QKeySequence::Delete,
        [this] { removeSelected(); }, changes());
    verb(
        "edit.rename", tr("Rename"), tr("Edits the name in the Roster"), Qt::Key_F2,
        [this] { shell_.roster.renameSelected(); }, changes());
    verb(
        "edit.escape", tr("Let go"), tr("Takes back what the mouse is doing, stops placing, then selects nothing"),
        Qt::Key_Escape, [this] { escape(); }, open());
    verb(
        "edit.protect", tr("Protect"), tr("Locks the selection against moving and removing"), Qt::Key_J,
        [this] { flagSelected(model::flags::kProtected, "Protect"); }, changes());
    verb(
        "edit.releaseAll", tr("Release all"), tr("Unlocks everything that is protected"), Qt::SHIFT | Qt::Key_J,
        [this] { clearFlag(model::flags::kProtected, "Release all"); },
        [this] { return canEdit() && editor_.protectedCount() > 0; });
    verb(
        "edit.hide", tr("Hide"), tr("Does not draw the selection while editing"), Qt::Key_K,
        [this] { flagSelected(model::flags::kHidden, "Hide"); }, changes());
    verb(
        "edit.tint", tr("Tint"),
        tr("Multiplies the colours of the selection with one that Properties then shows; again: as they are"), {},
        [this] { toggleTint(); }, changes());
    verb(
        "edit.showAll", tr("Show all"), tr("Draws everything that is hidden again"), Qt::SHIFT | Qt::Key_K,
        [this] { clearFlag(model::flags::kHidden, "Show all"); },
        [this] { return canEdit() && editor_.hiddenCount() > 0; });
    toggle(
        "edit.alone", tr("Show alone"),
        tr("Shows nothing but the selection, to work on it undisturbed; again: everything"), Qt::Key_I,
        [this] { editor_.toggleAlone(); }, [this] { return editor_.isOpen() && editor_.isAlone(); },
        [this] { return editor_.isOpen() && (editor_.isAlone() || hasSelection()); });
}

void EditCommands::copy() {
    if (!hasSelection()) return;
    QApplication::clipboard()->setText(
        QString::fromStdString(io::copyText(editor_.scene(), ops::topmost(editor_.scene(), editor_.selection()))));
    editor_.say(tr("%1 copied.").arg(QString::fromStdString(ops::describe(editor_.scene(), editor_.selection()))));
}

void EditCommands::cut() {
    if (!hasSelection()) return;
    const auto ids = editor_.selection();
    const std::string text = io::copyText(editor_.scene(), ops::topmost(editor_.scene(), ids));
    const bool done = editor_.run("Cut " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        editor_.session().select({});
        return ops::remove(draft, ids);
    });
    if (done) QApplication::clipboard()->setText(QString::fromStdString(text));
}

void EditCommands::paste() {
    auto objects =
        io::parseCopyText(QApplication::clipboard()->text().toStdString(), editor_.session().project().names);
    if (!objects) {
        editor_.report(tl::unexpected(objects.error()));
        return;
    }
    if (objects->empty()) return;
    base::Aabb points;
    for (const model::ObjectRecord& r : *objects)
        if (!r.parent) points.add(r.local.position);
    base::Vec3 by(0.0);
    if (view().pointerInside())
        if (const auto place = view().context().landingUnder(view().context().pointer))
            by = *place - points.baseCentre();
    const std::string name = objects->size() == 1
                                 ? "Paste " + std::string(editor_.session().names().text(objects->front().name))
                                 : "Paste " + std::to_string(objects->size()) + " objects";
    editor_.run(name, [&](edit::Draft& draft) -> Status {
        auto made = ops::insert(draft, std::move(*objects), editor_.entered(), by);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

void EditCommands::duplicate() {
    const auto ids = editor_.selection();
    editor_.run("Duplicate " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        auto made = ops::duplicate(draft, ids);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

void EditCommands::removeSelected() {
    const auto ids = editor_.selection();
    editor_.run("Delete " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        Status done = ops::remove(draft, ids);
        if (done) editor_.session().select({});
        return done;
    });
}

void EditCommands::flagSelected(std::uint8_t flag, const char* name) {
    const auto ids = editor_.selection();
    editor_.run(std::string(name) + " " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        Status done = ops::setFlag(draft, ids, flag, true);
        if (done) editor_.session().select({});
        return done;
    });
}

void EditCommands::clearFlag(std::uint8_t flag, const char* name) {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && (scene.flagsOf(s) & flag) != 0) ids.push_back(scene.id(s));
    editor_.run(name, [&](edit::Draft& draft) { return ops::setFlag(draft, ids, flag, false); });
}

void EditCommands::toggleTint() {
    const auto ids = editor_.selection();
    const model::Scene& scene = editor_.scene();
    const bool tinted = std::all_of(ids.begin(), ids.end(), [&](base::ObjectId id) {
        const auto& detail = scene.detail(scene.find(id));
        return detail && detail->get<model::Tint>();
    });
    constexpr double kFirst = 0.8;  // enough to be seen
    std::optional<base::Vec3> tint;
    if (!tinted) tint = base::Vec3(kFirst);
    editor_.run((tinted ? "Take the tint from " : "Tint ") + ops::describe(scene, ids),
                [&](edit::Draft& draft) { return ops::setTint(draft, ids, tint); });
}

void EditCommands::escape() {
    // What lies over the window goes first: the key is this command's before it is the card's.
    for (QFrame* card : shell_.window.findChildren<QFrame*>())
        if (card->isVisible() && (card->objectName() == "popover" || card->objectName() == "planCard")) {
            card->close();
            return view().setFocus();
        }
    auto* form = shell_.window.findChild<ScriptCard*>();
    if (form != nullptr && !editor_.asking().asks() && !view().isDragging()) {
        form->close();
        return view().setFocus();
    }
    if (auto* strip = shell_.window.findChild<HistoryStrip*>(); strip != nullptr && strip->cancel()) return;
    if (editor_.scripts().preview() && !view().isDragging()) return editor_.scripts().dropPreview();
    if (view().cancel() && editor_.placing().empty()) return;
    if (!editor_.placing().empty()) return editor_.setPlacing({});
    if (editor_.looks().clean) return commands_->action("look.clean")->trigger();
    if (editor_.entered() && editor_.selection().empty()) return editor_.leave();
    if (editor_.selection().empty()) editor_.scripts().clearMarks();
    editor_.select({});
}

}  // namespace

RowsPtr editCommands(Shell& shell) {
    return std::make_unique<EditCommands>(shell);
}

}  // namespace app
