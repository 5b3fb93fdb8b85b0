// In an orthographic pane: a round number of metres.
#include "app/names.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

class ScaleBar : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void ScaleBar::paint(QPainter& p) {
    if (!view_.camera.isFlat()) return;
    const double metre = view_.viewport().height / view_.camera.heightMetres;  // pixels
    double length = 0.001;
    for (int i = 0; length * metre < 60; ++i) length *= i % 3 == 1 ? 2.5 : 2;
    const double wide = length * metre, y = view_.widget.height() - 16, right = view_.widget.width() - 14;
    QColor back = theme().window;
    back.setAlpha(190);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(QRectF(right - wide - 8, y - 22, wide + 16, 30), 4, 4);
    p.setPen(QPen(theme().text, 1.5));
    p.drawLine(QPointF(right - wide, y), QPointF(right, y));
    for (const double x : {right - wide, right}) p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4));
    setLetters(p, 11);
    const QString text = length >= 1000 ? tr("%1 km").arg(length / 1000)
                         : length >= 1  ? tr("%1 m").arg(length)
                                        : tr("%1 cm").arg(length * 100);
    p.drawText(QRectF(right - wide, y - 20, wide, 14), Qt::AlignCenter, text);
}

}  // namespace

OverlayPtr scaleBar(ViewContext& view) {
    return std::make_unique<ScaleBar>(view);
}

}  // namespace app
