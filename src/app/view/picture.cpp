#include "app/view/picture.h"
#include "app/shell/rehearsal.h"

#include <QElapsedTimer>
#include <algorithm>
#include <cmath>

#include "app/look/colour.h"
#include "app/names.h"
#include "app/shell/go_on.h"
#include "app/shell/scripts.h"
#include "app/view/piece.h"
#include "edit/session.h"
#include "model/facets/light.h"
#include "model/library.h"
#include "ops/objects.h"
#include "query/frustum.h"

namespace app {

namespace {

constexpr double kAimMs = 20;  // frame time to keep while the camera moves

/// Of the kind's mark, or grey.
QColor kindColour(Editor& editor, base::Name kind) {
    const model::Kind* known = editor.session().library().kind(kind);
    const QColor mark = known != nullptr ? QColor(QString::fromStdString(known->colourMark)) : QColor();
    return mark.isValid() ? mark : QColor(150, 150, 145);
}

const render::OtherLooks& looksIn(Stage& stage, Paint paint) {
    return paint == Paint::Collision ? stage.bodyLooks() : stage.otherLooks();
}

}  // namespace

Picture::Picture(ViewContext& view, int pane) : view_(view), editor_(view.editor), stage_(view.stage), pane_(pane) {
    rest_.setSingleShot(true);
    rest_.setInterval(140);
    connect(&rest_, &QTimer::timeout, this, [this] {
        moving_ = false;
        restage(false);
    });
    connect(&stage_, &Stage::restaged, this, &Picture::restage);
    connect(&editor_.goOn(), &GoOn::changed, this, [this] { restageOver(); });
    connect(&stage_, &Stage::overChanged, this, &Picture::restageOver);
    connect(&view_, &ViewContext::overStale, this, [this] { restageOver(); });
    connect(&view_, &ViewContext::cameraMoved, this, &Picture::cameraMoved);
}

const QImage& Picture::image() {
    return stale_ ? draw() : image_;
}

void Picture::restageOver(bool moved) {
    shadowsChanged_ = shadowsChanged_ || moved;
    stale_ = true;
    view_.update();
}

void Picture::restage(bool sceneMoved) {
    stillKept_ = false;
    restageOver(sceneMoved);
}

void Picture::cameraMoved() {
    moving_ = true;
    rest_.start();
    restage(false);
}

std::vector<DrawnLight> Picture::lights() const {
    const model::Scene& scene = editor_.scene();
    const query::Frustum frustum = view_.camera.frustum(view_.viewport());
    std::vector<std::pair<double, DrawnLight>> all;
    for (Slot s : stage_.marked()) {
        const auto& detail = scene.detail(s);
        if (!detail || !detail->get<model::Light>() || !detail->get<model::Light>()->on || editor_.isHidden(s))
            continue;
        const model::Light& light = *detail->get<model::Light>();
        DrawnLight drawn;
        drawn.position = scene.world(s).translation;
        const base::Aabb reach{drawn.position - light.reachMetres, drawn.position + light.reachMetres};
        const double distance = glm::length(drawn.position - view_.camera.eye);
        if (distance > light.reachMetres * 12 || query::sideOf(frustum, reach) == query::Side::Outside) continue;
        drawn.colour = light.colour * (light.intensity * 0.05);
        drawn.reach = light.reachMetres;
        if (light.shape == model::Light::Shape::Spot) {
            drawn.direction = glm::normalize(scene.world(s).direction({0, 0, -1}));
            drawn.cosOuter = std::cos(base::radians(light.outerDegrees));
            drawn.cosInner = std::max(std::cos(base::radians(light.innerDegrees)), drawn.cosOuter + 1e-3);
        }
        all.emplace_back(distance, drawn);
    }
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    // By day a few are enough to see; in the dark they are what one sees by.
    const std::size_t most = editor_.looks().daylight >= render::Daylight::Dusk ? 7 : 4;
    std::vector<DrawnLight> nearest;
    if (const auto lamp = lampOnSelection()) nearest.push_back(*lamp);
    for (std::size_t i = 0; i < std::min<std::size_t>(all.size(), most); ++i) nearest.push_back(all[i].second);
    return nearest;
}

std::optional<DrawnLight> Picture::lampOnSelection() const {
    if (!editor_.looks().lamp || stage_.tinted().empty()) return std::nullopt;
    base::Aabb box;
    for (base::ObjectId id : editor_.selection())
        if (const Slot s = editor_.scene().find(id); s != kNoSlot) box.add(editor_.scene().subtreeBounds(s));
    if (box.empty()) return std::nullopt;
    const double radius = std::max(glm::length(box.size()) / 2, 0.5);
    DrawnLight lamp;
    lamp.position = box.centre() - view_.camera.sightTo(box.centre()) * (radius * 1.6) + base::Vec3(0, radius * 0.8, 0);
    lamp.reach = radius * 6;
    lamp.colour = base::Vec3(1.0, 0.94, 0.82) * (2.0 + radius * radius * 1.4);
    return lamp;
}

std::array<QColor, 3> Picture::sky(const Editor& editor) {
    const Theme& t = editor.theme();
    switch (editor.looks().daylight) {
        case render::Daylight::Day: return {QColor("#7fa3bd"), QColor("#c9d6d6"), QColor("#9aa89a")};
        case render::Daylight::Dusk: return {QColor("#3b3a54"), QColor("#c98a5c"), QColor("#4a4038")};
        case render::Daylight::Night: return {QColor("#10141f"), QColor("#1d2534"), QColor("#12151c")};
        case render::Daylight::AsSet: break;
    }
    return {t.viewTop, t.viewHorizon, t.viewBottom};
}

render::Detail Picture::detail() const {
    const double bias = moving_ ? bias_ : std::max(1.0, bias_ / 5);
    render::Detail detail;
    detail.mesh = std::min(detail.mesh * bias, 90.0);
    detail.box = std::min(detail.box * bias, 36.0);
    detail.point = std::min(detail.point * bias, 7.0);
    return detail;
}

// What is tinted, hovered, dragged or a ghost: drawn over a picture that may have been kept.
void Picture::collectOver(const render::Detail& detail) {
    const Theme& theme = editor_.theme();
    over_.clear();
    std::vector<Slot> slots;
    if (stage_.tinted().size() <= Stage::kMostOver) slots.assign(stage_.tinted().begin(), stage_.tinted().end());
    for (Slot s : stage_.lively())
        if (slots.empty() || !stage_.tinted().contains(s)) slots.push_back(s);
    const bool hovering = view_.lit() != kNoSlot && editor_.scene().alive(view_.lit());
    if (hovering && !stage_.tinted().contains(view_.lit()))
        for (Slot s : editor_.scene().subtree(view_.lit())) {
            if (slots.size() >= Stage::kMostOver) break;  // a group of very many lights up in part
            slots.push_back(s);
        }
    std::erase_if(slots, [&](Slot s) { return editor_.scene().alive(s) && editor_.isHidden(s); });
    auto tint = [&](Slot s) -> std::uint32_t {
        if (stage_.tinted().contains(s)) return pack(theme.honey, editor_.looks().paint == Paint::ByKind ? 120 : 46);
        return hovering && editor_.scene().isWithin(s, view_.lit()) ? pack(QColor(255, 255, 255), 26) : 0;
    };
    auto colour = [&](base::Name item) { return stage_.renderer().meanColour(item); };
    render::DrawCells::collectOnly(editor_.scene(), slots, view_.camera, view_.viewport(), detail, colour, tint,
                                   looksIn(stage_, editor_.looks().paint), over_);
    if (const auto& preview = editor_.scripts().preview())
        for (const Piece& piece : preview->ghosts)
            over_.meshes[piece.item].push_back(render::instanceOf(piece.pose, view_.camera.eye, pack(theme.moss, 175)));
    for (const Piece& piece : editor_.goOn().next())
        over_.meshes[piece.item].push_back(render::instanceOf(piece.pose, view_.camera.eye, pack(theme.faint, 150)));
    if (view_.ghost()) collectGhost(*view_.ghost());
    for (const Ghost& ghost : view_.moreGhosts()) collectGhost(ghost);
}

void Picture::collectGhost(const Ghost& ghost) {
    edit::Session& session = editor_.session();
    const model::Item* item = session.library().item(session.intern(ghost.item));
    if (item == nullptr) return;
    const base::Affine at = base::toAffine(ops::landing(*item, ghost.position, ghost.turn, ghost.size, ghost.mirrored));
    for (const Piece& piece : editor_.piecesOf(*item))
        over_.meshes[piece.item].push_back(
            render::instanceOf(at * piece.pose, view_.camera.eye, pack(editor_.theme().honey, 110)));
}

// What is not over it. `apart`: what is dragged is left out.
void Picture::collectAll(const render::Detail& fineness, bool apart) {
    const Looks& looks = editor_.looks();
    auto tint = [&](Slot s) -> std::uint32_t {
        if (stage_.tinted().size() > Stage::kMostOver && stage_.tinted().contains(s))
            return pack(editor_.theme().honey, 46);
        if (!editor_.isWithinEntered(s)) return pack(editor_.theme().window, 165);
        return looks.paint == Paint::ByKind ? pack(kindColour(editor_, editor_.scene().kind(s)), 205) : 0;
    };
    auto hidden = [&](Slot s) { return editor_.isHidden(s) || (apart && stage_.lively().contains(s)); };
    auto colour = [&](base::Name item) { return stage_.renderer().meanColour(item); };
    stage_.cells().collect(editor_.scene(), view_.camera, view_.viewport(), fineness, colour, tint, hidden,
                           looksIn(stage_, looks.paint), list_);
}

const QImage& Picture::draw() {
    QElapsedTimer clock;
    clock.start();
    const Looks& looks = editor_.looks();
    Frame frame;
    frame.pane = pane_;
    frame.paint = looks.paint;
    frame.sky = sky(editor_);
    frame.dots = editor_.theme().faint;
    frame.ink = editor_.theme().text;
    frame.lattice = !looks.clean && !editor_.rehearsal().isPlayed();
    frame.shadows = !view_.camera.isFlat() && looks.paint != Paint::Contrast && looks.paint != Paint::Wire;
    frame.camera = view_.camera;
    const double share = (moving_ ? resolution_ : 1.0) * view_.widget.devicePixelRatioF();
    frame.width = std::max(1, static_cast<int>(view_.widget.width() * share));
    frame.height = std::max(1, static_cast<int>(view_.widget.height() * share));
    // While something is dragged it is left out of the kept picture; in a pause all is drawn with its shadows.
    const bool apart = !stage_.lively().empty() && !moving_ && !stage_.paused();
    if (!moving_ && (apart || stage_.lively().empty())) frame.reuse = stillKept_ ? Reuse::Still : Reuse::Keep;
    const render::Detail fineness = detail();
    if (frame.reuse != Reuse::Still) collectAll(fineness, apart);
    collectOver(fineness);
    if (looks.paint == Paint::Collision) {
        const model::Library& library = editor_.session().library();
        const auto bodyOf = [&](base::Name item) { return stage_.bodyOf(item); };
        if (frame.reuse != Reuse::Still) render::showCollision(list_, library, bodyOf);
        render::showCollision(over_, library, bodyOf);
    }
    frame.list = &list_;
    frame.over = &over_;
    frame.settings = render::litBy(editor_.litSettings(), looks.daylight);
    if (!moving_ && frame.shadows)
        frame.lights = lights();  // the dearest part of a pixel: put in when the camera rests
    const double distance = view_.focusDistance();
    frame.focus = view_.camera.eye + view_.camera.forward() * distance;
    frame.focusRadius = std::clamp(distance * 1.3, 12.0, 160.0);
    frame.shadowsChanged = shadowsChanged_;
    frame.keepShadows = moving_;
    image_ = stage_.renderer().draw(frame);
    stale_ = false;
    stillKept_ = frame.reuse != Reuse::Nothing;
    shadowsChanged_ = shadowsChanged_ && (moving_ || apart);
    lastMs_ = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    if (moving_) adapt();
    return image_;
}

// Too slow: fewer pixels first, then coarser detail. Fast enough: the other way round.
void Picture::adapt() {
    if (lastMs_ > kAimMs) {
        if (resolution_ > 0.5)
            resolution_ = std::max(0.5, resolution_ * 0.85);
        else
            bias_ = std::min(bias_ * 1.4, 14.0);
    } else if (lastMs_ < kAimMs * 0.6) {
        if (bias_ > 1.0)
            bias_ = std::max(1.0, bias_ / 1.15);
        else
            resolution_ = std::min(1.0, resolution_ * 1.08);
    }
}

}  // namespace app
