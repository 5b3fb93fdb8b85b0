// The handle in the view: dragging it, doing the same by keys, typing an exact amount.
#include <QCursor>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/units.h"
#include "ops/copies.h"
#include "ops/prefab.h"
#include "ops/turned.h"

namespace app {

using render::HandleAmount;
using render::HandlePart;
using render::kAll;
using render::Task;

namespace {

std::string verbOf(const HandlePart& part) {
    return part.task == Task::Turn ? "Turn " : part.task == Task::Fit ? "Size " : "Move ";
}

/// One axis for each of three directions, the clearest match first, each axis once: index, and which way.
struct KeyAxes {
    int axis[3];
    double sign[3];
};
KeyAxes axesNearest(const base::Mat3& axes, const base::Mat3& directions) {
    KeyAxes result{{-1, -1, -1}, {1, 1, 1}};
    bool used[3] = {};
    for (int round = 0; round < 3; ++round) {
        double best = -1;
        int bestDirection = 0, bestAxis = 0;
        for (int d = 0; d < 3; ++d)
            for (int a = 0; a < 3; ++a) {
                const double match = std::abs(glm::dot(axes[a], directions[d]));
                if (result.axis[d] < 0 && !used[a] && match > best + 1e-9)
                    best = match, bestDirection = d, bestAxis = a;
            }
        result.axis[bestDirection] = bestAxis;
        result.sign[bestDirection] = glm::dot(axes[bestAxis], directions[bestDirection]) < 0 ? -1 : 1;
        used[bestAxis] = true;
    }
    return result;
}

}  // namespace

base::Mat3 ViewWidget::viewAxes() const {
    return {camera_.right(), camera_.up(), -camera_.forward()};
}

/// What a drag of the selection would start from, kept until the selection or the scene changes.
const ops::Mover* ViewWidget::idleMover() const {
    if (!idleKnown_) {
        idleKnown_ = true;
        auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
        idleMover_ = mover ? std::optional(std::move(*mover)) : std::nullopt;
        idleBox_.reset();
        if (idleMover_ && editor_.tool() == Tool::Fit)
            idleBox_ = idleMover_->ownBox(editor_.scene(), editor_.session().library());
    }
    return idleMover_ ? &*idleMover_ : nullptr;
}

std::optional<render::Handle> ViewWidget::handle() const {
    const Tool tool = editor_.tool();
    if (!editor_.isOpen() || editor_.selection().empty() || tool == Tool::Select || tool == Tool::Measure ||
        tool == Tool::Solid || tool == Tool::Broom)
        return std::nullopt;
    if (!drag_ && !carry_ && !stage_.lively().empty()) return std::nullopt;  // dragged in another pane
    if (drag_) {
        render::Handle h = drag_->handle();
        h.origin += amount_.offset;
        return h;
    }
    const ops::Mover* mover = idleMover();
    if (mover == nullptr) return std::nullopt;
    render::Handle h;
    h.pixels *= editor_.handleSize();
    h.slide = tool == Tool::Slide || tool == Tool::All;
    h.turn = tool == Tool::Dial || tool == Tool::All;
    h.fit = tool == Tool::Fit || tool == Tool::All;
    h.axes = mover->axes(editor_.axesMode(), viewAxes());
    h.fitAxes = mover->axes(ops::AxesMode::Own, viewAxes());
    h.origin =
        editor_.pivotMode() == ops::PivotMode::Picked ? editor_.pickedPivot() : mover->pivot(editor_.pivotMode());
    return h;
}

std::optional<QPointF> ViewWidget::handleTip(int axis, Task task) const {
    const auto h = handle();
    if (!h) return std::nullopt;
    base::Vec3 at = h->tip(task == Task::Fit ? Task::Fit : Task::Slide, axis, camera_, viewport());
    if (task == Task::Turn) {
        std::vector<base::Vec3> front;
        for (const auto& point : h->ring(axis, camera_, viewport()))
            if (point.front) front.push_back(point.at);
        if (front.empty()) return std::nullopt;
        at = front[front.size() / 2];
    }
    const auto pixel = camera_.project(at, viewport());
    return pixel ? std::optional(QPointF(pixel->x, pixel->y)) : std::nullopt;
}

std::string ViewWidget::taskName(const HandlePart& part, const ops::Mover& mover) const {
    return verbOf(part) + ops::describe(editor_.scene(), mover.ids());
}

bool ViewWidget::beginDrag(const std::string& verb) {
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) return editor_.report(tl::unexpected(mover.error()));
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                           (!pulls_                 ? verb
                                            : editor_.pullsLinked() ? "Pull a linked copy of "
                                                                    : "Pull a copy of ") +
                                               ops::describe(editor_.scene(), mover->ids()));
    if (!editor_.report(draft_->state())) {
        draft_.reset();
        return false;
    }
    if (pulls_) {
        pulledFrom_ = {editor_.selection(), editor_.scene().world(editor_.scene().find(mover->ids().front()))};
        mover = beginPull();
        if (!mover) {
            draft_.reset();
            editor_.select(pulledFrom_->first);
            return editor_.report(tl::unexpected(mover.error()));
        }
    }
    mover->setPicked(editor_.pickedPivot());
    mover_ = std::move(*mover);
    const model::Slot last = editor_.scene().find(mover_->ids().back());
    startUp_ = glm::normalize(base::toTransform(editor_.scene().world(last)).rotation * base::Vec3(0, 1, 0));
    caught_.reset();
    flush_.clear();
    flushAfter_.clear();
    stage_.startLively();
    setLineFrame(base::Mat3(1.0));
    collectFeatures();
    return true;
}

/// The copies are what is dragged; the originals stay.
base::Result<ops::Mover> ViewWidget::beginPull() {
    auto made = editor_.pullsLinked() ? ops::linkedCopies(*draft_, pulledFrom_->first)
                                      : ops::duplicate(*draft_, pulledFrom_->first);
    if (!made) return tl::unexpected(made.error());
    // The copies stand where the originals do; a linked one may have axes of its own.
    pulledFrom_->second = editor_.scene().world(editor_.scene().find(made->front()));
    editor_.select(*made);
    return ops::Mover::begin(editor_.scene(), *made);
}

bool ViewWidget::startHandle(const render::Handle& h, const HandlePart& part) {
    if (!beginDrag(verbOf(part))) return false;
    amount_ = {};
    grip_.reset();
    wrapped_ = {};
    atLimit_ = false;
    lastPart_ = part;
    if (editor_.looks().follow && part.task == Task::Slide) follows_ = camera_;
    drag_ = std::make_unique<render::HandleDrag>(h, part, toVec(pointer_), camera_, viewport());
    if (part.task == Task::Slide && part.which != kAll) setLineFrame(h.axes);
    updateHint();
    return true;
}

base::Status ViewWidget::applyAmount(edit::Draft& draft, const ops::Mover& mover, const HandlePart& part,
                                     const HandleAmount& amount) {
    const ops::PivotMode pivot = grip_ ? ops::PivotMode::Picked : editor_.pivotMode();
    if (part.task == Task::Slide) return mover.moveBy(draft, amount.offset);
    if (part.task == Task::Turn) return mover.turnBy(draft, amount.axis, amount.radians, pivot);
    auto sized = mover.sizeBy(draft, amount.factors, pivot);
    if (!sized) return tl::unexpected(sized.error());
    atLimit_ = *sized;
    return {};
}

void ViewWidget::dragHandle(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    if (grip_) return dragGrip(pixel, modifiers);
    const QPointF whole = pixel + wrapped_;
    // Where the camera travels along, the way is measured in the picture from where it began.
    const render::Camera& eye = follows_ ? *follows_ : camera_;
    const HandleAmount raw = drag_->amount(toVec(whole), eye, viewport());
    amount_ = drag_->snapped(raw, dragSteps(modifiers));
    if (drag_->part().task == Task::Fit && drag_->part().axis() >= 0 && editor_.uniform())
        amount_.factors = base::Vec3(amount_.factors[drag_->part().axis()]);
    caught_ = drag_->part().task == Task::Slide ? catchUnder(pixel) : std::nullopt;
    if (caught_) amount_.offset = caughtOffset(raw.offset, drag_->part(), drag_->handle().axes);
    if (drag_->part().task == Task::Slide && !caught_) {
        // Lines lie along the axes that the part moves along.
        const bool caught = heldKeys_.contains(Qt::Key_C) || editor_.catchFlush();
        if (caught) amount_.offset = raw.offset;
        std::array<bool, 3> along{};
        const HandlePart part = drag_->part();
        for (int k = 0; k < 3; ++k) {
            const base::Vec3 axis = part.which == kAll ? base::Mat3(1.0)[k] : drag_->handle().axes[k];
            const bool mine = part.axis() >= 0 ? part.axis() == k : part.planeWithout() != k;
            for (int own = 0; own < 3; ++own)
                if (mine && std::abs(glm::dot(axis, lineFrame_[own])) > 1 - 1e-12)
                    along[static_cast<std::size_t>(own)] = true;
        }
        base::Vec3 offset = amount_.offset;
        lineUp(offset, along);
        if (caught) {
            // An axis where nothing was caught goes on in steps.
            const base::Mat3 back = glm::transpose(lineFrame_);
            const base::Vec3 stepped = back * drag_->snapped(raw, dragSteps(modifiers)).offset;
            const base::Vec3 caughtAt = back * offset, free = back * raw.offset;
            base::Vec3 kept = caughtAt;
            for (int k = 0; k < 3; ++k)
                if (std::abs(caughtAt[k] - free[k]) < 1e-12) kept[k] = stepped[k];
            amount_.offset = lineFrame_ * kept;
        }
    } else {
        flush_.clear();
    }
    const bool leans = editor_.followSlopes() && caught_ && caught_->kind == query::CatchKind::Face &&
                       drag_->part() == HandlePart{Task::Slide, kAll};
    editor_.report(leans ? leanOnto(*caught_) : applyAmount(*draft_, *mover_, drag_->part(), amount_));
    if (follows_) {
        camera_.eye = follows_->eye + amount_.offset;
        cameraMoved();
    }
    wrapPointer();
    update();
}

/// The base goes to what is caught, up along the surface's normal; the heading stays.
base::Status ViewWidget::leanOnto(const query::CatchPoint& caught) {
    amount_.offset = caught.point - mover_->start();
    return mover_->carryTo(*draft_, amount_.offset, ops::turnBetween(startUp_, caught.normal));
}

// At the view's edge the pointer comes in again on the other side, and the drag goes on.
void ViewWidget::wrapPointer() {
    constexpr double kEdge = 1, kInside = 4;
    QPointF to = pointer_;
    if (pointer_.x() <= kEdge) to.setX(width() - kInside);
    if (pointer_.x() >= width() - 1 - kEdge) to.setX(kInside);
    if (pointer_.y() <= kEdge) to.setY(height() - kInside);
    if (pointer_.y() >= height() - 1 - kEdge) to.setY(kInside);
    if (to == pointer_) return;
    wrapped_ += pointer_ - to;
    pointer_ = to;
    QCursor::setPos(mapToGlobal(to.toPoint()));
}

void ViewWidget::finishHandle() {
    if (carry_) settleCarried();
    if (pulledFrom_)
        editor_.setLastPull(ops::motionBetween(pulledFrom_->second,
                                               editor_.scene().world(editor_.scene().find(mover_->ids().front()))));
    pulledFrom_.reset();
    auto step = draft_->commit();
    if (!step) editor_.report(tl::unexpected(step.error()));
    if (!flush_.empty()) rememberFlush();
    flush_.clear();
    drag_.reset();
    follows_.reset();
    grip_.reset();
    carry_.reset();
    caught_.reset();
    mover_.reset();
    draft_.reset();
    amount_ = {};
    stage_.endLively();
    updateHint();
    update();
}

// Left and right, up and down (away and near), Page Up and Down: each has the axis that looks most like it.
void ViewWidget::nudge(Qt::Key key, Qt::KeyboardModifiers modifiers) {
    if (!editor_.isOpen() || editor_.selection().empty()) return;
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    mover->setPicked(editor_.pickedPivot());
    const Task task = editor_.activeTask();
    double share = (modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
    if ((modifiers & Qt::ControlModifier) != 0) share *= 4;
    const double step = editor_.step(task).value * share;
    const base::Mat3 axes = mover->axes(task == Task::Fit ? ops::AxesMode::Own : editor_.axesMode(), viewAxes());
    const bool seen = editor_.axesMode() == ops::AxesMode::View;
    // Level and away from the eye: what points up on the screen, looked at from above.
    const base::Vec3 ahead = seen ? camera_.forward() : glm::cross(base::Vec3(0, 1, 0), camera_.right());
    const KeyAxes nearest = axesNearest(axes, {camera_.right(), ahead, seen ? camera_.up() : base::Vec3(0, 1, 0)});
    const int direction = key == Qt::Key_Left || key == Qt::Key_Right ? 0
                          : key == Qt::Key_Up || key == Qt::Key_Down  ? 1
                                                                      : 2;
    const bool back = key == Qt::Key_Left || key == Qt::Key_Down || key == Qt::Key_PageDown;
    // Turning: sideways about what points up, away and near about what points right.
    const int slot = task != Task::Turn ? direction : direction == 0 ? 2 : direction == 1 ? 0 : 1;
    const int axis = nearest.axis[slot];
    const double way = back ? -1.0 : 1.0;
    HandleAmount amount;
    if (task == Task::Fit) {
        amount.factors[axis] = 1 + way * step;
    } else {
        amount.offset = axes[axis] * (nearest.sign[slot] * way * step);
        amount.axis = axes[axis] * nearest.sign[slot];
        amount.radians = base::radians(step) * (direction == 2 ? way : direction == 0 ? way : -way);
    }
    const HandlePart part{task, axis};
    lastPart_ = part;
    editor_.run(taskName(part, *mover), [&](edit::Draft& draft) { return applyAmount(draft, *mover, part, amount); });
    setFocus();
    updateHint();
}

/// The part an exact amount is typed for: the one being dragged or pointed at, else the last one of the active task.
HandlePart ViewWidget::typedPart() const {
    if (drag_) return drag_->part();
    const HandlePart part = hoveredPart_ ? hoveredPart_ : lastPart_;
    if (part.task == editor_.activeTask() || hoveredPart_) return part;
    return {editor_.activeTask(), editor_.activeTask() == Task::Turn  ? 1
                                  : editor_.activeTask() == Task::Fit ? kAll
                                                                      : 0};
}

void ViewWidget::typeAmount() {
    if (drawing_) return typeDrawing();
    const auto h = handle();
    if (!h) return;
    const HandlePart part = typedPart();
    const QString axis = part.axis() >= 0 ? QString("XYZ").mid(part.axis(), 1) : tr("all");
    const QString what = grip_                     ? tr("Length along %1 in metres").arg(axis)
                         : part.task == Task::Turn ? tr("Turn %1 by, in degrees").arg(axis)
                         : part.task == Task::Fit  ? tr("Size %1, as a factor or in metres").arg(axis)
                                                   : tr("%1 in metres; +0.5 from here").arg(axis);
    const auto centre = camera_.project(h->origin, viewport());
    openAmountField(what, drag_    ? pointer_ + QPointF(22, -44)
                          : centre ? QPointF(centre->x + 24, centre->y + 24)
                                   : QPointF(60, 60));
}

void ViewWidget::openAmountField(const QString& what, const QPointF& at) {
    if (amountField_ == nullptr) {
        amountField_ = new QLineEdit(this);
        amountField_->setObjectName("amountField");
        amountField_->installEventFilter(this);
    }
    const int width = std::max(240, fontMetrics().horizontalAdvance(what) + 24);
    amountField_->setFixedSize(width, 26);
    amountField_->setAccessibleName(what);
    amountField_->setPlaceholderText(what);
    amountField_->setToolTip(what + tr("; arithmetic and units work, Enter does it, Esc does not"));
    amountField_->clear();
    amountField_->move(std::clamp(static_cast<int>(at.x()), 6, std::max(6, this->width() - width - 10)),
                       std::clamp(static_cast<int>(at.y()), 6, std::max(6, height() - 40)));
    amountField_->show();
    amountField_->raise();
    amountField_->setFocus();
    editor_.setHint(what);
}

// A leading sign or operator means "from here"; "=" in front of it means the value itself.
base::Result<HandleAmount> ViewWidget::typedAmount(const QString& typed) const {
    const auto h = handle();
    const HandlePart part = typedPart();
    QString text = typed.trimmed();
    const bool relative = !text.isEmpty() && QString("+-*/").contains(text[0]);
    if (relative && (text.size() < 2 || text[1] != '=')) text = QString(text[0]) + "=" + text.mid(1);
    if (text.startsWith('=')) text = text.mid(1);
    HandleAmount amount;
    if (grip_) {
        if (grip_->axes() != 1) return base::fail(base::ErrorCode::BadInput, "Drag one side to type its length.");
        const int axis = part.axis();
        const double own = gripLengths_[axis];
        auto length = base::evaluateQuantity(text.toStdString(), base::Quantity::Length, own * amount_.factors[axis]);
        if (!length) return tl::unexpected(length.error());
        if (*length < 1e-3 * own) return base::fail(base::ErrorCode::BadInput, "A length must be larger than nothing.");
        amount.factors[axis] = *length / own;
        return amount;
    }
    if (part.task == Task::Slide) {
        if (part.axis() < 0) return base::fail(base::ErrorCode::BadInput, "Point at one axis first, then type.");
        const base::Vec3 axis = h->axes[part.axis()];
        const double present = glm::dot(h->origin, axis), start = present - glm::dot(amount_.offset, axis);
        auto value = base::evaluateQuantity(text.toStdString(), base::Quantity::Length, present);
        if (!value) return tl::unexpected(value.error());
        amount.offset = axis * (*value - start);
    } else if (part.task == Task::Turn) {
        auto value = base::evaluateQuantity(text.toStdString(), base::Quantity::Angle, base::degrees(amount_.radians));
        if (!value) return tl::unexpected(value.error());
        amount.axis = drag_ ? amount_.axis : part.axis() >= 0 ? h->axes[part.axis()] : -camera_.forward();
        amount.radians = base::radians(*value);
    } else {
        const bool metres = text.endsWith('m');
        const int axis = part.axis();
        double present = axis >= 0 ? amount_.factors[axis] : amount_.factors.x, own = 1;
        if (metres && axis < 0) return base::fail(base::ErrorCode::BadInput, "Point at one axis to type a length.");
        if (metres) {
            const ops::Mover* mover = drag_ ? &*mover_ : idleMover();
            own = mover->ownSize(editor_.scene(), axis, editor_.session().library());
            if (own < 1e-9) return base::fail(base::ErrorCode::BadInput, "It has no length along this axis.");
        }
        auto value =
            base::evaluateQuantity(text.toStdString(), metres ? base::Quantity::Length : base::Quantity::Factor,
                                   metres ? own * present : present);
        if (!value) return tl::unexpected(value.error());
        const double factor = metres ? *value / own : *value;
        if (factor < 1e-3) return base::fail(base::ErrorCode::BadInput, "A size must be larger than nothing.");
        for (int k = 0; k < 3; ++k)
            if (axis == k || part.which == kAll || (part.planeWithout() >= 0 && k != part.planeWithout()))
                amount.factors[k] = factor;
    }
    return amount;
}

void ViewWidget::acceptTyped() {
    if (drawing_) return acceptDrawing();
    const HandlePart part = typedPart();
    auto amount = typedAmount(amountField_->text());
    if (!amount) {
        editor_.report(tl::unexpected(amount.error()));
        return;
    }
    amountField_->hide();
    setFocus();
    if (drag_) {
        amount_ = *amount;
        const HandlePart does = grip_ ? HandlePart{Task::Fit, kAll} : part;
        if (editor_.report(applyAmount(*draft_, *mover_, does, amount_))) return finishHandle();
        cancel();
        return;
    }
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    mover->setPicked(editor_.pickedPivot());
    lastPart_ = part;
    editor_.run(taskName(part, *mover), [&](edit::Draft& draft) { return applyAmount(draft, *mover, part, *amount); });
    updateHint();
}

}  // namespace app
