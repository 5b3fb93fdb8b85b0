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

}  // namespace

void Library::add(base::Name key, Item item) {
    put(items_, itemIndex_, key, std::move(item));
}
void Library::add(base::Name key, Kind kind) {
    put(kinds_, kindIndex_, key, std::move(kind));
}
void Library::removeItem(base::Name key) {
    auto place = itemIndex_.find(key);
    if (place == itemIndex_.end()) return;
    const std::size_t at = place->second;
    itemIndex_.erase(place);
    items_.erase(items_.begin() + static_cast<std::ptrdiff_t>(at));
    for (auto& [name, index] : itemIndex_)
        if (index > at) --index;
}
const Item* Library::item(base::Name key) const {
    return get(items_, itemIndex_, key);
}
const Kind* Library::kind(base::Name key) const {
    return get(kinds_, kindIndex_, key);
}

}  // namespace model
