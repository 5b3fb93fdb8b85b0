#pragma once
// The tool in the hand and how it works: steps, axes, what is placed, seated, drawn and swept. A plain value; the
// Editor has one and says when any of it changed.
#include <array>
#include <optional>

#include "app/shell/ghost.h"
#include "base/math.h"
#include "model/facets/array.h"
#include "model/facets/solid.h"
#include "ops/array.h"
#include "ops/broom.h"
#include "ops/chance.h"
#include "ops/move.h"
#include "ops/objects.h"
#include "ops/solid_edit.h"
#include "render/handle.h"

namespace app {

enum class Tool {
    Select,
    Slide,
    Dial,
    Fit,
    All,
    Measure,
    Solid,
    Broom,
    Points,
    Route,
    Zone,
    Lay,
    Clip,
    Opening,
    Parts
};

/// What a drag may be caught on besides what is plainly there.
struct Catching {
    bool hidden = false, protectedOnes = true;
};

/// How what is placed differs from one to the next, and whether it does.
struct Varying : ops::Chances {
    bool on = false;
};

/// Whom the others follow when they are brought in line.
enum class LeaderChoice { Last, First, Pointed, World };

/// What a drag over nothing draws, and what of it is selected.
enum class SelectShape { Box, Circle, Lasso };
struct Selecting {
    SelectShape shape = SelectShape::Box;
    bool whole = false;   ///< only what is wholly inside
    bool through = true;  ///< also what lies behind other things
};

/// How much finer all steps are.
enum class Fineness { Off, Fine, VeryFine };

/// One kind of step: how far it goes (metres, degrees, a factor) and whether it is on.
struct StepSetting {
    double value = 0;
    bool on = true;
};

/// What is laid cell by cell, and how.
struct Laying {
    std::string item;       ///< one piece; or
    std::string set;        ///< a set of pieces, of which the one is laid that fits its neighbours
    double cellMetres = 1;  ///< how wide a cell is
    double heightMetres = 0;
    int quarters = 0;  ///< turns to the left
    bool mirrored = false;
    bool takesAway = false;  ///< what lies there goes instead
};

/// The solid whose parts are worked on, and those of them that are selected.
struct PartWork {
    base::ObjectId of;
    std::vector<ops::SolidPart> chosen;
};

/// What the card that makes prefabs was left with.
struct PrefabPlan {
    std::string folder, name;   ///< the name with its ##
    int height = 0, place = 4;  ///< where the base point is: its rows in the card
};

struct Tools {
    Tool tool = Tool::Slide;
    std::array<StepSetting, 3> steps{{{0.25, true}, {15, true}, {0.1, true}}};  ///< slide, turn, fit
    bool onLattice = false;             ///< sliding counts from the world's zero
    Fineness fineness = Fineness::Off;  ///< a tenth, a hundredth of all steps
    ops::AxesMode axes = ops::AxesMode::World;
    ops::PivotMode pivot = ops::PivotMode::Base;
    base::Vec3 pickedPivot{0.0};
    bool uniform = false;       ///< sizing keeps proportions, whichever part is dragged
    bool followSlopes = false;  ///< what is carried leans with the slope under it
    bool catchFlush = false;    ///< drags catch on what is in line, without a key
    Catching catching;
    std::array<model::Array, 4> arrays = ops::usualArrays();  ///< the last one of each shape: the next begins as it
    bool pullsLinked = false;  ///< copies that are pulled go on being the same as their originals
    LeaderChoice leader = LeaderChoice::Last;
    bool seatWhenPlacing = false;
    PlacedAs placed;             ///< how what is placed next stands
    bool contact = false;        ///< what is dragged stops at what it would enter
    bool takesStanding = false;  ///< what stands on the selection is moved along
    bool seatAsSeen = false;     ///< what falls is what one sees of it, not what others bump into
    bool seatOntoSeen = false;   ///< what carries it is what one sees
    Varying varying;
    std::string outfit;                                 ///< what is placed wears it, if its kind has it
    ops::SurfacesGo surfacesGo = ops::SurfacesGo::Map;  ///< when an item is replaced
    model::Solid::Shape solid = model::Solid::Shape::Box;
    bool winds = false;  ///< an arch that is drawn: winding stairs
    model::SolidOpening::Outline opening = model::SolidOpening::Outline::Rectangle;
    PartWork parts;
    std::optional<model::SolidFace> faceLook;  ///< how a face is dressed, to be given to others
    bool drawsDressed = false;                 ///< solids that are drawn get the surface that is chosen
    std::string chosenSurface;                 ///< in the list of surfaces
    bool drawsOn = false;                      ///< the solid tool stays in the hand afterwards
    ops::BroomSettings broom;
    Laying laying;
    Selecting selecting;

    /// The task whose step is shown and that the arrow keys do: Turn with the dial, Fit with the fit handle.
    render::Task activeTask() const {
        return tool == Tool::Dial ? render::Task::Turn : tool == Tool::Fit ? render::Task::Fit : render::Task::Slide;
    }
    StepSetting& step(render::Task task) { return steps[indexOf(task)]; }
    const StepSetting& step(render::Task task) const { return steps[indexOf(task)]; }
    /// Of those that are on; `share` makes all finer.
    render::Steps activeSteps(double share = 1) const {
        share *= fineness == Fineness::Fine ? 0.1 : fineness == Fineness::VeryFine ? 0.01 : 1;
        auto value = [&](std::size_t i) { return steps[i].on ? steps[i].value * share : 0.0; };
        return {value(0), value(1), value(2), onLattice};
    }

  private:
    static std::size_t indexOf(render::Task task) {
        return task == render::Task::None ? 0 : static_cast<std::size_t>(task) - 1;
    }
};

}  // namespace app
