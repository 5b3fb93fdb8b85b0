#pragma once
// The colour field: saturation and lightness in a square, hue in a strip, the code, and what was chosen lately. A drag,
// a code or a patch is one choice; Esc leaves the colour as it was.
#include <QColor>
#include <QFrame>
#include <functional>

class QLineEdit;

namespace app {

class ColourSquare;

class ColourPopover : public QFrame {
    Q_OBJECT
  public:
    /// Opens below `at`; `take` gets each colour that is chosen.
    ColourPopover(QWidget* at, const QColor& now, std::function<void(const QColor&)> take);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

  private:
    void show(const QColor& colour);
    void choose();

    std::function<void(const QColor&)> take_;
    QColor colour_, taken_;
    ColourSquare *square_, *strip_;
    QLineEdit* code_;
};

}  // namespace app
