#pragma once
// Kinds, and what they say of properties and appearances, as plain forms: every member one field that people can fill
// in. For the kind editor and the records' window; the forms are properties themselves.
#include "base/result.h"
#include "model/kind.h"

namespace ops {

/// What a kind says of itself, beside its lists.
const std::vector<model::Property>& kindForm();
/// What a kind or a record type says of one property.
const std::vector<model::Property>& propertyForm();
/// One appearance of a kind, and one of its buttons.
const std::vector<model::Property>& appearanceForm();
const std::vector<model::Property>& buttonForm();

/// Does a field of propertyForm() mean anything for a property of the type that `entry` has?
bool fieldFits(const model::ValueMap& entry, const model::Property& field);

/// What may be chosen in a field of propertyForm(), the empty one for none: the default of a truth value or a choice,
/// and of `others`, the properties beside it, by which it is chosen. Empty: anything may be typed.
std::vector<model::Choice> fieldChoices(const model::ValueMap& entry, const model::Property& field,
                                        const std::vector<model::ValueMap>& others);

/// The property whose default an entry says, called as that field of propertyForm() is, for the editor of its type.
/// Nothing where one types it, or where fieldChoices() has all there is.
std::optional<model::Property> defaultField(const model::ValueMap& entry);

/// Is the field a condition, as model::parseCondition() reads it?
bool isCondition(const model::Property& field);
/// What a condition in an entry may ask for: those of `properties` that are one plain value, but for the entry itself.
std::vector<model::Property> askedBy(const model::ValueMap& entry, const std::vector<model::ValueMap>& properties);

/// The member of a form as its field shows it; empty text, or a list without parts, where a file says
/// nothing. Lists hold texts: choices as "shut=Shut tight", those for each value of another as "wood: oak | elm".
model::Value fieldOf(const model::ValueMap& entry, const model::Property& field);
/// What a file says once a field was filled in; what is usual is left out. Errors: BadInput naming what was expected.
base::Result<model::ValueMap> withField(const model::ValueMap& entry, const model::Property& field,
                                        const model::Value& value);

/// The maps in a list of an entry: its properties, its appearances.
std::vector<model::ValueMap> listOf(const model::ValueMap& entry, std::string_view key);
model::ValueMap withList(const model::ValueMap& entry, std::string_view key, const std::vector<model::ValueMap>& list);

}  // namespace ops
