#pragma once
// What objects wear when a scene is handed over or drawn without a window: the mesh of each as it looks, by its
// surfaces and images, its kind's states and the scene's guise. Equal looks share one mesh.
#include <map>
#include <memory>
#include <set>
#include <string>
#include <unordered_map>

#include "io/gltf_out.h"
#include "model/kind.h"
#include "query/looks.h"

namespace io {

class Wardrobe {
  public:
    /// `states`: variations, tints and surfaces by what properties are.
    Wardrobe(const ExportSource& source, bool states);

    struct Worn {
        std::string key;  ///< the same for what looks the same
        std::string item;
        const shape::Mesh* mesh = nullptr;  ///< as it looks, but for the tint; stays while the wardrobe does
        base::Vec3 tint{1.0};               ///< times its colours
    };
    /// Nothing: there is no mesh to be seen.
    std::optional<Worn> of(model::Slot slot);
    const model::Guise* guise() const { return guise_; }
    /// What was missing, or cannot be laid as here, one sentence each.
    std::vector<std::string> report() const;

  private:
    model::Appearance appearanceOf(model::Slot s) const;
    std::unique_ptr<const shape::Mesh> dressed(const shape::Mesh& mesh, const std::vector<query::SlotShow>& shows,
                                               const base::Vec3& size);
    std::optional<shape::Image> imageOf(const std::string& name);

    const ExportSource& source_;
    bool states_;
    const model::Guise* guise_ = nullptr;
    std::unordered_map<std::string, std::unique_ptr<const shape::Mesh>> dresses_;  // by key
    std::map<std::string, std::optional<shape::Image>> images_;
    std::set<std::string> lostItems_, missingSurfaces_;
    std::vector<std::string> lost_;
    std::size_t moving_ = 0, shaped_ = 0;
};

}  // namespace io
