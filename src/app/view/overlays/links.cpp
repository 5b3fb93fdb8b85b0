// Lines between what is linked.
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/names.h"
#include "app/view/looks.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/act.h"
#include "model/facets/cues.h"
#include "model/facets/relations.h"
#include "model/facets/route.h"
#include "ops/properties.h"

namespace app {

namespace {

constexpr std::size_t kMostLines = 400;

/// A, B, … Z, AA, AB: the tag that both ends of a pair carry.
QString letters(std::size_t n) {
    QString text;
    for (++n; n > 0; n = (n - 1) / 26) text.prepend(QChar('A' + int((n - 1) % 26)));
    return text;
}

class Links : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    std::vector<ops::Link> shownLinks() const;
};

/// Those of the selection; all of the scene, when asked for.
std::vector<ops::Link> Links::shownLinks() const {
    std::vector<ops::Link> all = editor_.links();
    // Lasting relations, cues and routes have lines of their own.
    std::erase_if(all, [](const ops::Link& link) {
        return link.property == model::Relations::type().key || link.property == model::Cues::type().key ||
               link.property == model::Route::type().key;
    });
    if (editor_.looks().allLinks) return all;
    std::vector<ops::Link> shown;
    const model::Scene& scene = editor_.scene();
    auto isChosen = [&](base::ObjectId id) {
        for (Slot s = scene.find(id); s != kNoSlot; s = scene.parent(s))
            if (editor_.isSelected(s)) return true;
        return false;
    };
    for (const ops::Link& link : all)
        if (isChosen(link.from) || isChosen(link.to)) shown.push_back(link);
    return shown;
}

void Links::paint(QPainter& p) {
    if (!editor_.isOpen()) return;
    const model::Scene& scene = editor_.scene();
    const auto shown = shownLinks();
    setLetters(p, 11);
    std::map<base::ObjectId, int> tagsAt;  // several at one end stand side by side
    for (std::size_t i = 0; i < std::min(shown.size(), kMostLines); ++i) {
        const Slot from = scene.find(shown[i].from), to = scene.find(shown[i].to);
        if (from == kNoSlot || editor_.isHidden(from)) continue;
        const auto a = view_.pixelOf(linkEnd(scene, from));
        if (!a) continue;
        const QColor colour = shown[i].broken ? theme().rose : theme().lilac;
        auto tag = [&](const QPointF& at, base::ObjectId id, const QString& text) {
            const double wide = QFontMetricsF(p.font()).horizontalAdvance(text) + 8;
            const QRectF box(at + QPointF(8 + 22.0 * tagsAt[id]++, -22), QSizeF(wide, 16));
            p.setPen(Qt::NoPen);
            p.setBrush(colour);
            p.drawRoundedRect(box, 4, 4);
            p.setPen(theme().window);
            p.drawText(box, Qt::AlignCenter, text);
        };
        if (shown[i].broken) {
            tag(*a, shown[i].from, tr("%1: broken").arg(QString::fromStdString(shown[i].property)));
            continue;
        }
        if (scene.detail(to) && scene.facet<model::Act>(to)) continue;  // that is nowhere
        const auto b = view_.pixelOf(linkEnd(scene, to));
        if (!b) continue;
        const QPointF start = *a, end = *b, middle = (start + end) / 2;
        QPainterPath path(start);
        const double bow = std::min(40.0, std::hypot(end.x() - start.x(), end.y() - start.y()) * 0.15);
        path.quadTo(middle - QPointF(0, bow), end);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().window, 4));
        p.drawPath(path);
        p.setPen(QPen(colour, 2, Qt::DashLine));
        p.drawPath(path);
        // The head: which way it leads.
        const QPointF way = end - path.pointAtPercent(0.93);
        const double length = std::max(std::hypot(way.x(), way.y()), 1e-6);
        const QPointF along = way / length * 9, across(-along.y() * 0.5, along.x() * 0.5);
        p.setPen(Qt::NoPen);
        p.setBrush(colour);
        p.drawPolygon(QPolygonF({end, end - along + across, end - along - across}));
        const QString letter = letters(i);
        tag(start, shown[i].from, letter);
        tag(end, shown[i].to, letter);
    }
}

}  // namespace

OverlayPtr links(ViewContext& view) {
    return std::make_unique<Links>(view);
}

base::Vec3 linkEnd(const model::Scene& scene, Slot slot) {
    const base::Aabb box = scene.subtreeBounds(slot);
    return box.empty() ? scene.world(slot).translation : box.centre();
}

}  // namespace app
