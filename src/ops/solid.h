#pragma once
// The designer's verbs on solids: draw one, change its numbers.
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
};
/// The axes of a surface for drawing on it: Y along `normal`, X level where that is possible.
base::Mat3 surfaceAxes(const base::Vec3& normal);
/// What is drawn, at least `least` metres each way, and where it stands. A wall runs from corner to corner; stairs
/// rise away from the first corner.
struct DrawnSolid {
    model::Solid solid;
    base::Transform frame;
};
DrawnSolid drawnSolid(const SolidDrawing& drawing, double least);

}  // namespace ops
