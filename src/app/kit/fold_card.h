#pragma once
// A titled part of Properties that folds away, and stays so until it is opened again.
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

namespace app {

class FoldCard : public QWidget {
    Q_OBJECT
  public:
    /// `name` is what it is remembered by; `right` stands quietly at the end of its title.
    FoldCard(const QString& name, const QString& title, const QString& right = {});
    /// Where its rows go.
    QVBoxLayout* inside() const { return inside_; }
    void setTitle(const QString& title, const QString& help = {});
    void setRight(const QString& right);
    bool isFolded() const { return fold_->isChecked(); }

  private:
    void refresh();

    QString name_, title_, help_;
    QPushButton* fold_;
    QLabel* right_;
    QWidget* body_;
    QVBoxLayout* inside_;
};

}  // namespace app
