#pragma once
// A small kit for low-poly models in flat colours. Metres, Y up; faces are flat-shaded and wound outwards.
#include <functional>
#include <string>
#include <vector>

#include "base/id.h"
#include "shape/mesh.h"

namespace demo {

using base::Vec2;
using base::Vec3;

/// One palette for the whole place, sRGB.
struct Paint {
    const char* name;
    const char* hex;
};
namespace paint {
constexpr Paint kOak{"Oak", "#8a6a43"}, kOakDark{"Dark oak", "#5f4830"}, kOakPale{"Pale oak", "#b39062"};
constexpr Paint kStone{"Stone", "#8f8b7e"}, kStonePale{"Pale stone", "#b5b09e"}, kStoneDark{"Dark stone", "#6a675d"};
constexpr Paint kIron{"Iron", "#3f4340"}, kRust{"Rust", "#8a4b33"}, kLime{"Limewash", "#e6dfc8"};
constexpr Paint kTile{"Roof tile", "#a8583c"}, kTileDark{"Dark tile", "#8a4530"};
constexpr Paint kGlow{"Lamp glow", "#f6cf73"}, kGlass{"Window", "#7c98a3"};
constexpr Paint kGrass{"Grass", "#7b9150"}, kGrassDark{"Deep grass", "#64803f"}, kMeadow{"Meadow", "#98a75c"};
constexpr Paint kPath{"Path", "#c0a878"}, kGravel{"Gravel", "#a59c88"}, kMud{"Bed", "#6f6a4c"};
constexpr Paint kLeaf{"Leaf", "#6f9148"}, kLeafPale{"Pale leaf", "#9db35f"}, kLeafDark{"Dark leaf", "#4d7038"};
constexpr Paint kBark{"Bark", "#6b5440"}, kReed{"Reed", "#a3a558"}, kReedTop{"Reed top", "#7a5634"};
constexpr Paint kWater{"Water", "#4f8794"}, kFeather{"Feather", "#a9b4ba"}, kFeatherDark{"Dark feather", "#566570"};
constexpr Paint kBeak{"Beak", "#d39a45"}, kHull{"Hull", "#2f5a57"}, kHullTrim{"Hull trim", "#c9683f"};
constexpr Paint kCloth{"Cloth", "#c75f43"}, kClothPale{"Pale cloth", "#ecdcb4"}, kClothBlue{"Blue cloth", "#4c7c8c"},
    kClothMoss{"Moss cloth", "#7f9a4d"};
constexpr Paint kPear{"Pear", "#b9b34a"}, kCanvas{"Canvas", "#c8b98f"};
}  // namespace paint

/// Builds one mesh. Shapes go in at the current placement, which `at` and `turned` change for what is made inside them.
class Model {
  public:
    using Work = std::function<void()>;
    void at(const Vec3& offset, const Work& work);
    void turned(const Vec3& degrees, const Work& work);

    /// Corner to corner.
    void box(Paint paint, const Vec3& low, const Vec3& high);
    /// A box whose top is `inset` metres smaller on each side (x, z).
    void tapered(Paint paint, const Vec3& low, const Vec3& high, const Vec2& inset);
    /// A column about Y from `low` to `high` with a radius at either end; `sides` corners; a radius of 0 is a tip.
    void column(Paint paint, double radiusLow, double radiusHigh, double low, double high, int sides);
    /// A roof: ridge along X over the rectangle from low to high at low.y, ridge at high.y.
    void roof(Paint slope, Paint gable, const Vec3& low, const Vec3& high);
    /// A lumpy ball: `rough` shares of the radius, seeded.
    void blob(Paint paint, const Vec3& centre, const Vec3& radius, double rough, std::uint64_t seed, int rings = 5,
              int sides = 8);
    /// A profile (x, y), counter-clockwise, extruded along z from `low` to `high`; convex.
    void prism(Paint paint, const std::vector<Vec2>& profile, double low, double high);
    void triangle(Paint paint, const Vec3& a, const Vec3& b, const Vec3& c);
    void quad(Paint paint, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);

    shape::Mesh finish() const;

  private:
    struct Face {
        std::size_t paint;
        Vec3 a, b, c;
    };
    std::size_t paintIndex(Paint paint);
    base::Affine place_;
    std::vector<Paint> paints_;
    std::vector<Face> faces_;
};

/// Linear RGBA of "#rrggbb".
std::array<float, 4> linearColour(const char* hex);

struct DemoItem {
    std::string name, label, category, kind;
    shape::Mesh mesh;
};
void addWaterworks(std::vector<DemoItem>& items);
void addMarket(std::vector<DemoItem>& items);
void addPaving(std::vector<DemoItem>& items);
void addNature(std::vector<DemoItem>& items);

}  // namespace demo
