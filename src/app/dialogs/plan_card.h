#pragma once
// The whole level from above; a click goes there.
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
    void keyPressEvent(QKeyEvent* event) override;

  private:
    QRectF picture() const;
    std::optional<base::Vec3> placeUnder(const QPointF& pixel) const;

    Editor& editor_;
    render::Camera from_, plan_;
    render::Viewport viewport_;
    QImage image_;
    QPointF pointer_;
    std::function<void(const base::Vec3&)> go_;
};

}  // namespace app
