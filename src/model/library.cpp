#include "model/library.h"

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
