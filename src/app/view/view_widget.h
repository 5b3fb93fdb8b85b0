#pragma once
// The view: a picture of the scene from an eye, what lies over it, and the gestures that mouse and keys make in it.
// What they do is in gestures/, one file each.
#include <QWidget>
#include <memory>
#include <vector>

#include "app/view/drops.h"
#include "app/view/eye.h"
#include "app/view/gesture.h"
#include "app/view/overlays/pulse.h"
#include "app/view/picture.h"
#include "app/view/play.h"

class QMenu;
class QToolButton;

namespace app {

class ViewWidget : public QWidget {
    Q_OBJECT
  public:
    /// `pane` tells it from the others of the stage.
    ViewWidget(Editor& editor, Stage& stage, int pane = 0, QWidget* parent = nullptr);
    ~ViewWidget() override;

    /// Where one looks from, and all ways to go elsewhere.
    Eye& eye() { return eye_; }
    const render::Camera& camera() const { return view_.camera; }
    void setCamera(const render::Camera& camera) { eye_.setCamera(camera); }
    render::Viewport viewport() const { return view_.viewport(); }
    const ViewContext& context() const { return view_; }
    Pulse& pulse() { return pulse_; }
    /// The keys and the mouse while the scene is played.
    Play& play() { return play_; }

    /// The gesture of a class, which the list holds.
    template <class G>
    G& gesture() const {
        for (const GesturePtr& one : gestures_)
            if (auto* found = dynamic_cast<G*>(one.get())) return *found;
        std::abort();
    }
    /// The grips that are shown of the selection, gesture by gesture in the order of the list.
    std::vector<QPointF> grips() const;
    /// What a click at a pixel would take.
    model::Slot wholeAt(const QPointF& pixel) const;
    /// Goes into the one group that is selected; what has nothing in it shows its properties.
    void enterSelected();
    /// Where an item placed from the keyboard lands: on what the middle of the view shows.
    base::Vec3 placeInFront() const;
    bool pointerInside() const { return underMouse(); }
    /// Is something in the hand?
    bool isDragging() const { return hold_ != nullptr; }
    /// Esc: takes back what the mouse is doing. False when it does nothing.
    bool cancel();
    /// The hand is empty; what was not committed goes back.
    void letGo();
    double lastFrameMs() const { return picture_.lastMs(); }
    std::size_t lastDrawn() const { return picture_.lastDrawn(); }
    /// Draws now, whatever is pending; for pictures and measurements.
    QImage drawNow() { return picture_.draw(); }

  Q_SIGNALS:
    void cameraChanged();
    /// Someone works in this pane.
    void activated();
    /// The menu of the caption is about to open.
    void captionMenu(QMenu* menu);
    /// A right press without moving.
    void menuAsked(const QPoint& global);

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void keyReleaseEvent(QKeyEvent*) override;
    void focusOutEvent(QFocusEvent*) override;
    bool event(QEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dragMoveEvent(QDragMoveEvent*) override;
    void dragLeaveEvent(QDragLeaveEvent*) override;
    void dropEvent(QDropEvent*) override;

  private:
    void listen();
    void makeCaption();
    void refreshCaption();
    void showScene();
    void press(Qt::KeyboardModifiers modifiers);
    bool take(Gesture::Taken taken);
    void go(Goes how, Qt::KeyboardModifiers modifiers = {});
    void click(Qt::KeyboardModifiers modifiers);
    void hover();
    Gesture* targetAt(const QPointF& pixel, std::optional<int>& what);
    Gesture* claiming() const;
    void withdraw();
    bool catches() const;
    void keysChanged();
    void acceptTyped(const QString& text);
    void updateHint();

    Editor& editor_;
    Stage& stage_;
    ViewContext view_;
    Eye eye_;
    Play play_;
    Picture picture_;
    Drops drops_;
    std::vector<std::unique_ptr<Overlay>> overlays_;
    Pulse pulse_;
    std::vector<GesturePtr> gestures_;
    Gesture* target_ = nullptr;  ///< would act under the pointer
    std::optional<int> what_;    ///< on this of what it has
    std::unique_ptr<Hold> hold_;
    bool pressed_ = false;  ///< nobody took the press yet: a click, or a drag
    Qt::KeyboardModifiers pressedWith_;
    QPointF rightAt_;  ///< where the right button went down
    QToolButton* caption_;
};

}  // namespace app
