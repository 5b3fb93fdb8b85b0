#include "app/view/at_rest.h"

#include "app/shell/editor.h"
#include "app/shell/tools.h"
#include "edit/session.h"

namespace app {

AtRest::AtRest(Editor& editor) : editor_(editor) {
    const auto forget = [this] { known_ = false; };
    connect(&editor_, &Editor::sceneShown, this, forget);
    connect(&editor_, &Editor::sceneEdited, this, forget);
    connect(&editor_, &Editor::selectionChanged, this, forget);
    connect(&editor_, &Editor::toolChanged, this, forget);
}

const ops::Mover* AtRest::mover() const {
    if (!known_) {
        known_ = true;
        auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
        mover_ = mover ? std::optional(std::move(*mover)) : std::nullopt;
        box_.reset();
        if (mover_ && editor_.tools().tool == Tool::Fit)
            box_ = mover_->ownBox(editor_.scene(), editor_.session().library());
    }
    return mover_ ? &*mover_ : nullptr;
}

const std::optional<base::Affine>& AtRest::box() const {
    (void)mover();
    return box_;
}

}  // namespace app
