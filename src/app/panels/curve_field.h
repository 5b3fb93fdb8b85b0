#pragma once
// A drawn curve: drag points, double-click for a new one, right-click takes one away. One drag is one change.
#include <QPointF>
#include <QWidget>
#include <vector>

#include "app/look/theme.h"

namespace app {

class CurveField : public QWidget {
    Q_OBJECT
  public:
    explicit CurveField(const std::function<const Theme&()>& theme, QWidget* parent = nullptr);
    void setPoints(const std::vector<QPointF>& points);
    QSize sizeHint() const override { return {160, 74}; }

  Q_SIGNALS:
    void changed(const std::vector<QPointF>& points);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;

  private:
    QRectF span() const;
    QPointF toPixel(const QPointF& p) const;
    QPointF fromPixel(const QPointF& p) const;
    int under(const QPointF& pixel) const;

    std::function<const Theme&()> theme_;
    std::vector<QPointF> points_;
    QRectF held_;  // what is shown while a point is dragged
    int dragged_ = -1;
};

}  // namespace app
