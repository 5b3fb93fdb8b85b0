#pragma once
// What a project offers, as tables: items, kinds, outfits, records, each with its facts. Pure.
#include <string>
#include <vector>

#include "model/library.h"

namespace hand {

enum class Sort { Items, Kinds, Outfits, Records };
/// The head line first.
std::vector<std::vector<std::string>> catalogueOf(const model::Library& library, const base::NameTable& names,
                                                  Sort sort);

}  // namespace hand
