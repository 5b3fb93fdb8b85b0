// Selecting with a shape drawn round things: a box, a circle about where it began, or what the pointer went round.
#include <algorithm>
#include <cmath>
#include <set>
#include <unordered_map>
#include <unordered_set>

#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/pixels.h"
#include "io/workspace.h"
#include "query/region.h"

namespace app {
namespace {

class ShapeOnItsWay : public Hold {
  public:
    explicit ShapeOnItsWay(ViewContext& view) : Hold(view), lasso_{view.pressedAt} {}
    Goes move(Qt::KeyboardModifiers) override {
        const QPointF way = view_.pointer - lasso_.last();
        if (std::hypot(way.x(), way.y()) > 3) lasso_ << view_.pointer;
        view_.update();
        return Goes::On;
    }
    Goes release(Qt::KeyboardModifiers modifiers) override;
    void paint(QPainter& p) const override;
    QString hint() const override {
        return (editor_.tools().selecting.whole ? tr("Drag: select what is wholly inside")
                                                : tr("Drag: select what it touches")) +
               tr(" · Shift: add · Ctrl: take away · Esc: do not");
    }

  private:
    QPolygonF outline() const;
    std::unordered_set<Slot> seenIn(const query::Region& region) const;
    std::vector<base::ObjectId> objectsIn(const query::Region& region) const;
    std::vector<base::ObjectId> wholesOf(const std::vector<Slot>& inside) const;

    QPolygonF lasso_;
};

/// The outline being drawn, in pixels: a box, a circle about where it began, or what the pointer went round.
QPolygonF ShapeOnItsWay::outline() const {
    if (editor_.tools().selecting.shape == SelectShape::Lasso) return lasso_;
    if (editor_.tools().selecting.shape == SelectShape::Box)
        return QPolygonF(QRectF(view_.pressedAt, view_.pointer).normalized());
    QPolygonF circle;
    const double r = std::hypot(view_.pointer.x() - view_.pressedAt.x(), view_.pointer.y() - view_.pressedAt.y());
    constexpr int kCorners = 64;
    for (int i = 0; i < kCorners; ++i) {
        const double a = i * 2 * base::kPi / kCorners;
        circle << view_.pressedAt + QPointF(std::cos(a), std::sin(a)) * r;
    }
    return circle;
}

/// Of what lies in a region, what the eye meets first somewhere: looked at every few pixels.
std::unordered_set<Slot> ShapeOnItsWay::seenIn(const query::Region& region) const {
    std::unordered_set<Slot> seen;
    constexpr double kMostLooks = 30'000;
    const base::Vec2 low = glm::max(region.low, base::Vec2(0.0)),
                     high = glm::min(region.high, base::Vec2(view_.widget.width(), view_.widget.height()));
    const double area = std::max((high.x - low.x) * (high.y - low.y), 1.0);
    const double step = std::max(2.0, std::sqrt(area / kMostLooks));
    for (double y = low.y; y <= high.y; y += step)
        for (double x = low.x; x <= high.x; x += step) {
            if (!region.holds({x, y})) continue;
            const auto hit = editor_.surfaceUnder(view_.rayAt({x, y}), false);
            if (hit) seen.insert(hit->slot);
        }
    return seen;
}

std::vector<base::ObjectId> ShapeOnItsWay::objectsIn(const query::Region& region) const {
    const model::Scene& scene = editor_.scene();
    const Selecting& how = editor_.tools().selecting;
    const query::Frustum frustum = view_.camera.frustum(view_.viewport(), region.low, region.high);
    const query::Project project = [sight = view_.camera.sight(view_.viewport())](const base::Vec3& p) {
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
    for (const ViewContext::Mark& mark : view_.visibleMarks())
        if (region.holds(toVec(mark.at)) && editor_.isPickable(mark.slot)) inside.push_back(mark.slot);
    return wholesOf(inside);
}

/// Each object, or the group it is taken with; of groups that are to lie wholly inside, only those that do.
std::vector<base::ObjectId> ShapeOnItsWay::wholesOf(const std::vector<Slot>& inside) const {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> result;
    std::unordered_map<Slot, std::size_t> parts;
    for (Slot s : inside) {
        const Slot whole = editor_.wholeOf(s);
        if (++parts[whole] > 1) continue;
        result.push_back(scene.id(whole));
    }
    if (!editor_.tools().selecting.whole) return result;
    std::erase_if(result, [&](base::ObjectId id) {
        const Slot whole = scene.find(id);
        std::size_t all = 0;
        for (Slot s : scene.subtree(whole)) all += !scene.bounds(s).empty() && editor_.isPickable(s) ? 1 : 0;
        return all > parts[whole];
    });
    return result;
}

Goes ShapeOnItsWay::release(Qt::KeyboardModifiers modifiers) {
    std::vector<base::Vec2> corners;
    for (const QPointF& p : outline()) corners.push_back(toVec(p));
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
    return Goes::Done;
}

void ShapeOnItsWay::paint(QPainter& p) const {
    QColor fill = theme().honey;
    p.setPen(QPen(fill, 1, editor_.tools().selecting.whole ? Qt::SolidLine : Qt::DashLine));
    fill.setAlpha(28);
    p.setBrush(fill);
    p.drawPolygon(outline());
}

class SelectInShape : public Gesture {
  public:
    using Gesture::Gesture;
    std::optional<int> offer(const QPointF&) override { return std::nullopt; }
    Taken drag(Qt::KeyboardModifiers) override { return {true, std::make_unique<ShapeOnItsWay>(view_)}; }
};

}  // namespace

GesturePtr selectInShape(ViewContext& view) {
    return std::make_unique<SelectInShape>(view);
}

}  // namespace app
