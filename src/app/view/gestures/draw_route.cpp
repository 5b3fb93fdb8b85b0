// Drawing a route: clicks on surfaces, one point each. A click on the curve puts a point in, one on the first point
// closes it; points that are there are moved. What is drawn on is the selected object's route, else a new one.
#include <cmath>

#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/move_point.h"
#include "app/view/route_lines.h"
#include "edit/session.h"
#include "ops/routes.h"

namespace app {
namespace {

constexpr double kOnCurve = 7;  // pixels

class DrawRoute : public PlaceTool {
  public:
    explicit DrawRoute(ViewContext& view) : PlaceTool(view), there_(view) {}
    bool claims() const override { return editor_.tools().tool == Tool::Route; }
    bool point(const QPointF& pixel) override {
        const bool onOne = there_.offer(pixel).has_value();
        onCurve_ = onOne ? std::nullopt : curveUnder(pixel);
        Q_EMIT view_.hintStale();
        view_.update();
        return PlaceTool::point(pixel) || onOne;
    }
    void withdraw() override {
        there_.withdraw();
        onCurve_.reset();
        if (!claims()) begun_.reset(), atStart_ = {};  // another tool is in the hand
        PlaceTool::withdraw();
    }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers modifiers) override;
    void paint(QPainter& p) const override;
    QString hint() const override;

  protected:
    bool putAway() override {
        begun_.reset();
        atStart_ = {};
        return PlaceTool::putAway();
    }

  private:
    const model::Route* route() const {
        const Slot slot = onlySelected(view_);
        return slot != kNoSlot ? editor_.scene().facet<model::Route>(slot) : nullptr;
    }
    /// The first point of one that is no route yet.
    std::optional<base::Vec3> first() const {
        return begun_ && begun_->first == editor_.sceneName() && route() == nullptr ? std::optional(begun_->second)
                                                                                    : std::nullopt;
    }
    /// Its first point was taken last: it is drawn on before its beginning.
    bool isAtStart() const { return atStart_ && route() != nullptr && editor_.selection().front() == atStart_; }
    std::optional<double> curveUnder(const QPointF& pixel) const;
    void extend(const base::Vec3& to);
    void close();

    MoveRoutePoint there_;
    std::optional<double> onCurve_;                            // metres along it, under the pointer
    std::optional<std::pair<std::string, base::Vec3>> begun_;  // in which scene, and where
    base::ObjectId atStart_;                                   // of which route; zero: of none
};

/// Where the pointer is on the selected route, seen from here.
std::optional<double> DrawRoute::curveUnder(const QPointF& pixel) const {
    if (route() == nullptr) return std::nullopt;
    const auto on = onRoute(view_, onlySelected(view_), pixel, kOnCurve);
    return on ? std::optional(on->metres) : std::nullopt;
}

std::unique_ptr<Hold> DrawRoute::begin(Qt::KeyboardModifiers modifiers) {
    const auto grips = RoutePointGrips::grips(view_);
    const auto first = grips.empty() ? std::nullopt : view_.pixelOf(grips.front().at);
    const bool onFirst =
        first && std::hypot(first->x() - view_.pointer.x(), first->y() - view_.pointer.y()) < kGripReach;
    if (onFirst && modifiers == Qt::ControlModifier && !route()->closed && route()->points.size() > 2) {
        close();
        return nullptr;
    }
    if (Taken taken = there_.press(modifiers); taken.yes) {
        atStart_ = onFirst ? editor_.selection().front() : base::ObjectId{};
        return std::move(taken.hold);
    }
    if (onCurve_) {
        const base::ObjectId id = editor_.selection().front();
        std::size_t put = 0;
        const double metres = *onCurve_;
        if (editor_.run("Put a point into the route", [&](edit::Draft& draft) -> base::Status {
                auto at = ops::insertRoutePoint(draft, id, metres);
                if (!at) return tl::unexpected(at.error());
                put = *at;
                return {};
            }))
            editor_.setChosenPoint(put);
        onCurve_.reset();
        return nullptr;
    }
    if (const auto at = view_.caughtOrLanding(view_.pointer))
        extend(*at);
    else
        editor_.say(tr("There is nothing here for a route to go over."));
    return nullptr;
}

void DrawRoute::close() {
    const base::ObjectId id = editor_.selection().front();
    editor_.run("Close the route", [&](edit::Draft& draft) {
        return ops::changeRoute(draft, id, [](Slot, model::Route& r) -> base::Status {
            r.closed = true;
            return {};
        });
    });
}

void DrawRoute::extend(const base::Vec3& to) {
    const auto* is = route();
    if (is != nullptr && is->closed) return editor_.say(tr("It is closed: click on it to put a point in."));
    if (is != nullptr) {
        const base::ObjectId id = editor_.selection().front();
        const bool start = isAtStart();
        const std::size_t last = start ? 0 : is->points.size();
        if (editor_.run("Draw the route on",
                        [&](edit::Draft& draft) { return ops::extendRoute(draft, id, to, start); }))
            editor_.setChosenPoint(last);
        return;
    }
    if (!first()) {
        editor_.select({});
        begun_.emplace(editor_.sceneName(), to);
        view_.update();
        return;
    }
    base::ObjectId made;
    const std::vector<base::Vec3> places = {*first(), to};
    if (!editor_.run("Draw a route", [&](edit::Draft& draft) -> base::Status {
            auto id = ops::addRoute(draft, places, false, editor_.entered());
            if (!id) return tl::unexpected(id.error());
            made = *id;
            return {};
        }))
        return;
    begun_.reset();
    editor_.select({made});
    editor_.setChosenPoint(1);
}

void DrawRoute::paint(QPainter& p) const {
    if (!claims()) return;
    there_.paint(p);
    if (onCurve_) {
        const shape::Curve curve = query::curveOf(editor_.scene(), onlySelected(view_));
        if (const auto at = view_.pixelOf(curve.at(*onCurve_))) {
            p.setPen(QPen(theme().honey, 2));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(*at, 6, 6);
        }
        return;
    }
    // What the next click would draw.
    const auto to = view_.landingUnder(view_.pointer);
    if (!to) return;
    p.setPen(QPen(theme().honey, 1.6, Qt::DashLine));
    if (const auto from = first()) view_.line(p, *from, *to);
    const auto* is = route();
    if (is == nullptr || is->closed || is->points.empty()) return;
    const auto& from = isAtStart() ? is->points.front() : is->points.back();
    view_.line(p, editor_.scene().world(onlySelected(view_)).point(from.at), *to);
}

QString DrawRoute::hint() const {
    const QString onOne = there_.hint();
    if (!onOne.isEmpty()) {
        const auto* is = route();
        return is != nullptr && !is->closed && is->points.size() > 2 ? onOne + tr(" · Ctrl+click the first: close")
                                                                     : onOne;
    }
    if (onCurve_) return tr("Click: a point here, on the way as it is");
    if (first()) return tr("Click: where the route goes next · Esc: no more");
    if (route() == nullptr) return tr("Click on surfaces: a route from point to point · Esc: no more");
    return isAtStart() ? tr("Click: one more point before its beginning · on the curve: one in it · Esc: no more")
                       : tr("Click: one more point at its end · on the curve: one in it · Esc: no more");
}

}  // namespace

GesturePtr drawRoute(ViewContext& view) {
    return std::make_unique<DrawRoute>(view);
}

}  // namespace app
