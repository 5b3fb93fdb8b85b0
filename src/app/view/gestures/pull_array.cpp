#include "app/view/gestures/pull_array.h"

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gestures/all.h"
#include "app/view/pixels.h"
#include "base/text.h"
#include "model/facets/array.h"

namespace app {

using Pulls = ops::ArrayGrip::Pulls;

namespace {

/// What a grip does, for its note.
QString arrayText(const Editor& editor, const model::Array& a, const ops::ArrayGrip& grip) {
    using Shape = model::Array::Shape;
    const auto axis = static_cast<std::size_t>(grip.axis);
    if (grip.pulls == Pulls::Radius) return InView::tr("radius %1").arg(editor.length(a.radiusMetres));
    if (grip.pulls == Pulls::Count) {
        QString text = counted(static_cast<std::size_t>(a.counts[axis]), InView::tr("object"), InView::tr("objects"));
        if (a.shape == Shape::Grid) text += InView::tr(" along %1, %2 in all").arg("XYZ"[axis]).arg(ops::countOf(a));
        if (a.shape == Shape::Row) text += ", " + editor.length(glm::length(a.spacing) * (a.counts[0] - 1));
        return text;
    }
    const double apart = a.shape == Shape::Grid ? std::abs(a.spacing[grip.axis]) : glm::length(a.spacing);
    return InView::tr("%1 apart").arg(editor.length(apart));
}

}  // namespace

std::vector<ops::ArrayGrip> ArrayGrips::grips(const ViewContext& view) {
    return ops::arrayGrips(view.editor.scene(), onlySelected(view));
}

/// Where the pointer is on the grip's line, or on its level plane.
std::optional<base::Vec3> ArrayGrips::target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                             base::ObjectId id) {
    if (grip.along != base::Vec3(0.0)) return nearestOnLine(view.rayAt(view.pointer), grip.through, grip.along);
    return onPlane(view, view.pointer, grip.at, glm::normalize(before.world(before.find(id)).linear[1]));
}

model::Array ArrayGrips::now(const ViewContext&, const Grip& grip, const model::Scene& before, base::ObjectId id,
                             const base::Vec3& to, const render::Steps& steps) {
    return ops::pulledArray(before, before.find(id), grip, to, steps.metres);
}

base::Status ArrayGrips::apply(const ViewContext&, edit::Draft& draft, const Grip&, base::ObjectId id, const Now& now) {
    return ops::setArray(draft, id, now);
}

void ArrayGrips::paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit) {
    const Theme& t = view.editor.theme();
    p.setPen(QPen(lit ? t.text : t.window, 1.5));
    p.setBrush(t.honey);
    const double r = lit ? 7 : 5.5;
    if (grip.pulls == Pulls::Count)  // a plus: the next one would stand here
        p.drawPolygon(QPolygonF({at + QPointF(-r, -r / 3), at + QPointF(-r / 3, -r / 3), at + QPointF(-r / 3, -r),
                                 at + QPointF(r / 3, -r), at + QPointF(r / 3, -r / 3), at + QPointF(r, -r / 3),
                                 at + QPointF(r, r / 3), at + QPointF(r / 3, r / 3), at + QPointF(r / 3, r),
                                 at + QPointF(-r / 3, r), at + QPointF(-r / 3, r / 3), at + QPointF(-r, r / 3)}));
    else
        p.drawPolygon(QPolygonF({at + QPointF(0, -r), at + QPointF(r, 0), at + QPointF(0, r), at + QPointF(-r, 0)}));
    if (!lit) return;
    view.note(p, (view.busy ? view.pointer : at) + QPointF(16, -14),
              arrayText(view.editor, *view.editor.scene().facet<model::Array>(onlySelected(view)), grip));
}

QString ArrayGrips::hint(const Grip& grip, bool held) {
    if (held) return InView::tr("Drag: pull the array · Shift: fine · Esc: let go");
    switch (grip.pulls) {
        case Pulls::Count: return InView::tr("Drag: more or fewer of them");
        case Pulls::Radius: return InView::tr("Drag: how far from the middle · Shift: fine");
        default: return InView::tr("Drag: how far apart they are · Shift: fine");
    }
}

PullArray::PullArray(ViewContext& view) : GripGesture(view) {
    const auto forget = [this] { odd_.reset(); };
    QObject::connect(&editor_, &Editor::sceneShown, &ears_, forget);
    QObject::connect(&editor_, &Editor::sceneEdited, &ears_, forget);
    QObject::connect(&editor_, &Editor::selectionChanged, &ears_, forget);
}

std::vector<QPointF> PullArray::oddCopies() const {
    const Slot array = onlySelected(view_);
    if (array == kNoSlot) return {};
    if (!odd_) odd_ = ops::arrayOddities(editor_.scene(), array).changed;
    std::vector<QPointF> marks;
    for (base::ObjectId id : *odd_)
        if (const Slot s = editor_.scene().find(id); s != kNoSlot)
            if (const auto at = view_.pixelOf(editor_.scene().subtreeBounds(s).centre())) marks.push_back(*at);
    return marks;
}

void PullArray::paint(QPainter& p) const {
    for (const QPointF& at : oddCopies()) view_.note(p, at + QPointF(-10, 9), QStringLiteral("≠"));
    GripGesture::paint(p);
}

GesturePtr pullArray(ViewContext& view) {
    return std::make_unique<PullArray>(view);
}

}  // namespace app
