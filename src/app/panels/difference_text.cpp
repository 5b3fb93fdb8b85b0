#include "app/panels/difference_text.h"

#include <QCoreApplication>
#include <algorithm>

#include "app/look/parts.h"
#include "base/text.h"
#include "model/facets/array.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "model/facets/zone.h"
#include "ops/keep.h"
#include "ops/move.h"

namespace app {
namespace {

QString say(const char* text) {
    return QCoreApplication::translate("Differences", text);
}

}  // namespace

DifferenceLine lineOf(const edit::Session& session, const model::PrefabLink& link, const ops::DifferenceEntry& entry) {
    DifferenceLine line;
    const auto was = model::unchanged(link, session.definitions(), entry.inner);
    const base::NameTable& names = session.names();
    line.object = was ? toQt(names.text(was->name)) : toQt(base::toText(entry.inner));
    using What = ops::DifferenceEntry::What;
    if (entry.what == What::Added) {
        line.what = say("added");
        line.now = line.object;
    } else if (entry.what == What::Removed) {
        line.what = say("removed");
        line.before = line.object;
    } else {
        line.what = toQt(entry.label());
        const auto place = std::find_if(link.changed.begin(), link.changed.end(),
                                        [&](const auto& d) { return d.value.id == entry.inner; });
        if (was) line.before = toQt(ops::partText(*was, entry, names));
        if (place != link.changed.end()) line.now = toQt(ops::partText(place->value, entry, names));
    }
    if (entry.gone) line.before = say("gone from the definition");
    return line;
}

QStringList differencesOf(const edit::Session& session, const model::Scene& scene, model::Slot slot) {
    QStringList lines;
    const model::Slot around = scene.instanceAround(slot);
    if (around == model::kNoSlot) return lines;
    const model::PrefabLink& link = *scene.detail(around)->prefab;
    const base::ObjectId inner = base::innerOf(scene.id(around), scene.id(slot));
    for (const ops::DifferenceEntry& entry : ops::differences(session, link)) {
        if (entry.inner != inner) continue;
        const DifferenceLine line = lineOf(session, link, entry);
        lines << (entry.what == ops::DifferenceEntry::What::Added
                      ? say("Added here: the definition does not hold it")
                      : say("%1: %2 in the definition").arg(line.what, line.before));
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
