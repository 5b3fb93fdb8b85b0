#include "large_scene.h"

#include <unistd.h>

#include <cstdlib>
#include <fstream>
#include <map>

#include "base/files.h"
#include "scenes.h"

namespace bench {

namespace fs = std::filesystem;

std::size_t largeCount() {
    const char* wanted = std::getenv("MELLOW_BENCH_OBJECTS");
    return wanted != nullptr ? std::strtoull(wanted, nullptr, 10) : 1'000'000;
}

const std::string& sceneText(std::size_t count) {
    static std::map<std::size_t, std::string> made;
    std::string& text = made[count];
    if (text.empty()) text = demo::many(count);
    return text;
}

fs::path project(std::size_t count) {
    const fs::path folder =
        fs::temp_directory_path() / ("mellow-bench-" + std::to_string(::getpid())) / std::to_string(count);
    if (fs::exists(folder)) return folder;
    fs::create_directories(folder);
    fs::copy(MELLOW_DEMO, folder, fs::copy_options::recursive);
    fs::remove_all(folder / ".mellow");
    std::ofstream(io::sceneFile(folder, "valley"), std::ios::binary) << sceneText(count);
    return folder;
}

std::unique_ptr<io::Workspace> open(const fs::path& folder) {
    auto workspace = io::openWorkspace(folder, io::OpenMode::Edit, {[] { return std::int64_t{0}; }, 5});
    return workspace ? std::move(*workspace) : nullptr;
}

std::size_t residentBytes() {
    std::ifstream in("/proc/self/statm");
    std::size_t pages = 0, resident = 0;
    in >> pages >> resident;
    return resident * static_cast<std::size_t>(sysconf(_SC_PAGESIZE));
}

}  // namespace bench
