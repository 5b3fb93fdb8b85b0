#include "app/panels/difference_text.h"

#include <QCoreApplication>
#include <algorithm>

#include "app/kit/parts.h"
#include "base/text.h"
#include "ops/keep.h"
#include "ops/move.h"

namespace app {
namespace {

QString say(const char* text) {
    return QCoreApplication::translate("Differences", text);
}

}  // namespace

QStringList differencesOf(const edit::Session& session, const model::Scene& scene, model::Slot slot) {
    QStringList lines;
    const model::Slot around = scene.instanceAround(slot);
    if (around == model::kNoSlot) return lines;
    const model::PrefabLink& link = *scene.detail(around)->prefab;
    const base::ObjectId inner = base::innerOf(scene.id(around), scene.id(slot));
    for (const ops::DifferenceEntry& entry : ops::differences(session, link)) {
        if (entry.inner != inner) continue;
        const ops::DifferenceLine line = ops::lineOf(session, link, entry);
        lines << (entry.what == ops::DifferenceEntry::What::Added
                      ? say("Added here: the definition does not hold it")
                      : say("%1: %2 in the definition").arg(toQt(line.what), toQt(line.before)));
    }
    return lines;
}

bool differs(const model::Scene& scene, model::Slot slot) {
    const model::Slot around = scene.instanceAround(slot);
    if (around == model::kNoSlot) return false;
    const model::PrefabLink& link = *scene.detail(around)->prefab;
    if (link.plain()) return false;
    const base::ObjectId inner = base::innerOf(scene.id(around), scene.id(slot));
    return std::any_of(link.changed.begin(), link.changed.end(), [&](const auto& d) { return d.value.id == inner; }) ||
           std::any_of(link.added.begin(), link.added.end(), [&](const auto& r) { return r.id == inner; });
}

}  // namespace app
