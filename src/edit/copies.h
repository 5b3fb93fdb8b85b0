#pragma once
// The records of copies, before anything is written.
#include <span>
#include <unordered_map>
#include <vector>

#include "edit/session.h"
#include "model/free_names.h"

namespace edit {

/// Which copy stands for which original.
using CopyOf = std::unordered_map<base::ObjectId, base::ObjectId>;

/// Adds the records of a copy of `top` with all below it: the top one with the id `copy`, the next free name, and the
/// original's place among its siblings.
void appendCopy(Session& session, const model::Scene& scene, model::Slot top, base::ObjectId copy,
                model::FreeNames& names, std::vector<model::ObjectRecord>& objects, CopyOf& copyOf);
/// What lies below `top`, as records of copies below `under`.
void appendCopiesBelow(Session& session, const model::Scene& scene, model::Slot top, base::ObjectId under,
                       std::vector<model::ObjectRecord>& objects, CopyOf& copyOf);

/// Links among what was copied lead to the copies; those that lead elsewhere stay.
void linkCopies(const model::Scene& scene, const CopyOf& copyOf, std::span<model::ObjectRecord> copies);

}  // namespace edit
