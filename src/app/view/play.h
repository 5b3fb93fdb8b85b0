#pragma once
// The keys and the mouse of whoever plays, in the view that the rehearsal was begun in: it has them all until Esc.
#include <QElapsedTimer>
#include <QObject>
#include <QPointF>
#include <set>

#include "app/view/view_context.h"

namespace rehearse {
class Run;
}

namespace app {

class Eye;
class Rehearsal;

class Play : public QObject {
    Q_OBJECT
  public:
    Play(ViewContext& view, Eye& eye);

    /// Does one play in this view?
    bool isHere() const;
    /// The next rehearsal is played here.
    void claim() { claimed_ = true; }
    /// Letters and others that mean something to who plays, whatever they are short for otherwise.
    bool takesKey(int key) const;
    void press(int key);
    void release(int key);
    void releaseAll();
    /// A button goes down: the mouse looks from now on, or uses what is looked at.
    void press(Qt::MouseButton button);
    void release(Qt::MouseButton button);
    /// True when one looks elsewhere by that.
    bool move(const QPointF& from, const QPointF& to);
    bool hasMouse() const { return looks_; }
    void paint(QPainter& p) const;
    QString hint() const;

  private:
    void paintGoals(QPainter& p, const rehearse::Run& run) const;
    void follow();
    void changed();
    void gather();
    void hold(int key);
    void letMouse(bool looks);
    void flyOn();

    ViewContext& view_;
    Eye& eye_;
    Rehearsal& rehearsal_;
    bool claimed_ = false, wasOn_ = false, looks_ = false, dragging_ = false;
    std::set<int> keys_;
    QElapsedTimer clock_;
};

}  // namespace app
