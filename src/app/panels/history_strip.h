#pragma once
// The history along the window's bottom edge, a tide line: a stroke for each step, the higher the more it changed; the
// present one honey with a knob, what can be redone hollow, a green foot where it was saved, branches hanging below.
// Hover names a step, click goes there, a drag along it takes the scene through time with the pointer; Escape in a drag
// goes back to where it began.
#include <QWidget>
#include <set>

#include "app/shell/editor.h"
#include "edit/history.h"

namespace app {

class HistoryStrip : public QWidget {
    Q_OBJECT
  public:
    explicit HistoryStrip(Editor& editor, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {400, 36}; }
    /// Where a step's mark is, for tests.
    std::optional<QPointF> placeOf(edit::StepId step) const;
    /// Ends a drag and goes back to where it began. False when there is none.
    bool cancel();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    struct Mark {
        edit::StepId step;
        QPointF at;
        bool branch;
    };
    void relay();
    const Mark* markAt(const QPointF& p) const;
    const Mark* nearestOnLine(double x) const;
    void go(edit::StepId step);
    QString nameOf(edit::StepId step) const;
    void selectChanged(edit::StepId step);

    Editor& editor_;
    std::vector<Mark> marks_;
    edit::StepId hovered_ = -1;
    std::optional<edit::StepId> scrubFrom_;  // the present when a drag began
    double scroll_ = 0, start_ = 0;          // pixels; start_: how much of the line lies left of what is shown
    std::set<edit::StepId> saves_;
    std::size_t presentAt_ = 0, lineLength_ = 0;
};

}  // namespace app
