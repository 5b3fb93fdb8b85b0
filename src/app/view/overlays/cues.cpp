// Lines from what sets a cue off to the object that has it, and on to what it changes, with the delay on them.
#include <QPainterPath>
#include <cmath>

#include "app/names.h"
#include "app/view/looks.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/act.h"
#include "ops/cues.h"

namespace app {

namespace {

constexpr std::size_t kMostLines = 400;

class CueLines : public Overlay {
  public:
    explicit CueLines(ViewContext& view) : Overlay(view) {
        QObject::connect(&editor_, &Editor::sceneShown, &ears_, [this] { known_ = false; });
        QObject::connect(&editor_, &Editor::sceneEdited, &ears_, [this](const edit::SceneDelta& delta) {
            if (delta.everything || delta.treeChanged || !delta.detailed.empty() || !delta.relabelled.empty())
                known_ = false;
        });
    }
    void paint(QPainter& p) override {
        if (!editor_.isOpen()) return;
        if (!known_) lines_ = ops::cueLines(editor_.scene());
        known_ = true;
        setLetters(p, 11);
        std::size_t painted = 0;
        for (const ops::CueLine& line : lines_) {
            if (painted >= kMostLines) return;
            if (!editor_.looks().allLinks && !isChosen(line.from) && !isChosen(line.to)) continue;
            paintLine(p, line);
            ++painted;
        }
    }

  private:
    bool isChosen(base::ObjectId id) const {
        for (Slot s = editor_.scene().find(id); s != kNoSlot; s = editor_.scene().parent(s))
            if (editor_.isSelected(s)) return true;
        return false;
    }
    /// From cause to object thin, from object to effect thick; dashed: it is not armed.
    void paintLine(QPainter& p, const ops::CueLine& line) {
        const model::Scene& scene = editor_.scene();
        const Slot from = scene.find(line.from), to = scene.find(line.to);
        if (from == kNoSlot || to == kNoSlot || scene.facet<model::Act>(to) != nullptr || editor_.isHidden(from) ||
            editor_.isHidden(to))
            return;
        const auto a = view_.pixelOf(linkEnd(scene, from)), b = view_.pixelOf(linkEnd(scene, to));
        if (!a || !b) return;
        const QColor colour = line.isCause ? theme().lemon : theme().honey;
        const double length = std::max(std::hypot(b->x() - a->x(), b->y() - a->y()), 1e-6);
        QPainterPath path(*a);
        path.quadTo((*a + *b) / 2 - QPointF(0, std::min(50.0, length * 0.2)), *b);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().window, 4));
        p.drawPath(path);
        p.setPen(QPen(colour, line.isCause ? 1.4 : 2.2, line.armed ? Qt::SolidLine : Qt::DashLine));
        p.drawPath(path);
        const QPointF way = *b - path.pointAtPercent(0.93);
        const double reach = std::max(std::hypot(way.x(), way.y()), 1e-6);
        const QPointF along = way / reach * 9, across(-along.y() * 0.5, along.x() * 0.5);
        p.setPen(Qt::NoPen);
        p.setBrush(colour);
        p.drawPolygon(QPolygonF({*b, *b - along + across, *b - along - across}));
        if (!line.isCause && length > 40)
            view_.note(p, path.pointAtPercent(0.5) + QPointF(4, -4), tr("%1 s").arg(QString::number(line.after)));
    }
    std::vector<ops::CueLine> lines_;
    bool known_ = false;
    QObject ears_;
};

}  // namespace

OverlayPtr cueLines(ViewContext& view) {
    return std::make_unique<CueLines>(view);
}

}  // namespace app
