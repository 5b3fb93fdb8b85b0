#pragma once
// Where one looks from in a view, and every way to go elsewhere: orbit, pan, look and fly with the mouse, walk on the
// ground, a side, a jump, what is selected brought into view.
#include <QElapsedTimer>
#include <QObject>
#include <QPointF>
#include <QTimer>
#include <optional>
#include <set>
#include <vector>

#include "base/id.h"
#include "model/scene.h"
#include "render/camera.h"

namespace app {

class ViewContext;

/// Which way a pane looks: Free as one likes, the others orthographic along a world axis.
enum class PaneSide { Free, Top, Front, Back, Left, Right };
QString paneSideName(PaneSide side);

/// What a camera object sees.
render::Camera cameraOf(const model::Scene& scene, model::Slot slot);

class Eye : public QObject {
    Q_OBJECT
  public:
    explicit Eye(ViewContext& view);

    void setCamera(const render::Camera& camera);
    /// Goes there in a moment, or at once where that is switched off.
    void jumpTo(const render::Camera& camera);
    /// Looks at a scene for the first time.
    void startAt(const render::Camera& camera, const base::Aabb& all);
    PaneSide side() const { return side_; }
    /// Looks that way at what it looked at before.
    void setSide(PaneSide side);
    /// "Free view · looking north", for the caption; without the way where there is no room.
    QString caption(bool withWay) const;

    /// Stands at eye height on what is under the pointer and walks with W A S D; again: back to where one looked from.
    void toggleWalk();
    bool isWalking() const { return walk_.has_value(); }
    void stopWalking() { walk_.reset(); }
    /// Sees what a camera object sees; its field of view is kept until the next jump.
    void lookThrough(model::Slot camera);
    /// The point under the pointer, or in the middle of the view.
    std::optional<base::Vec3> pointedAt() const;
    /// Brings the selection (or, without one, the whole scene) into view; again: back.
    void bringIntoView();
    /// The same, but never back.
    void showSelection();

    /// The middle or right button goes down.
    void press(Qt::MouseButton button, Qt::KeyboardModifiers modifiers);
    /// True when one looks elsewhere by that.
    bool move(const QPointF& by);
    void release();
    void wheel(double notches, const QPointF& pixel);
    bool isMoving() const { return mouse_ != Mouse::Idle; }
    /// Do letters fly or walk now, whatever they are short for otherwise?
    bool takesKey(int key) const;
    void pressKey(int key) { keys_.insert(key); }
    void releaseKey(int key) { keys_.erase(key); }
    void releaseKeys() { keys_.clear(); }
    /// What the mouse does to it; empty: nothing.
    QString hint() const;
    /// The camera was changed by someone.
    void moved();

  private:
    enum class Mouse { Idle, Orbit, Pan, Look };
    void glideOn();
    void fly();
    void walkOn(double seconds);
    base::Vec3 keyWay(const base::Vec3& ahead) const;
    double viewDepthOf(const base::Vec3& p) const;
    base::Aabb boxOfSelection() const;
    double hiddenShare(const render::Camera& camera, const base::Aabb& box) const;
    render::Camera cameraRound(const base::Aabb& box) const;

    ViewContext& view_;
    PaneSide side_ = PaneSide::Free;
    render::Camera free_;  ///< the last one of this pane in perspective
    render::Camera glideFrom_, glideTo_;
    QTimer glideTimer_;
    QElapsedTimer glideClock_;
    std::optional<render::Camera> walk_;  ///< where one looked from before walking
    std::optional<render::Camera> before_;
    std::vector<base::ObjectId> brought_;  ///< the selection that was brought into view from there
    Mouse mouse_ = Mouse::Idle;
    base::Vec3 pivot_{0.0};
    std::set<int> keys_;
    double flySpeed_ = 8.0;
    QTimer flyTimer_;
    QElapsedTimer flyClock_;
};

}  // namespace app
