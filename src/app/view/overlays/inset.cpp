// What the selected camera sees, in a corner; with a shot, what it shows of the stand-in.
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/stand_in.h"
#include "app/view/eye.h"
#include "app/view/looks.h"
#include "app/view/overlays/overlay.h"
#include "app/view/picture.h"
#include "edit/session.h"
#include "model/facets/camera.h"

namespace app {

namespace {

constexpr int kInsetPane = 100;
const QSize kInset(232, 145);

class Inset : public Overlay {
  public:
    explicit Inset(ViewContext& view);
    void paint(QPainter& p) override;

  private:
    Slot insetCamera() const;
    void drawInset();
    render::Camera camera() const;
    void paintFigure(QPainter& p, const QRectF& at) const;
    void paintGuides(QPainter& p, const QRectF& at) const;
    QImage inset_;
    bool insetStale_ = true;
    QObject ears_;
};

Slot Inset::insetCamera() const {
    if (!editor_.looks().inset || editor_.selection().size() != 1 || view_.widget.width() < 420) return kNoSlot;
    const Slot s = editor_.scene().find(editor_.selection().front());
    if (s == kNoSlot || !editor_.scene().facet<model::Camera>(s)) return kNoSlot;
    return glm::length(editor_.scene().world(s).translation - view_.camera.eye) < 1e-6 ? kNoSlot : s;
}

/// What the camera sees; with a shot, what it shows of the stand-in.
render::Camera Inset::camera() const {
    render::Camera camera = cameraOf(editor_.scene(), insetCamera());
    const auto view = editor_.standIn().view();
    if (!view) return camera;
    camera = render::Camera::looking(view->eye, view->to);
    camera.verticalDegrees = view->verticalDegrees;
    return camera;
}

/// The stand-in, from its feet to its head; a wall may hide it, which the picture shows.
void Inset::paintFigure(QPainter& p, const QRectF& at) const {
    const auto foot = editor_.standIn().foot();
    if (!foot) return;
    const render::Viewport small{double(kInset.width()), double(kInset.height())};
    const double high = editor_.session().project().walker.height;
    const auto low = camera().project(*foot, small), top = camera().project(*foot + base::Vec3(0, high, 0), small);
    if (!low || !top) return;
    const QPointF feet = at.topLeft() + QPointF(low->x, low->y), head = at.topLeft() + QPointF(top->x, top->y);
    const double wide = std::max(2.0, std::hypot(head.x() - feet.x(), head.y() - feet.y()) * 0.14);
    p.save();
    p.setClipRect(at);
    p.setPen(QPen(theme().honey, wide, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(feet, head);
    p.restore();
}

void Inset::drawInset() {
    Frame frame;
    frame.pane = kInsetPane;
    frame.camera = camera();
    frame.width = kInset.width();
    frame.height = kInset.height();
    frame.sky = Picture::sky(editor_);
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

/// Thirds, and the edge within which a picture is safe.
void Inset::paintGuides(QPainter& p, const QRectF& at) const {
    QColor faint = theme().text;
    faint.setAlpha(70);
    p.setPen(QPen(faint, 1));
    for (const double third : {1.0 / 3, 2.0 / 3}) {
        p.drawLine(QPointF(at.left() + at.width() * third, at.top()),
                   QPointF(at.left() + at.width() * third, at.bottom()));
        p.drawLine(QPointF(at.left(), at.top() + at.height() * third),
                   QPointF(at.right(), at.top() + at.height() * third));
    }
    p.setPen(QPen(faint, 1, Qt::DashLine));
    p.drawRect(at.adjusted(at.width() * 0.05, at.height() * 0.05, -at.width() * 0.05, -at.height() * 0.05));
}

void Inset::paint(QPainter& p) {
    const Slot camera = insetCamera();
    if (camera == kNoSlot) return;
    if (insetStale_) drawInset();
    const QRectF at(view_.widget.width() - kInset.width() - 12, view_.widget.height() - kInset.height() - 64,
                    kInset.width(), kInset.height());
    p.setPen(QPen(theme().honey, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(at.adjusted(-1, -1, 1, 1));
    p.drawImage(at.topLeft(), inset_);
    paintFigure(p, at);
    paintGuides(p, at);
    setLetters(p, 11);
    const QString text = tr("Seen by %1").arg(toQt(editor_.scene().nameText(camera)));
    QColor back = theme().window;  // whatever the picture shows there
    back.setAlpha(215);
    const double wide = std::min(at.width(), QFontMetricsF(p.font()).horizontalAdvance(text) + 12);
    p.fillRect(QRectF(at.left(), at.top(), wide, 20), back);
    p.setPen(theme().text);
    p.drawText(at.adjusted(6, 3, -6, -3), Qt::AlignLeft | Qt::AlignTop, text);
}

Inset::Inset(ViewContext& view) : Overlay(view) {
    const auto stale = [this] { insetStale_ = true; };
    QObject::connect(&editor_, &Editor::sceneShown, &ears_, stale);
    QObject::connect(&editor_, &Editor::sceneEdited, &ears_, stale);
    QObject::connect(&editor_, &Editor::selectionChanged, &ears_, stale);
    QObject::connect(&editor_, &Editor::shownChanged, &ears_, stale);
    QObject::connect(&editor_.standIn(), &StandIn::moved, &ears_, stale);
}

}  // namespace

OverlayPtr inset(ViewContext& view) {
    return std::make_unique<Inset>(view);
}

}  // namespace app
