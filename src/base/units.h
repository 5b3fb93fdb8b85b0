#pragma once
// What a designer types into a number field: arithmetic, units, and changes relative to the present value.
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

#include "base/result.h"

namespace base {

enum class Quantity { Length, Angle, Factor, Time };  ///< metres, degrees, no unit, seconds

/// What lengths are shown in; kept in files they are metres.
enum class LengthUnit : std::uint8_t { Metre, Centimetre, Millimetre };
struct LengthUnitTraits {
    const char *word, *sign;  ///< "centimetre", "cm"
    double perMetre;
    int digits;  ///< so many decimals fewer than in metres
};
const LengthUnitTraits& traits(LengthUnit unit);
/// "1.25 m", "125 cm": as exact as `decimals` of a metre.
std::string lengthText(double metres, LengthUnit unit, int decimals = 2);
/// What was typed where lengths are shown in `unit`, for evaluateQuantity.
std::string typedIn(std::string_view text, LengthUnit unit);

/// The value `text` means, in metres, degrees, seconds or plain, given the `present` value.
/// Grammar: an expression with + - * / ( ) and numbers that may carry a unit (mm cm m km; deg ° rad turn; ms s min h;
/// %). A leading "+=", "-=", "*=" or "/=" changes the present value. "," is read as the decimal point. " in cm" at the
/// end: lengths without a unit are centimetres (also mm, m). Errors: BadInput naming what was not understood; a result
/// that is not finite, or beyond 1e9. `called`: what a name means; empty: there are none.
using NumberCalled = std::function<std::optional<double>(std::string_view)>;
Result<double> evaluateQuantity(std::string_view text, Quantity quantity, double present,
                                const NumberCalled& called = {});

}  // namespace base
