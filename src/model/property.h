#pragma once
// Typed properties: what a kind or a record type says of one, and what values fit it. Values, any thread.
// A link is a map of one member, {"object": id} or {"record": id}, so that copies can follow it without the schema.
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "base/id.h"
#include "base/result.h"
#include "model/data.h"

namespace model {

enum class PropertyType {
    Bool,
    Integer,
    Number,
    Text,
    LongText,
    Choice,
    Flags,   ///< a list of choices
    Colour,  ///< linear RGB, three numbers 0..1
    Angle,   ///< degrees
    Vector,  ///< three numbers
    Range,   ///< two numbers, the first not above the second
    Curve,   ///< points [x, y], x rising
    Time,    ///< seconds
    Object,  ///< a link to an object of this scene
    Zone,    ///< a link to an object with a zone
    Points,  ///< a link to an object with points
    Route,   ///< a link to an object with a route
    Stop,    ///< a link to an object that is a stop of a route
    Item,    ///< an item's name
    Record,  ///< a link to a record
    Media,   ///< a file in media/
    List     ///< of values of `element`
};
/// As files name them: "bool", "long text".
std::string_view typeName(PropertyType type);

struct Choice {
    std::string value, label;
    friend bool operator==(const Choice&, const Choice&) = default;
};

/// "oil > 3", "state = open", "lit", "!lit": what a property must be. Empty: always.
struct Condition {
    enum class Op { Is, IsNot, Less, AtMost, More, AtLeast } op = Op::Is;
    std::string property;
    std::string operand = "true";
    friend bool operator==(const Condition&, const Condition&) = default;
};
/// Errors: BadInput for what is no condition.
base::Result<Condition> parseCondition(std::string_view text);
/// As parseCondition() reads it: "!lit", "oil > 3".
std::string conditionText(const Condition& condition);
/// Does a value hold it? Null: it has none.
bool holds(const Condition& condition, const Value* value);

struct Property {
    std::string name;      ///< its key in the object's line
    std::string label;     ///< for people; the name with a capital when the file gives none
    std::string category;  ///< heading in Properties
    std::string help, unit;
    PropertyType type = PropertyType::Text;
    std::optional<double> low, high, step;                                ///< numbers, and the parts of vectors
    std::vector<Choice> choices;                                          ///< of Choice and Flags
    std::string choicesBy;                                                ///< another property that decides
    std::vector<std::pair<std::string, std::vector<Choice>>> choicesFor;  ///< by its value
    std::vector<std::string> kinds;                                       ///< an object link may lead to; empty: any
    std::string records;                                                  ///< the type a record link leads to
    std::vector<Property> element;                                        ///< of a list: one, what it holds
    std::optional<Value> fallback;                                        ///< default
    bool hidden = false, readOnly = false, required = false;
    bool isPlace = false;  ///< a vector that is a place in the world, and can be pointed at
    std::string shownIf;   ///< a Condition
    ValueMap unknown;      ///< members of a newer version, kept
    friend bool operator==(const Property&, const Property&) = default;
};

/// Reads one as files have it; what is not as expected is named in `problems` and left out. Nothing without a name.
std::optional<Property> propertyFrom(const ValueMap& map, std::vector<std::string>& problems);
ValueMap toValues(const Property& property);

/// Does it link to an object?
bool linksObject(PropertyType type);

/// The value an object without one has: the default, else the plainest one that fits.
Value defaultOf(const Property& property);
/// The choices there are while the object's properties, `all` of which there are, have these values or their defaults.
const std::vector<Choice>& choicesOf(const Property& property, std::span<const Property> all, const ValueMap& values);

/// The value as it would be kept (whole numbers become numbers where numbers are asked for). Errors: BadInput naming
/// what was expected.
base::Result<Value> fitted(const Property& property, const Value& value);
/// A value as people type it: "3.5", "yes", "open", "1, 0.5, 0", "#ff8800"; links as ids. Errors: as fitted().
base::Result<Value> parsedValue(const Property& property, std::string_view text);
/// The same the other way: what parsedValue() reads back as this value.
std::string valueText(const Property& property, const Value& value);

/// A link's target; zero: it is no link of that sort.
base::ObjectId objectIn(const Value& value);
base::ObjectId recordIn(const Value& value);
Value objectLink(base::ObjectId id);
Value recordLink(base::ObjectId id);
/// Visits each object link in properties, in lists too, and lets it be changed. True if any was.
bool eachObjectLink(ValueMap& values, const std::function<void(base::ObjectId&)>& visit);
bool hasObjectLink(const ValueMap& values);

}  // namespace model
