#pragma once
// Differences of instances in words and numbers.
#include <QString>

#include "edit/session.h"
#include "ops/prefab.h"

namespace app {

/// Of one object inside an instance: each thing that differs and what the definition says; empty: nothing does.
QStringList differencesOf(const edit::Session& session, const model::Scene& scene, model::Slot slot);
/// Does it differ from its definition, or was it added?
bool differs(const model::Scene& scene, model::Slot slot);

}  // namespace app
