#pragma once
// What a designer types into a number field: arithmetic, units, and changes relative to the present value.
#include <string_view>

#include "base/result.h"

namespace base {

enum class Quantity { Length, Angle, Factor, Time };  ///< metres, degrees, no unit, seconds

/// The value `text` means, in metres, degrees, seconds or plain, given the `present` value.
/// Grammar: an expression with + - * / ( ) and numbers that may carry a unit (mm cm m km; deg ° rad turn; ms s min h;
/// %). A leading "+=", "-=", "*=" or "/=" changes the present value. "," is read as the decimal point. Errors: BadInput
/// naming what was not understood; a result that is not finite, or beyond 1e9.
Result<double> evaluateQuantity(std::string_view text, Quantity quantity, double present);

}  // namespace base
