// Where one walked, with seconds; where another run went; what can be come to from the start, and what is seen.
#include <QPainterPath>

#include "app/names.h"
#include "app/shell/rehearsal.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

class Rehearsed : public Overlay {
  public:
    explicit Rehearsed(ViewContext& view) : Overlay(view), rehearsal_(view.editor.rehearsal()) {
        QObject::connect(&rehearsal_.ground(), &GroundMap::changed, &ears_, [this] { view_.update(); });
    }
    bool isInPlay() const override { return true; }
    void paint(QPainter& p) override {
        if (rehearsal_.ground().isShown() && !rehearsal_.isOn()) paintReach(p);
        const rehearse::Trace* trace = rehearsal_.trace();
        const bool looksBack = rehearsal_.mode() == Rehearsal::Mode::Paused ||
                               rehearsal_.mode() == Rehearsal::Mode::Looking || rehearsal_.isFree() ||
                               view_.camera.isFlat();
        if (trace != nullptr && rehearsal_.isShownByCamera()) paintWalker(p, *trace);
        if (trace == nullptr || !looksBack) return;
        if (rehearsal_.comparedWith())
            paintWay(p, rehearsal_.kept()[*rehearsal_.comparedWith()].trace, theme().lilac, false);
        paintWay(p, *trace, theme().honey, true);
        paintWalker(p, *trace);
        paintParting(p, *trace);
    }

  private:
    void paintWay(QPainter& p, const rehearse::Trace& trace, const QColor& colour, bool seconds) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(colour, 2, seconds ? Qt::SolidLine : Qt::DashLine));
        std::vector<base::Vec3> points;
        for (const rehearse::PathPoint& at : trace.path) {
            const base::Vec3 place = at.feet + base::Vec3(0, 0.05, 0);
            if (points.empty() || glm::length(points.back() - place) > 0.04) points.push_back(place);
        }
        if (points.size() > 1) view_.path(p, points);
        if (!seconds) return;
        setLetters(p, 11);
        int last = -1;
        for (const rehearse::PathPoint& at : trace.path) {
            const int second = at.step / rehearse::kStepsPerSecond;
            if (at.step % rehearse::kStepsPerSecond >= rehearse::kStepsPerSecond / 10 || second == last) continue;
            last = second;
            const auto pixel = view_.pixelInside(at.feet);
            if (!pixel) continue;
            p.setPen(Qt::NoPen);
            p.setBrush(colour);
            p.drawEllipse(*pixel, second % 5 == 0 ? 3.5 : 2, second % 5 == 0 ? 3.5 : 2);
            if (second % 5 == 0 && second > 0) view_.note(p, *pixel + QPointF(6, -4), tr("%1 s").arg(second));
        }
    }

    /// Where one stands at the moment that is shown, seen from elsewhere.
    void paintWalker(QPainter& p, const rehearse::Trace& trace) {
        if (!rehearsal_.isFree() && !view_.camera.isFlat() && !rehearsal_.isShownByCamera()) return;
        const rehearse::PathPoint at = trace.walkerAt(rehearsal_.shownStep());
        const double radius = rehearsal_.level()->walker.radius, high = rehearsal_.level()->walker.height;
        p.setPen(QPen(theme().honey, 2));
        p.setBrush(Qt::NoBrush);
        for (const double up : {0.02, high})
            view_.ring(p, at.feet + base::Vec3(0, up, 0), base::Vec3(radius, 0, 0), base::Vec3(0, 0, radius));
        view_.line(p, at.feet, at.feet + base::Vec3(0, high, 0));
        const double yaw = base::radians(at.yawDegrees);
        const base::Vec3 eye = at.feet + base::Vec3(0, rehearsal_.level()->walker.eyeHeight, 0);
        view_.line(p, eye, eye + base::Vec3(std::sin(yaw), 0, -std::cos(yaw)) * 0.9);
    }

    void paintParting(QPainter& p, const rehearse::Trace& trace) {
        const auto& parting = rehearsal_.parting();
        if (!parting || parting->step < 0) return;
        const auto pixel = view_.pixelInside(trace.walkerAt(parting->step).feet);
        if (!pixel) return;
        p.setPen(QPen(theme().rose, 2));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(*pixel, 8, 8);
        p.drawLine(*pixel - QPointF(12, 0), *pixel + QPointF(12, 0));
        view_.note(p, *pixel + QPointF(12, -8),
                   tr("parts after %1 s").arg(QString::number(parting->step * rehearse::kStep, 'f', 1)));
    }

    void paintReach(QPainter& p) {
        const auto* map = rehearsal_.ground().patches();
        if (map == nullptr) {
            if (rehearsal_.ground().isBeingMade()) legend(p, tr("The map of what can be come to is being made…"));
            return;
        }
        const std::vector<bool>* seen = rehearsal_.ground().seen();
        p.setRenderHint(QPainter::Antialiasing, false);
        const QBrush brushes[] = {QBrush(faded(theme().axis[2], 95)),
                                  QBrush(faded(theme().lemon, 120), Qt::BDiagPattern),
                                  QBrush(faded(theme().rose, 150), Qt::DiagCrossPattern)};
        QPainterPath paths[3], seenPath;
        for (std::size_t i = 0; i < map->size(); ++i) {
            const rehearse::Patch& patch = (*map)[i];
            QPolygonF polygon;
            for (const base::Vec3& corner : patch.corners)
                if (const auto pixel = view_.pixelInside(corner + base::Vec3(0, 0.06, 0), 4000)) polygon << *pixel;
            if (polygon.size() < 3 || !polygon.boundingRect().intersects(view_.widget.rect())) continue;
            paths[static_cast<std::size_t>(patch.reach)].addPolygon(polygon);
            if (seen != nullptr && (*seen)[i]) seenPath.addPolygon(polygon);
        }
        p.setPen(Qt::NoPen);
        for (int k = 0; k < 3; ++k) p.fillPath(paths[k], brushes[k]);
        if (seen != nullptr) p.fillPath(seenPath, QBrush(faded(theme().text, 150), Qt::Dense6Pattern));
        p.setRenderHint(QPainter::Antialiasing);
        legend(
            p,
            seen != nullptr
                ? tr("From the start: plain blue on foot · slanted by a jump · crossed never · dotted: seen from here")
                : tr("From the start: plain blue on foot · slanted only by a jump · crossed never"));
    }

    static QColor faded(QColor colour, int alpha) {
        colour.setAlpha(alpha);
        return colour;
    }

    void legend(QPainter& p, const QString& text) {
        constexpr double kBelowTheActs = 78;  // pixels
        setLetters(p, 12);
        const double wide = p.fontMetrics().horizontalAdvance(text) + 20;
        paintWords(p, QRectF((view_.widget.width() - wide) / 2, kBelowTheActs, wide, 22), text, theme(), 215);
    }

    Rehearsal& rehearsal_;
    QObject ears_;
};

}  // namespace

OverlayPtr rehearsed(ViewContext& view) {
    return std::make_unique<Rehearsed>(view);
}

}  // namespace app
