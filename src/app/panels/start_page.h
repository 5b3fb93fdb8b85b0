#pragma once
// Where one starts: over the view while no project is open. The first entry goes on where one was.
#include <QBoxLayout>
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
    /// As a template of that name; empty: none was chosen yet.
    void newAsked(const QString& like);
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
    void addTemplates(QBoxLayout* row);

    QListWidget* list_;
    QWidget* firstNew_ = nullptr;
};

}  // namespace app
