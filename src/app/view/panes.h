#pragma once
// One view, or four: free, top, front and left at first. One of them is the one that is worked in.
#include <QGridLayout>
#include <QWidget>
#include <array>

#include "app/view/view_widget.h"

namespace app {

class ViewPanes : public QWidget {
    Q_OBJECT
  public:
    ViewPanes(Editor& editor, Stage& stage, QWidget* parent = nullptr);

    ViewWidget& active() { return *panes_[active_]; }
    /// 0..3; null until four were first shown.
    ViewWidget* pane(std::size_t i) { return panes_[i]; }
    bool isFour() const { return four_; }
    /// Four, or the one that is worked in alone.
    void setFour(bool four);

  Q_SIGNALS:
    void activeChanged();
    void captionMenu(app::ViewWidget* view, QMenu* menu);
    /// Of the one that is worked in.
    void cameraChanged();
    /// A right press in the one that is worked in, without moving.
    void menuAsked(const QPoint& global);

  protected:
    void paintEvent(QPaintEvent*) override;
    /// What lies over the panes has no use for the wheel.
    void wheelEvent(QWheelEvent* event) override;

  private:
    ViewWidget* make(std::size_t i);
    void activate(std::size_t i);
    void layOut();

    Editor& editor_;
    Stage& stage_;
    QGridLayout* grid_;
    std::array<ViewWidget*, 4> panes_{};
    std::size_t active_ = 0;
    bool four_ = false;
};

}  // namespace app
