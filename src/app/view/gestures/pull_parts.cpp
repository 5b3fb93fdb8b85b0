// The parts of one solid: its faces, edges and corners, selected and pulled. What would make a piece hollow or empty is
// refused, with the reason at the part, and nothing changes.
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "app/view/gestures/typed_amount.h"
#include "app/view/pixels.h"
#include "app/view/solid_lines.h"
#include "base/units.h"
#include "edit/session.h"
#include "ops/move.h"
#include "ops/solid_edit.h"
#include "shape/dress.h"

namespace app {
namespace {

using ops::SolidPart;
constexpr double kPartReach = 9;  // pixels

/// The solid whose parts are worked on, as it is now.
struct Parts {
    base::Affine world;
    shape::Pieces pieces;
    SolidLines lines;
    model::DetailPtr of;  ///< what they were made from
};

bool isThere(const Editor& editor) {
    if (!editor.isOpen() || editor.tools().tool != Tool::Parts) return false;
    const Slot slot = editor.scene().find(editor.tools().parts.of);
    const auto* solid = slot == kNoSlot ? nullptr : editor.scene().facet<model::Solid>(slot);
    return solid != nullptr && solid->shape != model::Solid::Shape::Plane;
}

Parts partsNow(const Editor& editor) {
    const base::ObjectId id = editor.tools().parts.of;
    const Slot slot = editor.scene().find(id);
    Parts now;
    now.world = editor.scene().world(slot);
    now.pieces = ops::piecesOf(editor.scene(), id).value_or(shape::Pieces{});
    now.lines = SolidLines(now.pieces, now.world);
    now.of = editor.scene().detail(slot);
    return now;
}

void paintPart(QPainter& p, const ViewContext& view, const Parts& all, const SolidPart& part, bool chosen) {
    const Theme& t = view.editor.theme();
    const QColor colour = t.honey;
    if (part.kind == SolidPart::Kind::Corner) {
        const auto at = view.pixelOf(all.world.point(part.from));
        p.setPen(QPen(t.window, 1.5));
        p.setBrush(colour);
        if (at) p.drawRect(QRectF(at->x() - 5, at->y() - 5, 10, 10));
        p.setBrush(Qt::NoBrush);
        return;
    }
    if (part.kind == SolidPart::Kind::Edge) {
        // On a dark ground of its own it is seen on bright walls too.
        for (const QPen& pen : {QPen(t.window, chosen ? 6 : 5), QPen(colour, chosen ? 3 : 2.2)}) {
            p.setPen(pen);
            view.line(p, all.world.point(part.from), all.world.point(part.to));
        }
        return;
    }
    QColor wash = colour;
    wash.setAlpha(chosen ? 70 : 36);
    for (const shape::FacePolygon& face : shape::outsideOf(all.pieces)) {
        if (face.tag != part.tag || glm::dot(face.normal, part.plane.normal) < 1 - 1e-9 ||
            std::abs(part.plane.height(face.corners[0])) > 1e-5)
            continue;
        QPolygonF outline;
        for (const base::Vec3& corner : face.corners)
            if (const auto at = view.pixelOf(all.world.point(corner))) outline << *at;
        p.setPen(Qt::NoPen);
        p.setBrush(wash);
        if (outline.size() == static_cast<qsizetype>(face.corners.size())) p.drawPolygon(outline);
    }
    p.setBrush(Qt::NoBrush);
}

void paintSolid(QPainter& p, const ViewContext& view, const Parts& all) {
    const Theme& t = view.editor.theme();
    p.setPen(QPen(t.window, 2.2));
    all.lines.paint(p, view);
    p.setPen(QPen(t.text, 1));
    all.lines.paint(p, view);
    p.setPen(QPen(t.window, 1));
    p.setBrush(t.text);
    for (const base::Vec3& corner : all.lines.corners())
        if (const auto at = view.pixelOf(corner)) p.drawRect(QRectF(at->x() - 2.5, at->y() - 2.5, 5, 5));
    p.setBrush(Qt::NoBrush);
    for (const SolidPart& part : view.editor.tools().parts.chosen) paintPart(p, view, all, part, true);
}

/// Parts in the hand: a face goes along its normal, edges and corners in the plane that faces the eye most.
class PullingParts : public Hold {
  public:
    PullingParts(ViewContext& view, const SolidPart& by, bool extrudes)
        : Hold(view), before_(partsNow(editor_)), by_(by), chosen_(editor_.tools().parts.chosen), extrudes_(extrudes) {
        grip_ = before_.world.point(ops::middleOf(before_.pieces, by_));
        normal_ = isFace() ? outwards() : facing();
        from_ = pointer().value_or(grip_);
        base::Aabb box;
        for (const SolidPart& part : chosen_)
            for (const base::Vec3& corner : ops::cornersOf(before_.pieces, part)) box.add(before_.world.point(corner));
        view_.lines.begin(box);
    }
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers) override {
        if (view_.amount.isOpen()) return Goes::On;
        return finish();
    }
    void type() override {
        view_.amount.open(isFace() ? tr("How far (%1)").arg(base::traits(editor_.unit()).sign)
                                   : tr("X Y Z, how far (%1)").arg(base::traits(editor_.unit()).sign),
                          view_.pointer + QPointF(22, -44));
    }
    std::optional<Goes> typed(const QString& text) override;
    bool catches() const override { return true; }
    void paint(QPainter& p) const override;
    QString hint() const override {
        return tr("Drag: pull it · Shift: fine · hold C: in line, 1 2 3 4 6: catch · Tab: type how far · Esc: let go");
    }

  private:
    bool isFace() const { return by_.kind == SolidPart::Kind::Face; }
    base::Vec3 outwards() const {
        const auto into = base::inverse(before_.world);
        return into ? glm::normalize(glm::transpose(into->linear) * by_.plane.normal) : by_.plane.normal;
    }
    base::Vec3 facing() const {
        const base::Vec3 way = glm::abs(view_.camera.forward());
        return way.y >= way.x && way.y >= way.z ? base::Vec3(0, 1, 0)
               : way.x >= way.z                 ? base::Vec3(1, 0, 0)
                                                : base::Vec3(0, 0, 1);
    }
    /// Where the pointer has it: on the line of a face's normal, else on the plane.
    std::optional<base::Vec3> pointer() {
        return isFace() ? nearestOnLine(view_.rayAt(view_.pointer), grip_, normal_)
                        : onPlane(view_, view_.pointer, grip_, normal_);
    }
    base::Vec3 snapped(base::Vec3 by, double step) const {
        if (isFace()) return normal_ * ops::snapped(glm::dot(by, normal_), step);
        for (int k = 0; k < 3; ++k) by[k] = ops::snapped(by[k], step);
        return by;
    }
    void apply(const base::Vec3& by);
    Goes finish();

    Parts before_;
    SolidPart by_;
    std::vector<SolidPart> chosen_, after_;
    bool extrudes_;
    base::Vec3 grip_{0.0}, normal_{0, 1, 0}, from_{0.0}, moved_{0.0};
    std::unique_ptr<edit::Draft> draft_;
    std::string refusal_;
};

void PullingParts::apply(const base::Vec3& by) {
    draft_.reset();  // gives back what the last move did
    refusal_.clear();
    moved_ = by;
    view_.update();
    const auto into = base::inverse(before_.world);
    if (!into || glm::length(by) < 1e-6) return;
    const base::Vec3 own = into->direction(by);
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                           extrudes_ ? "Pull out a face" : "Pull parts of a solid");
    const base::ObjectId id = editor_.tools().parts.of;
    auto done = [&]() -> base::Result<std::vector<SolidPart>> {
        if (!extrudes_) return ops::moveParts(*draft_, id, chosen_, own);
        auto face = ops::extrude(*draft_, id, by_, glm::dot(own, by_.plane.normal));
        if (!face) return tl::unexpected(face.error());
        return std::vector<SolidPart>{*face};
    }();
    if (done) {
        after_ = *done;
        return;
    }
    refusal_ = done.error().message;
    draft_.reset();
}

Goes PullingParts::move(Qt::KeyboardModifiers modifiers) {
    if (view_.amount.isOpen()) return Goes::On;
    const auto at = pointer();
    if (!at) return Goes::On;
    view_.lines.clear();
    base::Vec3 by = *at - from_;
    if (const auto& caught = view_.catcher.look(view_.pointer)) {
        by = caught->point - grip_;
        if (isFace()) by = normal_ * glm::dot(by, normal_);
    } else if (view_.catcher.linesUp()) {
        base::Vec3 lined = by;
        std::array<bool, 3> along{};
        for (std::size_t k = 0; k < 3; ++k)
            along[k] = isFace() ? std::abs(normal_[static_cast<int>(k)]) > 0.999
                                : std::abs(normal_[static_cast<int>(k)]) < 0.5;
        view_.lines.lineUp(lined, along);
        by = lined != by ? lined : snapped(by, view_.catcher.steps(modifiers).metres);
    } else {
        by = snapped(by, view_.catcher.steps(modifiers).metres);
    }
    if (glm::length(by - moved_) > 1e-9) apply(by);
    return Goes::On;
}

Goes PullingParts::finish() {
    if (!draft_) {
        if (!refusal_.empty()) editor_.say(toQt(refusal_));
        return Goes::Back;
    }
    if (editor_.keep(*draft_)) {
        PartWork work = editor_.tools().parts;
        work.chosen = after_;
        editor_.change(&Tools::parts, work);
    }
    return Goes::Done;
}

std::optional<Goes> PullingParts::typed(const QString& text) {
    const QStringList words = isFace() ? QStringList{text} : text.split(QChar(' '), Qt::SkipEmptyParts);
    std::vector<double> amounts;
    for (const QString& word : words) {
        auto amount = base::evaluateQuantity(base::typedIn(fromHere(word), editor_.unit()), base::Quantity::Length, 0);
        if (!amount) {
            editor_.report(tl::unexpected(amount.error()));
            return std::nullopt;
        }
        amounts.push_back(*amount);
    }
    if (!isFace() && amounts.size() != 3) {
        editor_.say(tr("Three lengths, as 0.5 0 -1."));
        return std::nullopt;
    }
    apply(isFace() ? normal_ * amounts[0] : base::Vec3(amounts[0], amounts[1], amounts[2]));
    if (!draft_ && !refusal_.empty()) {
        editor_.say(toQt(refusal_));
        return std::nullopt;
    }
    return finish();
}

void PullingParts::paint(QPainter& p) const {
    const Parts now = partsNow(editor_);
    p.setPen(QPen(theme().dim, 1.2));
    now.lines.paint(p, view_);
    for (const SolidPart& part : draft_ ? after_ : chosen_) paintPart(p, view_, draft_ ? now : before_, part, true);
    const auto at = view_.pixelOf(grip_ + moved_);
    if (!at) return;
    if (!refusal_.empty()) {
        p.setPen(QPen(theme().rose, 2));
        p.drawEllipse(*at, 7, 7);
        return view_.note(p, *at + QPointF(14, -10), QStringLiteral("✕ ") + toQt(refusal_));
    }
    const QString far =
        isFace() ? editor_.length(glm::dot(moved_, normal_), 3)
                 : tr("X %1  Y %2  Z %3")
                       .arg(editor_.length(moved_.x, 3), editor_.length(moved_.y, 3), editor_.length(moved_.z, 3));
    view_.note(p, *at + QPointF(14, -10), far);
}

/// The image on a face in the hand.
class ShiftingImage : public Hold {
  public:
    ShiftingImage(ViewContext& view, const SolidPart& face) : Hold(view), face_(face) {
        const base::ObjectId id = editor_.tools().parts.of;
        const Slot slot = editor_.scene().find(id);
        look_.tag = face.tag;
        look_.slot = "plaster";  // what the rest of it is
        for (const model::SolidFace& known : editor_.scene().facet<model::Solid>(slot)->faces)
            if (known.tag == face.tag) look_ = known;
        into_ = base::inverse(editor_.scene().world(slot)).value_or(base::Affine{});
        from_ = onImage().value_or(base::Vec2(0.0));
    }
    Goes move(Qt::KeyboardModifiers modifiers) override {
        const auto at = onImage();
        if (!at) return Goes::On;
        // The image goes with the pointer: what it shows there lay where the drag began.
        const double step = view_.catcher.steps(modifiers).metres, turn = base::radians(look_.turnDegrees);
        const base::Vec2 by = *at - from_, c(std::cos(turn), std::sin(turn));
        model::SolidFace now = look_;
        now.across = look_.across - ops::snapped(c.x * by.x + c.y * by.y, step);
        now.down = look_.down - ops::snapped(c.x * by.y - c.y * by.x, step);
        view_.update();
        if (now == last_) return Goes::On;
        last_ = now;
        draft_.reset();  // gives back what the last move did
        draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Shift the image on a face");
        return editor_.report(ops::dressFace(*draft_, editor_.tools().parts.of, face_.tag, now)) ? Goes::On
                                                                                                 : Goes::Back;
    }
    Goes release(Qt::KeyboardModifiers) override {
        if (draft_) editor_.keep(*draft_);
        return Goes::Done;
    }
    void paint(QPainter& p) const override {
        view_.note(p, view_.pointer + QPointF(16, -14),
                   tr("across %1  down %2").arg(editor_.length(last_.across, 3), editor_.length(last_.down, 3)));
    }
    QString hint() const override { return tr("Drag: the image goes along · Shift: fine · Esc: let go"); }

  private:
    /// Where the pointer is on the image, unturned and unshifted, metres.
    std::optional<base::Vec2> onImage() const {
        const base::Ray ray = view_.rayAt(view_.pointer);
        const base::Vec3 from = into_.point(ray.origin), way = into_.direction(ray.direction);
        const double facing = glm::dot(way, face_.plane.normal);
        if (std::abs(facing) < 1e-9) return std::nullopt;
        return shape::onSide(from - way * (face_.plane.height(from) / facing), face_.plane.normal);
    }
    SolidPart face_;
    model::SolidFace look_, last_;
    base::Affine into_;
    base::Vec2 from_{0.0};
    std::unique_ptr<edit::Draft> draft_;
};

class PullParts : public ViewTool {
  public:
    using ViewTool::ViewTool;
    bool claims() const override { return isThere(editor_); }
    bool catches() const override { return true; }
    void withdraw() override { hovered_.reset(); }
    bool doubleClick() override {
        if (!claims() || hovered_) return claims();
        leaveParts();
        return true;
    }
    void paint(QPainter& p) const override {
        if (!claims()) return;
        const Parts& all = parts();
        paintSolid(p, view_, all);
        if (hovered_) paintPart(p, view_, all, *hovered_, false);
    }
    QString hint() const override {
        if (!hovered_) return tr("Point at a face, an edge or a corner · Esc: out of the solid");
        return hovered_->kind == SolidPart::Kind::Face
                   ? tr("Drag this face: along its normal · Ctrl: pull out a new piece · Alt: shift its image · "
                        "Shift+click: one more")
                   : tr("Drag this %1 · Shift+click: one more")
                         .arg(hovered_->kind == SolidPart::Kind::Edge ? tr("edge") : tr("corner"));
    }

  protected:
    bool point(const QPointF& pixel) override {
        hovered_ = under(pixel);
        view_.update();
        return hovered_.has_value();
    }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers modifiers) override {
        const auto part = under(view_.pointer);
        PartWork work = editor_.tools().parts;
        if (!part) {
            work.chosen.clear();
            editor_.change(&Tools::parts, work);
            return nullptr;
        }
        const auto known = std::find(work.chosen.begin(), work.chosen.end(), *part);
        if ((modifiers & Qt::ShiftModifier) != 0) {
            if (known == work.chosen.end())
                work.chosen.push_back(*part);
            else
                work.chosen.erase(known);
            editor_.change(&Tools::parts, work);
            return nullptr;
        }
        if ((modifiers & Qt::AltModifier) != 0 && part->kind == SolidPart::Kind::Face)
            return std::make_unique<ShiftingImage>(view_, *part);
        const bool extrudes = (modifiers & Qt::ControlModifier) != 0 && part->kind == SolidPart::Kind::Face;
        if (known == work.chosen.end() || extrudes) {
            work.chosen = {*part};
            editor_.change(&Tools::parts, work);
        }
        return std::make_unique<PullingParts>(view_, *part, extrudes);
    }
    /// Esc: first nothing is selected, then one goes out.
    bool putAway() override {
        PartWork work = editor_.tools().parts;
        if (work.chosen.empty()) {
            leaveParts();
            return true;
        }
        work.chosen.clear();
        editor_.change(&Tools::parts, work);
        return true;
    }

  private:
    void leaveParts() {
        editor_.change(&Tools::parts, PartWork{});
        editor_.setTool(Tool::Slide);
    }
    std::optional<SolidPart> under(const QPointF& pixel) const {
        const shape::Pieces& pieces = parts().pieces;
        const auto into = base::inverse(parts().world);
        if (!into) return std::nullopt;
        const base::Ray ray = view_.rayAt(pixel);
        const base::Ray own{into->point(ray.origin), into->direction(ray.direction)};
        const auto hit = shape::firstHit(pieces, own);
        if (!hit) return std::nullopt;
        const double scale = glm::length(into->linear[0]);
        return ops::partAt(pieces, own, kPartReach * view_.metresPerPixel(ray.at(*hit)) * scale);
    }
    /// Made anew when the solid has changed, not at each move of the mouse.
    const Parts& parts() const {
        const Slot slot = editor_.scene().find(editor_.tools().parts.of);
        if (!parts_ || parts_->of != editor_.scene().detail(slot) || parts_->world != editor_.scene().world(slot))
            parts_ = partsNow(editor_);
        return *parts_;
    }
    std::optional<SolidPart> hovered_;
    mutable std::optional<Parts> parts_;
};

}  // namespace

GesturePtr pullParts(ViewContext& view) {
    return std::make_unique<PullParts>(view);
}

}  // namespace app
