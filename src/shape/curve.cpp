#include "shape/curve.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>

namespace shape {
namespace {

using base::Vec3;
using Bend = CurvePoint::Bend;

constexpr double kNoLength = 1e-9;  // metres

// Gauss-Legendre of ten points on -1..1: exact for polynomials up to degree 19.
constexpr std::array<std::pair<double, double>, 5> kNodes = {{{0.1488743389816312, 0.2955242247147529},
                                                              {0.4333953941292472, 0.2692667193099963},
                                                              {0.6794095682990244, 0.2190863625159820},
                                                              {0.8650633666889845, 0.1494513491505806},
                                                              {0.9739065285171717, 0.0666713443086881}}};

double integral(const std::function<double(double)>& f, double from, double to) {
    const double middle = (from + to) / 2, half = (to - from) / 2;
    double sum = 0;
    for (const auto& [x, weight] : kNodes) sum += weight * (f(middle + half * x) + f(middle - half * x));
    return sum * half;
}

/// Halved until the halves say the same.
double exactly(const std::function<double(double)>& f, double from, double to, double whole, int depth) {
    const double middle = (from + to) / 2;
    const double left = integral(f, from, middle), right = integral(f, middle, to);
    if (depth == 0 || std::abs(left + right - whole) < 1e-11 * std::max(1.0, whole)) return left + right;
    return exactly(f, from, middle, left, depth - 1) + exactly(f, middle, to, right, depth - 1);
}

Vec3 unit(const Vec3& v, const Vec3& otherwise = Vec3(0, 0, 1)) {
    const double length = glm::length(v);
    return length < kNoLength ? otherwise : v / length;
}

/// Which way it goes through a smooth point: as a circle through it and both neighbours would.
Vec3 wayThrough(const Vec3& in, const Vec3& out) {
    const double a = glm::dot(in, in), b = glm::dot(out, out);
    if (a < kNoLength || b < kNoLength) return unit(in + out);
    return unit(in * b + out * a, unit(in + out));
}

/// The points of a curve with what lies between them: which way its legs go, where they are straight, how much of them
/// round corners take, and which way it goes through smooth points.
class Layout {
  public:
    Layout(std::vector<CurvePoint> points, bool closed)
        : points_(std::move(points)), n_(points_.size()), closed_(closed) {
        measureLegs();
        cutCorners();
        for (std::size_t i = 0; i < n_; ++i)
            if (isSmooth(i) && !isEnd(i)) through_[i] = wayThrough(along_[previous(i)], along_[i]);
    }
    std::size_t legs() const { return closed_ ? n_ : n_ - 1; }
    std::size_t next(std::size_t i) const { return (i + 1) % n_; }
    const Vec3& at(std::size_t i) const { return points_[i].at; }
    /// Of the leg that begins at a point.
    bool isStraight(std::size_t i) const { return straight_[i]; }
    const Vec3& ahead(std::size_t i) const { return ahead_[i]; }
    /// How far before and behind its point an arc begins; 0: there is none.
    double cut(std::size_t i) const { return cut_[i]; }
    std::size_t arcs() const { return static_cast<std::size_t>(std::ranges::count_if(cut_, isCut)); }
    static bool isCut(double metres) { return metres > kNoLength; }
    /// The tangent of a point on one of its legs, as long as it reaches.
    Vec3 tangent(std::size_t i, std::size_t leg) const {
        if (isSmooth(i) && points_[i].tangent) return *points_[i].tangent;
        const Vec3 way = wayAt(i, leg);  // as long as an arc of a circle between the two wants it
        return way * (2 * metres_[leg] / (3 * (1 + std::max(glm::dot(way, ahead_[leg]), 0.0))));
    }

  private:
    bool isSmooth(std::size_t i) const { return points_[i].bend == Bend::Smooth; }
    bool isEnd(std::size_t i) const { return !closed_ && (i == 0 || i == n_ - 1); }
    std::size_t previous(std::size_t i) const { return (i + n_ - 1) % n_; }

    void measureLegs() {
        for (std::size_t i = 0; i < n_; ++i) {
            along_[i] = points_[next(i)].at - points_[i].at;
            metres_[i] = glm::length(along_[i]);
            ahead_[i] = metres_[i] < kNoLength ? Vec3(0, 0, 1) : along_[i] / metres_[i];
            // Where neither of its points bends it.
            straight_[i] = points_[i].straight || (!isSmooth(i) && !isSmooth(next(i))) || i >= legs();
        }
    }

    /// Two that share a leg have no more than there is of it.
    void cutCorners() {
        std::vector<double> wanted(n_, 0);
        for (std::size_t i = 0; i < n_; ++i) {
            if (points_[i].bend != Bend::Round || isEnd(i) || !straight_[i] || !straight_[previous(i)]) continue;
            const double turn = std::acos(std::clamp(glm::dot(ahead_[previous(i)], ahead_[i]), -1.0, 1.0));
            if (turn > 1e-6 && turn < base::radians(179.9))
                wanted[i] = std::max(0.0, points_[i].radius) * std::tan(turn / 2);
        }
        for (std::size_t i = 0; i < n_; ++i) {
            cut_[i] = wanted[i];
            for (const std::size_t k : {previous(i), i}) {
                if (wanted[i] <= 0 || (!closed_ && k == n_ - 1)) continue;
                const double both = wanted[k] + wanted[next(k)];
                if (both > metres_[k]) cut_[i] = std::min(cut_[i], metres_[k] * wanted[i] / both);
            }
        }
    }

    Vec3 wayAt(std::size_t i, std::size_t leg) const {
        const Vec3& own = ahead_[leg];
        if (!isSmooth(i)) return own;
        if (!isEnd(i) && straight_[previous(i)] != straight_[i]) return ahead_[straight_[i] ? i : previous(i)];
        if (!isEnd(i)) return through_[i];
        const std::size_t other = i == leg ? next(i) : previous(i);  // the mirror of how it goes through that
        if (!isSmooth(other) || isEnd(other)) return own;
        const Vec3 theirs = points_[other].tangent ? unit(*points_[other].tangent, own) : through_[other];
        // Less of it the sharper the turn is: else it would bend out widely before it comes in.
        const double same = glm::dot(theirs, own), share = std::clamp((same - 0.5) / 0.45, 0.0, 1.0);
        return unit(glm::mix(own, own * (2 * same) - theirs, share), own);
    }

    std::vector<CurvePoint> points_;
    std::size_t n_;
    bool closed_;
    std::vector<Vec3> along_ = std::vector<Vec3>(n_), ahead_ = along_, through_ = along_;
    std::vector<double> metres_ = std::vector<double>(n_), cut_ = metres_;
    std::vector<bool> straight_ = std::vector<bool>(n_);
};

}  // namespace

Vec3 Curve::Piece::at(double t) const {
    switch (is) {
        case Is::Line: return glm::mix(a, b, t);
        case Is::Arc: return a + b * std::cos(angle * t) + c * std::sin(angle * t);
        case Is::Cubic: break;
    }
    const double u = 1 - t;
    return a * (u * u * u) + b * (3 * u * u * t) + c * (3 * u * t * t) + d * (t * t * t);
}

/// The first derivative.
Vec3 Curve::Piece::along(double t) const {
    switch (is) {
        case Is::Line: return b - a;
        case Is::Arc: return (c * std::cos(angle * t) - b * std::sin(angle * t)) * angle;
        case Is::Cubic: break;
    }
    const double u = 1 - t;
    return (b - a) * (3 * u * u) + (c - b) * (6 * u * t) + (d - c) * (3 * t * t);
}

/// The second.
Vec3 Curve::Piece::bends(double t) const {
    switch (is) {
        case Is::Line: return Vec3(0.0);
        case Is::Arc: return (b * std::cos(angle * t) + c * std::sin(angle * t)) * (-angle * angle);
        case Is::Cubic: break;
    }
    return (c - b * 2.0 + a) * (6 * (1 - t)) + (d - c * 2.0 + b) * (6 * t);
}

double Curve::Piece::lengthTo(double t) const {
    if (is != Is::Cubic) return t * (is == Is::Line ? glm::length(b - a) : std::abs(angle) * glm::length(b));
    const auto speed = [this](double x) { return glm::length(along(x)); };
    return exactly(speed, 0, t, integral(speed, 0, t), 12);
}

double Curve::Piece::shareOf(double metres) const {
    if (length < kNoLength) return 0;
    double t = std::clamp(metres / length, 0.0, 1.0);
    if (is != Is::Cubic) return t;
    double low = 0, high = 1;  // Newton, held between what it is known to lie between
    for (int i = 0; i < 40; ++i) {
        const double off = lengthTo(t) - metres;
        if (std::abs(off) < 1e-9 * std::max(1.0, length)) break;
        (off > 0 ? high : low) = t;
        const double speed = glm::length(along(t));
        const double next = speed > kNoLength ? t - off / speed : -1;
        t = next > low && next < high ? next : (low + high) / 2;
    }
    return t;
}

bool Curve::Piece::isLike(const Piece& other) const {
    return is == other.is && a == other.a && b == other.b && c == other.c && d == other.d && angle == other.angle;
}

void Curve::add(Piece piece, const Curve* before) {
    piece.from = length();
    const bool known = before != nullptr && pieces_.size() < before->pieces_.size();
    const Piece* was = known ? &before->pieces_[pieces_.size()] : nullptr;
    piece.length = was != nullptr && was->isLike(piece) ? was->length : piece.lengthTo(1);
    if (piece.length > kNoLength) pieces_.push_back(piece);
}

Curve::Curve(std::span<const CurvePoint> given, bool closed, const Curve* before) {
    std::vector<CurvePoint> points;
    std::vector<std::size_t> placeOf;
    points.reserve(given.size());
    placeOf.reserve(given.size());
    for (const CurvePoint& point : given) {
        if (points.empty() || glm::length(point.at - points.back().at) > kNoLength) points.push_back(point);
        placeOf.push_back(points.size() - 1);
    }
    if (closed && points.size() > 1 && glm::length(points.front().at - points.back().at) <= kNoLength) {
        for (std::size_t& place : placeOf) place = place == points.size() - 1 ? 0 : place;
        points.pop_back();
    }
    const std::size_t n = points.size();
    ofPoint_.assign(given.size(), 0);
    if (n < 2) return;
    closed_ = closed && n > 2;
    const Layout lies(std::move(points), closed_);
    pieces_.reserve(lies.legs() + lies.arcs());
    std::vector<double> metres(n, 0);
    for (std::size_t i = 0; i < lies.legs(); ++i) {
        const std::size_t k = lies.next(i);
        Piece leg;
        if (lies.isStraight(i)) {
            leg.a = lies.at(i) + lies.ahead(i) * lies.cut(i);
            leg.b = lies.at(k) - lies.ahead(i) * lies.cut(k);
        } else {
            leg.is = Piece::Is::Cubic;
            leg.a = lies.at(i);
            leg.b = lies.at(i) + lies.tangent(i, i);
            leg.c = lies.at(k) - lies.tangent(k, i);
            leg.d = lies.at(k);
        }
        add(leg, before);
        metres[k] = length();
        if (!Layout::isCut(lies.cut(k))) continue;
        const Piece arc = arcRound(lies.at(k), lies.ahead(i), lies.ahead(k), lies.cut(k));
        metres[k] += glm::length(arc.b) * arc.angle / 2;
        add(arc, before);
    }
    // The last arc of a closed one is that of its first point.
    if (!closed_ || !Layout::isCut(lies.cut(0))) metres[0] = 0;
    for (std::size_t i = 0; i < given.size(); ++i) ofPoint_[i] = metres[placeOf[i]];
}

/// From one direction into the other, so far before a corner and behind it.
Curve::Piece Curve::arcRound(const Vec3& corner, const Vec3& in, const Vec3& out, double cut) {
    const double turn = std::acos(std::clamp(glm::dot(in, out), -1.0, 1.0));
    const double radius = cut / std::tan(turn / 2);
    const Vec3 inward = unit(out - in * glm::dot(in, out));
    Piece arc;
    arc.is = Piece::Is::Arc;
    arc.a = corner - in * cut + inward * radius;
    arc.b = -inward * radius;
    arc.c = in * radius;
    arc.angle = turn;
    return arc;
}

double Curve::within(double metres) const {
    const double all = length();
    if (!closed_ || all <= 0) return std::clamp(metres, 0.0, all);
    const double round = std::fmod(metres, all);
    return round < 0 ? round + all : round;
}

const Curve::Piece& Curve::pieceAt(double& metres) const {
    metres = within(metres);
    auto after = std::upper_bound(pieces_.begin(), pieces_.end(), metres,
                                  [](double m, const Piece& piece) { return m < piece.from; });
    const Piece& piece = after == pieces_.begin() ? pieces_.front() : *std::prev(after);
    metres -= piece.from;
    return piece;
}

Vec3 Curve::at(double metres) const {
    if (pieces_.empty()) return Vec3(0.0);
    const Piece& piece = pieceAt(metres);
    return piece.at(piece.shareOf(metres));
}

Vec3 Curve::direction(double metres) const {
    if (pieces_.empty()) return {0, 0, 1};
    const Piece& piece = pieceAt(metres);
    return unit(piece.along(piece.shareOf(metres)), unit(piece.at(1) - piece.at(0)));
}

double Curve::Piece::radius(double t) const {
    constexpr double kStraight = std::numeric_limits<double>::infinity();
    if (is == Is::Line) return kStraight;
    if (is == Is::Arc) return glm::length(b);
    const Vec3 first = along(t);
    const double across = glm::length(glm::cross(first, bends(t))), speed = glm::length(first);
    return across < 1e-12 ? kStraight : speed * speed * speed / across;
}

double Curve::radiusAt(double metres) const {
    if (pieces_.empty()) return std::numeric_limits<double>::infinity();
    const Piece& piece = pieceAt(metres);
    return piece.radius(piece.shareOf(metres));
}

Curve::Nearest Curve::nearest(const Vec3& to) const {
    Nearest best{0, std::numeric_limits<double>::infinity()};
    for (const Piece& piece : pieces_) {
        if (glm::length(piece.at(0) - to) - piece.length > best.away) continue;  // none of it is nearer
        // From a few places on, ever finer where it is least.
        const int parts = piece.is == Piece::Is::Line ? 1 : 16;
        double low = 0, high = 1;
        if (piece.is == Piece::Is::Line) {
            const Vec3 way = piece.b - piece.a;
            low = high = std::clamp(glm::dot(to - piece.a, way) / glm::dot(way, way), 0.0, 1.0);
        } else {
            double least = std::numeric_limits<double>::infinity();
            int where = 0;
            for (int i = 0; i <= parts; ++i)
                if (const double away = glm::length(piece.at(double(i) / parts) - to); away < least)
                    least = away, where = i;
            if (least > best.away + piece.length / parts) continue;
            low = std::max(0.0, (where - 1.0) / parts);
            high = std::min(1.0, (where + 1.0) / parts);
        }
        constexpr double kGolden = 0.6180339887498949;
        while (high - low > 1e-9) {
            const double a = high - (high - low) * kGolden, b = low + (high - low) * kGolden;
            if (glm::length(piece.at(a) - to) < glm::length(piece.at(b) - to))
                high = b;
            else
                low = a;
        }
        const double t = (low + high) / 2, away = glm::length(piece.at(t) - to);
        if (away < best.away) best = {piece.from + piece.lengthTo(t), away};
    }
    return best;
}

std::vector<Curve::Sample> Curve::samples(double tolerance, double step) const {
    return samples(tolerance, step, 0, length());
}

Curve::Same Curve::sameAs(const Curve& other) const {
    std::size_t front = 0, back = 0;
    const std::size_t most = std::min(pieces_.size(), other.pieces_.size());
    while (front < most && pieces_[front].isLike(other.pieces_[front])) ++front;
    while (back < most - front &&
           pieces_[pieces_.size() - 1 - back].isLike(other.pieces_[other.pieces_.size() - 1 - back]))
        ++back;
    const auto begins = [](const Curve& of, std::size_t piece) {
        return piece < of.pieces_.size() ? of.pieces_[piece].from : of.length();
    };
    return {begins(*this, front), begins(*this, pieces_.size() - back), begins(other, other.pieces_.size() - back)};
}

std::vector<Curve::Sample> Curve::samples(double tolerance, double step, double from, double to) const {
    constexpr int kMostParts = 256;
    std::vector<Sample> all;
    const auto add = [&](const Piece& piece, double t, double metres) {
        all.push_back({metres, piece.at(t), unit(piece.along(t), unit(piece.at(1) - piece.at(0))), piece.radius(t)});
    };
    const auto first = std::ranges::lower_bound(pieces_, from, {}, &Piece::from);
    for (auto at = first; at != pieces_.end() && at->from < to; ++at) {
        const Piece& piece = *at;
        double wanted = piece.is == Piece::Is::Line ? 1 : piece.length / step;
        if (piece.is == Piece::Is::Arc) {
            const double bow = 2 * std::acos(std::clamp(1 - tolerance / glm::length(piece.b), -1.0, 1.0));
            wanted = std::max(wanted, piece.angle / std::max(bow, 0.01));
        } else if (piece.is == Piece::Is::Cubic) {
            const double bent = std::max(glm::length(piece.a - piece.b * 2.0 + piece.c),
                                         glm::length(piece.b - piece.c * 2.0 + piece.d));
            wanted = std::max(wanted, std::sqrt(0.75 * bent / tolerance));
        }
        const int parts = std::clamp(static_cast<int>(std::ceil(wanted)), 1, kMostParts);
        const auto speed = [&piece](double t) { return glm::length(piece.along(t)); };
        double metres = piece.from;
        for (int i = 0; i < parts; ++i) {
            const double t = double(i) / parts, next = double(i + 1) / parts;
            add(piece, t, metres);
            if (i + 1 == parts) break;  // where the next one begins is known
            metres += piece.is == Piece::Is::Cubic ? integral(speed, t, next) : piece.length / parts;
        }
    }
    if (!pieces_.empty() && to >= length()) add(pieces_.back(), 1, length());
    return all;
}

}  // namespace shape
