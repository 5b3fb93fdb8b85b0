#pragma once
// A plan of a level seen from above, to scale, as SVG 1.1: what stands there by its outline, zones, routes. Pure; any
// thread.
#include <functional>
#include <string>

#include "model/library.h"
#include "model/scene.h"
#include "shape/mesh.h"

namespace hand {

struct PlanOptions {
    double pixelsPerMetre = 8;
    bool names = true;  ///< of groups made on purpose, of zones and routes
};
/// North (-Z) is up. `meshOf`: null for what has none. What is hidden, or not there at the start, is left out.
std::string planOf(const model::Scene& scene, const model::Library& library,
                   const std::function<const shape::Mesh*(base::Name item)>& meshOf, const PlanOptions& options = {});

}  // namespace hand
