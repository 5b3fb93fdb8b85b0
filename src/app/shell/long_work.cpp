#include "app/shell/long_work.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <thread>

#include "app/look/theme.h"

namespace app {

namespace {
constexpr qint64 kMomentMs = 150, kFrameMs = 60;
}

base::Status LongWork::tick(std::size_t rows, std::size_t objects) {
    rows_ += rows;
    objects_ += objects;
    if (over_ == nullptr || clock_.elapsed() < kMomentMs || clock_.elapsed() - pumpedAt_ < kFrameMs) return {};
    if (!card_) card_.emplace(over_, name_, progress_);
    card_->say(objects_ > 0
                   ? counted(objects_, ProgressCard::tr("new object so far"), ProgressCard::tr("new objects so far"))
                   : counted(rows_, ProgressCard::tr("change so far"), ProgressCard::tr("changes so far")));
    QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    pumpedAt_ = clock_.elapsed();
    if (!progress_->cancelled()) return {};
    return base::fail(base::ErrorCode::Refused, (name_ + ": stopped; nothing was changed.").toStdString());
}

bool onWorker(QWidget* over, const QString& name, const std::function<void(base::Progress&)>& work) {
    const auto progress = std::make_shared<base::Progress>();  // with the card
    std::optional<ProgressCard> card;
    if (over != nullptr) card.emplace(over, name, progress);
    QEventLoop waiting;
    std::thread worker([&] {
        work(*progress);
        QMetaObject::invokeMethod(&waiting, &QEventLoop::quit, Qt::QueuedConnection);
    });
    waiting.exec();
    worker.join();
    return !progress->cancelled();
}

}  // namespace app
