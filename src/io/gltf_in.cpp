#include "io/gltf_in.h"

#include <fmt/format.h>

#include <set>

#include "io/gltf_accessor.h"
#include "io/gltf_mesh.h"

namespace io {

std::vector<int> rootsOf(const tinygltf::Model& model) {
    if (!model.scenes.empty()) {
        const int which = model.defaultScene >= 0 ? model.defaultScene : 0;
        if (static_cast<std::size_t>(which) >= model.scenes.size())
            throw MalformedModel("the default scene does not exist");
        return model.scenes[static_cast<std::size_t>(which)].nodes;
    }
    std::vector<int> roots;
    std::set<int> children;
    for (const auto& node : model.nodes) children.insert(node.children.begin(), node.children.end());
    for (int i = 0; i < static_cast<int>(model.nodes.size()); ++i)
        if (!children.contains(i)) roots.push_back(i);
    return roots;
}

void NodeWalk::visit(int index, const std::function<void(const tinygltf::Node&)>& enter,
                     const std::function<void()>& leave) {
    if (index < 0 || static_cast<std::size_t>(index) >= model_.nodes.size())
        throw MalformedModel(fmt::format("node {} does not exist", index));
    if (depth_ >= kDeepestNode)
        throw MalformedModel(fmt::format("its nodes go round in a circle, or more than {} deep", kDeepestNode));
    if (++visited_ > kMostNodes) throw MalformedModel(fmt::format("it comes to more than {} nodes", kMostNodes));
    const tinygltf::Node& node = model_.nodes[static_cast<std::size_t>(index)];
    enter(node);
    ++depth_;
    for (int child : node.children) visit(child, enter, leave);
    --depth_;
    leave();
}

base::Result<ImportedModel> readModel(const std::filesystem::path& path, const std::filesystem::path& root) {
    auto model = readGltf(path, root);
    if (!model) return tl::unexpected(model.error());
    try {
        ImportedModel result;
        GltfMesher mesher(*model, result.remarks);
        mesher.begin(result.mesh);
        mesher.remarkOnTheRest(false);
        std::vector<base::Affine> worlds = {base::Affine{}};
        NodeWalk walk(*model);
        for (int top : rootsOf(*model))
            walk.visit(
                top,
                [&](const tinygltf::Node& node) {
                    worlds.push_back(worlds.back() * GltfMesher::localOf(node));
                    if (node.mesh < 0) return;
                    for (const base::Affine& place : mesher.placesOf(node))
                        mesher.add(node.mesh, worlds.back() * place, node.name);
                },
                [&] { worlds.pop_back(); });
        result.mesh.bounds = shape::boundsOf(result.mesh);
        if (result.mesh.indices.empty()) throw MalformedModel("it holds no triangles");
        return result;
    } catch (const MalformedModel& problem) {
        return tl::unexpected(malformedGltf(path, problem.what()));
    } catch (const std::exception&) {
        return tl::unexpected(malformedGltf(path, "there is not enough memory for it"));
    }
}

}  // namespace io
