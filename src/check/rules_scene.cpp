// Scenes and projects as a whole: what must exist, names, budgets, images, what was left hidden.
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>
#include <unordered_map>
#include <unordered_set>

#include "base/text.h"
#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/units.h"
#include "model/facets/light.h"
#include "model/facets/surfaces.h"
#include "ops/objects.h"

namespace check {

namespace {

/// Calls it with every object there is.
template <class Each>
void eachObject(const model::Scene& scene, const Each& each) {
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s)) each(s);
}

/// Where the player begins there must be room to stand, and a floor.
void badStart(const Subject& s, Slot slot, Report& r) {
    const base::Vec3 feet = s.scene.world(slot).translation, up(0, s.facts.project.walker.eyeHeight / 2, 0);
    const Slot unit = unitOf(s.scene, slot);
    if (const Slot around = closedAround(s.scene, s.index.solid(), feet + up, unit); around != kNoSlot) {
        Finding& f = r.add(s.scene.id(slot),
                           fmt::format("{} is inside {}: nobody can begin there.", named(s, slot), named(s, around)));
        f.other = s.scene.id(around);
        return;
    }
    constexpr double kHighest = 0.5;  // metres above the floor
    const auto floor = s.index.solid().pick(s.scene, {feet + base::Vec3(0, 0.2, 0), {0, -1, 0}},
                                            [&](Slot other) { return !s.scene.isWithin(other, unit); });
    if (floor && floor->distance <= kHighest + 0.2) return;
    r.add(s.scene.id(slot), floor ? fmt::format("{} is {} above the floor: the player begins in the air.",
                                                named(s, slot), metres(floor->distance - 0.2))
                                  : fmt::format("Nothing is below {}: the player begins in the air.", named(s, slot)));
}

void requiredKinds(const Subject& s, Slot, Report& r) {
    std::unordered_map<base::Name, std::size_t> counts;
    eachObject(s.scene, [&](Slot slot) { ++counts[s.scene.kind(slot)]; });
    std::unordered_set<base::Name> starts;
    const std::string said = r.text("starts"), startKinds = said.empty() ? s.facts.project.walker.starts : said;
    for (const auto& [kind, n] : counts)
        if (model::beginsAt(startKinds, s.scene.names().text(kind))) starts.insert(kind);
    if (!starts.empty())
        eachObject(s.scene, [&](Slot slot) {
            if (starts.contains(s.scene.kind(slot))) badStart(s, slot, r);
        });
    std::map<std::string_view, std::size_t> byName;
    for (const auto& [kind, n] : counts) byName[s.scene.names().text(kind)] = n;
    for (const model::Kind& kind : s.facts.library.kinds()) {
        const auto place = byName.find(kind.name);
        const std::size_t n = place == byName.end() ? 0 : place->second;
        if (kind.needed == model::Needed::Any) continue;
        if (n == 0)
            r.add({}, fmt::format("There is no “{}”; every scene needs one.", kind.name)).part = kind.name;
        else if (n > 1 && kind.needed == model::Needed::ExactlyOne)
            r.add({}, fmt::format("There are {} of “{}”; there may be only one.", n, kind.name)).part = kind.name;
    }
}

void sameNames(const Subject& s, Slot, Report& r) {
    if (r.text("where").empty()) return;
    std::unordered_map<base::Name, std::vector<base::ObjectId>> byName;
    eachObject(s.scene, [&](Slot slot) {
        if (r.fits("where", s.scene, slot)) byName[s.scene.nameOf(slot)].push_back(s.scene.id(slot));
    });
    for (auto& [name, ids] : byName) {
        if (ids.size() < 2) continue;
        std::sort(ids.begin(), ids.end());
        for (std::size_t i = 1; i < ids.size(); ++i) {
            Finding& f =
                r.add(ids[i], fmt::format("{} objects are called “{}”.", ids.size(), s.scene.names().text(name)));
            f.other = ids[0];
        }
    }
}
Status renameIt(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    if (slot == kNoSlot) return {};
    ops::FreeNames& names = draft.freeNames();
    return ops::rename(draft, f.object, names.next(draft.scene().nameText(slot)));
}

/// Files in media/ that a scene shows, in slots, through surfaces, or by properties.
std::set<std::string> mediaOf(const Subject& s) {
    std::set<std::string> files;
    const auto& surfaces = s.facts.library.surfaces();
    eachObject(s.scene, [&](Slot slot) {
        const auto& detail = s.scene.detail(slot);
        if (!detail) return;
        if (detail->get<model::Surfaces>())
            for (const model::SlotSurface& shown : detail->get<model::Surfaces>()->slots) {
                files.insert(shown.image);
                if (const auto known = surfaces.find(shown.surface); known != surfaces.end())
                    files.insert(known->second.image);
            }
        const model::Kind* kind = s.facts.library.kind(s.scene.kind(slot));
        if (kind == nullptr) return;
        for (const model::Property& p : kind->properties)
            if (p.type == model::PropertyType::Media)
                if (const model::Value* v = model::valueOf(detail->properties, p.name))
                    if (const auto* file = std::get_if<std::string>(&v->data)) files.insert(*file);
    });
    return files;
}

/// What a part of a scene costs.
struct Sum {
    double objects = 0, triangles = 0, cost = 0, lights = 0;
    std::size_t materials = 0;
    std::unordered_set<base::Name> items;
};
/// Adds objects up, looking at each item and kind once.
class Adding {
  public:
    /// Only what there are limits for.
    Adding(const Subject& subject, const Report& limits)
        : s_(subject),
          items_(limits.number("triangles") > 0),
          materials_(limits.number("materials") > 0),
          kinds_(limits.number("cost") > 0) {}
    void add(Sum& sum, Slot slot) {
        sum.objects += 1;
        if (const base::Name item = s_.scene.item(slot); item && (items_ || materials_)) {
            const ItemCost& cost = of(item);
            sum.triangles += cost.triangles;
            if (materials_ && cost.materials > 0 && sum.items.insert(item).second) sum.materials += cost.materials;
        }
        if (kinds_) sum.cost += costOf(s_.scene.kind(slot), s_.scene.item(slot));
        if (s_.scene.facet<model::Light>(slot)) sum.lights += 1;
    }

  private:
    struct ItemCost {
        double triangles = 0;
        std::size_t materials = 0;
    };
    const ItemCost& of(base::Name name) {
        const auto [place, isNew] = ofItem_.try_emplace(name);
        if (!isNew) return place->second;
        if (const model::Item* item = s_.facts.library.item(name))
            place->second = {static_cast<double>(item->triangles),
                             std::set<std::string>(item->slots.begin(), item->slots.end()).size()};
        return place->second;
    }
    double costOf(base::Name kind, base::Name item) {
        const auto [place, isNew] = costs_[kind].try_emplace(item, 0.0);
        if (isNew) place->second = model::costOf(s_.facts.library.kind(kind), s_.facts.library.item(item));
        return place->second;
    }
    const Subject& s_;
    bool items_, materials_, kinds_;
    std::unordered_map<base::Name, ItemCost> ofItem_;
    std::unordered_map<base::Name, std::unordered_map<base::Name, double>> costs_;  // by kind, then item
};
constexpr std::pair<const char*, const char*> kBudgets[] = {{"objects", "objects"},
                                                            {"triangles", "triangles"},
                                                            {"cost", "cost"},
                                                            {"lights", "lights"},
                                                            {"materials", "materials"}};
double partOf(const Sum& sum, std::string_view what) {
    return what == "objects"     ? sum.objects
           : what == "triangles" ? sum.triangles
           : what == "cost"      ? sum.cost
           : what == "lights"    ? sum.lights
                                 : static_cast<double>(sum.materials);
}
std::string whole(double n) {
    return base::fixed(n, n == std::floor(n) ? 0 : 1);
}

void budget(const Subject& s, Slot, Report& r) {
    bool any = r.number("media") > 0;
    for (const auto& [key, label] : kBudgets) any = any || r.number(key) > 0;
    if (!any) return;
    Sum sum;
    Adding adding(s, r);
    eachObject(s.scene, [&](Slot slot) { adding.add(sum, slot); });
    for (const auto& [key, label] : kBudgets) {
        const double most = r.number(key), is = partOf(sum, key);
        if (most > 0 && is > most)
            r.add({}, fmt::format("{} {} in the scene; {} are allowed.", whole(is), label, whole(most))).part = key;
    }
    std::uintmax_t bytes = 0;
    for (const std::string& file : r.number("media") > 0 ? mediaOf(s) : std::set<std::string>())
        if (const auto known = s.facts.media.all().find(file); known != s.facts.media.all().end())
            bytes += known->second.bytes;
    const double mega = static_cast<double>(bytes) / 1e6;
    if (r.number("media") > 0 && mega > r.number("media"))
        r.add({}, fmt::format("{} MB of images and sounds; {} are allowed.", base::fixed(mega, 1),
                              whole(r.number("media"))))
            .part = "media";
}

void areaBudget(const Subject& s, Slot, Report& r) {
    const double size = r.number("size");
    bool any = false;
    for (const auto& [key, label] : kBudgets) any = any || r.number(key) > 0;
    if (!any || size <= 0) return;
    std::map<std::pair<long, long>, Sum> areas;
    Adding adding(s, r);
    Sum* last = nullptr;  // neighbours in the scene's order often share an area
    std::pair<long, long> lastArea;
    eachObject(s.scene, [&](Slot slot) {
        const Vec3 at = s.scene.world(slot).translation;
        const std::pair area(std::lround(std::floor(at.x / size)), std::lround(std::floor(at.z / size)));
        if (last == nullptr || area != lastArea) last = &areas[area];
        lastArea = area;
        adding.add(*last, slot);
    });
    for (const auto& [area, sum] : areas)
        for (const auto& [key, label] : kBudgets) {
            const double most = r.number(key), is = partOf(sum, key);
            if (most <= 0 || is <= most) continue;
            const Vec3 low(static_cast<double>(area.first) * size, 0, static_cast<double>(area.second) * size);
            Finding& f = r.add({}, fmt::format("{} {} in the area from X {} Z {}; {} are allowed.", whole(is), label,
                                               whole(low.x), whole(low.z), whole(most)));
            f.part = fmt::format("{} {} {}", key, area.first, area.second);
            f.marks = {{model::Mark::Shape::Box, low, low + Vec3(size, 4, size), 0, {}, {}, {}}};
        }
}

void images(const Subject& s, Slot, Report& r) {
    const double most = r.number("side");
    for (const std::string& file : mediaOf(s)) {
        const auto known = s.facts.media.all().find(file);
        if (known == s.facts.media.all().end()) continue;  // another rule's
        const MediaFacts& facts = known->second;
        const std::size_t dot = file.rfind('.');
        const std::string ending = dot == std::string::npos ? std::string() : file.substr(dot + 1);
        auto say = [&](std::string message, const char* what) {
            r.add({}, "media/" + file + std::move(message)).part = file + " " + what;
        };
        const std::string formats = r.text("formats");
        const auto taken = listed(formats, ',');
        if (std::find(taken.begin(), taken.end(), ending) == taken.end())
            say(fmt::format(" is of the format “{}”; the game takes {}.", ending, formats), "format");
        if (facts.width == 0) continue;
        if (std::max(facts.width, facts.height) > most)
            say(fmt::format(" is {} × {} pixels; {} at most.", facts.width, facts.height, whole(most)), "size");
        auto isPower = [](int n) { return n > 0 && (n & (n - 1)) == 0; };
        if (r.truth("powers") && (!isPower(facts.width) || !isPower(facts.height)))
            say(fmt::format(" is {} × {} pixels; both are to be powers of two.", facts.width, facts.height), "power");
    }
}

template <std::uint8_t Flag>
void left(const Subject& s, Slot slot, Report& r) {
    if ((s.scene.flagsOf(slot) & Flag) == 0) return;
    r.add(s.scene.id(slot), fmt::format("“{}” is still {}.", s.scene.nameText(slot),
                                        Flag == model::flags::kHidden ? "hidden" : "protected"));
}
template <std::uint8_t Flag>
Status clear(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::setFlag(draft, {&f.object, 1}, Flag, false);
}

void unusedPrefab(const Subject& s, Slot, Report& r) {
    if (!s.facts.knowsUses) return;
    for (const auto& [id, name] : s.facts.prefabNames)
        if (!s.facts.usedPrefabs.contains(id))
            r.add({}, fmt::format("Nothing uses the prefab “{}”.", name)).part = name;
}

}  // namespace

std::vector<Rule> sceneRules() {
    const std::string group = "As a whole";
    using Looks = Rule::Looks;
    auto limits = [](std::vector<model::Property> first) {
        for (const auto& [key, label] : kBudgets) {
            std::string shown = label;
            shown[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(shown[0])));
            first.push_back(amount(key, shown.c_str(), "", 0, 0, 1e12, "0: no limit"));
        }
        return first;
    };
    std::vector<Rule> rules;
    rules.push_back({"required-kinds",
                     group,
                     "Needed kind missing, or too many",
                     "Without a start and a finish the level cannot be played; and where it starts one must stand.",
                     Severity::Error,
                     {words("starts", "Starts",
                            "Kinds where the player begins; * stands for anything, several after commas; empty: as "
                            "the project says of the walker")},
                     Looks::Scene,
                     requiredKinds,
                     {},
                     {}});
    rules.push_back({"same-names",
                     group,
                     "Names that are not unique",
                     "Whoever looks for it by its name finds the wrong one.",
                     Severity::Caution,
                     {words("where", "Among", "As the Roster takes filters; empty: the rule rests")},
                     Looks::Scene,
                     sameNames,
                     "Give it a free name",
                     renameIt});
    rules.push_back({"budget",
                     group,
                     "Over the scene’s budget",
                     "The level becomes slow, or does not fit into memory.",
                     Severity::Error,
                     limits({amount("media", "Media", "MB", 0, 0, 1e9, "0: no limit")}),
                     Looks::Scene,
                     budget,
                     {},
                     {}});
    rules.push_back({"area-budget",
                     group,
                     "Over an area’s budget",
                     "Just there the game becomes slow.",
                     Severity::Caution,
                     limits({amount("size", "Size of an area", "m", 50, 1, 1e5)}),
                     Looks::Scene,
                     areaBudget,
                     {},
                     {}});
    rules.push_back(
        {"images",
         group,
         "Image too large or of the wrong format",
         "It costs memory, or is not shown at all.",
         Severity::Caution,
         {amount("side", "Side up to", "px", 4096, 1, 65536), onOff("powers", "Powers of two", "Both sides", false),
          words("formats", "Formats", "Endings, after commas", "png, jpg, jpeg, wav, ogg, mp3, json, txt, csv")},
         Looks::Scene,
         images,
         {},
         {}});
    rules.push_back({"left-hidden",
                     group,
                     "Left hidden",
                     "Hidden is for editing; in play it is there.",
                     Severity::Hint,
                     {},
                     Looks::Own,
                     left<model::flags::kHidden>,
                     "Show it",
                     clear<model::flags::kHidden>});
    rules.push_back({"left-protected",
                     group,
                     "Left protected",
                     "The next who works on it wonders why it cannot be moved.",
                     Severity::Hint,
                     {},
                     Looks::Own,
                     left<model::flags::kProtected>,
                     "Release it",
                     clear<model::flags::kProtected>});
    rules.push_back({"unused-prefab",
                     group,
                     "Prefab without instances",
                     "It is in the way in the Stock. Known once all scenes were looked at.",
                     Severity::Hint,
                     {},
                     Looks::Scene,
                     unusedPrefab,
                     {},
                     {}});
    return rules;
}

}  // namespace check
