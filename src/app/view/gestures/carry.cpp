// Carrying: the selection itself is dragged over the scene, slides over surfaces and stays seated by its lowest points.
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/selection_drag.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/berths.h"
#include "ops/seat.h"
#include "ops/turned.h"
#include "query/settle.h"
#include "render/handle.h"

namespace app {
namespace {

constexpr std::size_t kMostTriangles = 20'000;  // of more only the lowest are looked at until it is let go
constexpr std::size_t kColumns = 96;
constexpr double kBerthReach = 0.75;  // metres from the pointer

query::FallingBody moved(const query::FallingBody& body, const base::Affine& by) {
    query::FallingBody result;
    result.triangles.reserve(body.triangles.size());
    for (const query::Triangle& t : body.triangles) {
        result.triangles.push_back({by.point(t[0]), by.point(t[1]), by.point(t[2])});
        for (const base::Vec3& p : result.triangles.back()) result.bounds.add(p);
    }
    return result;
}

class Carrying : public SelectionDrag {
  public:
    using SelectionDrag::SelectionDrag;
    bool begin(bool pulls);
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers modifiers) override;
    bool wheel(double notches, Qt::KeyboardModifiers modifiers) override;
    void paint(QPainter& p) const override { paintReadout(p, text()); }
    QString hint() const override {
        return tr("Carry: it stays on what is below it · wheel: turn · Shift+wheel: raise · hold 1 2 3 4 5 6: catch · "
                  "G: "
                  "off "
                  "the steps · Esc: let go") +
               (editor_.tools().contact ? tr(" · X: through") : QString());
    }

  private:
    Goes goToBerth();
    Goes goToRoute();
    void goInContact();
    std::optional<double> fallOf(const query::FallingBody& body) const;
    QString text() const;

    QPointF fromPointer_;       ///< from the pointer to where its base appeared, pixels
    query::FallingBody body_;   ///< where it stood; of one with very many triangles only the lowest
    query::FallingBody whole_;  ///< all of such a one
    base::Vec3 offset_{0.0};
    double radians_ = 0, raised_ = 0;  ///< by wheel, with Shift
    base::Mat3 turn_{1.0};             ///< what came of it
    base::Vec3 held_{0.0};             ///< where contact has let it come to
    base::Mat3 heldTurn_{1.0};
    bool seated_ = false;
    base::Aabb carried_;              ///< the box of its mesh, own axes
    std::vector<ops::Berth> berths_;  ///< where one thing alone could go
    const ops::Berth* berth_ = nullptr;
    Qt::KeyboardModifiers modifiers_;  ///< of the last move of the mouse: those of the wheel mean something else
};

bool Carrying::begin(bool pulls) {
    if (!SelectionDrag::begin("Carry ", pulls)) return false;
    if (const auto base = view_.pixelOf(mover_->start())) fromPointer_ = *base - view_.pressedAt;
    if (const query::SceneIndex* index = editor_.sight().index())
        for (base::ObjectId id : mover_->ids()) {
            const query::SceneIndex& falls = editor_.tools().seatAsSeen ? *index : index->solid();
            const query::FallingBody part = query::fallingBody(editor_.scene(), falls, editor_.scene().find(id));
            body_.triangles.insert(body_.triangles.end(), part.triangles.begin(), part.triangles.end());
            body_.bounds.add(part.bounds);
        }
    if (mover_->ids().size() == 1) {
        const auto* item =
            editor_.session().library().item(editor_.scene().item(editor_.scene().find(mover_->ids()[0])));
        if (item != nullptr) carried_ = item->bounds;
        berths_ = ops::freeBerths(editor_.session().library(), editor_.scene(), mover_->ids());
    }
    if (body_.triangles.size() > kMostTriangles) {
        whole_ = std::move(body_);
        body_ = query::underside(whole_, kColumns);
    }
    return true;
}

Goes Carrying::move(Qt::KeyboardModifiers modifiers) {
    const query::SceneIndex* index = editor_.sight().index();
    if (index == nullptr) return Goes::On;
    const base::Ray ray = view_.rayAt(view_.pointer + fromPointer_);
    const auto hit = index->pick(editor_.scene(), ray, view_.others());
    std::optional<base::Vec3> place;
    if (hit)
        place = hit->point;
    else if (ray.direction.y < -1e-3)
        place = ray.at(-ray.origin.y / ray.direction.y);
    if (!place || glm::length(*place - view_.camera.eye) > 9000) return Goes::On;
    modifiers_ = modifiers;
    turn_ = glm::mat3_cast(glm::angleAxis(radians_, base::Vec3(0, 1, 0)));
    // Along the slope: its own up follows the surface, its heading stays. Walls are not climbed.
    constexpr double kSteepest = 0.3;
    if (editor_.tools().followSlopes && hit && hit->normal.y > kSteepest)
        turn_ = ops::turnBetween(turn_ * startUp_, hit->normal) * turn_;
    berth_ = nullptr;
    if (!berths_.empty() && view_.catcher.steps(modifiers).metres > 0)
        berth_ = ops::nearestBerth(berths_, *place, kBerthReach, carried_);
    onRoute_ = false;
    if (berth_ != nullptr) return goToBerth();
    onRoute_ = view_.catcher.holds(Qt::Key_5) && view_.catcher.look(view_.pointer).has_value();
    if (onRoute_) return goToRoute();
    const bool turned = turn_ != base::Mat3(1.0);
    const base::Vec3 raw = *place - mover_->start();
    offset_ = raw;
    for (int axis : {0, 2}) offset_[axis] = ops::snapped(raw[axis], view_.catcher.steps(modifiers).metres);
    seated_ = false;
    view_.lines.clear();
    if (turned) view_.catcher.forget();
    const bool caught = !turned && view_.catcher.look(view_.pointer).has_value();
    if (!caught && !turned) view_.lines.lineUp(offset_, {true, false, true});
    const bool inContact = editor_.tools().contact && !view_.catcher.holds(Qt::Key_X);
    if (caught) {
        offset_ = stopped(caughtOffset(raw, {render::Task::Slide, render::kAll}, base::Mat3(1.0)));
    } else if (inContact) {
        goInContact();
    } else if (const auto fall = fallOf(body_)) {
        offset_.y -= *fall;
        seated_ = true;
    }
    if (!inContact) {  // what it has come into by then does not hold it
        cameTo(held_ = offset_);
        stopAnew();
        heldTurn_ = turn_;
    }
    offset_.y += raised_;
    seated_ = seated_ && raised_ == 0;
    view_.lines.setMoved(offset_);
    editor_.report(mover_->carryTo(*draft_, offset_, turn_));
    view_.update();
    return Goes::On;
}

/// Over the ground at the height it has come to, up slopes, along walls; and down onto what is below it there.
void Carrying::goInContact() {
    if (turn_ != heldTurn_) {
        editor_.report(mover_->carryTo(*draft_, held_, turn_));
        stopAnew();
        heldTurn_ = turn_;
    }
    offset_ = stopped({offset_.x, held_.y, offset_.z});
    constexpr double kDeepest = 0.01;  // metres: it was let through something, and lies in that
    if (const auto fall = fallOf(body_); fall && *fall > -kDeepest) {
        offset_.y -= *fall;
        seated_ = true;
    }
    cameTo(held_ = offset_);
}

/// A berth near the pointer takes it, exactly.
Goes Carrying::goToBerth() {
    turn_ = glm::mat3_cast(berth_->rotation * glm::inverse(startTurn_));
    offset_ = berth_->at - mover_->start();
    seated_ = false;
    view_.lines.clear();
    view_.catcher.forget();
    view_.lines.setMoved(offset_);
    editor_.report(mover_->carryTo(*draft_, offset_, turn_));
    view_.update();
    return Goes::On;
}

/// Its base on the place of the route that is caught; by the wheel it is turned and raised there as well.
Goes Carrying::goToRoute() {
    turn_ = glm::mat3_cast(glm::angleAxis(radians_, base::Vec3(0, 1, 0))) * turnOnRoute();
    offset_ = view_.catcher.caught()->point - mover_->start() + base::Vec3(0, raised_, 0);
    seated_ = false;
    view_.lines.clear();
    cameTo(held_ = offset_);
    stopAnew();
    heldTurn_ = turn_;
    view_.lines.setMoved(offset_);
    editor_.report(mover_->carryTo(*draft_, offset_, turn_));
    view_.update();
    return Goes::On;
}

/// How far what is carried falls from where it is held, if it falls as `body`.
std::optional<double> Carrying::fallOf(const query::FallingBody& body) const {
    if (body.triangles.empty()) return std::nullopt;
    base::Affine by = ops::turnAbout(mover_->start(), turn_);
    by.translation += offset_;
    const query::SceneIndex& index = *editor_.sight().index();
    return query::settle(moved(body, by), editor_.scene(), editor_.tools().seatOntoSeen ? index : index.solid(),
                         view_.others());
}

/// Let go: what was seated by its lowest triangles only is now seated by all of them.
Goes Carrying::release(Qt::KeyboardModifiers) {
    if (berth_ != nullptr) {
        editor_.report(ops::putInBerth(*draft_, mover_->ids().front(), *berth_));
        return finish();
    }
    if (seated_ && !whole_.triangles.empty()) {
        if (const auto fall = fallOf(whole_)) offset_.y -= *fall;
        editor_.report(mover_->carryTo(*draft_, offset_, turn_));
    }
    return finish();
}

bool Carrying::wheel(double notches, Qt::KeyboardModifiers modifiers) {
    if ((modifiers & Qt::ShiftModifier) != 0)
        raised_ += notches * editor_.tools().step(render::Task::Slide).value;
    else
        radians_ += base::radians(notches * editor_.tools().step(render::Task::Turn).value);
    move(modifiers_);
    return true;
}

QString Carrying::text() const {
    const base::Vec3 to = placeNow(mover_->start() + offset_);
    QString text = tr("X %1   Z %2").arg(fixed(to.x, 2), fixed(to.z, 2));
    if (radians_ != 0) text += tr("   turned %1°").arg(fixed(base::degrees(radians_), 1));
    if (berth_ != nullptr) return text + "   " + tr("berth “%1”").arg(toQt(berth_->name));
    if (const QString at = stoppedText(); !at.isEmpty() && editor_.tools().contact) text += "   " + at;
    return text + "   " + (seated_ ? tr("seated") : tr("height %1").arg(fixed(to.y, 2)));
}

/// What is selected is picked up where it is; from anywhere else something is drawn round things.
class Carry : public Gesture {
  public:
    using Gesture::Gesture;
    std::optional<int> offer(const QPointF&) override { return std::nullopt; }
    Taken drag(Qt::KeyboardModifiers modifiers) override {
        const bool pulls = modifiers == Qt::ControlModifier;
        if (modifiers != Qt::NoModifier && !pulls) return {};
        const Slot under = view_.objectUnder(view_.pressedAt);
        if (under == model::kNoSlot || !stage_.tinted().contains(under)) return {};
        auto carrying = std::make_unique<Carrying>(view_);
        if (!carrying->begin(pulls)) carrying.reset();
        return {true, std::move(carrying)};
    }
};

}  // namespace

GesturePtr carry(ViewContext& view) {
    return std::make_unique<Carry>(view);
}

}  // namespace app
