#include "app/view/gestures/handle.h"

#include <array>
#include <cmath>

#include "app/kit/parts.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/handle_paint.h"
#include "app/view/gestures/selection_drag.h"
#include "app/view/gestures/typed_amount.h"
#include "app/view/looks.h"
#include "app/view/pixels.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/objects.h"
#include "ops/seat.h"
#include "ops/turned.h"

namespace app {

using render::HandleAmount;
using render::HandlePart;
using render::kAll;
using render::Task;

base::Mat3 viewAxes(const render::Camera& camera) {
    return {camera.right(), camera.up(), -camera.forward()};
}

std::optional<render::Handle> handleOf(const ViewContext& view) {
    const Editor& editor = view.editor;
    const Tool tool = editor.tools().tool;
    if (!editor.isOpen() || editor.selection().empty()) return std::nullopt;
    if (!view.stage.lively().empty()) return std::nullopt;  // dragged in another pane
    render::Handle h;
    h.slide = tool == Tool::Slide || tool == Tool::All;
    h.turn = tool == Tool::Dial || tool == Tool::All;
    h.fit = tool == Tool::Fit || tool == Tool::All;
    const ops::Mover* mover = h.slide || h.turn || h.fit ? view.rest.mover() : nullptr;
    if (mover == nullptr) return std::nullopt;
    h.pixels *= editor.handleSize();
    h.axes = mover->axes(editor.tools().axes, viewAxes(view.camera));
    h.fitAxes = mover->axes(ops::AxesMode::Own, viewAxes(view.camera));
    h.origin = editor.tools().pivot == ops::PivotMode::Picked ? editor.tools().pickedPivot
                                                              : mover->pivot(editor.tools().pivot);
    return h;
}

HandlePart handlePartUnder(const ViewContext& view, const QPointF& pixel) {
    const auto h = handleOf(view);
    return h ? h->hit(toVec(pixel), view.camera, view.viewport()) : HandlePart{};
}

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

class Handling : public SelectionDrag {
  public:
    using SelectionDrag::SelectionDrag;
    bool begin(const render::Handle& handle, const HandlePart& part, bool pulls);
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers modifiers) override;
    void type() override {
        view_.amount.open(amountAsked(drag_->part(), editor_.unit()), view_.pointer + QPointF(22, -44));
    }
    std::optional<Goes> typed(const QString& text) override;
    void paint(QPainter& p) const override;
    QString hint() const override;

  private:
    render::Handle shown() const;
    void slide(const HandleAmount& raw, const render::Steps& steps);
    std::array<bool, 3> linesAlong() const;
    std::optional<base::Mat3> freeDirections() const;
    base::Status apply();
    base::Status leanOnto(const query::CatchPoint& caught);
    base::Status putOnRoute();
    QString seatedText() const;
    QString slideText() const;
    QString fitText() const;
    QString text() const;

    std::optional<render::HandleDrag> drag_;
    HandleAmount amount_;
    std::optional<render::Camera> follows_;  ///< the camera travels along: where it was when the drag began
    bool dragged_ = false;                   ///< far enough to mean a drag
    bool atLimit_ = false;                   ///< sizing has come to a kind's limit
};

bool Handling::begin(const render::Handle& handle, const HandlePart& part, bool pulls) {
    if (!SelectionDrag::begin(verbOf(part), pulls)) return false;
    if (editor_.looks().follow && part.task == Task::Slide) follows_ = view_.camera;
    drag_.emplace(handle, part, toVec(view_.pointer), view_.camera, view_.viewport());
    if (part.task == Task::Slide && part.which != kAll) view_.lines.begin(*mover_, handle.axes);
    return true;
}

base::Status Handling::apply() {
    auto limited = applyAmount(*draft_, *mover_, drag_->part(), amount_, editor_.tools().pivot);
    if (!limited) return tl::unexpected(limited.error());
    atLimit_ = *limited;
    return {};
}

/// Lines lie along the axes that the part moves along.
std::array<bool, 3> Handling::linesAlong() const {
    std::array<bool, 3> along{};
    const HandlePart part = drag_->part();
    for (int k = 0; k < 3; ++k) {
        const base::Vec3 axis = part.which == kAll ? base::Mat3(1.0)[k] : drag_->handle().axes[k];
        const bool mine = part.axis() >= 0 ? part.axis() == k : part.planeWithout() != k;
        for (int own = 0; own < 3; ++own)
            if (mine && std::abs(glm::dot(axis, view_.lines.frame()[own])) > 1 - 1e-12)
                along[static_cast<std::size_t>(own)] = true;
    }
    return along;
}

/// Those that the part moves along; nothing: all.
std::optional<base::Mat3> Handling::freeDirections() const {
    const HandlePart part = drag_->part();
    if (part.which == kAll) return std::nullopt;
    base::Mat3 free = drag_->handle().axes;
    for (int k = 0; k < 3; ++k)
        if (part.axis() >= 0 ? part.axis() != k : part.planeWithout() == k) free[k] = base::Vec3(0.0);
    return free;
}

/// To what is caught, else to what is in line, else in steps.
void Handling::slide(const HandleAmount& raw, const render::Steps& steps) {
    view_.lines.clear();
    if (view_.catcher.look(view_.pointer)) {
        amount_.offset = caughtOffset(raw.offset, drag_->part(), drag_->handle().axes);
        return;
    }
    if (!view_.catcher.linesUp()) {
        base::Vec3 offset = amount_.offset;
        return view_.lines.lineUp(offset, linesAlong());
    }
    base::Vec3 lined = raw.offset;
    view_.lines.lineUp(lined, linesAlong());
    // An axis where nothing was caught goes on in steps.
    const base::Mat3 frame = view_.lines.frame(), back = glm::transpose(frame);
    const base::Vec3 stepped = back * drag_->snapped(raw, steps).offset, caught = back * lined,
                     free = back * raw.offset;
    base::Vec3 kept = caught;
    for (int k = 0; k < 3; ++k)
        if (std::abs(caught[k] - free[k]) < 1e-12) kept[k] = stepped[k];
    amount_.offset = frame * kept;
}

Goes Handling::move(Qt::KeyboardModifiers modifiers) {
    const QPointF way = view_.pointer - view_.pressedAt;
    dragged_ = dragged_ || std::hypot(way.x(), way.y()) > kDragStart;
    if (view_.amount.isOpen()) return Goes::On;
    // Where the camera travels along, the way is measured in the picture from where it began.
    const render::Camera& eye = follows_ ? *follows_ : view_.camera;
    const HandlePart part = drag_->part();
    const render::Steps steps = view_.catcher.steps(modifiers);
    const HandleAmount raw = drag_->amount(toVec(wholePointer()), eye, view_.viewport());
    amount_ = drag_->snapped(raw, steps);
    if (part.task == Task::Fit && part.axis() >= 0 && editor_.tools().uniform)
        amount_.factors = base::Vec3(amount_.factors[part.axis()]);
    if (part.task == Task::Slide) slide(raw, steps), amount_.offset = stopped(amount_.offset, freeDirections());
    const auto& caught = view_.catcher.caught();
    const bool free = part == HandlePart{Task::Slide, kAll};
    const bool leans = editor_.tools().followSlopes && caught && caught->kind == query::CatchKind::Face && free;
    onRoute_ = view_.catcher.route() != model::kNoSlot && free;
    editor_.report(onRoute_ ? putOnRoute() : leans ? leanOnto(*caught) : apply());
    view_.lines.setMoved(amount_.offset);
    if (follows_) {
        view_.camera.eye = follows_->eye + amount_.offset;
        Q_EMIT view_.cameraMoved();
    }
    wrapPointer();
    view_.update();
    return Goes::On;
}

/// The base goes to what is caught, up along the surface's normal; the heading stays.
base::Status Handling::leanOnto(const query::CatchPoint& caught) {
    amount_.offset = caught.point - mover_->start();
    return mover_->carryTo(*draft_, amount_.offset, ops::turnBetween(startUp_, caught.normal));
}

/// The base goes to the place of the route that is caught.
base::Status Handling::putOnRoute() {
    amount_.offset = view_.catcher.caught()->point - mover_->start();
    return mover_->carryTo(*draft_, amount_.offset, turnOnRoute());
}

Goes Handling::release(Qt::KeyboardModifiers modifiers) {
    // With a key held and not moved it was meant for what lies behind the handle.
    if (!dragged_ && modifiers != Qt::NoModifier) return Goes::Click;
    return view_.amount.isOpen() ? Goes::On : finish();
}

std::optional<Goes> Handling::typed(const QString& text) {
    auto amount = typedAmount(text, {shown(), drag_->part(), amount_, amount_.axis, &*mover_}, editor_);
    if (!amount) {
        editor_.report(tl::unexpected(amount.error()));
        return std::nullopt;
    }
    amount_ = *amount;
    return editor_.report(apply()) ? finish() : Goes::Back;
}

/// The handle where it is now.
render::Handle Handling::shown() const {
    render::Handle h = drag_->handle();
    h.origin += amount_.offset;
    return h;
}

/// "seated", or how far above or below what would carry it.
QString Handling::seatedText() const {
    const query::SceneIndex* index = editor_.sight().index();
    if (index == nullptr || mover_->ids().size() != 1 || stage_.tinted().size() > 64) return {};
    const auto height =
        ops::heightAboveSupport(editor_.scene(), index->solid(), editor_.scene().find(mover_->ids().front()));
    if (!height) return tr("nothing below");
    if (std::abs(*height) < 5e-4) return tr("seated");
    return tr("%1 %2").arg(editor_.length(std::abs(*height)), *height > 0 ? tr("above") : tr("sunk in"));
}

QString Handling::fitText() const {
    const HandlePart part = drag_->part();
    QStringList parts;
    for (int axis = 0; axis < 3; ++axis) {
        if (part.axis() >= 0 ? part.axis() != axis : part.planeWithout() == axis) continue;
        const double own = mover_->ownSize(editor_.scene(), axis, editor_.session().library());
        const QString letter = QString("XYZ").mid(axis, 1), factor = fixed(amount_.factors[axis], 2);
        parts << (own > 0 ? tr("%1 ×%2 → %3").arg(letter, factor, editor_.length(own))
                          : tr("%1 ×%2").arg(letter, factor));
    }
    if (atLimit_) parts << tr("as far as its kind allows");
    return parts.join("   ");
}

QString Handling::slideText() const {
    const std::pair<QString, QString> ways[] = {
        {tr("Right"), tr("Left")}, {tr("Up"), tr("Down")}, {tr("Back"), tr("Forward")}};
    const HandlePart part = drag_->part();
    const bool world = editor_.tools().axes == ops::AxesMode::World || part.which == kAll;
    const base::Mat3 axes = world ? base::Mat3(1.0) : drag_->handle().axes;
    const base::Vec3 to = placeNow(shown().origin);
    QStringList parts;
    for (int axis = 0; axis < 3; ++axis) {
        if (part.axis() >= 0 ? part.axis() != axis : part.planeWithout() == axis) continue;
        const double d = glm::dot(amount_.offset, axes[axis]);
        parts << (world ? QString("%1 %2 → %3")
                              .arg(d >= 0 ? ways[axis].first : ways[axis].second, editor_.length(std::abs(d)),
                                   lengthNumber(to[axis], editor_.unit(), 2))
                        : QString("%1 %2").arg(QString("XYZ").mid(axis, 1), editor_.length(d)));
    }
    if (const QString stopped = stoppedText(); !stopped.isEmpty()) parts << stopped;
    if (const QString seated = seatedText(); !seated.isEmpty()) parts << seated;
    return parts.join("   ");
}

QString Handling::text() const {
    const HandlePart part = drag_->part();
    if (part.task == Task::Fit) return fitText();
    if (part.task == Task::Slide) return slideText();
    const QString axis = part.axis() >= 0 ? QString("XYZ").mid(part.axis(), 1) + " " : QString();
    return tr("Turn %1%2°").arg(axis, fixed(base::degrees(amount_.radians), 1));
}

void Handling::paint(QPainter& p) const {
    const render::Handle h = shown();
    paintPierced(p, view_, h);
    paintHandle(p, view_, h, {drag_->part(), {}, true, true});
    paintReadout(p, text());
}

QString Handling::hint() const {
    switch (drag_->part().task) {
        case Task::Turn: return tr("Drag: turn · Shift: fine · Tab: type the angle · Esc: let go");
        case Task::Fit: return tr("Drag: size · Shift: fine · Tab: type the factor · Esc: let go");
        default:
            return tr("Drag: move · Shift: fine · hold 1 corner, 2 edge, 3 face, 4 centre, 5 route, 6 end, C line: "
                      "catch · G: "
                      "no "
                      "steps · Tab: type · Esc: let go") +
                   (editor_.tools().contact ? tr(" · X: through") : QString());
    }
}

}  // namespace

PullHandle::PullHandle(ViewContext& view) : Gesture(view) {}

std::optional<int> PullHandle::offer(const QPointF& pixel) {
    hovered_ = handlePartUnder(view_, pixel);
    if (!hovered_) return std::nullopt;
    return static_cast<int>(hovered_.task) * 8 + hovered_.which;
}

Gesture::Taken PullHandle::press(Qt::KeyboardModifiers modifiers) {
    const auto h = handleOf(view_);
    const HandlePart part = handlePartUnder(view_, view_.pointer);
    if (!h || !part) return {};
    lastPart_ = part;
    auto handling = std::make_unique<Handling>(view_);
    if (!handling->begin(*h, part, modifiers == Qt::ControlModifier)) handling.reset();
    return {true, std::move(handling)};
}

std::optional<QPointF> PullHandle::tip(int axis, Task task) const {
    const auto h = handleOf(view_);
    if (!h) return std::nullopt;
    base::Vec3 at = h->tip(task == Task::Fit ? Task::Fit : Task::Slide, axis, view_.camera, view_.viewport());
    if (task == Task::Turn) {
        std::vector<base::Vec3> front;
        for (const auto& point : h->ring(axis, view_.camera, view_.viewport()))
            if (point.front) front.push_back(point.at);
        if (front.empty()) return std::nullopt;
        at = front[front.size() / 2];
    }
    return view_.pixelOf(at);
}

/// Does a part's work by an amount on the selection, as a step.
void PullHandle::run(const HandlePart& part, const HandleAmount& amount) {
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    mover->setPicked(editor_.tools().pickedPivot);
    lastPart_ = part;
    editor_.run(verbOf(part) + ops::describe(editor_.scene(), mover->ids()), [&](edit::Draft& draft) -> base::Status {
        auto done = applyAmount(draft, *mover, part, amount, editor_.tools().pivot);
        return done ? base::Status{} : tl::unexpected(done.error());
    });
    view_.widget.setFocus();
}

// Left and right, up and down (away and near), Page Up and Down: each has the axis that looks most like it.
void PullHandle::nudge(Qt::Key key, Qt::KeyboardModifiers modifiers) {
    const ops::Mover* rest = editor_.isOpen() && !editor_.selection().empty() ? view_.rest.mover() : nullptr;
    if (rest == nullptr) return;
    const Task task = editor_.tools().activeTask();
    double share = (modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
    if ((modifiers & Qt::ControlModifier) != 0) share *= 4;
    const double step = editor_.tools().step(task).value * share;
    const render::Camera& camera = view_.camera;
    const base::Mat3 axes = rest->axes(task == Task::Fit ? ops::AxesMode::Own : editor_.tools().axes, viewAxes(camera));
    const bool seen = editor_.tools().axes == ops::AxesMode::View;
    // Level and away from the eye: what points up on the screen, looked at from above.
    const base::Vec3 ahead = seen ? camera.forward() : glm::cross(base::Vec3(0, 1, 0), camera.right());
    const KeyAxes nearest = axesNearest(axes, {camera.right(), ahead, seen ? camera.up() : base::Vec3(0, 1, 0)});
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
        amount.radians = base::radians(step) * (direction == 1 ? -way : way);
    }
    run({task, axis}, amount);
}

bool PullHandle::key(int key, Qt::KeyboardModifiers modifiers) {
    if (editor_.selection().empty()) return false;
    if (key == Qt::Key_Tab) return type(), true;
    for (int arrow : {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down, Qt::Key_PageUp, Qt::Key_PageDown})
        if (key == arrow) return nudge(static_cast<Qt::Key>(key), modifiers), true;
    return false;
}

/// The part an exact amount is typed for: the one pointed at, else the last one of the active task.
HandlePart PullHandle::typedPart() const {
    const HandlePart part = hovered_ ? hovered_ : lastPart_;
    if (part.task == editor_.tools().activeTask() || hovered_) return part;
    return {editor_.tools().activeTask(), editor_.tools().activeTask() == Task::Turn  ? 1
                                          : editor_.tools().activeTask() == Task::Fit ? kAll
                                                                                      : 0};
}

void PullHandle::type() {
    const auto h = handleOf(view_);
    if (!h) return;
    const auto centre = view_.pixelOf(h->origin);
    view_.amount.open(amountAsked(typedPart(), editor_.unit()), centre ? *centre + QPointF(24, 24) : QPointF(60, 60));
}

bool PullHandle::typed(const QString& text) {
    const auto h = handleOf(view_);
    if (!h) return true;  // nothing is selected any more
    const HandlePart part = typedPart();
    const base::Vec3 about = part.axis() >= 0 ? h->axes[part.axis()] : -view_.camera.forward();
    const auto amount = typedAmount(text, {*h, part, {}, about, view_.rest.mover()}, editor_);
    if (!amount) return editor_.report(tl::unexpected(amount.error()));
    run(part, *amount);
    return true;
}

void PullHandle::paint(QPainter& p) const {
    const auto h = handleOf(view_);
    if (!h) return;
    paintPierced(p, view_, *h);
    paintHandle(p, view_, *h, {hovered_, typedPart(), false, true});
}

QString PullHandle::hint() const {
    switch (hovered_.task) {
        case Task::Turn: return tr("Drag: turn the selection · Shift: fine");
        case Task::Fit: return tr("Drag: size the selection · Shift: fine");
        default:
            return editor_.tools().pullsLinked
                       ? tr("Drag: slide the selection · Shift: fine · with Ctrl: pull a linked copy")
                       : tr("Drag: slide the selection · Shift: fine · with Ctrl: pull a copy");
    }
}

GesturePtr pullHandle(ViewContext& view) {
    return std::make_unique<PullHandle>(view);
}

}  // namespace app
