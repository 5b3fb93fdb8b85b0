#pragma once
// What stands over the view while long work runs on a worker: what it is, how far it has come, and a way to stop it.
// All other input waits until the card is gone. It shows only when the work takes longer than a moment.
#include <QFrame>
#include <QLabel>
#include <QProgressBar>
#include <QTimer>
#include <memory>

#include "base/progress.h"

namespace app {

class ProgressCard : public QFrame {
    Q_OBJECT
  public:
    /// `over`: the widget in whose middle it stands. `progress` is shared with the worker.
    ProgressCard(QWidget* over, const QString& title, std::shared_ptr<base::Progress> progress);
    ~ProgressCard() override;
    /// What it has come to, under the title.
    void say(const QString& what);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void refresh();
    void cancel();

    std::shared_ptr<base::Progress> progress_;
    QLabel* said_;
    QProgressBar* bar_;
    QTimer timer_;
};

}  // namespace app
