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
    using Data = std::variant<bool, std::int64_t, double, std::string, ValueList, ValueMap>;
    Data data = false;

    Value();
    Value(bool value);
    Value(int value);
    Value(std::int64_t value);
    Value(double value);
    Value(const char* value);
    Value(std::string value);
    Value(ValueList value);
    Value(ValueMap value);
    Value(const Value&);
    Value(Value&&) noexcept;
    Value& operator=(const Value&);
    Value& operator=(Value&&) noexcept;
    ~Value();
    friend bool operator==(const Value& a, const Value& b);
};

}  // namespace model
