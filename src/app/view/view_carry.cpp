// Carrying: the selection itself is dragged over the scene, slides over surfaces and stays seated.
#include <cmath>

#include "app/look/parts.h"
#include "app/view/view_widget.h"

#include "base/text.h"
#include "ops/turned.h"

namespace app {

using model::Slot;

namespace {

constexpr std::size_t kMostTriangles = 20'000;  // of more only the lowest are looked at until it is let go
constexpr std::size_t kColumns = 96;

query::FallingBody moved(const query::FallingBody& body, const base::Affine& by) {
    query::FallingBody result;
    result.triangles.reserve(body.triangles.size());
    for (const query::Triangle& t : body.triangles) {
        result.triangles.push_back({by.point(t[0]), by.point(t[1]), by.point(t[2])});
        for (const base::Vec3& p : result.triangles.back()) result.bounds.add(p);
    }
    return result;
}

}  // namespace

bool ViewWidget::startCarry() {
    if (!beginDrag("Carry ")) return false;
    Carry carry;
    const auto base = camera_.project(mover_->start(), viewport());
    if (base) carry.fromPointer = QPointF(base->x, base->y) - pressedAt_;
    if (editor_.index() != nullptr)
        for (base::ObjectId id : mover_->ids()) {
            const query::FallingBody part =
                query::fallingBody(editor_.scene(), *editor_.index(), editor_.scene().find(id));
            carry.body.triangles.insert(carry.body.triangles.end(), part.triangles.begin(), part.triangles.end());
            carry.body.bounds.add(part.bounds);
        }
    if (carry.body.triangles.size() > kMostTriangles) {
        carry.whole = std::move(carry.body);
        carry.body = query::underside(carry.whole, kColumns);
    }
    carry_ = std::move(carry);
    updateHint();
    return true;
}

void ViewWidget::dragCarry(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const query::SceneIndex* index = editor_.index();
    if (index == nullptr) return;
    const QPointF at = pixel + carry_->fromPointer;
    const base::Ray ray = camera_.rayThrough({at.x(), at.y()}, viewport());
    const query::SlotFilter others = [this](Slot s) { return !stage_.tinted().contains(s) && !editor_.isHidden(s); };
    std::optional<base::Vec3> place;
    std::optional<base::Vec3> normal;
    if (const auto hit = index->pick(editor_.scene(), ray, others)) {
        place = hit->point;
        normal = hit->normal;
    }
    if (!place && ray.direction.y < -1e-3) place = ray.at(-ray.origin.y / ray.direction.y);
    if (!place || glm::length(*place - camera_.eye) > 9000) return;
    Carry& carry = *carry_;
    carry.modifiers = modifiers;
    carry.turn = glm::mat3_cast(glm::angleAxis(carry.radians, base::Vec3(0, 1, 0)));
    // Along the slope: its own up follows the surface, its heading stays. Walls are not climbed.
    constexpr double kSteepest = 0.3;
    if (editor_.followSlopes() && normal && normal->y > kSteepest)
        carry.turn = ops::turnBetween(carry.turn * startUp_, *normal) * carry.turn;
    const bool turned = carry.turn != base::Mat3(1.0);
    carry.offset = *place - mover_->start();
    const render::Steps steps = dragSteps(modifiers);
    const base::Vec3 raw = carry.offset;
    for (int axis : {0, 2}) carry.offset[axis] = ops::snapped(carry.offset[axis], steps.metres);
    carry.seated = false;
    caught_ = turned ? std::nullopt : catchUnder(pixel);
    flush_.clear();
    if (!caught_ && !turned) lineUp(carry.offset, {true, false, true});
    if (caught_)
        carry.offset = caughtOffset(raw, {render::Task::Slide, render::kAll}, base::Mat3(1.0));
    else if (const auto fall = fallOfCarried(carry.body)) {
        carry.offset.y -= *fall;
        carry.seated = true;
    }
    carry.offset.y += carry.raised;
    carry.seated = carry.seated && carry.raised == 0;
    editor_.report(mover_->carryTo(*draft_, carry.offset, carry.turn));
    update();
}

/// How far what is carried falls from where it is held, if it falls as `body`.
std::optional<double> ViewWidget::fallOfCarried(const query::FallingBody& body) const {
    if (body.triangles.empty()) return std::nullopt;
    const query::SlotFilter others = [this](Slot s) { return !stage_.tinted().contains(s) && !editor_.isHidden(s); };
    base::Affine by = ops::turnAbout(mover_->start(), carry_->turn);
    by.translation += carry_->offset;
    return query::settle(moved(body, by), editor_.scene(), *editor_.index(), others);
}

/// Let go: what was seated by its lowest triangles only is now seated by all of them.
void ViewWidget::settleCarried() {
    if (!carry_->seated || carry_->whole.triangles.empty()) return;
    if (const auto fall = fallOfCarried(carry_->whole)) carry_->offset.y -= *fall;
    editor_.report(mover_->carryTo(*draft_, carry_->offset, carry_->turn));
}

void ViewWidget::wheelCarry(double notches, Qt::KeyboardModifiers modifiers) {
    if ((modifiers & Qt::ShiftModifier) != 0)
        carry_->raised += notches * editor_.step(render::Task::Slide).value;
    else
        carry_->radians += base::radians(notches * editor_.step(render::Task::Turn).value);
    dragCarry(pointer_, carry_->modifiers);
}

/// "seated", or how far above or below what would carry it.
QString ViewWidget::seatedText() const {
    const query::SceneIndex* index = editor_.index();
    if (index == nullptr || mover_->ids().size() != 1) return {};
    const Slot slot = editor_.scene().find(mover_->ids().front());
    if (stage_.tinted().size() > 64) return {};
    const auto height = ops::heightAboveSupport(editor_.scene(), *index, slot);
    if (!height) return tr("nothing below");
    if (std::abs(*height) < 5e-4) return tr("seated");
    return tr("%1 m %2").arg(fixed(std::abs(*height), 2), *height > 0 ? tr("above") : tr("sunk in"));
}

}  // namespace app
