#pragma once
// What goes between Lua and our functions.
#include <string>
#include <variant>
#include <vector>

#include "base/id.h"
#include "base/math.h"

namespace script {

struct Nothing {
    friend bool operator==(const Nothing&, const Nothing&) = default;
};
using Objects = std::vector<base::ObjectId>;
/// An argument or a result. Objects are those of the scene, and records.
using Datum = std::variant<Nothing, bool, double, std::string, base::ObjectId, base::Vec3, base::Quat, Objects,
                           std::vector<std::string>, std::vector<base::Vec3>>;
using Data = std::vector<Datum>;

}  // namespace script
