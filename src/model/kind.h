#pragma once
// Kinds: what objects are. Read from files and from the history alike, through ValueMap; a kind may inherit from
// another.
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/math.h"
#include "model/detail.h"
#include "model/property.h"

namespace model {

/// What an object of a kind looks like while a property is such.
struct Appearance {
    std::string when;  ///< a Condition; empty: always
    std::string item;  ///< shown instead of its own
    std::optional<base::Vec3> tint;
    std::string badge;           ///< a short text beside it in the view
    bool hides = false;          ///< it is not seen while editing
    std::string surface, image;  ///< on all of its slots; the image is a file in media/
    double everySeconds = 0;     ///< it looks so in the first half of each such time; 0: always
    double turnsDegrees = 0;     ///< a second, about its own up; seen so, and nowhere kept
    /// Does a clock change it?
    bool moves() const { return everySeconds > 0 || turnsDegrees != 0; }
    std::optional<Condition> condition;  ///< `when`, read
    friend bool operator==(const Appearance&, const Appearance&) = default;
};

/// A named set of what objects of a kind have: they wear it, and what differs from it is their own.
struct Outfit {
    std::string name;
    ValueMap values;                              ///< of the kind's properties
    std::map<std::string, std::string> surfaces;  ///< by slot
    std::string item;                             ///< the variation; empty: whatever it is
    std::optional<base::Vec3> tint;               ///< linear RGB
    ValueMap unknown;                             ///< members of a newer version, kept
    friend bool operator==(const Outfit&, const Outfit&) = default;
};
/// Nothing without a name; what else is wrong is named in `problems`.
std::optional<Outfit> outfitFrom(const ValueMap& map, std::vector<std::string>& problems);
ValueMap toValues(const Outfit& outfit);

/// A button among the properties of an object.
struct KindButton {
    enum class Does : std::uint8_t { Reset, Next } does = Does::Next;  ///< next: of a choice, the one after
    std::string label, property;                                       ///< reset without one: all of them
    friend bool operator==(const KindButton&, const KindButton&) = default;
};

/// How many objects of a kind a scene must have.
enum class Needed { Any, AtLeastOne, ExactlyOne };

struct Kind {
    std::string document;  ///< of the history: data::kindDocument of its file's name
    std::string name;
    std::string inherits;  ///< what is not said here is as in that kind; empty: none
    std::string category;
    std::string help;
    std::string icon;        ///< of the set in app/look/icons; empty: none
    std::string colourMark;  ///< "#rrggbb", the square before the name in lists
    double smallestSize = 0.01;
    double largestSize = 100.0;
    double cost = 1.0;        ///< standing still
    double movingCost = 0.0;  ///< more, while it moves
    bool tints = true, mirrors = true, takesImages = false,
         isMoved = false;                 ///< what may be done to it; moved: by physics
    std::vector<std::string> imageSlots;  ///< slots that take images; none named: all
    Needed needed = Needed::Any;
    std::vector<std::string> facts;  ///< shown in the Stock: "cost", "triangles", "size", or a property's default
    std::vector<KindButton> buttons;
    std::vector<Property> properties;     ///< inherited ones first
    std::vector<Appearance> appearances;  ///< the later ones win
    std::vector<Outfit> outfits;          ///< inherited ones first
    ValueMap facetValues;                 ///< of what a placed object starts with, as files have it
    DetailPtr facets;                     ///< the same, read; null: nothing
    ValueMap own;                         ///< what its own file says, unknown members too

    const Property* property(std::string_view name) const;
    const Outfit* outfit(std::string_view name) const;
};

/// What a kind says once what it inherits is counted in. `parent` is empty, or said by this function of the parent.
ValueMap inherited(const ValueMap& parent, const ValueMap& own);

/// What a file would say of it, the own properties and appearances all counted as its own.
ValueMap toValues(const Kind& kind);

/// Errors named in `problems` ("key: what is wrong"); what is wrong is as if not said. `facets` stays null.
Kind kindFrom(const ValueMap& map, std::vector<std::string>& problems);

/// What an object's properties make of it: of the appearances that hold, each part from the last that says it.
Appearance appearanceOf(const Kind& kind, const ValueMap& values, double seconds = 0);
/// Does it look so at a moment of the clock, seconds from any beginning?
bool isOn(const Appearance& appearance, double seconds);

/// Kinds' properties and their values on an object: the own ones, else defaults.
const Value* valueOr(const Property& property, const ValueMap& values, Value& room);

/// How large a thing may be, as factors of its item.
struct SizeLimits {
    double low = 1e-3, high = 1e4;
    bool isFixed() const { return low == high; }
    /// Either sign; what rounding leaves is allowed.
    bool allows(double factor) const;
    /// The nearest that is allowed, of the same sign.
    double nearest(double factor) const;
};
struct Item;
/// Nulls: a thing of no kind, without an item. What the item says goes before.
SizeLimits sizesOf(const Kind* kind, const Item* item);
/// "The kind Lantern may be sized from 0.5 to 2", or not at all; of the item, when that says it.
std::string sizesText(const Kind* kind, const Item* item);
/// Of the level's budget, standing still.
double costOf(const Kind* kind, const Item* item);

}  // namespace model
