#pragma once
// Exact amounts, typed for a part of the handle.
#include <QString>

#include "ops/move.h"
#include "render/handle.h"

namespace app {

class Editor;

/// What an amount is typed for: the handle where it is now, its part, what the drag has come to.
struct TypedFor {
    render::Handle handle;
    render::HandlePart part;
    render::HandleAmount now;
    base::Vec3 turnAxis{0, 1, 0};
    const ops::Mover* mover = nullptr;
};
/// Errors: BadInput for text that is no amount, or where one axis is needed.
base::Result<render::HandleAmount> typedAmount(const QString& text, const TypedFor& what, Editor& editor);
/// What to ask for.
QString amountAsked(const render::HandlePart& part, base::LengthUnit unit);
/// A leading sign or operator means "from here"; "=" in front of it means the value itself.
std::string fromHere(const QString& typed);

}  // namespace app
