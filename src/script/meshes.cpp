#include "script/meshes.h"

#include "query/mesh_index.h"

namespace script {

query::MeshLookup meshesOf(const io::Workspace& workspace) {
    using Made = std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>>;
    auto made = std::make_shared<Made>();  // shared by the copies of the lookup
    return [made, &workspace](base::Name item) -> const query::MeshIndex* {
        const auto mesh = workspace.meshes.find(item);
        if (mesh == workspace.meshes.end() || mesh->second == nullptr) return nullptr;
        auto& index = (*made)[item];
        if (!index) index = std::make_unique<query::MeshIndex>(mesh->second);
        return index.get();
    };
}

}  // namespace script
