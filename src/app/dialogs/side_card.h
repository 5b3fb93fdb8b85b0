#pragma once
// A card at the upper right of the view. It never reaches the bar below: where the view is low its rows scroll, and
// what stands at its foot stays in sight. One that goes when it closes is closed by Esc, and when another opens.
#include <QFrame>
#include <QScrollArea>
#include <QVBoxLayout>

namespace app {

class SideCard : public QFrame {
    Q_OBJECT
  public:
    /// `width` in pixels; 0: as wide as its rows want.
    SideCard(QWidget* parent, int width);

  protected:
    QVBoxLayout* rows() const { return rows_; }
    QVBoxLayout* foot() const { return foot_; }
    void place();
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    bool passes() const { return testAttribute(Qt::WA_DeleteOnClose); }
    void closeOthers();

    int width_;
    QWidget* inside_;
    QScrollArea* area_;
    QVBoxLayout *rows_, *foot_;
};

}  // namespace app
