#pragma once
// Measuring: points picked one after the other, with the distances, angles and heights between them.
#include "app/shell/tools.h"
#include "app/view/gesture.h"
#include "query/measure.h"

namespace app {

class Measuring : public PlaceTool {
  public:
    explicit Measuring(ViewContext& view);
    bool claims() const override { return editor_.tools().tool == Tool::Measure; }
    void withdraw() override;
    void paint(QPainter& p) const override;
    QString hint() const override;

    /// All that was measured, as lines of text; empty when nothing was.
    QString text() const;

  protected:
    bool point(const QPointF& pixel) override;
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers modifiers) override;
    bool putAway() override;

  private:
    query::Measure measure_;
    std::optional<base::Vec3> next_;  ///< where the next point would be
};

}  // namespace app
