#include "app/view/catcher.h"

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/pixels.h"
#include "app/view/stage.h"
#include "app/view/view_context.h"
#include "model/facets/route.h"

namespace app {

using query::CatchKind;

bool Catcher::isKey(int key) {
    return (key >= Qt::Key_0 && key <= Qt::Key_7) || key == Qt::Key_G || key == Qt::Key_C || key == Qt::Key_X;
}

bool Catcher::linesUp() const {
    return holds(Qt::Key_C) || view_.editor.tools().catchFlush;
}

query::SlotFilter Catcher::others() const {
    return [this](Slot s) {
        const Editor& editor = view_.editor;
        return !(mine_ && mine_(s)) && (editor.tools().catching.hidden || !editor.isHidden(s)) &&
               (editor.tools().catching.protectedOnes || !editor.scene().protectedInTree(s));
    };
}

base::ObjectId Catcher::course() const {
    const model::Scene& scene = view_.editor.scene();
    return route() != kNoSlot && !scene.facet<model::Route>(route())->stops.empty() ? scene.id(route())
                                                                                    : base::ObjectId{};
}

/// The place of the nearest route's line that is seen by the pointer.
std::optional<query::CatchPoint> Catcher::onRoute(const QPointF& pixel) const {
    constexpr double kReach = 24;  // pixels
    const auto [slot, on] = routeNear(view_, pixel, kReach, others());
    if (slot == kNoSlot) return std::nullopt;
    query::CatchPoint caught;
    caught.kind = CatchKind::Route;
    caught.point = view_.stage.routes().of(view_.editor.scene(), slot).curve.at(on.metres);
    caught.normal = {0, 1, 0};
    caught.slot = slot;
    caught.metres = on.metres;
    return caught;
}

const std::optional<query::CatchPoint>& Catcher::look(const QPointF& pixel) {
    caught_ = find(pixel);
    return caught_;
}

std::optional<query::CatchPoint> Catcher::find(const QPointF& pixel) const {
    if (holds(Qt::Key_0)) return std::nullopt;
    if (holds(Qt::Key_5)) return onRoute(pixel);
    const query::SceneIndex* index = view_.editor.sight().index();
    if (index == nullptr) return std::nullopt;
    const render::Sight sight = view_.camera.sight(view_.viewport());
    const query::Aim aim{{pixel.x(), pixel.y()},
                         [&](const base::Vec3& p) { return sight.rayTo(p); },
                         [&](const base::Vec2& p) { return sight.rayThrough(p); },
                         [&](const base::Vec3& p) { return sight.project(p); },
                         [&](const base::Vec3& p) { return sight.metresPerPixel(p); }};
    for (const auto& [key, kind] : {std::pair{Qt::Key_1, CatchKind::Corner},
                                    {Qt::Key_2, CatchKind::Edge},
                                    {Qt::Key_3, CatchKind::Face},
                                    {Qt::Key_4, CatchKind::Centre},
                                    {Qt::Key_6, CatchKind::End},
                                    {Qt::Key_7, CatchKind::Gap}}) {
        if (!holds(key)) continue;
        auto found = query::catchAt(view_.editor.scene(), *index, aim, kind, others());
        if (!found || !caught_ || caught_->kind != kind || kind != CatchKind::Corner) return found;
        // A corner is kept under small moves of the pointer.
        constexpr double kKeep = 3;
        const auto was = sight.project(caught_->point), now = sight.project(found->point);
        if (!was || !now) return found;
        return glm::length(*was - aim.pixel) < glm::length(*now - aim.pixel) + kKeep ? caught_ : found;
    }
    return std::nullopt;
}

render::Steps Catcher::steps(Qt::KeyboardModifiers modifiers) const {
    if (holds(Qt::Key_G)) return {};
    return view_.editor.tools().activeSteps((modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1.0);
}

void Catcher::paint(QPainter& p) const {
    const auto at = caught_ ? view_.pixelOf(caught_->point) : std::nullopt;
    if (!at) return;
    const Theme& t = view_.editor.theme();
    const QPolygonF diamond({*at + QPointF(0, -9), *at + QPointF(9, 0), *at + QPointF(0, 9), *at + QPointF(-9, 0)});
    p.setBrush(Qt::NoBrush);
    for (const auto& [colour, wide] : {std::pair{t.window, 4.0}, {t.lemon, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.drawPolygon(diamond);
    }
    const QString kinds[] = {ViewContext::tr("corner"), ViewContext::tr("edge"), ViewContext::tr("face"),
                             ViewContext::tr("centre"), ViewContext::tr("end")};
    if (caught_->kind == CatchKind::Gap)
        return view_.note(p, *at + QPointF(12, 22),
                          ViewContext::tr("middle of %1").arg(view_.editor.length(caught_->gapMetres, 3)));
    const QString name = toQt(view_.editor.scene().nameText(caught_->slot));
    if (caught_->kind != CatchKind::Route)
        return view_.note(p, *at + QPointF(12, 22),
                          ViewContext::tr("%1 of %2").arg(kinds[static_cast<int>(caught_->kind)], name));
    const QString where = ViewContext::tr("at %1 of %2").arg(view_.editor.length(caught_->metres), name);
    view_.note(p, *at + QPointF(12, 22), course() ? where + ViewContext::tr(": becomes a stop") : where);
}

}  // namespace app
