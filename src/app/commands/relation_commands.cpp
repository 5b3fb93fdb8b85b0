// Lasting relations: what stays seated, flush, at a distance or facing when others move.
#include <QMenu>

#include "app/commands/all.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "ops/relations.h"

namespace app {
namespace {

using What = model::Relation::What;

class RelationCommands : public Rows {
  public:
    explicit RelationCommands(Shell& shell);

  private:
    void relate(What what);
    void breakOne();
};

RelationCommands::RelationCommands(Shell& shell) : Rows(shell) {
    verb(
        "stay.seated", tr("Stay seated"),
        tr("Each selected object stays on what it stands on: it goes along when that is moved, and down onto what is "
           "below it when it is moved itself"),
        {}, [this] { relate(What::Seated); }, changes());
    const auto two = [this] { return canEdit() && editor_.isOpen() && editor_.selection().size() > 1; };
    for (const auto& [id, text, tip, what] :
         {std::tuple{"stay.flush", tr("Stay flush"),
                     tr("The others keep the side that is nearest in line with the one selected last"), What::Flush},
          {"stay.distance", tr("Keep the distance"),
           tr("The others stay as far from the one selected last as they are"), What::Distance},
          {"stay.facing", tr("Keep looking at"), tr("The others turn to the one selected last wherever it goes"),
           What::Facing}})
        verb(
            id, text, tip, {}, [this, what = what] { relate(what); }, two);
    verb(
        "stay.break", tr("Break a relation…"), tr("Which of the relations of the selection is to end"), {},
        [this] { breakOne(); },
        [this] {
            if (!canEdit() || !hasSelection()) return false;
            const auto& related = editor_.relatedObjects();
            const auto& ids = editor_.selection();
            return std::any_of(ids.begin(), ids.end(), [&](base::ObjectId id) { return related.contains(id); });
        });
}

void RelationCommands::relate(What what) {
    if (editor_.sight().index() == nullptr) return editor_.say(tr("The scene is still being taken in."));
    auto ids = editor_.selection();
    const base::ObjectId to = what == What::Seated ? base::ObjectId{} : ids.back();
    if (what != What::Seated) ids.pop_back();
    const std::string verbs[] = {"Stay seated: ", "Stay flush: ", "Keep the distance: ", "Keep looking: "};
    std::string last;
    const bool done =
        editor_.run(verbs[static_cast<std::size_t>(what)] + ops::describe(editor_.scene(), ids),
                    [&](edit::Draft& draft) -> base::Status {
                        for (base::ObjectId id : ids)
                            if (auto made = ops::relate(draft, *editor_.sight().index(), id, what, to); !made)
                                return made;
                        return {};
                    });
    if (!done) return;
    const auto& relations = editor_.scene().facet<model::Relations>(editor_.scene().find(ids.front()));
    if (relations && ids.size() == 1)
        editor_.say(
            tr("It stays %1.").arg(QString::fromStdString(ops::relationText(editor_.scene(), relations->all.back()))));
}

/// By id and number: what the menu was opened on may be gone by then.
void RelationCommands::breakOne() {
    QMenu* menu = openMenu(over());
    for (base::ObjectId id : editor_.selection()) {
        const model::Slot slot = editor_.scene().find(id);
        if (slot == model::kNoSlot || !editor_.scene().facet<model::Relations>(slot)) continue;
        const auto& all = editor_.scene().facet<model::Relations>(slot)->all;
        for (std::size_t i = 0; i < all.size(); ++i) {
            const model::Relation relation = all[i];
            menu->addAction(QString("%1: %2").arg(toQt(editor_.scene().nameText(slot)),
                                                  QString::fromStdString(ops::relationText(editor_.scene(), relation))),
                            this, [this, id, i, relation] {
                                const model::Slot now = editor_.scene().find(id);
                                const bool same = now != model::kNoSlot &&
                                                  editor_.scene().facet<model::Relations>(now) &&
                                                  i < editor_.scene().facet<model::Relations>(now)->all.size() &&
                                                  editor_.scene().facet<model::Relations>(now)->all[i] == relation;
                                if (!same) return editor_.say(tr("That relation is gone already."));
                                editor_.run("Break a relation of " + ops::describe(editor_.scene(), {&id, 1}),
                                            [&](edit::Draft& draft) { return ops::unrelate(draft, id, i); });
                            });
        }
    }
    menu->popup(QCursor::pos());
}

}  // namespace

RowsPtr relationCommands(Shell& shell) {
    return std::make_unique<RelationCommands>(shell);
}

}  // namespace app
