#pragma once
// Sightlines: while something is moved, what in the level it is in line with, shown, named and caught.
#include <QObject>
#include <QPainter>
#include <QStringList>
#include <QTimer>
#include <array>
#include <vector>

#include "ops/move.h"
#include "query/flush.h"

namespace app {

class ViewContext;

class Sightlines : public QObject {
    Q_OBJECT
  public:
    explicit Sightlines(ViewContext& view);

    /// A drag begins. Its lines lie along `axes`; along the world's own where those are the same, or are no frame.
    void begin(const ops::Mover& mover, const base::Mat3& axes = base::Mat3(1.0));
    /// The same for a box in the world that nothing has yet.
    void begin(const base::Aabb& box);
    const base::Mat3& frame() const { return frame_; }
    /// What the selection's box, moved by `moved`, is in line with along the axes of the frame that it moves along;
    /// where lines are caught the best of each axis is, and `moved` changed to that.
    void lineUp(base::Vec3& moved, const std::array<bool, 3>& along);
    /// The same for the sides that are dragged of a box along `axes`: -1 the low one of an axis, 1 the high one.
    void lineUpSides(base::Vec3& moved, const std::array<int, 3>& way, const base::Mat3& axes, const base::Vec3& grip);
    /// How far what is dragged is shown moved; only for drawing.
    void setMoved(const base::Vec3& moved) { moved_ = moved; }
    /// In line with nothing.
    void clear() { found_.clear(); }
    /// The drag is done: what it is in line with is told for a few seconds.
    void finish(const ops::Mover& mover);
    /// The next thing is done: what was told of the last one goes.
    void forget();

    /// What the present drag is in line with.
    const std::vector<query::Flush>& inLine() const { return found_; }
    /// What is told of the drag that ended last.
    const QStringList& told() const { return told_; }
    /// `corner`: of the view, taken by something else.
    void paint(QPainter& p, const QRect& corner) const;

  private:
    void paintLine(QPainter& p, const query::FlushIndex& index, const query::Flush& f) const;
    base::Aabb boxOf(const ops::Mover& mover) const;
    QString text(const query::Flush& flush, int decimals) const;
    double reachAt(const base::Vec3& place) const;

    ViewContext& view_;
    base::Mat3 frame_{1.0};  ///< the directions lines are looked for along
    base::Aabb box_;         ///< of what is dragged when it began, along them
    base::Vec3 moved_{0.0};
    std::vector<query::Flush> found_;
    QStringList told_;
    QTimer fade_;
};

}  // namespace app
