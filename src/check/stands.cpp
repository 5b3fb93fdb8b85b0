#include "check/stands.h"

#include "check/names.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "query/walk.h"

namespace check {

base::Aabb zoneBox(const model::Scene& scene, Slot zone) {
    return base::mapped(model::boxOf(*scene.facet<model::Zone>(zone)), scene.world(zone));
}

std::vector<Vec3> standsIn(const Subject& s, Slot zone, int across) {
    const model::Walker& walker = s.facts.project.walker;
    const base::Aabb box = zoneBox(s.scene, zone);
    const Vec3 middle(0, walker.height / 2, 0);
    std::vector<Vec3> all;
    for (int i = 0; i < across * across; ++i) {
        const auto at = [&](int k, int axis) { return glm::mix(box.low[axis], box.high[axis], (k + 0.5) / across); };
        const Vec3 above(at(i % across, 0), box.high.y, at(i / across, 2));
        // Its middle is what is in a zone: the feet may stand lower than that.
        const auto feet = query::floorBelow(s.scene, s.index.solid(), above, walker, box.size().y + walker.height / 2,
                                            [](Slot) { return true; });
        if (feet && ops::isInZone(s.scene, zone, *feet + middle)) all.push_back(*feet);
    }
    return all;
}

}  // namespace check
