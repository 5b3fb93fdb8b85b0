#pragma once
// The designer's verbs on solids: draw one, change its numbers.
#include "model/facets/solid.h"
#include "ops/objects.h"

namespace ops {

/// What a solid is called: "Box", "Stairs".
std::string_view solidLabel(model::Solid::Shape shape);

/// Usable numbers. Errors: BadInput naming what is not: sizes from 1 mm to 10 km, parts from 0 to 1000.
base::Status usableSolid(const model::Solid& solid);

/// Adds a solid whose base stands at `frame` (world; no shear). Its kind is "Structure" where the project has that.
base::Result<base::ObjectId> addSolid(edit::Draft& draft, const model::Solid& solid, const base::Transform& frame,
                                      base::ObjectId parent);

/// Errors: those of usableSolid; NotFound; Refused for what is protected or no solid.
base::Status setSolid(edit::Draft& draft, base::ObjectId id, const model::Solid& solid);

/// A solid while it is drawn: a footprint on a surface, then a height.
struct SolidDrawing {
    model::Solid::Shape shape = model::Solid::Shape::Box;
    base::Vec3 corner{0.0};                ///< where the drag began, world
    base::Vec3 across{0.0};                ///< from there to where it is now
    base::Mat3 axes{1.0};                  ///< of the surface: Y is its normal
    double height = 0;                     ///< metres; 0: not drawn yet
    static constexpr double kThick = 0.2;  ///< of a wall, metres
    double thick = kThick;
    bool winds = false;  ///< an arch becomes winding stairs
};
/// The axes of a surface for drawing on it: Y along `normal`, X level where that is possible.
base::Mat3 surfaceAxes(const base::Vec3& normal);
/// The axes `shape` is drawn along on such a surface: stairs and walls stay upright.
base::Mat3 drawingAxes(model::Solid::Shape shape, const base::Vec3& normal);
/// Whether it is raised once its footprint stands; a sphere is as high as it is wide.
bool hasHeight(model::Solid::Shape shape);
/// How far a place on the drawing's plane is from its footprint, metres; 0 inside.
double awayFromFootprint(const SolidDrawing& drawing, const base::Vec3& place);
/// Sizes typed while drawing, "4 x 3" or "4 x 2.5 x 3", in the order the readout shows them; one number is a square, a
/// wall's length, or the height of what is `rising`; in `unit` where none is said. Gives whether all is known now.
/// Errors: BadInput.
base::Result<bool> typeSizes(SolidDrawing& drawing, std::string_view text, bool rising,
                             base::LengthUnit unit = base::LengthUnit::Metre);
/// What is drawn, at least `least` metres each way, and where it stands. A wall runs from corner to corner; stairs
/// rise away from the first corner.
struct DrawnSolid {
    model::Solid solid;
    base::Transform frame;
};
DrawnSolid drawnSolid(const SolidDrawing& drawing, double least);

/// A prism through corners of the world, standing on the lowest of them. Errors: BadInput: fewer than three, sides that
/// cross, no height.
base::Result<DrawnSolid> drawnPrism(std::span<const base::Vec3> corners, double height);

/// Where a wall begun or led to at `place` joins the upright wall in `slot`: on its middle line, level with its floor;
/// at its end when that is within its thickness. Nothing: `place` is not on it, or it is no upright wall.
std::optional<base::Vec3> joinedWall(const model::Scene& scene, model::Slot slot, const base::Vec3& place);
/// Lengthens a wall where its middle line ends at that of one of the others, and for what is no right angle the other
/// too, so that the corner has no notch. Protected ones stay as they are.
base::Status closeCorners(edit::Draft& draft, base::ObjectId wall, std::span<const base::ObjectId> others);

}  // namespace ops
