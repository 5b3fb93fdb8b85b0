#pragma once
// Waits for the window, never for the clock.
#include <QAbstractEventDispatcher>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QThread>

namespace test {

/// Until the window has nothing left to do: events, pictures, what was put off to the next turn, what the display
/// server still had to say. What goes on by itself (a bar that moves) is left to go on.
inline void settle() {
    constexpr int kQuietMs = 25;  // the next step of what moves comes sooner
    constexpr int kMostMs = 2000;
    QElapsedTimer all, quiet;
    all.start();
    quiet.start();
    while (quiet.elapsed() < kQuietMs && all.elapsed() < kMostMs) {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        if (QAbstractEventDispatcher::instance()->processEvents(QEventLoop::AllEvents))
            quiet.restart();
        else
            QThread::usleep(500);
    }
}

}  // namespace test
