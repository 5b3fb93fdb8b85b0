#include "app/view/view_widget.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "query/mesh_index.h"
#include "render/occlusion.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr int kShadingRays = 20;
constexpr std::size_t kMostOver = 2000;  // objects drawn over a kept picture; more are part of it
constexpr double kAimMs = 20;            // frame time to keep while the camera moves

std::uint32_t pack(const QColor& c, int alpha) {
    return static_cast<std::uint32_t>(c.red()) | static_cast<std::uint32_t>(c.green()) << 8 |
           static_cast<std::uint32_t>(c.blue()) << 16 | static_cast<std::uint32_t>(alpha) << 24;
}

}  // namespace

ViewWidget::ViewWidget(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("view");
    setAccessibleName(tr("View of the scene"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAcceptDrops(true);
    setMinimumSize(280, 220);
    setAttribute(Qt::WA_OpaquePaintEvent);
    rest_.setSingleShot(true);
    rest_.setInterval(140);
    connect(&rest_, &QTimer::timeout, this, [this] {
        moving_ = false;
        restage(false);
    });
    pause_.setSingleShot(true);
    pause_.setInterval(160);
    connect(&pause_, &QTimer::timeout, this, [this] {
        if (lively_.empty()) return;
        paused_ = true;
        restage(true);
    });
    flushFade_.setSingleShot(true);
    flushFade_.setInterval(6000);
    connect(&flushFade_, &QTimer::timeout, this, [this] {
        flushAfter_.clear();
        update();
    });
    flyTimer_.setInterval(16);
    connect(&flyTimer_, &QTimer::timeout, this, &ViewWidget::fly);
    connect(&editor_, &Editor::openingChanged, this, QOverload<>::of(&QWidget::update));
    connect(&editor_, &Editor::projectChanged, this, [this] {
        renderer_.clearMeshes();
        uploadMeshes();
        startShading();
    });
    connect(&editor_, &Editor::libraryChanged, this, [this] {
        uploadMeshes();
        startShading();
        restage(true);
    });
    connect(&editor_, &Editor::sceneShown, this, &ViewWidget::showScene);
    connect(&editor_, &Editor::sceneEdited, this, &ViewWidget::sceneEdited);
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        idleKnown_ = false;
        const bool many = tinted_.size() > kMostOver;
        refreshTinted();
        if (many || tinted_.size() > kMostOver)
            restage(false);
        else
            restageOver();
        updateHint();
    });
    connect(&editor_, &Editor::shownChanged, this, [this] { restage(true); });
    connect(&editor_, &Editor::themeChanged, this, [this] { restage(false); });
    connect(&editor_, &Editor::toolChanged, this, [this] {
        hoveredPart_ = {};
        hoveredSide_.reset();
        updateHint();
        update();
    });
    connect(&editor_, &Editor::placingChanged, this, [this] {
        if (editor_.placing().empty()) setGhost(std::nullopt);
        updateHint();
    });
}

ViewWidget::~ViewWidget() {
    stopShading_ = true;
    if (shadingWorker_.joinable()) shadingWorker_.join();
    if (flushWorker_.joinable()) flushWorker_.join();
}

render::Viewport ViewWidget::viewport() const {
    return {static_cast<double>(std::max(1, width())), static_cast<double>(std::max(1, height()))};
}

void ViewWidget::uploadMeshes() {
    for (const auto& [item, mesh] : editor_.workspace().meshes)
        if (!renderer_.hasMesh(item)) renderer_.setMesh(item, *mesh, {});
}

// Soft shading is baked on a worker and put in when it is ready: the first picture does not wait for it.
void ViewWidget::startShading() {
    stopShading_ = true;
    if (shadingWorker_.joinable()) shadingWorker_.join();
    stopShading_ = false;
    std::vector<std::pair<base::Name, std::shared_ptr<const shape::Mesh>>> meshes(editor_.workspace().meshes.begin(),
                                                                                  editor_.workspace().meshes.end());
    shadingWorker_ = std::thread([this, meshes = std::move(meshes)] {
        std::unordered_map<base::Name, std::vector<std::uint8_t>> baked;
        for (const auto& [item, mesh] : meshes) {
            if (stopShading_) return;
            if (mesh->positions.size() > 60'000) continue;
            baked[item] = render::bakeOcclusion(query::MeshIndex(mesh), kShadingRays);
        }
        QMetaObject::invokeMethod(
            this,
            [this, baked = std::move(baked)]() mutable {
                shading_ = std::move(baked);
                takeShading();
            },
            Qt::QueuedConnection);
    });
}

void ViewWidget::takeShading() {
    if (!editor_.isOpen()) return;
    for (const auto& [item, values] : shading_)
        if (const shape::Mesh* mesh = editor_.workspace().mesh(item);
            mesh != nullptr && mesh->positions.size() == values.size())
            renderer_.setMesh(item, *mesh, values);
    shading_.clear();
    restage(false);
    Q_EMIT cameraChanged();
}

void ViewWidget::showScene() {
    cancel();
    idleKnown_ = false;
    flushStale_ = true;
    flushIndex_.reset();
    cells_.build(editor_.scene());
    rescanMarked();
    hovered_ = kNoSlot;
    const model::SceneSettings& s = editor_.scene().settings();
    setCamera(render::Camera::looking(s.viewFrom, s.viewTo));
    cameraBefore_.reset();
    restage(true);
    updateHint();
}

void ViewWidget::setCamera(const render::Camera& camera) {
    camera_ = camera;
    cameraMoved();
}

void ViewWidget::sceneEdited(const edit::SceneDelta& delta) {
    idleKnown_ = false;
    for (const auto* slots : {&delta.removed, &delta.created, &delta.moved}) cells_.touch(editor_.scene(), *slots);
    if (!delta.created.empty() || !delta.removed.empty() || !delta.detailed.empty() || !delta.relabelled.empty())
        rescanMarked();
    if (!delta.created.empty() || !delta.removed.empty() || delta.treeChanged) refreshTinted();
    if (hovered_ != kNoSlot && !editor_.scene().alive(hovered_)) hovered_ = kNoSlot;
    const bool onlyLively =
        !lively_.empty() && delta.created.empty() && delta.removed.empty() && delta.relabelled.empty() &&
        std::all_of(delta.moved.begin(), delta.moved.end(), [this](Slot s) { return lively_.contains(s); });
    if (!onlyLively) {
        flushStale_ = true;
        return restage(true);
    }
    shadowsChanged_ = true;
    if (paused_) stillKept_ = false;
    paused_ = false;
    pause_.start();
    restageOver();
}

void ViewWidget::rescanMarked() {
    marked_.clear();
    const model::Scene& scene = editor_.scene();
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        const bool pointLike = !scene.item(s) && scene.firstChild(s) == kNoSlot && scene.kind(s);
        if (pointLike || scene.detail(s)) marked_.push_back(s);
    }
}

void ViewWidget::refreshTinted() {
    tinted_.clear();
    if (!editor_.isOpen()) return;
    for (base::ObjectId id : editor_.selection())
        if (const Slot top = editor_.scene().find(id); top != kNoSlot)
            for (Slot s : editor_.scene().subtree(top)) tinted_.insert(s);
}

void ViewWidget::restageOver() {
    stale_ = true;
    update();
}

/// What is about to be dragged is drawn apart from the rest.
void ViewWidget::startLively() {
    if (tinted_.size() > kMostOver) return;
    lively_ = tinted_;
    restage(false);
}

void ViewWidget::endLively() {
    if (lively_.empty()) return;
    lively_.clear();
    paused_ = false;
    pause_.stop();
    restage(true);
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
    update();
    Q_EMIT cameraChanged();
}

double ViewWidget::viewDepthOf(const base::Vec3& p) const {
    return std::max(glm::dot(p - camera_.eye, camera_.forward()), 0.05);
}

/// How far away what one looks at is: the surface in the middle of the view, else height zero, else 20 m.
double ViewWidget::focusDistance() const {
    const base::Ray ray{camera_.eye, camera_.forward()};
    if (const auto hit = editor_.surfaceUnder(ray, false)) return std::clamp(hit->distance, 0.5, 3000.0);
    if (ray.direction.y < -0.02) return std::clamp(-camera_.eye.y / ray.direction.y, 2.0, 1000.0);
    return 20.0;
}

std::vector<DrawnLight> ViewWidget::lights() const {
    const model::Scene& scene = editor_.scene();
    const query::Frustum frustum = camera_.frustum(viewport());
    std::vector<std::pair<double, DrawnLight>> all;
    for (Slot s : marked_) {
        const auto& detail = scene.detail(s);
        if (!detail || !detail->light || editor_.isHidden(s)) continue;
        const model::Light& light = *detail->light;
        DrawnLight drawn;
        drawn.position = scene.world(s).translation;
        const base::Aabb reach{drawn.position - light.reachMetres, drawn.position + light.reachMetres};
        const double distance = glm::length(drawn.position - camera_.eye);
        if (distance > light.reachMetres * 12 || query::sideOf(frustum, reach) == query::Side::Outside) continue;
        drawn.colour = light.colour * (light.intensity * 0.05);
        drawn.reach = light.reachMetres;
        if (light.shape == model::LightShape::Spot) {
            drawn.direction = glm::normalize(scene.world(s).direction({0, 0, -1}));
            drawn.cosOuter = std::cos(base::radians(light.outerDegrees));
            drawn.cosInner = std::max(std::cos(base::radians(light.innerDegrees)), drawn.cosOuter + 1e-3);
        }
        all.emplace_back(distance, drawn);
    }
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<DrawnLight> nearest;
    for (std::size_t i = 0; i < std::min<std::size_t>(all.size(), 4); ++i) nearest.push_back(all[i].second);
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
    if (tinted_.size() <= kMostOver) slots.assign(tinted_.begin(), tinted_.end());
    for (Slot s : lively_)
        if (slots.empty() || !tinted_.contains(s)) slots.push_back(s);
    if (hovered_ != kNoSlot && !tinted_.contains(hovered_)) slots.push_back(hovered_);
    std::erase_if(slots, [&](Slot s) { return editor_.scene().alive(s) && editor_.isHidden(s); });
    auto tint = [&](Slot s) -> std::uint32_t {
        if (tinted_.contains(s)) return pack(theme.honey, 46);
        return s == hovered_ ? pack(QColor(255, 255, 255), 26) : 0;
    };
    auto colour = [&](base::Name item) { return renderer_.meanColour(item); };
    render::DrawCells::collectOnly(editor_.scene(), slots, camera_, viewport(), detail, colour, tint, over_);
    if (!ghost_) return;
    edit::Session& session = editor_.session();
    const base::Name key = session.intern(ghost_->item);
    if (const model::Item* item = session.library().item(key))
        over_.meshes[key].push_back(render::instanceOf(
            base::toAffine(ops::landing(*item, ghost_->position, {1, 0, 0, 0})), camera_.eye, pack(theme.honey, 110)));
}

void ViewWidget::drawFrame() {
    QElapsedTimer clock;
    clock.start();
    Frame frame;
    frame.camera = camera_;
    const double share = moving_ ? resolution_ : 1.0;
    frame.width = std::max(1, static_cast<int>(width() * share));
    frame.height = std::max(1, static_cast<int>(height() * share));
    // While something is dragged it is left out of the kept picture; in a pause all is drawn with its shadows.
    const bool apart = !lively_.empty() && !moving_ && !paused_;
    if (!moving_ && (apart || lively_.empty())) frame.reuse = stillKept_ ? Reuse::Still : Reuse::Keep;
    const render::Detail fineness = detail();
    if (frame.reuse != Reuse::Still) {
        auto tint = [&](Slot s) -> std::uint32_t {
            return tinted_.size() > kMostOver && tinted_.contains(s) ? pack(editor_.theme().honey, 46) : 0;
        };
        auto hidden = [&](Slot s) { return editor_.isHidden(s) || (apart && lively_.contains(s)); };
        auto colour = [&](base::Name item) { return renderer_.meanColour(item); };
        cells_.collect(editor_.scene(), camera_, viewport(), fineness, colour, tint, hidden, list_);
    }
    collectOver(fineness);
    frame.list = &list_;
    frame.over = &over_;
    frame.settings = editor_.scene().settings();
    if (!moving_) frame.lights = lights();  // the dearest part of a pixel: put in when the camera rests
    const double distance = focusDistance();
    frame.focus = camera_.eye + camera_.forward() * distance;
    frame.focusRadius = std::clamp(distance * 1.3, 12.0, 160.0);
    frame.shadowsChanged = shadowsChanged_;
    frame.keepShadows = moving_;
    image_ = renderer_.draw(frame, editor_.theme());
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
        setCamera(back);
        return;
    }
    base::Aabb box;
    for (base::ObjectId id : editor_.selection()) {
        const Slot s = editor_.scene().find(id);
        if (s == kNoSlot) continue;
        base::Aabb own = editor_.scene().subtreeBounds(s);
        if (own.empty()) own = {editor_.scene().world(s).translation - 0.6, editor_.scene().world(s).translation + 0.6};
        box.add(own);
    }
    if (box.empty()) box = editor_.scene().subtreeBounds(kNoSlot);
    if (box.empty()) return;
    render::Camera target = camera_;
    target.frame(box, viewport());
    const render::Camera before = camera_;
    setCamera(target);
    cameraBefore_ = before;
    brought_ = editor_.selection();
}

std::optional<base::Vec3> ViewWidget::landingUnder(const QPointF& pixel) const {
    const base::Ray ray = camera_.rayThrough({pixel.x(), pixel.y()}, viewport());
    if (const auto hit = editor_.surfaceUnder(ray, false)) return hit->point;
    if (ray.direction.y >= -1e-3) return std::nullopt;
    const double t = -ray.origin.y / ray.direction.y;
    if (t <= 0 || t > 5000) return std::nullopt;
    return ray.at(t);
}

base::Vec3 ViewWidget::placeInFront() const {
    if (const auto place = landingUnder({width() / 2.0, height() * 0.55})) return *place;
    base::Vec3 ahead = camera_.eye + camera_.forward() * 10.0;
    ahead.y = 0;
    return ahead;
}

}  // namespace app
