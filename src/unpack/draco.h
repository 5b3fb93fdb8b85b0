#pragma once
// Meshes compressed by Draco. A shared library of its own with nothing else to be seen of it: Draco's brings other
// things along, under the same names as those that the rest is made with.
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace unpack {

struct Attribute {
    int id = 0;          ///< as the file that holds the mesh gives it
    int components = 3;  ///< of each vertex, at least so many
    std::vector<float> values;
};
struct Mesh {
    std::vector<Attribute> attributes;   ///< those that were wanted
    std::vector<std::uint32_t> indices;  ///< three a triangle, each below `vertices`
    std::size_t vertices = 0;
    std::string problem;  ///< why it cannot be read; empty: it was
};
/// Meshes of more than `most` vertices or triangles are refused.
[[gnu::visibility("default")]] Mesh draco(std::string_view bytes, std::vector<Attribute> wanted, std::size_t most);

}  // namespace unpack
