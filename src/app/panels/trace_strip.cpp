#include "app/panels/trace_strip.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "edit/session.h"

namespace app {
namespace {

using rehearse::Entry;
using rehearse::What;
constexpr double kLeft = 8, kRight = 8, kBase = 24;

/// How an entry is drawn: its colour, its height; the shape tells as well.
enum class Shape { Dot, Stroke, Diamond, Cross };
struct Look {
    QColor colour;
    Shape shape;
};
Look lookOf(What what, const Theme& t) {
    switch (what) {
        case What::Used:
        case What::Taken:
        case What::PutDown:
        case What::Thrown: return {t.honey, Shape::Diamond};
        case What::Entered:
        case What::Left: return {t.lilac, Shape::Stroke};
        case What::Reached: return {t.moss, Shape::Diamond};
        case What::Fell:
        case What::Hit:
        case What::Stopped:
        case What::Failed: return {t.rose, Shape::Cross};
        default: return {t.dim, Shape::Dot};
    }
}

bool isTold(What what) {
    return what != What::Began && what != What::Ended;
}

}  // namespace

TraceLine::TraceLine(Editor& editor, QWidget* parent)
    : QWidget(parent), editor_(editor), rehearsal_(editor.rehearsal()) {
    setObjectName("traceLine");
    setAccessibleName(tr("Line of the run in time"));
    setFixedHeight(34);
    setMouseTracking(true);
    setFocusPolicy(Qt::TabFocus);
    connect(&rehearsal_, &Rehearsal::advanced, this, QOverload<>::of(&QWidget::update));
    connect(&rehearsal_, &Rehearsal::changed, this, QOverload<>::of(&QWidget::update));
    connect(&editor_, &Editor::themeChanged, this, QOverload<>::of(&QWidget::update));
}

/// While one plays there is room ahead.
int TraceLine::lastStep() const {
    const rehearse::Trace* trace = rehearsal_.trace();
    const int steps = trace != nullptr ? trace->steps : 0;
    if (rehearsal_.mode() == Rehearsal::Mode::Looking) return std::max(steps, 1);
    const int ten = 10 * rehearse::kStepsPerSecond;
    return (steps / ten + 1) * ten;
}

double TraceLine::xOf(int step) const {
    return kLeft + (width() - kLeft - kRight) * step / static_cast<double>(lastStep());
}

int TraceLine::stepAt(double x) const {
    const double share = (x - kLeft) / std::max(1.0, width() - kLeft - kRight);
    return static_cast<int>(std::lround(std::clamp(share, 0.0, 1.0) * lastStep()));
}

/// The nearest; of those at the same pixel the first, for the others came of it.
const Entry* TraceLine::entryAt(const QPointF& p) const {
    const rehearse::Trace* trace = rehearsal_.trace();
    if (trace == nullptr) return nullptr;
    constexpr double kReach = 7, kSame = 0.5;  // pixels
    const Entry* best = nullptr;
    double nearest = kReach + kSame;
    for (const Entry& e : trace->entries) {
        if (!isTold(e.what)) continue;
        const double away = std::abs(xOf(e.step) - p.x());
        if (away >= nearest - kSame) continue;
        nearest = away;
        best = &e;
    }
    return best;
}

void TraceLine::paintEvent(QPaintEvent*) {
    const Theme& t = editor_.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const rehearse::Trace* trace = rehearsal_.trace();
    p.setPen(QPen(hasFocus() ? t.honey : t.line, 1.5));
    p.drawLine(QPointF(kLeft, kBase), QPointF(width() - kRight, kBase));
    if (trace == nullptr) return;
    // A tick for each second, or each few, with its number where there is room.
    const int seconds = lastStep() / rehearse::kStepsPerSecond;
    const double perSecond = (width() - kLeft - kRight) / std::max(1.0, static_cast<double>(seconds));
    int every = 1;
    for (const int next : {2, 5, 10, 20, 30, 60, 120, 300, 600})
        if (every * perSecond < 34) every = next;
    QFont small = font();
    small.setPixelSize(10);
    p.setFont(small);
    for (int s = 0; s <= seconds; s += every) {
        const double x = xOf(s * rehearse::kStepsPerSecond);
        p.setPen(t.line);
        p.drawLine(QPointF(x, kBase), QPointF(x, kBase + 3));
        p.setPen(t.faint);
        if (x < width() - 20) p.drawText(QPointF(x + 2, kBase + 10), tr("%1 s").arg(s));
    }
    if (const auto& parting = rehearsal_.parting(); parting && parting->step >= 0) {
        const double x = xOf(parting->step);
        p.setPen(QPen(t.rose, 1.5, Qt::DashLine));
        p.drawLine(QPointF(x, 1), QPointF(x, height() - 1.0));
    }
    for (std::size_t i = 0; i < trace->entries.size(); ++i) {
        const Entry& e = trace->entries[i];
        if (!isTold(e.what)) continue;
        const Look look = lookOf(e.what, t);
        const double x = xOf(e.step), y = look.shape == Shape::Dot ? kBase - 5 : kBase - 11;
        const bool lit = static_cast<int>(i) == hovered_;
        p.setPen(QPen(lit ? t.text : look.colour, lit ? 2.2 : 1.6));
        p.setBrush(look.colour);
        switch (look.shape) {
            case Shape::Dot: p.drawEllipse(QPointF(x, y), 1.6, 1.6); break;
            case Shape::Stroke: p.drawLine(QPointF(x, kBase - 1), QPointF(x, kBase - 13)); break;
            case Shape::Diamond: p.drawPolygon(QPolygonF{{x, y - 4}, {x + 4, y}, {x, y + 4}, {x - 4, y}}); break;
            case Shape::Cross:
                p.drawLine(QPointF(x - 3.5, y - 3.5), QPointF(x + 3.5, y + 3.5));
                p.drawLine(QPointF(x - 3.5, y + 3.5), QPointF(x + 3.5, y - 3.5));
                break;
        }
    }
    // The moment that is shown.
    const double x = xOf(rehearsal_.shownStep());
    p.setPen(QPen(t.honey, 2));
    p.drawLine(QPointF(x, 3), QPointF(x, kBase));
    p.setBrush(t.honey);
    p.setPen(Qt::NoPen);
    p.drawRoundedRect(QRectF(x - 4, 0, 8, 7), 3, 3);
}

void TraceLine::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || rehearsal_.trace() == nullptr) return;
    pressedAt_ = event->position();
    drags_ = true;
    if (const Entry* entry = entryAt(event->position())) {
        rehearsal_.show(entry->step);
        if (entry->object || entry->other) editor_.select({entry->object ? entry->object : entry->other});
        return;
    }
    rehearsal_.show(stepAt(event->position().x()));
}

void TraceLine::mouseMoveEvent(QMouseEvent* event) {
    if (drags_ && std::abs(event->position().x() - pressedAt_.x()) > 2)
        return rehearsal_.show(stepAt(event->position().x()));
    const Entry* entry = entryAt(event->position());
    const int now = entry != nullptr ? static_cast<int>(entry - rehearsal_.trace()->entries.data()) : -1;
    if (now == hovered_) return;
    hovered_ = now;
    if (entry != nullptr && rehearsal_.level() != nullptr)
        QToolTip::showText(
            event->globalPosition().toPoint(),
            tr("%1 s · %2").arg(fixed(entry->seconds(), 2), toQt(rehearse::textOf(*entry, *rehearsal_.level()))), this);
    else
        QToolTip::hideText();
    update();
}

void TraceLine::mouseReleaseEvent(QMouseEvent*) {
    drags_ = false;
}

void TraceLine::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

void TraceLine::keyPressEvent(QKeyEvent* event) {
    const int by =
        (event->modifiers() & Qt::ShiftModifier) != 0 ? rehearse::kStepsPerSecond : rehearse::kStepsPerSecond / 10;
    if (event->key() == Qt::Key_Left) return rehearsal_.show(rehearsal_.shownStep() - by);
    if (event->key() == Qt::Key_Right) return rehearsal_.show(rehearsal_.shownStep() + by);
    if (event->key() == Qt::Key_Home) return rehearsal_.show(0);
    if (event->key() == Qt::Key_End && rehearsal_.trace() != nullptr) return rehearsal_.show(rehearsal_.trace()->steps);
    if (event->key() == Qt::Key_Escape) return rehearsal_.end();
    QWidget::keyPressEvent(event);
}

TraceStrip::TraceStrip(Editor& editor, QWidget* parent)
    : QWidget(parent), editor_(editor), rehearsal_(editor.rehearsal()), bar_(new QWidget), asked_(new QWidget) {
    setObjectName("traceStrip");
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 2, 8, 2);
    column->setSpacing(0);
    askedRow_ = new QHBoxLayout(asked_);
    askedRow_->setContentsMargins(0, 2, 0, 2);
    askedRow_->setSpacing(8);
    column->addWidget(asked_);
    auto* row = new QHBoxLayout(bar_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    column->addWidget(bar_);
    row->addWidget(what_ = label(tr("Rehearsal"), "quiet"));
    row->addWidget(pause_ = tool("tracePause", tr("Pause"), tr("Pauses, or goes on (P)"),
                                 [this] { rehearsal_.setPaused(rehearsal_.mode() == Rehearsal::Mode::Playing); }));
    row->addWidget(
        step_ = tool("traceStep", tr("Step"), tr("One 120th of a second on (N)"), [this] { rehearsal_.stepOnce(); }));
    row->addWidget(speed_ = tool("traceSpeed", QString(), tr("How fast time goes: 1, 2 or 8 times (1, 2, 8)"), [this] {
                       rehearsal_.setSpeed(rehearsal_.speed() == 1 ? 2 : rehearsal_.speed() == 2 ? 8 : 1);
                   }));
    row->addWidget(free_ =
                       tool("traceFree", tr("Without a body"), tr("Flies about while the body stays where it is (B)"),
                            [this] { rehearsal_.setFree(!rehearsal_.isFree()); }));
    free_->setCheckable(true);
    row->addWidget(again_ = tool("traceAgain", tr("Begin again"), tr("From where this run began (F5)"),
                                 [this] { rehearsal_.again(); }));
    row->addWidget(keep_ = tool("settleKeep", tr("Keep"), tr("Leaves them where they have come to rest, as one step"),
                                [this] { rehearsal_.keepSettled(); }));
    row->addWidget(
        drop_ = tool("settleDrop", tr("Drop"), tr("Everything stays as it was (Esc)"), [this] { rehearsal_.end(); }));
    row->addWidget(line_ = new TraceLine(editor), 1);
    row->addWidget(time_ = label({}, "traceTime"));
    time_->setMinimumWidth(96);
    time_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    row->addWidget(end_ = tool("traceEnd", tr("Back to the scene"), tr("Everything is as it was before (Esc)"),
                               [this] { rehearsal_.end(); }));
    asked_->hide();
    connect(&rehearsal_, &Rehearsal::changed, this, &TraceStrip::refresh);
    connect(&rehearsal_, &Rehearsal::advanced, this, [this] {
        const rehearse::Trace* trace = rehearsal_.trace();
        if (trace == nullptr) return;
        time_->setText(
            tr("%1 of %2 s").arg(fixed(rehearsal_.shownStep() * rehearse::kStep, 1), fixed(trace->seconds(), 1)));
    });
    connect(&editor_, &Editor::sceneShown, this, &TraceStrip::clearAsked);
    connect(&editor_, &Editor::historyChanged, this, &TraceStrip::clearAsked);
    refresh();
}

QToolButton* TraceStrip::tool(const char* name, const QString& text, const QString& tip, std::function<void()> act) {
    auto* made = button<QToolButton>(name, text, tip);
    made->setFocusPolicy(Qt::TabFocus);
    connect(made, &QToolButton::clicked, this, std::move(act));
    return made;
}

void TraceStrip::refresh() {
    using Mode = Rehearsal::Mode;
    const Mode mode = rehearsal_.mode();
    if (mode != Mode::Off) clearAsked();
    bar_->setVisible(mode != Mode::Off);
    const bool played = rehearsal_.isPlayed(), settles = mode == Mode::Settling, rides = mode == Mode::Riding;
    what_->setText(settles                 ? tr("Settling")
                   : rides                 ? tr("On its way along its points")
                   : mode == Mode::Looking ? tr("A run that is over")
                                           : tr("Rehearsal"));
    for (QToolButton* one : {pause_, step_, speed_, again_}) one->setVisible(played);
    free_->setVisible(played || mode == Mode::Looking);
    free_->setChecked(rehearsal_.isFree());
    for (QToolButton* one : {keep_, drop_}) one->setVisible(settles);
    line_->setVisible(!settles && !rides);
    time_->setVisible(!settles && !rides);
    end_->setVisible(!settles);
    pause_->setText(mode == Mode::Paused ? tr("Go on") : tr("Pause"));
    speed_->setText(tr("%1 ×").arg(rehearsal_.speed()));
    speed_->setAccessibleName(tr("How fast time goes"));
    setVisible(mode != Mode::Off || !asked_->isHidden());
    if (settles) keep_->setFocus();
}

void TraceStrip::clearAsked() {
    while (QLayoutItem* item = askedRow_->takeAt(0)) {
        if (QWidget* widget = item->widget()) {  // it may be the one that was clicked
            widget->hide();
            widget->setObjectName({});
            widget->deleteLater();
        }
        delete item;
    }
    asked_->hide();
    setVisible(rehearsal_.isOn());
}

void TraceStrip::ask(const QString& what, std::vector<Offer> offers) {
    clearAsked();
    auto* text = wrapped(what, "traceAsked");
    askedRow_->addWidget(text, 1);
    QToolButton* first = nullptr;
    for (std::size_t i = 0; i < offers.size(); ++i) {
        const std::string name = "traceOffer" + std::to_string(i + 1);
        auto* offer = tool(name.c_str(), offers[i].text, offers[i].text, [this, act = offers[i].act] {
            clearAsked();
            act();
        });
        if (first == nullptr) first = offer;
        askedRow_->addWidget(offer);
    }
    askedRow_->addWidget(tool("traceNot", tr("Not now"), tr("Stays in the scene"), [this] { clearAsked(); }));
    asked_->show();
    show();
    if (first != nullptr) first->setFocus();
}

}  // namespace app
