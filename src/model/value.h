#pragma once
// A property's value as it stands in files: what JSON can say, without its null.
#include <cstdint>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace model {

struct Value;
using ValueList = std::vector<Value>;
using ValueMap = std::vector<std::pair<std::string, Value>>;  ///< in the order written

struct Value {
    std::variant<bool, std::int64_t, double, std::string, ValueList, ValueMap> data = false;
    friend bool operator==(const Value&, const Value&) = default;
};

}  // namespace model
