#pragma once
// The valley with many objects, made once per run and size.
#include <filesystem>
#include <memory>
#include <string>

#include "io/workspace.h"
#include "query/scene_index.h"

namespace bench {

/// How many objects the large rows use: MELLOW_BENCH_OBJECTS, or 1,000,000.
std::size_t largeCount();
/// The scene's text with `count` objects.
const std::string& sceneText(std::size_t count);
/// A project in a temporary folder with that scene, called "valley", and the demo's items.
std::filesystem::path project(std::size_t count);
std::unique_ptr<io::Workspace> open(const std::filesystem::path& folder);
/// Resident memory of this process, bytes.
std::size_t residentBytes();

/// The large scene with its meshes ready for rays.
struct Indexed {
    std::unique_ptr<io::Workspace> workspace;
    const model::Scene& scene;
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes;
    explicit Indexed(std::size_t count = largeCount())
        : workspace(open(project(count))), scene(**workspace->session->scene("valley")) {
        for (const auto& [item, mesh] : workspace->meshes) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
    }
    query::MeshLookup lookup() {
        return [this](base::Name item) {
            auto place = meshes.find(item);
            return place == meshes.end() ? nullptr : place->second.get();
        };
    }
};

}  // namespace bench
