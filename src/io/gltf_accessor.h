#pragma once
// Numbers out of a glTF document, with every bound checked. For gltf_in.cpp only.
#include <cstdint>
#include <stdexcept>
#include <string>
#include <vector>

namespace tinygltf {
class Model;
}

namespace io {

/// What a malformed model throws inside this room; readModel turns it into an Error.
struct MalformedModel : std::runtime_error {
    using std::runtime_error::runtime_error;
};

/// All components of an accessor as floats (normalised integers as 0..1 or -1..1), sparse values put in.
/// `components` is what is expected: 1 to 4; `what` names the use in messages.
std::vector<float> readFloats(const tinygltf::Model& model, int accessor, int components, const std::string& what);
/// Indices; each is checked to be below `vertexCount`.
std::vector<std::uint32_t> readIndices(const tinygltf::Model& model, int accessor, std::size_t vertexCount);
/// The bytes of a buffer view.
std::string readView(const tinygltf::Model& model, int view, const std::string& what);

}  // namespace io
