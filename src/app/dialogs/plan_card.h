#pragma once
// The whole level from above; a click goes there, the wheel looks closer, a drag pans.
#include <QFrame>
#include <functional>

#include "app/view/stage.h"

namespace app {

class PlanCard : public QFrame {
    Q_OBJECT
  public:
    /// `from` is where one looks from now. `go` gets a point on the level.
    PlanCard(QWidget* parent, Editor& editor, Stage& stage, const render::Camera& from,
             std::function<void(const base::Vec3&)> go);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void draw();
    QRectF picture() const;
    std::optional<base::Vec3> placeUnder(const QPointF& pixel) const;

    Editor& editor_;
    Stage& stage_;
    render::Camera from_, plan_;
    render::Viewport viewport_;
    QImage image_;
    QPointF pointer_;
    std::optional<QPointF> pressed_;
    bool panned_ = false;
    double mostMetres_ = 0;  ///< no farther than the whole level
    std::function<void(const base::Vec3&)> go_;
};

}  // namespace app
