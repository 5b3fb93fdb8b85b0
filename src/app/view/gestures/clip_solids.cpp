// Clipping: two or three points give a plane; both halves of the selected solids are shown, each with a tick, and a
// click on a half flips its tick.
#include <array>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "app/view/solid_lines.h"
#include "edit/session.h"
#include "ops/move.h"
#include "ops/solid_edit.h"

namespace app {
namespace {

/// The solids that a clip is for: those that are selected, else the one under the pointer.
ops::Ids solidsToClip(ViewContext& view) {
    const model::Scene& scene = view.editor.scene();
    ops::Ids all;
    for (base::ObjectId id : view.editor.selection())
        if (ops::piecesOf(scene, id)) all.push_back(id);
    if (!all.empty() || !view.editor.selection().empty()) return all;
    const Slot under = view.objectUnder(view.pointer);
    if (under != kNoSlot && ops::piecesOf(scene, scene.id(under))) all.push_back(scene.id(under));
    return all;
}

class ClipOnItsWay : public Hold {
  public:
    ClipOnItsWay(ViewContext& view, ops::Ids ids) : Hold(view), ids_(std::move(ids)) {
        for (base::ObjectId id : ids_)
            if (auto pieces = ops::piecesOf(editor_.scene(), id)) {
                shape::Pieces world =
                    shape::mapped(std::move(*pieces), editor_.scene().world(editor_.scene().find(id)));
                for (shape::Convex& piece : world) pieces_.push_back(std::move(piece));
            }
        centre_ = shape::boundsOf(pieces_).centre();
    }
    bool addPoint();
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers) override { return Goes::On; }
    Goes press() override;
    std::optional<Goes> enter() override;
    bool stepBack() override;
    bool catches() const override { return true; }
    void paint(QPainter& p) const override;
    QString hint() const override {
        if (points_.size() < 2) return tr("Click a second point of the plane · hold 1 2 3 4 6: catch · Esc: one back");
        return tr(
            "Click a half: keep it or not · Shift+click: a third point · Enter: clip, with Shift into pieces · Esc: "
            "one back");
    }

  private:
    std::optional<base::Vec3> pointAt();
    base::Vec3 third() const;
    void cut();
    void flip();
    bool split();

    ops::Ids ids_;
    shape::Pieces pieces_;  ///< of all, world
    base::Vec3 centre_{0.0};
    std::vector<base::Vec3> points_;
    std::optional<base::Vec3> next_;  ///< under the pointer
    std::optional<shape::Plane> plane_;
    shape::PieceHalves halves_;
    std::array<SolidLines, 2> lines_;  ///< before, behind
    ops::ClipKeeps keeps_;
    bool shift_ = false;
};

/// In a flat pane on the plane through the solids, else what is caught or lies under the pointer; on steps.
std::optional<base::Vec3> ClipOnItsWay::pointAt() {
    if (const auto& caught = view_.catcher.look(view_.pointer)) return caught->point;
    const double step = editor_.tools().activeSteps().metres;
    if (view_.camera.isFlat()) {
        auto at = onPlane(view_, view_.pointer, centre_, view_.camera.forward());
        for (int k = 0; at && k < 3; ++k)
            if (std::abs(view_.camera.forward()[k]) < 0.5) (*at)[k] = ops::snapped((*at)[k], step);
        return at;
    }
    const auto landing = view_.landingAt(view_.pointer);
    if (!landing) return std::nullopt;
    base::Vec3 at = landing->point;
    for (int k = 0; k < 3; ++k)
        if (std::abs(landing->normal[k]) < 0.9) at[k] = ops::snapped(at[k], step);
    return at;
}

bool ClipOnItsWay::addPoint() {
    const auto at = pointAt();
    if (!at) {
        editor_.say(tr("There is nothing here for a point of the plane."));
        return false;
    }
    if (!points_.empty() && glm::length(*at - points_.back()) < 1e-4) return false;
    points_.push_back(*at);
    cut();
    return true;
}

/// With two points the plane goes on into the picture in a flat pane, else upright.
base::Vec3 ClipOnItsWay::third() const {
    if (points_.size() > 2) return points_[2];
    const base::Vec3 way = glm::normalize(points_[1] - points_[0]);
    const bool upright = !view_.camera.isFlat() && std::abs(way.y) < 0.95;
    return points_[0] + (upright ? base::Vec3(0, 1, 0) : view_.camera.forward());
}

void ClipOnItsWay::cut() {
    plane_.reset();
    halves_ = {};
    view_.update();
    if (points_.size() < 2) return;
    const base::Vec3 normal = glm::cross(points_[1] - points_[0], third() - points_[0]);
    if (glm::length(normal) < 1e-9) return;
    plane_ = shape::planeThrough(points_[0], normal);
    halves_ = shape::cut(pieces_, *plane_, 0);
    lines_ = {SolidLines(halves_.before), SolidLines(halves_.behind)};
    if (halves_.before.empty() || halves_.behind.empty()) editor_.say(tr("The plane misses what is selected."));
}

Goes ClipOnItsWay::move(Qt::KeyboardModifiers modifiers) {
    shift_ = (modifiers & Qt::ShiftModifier) != 0;
    next_ = points_.size() < 2 || shift_ ? pointAt() : std::nullopt;
    view_.update();
    return Goes::On;
}

/// The half that is nearest under the pointer is kept, or no more.
void ClipOnItsWay::flip() {
    const base::Ray ray = view_.rayAt(view_.pointer);
    const auto before = shape::firstHit(halves_.before, ray), behind = shape::firstHit(halves_.behind, ray);
    if (!before && !behind) return editor_.say(tr("Click one of the two halves; Shift+click for a third point."));
    const bool front = before && (!behind || *before < *behind);
    bool& keep = front ? keeps_.front : keeps_.behind;
    keep = !keep;
    view_.update();
}

Goes ClipOnItsWay::press() {
    if (points_.size() < 2) {
        addPoint();
        return Goes::On;
    }
    if ((QGuiApplication::keyboardModifiers() & Qt::ShiftModifier) != 0 || shift_) {
        points_.resize(2);
        addPoint();
    } else {
        flip();
    }
    return Goes::On;
}

/// Cut, but each stays one solid.
bool ClipOnItsWay::split() {
    return editor_.run("Split " + ops::describe(editor_.scene(), ids_), [&](edit::Draft& draft) {
        base::Status last;
        bool any = false;
        for (base::ObjectId id : ids_) {
            last = ops::split(draft, id, *plane_);
            any = any || last.has_value();
        }
        return any ? base::Status{} : last;  // some may lie beside the plane
    });
}

std::optional<Goes> ClipOnItsWay::enter() {
    if (!plane_) return Goes::On;
    const bool whole = shift_ || (QGuiApplication::keyboardModifiers() & Qt::ShiftModifier) != 0;
    const bool done =
        whole ? split() : editor_.run("Clip " + ops::describe(editor_.scene(), ids_), [&](edit::Draft& draft) {
            auto left = ops::clip(draft, ids_, *plane_, keeps_);
            if (!left) return base::Status(tl::unexpected(left.error()));
            editor_.session().select(*left);
            return base::Status{};
        });
    if (!done) return Goes::On;
    if (!editor_.tools().drawsOn) editor_.setTool(Tool::Slide);
    return Goes::Done;
}

bool ClipOnItsWay::stepBack() {
    points_.pop_back();
    cut();
    return !points_.empty();
}

void paintTick(QPainter& p, const Theme& t, const QPointF& at, bool on) {
    const QRectF box(at.x() - 9, at.y() - 9, 18, 18);
    p.setPen(QPen(on ? t.honey : t.faint, 1.6));
    p.setBrush(t.panel);
    p.drawRoundedRect(box, 4, 4);
    p.setBrush(Qt::NoBrush);
    if (!on) return;
    p.setPen(QPen(t.honey, 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(QPolygonF({at + QPointF(-4.5, 0), at + QPointF(-1.2, 3.6), at + QPointF(4.8, -4)}));
}

void ClipOnItsWay::paint(QPainter& p) const {
    const Theme& t = theme();
    if (plane_) {
        const std::tuple<const SolidLines&, const shape::Pieces&, bool> halves[] = {
            {lines_[0], halves_.before, keeps_.front}, {lines_[1], halves_.behind, keeps_.behind}};
        for (const auto& [lines, pieces, kept] : halves) {
            p.setPen(kept ? QPen(t.honey, 1.6) : QPen(t.faint, 1.2, Qt::DashLine));
            lines.paint(p, view_);
        }
        for (const auto& [lines, pieces, kept] : halves)
            if (const auto at = pieces.empty() ? std::nullopt : view_.pixelOf(shape::boundsOf(pieces).centre()))
                paintTick(p, t, *at, kept);
    }
    p.setPen(QPen(t.text, 1.4, Qt::DashLine));
    if (points_.size() == 1 && next_) view_.line(p, points_[0], *next_);
    std::vector<base::Vec3> shown = points_;
    if (next_) shown.push_back(*next_);
    p.setPen(QPen(t.window, 1.5));
    p.setBrush(t.honey);
    for (const base::Vec3& point : shown)
        if (const auto at = view_.pixelOf(point)) p.drawEllipse(*at, 4.5, 4.5);
    p.setBrush(Qt::NoBrush);
}

class ClipSolids : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override { return editor_.tools().tool == Tool::Clip; }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        ops::Ids ids = solidsToClip(view_);
        if (ids.empty()) {
            editor_.say(tr("Select the solids that are to be clipped, or click one."));
            return nullptr;
        }
        auto clip = std::make_unique<ClipOnItsWay>(view_, std::move(ids));
        return clip->addPoint() ? std::move(clip) : nullptr;
    }
    QString hint() const override {
        return tr("Click two or three points of the plane, in any pane · hold 1 2 3 4 6: catch · Esc: no more");
    }
};

}  // namespace

GesturePtr clipSolids(ViewContext& view) {
    return std::make_unique<ClipSolids>(view);
}

}  // namespace app
