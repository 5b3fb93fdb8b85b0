#pragma once
// What to draw of a scene from one eye: which objects, how finely. Objects live in cells of a grid; far ones become
// boxes, farther ones points. Threads: one.
#include <cstdint>
#include <functional>
#include <span>
#include <unordered_map>
#include <vector>

#include "model/library.h"
#include "model/scene.h"
#include "render/camera.h"

namespace render {

/// One placed mesh, as the graphics card takes it: three rows of the world matrix, and a tint (RGBA, alpha is how
/// much).
struct Instance {
    float rows[12];
    std::uint8_t tint[4];
    std::uint8_t shade[4];  ///< what its colours are multiplied with: roots of linear RGB; the last is not used
};

/// One far object: a place (relative to the eye), a radius in metres and a colour.
struct FarPoint {
    float x, y, z, radius;
    std::uint8_t colour[4];
};

struct DrawList {
    void clear();
    std::unordered_map<base::Name, std::vector<Instance>> meshes;
    std::vector<Instance> boxes;  ///< of a unit cube from 0 to 1; tint is the colour, whole
    std::vector<FarPoint> points;
    std::size_t drawn = 0;
};

/// How large something must appear, in pixels across, to be drawn as what.
struct Detail {
    double mesh = 7, box = 4, point = 1.1;
    double bias = 1.0;  ///< all three times this; raised while the camera moves
};

/// What an object is drawn as instead of what it is, by slot.
struct OtherLook {
    base::Name item;                 ///< none: its own
    std::optional<base::Vec3> tint;  ///< times its own
    bool hidden = false;
    double turnDegrees = 0;  ///< about its own up, besides where it is
};
using OtherLooks = std::unordered_map<model::Slot, OtherLook>;

class DrawCells {
  public:
    using ColourOf = std::function<std::uint32_t(base::Name item)>;  ///< 0xAABBGGRR, the item seen from afar

    /// Starts anew from a whole scene.
    void build(const model::Scene& scene);
    /// These slots were created, moved or died.
    void touch(const model::Scene& scene, std::span<const model::Slot> slots);

    /// Positions are relative to the eye, so that floats stay exact far from the world's zero. `tintOf` gives the tint
    /// of an object's slot (0: none); `hidden` says which not to draw.
    void collect(const model::Scene& scene, const Camera& camera, const Viewport& viewport, const Detail& detail,
                 const ColourOf& colourOf, const std::function<std::uint32_t(model::Slot)>& tintOf,
                 const std::function<bool(model::Slot)>& hidden, const OtherLooks& looks, DrawList& out) const;

    /// Only `slots`, wherever they are, added to `out`; those out of sight are left out.
    static void collectOnly(const model::Scene& scene, std::span<const model::Slot> slots, const Camera& camera,
                            const Viewport& viewport, const Detail& detail, const ColourOf& colourOf,
                            const std::function<std::uint32_t(model::Slot)>& tintOf, const OtherLooks& looks,
                            DrawList& out);

  private:
    struct Cell {
        std::vector<model::Slot> slots;
        base::Aabb bounds;   // grows only, until the next build
        double largest = 0;  // radius of the largest object
    };
    void put(const model::Scene& scene, model::Slot slot);
    void drop(model::Slot slot);
    std::size_t cellAt(const base::Vec3& p) const;

    std::vector<Cell> cells_;
    std::vector<std::uint32_t> cellOf_;   // by slot: cell + 1, 0 when in none
    std::vector<std::uint32_t> placeIn_;  // by slot: index in its cell
    base::Aabb whole_;
    int side_ = 1;
};

/// How far apart a lattice's dots are, metres, so that they lie a dozen pixels or more apart: 0.01, 0.05, 0.1, 0.5 …
double latticeSpacing(double metresPerPixel);

/// What is drawn becomes what one bumps into: boxes for items with a box, nothing for those without.
void showCollision(DrawList& list, const model::Library& library, const std::function<base::Name(base::Name)>& bodyOf);

/// A tint (linear RGB) as instances take it.
std::uint32_t shadeOf(const base::Vec3& tint);

/// Rows of `world` relative to `eye`.
Instance instanceOf(const base::Affine& world, const Vec3& eye, std::uint32_t tint, std::uint32_t shade = 0xFFFFFFFF);

}  // namespace render
