// What is done with the selection: clipboard, copies, flags.
#include <QApplication>
#include <QClipboard>
#include <QMenu>
#include <algorithm>

#include "app/dialogs/script_card.h"
#include "app/look/parts.h"
#include "app/shell/main_window.h"
#include "io/copy_text.h"
#include "model/facets/tint.h"

namespace app {

using base::Status;

void MainWindow::copy() {
    if (!hasSelection()) return;
    QApplication::clipboard()->setText(
        QString::fromStdString(io::copyText(editor_.scene(), ops::topmost(editor_.scene(), editor_.selection()))));
    editor_.say(tr("%1 copied.").arg(QString::fromStdString(ops::describe(editor_.scene(), editor_.selection()))));
}

void MainWindow::cut() {
    if (!hasSelection()) return;
    const auto ids = editor_.selection();
    const std::string text = io::copyText(editor_.scene(), ops::topmost(editor_.scene(), ids));
    const bool done = editor_.run("Cut " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        editor_.session().select({});
        return ops::remove(draft, ids);
    });
    if (done) QApplication::clipboard()->setText(QString::fromStdString(text));
}

void MainWindow::paste() {
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
    if (view_->pointerInside())
        if (const auto place = view_->context().landingUnder(view_->context().pointer))
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

void MainWindow::duplicate() {
    const auto ids = editor_.selection();
    editor_.run("Duplicate " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        auto made = ops::duplicate(draft, ids);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

void MainWindow::removeSelected() {
    const auto ids = editor_.selection();
    editor_.run("Delete " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        Status done = ops::remove(draft, ids);
        if (done) editor_.session().select({});
        return done;
    });
}

void MainWindow::selectAll() {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    // Inside a group: all of what it holds.
    const model::Slot within = editor_.entered() ? scene.find(editor_.entered()) : model::kNoSlot;
    for (model::Slot s = scene.firstChild(within); s != model::kNoSlot; s = scene.nextSibling(s))
        if ((scene.flagsOf(s) & (model::flags::kHidden | model::flags::kProtected)) == 0) ids.push_back(scene.id(s));
    editor_.select(std::move(ids));
}

void MainWindow::selectLike(const QString& what, const std::function<bool(model::Slot like, model::Slot other)>& same) {
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

void MainWindow::halfTurn() {
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    mover->setPicked(editor_.tools().pickedPivot);
    editor_.run("Turn " + ops::describe(editor_.scene(), mover->ids()) + " half round", [&](edit::Draft& draft) {
        return mover->turnBy(draft, {0, 1, 0}, base::kPi, editor_.tools().pivot);
    });
}

void MainWindow::nextAxes() {
    editor_.change(&Tools::axes, static_cast<ops::AxesMode>((static_cast<int>(editor_.tools().axes) + 1) % 4));
}

// The picked point takes part only once one was picked.
void MainWindow::nextPivot() {
    const int count = editor_.tools().pivot == ops::PivotMode::Picked ? 4 : 3;
    editor_.change(&Tools::pivot, static_cast<ops::PivotMode>((static_cast<int>(editor_.tools().pivot) + 1) % count));
}

void MainWindow::flagSelected(std::uint8_t flag, const char* name) {
    const auto ids = editor_.selection();
    editor_.run(std::string(name) + " " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        Status done = ops::setFlag(draft, ids, flag, true);
        if (done) editor_.session().select({});
        return done;
    });
}

void MainWindow::toggleTint() {
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

/// All of them in one row, then each by name; a name takes the flag from it and selects it.
void MainWindow::fillFlagMenu(QMenu* menu, std::uint8_t flag, const char* all) {
    constexpr std::size_t kMost = 30;
    menu->clear();
    menu->addAction(commands_->action(all));
    menu->addSeparator();
    const bool hidden = flag == model::flags::kHidden;
    for (base::ObjectId id : editor_.flagged(flag, kMost)) {
        const auto name = editor_.scene().nameText(editor_.scene().find(id));
        QAction* one = menu->addAction(toQt(name), this, [this, id, flag, hidden] {
            const std::string what = (hidden ? "Show " : "Release ") + ops::describe(editor_.scene(), {&id, 1});
            editor_.run(what, [&](edit::Draft& draft) { return ops::setFlag(draft, {&id, 1}, flag, false); });
            editor_.select({id});
        });
        one->setEnabled(canEdit());
        one->setToolTip(hidden ? tr("Shows it again and selects it") : tr("Releases it and selects it"));
    }
    const std::size_t count = hidden ? editor_.hiddenCount() : editor_.protectedCount();
    if (count > kMost) menu->addAction(tr("and %1 more").arg(count - kMost))->setEnabled(false);
}

void MainWindow::clearFlag(std::uint8_t flag, const char* name) {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && (scene.flagsOf(s) & flag) != 0) ids.push_back(scene.id(s));
    editor_.run(name, [&](edit::Draft& draft) { return ops::setFlag(draft, ids, flag, false); });
}

void MainWindow::escape() {
    // What lies over the window goes first: the key is this command's before it is the card's.
    for (QFrame* card : findChildren<QFrame*>())
        if (card->isVisible() && (card->objectName() == "popover" || card->objectName() == "planCard")) {
            card->close();
            return view_->setFocus();
        }
    if (scriptCard_ != nullptr && !editor_.asking().asksPoint() && !editor_.asking().asksObject() &&
        !view_->isDragging()) {
        scriptCard_->close();
        return view_->setFocus();
    }
    if (strip_->cancel()) return;
    if (editor_.scripts().preview() && !view_->isDragging()) return editor_.scripts().dropPreview();
    if (view_->cancel() && editor_.placing().empty()) return;
    if (!editor_.placing().empty()) return editor_.setPlacing({});
    if (editor_.looks().clean) return setClean(false);
    if (editor_.entered() && editor_.selection().empty()) return editor_.leave();
    if (editor_.selection().empty()) editor_.scripts().clearMarks();
    editor_.select({});
}

}  // namespace app
