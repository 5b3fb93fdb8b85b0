// How far the selection would fall, by what one bumps into and, where that differs, by what one sees.
#include <array>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/view/looks.h"
#include "app/view/overlays/overlay.h"
#include "ops/seat.h"

namespace app {

namespace {

class SeatDrops : public Overlay {
  public:
    explicit SeatDrops(ViewContext& view);
    void paint(QPainter& p) override;

  private:
    std::array<std::vector<ops::SeatDrop>, 2> drops_;  ///< by what one bumps into, and as one sees it
    bool dropsKnown_ = false;
    QObject ears_;
};

void SeatDrops::paint(QPainter& p) {
    constexpr std::size_t kMost = 60;
    if (!editor_.looks().drops || editor_.sight().index() == nullptr || view_.busy || editor_.selection().empty() ||
        editor_.selection().size() > kMost)
        return;
    if (!dropsKnown_) {
        dropsKnown_ = true;
        ops::SeatOptions asSeen;
        asSeen.asSeen = asSeen.ontoSeen = true;
        drops_[0] = ops::seatDrops(editor_.scene(), *editor_.sight().index(), editor_.selection(), {});
        drops_[1] = ops::seatDrops(editor_.scene(), *editor_.sight().index(), editor_.selection(), asSeen);
    }
    const Theme& t = theme();
    for (std::size_t i = 0; i < drops_[0].size(); ++i) {
        const ops::SeatDrop& solid = drops_[0][i];
        const model::Slot slot = editor_.scene().find(solid.id);
        if (slot == model::kNoSlot) continue;
        base::Aabb box = editor_.scene().subtreeBounds(slot);
        if (box.empty()) box.add(editor_.scene().world(slot).translation);
        const base::Vec3 from = box.baseCentre(), to = from - base::Vec3(0, solid.supported ? solid.metres : 0, 0);
        const auto at = view_.pixelOf(from);
        if (!at) continue;
        QPen pen(t.lilac, 2, Qt::DashLine);
        p.setPen(pen);
        if (solid.supported) view_.line(p, from, to);
        auto told = [this](const ops::SeatDrop& drop) {
            if (!drop.supported) return tr("nothing below");
            if (std::abs(drop.metres) < 5e-4) return tr("seated");
            return tr("%1 %2").arg(editor_.length(std::abs(drop.metres), 3), drop.metres > 0 ? tr("down") : tr("up"));
        };
        QString text = told(solid);
        for (const ops::SeatDrop& seen : drops_[1])
            if (seen.id == solid.id &&
                (seen.supported != solid.supported || std::abs(seen.metres - solid.metres) > 5e-4))
                text += tr(" · as one sees it %1").arg(told(seen));
        view_.note(p, *at + QPointF(10, 16), text);
    }
}

SeatDrops::SeatDrops(ViewContext& view) : Overlay(view) {
    const auto forget = [this] { dropsKnown_ = false; };
    QObject::connect(&editor_, &Editor::sceneEdited, &ears_, forget);
    QObject::connect(&editor_, &Editor::selectionChanged, &ears_, forget);
}

}  // namespace

OverlayPtr seatDrops(ViewContext& view) {
    return std::make_unique<SeatDrops>(view);
}

}  // namespace app
