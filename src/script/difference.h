#pragma once
// What happened to the objects of a scene between two moments: for previews.
#include <string>
#include <vector>

#include "model/scene.h"

namespace script {

struct Difference {
    enum class What { Created, Changed, Removed } what = What::Changed;
    base::ObjectId id;
    std::string name;
    std::string how;  ///< "moved 0.31 m, renamed from Post 3"
    friend bool operator==(const Difference&, const Difference&) = default;
};
/// In tree order; what was removed comes last.
std::vector<Difference> differences(const model::Scene& before, const model::Scene& now);
std::size_t countOf(const std::vector<Difference>& all, Difference::What what);

}  // namespace script
