#pragma once
// Scene files: JSON Lines, docs/formats/scene.md. Reading never stops at a broken line: what can be read is, and
// the rest is listed as damage. Writing the same scene gives the same bytes.
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "base/names.h"
#include "base/progress.h"
#include "base/result.h"
#include "io/damage.h"
#include "model/scene.h"

namespace io {

struct ParsedScene {
    model::Scene scene;
    std::vector<Damage> damage;
    std::vector<Damage> unknown;  ///< words that this version does not know; they stay
    base::ObjectId prefab;        ///< which one, of a definition's file; else zero
};

/// The scene in `text`. Lines are read on all cores. Errors: Unsupported (a newer version), BadInput (no scene
/// file at all), Cancelled. `progress` grows by 1 in all.
base::Result<ParsedScene> parseScene(std::string name, std::string_view text, const std::string& file,
                                     const std::shared_ptr<base::NameTable>& names, const model::Library& library,
                                     base::Progress& progress);
base::Result<ParsedScene> parseScene(std::string name, std::string_view text, const std::string& file,
                                     const std::shared_ptr<base::NameTable>& names, const model::Library& library);

/// The file's text. Lines are formatted on all cores; `scene` may be a snapshot used on a worker.
std::string formatScene(const model::Scene& scene);

/// One object as its line in the file, without the line's end.
void appendObjectLine(std::string& out, const model::Scene& scene, model::Slot slot);
void appendObjectLine(std::string& out, const model::ObjectRecord& record, const base::NameTable& names);
/// A facet as a member of such a line, with the comma before it.
void appendFacet(std::string& out, const model::FacetType& type, const void* facet);

}  // namespace io
