#include "model/value.h"

namespace model {

// Out of line: a variant of six that holds itself is costly to make and drop in place, in size of code and in what the
// compiler has to prove about it.
Value::Value() = default;
Value::Value(bool value) : data(value) {}
Value::Value(int value) : data(std::int64_t{value}) {}
Value::Value(std::int64_t value) : data(value) {}
Value::Value(double value) : data(value) {}
Value::Value(const char* value) : data(std::string(value)) {}
Value::Value(std::string value) : data(std::move(value)) {}
Value::Value(ValueList value) : data(std::move(value)) {}
Value::Value(ValueMap value) : data(std::move(value)) {}
Value::Value(const Value&) = default;
Value::Value(Value&&) noexcept = default;
Value& Value::operator=(const Value&) = default;
Value& Value::operator=(Value&&) noexcept = default;
Value::~Value() = default;

bool operator==(const Value& a, const Value& b) {
    return a.data == b.data;
}

}  // namespace model
