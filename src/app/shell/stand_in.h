#pragma once
// A figure that stands in for who plays while a camera is set up: where it stands decides what the one selected camera
// with a shot would show. Only for looking: no step, and not kept.
#include <QObject>
#include <map>
#include <optional>

#include "app/shell/editor.h"
#include "rehearse/shots.h"

namespace app {

class StandIn : public QObject {
    Q_OBJECT
  public:
    explicit StandIn(Editor& editor) : editor_(editor) {}
    /// The one selected object, when it has a shot and one edits; kNoSlot: none.
    model::Slot camera() const;
    /// Where it stands, of the camera that is selected: where it was put, else in the first zone, else in front.
    std::optional<base::Vec3> foot() const;
    void put(const base::Vec3& foot);
    /// Does the camera watch where it stands?
    bool isWatched() const;
    /// What the camera would show; nothing: it shows nobody.
    std::optional<rehearse::View> view() const;
    /// Where the other cameras with a shot would see it from; a few.
    std::vector<base::Vec3> otherEyes() const;

  Q_SIGNALS:
    void moved();

  private:
    std::optional<rehearse::View> viewOf(model::Slot camera) const;
    Editor& editor_;
    std::map<base::ObjectId, base::Vec3> put_;  // by camera
};

}  // namespace app
