#include "app/panels/difference_text.h"

#include <QCoreApplication>
#include <algorithm>

#include "app/look/parts.h"
#include "base/text.h"
#include "model/facet_values.h"
#include "ops/keep.h"
#include "ops/move.h"

namespace app {
namespace {

namespace part = model::part;

QString say(const char* text) {
    return QCoreApplication::translate("Differences", text);
}

QString numbers(const base::Vec3& v, int decimals = 2) {
    QStringList all;
    for (int i = 0; i < 3; ++i) all << toQt(base::fixed(v[i], decimals));
    return all.join(", ");
}

QString valueText(const model::Value& value) {
    struct Visitor {
        QString operator()(bool b) const { return b ? say("yes") : say("no"); }
        QString operator()(std::int64_t i) const { return QString::number(i); }
        QString operator()(double d) const { return QString::number(d); }
        QString operator()(const std::string& s) const { return toQt(s); }
        QString operator()(const model::ValueList& list) const { return say("%1 entries").arg(list.size()); }
        QString operator()(const model::ValueMap& map) const { return say("%1 members").arg(map.size()); }
    };
    return std::visit(Visitor{}, value.data);
}

/// A facet's members in their order: "fixed, box".
QString valuesText(const model::ValueMap& members) {
    QStringList all;
    for (const auto& [key, value] : members) {
        const auto* list = std::get_if<model::ValueList>(&value.data);
        QStringList parts;
        for (const model::Value& one : list != nullptr ? *list : model::ValueList{}) parts << valueText(one);
        all << (parts.isEmpty() ? valueText(value) : parts.join(" × "));
    }
    return all.join(", ");
}

/// What each slot shows instead of its own: "oak: mossy stone, notice.png".
QString slotsText(const model::Surfaces& surfaces) {
    QStringList all;
    for (const model::SlotSurface& s : surfaces.slots) {
        QStringList shows;
        if (!s.surface.empty()) shows << toQt(s.surface);
        if (s.tint) shows << say("a tint");
        if (!s.image.empty()) shows << toQt(s.image);
        all << toQt(s.slot) + ": " + (shows.isEmpty() ? say("its own") : shows.join(", "));
    }
    return all.isEmpty() ? say("none") : all.join("; ");
}

QString flagsText(std::uint8_t flags) {
    QStringList all;
    if ((flags & model::flags::kHidden) != 0) all << say("hidden");
    if ((flags & model::flags::kProtected) != 0) all << say("protected");
    if ((flags & model::flags::kWhole) != 0) all << say("taken as one");
    return all.isEmpty() ? say("none") : all.join(", ");
}

}  // namespace

QString partName(std::uint32_t which, const std::string& property) {
    if (which == part::kProperties) return toQt(property);
    const auto* one = std::find_if(std::begin(part::kWords), std::end(part::kWords),
                                   [&](const part::Words& words) { return words.bit == which; });
    return one != std::end(part::kWords) ? say(one->label) : QString();
}

QString partText(const model::ObjectRecord& r, std::uint32_t which, const std::string& property,
                 const base::NameTable& names) {
    const model::Detail none;
    const model::Detail& detail = r.detail ? *r.detail : none;
    const QString nothing = say("none");
    switch (which) {
        case part::kPosition: return numbers(r.local.position);
        case part::kRotation: return numbers(base::toDegrees(r.local.rotation), 1) + "°";
        case part::kSize: return numbers(r.local.scale);
        case part::kName: return toQt(names.text(r.name));
        case part::kKind: return toQt(names.text(r.kind));
        case part::kItem: return toQt(names.text(r.item));
        case part::kFlags: return flagsText(r.flags);
        case part::kPlace: return r.parent ? toQt(base::toText(r.parent)) : say("directly inside");
        case part::kLight:
            return detail.light ? say("%1 cd, %2 m").arg(detail.light->intensity).arg(detail.light->reachMetres)
                                : nothing;
        case part::kCamera: return detail.camera ? say("%1°").arg(detail.camera->verticalDegrees) : nothing;
        case part::kNote: return detail.note ? toQt(detail.note->text).simplified().left(60) : nothing;
        case part::kTint: return detail.tint ? numbers(*detail.tint) : nothing;
        case part::kArray: return detail.array ? say("%1 copies").arg(detail.array->counts[0]) : nothing;
        case part::kSolid: return detail.solid ? numbers(detail.solid->size) + " m" : nothing;
        case part::kBody: return detail.body ? valuesText(model::toValues(*detail.body)) : nothing;
        case part::kPoints:
            return detail.points ? counted(detail.points->points.size(), say("point"), say("points")) : nothing;
        case part::kZone: return detail.zone ? valuesText(model::toValues(*detail.zone)) : nothing;
        case part::kSurfaces: return detail.surfaces ? slotsText(*detail.surfaces) : nothing;
        default: break;
    }
    for (const auto& [key, value] : detail.properties)
        if (key == property) return valueText(value);
    return nothing;
}

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
        line.what = partName(entry.part, entry.property);
        const auto place = std::find_if(link.changed.begin(), link.changed.end(),
                                        [&](const auto& d) { return d.value.id == entry.inner; });
        if (was) line.before = partText(*was, entry.part, entry.property, names);
        if (place != link.changed.end()) line.now = partText(place->value, entry.part, entry.property, names);
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
