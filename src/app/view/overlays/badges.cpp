// What the properties of objects near the eye say of them.
#include <algorithm>

#include "app/names.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

class Badges : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void Badges::paint(QPainter& p) {
    if (!editor_.isOpen() || stage_.badges().empty()) return;
    constexpr std::size_t kMost = 200;
    std::vector<std::pair<double, Slot>> near;
    for (const auto& [s, badge] : stage_.badges()) {
        const double far = view_.camera.distanceTo(editor_.scene().world(s).translation);
        if ((view_.camera.isFlat() || far < 120) && !editor_.isHidden(s)) near.emplace_back(far, s);
    }
    std::sort(near.begin(), near.end());
    if (near.size() > kMost) near.resize(kMost);
    setLetters(p, 10);
    struct Shown {
        QRectF place;
        QString text;
        std::size_t others = 0;  // so many more would lie on it
    };
    std::vector<Shown> shown;
    for (const auto& [far, s] : near) {
        const base::Aabb& box = editor_.scene().bounds(s);
        const base::Vec3 top =
            box.empty() ? editor_.scene().world(s).translation : base::Vec3(box.centre().x, box.high.y, box.centre().z);
        const auto at = view_.pixelInside(top);
        if (!at) continue;
        const QString text = QString::fromStdString(stage_.badges().at(s));
        const QRectF place(at->x() - 6, at->y() - 22, QFontMetricsF(p.font()).horizontalAdvance(text) + 20, 15);
        const auto over =
            std::find_if(shown.begin(), shown.end(), [&](const Shown& one) { return one.place.intersects(place); });
        if (over == shown.end())
            shown.push_back({place, text});
        else
            ++over->others;
    }
    for (Shown& one : shown) {
        if (one.others > 0) one.text += QString("  +%1").arg(one.others);
        one.place.setWidth(QFontMetricsF(p.font()).horizontalAdvance(one.text) + 20);
        const auto& [place, text, others] = one;
        QColor back = theme().window;
        back.setAlpha(225);
        p.setPen(QPen(theme().lemon, 1));
        p.setBrush(back);
        p.drawRoundedRect(place, 4, 4);
        p.setBrush(theme().lemon);
        p.setPen(Qt::NoPen);
        p.drawEllipse(QRectF(place.left() + 5, place.center().y() - 2.5, 5, 5));
        p.setPen(theme().text);
        p.drawText(place.adjusted(14, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, text);
    }
}

}  // namespace

OverlayPtr badges(ViewContext& view) {
    return std::make_unique<Badges>(view);
}

}  // namespace app
