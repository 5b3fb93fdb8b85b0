// How far the selected sounds are heard: full within the inner ball, not at all beyond the outer one.
#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/sound.h"

namespace app {

namespace {

class SoundMarks : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override {
        for (const base::ObjectId id : editor_.selection()) {
            const Slot slot = editor_.scene().find(id);
            const auto* sound =
                slot != kNoSlot && editor_.scene().detail(slot) ? editor_.scene().facet<model::Sound>(slot) : nullptr;
            if (sound == nullptr || sound->is == model::Sound::Is::Music) continue;
            const base::Vec3 at = editor_.scene().world(slot).translation;
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(theme().axis[2], 2));
            ball(p, at, sound->innerMetres);
            p.setPen(QPen(theme().axis[2], 1.4, Qt::DashLine));
            ball(p, at, sound->outerMetres);
        }
    }

  private:
    void ball(QPainter& p, const base::Vec3& at, double metres) const {
        const base::Vec3 x(metres, 0, 0), y(0, metres, 0), z(0, 0, metres);
        view_.ring(p, at, x, z);
        view_.ring(p, at, x, y);
        view_.ring(p, at, y, z);
    }
};

}  // namespace

OverlayPtr soundMarks(ViewContext& view) {
    return std::make_unique<SoundMarks>(view);
}

}  // namespace app
