#pragma once
// Where an array puts what it repeats, and which of its children stands for which place. Pure; any thread.
#include <vector>

#include "model/facets/array.h"
#include "model/scene.h"

namespace model {

/// How many objects an array has, the first one counted.
int countOf(const Array& array);
/// Where object `index` stands, given where the first would stand without the array: in the group's own axes.
base::Transform placeInArray(const Array& array, int index, const base::Transform& source);
/// How many times as large as the first one it is there.
double sizeInArray(const Array& array, int index);
/// Where the first one stood before the array put it to `first`.
base::Transform sourceOf(const Array& array, const base::Transform& first);

/// A child of an array.
struct ArrayMember {
    Slot slot = kNoSlot;
    int index = 0;        ///< the place that it stands for; the first one's is 0
    bool astray = false;  ///< it was put elsewhere by hand
};
/// In tree order. A place nobody stands for was emptied by hand. None: `slot` is no array, or has no children.
std::vector<ArrayMember> membersOf(const Scene& scene, Slot slot);

}  // namespace model
