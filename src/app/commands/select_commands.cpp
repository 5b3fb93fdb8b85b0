// Selecting: shapes, likes, what is selected, selections that are kept.
#include <QMenu>
#include <unordered_set>

#include "app/commands/all.h"
#include "app/commands/kept.h"
#include "app/dialogs/popovers.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/main_window.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/panes.h"
#include "app/view/view_widget.h"
#include "ops/keep.h"
#include "ops/standing.h"

namespace app {

namespace {

class SelectCommands : public Rows {
  public:
    explicit SelectCommands(Shell& shell);

  private:
    void keepSelection();
    void showSelected();
    void invertSelection();
    void selectAround(bool outward);
    void selectAll();
    void selectStanding();
    void selectNextOfKind();
    void selectLike(const QString& what, const std::function<bool(model::Slot like, model::Slot other)>& same);
};

SelectCommands::SelectCommands(Shell& shell) : Rows(shell) {
    verb(
        "edit.selectAll", tr("Select all"),
        tr("Selects everything at the top of the tree that is neither hidden nor protected"), QKeySequence::SelectAll,
        [this] { selectAll(); }, open());
    verb(
        "select.standing", tr("What stands on it"),
        tr("Also selects what stands on the selection, and on that in turn, by what others bump into"), {},
        [this] { selectStanding(); }, selected());
    const std::tuple<const char*, QString, QString, SelectShape> shapes[] = {
        {"edit.selectBox", tr("Select by box"), tr("A drag over nothing draws a box"), SelectShape::Box},
        {"edit.selectCircle", tr("Select by circle"), tr("A drag over nothing draws a circle from its middle"),
         SelectShape::Circle},
        {"edit.selectLasso", tr("Select by lasso"), tr("A drag over nothing goes round what it selects"),
         SelectShape::Lasso}};
    for (const auto& [id, text, tip, shape] : shapes)
        toggle(
            id, text, tip, {},
            [this, shape = shape] {
                Selecting how = editor_.tools().selecting;
                how.shape = shape;
                editor_.change(&Tools::selecting, how);
            },
            [this, shape = shape] { return editor_.tools().selecting.shape == shape; });
    toggle(
        "edit.selectWhole", tr("Select only what is wholly inside"),
        tr("Otherwise what the shape touches is selected too"), {},
        +[](Tools& t) -> bool& { return t.selecting.whole; });
    toggle(
        "edit.selectThrough", tr("Select through"),
        tr("Also what lies behind other things; otherwise only what can be seen"), {},
        +[](Tools& t) -> bool& { return t.selecting.through; });
    verb(
        "edit.sameKind", tr("Select the same kind"),
        tr("Everything of the kinds in the selection that is neither hidden nor protected"), {},
        [this] {
            const model::Scene& scene = editor_.scene();
            selectLike(tr("kind"), [&](model::Slot a, model::Slot b) { return scene.kind(a) == scene.kind(b); });
        },
        selected());
    verb(
        "select.nextOfKind", tr("Next of this kind"), tr("Selects the next object of the same kind, and shows it"),
        Qt::ALT | Qt::Key_Down, [this] { selectNextOfKind(); }, selected());
    verb(
        "edit.sameItem", tr("Select the same item"),
        tr("Everything made of the items in the selection that is neither hidden nor protected"), {},
        [this] {
            const model::Scene& scene = editor_.scene();
            selectLike(tr("item"),
                       [&](model::Slot a, model::Slot b) { return scene.item(a) && scene.item(a) == scene.item(b); });
        },
        selected());
    verb(
        "select.group", tr("Select the group"), tr("What the selection is part of instead of it"),
        Qt::CTRL | Qt::Key_Up, [this] { selectAround(true); }, selected());
    verb(
        "select.inside", tr("Select what is inside"),
        tr("What the selected groups hold, one level down, instead of them"), Qt::CTRL | Qt::Key_Down,
        [this] { selectAround(false); }, selected());
    verb(
        "select.what", tr("What is selected"), tr("Shows where it is and lists it"), Qt::Key_O,
        [this] { showSelected(); }, selected());
    verb(
        "select.others", tr("Select the others"), tr("What is not selected at the top of the tree instead of what is"),
        {}, [this] { invertSelection(); }, open());
    verb(
        "select.keep", tr("Keep this selection…"), tr("Keeps it under a name, with the scene"), Qt::CTRL | Qt::Key_K,
        [this] { keepSelection(); }, [this] { return canEdit() && hasSelection(); });
    verb(
        "select.kept", tr("Selections kept…"), tr("Takes one up again, renames or removes it"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_K, [this] { showKept(shell_, ops::Kept::Selections); }, open());
}

/// In the Roster's order, and round.
void SelectCommands::selectNextOfKind() {
    const model::Scene& scene = editor_.scene();
    const model::Slot from = scene.find(editor_.selection().back());
    model::Slot first = model::kNoSlot, next = model::kNoSlot;
    bool passed = false;
    for (const model::Slot s : scene.subtree(model::kNoSlot)) {
        if (s == from) {
            passed = true;
            continue;
        }
        if (scene.kind(s) != scene.kind(from) || !editor_.isPickable(s)) continue;
        if (first == model::kNoSlot) first = s;
        if (passed && next == model::kNoSlot) next = s;
    }
    const model::Slot to = next != model::kNoSlot ? next : first;
    if (to == model::kNoSlot) return editor_.say(tr("There is no other of this kind."));
    editor_.select({scene.id(to)});
    shell_.panes.active().eye().showSelection();
}

void SelectCommands::keepSelection() {
    const auto& kept = editor_.scene().settings().selections;
    new NamePopover(over(), tr("Keep this selection as"), tr("Keep"), tr("Selection %1").arg(kept.size() + 1), {},
                    [this](const QString& name, const QString&) {
                        const model::SavedSelection all{name.toStdString(), editor_.selection(), {}};
                        const bool done = editor_.run("Keep selection " + all.name, [&](edit::Draft& draft) {
                            return ops::keepSelection(draft, all);
                        });
                        return done ? QString() : tr("It could not be kept under this name.");
                    });
}

/// A pulse at each, and a list; a name selects that one alone and brings it into view.
void SelectCommands::showSelected() {
    view().pulse().start();
    constexpr std::size_t kMost = 40;
    QMenu* menu = openMenu(over());
    const auto& ids = editor_.selection();
    menu->addSection(counted(ids.size(), tr("object selected"), tr("objects selected")));
    for (std::size_t i = 0; i < std::min(ids.size(), kMost); ++i) {
        const model::Slot s = editor_.scene().find(ids[i]);
        if (s == model::kNoSlot) continue;
        const auto name = editor_.scene().nameText(s);
        menu->addAction(toQt(name), this, [this, id = ids[i]] {
            editor_.select({id});
            view().eye().showSelection();
        });
    }
    if (ids.size() > kMost) menu->addAction(tr("and %1 more").arg(ids.size() - kMost))->setEnabled(false);
    auto* counts = shell_.window.findChild<QLabel*>("sceneCounts");
    menu->popup(counts->mapToGlobal(QPoint(0, -menu->sizeHint().height())));
}

void SelectCommands::invertSelection() {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    for (model::Slot s = scene.firstChild(model::kNoSlot); s != model::kNoSlot; s = scene.nextSibling(s))
        if (scene.flagsOf(s) == 0 && !editor_.isSelected(s)) ids.push_back(scene.id(s));
    editor_.select(std::move(ids));
}

/// The parents of what is selected, or its children; those without stay.
void SelectCommands::selectAround(bool outward) {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    std::unordered_set<model::Slot> taken;
    auto take = [&](model::Slot s) {
        if (taken.insert(s).second) ids.push_back(scene.id(s));
    };
    for (base::ObjectId id : editor_.selection()) {
        const model::Slot s = scene.find(id);
        if (s == model::kNoSlot) continue;
        const model::Slot to = outward ? scene.parent(s) : scene.firstChild(s);
        if (to == model::kNoSlot) take(s);
        for (model::Slot k = to; k != model::kNoSlot; k = outward ? model::kNoSlot : scene.nextSibling(k)) take(k);
    }
    editor_.select(std::move(ids));
}

void SelectCommands::selectStanding() {
    if (editor_.sight().index() == nullptr) return editor_.say(tr("The scene is still being taken in."));
    auto ids = editor_.selection();
    const auto standing = ops::standingOn(editor_.scene(), *editor_.sight().index(), ids);
    if (standing.empty()) return editor_.say(tr("Nothing stands on it."));
    ids.insert(ids.begin(), standing.begin(), standing.end());  // the one selected last stays that
    editor_.select(std::move(ids));
}

void SelectCommands::selectAll() {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    // Inside a group: all of what it holds.
    const model::Slot within = editor_.entered() ? scene.find(editor_.entered()) : model::kNoSlot;
    for (model::Slot s = scene.firstChild(within); s != model::kNoSlot; s = scene.nextSibling(s))
        if ((scene.flagsOf(s) & (model::flags::kHidden | model::flags::kProtected)) == 0) ids.push_back(scene.id(s));
    editor_.select(std::move(ids));
}

void SelectCommands::selectLike(const QString& what,
                                const std::function<bool(model::Slot like, model::Slot other)>& same) {
    const model::Scene& scene = editor_.scene();
    std::vector<model::Slot> likes;  // one of each
    for (base::ObjectId id : editor_.selection()) {
        const model::Slot s = scene.find(id);
        if (std::none_of(likes.begin(), likes.end(), [&](model::Slot l) { return same(l, s); })) likes.push_back(s);
    }
    std::vector<base::ObjectId> ids;
    for (model::Slot s : scene.subtree(model::kNoSlot)) {
        if (scene.hiddenInTree(s) || scene.protectedInTree(s)) continue;
        if (std::any_of(likes.begin(), likes.end(), [&](model::Slot l) { return same(l, s); }))
            ids.push_back(scene.id(s));
    }
    if (ids.empty()) return editor_.say(tr("Nothing selected is of a %1 that others have.").arg(what));
    editor_.select(std::move(ids));
    editor_.say(
        tr("%1 of the same %2 selected.").arg(counted(editor_.selection().size(), tr("object"), tr("objects")), what));
}

}  // namespace

RowsPtr selectCommands(Shell& shell) {
    return std::make_unique<SelectCommands>(shell);
}

}  // namespace app
