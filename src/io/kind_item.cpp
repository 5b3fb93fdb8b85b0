#include "io/kind_item.h"

#include <fmt/format.h>

#include "io/added.h"
#include "io/gltf_out.h"
#include "io/import_model.h"
#include "io/names.h"
#include "query/solids.h"

#include "base/text.h"

namespace io {
namespace {

namespace fs = std::filesystem;

Result<ModelFile> modelOf(const Workspace& workspace, const model::Item& item) {
    const std::string none = fmt::format("{} has no model of its own.", item.label);
    if (item.prefab || item.isSolid) return fail(ErrorCode::Refused, none);
    for (const char* ending : {".glb", ".gltf"})
        if (auto file = projectFile(workspace.folder(), "items/" + item.name + ending)) return readModelFile(*file);
    return fail(ErrorCode::Refused, none);
}

/// A solid of a metre each way, or as thin as such are.
ModelFile solidOf(model::Solid::Shape shape, const std::string& name) {
    const base::Vec3 size = shape == model::Solid::Shape::Wall ? base::Vec3(1, 1, 0.2) : base::Vec3(1);
    shape::Mesh mesh = query::meshOf(model::usualSolid(shape, size));
    std::string bytes = glbOf(mesh, name);
    return {name, std::move(bytes), {std::move(mesh), {}}};
}

}  // namespace

Result<StockModel> bringModelOf(Workspace& workspace, edit::Draft& draft, const std::string& kind,
                                const StockLook& look) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Library& library = workspace.session->library();
    if (library.kindNamed(kind) == nullptr)
        return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", kind));
    if (!look.shape && look.like.empty()) return StockModel{};
    const std::string stem = base::plainFileName(base::lowered(kind));
    StockModel made;
    Result<ModelFile> file = fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", look.like));
    if (look.shape == model::Solid::Shape::Plain) {
        return fail(ErrorCode::BadInput, "A plain solid has no shape of its own to make an item of.");
    } else if (look.shape) {
        file = solidOf(*look.shape, stem);
    } else if (const auto* item = library.item(workspace.session->names().find(look.like))) {
        file = modelOf(workspace, *item);
        made.facts = *item;
    }
    if (!file) return tl::unexpected(file.error());
    made.key = freeItemName(workspace, stem, file->packed);
    if (Status brought = bringModel(workspace, draft, made.key, std::move(*file)); !brought)
        return tl::unexpected(brought.error());
    return made;
}

}  // namespace io
