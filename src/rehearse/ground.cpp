#include "rehearse/ground.h"

#include <DetourNavMesh.h>
#include <DetourNavMeshBuilder.h>
#include <DetourNavMeshQuery.h>
#include <Recast.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <thread>
#include <unordered_map>

#include "query/mesh_index.h"
#include "rehearse/names.h"
#include "rehearse/world.h"

namespace rehearse {

/// What their libraries made they free.
template <class T, void (*Free)(T*)>
struct Freed {
    void operator()(T* made) const { Free(made); }
};
namespace {

constexpr float kCell = 0.15F, kHigh = 0.1F;  // metres
constexpr float kDetail = 2.4F;               // metres between heights that are taken of it
constexpr double kTile = 45;                  // metres
constexpr int kMostAcross = 31;               // tiles: their numbers and those of polygons share 22 bits
constexpr int kMostPolygons = 4095;           // in a tile
constexpr double kDrop = 6;                   // metres that one lets oneself fall

using Triangle = std::array<std::array<float, 3>, 3>;

std::array<float, 3> toFloat(const Vec3& v) {
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}
Vec3 fromFloat(const float* v) {
    return {v[0], v[1], v[2]};
}

using HeightField = std::unique_ptr<rcHeightfield, Freed<rcHeightfield, rcFreeHeightField>>;
using Compact = std::unique_ptr<rcCompactHeightfield, Freed<rcCompactHeightfield, rcFreeCompactHeightfield>>;
using Contours = std::unique_ptr<rcContourSet, Freed<rcContourSet, rcFreeContourSet>>;
using PolyMesh = std::unique_ptr<rcPolyMesh, Freed<rcPolyMesh, rcFreePolyMesh>>;
using DetailMesh = std::unique_ptr<rcPolyMeshDetail, Freed<rcPolyMeshDetail, rcFreePolyMeshDetail>>;

/// All that stands, in the world, by tile.
class Gathered {
  public:
    explicit Gathered(const Level& level) {
        for (const Slot slot : level.fixed) add(level, slot);
        for (const Thing& thing : level.things)
            if (thing.isGuided())
                for (const Slot slot : thing.slots) add(level, slot);
    }
    std::vector<Triangle> triangles;
    base::Aabb bounds;

  private:
    void add(const Level& level, Slot slot) {
        const query::MeshIndex* mesh = level.shapes.bumpedOf(*level.scene, slot);
        if (mesh == nullptr) return;
        const base::Affine& world = level.scene->world(slot);
        const bool mirrored = glm::determinant(world.linear) < 0;
        for (std::size_t t = 0; t < mesh->mesh().triangleCount(); ++t) {
            Vec3 p[3];
            bool usable = true;
            for (std::size_t k = 0; k < 3; ++k) {
                p[k] = world.point(shape::cornerOf(mesh->mesh(), t, mirrored ? 2 - k : k));
                usable = usable && base::isFinite(p[k]) && glm::length(p[k]) < 1e6;
            }
            if (!usable || glm::length(glm::cross(p[1] - p[0], p[2] - p[0])) < 1e-8) continue;
            for (const Vec3& q : p) bounds.add(q);
            triangles.push_back({toFloat(p[0]), toFloat(p[1]), toFloat(p[2])});
        }
    }
};

/// A border of ground where nothing follows: from there one could jump.
struct Border {
    Vec3 at;
    std::size_t polygon;
};

}  // namespace

struct Ground::Own {
    model::Walker walker;
    /// Water that one swims in: its outline, and from where up to where.
    struct Deep {
        std::vector<float> outline;
        float low, high;
    };
    std::vector<Deep> deep;
    std::unique_ptr<dtNavMesh, Freed<dtNavMesh, dtFreeNavMesh>> mesh;
    std::unique_ptr<dtNavMeshQuery, Freed<dtNavMeshQuery, dtFreeNavMeshQuery>> query;
    dtQueryFilter filter;

    /// The bytes of a tile; none: nothing of it can be walked on.
    std::pair<unsigned char*, int> buildTile(const std::vector<Triangle>& triangles, int x, int y, double tile,
                                             const base::Aabb& all) const;
    dtPolyRef polygonAt(const Vec3& at, double aside, double upOrDown, Vec3& on) const;
    void addWater(const Level& level, const ZoneAt& zone);
    template <class Each>
    void eachPolygon(const Each& each) const {
        for (int i = 0; i < mesh->getMaxTiles(); ++i) {
            const dtMeshTile* tile = const_cast<const dtNavMesh&>(*mesh).getTile(i);
            if (tile == nullptr || tile->header == nullptr) continue;
            for (int p = 0; p < tile->header->polyCount; ++p)
                each(mesh->getPolyRefBase(tile) | static_cast<dtPolyRef>(p), *tile, tile->polys[p]);
        }
    }
    void appendTriangles(const dtMeshTile& tile, const dtPoly& polygon, Reach reach, std::vector<Patch>& into) const;
};

Ground::Ground() : own_(std::make_unique<Own>()) {}
Ground::~Ground() = default;

std::pair<unsigned char*, int> Ground::Own::buildTile(const std::vector<Triangle>& triangles, int x, int y, double tile,
                                                      const base::Aabb& all) const {
    rcContext context(false);
    rcConfig c{};
    c.cs = kCell;
    c.ch = kHigh;
    c.walkableSlopeAngle = static_cast<float>(walker.slopeDegrees);
    c.walkableHeight = std::max(3, static_cast<int>(std::ceil(std::min(walker.height, walker.duckedHeight) / kHigh)));
    c.walkableClimb = static_cast<int>(std::floor(walker.stepHeight / kHigh + 1e-6));
    c.walkableRadius = static_cast<int>(std::ceil(walker.radius / kCell - 1e-6));
    c.maxEdgeLen = static_cast<int>(12 / kCell);
    c.maxSimplificationError = 1.1F;
    c.minRegionArea = 16;
    c.mergeRegionArea = 200;
    c.maxVertsPerPoly = 6;
    c.detailSampleDist = kDetail;
    c.detailSampleMaxError = 2 * kHigh;
    c.tileSize = static_cast<int>(std::ceil(tile / kCell));
    c.borderSize = c.walkableRadius + 3;
    c.width = c.height = c.tileSize + 2 * c.borderSize;
    const double side = c.tileSize * static_cast<double>(kCell), border = c.borderSize * static_cast<double>(kCell);
    const base::Aabb own{{all.low.x + x * side, all.low.y - 1, all.low.z + y * side},
                         {all.low.x + (x + 1) * side, all.high.y + 3, all.low.z + (y + 1) * side}};
    const auto low = toFloat(own.low - Vec3(border, 0, border)), high = toFloat(own.high + Vec3(border, 0, border));
    std::copy(low.begin(), low.end(), c.bmin);
    std::copy(high.begin(), high.end(), c.bmax);

    const HeightField solid(rcAllocHeightfield());
    if (!rcCreateHeightfield(&context, *solid, c.width, c.height, c.bmin, c.bmax, c.cs, c.ch)) return {};
    for (const Triangle& t : triangles) {
        const int corners[3] = {0, 1, 2};
        unsigned char area = RC_NULL_AREA;
        rcMarkWalkableTriangles(&context, c.walkableSlopeAngle, t[0].data(), 3, corners, 1, &area);
        rcRasterizeTriangle(&context, t[0].data(), t[1].data(), t[2].data(), area, *solid, c.walkableClimb);
    }
    rcFilterLowHangingWalkableObstacles(&context, c.walkableClimb, *solid);
    rcFilterWalkableLowHeightSpans(&context, c.walkableHeight, *solid);
    const Compact open(rcAllocCompactHeightfield());
    if (!rcBuildCompactHeightfield(&context, c.walkableHeight, c.walkableClimb, *solid, *open)) return {};
    if (!rcErodeWalkableArea(&context, c.walkableRadius, *open)) return {};
    for (const Deep& water : deep)
        rcMarkConvexPolyArea(&context, water.outline.data(), static_cast<int>(water.outline.size() / 3), water.low,
                             water.high, RC_NULL_AREA, *open);
    if (!rcBuildDistanceField(&context, *open) ||
        !rcBuildRegions(&context, *open, c.borderSize, c.minRegionArea, c.mergeRegionArea))
        return {};
    const Contours contours(rcAllocContourSet());
    if (!rcBuildContours(&context, *open, c.maxSimplificationError, c.maxEdgeLen, *contours)) return {};
    if (contours->nconts == 0) return {};
    const PolyMesh poly(rcAllocPolyMesh());
    if (!rcBuildPolyMesh(&context, *contours, c.maxVertsPerPoly, *poly)) return {};
    const DetailMesh detail(rcAllocPolyMeshDetail());
    if (!rcBuildPolyMeshDetail(&context, *poly, *open, c.detailSampleDist, c.detailSampleMaxError, *detail)) return {};
    if (poly->npolys == 0 || poly->npolys > kMostPolygons || poly->nverts >= 0xffff) return {};
    for (int i = 0; i < poly->npolys; ++i) poly->flags[i] = 1;

    dtNavMeshCreateParams p{};
    p.verts = poly->verts;
    p.vertCount = poly->nverts;
    p.polys = poly->polys;
    p.polyAreas = poly->areas;
    p.polyFlags = poly->flags;
    p.polyCount = poly->npolys;
    p.nvp = poly->nvp;
    p.detailMeshes = detail->meshes;
    p.detailVerts = detail->verts;
    p.detailVertsCount = detail->nverts;
    p.detailTris = detail->tris;
    p.detailTriCount = detail->ntris;
    p.walkableHeight = static_cast<float>(walker.height);
    p.walkableRadius = static_cast<float>(walker.radius);
    p.walkableClimb = static_cast<float>(walker.stepHeight);
    p.tileX = x;
    p.tileY = y;
    std::copy(poly->bmin, poly->bmin + 3, p.bmin);
    std::copy(poly->bmax, poly->bmax + 3, p.bmax);
    p.cs = c.cs;
    p.ch = c.ch;
    p.buildBvTree = true;
    unsigned char* data = nullptr;
    int size = 0;
    if (!dtCreateNavMeshData(&p, &data, &size)) return {};
    return {data, size};
}

/// One does not walk where one would have to swim. Of a ball or a polygon: the box round it.
void Ground::Own::addWater(const Level& level, const ZoneAt& zone) {
    const double surface = zone.bounds.high.y - 0.65 * level.walker.height;
    if (surface <= zone.bounds.low.y) return;
    Deep water{{}, static_cast<float>(zone.bounds.low.y), static_cast<float>(surface)};
    const Slot slot = level.scene->find(zone.id);
    const Vec3 half = zone.zone.size / 2.0;
    const bool isBox = zone.zone.shape == model::Zone::Shape::Box;
    for (const auto& [x, z] : {std::pair{-1.0, -1.0}, {1.0, -1.0}, {1.0, 1.0}, {-1.0, 1.0}}) {
        const Vec3 corner = isBox ? level.scene->world(slot).point({x * half.x, 0, z * half.z})
                                  : zone.bounds.centre() + zone.bounds.size() * Vec3(x / 2, 0, z / 2);
        for (const float part : toFloat(corner)) water.outline.push_back(part);
    }
    deep.push_back(std::move(water));
}

base::Result<std::unique_ptr<Ground>> Ground::make(const Level& level, base::Progress& progress) {
    std::unique_ptr<Ground> ground(new Ground());
    Own& own = *ground->own_;
    own.walker = level.walker;
    for (const ZoneAt& zone : level.zones)
        if (zone.zone.water) own.addWater(level, zone);
    const Gathered all(level);
    base::Aabb bounds = all.bounds.empty() ? base::Aabb{Vec3(0.0), Vec3(1.0)} : all.bounds;
    const Vec3 size = bounds.size();
    const double tile = std::max(kTile, std::max(size.x, size.z) / (kMostAcross - 1));
    if (tile > 400)
        return base::fail(base::ErrorCode::BadInput,
                          "The level is over 12 km across: what can be walked on is not worked out for that.");
    const double side = std::ceil(tile / static_cast<double>(kCell)) * static_cast<double>(kCell);
    const int across = static_cast<int>(size.x / side) + 1, along = static_cast<int>(size.z / side) + 1;
    own.mesh.reset(dtAllocNavMesh());
    dtNavMeshParams params{};
    const auto low = toFloat({bounds.low.x, bounds.low.y - 1, bounds.low.z});
    std::copy(low.begin(), low.end(), params.orig);
    params.tileWidth = params.tileHeight = static_cast<float>(side);
    params.maxTiles = 1024;
    params.maxPolys = kMostPolygons + 1;
    if (dtStatusFailed(own.mesh->init(&params)))
        return base::fail(base::ErrorCode::BadInput, "There is no room for a map of the ground.");
    // Each triangle where it reaches, with the border that tiles share.
    std::map<std::pair<int, int>, std::vector<Triangle>> byTile;
    const double border = level.walker.radius + 4 * static_cast<double>(kCell);
    for (const Triangle& t : all.triangles) {
        const auto [lowX, highX] = std::minmax({t[0][0], t[1][0], t[2][0]});
        const auto [lowZ, highZ] = std::minmax({t[0][2], t[1][2], t[2][2]});
        const auto cell = [&](double v, double from) { return static_cast<int>(std::floor((v - from) / side)); };
        for (int x = std::max(cell(lowX - border, bounds.low.x), 0);
             x <= std::min(cell(highX + border, bounds.low.x), across - 1); ++x)
            for (int y = std::max(cell(lowZ - border, bounds.low.z), 0);
                 y <= std::min(cell(highZ + border, bounds.low.z), along - 1); ++y)
                byTile[{x, y}].push_back(t);
    }
    // Tiles know nothing of each other while they are made.
    using Cells = std::map<std::pair<int, int>, std::vector<Triangle>>;
    std::vector<Cells::const_iterator> tiles;
    for (auto at = byTile.cbegin(); at != byTile.cend(); ++at) tiles.push_back(at);
    std::vector<std::pair<unsigned char*, int>> made(tiles.size());
    std::atomic<std::size_t> next = 0;
    const auto work = [&] {
        for (std::size_t i = next++; i < tiles.size() && !progress.cancelled(); i = next++) {
            made[i] = own.buildTile(tiles[i]->second, tiles[i]->first.first, tiles[i]->first.second, tile, bounds);
            progress.add(1.0 / static_cast<double>(tiles.size()));
        }
    };
    std::vector<std::thread> workers;
    for (unsigned int i = 1; i < std::min<std::size_t>(std::thread::hardware_concurrency(), tiles.size()); ++i)
        workers.emplace_back(work);
    work();
    for (std::thread& worker : workers) worker.join();
    for (const auto& [data, bytes] : made)
        if (data != nullptr && dtStatusFailed(own.mesh->addTile(data, bytes, DT_TILE_FREE_DATA, 0, nullptr)))
            dtFree(data);
    if (progress.cancelled()) return base::fail(base::ErrorCode::Cancelled, "The map of the ground was called off.");
    if (byTile.empty()) progress.add(1);
    own.query.reset(dtAllocNavMeshQuery());
    if (dtStatusFailed(own.query->init(own.mesh.get(), 65535)))
        return base::fail(base::ErrorCode::BadInput, "There is no room to look for ways over the ground.");
    return ground;
}

dtPolyRef Ground::Own::polygonAt(const Vec3& at, double aside, double upOrDown, Vec3& on) const {
    const auto centre = toFloat(at);
    const float reach[3] = {static_cast<float>(aside), static_cast<float>(upOrDown), static_cast<float>(aside)};
    dtPolyRef polygon = 0;
    float nearest[3] = {};
    if (!base::isFinite(at) || dtStatusFailed(query->findNearestPoly(centre.data(), reach, &filter, &polygon, nearest)))
        return 0;
    if (polygon != 0) on = fromFloat(nearest);
    return polygon;
}

std::optional<Vec3> Ground::nearest(const Vec3& at, double aside, double upOrDown) const {
    Vec3 on(0.0);
    if (own_->polygonAt(at, aside, upOrDown, on) == 0) return std::nullopt;
    return on;
}

std::optional<std::vector<Vec3>> Ground::way(const Vec3& from, const Vec3& to) const {
    Vec3 start(0.0), end(0.0);
    const dtPolyRef first = own_->polygonAt(from, 1.5, 2, start), last = own_->polygonAt(to, 1.5, 2, end);
    if (first == 0 || last == 0) return std::nullopt;
    constexpr int kMost = 4096;
    std::vector<dtPolyRef> polygons(kMost);
    int count = 0;
    const auto a = toFloat(start), b = toFloat(end);
    const dtStatus found =
        own_->query->findPath(first, last, a.data(), b.data(), &own_->filter, polygons.data(), &count, kMost);
    if (dtStatusFailed(found) || dtStatusDetail(found, DT_PARTIAL_RESULT) || dtStatusDetail(found, DT_OUT_OF_NODES) ||
        dtStatusDetail(found, DT_BUFFER_TOO_SMALL) || count == 0 ||
        polygons[static_cast<std::size_t>(count - 1)] != last)
        return std::nullopt;
    std::vector<float> corners(3 * kMost);
    int cornerCount = 0;
    if (dtStatusFailed(own_->query->findStraightPath(a.data(), b.data(), polygons.data(), count, corners.data(),
                                                     nullptr, nullptr, &cornerCount, kMost)))
        return std::nullopt;
    std::vector<Vec3> way;
    for (int i = 0; i < cornerCount; ++i) way.push_back(fromFloat(&corners[static_cast<std::size_t>(i) * 3]));
    return way;
}

void Ground::Own::appendTriangles(const dtMeshTile& tile, const dtPoly& polygon, Reach reach,
                                  std::vector<Patch>& into) const {
    const dtPolyDetail& detail = tile.detailMeshes[&polygon - tile.polys];
    for (unsigned int t = 0; t < detail.triCount; ++t) {
        const unsigned char* corners = &tile.detailTris[(detail.triBase + t) * 4];
        Patch patch;
        patch.reach = reach;
        for (std::size_t k = 0; k < 3; ++k)
            patch.corners[k] =
                corners[k] < polygon.vertCount
                    ? fromFloat(&tile.verts[polygon.verts[corners[k]] * 3])
                    : fromFloat(&tile.detailVerts[(detail.vertBase + corners[k] - polygon.vertCount) * 3]);
        into.push_back(patch);
    }
}

namespace {

/// How far one gets by a running jump that ends so much higher; negative: not that high.
double jumpFar(const model::Walker& walker, double higher) {
    if (higher > walker.jumpHeight) return -1;
    const double up = std::sqrt(2 * walker.jumpHeight / kGravity),
                 down = std::sqrt(2 * (walker.jumpHeight - higher) / kGravity);
    return walker.runsPerSecond * (up + down);
}

/// Up, over and down, with a body.
bool canJump(const World& world, const model::Walker& walker, const Vec3& from, const Vec3& to) {
    const Vec3 flat(to.x - from.x, 0, to.z - from.z);
    const double away = glm::length(flat);
    if (away < 1e-6 || away > jumpFar(walker, to.y - from.y)) return false;
    const Capsule body{walker.radius * 0.9, std::max(walker.height, 2 * walker.radius)};
    const Vec3 foot = from + Vec3(0, 0.05, 0), top = foot + Vec3(0, walker.jumpHeight, 0), over = top + flat;
    if (world.sweep(body, foot, top) || world.sweep(body, top, over)) return false;
    const auto landed = world.sweep(body, over, {over.x, to.y - 0.6, over.z});
    return landed && std::abs(over.y + (to.y - 0.6 - over.y) * landed->share - to.y) < 0.5;
}

}  // namespace

std::vector<Patch> Ground::reach(const Vec3& start, const World& world) const {
    const Own& own = *own_;
    std::vector<dtPolyRef> refs;
    std::unordered_map<dtPolyRef, std::size_t> index;
    std::vector<std::vector<std::size_t>> next;
    std::vector<Border> borders;
    own.eachPolygon([&](dtPolyRef ref, const dtMeshTile&, const dtPoly&) {
        index[ref] = refs.size();
        refs.push_back(ref);
    });
    next.resize(refs.size());
    own.eachPolygon([&](dtPolyRef ref, const dtMeshTile& tile, const dtPoly& polygon) {
        const std::size_t i = index[ref];
        for (unsigned int l = polygon.firstLink; l != DT_NULL_LINK; l = tile.links[l].next)
            if (const auto place = index.find(tile.links[l].ref); place != index.end())
                next[i].push_back(place->second);
        for (int k = 0; k < polygon.vertCount; ++k) {
            if (polygon.neis[k] != 0 && (polygon.neis[k] & DT_EXT_LINK) == 0) continue;
            const Vec3 a = fromFloat(&tile.verts[polygon.verts[k] * 3]);
            const Vec3 b = fromFloat(&tile.verts[polygon.verts[(k + 1) % polygon.vertCount] * 3]);
            const int pieces = std::max(1, static_cast<int>(glm::length(b - a) / 0.7));
            for (int p = 0; p < pieces; ++p) borders.push_back({a + (b - a) * ((p + 0.5) / pieces), i});
        }
    });
    std::vector<Reach> reached(refs.size(), Reach::Never);
    Vec3 on(0.0);
    const dtPolyRef first = own.polygonAt(start, 1.5, 2, on);
    std::vector<std::size_t> open;
    const auto flood = [&](Reach as) {
        std::vector<std::size_t> all = open;
        while (!open.empty()) {
            const std::size_t here = open.back();
            open.pop_back();
            for (const std::size_t other : next[here])
                if (reached[other] == Reach::Never) {
                    reached[other] = as;
                    open.push_back(other);
                    all.push_back(other);
                }
        }
        return all;
    };
    std::vector<std::size_t> fresh;
    if (first != 0) {
        reached[index[first]] = Reach::Walk;
        open = {index[first]};
        fresh = flood(Reach::Walk);
    }
    // Borders of what is not reached yet, by cells of 4 m.
    constexpr double kCells = 4;
    std::map<std::pair<int, int>, std::vector<const Border*>> cells;
    const auto cell = [&](double v) { return static_cast<int>(std::floor(v / kCells)); };
    std::vector<std::vector<const Border*>> ofPolygon(refs.size());
    for (const Border& border : borders) {
        cells[{cell(border.at.x), cell(border.at.z)}].push_back(&border);
        ofPolygon[border.polygon].push_back(&border);
    }
    const double farthest = jumpFar(own.walker, -kDrop);
    const int around = static_cast<int>(std::ceil(farthest / kCells));
    while (!fresh.empty()) {
        open.clear();
        for (const std::size_t here : fresh)
            for (const Border* from : ofPolygon[here])
                for (int dx = -around; dx <= around; ++dx)
                    for (int dz = -around; dz <= around; ++dz) {
                        const auto place = cells.find({cell(from->at.x) + dx, cell(from->at.z) + dz});
                        if (place == cells.end()) continue;
                        for (const Border* to : place->second) {
                            if (reached[to->polygon] != Reach::Never) continue;
                            const double higher = to->at.y - from->at.y;
                            if (higher < -kDrop || !canJump(world, own.walker, from->at, to->at)) continue;
                            reached[to->polygon] = Reach::Jump;
                            open.push_back(to->polygon);
                        }
                    }
        fresh = flood(Reach::Jump);
    }
    std::vector<Patch> map;
    own.eachPolygon([&](dtPolyRef ref, const dtMeshTile& tile, const dtPoly& polygon) {
        own.appendTriangles(tile, polygon, reached[index[ref]], map);
    });
    return map;
}

std::optional<Reach> Ground::reachOf(const std::vector<Patch>& map, const Vec3& at, double within) {
    std::optional<Reach> best;
    double nearest = within;
    for (const Patch& patch : map) {
        // The nearest point of the triangle, seen from above; up or down counts a little less.
        const Vec3 &a = patch.corners[0], &b = patch.corners[1], &c = patch.corners[2];
        base::Aabb box;
        for (const Vec3& p : patch.corners) box.add(p);
        if (at.x < box.low.x - within || at.x > box.high.x + within || at.z < box.low.z - within ||
            at.z > box.high.z + within || at.y < box.low.y - 2 || at.y > box.high.y + 2)
            continue;
        const auto onEdge = [&](const Vec3& p, const Vec3& q) {
            const Vec3 way = q - p;
            const double t = std::clamp(glm::dot(at - p, way) / std::max(glm::dot(way, way), 1e-12), 0.0, 1.0);
            return p + way * t;
        };
        double away = 1e9;
        for (const auto& [p, q] : {std::pair{a, b}, {b, c}, {c, a}}) {
            const Vec3 near = onEdge(p, q);
            away = std::min(away, std::hypot(near.x - at.x, near.z - at.z) + std::abs(near.y - at.y) * 0.5);
        }
        const auto side = [&](const Vec3& p, const Vec3& q) {
            return (q.x - p.x) * (at.z - p.z) - (q.z - p.z) * (at.x - p.x);
        };
        const double s1 = side(a, b), s2 = side(b, c), s3 = side(c, a);
        if ((s1 >= 0 && s2 >= 0 && s3 >= 0) || (s1 <= 0 && s2 <= 0 && s3 <= 0)) {
            const Vec3 n = glm::cross(b - a, c - a);
            const double y = std::abs(n.y) > 1e-9 ? a.y - (n.x * (at.x - a.x) + n.z * (at.z - a.z)) / n.y : a.y;
            away = std::abs(y - at.y) * 0.5;
        }
        if (away < nearest || (away == nearest && best && patch.reach < *best)) {
            nearest = away;
            best = patch.reach;
        }
    }
    return best;
}

std::optional<Reach> Ground::reachOf(const std::vector<Patch>& map, const model::Scene& scene, Slot slot) {
    constexpr double kNear = 2.5;  // metres
    const base::Aabb box = placeOf(scene, slot);
    std::optional<Reach> best;
    for (const Vec3& at : {box.baseCentre(), box.corner(0), box.corner(1), box.corner(4), box.corner(5)})
        if (const auto reach = reachOf(map, at, kNear); reach && (!best || *reach < *best)) best = reach;
    return best;
}

std::vector<bool> seenFrom(const std::vector<Patch>& map, const Vec3& eye,
                           const std::function<bool(const Vec3&, const Vec3&)>& blocked) {
    std::vector<bool> seen;
    seen.reserve(map.size());
    for (const Patch& patch : map) seen.push_back(!blocked(eye, patch.centre() + Vec3(0, 1, 0)));
    return seen;
}

}  // namespace rehearse
