#include "query/scene_index.h"

#include <embree3/rtcore.h>

#include <algorithm>
#include <cmath>

#include "query/device.h"
#include "query/names.h"

namespace query {
namespace {

/// What a query carries through Embree to our callback and back.
struct PickContext {
    RTCIntersectContext embree;
    const model::Scene* scene;
    const Shapes* shapes;
    bool bumped;
    const SlotFilter* filter;
    const std::vector<bool>* skip;  // slots that the second scene holds; null inside it
    base::Ray ray;
    SceneHit best;
};

/// A box in single precision, rounded outwards.
struct Box {
    float low[3], high[3];
    bool overlaps(const Box& other) const {
        return low[0] <= other.high[0] && high[0] >= other.low[0] && low[1] <= other.high[1] &&
               high[1] >= other.low[1] && low[2] <= other.high[2] && high[2] >= other.low[2];
    }
};
Box boxOf(const base::Aabb& box) {
    Box out{};
    for (int k = 0; k < 3; ++k) {
        out.low[k] = std::nextafterf(static_cast<float>(box.low[k]), -INFINITY);
        out.high[k] = std::nextafterf(static_cast<float>(box.high[k]), INFINITY);
    }
    return out;
}

/// One user geometry: the objects of one cell.
struct Cell {
    std::vector<Slot> slots;
    std::vector<Box> boxes;  // of them, when it was built
    Box whole{};
};

void boundsOfObject(const RTCBoundsFunctionArguments* args) {
    const Box& box = static_cast<const Cell*>(args->geometryUserPtr)->boxes[args->primID];
    RTCBounds& out = *args->bounds_o;
    out.lower_x = box.low[0];
    out.lower_y = box.low[1];
    out.lower_z = box.low[2];
    out.upper_x = box.high[0];
    out.upper_y = box.high[1];
    out.upper_z = box.high[2];
}

// The local ray's direction keeps its length, so distances along it are the world ray's.
void intersectObject(const RTCIntersectFunctionNArguments* args) {
    if (args->N != 1 || args->valid[0] == 0) return;
    const auto* cell = static_cast<const Cell*>(args->geometryUserPtr);
    auto* pick = reinterpret_cast<PickContext*>(args->context);
    const Slot slot = cell->slots[args->primID];
    if (pick->skip != nullptr && slot < pick->skip->size() && (*pick->skip)[slot]) return;
    if (!pick->scene->alive(slot)) return;
    if (*pick->filter && !(*pick->filter)(slot)) return;
    const MeshIndex* mesh =
        pick->bumped ? pick->shapes->bumpedOf(*pick->scene, slot) : pick->shapes->seen(pick->scene->item(slot));
    if (mesh == nullptr) return;
    const auto toLocal = base::inverse(pick->scene->world(slot));
    if (!toLocal) return;
    auto* query = reinterpret_cast<RTCRayHit*>(args->rayhit);
    const base::Ray local{toLocal->point(pick->ray.origin), toLocal->direction(pick->ray.direction)};
    const auto hit = mesh->intersect(local, query->ray.tfar);
    if (!hit || hit->distance > query->ray.tfar) return;
    query->ray.tfar = static_cast<float>(hit->distance);
    query->hit.geomID = args->geomID;
    query->hit.primID = args->primID;
    pick->best.slot = slot;
    pick->best.distance = hit->distance;
    pick->best.triangle = hit->triangle;
    pick->best.normal = glm::transpose(toLocal->linear) * hit->normal;
}

/// What is bumped into of an object, in the world.
base::Aabb bumpedBounds(const Shapes& shapes, const model::Scene& scene, Slot slot) {
    const MeshIndex* mesh = shapes.bumpedOf(scene, slot);
    return mesh != nullptr ? base::mapped(mesh->mesh().bounds, scene.world(slot)) : base::Aabb{};
}
/// All that there may be of an object, seen or bumped into.
base::Aabb wholeBounds(const Shapes& shapes, const model::Scene& scene, Slot slot) {
    base::Aabb box = scene.bounds(slot);
    if (shapes.bumped) box.add(bumpedBounds(shapes, scene, slot));
    return box;
}

void attach(RTCScene scene, Cell& cell, const model::Scene& from, const Shapes& shapes) {
    base::Aabb whole;
    cell.boxes.clear();
    for (Slot s : cell.slots) {
        const base::Aabb box = wholeBounds(shapes, from, s);
        cell.boxes.push_back(boxOf(box));
        whole.add(box);
    }
    cell.whole = boxOf(whole);
    RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_USER);
    rtcSetGeometryUserPrimitiveCount(geometry, static_cast<unsigned>(cell.slots.size()));
    rtcSetGeometryUserData(geometry, &cell);
    rtcSetGeometryBoundsFunction(geometry, boundsOfObject, nullptr);
    rtcSetGeometryIntersectFunction(geometry, intersectObject);
    rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_LOW);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcReleaseGeometry(geometry);
}

}  // namespace

struct SceneIndex::Body {
    Shapes shapes;
    std::vector<std::unique_ptr<Cell>> cells;
    RTCScene main = nullptr;
    std::vector<bool> touched;
    std::vector<Slot> touchedSlots;
    mutable Cell second;
    mutable RTCScene secondScene = nullptr;
    mutable bool secondStale = false;

    ~Body() {
        if (main != nullptr) rtcReleaseScene(main);
        if (secondScene != nullptr) rtcReleaseScene(secondScene);
    }

    void rebuildSecond(const model::Scene& scene) const {
        secondStale = false;
        if (secondScene != nullptr) rtcReleaseScene(secondScene);
        secondScene = rtcNewScene(device());
        second.slots.clear();
        for (Slot s : touchedSlots)
            if (scene.alive(s) && !wholeBounds(shapes, scene, s).empty()) second.slots.push_back(s);
        if (!second.slots.empty()) attach(secondScene, second, scene, shapes);
        rtcCommitScene(secondScene);
    }

    void run(RTCScene scene, PickContext& context) const {
        RTCRayHit query{};
        query.ray.org_x = static_cast<float>(context.ray.origin.x);
        query.ray.org_y = static_cast<float>(context.ray.origin.y);
        query.ray.org_z = static_cast<float>(context.ray.origin.z);
        query.ray.dir_x = static_cast<float>(context.ray.direction.x);
        query.ray.dir_y = static_cast<float>(context.ray.direction.y);
        query.ray.dir_z = static_cast<float>(context.ray.direction.z);
        query.ray.tfar = context.best.slot != model::kNoSlot ? static_cast<float>(context.best.distance) : INFINITY;
        query.ray.mask = 0xFFFFFFFFu;
        query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
        rtcIntersect1(scene, &context.embree, &query);
    }
};

SceneIndex::SceneIndex(const model::Scene& scene, Shapes shapes) : body_(std::make_shared<Body>()) {
    Body& body = *body_;
    body.shapes = std::move(shapes);
    if (body.shapes.bumped) solid_ = std::unique_ptr<SceneIndex>(new SceneIndex(body_, *this));
    base::Aabb whole;
    std::vector<std::pair<Slot, base::Aabb>> all;
    all.reserve(scene.objectCount());
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        const base::Aabb box = wholeBounds(body.shapes, scene, s);
        if (box.empty()) continue;
        whole.add(box.centre());
        all.emplace_back(s, box);
    }
    const std::size_t count = all.size();
    const int side = std::clamp(static_cast<int>(std::sqrt(static_cast<double>(count) / 64.0)), 1, 32);
    std::vector<std::unique_ptr<Cell>> grid(static_cast<std::size_t>(side) * static_cast<std::size_t>(side));
    const base::Vec3 size = glm::max(whole.size(), base::Vec3(1e-6));
    auto cellOf = [&](const base::Vec3& p) {
        const int x = std::clamp(static_cast<int>((p.x - whole.low.x) / size.x * side), 0, side - 1);
        const int z = std::clamp(static_cast<int>((p.z - whole.low.z) / size.z * side), 0, side - 1);
        return static_cast<std::size_t>(z) * static_cast<std::size_t>(side) + static_cast<std::size_t>(x);
    };
    // What reaches over several cells has one of its own, so that the others stay small.
    const base::Vec3 most = size / static_cast<double>(side) * 2.0;
    grid.emplace_back();
    for (const auto& [s, box] : all) {
        const base::Vec3 own = box.size();
        auto& cell = side > 1 && (own.x > most.x || own.z > most.z) ? grid.back() : grid[cellOf(box.centre())];
        if (!cell) cell = std::make_unique<Cell>();
        cell->slots.push_back(s);
    }
    body.main = rtcNewScene(device());
    rtcSetSceneFlags(body.main, RTC_SCENE_FLAG_DYNAMIC);
    rtcSetSceneBuildQuality(body.main, RTC_BUILD_QUALITY_LOW);
    for (auto& cell : grid) {
        if (!cell) continue;
        attach(body.main, *cell, scene, body.shapes);
        body.cells.push_back(std::move(cell));
    }
    rtcCommitScene(body.main);
}

SceneIndex::SceneIndex(std::shared_ptr<Body> body, const SceneIndex& seen) : body_(std::move(body)), seen_(&seen) {}

SceneIndex::~SceneIndex() = default;

void SceneIndex::use(Shapes shapes) {
    body_->shapes = std::move(shapes);
}

void SceneIndex::touch(std::span<const Slot> slots) {
    Body& body = *body_;
    for (Slot s : slots) {
        if (s >= body.touched.size()) body.touched.resize(std::size_t{s} * 2 + 64, false);
        if (!body.touched[s]) {
            body.touched[s] = true;
            body.touchedSlots.push_back(s);
        }
    }
    body.secondStale = body.secondStale || !slots.empty();
}

std::size_t SceneIndex::touchedCount() const {
    return body_->touchedSlots.size();
}

const MeshIndex* SceneIndex::meshOf(const model::Scene& scene, Slot slot) const {
    return seen_ != nullptr ? body_->shapes.bumpedOf(scene, slot) : body_->shapes.seen(scene.item(slot));
}

base::Aabb SceneIndex::boundsOf(const model::Scene& scene, Slot slot) const {
    return seen_ != nullptr ? bumpedBounds(body_->shapes, scene, slot) : scene.bounds(slot);
}

void SceneIndex::overlapping(const model::Scene& scene, const base::Aabb& box,
                             const std::function<void(Slot)>& visit) const {
    const Body& body = *body_;
    const Box wanted = boxOf(box);
    for (const auto& cell : body.cells) {
        if (!cell->whole.overlaps(wanted)) continue;
        for (std::size_t i = 0; i < cell->slots.size(); ++i) {
            if (!cell->boxes[i].overlaps(wanted)) continue;
            const Slot slot = cell->slots[i];
            const bool elsewhere = slot < body.touched.size() && body.touched[slot];
            if (!elsewhere && scene.alive(slot) && boundsOf(scene, slot).overlaps(box)) visit(slot);
        }
    }
    for (Slot s : body.touchedSlots)
        if (scene.alive(s) && boundsOf(scene, s).overlaps(box)) visit(s);
}

std::optional<SceneHit> SceneIndex::pick(const model::Scene& scene, const base::Ray& ray,
                                         const SlotFilter& filter) const {
    const Body& body = *body_;
    if (body.secondStale) body.rebuildSecond(scene);
    PickContext context{};
    rtcInitIntersectContext(&context.embree);
    context.scene = &scene;
    context.shapes = &body.shapes;
    context.bumped = seen_ != nullptr;
    context.filter = &filter;
    context.skip = &body.touched;
    context.ray = {ray.origin, glm::normalize(ray.direction)};
    body.run(body.main, context);
    context.skip = nullptr;
    if (body.secondScene != nullptr && !body.second.slots.empty()) body.run(body.secondScene, context);
    if (context.best.slot == model::kNoSlot) return std::nullopt;
    SceneHit hit = context.best;
    hit.point = context.ray.at(hit.distance);
    const double length = glm::length(hit.normal);
    hit.normal = length > 0 ? hit.normal / length : -context.ray.direction;
    if (glm::dot(hit.normal, context.ray.direction) > 0) hit.normal = -hit.normal;
    return hit;
}

std::vector<SceneHit> SceneIndex::pickAll(const model::Scene& scene, const base::Ray& ray, std::size_t most,
                                          const SlotFilter& filter) const {
    std::vector<SceneHit> hits;
    auto others = [&](Slot s) {
        if (filter && !filter(s)) return false;
        return std::none_of(hits.begin(), hits.end(), [s](const SceneHit& h) { return h.slot == s; });
    };
    while (hits.size() < most) {
        auto hit = pick(scene, ray, others);
        if (!hit) break;
        hits.push_back(*hit);
    }
    return hits;
}

}  // namespace query
