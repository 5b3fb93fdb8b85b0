// What objects say of themselves: kinds, properties, links, items, surfaces, media, instances.
#include <fmt/format.h>

#include <algorithm>

#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "model/facets/surfaces.h"
#include "ops/group.h"
#include "ops/objects.h"
#include "ops/prefab.h"
#include "ops/properties.h"

namespace check {

using model::PropertyType;
using model::Value;

namespace {

void missingItem(const Subject& s, Slot slot, Report& r) {
    if (!s.scene.item(slot)) return;
    const model::Item* item = s.facts.library.item(s.scene.item(slot));
    if (item == nullptr)
        r.add(s.scene.id(slot),
              fmt::format("{} shows the item “{}”, which is not there.", named(s, slot), s.scene.itemText(slot)));
    else if (!item->problem.empty())
        r.add(s.scene.id(slot), fmt::format("The model of {} cannot be read: {}", named(s, slot), item->problem));
}

void missingKind(const Subject& s, Slot slot, Report& r) {
    if (s.scene.kind(slot) && s.facts.library.kind(s.scene.kind(slot)) == nullptr)
        r.add(s.scene.id(slot),
              fmt::format("{} is of the kind “{}”, which is not there.", named(s, slot), s.scene.kindText(slot)));
}

void missingPrefab(const Subject& s, Slot slot, Report& r) {
    if (!s.scene.isInstance(slot) || s.scene.instanceAround(slot) != kNoSlot) return;
    if (!s.facts.definitions.contains(s.scene.detail(slot)->prefab->of))
        r.add(s.scene.id(slot), fmt::format("{} is an instance of a prefab that is not there.", named(s, slot)));
}

void missingMedia(const Subject& s, Slot slot, Report& r) {
    const model::DetailPtr& detail = s.scene.detail(slot);
    if (!detail) return;
    auto missing = [&](const std::string& file, const std::string& what) {
        if (file.empty() || s.facts.media.all().contains(file)) return;
        r.add(s.scene.id(slot),
              fmt::format("{}: {} is the file media/{}, which is not there.", named(s, slot), what, file))
            .part = file;
    };
    if (detail->get<model::Surfaces>())
        for (const model::SlotSurface& shown : detail->get<model::Surfaces>()->slots) {
            missing(shown.image, fmt::format("the image of its slot “{}”", shown.slot));
            const auto known = s.facts.library.surfaces().find(shown.surface);
            if (!shown.surface.empty() && known == s.facts.library.surfaces().end())
                r.add(s.scene.id(slot), fmt::format("{}: its slot “{}” shows the surface “{}”, which is not there.",
                                                    named(s, slot), shown.slot, shown.surface))
                    .part = shown.slot;
            else if (!shown.surface.empty())
                missing(known->second.image, fmt::format("the image of the surface “{}”", shown.surface));
        }
    if (const model::Kind* kind = s.facts.library.kind(s.scene.kind(slot)))
        for (const model::Property& p : kind->properties)
            if (const Value* v = model::valueOf(detail->properties, p.name);
                v != nullptr && p.type == PropertyType::Media)
                if (const auto* file = std::get_if<std::string>(&v->data)) missing(*file, p.label);
}

/// Each property of an object that its kind has, with what the object itself says of it; null: nothing.
template <class Each>
void eachProperty(const Subject& s, Slot slot, const Each& each) {
    const model::Kind* kind = s.facts.library.kind(s.scene.kind(slot));
    if (kind == nullptr) return;
    static const model::ValueMap none;
    const model::ValueMap& values = s.scene.detail(slot) ? s.scene.detail(slot)->properties : none;
    for (const model::Property& p : kind->properties) each(p, model::valueOf(values, p.name), values);
}

void outOfRange(const Subject& s, Slot slot, Report& r) {
    eachProperty(s, slot, [&](const model::Property& p, const Value* value, const model::ValueMap&) {
        if (value == nullptr) return;
        if (auto fine = model::fitted(p, *value); !fine)
            r.add(s.scene.id(slot), fmt::format("{}: {}", named(s, slot), fine.error().message)).part = p.name;
    });
    const model::Kind* kind = s.facts.library.kind(s.scene.kind(slot));
    if (kind == nullptr || !s.scene.detail(slot)) return;
    for (const auto& [key, value] : s.scene.detail(slot)->properties) {
        if (kind->property(key) != nullptr) continue;
        Finding& f =
            r.add(s.scene.id(slot), fmt::format("{}: the kind {} knows no property “{}”; its value is kept aside.",
                                                named(s, slot), kind->name, key));
        f.part = key;
        f.severity = std::min(f.severity, Severity::Caution);
    }
}
Status resetIt(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::resetProperty(draft, {&f.object, 1}, f.part);
}

bool isEmpty(const Value& value) {
    if (const auto* t = std::get_if<std::string>(&value.data)) return t->empty();
    if (const auto* l = std::get_if<model::ValueList>(&value.data)) return l->empty();
    return false;
}
void emptyRequired(const Subject& s, Slot slot, Report& r) {
    eachProperty(s, slot, [&](const model::Property& p, const Value* value, const model::ValueMap& values) {
        if (!p.required) return;
        if (!p.shownIf.empty())
            if (const auto shown = model::parseCondition(p.shownIf);
                shown && !model::holds(*shown, model::valueOf(values, shown->property)))
                return;
        const bool links = model::linksObject(p.type) || p.type == PropertyType::Record;
        const bool missing = value == nullptr ? !p.fallback.has_value() || isEmpty(*p.fallback)
                             : links          ? !model::objectIn(*value) && !model::recordIn(*value)
                                              : isEmpty(*value);
        if (missing)
            r.add(s.scene.id(slot), fmt::format("{}: “{}” has to be filled in.", named(s, slot), p.label)).part =
                p.name;
    });
}

/// Visits each link of a value, single or in a list.
template <class Each>
void eachLink(const model::Property& p, const Value& value, const Each& each) {
    if (const auto* list = std::get_if<model::ValueList>(&value.data); list != nullptr && !p.element.empty()) {
        for (const Value& one : *list) each(p.element[0], one);
    } else {
        each(p, value);
    }
}
void brokenLink(const Subject& s, Slot slot, Report& r) {
    eachProperty(s, slot, [&](const model::Property& p, const Value* value, const model::ValueMap&) {
        if (value == nullptr) return;
        eachLink(p, *value, [&](const model::Property&, const Value& one) {
            const ObjectId to = model::objectIn(one);
            if (to) r.lookedAt(to);
            if (!to || s.scene.find(to) != kNoSlot) return;
            r.add(s.scene.id(slot),
                  fmt::format("{}: “{}” leads to an object that is not there.", named(s, slot), p.label))
                .part = p.name;
        });
    });
}
void missingRecord(const Subject& s, Slot slot, Report& r) {
    eachProperty(s, slot, [&](const model::Property& p, const Value* value, const model::ValueMap&) {
        if (value == nullptr) return;
        eachLink(p, *value, [&](const model::Property&, const Value& one) {
            const ObjectId to = model::recordIn(one);
            if (!to || s.facts.library.record(to) != nullptr) return;
            r.add(s.scene.id(slot),
                  fmt::format("{}: “{}” leads to a record that is not there.", named(s, slot), p.label))
                .part = p.name;
        });
    });
}
void wrongLink(const Subject& s, Slot slot, Report& r) {
    eachProperty(s, slot, [&](const model::Property& p, const Value* value, const model::ValueMap&) {
        if (value == nullptr) return;
        eachLink(p, *value, [&](const model::Property& link, const Value& one) {
            if (model::objectIn(one)) r.lookedAt(model::objectIn(one));
            const Slot to = s.scene.find(model::objectIn(one));
            if (to == kNoSlot || ops::mayLinkTo(s.scene, link, to)) return;
            Finding& f =
                r.add(s.scene.id(slot), fmt::format("{}: “{}” leads to {}, which is of a kind it may not lead to.",
                                                    named(s, slot), p.label, named(s, to)));
            f.part = p.name;
            f.other = s.scene.id(to);
            f.marks = {{model::Mark::Shape::Arrow,
                        s.scene.world(slot).translation,
                        s.scene.world(to).translation,
                        0,
                        {},
                        {},
                        {}}};
        });
    });
}

void emptyGroup(const Subject& s, Slot slot, Report& r) {
    if (s.scene.firstChild(slot) != kNoSlot || s.scene.item(slot) || s.scene.detail(slot) || s.scene.kind(slot)) return;
    r.add(s.scene.id(slot), fmt::format("The group {} holds nothing.", named(s, slot)));
}
Status removeIt(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::remove(draft, {&f.object, 1});
}

void strayDifference(const Subject& s, Slot slot, Report& r) {
    if (!s.scene.isInstance(slot) || s.scene.instanceAround(slot) != kNoSlot) return;
    const model::PrefabLink& link = *s.scene.detail(slot)->prefab;
    if (!s.facts.definitions.contains(link.of)) return;
    const std::size_t stray = model::withoutTarget(link, s.facts.definitionMap()).size();
    if (stray > 0)
        r.add(s.scene.id(slot),
              fmt::format("{} says how {} things differ that its prefab has no more.", named(s, slot), stray));
}
Status takeBackStray(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    if (slot == kNoSlot || !draft.scene().isInstance(slot)) return {};
    std::vector<ops::DifferenceEntry> gone;
    for (const ops::DifferenceEntry& entry : ops::differences(draft.session(), *draft.scene().detail(slot)->prefab))
        if (entry.gone) gone.push_back(entry);
    return ops::takeBack(draft, f.object, gone);
}

void namePattern(const Subject& s, Slot slot, Report& r) {
    if (!r.fits("where", s.scene, slot)) return;
    const std::string pattern = r.text("pattern");
    if (base::matchesWildcard(pattern, s.scene.nameText(slot), base::Letters::AsWritten)) return;
    r.add(s.scene.id(slot), fmt::format("The name {} is not like “{}”.", named(s, slot), pattern));
}

void itemFolder(const Subject& s, Slot slot, Report& r) {
    const std::string allowed = r.text("folders");
    const model::Item* item = s.facts.library.item(s.scene.item(slot));
    if (allowed.empty() || item == nullptr || item->isSolid) return;
    const auto folders = listed(allowed, ',');
    if (std::find(folders.begin(), folders.end(), item->folder) != folders.end()) return;
    r.add(s.scene.id(slot),
          fmt::format("{} is of the folder “{}”, which this project does not use.", named(s, slot), item->folder));
}

}  // namespace

std::vector<Rule> meaningRules() {
    const std::string group = "Meaning";
    using Looks = Rule::Looks;
    std::vector<Rule> rules;
    rules.push_back({"missing-item",
                     group,
                     "Item missing",
                     "It is not seen in play, and nobody bumps into it.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     missingItem,
                     {},
                     {}});
    rules.push_back({"missing-kind",
                     group,
                     "Kind missing",
                     "The game does not know what it is.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     missingKind,
                     {},
                     {}});
    rules.push_back({"missing-prefab",
                     group,
                     "Prefab missing",
                     "Nothing of it is there in play.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     missingPrefab,
                     {},
                     {}});
    rules.push_back({"missing-image",
                     group,
                     "Image or surface missing",
                     "A checkered face is seen instead.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     missingMedia,
                     {},
                     {}});
    rules.push_back({"missing-record",
                     group,
                     "Record missing",
                     "What it should know of it is nowhere.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     missingRecord,
                     "Back to the default",
                     resetIt});
    rules.push_back({"broken-link",
                     group,
                     "Link leads nowhere",
                     "What it should set off does not happen.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     brokenLink,
                     "Back to the default",
                     resetIt});
    rules.push_back({"wrong-link",
                     group,
                     "Link to the wrong kind",
                     "What it leads to cannot do what is asked.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     wrongLink,
                     "Back to the default",
                     resetIt});
    rules.push_back({"out-of-range",
                     group,
                     "Property out of its range, or unknown",
                     "The game expects a value within the range, of a property that the kind has.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     outOfRange,
                     "Back to the default",
                     resetIt});
    rules.push_back({"required",
                     group,
                     "Required property empty",
                     "Without it the thing does nothing.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     emptyRequired,
                     {},
                     {}});
    rules.push_back({"empty-group",
                     group,
                     "Empty group",
                     "It does nothing, and is in the way in the Roster.",
                     Severity::Hint,
                     {},
                     Looks::Own,
                     emptyGroup,
                     "Remove it",
                     removeIt});
    rules.push_back({"stray-difference",
                     group,
                     "Difference without a target",
                     "The prefab was changed: what the instance says of it has no effect any more.",
                     Severity::Caution,
                     {},
                     Looks::Own,
                     strayDifference,
                     "Forget it",
                     takeBackStray});
    rules.push_back({"name-pattern",
                     group,
                     "Name against the pattern",
                     "Whoever looks for it by its name does not find it.",
                     Severity::Hint,
                     {words("where", "Which", "As the Roster takes filters; empty: the rule rests"),
                      words("pattern", "Pattern", "* any letters, ? one", "*")},
                     Looks::Own,
                     namePattern,
                     {},
                     {}});
    rules.push_back({"item-folder",
                     group,
                     "Item from another folder",
                     "The project keeps to the items of these folders.",
                     Severity::Caution,
                     {words("folders", "Allowed folders", "Of the Stock, several after commas; empty: any")},
                     Looks::Own,
                     itemFolder,
                     {},
                     {}});
    return rules;
}

}  // namespace check
