#pragma once
// A field for a quantity: takes arithmetic, units and changes relative to the present value; the mark at its left is
// dragged to change it; arrow keys step; Escape takes back what was typed or dragged.
#include <QLineEdit>
#include <optional>

#include "app/look/theme.h"
#include "base/units.h"

namespace app {

enum class FieldMark { None, Cube, Ball, Cone };

class NumberField : public QLineEdit {
    Q_OBJECT
  public:
    NumberField(base::Quantity quantity, int decimals, QWidget* parent = nullptr);
    /// What lengths are shown in, and what is typed without a unit; the values stay metres.
    void setUnit(base::LengthUnit unit) { unit_ = unit; }
    void setDecimals(int decimals) { decimals_ = decimals; }

    void setMark(FieldMark mark, const QColor& colour);
    void setValue(double value);
    /// Several objects with different values.
    void setMixed();
    /// It has no value, and may have one.
    void setNone();
    base::Quantity quantity() const { return quantity_; }
    /// How much one pixel of dragging, or one press of an arrow key, changes it.
    void setSteps(double perPixel, double perKey) { perPixel_ = perPixel, perKey_ = perKey; }

  Q_SIGNALS:
    /// Something was typed and accepted with Enter or by leaving: an expression as evaluateQuantity takes it.
    void typed(const QString& expression);
    void dragStarted();
    void dragged(double change);
    void dragEnded(bool keep);
    void stepped(double change);

  protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void focusOutEvent(QFocusEvent*) override;

  private:
    void showWord(const QString& word);
    void accept();
    QString numberText(double value) const;
    bool isLength() const { return quantity_ == base::Quantity::Length; }
    bool onMark(const QPointF& p) const { return mark_ != FieldMark::None && p.x() < 18; }

    base::Quantity quantity_;
    int decimals_;
    base::LengthUnit unit_ = base::LengthUnit::Metre;
    FieldMark mark_ = FieldMark::None;
    QColor colour_;
    QString shown_;
    std::optional<double> value_;  ///< nothing: several
    double perPixel_ = 0.02, perKey_ = 0.25;
    double dragFrom_ = 0;
    bool dragging_ = false;
};

}  // namespace app
