#pragma once
// A named look of the whole scene: what is shown in place of what, and in which light. Looking at one changes no
// object. Values.
#include <map>
#include <string>
#include <vector>

#include "base/math.h"
#include "model/data.h"

namespace model {

struct Guise {
    using Swaps = std::map<std::string, std::string, std::less<>>;
    std::string name;
    Swaps surfaces;  ///< a surface, or a slot that shows its mesh's own, by name: the surface shown in its place
    Swaps items;     ///< item for item
    std::map<std::string, base::Vec3, std::less<>> tints;  ///< by kind: linear RGB, times the colours
    ValueMap light;                                        ///< members of sceneFields(), in place of the scene's own
    ValueMap unknown;                                      ///< members of a newer version, kept
    bool empty() const { return surfaces.empty() && items.empty() && tints.empty() && light.empty(); }
    friend bool operator==(const Guise&, const Guise&) = default;
};

/// Errors named in `problems`; what is wrong is as if not said.
Guise guiseFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems);
/// Without its name, which is the entry's key.
ValueMap toValues(const Guise& guise);

}  // namespace model
