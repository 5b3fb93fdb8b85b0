#include "app/commands/kept.h"

#include "app/dialogs/kept_popover.h"
#include "app/kit/parts.h"
#include "app/shell/main_window.h"
#include "app/view/view_widget.h"

namespace app {

void goToView(Shell& shell, const QString& name) {
    for (const model::Bookmark& b : shell.editor.scene().settings().bookmarks)
        if (toQt(b.name) == name) {
            render::Camera camera = render::Camera::looking(b.from, b.to);
            camera.heightMetres = b.heightMetres;
            if (b.heightMetres > 0 && std::abs(b.to.y - b.from.y) > 0.999) {
                camera.pitchDegrees = b.to.y < b.from.y ? -90 : 90;
                camera.yawDegrees = 0;
            }
            shell.view().eye().jumpTo(camera);
        }
}

void takeUpSelection(Shell& shell, const QString& name) {
    for (const model::SavedSelection& kept : shell.editor.scene().settings().selections) {
        if (QString::fromStdString(kept.name) != name) continue;
        std::vector<base::ObjectId> ids;
        for (base::ObjectId id : kept.ids)
            if (shell.editor.scene().find(id) != model::kNoSlot) ids.push_back(id);
        if (const std::size_t gone = kept.ids.size() - ids.size(); gone > 0)
            shell.editor.say(Rows::tr("%1 of it no longer exist.").arg(gone));
        shell.editor.select(std::move(ids));
        shell.view().pulse().start();
    }
}

void showKept(Shell& shell, ops::Kept what) {
    const bool views = what == ops::Kept::Views;
    auto names = [&shell, views] {
        QStringList all;
        const model::SceneSettings& s = shell.editor.scene().settings();
        if (views)
            for (const auto& b : s.bookmarks) all << toQt(b.name);
        else
            for (const auto& k : s.selections) all << toQt(k.name);
        return all;
    };
    auto run = [&shell](const QString& verb, const QString& name,
                        const std::function<base::Status(edit::Draft&)>& act) {
        return shell.editor.run((verb + " " + name).toStdString(), act);
    };
    new KeptPopover(
        &shell.window, views ? Rows::tr("Views kept with this scene") : Rows::tr("Selections kept with this scene"),
        views ? Rows::tr("None yet. “Keep this view” adds the one you are looking from.")
              : Rows::tr("None yet. “Keep this selection” adds what is selected."),
        {views ? Rows::tr("Go there") : Rows::tr("Select"), names,
         [&shell, views](const QString& name) { views ? goToView(shell, name) : takeUpSelection(shell, name); },
         [run, what](const QString& name, const QString& to) {
             return run("Rename", name,
                        [&](edit::Draft& d) { return ops::renameKept(d, what, name.toStdString(), to.toStdString()); });
         },
         [run, what](const QString& name) {
             run("Remove", name, [&](edit::Draft& d) { return ops::dropKept(d, what, name.toStdString()); });
         }});
}

}  // namespace app
