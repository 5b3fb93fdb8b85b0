#pragma once
// Where one was in a project: the scene that was shown, and where one looked from in each. In .mellow, so that it is
// each person's own.
#include <filesystem>
#include <map>
#include <optional>
#include <string>

#include "render/camera.h"

namespace app {

class KeptPlace {
  public:
    /// What was kept of a project; a file that cannot be read is as none.
    static KeptPlace read(const std::filesystem::path& project);
    /// Nothing is told when it cannot be written: it is a convenience.
    void write(const std::filesystem::path& project) const;

    std::string scene;  ///< empty: none
    std::map<std::string, render::Camera> cameras;
};

}  // namespace app
