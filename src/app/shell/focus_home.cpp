#include "app/shell/focus_home.h"

#include <QApplication>
#include <QComboBox>
#include <QCursor>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPointer>
#include <QTimer>

#include "app/kit/number_field.h"

namespace app {

namespace {

bool isTypedInto(const QObject* widget) {
    for (const char* type : {"QLineEdit", "QTextEdit", "QPlainTextEdit", "QAbstractSpinBox", "QsciScintillaBase"})
        if (widget->inherits(type)) return true;
    const auto* box = qobject_cast<const QComboBox*>(widget);
    return box != nullptr && box->isEditable();
}

bool keepsKeyboard(const QWidget* widget) {
    for (; widget != nullptr; widget = widget->isWindow() ? nullptr : widget->parentWidget())
        if (widget->property("keepsKeyboard").toBool()) return true;
    return false;
}

/// A key that does something to the scene, or to what is selected in it.
bool changesScene(const QKeyEvent& event) {
    const int key = event.key();
    if ((event.modifiers() & (Qt::AltModifier | Qt::MetaModifier)) != 0) return false;
    if ((event.modifiers() & Qt::ControlModifier) != 0)
        return key == Qt::Key_A || key == Qt::Key_C || key == Qt::Key_X || key == Qt::Key_V || key == Qt::Key_D ||
               key == Qt::Key_G || key == Qt::Key_Delete;
    return key < Qt::Key_Escape || key == Qt::Key_Escape || key == Qt::Key_Delete || key == Qt::Key_Backspace ||
           key == Qt::Key_Return || key == Qt::Key_Enter || (key >= Qt::Key_Home && key <= Qt::Key_PageDown);
}

}  // namespace

FocusHome::FocusHome(QWidget* window, std::function<QWidget*()> view, std::vector<QWidget*> rooms)
    : QObject(window), window_(window), view_(std::move(view)), rooms_(std::move(rooms)) {
    qApp->installEventFilter(this);
    connect(qApp, &QApplication::focusChanged, this, &FocusHome::focusMoved);
}

bool FocusHome::inRoom(const QWidget* widget) const {
    if (keepsKeyboard(widget)) return false;
    if (qobject_cast<const NumberField*>(widget) != nullptr) return widget->window() == window_;
    for (const QWidget* room : rooms_)
        if (room == widget || room->isAncestorOf(widget)) return true;
    return false;
}

/// When what has the keyboard goes, Qt passes it on to whatever is next: a name field, say.
void FocusHome::focusMoved(QWidget* from, QWidget* to) {
    if (QApplication::activeWindow() != window_ || QApplication::activePopupWidget() != nullptr) return;
    const bool gone = from != nullptr && from->window() == window_ && !from->isVisible();
    if (to == nullptr || (gone && to->window() == window_)) view_()->setFocus();
}

void FocusHome::giveBackFrom(QWidget* field) {
    QTimer::singleShot(0, this, [this, field = QPointer<QWidget>(field)] {
        if (field != nullptr && QApplication::focusWidget() == field) view_()->setFocus();
    });
}

/// Is this a key of the view's, pressed with the pointer over it while the focus is on something nobody types into?
bool FocusHome::isForView(QObject* watched, const QKeyEvent& event) const {
    constexpr Qt::KeyboardModifiers kOthers = Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier;
    const int key = event.key();
    // Tab begins to type an amount, also from a list in which the object was chosen.
    const bool tab =
        key == Qt::Key_Tab && event.modifiers() == Qt::NoModifier && watched->inherits("QAbstractItemView");
    const bool sign = tab || (key >= Qt::Key_A && key <= Qt::Key_Z) || (key >= Qt::Key_0 && key <= Qt::Key_9);
    QWidget* view = view_();
    if (!sign || (event.modifiers() & kOthers) != 0 || watched == view || !watched->isWidgetType()) return false;
    if (watched != QApplication::focusWidget() || QApplication::activeWindow() != window_ || isTypedInto(watched))
        return false;
    return view->rect().contains(view->mapFromGlobal(QCursor::pos()));
}

/// In what keeps the keyboard no key is short for what changes the scene; Esc takes back what is typed before it closes
/// anything. True: that was all the key does.
bool FocusHome::keyInKeeper(QObject* watched, QKeyEvent& event) const {
    auto* widget = qobject_cast<QWidget*>(watched);
    if (widget == nullptr || widget != QApplication::focusWidget() || !keepsKeyboard(widget)) return false;
    if (event.type() == QEvent::ShortcutOverride) {
        if (!changesScene(event)) return false;
        event.accept();
        return true;
    }
    auto* field = qobject_cast<QLineEdit*>(widget);
    if (event.key() != Qt::Key_Escape || field == nullptr || !field->isModified()) return false;
    while (field->isModified() && field->isUndoAvailable()) field->undo();
    field->setModified(false);
    return true;
}

bool FocusHome::eventFilter(QObject* watched, QEvent* event) {
    const bool isKey = event->type() == QEvent::KeyPress || event->type() == QEvent::KeyRelease ||
                       event->type() == QEvent::ShortcutOverride;
    if (isKey && QApplication::activePopupWidget() == nullptr &&
        isForView(watched, *static_cast<const QKeyEvent*>(event))) {
        if (static_cast<const QKeyEvent*>(event)->key() == Qt::Key_Tab) {
            if (event->type() == QEvent::KeyPress) view_()->setFocus();  // what is typed next goes there
        }
        QCoreApplication::sendEvent(view_(), event);
        return event->isAccepted() || event->type() != QEvent::ShortcutOverride;
    }
    if (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) {
        if (keyInKeeper(watched, *static_cast<QKeyEvent*>(event))) return true;
        if (event->type() == QEvent::ShortcutOverride && QApplication::activePopupWidget() != nullptr) {
            event->accept();  // of what is open, whatever it is short for otherwise
            return true;
        }
        auto* field = qobject_cast<QLineEdit*>(watched);
        if (field == nullptr || !inRoom(field)) return false;
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (event->type() == QEvent::ShortcutOverride) {
            if (key == Qt::Key_Escape) event->accept();  // of the field, before it is a command's
            return key == Qt::Key_Escape;
        }
        if (key == Qt::Key_Escape)
            while (field->isModified() && field->isUndoAvailable()) field->undo();
        if (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Escape) giveBackFrom(field);
    } else if (event->type() == QEvent::Hide && watched->isWidgetType()) {
        // The list of a drop-down is a window of its own, below the field that opened it.
        auto* list = static_cast<QWidget*>(watched);
        auto* box = list->isWindow() ? qobject_cast<QComboBox*>(list->parentWidget()) : nullptr;
        if (box != nullptr && inRoom(box)) giveBackFrom(box);
    }
    return false;
}

}  // namespace app
