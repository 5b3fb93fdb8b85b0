#pragma once
// Views and selections that are kept with a scene under a name.
#include "app/commands/rows.h"
#include "ops/keep.h"

namespace app {

/// Lists them: goes to one, renames or removes it.
void showKept(Shell& shell, ops::Kept what);
void goToView(Shell& shell, const QString& name);
void takeUpSelection(Shell& shell, const QString& name);

}  // namespace app
