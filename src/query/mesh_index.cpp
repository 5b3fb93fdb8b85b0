#include "query/mesh_index.h"

#include <embree3/rtcore.h>

#include <cmath>
#include <cstring>

#include "query/device.h"

namespace query {

RTCDeviceTy* device() {
    static RTCDevice shared = rtcNewDevice(nullptr);
    return shared;
}

MeshIndex::MeshIndex(std::shared_ptr<const shape::Mesh> mesh) : mesh_(std::move(mesh)) {
    scene_ = rtcNewScene(device());
    rtcSetSceneFlags(scene_, RTC_SCENE_FLAG_ROBUST);
    RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
    void* vertices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                             sizeof(shape::Float3), mesh_->positions.size());
    std::memcpy(vertices, mesh_->positions.data(), mesh_->positions.size() * sizeof(shape::Float3));
    void* indices =
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, mesh_->triangleCount());
    std::memcpy(indices, mesh_->indices.data(), mesh_->triangleCount() * 12);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene_, geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(scene_);
}

MeshIndex::~MeshIndex() {
    rtcReleaseScene(scene_);
}

const shape::Topology& MeshIndex::topology() const {
    std::call_once(topologyOnce_, [this] { topology_ = std::make_unique<const shape::Topology>(*mesh_); });
    return *topology_;
}

std::optional<MeshIndex::Hit> MeshIndex::intersect(const base::Ray& ray, double farthest) const {
    RTCRayHit query{};
    query.ray.org_x = static_cast<float>(ray.origin.x);
    query.ray.org_y = static_cast<float>(ray.origin.y);
    query.ray.org_z = static_cast<float>(ray.origin.z);
    query.ray.dir_x = static_cast<float>(ray.direction.x);
    query.ray.dir_y = static_cast<float>(ray.direction.y);
    query.ray.dir_z = static_cast<float>(ray.direction.z);
    query.ray.tfar = static_cast<float>(farthest);
    query.ray.mask = 0xFFFFFFFFu;
    query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(scene_, &context, &query);
    if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
    return Hit{query.ray.tfar, {query.hit.Ng_x, query.hit.Ng_y, query.hit.Ng_z}, query.hit.primID};
}

namespace {

struct BoxQuery {
    const shape::Mesh& mesh;
    const base::Aabb& box;
    const std::function<void(std::uint32_t)>& visit;
};

bool visitTriangle(RTCPointQueryFunctionArguments* args) {
    const auto& query = *static_cast<const BoxQuery*>(args->userPtr);
    base::Aabb own;
    for (std::size_t k = 0; k < 3; ++k) own.add(shape::cornerOf(query.mesh, args->primID, k));
    if (own.overlaps(query.box)) query.visit(args->primID);
    return false;  // the radius stays as it is
}

}  // namespace

void MeshIndex::overlapping(const base::Aabb& box, const std::function<void(std::uint32_t)>& visit) const {
    BoxQuery body{*mesh_, box, visit};
    const base::Vec3 centre = box.centre();
    RTCPointQuery query{};
    query.x = static_cast<float>(centre.x);
    query.y = static_cast<float>(centre.y);
    query.z = static_cast<float>(centre.z);
    query.radius = static_cast<float>(glm::length(box.size()) / 2 * 1.0001 + 1e-4);
    RTCPointQueryContext context;
    rtcInitPointQueryContext(&context);
    rtcPointQuery(scene_, &query, &context, visitTriangle, &body);
}

}  // namespace query
