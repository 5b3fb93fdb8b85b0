#pragma once
// Things that are described by their fields, as files of project data have them. Values; any thread.
#include "model/facet.h"

namespace model {

/// Makes a thing say what `map` says of it. What is wrong there is named in `problems` ("key: what was expected"), and
/// as it was. Members that the fields do not know are not looked at.
void takeValues(const Fields& fields, void* thing, const ValueMap& map, std::vector<std::string>& problems);
/// Makes `map` say what the thing is. What is usual is left out, unless it is always said; other members stay, so does
/// a word that this version does not know while nothing else is said in its place.
void putValues(const Fields& fields, const void* thing, ValueMap& map);
/// A list member's parts, as files have them.
Value partsValue(const Member& member, const void* thing);
/// The same the other way. Errors: BadInput naming the part; the thing is as it was then.
base::Status setParts(const Member& member, void* thing, const Value& value);

}  // namespace model
