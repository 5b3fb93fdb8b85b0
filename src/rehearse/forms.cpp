#include "rehearse/forms.h"

#include <BulletCollision/CollisionShapes/btConvexPointCloudShape.h>
#include <BulletCollision/CollisionShapes/btScaledBvhTriangleMeshShape.h>
#include <btBulletDynamicsCommon.h>

#include <algorithm>
#include <numeric>
#include <set>
#include <unordered_map>

#include "model/facets/solid.h"
#include "query/mesh_index.h"
#include "query/solids.h"
#include "rehearse/bullet.h"
#include "rehearse/names.h"
#include "shape/hull.h"

namespace rehearse {
namespace {

constexpr double kMargin = 0.001;         // metres that hulls and triangles are thicker
constexpr std::size_t kMostFaces = 512;   // a mesh of more is not asked whether it is convex
constexpr std::size_t kMostShells = 24;   // a falling thing of more is one hull
constexpr std::size_t kFewCorners = 24;   // of a hull whose faces and edges are met exactly; more would take long
constexpr std::size_t kMostCorners = 64;  // of a hull

/// Corners that are the same place are one; which of them each position is.
struct Welded {
    std::vector<Vec3> points;
    std::vector<std::uint32_t> of;
};
Welded weld(const shape::Mesh& mesh) {
    Welded all;
    std::map<shape::Float3, std::uint32_t> known;
    for (const shape::Float3& p : mesh.positions) {
        const auto [place, isNew] = known.try_emplace(p, static_cast<std::uint32_t>(all.points.size()));
        if (isNew) all.points.emplace_back(p[0], p[1], p[2]);
        all.of.push_back(place->second);
    }
    return all;
}

/// Has each edge of each triangle another that goes the other way?
bool isClosed(const shape::Mesh& mesh, const Welded& welded) {
    std::set<std::pair<std::uint32_t, std::uint32_t>> edges;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t a = welded.of[mesh.indices[t * 3 + k]],
                                b = welded.of[mesh.indices[t * 3 + (k + 1) % 3]];
            if (a != b && !edges.insert({a, b}).second) return false;
        }
    return std::all_of(edges.begin(), edges.end(), [&](const auto& e) { return edges.contains({e.second, e.first}); });
}

struct Filled {
    double volume = 0;
    Vec3 centre{0.0};
};
/// Volume and middle of the hull of points.
Filled filled(const std::vector<Vec3>& points) {
    Filled sum;
    Vec3 mean(0.0);
    for (const Vec3& p : points) mean += p / static_cast<double>(points.size());
    for (const auto& t : shape::hullTriangles(points)) {
        const Vec3 a = points[t[0]] - mean, b = points[t[1]] - mean, c = points[t[2]] - mean;
        const double six = std::abs(glm::dot(a, glm::cross(b, c)));  // the middle is inside: all have one sign
        sum.volume += six / 6;
        sum.centre += (a + b + c) * (six / 24);
    }
    sum.centre = sum.volume > 1e-12 ? mean + sum.centre / sum.volume : mean;
    return sum;
}

bool isBox(const shape::Mesh& mesh) {
    const Vec3 size = mesh.bounds.size();
    if (!(size.x > 1e-4 && size.y > 1e-4 && size.z > 1e-4) || mesh.triangleCount() < 12) return false;
    for (const shape::Float3& p : mesh.positions)
        for (int k = 0; k < 3; ++k)
            if (std::abs(p[static_cast<std::size_t>(k)] - mesh.bounds.low[k]) > 1e-5 * size[k] &&
                std::abs(p[static_cast<std::size_t>(k)] - mesh.bounds.high[k]) > 1e-5 * size[k])
                return false;
    return std::abs(std::abs(shape::volumeOf(mesh)) - size.x * size.y * size.z) < 1e-4 * size.x * size.y * size.z;
}

/// Parts of a mesh that hang together, as points; one in all when there are too many.
std::vector<std::vector<Vec3>> shells(const shape::Mesh& mesh) {
    const Welded welded = weld(mesh);
    std::vector<std::uint32_t> root(welded.points.size());
    std::iota(root.begin(), root.end(), 0U);
    const auto top = [&](std::uint32_t i) {
        while (root[i] != i) i = root[i] = root[root[i]];
        return i;
    };
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
        for (std::size_t k = 1; k < 3; ++k)
            root[top(welded.of[mesh.indices[t * 3 + k]])] = top(welded.of[mesh.indices[t * 3]]);
    std::map<std::uint32_t, std::vector<Vec3>> parts;
    for (std::uint32_t i = 0; i < welded.points.size(); ++i) parts[top(i)].push_back(welded.points[i]);
    std::vector<std::vector<Vec3>> all;
    for (auto& [first, points] : parts) all.push_back(std::move(points));
    if (all.size() > kMostShells) return {welded.points};
    return all;
}

/// The library rounds the edges of boxes by a margin where they meet what is no box; what stands is to be sharp.
std::unique_ptr<btCollisionShape> boxShape(const Vec3& size, bool falls) {
    auto box = std::make_unique<btBoxShape>(toBt(glm::max(glm::abs(size), Vec3(2e-3)) / 2.0));
    if (!falls) box->setMargin(std::min(kMargin, box->getMargin()));
    if (falls) box->initializePolyhedralFeatures();
    return box;
}

}  // namespace

/// What a mesh is, looked at once.
struct Forms::Look {
    const query::MeshIndex* mesh;
    bool isBox = false, isConvex = false;
    std::vector<Vec3> points;  // of a convex one
    std::vector<btVector3> corners;
    std::vector<std::uint32_t> indices;
    std::unique_ptr<btTriangleIndexVertexArray> array;
    std::unique_ptr<btBvhTriangleMeshShape> bvh;
};

Forms::Forms(const Level& level) : level_(level) {}
Forms::~Forms() = default;

Forms::Look& Forms::lookAt(const query::MeshIndex& mesh) {
    std::unique_ptr<Look>& look = looks_[&mesh];
    if (look) return *look;
    look = std::make_unique<Look>();
    look->mesh = &mesh;
    const shape::Mesh& m = mesh.mesh();
    look->isBox = isBox(m);
    if (look->isBox || m.triangleCount() > kMostFaces) return *look;
    Welded welded = weld(m);
    if (welded.points.size() > 4 * kMostCorners || !isClosed(m, welded)) return *look;
    const double hull = filled(welded.points).volume;
    look->isConvex = hull > 1e-9 && std::abs(shape::volumeOf(m)) > hull * (1 - 1e-3);
    if (!look->isConvex) return *look;
    look->points = std::move(welded.points);
    for (const Vec3& point : look->points) look->corners.push_back(toBt(point));
    return *look;
}

/// Of points in the world; about their middle.
FormAt Forms::hull(std::vector<Vec3> world) {
    if (world.size() > kMostCorners) {
        std::vector<shape::Float3> points;
        Vec3 low = world.front();
        for (const Vec3& p : world) low = glm::min(low, p);
        for (const Vec3& p : world) {
            const Vec3 q = p - low;
            points.push_back({static_cast<float>(q.x), static_cast<float>(q.y), static_cast<float>(q.z)});
        }
        world.clear();
        const shape::Mesh few = shape::convexHull(points, kMostCorners);
        for (const Vec3& p : weld(few).points) world.push_back(p + low);
    }
    const Filled is = filled(world);
    if (is.volume < 1e-9) {  // flat: the box round it
        base::Aabb box;
        for (const Vec3& p : world) box.add(p);
        const Vec3 size = glm::max(box.size(), Vec3(2e-3));
        return {keep(boxShape(size, true)), {box.centre(), {1, 0, 0, 0}}, size.x * size.y * size.z};
    }
    auto made = std::make_unique<btConvexHullShape>();
    for (const Vec3& p : world) made->addPoint(toBt(p - is.centre), false);
    made->recalcLocalAabb();
    made->setMargin(kMargin);
    if (world.size() <= kFewCorners) made->initializePolyhedralFeatures();
    return {keep(std::move(made)), {is.centre, {1, 0, 0, 0}}, is.volume};
}

/// A ball, a capsule, a box or what has no hollow. Nothing: it has one.
std::optional<FormAt> Forms::convex(Slot slot, const query::MeshIndex& mesh, bool falls) {
    const base::Affine& world = level_.scene->world(slot);
    if (base::hasShear(world)) {
        const Look& look = lookAt(mesh);
        if (!look.isBox && !look.isConvex) return std::nullopt;
        std::vector<Vec3> points = look.points;
        if (look.isBox)
            for (int i = 0; i < 8; ++i) points.push_back(mesh.mesh().bounds.corner(i));
        for (Vec3& p : points) p = world.point(p);
        return hull(std::move(points));
    }
    const base::Transform t = base::toTransform(world);
    const base::Aabb& box = mesh.mesh().bounds;
    const auto round = level_.roundOf(slot);
    const bool even = glm::length(glm::abs(t.scale) - Vec3(std::abs(t.scale.x))) < 1e-6 * std::abs(t.scale.x);
    Look& look = lookAt(mesh);
    const bool isRound = round != Level::Round::No && even;
    if (!isRound && !look.isBox && !look.isConvex) return std::nullopt;
    const auto [place, isNew] = (falls ? falling_ : standing_).try_emplace(Key{&mesh, t.scale.x, t.scale.y, t.scale.z});
    FormAt& made = place->second;
    if (isNew && isRound) {
        const Vec3 size = box.size() * glm::abs(t.scale);
        int along = 0;
        for (int k = 1; k < 3; ++k)
            if (size[k] > size[along] + 1e-9) along = k;
        const double r = std::max(size[(along + 1) % 3], size[(along + 2) % 3]) / 2, rest = size[along] - 2 * r;
        made.pose.at = box.centre() * t.scale;
        if (round == Level::Round::Ball || rest < 1e-6)
            made.shape = keep(std::unique_ptr<btCollisionShape>(
                new btSphereShape(round == Level::Round::Ball ? size[along] / 2 : r)));
        else if (along == 0)
            made.shape = keep(std::unique_ptr<btCollisionShape>(new btCapsuleShapeX(r, rest)));
        else if (along == 1)
            made.shape = keep(std::unique_ptr<btCollisionShape>(new btCapsuleShape(r, rest)));
        else
            made.shape = keep(std::unique_ptr<btCollisionShape>(new btCapsuleShapeZ(r, rest)));
        made.volume = base::kPi * r * r * (4 * r / 3 + std::max(rest, 0.0));
    } else if (isNew && look.isBox) {
        const Vec3 size = box.size() * glm::abs(t.scale);
        made = {keep(boxShape(size, falls)), {box.centre() * t.scale, {1, 0, 0, 0}}, size.x * size.y * size.z};
    } else if (isNew && !falls) {  // its corners are those of the mesh: all sizes share them
        auto cloud = std::make_unique<btConvexPointCloudShape>(look.corners.data(),
                                                               static_cast<int>(look.corners.size()), toBt(t.scale));
        cloud->setMargin(kMargin);
        made.shape = keep(std::move(cloud));
    } else if (isNew) {
        std::vector<Vec3> points = look.points;
        for (Vec3& p : points) p *= t.scale;
        made = hull(std::move(points));
    }
    FormAt at = made;
    at.pose = {t.position + t.rotation * made.pose.at, t.rotation};
    return at;
}

btCollisionShape* Forms::triangles(Look& look, const Vec3& scale) {
    const shape::Mesh& mesh = look.mesh->mesh();
    if (!look.bvh) {
        for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
            const Vec3 a = shape::cornerOf(mesh, t, 0), b = shape::cornerOf(mesh, t, 1),
                       c = shape::cornerOf(mesh, t, 2);
            if (glm::length(glm::cross(b - a, c - a)) < 1e-10) continue;  // without area: it would be divided by
            for (std::size_t k = 0; k < 3; ++k) look.indices.push_back(mesh.indices[t * 3 + k]);
        }
        if (look.indices.empty()) return nullptr;
        btIndexedMesh part;
        part.m_numTriangles = static_cast<int>(look.indices.size() / 3);
        part.m_triangleIndexBase = reinterpret_cast<const unsigned char*>(look.indices.data());
        part.m_triangleIndexStride = 3 * sizeof(std::uint32_t);
        part.m_numVertices = static_cast<int>(mesh.positions.size());
        part.m_vertexBase = reinterpret_cast<const unsigned char*>(mesh.positions.data());
        part.m_vertexStride = sizeof(shape::Float3);
        part.m_vertexType = PHY_FLOAT;
        look.array = std::make_unique<btTriangleIndexVertexArray>();
        look.array->addIndexedMesh(part, PHY_INTEGER);
        look.bvh = std::make_unique<btBvhTriangleMeshShape>(look.array.get(), true);
        look.bvh->setMargin(kMargin);
    }
    const auto [place, isNew] = trianglesOf_.try_emplace(Key{look.mesh, scale.x, scale.y, scale.z});
    if (isNew) {
        auto made = std::make_unique<btScaledBvhTriangleMeshShape>(look.bvh.get(), toBt(scale));
        made->setMargin(kMargin);
        place->second = keep(std::move(made));
    }
    return place->second;
}

/// Of what leans or is mirrored: a mesh of its own, in the world's axes.
FormAt Forms::bakedTriangles(const query::MeshIndex& index, const base::Affine& world) {
    const shape::Mesh& mesh = index.mesh();
    auto made = std::make_shared<btTriangleMesh>(true, false);
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        Vec3 p[3];
        for (std::size_t k = 0; k < 3; ++k) p[k] = world.direction(shape::cornerOf(mesh, t, k));
        if (glm::length(glm::cross(p[1] - p[0], p[2] - p[0])) >= 1e-10)
            made->addTriangle(toBt(p[0]), toBt(p[1]), toBt(p[2]));
    }
    if (made->getNumTriangles() == 0) return {};
    bytes_.push_back(made);
    auto shape = std::make_unique<btBvhTriangleMeshShape>(made.get(), true);
    shape->setMargin(kMargin);
    return {keep(std::move(shape)), {world.translation, {1, 0, 0, 0}}, 0};
}

std::optional<FormAt> Forms::standing(Slot slot) {
    const query::MeshIndex* mesh = level_.shapes.bumpedOf(*level_.scene, slot);
    if (mesh == nullptr || mesh->mesh().triangleCount() == 0) return std::nullopt;
    const base::Affine& world = level_.scene->world(slot);
    if (!base::isFinite(world.translation) || std::abs(glm::determinant(world.linear)) < 1e-12) return std::nullopt;
    if (auto made = convex(slot, *mesh, false)) return made;
    FormAt at;
    const base::Transform t = base::toTransform(world);
    if (base::hasShear(world) || t.scale.x < 0) {
        at = bakedTriangles(*mesh, world);
    } else {
        at.shape = triangles(lookAt(*mesh), t.scale);
        at.pose = {t.position, t.rotation};
    }
    if (at.shape == nullptr) return std::nullopt;
    const Vec3 size = level_.scene->bounds(slot).size();
    at.volume = size.x * size.y * size.z;
    return at;
}

/// Each part of it that hangs together, closed over.
void Forms::hollow(Slot slot, const query::MeshIndex& mesh, std::vector<FormAt>& into) {
    const base::Affine& world = level_.scene->world(slot);
    std::vector<std::vector<Vec3>> parts;
    const model::Solid* solid = level_.scene->facet<model::Solid>(slot);
    if (solid != nullptr && level_.scene->facet<model::Body>(slot) == nullptr)
        for (const shape::Convex& piece : query::piecesOf(*solid)) parts.push_back(piece.corners);
    if (parts.empty()) parts = shells(mesh.mesh());
    for (std::vector<Vec3>& points : parts) {
        if (points.size() < 3) continue;
        for (Vec3& p : points) p = world.point(p);
        into.push_back(hull(std::move(points)));
    }
}

std::vector<FormAt> Forms::falling(const Thing& thing) {
    std::vector<FormAt> all;
    for (const Slot slot : thing.slots) {
        const query::MeshIndex* mesh = level_.shapes.bumpedOf(*level_.scene, slot);
        if (mesh == nullptr || mesh->mesh().triangleCount() == 0) continue;
        if (std::abs(glm::determinant(level_.scene->world(slot).linear)) < 1e-12) continue;
        if (auto made = convex(slot, *mesh, true))
            all.push_back(*made);
        else
            hollow(slot, *mesh, all);
    }
    return all;
}

std::vector<FormAt> Forms::guided(const Thing& thing) {
    std::vector<FormAt> all;
    for (const Slot slot : thing.slots)
        if (auto made = standing(slot)) all.push_back(*made);
    return all;
}

void Forms::sharpen(btCollisionShape& shape) {
    if (!shape.isPolyhedral()) return;
    auto& polyhedron = static_cast<btPolyhedralConvexShape&>(shape);
    if (polyhedron.getConvexPolyhedron() != nullptr || polyhedron.getNumVertices() > static_cast<int>(kFewCorners))
        return;
    polyhedron.initializePolyhedralFeatures();
}

btCollisionShape* Forms::joined(const std::vector<FormAt>& parts, const Pose& frame, bool many) {
    if (parts.empty()) return nullptr;
    if (parts.size() == 1 && parts.front().pose == frame) return parts.front().shape;
    auto made = std::make_unique<btCompoundShape>(many, static_cast<int>(parts.size()));
    const btTransform into = toBt(frame).inverse();
    for (const FormAt& part : parts) made->addChildShape(into * toBt(part.pose), part.shape);
    return keep(std::move(made));
}

}  // namespace rehearse
