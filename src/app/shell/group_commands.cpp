// Groups: made, taken apart, gone into and out of.
#include <QMessageBox>
#include <QPushButton>

#include "app/look/parts.h"
#include "app/look/question.h"
#include "app/panels/roster_panel.h"
#include "app/shell/main_window.h"
#include "ops/group.h"

namespace app {

using model::Slot;

/// The name is asked for in the Roster's row, with one made of the contents.
void MainWindow::group() {
    const auto ids = editor_.selection();
    const std::string name = ops::groupName(editor_.scene(), ids);
    const bool done =
        editor_.run("Group " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> base::Status {
            auto made = ops::group(draft, ids, name);
            if (!made) return tl::unexpected(made.error());
            editor_.session().select({*made});
            return {};
        });
    if (done && rosterDock_->isVisible()) roster_->renameSelected();
}

void MainWindow::ungroup(const ops::Ungrouping& how) {
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
                                     QMessageBox::Cancel, this);
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

/// Where in the tree one works: a button for each group gone into; a click goes out to it.
void MainWindow::fillEntered() {
    while (QLayoutItem* old = enteredRow_->takeAt(0)) {
        if (old->widget() != nullptr) old->widget()->deleteLater();
        delete old;
    }
    if (!editor_.isOpen() || !editor_.entered()) return;
    const model::Scene& scene = editor_.scene();
    std::vector<Slot> chain;
    for (Slot s = scene.find(editor_.entered()); s != model::kNoSlot; s = scene.parent(s))
        if (chain.empty() || editor_.isWhole(s)) chain.push_back(s);
    for (auto slot = chain.rbegin(); slot != chain.rend(); ++slot) {
        auto* separator = new QLabel(QStringLiteral("›"));
        separator->setObjectName("faint");
        enteredRow_->addWidget(separator);
        auto* button = new QToolButton;
        const base::ObjectId id = scene.id(*slot);
        const auto name = scene.nameText(*slot);
        button->setObjectName("trailGroup");
        button->setText(toQt(name));
        if (id == editor_.session().definitionEditedAt()) {
            const base::ObjectId prefab = scene.detail(*slot)->prefab->of;
            button->setText(tr("definition of %1, %2")
                                .arg(QString::fromStdString(editor_.session().prefabName(prefab)),
                                     counted(editor_.session().instancesOf(prefab, editor_.sceneName()).size(),
                                             tr("instance here"), tr("instances here"))));
        }
        const bool here = id == editor_.entered();
        button->setToolTip(here ? tr("The group one is in; click to go out") : tr("Back to this group"));
        connect(button, &QToolButton::clicked, this, [this, id, here] { here ? editor_.leave() : editor_.enter(id); });
        enteredRow_->addWidget(button);
    }
}

void MainWindow::addGrouping() {
    const auto change = [this] { return canEdit() && hasSelection(); };
    commands_->add({"group.make", tr("Group"), tr("Puts the selection under a new group; nothing moves"),
                    Qt::CTRL | Qt::Key_G, [this] { group(); }, change});
    commands_->add({"group.ungroup", tr("Ungroup"), tr("Puts what the selected groups hold in their place"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_G, [this] { ungroup({}); }, change});
    commands_->add({"group.ungroupAll",
                    tr("Ungroup all levels"),
                    tr("The groups within the selected ones too"),
                    {},
                    [this] {
                        ungroup({true, false});
                    },
                    change});
    commands_->add({"group.whole",
                    tr("Taken as one"),
                    tr("A click on anything in the selected groups takes the group"),
                    {},
                    [this] {
                        const auto ids = editor_.selection();
                        const bool on = !allSelected(model::flags::kWhole);
                        editor_.run((on ? "Take as one: " : "Take singly: ") + ops::describe(editor_.scene(), ids),
                                    [&](edit::Draft& d) { return ops::setFlag(d, ids, model::flags::kWhole, on); });
                    },
                    change,
                    [this] { return allSelected(model::flags::kWhole); }});
    commands_->add({"group.enter",
                    tr("Go into the group"),
                    tr("Works inside it: the rest is dimmed and cannot be picked. In the view: Enter, or double-click"),
                    {},
                    [this] { view_->enterSelected(); },
                    [this] { return editor_.isOpen() && hasSelection(); }});
    commands_->add({"group.leave",
                    tr("Go out of the group"),
                    tr("In the view: Esc, or double-click beside it"),
                    {},
                    [this] { editor_.leave(); },
                    [this] { return editor_.isOpen() && bool(editor_.entered()); }});
    commands_->add({"group.empty",
                    tr("Select empty groups"),
                    tr("Groups with nothing in them"),
                    {},
                    [this] {
                        const auto empty = ops::emptyGroups(editor_.scene());
                        if (empty.empty()) return editor_.say(tr("No group is empty."));
                        editor_.select(empty);
                        editor_.say(
                            tr("%1 selected.").arg(counted(empty.size(), tr("empty group"), tr("empty groups"))));
                    },
                    [this] { return editor_.isOpen(); }});
}

/// Does everything selected carry the flag?
bool MainWindow::allSelected(std::uint8_t flag) const {
    if (!editor_.isOpen() || editor_.selection().empty()) return false;
    const model::Scene& scene = editor_.scene();
    return std::all_of(editor_.selection().begin(), editor_.selection().end(), [&](base::ObjectId id) {
        const Slot s = scene.find(id);
        return s != model::kNoSlot && (scene.flagsOf(s) & flag) != 0;
    });
}

}  // namespace app
