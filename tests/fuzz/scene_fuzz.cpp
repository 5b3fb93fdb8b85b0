// A scene's file: whatever it says is read or listed as damage; what was read, written and read again gives the same
// bytes and nothing more that is damaged.
#include "fuzz/target.h"
#include "io/scene_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto read = [](std::string_view text) {
        return io::parseScene("s", text, "s.scene.jsonl", std::make_shared<base::NameTable>(), {});
    };
    const auto scene = read(fuzz::textOf(data, size));
    if (!scene || scene->scene.settings().prefab) return 0;  // a definition is written with its id
    const std::string written = io::formatScene(scene->scene);
    const auto again = read(written);
    fuzz::must(again.has_value());
    fuzz::must(again->damage.empty());
    fuzz::must(io::formatScene(again->scene) == written);
    return 0;
}
