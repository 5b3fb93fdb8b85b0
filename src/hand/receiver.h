#pragma once
// A receiver: who takes a scene, by which recipes, within which limits, and what is done then.
// docs/formats/receiver.md. Values; any thread.
#include <string>
#include <vector>

#include "check/rule.h"
#include "hand/recipe.h"
#include "io/gltf_out.h"
#include "model/library.h"

namespace hand {

/// One file, or several, that a receiver is given.
struct Given {
    std::string recipe;  ///< by name; empty: glTF
    io::ExportOptions gltf{};
    std::string file;  ///< instead of the recipe's own name
};

struct Limits {
    std::optional<std::int64_t> objects, nameLength, fileBytes;
    std::optional<std::pair<double, double>> size;  ///< the least and the most, as factors
    std::string nameLetters;                        ///< "a-z0-9_"; empty: any
    std::vector<std::string> items;                 ///< that it knows; none: any
    std::vector<std::string> cannot;                ///< facets that it cannot express, by key
    bool uprightOnly = false, uniformSize = false, uniqueNames = false;
};

/// A name entered into a list in another program's settings.
struct Enter {
    enum class As { Json, Xml, Ini, Text } as = As::Json;
    std::string file;
    std::string at;     ///< where the list is, see docs/formats/receiver.md
    std::string value;  ///< what is entered; {file}, {scene}
};

struct Receiver {
    std::string name, label, help;
    std::string folder = "handover";  ///< where its files go, from the project's folder
    std::vector<Given> gives;
    Limits limits;
    std::vector<Enter> enter;
    std::vector<std::string> copy;  ///< folders
    std::vector<std::string> run;   ///< commands, by name
};
/// What is wrong is named in `problems` and as if not said.
Receiver receiverFrom(const std::string& name, const model::ValueMap& map, std::vector<std::string>& problems);

/// By name; nothing: there is none. Problems of it are its own.
std::optional<Recipe> recipeNamed(const model::Library& library, const std::string& name,
                                  std::vector<std::string>& problems);
std::optional<Receiver> receiverNamed(const model::Library& library, const std::string& name,
                                      std::vector<std::string>& problems);

/// Its limits, as rules that are asked like all others: what each finds would be wrong, or lost, for this receiver.
std::vector<check::Rule> limitRules(const model::Library& library, const Receiver& receiver);
/// The same at once, without looking at anything else.
std::vector<check::Finding> beyondLimits(const model::Scene& scene, const model::Library& library,
                                         const Receiver& receiver);

}  // namespace hand
