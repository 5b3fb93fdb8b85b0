#pragma once
// What a type of property is, in one row: what it is called, what values fit it, how they are typed and told. A new
// type is an enumerator, a row in property_types.cpp, and its editor in app/panels/property_row.cpp.
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "model/property.h"

namespace model {

struct TypeTraits {
    std::string_view name;  ///< in files
    int numbers;            ///< how many plain numbers a value is, typed with units and by amounts; 0: it is none
    bool linksObject;
    Value (*usual)(const Property&);  ///< when the property has no default
    base::Result<Value> (*fit)(const Property&, const Value&);
    base::Result<Value> (*parse)(const Property&, std::string_view typed);
    std::string (*text)(const Property&, const Value&);  ///< what parse() reads back
    ValueMap (*schema)(const Property&);                 ///< JSON Schema
};
const TypeTraits& traits(PropertyType type);
/// In the order of PropertyType.
std::span<const TypeTraits> propertyTypes();

/// A finite number that is all of a text.
std::optional<double> numberIn(std::string_view text);

}  // namespace model
