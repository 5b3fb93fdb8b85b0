#pragma once
// Facets that files and history keep as maps of values: one reading and one writing for all of them.
#include <string_view>

#include "model/facets.h"
#include "model/prefab.h"

namespace model {

ValueMap toValues(const Body& body);
ValueMap toValues(const PointSet& set);
ValueMap toValues(const Zone& zone);
ValueMap toValues(const Surfaces& surfaces);

// Errors named in `problems` ("key: what was expected"); what is wrong is as if not said.
void fromValues(const ValueMap& map, std::vector<std::string>& problems, Body& out);
void fromValues(const ValueMap& map, std::vector<std::string>& problems, PointSet& out);
void fromValues(const ValueMap& map, std::vector<std::string>& problems, Zone& out);
void fromValues(const ValueMap& map, std::vector<std::string>& problems, Surfaces& out);

/// Each of them: its key in files, its part, and where Detail has it.
template <class F>
void eachValueFacet(F&& visit) {
    visit(std::string_view("body"), part::kBody, &Detail::body);
    visit(std::string_view("points"), part::kPoints, &Detail::points);
    visit(std::string_view("zone"), part::kZone, &Detail::zone);
    visit(std::string_view("surfaces"), part::kSurfaces, &Detail::surfaces);
}

}  // namespace model
