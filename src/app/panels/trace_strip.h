#pragma once
// Below the view while a scene is played, settled, or a run is looked at: what can be done, and the run's line in time
// with a stroke for all that happened. Hover tells what, a click takes the object, a drag shows the moment. Before it
// begins: what is wrong with the start, with what mends it.
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <QWidget>
#include <functional>

#include "app/shell/rehearsal.h"

namespace app {

class TraceLine : public QWidget {
    Q_OBJECT
  public:
    TraceLine(Editor& editor, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {300, 34}; }
    /// Where a moment is, for tests.
    double xOf(int step) const;

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    int stepAt(double x) const;
    int lastStep() const;
    const rehearse::Entry* entryAt(const QPointF& p) const;

    Editor& editor_;
    Rehearsal& rehearsal_;
    bool drags_ = false;
    QPointF pressedAt_;
    int hovered_ = -1;
};

class TraceStrip : public QWidget {
    Q_OBJECT
  public:
    TraceStrip(Editor& editor, QWidget* parent = nullptr);
    /// Tells what is wrong with the start; each with what mends it. Empty: no more.
    struct Offer {
        QString text;
        std::function<void()> act;
    };
    void ask(const QString& what, std::vector<Offer> offers);

  private:
    void refresh();
    void clearAsked();
    QToolButton* tool(const char* name, const QString& text, const QString& tip, std::function<void()> act);

    Editor& editor_;
    Rehearsal& rehearsal_;
    QWidget *bar_, *asked_;
    QHBoxLayout* askedRow_;
    TraceLine* line_;
    QLabel *time_, *what_;
    QToolButton *pause_, *step_, *speed_, *again_, *free_, *keep_, *drop_, *end_;
};

}  // namespace app
