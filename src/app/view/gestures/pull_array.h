#pragma once
// Arrays pulled by the mouse: grips for how many there are, how far apart, and how far out.
#include "app/view/gestures/grips.h"
#include "model/facets/array.h"
#include "ops/array.h"

namespace app {

struct ArrayGrips {
    using Grip = ops::ArrayGrip;
    using Now = model::Array;
    static constexpr const char* kStep = "Pull array";
    static constexpr bool kAnew = true;  // copies that come and go on the way leave nothing in the step
    static std::vector<Grip> grips(const ViewContext& view);
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.pulls == b.pulls && a.axis == b.axis; }
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit);
    static QString hint(const Grip& grip, bool held);
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                            base::ObjectId id);
    static Now now(const ViewContext& view, const Grip& grip, const model::Scene& before, base::ObjectId id,
                   const base::Vec3& to, const render::Steps& steps);
    static base::Status apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now);
    static void paintPull(QPainter&, const ViewContext&, const Grip&, base::ObjectId) {}
};

class PullArray : public GripGesture<ArrayGrips> {
  public:
    explicit PullArray(ViewContext& view);
    void paint(QPainter& p) const override;
    /// Where the copies of the selected array are seen that are not as its numbers and its first object say.
    std::vector<QPointF> oddCopies() const;

  private:
    mutable std::optional<std::vector<base::ObjectId>> odd_;  ///< nothing: not looked yet
    QObject ears_;
};

}  // namespace app
