#pragma once
// The selected route in the desk: what it measures, its height and speed along it, and what is put along it.
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QWidget>

#include "app/panels/form.h"
#include "ops/along.h"

namespace app {

/// Height over length as a line, speed as steps, stops as numbers. A click says where.
class RouteProfile : public QWidget {
    Q_OBJECT
  public:
    explicit RouteProfile(Editor& editor, QWidget* parent = nullptr);
    void show(const model::Scene& scene, model::Slot route);
    void clear();
    /// The pixel of a place along it.
    QPointF pixelOf(double metres) const;

  Q_SIGNALS:
    void pointed(double metres);
    void clicked(double metres);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

  private:
    QRectF field() const;
    double metresAt(double x) const;

    Editor& editor_;
    std::vector<query::ProfilePoint> points_;
    std::vector<std::pair<double, int>> stops_;  // metres, number
    double low_ = 0, high_ = 1, fastest_ = 1, length_ = 0;
    std::optional<double> at_;
};

class RoutePanel : public QWidget {
    Q_OBJECT
  public:
    explicit RoutePanel(Editor& editor, QWidget* parent = nullptr);
    const ops::Along& along() const { return along_; }

  Q_SIGNALS:
    void lookAsked(const base::Vec3& place);
    void putAsked();
    void copyAsked();
    /// The other selected objects, to a place that was written.
    void moveAsked(const QString& to);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    void fill();
    void say(double metres);
    model::Slot route() const;

    Editor& editor_;
    ops::Along along_;
    QLabel *names_, *facts_, *here_, *empty_;
    RouteProfile* profile_;
    FieldsForm* form_;
    QLineEdit* at_;
    QWidget* all_;
};

/// Of the selection the last object with a route; kNoSlot: none.
model::Slot selectedRoute(const Editor& editor);

}  // namespace app
