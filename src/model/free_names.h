#pragma once
// Names for new objects: each asked-for name is given the next number nobody has.
#include <string>
#include <unordered_map>

#include "model/scene.h"

namespace model {

class FreeNames {
  public:
    explicit FreeNames(const Scene& scene);
    std::string next(std::string_view like);
    /// Somebody has this name now.
    void note(std::string_view name);

  private:
    std::unordered_map<std::string, int> highest_;
    std::unordered_map<std::string, bool> plain_;
};

}  // namespace model
