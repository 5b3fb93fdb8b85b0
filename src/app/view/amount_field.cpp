#include "app/view/amount_field.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <algorithm>

namespace app {

AmountField::AmountField(QWidget& over) : over_(over) {}

bool AmountField::isOpen() const {
    return field_ != nullptr && field_->isVisible();
}

void AmountField::close() {
    if (field_ != nullptr) field_->hide();
}

void AmountField::open(const QString& what, const QPointF& at) {
    if (field_ == nullptr) {
        field_ = new QLineEdit(&over_);
        field_->setObjectName("amountField");
        field_->installEventFilter(this);
    }
    const int width = std::max(240, over_.fontMetrics().horizontalAdvance(what) + 24);
    field_->setFixedSize(width, 26);
    field_->setAccessibleName(what);
    field_->setPlaceholderText(what);
    field_->setToolTip(what + tr("; arithmetic and units work, Enter does it, Esc does not"));
    field_->clear();
    field_->move(std::clamp(static_cast<int>(at.x()), 6, std::max(6, over_.width() - width - 10)),
                 std::clamp(static_cast<int>(at.y()), 6, std::max(6, over_.height() - 40)));
    field_->show();
    field_->raise();
    field_->setFocus();
    Q_EMIT opened(what);
}

bool AmountField::eventFilter(QObject* watched, QEvent* event) {
    if (watched != field_ || event->type() != QEvent::KeyPress) return QObject::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (enter) Q_EMIT accepted(field_->text().trimmed());
    if (key == Qt::Key_Escape) Q_EMIT refused();
    return enter || key == Qt::Key_Escape;
}

}  // namespace app
