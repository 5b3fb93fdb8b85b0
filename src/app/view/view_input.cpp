// Mouse and keys in the view.
#include <QApplication>
#include <QDragEnterEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr double kDragStart = 4;  // pixels before a press becomes a drag

bool isFlyKey(int key) {
    return key == Qt::Key_W || key == Qt::Key_A || key == Qt::Key_S || key == Qt::Key_D || key == Qt::Key_R ||
           key == Qt::Key_F;
}

/// Held in a drag: what to catch on, nothing, and off the steps.
bool isDragKey(int key) {
    return (key >= Qt::Key_0 && key <= Qt::Key_4) || key == Qt::Key_6 || key == Qt::Key_G || key == Qt::Key_C;
}

}  // namespace

void ViewWidget::resizeEvent(QResizeEvent*) {
    refreshCaption();
    restage(false);
}

void ViewWidget::mousePressEvent(QMouseEvent* event) {
    setFocus();
    Q_EMIT activated();
    pointer_ = pressedAt_ = event->position();
    if (!editor_.isOpen()) return;
    forgetFlush();
    if (event->button() == Qt::LeftButton) return press(event);
    if (event->button() == Qt::MiddleButton) {
        const bool pan = (event->modifiers() & Qt::ShiftModifier) != 0 || camera_.isFlat();
        mouse_ = pan ? Mouse::Pan : Mouse::Orbit;
        const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pointer_), viewport()), false);
        pivot_ = hit ? hit->point : camera_.rayThrough(toVec(pointer_), viewport()).at(focusDistance());
    }
    if (event->button() == Qt::RightButton) {
        mouse_ = camera_.isFlat() ? Mouse::Pan : Mouse::Look;
        pivot_ = camera_.eye;
        if (walk_ || camera_.isFlat()) return updateHint();
        flyKeys_.clear();
        flyClock_.start();
        flyTimer_.start();
    }
    updateHint();
}

void ViewWidget::press(QMouseEvent* event) {
    // An amount was being typed for a drag whose button is up already: a press elsewhere takes it back.
    const bool held = drag_ || carry_ || sweeping_ || arrayPull_ || facetPull_;  // its release came elsewhere
    if (held || (amountField_ != nullptr && amountField_->isVisible())) {
        cancel();
        return;
    }
    if (!editor_.placing().empty()) {
        if (const auto place = landingUnder(pointer_)) editor_.placeAt(editor_.placing(), *place);
        return;
    }
    if (editor_.asksObject()) {
        if (const Slot s = linkTargetUnder(pointer_); s != kNoSlot) editor_.giveObject(s);
        return;
    }
    if (editor_.asksPoint()) {
        caught_ = catchUnder(pointer_);
        if (const auto at = measurePoint(pointer_)) editor_.givePoint(*at);
        return;
    }
    if (editor_.tool() == Tool::Measure) return addMeasurePoint(pointer_);
    if (editor_.tool() == Tool::Broom) {
        hoverBroom(pointer_);
        return startSweep();
    }
    if (editor_.tool() == Tool::Zone) return placeZoneCorner(pointer_);
    if (editor_.tool() == Tool::Points) {
        if (const auto grip = facetGripUnder(pointer_)) return startFacetPull(*grip);
        return placePoint(pointer_);
    }
    if (editor_.tool() == Tool::Solid) {
        if (drawing_ && drawing_->rising) return finishDrawing();
        if (!drawing_ && startDrawing(pointer_)) updateHint();
        return;
    }
    const auto h = handle();
    const render::HandlePart part = h ? h->hit(toVec(pointer_), camera_, viewport()) : render::HandlePart{};
    pulls_ = event->modifiers() == Qt::ControlModifier;
    if (const auto pulled = arrayGripUnder(pointer_); pulled && !pulls_) return startArrayPull(*pulled);
    if (const auto grip = facetGripUnder(pointer_); grip && !pulls_ && (!part || !grip->isPoint()))
        return startFacetPull(*grip);
    if (const auto grip = gripUnder(pointer_); grip && !pulls_ && part.which != render::kAll)
        startGrip(*grip);
    else if (part) {
        dragged_ = false;
        startHandle(*h, part);
    } else
        pressed_ = true;
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
    if (drag_) {
        dragged_ = dragged_ || std::hypot(pointer_.x() - pressedAt_.x(), pointer_.y() - pressedAt_.y()) > kDragStart;
        if (amountField_ == nullptr || !amountField_->isVisible()) dragHandle(pointer_, event->modifiers());
        return;
    }
    if (carry_) return dragCarry(pointer_, event->modifiers());
    if (drawing_) return moveDrawing(pointer_, event->modifiers());
    if (arrayPull_) return moveArrayPull(pointer_, event->modifiers());
    if (facetPull_) return moveFacetPull(pointer_, event->modifiers());
    if (editor_.tool() == Tool::Broom && mouse_ == Mouse::Idle) return hoverBroom(pointer_);
    if (pressed_ && !boxFrom_ &&
        std::hypot(pointer_.x() - pressedAt_.x(), pointer_.y() - pressedAt_.y()) > kDragStart) {
        // What is selected is picked up; from anywhere else a box is drawn.
        const Slot under = event->modifiers() == Qt::NoModifier || pulls_ ? objectUnder(pressedAt_) : kNoSlot;
        pressed_ = false;
        if (under != kNoSlot && stage_.tinted().contains(under)) {
            if (startCarry()) dragCarry(pointer_, event->modifiers());
            return;
        }
        boxFrom_ = pressedAt_;
        lasso_ = {pressedAt_};
        updateHint();
    }
    if (boxFrom_) {
        const bool far =
            lasso_.isEmpty() || std::hypot(pointer_.x() - lasso_.last().x(), pointer_.y() - lasso_.last().y()) > 3;
        if (far) lasso_ << pointer_;
        return update();
    }
    hover(pointer_);
}

void ViewWidget::mouseReleaseEvent(QMouseEvent* event) {
    pointer_ = event->position();
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        mouse_ = Mouse::Idle;
        if (!walk_) {
            flyTimer_.stop();
            flyKeys_.clear();
        }
        updateHint();
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    if (drag_) {
        // With a key held and not moved it was meant for what lies behind the handle.
        if (!dragged_ && event->modifiers() != Qt::NoModifier) {
            cancel();
            return click(pointer_, event->modifiers());
        }
        if (amountField_ == nullptr || !amountField_->isVisible()) finishHandle();
        return;
    }
    if (carry_) return finishHandle();
    if (sweeping_) return finishSweep();
    if (arrayPull_) return finishArrayPull();
    if (facetPull_) return finishFacetPull();
    if (drawing_) {
        if (!drawing_->rising) releaseDrawing(pointer_);
        return;
    }
    if (boxFrom_)
        finishShape(event->modifiers());
    else if (pressed_)
        click(pointer_, event->modifiers());
    pressed_ = false;
    boxFrom_.reset();
    updateHint();
    update();
}

void ViewWidget::mouseDoubleClickEvent(QMouseEvent* event) {
    const bool plain = editor_.isOpen() && event->button() == Qt::LeftButton && editor_.placing().empty() &&
                       editor_.tool() != Tool::Measure && editor_.tool() != Tool::Solid &&
                       editor_.tool() != Tool::Broom && editor_.tool() != Tool::Points &&
                       editor_.tool() != Tool::Zone && !drag_ && !carry_;
    if (!plain || (handle() && handle()->hit(toVec(event->position()), camera_, viewport())))
        return mousePressEvent(event);
    pressed_ = false;
    openAt(event->position());
}

/// Into a group, out of it when it was beside it, or to the properties of a single object.
void ViewWidget::openAt(const QPointF& pixel) {
    const Slot under = objectUnder(pixel);
    if (under == kNoSlot) {
        if (editor_.entered()) editor_.leave();
        return;
    }
    const Slot whole = editor_.wholeOf(under);
    if (whole == under) return Q_EMIT editor_.propertiesWanted();
    editor_.enter(editor_.scene().id(whole));
    editor_.select({editor_.scene().id(editor_.wholeOf(under))});
}

void ViewWidget::wheelEvent(QWheelEvent* event) {
    if (!editor_.isOpen()) return;
    const double notches = (event->angleDelta().y() != 0 ? event->angleDelta().y() : event->angleDelta().x()) / 120.0;
    Q_EMIT activated();
    if (carry_) return wheelCarry(notches, event->modifiers());
    if (editor_.tool() == Tool::Broom && (event->modifiers() & Qt::ControlModifier) == 0)
        return wheelBroom(notches, event->modifiers());
    if (mouse_ == Mouse::Look) {
        flySpeed_ = std::clamp(flySpeed_ * std::pow(1.25, notches), 0.2, 400.0);
        editor_.setHint(tr("Fly at %1 m/s").arg(fixed(flySpeed_, 1)));
        return;
    }
    const base::Ray ray = camera_.rayThrough(toVec(event->position()), viewport());
    base::Vec3 target = ray.at(focusDistance());
    if (const auto hit = editor_.surfaceUnder(ray, false)) target = hit->point;
    camera_.zoomTowards(target, notches > 0 ? 1 - std::pow(0.85, notches) : -(std::pow(1.18, -notches) - 1));
    cameraMoved();
}

void ViewWidget::enterEvent(QEnterEvent* event) {
    if (mouse_ == Mouse::Idle && !isDragging()) pointer_ = event->position();
}

void ViewWidget::leaveEvent(QEvent*) {
    hoveredPart_ = {};
    update();
    if (mouse_ == Mouse::Idle && !isDragging()) updateHint();
    if (!editor_.placing().empty()) setGhost(std::nullopt);
    if (hovered_ != kNoSlot) {
        hovered_ = kNoSlot;
        restageOver();
    }
    editor_.setCursorPlace({});
}

/// Keys that hold something to catch on mean that now.
bool ViewWidget::catches() const {
    return drag_ || carry_ || editor_.tool() == Tool::Measure || editor_.tool() == Tool::Solid || editor_.asksPoint() ||
           editor_.tool() == Tool::Points || editor_.tool() == Tool::Zone || facetPull_;
}

Slot ViewWidget::pointedObject() const {
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pointer_), viewport()), false);
    return hit && underMouse() ? hit->slot : editor_.scene().find(lastPointed_);
}

bool ViewWidget::groupSelected() const {
    const Slot slot = editor_.selection().size() == 1 ? editor_.scene().find(editor_.selection().front()) : kNoSlot;
    return slot != kNoSlot && editor_.isWhole(slot);
}

Slot ViewWidget::objectUnder(const QPointF& pixel) const {
    Slot best = kNoSlot;
    double nearest = 9;
    for (const Mark& mark : visibleMarks()) {
        const double d = std::hypot(mark.at.x() - pixel.x(), mark.at.y() - pixel.y());
        if (d < nearest && editor_.isPickable(mark.slot)) {
            nearest = d;
            best = mark.slot;
        }
    }
    if (best != kNoSlot) return best;
    // Protected things cannot be picked, but what lies behind them is not reached through them either.
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pixel), viewport()), false);
    if (!hit || !editor_.isPickable(hit->slot)) return kNoSlot;
    return hit->slot;
}

void ViewWidget::hover(const QPointF& pixel) {
    if (const auto place = landingUnder(pixel)) {
        auto text = [](double v) { return fixed(v, 2); };
        editor_.setCursorPlace(QString("X %1  Y %2  Z %3 m").arg(text(place->x), text(place->y), text(place->z)));
        if (!editor_.placing().empty()) setGhost(Ghost{editor_.placing(), *place});
    } else {
        editor_.setCursorPlace({});
        if (!editor_.placing().empty()) setGhost(std::nullopt);
    }
    if (!editor_.placing().empty()) return;
    if (editor_.asksObject()) return hoverLink(pixel);
    if (editor_.tool() == Tool::Measure || editor_.asksPoint()) return measureHover(pixel);
    const auto h = handle();
    render::HandlePart part = h ? h->hit(toVec(pixel), camera_, viewport()) : render::HandlePart{};
    const auto side = part.which == render::kAll && part ? std::nullopt : gripUnder(pixel);
    auto facet = facetGripUnder(pixel);
    if (part && facet && facet->isPoint()) facet.reset();  // a point yields to the handle, a zone’s side does not
    if (facet != hoveredFacet_) {
        hoveredFacet_ = facet;
        update();
        updateHint();
    }
    if (!zoneCorners_.empty()) update();
    const auto array = arrayGripUnder(pixel);
    if (array != hoveredArrayGrip_) {
        hoveredArrayGrip_ = array;
        update();
        updateHint();
    }
    if (side != hoveredGrip_) {
        hoveredGrip_ = side;
        update();
        updateHint();
    }
    if (facet) part = {};
    if (part != hoveredPart_) {
        hoveredPart_ = part;
        update();
        updateHint();
    }
    Slot slot = part || side || array || facet ? kNoSlot : objectUnder(pixel);
    if (slot != kNoSlot) lastPointed_ = editor_.scene().id(slot);
    if (slot != kNoSlot) slot = editor_.wholeOf(slot);
    if (slot == hovered_) return;
    hovered_ = slot;
    restageOver();
}

void ViewWidget::enterSelected() {
    const Slot slot = editor_.selection().size() == 1 ? editor_.scene().find(editor_.selection().front()) : kNoSlot;
    if (slot == kNoSlot) return editor_.say(tr("Select one group to go into it."));
    if (editor_.scene().firstChild(slot) == kNoSlot) return Q_EMIT editor_.propertiesWanted();
    editor_.enter(editor_.scene().id(slot));
    editor_.select({});
}

bool ViewWidget::cancel() {
    if (walk_ && !drag_ && !carry_ && !boxFrom_ && (amountField_ == nullptr || !amountField_->isVisible())) {
        toggleWalk();
        return true;
    }
    const bool measured = editor_.tool() == Tool::Measure && !measure_.points.empty();
    if (measured) clearMeasure();
    // An empty hand: the tool is put away.
    const bool drawsFacets = editor_.tool() == Tool::Points || editor_.tool() == Tool::Zone;
    const bool corners = !zoneCorners_.empty();
    if (corners) zoneCorners_.pop_back();  // the last corner; the tool stays
    const bool tool = (editor_.tool() == Tool::Solid || editor_.tool() == Tool::Broom || drawsFacets) && !drawing_ &&
                      !sweeping_ && !facetPull_ && !corners;
    if (tool) editor_.setTool(Tool::Slide);
    const bool asked = editor_.asksObject() || editor_.asksPoint();
    if (editor_.asksObject()) editor_.askObject({}, {});
    if (editor_.asksPoint()) editor_.askPoint({});
    const bool doing = asked || measured || tool || corners || drawing_ || sweeping_ || arrayPull_ || facetPull_ ||
                       drag_ || carry_ || boxFrom_ || ghost_ || (amountField_ != nullptr && amountField_->isVisible());
    if (amountField_ != nullptr) amountField_->hide();
    drag_.reset();
    grip_.reset();
    follows_.reset();
    carry_.reset();
    caught_.reset();
    flush_.clear();
    mover_.reset();
    draft_.reset();  // gives every byte back
    drawing_.reset();
    sweeping_.reset();
    arrayPull_.reset();
    facetPull_.reset();
    if (pulledFrom_) editor_.select(std::exchange(pulledFrom_, std::nullopt)->first);
    stage_.endLively();
    boxFrom_.reset();
    pressed_ = false;
    setGhost(std::nullopt);
    updateHint();
    update();
    return doing;
}

// Enter and Esc in the field are for what is typed, and not for the view below it.
bool ViewWidget::eventFilter(QObject* watched, QEvent* event) {
    if (watched != amountField_ || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (enter) acceptTyped();
    if (key == Qt::Key_Escape) cancel();
    return enter || key == Qt::Key_Escape;
}

// Letters fly while the right button is held, whatever they are short for otherwise.
bool ViewWidget::event(QEvent* event) {
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Tab && editor_.isOpen() &&
        (drawing_ || !editor_.selection().empty())) {
        keyPressEvent(static_cast<QKeyEvent*>(event));  // else Qt would move the focus on
        return true;
    }
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (((mouse_ == Mouse::Look || walk_) && isFlyKey(key)) || (catches() && isDragKey(key)) ||
            ((isDragging() || editor_.asksObject() || editor_.asksPoint()) && key == Qt::Key_Escape)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void ViewWidget::keyPressEvent(QKeyEvent* event) {
    const int key = event->key();
    forgetFlush();
    if ((mouse_ == Mouse::Look || walk_) && isFlyKey(key)) {
        flyKeys_.insert(key);
        return;
    }
    if (key == Qt::Key_Escape && cancel()) return;
    const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (enter && zoneCorners_.size() >= 3) return finishZone();
    if (enter && editor_.isOpen() && !isDragging()) return enterSelected();
    if (catches() && isDragKey(key)) {
        if (heldKeys_.insert(key).second) dragAgain();
        return;
    }
    if (key == Qt::Key_Tab && (drawing_ || !editor_.selection().empty())) return typeAmount();
    for (int arrow : {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down, Qt::Key_PageUp, Qt::Key_PageDown})
        if (key == arrow) return nudge(static_cast<Qt::Key>(key), event->modifiers());
    QWidget::keyPressEvent(event);
}

void ViewWidget::keyReleaseEvent(QKeyEvent* event) {
    if (!event->isAutoRepeat()) {
        flyKeys_.erase(event->key());
        if (heldKeys_.erase(event->key()) > 0) dragAgain();
    }
    QWidget::keyReleaseEvent(event);
}

void ViewWidget::focusOutEvent(QFocusEvent*) {
    flyKeys_.clear();
    heldKeys_.clear();
}

void ViewWidget::fly() {
    const double seconds = std::min(static_cast<double>(flyClock_.restart()) / 1000.0, 0.1);
    if (walk_) return walkOn(seconds);
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

void ViewWidget::setGhost(std::optional<Ghost> ghost) {
    if (!ghost && !ghost_) return;
    ghost_ = std::move(ghost);
    restageOver();
}

void ViewWidget::updateHint() {
    if (!editor_.isOpen()) return;
    if (drag_)
        return editor_.setHint(
            drag_->part().task == render::Task::Turn
                ? tr("Drag: turn · Shift: fine · Tab: type the angle · Esc: let go")
            : drag_->part().task == render::Task::Fit
                ? tr("Drag: size · Shift: fine · Tab: type the factor · Esc: let go")
                : tr("Drag: move · Shift: fine · hold 1 corner, 2 edge, 3 face, 4 centre, 6 end, C line: catch · "
                     "G: no steps · Tab: type · Esc: let go"));
    if (carry_)
        return editor_.setHint(tr(
            "Carry: it stays on what is below it · wheel: turn · Shift+wheel: raise · hold 1 2 3 4 6: catch · G: off "
            "the steps · Esc: let "
            "go"));
    if (boxFrom_)
        return editor_.setHint((editor_.selecting().whole ? tr("Drag: select what is wholly inside")
                                                          : tr("Drag: select what it touches")) +
                               tr(" · Shift: add · Ctrl: take away · Esc: do not"));
    if (walk_) return editor_.setHint(tr("Walk: W A S D · right drag: look round · Shift: run · Esc: back"));
    if (mouse_ == Mouse::Look)
        return editor_.setHint(
            tr("Look round · W A S D: fly · R F: up and down · wheel: speed · Shift faster, Ctrl slower"));
    if (mouse_ == Mouse::Orbit) return editor_.setHint(tr("Orbit about the point under the pointer"));
    if (mouse_ == Mouse::Pan) return editor_.setHint(tr("Pan"));
    if (!editor_.placing().empty()) {
        const model::Item* item = editor_.session().library().item(editor_.session().intern(editor_.placing()));
        return editor_.setHint(tr("Click: place %1, again and again · . and , : siblings · Esc: done")
                                   .arg(item != nullptr ? QString::fromStdString(item->label) : QString()));
    }
    if (editor_.tool() == Tool::Solid)
        return editor_.setHint(
            drawing_ && drawing_->rising
                ? (side_ == PaneSide::Top
                       ? tr("Move away from it: how high · click: done · Tab: type it · Shift: fine · Esc: let go")
                       : tr("Move: how high · click: done · Tab: type it · Shift: fine · Esc: let go"))
            : drawing_ ? tr("Drag: its footprint · Tab: type it · Shift: fine · hold 1 2 3 4 6: catch · Esc: let go")
                       : tr("Drag its footprint on any surface · click: one of a metre · Esc: no more"));
    if (editor_.tool() == Tool::Broom)
        return editor_.setHint(
            sweeping_
                ? tr("Sweep: %1 so far · Esc: let go").arg(sweeping_->broom->count())
                : tr("Press and sweep · wheel: radius %1 m · Shift+wheel: strength %2 · Ctrl+wheel: zoom · Esc: put "
                     "it away")
                      .arg(fixed(editor_.broom().radiusMetres, 1), fixed(editor_.broom().strength, 1)));
    if (editor_.asksObject())
        return editor_.setHint(
            tr("Click what it leads to, here or in the Roster; what fits has a ring · Esc: nothing"));
    if (editor_.asksPoint())
        return editor_.setHint(tr("Click: the place · hold 1 corner, 2 edge, 3 face, 4 centre, 6 end: catch"));
    if (editor_.tool() == Tool::Points)
        return editor_.setHint(
            facetPull_      ? tr("Drag: over surfaces · hold 1 corner, 2 edge, 3 face, 6 end: catch · Esc: let go")
            : hoveredFacet_ ? tr("Drag: move this point")
                            : tr("Click on surfaces: points, of the selected object or a new one · Esc: no more"));
    if (editor_.tool() == Tool::Zone)
        return editor_.setHint(
            zoneCorners_.size() < 3
                ? tr("Click its corners on the ground · hold 1 corner, 2 edge, 6 end: catch · Esc: one back")
                : tr("Click: a corner more · the first one, or Enter: done · Esc: one back"));
    if (hoveredFacet_ || facetPull_)
        return editor_.setHint(
            tr("Drag: %1 · Shift: fine · hold 1 2 3 4 6: catch · Esc: let go")
                .arg(std::holds_alternative<std::size_t>((facetPull_ ? facetPull_->grip : *hoveredFacet_).what)
                         ? tr("move this point over surfaces")
                     : std::holds_alternative<ops::ZoneGrip>((facetPull_ ? facetPull_->grip : *hoveredFacet_).what)
                         ? tr("pull this side of the zone")
                         : tr("this handle is a script’s")));
    if (editor_.tool() == Tool::Measure)
        return editor_.setHint(
            tr("Click: measure from point to point · hold 1 corner, 2 edge, 4 centre, 6 end: catch · Esc: anew"));
    if (arrayPull_) return editor_.setHint(tr("Drag: pull the array · Shift: fine · Esc: let go"));
    if (hoveredArrayGrip_)
        return editor_.setHint(hoveredArrayGrip_->pulls == ops::ArrayGrip::Pulls::Count
                                   ? tr("Drag: more or fewer of them")
                               : hoveredArrayGrip_->pulls == ops::ArrayGrip::Pulls::Radius
                                   ? tr("Drag: how far from the middle · Shift: fine")
                                   : tr("Drag: how far apart they are · Shift: fine"));
    if (hoveredGrip_)
        return editor_.setHint(tr("Drag this %1: the opposite one stays where it is · Shift: fine · hold C: in line · "
                                  "hold 1 2 3 4 6: catch")
                                   .arg(hoveredGrip_->axes() == 1   ? tr("side")
                                        : hoveredGrip_->axes() == 2 ? tr("edge")
                                                                    : tr("corner")));
    if (hoveredPart_)
        return editor_.setHint(hoveredPart_.task == render::Task::Turn  ? tr("Drag: turn the selection · Shift: fine")
                               : hoveredPart_.task == render::Task::Fit ? tr("Drag: size the selection · Shift: fine")
                               : editor_.pullsLinked()
                                   ? tr("Drag: slide the selection · Shift: fine · with Ctrl: pull a linked copy")
                                   : tr("Drag: slide the selection · Shift: fine · with Ctrl: pull a copy"));
    if (editor_.editsDefinition() && editor_.selection().empty())
        return editor_.setHint(tr("In the definition: what is changed here changes for all · Esc: go out"));
    if (editor_.entered() && editor_.selection().empty())
        return editor_.setHint(tr("Inside a group · click: select in it · double-click outside or Esc: go out"));
    if (!editor_.selection().empty()) {
        const QString does = editor_.activeTask() == render::Task::Turn  ? tr("turn by a step")
                             : editor_.activeTask() == render::Task::Fit ? tr("size by a step")
                                                                         : tr("move by a step");
        return editor_.setHint(
            tr("Arrows, Page Up/Down: %1 · Tab: type it · Shift+click: add · Ctrl+click: take away · ").arg(does) +
            (groupSelected() ? tr("Enter: go in") : tr("Q: bring into view")));
    }
    editor_.setHint(
        tr("Click or drag a box: select · middle drag: orbit, with Shift: pan · wheel: zoom · right drag: look and "
           "fly"));
}

}  // namespace app
