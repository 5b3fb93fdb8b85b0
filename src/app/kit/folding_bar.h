#pragma once
// A row of fields and buttons; where it is too narrow for all, the last buttons go into a menu at its end.
#include <QAbstractButton>
#include <QHBoxLayout>
#include <QToolButton>
#include <QWidget>
#include <vector>

namespace app {

class FoldingBar : public QWidget {
    Q_OBJECT
  public:
    explicit FoldingBar(QWidget* parent = nullptr);
    /// Stays in the row.
    void add(QWidget* widget, int stretch = 0);
    /// May go into the menu; those added last go first.
    void addFolding(QAbstractButton* button);
    void addStretch();
    QHBoxLayout* row() const { return row_; }
    QSize minimumSizeHint() const override;

  protected:
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void refold();
    void fillMore();

    QHBoxLayout* row_;
    std::vector<QWidget*> fixed_;
    std::vector<QAbstractButton*> folding_, folded_;
    QToolButton* more_;
};

}  // namespace app
