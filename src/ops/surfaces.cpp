#include "ops/surfaces.h"

#include "model/facets/surfaces.h"
#include "ops/entries.h"
#include "ops/names.h"

#include <fmt/format.h>

#include <algorithm>

namespace ops {

using model::SlotSurface;

namespace {

const std::string kDocument(model::data::kSurfaces);

bool isPlain(const SlotSurface& s) {
    return s.surface.empty() && !s.tint && s.image.empty() && s.unknown.empty();
}

const std::vector<std::string>& slotsOf(const edit::Session& session, const model::Scene& scene, Slot s) {
    static const std::vector<std::string> none;
    const model::Item* item = session.library().item(scene.item(s));
    return item != nullptr ? item->slots : none;
}

void put(model::Detail& detail, SlotSurface now) {
    model::Surfaces all = detail.copy<model::Surfaces>().value_or(model::Surfaces{});
    auto place =
        std::find_if(all.slots.begin(), all.slots.end(), [&](const SlotSurface& s) { return s.slot == now.slot; });
    if (place != all.slots.end())
        *place = std::move(now);
    else
        all.slots.push_back(std::move(now));
    std::erase_if(all.slots, isPlain);
    detail.put(all.slots.empty() ? std::nullopt : std::optional(std::move(all)));
}

}  // namespace

Status putSurface(edit::Draft& draft, const model::Surface& surface) {
    if (!draft.state()) return draft.state();
    if (surface.name.empty() || surface.name.size() > 100 || surface.label.empty() || surface.label.size() > 200)
        return fail(ErrorCode::BadInput, "A surface’s name is not empty and at most 100 bytes long.");
    std::vector<std::string> problems;
    model::surfaceFrom(surface.name, model::toValues(surface), problems);
    if (!problems.empty()) return fail(ErrorCode::BadInput, surface.label + ": " + problems.front());
    return putEntry(draft, kDocument, surface.name, model::toValues(surface));
}

Status removeSurface(edit::Draft& draft, std::string name) {
    if (!draft.state()) return draft.state();
    if (!draft.session().library().surfaces().contains(name))
        return fail(ErrorCode::NotFound, fmt::format("There is no surface “{}”.", name));
    return putEntry(draft, kDocument, name, std::nullopt);
}

bool takesImage(const model::Kind* kind, std::string_view slot) {
    if (kind == nullptr) return true;
    if (!kind->takesImages) return false;
    return kind->imageSlots.empty() ||
           std::find(kind->imageSlots.begin(), kind->imageSlots.end(), slot) != kind->imageSlots.end();
}

SlotSurface slotOf(const model::Scene& scene, Slot object, const std::string& slot) {
    const auto& detail = scene.detail(object);
    if (detail && detail->get<model::Surfaces>())
        for (const SlotSurface& s : detail->get<model::Surfaces>()->slots)
            if (s.slot == slot) return s;
    SlotSurface plain;
    plain.slot = slot;
    return plain;
}

Status setSlot(edit::Draft& draft, std::span<const ObjectId> ids, std::string slot,
               const std::function<void(SlotSurface&)>& change) {
    return changeDetails(draft, ids, [&](Slot s, model::Detail& detail) -> Status {
        const model::Scene& scene = draft.scene();
        const model::Library& library = draft.session().library();
        const auto& slots = slotsOf(draft.session(), scene, s);
        if (std::find(slots.begin(), slots.end(), slot) == slots.end())
            return fail(ErrorCode::NotFound, fmt::format("“{}” has no surface “{}”.", scene.nameText(s), slot));
        const SlotSurface before = slotOf(scene, s, slot);
        SlotSurface now = before;
        change(now);
        const model::Kind* kind = library.kind(scene.kind(s));
        if (!now.surface.empty() && now.surface != before.surface && !library.surfaces().contains(now.surface))
            return fail(ErrorCode::NotFound, fmt::format("There is no surface “{}”.", now.surface));
        if (now.tint && now.tint != before.tint && !takesTint(draft.session(), scene, s))
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” is of the kind {}, which is not tinted.", scene.nameText(s), kind->name));
        if (!now.image.empty() && now.image != before.image && !takesImage(kind, slot))
            return fail(ErrorCode::Refused, fmt::format("“{}” is of the kind {}, which takes no image on “{}”.",
                                                        scene.nameText(s), kind->name, slot));
        put(detail, std::move(now));
        return {};
    });
}

Status clearSlot(edit::Draft& draft, std::span<const ObjectId> ids, std::string slot) {
    return changeDetails(draft, ids, [&](Slot, model::Detail& detail) -> Status {
        SlotSurface plain;
        plain.slot = slot;
        put(detail, std::move(plain));
        return {};
    });
}

model::Surfaces mappedSurfaces(const model::Surfaces& given, const std::vector<std::string>& from,
                               const std::vector<std::string>& to) {
    auto has = [](const std::vector<std::string>& all, const std::string& slot) {
        return std::find(all.begin(), all.end(), slot) != all.end();
    };
    std::vector<std::string> left;
    for (const std::string& slot : to)
        if (!has(from, slot)) left.push_back(slot);
    model::Surfaces mapped;
    std::size_t next = 0;
    for (SlotSurface one : given.slots) {
        if (!has(to, one.slot)) {
            if (next >= left.size()) continue;
            one.slot = left[next++];
        }
        mapped.slots.push_back(std::move(one));
    }
    return mapped;
}

Status copySurfaces(edit::Draft& draft, ObjectId from, std::span<const ObjectId> to) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    const Slot source = scene.find(from);
    if (source == kNoSlot) return fail(ErrorCode::NotFound, "What to copy the surfaces from is gone.");
    const model::Surfaces given =
        scene.facet<model::Surfaces>(source) ? *scene.facet<model::Surfaces>(source) : model::Surfaces{};
    const std::vector<std::string> sourceSlots = slotsOf(draft.session(), scene, source);
    return changeDetails(draft, to, [&](Slot s, model::Detail& detail) -> Status {
        const model::Kind* kind = draft.session().library().kind(scene.kind(s));
        detail.drop<model::Surfaces>();
        for (SlotSurface one : mappedSurfaces(given, sourceSlots, slotsOf(draft.session(), scene, s)).slots) {
            if (!takesTint(draft.session(), scene, s)) one.tint.reset();
            if (!takesImage(kind, one.slot)) one.image.clear();
            put(detail, std::move(one));
        }
        return {};
    });
}

Ids showing(const model::Scene& scene, std::string_view surface) {
    Ids ids;
    for (Slot s : scene.subtree(kNoSlot)) {
        const auto& detail = scene.detail(s);
        if (!detail || !detail->get<model::Surfaces>()) continue;
        const auto& slots = detail->get<model::Surfaces>()->slots;
        if (std::any_of(slots.begin(), slots.end(),
                        [&](const SlotSurface& one) { return one.surface == surface || one.image == surface; }))
            ids.push_back(scene.id(s));
    }
    return ids;
}

}  // namespace ops
