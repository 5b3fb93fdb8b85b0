// Placing points: clicks on surfaces, one point each, of the selected object or of a new one that is nothing else.
// Points that are there are moved.
#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/move_point.h"
#include "edit/session.h"
#include "ops/facets.h"
#include "ops/objects.h"

namespace app {
namespace {

class PlacePoints : public PlaceTool {
  public:
    explicit PlacePoints(ViewContext& view) : PlaceTool(view), there_(view) {}
    bool claims() const override { return editor_.tools().tool == Tool::Points; }
    bool point(const QPointF& pixel) override {
        const bool onOne = there_.offer(pixel).has_value();
        Q_EMIT view_.hintStale();
        return PlaceTool::point(pixel) || onOne;
    }
    void withdraw() override {
        there_.withdraw();
        PlaceTool::withdraw();
    }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers modifiers) override {
        if (Taken taken = there_.press(modifiers); taken.yes) return std::move(taken.hold);
        if (const auto at = view_.caughtOrLanding(view_.pointer))
            place(*at);
        else
            editor_.say(tr("There is nothing here for a point to stand on."));
        return nullptr;
    }
    void paint(QPainter& p) const override { there_.paint(p); }
    QString hint() const override {
        const QString onOne = there_.hint();
        if (!onOne.isEmpty()) return onOne;
        return tr("Click on surfaces: points, of the selected object or a new one · Esc: no more");
    }

  private:
    void place(const base::Vec3& at);
    base::Status placeNew(edit::Draft& draft, const base::Vec3& at) const;

    MovePoint there_;
};

void PlacePoints::place(const base::Vec3& at) {
    const auto chosen = editor_.selection();
    const bool toOne = chosen.size() == 1 && editor_.scene().find(chosen.front()) != kNoSlot;
    editor_.run(
        toOne ? "Add a point to " + ops::describe(editor_.scene(), chosen) : "Add points",
        [&](edit::Draft& draft) { return toOne ? ops::addPoint(draft, chosen.front(), at) : placeNew(draft, at); });
}

base::Status PlacePoints::placeNew(edit::Draft& draft, const base::Vec3& at) const {
    model::ObjectRecord owner;
    owner.id = editor_.session().random().nextId();
    owner.parent = editor_.entered();
    owner.name = editor_.session().intern(draft.freeNames().next("Points"));
    base::Transform world;
    world.position = at;
    const Slot parent = draft.scene().find(owner.parent);
    const auto into = parent == kNoSlot ? std::nullopt : base::inverse(draft.scene().world(parent));
    owner.local = into ? base::toTransform(*into * base::toAffine(world)) : world;
    if (base::Status made = draft.create({&owner, 1}); !made) return made;
    if (base::Status added = ops::addPoint(draft, owner.id, at); !added) return added;
    editor_.session().select({owner.id});
    return {};
}

}  // namespace

GesturePtr placePoints(ViewContext& view) {
    return std::make_unique<PlacePoints>(view);
}

}  // namespace app
