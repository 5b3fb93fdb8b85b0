#include "base/units.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <string>

#include "base/math.h"
#include "base/text.h"

namespace base {
namespace {

/// Recursive descent over the expression; the first failure is kept in `problem`.
class Parser {
  public:
    Parser(std::string_view text, Quantity quantity, double perMetre, const NumberCalled& called)
        : rest_(text), quantity_(quantity), perMetre_(perMetre), called_(called) {}

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
    /// Letters, digits and _, after a letter. Empty: something else is next.
    std::string_view name() const {
        const auto isLetter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; };
        std::size_t n = 0;
        while (n < rest_.size() && (isLetter(rest_[n]) || (n > 0 && rest_[n] >= '0' && rest_[n] <= '9'))) ++n;
        return rest_.substr(0, n);
    }
    double number() {
        skipSpace();
        double value = 0;
        if (const std::string_view is = called_ ? name() : std::string_view(); !is.empty()) {
            const auto known = called_(is);
            if (!known && problem_.empty()) problem_ = fmt::format("“{}” is no number here", is);
            rest_.remove_prefix(is.size());
            return known.value_or(0);
        }
        auto [end, error] = std::from_chars(rest_.data(), rest_.data() + rest_.size(), value, std::chars_format::fixed);
        if (error != std::errc{}) {
            if (problem_.empty())
                problem_ =
                    rest_.empty() ? "a number is missing at the end" : fmt::format("“{}” is not a number", rest_);
            rest_ = {};
            return 0;
        }
        rest_.remove_prefix(static_cast<std::size_t>(end - rest_.data()));
        return unit(value);
    }
    /// The number in the unit that follows it.
    double unit(double value) {
        skipSpace();
        struct Unit {
            std::string_view text;
            Quantity quantity;
            double factor, parts = 1;  // the number times factor, by parts: 0.35 is not 35 times 0.01
        };
        static constexpr Unit kUnits[] = {
            {"mm", Quantity::Length, 1, 1000},   {"cm", Quantity::Length, 1, 100}, {"km", Quantity::Length, 1000},
            {"m", Quantity::Length, 1},          {"deg", Quantity::Angle, 1},      {"°", Quantity::Angle, 1},
            {"rad", Quantity::Angle, 180 / kPi}, {"turn", Quantity::Angle, 360},   {"%", Quantity::Factor, 1, 100},
            {"ms", Quantity::Time, 1, 1000},     {"min", Quantity::Time, 60},      {"s", Quantity::Time, 1},
            {"h", Quantity::Time, 3600},         {"x", Quantity::Factor, 1},       {"×", Quantity::Factor, 1}};
        for (const Unit& unit : kUnits) {
            if (unit.quantity != quantity_ || !rest_.starts_with(unit.text)) continue;
            rest_.remove_prefix(unit.text.size());
            const double metres = value * unit.factor / unit.parts;
            return unit.quantity == Quantity::Length ? metres * perMetre_ : metres;
        }
        return value;
    }

    std::string_view rest_;
    Quantity quantity_;
    double perMetre_;  // of the unit that lengths without one are in
    const NumberCalled& called_;
    std::string problem_;
    int depth_ = 0;
};

constexpr LengthUnitTraits kLengthUnits[] = {
    {"metre", "m", 1, 0}, {"centimetre", "cm", 100, 2}, {"millimetre", "mm", 1000, 3}};

/// Takes " in cm" off the end.
const LengthUnitTraits& takeUnit(std::string_view& text) {
    for (const LengthUnitTraits& unit : kLengthUnits) {
        const std::string end = std::string(" in ") + unit.sign;
        if (!text.ends_with(end)) continue;
        text.remove_suffix(end.size());
        return unit;
    }
    return kLengthUnits[0];
}

}  // namespace

const LengthUnitTraits& traits(LengthUnit unit) {
    return kLengthUnits[static_cast<std::size_t>(unit)];
}

std::string lengthText(double metres, LengthUnit unit, int decimals) {
    const LengthUnitTraits& in = traits(unit);
    return fixed(metres * in.perMetre, std::max(0, decimals - in.digits)) + " " + in.sign;
}

std::string typedIn(std::string_view text, LengthUnit unit) {
    return unit == LengthUnit::Metre ? std::string(text) : std::string(text) + " in " + traits(unit).sign;
}

Result<double> evaluateQuantity(std::string_view text, Quantity quantity, double present, const NumberCalled& called) {
    std::string plain(text);
    for (char& c : plain)
        if (c == ',') c = '.';
    std::string_view rest = plain;
    const LengthUnitTraits& in = quantity == Quantity::Length ? takeUnit(rest) : kLengthUnits[0];
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
    auto value = Parser(rest, scales ? Quantity::Factor : quantity, in.perMetre, called).whole();
    if (!value) return value;
    if (!scales) *value /= in.perMetre;
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
