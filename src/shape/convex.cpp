#include "shape/convex.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "shape/hull.h"

namespace shape {
namespace {

using base::Vec2;
using base::Vec3;

constexpr double kLeastVolume = 1e-12;  // cubic metres: less is nothing

/// Two directions along a plane; with its normal they are right-handed.
std::pair<Vec3, Vec3> along(const Vec3& normal) {
    const Vec3 any = std::abs(normal.x) < 0.6 ? Vec3(1, 0, 0) : Vec3(0, 0, 1);
    const Vec3 u = glm::normalize(glm::cross(any, normal));
    return {u, glm::cross(normal, u)};
}

/// Corners in one plane in the order round their middle, counter-clockwise as seen from where `normal` looks.
std::vector<std::uint32_t> inOrder(const std::vector<Vec3>& corners, std::vector<std::uint32_t> which,
                                   const Vec3& normal) {
    Vec3 middle(0.0);
    for (std::uint32_t i : which) middle += corners[i] / static_cast<double>(which.size());
    const auto [u, v] = along(normal);
    auto angle = [&, u = u, v = v](std::uint32_t i) {
        return std::atan2(glm::dot(corners[i] - middle, v), glm::dot(corners[i] - middle, u));
    };
    std::sort(which.begin(), which.end(), [&](std::uint32_t a, std::uint32_t b) { return angle(a) < angle(b); });
    return which;
}

/// A piece while it is put together from faces of another.
class Half {
  public:
    explicit Half(const Convex& from) : from_(from), at_(from.corners.size(), kNone) {}
    std::uint32_t old(std::uint32_t corner) {
        if (at_[corner] == kNone) at_[corner] = add(from_.corners[corner]);
        return at_[corner];
    }
    std::uint32_t between(std::uint32_t a, std::uint32_t b, const Vec3& place) {
        const auto [known, fresh] = cut_.try_emplace(std::minmax(a, b), 0u);
        if (fresh) known->second = add(place);
        return known->second;
    }
    void face(std::vector<std::uint32_t> loop, int tag) {
        if (loop.size() >= 3) made_.faces.push_back({std::move(loop), tag});
    }
    Convex& piece() { return made_; }

  private:
    static constexpr std::uint32_t kNone = ~0u;
    std::uint32_t add(const Vec3& place) {
        made_.corners.push_back(place);
        return static_cast<std::uint32_t>(made_.corners.size() - 1);
    }
    const Convex& from_;
    std::vector<std::uint32_t> at_;
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> cut_;
    Convex made_;
};

/// What of `piece` is on the side of `plane` where `sign` times the height is below 0, closed by a face.
Convex half(const Convex& piece, const Plane& plane, const std::vector<double>& heights, double sign, int tag) {
    Half made(piece);
    std::vector<std::uint32_t> rim;
    auto onRim = [&](std::uint32_t corner) {
        if (std::find(rim.begin(), rim.end(), corner) == rim.end()) rim.push_back(corner);
        return corner;
    };
    for (const ConvexFace& face : piece.faces) {
        std::vector<std::uint32_t> loop;
        bool any = false;
        for (std::size_t k = 0; k < face.loop.size(); ++k) {
            const std::uint32_t a = face.loop[k], b = face.loop[(k + 1) % face.loop.size()];
            const double ha = heights[a] * sign, hb = heights[b] * sign;
            any = any || ha < 0;
            if (ha < 0) loop.push_back(made.old(a));
            if (ha == 0) loop.push_back(onRim(made.old(a)));
            if (ha * hb < 0) {
                // From the same end for both faces of the edge.
                const auto [from, to] = std::minmax(a, b);
                const double t = heights[from] / (heights[from] - heights[to]);
                const Vec3 place = piece.corners[from] + (piece.corners[to] - piece.corners[from]) * t;
                loop.push_back(onRim(made.between(a, b, place)));
            }
        }
        if (any) made.face(std::move(loop), face.tag);
    }
    Convex result = std::move(made.piece());
    if (rim.size() >= 3) {
        const Vec3 outwards = plane.normal * sign;
        result.faces.push_back({inOrder(result.corners, std::move(rim), outwards), tag});
    }
    return result;
}

}  // namespace

Plane planeThrough(const Vec3& point, const Vec3& normal) {
    const Vec3 unit = glm::normalize(normal);
    return {unit, glm::dot(unit, point)};
}

Plane planeOf(const Convex& piece, const ConvexFace& face) {
    Vec3 normal(0.0), middle(0.0);
    const Vec3& first = piece.corners[face.loop[0]];
    for (std::size_t k = 0; k < face.loop.size(); ++k) {
        const Vec3 a = piece.corners[face.loop[k]] - first;
        normal += glm::cross(a, piece.corners[face.loop[(k + 1) % face.loop.size()]] - first);
        middle += a / static_cast<double>(face.loop.size());
    }
    return planeThrough(first + middle, normal);
}

base::Aabb boundsOf(const Convex& piece) {
    base::Aabb box;
    for (const Vec3& c : piece.corners) box.add(c);
    return box;
}

base::Aabb boundsOf(std::span<const Convex> pieces) {
    base::Aabb box;
    for (const Convex& piece : pieces) box.add(boundsOf(piece));
    return box;
}

double volumeOf(const Convex& piece) {
    double six = 0;
    if (piece.corners.empty()) return 0;
    const Vec3& origin = piece.corners.front();
    for (const ConvexFace& face : piece.faces)
        for (std::size_t k = 2; k < face.loop.size(); ++k) {
            const Vec3 a = piece.corners[face.loop[0]] - origin, b = piece.corners[face.loop[k - 1]] - origin;
            six += glm::dot(a, glm::cross(b, piece.corners[face.loop[k]] - origin));
        }
    return six / 6;
}

double volumeOf(std::span<const Convex> pieces) {
    double all = 0;
    for (const Convex& piece : pieces) all += volumeOf(piece);
    return all;
}

std::size_t faceCount(std::span<const Convex> pieces) {
    std::size_t all = 0;
    for (const Convex& piece : pieces) all += piece.faces.size();
    return all;
}

int freeTag(std::span<const Convex> pieces) {
    int most = -1;
    for (const Convex& piece : pieces)
        for (const ConvexFace& face : piece.faces) most = std::max(most, face.tag);
    return most + 1;
}

base::Status wellFormed(const Convex& piece) {
    auto bad = [](std::string what) -> base::Status { return base::fail(base::ErrorCode::BadInput, std::move(what)); };
    if (piece.faces.size() < 4 || piece.corners.size() < 4) return bad("A piece needs four faces at least.");
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
    for (const ConvexFace& face : piece.faces) {
        if (face.loop.size() < 3) return bad("A face needs three corners at least.");
        for (std::size_t k = 0; k < face.loop.size(); ++k) {
            const std::uint32_t a = face.loop[k], b = face.loop[(k + 1) % face.loop.size()];
            if (a >= piece.corners.size()) return bad(fmt::format("There is no corner {}.", a));
            if (!base::isFinite(piece.corners[a])) return bad(fmt::format("Corner {} is nowhere.", a));
            ++edges[{a, b}];
        }
    }
    for (const auto& [edge, count] : edges)
        if (count != 1 || !edges.contains({edge.second, edge.first}))
            return bad(fmt::format("It is open between the corners {} and {}.", edge.first, edge.second));
    if (volumeOf(piece) < kLeastVolume) return bad("A piece has no room inside.");
    const double room = 1e-6 * std::max(1.0, glm::length(boundsOf(piece).size()));
    for (const ConvexFace& face : piece.faces) {
        const Plane plane = planeOf(piece, face);
        if (!base::isFinite(plane.normal)) return bad("A face has no area.");
        for (const Vec3& corner : piece.corners)
            if (plane.height(corner) > room) return bad("A piece is hollow at a face.");
        for (std::uint32_t i : face.loop)
            if (std::abs(plane.height(piece.corners[i])) > room) return bad("A face is not flat.");
    }
    return {};
}

std::optional<ConvexHit> enter(const Convex& piece, const base::Ray& ray) {
    double in = -1e300, out = 1e300;
    const ConvexFace* by = nullptr;
    for (const ConvexFace& face : piece.faces) {
        const Plane plane = planeOf(piece, face);
        const double h = plane.height(ray.origin), turn = glm::dot(plane.normal, ray.direction);
        if (std::abs(turn) < 1e-12) {
            if (h > 0) return std::nullopt;
        } else if (turn < 0 && -h / turn > in) {
            in = -h / turn;
            by = &face;
        } else if (turn > 0) {
            out = std::min(out, -h / turn);
        }
    }
    if (by == nullptr || in > out || in < 0) return std::nullopt;
    return ConvexHit{in, by};
}

std::optional<double> firstHit(std::span<const Convex> pieces, const base::Ray& ray) {
    std::optional<double> first;
    for (const Convex& piece : pieces)
        if (const auto hit = enter(piece, ray); hit && (!first || hit->distance < *first)) first = hit->distance;
    return first;
}

Convex prismOf(std::span<const Vec2> outline, double bottom, double top) {
    Convex made;
    const auto n = static_cast<std::uint32_t>(outline.size());
    for (const Vec2& p : outline) made.corners.emplace_back(p.x, bottom, p.y);
    for (const Vec2& p : outline) made.corners.emplace_back(p.x, top, p.y);
    ConvexFace below, above;
    // Seen from above with x to the right, z goes down: what turns left in (x, z) turns right for whoever looks.
    for (std::uint32_t i = 0; i < n; ++i) below.loop.push_back(i);
    for (std::uint32_t i = n; i-- > 0;) above.loop.push_back(n + i);
    above.tag = 1;
    made.faces = {below, above};
    for (std::uint32_t i = 0; i < n; ++i) {
        const std::uint32_t j = (i + 1) % n;
        made.faces.push_back({{i, n + i, n + j, j}, 2 + static_cast<int>(i)});
    }
    return made;
}

Convex boxOf(const base::Aabb& box) {
    const Vec2 outline[] = {
        {box.low.x, box.low.z}, {box.high.x, box.low.z}, {box.high.x, box.high.z}, {box.low.x, box.high.z}};
    return prismOf(outline, box.low.y, box.high.y);
}

Halves cut(const Convex& piece, const Plane& plane, int tag) {
    std::vector<double> heights;
    bool behind = false, before = false;
    for (const Vec3& corner : piece.corners) {
        const double h = plane.height(corner);
        heights.push_back(std::abs(h) <= kSame ? 0.0 : h);
        behind = behind || heights.back() < 0;
        before = before || heights.back() > 0;
    }
    if (!before) return {piece, std::nullopt};
    if (!behind) return {std::nullopt, piece};
    Halves halves{half(piece, plane, heights, 1, tag), half(piece, plane, heights, -1, tag)};
    // A sliver is nothing: then the plane misses the piece.
    if (volumeOf(*halves.before) < kLeastVolume) return {piece, std::nullopt};
    if (volumeOf(*halves.behind) < kLeastVolume) return {std::nullopt, piece};
    return halves;
}

PieceHalves cut(std::span<const Convex> pieces, const Plane& plane, int tag) {
    PieceHalves all;
    for (const Convex& piece : pieces) {
        Halves halves = cut(piece, plane, tag);
        if (halves.behind) all.behind.push_back(std::move(*halves.behind));
        if (halves.before) all.before.push_back(std::move(*halves.before));
    }
    return all;
}

Pieces without(const Convex& piece, const Convex& tool, int tag) {
    if (!boundsOf(piece).overlaps(boundsOf(tool))) return {piece};
    Pieces outside;
    Convex rest = piece;
    for (const ConvexFace& face : tool.faces) {
        Halves halves = cut(rest, planeOf(tool, face), tag < 0 ? face.tag : tag);
        if (!halves.behind) return {piece};  // nothing of it is inside
        if (halves.before) outside.push_back(std::move(*halves.before));
        rest = std::move(*halves.behind);
    }
    return outside;
}

Pieces without(std::span<const Convex> pieces, std::span<const Convex> tools, int tag) {
    Pieces rest(pieces.begin(), pieces.end());
    for (const Convex& tool : tools) {
        Pieces next;
        for (const Convex& piece : rest)
            for (Convex& part : without(piece, tool, tag)) next.push_back(std::move(part));
        rest = std::move(next);
    }
    return rest;
}

std::optional<Convex> within(const Convex& piece, const Convex& tool, int tag) {
    if (!boundsOf(piece).overlaps(boundsOf(tool))) return std::nullopt;
    Convex rest = piece;
    for (const ConvexFace& face : tool.faces) {
        Halves halves = cut(rest, planeOf(tool, face), tag < 0 ? face.tag : tag);
        if (!halves.behind) return std::nullopt;
        rest = std::move(*halves.behind);
    }
    return rest;
}

Pieces within(std::span<const Convex> pieces, std::span<const Convex> tools, int tag) {
    Pieces all;
    for (const Convex& piece : pieces)
        for (const Convex& tool : tools)
            if (auto part = within(piece, tool, tag)) all.push_back(std::move(*part));
    return all;
}

Pieces together(std::span<const Convex> first, std::span<const Convex> others) {
    Pieces all(first.begin(), first.end());
    for (const Convex& piece : others) {
        // What is cut away lies against what cut it: nobody sees that face, whatever its tag.
        Pieces rest = without(std::span(&piece, 1), first, freeTag(first));
        for (Convex& part : rest) all.push_back(std::move(part));
    }
    return all;
}

namespace {

struct HullFace {
    Plane plane;
    std::vector<std::uint32_t> on;  ///< points that lie on it
};

/// The planes of a hull with the points on each.
std::vector<HullFace> hullFaces(const std::vector<Vec3>& points, double room) {
    std::vector<HullFace> all;
    for (const auto& [a, b, c] : hullTriangles(points)) {
        const Vec3 across = glm::cross(points[b] - points[a], points[c] - points[a]);
        const double longest = std::max(glm::length(points[b] - points[a]), glm::length(points[c] - points[a]));
        if (glm::length(across) < longest * room * 10) continue;  // three nearly in one line say nothing of a plane
        const Plane plane = planeThrough(points[a], across);
        HullFace face{plane, {}};
        bool outer = true;
        for (std::uint32_t i = 0; i < points.size() && outer; ++i) {
            const double h = plane.height(points[i]);
            outer = h <= room;
            if (std::abs(h) <= room) face.on.push_back(i);
        }
        auto same = [&](const HullFace& known) { return known.on == face.on; };
        if (outer && std::none_of(all.begin(), all.end(), same)) all.push_back(std::move(face));
    }
    return all;
}

int tagLike(const Convex& like, const Vec3& normal, int otherTag) {
    int best = otherTag;
    double nearest = std::cos(base::radians(20));
    for (const ConvexFace& face : like.faces)
        if (const double turn = glm::dot(planeOf(like, face).normal, normal); turn > nearest) {
            nearest = turn;
            best = face.tag;
        }
    return best;
}

std::vector<Vec3> apart(std::span<const Vec3> points) {
    std::vector<Vec3> all;
    for (const Vec3& p : points)
        if (std::none_of(all.begin(), all.end(), [&](const Vec3& q) { return glm::length(p - q) <= kSame; }))
            all.push_back(p);
    return all;
}

}  // namespace

std::optional<Convex> hullOf(std::span<const Vec3> given, const Convex& like, int otherTag) {
    const std::vector<Vec3> points = apart(given);
    base::Aabb box;
    for (const Vec3& p : points) box.add(p);
    const std::vector<HullFace> faces = hullFaces(points, kSame * std::max(1.0, glm::length(box.size()) / 100));
    // A corner has three faces; what has fewer lies on an edge or a face.
    std::vector<int> uses(points.size(), 0);
    for (const HullFace& face : faces)
        for (std::uint32_t i : face.on) ++uses[i];
    Convex made;
    std::vector<std::uint32_t> place(points.size(), 0);
    for (std::size_t i = 0; i < points.size(); ++i)
        if (uses[i] >= 3) {
            place[i] = static_cast<std::uint32_t>(made.corners.size());
            made.corners.push_back(points[i]);
        }
    for (const HullFace& face : faces) {
        std::vector<std::uint32_t> loop;
        for (std::uint32_t i : face.on)
            if (uses[i] >= 3) loop.push_back(place[i]);
        if (loop.size() < 3) continue;
        made.faces.push_back(
            {inOrder(made.corners, std::move(loop), face.plane.normal), tagLike(like, face.plane.normal, otherTag)});
    }
    return wellFormed(made) ? std::optional(std::move(made)) : std::nullopt;
}

namespace {

/// Two pieces as one, when that is convex: they share a whole face and no new corner is needed.
std::optional<Convex> asOne(const Convex& a, const Convex& b) {
    std::vector<Vec3> all = a.corners;
    all.insert(all.end(), b.corners.begin(), b.corners.end());
    const double both = volumeOf(a) + volumeOf(b);
    auto hull = hullOf(all, {}, -1);
    if (!hull || volumeOf(*hull) > both * (1 + 1e-9) + 1e-12) return std::nullopt;
    // Each face must be all of one tag: what lay on it says so.
    for (ConvexFace& face : hull->faces) {
        const Plane plane = planeOf(*hull, face);
        face.tag = -1;
        for (const Convex* part : {&a, &b})
            for (const ConvexFace& old : part->faces) {
                const Plane was = planeOf(*part, old);
                if (glm::dot(was.normal, plane.normal) < 1 - 1e-9 || std::abs(was.offset - plane.offset) > 10 * kSame)
                    continue;
                if (face.tag >= 0 && face.tag != old.tag) return std::nullopt;
                face.tag = old.tag;
            }
        if (face.tag < 0) return std::nullopt;
    }
    return hull;
}

bool touch(const Convex& a, const Convex& b) {
    base::Aabb box = boundsOf(a);
    box.low -= Vec3(kSame);
    box.high += Vec3(kSame);
    return box.overlaps(boundsOf(b));
}

}  // namespace

Pieces mended(Pieces pieces) {
    for (std::size_t i = 0; i < pieces.size(); ++i)
        for (std::size_t j = i + 1; j < pieces.size(); ++j) {
            if (!touch(pieces[i], pieces[j])) continue;
            auto one = asOne(pieces[i], pieces[j]);
            if (!one) continue;
            pieces[i] = std::move(*one);
            pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(j));
            j = i;  // from the first again
        }
    return pieces;
}

namespace {

using Outline = std::vector<Vec2>;

double areaOf(const Outline& outline) {
    double twice = 0;
    for (std::size_t i = 0; i < outline.size(); ++i)
        twice += base::cross(outline[i], outline[(i + 1) % outline.size()]);
    return twice / 2;
}

double turnAt(const Vec2& a, const Vec2& b, const Vec2& c) {
    return base::cross(b - a, c - b);
}

bool crossing(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
    auto side = [](const Vec2& p, const Vec2& q, const Vec2& r) { return turnAt(p, q, r); };
    return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

bool crossesItself(const Outline& o) {
    const std::size_t n = o.size();
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t j = i + 2; j < n; ++j)
            if ((j + 1) % n != i && crossing(o[i], o[i + 1], o[j], o[(j + 1) % n])) return true;
    return false;
}

bool inside(const Vec2& p, const Vec2& a, const Vec2& b, const Vec2& c) {
    return turnAt(a, b, p) >= 0 && turnAt(b, c, p) >= 0 && turnAt(c, a, p) >= 0;
}

/// Triangles as places in the outline, which turns left.
std::optional<std::vector<std::vector<std::size_t>>> ears(const Outline& o) {
    std::vector<std::size_t> left(o.size());
    for (std::size_t i = 0; i < o.size(); ++i) left[i] = i;
    std::vector<std::vector<std::size_t>> all;
    while (left.size() >= 3) {
        bool found = false;
        for (std::size_t k = 0; k < left.size() && !found; ++k) {
            const std::size_t a = left[(k + left.size() - 1) % left.size()], b = left[k],
                              c = left[(k + 1) % left.size()];
            const double turn = turnAt(o[a], o[b], o[c]);
            if (turn < 0) continue;
            auto isIn = [&](std::size_t p) {
                return p != a && p != b && p != c && o[p] != o[a] && o[p] != o[b] && o[p] != o[c] &&
                       inside(o[p], o[a], o[b], o[c]);
            };
            if (turn > 0 && std::any_of(left.begin(), left.end(), isIn)) continue;
            if (turn > 0) all.push_back({a, b, c});
            left.erase(left.begin() + static_cast<std::ptrdiff_t>(k));
            found = true;
        }
        if (!found) return std::nullopt;
    }
    return all;
}

bool isConvexLoop(const Outline& o, const std::vector<std::size_t>& loop) {
    for (std::size_t k = 0; k < loop.size(); ++k)
        if (turnAt(o[loop[k]], o[loop[(k + 1) % loop.size()]], o[loop[(k + 2) % loop.size()]]) < -1e-12) return false;
    return true;
}

/// Two loops joined along an edge they share; empty: they share none.
std::vector<std::size_t> joined(const std::vector<std::size_t>& a, const std::vector<std::size_t>& b) {
    for (std::size_t i = 0; i < a.size(); ++i)
        for (std::size_t j = 0; j < b.size(); ++j)
            if (a[i] == b[(j + 1) % b.size()] && a[(i + 1) % a.size()] == b[j]) {
                std::vector<std::size_t> both;
                for (std::size_t k = 0; k < a.size(); ++k) both.push_back(a[(i + 1 + k) % a.size()]);
                for (std::size_t k = 2; k < b.size(); ++k) both.push_back(b[(j + k) % b.size()]);
                return both;
            }
    return {};
}

}  // namespace

std::optional<std::vector<Outline>> convexParts(Outline outline) {
    if (outline.size() < 3 || std::abs(areaOf(outline)) < 1e-9 || crossesItself(outline)) return std::nullopt;
    if (areaOf(outline) < 0) std::reverse(outline.begin(), outline.end());
    auto parts = ears(outline);
    if (!parts) return std::nullopt;
    for (std::size_t i = 0; i < parts->size(); ++i)
        for (std::size_t j = i + 1; j < parts->size(); ++j) {
            std::vector<std::size_t> both = joined((*parts)[i], (*parts)[j]);
            if (both.empty() || !isConvexLoop(outline, both)) continue;
            (*parts)[i] = std::move(both);
            parts->erase(parts->begin() + static_cast<std::ptrdiff_t>(j));
            j = i;
        }
    std::vector<Outline> all;
    for (const auto& part : *parts) {
        Outline one;
        for (std::size_t i : part) one.push_back(outline[i]);
        all.push_back(std::move(one));
    }
    return all;
}

Convex mapped(Convex piece, const base::Affine& map) {
    for (Vec3& corner : piece.corners) corner = map.point(corner);
    if (glm::determinant(map.linear) < 0)
        for (ConvexFace& face : piece.faces) std::reverse(face.loop.begin(), face.loop.end());
    return piece;
}

Pieces mapped(Pieces pieces, const base::Affine& map) {
    for (Convex& piece : pieces) piece = mapped(std::move(piece), map);
    return pieces;
}

}  // namespace shape
