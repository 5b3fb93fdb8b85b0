#pragma once
// Where one starts: over the view while no project is open. The first entry goes on where one was.
#include <QFrame>
#include <QListWidget>

namespace app {

class StartPage : public QFrame {
    Q_OBJECT
  public:
    explicit StartPage(QWidget* parent);
    void refill();
    /// The demo that came with the program; empty: it is not there.
    static QString demoFolder();

  Q_SIGNALS:
    void openAsked(const QString& folder);
    void newAsked();
    void chooseAsked();
    /// On with what is open.
    void closeAsked();
    void lookForAsked(const QString& folder);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void take(const QListWidgetItem* item);
    void forgetCurrent();
    void place();

    QListWidget* list_;
};

}  // namespace app
