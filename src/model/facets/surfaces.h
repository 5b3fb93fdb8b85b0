#pragma once
#include <cstdint>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// How an image lies on the faces of a slot.
enum class ImageFit : std::uint8_t { Tile, Fit, Fill, Stretch };
/// What one slot (a material of the mesh, by its name) shows instead of its own.
struct SlotSurface {
    std::string slot;
    std::string surface;             ///< of the project's library; empty: the mesh's own
    std::optional<base::Vec3> tint;  ///< linear RGB
    std::string image;               ///< a file in media/, over the surface's own
    ImageFit fit = ImageFit::Tile;
    Unknown unknown;
    friend bool operator==(const SlotSurface&, const SlotSurface&) = default;
};
struct Surfaces {
    std::vector<SlotSurface> slots;
    static const FacetType& type();
    friend bool operator==(const Surfaces&, const Surfaces&) = default;
};

}  // namespace model
