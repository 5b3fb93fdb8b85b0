#include "script/shapes.h"

#include "query/collision.h"
#include "query/mesh_index.h"

namespace script {

query::Shapes shapesIn(const io::Workspace& workspace) {
    using Made = std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>>;
    auto made = std::make_shared<Made>();  // shared by the copies of the lookup
    query::MeshLookup seen = [made, &workspace](base::Name item) -> const query::MeshIndex* {
        const auto mesh = workspace.meshes.find(item);
        if (mesh == workspace.meshes.end() || mesh->second == nullptr) return nullptr;
        auto& index = (*made)[item];
        if (!index) index = std::make_unique<query::MeshIndex>(mesh->second);
        return index.get();
    };
    return query::shapesOf(std::move(seen), query::itemCollisions(workspace.session->library(), workspace.parts));
}

}  // namespace script
