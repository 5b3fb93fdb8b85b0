#pragma once
// The points of the selected object's route, moved over surfaces.
#include "app/view/gestures/grips.h"

namespace app {

struct RoutePointGrip {
    std::size_t index = 0;
    base::Vec3 at{0.0};
    friend bool operator==(const RoutePointGrip&, const RoutePointGrip&) = default;
};

struct RoutePointGrips {
    using Grip = RoutePointGrip;
    using Now = base::Vec3;
    static constexpr const char* kStep = "Move a point of the route";
    static constexpr bool kAnew = false;
    static std::vector<Grip> grips(const ViewContext& view);
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.index == b.index; }
    static QString hint(const Grip& grip, bool held);
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                            base::ObjectId id);
    static Now now(const ViewContext& view, const Grip& grip, const model::Scene& before, base::ObjectId id,
                   const base::Vec3& to, const render::Steps& steps);
    static base::Status apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now);
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit);
    static void paintPull(QPainter&, const ViewContext&, const Grip&, base::ObjectId) {}
};

/// The point that is in the hand is the chosen one.
struct RoutePointPull : GripPull<RoutePointGrips> {
    RoutePointPull(ViewContext& view, const RoutePointGrip& grip) : GripPull(view, grip) {
        view.editor.setChosenPoint(grip.index);
    }
};
using MoveRoutePoint = GripGesture<RoutePointGrips, RoutePointPull>;

}  // namespace app
