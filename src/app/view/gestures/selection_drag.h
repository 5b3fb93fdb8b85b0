#pragma once
// A drag of what is selected, or of copies of it: what the handle, the grips of sides and carrying share.
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "app/view/gesture.h"
#include "ops/move.h"
#include "query/sweep.h"

namespace app {

class SelectionDrag : public Hold {
  public:
    explicit SelectionDrag(ViewContext& view) : Hold(view) {}
    ~SelectionDrag() override;
    bool catches() const override { return true; }

  protected:
    /// Takes the selection in the hand, or copies of it with `pulls`; `verb` begins the step's name. False when that is
    /// refused; it was said why.
    bool begin(const std::string& verb, bool pulls);
    /// The offset that puts the selection's nearest feature on what is caught, as far as the part allows.
    base::Vec3 caughtOffset(const base::Vec3& raw, const render::HandlePart& part, const base::Mat3& axes) const;
    /// With slopes followed it is turned with the way of the route that is caught, about up; else as it was.
    base::Mat3 turnOnRoute() const;
    /// The pointer goes out at one edge of the view and comes in at the other.
    void wrapPointer();
    /// The pointer as if it had not been set back.
    QPointF wholePointer() const { return view_.pointer + wrapped_; }
    /// Where one object stands now, in the world, as its fields say it; of several `together`.
    base::Vec3 placeNow(const base::Vec3& together) const;
    /// What it has come to, beside the pointer.
    void paintReadout(QPainter& p, const QString& text) const;
    Goes finish();
    /// Where it may come to when it should be moved by `wanted` in all: where it touches something first and, if
    /// things are to stop there, along that. `along`: the directions it may go in, as columns; nothing: all.
    base::Vec3 stopped(const base::Vec3& wanted, const std::optional<base::Mat3>& along = {});
    /// It stands otherwise than it did when the drag began: turned, or let through. Contact is looked for anew from
    /// where it is.
    void stopAnew();
    /// It was put elsewhere than stopped() said: down onto what is below.
    void cameTo(const base::Vec3& moved) { came_ = moved; }
    /// What it was stopped by, for the readout; empty: by nothing.
    QString stoppedText() const;

    std::unique_ptr<edit::Draft> draft_;
    std::optional<ops::Mover> mover_;
    base::Quat startTurn_{1, 0, 0, 0};  ///< of it
    base::Vec3 startUp_{0, 1, 0};       ///< of the object selected last
    bool onRoute_ = false;              ///< it stands on the route that is caught: let go, it is a stop of a course
    std::vector<base::Vec3> features_;  ///< of the selection when the drag began: what may land on what is caught

  private:
    ops::Ids taken() const;
    base::Result<ops::Mover> beginPull();
    void collectFeatures();

    QPointF wrapped_;  ///< how far the pointer was set back at the view's edges
    std::optional<query::Sweep> sweep_;
    base::Vec3 sweptFrom_{0.0}, came_{0.0};  ///< of the whole way: where the sweep began, and where it is
    std::optional<std::pair<std::vector<base::ObjectId>, base::Affine>> pulledFrom_;  ///< originals, where the first is
};

/// What of a handle's work it has come to, done by a mover. True: as far as a kind allows, and not all of it.
base::Result<bool> applyAmount(edit::Draft& draft, const ops::Mover& mover, const render::HandlePart& part,
                               const render::HandleAmount& amount, ops::PivotMode pivot);

}  // namespace app
