#pragma once
// Differences of instances in words and numbers.
#include <QString>

#include "edit/session.h"
#include "ops/prefab.h"

namespace app {

/// One difference as a line: whose, what, how it is in the definition and how here.
struct DifferenceLine {
    QString object, what, before, now;
};
DifferenceLine lineOf(const edit::Session& session, const model::PrefabLink& link, const ops::DifferenceEntry& entry);

/// Of one object inside an instance: each thing that differs and what the definition says; empty: nothing does.
QStringList differencesOf(const edit::Session& session, const model::Scene& scene, model::Slot slot);
/// Does it differ from its definition, or was it added?
bool differs(const model::Scene& scene, model::Slot slot);

}  // namespace app
