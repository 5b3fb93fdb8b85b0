#include "app/dialogs/side_card.h"

#include <QEvent>
#include <QKeyEvent>
#include <QScrollBar>
#include <algorithm>

namespace app {
namespace {

constexpr int kTop = 46, kFromEdge = 12, kMargin = 12, kGap = 6;
constexpr int kBar = 66;  // the bar at the view's lower edge, and air
constexpr int kLeast = 90;

int heightOf(const QLayout* layout, int width) {
    return layout->hasHeightForWidth() ? layout->totalHeightForWidth(width) : layout->totalSizeHint().height();
}

}  // namespace

SideCard::SideCard(QWidget* parent, int width)
    : QFrame(parent),
      width_(width),
      inside_(new QWidget),
      area_(new QScrollArea),
      rows_(new QVBoxLayout(inside_)),
      foot_(new QVBoxLayout) {
    setObjectName("overlay");
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(kMargin, kMargin - 2, kMargin, kMargin - 2);
    column->setSpacing(kGap);
    for (QVBoxLayout* part : {rows_, foot_}) {
        part->setContentsMargins(0, 0, 0, 0);
        part->setSpacing(kGap);
    }
    inside_->setObjectName("scrolled");
    area_->setWidget(inside_);
    area_->setWidgetResizable(true);
    area_->setFrameShape(QFrame::NoFrame);
    area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area_->setFocusPolicy(Qt::NoFocus);
    column->addWidget(area_, 1);
    column->addLayout(foot_);
    inside_->installEventFilter(this);
    parent->installEventFilter(this);
}

void SideCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && passes())
        close();
    else
        QFrame::keyPressEvent(event);
}

void SideCard::place() {
    const int natural = std::max(rows_->totalSizeHint().width(), foot_->totalSizeHint().width());
    const QMargins edge = contentsMargins();  // the line round it
    const int beside = 2 * kMargin + edge.left() + edge.right();
    const int wide = width_ > 0 ? width_ : natural + beside;
    const int inner = wide - beside;
    const int foot = foot_->isEmpty() ? 0 : heightOf(foot_, inner) + kGap;
    const int around = 2 * (kMargin - 2) + edge.top() + edge.bottom() + foot;
    const int room = std::max(parentWidget()->height() - kTop - kBar, kLeast);
    setGeometry(parentWidget()->width() - wide - kFromEdge, kTop, wide,
                std::min(heightOf(rows_, inner) + around, room));
}

/// Two that close would lie on each other.
void SideCard::closeOthers() {
    for (auto* other : parentWidget()->findChildren<SideCard*>(Qt::FindDirectChildrenOnly))
        if (other != this && other->passes()) other->close();
}

bool SideCard::event(QEvent* event) {
    if (event->type() == QEvent::Show && passes()) closeOthers();
    if (event->type() == QEvent::ShortcutOverride && passes() &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();  // the card's, before it is a command's
        return true;
    }
    const bool done = QFrame::event(event);
    if (event->type() == QEvent::LayoutRequest) place();  // rows that have just come know their height only now
    return done;
}

bool SideCard::eventFilter(QObject* watched, QEvent* event) {
    if ((watched == inside_ && event->type() == QEvent::LayoutRequest) ||
        (watched == parentWidget() && event->type() == QEvent::Resize))
        place();
    return QFrame::eventFilter(watched, event);
}

}  // namespace app
