// Links in the view: pointing at what one is to lead to, and lines between what is linked.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr std::size_t kMostLines = 400;

/// A, B, … Z, AA, AB: the tag that both ends of a pair carry.
QString letters(std::size_t n) {
    QString text;
    for (++n; n > 0; n = (n - 1) / 26) text.prepend(QChar('A' + int((n - 1) % 26)));
    return text;
}

}  // namespace

base::Vec3 ViewWidget::linkEnd(Slot slot) const {
    const model::Scene& scene = editor_.scene();
    const base::Aabb box = scene.subtreeBounds(slot);
    return box.empty() ? scene.world(slot).translation : box.centre();
}

/// The part of what is under the pointer that the link may lead to: itself, or the nearest thing around it.
Slot ViewWidget::linkTargetUnder(const QPointF& pixel) const {
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pixel), viewport()), false);
    Slot s = hit ? hit->slot : objectUnder(pixel);
    while (s != kNoSlot && !editor_.objectFits(s)) s = editor_.scene().parent(s);
    return s;
}

void ViewWidget::hoverLink(const QPointF& pixel) {
    const Slot slot = linkTargetUnder(pixel);
    if (slot == hovered_) return;
    hovered_ = slot;
    restageOver();
    updateHint();
}

/// Those of the selection; all of the scene, when asked for.
std::vector<ops::Link> ViewWidget::shownLinks() const {
    const auto& all = editor_.links();
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

void ViewWidget::paintLinks(QPainter& p) const {
    if (!editor_.isOpen()) return;
    paintLinkTargets(p);
    const model::Scene& scene = editor_.scene();
    const auto shown = shownLinks();
    QFont font = p.font();
    font.setPixelSize(11);
    p.setFont(font);
    std::map<base::ObjectId, int> tagsAt;  // several at one end stand side by side
    for (std::size_t i = 0; i < std::min(shown.size(), kMostLines); ++i) {
        const Slot from = scene.find(shown[i].from), to = scene.find(shown[i].to);
        if (from == kNoSlot || editor_.isHidden(from)) continue;
        const auto a = camera_.project(linkEnd(from), viewport());
        if (!a) continue;
        const QColor colour = shown[i].broken ? editor_.theme().rose : editor_.theme().lilac;
        auto tag = [&](const QPointF& at, base::ObjectId id, const QString& text) {
            const double wide = QFontMetricsF(font).horizontalAdvance(text) + 8;
            const QRectF box(at + QPointF(8 + 22.0 * tagsAt[id]++, -22), QSizeF(wide, 16));
            p.setPen(Qt::NoPen);
            p.setBrush(colour);
            p.drawRoundedRect(box, 4, 4);
            p.setPen(editor_.theme().window);
            p.drawText(box, Qt::AlignCenter, text);
        };
        if (shown[i].broken) {
            tag(toQt(*a), shown[i].from, tr("%1: broken").arg(QString::fromStdString(shown[i].property)));
            continue;
        }
        const auto b = camera_.project(linkEnd(to), viewport());
        if (!b) continue;
        const QPointF start = toQt(*a), end = toQt(*b), middle = (start + end) / 2;
        QPainterPath path(start);
        const double bow = std::min(40.0, std::hypot(end.x() - start.x(), end.y() - start.y()) * 0.15);
        path.quadTo(middle - QPointF(0, bow), end);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(editor_.theme().window, 4));
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

/// What the properties of objects near the eye say of them.
void ViewWidget::paintBadges(QPainter& p) const {
    if (!editor_.isOpen() || stage_.badges().empty()) return;
    constexpr std::size_t kMost = 200;
    std::vector<std::pair<double, Slot>> near;
    for (const auto& [s, badge] : stage_.badges()) {
        const double far = camera_.distanceTo(editor_.scene().world(s).translation);
        if ((camera_.isFlat() || far < 120) && !editor_.isHidden(s)) near.emplace_back(far, s);
    }
    std::sort(near.begin(), near.end());
    if (near.size() > kMost) near.resize(kMost);
    QFont font = p.font();
    font.setPixelSize(10);
    p.setFont(font);
    std::vector<QRectF> taken;
    for (const auto& [far, s] : near) {
        const base::Aabb& box = editor_.scene().bounds(s);
        const base::Vec3 top =
            box.empty() ? editor_.scene().world(s).translation : base::Vec3(box.centre().x, box.high.y, box.centre().z);
        const auto at = camera_.project(top, viewport());
        if (!at || !rect().contains(toQt(*at).toPoint())) continue;
        const QString text = QString::fromStdString(stage_.badges().at(s));
        const QRectF place(at->x - 6, at->y - 22, QFontMetricsF(font).horizontalAdvance(text) + 20, 15);
        if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(place); })) continue;
        taken.push_back(place);
        QColor back = editor_.theme().window;
        back.setAlpha(225);
        p.setPen(QPen(editor_.theme().lemon, 1));
        p.setBrush(back);
        p.drawRoundedRect(place, 4, 4);
        p.setBrush(editor_.theme().lemon);
        p.setPen(Qt::NoPen);
        p.drawEllipse(QRectF(place.left() + 5, place.center().y() - 2.5, 5, 5));
        p.setPen(editor_.theme().text);
        p.drawText(place.adjusted(14, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, text);
    }
}

/// While one points: a ring on each thing that fits.
void ViewWidget::paintLinkTargets(QPainter& p) const {
    if (!editor_.asksObject()) return;
    const model::Scene& scene = editor_.scene();
    std::size_t drawn = 0;
    for (Slot s = 0; s < scene.slotEnd() && drawn < kMostLines; ++s) {
        if (!scene.alive(s) || !editor_.objectFits(s) || editor_.isHidden(s)) continue;
        const auto at = camera_.project(linkEnd(s), viewport());
        if (!at || !rect().contains(toQt(*at).toPoint())) continue;
        ++drawn;
        const bool lit = s == hovered_;
        p.setPen(QPen(editor_.theme().window, lit ? 6 : 4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(toQt(*at), lit ? 13 : 9, lit ? 13 : 9);
        p.setPen(QPen(editor_.theme().lilac, lit ? 3 : 2));
        p.drawEllipse(toQt(*at), lit ? 13 : 9, lit ? 13 : 9);
        if (lit)
            paintNote(p, toQt(*at) + QPointF(18, -10),
                      QString::fromUtf8(scene.nameText(s).data(), int(scene.nameText(s).size())));
    }
}

}  // namespace app
