#pragma once
// Routes that lead to one another: where a fork leaves and where it joins, and whether all of them can be gone.
#include <string>
#include <vector>

#include "model/facets/route.h"
#include "model/scene.h"

namespace query {

/// A fork that leads somewhere.
struct Branch {
    std::size_t point = 0;            ///< of the route that it leaves, from 0
    model::Slot to = model::kNoSlot;  ///< with a route
    double metres = 0;                ///< along that: where it is nearest
    double share = 1;
    base::ObjectId goal;  ///< that opens it; nothing: it is open
};
/// In the order in which they stand.
std::vector<Branch> branchesOf(const model::Scene& scene, model::Slot route);
/// The route and all that it leads to, each once, itself first.
std::vector<model::Slot> networkOf(const model::Scene& scene, model::Slot route);

/// What is wrong with a fork, by its place in the list: "leads to something that is gone". Empty: nothing.
std::string faultOf(const model::Scene& scene, model::Slot route, std::size_t fork);
/// Does what enters there always come to an end sometime, whichever way it goes? Else it goes round for ever from some
/// place on. Closed ones end with their laps.
bool comesToAnEnd(const model::Scene& scene, model::Slot route);

}  // namespace query
