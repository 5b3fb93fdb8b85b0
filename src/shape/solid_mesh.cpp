#include "shape/solid_mesh.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <map>
#include <optional>
#include <unordered_map>

#include "shape/dress.h"

namespace shape {
namespace {

using base::Vec2;
using base::Vec3;

constexpr double kWeld = 10 * kSame;
using Corners = std::vector<Vec3>;

double areaOf(const Corners& corners) {
    Vec3 twice(0.0);
    for (std::size_t k = 2; k < corners.size(); ++k)
        twice += glm::cross(corners[k - 1] - corners[0], corners[k] - corners[0]);
    return glm::length(twice) / 2;
}

/// The parts of a flat polygon behind and before a plane.
std::pair<Corners, Corners> split(const Corners& polygon, const Plane& plane) {
    Corners behind, before;
    for (std::size_t k = 0; k < polygon.size(); ++k) {
        const Vec3 &a = polygon[k], &b = polygon[(k + 1) % polygon.size()];
        const double ha = plane.height(a), hb = plane.height(b);
        if (ha <= kSame) behind.push_back(a);
        if (ha >= -kSame) before.push_back(a);
        if (std::abs(ha) > kSame && std::abs(hb) > kSame && ha * hb < 0) {
            const Vec3 between = a + (b - a) * (ha / (ha - hb));
            behind.push_back(between);
            before.push_back(between);
        }
    }
    return {std::move(behind), std::move(before)};
}

/// What of a polygon lies outside of another in the same plane, whose sides look `normal`wards or away.
std::vector<Corners> without(const Corners& polygon, const Corners& other, const Vec3& normal) {
    std::vector<Corners> outside;
    Corners rest = polygon;
    for (std::size_t k = 0; k < other.size(); ++k) {
        const Vec3& a = other[k];
        const Vec3 out = glm::cross(other[(k + 1) % other.size()] - a, normal);
        if (glm::length(out) < kSame) continue;
        auto [behind, before] = split(rest, planeThrough(a, out));
        if (behind.size() < 3 || areaOf(behind) < kSame * kSame) return {polygon};
        if (before.size() >= 3 && areaOf(before) > kSame * kSame) outside.push_back(std::move(before));
        rest = std::move(behind);
    }
    return outside;
}

/// Faces by their planes, whichever way they look.
class ByPlane {
  public:
    void add(const Plane& plane, std::size_t face) { all_[keyOf(plane, 0, 0)].push_back(face); }
    /// Those that may lie in the same plane.
    template <class Visit>
    void each(const Plane& plane, const Visit& visit) const {
        for (int step = -1; step <= 1; ++step)
            for (int turn = 0; turn < 8; ++turn)
                if (const auto found = all_.find(keyOf(plane, step, turn)); found != all_.end())
                    for (std::size_t face : found->second) visit(face);
    }

  private:
    using Key = std::array<std::int64_t, 4>;
    static Key keyOf(const Plane& plane, int step, int turn) {
        Vec3 n = plane.normal;
        const Vec3 a = glm::abs(n);
        const glm::length_t main = a.x > 0.5 ? 0 : a.y > 0.5 ? 1 : 2;
        const double sign = n[main] < 0 ? -1 : 1;
        n *= sign;
        Key key;
        // Next to a border of two cells a plane is looked for in both.
        for (glm::length_t k = 0; k < 3; ++k) {
            const double cell = n[k] * 1e4;
            const double low = std::floor(cell);
            const bool second = (turn >> k & 1) != 0;
            key[static_cast<std::size_t>(k)] =
                static_cast<std::int64_t>(low) + (second ? (cell - low < 0.5 ? -1 : 1) : 0);
        }
        key[3] = static_cast<std::int64_t>(std::floor(plane.offset * sign * 1e4)) + step;
        return key;
    }
    std::map<Key, std::vector<std::size_t>> all_;
};

}  // namespace

std::vector<FacePolygon> outsideOf(std::span<const Convex> pieces) {
    struct Face {
        Corners corners;
        Plane plane;
        int tag;
        std::size_t piece;
        base::Aabb box;
    };
    std::vector<Face> faces;
    for (std::size_t p = 0; p < pieces.size(); ++p)
        for (const ConvexFace& face : pieces[p].faces) {
            Face made{{}, planeOf(pieces[p], face), face.tag, p, {}};
            for (std::uint32_t i : face.loop) {
                made.corners.push_back(pieces[p].corners[i]);
                made.box.add(made.corners.back());
            }
            made.box.low -= Vec3(kWeld);
            made.box.high += Vec3(kWeld);
            faces.push_back(std::move(made));
        }
    ByPlane byPlane;
    if (pieces.size() > 1)
        for (std::size_t i = 0; i < faces.size(); ++i) byPlane.add(faces[i].plane, i);
    std::vector<FacePolygon> all;
    for (const Face& face : faces) {
        std::vector<Corners> seen = {face.corners};
        byPlane.each(face.plane, [&](std::size_t i) {
            const Face& other = faces[i];
            if (other.piece == face.piece || !other.box.overlaps(face.box)) return;
            if (glm::dot(other.plane.normal, face.plane.normal) > -1 + 1e-9 ||
                std::abs(other.plane.offset + face.plane.offset) > kWeld)
                return;
            std::vector<Corners> next;
            for (const Corners& part : seen)
                for (Corners& left : without(part, other.corners, other.plane.normal)) next.push_back(std::move(left));
            seen = std::move(next);
        });
        for (Corners& part : seen) all.push_back({std::move(part), face.plane.normal, face.tag});
    }
    return all;
}

namespace {

/// Points, those in one place once.
class Points {
  public:
    std::uint32_t at(const Vec3& p) {
        std::uint32_t found = kNone;
        eachCell(p, [&](const Cell& cell) {
            if (const auto known = cells_.find(cell); known != cells_.end())
                for (std::uint32_t i : known->second)
                    if (glm::length(all_[i] - p) <= kWeld) found = i;
        });
        if (found != kNone) return found;
        all_.push_back(p);
        cells_[cellOf(p)].push_back(static_cast<std::uint32_t>(all_.size() - 1));
        return static_cast<std::uint32_t>(all_.size() - 1);
    }
    const Corners& all() const { return all_; }

  private:
    using Cell = std::array<std::int64_t, 3>;
    struct Hash {
        std::size_t operator()(const Cell& c) const {
            return static_cast<std::size_t>((c[0] * 73856093) ^ (c[1] * 19349663) ^ (c[2] * 83492791));
        }
    };
    static constexpr std::uint32_t kNone = ~0u;
    static constexpr double kCell = 1e-3;
    static Cell cellOf(const Vec3& p) {
        const Vec3 c = glm::floor(p / kCell);
        return {static_cast<std::int64_t>(c.x), static_cast<std::int64_t>(c.y), static_cast<std::int64_t>(c.z)};
    }
    template <class Visit>
    static void eachCell(const Vec3& p, const Visit& visit) {
        const Cell low = cellOf(p - Vec3(kWeld)), high = cellOf(p + Vec3(kWeld));
        for (std::int64_t x = low[0]; x <= high[0]; ++x)
            for (std::int64_t y = low[1]; y <= high[1]; ++y)
                for (std::int64_t z = low[2]; z <= high[2]; ++z) visit({x, y, z});
    }
    Corners all_;
    std::unordered_map<Cell, std::vector<std::uint32_t>, Hash> cells_;
};

struct Polygon {
    std::vector<std::uint32_t> loop;  ///< into the points
    Vec3 normal;
    int tag;
};

/// Points that lie on an edge become corners of it, so that no crack shows where faces of several sizes meet.
class EdgeFill {
  public:
    explicit EdgeFill(const Corners& points) : points_(points) {
        base::Aabb box;
        for (const Vec3& p : points) box.add(p);
        const Vec3 size = box.size();
        axis_ = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
        for (std::uint32_t i = 0; i < points.size(); ++i) sorted_.push_back(i);
        std::sort(sorted_.begin(), sorted_.end(), [&](auto a, auto b) { return points[a][axis_] < points[b][axis_]; });
    }
    std::vector<std::uint32_t> filled(const std::vector<std::uint32_t>& loop) const {
        std::vector<std::uint32_t> all;
        for (std::size_t k = 0; k < loop.size(); ++k) {
            if (loop[k] == loop[(k + 1) % loop.size()]) continue;
            all.push_back(loop[k]);
            fill(loop[k], loop[(k + 1) % loop.size()], all);
        }
        return all;
    }

  private:
    void fill(std::uint32_t from, std::uint32_t to, std::vector<std::uint32_t>& into) const {
        const Vec3 &a = points_[from], &b = points_[to];
        const double length = glm::length(b - a);
        const Vec3 way = (b - a) / length;
        const double low = std::min(a[axis_], b[axis_]) - kWeld, high = std::max(a[axis_], b[axis_]) + kWeld;
        auto before = [&](std::uint32_t i, double value) { return points_[i][axis_] < value; };
        std::vector<std::pair<double, std::uint32_t>> on;
        for (auto i = std::lower_bound(sorted_.begin(), sorted_.end(), low, before);
             i != sorted_.end() && points_[*i][axis_] <= high; ++i) {
            const double t = glm::dot(points_[*i] - a, way);
            if (t <= kWeld || t >= length - kWeld) continue;
            if (glm::length(a + way * t - points_[*i]) <= kWeld) on.emplace_back(t, *i);
        }
        std::sort(on.begin(), on.end());
        for (const auto& [t, i] : on) into.push_back(i);
    }
    const Corners& points_;
    glm::length_t axis_ = 0;
    std::vector<std::uint32_t> sorted_;
};

/// Triangles of a convex loop that may have corners in one line. The smallest ear goes first: what is left then never
/// lies all in one line.
void eachTriangle(const Corners& points, const Polygon& polygon, const auto& visit) {
    std::vector<std::size_t> left(polygon.loop.size());
    for (std::size_t k = 0; k < left.size(); ++k) left[k] = k;
    auto area = [&](std::size_t k) {
        const std::size_t n = left.size();
        const Vec3& b = points[polygon.loop[left[k]]];
        return glm::dot(polygon.normal, glm::cross(b - points[polygon.loop[left[(k + n - 1) % n]]],
                                                   points[polygon.loop[left[(k + 1) % n]]] - b));
    };
    bool inLine = false;
    for (std::size_t k = 0; k < left.size(); ++k) inLine = inLine || area(k) < kWeld * kWeld;
    if (!inLine) {
        for (std::size_t k = 2; k < left.size(); ++k) visit(0, k - 1, k);
        return;
    }
    while (left.size() >= 3) {
        std::size_t best = left.size();
        double least = 0;
        for (std::size_t k = 0; k < left.size(); ++k)
            if (const double a = area(k); a > kWeld * kWeld && (best == left.size() || a < least)) {
                best = k;
                least = a;
            }
        if (best == left.size()) return;  // what is left has no area
        const std::size_t n = left.size();
        visit(left[(best + n - 1) % n], left[best], left[(best + 1) % n]);
        left.erase(left.begin() + static_cast<std::ptrdiff_t>(best));
    }
}

/// Where the corners of polygons lie on an image.
class Laying {
  public:
    Laying(const Corners& points, const std::vector<Polygon>& polygons, std::span<const FaceLook> looks)
        : points_(points), polygons_(polygons), at_(polygons.size()) {
        for (const FaceLook& look : looks) looks_[look.tag] = &look;
        run();
        for (std::size_t i = 0; i < polygons.size(); ++i)
            if (const FaceLook* look = lookOf(i); look != nullptr && at_[i].empty()) place(i, *look);
        fit();
    }
    const FaceLook* lookOf(std::size_t polygon) const {
        const auto found = looks_.find(polygons_[polygon].tag);
        return found == looks_.end() ? nullptr : found->second;
    }
    Vec2 at(std::size_t polygon, std::size_t corner) const {
        return at_[polygon].empty() ? Vec2(0.0) : at_[polygon][corner];
    }

  private:
    static Vec2 turned(const Vec2& p, const FaceLook& look) {
        const double a = base::radians(look.turnDegrees), c = std::cos(a), s = std::sin(a);
        Vec2 q(c * p.x + s * p.y, c * p.y - s * p.x);
        q += look.shift;
        return look.metres > 0 ? q / look.metres : q;
    }
    void place(std::size_t i, const FaceLook& look) {
        for (std::uint32_t corner : polygons_[i].loop)
            at_[i].push_back(turned(onSide(points_[corner], polygons_[i].normal), look));
    }
    /// Unfolded from face to face: each neighbour is turned into the plane of the one before it.
    void run() {
        std::map<std::pair<std::uint32_t, std::uint32_t>, std::size_t> byEdge;
        auto runs = [&](std::size_t i) { return lookOf(i) != nullptr && lookOf(i)->lies == FaceLook::Lies::Runs; };
        for (std::size_t i = 0; i < polygons_.size(); ++i)
            for (std::size_t k = 0; runs(i) && k < polygons_[i].loop.size(); ++k) byEdge[edge(i, k)] = i;
        for (std::size_t first = 0; first < polygons_.size(); ++first) {
            if (!runs(first) || !at_[first].empty()) continue;
            const FaceLook& look = *lookOf(first);
            std::vector<std::vector<Vec2>> flat(polygons_.size());
            for (std::uint32_t c : polygons_[first].loop) flat[first].push_back(inPlane(points_[c], polygons_[first]));
            std::deque<std::size_t> open = {first};
            while (!open.empty()) {
                const std::size_t i = open.front();
                open.pop_front();
                for (const Vec2& p : flat[i]) at_[i].push_back(turned(p, look));
                for (std::size_t k = 0; k < polygons_[i].loop.size(); ++k) {
                    const auto [a, b] = edge(i, k);
                    const auto next = byEdge.find({b, a});
                    if (next == byEdge.end() || !flat[next->second].empty() || !at_[next->second].empty() ||
                        lookOf(next->second)->slot != look.slot)
                        continue;
                    unfold(next->second, {a, b}, {flat[i][k], flat[i][(k + 1) % flat[i].size()]}, flat);
                    open.push_back(next->second);
                }
            }
        }
    }
    std::pair<std::uint32_t, std::uint32_t> edge(std::size_t i, std::size_t k) const {
        const auto& loop = polygons_[i].loop;
        return {loop[k], loop[(k + 1) % loop.size()]};
    }
    /// Of a face by itself: what is up stays up.
    static Vec2 inPlane(const Vec3& p, const Polygon& face) {
        const Vec3 down = std::abs(face.normal.y) > 0.999 ? Vec3(0, 0, 1) : Vec3(0, -1, 0);
        const Vec3 v = glm::normalize(down - face.normal * glm::dot(down, face.normal));
        return {glm::dot(p, glm::cross(face.normal, v)), glm::dot(p, v)};
    }
    void unfold(std::size_t i, std::pair<std::uint32_t, std::uint32_t> edge, std::pair<Vec2, Vec2> where,
                std::vector<std::vector<Vec2>>& flat) const {
        const Vec3& origin = points_[edge.first];
        const Vec3 way = glm::normalize(points_[edge.second] - origin);
        const Vec3 aside = glm::cross(way, polygons_[i].normal);
        const Vec2 u = glm::normalize(where.second - where.first), v(-u.y, u.x);
        for (std::uint32_t c : polygons_[i].loop) {
            const Vec3 p = points_[c] - origin;
            flat[i].push_back(where.first + u * glm::dot(p, way) + v * glm::dot(p, aside));
        }
    }
    void fit() {
        std::map<int, std::pair<Vec2, Vec2>> boxes;
        auto fits = [&](std::size_t i) { return lookOf(i) != nullptr && lookOf(i)->lies == FaceLook::Lies::Fits; };
        for (std::size_t i = 0; i < polygons_.size(); ++i)
            for (const Vec2& p : at_[i])
                if (fits(i)) {
                    auto& [low, high] = boxes.try_emplace(polygons_[i].tag, Vec2(1e300), Vec2(-1e300)).first->second;
                    low = glm::min(low, p);
                    high = glm::max(high, p);
                }
        for (std::size_t i = 0; i < polygons_.size(); ++i)
            for (Vec2& p : at_[i])
                if (fits(i)) {
                    const auto& [low, high] = boxes.at(polygons_[i].tag);
                    p = (p - low) / glm::max(high - low, Vec2(1e-9));
                }
    }
    const Corners& points_;
    const std::vector<Polygon>& polygons_;
    std::map<int, const FaceLook*> looks_;
    std::vector<std::vector<Vec2>> at_;
};

/// How the faces of one tag round a point are lit there.
class Lighting {
  public:
    Lighting(const Corners& points, const std::vector<Polygon>& polygons) {
        for (const Polygon& polygon : polygons) {
            const std::size_t n = polygon.loop.size();
            for (std::size_t k = 0; k < n; ++k) {
                const Vec3& at = points[polygon.loop[k]];
                const Vec3 a = glm::normalize(points[polygon.loop[(k + n - 1) % n]] - at),
                           b = glm::normalize(points[polygon.loop[(k + 1) % n]] - at);
                const double angle = std::acos(std::clamp(glm::dot(a, b), -1.0, 1.0));
                round_[{polygon.loop[k], polygon.tag}].emplace_back(polygon.normal, angle);
            }
        }
    }
    Vec3 at(const Polygon& polygon, std::size_t corner) const {
        static const double kRound = std::cos(base::radians(40));
        Vec3 sum(0.0);
        for (const auto& [normal, angle] : round_.at({polygon.loop[corner], polygon.tag}))
            if (glm::dot(normal, polygon.normal) > kRound) sum += normal * angle;
        return glm::normalize(sum);
    }

  private:
    std::map<std::pair<std::uint32_t, int>, std::vector<std::pair<Vec3, double>>> round_;
};

/// Vertices that are alike in all are one.
class Vertices {
  public:
    explicit Vertices(Mesh& mesh) : mesh_(mesh) {}
    std::uint32_t add(std::uint32_t point, const Vec3& place, const Vec3& normal, const std::optional<Vec2>& image) {
        auto near = [](double v) { return static_cast<std::int64_t>(std::lround(v * 1e5)); };
        const Vec2 at = image.value_or(Vec2(0.0));
        const Key key{point, near(normal.x), near(normal.y), near(normal.z), near(at.x), near(at.y), image.has_value()};
        const auto [known, fresh] = known_.try_emplace(key, static_cast<std::uint32_t>(mesh_.positions.size()));
        if (fresh) {
            mesh_.positions.push_back({float(place.x), float(place.y), float(place.z)});
            mesh_.normals.push_back({float(normal.x), float(normal.y), float(normal.z)});
            mesh_.texture.push_back({float(at.x), float(at.y)});
        }
        return known->second;
    }

  private:
    using Key = std::array<std::int64_t, 7>;
    Mesh& mesh_;
    std::map<Key, std::uint32_t> known_;
};

Material plaster() {
    Material made;
    made.name = "plaster";
    made.baseColour = {0.56F, 0.54F, 0.49F, 1.0F};
    return made;
}

Submesh::Laid laidOf(const FaceLook* look) {
    if (look == nullptr) return Submesh::Laid::Not;
    return look->metres > 0 || look->lies == FaceLook::Lies::Fits ? Submesh::Laid::Tiles : Submesh::Laid::Metres;
}

}  // namespace

namespace {

std::vector<Polygon> filled(const std::vector<FacePolygon>& faces, Points& points) {
    std::vector<Polygon> polygons;
    for (const FacePolygon& face : faces) {
        Polygon made{{}, face.normal, face.tag};
        for (const Vec3& corner : face.corners) made.loop.push_back(points.at(corner));
        polygons.push_back(std::move(made));
    }
    const EdgeFill edges(points.all());
    for (Polygon& polygon : polygons) polygon.loop = edges.filled(polygon.loop);
    std::erase_if(polygons, [](const Polygon& p) { return p.loop.size() < 3; });
    return polygons;
}

}  // namespace

std::vector<FacePolygon> jointed(std::vector<FacePolygon> faces) {
    Points points;
    std::vector<FacePolygon> all;
    for (const Polygon& polygon : filled(faces, points)) {
        FacePolygon& made = all.emplace_back();
        made.normal = polygon.normal;
        made.tag = polygon.tag;
        for (std::uint32_t i : polygon.loop) made.corners.push_back(points.all()[i]);
    }
    return all;
}

Mesh meshOf(std::vector<FacePolygon> faces, std::span<const FaceLook> looks) {
    Points points;
    const std::vector<Polygon> polygons = filled(faces, points);
    const Laying laying(points.all(), polygons, looks);
    const Lighting lighting(points.all(), polygons);

    Mesh mesh;
    Vertices vertices(mesh);
    std::map<std::pair<std::string, Submesh::Laid>, std::vector<std::uint32_t>> bySlot;
    for (std::size_t i = 0; i < polygons.size(); ++i) {
        const Polygon& polygon = polygons[i];
        const FaceLook* look = laying.lookOf(i);
        auto& indices = bySlot[{look != nullptr ? look->slot : "", laidOf(look)}];
        auto vertex = [&](std::size_t k) {
            std::optional<Vec2> image;
            if (look != nullptr) image = laying.at(i, k);
            return vertices.add(polygon.loop[k], points.all()[polygon.loop[k]], lighting.at(polygon, k), image);
        };
        eachTriangle(points.all(), polygon, [&](std::size_t a, std::size_t b, std::size_t c) {
            for (std::size_t k : {a, b, c}) indices.push_back(vertex(k));
        });
    }
    std::map<std::string, std::uint32_t> materials;
    for (const auto& [key, indices] : bySlot) {
        const auto [known, fresh] = materials.try_emplace(key.first, static_cast<std::uint32_t>(mesh.materials.size()));
        if (fresh) {
            mesh.materials.push_back(plaster());
            if (!key.first.empty()) mesh.materials.back().name = key.first;
        }
        Submesh part{static_cast<std::uint32_t>(mesh.indices.size()), static_cast<std::uint32_t>(indices.size()),
                     known->second};
        part.laid = key.second;
        mesh.submeshes.push_back(part);
        mesh.indices.insert(mesh.indices.end(), indices.begin(), indices.end());
    }
    if (looks.empty()) mesh.texture.clear();
    mesh.bounds = boundsOf(mesh);
    return mesh;
}

Mesh meshOf(std::span<const Convex> pieces, std::span<const FaceLook> looks) {
    return meshOf(outsideOf(pieces), looks);
}

}  // namespace shape
