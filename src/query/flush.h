#pragma once
// What is in line with a box along an axis: every object of the level whose low side, centre or high side lies at the
// same coordinate, however far away and whether or not in sight. Sides meet sides, centres meet centres. The axes are
// the world's or any others (a frame: unit directions at right angles, as columns); boxes and coordinates are along
// them, and true: of a turned object's corners, not of its box. Built once from a snapshot; any thread.
#include <array>
#include <vector>

#include "query/scene_index.h"

namespace query {

enum class BoxSide : std::uint8_t { Low, Centre, High };

/// The coordinate of a box's side along an axis 0..2, metres.
double sideAt(const base::Aabb& box, int axis, BoxSide side);

/// The box of all meshes of `top` and below along a frame, from their true corners. Empty without a mesh.
base::Aabb boxAlong(const model::Scene& scene, const MeshLookup& meshes, model::Slot top, const base::Mat3& frame);

/// One thing in line with one side of a box.
struct Flush {
    int axis = 0;
    BoxSide own = BoxSide::Low, other = BoxSide::Low;
    model::Slot slot = model::kNoSlot;
    double value = 0;     ///< the other's coordinate along the axis
    double residue = 0;   ///< value minus the box's own coordinate
    double distance = 0;  ///< between the middles of both
};

class FlushIndex {
  public:
    /// All live objects with a mesh. Cost: sorts three times their number, three times, and looks at every corner of
    /// what stands askew to the frame.
    FlushIndex(const model::Scene& scene, const MeshLookup& meshes, const base::Mat3& frame = base::Mat3(1.0));

    const base::Mat3& frame() const { return frame_; }
    /// The box of an object as it was when the index was built, along the frame.
    const base::Aabb& boxOf(model::Slot slot) const { return boxes_[slot]; }

    /// What comes within `tolerance` of a side of `box`, along `axis`: first the smallest residue, then the nearest;
    /// at most `most` for each side of the box, all at one coordinate. Objects that moved since the index was built,
    /// are hidden by `filter`, or died, are left out.
    std::vector<Flush> near(const model::Scene& scene, const base::Aabb& box, int axis, double tolerance,
                            std::size_t most, const SlotFilter& filter = {}) const;

  private:
    struct Entry {
        double value;
        model::Slot slot;
        BoxSide side;
    };
    base::Mat3 frame_;
    std::vector<base::Aabb> boxes_;      // by slot
    std::vector<std::uint64_t> stamps_;  // by slot: what its world map was
    std::array<std::vector<Entry>, 3> axes_;
};

}  // namespace query
