// Looking: sides, jumps, walking, looking through cameras; what is shown of lights, cameras and values.
#include <QGuiApplication>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/value_json.h"
#include "query/walk.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr int kGlideMs = 170;
constexpr int kInsetPane = 100;
const QSize kInset(232, 145);

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

}  // namespace

QString paneSideName(PaneSide side) {
    const QString names[] = {ViewWidget::tr("Free"), ViewWidget::tr("Top"),  ViewWidget::tr("Front"),
                             ViewWidget::tr("Back"), ViewWidget::tr("Left"), ViewWidget::tr("Right")};
    return names[static_cast<int>(side)];
}

void ViewWidget::setSide(PaneSide side) {
    if (!editor_.isOpen()) return;
    const double distance = focusDistance();
    const base::Vec3 focus = camera_.isFlat() ? camera_.eye : camera_.eye + camera_.forward() * distance;
    const double height =
        camera_.isFlat() ? camera_.heightMetres : camera_.metresPerPixel(focus, viewport()) * viewport().height;
    walk_.reset();
    side_ = side;
    if (side != PaneSide::Free) {
        const auto [yaw, pitch] = angles(side);
        return setCamera(render::Camera::flat(focus, yaw, pitch, height));
    }
    // What was seen stays in the middle, from where one last looked freely.
    render::Camera camera = free_;
    if (camera_.isFlat()) {
        camera.eye = focus - camera.forward() * (height / 2 / std::tan(base::radians(camera.verticalDegrees) / 2));
        camera.heightMetres = 0;
    }
    setCamera(camera);
}

void ViewWidget::refreshCaption() {
    const QString way = QString::fromStdString(camera_.describe());
    const QString what = walk_ ? tr("Walking") : side_ == PaneSide::Free ? tr("Free view") : paneSideName(side_);
    constexpr int kBeside = 130;  // for what is said at the other corner
    caption_->setText(tr("%1 · %2").arg(what, way));
    caption_->adjustSize();
    if (caption_->geometry().right() <= width() - kBeside) return;
    caption_->setText(what);
    caption_->adjustSize();
}

void ViewWidget::jumpTo(const render::Camera& camera) {
    walk_.reset();
    if (!camera.isFlat() && side_ != PaneSide::Free) side_ = PaneSide::Free;
    if (!editor_.looks().glide || !isVisible()) return setCamera(camera);
    glideFrom_ = camera_;
    glideTo_ = camera;
    glideClock_.start();
    glideTimer_.start();
}

void ViewWidget::glideOn() {
    const double t = std::min(static_cast<double>(glideClock_.elapsed()) / kGlideMs, 1.0);
    if (t >= 1) return setCamera(glideTo_);
    camera_ = glideFrom_.between(glideTo_, t * t * (3 - 2 * t));
    cameraMoved();
}

std::optional<base::Vec3> ViewWidget::pointedAt() const {
    return landingUnder(underMouse() ? pointer_ : QPointF(width() / 2.0, height() / 2.0));
}

void ViewWidget::toggleWalk() {
    if (!editor_.isOpen()) return;
    if (walk_) {
        const render::Camera back = *walk_;
        walk_.reset();
        flyTimer_.stop();
        jumpTo(back);
        return updateHint();
    }
    const auto place = pointedAt();
    const query::SceneIndex* ground = editor_.collision();
    const model::Walker& walker = editor_.session().project().walker;
    const query::SlotFilter seen = [this](Slot s) {
        return !editor_.isHidden(s) &&
               (editor_.scene().flagsOf(s) & (model::flags::kUntouched | model::flags::kAbsent)) == 0;
    };
    const auto feet = place && ground != nullptr
                          ? query::floorBelow(editor_.scene(), *ground, *place + base::Vec3(0, walker.stepHeight, 0),
                                              walker, 50, seen)
                          : std::nullopt;
    if (!feet) return editor_.say(tr("There is no ground to stand on under the pointer."));
    const render::Camera before = camera_;
    render::Camera camera;
    camera.eye = *feet + base::Vec3(0, walker.eyeHeight, 0);
    camera.yawDegrees = before.isFlat() ? 0 : before.yawDegrees;
    jumpTo(camera);
    walk_ = before;
    flyKeys_.clear();
    flyClock_.start();
    flyTimer_.start();
    refreshCaption();
    updateHint();
    setFocus();
}

// W A S D along the ground, wherever one looks.
void ViewWidget::walkOn(double seconds) {
    const query::SceneIndex* ground = editor_.collision();
    if (ground == nullptr || glideTimer_.isActive()) return;
    const model::Walker& walker = editor_.session().project().walker;
    const base::Vec3 ahead = glm::cross(base::Vec3(0, 1, 0), camera_.right());
    base::Vec3 way(0.0);
    if (flyKeys_.contains(Qt::Key_W)) way += ahead;
    if (flyKeys_.contains(Qt::Key_S)) way -= ahead;
    if (flyKeys_.contains(Qt::Key_D)) way += camera_.right();
    if (flyKeys_.contains(Qt::Key_A)) way -= camera_.right();
    if (glm::length(way) < 1e-9) return;
    const auto modifiers = QGuiApplication::queryKeyboardModifiers();
    const double speed = walker.metresPerSecond * ((modifiers & Qt::ShiftModifier) != 0 ? 2.5 : 1.0);
    const base::Vec3 up(0, walker.eyeHeight, 0);
    const query::SlotFilter seen = [this](Slot s) {
        return !editor_.isHidden(s) &&
               (editor_.scene().flagsOf(s) & (model::flags::kUntouched | model::flags::kAbsent)) == 0;
    };
    camera_.eye =
        query::walk(editor_.scene(), *ground, camera_.eye - up, glm::normalize(way) * (speed * seconds), walker, seen) +
        up;
    cameraMoved();
}

render::Camera ViewWidget::cameraOf(Slot slot) const {
    render::Camera camera = render::Camera::at(editor_.scene().world(slot));
    if (const auto& detail = editor_.scene().detail(slot); detail && detail->get<model::Camera>())
        camera.verticalDegrees = detail->get<model::Camera>()->verticalDegrees;
    return camera;
}

void ViewWidget::lookThrough(Slot slot) {
    cameraBefore_ = camera_;
    brought_ = editor_.selection();
    const render::Camera before = camera_;
    jumpTo(cameraOf(slot));
    cameraBefore_ = before;
}

std::array<QColor, 3> ViewWidget::sky() const {
    const Theme& t = editor_.theme();
    switch (editor_.looks().daylight) {
        case render::Daylight::Day: return {QColor("#7fa3bd"), QColor("#c9d6d6"), QColor("#9aa89a")};
        case render::Daylight::Dusk: return {QColor("#3b3a54"), QColor("#c98a5c"), QColor("#4a4038")};
        case render::Daylight::Night: return {QColor("#10141f"), QColor("#1d2534"), QColor("#12151c")};
        case render::Daylight::AsSet: break;
    }
    return {t.viewTop, t.viewHorizon, t.viewBottom};
}

std::optional<DrawnLight> ViewWidget::lampOnSelection() const {
    if (!editor_.looks().lamp || stage_.tinted().empty()) return std::nullopt;
    base::Aabb box;
    for (base::ObjectId id : editor_.selection())
        if (const Slot s = editor_.scene().find(id); s != kNoSlot) box.add(editor_.scene().subtreeBounds(s));
    if (box.empty()) return std::nullopt;
    const double radius = std::max(glm::length(box.size()) / 2, 0.5);
    DrawnLight lamp;
    lamp.position = box.centre() - camera_.sightTo(box.centre()) * (radius * 1.6) + base::Vec3(0, radius * 0.8, 0);
    lamp.reach = radius * 6;
    lamp.colour = base::Vec3(1.0, 0.94, 0.82) * (2.0 + radius * radius * 1.4);
    return lamp;
}

/// The one camera that is selected, when an inset of what it sees is wanted and it is not what one looks through.
Slot ViewWidget::insetCamera() const {
    if (!editor_.looks().inset || editor_.selection().size() != 1 || width() < 420) return kNoSlot;
    const Slot s = editor_.scene().find(editor_.selection().front());
    if (s == kNoSlot || !editor_.scene().facet<model::Camera>(s)) return kNoSlot;
    return glm::length(editor_.scene().world(s).translation - camera_.eye) < 1e-6 ? kNoSlot : s;
}

void ViewWidget::drawInset() {
    Frame frame;
    frame.pane = kInsetPane;
    frame.camera = cameraOf(insetCamera());
    frame.width = kInset.width();
    frame.height = kInset.height();
    frame.sky = sky();
    frame.lattice = false;
    frame.settings = render::litBy(editor_.scene().settings(), editor_.looks().daylight);
    frame.focus = frame.camera.eye + frame.camera.forward() * 20.0;
    frame.shadows = false;
    render::DrawList list;
    const render::Viewport small{double(kInset.width()), double(kInset.height())};
    stage_.cells().collect(
        editor_.scene(), frame.camera, small, {5, 3, 1.1, 1.0},
        [this](base::Name item) { return stage_.renderer().meanColour(item); }, [](Slot) { return 0u; },
        [this](Slot s) { return editor_.isHidden(s); }, stage_.otherLooks(), list);
    frame.list = &list;
    inset_ = stage_.renderer().draw(frame);
    insetStale_ = false;
}

void ViewWidget::paintInset(QPainter& p) {
    const Slot camera = insetCamera();
    if (camera == kNoSlot) return;
    if (insetStale_) drawInset();
    const QRectF at(width() - kInset.width() - 12, height() - kInset.height() - 64, kInset.width(), kInset.height());
    p.setPen(QPen(editor_.theme().honey, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(at.adjusted(-1, -1, 1, 1));
    p.drawImage(at.topLeft(), inset_);
    QFont font = p.font();
    font.setPixelSize(11);
    p.setFont(font);
    const QString text = tr("Seen by %1").arg(toQt(editor_.scene().nameText(camera)));
    QColor back = editor_.theme().window;  // whatever the picture shows there
    back.setAlpha(215);
    const double wide = std::min(at.width(), QFontMetricsF(font).horizontalAdvance(text) + 12);
    p.fillRect(QRectF(at.left(), at.top(), wide, 20), back);
    p.setPen(editor_.theme().text);
    p.drawText(at.adjusted(6, 3, -6, -3), Qt::AlignLeft | Qt::AlignTop, text);
}

// How far a light reaches and what a camera sees, for those selected.
void ViewWidget::paintReach(QPainter& p) const {
    constexpr std::size_t kMost = 12;
    constexpr int kAround = 48;
    const model::Scene& scene = editor_.scene();
    std::size_t shown = 0;
    auto ring = [&](const base::Vec3& centre, const base::Vec3& a, const base::Vec3& b) {
        for (int i = 0; i < kAround; ++i) {
            const double from = 2 * base::kPi * i / kAround, to = 2 * base::kPi * (i + 1) / kAround;
            worldLine(p, centre + a * std::cos(from) + b * std::sin(from),
                      centre + a * std::cos(to) + b * std::sin(to));
        }
    };
    for (Slot s : stage_.marked()) {
        if (!stage_.tinted().contains(s) || !scene.detail(s)) continue;
        const model::Detail& detail = *scene.detail(s);
        if ((!detail.get<model::Light>() && !detail.get<model::Camera>()) || ++shown > kMost) continue;
        const base::Affine& world = scene.world(s);
        const base::Vec3 at = world.translation;
        const base::Vec3 ahead = glm::normalize(world.direction({0, 0, -1}));
        const base::Vec3 across = glm::normalize(world.direction({1, 0, 0})), up = glm::cross(across, ahead);
        if (detail.get<model::Light>()) {
            const model::Light& light = *detail.get<model::Light>();
            p.setPen(QPen(editor_.theme().lemon, 1.2));
            if (light.shape == model::Light::Shape::Point) {
                const base::Mat3 axes(light.reachMetres);
                for (int k = 0; k < 3; ++k) ring(at, axes[k], axes[(k + 1) % 3]);
            } else {
                const double half = base::radians(light.outerDegrees);
                const base::Vec3 centre = at + ahead * (light.reachMetres * std::cos(half));
                const double r = light.reachMetres * std::sin(half);
                ring(centre, across * r, up * r);
                for (const base::Vec3& way : {across, up, -across, -up}) worldLine(p, at, centre + way * r);
            }
        }
        if (detail.get<model::Camera>()) {
            const double far = std::min(detail.get<model::Camera>()->farMetres, 8.0);
            const double tall = far * std::tan(base::radians(detail.get<model::Camera>()->verticalDegrees) / 2),
                         wide = tall * 1.6;
            p.setPen(QPen(editor_.theme().text, 1.2));
            base::Vec3 corners[4];
            for (int i = 0; i < 4; ++i)
                corners[i] =
                    at + ahead * far + across * (i == 1 || i == 2 ? wide : -wide) + up * (i >= 2 ? tall : -tall);
            for (int i = 0; i < 4; ++i) {
                worldLine(p, at, corners[i]);
                worldLine(p, corners[i], corners[(i + 1) % 4]);
            }
        }
    }
}

QString ViewWidget::labelOf(Slot s) const {
    const model::Scene& scene = editor_.scene();
    const std::string& what = editor_.looks().label;
    if (what == "name") return toQt(scene.nameText(s));
    if (what == "kind") return toQt(scene.kindText(s));
    if (what == "item") return toQt(scene.itemText(s));
    const auto& detail = scene.detail(s);
    if (!detail) return {};
    for (const auto& [key, value] : detail->properties)
        if (key == what) {
            if (const auto* text = std::get_if<std::string>(&value.data)) return QString::fromStdString(*text);
            std::string json;
            model::appendJson(json, value);
            return QString::fromStdString(json);
        }
    return {};
}

// One value at every object round what is looked at; where they would lie on one another the nearer one is written.
void ViewWidget::paintLabels(QPainter& p) const {
    const query::SceneIndex* index = editor_.index();
    if (editor_.looks().label.empty() || index == nullptr) return;
    constexpr std::size_t kMost = 250;
    const double distance = focusDistance();
    const double radius = camera_.isFlat()
                              ? camera_.heightMetres * std::max(1.0, viewport().width / viewport().height) / 2
                              : std::clamp(distance * 1.5, 25.0, 150.0);
    const base::Vec3 middle =
        camera_.isFlat() ? camera_.eye : camera_.eye + camera_.forward() * std::min(distance, radius);
    base::Aabb box{middle - radius, middle + radius};
    if (camera_.isFlat()) {
        const base::Vec3 deep = glm::abs(camera_.forward()) * 6000.0;
        box = {box.low - deep, box.high + deep};
    }
    std::vector<std::pair<double, Slot>> near;
    auto offer = [&](Slot s) {
        if (!editor_.isHidden(s)) near.emplace_back(camera_.distanceTo(editor_.scene().world(s).translation), s);
    };
    index->overlapping(editor_.scene(), box, offer);
    for (Slot s : stage_.marked())
        if (editor_.scene().bounds(s).empty()) offer(s);
    std::sort(near.begin(), near.end());
    QFont font = p.font();
    font.setPixelSize(10);
    font.setWeight(QFont::Normal);
    p.setFont(font);
    QColor back = editor_.theme().window;
    back.setAlpha(205);
    std::vector<QRectF> taken;
    for (const auto& [far, s] : near) {
        if (taken.size() >= kMost) break;
        const base::Aabb& own = editor_.scene().bounds(s);
        const base::Vec3 top =
            own.empty() ? editor_.scene().world(s).translation : base::Vec3(own.centre().x, own.high.y, own.centre().z);
        const auto at = camera_.project(top, viewport());
        if (!at || !rect().contains(toQt(*at).toPoint())) continue;
        const QString text = labelOf(s);
        if (text.isEmpty()) continue;
        const QString shown = text.size() > 40 ? text.left(39) + QStringLiteral("…") : text;
        const double wide = QFontMetricsF(font).horizontalAdvance(shown) + 8;
        const QRectF place(at->x - wide / 2, at->y - 18, wide, 14);
        if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(place); })) continue;
        taken.push_back(place);
        p.setPen(Qt::NoPen);
        p.setBrush(back);
        p.drawRoundedRect(place, 3, 3);
        p.setPen(editor_.theme().text);
        p.drawText(place, Qt::AlignCenter, shown);
    }
}

// In an orthographic pane: a round number of metres.
void ViewWidget::paintScaleBar(QPainter& p) const {
    if (!camera_.isFlat()) return;
    const double metre = viewport().height / camera_.heightMetres;  // pixels
    double length = 0.001;
    for (int i = 0; length * metre < 60; ++i) length *= i % 3 == 1 ? 2.5 : 2;
    const double wide = length * metre, y = height() - 16, right = width() - 14;
    QColor back = editor_.theme().window;
    back.setAlpha(190);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(QRectF(right - wide - 8, y - 22, wide + 16, 30), 4, 4);
    p.setPen(QPen(editor_.theme().text, 1.5));
    p.drawLine(QPointF(right - wide, y), QPointF(right, y));
    for (const double x : {right - wide, right}) p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4));
    QFont font = p.font();
    font.setPixelSize(11);
    font.setWeight(QFont::Normal);
    p.setFont(font);
    const QString text = length >= 1000 ? tr("%1 km").arg(length / 1000)
                         : length >= 1  ? tr("%1 m").arg(length)
                                        : tr("%1 cm").arg(length * 100);
    p.drawText(QRectF(right - wide, y - 20, wide, 14), Qt::AlignCenter, text);
}

void ViewWidget::pulseSelection() {
    pulse_.start();
    pulseTimer_.start();
    update();
}

// A ring that closes in on each selected object; for those out of sight an arrow at the edge.
void ViewWidget::paintPulse(QPainter& p) const {
    if (!pulseTimer_.isActive()) return;
    const double t = std::min(static_cast<double>(pulse_.elapsed()) / 900, 1.0);
    constexpr std::size_t kMost = 100;
    QColor ink = editor_.theme().honey;
    ink.setAlphaF(static_cast<float>(1 - t * t));
    p.setPen(QPen(ink, 3));
    p.setBrush(Qt::NoBrush);
    const QRectF inside = QRectF(rect()).adjusted(30, 30, -30, -30);
    for (std::size_t i = 0; i < std::min(editor_.selection().size(), kMost); ++i) {
        const Slot s = editor_.scene().find(editor_.selection()[i]);
        if (s == kNoSlot) continue;
        base::Aabb box = editor_.scene().subtreeBounds(s);
        const base::Vec3 at = box.empty() ? editor_.scene().world(s).translation : box.centre();
        const auto pixel = camera_.project(at, viewport());
        if (pixel && inside.contains(toQt(*pixel))) {
            p.drawEllipse(toQt(*pixel), 12 + 40 * (1 - t), 12 + 40 * (1 - t));
            continue;
        }
        const base::Vec3 way = at - camera_.eye;
        QPointF d(glm::dot(way, camera_.right()), -glm::dot(way, camera_.up()));
        const double length = std::max(std::hypot(d.x(), d.y()), 1e-9);
        d /= length;
        const QPointF middle = inside.center();
        const double reach = std::min(inside.width() / 2 / std::max(std::abs(d.x()), 1e-6),
                                      inside.height() / 2 / std::max(std::abs(d.y()), 1e-6));
        const QPointF end = middle + d * reach, side(-d.y(), d.x());
        p.drawPolyline(QPolygonF({end - d * 12 + side * 8, end, end - d * 12 - side * 8}));
    }
}

}  // namespace app
