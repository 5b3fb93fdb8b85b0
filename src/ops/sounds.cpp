#include "ops/sounds.h"

#include <filesystem>

#include "ops/facets.h"
#include "ops/names.h"

namespace ops {

Result<ObjectId> addSound(edit::Draft& draft, const std::string& file, const Vec3& at, ObjectId parent) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (file.empty()) return fail(ErrorCode::BadInput, "A sound needs a file.");
    std::string name = std::filesystem::path(file).stem().string();
    for (char& c : name)
        if (c == '-' || c == '_') c = ' ';
    if (!name.empty()) name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(name[0])));
    const auto usable = usableName(name);
    return addBare(draft, usable ? *usable : "Sound", at, parent,
                   [&](const base::Affine&, model::Detail& detail) { detail.edit<model::Sound>().file = file; });
}

}  // namespace ops
