// One value written at every object round what is looked at; where they would lie on one another the nearer one.
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/view/looks.h"
#include "app/view/overlays/overlay.h"
#include "model/value_json.h"

namespace app {

namespace {

class Labels : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    QString labelOf(Slot slot) const;
};

QString Labels::labelOf(Slot s) const {
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
void Labels::paint(QPainter& p) {
    const query::SceneIndex* index = editor_.sight().index();
    if (editor_.looks().label.empty() || index == nullptr) return;
    constexpr std::size_t kMost = 250;
    const double distance = view_.focusDistance();
    const double radius =
        view_.camera.isFlat()
            ? view_.camera.heightMetres * std::max(1.0, view_.viewport().width / view_.viewport().height) / 2
            : std::clamp(distance * 1.5, 25.0, 150.0);
    const base::Vec3 middle = view_.camera.isFlat()
                                  ? view_.camera.eye
                                  : view_.camera.eye + view_.camera.forward() * std::min(distance, radius);
    base::Aabb box{middle - radius, middle + radius};
    if (view_.camera.isFlat()) {
        const base::Vec3 deep = glm::abs(view_.camera.forward()) * 6000.0;
        box = {box.low - deep, box.high + deep};
    }
    std::vector<std::pair<double, Slot>> near;
    auto offer = [&](Slot s) {
        if (!editor_.isHidden(s)) near.emplace_back(view_.camera.distanceTo(editor_.scene().world(s).translation), s);
    };
    index->overlapping(editor_.scene(), box, offer);
    for (Slot s : stage_.marked())
        if (editor_.scene().bounds(s).empty()) offer(s);
    std::sort(near.begin(), near.end());
    setLetters(p, 10);
    QColor back = theme().window;
    back.setAlpha(205);
    std::vector<QRectF> taken;
    for (const auto& [far, s] : near) {
        if (taken.size() >= kMost) break;
        const base::Aabb& own = editor_.scene().bounds(s);
        const base::Vec3 top =
            own.empty() ? editor_.scene().world(s).translation : base::Vec3(own.centre().x, own.high.y, own.centre().z);
        const auto at = view_.pixelInside(top);
        if (!at) continue;
        const QString text = labelOf(s);
        if (text.isEmpty()) continue;
        const QString shown = text.size() > 40 ? text.left(39) + QStringLiteral("…") : text;
        const double wide = QFontMetricsF(p.font()).horizontalAdvance(shown) + 8;
        const QRectF place(at->x() - wide / 2, at->y() - 18, wide, 14);
        if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(place); })) continue;
        taken.push_back(place);
        p.setPen(Qt::NoPen);
        p.setBrush(back);
        p.drawRoundedRect(place, 3, 3);
        p.setPen(theme().text);
        p.drawText(place, Qt::AlignCenter, shown);
    }
}

}  // namespace

OverlayPtr labels(ViewContext& view) {
    return std::make_unique<Labels>(view);
}

}  // namespace app
