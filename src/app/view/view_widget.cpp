#include "app/view/view_widget.h"

#include <QApplication>
#include <QMenu>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "app/shell/checks.h"
#include "app/shell/rehearsal.h"
#include "app/shell/scripts.h"
#include "app/view/gestures/all.h"
#include "app/view/looks.h"
#include "base/text.h"

namespace app {

ViewWidget::ViewWidget(Editor& editor, Stage& stage, int pane, QWidget* parent)
    : QWidget(parent),
      editor_(editor),
      stage_(stage),
      view_(editor, stage, *this),
      eye_(view_),
      play_(view_, eye_),
      picture_(view_, pane),
      drops_(view_),
      overlays_(allOverlays(view_)),
      pulse_(view_),
      gestures_(allGestures(view_)),
      caption_(new QToolButton(this)) {
    setObjectName(pane == 0 ? QStringLiteral("view") : QString("view%1").arg(pane + 1));
    setAccessibleName(tr("View of the scene"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAcceptDrops(true);
    setMinimumSize(140, 110);
    setAttribute(Qt::WA_OpaquePaintEvent);
    makeCaption();
    listen();
    refreshCaption();
}

// What is held, and the gestures, use the rest.
ViewWidget::~ViewWidget() {
    hold_.reset();
    gestures_.clear();
}

void ViewWidget::makeCaption() {
    caption_->setObjectName("viewCaption");
    caption_->setAccessibleName(tr("Which way this view looks"));
    caption_->setToolTip(tr("Which way this view looks; views kept, and cameras to look through"));
    caption_->setFocusPolicy(Qt::TabFocus);
    caption_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(caption_);
    menu->setToolTipsVisible(true);
    caption_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        Q_EMIT activated();
        menu->clear();
        Q_EMIT captionMenu(menu);
    });
    caption_->move(8, 8);
}

void ViewWidget::listen() {
    const auto update = QOverload<>::of(&QWidget::update);
    connect(&view_, &ViewContext::hintStale, this, &ViewWidget::updateHint);
    connect(&view_, &ViewContext::cameraMoved, this, [this] {
        refreshCaption();
        Q_EMIT cameraChanged();
    });
    connect(&view_.amount, &AmountField::accepted, this, &ViewWidget::acceptTyped);
    connect(&view_.amount, &AmountField::refused, this, &ViewWidget::cancel);
    connect(&view_.amount, &AmountField::opened, &editor_, &Editor::setHint);
    connect(&editor_, &Editor::openingChanged, this, update);
    connect(&editor_, &Editor::sceneShown, this, &ViewWidget::showScene);
    const auto showCaption = [this] { caption_->setVisible(!editor_.looks().clean && !play_.isHere()); };
    connect(&editor_, &Editor::shownChanged, this, showCaption);
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, showCaption);
    connect(&editor_.rehearsal(), &Rehearsal::changed, &picture_, [this] { picture_.restage(false); });
    for (const auto changed : {&Editor::enteredChanged, &Editor::toolChanged, &Editor::placingChanged})
        connect(&editor_, changed, this, [this] {
            const bool pointed = target_ != nullptr && hold_ == nullptr;
            withdraw();
            if (pointed) hover();  // what acts there may be another, or act otherwise
            updateHint();
            QWidget::update();
        });
    for (const auto changed : {&Editor::selectionChanged, &Editor::marksChanged})
        connect(&editor_, changed, this, [this] {
            updateHint();
            QWidget::update();
        });
    connect(&editor_.checks(), &Checks::changed, this, update);
    connect(&editor_.checks(), &Checks::currentChanged, this, update);
    connect(&editor_.scripts(), &Scripts::marksChanged, this, update);
    connect(&editor_.scripts(), &Scripts::previewChanged, &picture_, [this] { picture_.restageOver(); });
}

void ViewWidget::showScene() {
    eye_.stopWalking();
    letGo();
    for (const GesturePtr& one : gestures_) one->cancel();
    withdraw();
    const model::SceneSettings& s = editor_.scene().settings();
    eye_.startAt(render::Camera::looking(s.viewFrom, s.viewTo), editor_.scene().subtreeBounds(kNoSlot));
    picture_.restage(true);
    updateHint();
}

void ViewWidget::refreshCaption() {
    constexpr int kBeside = 130;  // for what is said at the other corner
    for (const bool withWay : {true, false}) {
        caption_->setText(eye_.caption(withWay));
        caption_->adjustSize();
        if (caption_->geometry().right() <= width() - kBeside) return;
    }
}

void ViewWidget::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (!editor_.isOpen() || !stage_.renderer().problem().isEmpty()) {
        p.fillRect(rect(), editor_.theme().viewBottom);
        p.setPen(editor_.theme().dim);
        QString text = stage_.renderer().problem();
        if (text.isEmpty() && !editor_.isOpening())
            text = tr("No project is open.\nOpen one with Ctrl+O, or make a new one with Ctrl+Shift+N.");
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, text);
        return;
    }
    const QImage& image = picture_.image();
    if (image.size() == size())
        p.drawImage(0, 0, image);
    else
        p.drawImage(rect(), image);
    p.setRenderHint(QPainter::Antialiasing);
    if (editor_.looks().clean) return;
    const bool played = play_.isHere();
    for (const auto& overlay : overlays_)
        if (!played || overlay->isInPlay()) overlay->paint(p);
    if (play_.isHere()) return play_.paint(p);
    drops_.paint(p);
    if (hold_) {
        hold_->paint(p);
    } else if (const Gesture* only = claiming()) {
        only->paint(p);
    } else {
        for (auto it = gestures_.rbegin(); it != gestures_.rend(); ++it) (*it)->paint(p);
    }
    view_.lines.paint(p, caption_->geometry());
    view_.catcher.paint(p);
    pulse_.paint(p);
}

void ViewWidget::resizeEvent(QResizeEvent*) {
    refreshCaption();
    picture_.restage(false);
}

// ---- Whose turn it is

/// The gesture that the whole view is for now; null: none.
Gesture* ViewWidget::claiming() const {
    for (const GesturePtr& one : gestures_)
        if (one->claims()) return one.get();
    return nullptr;
}

/// The first that would act at a pixel, with what it would take; one that claims the view has it anyway.
Gesture* ViewWidget::targetAt(const QPointF& pixel, std::optional<int>& what) {
    for (const GesturePtr& one : gestures_) {
        what = one->offer(pixel);
        if (what || one->claims()) return one.get();
    }
    return nullptr;
}

void ViewWidget::withdraw() {
    if (target_ != nullptr) target_->withdraw();
    target_ = nullptr;
    what_.reset();
}

void ViewWidget::hover() {
    const auto place = view_.landingUnder(view_.pointer);
    const auto text = [&](int axis) { return lengthNumber((*place)[axis], editor_.unit(), 2); };
    editor_.setCursorPlace(
        place ? QString("X %1  Y %2  Z %3 %4").arg(text(0), text(1), text(2), base::traits(editor_.unit()).sign)
              : QString());
    std::optional<int> what;
    Gesture* const target = targetAt(view_.pointer, what);
    if (target == target_ && what == what_) return;
    if (target_ != nullptr && target_ != target) target_->withdraw();
    target_ = target;
    what_ = what;
    updateHint();
    update();
}

// ---- What is held

/// What a gesture took is held from now on. False: it took nothing.
bool ViewWidget::take(Gesture::Taken taken) {
    if (!taken.yes) return false;
    hold_ = std::move(taken.hold);
    view_.busy = hold_ != nullptr;
    if (hold_ == nullptr) view_.catcher.letGo();
    updateHint();
    update();
    return true;
}

void ViewWidget::letGo() {
    view_.amount.close();
    pressed_ = view_.busy = false;
    view_.catcher.letGo();
    std::exchange(hold_, nullptr).reset();
    view_.lines.clear();
    view_.setGhost(std::nullopt);
    updateHint();
    update();
}

void ViewWidget::go(Goes how, Qt::KeyboardModifiers modifiers) {
    if (how == Goes::On) return updateHint();
    letGo();
    if (how == Goes::Click) click(modifiers);
}

void ViewWidget::click(Qt::KeyboardModifiers modifiers) {
    for (const GesturePtr& one : gestures_)
        if (one->click(modifiers)) break;
    updateHint();
}

void ViewWidget::press(Qt::KeyboardModifiers modifiers) {
    if (view_.amount.isOpen()) return letGo();  // an amount was being typed: a press elsewhere takes it back
    if (hold_) return go(hold_->press());
    for (const GesturePtr& one : gestures_)
        if (take(one->press(modifiers))) return;
    pressed_ = true;
}

bool ViewWidget::cancel() {
    if (editor_.rehearsal().isOn()) return editor_.rehearsal().end(), true;
    if (hold_ && hold_->stepBack()) {
        updateHint();
        update();
        return true;
    }
    const bool held = hold_ != nullptr || view_.amount.isOpen() || pressed_;
    letGo();
    if (held) return true;
    if (eye_.isWalking()) return eye_.toggleWalk(), true;
    for (const GesturePtr& one : gestures_)
        if (one->cancel()) return updateHint(), true;
    return false;
}

/// The field's text is for what is held, else for the first gesture that takes it.
void ViewWidget::acceptTyped(const QString& text) {
    if (hold_) {
        const auto how = hold_->typed(text);
        if (!how) return;  // it was said why; the field stays
        view_.amount.close();
        setFocus();
        return go(*how);
    }
    for (const GesturePtr& one : gestures_)
        if (one->typed(text)) {
            view_.amount.close();
            setFocus();
            break;
        }
    updateHint();
}

// ---- Mouse

void ViewWidget::mousePressEvent(QMouseEvent* event) {
    setFocus();
    Q_EMIT activated();
    view_.pointer = event->position();
    if (!editor_.isOpen()) return;
    if (play_.isHere()) return play_.press(event->button());
    view_.lines.forget();
    if (event->button() == Qt::LeftButton) {
        if (!hold_) view_.pressedAt = view_.pointer;
        pressedWith_ = event->modifiers();
        return press(event->modifiers());
    }
    if (event->button() == Qt::RightButton) rightAt_ = view_.pointer;
    eye_.press(event->button(), event->modifiers());
    updateHint();
}

void ViewWidget::mouseMoveEvent(QMouseEvent* event) {
    const QPointF before = std::exchange(view_.pointer, event->position());
    if (!editor_.isOpen()) return;
    if (play_.isHere()) return void(play_.move(before, view_.pointer));
    if (eye_.move(view_.pointer - before)) return;
    if (hold_) return go(hold_->move(event->modifiers()));
    if (!pressed_) return hover();
    const QPointF way = view_.pointer - view_.pressedAt;
    if (std::hypot(way.x(), way.y()) <= kDragStart) return;
    pressed_ = false;
    for (const GesturePtr& one : gestures_)
        if (take(one->drag(pressedWith_))) break;
    if (hold_) go(hold_->move(event->modifiers()));
}

void ViewWidget::mouseReleaseEvent(QMouseEvent* event) {
    view_.pointer = event->position();
    if (play_.isHere()) return play_.release(event->button());
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        eye_.release();
        const QPointF way = view_.pointer - rightAt_;
        if (event->button() == Qt::RightButton && !hold_ && std::hypot(way.x(), way.y()) <= kDragStart)
            Q_EMIT menuAsked(event->globalPosition().toPoint());
        return updateHint();
    }
    if (event->button() != Qt::LeftButton) return;
    if (hold_) return go(hold_->release(event->modifiers()), event->modifiers());
    if (std::exchange(pressed_, false)) click(event->modifiers());
}

void ViewWidget::mouseDoubleClickEvent(QMouseEvent* event) {
    view_.pointer = event->position();
    if (play_.isHere()) return play_.press(event->button());
    std::optional<int> what;
    Gesture* target =
        editor_.isOpen() && event->button() == Qt::LeftButton && !hold_ ? targetAt(view_.pointer, what) : nullptr;
    if (target == nullptr || !target->doubleClick()) return mousePressEvent(event);
    pressed_ = false;
    updateHint();
}

void ViewWidget::wheelEvent(QWheelEvent* event) {
    if (!editor_.isOpen() || play_.isHere()) return;
    const double notches = (event->angleDelta().y() != 0 ? event->angleDelta().y() : event->angleDelta().x()) / 120.0;
    Q_EMIT activated();
    if (hold_ && hold_->wheel(notches, event->modifiers())) return;
    for (const GesturePtr& one : gestures_)
        if (!hold_ && one->wheel(notches, event->modifiers())) return updateHint();
    eye_.wheel(notches, event->position());
}

void ViewWidget::enterEvent(QEnterEvent* event) {
    if (!eye_.isMoving() && !isDragging()) view_.pointer = event->position();
}

void ViewWidget::leaveEvent(QEvent*) {
    if (!isDragging()) withdraw();
    update();
    if (!eye_.isMoving() && !isDragging()) updateHint();
    editor_.setCursorPlace({});
}

// ---- Keys

/// Do keys mean what to catch on?
bool ViewWidget::catches() const {
    const Gesture* only = claiming();
    return hold_ ? hold_->catches() : only != nullptr && only->catches();
}

/// A key was pressed or let go: the same pointer means something else now.
void ViewWidget::keysChanged() {
    if (hold_) return go(hold_->move(QGuiApplication::queryKeyboardModifiers()));
    hover();
}

// Letters fly while the right button is held, whatever they are short for otherwise.
bool ViewWidget::event(QEvent* event) {
    if (event->type() == QEvent::KeyPress && play_.takesKey(static_cast<QKeyEvent*>(event)->key())) {
        if (!static_cast<QKeyEvent*>(event)->isAutoRepeat()) play_.press(static_cast<QKeyEvent*>(event)->key());
        return true;
    }
    if (event->type() == QEvent::ShortcutOverride && play_.takesKey(static_cast<QKeyEvent*>(event)->key())) {
        event->accept();
        return true;
    }
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Tab && editor_.isOpen() &&
        (hold_ || !editor_.selection().empty())) {
        keyPressEvent(static_cast<QKeyEvent*>(event));  // else Qt would move the focus on
        return true;
    }
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        const bool asked = editor_.asking().asks();
        if (eye_.takesKey(key) || (catches() && Catcher::isKey(key)) ||
            ((isDragging() || asked) && key == Qt::Key_Escape)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void ViewWidget::keyPressEvent(QKeyEvent* event) {
    const int key = event->key();
    view_.lines.forget();
    if (eye_.takesKey(key)) return eye_.pressKey(key);
    if (key == Qt::Key_Escape && cancel()) return;
    if (!editor_.isOpen()) return QWidget::keyPressEvent(event);
    if (catches() && Catcher::isKey(key)) {
        if (view_.catcher.press(key)) keysChanged();
        return;
    }
    if (hold_) {
        const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
        if (const auto how = enter ? hold_->enter() : std::nullopt) return go(*how);
        if (key == Qt::Key_Tab) return hold_->type();
        return QWidget::keyPressEvent(event);
    }
    for (const GesturePtr& one : gestures_)
        if (one->key(key, event->modifiers())) return updateHint();
    QWidget::keyPressEvent(event);
}

void ViewWidget::keyReleaseEvent(QKeyEvent* event) {
    if (!event->isAutoRepeat()) {
        eye_.releaseKey(event->key());
        play_.release(event->key());
        if (view_.catcher.release(event->key())) keysChanged();
    }
    QWidget::keyReleaseEvent(event);
}

void ViewWidget::focusOutEvent(QFocusEvent*) {
    eye_.releaseKeys();
    if (play_.isHere()) play_.releaseAll();
    view_.catcher.releaseAll();
}

// ---- What is dropped from elsewhere

void ViewWidget::dragEnterEvent(QDragEnterEvent* event) {
    if (drops_.takes(*event->mimeData())) event->acceptProposedAction();
}

void ViewWidget::dragMoveEvent(QDragMoveEvent* event) {
    event->setAccepted(drops_.over(*event));
}

void ViewWidget::dragLeaveEvent(QDragLeaveEvent*) {
    drops_.leave();
}

void ViewWidget::dropEvent(QDropEvent* event) {
    if (drops_.drop(*event)) event->acceptProposedAction();
    setFocus();
}

// ---- What it tells

void ViewWidget::updateHint() {
    if (!editor_.isOpen() || view_.amount.isOpen()) return;
    if (play_.isHere()) return editor_.setHint(play_.hint());
    if (hold_) return editor_.setHint(hold_->hint());
    if (const QString hint = eye_.hint(); !hint.isEmpty()) return editor_.setHint(hint);
    const Gesture* acts = claiming();
    if (acts == nullptr) acts = target_ != nullptr ? target_ : gestures_.back().get();
    editor_.setHint(acts->hint());
}

std::vector<QPointF> ViewWidget::grips() const {
    std::vector<QPointF> all;
    for (const GesturePtr& one : gestures_)
        for (const QPointF& at : one->grips()) all.push_back(at);
    return all;
}

Slot ViewWidget::wholeAt(const QPointF& pixel) const {
    const Slot under = view_.objectUnder(pixel);
    return under == kNoSlot ? under : editor_.wholeOf(under);
}

void ViewWidget::enterSelected() {
    gestures_.back()->key(Qt::Key_Return, {});
}

base::Vec3 ViewWidget::placeInFront() const {
    if (const auto place = view_.landingUnder({width() / 2.0, height() * 0.55})) return *place;
    base::Vec3 ahead = view_.camera.eye + view_.camera.forward() * 10.0;
    ahead.y = 0;
    return ahead;
}

}  // namespace app
