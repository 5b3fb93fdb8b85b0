#pragma once
// What of an editor is remembered from one start to the next, each under a name of its own: one more forgets no other.
#include "app/shell/editor.h"

namespace app {

void rememberSettings(Editor& editor);
/// What was never remembered stays as it is.
void restoreSettings(Editor& editor);

}  // namespace app
