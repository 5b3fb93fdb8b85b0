#pragma once
// The lower panel: one page at a time, told by its tab.
#include <QStackedWidget>
#include <QTabBar>
#include <QWidget>

namespace app {

class Desk : public QWidget {
    Q_OBJECT
  public:
    explicit Desk(QWidget* parent = nullptr);
    void addPage(const QString& title, QWidget* page);
    void showPage(QWidget* page);
    QWidget* page() const { return pages_->currentWidget(); }
    /// What its tab says.
    QString title() const { return tabs_->tabText(tabs_->currentIndex()); }
    /// False: there is no such page.
    bool showTitled(const QString& title);

  private:
    QTabBar* tabs_;
    QStackedWidget* pages_;
};

}  // namespace app
