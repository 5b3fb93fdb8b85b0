#pragma once
// The history along the window's bottom edge: steps in order, the present one honey, what can be redone hollow, saves
// round and moss-green, branches hanging below. Hover names a step, click goes there.
#include <QWidget>
#include <set>

#include "app/shell/editor.h"

namespace app {

class HistoryStrip : public QWidget {
    Q_OBJECT
  public:
    explicit HistoryStrip(Editor& editor, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {400, 36}; }
    /// Where a step's mark is, for tests.
    std::optional<QPointF> placeOf(edit::StepId step) const;

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    struct Mark {
        edit::StepId step;
        QPointF at;
        bool branch;
    };
    void relay();
    const Mark* markAt(const QPointF& p) const;
    QString nameOf(edit::StepId step) const;

    Editor& editor_;
    std::vector<Mark> marks_;
    edit::StepId hovered_ = -1;
    double scroll_ = 0;
    std::set<edit::StepId> saves_;
    std::size_t presentAt_ = 0, lineLength_ = 0;
};

}  // namespace app
