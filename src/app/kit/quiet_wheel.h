#pragma once
// The wheel scrolls a panel; it must not change what happens to lie under the pointer.
#include <QEvent>
#include <QWidget>

namespace app {

class QuietWheel : public QObject {
  public:
    explicit QuietWheel(QWidget* widget) : QObject(widget) {
        widget->setFocusPolicy(Qt::StrongFocus);
        widget->installEventFilter(this);
    }
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() != QEvent::Wheel || static_cast<QWidget*>(watched)->hasFocus()) return false;
        event->ignore();  // the panel around it scrolls
        return true;
    }
};

}  // namespace app
