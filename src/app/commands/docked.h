#pragma once
// Windows that stand beside the view: kinds and records.
#include "app/commands/rows.h"

namespace app {

class KindsWindow;

/// They come to the front, and have the keyboard.
KindsWindow& openKinds(Shell& shell);
void openRecords(Shell& shell);

}  // namespace app
