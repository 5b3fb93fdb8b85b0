#include "base/units.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <string>

#include "base/math.h"

namespace base {
namespace {

/// Recursive descent over the expression; the first failure is kept in `problem`.
class Parser {
  public:
    Parser(std::string_view text, Quantity quantity) : rest_(text), quantity_(quantity) {}

    Result<double> whole() {
        const double value = sum();
        skipSpace();
        if (problem_.empty() && !rest_.empty()) problem_ = fmt::format("“{}” is not understood here", rest_);
        if (!problem_.empty()) return fail(ErrorCode::BadInput, problem_ + ".");
        return value;
    }

  private:
    void skipSpace() {
        while (!rest_.empty() && rest_.front() == ' ') rest_.remove_prefix(1);
    }
    bool take(char c) {
        skipSpace();
        if (rest_.empty() || rest_.front() != c) return false;
        rest_.remove_prefix(1);
        return true;
    }
    double sum() {
        double value = product();
        for (;;) {
            if (take('+'))
                value += product();
            else if (take('-'))
                value -= product();
            else
                return value;
        }
    }
    double product() {
        double value = factor();
        for (;;) {
            if (take('*'))
                value *= factor();
            else if (take('/'))
                value /= factor();
            else
                return value;
        }
    }
    double factor() {
        if (++depth_ > 50) {
            problem_ = "too many brackets or signs";
            rest_ = {};
            return 0;
        }
        double value = 0;
        if (take('-'))
            value = -factor();
        else if (take('+'))
            value = factor();
        else if (take('(')) {
            value = sum();
            if (!take(')') && problem_.empty()) problem_ = "a bracket is not closed";
        } else
            value = number();
        --depth_;
        return value;
    }
    double number() {
        skipSpace();
        double value = 0;
        auto [end, error] = std::from_chars(rest_.data(), rest_.data() + rest_.size(), value, std::chars_format::fixed);
        if (error != std::errc{}) {
            if (problem_.empty())
                problem_ =
                    rest_.empty() ? "a number is missing at the end" : fmt::format("“{}” is not a number", rest_);
            rest_ = {};
            return 0;
        }
        rest_.remove_prefix(static_cast<std::size_t>(end - rest_.data()));
        return value * unit();
    }
    double unit() {
        skipSpace();
        struct Unit {
            std::string_view text;
            Quantity quantity;
            double factor;
        };
        static constexpr Unit kUnits[] = {
            {"mm", Quantity::Length, 0.001},     {"cm", Quantity::Length, 0.01}, {"km", Quantity::Length, 1000},
            {"m", Quantity::Length, 1},          {"deg", Quantity::Angle, 1},    {"°", Quantity::Angle, 1},
            {"rad", Quantity::Angle, 180 / kPi}, {"turn", Quantity::Angle, 360}, {"%", Quantity::Factor, 0.01},
            {"ms", Quantity::Time, 0.001},       {"min", Quantity::Time, 60},    {"s", Quantity::Time, 1},
            {"h", Quantity::Time, 3600},         {"x", Quantity::Factor, 1},     {"×", Quantity::Factor, 1}};
        for (const Unit& unit : kUnits) {
            if (unit.quantity != quantity_ || !rest_.starts_with(unit.text)) continue;
            rest_.remove_prefix(unit.text.size());
            return unit.factor;
        }
        return 1;
    }

    std::string_view rest_;
    Quantity quantity_;
    std::string problem_;
    int depth_ = 0;
};

}  // namespace

Result<double> evaluateQuantity(std::string_view text, Quantity quantity, double present) {
    std::string plain(text);
    for (char& c : plain)
        if (c == ',') c = '.';
    std::string_view rest = plain;
    while (!rest.empty() && rest.front() == ' ') rest.remove_prefix(1);
    char change = 0;
    if (rest.size() > 1 && rest[1] == '=' && std::string_view("+-*/").find(rest[0]) != std::string_view::npos) {
        change = rest[0];
        rest.remove_prefix(2);
    } else if (!rest.empty() && (rest[0] == '*' || rest[0] == '/')) {
        change = rest[0];
        rest.remove_prefix(1);
    }
    // What multiplies the present value is a plain factor, whatever the field holds.
    const bool scales = change == '*' || change == '/';
    auto value = Parser(rest, scales ? Quantity::Factor : quantity).whole();
    if (!value) return value;
    double result = *value;
    if (change == '+') result = present + *value;
    if (change == '-') result = present - *value;
    if (change == '*') result = present * *value;
    if (change == '/') result = present / *value;
    if (!std::isfinite(result) || std::abs(result) > 1e9)
        return fail(ErrorCode::BadInput, fmt::format("“{}” gives no usable number.", text));
    return result;
}

}  // namespace base
