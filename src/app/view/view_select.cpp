// Selecting in the view: clicks, and shapes drawn round things.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "query/region.h"

namespace app {

using model::kNoSlot;
using model::Slot;

Slot ViewWidget::clickedObject(const QPointF& pixel) {
    constexpr double kSamePlace = 4;
    const Slot under = objectUnder(pixel), front = under == kNoSlot ? kNoSlot : editor_.wholeOf(under);
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
    if (front == kNoSlot || editor_.index() == nullptr) return front;
    constexpr std::size_t kMostBehind = 12;
    const auto pickable = [this](Slot s) { return editor_.isPickable(s); };
    for (const query::SceneHit& hit :
         editor_.index()->pickAll(editor_.scene(), camera_.rayThrough(toVec(pixel), viewport()), kMostBehind, pickable))
        if (const Slot whole = editor_.wholeOf(hit.slot);
            std::find(cycle_.begin(), cycle_.end(), whole) == cycle_.end())
            cycle_.push_back(whole);
    return front;
}

void ViewWidget::click(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const bool shift = (modifiers & Qt::ShiftModifier) != 0, control = (modifiers & Qt::ControlModifier) != 0;
    const bool add = shift && !control, take = control && !shift;
    const bool inside = shift && control;  // the very object, without entering the group that it is part of
    Slot slot = shift || control ? objectUnder(pixel) : clickedObject(pixel);
    if (slot != kNoSlot && (add || take)) slot = editor_.wholeOf(slot);
    std::vector<base::ObjectId> ids = editor_.selection();
    if (inside) ids.clear();
    if (slot == kNoSlot) {
        if (!add && !take) editor_.select({});
        return;
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
}

/// The outline being drawn, in pixels: a box, a circle about where it began, or what the pointer went round.
QPolygonF ViewWidget::drawnShape() const {
    if (editor_.selecting().shape == SelectShape::Lasso) return lasso_;
    if (editor_.selecting().shape == SelectShape::Box) return QPolygonF(QRectF(*boxFrom_, pointer_).normalized());
    QPolygonF circle;
    const double r = std::hypot(pointer_.x() - boxFrom_->x(), pointer_.y() - boxFrom_->y());
    constexpr int kCorners = 64;
    for (int i = 0; i < kCorners; ++i) {
        const double a = i * 2 * base::kPi / kCorners;
        circle << *boxFrom_ + QPointF(std::cos(a), std::sin(a)) * r;
    }
    return circle;
}

/// Of what lies in a region, what the eye meets first somewhere: looked at every few pixels.
std::unordered_set<Slot> ViewWidget::seenIn(const query::Region& region) const {
    std::unordered_set<Slot> seen;
    constexpr double kMostLooks = 30'000;
    const base::Vec2 low = glm::max(region.low, base::Vec2(0.0)),
                     high = glm::min(region.high, base::Vec2(width(), height()));
    const double area = std::max((high.x - low.x) * (high.y - low.y), 1.0);
    const double step = std::max(2.0, std::sqrt(area / kMostLooks));
    for (double y = low.y; y <= high.y; y += step)
        for (double x = low.x; x <= high.x; x += step) {
            if (!region.holds({x, y})) continue;
            const auto hit = editor_.surfaceUnder(camera_.rayThrough({x, y}, viewport()), false);
            if (hit) seen.insert(hit->slot);
        }
    return seen;
}

std::vector<base::ObjectId> ViewWidget::objectsIn(const query::Region& region) const {
    const model::Scene& scene = editor_.scene();
    const Selecting& how = editor_.selecting();
    const query::Frustum frustum = camera_.frustum(viewport(), region.low, region.high);
    const query::Project project = [sight = camera_.sight(viewport())](const base::Vec3& p) {
        return sight.project(p);
    };
    const auto seen = how.through ? std::unordered_set<Slot>{} : seenIn(region);
    std::vector<Slot> inside;
    const Slot top = editor_.entered() ? scene.find(editor_.entered()) : kNoSlot;
    for (Slot s : scene.subtree(top)) {
        if (scene.bounds(s).empty()) continue;
        const query::Side side = query::sideOf(frustum, scene.bounds(s));
        if (side == query::Side::Outside) continue;
        if (!editor_.isPickable(s) || (!how.through && !seen.contains(s))) continue;
        const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(s));
        if (mesh == nullptr) continue;
        // A box is a pyramid of sight, which is tested faster than an outline.
        const bool box = how.shape == SelectShape::Box;
        const bool in = box && side == query::Side::Inside ? true
                        : box && !how.whole                ? query::touches(frustum, *mesh, scene.world(s))
                                            : query::inRegion(region, *mesh, scene.world(s), project, how.whole);
        if (in) inside.push_back(s);
    }
    for (const Mark& mark : visibleMarks())
        if (region.holds(toVec(mark.at)) && editor_.isPickable(mark.slot)) inside.push_back(mark.slot);
    return wholesOf(inside);
}

/// Each object, or the group it is taken with; of groups that are to lie wholly inside, only those that do.
std::vector<base::ObjectId> ViewWidget::wholesOf(const std::vector<Slot>& inside) const {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> result;
    std::unordered_map<Slot, std::size_t> parts;
    for (Slot s : inside) {
        const Slot whole = editor_.wholeOf(s);
        if (++parts[whole] > 1) continue;
        result.push_back(scene.id(whole));
    }
    if (!editor_.selecting().whole) return result;
    std::erase_if(result, [&](base::ObjectId id) {
        const Slot whole = scene.find(id);
        std::size_t all = 0;
        for (Slot s : scene.subtree(whole)) all += !scene.bounds(s).empty() && editor_.isPickable(s) ? 1 : 0;
        return all > parts[whole];
    });
    return result;
}

void ViewWidget::finishShape(Qt::KeyboardModifiers modifiers) {
    std::vector<base::Vec2> corners;
    for (const QPointF& p : drawnShape()) corners.push_back(toVec(p));
    const std::vector<base::ObjectId> inside = objectsIn(query::Region(std::move(corners)));
    std::vector<base::ObjectId> ids;
    std::set<base::ObjectId> named(inside.begin(), inside.end());
    const bool take = (modifiers & Qt::ControlModifier) != 0;
    if (take || (modifiers & Qt::ShiftModifier) != 0)
        for (base::ObjectId id : editor_.selection())
            if (!named.contains(id)) ids.push_back(id);
    if (!take)
        for (base::ObjectId id : inside)
            if (named.erase(id) > 0) ids.push_back(id);
    editor_.select(std::move(ids));
}

void ViewWidget::paintShape(QPainter& p) const {
    if (!boxFrom_) return;
    QColor fill = editor_.theme().honey;
    p.setPen(QPen(fill, 1, editor_.selecting().whole ? Qt::SolidLine : Qt::DashLine));
    fill.setAlpha(28);
    p.setBrush(fill);
    p.drawPolygon(drawnShape());
}

}  // namespace app
