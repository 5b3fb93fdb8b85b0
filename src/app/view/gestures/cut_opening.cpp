// Openings: drawn on the face of a solid, and cut through it at once.
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "base/units.h"
#include "edit/session.h"
#include "ops/move.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"

namespace app {
namespace {

using Outline = model::SolidOpening::Outline;
constexpr double kDoorWide = 1, kDoorHigh = 2.1;  // metres: what a click cuts
constexpr double kFirstCutReach = 9;              // pixels

/// The face that one draws on: its frame in the solid's own axes, x along it, y up.
struct Face {
    base::ObjectId solid;
    base::Affine own;    ///< of the frame, into the solid's axes
    base::Affine world;  ///< the same into the world
    base::Vec3 facing{0, 0, 1};
    double low = 0, high = 0;  ///< how far down and up the solid goes, in the frame
    bool upright = true;
};

std::optional<Face> faceUnder(ViewContext& view) {
    const auto hit = view.editor.surfaceUnder(view.rayAt(view.pointer), true);
    if (!hit) return std::nullopt;
    const model::Scene& scene = view.editor.scene();
    const base::ObjectId id = scene.id(hit->slot);
    const auto pieces = ops::piecesOf(scene, id);
    if (!pieces) return std::nullopt;
    Face face;
    face.solid = id;
    const model::SolidOpening at = ops::openingAt(scene, id, hit->point, hit->normal);
    face.facing = at.facing;
    face.own = shape::frameOf(query::openingOf(at));
    // The frame counts from the solid's own origin, on the face: steps are those of the solid.
    const base::Vec3 out = face.own.linear[2];
    face.own.translation = out * glm::dot(out, at.at);
    face.world = scene.world(hit->slot) * face.own;
    const base::Aabb box = shape::boundsOf(*pieces);
    face.upright = std::abs(out.y) < 0.5;
    face.low = face.upright ? box.low.y / std::max(face.own.linear[1].y, 1e-6) : -1e9;
    face.high = face.upright ? box.high.y : 1e9;
    return face;
}

class OpeningOnItsWay : public Hold {
  public:
    OpeningOnItsWay(ViewContext& view, const Face& face) : Hold(view), face_(face) {
        kind_ = editor_.tools().opening;
        if (const auto at = onFace()) from_ = to_ = *at;
        if (kind_ == Outline::Drawn) corners_ = {from_};
    }
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers modifiers) override;
    Goes press() override;
    std::optional<Goes> enter() override {
        return kind_ == Outline::Drawn ? std::optional(closeOutline()) : std::nullopt;
    }
    bool stepBack() override {
        if (kind_ != Outline::Drawn) return false;
        corners_.pop_back();
        return !corners_.empty();
    }
    void type() override {
        if (kind_ == Outline::Drawn) return;
        view_.amount.open(tr("Width × height, as 1 x 2.1 (%1)").arg(base::traits(editor_.unit()).sign),
                          view_.pointer + QPointF(22, -44));
    }
    std::optional<Goes> typed(const QString& text) override;
    bool catches() const override { return true; }
    void paint(QPainter& p) const override;
    QString hint() const override {
        if (kind_ == Outline::Drawn)
            return tr("Click its corners on the face · the first one, or Enter: cut · Esc: one back");
        return tr("Drag: from corner to corner · release: cut · Tab: type its size · Shift: fine · Esc: let go");
    }

  private:
    std::optional<base::Vec2> onFace(Qt::KeyboardModifiers modifiers = {});
    bool apply(const base::Vec2& low, const base::Vec2& high);
    Goes closeOutline();
    Goes finish();
    bool wasClick() const { return glm::length(to_ - from_) < 1e-6; }

    Face face_;
    Outline kind_ = Outline::Rectangle;
    base::Vec2 from_{0.0}, to_{0.0};
    std::vector<base::Vec2> corners_;
    std::unique_ptr<edit::Draft> draft_;
    std::optional<model::SolidOpening> made_;
};

/// In the frame of the face, on steps; near the foot of the solid it stands on it.
std::optional<base::Vec2> OpeningOnItsWay::onFace(Qt::KeyboardModifiers modifiers) {
    const auto& caught = view_.catcher.look(view_.pointer);
    const auto at = caught
                        ? std::optional(caught->point)
                        : onPlane(view_, view_.pointer, face_.world.translation, glm::normalize(face_.world.linear[2]));
    const auto into = base::inverse(face_.world);
    if (!at || !into) return std::nullopt;
    const base::Vec3 p = into->point(*at);
    base::Vec2 on(p.x, p.y);
    if (caught) return on;
    const double step = view_.catcher.steps(modifiers).metres;
    on = {ops::snapped(on.x, step), ops::snapped(on.y - std::max(face_.low, -1e6), step) + std::max(face_.low, -1e6)};
    constexpr double kFoot = 0.15;
    if (on.y < face_.low + kFoot) on.y = face_.low;
    return on;
}

bool OpeningOnItsWay::apply(const base::Vec2& low, const base::Vec2& high) {
    draft_.reset();  // gives back what the last move did
    made_.reset();
    view_.update();
    if (high.x - low.x < 0.01 || high.y - low.y < 0.01) return false;
    model::SolidOpening opening;
    opening.outline = kind_;
    opening.facing = face_.facing;
    opening.at = face_.own.point({(low.x + high.x) / 2, low.y, 0});
    opening.width = high.x - low.x;
    opening.height = high.y - low.y;
    if (kind_ == Outline::Drawn) opening.corners = corners_;
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Cut an opening");
    if (auto added = ops::addOpening(*draft_, face_.solid, opening); !added) {
        editor_.report(tl::unexpected(added.error()));
        draft_.reset();
        return false;
    }
    made_ = opening;
    return true;
}

Goes OpeningOnItsWay::move(Qt::KeyboardModifiers modifiers) {
    if (view_.amount.isOpen()) return Goes::On;
    const auto at = onFace(modifiers);
    view_.update();
    if (!at) return Goes::On;
    to_ = *at;
    if (kind_ != Outline::Drawn) apply(glm::min(from_, to_), glm::max(from_, to_));
    return Goes::On;
}

Goes OpeningOnItsWay::release(Qt::KeyboardModifiers) {
    if (view_.amount.isOpen() || kind_ == Outline::Drawn) return Goes::On;
    if (wasClick()) {
        // A door stands on the foot of the wall; elsewhere it is a hole about the click.
        const double high = std::min(kDoorHigh, face_.upright ? (face_.high - face_.low) * 0.9 : 1.0);
        const double low = face_.upright ? face_.low : from_.y - high / 2;
        if (!apply({from_.x - kDoorWide / 2, low}, {from_.x + kDoorWide / 2, low + high})) return Goes::Back;
    }
    return draft_ ? finish() : Goes::Back;
}

Goes OpeningOnItsWay::press() {
    if (kind_ != Outline::Drawn) return Goes::Back;
    const auto first = view_.pixelOf(face_.world.point({corners_[0].x, corners_[0].y, 0}));
    if (corners_.size() >= 3 && first &&
        std::hypot(first->x() - view_.pointer.x(), first->y() - view_.pointer.y()) < kFirstCutReach)
        return closeOutline();
    if (const auto at = onFace(); at && glm::length(*at - corners_.back()) > 1e-6) corners_.push_back(*at);
    view_.update();
    return Goes::On;
}

Goes OpeningOnItsWay::closeOutline() {
    base::Vec2 low(1e300), high(-1e300);
    for (const base::Vec2& c : corners_) {
        low = glm::min(low, c);
        high = glm::max(high, c);
    }
    if (corners_.size() < 3) {
        editor_.say(tr("An opening needs three corners or more."));
        return Goes::On;
    }
    return apply(low, high) ? finish() : Goes::On;
}

Goes OpeningOnItsWay::finish() {
    editor_.session().select({face_.solid});
    editor_.keep(*draft_);
    if (!editor_.tools().drawsOn) editor_.setTool(Tool::Slide);
    return Goes::Done;
}

std::optional<Goes> OpeningOnItsWay::typed(const QString& text) {
    ops::SolidDrawing sizes;
    sizes.shape = model::Solid::Shape::Plane;
    const auto done = ops::typeSizes(sizes, text.toStdString(), false, editor_.unit());
    if (!done) {
        editor_.report(tl::unexpected(done.error()));
        return std::nullopt;
    }
    const base::Vec2 size(std::abs(sizes.across.x), std::abs(sizes.across.z));
    const base::Vec2 low = glm::min(from_, to_);
    return apply(low, low + size) ? finish() : Goes::Back;
}

void OpeningOnItsWay::paint(QPainter& p) const {
    if (kind_ == Outline::Drawn) {
        std::vector<base::Vec3> shown;
        for (const base::Vec2& c : corners_) shown.push_back(face_.world.point({c.x, c.y, 0}));
        p.setPen(QPen(theme().honey, 2));
        view_.path(p, shown);
        p.setPen(QPen(theme().honey, 1.5, Qt::DashLine));
        view_.line(p, shown.back(), face_.world.point({to_.x, to_.y, 0}));
        p.setPen(QPen(theme().window, 1.5));
        p.setBrush(theme().honey);
        for (const base::Vec3& corner : shown)
            if (const auto at = view_.pixelOf(corner)) p.drawEllipse(*at, 5, 5);
        p.setBrush(Qt::NoBrush);
        return;
    }
    if (!made_) return;
    QString text = tr("%1 × %2").arg(lengthNumber(made_->width, editor_.unit(), 2), editor_.length(made_->height));
    if (face_.upright) text += tr(" · sill %1").arg(editor_.length(made_->at.y));
    view_.note(p, view_.pointer + QPointF(20, -18), text);
}

class CutOpening : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override { return editor_.tools().tool == Tool::Opening; }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        const auto face = faceUnder(view_);
        if (face) return std::make_unique<OpeningOnItsWay>(view_, *face);
        editor_.say(tr("An opening is drawn on the face of a solid: a wall, a box, a room."));
        return nullptr;
    }
    QString hint() const override {
        if (editor_.tools().opening == Outline::Drawn)
            return tr("Click the corners of an opening on the face of a solid · Esc: no more");
        return tr("Drag an opening on the face of a solid · click: a door · Esc: no more");
    }
};

}  // namespace

GesturePtr cutOpening(ViewContext& view) {
    return std::make_unique<CutOpening>(view);
}

}  // namespace app
