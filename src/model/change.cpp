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

}  // namespace

std::size_t rowCount(const Change& change) {
    return std::visit([](const auto& c) { return rows(c); }, change);
}

}  // namespace model
