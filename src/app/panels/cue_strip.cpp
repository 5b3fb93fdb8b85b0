#include "app/panels/cue_strip.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/look/theme.h"

namespace app {

namespace {

constexpr double kLane = 18, kAxis = 18, kLeft = 10, kRight = 60;  // pixels
constexpr int kMostLanes = 6;
constexpr double kStep = 0.1, kFine = 0.01;  // seconds

}  // namespace

CueStrip::CueStrip(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("cueStrip");
    setAccessibleName(tr("Effects of the cue in time"));
    setToolTip(tr("Drag an effect to when it begins; with Shift in hundredths. Arrows move the one that was clicked"));
    setFocusPolicy(Qt::ClickFocus);
    setMouseTracking(true);
}

void CueStrip::show(const std::optional<model::Cue>& cue, const QStringList& words) {
    if (cue_ == cue && words_ == words) return;
    cue_ = cue;
    words_ = words;
    drags_ = false;
    scale_ = 0;
    if (!cue_ || held_ >= static_cast<int>(cue_->then.size())) held_ = -1;
    setVisible(cue_ && !cue_->then.empty());
    setFixedHeight(sizeHint().height());
    update();
}

QSize CueStrip::sizeHint() const {
    const int lanes = cue_ ? std::clamp(static_cast<int>(cue_->then.size()), 1, kMostLanes) : 1;
    return {200, static_cast<int>(lanes * kLane + kAxis)};
}

double CueStrip::afterOf(int effect) const {
    return drags_ && effect == held_ ? at_ : cue_->then[static_cast<std::size_t>(effect)].after;
}

double CueStrip::seconds() const {
    if (scale_ > 0) return scale_;  // it stands still while one drags
    double most = 2;
    for (const model::CueThen& then : cue_->then)
        most = std::max(most, then.after + (then.moves() || then.isOfActs() ? then.seconds : 0.0));
    return most * 1.1;
}

double CueStrip::xOf(double second) const {
    return kLeft + second / seconds() * (width() - kLeft - kRight);
}

QPointF CueStrip::beginOf(int effect) const {
    return {xOf(afterOf(effect)), (effect + 0.5) * kLane};
}

int CueStrip::effectAt(const QPointF& at) const {
    const int lane = static_cast<int>(std::floor(at.y() / kLane));
    if (!cue_ || lane < 0 || lane >= std::min(static_cast<int>(cue_->then.size()), kMostLanes)) return -1;
    const model::CueThen& then = cue_->then[static_cast<std::size_t>(lane)];
    const double from = xOf(then.after), to = xOf(then.after + (then.moves() || then.isOfActs() ? then.seconds : 0.0));
    return at.x() > from - 8 && at.x() < to + 8 ? lane : -1;
}

void CueStrip::paintEvent(QPaintEvent*) {
    if (!cue_) return;
    const Theme& t = editor_.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    QFont letters = font();
    letters.setPixelSize(11);
    p.setFont(letters);
    const int lanes = std::min(static_cast<int>(cue_->then.size()), kMostLanes);
    const double foot = lanes * kLane;
    double tick = 0.5;
    while (seconds() / tick > 12) tick *= 2;
    for (double s = 0; s <= seconds(); s += tick) {
        p.setPen(QPen(t.line, 1));
        p.drawLine(QPointF(xOf(s), 0), QPointF(xOf(s), foot + 3));
        p.setPen(t.faint);
        p.drawText(QRectF(xOf(s) - 30, foot + 2, 60, 14), Qt::AlignCenter, tr("%1 s").arg(QString::number(s)));
    }
    for (int i = 0; i < lanes; ++i) {
        const model::CueThen& then = cue_->then[static_cast<std::size_t>(i)];
        const QPointF at = beginOf(i);
        const double end = xOf(afterOf(i) + (then.moves() || then.isOfActs() ? then.seconds : 0.0));
        const QColor colour = i == held_ ? t.honey : t.lemon;
        p.setPen(Qt::NoPen);
        p.setBrush(colour);
        if (end > at.x() + 6)
            p.drawRoundedRect(QRectF(at.x(), at.y() - 4, end - at.x(), 8), 3, 3);
        else
            p.drawPolygon(QPolygonF({at - QPointF(5, 0), at - QPointF(0, 5), at + QPointF(5, 0), at + QPointF(0, 5)}));
        p.setPen(t.text);
        const QString words =
            (drags_ && i == held_ ? tr("%1 s · ").arg(QString::number(at_)) : QString()) + words_.value(i);
        const double from = std::max(end, at.x() + 6) + 6, wide = p.fontMetrics().horizontalAdvance(words);
        if (from + wide < width())
            p.drawText(QRectF(from, at.y() - 8, wide + 4, 16), Qt::AlignVCenter, words);
        else  // there is more room before it
            p.drawText(QRectF(0, at.y() - 8, std::max(at.x() - 10, 0.0), 16), Qt::AlignRight | Qt::AlignVCenter,
                       p.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(std::max(at.x() - 10, 0.0))));
    }
}

void CueStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    held_ = effectAt(event->position());
    drags_ = held_ >= 0;
    if (drags_) {
        at_ = cue_->then[static_cast<std::size_t>(held_)].after;
        scale_ = seconds();
        grip_ = event->position().x() - xOf(at_);
    }
    update();
}

void CueStrip::mouseMoveEvent(QMouseEvent* event) {
    setCursor(drags_ || effectAt(event->position()) >= 0 ? Qt::SizeHorCursor : Qt::ArrowCursor);
    if (!drags_) return;
    const double step = (event->modifiers() & Qt::ShiftModifier) != 0 ? kFine : kStep;
    const double raw = (event->position().x() - grip_ - kLeft) / (width() - kLeft - kRight) * seconds();
    // As few digits as are meant: 1.3, not 1.3000000000000003.
    at_ = std::round(std::max(0.0, std::round(raw / step) * step) * 100) / 100;
    update();
}

void CueStrip::letGo() {
    drags_ = false;
    scale_ = 0;
    update();
}

void CueStrip::mouseReleaseEvent(QMouseEvent*) {
    if (!drags_) return;
    const bool isOther = at_ != cue_->then[static_cast<std::size_t>(held_)].after;
    letGo();
    if (isOther) Q_EMIT moved(held_, at_);
}

void CueStrip::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && drags_) return letGo();
    const int way = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (way == 0 || held_ < 0 || drags_ || !cue_) return QWidget::keyPressEvent(event);
    const double step = (event->modifiers() & Qt::ShiftModifier) != 0 ? kFine : kStep;
    const double is = cue_->then[static_cast<std::size_t>(held_)].after;
    Q_EMIT moved(held_, std::round(std::max(0.0, is + way * step) * 100) / 100);
}

}  // namespace app
