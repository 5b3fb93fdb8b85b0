#include "shape/solid.h"

#include <algorithm>
#include <cmath>

namespace shape {
namespace {

using base::Vec2;
using base::Vec3;
using Outline = std::vector<Vec2>;

/// Where the axes of a prism go: its outline (a, b) and the way it is drawn out.
base::Affine axes(const Vec3& a, const Vec3& out, const Vec3& b, const Vec3& origin = Vec3(0.0)) {
    return {base::Mat3(a, out, b), origin};
}
const base::Affine kStanding = axes({1, 0, 0}, {0, 0, 1}, {0, 1, 0});  // outline (x, y)
const base::Affine kSideways = axes({0, 0, 1}, {1, 0, 0}, {0, 1, 0});  // outline (z, y)
const base::Affine kLying = axes({1, 0, 0}, {0, 1, 0}, {0, 0, -1});    // outline (x, -z)

/// Sides that are not the faces of a box: all of them with one tag.
Convex withSides(Convex prism, int tag) {
    for (ConvexFace& face : prism.faces)
        if (face.tag >= 2) face.tag = tag;
    return prism;
}

/// Corners of a box round the origin lie in fours: back, right, front, left.
Outline rectangle(const Vec3& size) {
    const double x = size.x / 2, z = size.z / 2;
    return {{-x, -z}, {x, -z}, {x, z}, {-x, z}};
}

Outline ellipse(const Vec3& size, int sides) {
    Outline all;
    for (int i = 0; i < sides; ++i) {
        const double angle = 2 * base::kPi * i / sides;
        all.emplace_back(size.x / 2 * std::cos(angle), size.z / 2 * std::sin(angle));
    }
    return all;
}

/// A prism whose top is `share` times its base.
Convex tapered(const Outline& outline, double height, double share) {
    Convex made = prismOf(outline, 0, height);
    const std::size_t n = outline.size();
    if (share > 1e-6) {
        for (std::size_t i = n; i < 2 * n; ++i) made.corners[i] *= Vec3(share, 1, share);
        return made;
    }
    made.corners.resize(n);
    made.corners.emplace_back(0, height, 0);
    std::erase_if(made.faces, [](const ConvexFace& face) { return face.tag == 1; });
    for (std::size_t i = 0; i < n; ++i) {
        const auto from = static_cast<std::uint32_t>(i), to = static_cast<std::uint32_t>((i + 1) % n);
        made.faces[i + 1].loop = {from, static_cast<std::uint32_t>(n), to};
    }
    return made;
}

Convex box(const Vec3& size) {
    return prismOf(rectangle(size), 0, size.y);
}

Convex wedge(const Vec3& s) {
    const double z = s.z / 2;
    const Vec2 outline[] = {{-z, 0}, {z, 0}, {-z, s.y}};
    return mapped(prismOf(outline, -s.x / 2, s.x / 2), kSideways);
}

/// A slab on a slope; as thick as that it is a wedge.
Convex ramp(const Vec3& s, double thickness) {
    const double z = s.z / 2, long_ = std::hypot(s.y, s.z);
    const double high = thickness * long_ / s.z, deep = thickness * long_ / s.y;
    if (high >= s.y || deep >= s.z) return wedge(s);
    const Vec2 outline[] = {{-z, s.y - high}, {z - deep, 0}, {z, 0}, {-z, s.y}};
    return mapped(prismOf(outline, -s.x / 2, s.x / 2), kSideways);
}

Convex sphere(const Vec3& s, int sides) {
    const int rings = std::max(2, sides / 2);
    Convex made;
    made.corners = {{0, 0, 0}, {0, s.y, 0}};
    for (int ring = 1; ring < rings; ++ring)
        for (int side = 0; side < sides; ++side) {
            const double tilt = base::kPi * ring / rings, turn = 2 * base::kPi * side / sides;
            const Vec3 way(std::sin(tilt) * std::sin(turn), 1 - std::cos(tilt), std::sin(tilt) * std::cos(turn));
            made.corners.push_back(way * s / 2.0);
        }
    auto at = [&](int ring, int side) { return static_cast<std::uint32_t>(2 + (ring - 1) * sides + side % sides); };
    for (int side = 0; side < sides; ++side) {
        made.faces.push_back({{0, at(1, side + 1), at(1, side)}, 0});
        for (int ring = 1; ring + 1 < rings; ++ring)
            made.faces.push_back({{at(ring, side), at(ring, side + 1), at(ring + 1, side + 1), at(ring + 1, side)}, 0});
        made.faces.push_back({{1, at(rings - 1, side), at(rings - 1, side + 1)}, 0});
    }
    return made;
}

Pieces stairs(const Vec3& s, int steps) {
    Pieces all;
    const double deep = s.z / steps, front = s.z / 2;
    for (int i = 0; i < steps; ++i)
        all.push_back(boxOf({{-s.x / 2, 0, i + 1 == steps ? -front : front - deep * (i + 1)},
                             {s.x / 2, i + 1 == steps ? s.y : s.y / steps * (i + 1), front - deep * i}}));
    return all;
}

/// What goes round: an ellipse that touches its box. Only its upper half, when it needs no more.
struct Ring {
    Vec2 radii, inside, middle;  ///< `inside`: the radii of its inner side
    double from, sweep;          ///< radians
    int parts;
    double thickness;
    Vec2 low, high;  ///< the box
    static bool isUpper(const SolidNumbers& n) { return n.startDegrees >= 0 && n.startDegrees + n.sweepDegrees <= 180; }
    Ring(const SolidNumbers& n, double wide, double high_, int count) : parts(count) {
        const bool upper = isUpper(n);
        radii = {wide / 2, upper ? high_ : high_ / 2};
        middle = {0, upper ? 0 : high_ / 2};
        from = base::radians(n.startDegrees);
        sweep = base::radians(std::clamp(n.sweepDegrees, 1.0, 360.0));
        thickness = std::min(n.thickness, 0.98 * std::min(radii.x, radii.y));
        low = {-wide / 2, 0};
        high = {wide / 2, high_};
        inside = radii - Vec2(thickness);
        // Where few pieces go round something long, one as thick everywhere would have hollow pieces.
        for (int i = 0; i < parts; ++i)
            if (!isConvex(outline(i, n.filled)) || !isConvex(outline(i, false)))
                inside = radii * (1 - thickness / std::min(radii.x, radii.y));
    }
    static bool isConvex(const Outline& o) {
        for (std::size_t k = 0; k < o.size(); ++k) {
            const Vec2 &a = o[k], &b = o[(k + 1) % o.size()], &c = o[(k + 2) % o.size()];
            if (base::cross(b - a, c - b) < 1e-9) return false;
        }
        return true;
    }
    /// Of a piece: outside first, then the inner side.
    Outline outline(int i, bool filled) const {
        Outline all = {filled ? rim(i) : outer(i)};
        if (filled)
            for (const Vec2& corner : corners(i)) all.push_back(corner);
        all.push_back(filled ? rim(i + 1) : outer(i + 1));
        all.push_back(inner(i + 1));
        all.push_back(inner(i));
        return all;
    }
    double angle(int i) const { return from + sweep * i / parts; }
    Vec2 outer(int i) const { return middle + radii * Vec2(std::cos(angle(i)), std::sin(angle(i))); }
    Vec2 inner(int i) const { return middle + inside * Vec2(std::cos(angle(i)), std::sin(angle(i))); }
    /// Where the ray through outer(i) leaves the box.
    Vec2 rim(int i) const {
        const Vec2 way = outer(i) - middle;
        double t = 1e300;
        for (glm::length_t k = 0; k < 2; ++k)
            if (std::abs(way[k]) > 1e-9) t = std::min(t, ((way[k] > 0 ? high[k] : low[k]) - middle[k]) / way[k]);
        return middle + way * t;
    }
    /// The corners of the box between two such rays.
    Outline corners(int i) const {
        Outline found;
        const Vec2 a = rim(i) - middle, b = rim(i + 1) - middle;
        for (const Vec2& c : {high, Vec2(low.x, high.y), low, Vec2(high.x, low.y)})
            if (const Vec2 w = c - middle; base::cross(a, w) > 1e-9 && base::cross(w, b) > 1e-9) found.push_back(c);
        // In the order one comes by them: two of one piece are less than half a turn apart.
        std::sort(found.begin(), found.end(),
                  [&](const Vec2& p, const Vec2& q) { return base::cross(p - middle, q - middle) > 0; });
        return found;
    }
};

/// Tags: 0 and 1 the flat sides, 2 outside, 3 its end, 4 inside, 5 its beginning.
Convex ringPiece(const Ring& ring, int i, bool filled, double low, double high) {
    const Outline outline = ring.outline(i, filled);
    const int outside = static_cast<int>(outline.size()) - 3;
    Convex piece = prismOf(outline, low, high);
    for (ConvexFace& face : piece.faces)
        if (face.tag >= 2) face.tag = face.tag - 2 < outside ? 2 : 3 + (face.tag - 2 - outside);
    return piece;
}

Pieces arch(const SolidNumbers& n, int parts) {
    Pieces all;
    const Ring ring(n, n.size.x, n.size.y, parts);
    for (int i = 0; i < parts; ++i)
        all.push_back(mapped(ringPiece(ring, i, n.filled, -n.size.z / 2, n.size.z / 2), kStanding));
    return all;
}

/// Lies on the ground; with a rise its pieces wind upwards.
Pieces lying(const SolidNumbers& n, int parts, double rise) {
    Pieces all;
    const Ring ring(n, n.size.x, n.size.z, parts);
    base::Affine map = kLying;
    map.translation.z = n.size.z / 2;
    const double high = std::max(n.size.y - rise * (parts - 1), 0.001);
    for (int i = 0; i < parts; ++i)
        all.push_back(mapped(
            ringPiece(ring, i, false, n.filled && rise > 0 ? 0 : rise * i, std::min(rise * i + high, n.size.y)), map));
    return all;
}

SolidNumbers wholeTurn(SolidNumbers n) {
    n.startDegrees = 0;
    n.sweepDegrees = 360;
    return n;
}

/// The slice of a torus between two angles is convex: chords from end to end all go the same way. Tags: 0 round, 1 its
/// end, 2 its beginning.
Pieces torus(const SolidNumbers& n, int parts) {
    constexpr int kAround = 12;
    const bool upper = Ring::isUpper(n);
    const double outer = n.size.x / 2, wide = std::min(n.thickness, 0.98 * outer), middle = outer - wide / 2;
    const double deep = upper ? n.size.z : n.size.z / 2;
    auto place = [&](int i, int k) {
        const double turn = base::radians(n.startDegrees + std::clamp(n.sweepDegrees, 1.0, 360.0) * i / parts);
        const double tilt = 2 * base::kPi * k / kAround, away = middle + wide / 2 * std::cos(tilt);
        return Vec3(away * std::cos(turn), n.size.y / 2 * (1 + std::sin(tilt)),
                    (upper ? n.size.z / 2 : 0) - away / outer * deep * std::sin(turn));
    };
    Pieces all;
    for (int i = 0; i < parts; ++i) {
        Convex piece;
        ConvexFace first{{}, 2}, last{{}, 1};
        for (int end = 0; end < 2; ++end)
            for (int k = 0; k < kAround; ++k) piece.corners.push_back(place(i + end, k));
        for (std::uint32_t k = 0; k < kAround; ++k) {
            const std::uint32_t next = (k + 1) % kAround;
            piece.faces.push_back({{k, k + kAround, next + kAround, next}, 0});
            first.loop.push_back(k);
            last.loop.push_back(kAround + kAround - 1 - k);
        }
        piece.faces.push_back(first);
        piece.faces.push_back(last);
        if (volumeOf(piece) < 0)
            for (ConvexFace& face : piece.faces) std::reverse(face.loop.begin(), face.loop.end());
        all.push_back(std::move(piece));
    }
    return all;
}

/// Corners brought to a box: `low` to `high`.
Outline fitted(const Outline& drawn, const Vec2& low, const Vec2& high) {
    Vec2 from(1e300), to(-1e300);
    for (const Vec2& p : drawn) {
        from = glm::min(from, p);
        to = glm::max(to, p);
    }
    Outline all;
    for (const Vec2& p : drawn) all.push_back(low + (p - from) / glm::max(to - from, Vec2(1e-9)) * (high - low));
    return all;
}

/// The edge of an outline that two points lie on; -1: none.
int edgeUnder(const Outline& outline, const Vec2& p, const Vec2& q) {
    for (std::size_t i = 0; i < outline.size(); ++i) {
        const Vec2 &a = outline[i], &b = outline[(i + 1) % outline.size()];
        const double length = glm::length(b - a);
        auto on = [&](const Vec2& r) {
            const double t = glm::dot(r - a, b - a) / length;
            return std::abs(base::cross(b - a, r - a)) < 1e-9 * std::max(1.0, length) && t > -1e-9 && t < length + 1e-9;
        };
        if (length > 0 && on(p) && on(q)) return static_cast<int>(i);
    }
    return -1;
}

/// Tags: 0 bottom, 1 top, 2 + i the side on edge i.
Pieces prism(const SolidNumbers& n) {
    const Vec2 half(n.size.x / 2, n.size.z / 2);
    const Outline outline = n.footprint.size() >= 3 ? fitted(n.footprint, -half, half) : rectangle(n.size);
    const auto parts = convexParts(outline);
    if (!parts) return {box(n.size)};
    Pieces all;
    for (const Outline& part : *parts) {
        Convex piece = prismOf(part, 0, n.size.y);
        for (ConvexFace& face : piece.faces)
            if (face.tag >= 2) {
                const auto i = static_cast<std::size_t>(face.tag - 2);
                face.tag = 2 + std::max(0, edgeUnder(outline, part[i], part[(i + 1) % part.size()]));
            }
        all.push_back(std::move(piece));
    }
    return all;
}

/// Tags: those of a box outside, 6 more inside.
Pieces room(const SolidNumbers& n) {
    const Convex outside = box(n.size);
    const double least = std::min({n.size.x, n.size.y, n.size.z});
    const Vec3 wall(std::min(n.thickness, 0.49 * least));
    base::Aabb inner = boundsOf(outside);
    inner.low += wall;
    inner.high -= wall;
    Convex hollow = boxOf(inner);
    for (ConvexFace& face : hollow.faces) face.tag += 6;
    return without(outside, hollow, -1);
}

}  // namespace

int usualParts(const SolidNumbers& n) {
    constexpr double kRise = 0.18;  // metres: a step that is climbed with ease
    auto steps = [&](double rise) { return std::clamp(int(std::lround(n.size.y / rise)), 1, 200); };
    switch (n.shape) {
        case SolidShape::Stairs: return steps(kRise);
        case SolidShape::Cylinder:
        case SolidShape::Cone:
        case SolidShape::Sphere:
        case SolidShape::Pipe: return 24;
        case SolidShape::Arch:
            if (n.rise > 0) return steps(n.rise);
            [[fallthrough]];
        case SolidShape::CurvedWall:
        case SolidShape::Torus: return std::max(3, int(std::lround(n.sweepDegrees / 15)));
        case SolidShape::Frustum: return 4;
        default: return 0;
    }
}

Pieces wholePieces(const SolidNumbers& n) {
    const int parts = std::clamp(n.parts > 0 ? n.parts : usualParts(n), 0, 1000), sides = std::max(3, parts);
    const int round = std::max(parts, int(std::ceil(n.sweepDegrees / 120)));  // a piece goes round by 120° at most
    switch (n.shape) {
        case SolidShape::Box:
        case SolidShape::Wall: return {box(n.size)};
        case SolidShape::Wedge: return {wedge(n.size)};
        case SolidShape::Cylinder: return {withSides(tapered(ellipse(n.size, sides), n.size.y, 1), 2)};
        case SolidShape::Cone: return {withSides(tapered(ellipse(n.size, sides), n.size.y, 0), 2)};
        case SolidShape::Sphere: return {sphere(n.size, sides)};
        case SolidShape::Plane: return {};
        case SolidShape::Stairs: return stairs(n.size, std::max(1, parts));
        case SolidShape::Arch: return n.rise > 0 ? lying(n, round, n.rise) : arch(n, round);
        case SolidShape::CurvedWall: return lying(n, round, 0);
        case SolidShape::Frustum:
            if (parts == 4) return {tapered(rectangle(n.size), n.size.y, n.top)};
            return {withSides(tapered(ellipse(n.size, sides), n.size.y, n.top), 2)};
        case SolidShape::Ramp: return {ramp(n.size, n.thickness)};
        case SolidShape::Torus: return torus(n, round);
        case SolidShape::Pipe: return lying(wholeTurn(n), sides, 0);
        case SolidShape::Prism: return prism(n);
        case SolidShape::Room: return room(n);
        case SolidShape::Plain: return n.pieces;
    }
    return {};
}

base::Affine frameOf(const Opening& opening) {
    const Vec3 out = glm::length(opening.facing) > 1e-9 ? glm::normalize(opening.facing) : Vec3(0, 0, 1);
    const Vec3 high = std::abs(out.y) > 0.999 ? Vec3(0, 0, -out.y) : Vec3(0, 1, 0);
    const Vec3 up = glm::normalize(high - out * glm::dot(high, out));
    return {base::Mat3(glm::cross(up, out), up, out), opening.at};
}

std::vector<Vec2> outlineOf(const Opening& opening) {
    const double x = opening.size.x / 2, y = opening.size.y;
    if (opening.outline == Opening::Outline::Drawn && opening.drawn.size() >= 3) {
        Outline all = fitted(opening.drawn, {-x, 0}, {x, y});
        double twice = 0;
        for (std::size_t i = 0; i < all.size(); ++i) twice += base::cross(all[i], all[(i + 1) % all.size()]);
        if (twice < 0) std::reverse(all.begin(), all.end());
        return all;
    }
    if (opening.outline != Opening::Outline::Arch) return {{-x, 0}, {x, 0}, {x, y}, {-x, y}};
    constexpr int kSides = 12;
    const double rise = std::clamp(opening.rise > 0 ? opening.rise : x, 1e-6, y), springs = y - rise;
    Outline all = {{-x, 0}, {x, 0}};
    for (int i = springs > 1e-9 ? 0 : 1; i <= (springs > 1e-9 ? kSides : kSides - 1); ++i) {
        const double turn = base::kPi * i / kSides;
        all.emplace_back(x * std::cos(turn), springs + rise * std::sin(turn));
    }
    return all;
}

namespace {

struct Stretch {
    double from, to;
};

/// Where a line is inside of a piece.
std::optional<Stretch> inside(const Convex& piece, const Vec3& origin, const Vec3& way) {
    Stretch s{-1e300, 1e300};
    for (const ConvexFace& face : piece.faces) {
        const Plane plane = planeOf(piece, face);
        const double h = plane.height(origin), turn = glm::dot(plane.normal, way);
        if (std::abs(turn) < 1e-12) {
            if (h > kSame) return std::nullopt;
            continue;
        }
        (turn < 0 ? s.from : s.to) = turn < 0 ? std::max(s.from, -h / turn) : std::min(s.to, -h / turn);
    }
    return s.from < s.to - kSame ? std::optional(s) : std::nullopt;
}

/// The stretch of a line inside of pieces that begins nearest to its origin.
std::optional<Stretch> through(std::span<const Convex> pieces, const Vec3& origin, const Vec3& way) {
    std::vector<Stretch> all;
    for (const Convex& piece : pieces)
        if (const auto s = inside(piece, origin, way)) all.push_back(*s);
    std::sort(all.begin(), all.end(), [](const Stretch& a, const Stretch& b) { return a.from < b.from; });
    std::optional<Stretch> best;
    auto away = [](const Stretch& s) { return s.from > 0 ? s.from : s.to < 0 ? -s.to : 0; };
    for (std::size_t i = 0; i < all.size();) {
        Stretch one = all[i++];
        while (i < all.size() && all[i].from <= one.to + 10 * kSame) one.to = std::max(one.to, all[i++].to);
        if (!best || away(one) < away(*best)) best = one;
    }
    return best;
}

}  // namespace

std::optional<double> thicknessAt(std::span<const Convex> pieces, const Vec3& point, const Vec3& facing) {
    const auto s = through(pieces, point, -glm::normalize(facing));
    return s ? std::optional(s->to) : std::nullopt;
}

Pieces holeOf(const Opening& opening, std::span<const Convex> pieces) {
    const base::Affine frame = frameOf(opening);
    const Outline outline = outlineOf(opening);
    const auto parts = convexParts(outline);
    if (!parts) return {};
    const Vec3 in = -frame.linear[2];
    const auto middle = through(pieces, frame.point({0, opening.size.y / 2, 0}), in);
    if (!middle) return {};
    Stretch depth = *middle;
    bool isFlat = true;
    for (const Vec2& corner : outline) {
        // Of a round wall the corners lie deeper; where another wall begins they do not count.
        const auto s = through(pieces, frame.point({corner.x * 0.9999, corner.y, 0}), in);
        if (!s || s->to - s->from > 2 * (middle->to - middle->from)) continue;
        isFlat = isFlat && std::abs(s->to - middle->to) + std::abs(s->from - middle->from) < kSame;
        depth = {std::min(depth.from, s->from), std::max(depth.to, s->to)};
    }
    // Between its corners a round wall may lie deeper still; a flat one is cut to where it ends and no further.
    const double beyond = isFlat ? 0 : 0.1 * (middle->to - middle->from);
    const double to = opening.depth > 0 ? opening.depth : depth.to + beyond;
    const double from = std::min(depth.from, 0.0) - beyond;
    Pieces hole;
    for (const Outline& part : *parts)
        hole.push_back(mapped(prismOf(part, -to, -from),
                              {base::Mat3(frame.linear[0], frame.linear[2], frame.linear[1]), frame.translation}));
    return hole;
}

Pieces solidPieces(const SolidNumbers& n) {
    const Pieces whole = wholePieces(n);
    Pieces left = whole;
    for (std::size_t k = 0; k < n.openings.size(); ++k)
        left = without(left, holeOf(n.openings[k], whole), kOpeningTag + static_cast<int>(k));
    return left;
}

Mesh solidMesh(const SolidNumbers& n) {
    if (n.shape == SolidShape::Plane) {
        const double x = n.size.x / 2, z = n.size.z / 2;
        return meshOf({FacePolygon{{{-x, 0, z}, {x, 0, z}, {x, 0, -z}, {-x, 0, -z}}, {0, 1, 0}, 0}}, n.looks);
    }
    return meshOf(solidPieces(n), n.looks);
}

}  // namespace shape
