// Of the one selected camera with a shot: the zones it watches, the points it rides along, whom it sees, and from
// where.
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/stand_in.h"
#include "app/view/overlays/overlay.h"
#include "edit/session.h"

namespace app {

namespace {

class ShotMarks : public Overlay {
  public:
    explicit ShotMarks(ViewContext& view) : Overlay(view) {
        QObject::connect(&editor_.standIn(), &StandIn::moved, &ears_, [this] { view_.update(); });
    }
    void paint(QPainter& p) override {
        const Slot slot = editor_.standIn().camera();
        const auto foot = editor_.standIn().foot();
        if (slot == kNoSlot || !foot) return;
        const model::Scene& scene = editor_.scene();
        const rehearse::ShotAt shot = rehearse::shotAt(scene, slot);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().lilac, 1.6, Qt::DashLine));
        for (const model::ShotZone& zone : shot.shot.zones)
            if (const Slot to = scene.find(zone.zone); to != kNoSlot)
                view_.line(p, scene.world(slot).translation, linkEnd(scene, to));
        p.setPen(QPen(theme().lilac, 2.4));
        if (shot.shot.does == model::Shot::Does::Rides && shot.path.size() > 1) view_.path(p, shot.path);
        glides(p, slot);
        figure(p, *foot);
        if (const auto view = editor_.standIn().view()) cone(p, *view);
    }

  private:
    /// Where its picture comes from when another camera showed before: along these it glides, in so many seconds.
    void glides(QPainter& p, Slot to) const {
        const auto mine = editor_.standIn().view();
        const double seconds = rehearse::shotAt(editor_.scene(), to).shot.glideSeconds;
        if (!mine || seconds <= 0) return;
        p.setPen(QPen(theme().honey, 1.2, Qt::DotLine));
        const auto at = view_.pixelOf(mine->eye);
        const std::vector<base::Vec3> others = editor_.standIn().otherEyes();
        for (const base::Vec3& from : others) view_.line(p, from, mine->eye);
        if (at && !others.empty())
            view_.note(p, *at + QPointF(10, 14), QObject::tr("glides %1 s").arg(fixed(seconds, 1)));
    }
    /// As tall and wide as who walks; dashed where the camera does not watch.
    void figure(QPainter& p, const base::Vec3& foot) const {
        const model::Walker& walker = editor_.session().project().walker;
        p.setPen(QPen(theme().honey, 2, editor_.standIn().isWatched() ? Qt::SolidLine : Qt::DashLine));
        for (const double up : {0.02, walker.height / 2, walker.height})
            view_.ring(p, foot + base::Vec3(0, up, 0), base::Vec3(walker.radius, 0, 0),
                       base::Vec3(0, 0, walker.radius));
        view_.line(p, foot, foot + base::Vec3(0, walker.height, 0));
    }
    void cone(QPainter& p, const rehearse::View& view) const {
        constexpr double kAspect = 16.0 / 9.0;
        const base::Vec3 ahead = view.to - view.eye;
        const double far = glm::length(ahead);
        if (far < 1e-6) return;
        const base::Vec3 forward = ahead / far;
        base::Vec3 right = glm::cross(forward, base::Vec3(0, 1, 0));
        right = glm::length(right) < 1e-9 ? base::Vec3(1, 0, 0) : glm::normalize(right);
        const base::Vec3 up = glm::cross(right, forward);
        const double high = std::tan(base::radians(view.verticalDegrees) / 2) * far;
        base::Vec3 corners[4];
        for (int i = 0; i < 4; ++i)
            corners[i] =
                view.to + right * (high * kAspect * (i == 0 || i == 3 ? -1 : 1)) + up * (high * (i < 2 ? 1 : -1));
        p.setPen(QPen(theme().honey, 1.2));
        for (int i = 0; i < 4; ++i) {
            view_.line(p, view.eye, corners[i]);
            view_.line(p, corners[i], corners[(i + 1) % 4]);
        }
        const auto at = view_.pixelOf(view.eye);
        if (!at) return;
        p.setPen(QPen(theme().window, 2));
        p.setBrush(theme().honey);
        p.drawEllipse(*at, 5, 5);
        p.setBrush(Qt::NoBrush);
    }
    QObject ears_;
};

}  // namespace

OverlayPtr shotMarks(ViewContext& view) {
    return std::make_unique<ShotMarks>(view);
}

}  // namespace app
