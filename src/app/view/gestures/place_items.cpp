// Placing: the item that was chosen follows the pointer as a ghost, which is turned, raised and sized before the click
// that places it; a drag places pieces side by side.
#include <QGuiApplication>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/library.h"
#include "ops/move.h"
#include "ops/row.h"
#include "query/route.h"
#include "query/scene_index.h"

namespace app {
namespace {

const model::Item* itemIn(const Editor& editor, const std::string& name) {
    auto& session = const_cast<Editor&>(editor).session();
    return session.library().item(session.intern(name));
}

/// On the steps of the lattice, at the height of what is there then; walls are left as they are.
ViewContext::Landing stepped(const ViewContext& view, ViewContext::Landing at, double step) {
    constexpr double kWall = 0.3, kLook = 1.5;  // metres
    if (step <= 0 || at.normal.y < kWall) return at;
    base::Vec3 to = at.point;
    for (int axis : {0, 2}) to[axis] = ops::snapped(to[axis], step);
    const auto under = view.editor.surfaceUnder({to + base::Vec3(0, kLook, 0), {0, -1, 0}}, false);
    if (under && std::abs(under->point.y - to.y) < kLook) return {under->point, under->normal};
    return {to, at.normal};
}

/// The world's box of an item as it would stand.
base::Aabb boxOf(const model::Item& item, const Ghost& ghost) {
    const base::Aabb own = item.bounds.empty() ? base::Aabb{base::Vec3(0.0), base::Vec3(0.0)} : item.bounds;
    return base::mapped(own,
                        base::toAffine(ops::landing(item, ghost.position, ghost.turn, ghost.size, ghost.mirrored)));
}

/// Where it would stand under the pointer: caught, in line or in steps, as the keys say.
std::optional<Ghost> ghostUnderPointer(ViewContext& view, Qt::KeyboardModifiers modifiers) {
    const std::string& name = view.editor.placing();
    auto at = view.landingAt(view.pointer);
    if (const auto& caught = view.catcher.look(view.pointer)) {
        Ghost ghost = view.ghostAt(
            name, {caught->point, caught->kind == query::CatchKind::Face ? caught->normal : base::Vec3(0, 1, 0)});
        if (const Slot route = view.catcher.route(); route != kNoSlot) {
            ghost.course = view.catcher.course();
            if (view.editor.tools().followSlopes)
                ghost.turn =
                    query::poseOn(view.stage.routes().of(view.editor.scene(), route).curve, caught->metres).rotation *
                    ghost.turn;
        }
        return ghost;
    }
    if (!at) return std::nullopt;
    const double step = view.catcher.steps(modifiers).metres;
    const model::Item* item = itemIn(view.editor, name);
    const Ghost free = view.ghostAt(name, *at);
    view.lines.clear();
    if (item == nullptr || view.editor.berthNear(at->point, name) != nullptr) return free;
    if (!view.catcher.linesUp()) return view.ghostAt(name, stepped(view, *at, step));
    view.lines.begin(boxOf(*item, free));
    base::Vec3 moved(0.0);
    view.lines.lineUp(moved, {true, false, true});
    view.lines.setMoved(moved);
    // An axis where nothing was in line goes on in steps.
    for (int axis : {0, 2}) {
        const double in = moved[axis];
        at->point[axis] = std::abs(in) > 0 ? at->point[axis] + in : ops::snapped(at->point[axis], step);
    }
    return view.ghostAt(name, *at);
}

/// What was done to it, in few words; empty: nothing.
QString told(const Editor& editor) {
    const PlacedAs& as = editor.tools().placed;
    QStringList parts;
    if (as.turnDegrees != 0) parts << PlaceTool::tr("turned %1°").arg(fixed(as.turnDegrees, 1));
    if (as.size != 1) parts << QString("×%1").arg(fixed(as.size, 2));
    if (as.raisedMetres != 0)
        parts << (as.raisedMetres > 0 ? PlaceTool::tr("raised %1") : PlaceTool::tr("lowered %1"))
                     .arg(editor.length(std::abs(as.raisedMetres)));
    if (editor.tools().followSlopes) parts << PlaceTool::tr("leaning with the surface");
    return parts.join("   ");
}

/// From the press on: one where it was pressed, and others beside it as far as the pointer is dragged.
class RowOfPieces : public Hold {
  public:
    RowOfPieces(ViewContext& view, Ghost first) : Hold(view), item_(view.editor.placing()), first_(std::move(first)) {
        view_.setGhost(first_);
    }
    ~RowOfPieces() override { view_.setMoreGhosts({}); }
    Goes move(Qt::KeyboardModifiers) override {
        const QPointF way = view_.pointer - view_.pressedAt;
        const model::Item* item = itemIn(editor_, item_);
        if (item == nullptr) return Goes::Back;
        dragged_ = dragged_ || std::hypot(way.x(), way.y()) > kDragStart;
        const auto to = atHeight(view_.pointer);
        if (!dragged_ || !to) return Goes::On;
        ops::Placement first;
        first.position = first_.position;
        first.rotation = first_.turn;
        first.size = first_.size;
        row_.clear();
        for (const ops::Placement& p : ops::sideBySide(*item, first, *to - first_.position))
            row_.push_back({item_, p.position, p.rotation, p.size, first_.mirrored, first_.course});
        view_.setMoreGhosts({row_.begin() + 1, row_.end()});
        view_.update();
        return Goes::On;
    }
    Goes release(Qt::KeyboardModifiers) override {
        editor_.place(row_.empty() ? std::vector<Ghost>{first_} : row_);
        return Goes::Done;
    }
    void paint(QPainter& p) const override {
        if (row_.size() > 1)
            view_.note(p, view_.pointer + QPointF(18, -14),
                       counted(row_.size(), tr("piece"), tr("pieces")) + "   " +
                           editor_.length(glm::length(row_.back().position - row_.front().position)));
    }
    QString hint() const override { return tr("Drag: side by side, as long as it is · Esc: let go"); }

  private:
    /// The place under a pixel at the height of the first one.
    std::optional<base::Vec3> atHeight(const QPointF& pixel) const {
        const base::Ray ray = view_.rayAt(pixel);
        if (std::abs(ray.direction.y) < 1e-3) return view_.landingUnder(pixel);
        const double t = (first_.position.y - ray.origin.y) / ray.direction.y;
        return t > 0 && t < 9000 ? std::optional(ray.at(t)) : std::nullopt;
    }

    std::string item_;
    Ghost first_;
    std::vector<Ghost> row_;
    bool dragged_ = false;
};

class PlaceItems : public ViewTool {
  public:
    using ViewTool::ViewTool;
    bool claims() const override { return !editor_.placing().empty(); }
    bool catches() const override { return claims(); }
    bool point(const QPointF&) override {
        view_.setGhost(ghostUnderPointer(view_, QGuiApplication::keyboardModifiers()));
        view_.update();
        return view_.ghost().has_value();
    }
    void withdraw() override {
        view_.catcher.forget();
        view_.lines.clear();
        view_.setGhost(std::nullopt);
    }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        if (!point(view_.pointer)) return nullptr;
        return std::make_unique<RowOfPieces>(view_, *view_.ghost());
    }
    bool turn(double notches, Qt::KeyboardModifiers modifiers) override {
        if ((modifiers & Qt::ControlModifier) != 0) return false;
        PlacedAs as = editor_.tools().placed;
        const render::Steps steps = editor_.tools().activeSteps();
        const double turn = editor_.tools().step(render::Task::Turn).value,
                     slide = editor_.tools().step(render::Task::Slide).value;
        if ((modifiers & Qt::ShiftModifier) != 0)
            as.raisedMetres =
                std::clamp(as.raisedMetres + notches * (steps.metres > 0 ? steps.metres : slide), -1e3, 1e3);
        else
            as.turnDegrees =
                std::remainder(as.turnDegrees + notches * (steps.degrees > 0 ? steps.degrees : turn), 360.0);
        editor_.change(&Tools::placed, as);
        return true;
    }
    bool putAway() override {
        const bool shown = view_.ghost().has_value();
        withdraw();
        PlacedAs as = editor_.tools().placed;
        as.raisedMetres = 0;
        editor_.change(&Tools::placed, as);
        return shown;
    }
    void paint(QPainter& p) const override {
        if (const QString text = told(editor_); view_.ghost() && !text.isEmpty())
            view_.note(p, view_.pointer + QPointF(18, -14), text);
    }
    QString hint() const override {
        const model::Item* item = itemIn(editor_, editor_.placing());
        return tr("Click: place %1 · drag: side by side · wheel: turn · Shift+wheel: raise · + −: size · . and , : "
                  "siblings · Esc: done")
            .arg(item != nullptr ? toQt(item->label) : QString());
    }
};

}  // namespace

GesturePtr placeItems(ViewContext& view) {
    return std::make_unique<PlaceItems>(view);
}

}  // namespace app
