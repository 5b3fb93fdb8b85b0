#include "app/look/plain_text.h"

#include <QApplication>
#include <QEvent>
#include <QLabel>
#include <QMessageBox>

namespace app {
namespace {

/// Labels get their look before they are first shown; tips are labels too.
class PlainText : public QObject {
  public:
    using QObject::QObject;

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() != QEvent::Polish) return false;
        if (auto* label = qobject_cast<QLabel*>(watched)) label->setTextFormat(Qt::PlainText);
        if (auto* box = qobject_cast<QMessageBox*>(watched)) box->setTextFormat(Qt::PlainText);
        return false;
    }
};

}  // namespace

void keepTextPlain() {
    static QPointer<PlainText> filter;
    if (filter != nullptr) return;
    filter = new PlainText(qApp);
    qApp->installEventFilter(filter);
}

}  // namespace app
