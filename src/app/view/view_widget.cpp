#include "app/view/view_widget.h"

#include "app/look/colour.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"

#include <QMenu>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "model/facets/light.h"
#include "model/facets/points.h"
#include "model/facets/zone.h"
#include "model/library.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr int kPulseMs = 900;
constexpr double kAimMs = 20;  // frame time to keep while the camera moves

/// Of the kind's mark, or grey.
QColor kindColour(Editor& editor, base::Name kind) {
    const model::Kind* known = editor.session().library().kind(kind);
    const QColor mark = known != nullptr ? QColor(QString::fromStdString(known->colourMark)) : QColor();
    return mark.isValid() ? mark : QColor(150, 150, 145);
}

}  // namespace

ViewWidget::ViewWidget(Editor& editor, Stage& stage, int pane, QWidget* parent)
    : QWidget(parent), editor_(editor), stage_(stage), pane_(pane), caption_(new QToolButton(this)) {
    setObjectName(pane == 0 ? QStringLiteral("view") : QString("view%1").arg(pane + 1));
    setAccessibleName(tr("View of the scene"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAcceptDrops(true);
    setMinimumSize(140, 110);
    setAttribute(Qt::WA_OpaquePaintEvent);
    caption_->setObjectName("viewCaption");
    caption_->setAccessibleName(tr("Which way this view looks"));
    caption_->setToolTip(tr("Which way this view looks; views kept, and cameras to look through"));
    caption_->setFocusPolicy(Qt::TabFocus);
    caption_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(caption_);
    menu->setToolTipsVisible(true);
    caption_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        Q_EMIT activated();
        menu->clear();
        Q_EMIT captionMenu(menu);
    });
    caption_->move(8, 8);
    rest_.setSingleShot(true);
    rest_.setInterval(140);
    connect(&rest_, &QTimer::timeout, this, [this] {
        moving_ = false;
        restage(false);
    });
    flushFade_.setSingleShot(true);
    flushFade_.setInterval(6000);
    connect(&flushFade_, &QTimer::timeout, this, &ViewWidget::forgetFlush);
    connect(&editor_, &Editor::historyChanged, this, &ViewWidget::forgetFlush);
    connect(&editor_, &Editor::selectionChanged, this, &ViewWidget::forgetFlush);
    connect(&editor_, &Editor::toolChanged, this, &ViewWidget::forgetFlush);
    glideTimer_.setInterval(12);
    connect(&glideTimer_, &QTimer::timeout, this, &ViewWidget::glideOn);
    pulseTimer_.setInterval(30);
    connect(&pulseTimer_, &QTimer::timeout, this, [this] {
        if (pulse_.elapsed() > kPulseMs) pulseTimer_.stop();
        update();
    });
    flyTimer_.setInterval(16);
    connect(&flyTimer_, &QTimer::timeout, this, &ViewWidget::fly);
    connect(&editor_, &Editor::openingChanged, this, QOverload<>::of(&QWidget::update));
    connect(&editor_, &Editor::sceneShown, this, &ViewWidget::showScene);
    connect(&editor_, &Editor::sceneEdited, this, &ViewWidget::sceneEdited);
    connect(&editor_, &Editor::enteredChanged, this, [this] {
        hovered_ = kNoSlot;
        updateHint();
    });
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        idleKnown_ = dropsKnown_ = false;
        oddCopies_.reset();
        insetStale_ = true;
        updateHint();
    });
    connect(&editor_, &Editor::shownChanged, this, [this] {
        insetStale_ = true;
        caption_->setVisible(!editor_.looks().clean);
    });
    connect(&stage_, &Stage::restaged, this, &ViewWidget::restage);
    connect(&stage_, &Stage::overChanged, this, [this](bool moved) {
        shadowsChanged_ = shadowsChanged_ || moved;
        restageOver();
    });
    connect(&editor_, &Editor::toolChanged, this, [this] {
        idleKnown_ = false;
        hoveredPart_ = {};
        hoveredGrip_.reset();
        measureNext_.reset();
        updateHint();
        update();
    });
    connect(&editor_, &Editor::marksChanged, this, [this] {
        updateHint();
        update();
    });
    connect(&editor_.checks(), &Checks::changed, this, QOverload<>::of(&QWidget::update));
    connect(&editor_.checks(), &Checks::currentChanged, this, QOverload<>::of(&QWidget::update));
    connect(&editor_.scripts(), &Scripts::marksChanged, this, QOverload<>::of(&QWidget::update));
    connect(&editor_.scripts(), &Scripts::previewChanged, this, [this] {
        restageOver();
        update();
    });
    connect(&editor_, &Editor::placingChanged, this, [this] {
        if (editor_.placing().empty())
            setGhost(std::nullopt);
        else if (ghost_)
            setGhost(Ghost{editor_.placing(), ghost_->position});
        updateHint();
    });
    refreshCaption();
}

ViewWidget::~ViewWidget() = default;

render::Viewport ViewWidget::viewport() const {
    return {static_cast<double>(std::max(1, width())), static_cast<double>(std::max(1, height()))};
}

void ViewWidget::showScene() {
    walk_.reset();
    cancel();
    idleKnown_ = false;
    insetStale_ = true;
    hovered_ = kNoSlot;
    const model::SceneSettings& s = editor_.scene().settings();
    const PaneSide side = side_;
    side_ = PaneSide::Free;
    setCamera(render::Camera::looking(s.viewFrom, s.viewTo));
    if (side != PaneSide::Free) {
        setSide(side);
        camera_.frame(editor_.scene().subtreeBounds(kNoSlot), viewport());
    }
    cameraBefore_.reset();
    restage(true);
    updateHint();
}

void ViewWidget::setCamera(const render::Camera& camera) {
    glideTimer_.stop();
    camera_ = camera;
    cameraMoved();
}

void ViewWidget::sceneEdited() {
    idleKnown_ = dropsKnown_ = false;
    insetStale_ = true;
    oddCopies_.reset();
    if (hovered_ != kNoSlot && !editor_.scene().alive(hovered_)) hovered_ = kNoSlot;
}

void ViewWidget::restageOver() {
    stale_ = true;
    update();
}

void ViewWidget::restage(bool sceneMoved) {
    stale_ = true;
    stillKept_ = false;
    shadowsChanged_ = shadowsChanged_ || sceneMoved;
    update();
}

void ViewWidget::cameraMoved() {
    moving_ = true;
    rest_.start();
    stale_ = true;
    stillKept_ = false;
    if (side_ == PaneSide::Free) free_ = camera_;
    refreshCaption();
    update();
    Q_EMIT cameraChanged();
}

double ViewWidget::viewDepthOf(const base::Vec3& p) const {
    if (camera_.isFlat()) return 1;
    return std::max(glm::dot(p - camera_.eye, camera_.forward()), 0.05);
}

double ViewWidget::focusDistance() const {
    const base::Ray ray = camera_.rayTo(camera_.eye + camera_.forward());
    if (camera_.isFlat()) return camera_.distanceTo(camera_.eye);
    if (const auto hit = editor_.surfaceUnder(ray, false)) return std::clamp(hit->distance, 0.5, 3000.0);
    if (ray.direction.y < -0.02) return std::clamp(-camera_.eye.y / ray.direction.y, 2.0, 1000.0);
    return 20.0;
}

std::vector<DrawnLight> ViewWidget::lights() const {
    const model::Scene& scene = editor_.scene();
    const query::Frustum frustum = camera_.frustum(viewport());
    std::vector<std::pair<double, DrawnLight>> all;
    for (Slot s : stage_.marked()) {
        const auto& detail = scene.detail(s);
        if (!detail || !detail->get<model::Light>() || editor_.isHidden(s)) continue;
        const model::Light& light = *detail->get<model::Light>();
        DrawnLight drawn;
        drawn.position = scene.world(s).translation;
        const base::Aabb reach{drawn.position - light.reachMetres, drawn.position + light.reachMetres};
        const double distance = glm::length(drawn.position - camera_.eye);
        if (distance > light.reachMetres * 12 || query::sideOf(frustum, reach) == query::Side::Outside) continue;
        drawn.colour = light.colour * (light.intensity * 0.05);
        drawn.reach = light.reachMetres;
        if (light.shape == model::Light::Shape::Spot) {
            drawn.direction = glm::normalize(scene.world(s).direction({0, 0, -1}));
            drawn.cosOuter = std::cos(base::radians(light.outerDegrees));
            drawn.cosInner = std::max(std::cos(base::radians(light.innerDegrees)), drawn.cosOuter + 1e-3);
        }
        all.emplace_back(distance, drawn);
    }
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    // By day a few are enough to see; in the dark they are what one sees by.
    const std::size_t most = editor_.looks().daylight >= render::Daylight::Dusk ? 7 : 4;
    std::vector<DrawnLight> nearest;
    if (const auto lamp = lampOnSelection()) nearest.push_back(*lamp);
    for (std::size_t i = 0; i < std::min<std::size_t>(all.size(), most); ++i) nearest.push_back(all[i].second);
    return nearest;
}

render::Detail ViewWidget::detail() const {
    const double bias = moving_ ? bias_ : std::max(1.0, bias_ / 5);
    render::Detail detail;
    detail.mesh = std::min(detail.mesh * bias, 90.0);
    detail.box = std::min(detail.box * bias, 36.0);
    detail.point = std::min(detail.point * bias, 7.0);
    return detail;
}

// What is tinted, hovered, dragged or a ghost: drawn over a picture that may have been kept.
void ViewWidget::collectOver(const render::Detail& detail) {
    const Theme& theme = editor_.theme();
    over_.clear();
    std::vector<Slot> slots;
    if (stage_.tinted().size() <= Stage::kMostOver) slots.assign(stage_.tinted().begin(), stage_.tinted().end());
    for (Slot s : stage_.lively())
        if (slots.empty() || !stage_.tinted().contains(s)) slots.push_back(s);
    const bool hovering = hovered_ != kNoSlot && editor_.scene().alive(hovered_);
    if (hovering && !stage_.tinted().contains(hovered_))
        for (Slot s : editor_.scene().subtree(hovered_)) {
            if (slots.size() >= Stage::kMostOver) break;  // a group of very many lights up in part
            slots.push_back(s);
        }
    std::erase_if(slots, [&](Slot s) { return editor_.scene().alive(s) && editor_.isHidden(s); });
    auto tint = [&](Slot s) -> std::uint32_t {
        if (stage_.tinted().contains(s)) return pack(theme.honey, editor_.looks().paint == Paint::ByKind ? 120 : 46);
        return hovering && editor_.scene().isWithin(s, hovered_) ? pack(QColor(255, 255, 255), 26) : 0;
    };
    auto colour = [&](base::Name item) { return stage_.renderer().meanColour(item); };
    render::DrawCells::collectOnly(editor_.scene(), slots, camera_, viewport(), detail, colour, tint,
                                   looksIn(editor_.looks().paint), over_);
    collectScriptGhosts();
    if (!ghost_) return;
    edit::Session& session = editor_.session();
    const base::Name key = session.intern(ghost_->item);
    if (const model::Item* item = session.library().item(key))
        for (const Piece& piece : editor_.piecesOf(*item))
            over_.meshes[piece.item].push_back(
                render::instanceOf(base::toAffine(ops::landing(*item, ghost_->position, {1, 0, 0, 0})) * piece.pose,
                                   camera_.eye, pack(theme.honey, 110)));
}

void ViewWidget::drawFrame() {
    QElapsedTimer clock;
    clock.start();
    const Looks& looks = editor_.looks();
    Frame frame;
    frame.pane = pane_;
    frame.paint = looks.paint;
    frame.sky = sky();
    frame.dots = editor_.theme().faint;
    frame.ink = editor_.theme().text;
    frame.lattice = !looks.clean;
    frame.shadows = !camera_.isFlat() && looks.paint != Paint::Contrast && looks.paint != Paint::Wire;
    frame.camera = camera_;
    const double share = (moving_ ? resolution_ : 1.0) * devicePixelRatioF();
    frame.width = std::max(1, static_cast<int>(width() * share));
    frame.height = std::max(1, static_cast<int>(height() * share));
    // While something is dragged it is left out of the kept picture; in a pause all is drawn with its shadows.
    const bool apart = !stage_.lively().empty() && !moving_ && !stage_.paused();
    if (!moving_ && (apart || stage_.lively().empty())) frame.reuse = stillKept_ ? Reuse::Still : Reuse::Keep;
    const render::Detail fineness = detail();
    if (frame.reuse != Reuse::Still) {
        auto tint = [&](Slot s) -> std::uint32_t {
            if (stage_.tinted().size() > Stage::kMostOver && stage_.tinted().contains(s))
                return pack(editor_.theme().honey, 46);
            if (!editor_.isWithinEntered(s)) return pack(editor_.theme().window, 165);
            return looks.paint == Paint::ByKind ? pack(kindColour(editor_, editor_.scene().kind(s)), 205) : 0;
        };
        auto hidden = [&](Slot s) { return editor_.isHidden(s) || (apart && stage_.lively().contains(s)); };
        auto colour = [&](base::Name item) { return stage_.renderer().meanColour(item); };
        stage_.cells().collect(editor_.scene(), camera_, viewport(), fineness, colour, tint, hidden,
                               looksIn(looks.paint), list_);
    }
    collectOver(fineness);
    if (looks.paint == Paint::Collision) {
        const model::Library& library = editor_.session().library();
        if (frame.reuse != Reuse::Still) render::showCollision(list_, library);
        render::showCollision(over_, library);
    }
    frame.list = &list_;
    frame.over = &over_;
    frame.settings = render::litBy(editor_.scene().settings(), looks.daylight);
    if (!moving_ && frame.shadows)
        frame.lights = lights();  // the dearest part of a pixel: put in when the camera rests
    const double distance = focusDistance();
    frame.focus = camera_.eye + camera_.forward() * distance;
    frame.focusRadius = std::clamp(distance * 1.3, 12.0, 160.0);
    frame.shadowsChanged = shadowsChanged_;
    frame.keepShadows = moving_;
    image_ = stage_.renderer().draw(frame);
    stale_ = false;
    stillKept_ = frame.reuse != Reuse::Nothing;
    shadowsChanged_ = shadowsChanged_ && (moving_ || apart);
    lastFrameMs_ = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    if (moving_) adapt();
}

// Too slow: fewer pixels first, then coarser detail. Fast enough: the other way round.
void ViewWidget::adapt() {
    if (lastFrameMs_ > kAimMs) {
        if (resolution_ > 0.5)
            resolution_ = std::max(0.5, resolution_ * 0.85);
        else
            bias_ = std::min(bias_ * 1.4, 14.0);
    } else if (lastFrameMs_ < kAimMs * 0.6) {
        if (bias_ > 1.0)
            bias_ = std::max(1.0, bias_ / 1.15);
        else
            resolution_ = std::min(1.0, resolution_ * 1.08);
    }
}

QImage ViewWidget::drawNow() {
    drawFrame();
    return image_;
}

void ViewWidget::bringIntoView() {
    if (!editor_.isOpen()) return;
    if (cameraBefore_ && brought_ == editor_.selection()) {
        const render::Camera back = *cameraBefore_;
        cameraBefore_.reset();
        jumpTo(back);
        return;
    }
    showSelection();
}

/// How much of a box lies behind what is not selected, seen from a camera: 0 to 1.
double ViewWidget::hiddenShare(const render::Camera& camera, const base::Aabb& box) const {
    const auto apart = [this](Slot s) { return !stage_.tinted().contains(s) && !editor_.isHidden(s); };
    int hidden = 0;
    constexpr int kCorners = 8;
    for (int i = 0; i <= kCorners; ++i) {
        base::Vec3 at = box.centre();
        if (i < kCorners)
            for (int k = 0; k < 3; ++k) at[k] += box.size()[k] * ((i >> k & 1) != 0 ? 0.4 : -0.4);
        const double away = glm::length(at - camera.eye);
        const auto hit = editor_.index()->pick(editor_.scene(), {camera.eye, (at - camera.eye) / away}, apart);
        hidden += hit && hit->distance < away - 1e-3 ? 1 : 0;
    }
    return hidden / (kCorners + 1.0);
}

/// The box fills the view, seen as now; or, when something stands before it, from the nearest side that shows it.
render::Camera ViewWidget::cameraRound(const base::Aabb& box) const {
    render::Camera best = camera_;
    best.frame(box, viewport());
    if (camera_.isFlat() || editor_.index() == nullptr || editor_.selection().empty()) return best;
    constexpr double kEnough = 0.4;
    double least = hiddenShare(best, box);
    for (const double pitch : {0.0, -20.0, -40.0, -65.0})
        for (const double yaw : {0.0, 35.0, -35.0, 70.0, -70.0, 110.0, -110.0, 145.0, -145.0, 180.0}) {
            if (least <= kEnough) return best;
            render::Camera other = camera_;
            other.look(yaw, pitch);
            other.frame(box, viewport());
            const double share = hiddenShare(other, box);
            if (share < least) least = share, best = other;
        }
    return best;
}

void ViewWidget::showSelection() {
    if (!editor_.isOpen()) return;
    base::Aabb box;
    for (base::ObjectId id : editor_.selection()) {
        const Slot s = editor_.scene().find(id);
        if (s == kNoSlot) continue;
        base::Aabb own = editor_.scene().subtreeBounds(s);
        if (const auto& detail = editor_.scene().detail(s);
            detail && (detail->get<model::PointSet>() || detail->get<model::Zone>())) {
            if (detail->get<model::PointSet>())
                for (const model::PlacePoint& p : detail->get<model::PointSet>()->points)
                    own.add(ops::pointInWorld(editor_.scene(), s, p));
            for (const ops::ZoneGrip& grip : ops::zoneGrips(editor_.scene(), s)) own.add(grip.at);
        }
        if (own.empty()) own = {editor_.scene().world(s).translation - 0.6, editor_.scene().world(s).translation + 0.6};
        box.add(own);
    }
    if (box.empty()) box = editor_.scene().subtreeBounds(kNoSlot);
    if (box.empty()) return;
    const render::Camera before = camera_;
    jumpTo(cameraRound(box));
    cameraBefore_ = before;
    brought_ = editor_.selection();
}

std::optional<base::Vec3> ViewWidget::landingUnder(const QPointF& pixel) const {
    const base::Ray ray = camera_.rayThrough({pixel.x(), pixel.y()}, viewport());
    if (const auto hit = editor_.surfaceUnder(ray, false)) return hit->point;
    // Over nothing: the lattice, which in a pane that looks level stands upright in the middle of what is seen.
    if (camera_.isFlat() && std::abs(ray.direction.y) < 0.5) return ray.at(camera_.distanceTo(camera_.eye));
    if (ray.direction.y >= -1e-3) return std::nullopt;
    const double t = -ray.origin.y / ray.direction.y;
    if (t <= 0 || t > 9000) return std::nullopt;
    return ray.at(t);
}

base::Vec3 ViewWidget::placeInFront() const {
    if (const auto place = landingUnder({width() / 2.0, height() * 0.55})) return *place;
    base::Vec3 ahead = camera_.eye + camera_.forward() * 10.0;
    ahead.y = 0;
    return ahead;
}

}  // namespace app
