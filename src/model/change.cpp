#include "model/change.h"

namespace model {
namespace {

std::size_t rows(const Existence& change) {
    return change.objects.size();
}
std::size_t rows(const SetSettings&) {
    return 1;
}
std::size_t rows(const SetEntries& change) {
    return change.keys.size();
}
template <class T>
std::size_t rows(const T& change) {
    return change.ids.size();
}

std::vector<base::ObjectId> ids(const Existence& change) {
    std::vector<base::ObjectId> all;
    for (const ObjectRecord& object : change.objects) all.push_back(object.id);
    return all;
}
std::vector<base::ObjectId> ids(const SetSettings&) {
    return {};
}
std::vector<base::ObjectId> ids(const SetEntries&) {
    return {};
}
template <class T>
std::vector<base::ObjectId> ids(const T& change) {
    return change.ids;
}

}  // namespace

std::vector<base::ObjectId> idsIn(const Change& change) {
    return std::visit([](const auto& c) { return ids(c); }, change);
}

std::size_t rowCount(const Change& change) {
    return std::visit([](const auto& c) { return rows(c); }, change);
}

}  // namespace model
