#pragma once
// What a script says of itself, and what it draws: plain values that the programs show. Any thread.
#include <optional>
#include <string>
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "model/mark.h"
#include "model/property.h"

namespace script {

/// A line of say() or print().
struct Said {
    std::string text;
    int line = 0;  ///< of the script's own file, where it was said; 0: in a module
    friend bool operator==(const Said&, const Said&) = default;
};

using Mark = model::Mark;

/// What a behaviour makes an object look like while editing, besides what its kind says.
struct Look {
    std::string item;  ///< shown instead of its own; empty: its own
    std::optional<base::Vec3> tint;
    std::string badge;
    bool hides = false;
    std::vector<Mark> marks;
    bool empty() const { return item.empty() && !tint && badge.empty() && !hides && marks.empty(); }
    friend bool operator==(const Look&, const Look&) = default;
};

/// What a script says of one of its commands.
struct CommandSpec {
    std::string name;      ///< "Lanterns between"
    std::string menu;      ///< "Heron Lock/Lanterns": submenus of the Scripts menu
    std::string help;      ///< one sentence
    std::string shortcut;  ///< "Alt+L"; empty: none
    std::vector<model::Property> form;
    bool asksEnabled = false;  ///< it can say when it cannot be run
    bool stays = false;        ///< its form stays open, and follows the selection
    bool marks = false;        ///< it draws while its form is open
    friend bool operator==(const CommandSpec&, const CommandSpec&) = default;
};

/// What a script does for the objects of a kind while one edits.
struct BehaviourSpec {
    std::string kind;
    std::vector<std::string> touches;  ///< what it may change besides the object: "children", "links", kinds
    bool allows = false, changes = false, opens = false, looks = false;
    friend bool operator==(const BehaviourSpec&, const BehaviourSpec&) = default;
};

/// What a script says of one of its checks: a rule beside those that the editor has.
struct CheckSpec {
    std::string id;        ///< "dark-finish": small letters, digits and dashes
    std::string label;     ///< "Finish in the dark"
    std::string why;       ///< why it matters, and what to do
    std::string severity;  ///< "hint", "caution", "error"
    std::string fixLabel;  ///< "Hang a lantern"; empty: there is no fix
    enum class Looks { Object, Around, Scene } looks = Looks::Object;
    double reachMetres = 0;          ///< how far it looks around an object
    std::vector<std::string> kinds;  ///< whose objects it asks about; empty: all
    std::vector<model::Property> parameters;
    friend bool operator==(const CheckSpec&, const CheckSpec&) = default;
};

/// What one of its checks found.
struct Found {
    std::string message;
    base::ObjectId object, other;  ///< zero: the one it was asked about; none
    std::string part;
    std::vector<Mark> marks;
};

/// What a file declares. A plain one declares nothing: running it is all it does.
struct Declared {
    std::vector<CommandSpec> commands;
    std::vector<BehaviourSpec> behaviours;
    std::vector<CheckSpec> checks;
    bool plain() const { return commands.empty() && behaviours.empty() && checks.empty(); }
};

}  // namespace script
