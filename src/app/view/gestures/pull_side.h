#pragma once
// Grips at the sides, edges and corners of the selection's own box, with the fit handle.
#include <algorithm>
#include <array>

#include "app/view/gesture.h"

namespace app {

/// What of a box is dragged: -1 the low side, 1 the high one along each axis; two of them an edge, three a corner.
struct Side {
    std::array<int, 3> way{0, 0, 0};
    int axes() const {
        return static_cast<int>(std::count_if(way.begin(), way.end(), [](int w) { return w != 0; }));
    }
    friend bool operator==(const Side&, const Side&) = default;
};

class PullSide : public Gesture {
  public:
    using Gesture::Gesture;
    std::optional<int> offer(const QPointF& pixel) override;
    void withdraw() override { hovered_.reset(); }
    Taken press(Qt::KeyboardModifiers modifiers) override;
    void paint(QPainter& p) const override;
    QString hint() const override;
    std::vector<QPointF> grips() const override;
    /// Where it is on the screen, shown or not.
    std::optional<QPointF> pixel(const Side& side) const;

  private:
    struct Shown {
        Side side;
        QPointF at;
        double depth;
    };
    static void thinOut(std::vector<Shown>& all);
    std::vector<Shown> shown() const;
    std::optional<Side> under(const QPointF& pixel) const;

    std::optional<Side> hovered_;
};

}  // namespace app
