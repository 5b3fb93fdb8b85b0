#pragma once
// What is asked when a file was changed by others: theirs, mine, or first a look at what differs.
#include <QFrame>
#include <QLabel>

namespace app {

class TheirsBar : public QFrame {
    Q_OBJECT
  public:
    explicit TheirsBar(QWidget* parent);
    void setText(const QString& text) { text_->setText(text); }

  Q_SIGNALS:
    void readTheirs();
    void keepMine();
    void compare();

  private:
    QLabel* text_;
};

/// The lines that differ between two texts, each with + (only in theirs) or − (only in mine), in their order.
QStringList lineDifferences(const QString& mine, const QString& theirs);

}  // namespace app
