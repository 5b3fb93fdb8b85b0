#include "query/looks.h"

#include <fmt/format.h>

#include <algorithm>

namespace query {
namespace {

std::array<float, 3> toFloats(const base::Vec3& v) {
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

model::SlotSurface& slotNamed(std::vector<model::SlotSurface>& slots, const std::string& name) {
    const auto held = std::ranges::find(slots, name, &model::SlotSurface::slot);
    if (held != slots.end()) return *held;
    slots.emplace_back().slot = name;
    return slots.back();
}

}  // namespace

std::string itemInGuise(const model::Guise& guise, const model::Scene& scene, model::Slot slot, model::Appearance& is,
                        const std::function<bool(const std::string& item)>& has) {
    if (const auto tint = guise.tints.find(scene.kindText(slot)); tint != guise.tints.end() && !is.tint)
        is.tint = tint->second;
    const std::string shown = is.item.empty() ? std::string(scene.itemText(slot)) : is.item;
    const auto other = guise.items.find(shown);
    return other != guise.items.end() && has(other->second) ? other->second : shown;
}

std::vector<model::SlotSurface> surfacesOf(const model::Scene& scene, model::Slot slot,
                                           const std::vector<std::string>& names, const model::Appearance& is,
                                           const model::Guise* guise) {
    const auto* own = scene.facet<model::Surfaces>(slot);
    std::vector<model::SlotSurface> slots = own != nullptr ? own->slots : std::vector<model::SlotSurface>{};
    for (const std::string& name : !is.surface.empty() || !is.image.empty() ? names : std::vector<std::string>{}) {
        model::SlotSurface& shows = slotNamed(slots, name);
        if (!is.surface.empty()) {
            shows.surface = is.surface;
            shows.image.clear();
        }
        if (!is.image.empty()) shows.image = is.image;
    }
    if (guise == nullptr) return slots;
    for (model::SlotSurface& shows : slots)
        if (const auto other = guise->surfaces.find(shows.surface); other != guise->surfaces.end())
            shows.surface = other->second;
    for (const std::string& name : names) {
        const auto other = guise->surfaces.find(name);
        if (other == guise->surfaces.end() || std::ranges::find(slots, name, &model::SlotSurface::slot) != slots.end())
            continue;
        slotNamed(slots, name).surface = other->second;
    }
    return slots;
}

std::vector<SlotShow> slotShows(const model::Library& library, const std::vector<std::string>& names,
                                const std::vector<model::SlotSurface>& slots) {
    std::vector<SlotShow> shows;
    for (const model::SlotSurface& slot : slots) {
        const auto place = std::ranges::find(names, slot.slot);
        if (place == names.end()) continue;
        SlotShow show;
        show.look.slot = static_cast<std::size_t>(place - names.begin());
        show.surface = slot.surface;
        show.image = slot.image;
        show.fit = slot.fit;
        if (const auto known = library.surfaces().find(slot.surface); known != library.surfaces().end()) {
            const model::Surface& surface = known->second;
            show.look.colour = toFloats(surface.colour);
            show.look.gloss = static_cast<float>(1 - surface.roughness);
            show.look.emission = static_cast<float>(surface.emission);
            show.look.tileMetres = surface.sizeMetres;
            if (show.image.empty()) show.image = surface.image;
            if (show.image.empty()) show.look.image.emplace();
        } else {
            show.missing = !slot.surface.empty();
        }
        if (slot.tint) show.look.tint = toFloats(*slot.tint);
        show.look.stretched = slot.fit != model::ImageFit::Tile && !slot.image.empty();
        shows.push_back(std::move(show));
    }
    return shows;
}

std::string keyOf(const std::vector<SlotShow>& shows, const base::Vec3& size) {
    std::string key;
    for (const SlotShow& show : shows) {
        const shape::SlotLook& look = show.look;
        key += fmt::format(
            "|{} {} {} {} {} {},{},{} {} {} {} {}", look.slot, show.surface, show.missing ? "" : show.image,
            show.missing,
            look.colour ? fmt::format("{},{},{}", (*look.colour)[0], (*look.colour)[1], (*look.colour)[2]) : "",
            look.tint[0], look.tint[1], look.tint[2], look.gloss, look.emission, static_cast<int>(show.fit),
            show.wantsImage() ? fmt::format("{} {} {} {}", look.tileMetres, size.x, size.y, size.z) : "");
    }
    return key;
}

}  // namespace query
