#include "app/view/view_context.h"

#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/shell/tools.h"
#include "app/view/pixels.h"
#include "app/view/route_lines.h"
#include "ops/berths.h"
#include "ops/turned.h"

namespace app {

namespace {

/// What of a line lies in a rectangle (Liang and Barsky, 1984).
std::optional<QLineF> clipped(const QLineF& line, const QRectF& rect) {
    double from = 0, to = 1;
    const double dx = line.dx(), dy = line.dy();
    for (const auto& [way, room] : {std::pair{-dx, line.x1() - rect.left()},
                                    {dx, rect.right() - line.x1()},
                                    {-dy, line.y1() - rect.top()},
                                    {dy, rect.bottom() - line.y1()}}) {
        if (way == 0 && room < 0) return std::nullopt;
        if (way == 0) continue;
        const double t = room / way;
        (way < 0 ? from : to) = way < 0 ? std::max(from, t) : std::min(to, t);
    }
    if (from > to) return std::nullopt;
    return QLineF(line.pointAt(from), line.pointAt(to));
}

}  // namespace

ViewContext::ViewContext(Editor& e, Stage& s, QWidget& w)
    : editor(e), stage(s), widget(w), catcher(*this), lines(*this), rest(e), amount(w) {
    connect(&editor, &Editor::sceneShown, this, [this] { lit_ = kNoSlot; });
    connect(&editor, &Editor::sceneEdited, this, [this] {
        if (lit_ != kNoSlot && !editor.scene().alive(lit_)) lit_ = kNoSlot;
    });
}

render::Viewport ViewContext::viewport() const {
    return {static_cast<double>(std::max(1, widget.width())), static_cast<double>(std::max(1, widget.height()))};
}

std::optional<QPointF> ViewContext::pixelOf(const base::Vec3& place) const {
    const auto pixel = camera.project(place, viewport());
    return pixel ? std::optional(toQt(*pixel)) : std::nullopt;
}

std::optional<QPointF> ViewContext::pixelInside(const base::Vec3& place, int margin) const {
    const auto pixel = pixelOf(place);
    const QRect room = widget.rect().adjusted(-margin, -margin, margin, margin);
    return pixel && room.contains(pixel->toPoint()) ? pixel : std::nullopt;
}

base::Ray ViewContext::rayAt(const QPointF& pixel) const {
    return camera.rayThrough(toVec(pixel), viewport());
}

std::optional<ViewContext::Landing> ViewContext::landingAt(const QPointF& pixel) const {
    const base::Ray ray = rayAt(pixel);
    if (const auto hit = editor.surfaceUnder(ray, false)) return Landing{hit->point, hit->normal};
    // Over nothing: the lattice, which in a pane that looks level stands upright in the middle of what is seen.
    if (camera.isFlat() && std::abs(ray.direction.y) < 0.5) return Landing{ray.at(camera.distanceTo(camera.eye))};
    if (ray.direction.y >= -1e-3) return std::nullopt;
    const double t = -ray.origin.y / ray.direction.y;
    if (t <= 0 || t > 9000) return std::nullopt;
    return Landing{ray.at(t)};
}

std::optional<base::Vec3> ViewContext::landingUnder(const QPointF& pixel) const {
    const auto at = landingAt(pixel);
    return at ? std::optional(at->point) : std::nullopt;
}

std::optional<base::Vec3> ViewContext::caughtOrLanding(const QPointF& pixel) {
    if (const auto& caught = catcher.look(pixel)) return caught->point;
    return landingUnder(pixel);
}

double ViewContext::focusDistance() const {
    const base::Ray ray = camera.rayTo(camera.eye + camera.forward());
    if (camera.isFlat()) return camera.distanceTo(camera.eye);
    if (const auto hit = editor.surfaceUnder(ray, false)) return std::clamp(hit->distance, 0.5, 3000.0);
    if (ray.direction.y < -0.02) return std::clamp(-camera.eye.y / ray.direction.y, 2.0, 1000.0);
    return 20.0;
}

Slot ViewContext::objectUnder(const QPointF& pixel) const {
    Slot best = kNoSlot;
    double nearest = 9;
    for (const Mark& mark : visibleMarks()) {
        const double d = std::hypot(mark.at.x() - pixel.x(), mark.at.y() - pixel.y());
        if (d < nearest && editor.isPickable(mark.slot)) {
            nearest = d;
            best = mark.slot;
        }
    }
    if (best != kNoSlot) return best;
    if (const Slot route = routeUnder(*this, pixel); route != kNoSlot) return route;
    // Protected things cannot be picked, but what lies behind them is not reached through them either.
    const auto hit = editor.surfaceUnder(rayAt(pixel), false);
    if (!hit || !editor.isPickable(hit->slot)) return kNoSlot;
    return hit->slot;
}

query::SlotFilter ViewContext::others() const {
    return [this](Slot s) { return !stage.tinted().contains(s) && !editor.isHidden(s); };
}

namespace {

/// Those that lie on a nearer one are counted there; what is selected stands for itself.
std::vector<ViewContext::Mark> gathered(std::vector<ViewContext::Mark> marks) {
    constexpr double kApart = 9;  // pixels
    std::stable_sort(marks.begin(), marks.end(), [](const auto& a, const auto& b) { return a.distance < b.distance; });
    std::vector<ViewContext::Mark> shown;
    for (const ViewContext::Mark& mark : marks) {
        const auto over = std::find_if(shown.begin(), shown.end(), [&](const ViewContext::Mark& one) {
            return std::hypot(one.at.x() - mark.at.x(), one.at.y() - mark.at.y()) < kApart;
        });
        if (over == shown.end())
            shown.push_back(mark);
        else
            ++over->others;
    }
    return shown;
}

}  // namespace

std::vector<ViewContext::Mark> ViewContext::visibleMarks() const {
    constexpr double kFarthest = 90;
    constexpr std::size_t kMost = 120;
    std::vector<Mark> marks;
    const model::Scene& scene = editor.scene();
    for (Slot s : stage.marked()) {
        const base::Vec3 at = scene.world(s).translation;
        const double distance = camera.distanceTo(at);
        if ((!camera.isFlat() && distance > kFarthest) || editor.isHidden(s)) continue;
        const auto pixel = pixelInside(at);
        if (!pixel) continue;
        const auto hit = editor.surfaceUnder(camera.rayTo(at), false);
        if (hit && hit->distance < distance - 0.4) continue;
        marks.push_back({s, *pixel, camera.isFlat() ? 15 : distance});
        if (marks.size() >= kMost) break;
    }
    return gathered(std::move(marks));
}

void ViewContext::light(Slot slot) {
    if (slot == lit_) return;
    lit_ = slot;
    Q_EMIT overStale();
}

Ghost ViewContext::ghostAt(const std::string& item, const Landing& at) {
    if (const ops::Berth* berth = editor.berthNear(at.point, item)) return {item, berth->at, berth->rotation};
    const PlacedAs& as = editor.tools().placed;
    // Walls are not climbed: on them it stands upright.
    constexpr double kSteepest = 0.3;
    const bool leans = editor.tools().followSlopes && at.normal.y > kSteepest;
    const base::Quat about = glm::angleAxis(base::radians(as.turnDegrees), base::Vec3(0, 1, 0));
    const base::Quat lean =
        leans ? glm::quat_cast(ops::turnBetween(base::Vec3(0, 1, 0), at.normal)) : base::Quat(1, 0, 0, 0);
    return {item, at.point + base::Vec3(0, as.raisedMetres, 0), lean * about, as.size};
}

void ViewContext::setMoreGhosts(std::vector<Ghost> ghosts) {
    if (ghosts.empty() && moreGhosts_.empty()) return;
    moreGhosts_ = std::move(ghosts);
    Q_EMIT overStale();
}

void ViewContext::setGhost(std::optional<Ghost> ghost) {
    if (!ghost && !ghost_) return;
    ghost_ = std::move(ghost);
    Q_EMIT overStale();
}

Slot ViewContext::pointedObject() const {
    const auto hit = editor.surfaceUnder(rayAt(pointer), false);
    return hit && widget.underMouse() ? hit->slot : editor.scene().find(lastPointed_);
}

void ViewContext::line(QPainter& p, base::Vec3 a, base::Vec3 b) const {
    const double near = camera.isFlat() ? -1e9 : 0.05;
    const double da = glm::dot(a - camera.eye, camera.forward()), db = glm::dot(b - camera.eye, camera.forward());
    if (da < near && db < near) return;
    if (da < near) a = a + (b - a) * ((near - da) / (db - da));
    if (db < near) b = b + (a - b) * ((near - db) / (da - db));
    const auto from = pixelOf(a), to = pixelOf(b);
    if (!from || !to) return;
    // Far outside, Qt's dash pattern would take forever.
    if (const auto seen = clipped({*from, *to}, QRectF(widget.rect()).adjusted(-20, -20, 20, 20))) p.drawLine(*seen);
}

void ViewContext::path(QPainter& p, const std::vector<base::Vec3>& points) const {
    for (std::size_t i = 1; i < points.size(); ++i) line(p, points[i - 1], points[i]);
}

void ViewContext::ring(QPainter& p, const base::Vec3& centre, const base::Vec3& a, const base::Vec3& b) const {
    constexpr int kRound = 44;
    std::vector<base::Vec3> points;
    for (int i = 0; i <= kRound; ++i) {
        const double angle = 2 * base::kPi * i / kRound;
        points.push_back(centre + a * std::cos(angle) + b * std::sin(angle));
    }
    path(p, points);
}

void ViewContext::box(QPainter& p, const base::Affine& world, const base::Aabb& box) const {
    for (int corner = 0; corner < 8; ++corner)
        for (int axis = 0; axis < 3; ++axis)
            if ((corner >> axis & 1) == 0)
                line(p, world.point(box.corner(corner)), world.point(box.corner(corner | 1 << axis)));
}

void ViewContext::note(QPainter& p, const QPointF& at, const QString& text) const {
    setLetters(p, 11);
    const QRectF box(at.x(), at.y() - 18, QFontMetricsF(p.font()).horizontalAdvance(text) + 12, 18);
    paintWords(p, box, text, editor.theme(), 225);
}

/// Words on a ground of their own, `alpha` of 255 thick.
void paintWords(QPainter& p, const QRectF& box, const QString& text, const Theme& theme, int alpha) {
    QColor back = theme.window;
    back.setAlpha(alpha);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(box, 4, 4);
    p.setPen(theme.text);
    p.drawText(box, Qt::AlignCenter, text);
}

void setLetters(QPainter& p, int pixels, QFont::Weight weight) {
    QFont font = p.font();
    font.setPixelSize(pixels);
    font.setWeight(weight);
    p.setFont(font);
}

}  // namespace app
