#include "app/dialogs/plan_card.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/view/pixels.h"
#include "base/text.h"

namespace app {

namespace {

constexpr int kPlanPane = 101;
constexpr double kHead = 30, kEdge = 10;

}  // namespace

PlanCard::PlanCard(QWidget* parent, Editor& editor, Stage& stage, const render::Camera& from,
                   std::function<void(const base::Vec3&)> go)
    : QFrame(parent), editor_(editor), from_(from), go_(std::move(go)) {
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
    resize(static_cast<int>(viewport_.width + 2 * kEdge), static_cast<int>(viewport_.height + kHead + kEdge));
    move((parent->width() - width()) / 2, (parent->height() - height()) / 2);
    Frame frame;
    frame.pane = kPlanPane;
    frame.camera = plan_;
    frame.width = static_cast<int>(viewport_.width);
    frame.height = static_cast<int>(viewport_.height);
    frame.sky.fill(editor.theme().panel);
    frame.lattice = frame.shadows = false;
    frame.settings = editor.scene().settings();
    render::DrawList list;
    stage.cells().collect(
        editor.scene(), plan_, viewport_, {6, 3, 0.7, 1.0},
        [&](base::Name item) { return stage.renderer().meanColour(item); }, [](model::Slot) { return 0u; },
        [&](model::Slot s) { return editor.isHidden(s); }, stage.otherLooks(), list);
    frame.list = &list;
    image_ = stage.renderer().draw(frame);
    show();
    raise();
    setFocus();
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
    QString head = tr("Plan of the level, north up · click: look there · Esc: close");
    if (const auto at = placeUnder(pointer_))
        head = QString("X %1  Z %2 m")
                   .arg(QString::fromStdString(base::fixed(at->x, 1)), QString::fromStdString(base::fixed(at->z, 1)));
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
    pointer_ = event->position();
    update();
}

void PlanCard::mousePressEvent(QMouseEvent* event) {
    if (const auto at = placeUnder(event->position())) {
        go_(*at);
        close();
    }
}

void PlanCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape || event->key() == Qt::Key_F3) close();
}

}  // namespace app
