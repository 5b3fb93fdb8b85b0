#pragma once
// What objects look like by what they are: surfaces in their slots, states of their kinds, the guise of the scene.
// The same for the view and for what is handed over. Pure; any thread.
#include <string>
#include <vector>

#include "model/facets/surfaces.h"
#include "model/guise.h"
#include "model/kind.h"
#include "model/scene.h"
#include "shape/dress.h"

namespace query {

/// What the guise shows in place of what an object is: a tint, where its state has none; an item, of those that `has`
/// says are there. Gives the item that is seen, by name.
std::string itemInGuise(const model::Guise& guise, const model::Scene& scene, model::Slot slot, model::Appearance& is,
                        const std::function<bool(const std::string& item)>& has);

/// What the slots of an object show, those that show their mesh's own left out: its own surfaces, what its state has on
/// all of them, what the guise (null: none) has in their place. `names`: of the mesh's slots.
std::vector<model::SlotSurface> surfacesOf(const model::Scene& scene, model::Slot slot,
                                           const std::vector<std::string>& names, const model::Appearance& is,
                                           const model::Guise* guise);

/// One slot's look but for its image, which is a file in media/.
struct SlotShow {
    shape::SlotLook look;
    std::string surface, image;  ///< image: empty: none to be fetched
    model::ImageFit fit = model::ImageFit::Tile;
    bool missing = false;  ///< the surface is not in the library
    bool wantsImage() const { return missing || !image.empty(); }
};
/// Slots that no mesh has are left out.
std::vector<SlotShow> slotShows(const model::Library& library, const std::vector<std::string>& names,
                                const std::vector<model::SlotSurface>& slots);

/// Equal for what looks the same on the same mesh; `size` counts where an image is laid by it.
std::string keyOf(const std::vector<SlotShow>& shows, const base::Vec3& size);

}  // namespace query
