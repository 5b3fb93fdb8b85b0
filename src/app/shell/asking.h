#pragma once
// Asking for a point or an object: the next click in the view, or the Roster, gives it instead of selecting.
#include <QObject>
#include <functional>

#include "base/id.h"
#include "base/math.h"
#include "model/scene.h"

namespace app {

class Asking : public QObject {
    Q_OBJECT
  public:
    /// Each click gives a point until no more are asked for.
    void askPoint(std::function<void(const base::Vec3&)> take);
    bool asksPoint() const { return bool(takePoint_); }
    void givePoint(const base::Vec3& at) {
        if (const auto take = takePoint_) take(at);  // who takes it may ask for no more
    }
    /// One click on something that fits.
    void askObject(std::function<bool(model::Slot)> fits, std::function<void(base::ObjectId)> take);
    bool asksObject() const { return bool(takeObject_); }
    bool objectFits(model::Slot slot) const { return fitsObject_ && fitsObject_(slot); }
    void giveObject(const model::Scene& scene, model::Slot slot);
    bool asks() const { return asksPoint() || asksObject(); }
    /// Nothing is asked for any more.
    void stop();

  Q_SIGNALS:
    void changed();

  private:
    std::function<void(const base::Vec3&)> takePoint_;
    std::function<bool(model::Slot)> fitsObject_;
    std::function<void(base::ObjectId)> takeObject_;
};

}  // namespace app
