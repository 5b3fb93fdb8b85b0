// Mouse and keys in the view.
#include <QApplication>
#include <QDragEnterEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/view/view_widget.h"
#include "base/text.h"
#include "query/frustum.h"

namespace app {

using model::kNoSlot;
using model::Slot;
using render::SlidePart;

namespace {

base::Vec2 toVec(const QPointF& p) {
    return {p.x(), p.y()};
}
constexpr double kDragStart = 4;  // pixels before a press becomes a drag

bool isFlyKey(int key) {
    return key == Qt::Key_W || key == Qt::Key_A || key == Qt::Key_S || key == Qt::Key_D || key == Qt::Key_R ||
           key == Qt::Key_F;
}

}  // namespace

void ViewWidget::resizeEvent(QResizeEvent*) {
    restage(false);
}

void ViewWidget::mousePressEvent(QMouseEvent* event) {
    setFocus();
    pointer_ = pressedAt_ = event->position();
    if (!editor_.isOpen()) return;
    if (event->button() == Qt::LeftButton) return press(event);
    if (event->button() == Qt::MiddleButton) {
        const bool pan = (event->modifiers() & Qt::ShiftModifier) != 0;
        mouse_ = pan ? Mouse::Pan : Mouse::Orbit;
        const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pointer_), viewport()), false);
        pivot_ = hit ? hit->point
                     : camera_.eye + camera_.rayThrough(toVec(pointer_), viewport()).direction * focusDistance();
    }
    if (event->button() == Qt::RightButton) {
        mouse_ = Mouse::Look;
        flyKeys_.clear();
        flyClock_.start();
        flyTimer_.start();
    }
    updateHint();
}

void ViewWidget::press(QMouseEvent* event) {
    if (!editor_.placing().empty()) {
        if (const auto place = landingUnder(pointer_)) editor_.placeAt(editor_.placing(), *place);
        return;
    }
    const auto h = handle();
    const SlidePart part = h ? h->hit(toVec(pointer_), camera_, viewport()) : SlidePart::None;
    if (part == SlidePart::None) {
        pressed_ = true;
        return;
    }
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                           "Move " + ops::describe(editor_.scene(), mover->ids()));
    if (!editor_.report(draft_->state())) {
        draft_.reset();
        return;
    }
    dragHandle_ = *h;
    dragOffset_ = base::Vec3(0.0);
    mover_ = std::move(*mover);
    startLively();
    drag_ = std::make_unique<render::SlideDrag>(*h, part, camera_.rayThrough(toVec(pointer_), viewport()), camera_);
    updateHint();
    Q_UNUSED(event);
}

void ViewWidget::mouseMoveEvent(QMouseEvent* event) {
    const QPointF before = pointer_;
    pointer_ = event->position();
    if (!editor_.isOpen()) return;
    const QPointF d = pointer_ - before;
    if (mouse_ == Mouse::Orbit) {
        camera_.orbit(pivot_, -d.x() * 0.3, -d.y() * 0.3);
        return cameraMoved();
    }
    if (mouse_ == Mouse::Pan) {
        camera_.pan({d.x(), d.y()}, viewDepthOf(pivot_), viewport());
        return cameraMoved();
    }
    if (mouse_ == Mouse::Look) {
        camera_.look(-d.x() * 0.2, -d.y() * 0.2);
        return cameraMoved();
    }
    if (drag_) return dragHandle(pointer_, event->modifiers());
    if (pressed_ && !boxFrom_ &&
        std::hypot(pointer_.x() - pressedAt_.x(), pointer_.y() - pressedAt_.y()) > kDragStart) {
        boxFrom_ = pressedAt_;
        updateHint();
    }
    if (boxFrom_) return update();
    hover(pointer_);
}

void ViewWidget::mouseReleaseEvent(QMouseEvent* event) {
    pointer_ = event->position();
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        mouse_ = Mouse::Idle;
        flyTimer_.stop();
        flyKeys_.clear();
        updateHint();
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    if (drag_) return finishHandle();
    if (boxFrom_)
        finishBox(pointer_, event->modifiers());
    else if (pressed_)
        click(pointer_, event->modifiers());
    pressed_ = false;
    boxFrom_.reset();
    updateHint();
    update();
}

void ViewWidget::mouseDoubleClickEvent(QMouseEvent* event) {
    mousePressEvent(event);
}

void ViewWidget::wheelEvent(QWheelEvent* event) {
    if (!editor_.isOpen()) return;
    const double notches = event->angleDelta().y() / 120.0;
    if (mouse_ == Mouse::Look) {
        flySpeed_ = std::clamp(flySpeed_ * std::pow(1.25, notches), 0.2, 400.0);
        editor_.setHint(tr("Fly at %1 m/s").arg(QString::fromStdString(base::fixed(flySpeed_, 1))));
        return;
    }
    const base::Ray ray = camera_.rayThrough(toVec(event->position()), viewport());
    base::Vec3 target = ray.at(focusDistance());
    if (const auto hit = editor_.surfaceUnder(ray, false)) target = hit->point;
    camera_.zoomTowards(target, notches > 0 ? 1 - std::pow(0.85, notches) : -(std::pow(1.18, -notches) - 1));
    cameraMoved();
}

void ViewWidget::leaveEvent(QEvent*) {
    hoveredPart_ = SlidePart::None;
    update();
    if (mouse_ == Mouse::Idle && !isDragging()) updateHint();
    if (!editor_.placing().empty()) setGhost(std::nullopt);
    if (hovered_ != kNoSlot) {
        hovered_ = kNoSlot;
        restageOver();
    }
    editor_.setCursorPlace({});
}

Slot ViewWidget::objectUnder(const QPointF& pixel) const {
    Slot best = kNoSlot;
    double nearest = 9;
    for (const Mark& mark : visibleMarks()) {
        const double d = std::hypot(mark.at.x() - pixel.x(), mark.at.y() - pixel.y());
        if (d < nearest && !editor_.scene().protectedInTree(mark.slot)) {
            nearest = d;
            best = mark.slot;
        }
    }
    if (best != kNoSlot) return best;
    // Protected things cannot be picked, but what lies behind them is not reached through them either.
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pixel), viewport()), false);
    if (!hit || editor_.scene().protectedInTree(hit->slot)) return kNoSlot;
    return hit->slot;
}

void ViewWidget::hover(const QPointF& pixel) {
    if (const auto place = landingUnder(pixel)) {
        auto text = [](double v) { return QString::fromStdString(base::fixed(v, 2)); };
        editor_.setCursorPlace(QString("X %1  Y %2  Z %3 m").arg(text(place->x), text(place->y), text(place->z)));
        if (!editor_.placing().empty()) setGhost(Ghost{editor_.placing(), *place});
    } else {
        editor_.setCursorPlace({});
        if (!editor_.placing().empty()) setGhost(std::nullopt);
    }
    if (!editor_.placing().empty()) return;
    const auto h = handle();
    const SlidePart part = h ? h->hit(toVec(pixel), camera_, viewport()) : SlidePart::None;
    if (part != hoveredPart_) {
        hoveredPart_ = part;
        update();
        updateHint();
    }
    const Slot slot = part == SlidePart::None ? objectUnder(pixel) : kNoSlot;
    if (slot == hovered_) return;
    hovered_ = slot;
    restageOver();
}

void ViewWidget::click(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const Slot slot = objectUnder(pixel);
    std::vector<base::ObjectId> ids = editor_.selection();
    const bool add = (modifiers & Qt::ShiftModifier) != 0, take = (modifiers & Qt::ControlModifier) != 0;
    if (slot == kNoSlot) {
        if (!add && !take) editor_.select({});
        return;
    }
    const base::ObjectId id = editor_.scene().id(slot);
    auto place = std::find(ids.begin(), ids.end(), id);
    if (take) {
        if (place != ids.end()) ids.erase(place);
    } else if (add) {
        if (place == ids.end()) ids.push_back(id);
    } else {
        ids = {id};
    }
    editor_.select(std::move(ids));
}

void ViewWidget::finishBox(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const query::Frustum frustum = camera_.frustum(viewport(), toVec(*boxFrom_), toVec(pixel));
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> inside;
    for (Slot s : scene.subtree(kNoSlot)) {
        if (editor_.isHidden(s) || scene.protectedInTree(s)) continue;
        const query::Side side = query::sideOf(frustum, scene.bounds(s));
        bool in = side == query::Side::Inside;
        if (side == query::Side::Crossing)
            if (const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(s)))
                in = query::touches(frustum, *mesh, scene.world(s));
        if (in) inside.push_back(scene.id(s));
    }
    const QRectF box = QRectF(*boxFrom_, pixel).normalized();
    for (const Mark& mark : visibleMarks())
        if (box.contains(mark.at) && !scene.protectedInTree(mark.slot)) inside.push_back(scene.id(mark.slot));
    std::vector<base::ObjectId> ids;
    std::set<base::ObjectId> named(inside.begin(), inside.end());
    const bool take = (modifiers & Qt::ControlModifier) != 0;
    if (take || (modifiers & Qt::ShiftModifier) != 0)
        for (base::ObjectId id : editor_.selection())
            if (!named.contains(id)) ids.push_back(id);
    if (!take)
        for (base::ObjectId id : inside)
            if (named.erase(id) > 0) ids.push_back(id);
    editor_.select(std::move(ids));
}

void ViewWidget::dragHandle(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const double fine = (modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
    const base::Vec3 raw = drag_->offset(camera_.rayThrough(toVec(pixel), viewport()));
    dragOffset_ = render::snapOffset(dragHandle_, drag_->part(), raw, editor_.activeStep() * fine);
    editor_.report(mover_->moveBy(*draft_, dragOffset_));
    update();
}

void ViewWidget::finishHandle() {
    auto step = draft_->commit();
    if (!step) editor_.report(tl::unexpected(step.error()));
    drag_.reset();
    mover_.reset();
    draft_.reset();
    endLively();
    updateHint();
    update();
}

bool ViewWidget::cancel() {
    const bool doing = drag_ || boxFrom_ || ghost_;
    drag_.reset();
    mover_.reset();
    draft_.reset();  // gives every byte back
    endLively();
    boxFrom_.reset();
    pressed_ = false;
    setGhost(std::nullopt);
    updateHint();
    update();
    return doing;
}

// Letters fly while the right button is held, whatever they are short for otherwise.
bool ViewWidget::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if ((mouse_ == Mouse::Look && isFlyKey(key)) || (key == Qt::Key_Escape && isDragging())) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void ViewWidget::keyPressEvent(QKeyEvent* event) {
    const int key = event->key();
    if (mouse_ == Mouse::Look && isFlyKey(key)) {
        flyKeys_.insert(key);
        return;
    }
    if (key == Qt::Key_Escape && cancel()) return;
    for (int arrow : {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down, Qt::Key_PageUp, Qt::Key_PageDown})
        if (key == arrow) return nudge(static_cast<Qt::Key>(key), event->modifiers());
    QWidget::keyPressEvent(event);
}

void ViewWidget::keyReleaseEvent(QKeyEvent* event) {
    if (!event->isAutoRepeat()) flyKeys_.erase(event->key());
    QWidget::keyReleaseEvent(event);
}

void ViewWidget::focusOutEvent(QFocusEvent*) {
    flyKeys_.clear();
}

void ViewWidget::fly() {
    const double seconds = std::min(static_cast<double>(flyClock_.restart()) / 1000.0, 0.1);
    if (flyKeys_.empty()) return;
    base::Vec3 way(0.0);
    if (flyKeys_.contains(Qt::Key_W)) way += camera_.forward();
    if (flyKeys_.contains(Qt::Key_S)) way -= camera_.forward();
    if (flyKeys_.contains(Qt::Key_D)) way += camera_.right();
    if (flyKeys_.contains(Qt::Key_A)) way -= camera_.right();
    if (flyKeys_.contains(Qt::Key_R)) way += base::Vec3(0, 1, 0);
    if (flyKeys_.contains(Qt::Key_F)) way -= base::Vec3(0, 1, 0);
    if (glm::length(way) < 1e-9) return;
    const auto modifiers = QApplication::queryKeyboardModifiers();
    const double speed = flySpeed_ * ((modifiers & Qt::ShiftModifier) != 0 ? 4.0 : 1.0) *
                         ((modifiers & Qt::ControlModifier) != 0 ? 0.25 : 1.0);
    camera_.eye += glm::normalize(way) * (speed * seconds);
    cameraMoved();
}

void ViewWidget::nudge(Qt::Key key, Qt::KeyboardModifiers modifiers) {
    if (!editor_.isOpen() || editor_.selection().empty()) return;
    double step = editor_.stepMetres();
    if ((modifiers & Qt::ShiftModifier) != 0) step /= 10;
    if ((modifiers & Qt::ControlModifier) != 0) step *= 4;
    base::Vec3 way(0, 1, 0);
    if (key == Qt::Key_PageDown) way = -way;
    if (key != Qt::Key_PageUp && key != Qt::Key_PageDown) {
        base::Vec3 towards = key == Qt::Key_Left || key == Qt::Key_Right
                                 ? camera_.right()
                                 : glm::normalize(base::Vec3(camera_.forward().x, 0, camera_.forward().z));
        if (key == Qt::Key_Left || key == Qt::Key_Down) towards = -towards;
        way = std::abs(towards.x) >= std::abs(towards.z) ? base::Vec3(towards.x > 0 ? 1 : -1, 0, 0)
                                                         : base::Vec3(0, 0, towards.z > 0 ? 1 : -1);
    }
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    editor_.run("Move " + ops::describe(editor_.scene(), mover->ids()),
                [&](edit::Draft& draft) { return mover->moveBy(draft, way * step); });
}

void ViewWidget::setGhost(std::optional<Ghost> ghost) {
    if (!ghost && !ghost_) return;
    ghost_ = std::move(ghost);
    restageOver();
}

void ViewWidget::dragEnterEvent(QDragEnterEvent* event) {
    if (editor_.isOpen() && event->mimeData()->hasFormat(kItemMime)) event->acceptProposedAction();
}

void ViewWidget::dragMoveEvent(QDragMoveEvent* event) {
    const std::string item = event->mimeData()->data(kItemMime).toStdString();
    const auto place = landingUnder(event->position());
    setGhost(place ? std::optional(Ghost{item, *place}) : std::nullopt);
    event->setAccepted(place.has_value());
    editor_.setHint(place ? tr("Let go: place it here · Esc: do not") : tr("Nothing to stand on here"));
}

void ViewWidget::dragLeaveEvent(QDragLeaveEvent*) {
    setGhost(std::nullopt);
    updateHint();
}

void ViewWidget::dropEvent(QDropEvent* event) {
    const std::string item = event->mimeData()->data(kItemMime).toStdString();
    setGhost(std::nullopt);
    if (const auto place = landingUnder(event->position())) {
        editor_.placeAt(item, *place);
        event->acceptProposedAction();
    }
    setFocus();
    updateHint();
}

void ViewWidget::updateHint() {
    if (!editor_.isOpen()) return;
    if (drag_) return editor_.setHint(tr("Drag: move · Shift: fine · Esc: take back"));
    if (boxFrom_)
        return editor_.setHint(tr("Drag: select what the box touches · Shift: add · Ctrl: take away · Esc: do not"));
    if (mouse_ == Mouse::Look)
        return editor_.setHint(
            tr("Look round · W A S D: fly · R F: up and down · wheel: speed · Shift faster, Ctrl slower"));
    if (mouse_ == Mouse::Orbit) return editor_.setHint(tr("Orbit about the point under the pointer"));
    if (mouse_ == Mouse::Pan) return editor_.setHint(tr("Slide the view"));
    if (!editor_.placing().empty()) {
        const model::Item* item = editor_.session().library().item(editor_.session().intern(editor_.placing()));
        return editor_.setHint(tr("Click: place %1, again and again · Esc: done")
                                   .arg(item != nullptr ? QString::fromStdString(item->label) : QString()));
    }
    if (hoveredPart_ != SlidePart::None) return editor_.setHint(tr("Drag: slide the selection · Shift: fine"));
    if (!editor_.selection().empty())
        return editor_.setHint(
            tr("Arrows, Page Up/Down: move by a step · Shift+click: add · Ctrl+click: take away · Q: bring into view"));
    editor_.setHint(
        tr("Click or drag a box: select · middle drag: orbit, with Shift: slide · wheel: zoom · right drag: look and "
           "fly"));
}

}  // namespace app
