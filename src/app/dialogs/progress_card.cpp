#include "app/dialogs/progress_card.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace app {
namespace {

constexpr int kMomentMs = 250;

bool isInput(QEvent::Type type) {
    switch (type) {
        case QEvent::MouseButtonPress:
        case QEvent::MouseButtonRelease:
        case QEvent::MouseButtonDblClick:
        case QEvent::MouseMove:
        case QEvent::Wheel:
        case QEvent::KeyPress:
        case QEvent::KeyRelease:
        case QEvent::ShortcutOverride:
        case QEvent::Shortcut:
        case QEvent::ContextMenu:
        case QEvent::DragEnter:
        case QEvent::Drop:
        case QEvent::Close: return true;
        default: return false;
    }
}

}  // namespace

ProgressCard::ProgressCard(QWidget* over, const QString& title, std::shared_ptr<base::Progress> progress)
    : QFrame(over), progress_(std::move(progress)), bar_(new QProgressBar) {
    setObjectName("popover");
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 12);
    auto* heading = new QLabel(title);
    heading->setObjectName("panelTitle");
    column->addWidget(heading);
    column->addWidget(said_ = new QLabel);
    said_->setObjectName("quiet");
    said_->hide();
    bar_->setObjectName("openingBar");
    bar_->setAccessibleName(title);
    bar_->setRange(0, 100);
    column->addWidget(bar_);
    auto* row = new QHBoxLayout;
    row->addStretch();
    auto* stop = new QPushButton(tr("Cancel"));
    stop->setObjectName("openingCancel");
    stop->setToolTip(tr("Stops; everything stays as it was (Esc)"));
    row->addWidget(stop);
    column->addLayout(row);
    connect(stop, &QPushButton::clicked, this, &ProgressCard::cancel);
    hide();
    connect(&timer_, &QTimer::timeout, this, &ProgressCard::refresh);
    timer_.start(kMomentMs);
    qApp->installEventFilter(this);
}

ProgressCard::~ProgressCard() {
    qApp->removeEventFilter(this);
}

void ProgressCard::say(const QString& what) {
    said_->setText(what);
    said_->setVisible(!what.isEmpty());
}

void ProgressCard::refresh() {
    // What does not know how far it has come shows only that it goes on.
    bar_->setRange(0, progress_->done() > 0 || !said_->isVisibleTo(this) ? 100 : 0);
    bar_->setValue(static_cast<int>(progress_->done() * 100));
    if (isVisible()) return;
    timer_.setInterval(80);
    const QSize size(320, said_->isVisibleTo(this) ? 132 : 108);
    setGeometry(QRect(QPoint((parentWidget()->width() - size.width()) / 2, parentWidget()->height() / 2 + 24), size));
    show();
    raise();
}

void ProgressCard::cancel() {
    progress_->cancel();
}

bool ProgressCard::eventFilter(QObject* watched, QEvent* event) {
    if (!isInput(event->type())) return false;
    auto* widget = qobject_cast<QWidget*>(watched);
    if (widget != nullptr && (widget == this || isAncestorOf(widget)) && event->type() != QEvent::Close) return false;
    if (widget == nullptr && event->type() != QEvent::Shortcut) return false;  // the window system's own objects
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) cancel();
    if (event->type() == QEvent::Close) {
        cancel();
        event->ignore();
    }
    return true;
}

}  // namespace app
