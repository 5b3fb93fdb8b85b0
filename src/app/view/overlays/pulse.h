#pragma once
// Shows for a moment where what is selected is: a ring that closes in on each, an arrow at the edge for those out of
// sight.
#include <QElapsedTimer>
#include <QTimer>

#include "app/view/overlays/overlay.h"

namespace app {

class Pulse : public Overlay {
  public:
    explicit Pulse(ViewContext& view);
    void start();
    void paint(QPainter& p) override;

  private:
    QElapsedTimer since_;
    QTimer timer_;
};

}  // namespace app
