#pragma once
// A curve through points in space: straight legs, rounded corners, smooth bends; measured along itself. Values.
// Metres; any thread.
#include <optional>
#include <span>
#include <vector>

#include "base/math.h"

namespace shape {

struct CurvePoint {
    enum class Bend : std::uint8_t {
        Corner,  ///< the legs meet in the point
        Round,   ///< an arc of a radius touches both legs, or as large a one as there is room for
        Smooth   ///< it goes through the point, along its tangent
    };
    base::Vec3 at{0.0};
    Bend bend = Bend::Smooth;
    double radius = 0;                  ///< of a round one
    std::optional<base::Vec3> tangent;  ///< of a smooth one, as long as it reaches; nothing: as its neighbours lie
    bool straight = false;              ///< the leg from here on is straight, whatever the points are
    friend bool operator==(const CurvePoint&, const CurvePoint&) = default;
};

class Curve {
  public:
    Curve() = default;
    /// Through all of them; closed: and back to the first. Points in one place count once. `before`: one that was much
    /// the same, of which what has not changed is not measured anew; null: none.
    Curve(std::span<const CurvePoint> points, bool closed, const Curve* before = nullptr);

    bool empty() const { return pieces_.empty(); }
    double length() const { return pieces_.empty() ? 0 : pieces_.back().from + pieces_.back().length; }
    bool isClosed() const { return closed_; }
    /// After so many metres; before the first and after the last: there, or round and round.
    base::Vec3 at(double metres) const;
    /// Which way it goes there; unit.
    base::Vec3 direction(double metres) const;
    /// Of the circle that fits there; infinite where it is straight.
    double radiusAt(double metres) const;
    /// How far along the place of a point is: where its bend is nearest to it.
    double metresOf(std::size_t point) const { return point < ofPoint_.size() ? ofPoint_[point] : 0; }

    struct Nearest {
        double metres = 0, away = 0;  ///< along it; from it
    };
    Nearest nearest(const base::Vec3& to) const;
    struct Sample {
        double metres = 0;
        base::Vec3 at{0.0}, way{0.0};  ///< way: unit
        double radius = 0;             ///< as radiusAt() says
    };
    /// Places along it between which it is straight within a tolerance, and no farther apart than `step` where it
    /// bends, both ends with it: a closed one ends where it began.
    std::vector<Sample> samples(double tolerance = 0.02, double step = 1e9) const;
    /// Those of its pieces between two places where pieces begin, as changedSince() gives them; the last one is not of
    /// them, but at the very end.
    std::vector<Sample> samples(double tolerance, double step, double from, double to) const;
    /// Where another one is the same: up to `until` along both, and from `now` on along this as from `then` on along
    /// that.
    struct Same {
        double until = 0, now = 0, then = 0;
    };
    Same sameAs(const Curve& other) const;

  private:
    /// A line from a to b, an arc about `centre`, or a cubic with the control points a b c d.
    struct Piece {
        enum class Is : std::uint8_t { Line, Arc, Cubic } is = Is::Line;
        base::Vec3 a{0.0}, b{0.0}, c{0.0}, d{0.0};  // of an arc: its centre, its two axes as long as its radius
        double angle = 0;                           // of an arc, radians
        double from = 0, length = 0;
        base::Vec3 at(double t) const;
        base::Vec3 along(double t) const;
        base::Vec3 bends(double t) const;
        double radius(double t) const;
        double shareOf(double metres) const;
        double lengthTo(double t) const;
        bool isLike(const Piece& other) const;
    };
    void add(Piece piece, const Curve* before);
    static Piece arcRound(const base::Vec3& corner, const base::Vec3& in, const base::Vec3& out, double cut);
    double within(double metres) const;
    const Piece& pieceAt(double& metres) const;

    std::vector<Piece> pieces_;
    std::vector<double> ofPoint_;
    bool closed_ = false;
};

}  // namespace shape
