#pragma once
// A glTF file, read and checked as a document: its JSON is of the right types, its files lie where they may. For this
// room's sources; what in it points where is checked by whoever follows it.
#include <tiny_gltf.h>
#include <filesystem>
#include <functional>
#include <stdexcept>
#include <string>
#include <vector>

#include "base/result.h"

namespace io {

/// Deeper ones are refused.
constexpr int kDeepestNode = 250;
/// What a model may come to once its nodes are followed.
constexpr std::size_t kMostVertices = 30'000'000, kMostNodes = 1'000'000;

/// Files beside it are read only within `root`. Errors: NotFound, Io; BadInput, with what is wrong; Unsupported
/// (required extensions we do not read).
base::Result<tinygltf::Model> readGltf(const std::filesystem::path& path, const std::filesystem::path& root);

/// The nodes that the document shows. Throws MalformedModel.
std::vector<int> rootsOf(const tinygltf::Model& model);

/// Goes through nodes and what is below them; throws MalformedModel for circles, for what is too deep or too much.
class NodeWalk {
  public:
    explicit NodeWalk(const tinygltf::Model& model) : model_(model) {}
    void visit(int index, const std::function<void(const tinygltf::Node&)>& enter, const std::function<void()>& leave);

  private:
    const tinygltf::Model& model_;
    int depth_ = 0;
    std::size_t visited_ = 0;
};

/// "C.gltf: is no usable glTF model: …".
base::Error malformedGltf(const std::filesystem::path& path, const std::string& why);

/// A file's name as a document gives it; what is not a name but the data itself is not repeated.
std::string shownUri(const std::string& uri);

}  // namespace io
