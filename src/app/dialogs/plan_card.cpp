#include "app/dialogs/plan_card.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/kit/parts.h"
#include "app/view/pixels.h"
#include "base/text.h"

namespace app {

namespace {

constexpr int kPlanPane = 101;
constexpr double kHead = 30, kEdge = 10;

}  // namespace

PlanCard::PlanCard(QWidget* parent, Editor& editor, Stage& stage, const render::Camera& from,
                   std::function<void(const base::Vec3&)> go)
    : QFrame(parent), editor_(editor), stage_(stage), from_(from), go_(std::move(go)) {
    setObjectName("planCard");
    setAttribute(Qt::WA_DeleteOnClose);
    setAccessibleName(tr("Plan of the level"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setCursor(Qt::CrossCursor);
    const base::Aabb level = editor.scene().subtreeBounds(model::kNoSlot);
    const base::Vec3 size = glm::max(level.size(), base::Vec3(1.0));
    const double most = 700, tall = std::min<double>(parent->height() - 40.0, 520) - kHead - kEdge;
    const double scale =
        std::min({(std::min<double>(parent->width() - 40.0, most) - 2 * kEdge) / size.x, tall / size.z});
    viewport_ = {std::max(std::round(size.x * scale), 120.0), std::max(std::round(size.z * scale), 90.0)};
    plan_ = render::Camera::flat(level.empty() ? base::Vec3(0.0) : level.centre(), 0, -90, 10);
    plan_.frame(level, viewport_);
    plan_.heightMetres = std::max(size.z, size.x * viewport_.height / viewport_.width) * 1.02;
    mostMetres_ = plan_.heightMetres;
    resize(static_cast<int>(viewport_.width + 2 * kEdge), static_cast<int>(viewport_.height + kHead + kEdge));
    move((parent->width() - width()) / 2, (parent->height() - height()) / 2);
    draw();
    show();
    raise();
    setFocus();
}

void PlanCard::draw() {
    Frame frame;
    frame.pane = kPlanPane;
    frame.camera = plan_;
    frame.width = static_cast<int>(viewport_.width);
    frame.height = static_cast<int>(viewport_.height);
    frame.sky.fill(editor_.theme().panel);
    frame.lattice = frame.shadows = false;
    frame.settings = editor_.scene().settings();
    render::DrawList list;
    stage_.cells().collect(
        editor_.scene(), plan_, viewport_, {6, 3, 0.7, 1.0},
        [&](base::Name item) { return stage_.renderer().meanColour(item); }, [](model::Slot) { return 0u; },
        [&](model::Slot s) { return editor_.isHidden(s); }, stage_.otherLooks(), list);
    frame.list = &list;
    image_ = stage_.renderer().draw(frame);
    update();
}

QRectF PlanCard::picture() const {
    return {kEdge, kHead, viewport_.width, viewport_.height};
}

std::optional<base::Vec3> PlanCard::placeUnder(const QPointF& pixel) const {
    if (!picture().contains(pixel)) return std::nullopt;
    const base::Ray ray = plan_.rayThrough(toVec(pixel - picture().topLeft()), viewport_);
    if (const auto hit = editor_.surfaceUnder(ray, false)) return hit->point;
    base::Vec3 at = ray.origin;
    at.y = 0;
    return at;
}

void PlanCard::paintEvent(QPaintEvent*) {
    const Theme& t = editor_.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(t.honey, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8);
    p.drawImage(picture().topLeft(), image_);
    QFont font = p.font();
    font.setPixelSize(12);
    p.setFont(font);
    p.setPen(t.text);
    QString head = tr("Plan of the level, north up · click: look there · drag: pan · wheel: closer · Esc: close");
    if (const auto at = placeUnder(pointer_))
        head = QString("X %1  Z %2").arg(lengthNumber(at->x, editor_.unit(), 1), editor_.length(at->z, 1));
    p.drawText(QRectF(kEdge, 0, width() - 2 * kEdge, kHead), Qt::AlignVCenter | Qt::AlignLeft, head);
    // Where one looks from, and the way.
    const auto eye = plan_.project(from_.eye, viewport_);
    if (!eye || from_.isFlat()) return;
    p.setClipRect(picture());
    const QPointF at = toQt(*eye) + picture().topLeft();
    const double yaw = base::radians(from_.yawDegrees), half = base::radians(from_.verticalDegrees) * 0.75;
    QPolygonF wedge({at});
    for (const double a : {yaw + half, yaw - half}) wedge << at + QPointF(-std::sin(a), -std::cos(a)) * 34;
    QColor fill = t.honey;
    fill.setAlpha(90);
    p.setBrush(fill);
    p.setPen(QPen(t.honey, 1.5));
    p.drawPolygon(wedge);
    p.setBrush(t.honey);
    p.drawEllipse(at, 4, 4);
}

void PlanCard::mouseMoveEvent(QMouseEvent* event) {
    const QPointF by = event->position() - pointer_;
    if (pressed_ && !panned_)
        panned_ = (event->position() - *pressed_).manhattanLength() >= QApplication::startDragDistance();
    pointer_ = event->position();
    if (pressed_ && panned_) {
        plan_.pan(toVec(by), 1, viewport_);
        draw();
    }
    update();
}

void PlanCard::mousePressEvent(QMouseEvent* event) {
    if (picture().contains(event->position())) pressed_ = pointer_ = event->position();
    panned_ = false;
}

void PlanCard::mouseReleaseEvent(QMouseEvent* event) {
    const bool clicked = pressed_ && !panned_;
    pressed_.reset();
    if (const auto at = clicked ? placeUnder(event->position()) : std::nullopt) {
        go_(*at);
        close();
    }
}

void PlanCard::wheelEvent(QWheelEvent* event) {
    const auto at = placeUnder(event->position());
    if (!at) return;
    const double notches = event->angleDelta().y() / 120.0;
    constexpr double kLeastMetres = 4;
    const double share = std::pow(0.82, notches), high = plan_.heightMetres;
    const double next = std::clamp(high * share, std::min(kLeastMetres, mostMetres_), mostMetres_);
    plan_.zoomTowards(*at, 1 - next / high);
    draw();
}

void PlanCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape || event->key() == Qt::Key_F3) close();
}

}  // namespace app
