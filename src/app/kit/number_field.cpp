#include "app/kit/number_field.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

#include "app/kit/parts.h"
#include "base/text.h"

namespace app {

NumberField::NumberField(base::Quantity quantity, int decimals, QWidget* parent)
    : QLineEdit(parent), quantity_(quantity), decimals_(decimals) {
    setMouseTracking(true);
    setMinimumWidth(56);
}

void NumberField::setMark(FieldMark mark, const QColor& colour) {
    mark_ = mark;
    colour_ = colour;
    setTextMargins(mark == FieldMark::None ? 0 : 13, 0, 0, 0);
    update();
}

void NumberField::setValue(double value) {
    QString text = numberText(value);
    if (quantity_ == base::Quantity::Angle) text += QStringLiteral("°");
    setPlaceholderText({});
    value_ = value;
    shown_ = text;
    if (!hasFocus() || !isModified()) setText(text);
    if (!hasFocus()) home(false);  // what does not fit loses decimals, never its first digits
}

void NumberField::setMixed() {
    showWord(tr("mixed"));
}

void NumberField::setNone() {
    showWord(tr("none"));
}

void NumberField::showWord(const QString& word) {
    shown_.clear();
    value_.reset();
    setPlaceholderText(word);
    if (!hasFocus() || !isModified()) clear();
}

void NumberField::accept() {
    if (!isModified() || text() == shown_) {
        setText(shown_);
        return;
    }
    const QString expression = text();
    setModified(false);
    setText(shown_);
    Q_EMIT typed(isLength() ? toQt(base::typedIn(expression.toStdString(), unit_)) : expression);
}

/// The tip has all the digits, where the field has not.
bool NumberField::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip || !value_) return QLineEdit::event(event);
    const double value = isLength() ? *value_ * base::traits(unit_).perMetre : *value_;
    const QString all = QString::fromStdString(base::shortest(value)), brief = numberText(*value_);
    if (brief == all || std::abs(value - brief.toDouble()) < 1e-12) return QLineEdit::event(event);
    QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), toolTip().isEmpty() ? all : all + "\n" + toolTip(),
                       this);
    return true;
}

/// With the decimals that are shown.
QString NumberField::numberText(double value) const {
    return isLength() ? lengthNumber(value, unit_, decimals_) : fixed(value, decimals_);
}

void NumberField::paintEvent(QPaintEvent* event) {
    QLineEdit::paintEvent(event);
    if (mark_ == FieldMark::None) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(isEnabled() ? colour_ : palette().mid().color());
    const QPointF c(9, height() / 2.0);
    if (mark_ == FieldMark::Cube) p.drawRect(QRectF(c - QPointF(3.5, 3.5), QSizeF(7, 7)));
    if (mark_ == FieldMark::Ball) p.drawEllipse(c, 3.8, 3.8);
    if (mark_ == FieldMark::Cone)
        p.drawPolygon(QPolygonF({c + QPointF(0, -4), c + QPointF(4, 3.5), c + QPointF(-4, 3.5)}));
}

void NumberField::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && onMark(event->position()) && isEnabled() && !isReadOnly()) {
        dragFrom_ = event->globalPosition().x();
        dragging_ = true;
        setFocus();
        Q_EMIT dragStarted();
        return;
    }
    QLineEdit::mousePressEvent(event);
}

void NumberField::mouseMoveEvent(QMouseEvent* event) {
    if (dragging_) {
        const double fine = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
        Q_EMIT dragged((event->globalPosition().x() - dragFrom_) * perPixel_ * fine);
        return;
    }
    setCursor(onMark(event->position()) ? Qt::SizeHorCursor : Qt::IBeamCursor);
    QLineEdit::mouseMoveEvent(event);
}

void NumberField::mouseReleaseEvent(QMouseEvent* event) {
    if (dragging_) {
        dragging_ = false;
        Q_EMIT dragEnded(true);
        return;
    }
    QLineEdit::mouseReleaseEvent(event);
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    const double way = event->key() == Qt::Key_Up ? 1 : event->key() == Qt::Key_Down ? -1 : 0;
    if (way != 0) {
        const auto m = event->modifiers();
        Q_EMIT stepped(way * perKey_ *
                       ((m & Qt::ShiftModifier) != 0     ? 0.1
                        : (m & Qt::ControlModifier) != 0 ? 4.0
                                                         : 1.0));
        return;
    }
    if (event->key() == Qt::Key_Escape) {
        if (dragging_) {
            dragging_ = false;
            Q_EMIT dragEnded(false);
        }
        setModified(false);
        setText(shown_);
        selectAll();
        return;
    }
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        accept();
        selectAll();
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void NumberField::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    if (event->reason() != Qt::MouseFocusReason) selectAll();
}

void NumberField::focusOutEvent(QFocusEvent* event) {
    accept();
    QLineEdit::focusOutEvent(event);
    home(false);
}

}  // namespace app
