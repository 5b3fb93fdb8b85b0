#pragma once
// What is kept with a scene under a name: views to go back to, selections to take up again.
#include "edit/draft.h"

namespace ops {

enum class Kept { Views, Selections };

/// Keeps it; one of the same name is replaced. Errors: BadInput for a name that cannot be one.
base::Status keepView(edit::Draft& draft, model::Bookmark view);
base::Status keepSelection(edit::Draft& draft, model::SavedSelection selection);
/// Errors: NotFound; BadInput for a name that cannot be one or that another has.
base::Status renameKept(edit::Draft& draft, Kept what, std::string_view name, std::string_view to);
base::Status dropKept(edit::Draft& draft, Kept what, std::string_view name);
/// Where the scene is looked at from when it is opened.
base::Status setFirstView(edit::Draft& draft, const base::Vec3& from, const base::Vec3& to);

}  // namespace ops
