#include "app/commands/rows.h"
#include "edit/session.h"

namespace app {

/// What a command needs that is off, for tips and for who looks for it.
QString whyNot(const Shell& shell, const Command& command) {
    if (!command.enabled || command.enabled()) return {};
    if (!shell.editor.isOpen()) return Rows::tr("needs an open project");
    static const std::pair<const char*, QString> needs[] = {
        {"edit.undo", Rows::tr("there is nothing to undo")},
        {"edit.redo", Rows::tr("there is nothing to redo")},
        {"edit.paste", Rows::tr("nothing was copied")},
        {"edit.copyAgain", Rows::tr("needs a copy that was pulled with Ctrl")},
        {"edit.goOn", Rows::tr("needs two like things, placed or copied one after the other")},
        {"prefab.editHere", Rows::tr("needs one selected instance")},
        {"prefab.takeApart", Rows::tr("needs selected instances")},
        {"prefab.takeAllApart", Rows::tr("needs selected instances")},
        {"prefab.swap", Rows::tr("needs selected instances, and a prefab chosen in the Stock")},
        {"prefab.open", Rows::tr("needs an instance, or a prefab chosen in the Stock")},
        {"prefab.edition", Rows::tr("needs an instance, or a prefab chosen in the Stock")},
        {"prefab.back", Rows::tr("needs a prefab that was opened alone")},
        {"stock.", Rows::tr("needs an item chosen in the Stock")},
        {"look.through", Rows::tr("needs one selected camera")},
        {"look.setCamera", Rows::tr("needs one selected camera")},
        {"zone.inside", Rows::tr("needs one selected zone")},
        {"points.spread", Rows::tr("needs an object with points")},
        {"arrange.gaps", Rows::tr("needs three objects or more")},
        {"arrange.centres", Rows::tr("needs three objects or more")},
        {"checks.mend", Rows::tr("needs a finding that has a fix")},
        {"checks.accept", Rows::tr("needs a finding")},
        {"scripts.", Rows::tr("needs a script, or what one has shown")},
        {"view.copyMeasure", Rows::tr("needs something measured")},
        {"draw.broom", Rows::tr("needs the broom")},
        {"rehearse.lookLast", Rows::tr("nothing was rehearsed yet")},
        {"rehearse.replay", Rows::tr("nothing was rehearsed yet")},
        {"rehearse.craft", Rows::tr("not while the scene is played")},
        {"rehearse.", Rows::tr("needs a rehearsal")}};
    for (const auto& [id, what] : needs)
        if (command.id.startsWith(QLatin1String(id))) return what;
    if (!shell.editor.session().readOnlyReason().empty())
        return QString::fromStdString(shell.editor.session().readOnlyReason());
    return shell.editor.selection().empty() ? Rows::tr("needs a selection") : Rows::tr("not for what is selected");
}

}  // namespace app
