#pragma once
// Which parts of an object a difference names: some that every object has, its properties, and any of its facets.
// Values; any thread.
#include <cstdint>
#include <vector>

#include "model/facet.h"

namespace model {

namespace part {
constexpr std::uint32_t kPosition = 1, kRotation = 2, kSize = 4, kName = 8, kKind = 16, kItem = 32, kFlags = 64,
                        kPlace = 128, kProperties = 256;
constexpr std::uint32_t kPose = kPosition | kRotation | kSize;
constexpr std::uint32_t kCommon = 2 * kProperties - 1;  ///< all but facets

struct Words {
    std::uint32_t bit;
    const char *key, *label;  ///< in files, and for people
};
/// The parts that every object has. Facets have their words themselves.
constexpr Words kWords[] = {{kPosition, "position", "Position"},
                            {kRotation, "rotation", "Turn"},
                            {kSize, "scale", "Size"},
                            {kName, "name", "Name"},
                            {kKind, "kind", "Kind"},
                            {kItem, "item", "Item"},
                            {kFlags, "flags", "Switches"},
                            {kPlace, "parent", "Place in the tree"},
                            {kProperties, "properties", "Properties"}};
}  // namespace part

class PartSet {
  public:
    PartSet(std::uint32_t common = 0) : common_(common) {}
    PartSet(const FacetType& facet) : facets_{&facet} {}
    /// Everything that Detail holds: all facets, and properties.
    static const PartSet& detail();
    static const PartSet& all();

    bool empty() const { return common_ == 0 && facets_.empty(); }
    bool has(std::uint32_t common) const { return (common_ & common) != 0; }
    bool has(const FacetType& facet) const;
    std::uint32_t common() const { return common_; }
    /// In an order that is the same for equal sets, not that of files.
    const std::vector<const FacetType*>& facets() const { return facets_; }

    void add(const PartSet& other);
    PartSet without(const PartSet& other) const;
    PartSet with(const PartSet& other) const;
    bool meets(const PartSet& other) const;
    friend bool operator==(const PartSet&, const PartSet&) = default;

  private:
    std::uint32_t common_ = 0;
    std::vector<const FacetType*> facets_;  // sorted
};

}  // namespace model
