#include "ops/outfits.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "model/facets/outfit.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "ops/kinds.h"
#include "ops/names.h"
#include "ops/schema_form.h"

namespace ops {

using model::Kind;
using model::Outfit;
using model::Value;

namespace {

/// A change of dress: from what was worn (it may be nothing) to what is.
struct Change {
    const Outfit& was;
    const Outfit& is;
    bool all;  ///< everything that `is` says counts; else only where the object was as `was` said
};

/// What an outfit says of a property, or the kind's default.
Value saidOf(const Outfit& outfit, const model::Property& property) {
    const Value* value = model::valueOf(outfit.values, property.name);
    if (value == nullptr) return model::defaultOf(property);
    return model::fitted(property, *value).value_or(model::defaultOf(property));
}

std::set<std::string> keysOf(const Change& c) {
    std::set<std::string> keys;
    for (const Outfit* outfit : {&c.was, &c.is})
        for (const auto& [key, value] : outfit->values) keys.insert(key);
    return keys;
}

bool changeValues(const Kind& kind, const Change& c, ValueMap& values) {
    bool any = false;
    for (const std::string& key : keysOf(c)) {
        const model::Property* property = kind.property(key);
        if (property == nullptr) continue;
        Value room;
        const Value now = *model::valueOr(*property, values, room), before = saidOf(c.was, *property),
                    after = saidOf(c.is, *property);
        const bool said = model::valueOf(c.is.values, key) != nullptr;
        if (now == after || !(now == before || (c.all && said))) continue;
        any = true;
        if (after == model::defaultOf(*property))
            model::eraseValue(values, key);
        else
            model::setValue(values, key, after);
    }
    return any;
}

std::string surfaceOf(const Outfit& outfit, const std::string& slot) {
    const auto place = outfit.surfaces.find(slot);
    return place == outfit.surfaces.end() ? std::string() : place->second;
}

bool changeSurfaces(const Change& c, model::Detail& detail) {
    model::Surfaces now = detail.copy<model::Surfaces>().value_or(model::Surfaces{});
    const model::Surfaces before = now;
    std::set<std::string> slots;
    for (const Outfit* outfit : {&c.was, &c.is})
        for (const auto& [slot, surface] : outfit->surfaces) slots.insert(slot);
    for (const std::string& name : slots) {
        auto place = std::find_if(now.slots.begin(), now.slots.end(), [&](const auto& s) { return s.slot == name; });
        const std::string shown = place == now.slots.end() ? std::string() : place->surface;
        const std::string after = surfaceOf(c.is, name);
        const bool follows = shown == surfaceOf(c.was, name) || (c.all && c.is.surfaces.contains(name));
        if (shown == after || !follows) continue;
        if (place == now.slots.end()) {
            place = now.slots.insert(now.slots.end(), model::SlotSurface{});
            place->slot = name;
        }
        place->surface = after;
    }
    std::erase_if(now.slots, [](const model::SlotSurface& s) {
        return s.surface.empty() && !s.tint && s.image.empty() && s.unknown.empty();
    });
    if (now == before) return false;
    detail.put(now.slots.empty() ? std::nullopt : std::optional(std::move(now)));
    return true;
}

bool changeTint(const Change& c, model::Detail& detail) {
    const model::Tint* held = detail.get<model::Tint>();
    const std::optional<base::Vec3> now = held != nullptr ? std::optional(held->colour) : std::nullopt;
    if (now == c.is.tint || !(now == c.was.tint || (c.all && c.is.tint))) return false;
    detail.put(c.is.tint ? std::optional(model::Tint{*c.is.tint}) : std::nullopt);
    return true;
}

/// The item an object shows after the change; nothing: the one it has.
std::optional<base::Name> changedItem(edit::Session& session, const Change& c, base::Name now) {
    if (c.is.item.empty()) return std::nullopt;
    const bool follows = c.all || c.was.item.empty() || session.names().text(now) == c.was.item;
    const base::Name other = session.intern(c.is.item);
    const model::Item* item = session.library().item(other);
    if (!follows || other == now || item == nullptr || item->bounds.empty() || item->prefab) return std::nullopt;
    return other;
}

/// The detail of an object after the change; the same pointer: nothing of it changes.
model::DetailPtr changedDetail(const Kind& kind, const Change& c, const model::DetailPtr& before) {
    model::Detail detail = before ? *before : model::Detail{};
    bool any = changeValues(kind, c, detail.properties);
    any = changeSurfaces(c, detail) || any;
    any = (kind.tints && changeTint(c, detail)) || any;
    const model::Wears* worn = detail.get<model::Wears>();
    if ((worn != nullptr ? worn->outfit : std::string()) != c.is.name) {
        detail.put(c.is.name.empty() ? std::nullopt : std::optional(model::Wears{c.is.name}));
        any = true;
    }
    if (!any) return before;
    return detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail));
}

/// Dresses objects of one kind anew; gives how many changed.
Result<std::size_t> dress(edit::Draft& draft, const Kind& kind, const Change& c, std::span<const ObjectId> ids) {
    edit::Session& session = draft.session();
    Ids changed, otherItem;
    std::vector<model::DetailPtr> details;
    std::vector<base::Name> items;
    for (const ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return tl::unexpected(on.error());
        const Slot s = draft.scene().find(id);
        model::DetailPtr after = changedDetail(kind, c, draft.scene().detail(s));
        if (const auto item = changedItem(session, c, draft.scene().item(s)); item && draft.scene().item(s)) {
            otherItem.push_back(id);
            items.push_back(*item);
        }
        if (after == draft.scene().detail(s)) continue;
        changed.push_back(id);
        details.push_back(std::move(after));
    }
    if (!changed.empty())
        if (Status done = draft.setDetails(changed, details); !done) return tl::unexpected(done.error());
    if (!otherItem.empty())
        if (Status done = draft.setLabels(model::LabelField::Item, otherItem, items); !done)
            return tl::unexpected(done.error());
    return std::max(changed.size(), otherItem.size());
}

Status noOutfit(const std::string& kind, const std::string& name) {
    return fail(ErrorCode::NotFound, fmt::format("The kind {} has no outfit “{}”.", kind, name));
}

Status usable(const edit::Session& session, const Kind& kind, const Outfit& outfit) {
    if (outfit.name.empty() || outfit.name.size() > 100)
        return fail(ErrorCode::BadInput, "An outfit’s name is not empty and at most 100 bytes long.");
    for (const auto& [key, value] : outfit.values) {
        const model::Property* property = kind.property(key);
        if (property == nullptr)
            return fail(ErrorCode::NotFound, fmt::format("The kind {} has no property “{}”.", kind.name, key));
        if (auto fits = model::fitted(*property, value); !fits) return tl::unexpected(fits.error());
    }
    for (const auto& [slot, surface] : outfit.surfaces)
        if (!session.library().surfaces().contains(surface))
            return fail(ErrorCode::NotFound, fmt::format("There is no surface “{}”.", surface));
    const auto& items = session.library().items();
    const auto isIt = [&](const model::Item& item) { return item.name == outfit.item && !item.bounds.empty(); };
    if (!outfit.item.empty() && std::none_of(items.begin(), items.end(), isIt))
        return fail(ErrorCode::NotFound, fmt::format("There is no item “{}” with a model.", outfit.item));
    return {};
}

/// By kind, heirs too: what the outfit of that name is.
std::map<std::string, Outfit> outfitsNamed(const model::Library& library, const std::string& name) {
    std::map<std::string, Outfit> all;
    for (const Kind& kind : library.kinds())
        if (const Outfit* outfit = kind.outfit(name)) all[kind.name] = *outfit;
    return all;
}

/// What wears `name` in the document turned to, by kind.
std::map<std::string, Ids> wearers(const model::Scene& scene, const std::string& name) {
    std::map<std::string, Ids> all;
    for (Slot s : scene.ownSubtree(kNoSlot))
        if (const auto* worn = scene.facet<model::Wears>(s); worn != nullptr && worn->outfit == name)
            all[std::string(scene.kindText(s))].push_back(scene.id(s));
    return all;
}

/// Every wearer in the project goes from what the outfit was to what it is.
Result<std::size_t> followAll(edit::Draft& draft, const std::string& name,
                              const std::map<std::string, Outfit>& before) {
    edit::Session& session = draft.session();
    const std::string here = draft.scene().name();
    const std::map<std::string, Outfit> after = outfitsNamed(session.library(), name);
    std::size_t followed = 0;
    std::vector<std::string> documents;
    for (const auto& [prefab, scene] : session.definitions()) documents.push_back(scene->name());
    for (const std::string& scene : session.project().sceneNames) documents.push_back(scene);
    for (const std::string& document : documents) {
        if (Status turned = draft.turnTo(document); !turned) return tl::unexpected(turned.error());
        for (const auto& [kind, ids] : wearers(draft.scene(), name)) {
            const Kind* known = session.library().kindNamed(kind);
            const auto was = before.find(kind), is = after.find(kind);
            if (known == nullptr || (was == before.end() && is == after.end())) continue;
            // One that goes leaves what wore it as it is.
            const Outfit none;
            const Outfit& from = is == after.end() ? none : was == before.end() ? none : was->second;
            const Outfit& to = is == after.end() ? none : is->second;
            const Kind bare = *known;
            auto done = dress(draft, bare, {from, to, false}, ids);
            if (!done) return done;
            followed += *done;
        }
    }
    if (Status back = draft.turnTo(here); !back) return tl::unexpected(back.error());
    return followed;
}

}  // namespace

const Outfit* wornOutfit(const model::Library& library, const model::Scene& scene, Slot slot) {
    const auto* worn = scene.facet<model::Wears>(slot);
    const Kind* kind = library.kind(scene.kind(slot));
    return worn != nullptr && kind != nullptr ? kind->outfit(worn->outfit) : nullptr;
}

Status wear(edit::Draft& draft, std::span<const ObjectId> ids, std::string outfit) {
    if (!draft.state()) return draft.state();
    if (Status free = refuseProtected(draft.scene(), ids, "dressed"); !free) return free;
    const model::Library& library = draft.session().library();
    std::map<std::pair<std::string, std::string>, Ids> byDress;  // kind, and what was worn
    for (const ObjectId id : ids) {
        const Slot s = draft.scene().find(id);
        const Kind* kind = library.kind(draft.scene().kind(s));
        if (!outfit.empty() && (kind == nullptr || kind->outfit(outfit) == nullptr))
            return kind == nullptr ? fail(ErrorCode::NotFound, fmt::format("“{}” is of no kind that has outfits.",
                                                                           draft.scene().nameText(s)))
                                   : noOutfit(kind->name, outfit);
        const auto* worn = draft.scene().facet<model::Wears>(s);
        if (kind != nullptr) byDress[{kind->name, worn != nullptr ? worn->outfit : ""}].push_back(id);
    }
    const Outfit none;
    for (const auto& [key, some] : byDress) {
        const Kind kind = *library.kindNamed(key.first);
        const Outfit* was = kind.outfit(key.second);
        const Outfit* is = kind.outfit(outfit);
        const Change change{was != nullptr && is != nullptr ? *was : none, is != nullptr ? *is : none, true};
        if (auto done = dress(draft, kind, change, some); !done) return tl::unexpected(done.error());
    }
    return {};
}

Status dressRecord(edit::Session& session, model::ObjectRecord& record, const std::string& outfit) {
    const Kind* kind = session.library().kind(record.kind);
    const Outfit* is = kind != nullptr ? kind->outfit(outfit) : nullptr;
    if (is == nullptr) return noOutfit(std::string(session.names().text(record.kind)), outfit);
    const Change change{Outfit{}, *is, true};
    record.detail = changedDetail(*kind, change, record.detail);
    if (record.item)
        if (const auto item = changedItem(session, change, record.item)) record.item = *item;
    return {};
}

Outfit outfitOf(const edit::Session& session, const model::Scene& scene, Slot slot, std::string name, bool withItem) {
    Outfit outfit;
    outfit.name = std::move(name);
    const Kind* kind = session.library().kind(scene.kind(slot));
    if (const auto& detail = scene.detail(slot)) {
        for (const auto& [key, value] : detail->properties)
            if (const model::Property* p = kind != nullptr ? kind->property(key) : nullptr;
                p != nullptr && !model::linksObject(p->type) && model::fitted(*p, value) &&
                !model::hasObjectLink(ValueMap{{key, value}}))
                outfit.values.emplace_back(key, value);
        if (const auto* surfaces = detail->get<model::Surfaces>())
            for (const model::SlotSurface& slotSurface : surfaces->slots)
                if (!slotSurface.surface.empty()) outfit.surfaces[slotSurface.slot] = slotSurface.surface;
        if (const auto* tint = detail->get<model::Tint>()) outfit.tint = tint->colour;
    }
    const model::Item* item = session.library().item(scene.item(slot));
    if (withItem && item != nullptr && !item->isSolid) outfit.item = item->name;
    return outfit;
}

Result<std::size_t> putOutfit(edit::Draft& draft, std::string kind, const Outfit& outfit) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    edit::Session& session = draft.session();
    const Kind* known = session.library().kindNamed(kind);
    if (known == nullptr) return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", kind));
    if (Status fine = usable(session, *known, outfit); !fine) return tl::unexpected(fine.error());
    const auto before = outfitsNamed(session.library(), outfit.name);
    std::vector<ValueMap> all = listOf(known->own, "outfits");
    const auto place = std::find_if(all.begin(), all.end(),
                                    [&](const ValueMap& o) { return model::textOf(o, "name") == outfit.name; });
    if (place != all.end())
        *place = model::toValues(outfit);
    else
        all.push_back(model::toValues(outfit));
    if (auto set = setKind(draft, kind, withList(known->own, "outfits", all)); !set) return tl::unexpected(set.error());
    return followAll(draft, outfit.name, before);
}

Status removeOutfit(edit::Draft& draft, std::string kind, std::string name) {
    if (!draft.state()) return draft.state();
    edit::Session& session = draft.session();
    const Kind* known = session.library().kindNamed(kind);
    if (known == nullptr || known->outfit(name) == nullptr) return noOutfit(kind, name);
    std::vector<ValueMap> all = listOf(known->own, "outfits");
    const auto before = outfitsNamed(session.library(), name);
    if (std::erase_if(all, [&](const ValueMap& o) { return model::textOf(o, "name") == name; }) == 0)
        return fail(ErrorCode::Refused, fmt::format("The kind {} inherits “{}” from {}, where it is removed.", kind,
                                                    name, known->inherits));
    if (auto set = setKind(draft, kind, withList(known->own, "outfits", all)); !set) return tl::unexpected(set.error());
    auto followed = followAll(draft, name, before);
    return followed ? Status{} : Status(tl::unexpected(followed.error()));
}

std::vector<std::string> outfitDifferences(const edit::Session& session, const model::Scene& scene, Slot slot) {
    std::vector<std::string> all;
    const Outfit* worn = wornOutfit(session.library(), scene, slot);
    if (worn == nullptr) return all;
    const Kind& kind = *session.library().kind(scene.kind(slot));
    const model::DetailPtr& detail = scene.detail(slot);
    for (const auto& [key, value] : worn->values)
        if (const model::Property* p = kind.property(key)) {
            Value room;
            if (!(*model::valueOr(*p, detail->properties, room) == saidOf(*worn, *p))) all.push_back(p->label);
        }
    const auto* surfaces = detail->get<model::Surfaces>();
    for (const auto& [name, surface] : worn->surfaces) {
        const auto shown = [&](const model::SlotSurface& s) { return s.slot == name && s.surface == surface; };
        if (surfaces == nullptr || std::none_of(surfaces->slots.begin(), surfaces->slots.end(), shown))
            all.push_back("surface " + name);
    }
    if (!worn->item.empty() && scene.itemText(slot) != worn->item) all.emplace_back("item");
    const auto* tint = detail->get<model::Tint>();
    if (worn->tint && (tint == nullptr || tint->colour != *worn->tint)) all.emplace_back("tint");
    return all;
}

}  // namespace ops
