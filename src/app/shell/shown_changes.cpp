#include "app/shell/shown_changes.h"

#include <algorithm>

#include "edit/session.h"
#include "model/facets/outfit.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "ops/outfits.h"

namespace app {
namespace {

using model::Slot;

/// As the scene has it, where it has it.
template <class Facet>
void putBack(model::Detail& detail, const model::DetailPtr& of) {
    detail.put(of ? of->copy<Facet>() : std::optional<Facet>());
}

void wear(edit::LiveCopy& copy, const model::Scene& of, edit::Session& session, Slot slot, const std::string& outfit) {
    model::ObjectRecord record = copy.scene().record(slot);
    if (!outfit.empty()) {
        if (!ops::dressRecord(session, record, outfit)) return;  // its kind has none of that name: told by a check
        return copy.dress(slot, record.detail, record.item);
    }
    model::Detail detail = record.detail ? *record.detail : model::Detail{};
    putBack<model::Wears>(detail, of.detail(slot));
    putBack<model::Surfaces>(detail, of.detail(slot));
    putBack<model::Tint>(detail, of.detail(slot));
    copy.dress(slot, std::make_shared<const model::Detail>(std::move(detail)), of.item(slot));
}

void lay(edit::LiveCopy& copy, const model::Scene& of, edit::Session& session, Slot slot, const std::string& part,
         const std::string& surface) {
    const base::Name shown = copy.scene().item(slot);
    const model::Item* item = session.library().item(shown);
    model::Detail detail = copy.scene().detail(slot) ? *copy.scene().detail(slot) : model::Detail{};
    model::Surfaces now = detail.copy<model::Surfaces>().value_or(model::Surfaces{});
    const auto* first = of.detail(slot) ? of.detail(slot)->get<model::Surfaces>() : nullptr;
    for (const std::string& name : item != nullptr ? item->slots : std::vector<std::string>{}) {
        if (!part.empty() && part != name) continue;
        std::erase_if(now.slots, [&](const model::SlotSurface& s) { return s.slot == name; });
        if (!surface.empty()) {
            now.slots.emplace_back().slot = name;
            now.slots.back().surface = surface;
        } else if (first != nullptr) {
            const auto was = std::ranges::find(first->slots, name, &model::SlotSurface::slot);
            if (was != first->slots.end()) now.slots.push_back(*was);
        }
    }
    detail.put(now.slots.empty() ? std::nullopt : std::optional(std::move(now)));
    copy.dress(slot, std::make_shared<const model::Detail>(std::move(detail)), shown);
}

}  // namespace

bool ShownChanges::show(edit::LiveCopy& copy, const model::Scene& of, edit::Session& session,
                        const rehearse::Trace& trace, int step) {
    using Of = rehearse::Change::Of;
    bool guise = false;
    if (count_ > 0 && (count_ > trace.changes.size() || trace.changes[count_ - 1].step > step)) {
        copy.undress(of);
        guise = true;
        count_ = 0;
    }
    for (; count_ < trace.changes.size() && trace.changes[count_].step <= step; ++count_) {
        const rehearse::Change& change = trace.changes[count_];
        const auto* look = std::get_if<std::string>(&change.value.data);
        if (change.of == Of::Guise) {
            copy.setGuise(look != nullptr && !look->empty() ? *look : of.settings().guise);
            guise = true;
            continue;
        }
        const Slot slot = of.find(change.object);
        if (slot == model::kNoSlot) continue;  // of a run from before it was deleted
        if (change.of == Of::Property)
            copy.setProperty(slot, change.name, change.value);
        else if (change.of == Of::Outfit)
            wear(copy, of, session, slot, look != nullptr ? *look : "");
        else
            lay(copy, of, session, slot, change.name, look != nullptr ? *look : "");
    }
    return guise;
}

}  // namespace app
