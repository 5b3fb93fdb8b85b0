// Points, zones and bodies in the view: drawn, placed by clicking on surfaces, pulled by their handles.
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/look/colour.h"
#include "app/look/parts.h"
#include "app/shell/scripts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "model/facets/body.h"
#include "model/facets/points.h"
#include "model/facets/zone.h"
#include "shape/hull.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr double kReach = 9;  // pixels
constexpr int kRound = 40;    // sides of a circle
constexpr double kUsualZoneHeight = 3;
constexpr std::size_t kMostDrawn = 2000;

/// A circle of the given axes, closed.
std::vector<base::Vec3> ring(const base::Vec3& centre, const base::Vec3& a, const base::Vec3& b) {
    std::vector<base::Vec3> points;
    for (int i = 0; i <= kRound; ++i) {
        const double angle = 2 * base::kPi * i / kRound;
        points.push_back(centre + a * std::cos(angle) + b * std::sin(angle));
    }
    return points;
}

}  // namespace

void ViewWidget::worldPath(QPainter& p, const std::vector<base::Vec3>& points) const {
    for (std::size_t i = 1; i < points.size(); ++i) worldLine(p, points[i - 1], points[i]);
}

/// The points and grips of the one object that is selected, while nothing else is in the hand.
std::vector<ViewWidget::FacetGrip> ViewWidget::facetGrips() const {
    std::vector<FacetGrip> grips;
    if (!editor_.isOpen() || editor_.selection().size() != 1 || drag_ || carry_) return grips;
    const Tool tool = editor_.tool();
    if (tool == Tool::Measure || tool == Tool::Solid || tool == Tool::Broom || tool == Tool::Zone) return grips;
    const model::Scene& scene = editor_.scene();
    const Slot slot = scene.find(editor_.selection().front());
    if (slot == kNoSlot) return grips;
    const model::Detail none;
    const model::Detail& detail = scene.detail(slot) ? *scene.detail(slot) : none;
    for (std::size_t i = 0;
         detail.get<model::PointSet>() && i < std::min(detail.get<model::PointSet>()->points.size(), kMostDrawn); ++i)
        grips.push_back({i, ops::pointInWorld(scene, slot, detail.get<model::PointSet>()->points[i])});
    if (tool != Tool::Points)
        for (const ops::ZoneGrip& grip : ops::zoneGrips(scene, slot)) grips.push_back({grip, grip.at});
    if (tool != Tool::Points) appendScriptHandles(grips);
    return grips;
}

std::optional<ViewWidget::FacetGrip> ViewWidget::facetGripUnder(const QPointF& pixel) const {
    std::optional<FacetGrip> best;
    double nearest = kReach;
    for (const FacetGrip& grip : facetGrips()) {
        const auto at = camera_.project(grip.at, viewport());
        const double away = at ? std::hypot(at->x - pixel.x(), at->y - pixel.y()) : kReach;
        if (away < nearest) nearest = away, best = grip;
    }
    return best;
}

std::optional<QPointF> ViewWidget::facetGripPixel(std::size_t index) const {
    const auto grips = facetGrips();
    if (index >= grips.size()) return std::nullopt;
    const auto at = camera_.project(grips[index].at, viewport());
    return at ? std::optional(toQt(*at)) : std::nullopt;
}

void ViewWidget::startFacetPull(const FacetGrip& grip) {
    facetPull_ = std::make_unique<FacetPull>();
    facetPull_->id = editor_.selection().front();
    facetPull_->grip = grip;
    facetPull_->before = editor_.scene();
    if (const auto* point = std::get_if<std::size_t>(&grip.what)) editor_.setChosenPoint(*point);
    updateHint();
}

/// Where the pointer takes a grip: what is caught; for a point the surface under it; else its line or level plane.
std::optional<base::Vec3> ViewWidget::facetPlace(const QPointF& pixel) {
    caught_ = catchUnder(pixel);
    if (caught_) return caught_->point;
    const FacetGrip& grip = facetPull_->grip;
    const base::Ray ray = camera_.rayThrough(toVec(pixel), viewport());
    const auto* zone = std::get_if<ops::ZoneGrip>(&grip.what);
    if (zone == nullptr)
        if (const auto on = landingUnder(pixel)) return on;
    if (zone != nullptr && zone->along != base::Vec3(0.0)) return nearestOnLine(ray, grip.at, zone->along);
    const double t = std::abs(ray.direction.y) < 1e-4 ? -1 : (grip.at.y - ray.origin.y) / ray.direction.y;
    return t > 0 && t < 9000 ? std::optional(ray.at(t)) : std::nullopt;
}

void ViewWidget::moveFacetPull(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    FacetPull& pull = *facetPull_;
    auto to = facetPlace(pixel);
    if (!to) return;
    const double step = editor_.activeSteps((modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1).metres;
    const auto* zone = std::get_if<ops::ZoneGrip>(&pull.grip.what);
    if (!pull.draft)
        pull.draft = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                                   zone != nullptr       ? "Pull zone"
                                                   : pull.grip.isPoint() ? "Move a point"
                                                                         : "Pull a handle");
    base::Status done;
    if (zone != nullptr) {
        const Slot slot = pull.before->find(pull.id);
        const ops::PulledZone pulled = ops::pulledZone(*pull.before, slot, *zone, *to, caught_ ? 0 : step);
        done = pull.draft->setTransforms({&pull.id, 1}, {&pulled.local, 1});
        if (done) done = ops::setZone(*pull.draft, {&pull.id, 1}, pulled.zone);
    } else {
        // Steps of the world's lattice, level; the height is the surface's.
        if (!caught_ && editor_.onLattice())
            for (int axis : {0, 2}) (*to)[axis] = ops::snapped((*to)[axis], step);
        if (const auto* handle = std::get_if<ScriptHandle>(&pull.grip.what))
            done = editor_.scripts().behaviours().moveHandle(*pull.draft, pull.id, handle->index, *to);
        else
            done = ops::movePoint(*pull.draft, pull.id, std::get<std::size_t>(pull.grip.what), *to);
    }
    if (!editor_.report(done)) facetPull_.reset();
    update();
}

void ViewWidget::finishFacetPull() {
    auto pull = std::exchange(facetPull_, nullptr);
    caught_.reset();
    if (pull->draft)
        if (auto step = pull->draft->commit(); !step) editor_.report(tl::unexpected(step.error()));
    updateHint();
    update();
}

/// One more point: of the one selected object, or of a new one that is nothing else.
void ViewWidget::placePoint(const QPointF& pixel) {
    caught_ = catchUnder(pixel);
    const auto at = caught_ ? std::optional(caught_->point) : landingUnder(pixel);
    if (!at) return editor_.say(tr("There is nothing here for a point to stand on."));
    const auto chosen = editor_.selection();
    const bool toOne = chosen.size() == 1 && editor_.scene().find(chosen.front()) != kNoSlot;
    editor_.run(toOne ? "Add a point to " + ops::describe(editor_.scene(), chosen) : "Add points",
                [&](edit::Draft& draft) -> base::Status {
                    if (toOne) return ops::addPoint(draft, chosen.front(), *at);
                    model::ObjectRecord owner;
                    owner.id = editor_.session().random().nextId();
                    owner.parent = editor_.entered();
                    owner.name = editor_.session().intern(draft.freeNames().next("Points"));
                    base::Transform world;
                    world.position = *at;
                    const Slot parent = draft.scene().find(owner.parent);
                    const auto into = parent == kNoSlot ? std::nullopt : base::inverse(draft.scene().world(parent));
                    owner.local = into ? base::toTransform(*into * base::toAffine(world)) : world;
                    if (base::Status made = draft.create({&owner, 1}); !made) return made;
                    if (base::Status added = ops::addPoint(draft, owner.id, *at); !added) return added;
                    editor_.session().select({owner.id});
                    return {};
                });
    updateHint();
}

/// A corner more; on the first one again the zone is made.
void ViewWidget::placeZoneCorner(const QPointF& pixel) {
    if (zoneCorners_.size() >= 3)
        if (const auto first = camera_.project(zoneCorners_.front(), viewport());
            first && std::hypot(first->x - pixel.x(), first->y - pixel.y()) < kReach)
            return finishZone();
    caught_ = catchUnder(pixel);
    auto at = caught_ ? std::optional(caught_->point) : landingUnder(pixel);
    if (!at) return editor_.say(tr("There is nothing here for a corner to stand on."));
    const double step = editor_.activeSteps().metres;
    for (int axis : {0, 2})
        if (!caught_) (*at)[axis] = ops::snapped((*at)[axis], step);
    zoneCorners_.push_back(*at);
    updateHint();
    update();
}

void ViewWidget::finishZone() {
    const std::vector<base::Vec3> corners = std::exchange(zoneCorners_, {});
    const ops::DrawnZone drawn = ops::drawnZone(corners, kUsualZoneHeight);
    const bool done = editor_.run("Draw a zone", [&](edit::Draft& draft) -> base::Status {
        auto made = ops::addZone(draft, drawn.zone, drawn.at, editor_.entered());
        if (!made) return tl::unexpected(made.error());
        editor_.session().select({*made});
        return {};
    });
    if (done) editor_.setTool(Tool::Slide);  // its sides can be pulled at once
    update();
}

void ViewWidget::paintFacets(QPainter& p) const {
    const model::Scene& scene = editor_.scene();
    for (Slot s : stage_.marked()) {
        if (!scene.alive(s) || !scene.detail(s) || editor_.isHidden(s)) continue;
        const model::Detail& detail = *scene.detail(s);
        const bool chosen = editor_.isSelected(s);
        if (detail.get<model::Zone>()) paintZone(p, s, chosen);
        if (detail.get<model::PointSet>()) paintPoints(p, s, chosen);
    }
    for (base::ObjectId id : editor_.selection())
        if (const Slot s = scene.find(id); s != kNoSlot && scene.facet<model::Body>(s)) paintBody(p, s);
    paintScripts(p);
    paintFindings(p);
    paintFacetGrips(p);
    paintZoneDrawing(p);
}

void ViewWidget::paintZone(QPainter& p, Slot s, bool chosen) const {
    const model::Zone& zone = *editor_.scene().facet<model::Zone>(s);
    const base::Affine& world = editor_.scene().world(s);
    const QColor colour = toColour(zone.colour);
    p.setPen(QPen(colour, chosen ? 2 : 1.25, chosen ? Qt::SolidLine : Qt::DashLine));
    const base::Vec3 half = zone.size / 2.0;
    if (zone.shape == model::Zone::Shape::Sphere) {
        const double r = half.x;
        for (int k = 0; k < 3; ++k)
            worldPath(p, ring(world.translation, world.linear[k] * r, world.linear[(k + 1) % 3] * r));
        return;
    }
    std::vector<base::Vec2> corners = zone.corners;
    if (zone.shape == model::Zone::Shape::Box)
        corners = {{-half.x, -half.z}, {half.x, -half.z}, {half.x, half.z}, {-half.x, half.z}};
    if (corners.empty()) return;
    corners.push_back(corners.front());
    for (const double y : {0.0, zone.size.y}) {
        std::vector<base::Vec3> line;
        for (const base::Vec2& c : corners) line.push_back(world.point({c.x, y, c.y}));
        worldPath(p, line);
    }
    for (std::size_t i = 0; i + 1 < corners.size(); ++i)
        worldLine(p, world.point({corners[i].x, 0, corners[i].y}),
                  world.point({corners[i].x, zone.size.y, corners[i].y}));
    // Its floor is filled faintly, so that one sees which side is inside.
    QPolygonF floor;
    for (const base::Vec2& c : corners) {
        const auto pixel = camera_.project(world.point({c.x, 0, c.y}), viewport());
        if (!pixel) return;
        floor << toQt(*pixel);
    }
    QColor fill = colour;
    fill.setAlpha(chosen ? 46 : 24);
    p.setPen(Qt::NoPen);
    p.setBrush(fill);
    p.drawPolygon(floor);
    p.setBrush(Qt::NoBrush);
}

void ViewWidget::paintPoints(QPainter& p, Slot s, bool chosen) const {
    const model::Scene& scene = editor_.scene();
    const model::PointSet& set = *scene.facet<model::PointSet>(s);
    const QColor usual = toColour(set.colour);
    std::vector<base::Vec3> way;
    for (std::size_t i = 0; i < std::min(set.points.size(), kMostDrawn); ++i)
        way.push_back(ops::pointInWorld(scene, s, set.points[i]));
    p.setBrush(Qt::NoBrush);
    if (chosen) {  // their order, and whose they are
        p.setPen(QPen(usual, 1.25, Qt::DotLine));
        worldPath(p, way);
        if (!way.empty() && !set.stays) worldLine(p, scene.world(s).translation, way.front());
    }
    QFont font = p.font();
    font.setPixelSize(10);
    font.setWeight(QFont::DemiBold);
    p.setFont(font);
    for (std::size_t i = 0; i < way.size(); ++i) {
        const model::PlacePoint& point = set.points[i];
        const auto at = camera_.project(way[i], viewport());
        if (!at || !rect().adjusted(-40, -40, 40, 40).contains(toQt(*at).toPoint())) continue;
        const QColor colour = point.colour ? toColour(*point.colour) : usual;
        if (point.radiusMetres > 0) {
            p.setPen(QPen(colour, 1.25));
            worldPath(p, ring(way[i], {point.radiusMetres, 0, 0}, {0, 0, point.radiusMetres}));
        }
        if (point.turnDegrees) {
            const double turn = base::radians(*point.turnDegrees), length = std::max(point.radiusMetres, 0.6);
            const base::Vec3 ahead = way[i] + base::Vec3(std::sin(turn), 0, std::cos(turn)) * length;
            p.setPen(QPen(colour, 2));
            worldLine(p, way[i], ahead);
        }
        const bool lit = chosen && editor_.chosenPoint() == i;
        p.setPen(QPen(lit ? editor_.theme().text : editor_.theme().window, 1.5));
        p.setBrush(colour);
        const double r = chosen ? 9 : 6;
        p.drawEllipse(toQt(*at), r, r);
        p.setBrush(Qt::NoBrush);
        if (!chosen) continue;
        p.setPen(colour.lightnessF() > 0.55 ? QColor(Qt::black) : QColor(Qt::white));
        p.drawText(QRectF(at->x - 12, at->y - 8, 24, 16), Qt::AlignCenter, QString::number(i + 1));
        if (!point.name.empty() && (lit || way.size() <= 12))
            paintNote(p, toQt(*at) + QPointF(12, -8), QString::fromStdString(point.name));
    }
}

/// What physics bumps into, as lines over the picture.
void ViewWidget::paintBody(QPainter& p, Slot s) const {
    const model::Scene& scene = editor_.scene();
    const model::Body& body = *scene.facet<model::Body>(s);
    const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(s));
    const ops::BodyBox box = ops::bodyBox(body, mesh != nullptr ? mesh->bounds : base::Aabb{});
    const base::Affine& world = scene.world(s);
    p.setPen(QPen(editor_.theme().axis[2], 1.5));
    auto local = [&](std::vector<base::Vec3> points) {
        for (base::Vec3& point : points) point = world.point(point);
        worldPath(p, points);
    };
    const base::Vec3 half = box.size / 2.0;
    if (body.shape == model::Body::Shape::Box) {
        for (int corner = 0; corner < 8; ++corner)
            for (int axis = 0; axis < 3; ++axis)
                if ((corner >> axis & 1) == 0) {
                    auto at = [&](int c) {
                        return world.point(box.centre + half * base::Vec3((c & 1) != 0 ? 1 : -1, (c & 2) != 0 ? 1 : -1,
                                                                          (c & 4) != 0 ? 1 : -1));
                    };
                    worldLine(p, at(corner), at(corner | 1 << axis));
                }
        return;
    }
    if (body.shape == model::Body::Shape::Sphere || body.shape == model::Body::Shape::Capsule) {
        const bool ball = body.shape == model::Body::Shape::Sphere;
        const int axis = box.size.x >= box.size.y && box.size.x >= box.size.z ? 0 : box.size.y >= box.size.z ? 1 : 2;
        const int a = (axis + 1) % 3, b = (axis + 2) % 3;
        const double r = ball ? half[axis] : std::max(half[a], half[b]),
                     rest = ball ? 0 : std::max(0.0, half[axis] - r);
        auto unit = [](int k, double length) {
            base::Vec3 v(0.0);
            v[k] = length;
            return v;
        };
        for (const double end : {-rest, rest}) {
            local(ring(box.centre + unit(axis, end), unit(a, r), unit(b, r)));
            for (int across : {a, b}) local(ring(box.centre + unit(axis, end), unit(axis, r), unit(across, r)));
            if (rest == 0) break;
        }
        for (int across : {a, b})
            for (const double side : {-r, r})
                local({box.centre + unit(axis, -rest) + unit(across, side),
                       box.centre + unit(axis, rest) + unit(across, side)});
        return;
    }
    if (mesh == nullptr) return;
    auto hull = [&]() -> const shape::Mesh& {
        auto [place, isNew] = hulls_.try_emplace(scene.item(s));
        if (isNew) place->second = shape::convexHull(mesh->positions);
        return place->second;
    };
    const shape::Mesh& shown = body.shape == model::Body::Shape::Hull ? hull() : *mesh;
    constexpr std::size_t kMostTriangles = 1500;
    for (std::size_t t = 0; t < std::min(shown.triangleCount(), kMostTriangles); ++t)
        local({shape::cornerOf(shown, t, 0), shape::cornerOf(shown, t, 1), shape::cornerOf(shown, t, 2)});
}

void ViewWidget::paintFacetGrips(QPainter& p) const {
    for (const FacetGrip& grip : facetGrips()) {
        const auto* zone = std::get_if<ops::ZoneGrip>(&grip.what);
        const auto at = camera_.project(grip.at, viewport());
        const bool lit = hoveredFacet_ && hoveredFacet_->what == grip.what;
        if (!at) continue;
        if (const auto* handle = std::get_if<ScriptHandle>(&grip.what); handle != nullptr) {
            p.setPen(QPen(lit ? editor_.theme().text : editor_.theme().window, 1.5));
            p.setBrush(editor_.theme().lilac);
            const double r = lit ? 7.5 : 6;
            p.drawPolygon(QPolygonF{toQt(*at) + QPointF(0, -r), toQt(*at) + QPointF(r, 0), toQt(*at) + QPointF(0, r),
                                    toQt(*at) + QPointF(-r, 0)});
            continue;
        }
        if (zone == nullptr) {
            if (!lit) continue;
            p.setPen(QPen(editor_.theme().text, 2));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(toQt(*at), 12, 12);
            continue;
        }
        p.setPen(QPen(lit ? editor_.theme().text : editor_.theme().window, 1.5));
        p.setBrush(editor_.theme().honey);
        const double r = lit ? 7 : 5.5;
        p.drawRect(QRectF(at->x - r, at->y - r, 2 * r, 2 * r));
    }
    if (!facetPull_ || !std::holds_alternative<ops::ZoneGrip>(facetPull_->grip.what)) return;
    const Slot slot = editor_.scene().find(facetPull_->id);
    if (slot == kNoSlot || !editor_.scene().facet<model::Zone>(slot)) return;
    const model::Zone& zone = *editor_.scene().facet<model::Zone>(slot);
    paintNote(p, pointer_ + QPointF(16, -14),
              zone.shape == model::Zone::Shape::Sphere
                  ? tr("%1 across").arg(metres(zone.size.x))
                  : tr("%1 × %2 × %3").arg(metres(zone.size.x), metres(zone.size.y), metres(zone.size.z)));
}

void ViewWidget::paintZoneDrawing(QPainter& p) const {
    if (zoneCorners_.empty()) return;
    p.setPen(QPen(editor_.theme().honey, 2));
    worldPath(p, zoneCorners_);
    p.setPen(QPen(editor_.theme().honey, 1.5, Qt::DashLine));
    if (const auto last = camera_.project(zoneCorners_.back(), viewport())) p.drawLine(toQt(*last), pointer_);
    p.setPen(QPen(editor_.theme().window, 1.5));
    p.setBrush(editor_.theme().honey);
    for (const base::Vec3& corner : zoneCorners_)
        if (const auto at = camera_.project(corner, viewport())) p.drawEllipse(toQt(*at), 5, 5);
    p.setBrush(Qt::NoBrush);
}

}  // namespace app
