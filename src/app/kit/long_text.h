#pragma once
// A field for several lines that tells when it is left, so that a text becomes one step.
#include <QFocusEvent>
#include <QPlainTextEdit>
#include <functional>

namespace app {

class LongText : public QPlainTextEdit {
  public:
    LongText() { setStyleSheet(QStringLiteral("min-height: 56px;")); }  // three lines, wherever it stands
    std::function<void()> left;

  protected:
    void focusOutEvent(QFocusEvent* event) override {
        left();
        QPlainTextEdit::focusOutEvent(event);
    }
};

}  // namespace app
