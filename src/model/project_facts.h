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
    double height = 1.8;             ///< metres, standing
    double duckedHeight = 1.1;       ///< metres, under what is low; as high as standing: never ducks
    double runsPerSecond = 4.8;      ///< metres
    double jumpHeight = 0.9;         ///< metres that the feet come up
    double reach = 1.8;              ///< metres from the eye to what can be used or taken
    double carries = 40;             ///< kilograms that can be taken
    double force = 350;              ///< newtons with which what is loose is pushed
    double throwSpeed = 7;           ///< metres a second of what weighs little
    std::string starts = "*start*";  ///< kinds where one begins, patterns after commas
    friend bool operator==(const Walker&, const Walker&) = default;
};

/// Does one begin where something of that kind is?
bool beginsAt(std::string_view starts, std::string_view kind);

/// What flies or drives through the level instead.
struct Craft {
    bool flies = true;            ///< else it drives on the ground
    double metresPerSecond = 18;  ///< at most
    double gains = 8;             ///< metres a second in each second
    double turnDegrees = 70;      ///< in each second
    double bankDegrees = 35;      ///< leans so far in a turn
    double climbDegrees = 40;     ///< steeper up or down it does not fly
    double radius = 1.1;          ///< of what bumps into things, metres
    friend bool operator==(const Craft&, const Craft&) = default;
};

/// What is said of a scene besides what its own file holds.
struct SceneEntry {
    std::string name;
    bool made = false;        ///< by a step: it is there before its file is
    bool gone = false;        ///< deleted by a step: its file waits beside the ledger from the next save on
    bool scratch = false;     ///< a place to try: never exported or checked
    bool isTemplate = false;  ///< new scenes can begin as it
    bool craft = false;       ///< one goes through it in the craft, not on foot
    ValueMap unknown;         ///< members of a newer version, kept
    friend bool operator==(const SceneEntry&, const SceneEntry&) = default;
};

struct ProjectFacts {
    std::string name;
    std::string firstScene;                            ///< the one shown when the project is opened
    base::LengthUnit units = base::LengthUnit::Metre;  ///< what lengths are shown in
    Walker walker;
    Craft craft;
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
