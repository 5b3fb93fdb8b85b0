#pragma once
// One cue in time: each effect in a lane of its own, from its delay on for as long as it takes. Dragged aside, an
// effect comes sooner or later.
#include <QWidget>

#include "app/shell/editor.h"
#include "model/facets/cues.h"

namespace app {

class CueStrip : public QWidget {
    Q_OBJECT
  public:
    explicit CueStrip(Editor& editor, QWidget* parent = nullptr);
    /// Nothing: it is empty. `words`: what each effect does.
    void show(const std::optional<model::Cue>& cue, const QStringList& words);
    /// Where an effect begins, and the middle of its lane.
    QPointF beginOf(int effect) const;
    QSize sizeHint() const override;

  Q_SIGNALS:
    void moved(int effect, double after);

  private:
    double seconds() const;
    double xOf(double second) const;
    double afterOf(int effect) const;
    int effectAt(const QPointF& at) const;
    void letGo();
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

    Editor& editor_;
    std::optional<model::Cue> cue_;
    QStringList words_;
    int held_ = -1;  // the effect that is dragged, or has the keyboard
    bool drags_ = false;
    double at_ = 0, grip_ = 0, scale_ = 0;  // seconds: it would begin; from its begin to the pointer; of the whole
};

}  // namespace app
