#include "ops/row.h"

#include <cmath>

#include "ops/copies.h"
#include "ops/names.h"

namespace ops {
namespace {

constexpr double kSame = 1e-6;

base::ObjectId prefabOf(const model::Scene& scene, Slot s) {
    return scene.isInstance(s) ? scene.detail(s)->prefab->of : base::ObjectId{};
}

}  // namespace

bool areAlike(const model::Scene& scene, Slot a, Slot b) {
    if (a == kNoSlot || b == kNoSlot || a == b) return false;
    const Vec3 one = base::toTransform(scene.world(a)).scale, other = base::toTransform(scene.world(b)).scale;
    return scene.item(a) == scene.item(b) && scene.kind(a) == scene.kind(b) &&
           prefabOf(scene, a) == prefabOf(scene, b) && glm::length(one - other) < kSame * (1 + glm::length(one)) &&
           scene.subtree(a).size() == scene.subtree(b).size();
}

std::optional<base::Affine> motionOfRow(const model::Scene& scene, std::span<const base::ObjectId> first,
                                        std::span<const base::ObjectId> second) {
    if (first.empty() || first.size() != second.size()) return std::nullopt;
    std::optional<base::Affine> motion;
    for (std::size_t i = 0; i < first.size(); ++i) {
        const Slot a = scene.find(first[i]), b = scene.find(second[i]);
        if (!areAlike(scene, a, b)) return std::nullopt;
        const base::Affine own = motionBetween(scene.world(a), scene.world(b));
        if (!motion) motion = own;
        const Vec3 there = motion->point(scene.world(a).translation);
        if (glm::length(there - scene.world(b).translation) > 1e-4) return std::nullopt;
    }
    const Slot a = scene.find(first.front()), b = scene.find(second.front());
    constexpr double kNear = 1e-3;  // metres
    if (glm::length(scene.world(a).translation - scene.world(b).translation) < kNear) return std::nullopt;
    return motion;
}

std::vector<Placement> sideBySide(const model::Item& item, const Placement& first, const Vec3& way, std::size_t most) {
    std::vector<Placement> all = {first};
    const Vec3 level(way.x, 0, way.z), size = item.bounds.size() * first.size;
    const Vec3 x = first.rotation * Vec3(1, 0, 0), z = first.rotation * Vec3(0, 0, 1);
    const bool alongX = std::abs(glm::dot(level, x)) >= std::abs(glm::dot(level, z));
    const double length = alongX ? size.x : size.z, far = glm::dot(level, alongX ? x : z);
    if (!(length > 1e-4)) return all;
    const Vec3 step = (alongX ? x : z) * (far < 0 ? -length : length);
    const auto count = static_cast<std::size_t>(std::min(std::abs(far) / length + 0.5, static_cast<double>(most - 1)));
    for (std::size_t i = 1; i <= count; ++i) {
        all.push_back(first);
        all.back().position += step * static_cast<double>(i);
    }
    return all;
}

}  // namespace ops
