// Signs of lasting relations: two rings in one another at each object that has some, and for the selection a dotted
// line to what it goes by, with what it keeps.
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/relations.h"
#include "ops/relations.h"

namespace app {
namespace {

class RelationSigns : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    void paintSign(QPainter& p, const QPointF& at, bool chosen, std::size_t count) const;
    void paintLines(QPainter& p, Slot slot) const;
};

base::Vec3 footOf(const model::Scene& scene, Slot slot) {
    const base::Aabb box = scene.subtreeBounds(slot);
    return box.empty() ? scene.world(slot).translation : box.baseCentre();
}

void RelationSigns::paint(QPainter& p) {
    if (!editor_.isOpen() || view_.busy) return;
    constexpr std::size_t kMost = 300;
    constexpr double kFarthest = 90, kApart = 18;
    const model::Scene& scene = editor_.scene();
    struct Sign {
        QPointF at;
        bool chosen;
        std::size_t count;
    };
    std::vector<Sign> signs;
    for (base::ObjectId id : editor_.relatedObjects()) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot || editor_.isHidden(slot) || signs.size() >= kMost) continue;
        const base::Vec3 foot = footOf(scene, slot);
        if (!view_.camera.isFlat() && view_.camera.distanceTo(foot) > kFarthest) continue;
        const auto at = view_.pixelInside(foot);
        if (!at) continue;
        const bool chosen = editor_.isSelected(slot);
        if (chosen) paintLines(p, slot);
        const QPointF place = *at + QPointF(-26, 14);
        const auto over = std::find_if(signs.begin(), signs.end(), [&](const Sign& one) {
            return std::hypot(one.at.x() - place.x(), one.at.y() - place.y()) < kApart;
        });
        if (over == signs.end())
            signs.push_back({place, chosen, 1});
        else
            over->chosen = over->chosen || chosen, ++over->count;
    }
    for (const Sign& sign : signs) paintSign(p, sign.at, sign.chosen, sign.count);
}

void RelationSigns::paintSign(QPainter& p, const QPointF& at, bool chosen, std::size_t count) const {
    QColor back = theme().window;
    back.setAlpha(220);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(QRectF(at - QPointF(10, 6.5), QSizeF(20, 13)), 6, 6);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(chosen ? theme().honey : theme().lilac, 1.5));
    for (const double side : {-2.6, 2.6}) p.drawEllipse(at + QPointF(side, 0), 4.0, 3.6);
    if (count < 2) return;
    setLetters(p, 10, QFont::DemiBold);
    p.drawText(at + QPointF(12, 4), QString::number(count));
}

void RelationSigns::paintLines(QPainter& p, Slot slot) const {
    const model::Scene& scene = editor_.scene();
    const base::Vec3 from = footOf(scene, slot);
    double below = 26;
    for (const model::Relation& relation : scene.facet<model::Relations>(slot)->all) {
        const Slot to = scene.find(relation.to);
        p.setPen(QPen(theme().lilac, 1.4, Qt::DotLine));
        if (to != kNoSlot && relation.what != model::Relation::What::Seated) view_.line(p, from, footOf(scene, to));
        setLetters(p, 11);
        if (const auto at = view_.pixelOf(from))
            view_.note(p, *at + QPointF(-38, below + 12), QString::fromStdString(ops::relationText(scene, relation)));
        below += 20;
    }
}

}  // namespace

OverlayPtr relations(ViewContext& view) {
    return std::make_unique<RelationSigns>(view);
}

}  // namespace app
