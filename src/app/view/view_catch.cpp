// Catching: while a number key is held in a drag, the selection's nearest feature lands on what is under the pointer.
#include <QApplication>
#include <QPainter>
#include <algorithm>
#include <tuple>

#include "app/look/parts.h"
#include "app/view/view_widget.h"

namespace app {

using model::Slot;

namespace {

constexpr std::size_t kMostFeatures = 12'000;

}  // namespace

/// Corners of its meshes, or of its boxes where those are many; centre and base of them all.
void ViewWidget::collectFeatures() {
    features_.clear();
    const model::Scene& scene = editor_.scene();
    const base::Aabb& box = mover_->bounds();
    for (const base::Vec3& p : {box.centre(), box.baseCentre()}) features_.push_back(p);
    for (int i = 0; i < 8; ++i) features_.push_back(box.corner(i));
    for (Slot s : stage_.tinted()) {
        if (editor_.index() != nullptr && scene.item(s))
            for (const base::Vec3& end : query::endsOf(scene, *editor_.index(), s)) features_.push_back(end);
        const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(s));
        if (mesh == nullptr || features_.size() > kMostFeatures) continue;
        if (features_.size() + mesh->positions.size() > kMostFeatures) {
            for (int i = 0; i < 8; ++i) features_.push_back(scene.bounds(s).corner(i));
            continue;
        }
        for (const shape::Float3& p : mesh->positions) features_.push_back(scene.world(s).point({p[0], p[1], p[2]}));
    }
    std::sort(features_.begin(), features_.end(), [](const base::Vec3& a, const base::Vec3& b) {
        return std::tie(a.x, a.y, a.z) < std::tie(b.x, b.y, b.z);
    });
    features_.erase(std::unique(features_.begin(), features_.end()), features_.end());
}

query::SlotFilter ViewWidget::caughtOn() const {
    const bool moving = drag_ || carry_;  // what is dragged is never caught on itself
    return [this, moving](Slot s) {
        if (drawing_ && editor_.scene().id(s) == drawing_->id) return false;
        return !(moving && stage_.tinted().contains(s)) && (editor_.catching().hidden || !editor_.isHidden(s)) &&
               (editor_.catching().protectedOnes || !editor_.scene().protectedInTree(s));
    };
}

std::optional<query::CatchPoint> ViewWidget::catchUnder(const QPointF& pixel) const {
    using query::CatchKind;
    const query::SceneIndex* index = editor_.index();
    if (index == nullptr || heldKeys_.contains(Qt::Key_0)) return std::nullopt;
    const render::Sight sight = camera_.sight(viewport());
    const query::Aim aim{{pixel.x(), pixel.y()},
                         [&](const base::Vec3& p) { return sight.rayTo(p); },
                         [&](const base::Vec2& p) { return sight.rayThrough(p); },
                         [&](const base::Vec3& p) { return sight.project(p); },
                         [&](const base::Vec3& p) { return sight.metresPerPixel(p); }};
    const query::SlotFilter others = caughtOn();
    for (const auto& [key, kind] : {std::pair{Qt::Key_1, CatchKind::Corner},
                                    {Qt::Key_2, CatchKind::Edge},
                                    {Qt::Key_3, CatchKind::Face},
                                    {Qt::Key_4, CatchKind::Centre},
                                    {Qt::Key_6, CatchKind::End}}) {
        if (!heldKeys_.contains(key)) continue;
        auto found = query::catchAt(editor_.scene(), *index, aim, kind, others);
        if (!found || !caught_ || caught_->kind != kind || kind != CatchKind::Corner) return found;
        // A corner is kept under small moves of the pointer.
        constexpr double kKeep = 3;
        const auto was = camera_.project(caught_->point, viewport()), now = camera_.project(found->point, viewport());
        if (!was || !now) return found;
        return glm::length(*was - aim.pixel) < glm::length(*now - aim.pixel) + kKeep ? caught_ : found;
    }
    return std::nullopt;
}

base::Vec3 ViewWidget::caughtOffset(const base::Vec3& raw, const render::HandlePart& part,
                                    const base::Mat3& axes) const {
    auto allowed = [&](const base::Vec3& offset) {
        const int without = part.planeWithout();
        if (part.axis() >= 0) return axes[part.axis()] * glm::dot(offset, axes[part.axis()]);
        return without >= 0 ? offset - axes[without] * glm::dot(offset, axes[without]) : offset;
    };
    base::Vec3 best = raw;
    double nearest = 1e300;
    for (const base::Vec3& feature : features_) {
        const base::Vec3 offset = allowed(caught_->point - feature);
        const double d = glm::length(offset - raw);
        if (d < nearest) nearest = d, best = offset;
    }
    return best;
}

/// Shift: fine. G held: no steps at all.
render::Steps ViewWidget::dragSteps(Qt::KeyboardModifiers modifiers) const {
    if (heldKeys_.contains(Qt::Key_G)) return {};
    return editor_.activeSteps((modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1.0);
}

/// A key was pressed or let go: the same pointer means something else now.
void ViewWidget::dragAgain() {
    const auto modifiers = QApplication::queryKeyboardModifiers();
    if (editor_.tool() == Tool::Measure) measureHover(pointer_);
    if (drag_) dragHandle(pointer_, modifiers);
    if (carry_) dragCarry(pointer_, modifiers);
}

void ViewWidget::paintCaught(QPainter& p) const {
    if (!caught_) return;
    const auto pixel = camera_.project(caught_->point, viewport());
    if (!pixel) return;
    const QPointF at(pixel->x, pixel->y);
    const Theme& t = editor_.theme();
    const QPolygonF diamond({at + QPointF(0, -9), at + QPointF(9, 0), at + QPointF(0, 9), at + QPointF(-9, 0)});
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.window, 4));
    p.drawPolygon(diamond);
    p.setPen(QPen(t.lemon, 2));
    p.drawPolygon(diamond);
    const QString kinds[] = {tr("corner"), tr("edge"), tr("face"), tr("centre"), tr("end")};
    const auto name = editor_.scene().nameText(caught_->slot);
    const QString text = tr("%1 of %2").arg(kinds[static_cast<int>(caught_->kind)], toQt(name));
    paintNote(p, at + QPointF(12, 22), text);
}

}  // namespace app
