#pragma once
// Two parts beside each other where there is room, else one over the other: for what is docked at the side of the view.
#include <QResizeEvent>
#include <QSplitter>

namespace app {

class TurningSplitter : public QSplitter {
  public:
    TurningSplitter() { setChildrenCollapsible(false); }

  protected:
    void resizeEvent(QResizeEvent* event) override {
        constexpr int kRoom = 620;  // pixels
        const Qt::Orientation way = event->size().width() < kRoom ? Qt::Vertical : Qt::Horizontal;
        if (way != orientation()) {
            setOrientation(way);
            const int whole = way == Qt::Vertical ? height() : width();
            setSizes({whole / 3, whole * 2 / 3});
        }
        QSplitter::resizeEvent(event);
    }
};

}  // namespace app
