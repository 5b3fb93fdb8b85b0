#include "model/free_names.h"

#include <algorithm>

#include "base/text.h"

namespace model {

FreeNames::FreeNames(const Scene& scene) {
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s)) note(scene.nameText(s));
}

void FreeNames::note(std::string_view name) {
    const auto split = base::splitNumber(name);
    if (split.number < 0) plain_[split.stem] = true;
    int& highest = highest_[split.stem];
    highest = std::max(highest, split.number);
}

std::string FreeNames::next(std::string_view like) {
    auto split = base::splitNumber(like);
    if (split.number < 0) {
        if (!plain_[split.stem]) {
            plain_[split.stem] = true;
            if (!highest_.contains(split.stem + " ")) return split.stem;
        }
        split.stem += ' ';
        int& highest = highest_[split.stem];
        highest = std::max(highest, 1) + 1;
        return split.stem + std::to_string(highest);
    }
    int& highest = highest_[split.stem];
    return split.stem + std::to_string(++highest);
}

}  // namespace model
