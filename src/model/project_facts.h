#pragma once
// What project.json says of the project as a whole.
#include <string>
#include <vector>

#include "base/units.h"
#include "model/facet.h"

namespace model {

/// Who walks through the level: what can be reached on foot follows from it.
struct Walker {
    double eyeHeight = 1.65;   ///< metres above the feet
    double stepHeight = 0.4;   ///< metres that one foot can climb at once
    double slopeDegrees = 45;  ///< steeper ground is not walked on
    double radius = 0.3;       ///< how near to a wall, metres
    double metresPerSecond = 2.4;
    friend bool operator==(const Walker&, const Walker&) = default;
};

/// What is said of a scene besides what its own file holds.
struct SceneEntry {
    std::string name;
    bool made = false;        ///< by a step: it is there before its file is
    bool gone = false;        ///< deleted by a step: its file waits beside the ledger from the next save on
    bool scratch = false;     ///< a place to try: never exported or checked
    bool isTemplate = false;  ///< new scenes can begin as it
    ValueMap unknown;         ///< members of a newer version, kept
    friend bool operator==(const SceneEntry&, const SceneEntry&) = default;
};

struct ProjectFacts {
    std::string name;
    std::string firstScene;                            ///< the one shown when the project is opened
    base::LengthUnit units = base::LengthUnit::Metre;  ///< what lengths are shown in
    Walker walker;
    std::vector<SceneEntry> scenes;  ///< in their order; those that it does not list follow by name
    const SceneEntry* scene(std::string_view named) const;
    /// The entry of a scene, made when there is none.
    SceneEntry& entry(const std::string& named);
    friend bool operator==(const ProjectFacts&, const ProjectFacts&) = default;
};

/// What of it is filled in by fields.
const Fields& projectFields();
/// From the members of project.json. What is wrong is named in `problems`, and as if not said.
ProjectFacts factsFrom(const ValueMap& head, std::vector<std::string>& problems);
/// Makes those members say it; others stay.
void putFacts(ValueMap& head, const ProjectFacts& facts);

}  // namespace model
