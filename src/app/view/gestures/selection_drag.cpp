#include "app/view/gestures/selection_drag.h"

#include <QCursor>
#include <algorithm>
#include <cmath>
#include <tuple>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "ops/copies.h"
#include "ops/objects.h"
#include "ops/prefab.h"
#include "ops/routes.h"
#include "ops/standing.h"
#include "query/catch.h"
#include "query/route.h"
#include "render/handle.h"

namespace app {

using render::Task;

namespace {

constexpr std::size_t kMostFeatures = 12'000;

}  // namespace

base::Result<bool> applyAmount(edit::Draft& draft, const ops::Mover& mover, const render::HandlePart& part,
                               const render::HandleAmount& amount, ops::PivotMode pivot) {
    if (part.task == Task::Fit) return mover.sizeBy(draft, amount.factors, pivot);
    const base::Status done = part.task == Task::Slide ? mover.moveBy(draft, amount.offset)
                                                       : mover.turnBy(draft, amount.axis, amount.radians, pivot);
    if (!done) return tl::unexpected(done.error());
    return false;
}

SelectionDrag::~SelectionDrag() {
    draft_.reset();  // gives every byte back
    if (pulledFrom_) editor_.select(pulledFrom_->first);
    stage_.endLively();
}

bool SelectionDrag::begin(const std::string& verb, bool pulls) {
    auto mover = ops::Mover::begin(editor_.scene(), taken());
    if (!mover) return editor_.report(tl::unexpected(mover.error()));
    const std::string does = !pulls ? verb : editor_.tools().pullsLinked ? "Pull a linked copy of " : "Pull a copy of ";
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                           does + ops::describe(editor_.scene(), mover->ids()));
    if (!editor_.report(draft_->state())) return false;
    if (pulls) {
        pulledFrom_ = {editor_.selection(), editor_.scene().world(editor_.scene().find(mover->ids().front()))};
        mover = beginPull();
        if (!mover) return editor_.report(tl::unexpected(mover.error()));
    }
    mover->setPicked(editor_.tools().pickedPivot);
    mover_ = std::move(*mover);
    const Slot last = editor_.scene().find(mover_->ids().back());
    startTurn_ = base::toTransform(editor_.scene().world(last)).rotation;
    startUp_ = glm::normalize(startTurn_ * base::Vec3(0, 1, 0));
    stage_.startLively();
    view_.catcher.setMine([this](Slot s) { return stage_.tinted().contains(s); });
    view_.lines.begin(*mover_);
    collectFeatures();
    return true;
}

/// The selection, and what stands on it if that goes along.
ops::Ids SelectionDrag::taken() const {
    ops::Ids ids = editor_.selection();
    if (!editor_.tools().takesStanding || editor_.sight().index() == nullptr) return ids;
    for (base::ObjectId id : ops::standingOn(editor_.scene(), *editor_.sight().index(), ids))
        ids.insert(ids.begin(), id);
    return ids;
}

/// The copies are what is dragged; the originals stay.
base::Result<ops::Mover> SelectionDrag::beginPull() {
    auto made = editor_.tools().pullsLinked ? ops::linkedCopies(*draft_, pulledFrom_->first)
                                            : ops::duplicate(*draft_, pulledFrom_->first);
    if (!made) return tl::unexpected(made.error());
    // The copies stand where the originals do; a linked one may have axes of its own.
    pulledFrom_->second = editor_.scene().world(editor_.scene().find(made->front()));
    editor_.select(*made);
    return ops::Mover::begin(editor_.scene(), *made);
}

/// Corners of its meshes, or of its boxes where those are many; centre and base of them all.
void SelectionDrag::collectFeatures() {
    features_.clear();
    const model::Scene& scene = editor_.scene();
    const base::Aabb& box = mover_->bounds();
    for (const base::Vec3& p : {box.centre(), box.baseCentre()}) features_.push_back(p);
    for (int i = 0; i < 8; ++i) features_.push_back(box.corner(i));
    for (Slot s : stage_.tinted()) {
        if (editor_.sight().index() != nullptr && scene.item(s))
            for (const base::Vec3& end : query::endsOf(scene, *editor_.sight().index(), s)) features_.push_back(end);
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

base::Vec3 SelectionDrag::caughtOffset(const base::Vec3& raw, const render::HandlePart& part,
                                       const base::Mat3& axes) const {
    auto allowed = [&](const base::Vec3& offset) {
        const int without = part.planeWithout();
        if (part.axis() >= 0) return axes[part.axis()] * glm::dot(offset, axes[part.axis()]);
        return without >= 0 ? offset - axes[without] * glm::dot(offset, axes[without]) : offset;
    };
    base::Vec3 best = raw;
    double nearest = 1e300;
    for (const base::Vec3& feature : features_) {
        const base::Vec3 offset = allowed(view_.catcher.caught()->point - feature);
        const double d = glm::length(offset - raw);
        if (d < nearest) nearest = d, best = offset;
    }
    return best;
}

base::Mat3 SelectionDrag::turnOnRoute() const {
    if (!editor_.tools().followSlopes) return base::Mat3(1.0);
    const shape::Curve& curve = stage_.routes().of(editor_.scene(), view_.catcher.route()).curve;
    const base::Vec3 way = query::poseOn(curve, view_.catcher.caught()->metres).rotation * base::Vec3(0, 0, 1);
    const base::Vec3 front = startTurn_ * base::Vec3(0, 0, 1);
    const double turn = std::atan2(way.x, way.z) - std::atan2(front.x, front.z);
    return glm::mat3_cast(glm::angleAxis(turn, base::Vec3(0, 1, 0)));
}

void SelectionDrag::wrapPointer() {
    constexpr double kEdge = 1, kInside = 4;
    const int width = view_.widget.width(), height = view_.widget.height();
    QPointF to = view_.pointer;
    if (to.x() <= kEdge)
        to.setX(width - kInside);
    else if (to.x() >= width - 1 - kEdge)
        to.setX(kInside);
    if (to.y() <= kEdge)
        to.setY(height - kInside);
    else if (to.y() >= height - 1 - kEdge)
        to.setY(kInside);
    if (to == view_.pointer) return;
    wrapped_ += view_.pointer - to;
    view_.pointer = to;
    QCursor::setPos(view_.widget.mapToGlobal(to.toPoint()));
}

base::Vec3 SelectionDrag::placeNow(const base::Vec3& together) const {
    const Slot only = mover_->ids().size() == 1 ? editor_.scene().find(mover_->ids().front()) : model::kNoSlot;
    return only == model::kNoSlot ? together : editor_.scene().world(only).translation;
}

void SelectionDrag::paintReadout(QPainter& p, const QString& text) const {
    if (view_.amount.isOpen()) return;
    setLetters(p, 12);
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 20;
    QPointF at = view_.pointer + QPointF(22, -44);
    at.setX(std::clamp(at.x(), 6.0, std::max(6.0, view_.widget.width() - w - 6.0)));
    at.setY(std::clamp(at.y(), 6.0, std::max(6.0, view_.widget.height() - 40.0)));
    QColor back = theme().window;
    back.setAlpha(235);
    p.setPen(QPen(theme().honey, 1));
    p.setBrush(back);
    const QRectF box(at, QSizeF(w, 26));
    p.drawRoundedRect(box, 6, 6);
    p.setPen(theme().text);
    p.drawText(box, Qt::AlignCenter, text);
}

void SelectionDrag::stopAnew() {
    sweep_.reset();
    sweptFrom_ = came_;
}

base::Vec3 SelectionDrag::stopped(const base::Vec3& wanted, const std::optional<base::Mat3>& along) {
    const query::SceneIndex* index = editor_.sight().index();
    if (index == nullptr || !editor_.tools().contact || view_.catcher.holds(Qt::Key_X)) {
        sweep_.reset();  // what it has come into by then does not hold it
        sweptFrom_ = came_ = wanted;
        return wanted;
    }
    if (!sweep_) {
        std::vector<Slot> tops;
        for (base::ObjectId id : mover_->ids()) tops.push_back(editor_.scene().find(id));
        sweep_.emplace(editor_.scene(), *index, tops, [this](Slot s) { return !editor_.isHidden(s); });
    }
    came_ = sweptFrom_ + sweep_->go(came_ - sweptFrom_, wanted - sweptFrom_, along);
    return came_;
}

QString SelectionDrag::stoppedText() const {
    if (!sweep_ || sweep_->stops().empty()) return {};
    // What stands in the way, before what it stands on.
    const auto& stops = sweep_->stops();
    constexpr double kUpright = 0.7;
    const auto wall = std::find_if(stops.rbegin(), stops.rend(),
                                   [](const query::Sweep::Stop& stop) { return std::abs(stop.normal.y) < kUpright; });
    const Slot on = wall != stops.rend() ? wall->on : stops.back().on;
    return editor_.scene().alive(on) ? tr("at “%1”").arg(toQt(editor_.scene().nameText(on))) : QString();
}

Goes SelectionDrag::finish() {
    if (pulledFrom_)
        editor_.setLastPull(ops::motionBetween(pulledFrom_->second,
                                               editor_.scene().world(editor_.scene().find(mover_->ids().front()))));
    if (const base::ObjectId course = onRoute_ ? view_.catcher.course() : base::ObjectId{})
        editor_.report(ops::addStops(*draft_, course, mover_->ids()));
    if (editor_.keep(*draft_)) pulledFrom_.reset();  // else the copies go, and the originals are selected again
    view_.lines.finish(*mover_);
    return Goes::Done;
}

}  // namespace app
