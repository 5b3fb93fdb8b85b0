#pragma once
// Grips: what of the one selected object can be taken and pulled. A Model says which grips there are, how they look and
// what one does; the rest is the same for all of them.
//
// struct Model {
//     using Grip = …;
//     static std::vector<Grip> grips(const ViewContext&);          of the selection, as it stands
//     static base::Vec3 place(const Grip&);                        world
//     static bool isSame(const Grip&, const Grip&);                wherever they are now
//     static void paint(QPainter&, const ViewContext&, const Grip&, const QPointF& at, bool lit);
//     static QString hint(const Grip&, bool held);
// };
// What is done with one in the hand is a Hold; GripPull below is that, or what comes of it.
#include <cmath>

#include "app/shell/tools.h"
#include "app/view/gesture.h"
#include "edit/session.h"
#include "ops/move.h"

namespace app {

inline constexpr double kGripReach = 9;  ///< pixels

template <class Model>
class GripPull;

template <class Model, class Pull = GripPull<Model>>
class GripGesture : public Gesture {
  public:
    using Grip = typename Model::Grip;
    using Gesture::Gesture;

    std::optional<int> offer(const QPointF& pixel) override {
        const auto found = under(pixel);
        hovered_ = found ? std::optional(found->second) : std::nullopt;
        return found ? std::optional(found->first) : std::nullopt;
    }
    void withdraw() override { hovered_.reset(); }
    Taken press(Qt::KeyboardModifiers modifiers) override {
        // With Ctrl a copy is pulled of what is below.
        const auto grip = modifiers == Qt::ControlModifier ? std::nullopt : under(view_.pointer);
        return grip ? Taken{true, std::make_unique<Pull>(view_, grip->second)} : Taken{};
    }
    void paint(QPainter& p) const override {
        for (const Grip& grip : Model::grips(view_))
            if (const auto at = view_.pixelOf(Model::place(grip)))
                Model::paint(p, view_, grip, *at, hovered_ && Model::isSame(*hovered_, grip));
        p.setBrush(Qt::NoBrush);
    }
    QString hint() const override { return hovered_ ? Model::hint(*hovered_, false) : QString(); }
    std::vector<QPointF> grips() const override {
        std::vector<QPointF> pixels;
        for (const Grip& grip : Model::grips(view_))
            if (const auto at = view_.pixelOf(Model::place(grip))) pixels.push_back(*at);
        return pixels;
    }

  private:
    /// The nearest one within reach, with its number.
    std::optional<std::pair<int, Grip>> under(const QPointF& pixel) const {
        std::optional<std::pair<int, Grip>> best;
        double nearest = kGripReach;
        int number = 0;
        for (const Grip& grip : Model::grips(view_)) {
            const auto at = view_.pixelOf(Model::place(grip));
            const double away = at ? std::hypot(at->x() - pixel.x(), at->y() - pixel.y()) : kGripReach;
            if (away < nearest) nearest = away, best.emplace(number, grip);
            ++number;
        }
        return best;
    }

    std::optional<Grip> hovered_;
};

/// A grip in the hand, of a Model that can be pulled by
///     using Now = …;                                               what it is pulled to
///     static constexpr const char* kStep;                          the step's name
///     static constexpr bool kAnew;                                 each move starts from what was there
///     static std::optional<base::Vec3> target(ViewContext&, const Grip&, const model::Scene& before, ObjectId);
///     static Now now(const ViewContext&, const Grip&, const model::Scene& before, ObjectId, base::Vec3 to, Steps);
///     static base::Status apply(const ViewContext&, edit::Draft&, const Grip&, ObjectId, const Now&);
///     static void paintPull(QPainter&, const ViewContext&, const Grip&, ObjectId);
template <class Model>
class GripPull : public Hold {
  public:
    using Grip = typename Model::Grip;
    GripPull(ViewContext& view, const Grip& grip)
        : Hold(view), id_(editor_.selection().front()), grip_(grip), before_(editor_.scene()) {}

    Goes move(Qt::KeyboardModifiers modifiers) override {
        const auto to = Model::target(view_, grip_, before_, id_);
        if (!to) return Goes::On;
        const auto now = Model::now(view_, grip_, before_, id_, *to, view_.catcher.steps(modifiers));
        view_.update();
        if (now_ == now) return Goes::On;
        now_ = now;
        if (Model::kAnew || !draft_) {
            draft_.reset();  // gives back what the last move did
            draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), Model::kStep);
        }
        return editor_.report(Model::apply(view_, *draft_, grip_, id_, now)) ? Goes::On : Goes::Back;
    }
    Goes release(Qt::KeyboardModifiers) override {
        if (draft_) editor_.keep(*draft_);
        return Goes::Done;
    }
    bool catches() const override { return true; }
    void paint(QPainter& p) const override {
        for (const Grip& grip : Model::grips(view_))
            if (const auto at = view_.pixelOf(Model::place(grip)))
                Model::paint(p, view_, grip, *at, Model::isSame(grip, grip_));
        p.setBrush(Qt::NoBrush);
        Model::paintPull(p, view_, grip_, id_);
    }
    QString hint() const override { return Model::hint(grip_, true); }

  private:
    base::ObjectId id_;
    Grip grip_;
    model::Scene before_;  ///< a snapshot from when it was taken
    std::optional<typename Model::Now> now_;
    std::unique_ptr<edit::Draft> draft_;
};

/// The one object that is selected; kNoSlot: none, or several.
inline model::Slot onlySelected(const ViewContext& view) {
    const Editor& editor = view.editor;
    return editor.isOpen() && editor.selection().size() == 1 ? editor.scene().find(editor.selection().front())
                                                             : model::kNoSlot;
}
/// Steps of the world's lattice where one keeps to it, level; the height is the surface's. What is caught stays.
inline base::Vec3 onLattice(const ViewContext& view, base::Vec3 place, const render::Steps& steps) {
    if (!view.catcher.caught() && view.editor.tools().onLattice)
        for (int axis : {0, 2}) place[axis] = ops::snapped(place[axis], steps.metres);
    return place;
}
/// Where a pixel's ray meets the plane through a place; nothing: nearly edge on, behind, or far away.
inline std::optional<base::Vec3> onPlane(const ViewContext& view, const QPointF& pixel, const base::Vec3& place,
                                         const base::Vec3& normal) {
    const base::Ray ray = view.rayAt(pixel);
    const double facing = glm::dot(ray.direction, normal);
    const double t = std::abs(facing) < 1e-4 ? -1 : glm::dot(place - ray.origin, normal) / facing;
    return t > 0 && t < 9000 ? std::optional(ray.at(t)) : std::nullopt;
}

}  // namespace app
