// Selecting by a click: what is under the pointer; once more at the same place: what lies behind that. A double click
// goes into a group, or out of it.
#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "edit/session.h"
#include "ops/solid_edit.h"
#include "render/handle.h"

namespace app {
namespace {

class SelectByClick : public Gesture {
  public:
    using Gesture::Gesture;
    std::optional<int> offer(const QPointF& pixel) override {
        const Slot under = view_.objectUnder(pixel);
        if (under != kNoSlot) view_.setPointed(under);
        view_.light(under == kNoSlot ? under : editor_.wholeOf(under));
        return 0;
    }
    void withdraw() override { view_.light(kNoSlot); }
    bool click(Qt::KeyboardModifiers modifiers) override;
    bool doubleClick() override;
    bool key(int key, Qt::KeyboardModifiers) override {
        if (key != Qt::Key_Return && key != Qt::Key_Enter) return false;
        enterSelected();
        return true;
    }
    QString hint() const override;

  private:
    void enterSelected();
    bool enterParts(Slot slot);
    Slot clicked(const QPointF& pixel);
    bool groupSelected() const;

    std::vector<Slot> cycle_;  ///< all under the last click, nearest first
    QPointF cycleAt_{-1e9, -1e9};
    std::size_t cycleNext_ = 0;
};

Slot SelectByClick::clicked(const QPointF& pixel) {
    constexpr double kSamePlace = 4;
    const Slot under = view_.objectUnder(pixel), front = under == kNoSlot ? kNoSlot : editor_.wholeOf(under);
    const bool again = std::hypot(pixel.x() - cycleAt_.x(), pixel.y() - cycleAt_.y()) < kSamePlace && !cycle_.empty() &&
                       cycle_.front() == front && editor_.selection().size() == 1;
    if (again) {
        cycleNext_ = (cycleNext_ + 1) % cycle_.size();
        if (editor_.scene().alive(cycle_[cycleNext_])) {
            if (cycle_.size() > 1) editor_.say(tr("%1 of %2 here").arg(cycleNext_ + 1).arg(cycle_.size()));
            return cycle_[cycleNext_];
        }
    }
    cycleAt_ = pixel;
    cycleNext_ = 0;
    cycle_ = {front};
    if (front == kNoSlot || editor_.sight().index() == nullptr) return front;
    constexpr std::size_t kMostBehind = 12;
    const auto pickable = [this](Slot s) { return editor_.isPickable(s); };
    for (const query::SceneHit& hit :
         editor_.sight().index()->pickAll(editor_.scene(), view_.rayAt(pixel), kMostBehind, pickable))
        if (const Slot whole = editor_.wholeOf(hit.slot);
            std::find(cycle_.begin(), cycle_.end(), whole) == cycle_.end())
            cycle_.push_back(whole);
    return front;
}

bool SelectByClick::click(Qt::KeyboardModifiers modifiers) {
    const bool shift = (modifiers & Qt::ShiftModifier) != 0, control = (modifiers & Qt::ControlModifier) != 0;
    const bool add = shift && !control, take = control && !shift;
    const bool inside = shift && control;  // the very object, without entering the group that it is part of
    Slot slot = shift || control ? view_.objectUnder(view_.pointer) : clicked(view_.pointer);
    if (slot != kNoSlot && (add || take)) slot = editor_.wholeOf(slot);
    std::vector<base::ObjectId> ids = editor_.selection();
    if (inside) ids.clear();
    if (slot == kNoSlot) {
        if (!add && !take) editor_.select({});
        return true;
    }
    const base::ObjectId id = editor_.scene().id(slot);
    auto place = std::find(ids.begin(), ids.end(), id);
    if (take) {
        if (place != ids.end()) ids.erase(place);
    } else if (add) {
        if (place == ids.end()) ids.push_back(id);
    } else {
        ids = {id};
    }
    editor_.select(std::move(ids));
    return true;
}

bool SelectByClick::doubleClick() {
    const Slot under = view_.objectUnder(view_.pointer);
    const Slot whole = under == kNoSlot ? under : editor_.wholeOf(under);
    if (under == kNoSlot) {
        if (editor_.entered()) editor_.leave();
    } else if (whole == under && enterParts(under)) {
    } else if (whole == under) {
        Q_EMIT editor_.propertiesWanted();
    } else {
        editor_.enter(editor_.scene().id(whole));
        editor_.select({editor_.scene().id(editor_.wholeOf(under))});
    }
    return true;
}

/// Into the faces, edges and corners of a solid.
bool SelectByClick::enterParts(Slot slot) {
    const base::ObjectId id = editor_.scene().id(slot);
    if (!ops::piecesOf(editor_.scene(), id) || editor_.scene().protectedInTree(slot)) return false;
    if (!editor_.session().readOnlyReason().empty()) return false;
    editor_.select({id});
    editor_.change(&Tools::parts, PartWork{id, {}});
    editor_.setTool(Tool::Parts);
    return true;
}

void SelectByClick::enterSelected() {
    const Slot slot = editor_.selection().size() == 1 ? editor_.scene().find(editor_.selection().front()) : kNoSlot;
    if (slot == kNoSlot) return editor_.say(tr("Select one group to go into it."));
    if (editor_.scene().firstChild(slot) == kNoSlot && enterParts(slot)) return;
    if (editor_.scene().firstChild(slot) == kNoSlot) return Q_EMIT editor_.propertiesWanted();
    editor_.enter(editor_.scene().id(slot));
    editor_.select({});
}

bool SelectByClick::groupSelected() const {
    const Slot slot = editor_.selection().size() == 1 ? editor_.scene().find(editor_.selection().front()) : kNoSlot;
    return slot != kNoSlot && editor_.isWhole(slot);
}

QString SelectByClick::hint() const {
    if (editor_.selection().empty()) {
        if (editor_.editsDefinition())
            return tr("In the definition: what is changed here changes for all · Esc: go out");
        if (editor_.entered()) return tr("Inside a group · click: select in it · double-click outside or Esc: go out");
        return tr(
            "Click or drag a box: select · middle drag: orbit, with Shift: pan · wheel: zoom · right drag: look and "
            "fly");
    }
    const QString does = editor_.tools().activeTask() == render::Task::Turn  ? tr("turn by a step")
                         : editor_.tools().activeTask() == render::Task::Fit ? tr("size by a step")
                                                                             : tr("move by a step");
    return tr("Arrows, Page Up/Down: %1 · Tab: type it · Shift+click: add · Ctrl+click: take away · ").arg(does) +
           (groupSelected() ? tr("Enter: go in") : tr("Q: bring into view"));
}

}  // namespace

GesturePtr selectByClick(ViewContext& view) {
    return std::make_unique<SelectByClick>(view);
}

}  // namespace app
