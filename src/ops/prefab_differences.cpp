// What differs in instances: listed, taken back, given to the definition.
#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

#include "base/text.h"
#include "ops/names.h"
#include "ops/prefab_parts.h"

namespace ops {

namespace {

std::vector<std::string> propertiesOf(const model::Difference& d) {
    if (!d.parts.has(model::part::kProperties)) return {};
    std::vector<std::string> keys = d.goneProperties;
    if (d.value.detail)
        for (const auto& [key, value] : d.value.detail->properties) keys.push_back(key);
    return keys;
}

std::string numbersText(const base::Vec3& v, int decimals) {
    return fmt::format("{}, {}, {}", base::fixed(v.x, decimals), base::fixed(v.y, decimals),
                       base::fixed(v.z, decimals));
}

/// In the words of the switches in Properties, which say how it usually is.
std::string switchesText(std::uint8_t flags) {
    constexpr std::pair<std::uint8_t, std::string_view> kWords[] = {
        {model::flags::kHidden, "hidden"},       {model::flags::kProtected, "protected"},
        {model::flags::kWhole, "taken as one"},  {model::flags::kUnseen, "not seen in play"},
        {model::flags::kUntouched, "not solid"}, {model::flags::kAbsent, "not there at the start"}};
    std::vector<std::string_view> on;
    for (const auto& [bit, words] : kWords)
        if ((flags & bit) != 0) on.push_back(words);
    return on.empty() ? "none" : fmt::format("{}", fmt::join(on, ", "));
}

std::string propertyText(const model::Detail& detail, const std::string& key) {
    const model::Value* value = model::valueOf(detail.properties, key);
    if (value == nullptr) return "none";
    if (const auto* list = std::get_if<model::ValueList>(&value->data)) return fmt::format("{} entries", list->size());
    if (const auto* map = std::get_if<model::ValueMap>(&value->data)) return fmt::format("{} members", map->size());
    return model::valueText({}, *value);
}

}  // namespace

std::string DifferenceEntry::key() const {
    if (what != What::Changed) return what == What::Added ? "added" : "removed";
    if (facet != nullptr) return facet->key;
    if (!property.empty()) return "properties." + property;
    for (const model::part::Words& one : model::part::kWords)
        if (one.bit == part) return one.key;
    return {};
}

std::string DifferenceEntry::label() const {
    if (facet != nullptr) return facet->label;
    if (!property.empty()) return property;
    for (const model::part::Words& one : model::part::kWords)
        if (one.bit == part) return one.label;
    return {};
}

std::string partText(const model::ObjectRecord& r, const DifferenceEntry& entry, const base::NameTable& names) {
    static const model::Detail none;
    const model::Detail& detail = r.detail ? *r.detail : none;
    if (entry.facet != nullptr) {
        const void* facet = detail.facets.find(*entry.facet);
        return facet != nullptr ? model::facetText(*entry.facet, facet) : "none";
    }
    switch (entry.part) {
        case model::part::kPosition: return numbersText(r.local.position, 2);
        case model::part::kRotation: return numbersText(base::toDegrees(r.local.rotation), 1) + "°";
        case model::part::kSize: return numbersText(r.local.scale, 2);
        case model::part::kName: return std::string(names.text(r.name));
        case model::part::kKind: return std::string(names.text(r.kind));
        case model::part::kItem: return std::string(names.text(r.item));
        case model::part::kFlags: return switchesText(r.flags);
        case model::part::kPlace: return r.parent ? base::toText(r.parent) : "directly inside";
        default: return propertyText(detail, entry.property);
    }
}

DifferenceLine lineOf(const edit::Session& session, const model::PrefabLink& link, const DifferenceEntry& entry) {
    using What = DifferenceEntry::What;
    DifferenceLine line;
    const auto was = model::unchanged(link, session.definitions(), entry.inner);
    const base::NameTable& names = session.names();
    line.object = was ? std::string(names.text(was->name)) : base::toText(entry.inner);
    if (entry.what == What::Added) {
        line.what = "added";
        line.now = line.object;
    } else if (entry.what == What::Removed) {
        line.what = "removed";
        line.before = line.object;
    } else {
        line.what = entry.label();
        const auto place = std::find_if(link.changed.begin(), link.changed.end(),
                                        [&](const auto& d) { return d.value.id == entry.inner; });
        if (was) line.before = partText(*was, entry, names);
        if (place != link.changed.end()) line.now = partText(place->value, entry, names);
    }
    if (entry.gone) line.before = "gone from the definition";
    return line;
}

std::vector<DifferenceEntry> differences(const edit::Session& session, const model::PrefabLink& link) {
    if (link.plain()) return {};
    const auto lost = model::withoutTarget(link, session.definitions());
    const std::unordered_set<ObjectId> gone(lost.begin(), lost.end());
    std::vector<DifferenceEntry> all;
    for (const model::Difference& d : link.changed) {
        DifferenceEntry entry{.what = DifferenceEntry::What::Changed, .inner = d.value.id};
        entry.gone = gone.contains(d.value.id);
        for (const model::part::Words& part : model::part::kWords) {
            if (!d.parts.has(part.bit) || part.bit == model::part::kProperties) continue;
            entry.part = part.bit;
            all.push_back(entry);
        }
        entry.part = 0;
        for (const model::FacetType* facet : model::facetTypes()) {
            if (!d.parts.has(*facet)) continue;
            entry.facet = facet;
            all.push_back(entry);
        }
        entry.facet = nullptr;
        entry.part = model::part::kProperties;
        for (const std::string& key : propertiesOf(d)) {
            entry.property = key;
            all.push_back(entry);
        }
    }
    for (const model::ObjectRecord& r : link.added)
        all.push_back({.what = DifferenceEntry::What::Added, .inner = r.id, .gone = gone.contains(r.id)});
    for (ObjectId id : link.removed)
        all.push_back({.what = DifferenceEntry::What::Removed, .inner = id, .gone = gone.contains(id)});
    return all;
}

namespace {

void forgetEntry(model::PrefabLink& link, const DifferenceEntry& entry) {
    if (entry.what == DifferenceEntry::What::Removed) {
        std::erase(link.removed, entry.inner);
        return;
    }
    if (entry.what == DifferenceEntry::What::Added) {
        std::unordered_set<ObjectId> below{entry.inner};
        for (const model::ObjectRecord& r : link.added)
            if (below.contains(r.parent)) below.insert(r.id);
        std::erase_if(link.added, [&](const auto& r) { return below.contains(r.id); });
        std::erase_if(link.changed, [&](const auto& d) { return below.contains(d.value.id); });
        return;
    }
    auto place = std::find_if(link.changed.begin(), link.changed.end(),
                              [&](const auto& d) { return d.value.id == entry.inner; });
    if (place == link.changed.end()) return;
    model::Difference rest;
    rest.value.id = entry.inner;
    if (!entry.property.empty()) {
        model::Detail detail;
        if (place->value.detail) detail.properties = place->value.detail->properties;
        std::erase_if(detail.properties, [&](const auto& p) { return p.first == entry.property; });
        rest.goneProperties = place->goneProperties;
        std::erase(rest.goneProperties, entry.property);
        if (!detail.properties.empty() || !rest.goneProperties.empty()) rest.parts = model::part::kProperties;
        if (!detail.empty()) rest.value.detail = std::make_shared<const model::Detail>(std::move(detail));
    }
    model::put(link, std::move(rest), entry.parts());
}

Result<const model::PrefabLink*> linkOf(const model::Scene& scene, ObjectId instance) {
    const Slot slot = scene.find(instance);
    if (slot == kNoSlot) return fail(ErrorCode::NotFound, "The instance is gone.");
    if (!scene.isInstance(slot)) return tl::unexpected(noInstance(scene, slot).error());
    return &*scene.detail(slot)->prefab;
}

/// Writes one difference to the definition, where the draft stands.
Status give(edit::Draft& draft, const model::PrefabLink& link, const DifferenceEntry& entry) {
    if (entry.what == DifferenceEntry::What::Removed) return draft.remove({&entry.inner, 1});
    if (entry.what == DifferenceEntry::What::Added) {
        std::vector<model::ObjectRecord> objects;
        std::unordered_set<ObjectId> below{entry.inner};
        for (const model::ObjectRecord& r : link.added) {
            if (r.id != entry.inner && !below.contains(r.parent)) continue;
            below.insert(r.id);
            objects.push_back(r);
        }
        return draft.create(objects);
    }
    auto place = std::find_if(link.changed.begin(), link.changed.end(),
                              [&](const auto& d) { return d.value.id == entry.inner; });
    if (place == link.changed.end()) return {};
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(entry.inner);
    if (slot == kNoSlot)
        return fail(ErrorCode::Refused, "What the definition does not hold any more cannot be changed there.");
    model::Difference one = *place;
    one.parts = entry.parts();
    if (!entry.property.empty()) {
        model::Detail only;
        if (place->value.detail)
            for (const auto& p : place->value.detail->properties)
                if (p.first == entry.property) only.properties.push_back(p);
        std::erase_if(one.goneProperties, [&](const std::string& key) { return key != entry.property; });
        one.value.detail = std::make_shared<const model::Detail>(std::move(only));
    }
    model::ObjectRecord now = scene.record(slot);
    model::apply(one, now);
    namespace part = model::part;
    const std::span<const ObjectId> id(&entry.inner, 1);
    if ((entry.part & part::kPose) != 0) return draft.setTransforms(id, {&now.local, 1});
    if (entry.part == part::kName) return draft.setLabels(model::LabelField::Name, id, {&now.name, 1});
    if (entry.part == part::kKind) return draft.setLabels(model::LabelField::Kind, id, {&now.kind, 1});
    if (entry.part == part::kItem) return draft.setLabels(model::LabelField::Item, id, {&now.item, 1});
    if (entry.part == part::kFlags) return draft.setFlags(id, {&now.flags, 1});
    if (entry.part == part::kPlace) {
        const model::TreePlace there{now.parent, scene.find(now.before) != kNoSlot ? now.before : ObjectId{}};
        return draft.moveInTree(id, {&there, 1});
    }
    return draft.setDetails(id, {&now.detail, 1});
}

}  // namespace

Status takeBack(edit::Draft& draft, ObjectId instance, std::span<const DifferenceEntry> entries) {
    if (!draft.state()) return draft.state();
    auto held = linkOf(draft.scene(), instance);
    if (!held) return tl::unexpected(held.error());
    if (Status free = refuseProtected(draft.scene(), {&instance, 1}, "changed"); !free) return free;
    model::PrefabLink link = **held;
    for (const DifferenceEntry& entry : entries) forgetEntry(link, entry);
    return setLink(draft, instance, std::move(link));
}

Status giveToDefinition(edit::Draft& draft, ObjectId instance, std::span<const DifferenceEntry> entries) {
    if (!draft.state()) return draft.state();
    auto held = linkOf(draft.scene(), instance);
    if (!held) return tl::unexpected(held.error());
    for (const DifferenceEntry& entry : entries)
        if (entry.gone)
            return fail(ErrorCode::Refused, "What the definition does not hold any more cannot be changed there.");
    const model::PrefabLink link = **held;
    model::PrefabLink rest = link;
    for (const DifferenceEntry& entry : entries) forgetEntry(rest, entry);
    // The instance lets go first: an object that it added would otherwise stand twice.
    if (Status done = setLink(draft, instance, std::move(rest)); !done) return done;
    return inDefinition(draft, link.of, [&]() -> Status {
        for (const DifferenceEntry& entry : entries)
            if (Status given = give(draft, link, entry); !given) return given;
        return {};
    });
}

}  // namespace ops
