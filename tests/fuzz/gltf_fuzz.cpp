// A model from elsewhere: read, or refused.
#include <unistd.h>

#include <filesystem>
#include <fstream>

#include "fuzz/target.h"
#include "io/gltf_in.h"

namespace {

/// A folder of this process, gone with it.
struct Folder {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("mellow-fuzz-" + std::to_string(::getpid()));
    Folder() { std::filesystem::create_directories(path); }
    ~Folder() { std::filesystem::remove_all(path); }
};

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Folder folder;
    const auto bytes = fuzz::textOf(data, size);
    const auto file = folder.path / (bytes.starts_with("glTF") ? "model.glb" : "model.gltf");
    std::ofstream(file, std::ios::binary).write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    const auto model = io::readModel(file);
    if (!model) return 0;
    for (const std::uint32_t index : model->mesh.indices) fuzz::must(index < model->mesh.positions.size());
    return 0;
}
