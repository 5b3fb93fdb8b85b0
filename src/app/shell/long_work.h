#pragma once
// A verb that takes longer than a moment shows how far it has come, and can be stopped.
#include <QElapsedTimer>
#include <QString>
#include <functional>
#include <memory>
#include <optional>

#include "app/dialogs/progress_card.h"
#include "base/result.h"

namespace app {

class LongWork {
  public:
    /// `over`: the widget in whose middle the card stands; null: nothing is shown.
    LongWork(QWidget* over, QString name) : over_(over), name_(std::move(name)) { clock_.start(); }

    /// So many rows more are about to be written, so many of them new objects: a draft's meter. The window goes on
    /// meanwhile, but for input. Errors: Refused once it was stopped.
    base::Status tick(std::size_t rows, std::size_t objects);

  private:
    QWidget* over_;
    QString name_;
    QElapsedTimer clock_;
    qint64 pumpedAt_ = 0;  // milliseconds
    std::size_t rows_ = 0, objects_ = 0;
    std::shared_ptr<base::Progress> progress_ = std::make_shared<base::Progress>();  // shared with the card
    std::optional<ProgressCard> card_;
};

/// Does work on a thread of its own and waits for it, while the window is alive but for input and shows how far it has
/// come. False: it was stopped.
bool onWorker(QWidget* over, const QString& name, const std::function<void(base::Progress&)>& work);

}  // namespace app
