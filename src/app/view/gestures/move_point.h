#pragma once
// Points of the selected object, moved over surfaces: its own, and those of its route.
#include "app/view/gestures/grips.h"

namespace app {

struct PointGrip {
    std::size_t index = 0;
    base::Vec3 at{0.0};
    friend bool operator==(const PointGrip&, const PointGrip&) = default;
};

/// What all points have in common that are moved over surfaces.
struct OverSurfaces {
    using Grip = PointGrip;
    using Now = base::Vec3;
    static constexpr bool kAnew = false;
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.index == b.index; }
    /// `point`: what it is called, with its article.
    static QString hintOf(const QString& point, bool held);
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                            base::ObjectId id);
    static Now now(const ViewContext& view, const Grip& grip, const model::Scene& before, base::ObjectId id,
                   const base::Vec3& to, const render::Steps& steps);
    static void paintPull(QPainter&, const ViewContext&, const Grip&, base::ObjectId) {}
};

struct PointGrips : OverSurfaces {
    static constexpr const char* kStep = "Move a point";
    static std::vector<Grip> grips(const ViewContext& view);
    static QString hint(const Grip&, bool held) { return hintOf(InView::tr("this point"), held); }
    static base::Status apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now);
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit);
};

struct RoutePointGrips : OverSurfaces {
    static constexpr const char* kStep = "Move a point of the route";
    static std::vector<Grip> grips(const ViewContext& view);
    static QString hint(const Grip&, bool held) { return hintOf(InView::tr("this point of the route"), held); }
    static base::Status apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now);
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit);
};

/// The ends of the chosen point's tangent, where the curve is smooth there: index 0 ahead of it, 1 behind. They are
/// drawn level.
struct RouteTangentGrips {
    using Grip = PointGrip;
    using Now = base::Vec3;
    static constexpr bool kAnew = false;
    static constexpr const char* kStep = "Bend the route";
    static std::vector<Grip> grips(const ViewContext& view);
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.index == b.index; }
    static QString hint(const Grip&, bool held);
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                            base::ObjectId id);
    static Now now(const ViewContext&, const Grip&, const model::Scene&, base::ObjectId, const base::Vec3& to,
                   const render::Steps&) {
        return to;
    }
    static base::Status apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now);
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit);
    static void paintPull(QPainter&, const ViewContext&, const Grip&, base::ObjectId) {}
};

/// The point that is in the hand is the chosen one.
template <class Grips>
struct ChosenPull : GripPull<Grips> {
    ChosenPull(ViewContext& view, const PointGrip& grip) : GripPull<Grips>(view, grip) {
        view.editor.setChosenPoint(grip.index);
    }
};
using MovePoint = GripGesture<PointGrips, ChosenPull<PointGrips>>;
using MoveRoutePoint = GripGesture<RoutePointGrips, ChosenPull<RoutePointGrips>>;
using BendRoute = GripGesture<RouteTangentGrips>;

}  // namespace app
