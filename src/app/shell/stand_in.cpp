#include "app/shell/stand_in.h"

#include <algorithm>

#include "app/names.h"
#include "app/shell/rehearsal.h"
#include "app/shell/sight.h"
#include "edit/session.h"
#include "model/facets/shot.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "query/scene_index.h"
#include "query/walk.h"

namespace app {

model::Slot StandIn::camera() const {
    if (!editor_.isOpen() || editor_.rehearsal().isOn() || editor_.selection().size() != 1) return kNoSlot;
    const Slot slot = editor_.scene().find(editor_.selection().front());
    return slot != kNoSlot && editor_.scene().detail(slot) && editor_.scene().facet<model::Shot>(slot) ? slot : kNoSlot;
}

std::optional<base::Vec3> StandIn::foot() const {
    const Slot slot = camera();
    if (slot == kNoSlot) return std::nullopt;
    const model::Scene& scene = editor_.scene();
    if (const auto put = put_.find(scene.id(slot)); put != put_.end()) return put->second;
    base::Vec3 at = scene.world(slot).point({0, 0, -6});
    double drop = 20;
    for (const model::ShotZone& one : scene.facet<model::Shot>(slot)->zones)
        if (const Slot zone = scene.find(one.zone); zone != kNoSlot && scene.facet<model::Zone>(zone)) {
            const base::Aabb box = base::mapped(model::boxOf(*scene.facet<model::Zone>(zone)), scene.world(zone));
            at = {box.centre().x, box.high.y, box.centre().z};
            drop = box.size().y + 2;
            break;
        }
    const query::SceneIndex* index = editor_.sight().index();
    const auto floor = index != nullptr
                           ? query::floorBelow(scene, index->solid(), at, editor_.session().project().walker, drop,
                                               [](Slot) { return true; })
                           : std::nullopt;
    return floor.value_or(at);
}

void StandIn::put(const base::Vec3& foot) {
    const Slot slot = camera();
    if (slot == kNoSlot) return;
    put_[editor_.scene().id(slot)] = foot;
    Q_EMIT moved();
}

bool StandIn::isWatched() const {
    const Slot slot = camera();
    const auto at = foot();
    if (slot == kNoSlot || !at) return false;
    const model::Scene& scene = editor_.scene();
    const auto& zones = scene.facet<model::Shot>(slot)->zones;
    const base::Vec3 middle = *at + base::Vec3(0, editor_.session().project().walker.height / 2, 0);
    return zones.empty() || std::ranges::any_of(zones, [&](const model::ShotZone& one) {
               const Slot zone = scene.find(one.zone);
               return zone != kNoSlot && scene.facet<model::Zone>(zone) && ops::isInZone(scene, zone, middle);
           });
}

std::optional<rehearse::View> StandIn::view() const {
    return viewOf(camera());
}

std::vector<base::Vec3> StandIn::otherEyes() const {
    constexpr std::size_t kMost = 12;
    std::vector<base::Vec3> eyes;
    const model::Scene& scene = editor_.scene();
    const Slot mine = camera();
    for (Slot s = 0; s < scene.slotEnd() && eyes.size() < kMost; ++s)
        if (s != mine && scene.alive(s) && scene.detail(s) && scene.facet<model::Shot>(s))
            if (const auto view = viewOf(s)) eyes.push_back(view->eye);
    return eyes;
}

std::optional<rehearse::View> StandIn::viewOf(Slot slot) const {
    const auto at = foot();
    if (slot == kNoSlot || !at) return std::nullopt;
    const model::Scene& scene = editor_.scene();
    const rehearse::ShotAt shot = rehearse::shotAt(scene, slot);
    const bool player = shot.shot.seen == model::Shot::Seen::Player;
    const query::SceneIndex* index = editor_.sight().index();
    const auto blocked = [&](const base::Vec3& from, const base::Vec3& to) -> std::optional<double> {
        const double far = glm::length(to - from);
        if (index == nullptr || far < 1e-9) return std::nullopt;
        const auto hit = index->solid().pick(scene, {from, (to - from) / far}, [&](Slot s) { return s != slot; });
        return hit && hit->distance < far ? std::optional(hit->distance) : std::nullopt;
    };
    return rehearse::viewOf(shot, shot.pose, {player ? *at : shot.seenFoot, 0}, blocked);
}

}  // namespace app
