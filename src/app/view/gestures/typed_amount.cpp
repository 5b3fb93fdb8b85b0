#include "app/view/gestures/typed_amount.h"

#include "app/shell/editor.h"
#include "app/view/gesture.h"
#include "base/units.h"
#include "edit/session.h"

namespace app {

using render::HandleAmount;
using render::HandlePart;
using render::kAll;
using render::Task;

namespace {

base::Result<HandleAmount> typedSlide(const std::string& text, const TypedFor& what, base::LengthUnit unit) {
    if (what.part.axis() < 0) return base::fail(base::ErrorCode::BadInput, "Point at one axis first, then type.");
    const base::Vec3 axis = what.handle.axes[what.part.axis()];
    const double present = glm::dot(what.handle.origin, axis), start = present - glm::dot(what.now.offset, axis);
    auto value = base::evaluateQuantity(base::typedIn(text, unit), base::Quantity::Length, present);
    if (!value) return tl::unexpected(value.error());
    HandleAmount amount;
    amount.offset = axis * (*value - start);
    return amount;
}

base::Result<HandleAmount> typedTurn(const std::string& text, const TypedFor& what) {
    auto value = base::evaluateQuantity(text, base::Quantity::Angle, base::degrees(what.now.radians));
    if (!value) return tl::unexpected(value.error());
    HandleAmount amount;
    amount.axis = what.turnAxis;
    amount.radians = base::radians(*value);
    return amount;
}

base::Result<HandleAmount> typedFit(const std::string& text, const TypedFor& what, Editor& editor) {
    const bool metres = text.ends_with('m');
    const int axis = what.part.axis();
    const double present = axis >= 0 ? what.now.factors[axis] : what.now.factors.x;
    double own = 1;
    if (metres && axis < 0) return base::fail(base::ErrorCode::BadInput, "Point at one axis to type a length.");
    if (metres) {
        own = what.mover->ownSize(editor.scene(), axis, editor.session().library());
        if (own < 1e-9) return base::fail(base::ErrorCode::BadInput, "It has no length along this axis.");
    }
    auto value = base::evaluateQuantity(text, metres ? base::Quantity::Length : base::Quantity::Factor,
                                        metres ? own * present : present);
    if (!value) return tl::unexpected(value.error());
    const double factor = metres ? *value / own : *value;
    if (factor < 1e-3) return base::fail(base::ErrorCode::BadInput, "A size must be larger than nothing.");
    HandleAmount amount;
    const int without = what.part.planeWithout();
    for (int k = 0; k < 3; ++k)
        if (axis == k || what.part.which == kAll || (without >= 0 && k != without)) amount.factors[k] = factor;
    return amount;
}

}  // namespace

std::string fromHere(const QString& typed) {
    QString text = typed.trimmed();
    const bool relative = !text.isEmpty() && QString("+-*/").contains(text[0]);
    if (relative && (text.size() < 2 || text[1] != '=')) text = QString(text[0]) + "=" + text.mid(1);
    if (text.startsWith('=')) text = text.mid(1);
    return text.toStdString();
}

base::Result<HandleAmount> typedAmount(const QString& typed, const TypedFor& what, Editor& editor) {
    const std::string text = fromHere(typed);
    switch (what.part.task) {
        case Task::Turn: return typedTurn(text, what);
        case Task::Fit: return typedFit(text, what, editor);
        default: return typedSlide(text, what, editor.unit());
    }
}

QString amountAsked(const HandlePart& part, base::LengthUnit unit) {
    const QString axis = part.axis() >= 0 ? QString("XYZ").mid(part.axis(), 1) : InView::tr("all");
    return part.task == Task::Turn  ? InView::tr("Turn %1 by, in degrees").arg(axis)
           : part.task == Task::Fit ? InView::tr("Size %1, as a factor, or a length with its unit").arg(axis)
                                    : InView::tr("%1 (%2); +0.5 from here").arg(axis, base::traits(unit).sign);
}

}  // namespace app
