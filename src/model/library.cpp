#include "model/library.h"

#include <array>

#include "model/facet_builder.h"
#include "model/value_reader.h"

namespace model {
namespace {

template <class T>
void put(std::deque<T>& all, std::unordered_map<base::Name, std::size_t>& index, base::Name key, T value) {
    auto [place, isNew] = index.try_emplace(key, all.size());
    if (isNew)
        all.push_back(std::move(value));
    else
        all[place->second] = std::move(value);
}

template <class T>
const T* get(const std::deque<T>& all, const std::unordered_map<base::Name, std::size_t>& index, base::Name key) {
    auto place = index.find(key);
    return place == index.end() ? nullptr : &all[place->second];
}

template <class T>
void drop(std::deque<T>& all, std::unordered_map<base::Name, std::size_t>& index, base::Name key) {
    auto place = index.find(key);
    if (place == index.end()) return;
    const std::size_t at = place->second;
    index.erase(place);
    all.erase(all.begin() + static_cast<std::ptrdiff_t>(at));
    for (auto& [name, other] : index)
        if (other > at) --other;
}

}  // namespace

const Fields& surfaceFields() {
    static const Fields fields = [] {
        FieldsOf<Surface> f;
        f.text("label", "Name", &Surface::label);
        f.colour("colour", "Colour", &Surface::colour);
        f.real("roughness", "Roughness", &Surface::roughness, "", 0, 1).property.help = "0: polished, 1: chalk";
        f.real("emission", "Glow", &Surface::emission, "", 0, 1).property.help =
            "How much of its colour shines by itself, 0 to 1";
        f.text("image", "Image", &Surface::image, PropertyType::Media);
        f.real("size", "Tile", &Surface::sizeMetres, "m", 0.001, 1e4).property.help =
            "How wide one tile of the image is, metres";
        return f.done();
    }();
    return fields;
}

Surface surfaceFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    Surface s;
    s.name = s.label = name;
    read.text("label", s.label);
    read.text("category", s.category);
    std::optional<base::Vec3> colour;
    read.colour("colour", colour);
    if (colour) s.colour = *colour;
    read.number("roughness", 0, 1, s.roughness);
    read.number("emission", 0, 1, s.emission);
    read.text("image", s.image);
    read.number("size", 0.001, 1e4, s.sizeMetres);
    constexpr std::array<std::string_view, 7> known = {"label",    "category", "colour", "roughness",
                                                       "emission", "image",    "size"};
    s.unknown = read.rest(known);
    return s;
}

ValueMap toValues(const Surface& s) {
    ValueMap map = {{"label", {s.label}}};
    if (!s.category.empty()) map.emplace_back("category", Value{s.category});
    map.emplace_back("colour", vectorValue(s.colour));
    map.emplace_back("roughness", Value{s.roughness});
    if (s.emission != 0) map.emplace_back("emission", Value{s.emission});
    if (!s.image.empty()) map.emplace_back("image", Value{s.image});
    map.emplace_back("size", Value{s.sizeMetres});
    map.insert(map.end(), s.unknown.begin(), s.unknown.end());
    return map;
}

void Library::add(base::Name key, Item item) {
    put(items_, itemIndex_, key, std::move(item));
}
void Library::add(base::Name key, Kind kind) {
    put(kinds_, kindIndex_, key, std::move(kind));
}
void Library::removeItem(base::Name key) {
    drop(items_, itemIndex_, key);
}
void Library::removeKind(base::Name key) {
    drop(kinds_, kindIndex_, key);
}
const Kind* Library::kindNamed(std::string_view name) const {
    for (const Kind& kind : kinds_)
        if (kind.name == name) return &kind;
    return nullptr;
}
const RecordType* Library::recordType(std::string_view name) const {
    auto place = records_.find(name);
    return place == records_.end() ? nullptr : &place->second;
}
const Guise* Library::guise(std::string_view name) const {
    auto place = guises_.find(name);
    return place == guises_.end() ? nullptr : &place->second;
}
base::Vec3 Item::landingPoint() const {
    if (basePoint) return *basePoint;
    // A prefab was given its base point when it was made.
    return {0, bounds.empty() || prefab ? 0 : bounds.low.y, 0};
}
const Record* Library::record(base::ObjectId id) const {
    for (const auto& [name, type] : records_)
        if (auto place = type.records.find(id); place != type.records.end()) return &place->second;
    return nullptr;
}
const Item* Library::item(base::Name key) const {
    return get(items_, itemIndex_, key);
}
const Kind* Library::kind(base::Name key) const {
    return get(kinds_, kindIndex_, key);
}

}  // namespace model
