// Groups: made, taken apart, gone into and out of.
#include <QDockWidget>
#include <QMessageBox>
#include <QPushButton>

#include "app/commands/all.h"
#include "app/kit/parts.h"
#include "app/kit/question.h"
#include "app/names.h"
#include "app/panels/roster_panel.h"
#include "app/shell/asking.h"
#include "app/shell/main_window.h"
#include "app/shell/rehearsal.h"
#include "app/view/view_widget.h"
#include "edit/session.h"
#include "ops/group.h"
#include "ops/objects.h"

namespace app {

namespace {

class GroupCommands : public Rows {
  public:
    explicit GroupCommands(Shell& shell);

  private:
    void group();
    void ungroup(const ops::Ungrouping& how);
    void putAboard();
    void setAshore();
    bool rides() const { return editor_.rehearsal().mode() == Rehearsal::Mode::Riding; }
    bool allSelected(std::uint8_t flag) const;
};

GroupCommands::GroupCommands(Shell& shell) : Rows(shell) {
    verb(
        "group.make", tr("Group"), tr("Puts the selection under a new group; nothing moves"), Qt::CTRL | Qt::Key_G,
        [this] { group(); }, changes());
    verb(
        "group.aboard", tr("Put aboard…"),
        tr("Point at a carrier: the selection goes with it from now on, here and in play; nothing moves now"), {},
        [this] { putAboard(); }, changes());
    verb(
        "group.ashore", tr("Set ashore"), tr("The selection stays where it is when what carries it goes"), {},
        [this] { setAshore(); }, changes());
    toggle(
        "group.ride", tr("Ride along points"),
        tr("Shows the selected carrier and all aboard on its way along its points, or those of the other selected "
           "object; Esc ends it"),
        {}, [this] { rides() ? editor_.rehearsal().end() : editor_.rehearsal().ride(); }, [this] { return rides(); },
        [this] { return rides() || (editor_.isOpen() && !editor_.rehearsal().isOn() && hasSelection()); });
    verb(
        "group.ungroup", tr("Ungroup"), tr("Puts what the selected groups hold in their place"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_G, [this] { ungroup({}); }, changes());
    verb(
        "group.ungroupAll", tr("Ungroup all levels"), tr("The groups within the selected ones too"), {},
        [this] {
            ungroup({true, false});
        },
        changes());
    toggle(
        "group.whole", tr("Taken as one"), tr("A click on anything in the selected groups takes the group"), {},
        [this] {
            const auto ids = editor_.selection();
            const bool on = !allSelected(model::flags::kWhole);
            editor_.run((on ? "Take as one: " : "Take singly: ") + ops::describe(editor_.scene(), ids),
                        [&](edit::Draft& d) { return ops::setFlag(d, ids, model::flags::kWhole, on); });
        },
        [this] { return allSelected(model::flags::kWhole); }, changes());
    verb(
        "group.enter", tr("Go into the group"),
        tr("Works inside it: the rest is dimmed and cannot be picked. In the view: Enter, or double-click"), {},
        [this] { view().enterSelected(); }, [this] { return editor_.isOpen() && hasSelection(); });
    verb(
        "group.leave", tr("Go out of the group"), tr("In the view: Esc, or double-click beside it"), {},
        [this] { editor_.leave(); }, [this] { return editor_.isOpen() && bool(editor_.entered()); });
    verb(
        "group.empty", tr("Select empty groups"), tr("Groups with nothing in them"), {},
        [this] {
            const auto empty = ops::emptyGroups(editor_.scene());
            if (empty.empty()) return editor_.say(tr("No group is empty."));
            editor_.select(empty);
            editor_.say(tr("%1 selected.").arg(counted(empty.size(), tr("empty group"), tr("empty groups"))));
        },
        open());
}

/// The name is asked for in the Roster's row, with one made of the contents.
void GroupCommands::group() {
    const auto ids = editor_.selection();
    const std::string name = ops::groupName(editor_.scene(), ids);
    const bool done =
        editor_.run("Group " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> base::Status {
            auto made = ops::group(draft, ids, name);
            if (!made) return tl::unexpected(made.error());
            editor_.session().select({*made});
            return {};
        });
    if (done && shell_.rosterDock.isVisible()) shell_.roster.renameSelected();
}

/// Of what is pointed at the whole that a click takes.
void GroupCommands::putAboard() {
    const ops::Ids ids = editor_.selection();
    const auto carrierOf = [this](Slot slot) {
        Slot carrier = slot;
        for (Slot s = slot; s != kNoSlot; s = editor_.scene().parent(s))
            if ((editor_.scene().flagsOf(s) & model::flags::kWhole) != 0) carrier = s;
        return carrier;
    };
    editor_.setHint(tr("Point at what is to carry it · Esc: nothing"));
    editor_.asking().askObject(
        [this, ids, carrierOf](Slot slot) {
            const Slot carrier = carrierOf(slot);
            return std::ranges::none_of(ids, [&](base::ObjectId id) {
                const Slot own = editor_.scene().find(id);
                return own != kNoSlot && editor_.scene().isWithin(carrier, own);
            });
        },
        [this, ids, carrierOf](base::ObjectId to) {
            const base::ObjectId carrier = editor_.scene().id(carrierOf(editor_.scene().find(to)));
            editor_.run("Put " + ops::describe(editor_.scene(), ids) + " aboard " +
                            ops::describe(editor_.scene(), {&carrier, 1}),
                        [&](edit::Draft& draft) { return ops::reparent(draft, ids, carrier, {}); });
        });
}

/// Beside what carries it, in the tree.
void GroupCommands::setAshore() {
    const ops::Ids ids = editor_.selection();
    editor_.run("Set " + ops::describe(editor_.scene(), ids) + " ashore", [&](edit::Draft& draft) -> base::Status {
        for (const base::ObjectId id : ids) {
            const model::Scene& scene = draft.scene();
            const Slot carrier = scene.parent(scene.find(id));
            if (carrier == kNoSlot)
                return base::fail(base::ErrorCode::Refused, ops::describe(scene, {&id, 1}) + " is aboard of nothing.");
            const Slot beside = scene.parent(carrier);
            const base::ObjectId parent = beside == kNoSlot ? base::ObjectId{} : scene.id(beside);
            if (base::Status done = ops::reparent(draft, {&id, 1}, parent, {}); !done) return done;
        }
        return {};
    });
}

void GroupCommands::ungroup(const ops::Ungrouping& how) {
    const auto ids = editor_.selection();
    base::Status done;
    {
        edit::Draft draft(editor_.session(), editor_.sceneName(), "Ungroup " + ops::describe(editor_.scene(), ids));
        auto freed = ops::ungroup(draft, ids, how);
        if (freed) {
            editor_.session().select(*freed);
            auto step = draft.commit();
            if (!step) done = tl::unexpected(step.error());
        } else
            done = tl::unexpected(freed.error());
    }
    if (done || how.nearest || done.error().code != base::ErrorCode::BadInput) {
        editor_.report(done);
        return;
    }
    auto* question = new QMessageBox(QMessageBox::NoIcon, tr("Ungroup"), QString::fromStdString(done.error().message),
                                     QMessageBox::Cancel, over());
    question->setObjectName("shearQuestion");
    question->setAttribute(Qt::WA_DeleteOnClose);
    question->setInformativeText(
        tr("It can be given the nearest pose without shear instead; it then looks a little different."));
    QPushButton* nearest = question->addButton(tr("Ungroup with nearest poses"), QMessageBox::AcceptRole);
    connect(question, &QMessageBox::buttonClicked, this, [this, how, nearest](QAbstractButton* pressed) {
        if (pressed == nearest) ungroup({how.nested, true});
    });
    dressQuestion(*question, editor_.theme());
    question->open();
}

/// Does everything selected carry the flag?
bool GroupCommands::allSelected(std::uint8_t flag) const {
    if (!editor_.isOpen() || editor_.selection().empty()) return false;
    const model::Scene& scene = editor_.scene();
    return std::all_of(editor_.selection().begin(), editor_.selection().end(), [&](base::ObjectId id) {
        const Slot s = scene.find(id);
        return s != model::kNoSlot && (scene.flagsOf(s) & flag) != 0;
    });
}

}  // namespace

RowsPtr groupCommands(Shell& shell) {
    return std::make_unique<GroupCommands>(shell);
}

}  // namespace app
