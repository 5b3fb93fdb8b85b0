#include "app/view/eye.h"

#include <QGuiApplication>
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/preferences.h"
#include "app/shell/sight.h"
#include "app/view/view_context.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/facets/camera.h"
#include "model/facets/points.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "query/walk.h"

namespace app {

namespace {

constexpr int kGlideMs = 170;

/// Yaw and pitch of a side, degrees.
std::pair<double, double> angles(PaneSide side) {
    switch (side) {
        case PaneSide::Top: return {0, -90};
        case PaneSide::Front: return {0, 0};
        case PaneSide::Back: return {180, 0};
        case PaneSide::Left: return {-90, 0};
        case PaneSide::Right: return {90, 0};
        case PaneSide::Free: break;
    }
    return {0, -20};
}

/// What one walks on: all that is shown and can be touched.
query::SlotFilter touched(const Editor& editor) {
    return [&editor](Slot s) {
        return !editor.isHidden(s) &&
               (editor.scene().flagsOf(s) & (model::flags::kUntouched | model::flags::kAbsent)) == 0;
    };
}

}  // namespace

QString paneSideName(PaneSide side) {
    const QString names[] = {Eye::tr("Free"), Eye::tr("Top"),  Eye::tr("Front"),
                             Eye::tr("Back"), Eye::tr("Left"), Eye::tr("Right")};
    return names[static_cast<int>(side)];
}

Eye::Eye(ViewContext& view) : view_(view) {
    glideTimer_.setInterval(12);
    connect(&glideTimer_, &QTimer::timeout, this, &Eye::glideOn);
    flyTimer_.setInterval(16);
    connect(&flyTimer_, &QTimer::timeout, this, &Eye::fly);
    connect(&view_, &ViewContext::cameraMoved, this, [this] {
        if (side_ == PaneSide::Free) free_ = view_.camera;
    });
}

void Eye::moved() {
    Q_EMIT view_.cameraMoved();
}

void Eye::setCamera(const render::Camera& camera) {
    glideTimer_.stop();
    view_.camera = camera;
    moved();
}

void Eye::startAt(const render::Camera& camera, const base::Aabb& all) {
    walk_.reset();
    const PaneSide side = std::exchange(side_, PaneSide::Free);
    setCamera(camera);
    if (side != PaneSide::Free) {
        setSide(side);
        view_.camera.frame(all, view_.viewport());
    }
    before_.reset();
}

QString Eye::caption(bool withWay) const {
    const QString what = walk_ ? tr("Walking") : side_ == PaneSide::Free ? tr("Free view") : paneSideName(side_);
    return withWay ? tr("%1 · %2").arg(what, QString::fromStdString(view_.camera.describe())) : what;
}

void Eye::setSide(PaneSide side) {
    if (!view_.editor.isOpen()) return;
    const double distance = view_.focusDistance();
    const base::Vec3 focus =
        view_.camera.isFlat() ? view_.camera.eye : view_.camera.eye + view_.camera.forward() * distance;
    const double height = view_.camera.isFlat()
                              ? view_.camera.heightMetres
                              : view_.camera.metresPerPixel(focus, view_.viewport()) * view_.viewport().height;
    walk_.reset();
    side_ = side;
    if (side != PaneSide::Free) {
        const auto [yaw, pitch] = angles(side);
        return setCamera(render::Camera::flat(focus, yaw, pitch, height));
    }
    // What was seen stays in the middle, from where one last looked freely.
    render::Camera camera = free_;
    if (view_.camera.isFlat()) {
        camera.eye = focus - camera.forward() * (height / 2 / std::tan(base::radians(camera.verticalDegrees) / 2));
        camera.heightMetres = 0;
    }
    setCamera(camera);
}

void Eye::jumpTo(const render::Camera& camera) {
    walk_.reset();
    if (!camera.isFlat() && side_ != PaneSide::Free) side_ = PaneSide::Free;
    if (!view_.editor.preferences().glide || !view_.widget.isVisible()) return setCamera(camera);
    glideFrom_ = view_.camera;
    glideTo_ = camera;
    glideClock_.start();
    glideTimer_.start();
}

void Eye::glideOn() {
    const double t = std::min(static_cast<double>(glideClock_.elapsed()) / kGlideMs, 1.0);
    if (t >= 1) return setCamera(glideTo_);
    view_.camera = glideFrom_.between(glideTo_, t * t * (3 - 2 * t));
    moved();
}

std::optional<base::Vec3> Eye::pointedAt() const {
    return view_.landingUnder(
        view_.widget.underMouse() ? view_.pointer : QPointF(view_.widget.width() / 2.0, view_.widget.height() / 2.0));
}

void Eye::toggleWalk() {
    if (!view_.editor.isOpen()) return;
    if (walk_) {
        const render::Camera back = *walk_;
        walk_.reset();
        flyTimer_.stop();
        jumpTo(back);
        return Q_EMIT view_.hintStale();
    }
    const auto place = pointedAt();
    const query::SceneIndex* ground = view_.editor.sight().index();
    const model::Walker& walker = view_.editor.session().project().walker;
    const auto feet = place && ground != nullptr ? query::floorBelow(view_.editor.scene(), ground->solid(),
                                                                     *place + base::Vec3(0, walker.stepHeight, 0),
                                                                     walker, 50, touched(view_.editor))
                                                 : std::nullopt;
    if (!feet) return view_.editor.say(tr("There is no ground to stand on under the pointer."));
    const render::Camera before = view_.camera;
    render::Camera camera;
    camera.eye = *feet + base::Vec3(0, walker.eyeHeight, 0);
    camera.yawDegrees = before.isFlat() ? 0 : before.yawDegrees;
    jumpTo(camera);
    walk_ = before;
    keys_.clear();
    flyClock_.start();
    flyTimer_.start();
    moved();
    Q_EMIT view_.hintStale();
    view_.widget.setFocus();
}

/// The way the held letters mean, W of them ahead; not of unit length.
base::Vec3 Eye::keyWay(const base::Vec3& ahead) const {
    base::Vec3 way(0.0);
    if (keys_.contains(Qt::Key_W)) way += ahead;
    if (keys_.contains(Qt::Key_S)) way -= ahead;
    if (keys_.contains(Qt::Key_D)) way += view_.camera.right();
    if (keys_.contains(Qt::Key_A)) way -= view_.camera.right();
    return way;
}

// W A S D along the ground, wherever one looks.
void Eye::walkOn(double seconds) {
    const query::SceneIndex* ground = view_.editor.sight().index();
    if (ground == nullptr || glideTimer_.isActive()) return;
    const model::Walker& walker = view_.editor.session().project().walker;
    const base::Vec3 ahead = glm::cross(base::Vec3(0, 1, 0), view_.camera.right());
    const base::Vec3 way = keyWay(ahead);
    if (glm::length(way) < 1e-9) return;
    const auto modifiers = QGuiApplication::queryKeyboardModifiers();
    const double speed = walker.metresPerSecond * ((modifiers & Qt::ShiftModifier) != 0 ? 2.5 : 1.0);
    const base::Vec3 up(0, walker.eyeHeight, 0);
    view_.camera.eye = query::walk(view_.editor.scene(), ground->solid(), view_.camera.eye - up,
                                   glm::normalize(way) * (speed * seconds), walker, touched(view_.editor)) +
                       up;
    moved();
}

render::Camera cameraOf(const model::Scene& scene, Slot slot) {
    render::Camera camera = render::Camera::at(scene.world(slot));
    if (const auto* seen = scene.facet<model::Camera>(slot)) camera.verticalDegrees = seen->verticalDegrees;
    return camera;
}

void Eye::lookThrough(Slot slot) {
    before_ = view_.camera;
    brought_ = view_.editor.selection();
    const render::Camera before = view_.camera;
    jumpTo(cameraOf(view_.editor.scene(), slot));
    before_ = before;
}

void Eye::fly() {
    const double seconds = std::min(static_cast<double>(flyClock_.restart()) / 1000.0, 0.1);
    if (walk_) return walkOn(seconds);
    if (keys_.empty()) return;
    base::Vec3 way = keyWay(view_.camera.forward());
    if (keys_.contains(Qt::Key_R)) way += base::Vec3(0, 1, 0);
    if (keys_.contains(Qt::Key_F)) way -= base::Vec3(0, 1, 0);
    if (glm::length(way) < 1e-9) return;
    const auto modifiers = QGuiApplication::queryKeyboardModifiers();
    const double speed = flySpeed_ * ((modifiers & Qt::ShiftModifier) != 0 ? 4.0 : 1.0) *
                         ((modifiers & Qt::ControlModifier) != 0 ? 0.25 : 1.0);
    view_.camera.eye += glm::normalize(way) * (speed * seconds);
    moved();
}

double Eye::viewDepthOf(const base::Vec3& p) const {
    if (view_.camera.isFlat()) return 1;
    return std::max(glm::dot(p - view_.camera.eye, view_.camera.forward()), 0.05);
}

void Eye::bringIntoView() {
    if (!view_.editor.isOpen()) return;
    if (before_ && brought_ == view_.editor.selection()) {
        const render::Camera back = *before_;
        before_.reset();
        jumpTo(back);
        return;
    }
    showSelection();
}

/// How much of a box lies behind what is not selected, seen from a camera: 0 to 1.
double Eye::hiddenShare(const render::Camera& camera, const base::Aabb& box) const {
    const query::SlotFilter apart = view_.others();
    int hidden = 0;
    constexpr int kCorners = 8;
    for (int i = 0; i <= kCorners; ++i) {
        base::Vec3 at = box.centre();
        if (i < kCorners)
            for (int k = 0; k < 3; ++k) at[k] += box.size()[k] * ((i >> k & 1) != 0 ? 0.4 : -0.4);
        const double away = glm::length(at - camera.eye);
        const auto hit =
            view_.editor.sight().index()->pick(view_.editor.scene(), {camera.eye, (at - camera.eye) / away}, apart);
        hidden += hit && hit->distance < away - 1e-3 ? 1 : 0;
    }
    return hidden / (kCorners + 1.0);
}

/// The box fills the view, seen as now; or, when something stands before it, from the nearest side that shows it.
render::Camera Eye::cameraRound(const base::Aabb& box) const {
    render::Camera best = view_.camera;
    best.frame(box, view_.viewport());
    if (view_.camera.isFlat() || view_.editor.sight().index() == nullptr || view_.editor.selection().empty())
        return best;
    constexpr double kEnough = 0.4;
    double least = hiddenShare(best, box);
    for (const double pitch : {0.0, -20.0, -40.0, -65.0})
        for (const double yaw : {0.0, 35.0, -35.0, 70.0, -70.0, 110.0, -110.0, 145.0, -145.0, 180.0}) {
            if (least <= kEnough) return best;
            render::Camera other = view_.camera;
            other.look(yaw, pitch);
            other.frame(box, view_.viewport());
            const double share = hiddenShare(other, box);
            if (share < least) least = share, best = other;
        }
    return best;
}

/// What is selected with its points and zones, or a little space about each where there is nothing to see; else all.
base::Aabb Eye::boxOfSelection() const {
    const model::Scene& scene = view_.editor.scene();
    base::Aabb box;
    for (base::ObjectId id : view_.editor.selection()) {
        const Slot s = scene.find(id);
        if (s == kNoSlot) continue;
        base::Aabb own = scene.subtreeBounds(s);
        if (const auto* set = scene.facet<model::PointSet>(s))
            for (const model::PlacePoint& p : set->points) own.add(ops::pointInWorld(scene, s, p));
        for (const ops::ZoneGrip& grip : ops::zoneGrips(scene, s)) own.add(grip.at);
        if (own.empty()) own = {scene.world(s).translation - 0.6, scene.world(s).translation + 0.6};
        box.add(own);
    }
    return box.empty() ? scene.subtreeBounds(kNoSlot) : box;
}

void Eye::showSelection() {
    if (!view_.editor.isOpen()) return;
    const base::Aabb box = boxOfSelection();
    if (box.empty()) return;
    const render::Camera before = view_.camera;
    jumpTo(cameraRound(box));
    before_ = before;
    brought_ = view_.editor.selection();
}

void Eye::press(Qt::MouseButton button, Qt::KeyboardModifiers modifiers) {
    const bool flat = view_.camera.isFlat();
    if (button == Qt::MiddleButton) {
        mouse_ = (modifiers & Qt::ShiftModifier) != 0 || flat ? Mouse::Pan : Mouse::Orbit;
        const base::Ray ray = view_.rayAt(view_.pointer);
        const auto hit = view_.editor.surfaceUnder(ray, false);
        pivot_ = hit ? hit->point : ray.at(view_.focusDistance());
    }
    if (button == Qt::RightButton) {
        mouse_ = flat ? Mouse::Pan : Mouse::Look;
        pivot_ = view_.camera.eye;
        if (walk_ || flat) return;
        keys_.clear();
        flyClock_.start();
        flyTimer_.start();
    }
}

bool Eye::move(const QPointF& by) {
    const Preferences& likes = view_.editor.preferences();
    const double speed = likes.orbitSpeed, up = likes.invertOrbit ? -speed : speed;
    switch (mouse_) {
        case Mouse::Idle: return false;
        case Mouse::Orbit: view_.camera.orbit(pivot_, -by.x() * 0.3 * speed, -by.y() * 0.3 * up); break;
        case Mouse::Pan: view_.camera.pan({by.x(), by.y()}, viewDepthOf(pivot_), view_.viewport()); break;
        case Mouse::Look: view_.camera.look(-by.x() * 0.2 * speed, -by.y() * 0.2 * up); break;
    }
    moved();
    return true;
}

void Eye::release() {
    mouse_ = Mouse::Idle;
    if (walk_) return;
    flyTimer_.stop();
    keys_.clear();
}

void Eye::wheel(double notches, const QPointF& pixel) {
    if (mouse_ == Mouse::Look) {
        flySpeed_ = std::clamp(flySpeed_ * std::pow(1.25, notches), 0.2, 400.0);
        return view_.editor.setHint(tr("Fly at %1 m/s").arg(fixed(flySpeed_, 1)));
    }
    const Preferences& likes = view_.editor.preferences();
    notches *= likes.invertWheel ? -likes.wheelSpeed : likes.wheelSpeed;
    const base::Ray ray = view_.rayAt(pixel);
    base::Vec3 target = ray.at(view_.focusDistance());
    if (const auto hit = view_.editor.surfaceUnder(ray, false)) target = hit->point;
    view_.camera.zoomTowards(target, notches > 0 ? 1 - std::pow(0.85, notches) : -(std::pow(1.18, -notches) - 1));
    moved();
}

bool Eye::takesKey(int key) const {
    return (mouse_ == Mouse::Look || walk_) && (key == Qt::Key_W || key == Qt::Key_A || key == Qt::Key_S ||
                                                key == Qt::Key_D || key == Qt::Key_R || key == Qt::Key_F);
}

QString Eye::hint() const {
    if (walk_) return tr("Walk: W A S D · right drag: look round · Shift: run · Esc: back");
    switch (mouse_) {
        case Mouse::Look:
            return tr("Look round · W A S D: fly · R F: up and down · wheel: speed · Shift faster, Ctrl slower");
        case Mouse::Orbit: return tr("Orbit about the point under the pointer");
        case Mouse::Pan: return tr("Pan");
        case Mouse::Idle: break;
    }
    return {};
}

}  // namespace app
