#include "hand/receiver.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "hand/names.h"
#include "hand/write.h"
#include "model/facets/act.h"
#include "model/facets/solid.h"
#include "model/value_reader.h"
#include "query/object_filter.h"

namespace hand {
namespace {

using check::Report;
using check::Rule;
using check::Subject;
using model::ValueReader;

std::vector<std::string> textsIn(const ValueReader& read, const char* key) {
    std::vector<std::string> texts;
    const Value* value = model::valueOf(read.map, key);
    if (value == nullptr) return texts;
    const auto* list = std::get_if<ValueList>(&value->data);
    if (list == nullptr) return read.say(key, "is no list."), texts;
    for (const Value& one : *list)
        if (const auto* text = std::get_if<std::string>(&one.data); text != nullptr && !text->empty())
            texts.push_back(*text);
        else
            read.say(key, "holds something that is no text.");
    return texts;
}

/// Calls it with the object under a key.
template <class Take>
void inside(const ValueReader& read, const char* key, const Take& take) {
    const Value* value = model::valueOf(read.map, key);
    if (value == nullptr) return;
    const auto* map = std::get_if<ValueMap>(&value->data);
    if (map == nullptr) return read.say(key, "is no object.");
    std::vector<std::string> own;
    take(ValueReader{*map, own});
    for (const std::string& problem : own) read.problems.push_back(std::string(key) + "." + problem);
}

void refuseOthers(const ValueReader& read, std::span<const std::string_view> known) {
    for (const auto& [key, value] : read.rest(known)) read.say(key, "is nothing that stands here.");
}

Given givenFrom(const ValueMap& map, std::vector<std::string>& problems) {
    Given given;
    const ValueReader read{map, problems};
    read.text("recipe", given.recipe);
    read.text("file", given.file);
    inside(read, "gltf", [&](const ValueReader& options) {
        options.flag("hidden", given.gltf.hidden);
        options.flag("absent", given.gltf.absent);
        options.flag("instances", given.gltf.instances);
        options.flag("states", given.gltf.states);
        options.flag("extras", given.gltf.extras);
        options.flag("imagesBeside", given.gltf.imagesBeside);
        constexpr std::array<std::string_view, 6> known = {"hidden", "absent", "instances",
                                                           "states", "extras", "imagesBeside"};
        refuseOthers(options, known);
    });
    if (given.recipe.empty() && model::valueOf(map, "gltf") == nullptr)
        read.say("gives", "one of them names neither a recipe nor gltf.");
    if (given.recipe.empty() && given.file.empty()) given.file = "{scene}.glb";
    constexpr std::array<std::string_view, 3> known = {"recipe", "gltf", "file"};
    refuseOthers(read, known);
    return given;
}

void readLimits(const ValueReader& read, Limits& limits) {
    const auto whole = [&](const char* key, std::optional<std::int64_t>& out) {
        if (model::valueOf(read.map, key) == nullptr) return;
        double number = 0;
        read.number(key, 0, 1e15, number);
        out = static_cast<std::int64_t>(number);
    };
    whole("objects", limits.objects);
    whole("nameLength", limits.nameLength);
    whole("fileBytes", limits.fileBytes);
    base::Vec2 size(0.0);
    if (read.vector("size", 0, 1e9, size)) limits.size = {size.x, size.y};
    read.text("nameLetters", limits.nameLetters);
    limits.items = textsIn(read, "items");
    limits.cannot = textsIn(read, "cannot");
    read.flag("uprightOnly", limits.uprightOnly);
    read.flag("uniformSize", limits.uniformSize);
    read.flag("uniqueNames", limits.uniqueNames);
    for (const std::string& facet : limits.cannot)
        if (model::facetType(facet) == nullptr) read.say("cannot", "“" + facet + "” is no facet.");
    constexpr std::array<std::string_view, 10> known = {"objects",     "nameLength", "fileBytes", "size",
                                                        "nameLetters", "items",      "cannot",    "uprightOnly",
                                                        "uniformSize", "uniqueNames"};
    refuseOthers(read, known);
}

/// "a-z0-9_": is every character of the name among them?
bool fitsLetters(std::string_view name, std::string_view letters) {
    return std::all_of(name.begin(), name.end(), [&](char c) {
        for (std::size_t i = 0; i < letters.size(); ++i) {
            const bool range = i + 2 < letters.size() && letters[i + 1] == '-';
            if (range ? c >= letters[i] && c <= letters[i + 2] : c == letters[i]) return true;
            if (range) i += 2;
        }
        return false;
    });
}

/// What a receiver is given of a scene, by the filters of its recipes; with glTF: all.
class Takes {
  public:
    Takes(const model::Library& library, const Receiver& receiver) {
        for (const Given& given : receiver.gives) {
            std::vector<std::string> ignored;
            const auto recipe = given.recipe.empty() ? std::nullopt : recipeNamed(library, given.recipe, ignored);
            if (given.recipe.empty()) all_ = true;
            if (recipe && recipe->entries == Recipe::Per::Object) filters_.emplace_back(recipe->objects);
        }
    }
    bool operator()(const model::Scene& scene, Slot s) const {
        if (scene.facet<model::Act>(s) != nullptr) return false;
        return all_ || std::any_of(filters_.begin(), filters_.end(), [&](const query::ObjectFilter& filter) {
                   return filter.empty() || filter.fits(scene, s);
               });
    }

  private:
    std::vector<query::ObjectFilter> filters_;
    bool all_ = false;
};

/// Who is told what is wrong with an object (zero: with the scene); `part` tells two of one sort apart.
using Say = std::function<void(ObjectId object, std::string message, std::string part)>;
using Ask = void (*)(const Limits&, const model::Scene&, Slot, const Say&);

std::string quoted(const model::Scene& scene, Slot slot) {
    return fmt::format("“{}”", scene.nameText(slot));
}

void askSize(const Limits& limits, const model::Scene& scene, Slot slot, const Say& say) {
    const base::Vec3 size = glm::abs(base::toTransform(scene.world(slot)).scale);
    const double least = std::min({size.x, size.y, size.z}), most = std::max({size.x, size.y, size.z});
    constexpr double kSame = 1e-6;
    if (limits.size && (least < limits.size->first - kSame || most > limits.size->second + kSame))
        say(scene.id(slot),
            fmt::format("{} has size {:.3g} to {:.3g}; from {:g} to {:g} is taken.", quoted(scene, slot), least, most,
                        limits.size->first, limits.size->second),
            "range");
    if (limits.uniformSize && most - least > kSame * most)
        say(scene.id(slot),
            fmt::format("{} is sized {:.3g} to {:.3g}; one size for all directions is taken.", quoted(scene, slot),
                        least, most),
            "uniform");
}

void askName(const Limits& limits, const model::Scene& scene, Slot slot, const Say& say) {
    const std::string_view name = scene.nameText(slot);
    if (limits.nameLength && static_cast<std::int64_t>(name.size()) > *limits.nameLength)
        say(scene.id(slot),
            fmt::format("{} has {} letters; {} are taken.", quoted(scene, slot), name.size(), *limits.nameLength),
            "length");
    if (!limits.nameLetters.empty() && !fitsLetters(name, limits.nameLetters))
        say(scene.id(slot),
            fmt::format("{} has letters that are not taken; these are: {}", quoted(scene, slot), limits.nameLetters),
            "letters");
}

void askItem(const Limits& limits, const model::Scene& scene, Slot slot, const Say& say) {
    const std::string_view item = scene.facet<model::Solid>(slot) != nullptr ? "" : scene.itemText(slot);
    if (!item.empty() && std::ranges::find(limits.items, item) == limits.items.end())
        say(scene.id(slot), fmt::format("{} is of the item “{}”, which is not known there.", quoted(scene, slot), item),
            {});
}

void askTurn(const Limits&, const model::Scene& scene, Slot slot, const Say& say) {
    const base::Vec3 up = glm::normalize(scene.world(slot).linear[1]);
    if (up.y < 1 - 1e-6)
        say(scene.id(slot),
            fmt::format("{} leans by {:.1f}°; only turns about up are taken.", quoted(scene, slot),
                        base::degrees(std::acos(std::clamp(up.y, -1.0, 1.0)))),
            {});
}

void askLost(const Limits& limits, const model::Scene& scene, Slot slot, const Say& say) {
    if (!scene.detail(slot)) return;
    for (const std::string& key : limits.cannot)
        if (const auto* type = model::facetType(key);
            type != nullptr && scene.detail(slot)->facets.find(*type) != nullptr)
            say(scene.id(slot),
                fmt::format("{}: what it has as “{}” cannot be said there.", quoted(scene, slot), type->label), key);
}

/// Of a scene as a whole.
void askCount(const Limits& limits, const Takes& takes, const std::string& who, const model::Scene& scene,
              const Say& say) {
    std::int64_t n = 0;
    std::map<std::string_view, std::pair<std::size_t, ObjectId>> names;
    for (Slot slot = 0; slot < scene.slotEnd(); ++slot) {
        if (!scene.alive(slot) || !takes(scene, slot)) continue;
        ++n;
        auto& [count, first] = names[scene.nameText(slot)];
        if (count++ == 0) first = scene.id(slot);
    }
    if (limits.objects && n > *limits.objects)
        say({}, fmt::format("{} objects would go to {}; {} are taken.", n, who, *limits.objects), "objects");
    if (!limits.uniqueNames) return;
    for (const auto& [name, found] : names)
        if (found.first > 1)
            say(found.second, fmt::format("{} objects are called “{}”; each name is taken once.", found.first, name),
                "names");
}

/// One sort of limit; `asks` null: of the scene as a whole.
struct Sort {
    const char *id, *label, *why;
    check::Severity severity;
    bool (*isSet)(const Limits&);
    Ask ask;
};
constexpr Sort kSorts[] = {
    {"receiver-size", "Size that is not taken",
     "The receiver cannot show such a size: size it otherwise, or it comes out wrong.", check::Severity::Error,
     [](const Limits& l) { return l.size.has_value() || l.uniformSize; }, askSize},
    {"receiver-name", "Name that is not taken", "The receiver cannot hold such a name: rename it.",
     check::Severity::Error, [](const Limits& l) { return l.nameLength.has_value() || !l.nameLetters.empty(); },
     askName},
    {"receiver-item", "Item that is not known",
     "The receiver has no such item: use another, or leave it out by the recipe’s filter.", check::Severity::Error,
     [](const Limits& l) { return !l.items.empty(); }, askItem},
    {"receiver-turn", "Leans, which is not taken", "The receiver turns things about up only: set it upright.",
     check::Severity::Error, [](const Limits& l) { return l.uprightOnly; }, askTurn},
    {"receiver-lost", "Cannot be said there", "The receiver has no word for it: it will not be there.",
     check::Severity::Caution, [](const Limits& l) { return !l.cannot.empty(); }, askLost},
    {"receiver-count", "More than is taken", "The receiver takes so many at most, or each name once.",
     check::Severity::Error, [](const Limits& l) { return l.objects.has_value() || l.uniqueNames; }, nullptr}};

}  // namespace

Receiver receiverFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    Receiver r;
    r.name = r.label = name;
    read.text("label", r.label);
    read.text("help", r.help);
    read.text("folder", r.folder);
    read.each("gives", [&](const ValueMap& one) { r.gives.push_back(givenFrom(one, problems)); });
    if (r.gives.empty()) read.say("gives", "there is nothing; recipes or glTF were expected.");
    inside(read, "limits", [&](const ValueReader& limits) { readLimits(limits, r.limits); });
    read.each("enter", [&](const ValueMap& one) {
        Enter enter;
        const ValueReader own{one, problems};
        constexpr std::array<std::string_view, 4> ways = {"json", "xml", "ini", "text"};
        own.text("file", enter.file);
        own.word("as", ways, enter.as);
        own.text("at", enter.at);
        enter.value = "{file}";
        own.text("value", enter.value);
        if (enter.file.empty())
            own.say("enter", "the file is missing.");
        else
            r.enter.push_back(std::move(enter));
    });
    r.copy = textsIn(read, "copy");
    r.run = textsIn(read, "run");
    constexpr std::array<std::string_view, 10> known = {"label", "help", "folder", "gives",  "limits",
                                                        "enter", "copy", "run",    "format", "version"};
    refuseOthers(read, known);
    return r;
}

std::optional<Recipe> recipeNamed(const model::Library& library, const std::string& name,
                                  std::vector<std::string>& problems) {
    const auto held = library.recipes.find(name);
    if (held == library.recipes.end()) return std::nullopt;
    return recipeFrom(name, held->second, problems);
}

std::optional<Receiver> receiverNamed(const model::Library& library, const std::string& name,
                                      std::vector<std::string>& problems) {
    const auto held = library.receivers.find(name);
    if (held == library.receivers.end()) return std::nullopt;
    return receiverFrom(name, held->second, problems);
}

std::vector<Rule> limitRules(const model::Library& library, const Receiver& receiver) {
    const auto takes = std::make_shared<const Takes>(library, receiver);  // shared by the rules, which outlive this
    const auto limits = std::make_shared<const Limits>(receiver.limits);  // the same
    std::vector<Rule> rules;
    for (const Sort& sort : kSorts) {
        if (!sort.isSet(*limits)) continue;
        Rule& rule = rules.emplace_back();
        rule.id = sort.id;
        rule.group = "Receiver";
        rule.label = sort.label;
        rule.why = sort.why;
        rule.severity = sort.severity;
        rule.looks = sort.ask != nullptr ? Rule::Looks::Own : Rule::Looks::Scene;
        rule.find = [takes, limits, ask = sort.ask, who = receiver.label](const Subject& s, Slot slot, Report& r) {
            const Say say = [&](ObjectId object, std::string message, std::string part) {
                r.add(object, std::move(message)).part = std::move(part);
            };
            if (ask == nullptr)
                askCount(*limits, *takes, who, s.scene, say);
            else if ((*takes)(s.scene, slot))
                ask(*limits, s.scene, slot, say);
        };
    }
    return rules;
}

std::vector<check::Finding> beyondLimits(const model::Scene& scene, const model::Library& library,
                                         const Receiver& receiver) {
    const Takes takes(library, receiver);
    std::vector<check::Finding> findings;
    for (const Sort& sort : kSorts) {
        if (!sort.isSet(receiver.limits)) continue;
        const Say say = [&](ObjectId object, std::string message, std::string part) {
            check::Finding& one = findings.emplace_back();
            one.rule = sort.id;
            one.object = object;
            one.severity = sort.severity;
            one.message = std::move(message);
            one.part = std::move(part);
        };
        if (sort.ask == nullptr) askCount(receiver.limits, takes, receiver.label, scene, say);
        for (Slot slot = 0; sort.ask != nullptr && slot < scene.slotEnd(); ++slot)
            if (scene.alive(slot) && takes(scene, slot)) sort.ask(receiver.limits, scene, slot, say);
    }
    return findings;
}

}  // namespace hand
