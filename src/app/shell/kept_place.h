#pragma once
// Where one was in a project, and how one worked there: the scene that was shown, where one looked from in each, tools,
// filters, what was placed lately. In .mellow, so that it is each person's own.
#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "app/shell/tools.h"
#include "model/value.h"
#include "render/camera.h"

namespace app {

class KeptPlace {
  public:
    /// What was kept of a project; a file that cannot be read is as none.
    static KeptPlace read(const std::filesystem::path& project);
    /// Nothing is told when it cannot be written: it is a convenience.
    void write(const std::filesystem::path& project) const;
    /// Tools as they were; what was not kept stays as it is.
    void giveTools(Tools& tools) const;
    void takeTools(const Tools& tools);

    std::string scene;  ///< empty: none
    struct Look {
        render::Camera camera;
        bool fourPanes = false;
    };
    std::map<std::string, Look> looks;           ///< by scene
    std::string desk;                            ///< the page that was open; empty: it was closed
    int deskHeight = 0;                          ///< pixels; 0: as it comes
    std::map<std::string, std::string> filters;  ///< by the field's name
    std::vector<std::string> recentItems;        ///< the last one first
    PrefabPlan prefab;

  private:
    model::ValueMap tools_;
};

}  // namespace app
