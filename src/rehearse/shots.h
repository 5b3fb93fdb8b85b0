#pragma once
// What shows the level while it is played: which camera, from where, and how one comes from one to the next. The same
// for the window, written runs and checks. Values; one thread each.
#include <functional>
#include <optional>
#include <vector>

#include "model/facets/shot.h"
#include "rehearse/level.h"

namespace rehearse {

/// A view, as one looks through it.
struct View {
    base::Vec3 eye{0.0}, to{0.0};
    double verticalDegrees = 50;
    friend bool operator==(const View&, const View&) = default;
};
/// Is a place in the picture of a view, `aspect` wide for its height, `margin` of it (0..1) left out at the edges?
bool isInPicture(const View& view, const base::Vec3& at, double aspect = 16.0 / 9.0, double margin = 0);

/// A camera with a shot, as the level begins.
struct ShotAt {
    base::ObjectId camera;
    std::string name;
    model::Shot shot;
    double verticalDegrees = 50;
    Pose pose;                        ///< of the camera
    std::int32_t thing = -1;          ///< that the camera is part of; -1: it stands
    std::int32_t seen = -1;           ///< the thing it looks at, when that moves
    base::Vec3 seenFoot{0.0};         ///< where that is at the beginning
    std::vector<std::int32_t> zones;  ///< of the level
    bool everywhere = false;          ///< it watches no zone
    std::vector<base::Vec3> path;     ///< of what rides, world
};
std::vector<ShotAt> shotsOf(const Level& level);
/// One of a scene as it stands, without a level; its things and zones are left open. The slot has a shot.
ShotAt shotAt(const model::Scene& scene, model::Slot slot);

/// Whom a camera looks at.
struct Stand {
    base::Vec3 foot{0.0};
    double yawDegrees = 0;
};
/// Metres from one place to the first solid on the way to another; nothing: it is free.
using Blocked = std::function<std::optional<double>(const base::Vec3& from, const base::Vec3& to)>;

/// The view of a camera without lag, and with what walls do to it. `pose`: where the camera is.
View viewOf(const ShotAt& shot, const Pose& pose, const Stand& seen, const Blocked& blocked);

/// What the cameras ask of who plays.
class ShotStage {
  public:
    virtual ~ShotStage() = default;
    virtual bool isPlayerIn(std::int32_t zone) const = 0;
    virtual Stand player() const = 0;
    /// From where a thing stood at the beginning to where it is.
    virtual base::Affine motion(std::int32_t thing) const = 0;
    virtual bool isThere(std::int32_t thing) const = 0;
    virtual std::optional<double> blocked(const base::Vec3& from, const base::Vec3& to) const = 0;
};

class Shots {
  public:
    Shots(const std::vector<ShotAt>& all, const ShotStage& stage);
    /// One step. True when another camera shows from now on.
    bool step();
    /// The one that shows; -1: none, and one sees with the player's own eyes.
    std::int32_t showing() const { return showing_; }
    /// What is seen; nothing: as above.
    const std::optional<View>& view() const { return view_; }
    /// By a cue: that camera, whatever the zones say; -1: as they say again.
    void force(std::int32_t shot) { forced_ = shot; }

  private:
    std::int32_t chosen() const;
    View wanted(std::int32_t shot) const;
    Stand seenBy(const ShotAt& shot) const;

    const std::vector<ShotAt>& all_;
    const ShotStage& stage_;
    std::int32_t showing_ = -1, forced_ = -1;
    std::optional<View> view_;
    View lagging_;                 // of the one that shows, before what glides
    View from_;                    // that one glides away from
    int gliding_ = 0, glide_ = 0;  // steps
};

}  // namespace rehearse
