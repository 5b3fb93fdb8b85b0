// Chance drives the real window: mouse, wheel, keys, menus and commands in any order, over whatever is there. Nothing
// breaks, and the history goes back to the bytes of the beginning and forth to those of the end.
// MELLOW_MONKEY_SEED and MELLOW_MONKEY_ACTIONS make it another run, or a longer one; MELLOW_MONKEY_TELLS says each
// action.
#include <QAbstractButton>
#include <QComboBox>
#include <QDrag>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTimer>
#include <random>

#include "app/window_fixture.h"
#include "edit/session.h"
#include "support/naive_prefabs.h"
#include "support/test_main.h"

namespace window_monkey_test {

class WindowMonkeyTest : public WindowFixture {
    Q_OBJECT
    std::mt19937_64 chance_;
    QTimer closer_;  // of what is modal: nobody else answers
    int begun_ = 0, seen_ = 0, stuck_ = 0;

    int upTo(int n) { return static_cast<int>(chance_() % static_cast<std::uint64_t>(n)); }
    template <class T, std::size_t N>
    const T& oneOf(const T (&all)[N]) {
        return all[upTo(static_cast<int>(N))];
    }
    Qt::KeyboardModifiers modifiers() {
        const Qt::KeyboardModifiers all[] = {Qt::NoModifier,
                                             Qt::NoModifier,
                                             Qt::NoModifier,
                                             Qt::ShiftModifier,
                                             Qt::AltModifier,
                                             Qt::ControlModifier,
                                             Qt::ControlModifier | Qt::ShiftModifier};
        return oneOf(all);
    }
    QPoint anywhere(const QWidget& in) { return {upTo(std::max(in.width(), 1)), upTo(std::max(in.height(), 1))}; }
    /// What lies at a place of the window, or of the menu that is open over it.
    QWidget* under(QPoint& at) {
        QWidget* top = QApplication::activePopupWidget();
        if (top == nullptr) top = window_.get();
        at = anywhere(*top);
        QWidget* child = top->childAt(at);
        if (child == nullptr) return top;
        at = child->mapFrom(top, at);
        return child;
    }
    /// Leads out of the project, or to other programs.
    static bool isLeftOut(const QString& id) {
        for (const char* one : {"project.quit", "project.new", "project.open", "project.recent", "project.import",
                                "project.export", "scene.duplicate", "table.export", "table.import", "sounds.add",
                                "prefab.showFile", "scripts.personal", "checks.all"})
            if (id == QLatin1String(one)) return true;
        return id.startsWith("project.recent");
    }

    QString click() {
        QPoint at;
        QPointer<QWidget> widget = under(at);
        const auto* button = qobject_cast<QAbstractButton*>(widget);
        const QString name = QLatin1String(widget->metaObject()->className()) + ' ' + widget->objectName();
        if (button != nullptr && !button->isEnabled()) return {};
        const Qt::MouseButton which = upTo(5) == 0 ? Qt::RightButton : Qt::LeftButton;
        if (upTo(8) == 0)
            QTest::mouseDClick(widget, Qt::LeftButton, modifiers(), at);
        else
            QTest::mouseClick(widget, which, modifiers(), at);
        return "click " + name;
    }
    QString drag() {
        QPoint at;
        QPointer<QWidget> widget = upTo(3) != 0 ? &view() : under(at);
        const Qt::MouseButton buttons[] = {Qt::LeftButton, Qt::LeftButton, Qt::LeftButton, Qt::MiddleButton,
                                           Qt::RightButton};
        const Qt::MouseButton which = oneOf(buttons);
        const Qt::KeyboardModifiers held = modifiers();
        const QPoint from = anywhere(*widget), to = anywhere(*widget);
        QTest::mouseMove(widget, from);
        if (widget) QTest::mousePress(widget, which, held, from);
        for (int i = 1; i <= 6 && widget; ++i) {
            const QPointF where = QPointF(from) + QPointF(to - from) * i / 6;
            QMouseEvent move(QEvent::MouseMove, where, widget->mapToGlobal(where), Qt::NoButton, which, held);
            QApplication::sendEvent(widget, &move);
            if (upTo(12) == 0 && widget) QTest::keyClick(widget, Qt::Key_Escape);
        }
        if (widget) QTest::mouseRelease(widget, which, held, to);
        return "drag";
    }
    QString wheel() {
        QPoint at;
        QWidget* widget = under(at);
        QWheelEvent event(at, widget->mapToGlobal(at), {}, {0, upTo(2) == 0 ? 120 : -120}, Qt::NoButton, modifiers(),
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(widget, &event);
        return "wheel";
    }
    QWidget* keyboard() {
        if (QWidget* popup = QApplication::activePopupWidget()) return popup;
        if (QWidget* focus = QApplication::focusWidget()) return focus;
        return &view();
    }
    QString key() {
        constexpr Qt::Key kKeys[] = {Qt::Key_Escape, Qt::Key_Return, Qt::Key_Tab,   Qt::Key_Delete,    Qt::Key_Up,
                                     Qt::Key_Down,   Qt::Key_Left,   Qt::Key_Right, Qt::Key_PageUp,    Qt::Key_PageDown,
                                     Qt::Key_Home,   Qt::Key_F2,     Qt::Key_F3,    Qt::Key_F4,        Qt::Key_F6,
                                     Qt::Key_F7,     Qt::Key_F9,     Qt::Key_F11,   Qt::Key_Backspace, Qt::Key_Space};
        const auto which = upTo(2) == 0 ? oneOf(kKeys) : static_cast<Qt::Key>(Qt::Key_A + upTo(26));
        const Qt::KeyboardModifiers held = modifiers();
        if (which == Qt::Key_Q && held == Qt::ControlModifier) return {};
        if ((which == Qt::Key_O || which == Qt::Key_N) && (held & Qt::ControlModifier) != 0) return {};
        if ((which == Qt::Key_S || which == Qt::Key_I || which == Qt::Key_E) && (held & Qt::ControlModifier) != 0)
            return {};
        QTest::keyClick(keyboard(), which, held);
        return "key " + QKeySequence(static_cast<int>(which) | static_cast<int>(held)).toString();
    }
    QString type() {
        const char* texts[] = {"2",       "-0.5",    "+= 1", "* 2",  "0", "1e9", "lantern", "kind:Lantern oil>1",
                               "Crew ##", "4 x 2.5", "\"",   "80 cm"};
        QWidget* at = keyboard();
        if (qobject_cast<QLineEdit*>(at) == nullptr) return {};
        QTest::keyClicks(at, oneOf(texts));
        return "type";
    }
    QString command() {
        std::vector<QAction*> may;
        for (const app::Command& one : window_->commands().all())
            if (QAction* action = window_->commands().action(one.id); action->isEnabled() && !isLeftOut(one.id))
                may.push_back(action);
        QAction* chosen = may[static_cast<std::size_t>(upTo(static_cast<int>(may.size())))];
        const QString id = chosen->objectName();
        chosen->trigger();
        return "command " + id;
    }
    QString select() {
        std::vector<base::ObjectId> ids;
        const model::Scene& scene = editor_->scene();
        for (int i = upTo(3); i >= 0; --i)
            if (const auto s = static_cast<Slot>(upTo(static_cast<int>(scene.slotEnd()))); scene.alive(s))
                ids.push_back(scene.id(s));
        editor_->select(ids);
        return QString("select %1").arg(ids.size());
    }
    QString act() {
        ++begun_;
        if (upTo(8) == 0) return select();
        const int n = upTo(100);
        if (n < 30) return click();
        if (n < 48) return drag();
        if (n < 54) return wheel();
        if (n < 74) return key();
        if (n < 82) return type();
        return command();
    }
    /// Nothing is held, asked or open any more.
    void comeToRest() {
        for (int i = 0; i < 12; ++i) {
            if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
            view().setFocus();
            QTest::keyClick(&view(), Qt::Key_Escape);
            test::settle();
        }
    }

  private Q_SLOTS:
    void initTestCase() {
        useOwnSettings("window-monkey-test");
        connect(&closer_, &QTimer::timeout, this, [this] {
            QDrag::cancel();
            if (QWidget* modal = QApplication::activeModalWidget()) modal->close();
            // A menu in whose loop one is: nothing goes on before it closes.
            QWidget* popup = QApplication::activePopupWidget();
            stuck_ = popup != nullptr && begun_ == seen_ ? stuck_ + 1 : 0;
            seen_ = begun_;
            if (stuck_ > 2) popup->close();
        });
        closer_.start(30);
    }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void whateverIsDoneIsUndone() {
        const QByteArray seedSaid = qgetenv("MELLOW_MONKEY_SEED"), actionsSaid = qgetenv("MELLOW_MONKEY_ACTIONS");
        const quint64 seed = seedSaid.isEmpty() ? 7 : seedSaid.toULongLong();
        const int actions = actionsSaid.isEmpty() ? 300 : actionsSaid.toInt();
        qInfo("seed %llu, %d actions", static_cast<unsigned long long>(seed), actions);
        chance_.seed(seed);
        edit::Session& session = editor_->session();
        const auto before = test::documentBytes(session);
        int done = 0;
        for (int i = 0; i < actions; ++i) {
            const QString what = act();
            if (!what.isEmpty()) ++done;
            if (qEnvironmentVariableIsSet("MELLOW_MONKEY_TELLS")) fprintf(stderr, "%d %s\n", i, qPrintable(what));
            if (i % 5 == 0) test::settle();
            if (i % 60 == 59) editor_->select({});
            QVERIFY(editor_->isOpen());
        }
        comeToRest();
        const auto after = test::documentBytes(session);
        const edit::StepId there = session.history().present();
        QVERIFY(session.jumpTo(edit::kRoot));
        // A scene that was made on the way is no step, and stays.
        const auto undone = test::documentBytes(session);
        for (const auto& [name, text] : before)
            QVERIFY2(undone.contains(name) && undone.at(name) == text, name.c_str());
        for (const auto& [name, text] : undone) QVERIFY2(before.contains(name) || !model::prefabOf(name), name.c_str());
        QVERIFY(session.jumpTo(there));
        QVERIFY(test::documentBytes(session) == after);
        qInfo("%d done, %zu steps", done, session.history().steps().size());
    }
};

MELLOW_TEST(WindowMonkeyTest)
}  // namespace window_monkey_test
#include "window_monkey_test.moc"
