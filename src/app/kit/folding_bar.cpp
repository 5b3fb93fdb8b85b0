#include "app/kit/folding_bar.h"

#include <QEvent>
#include <QMenu>
#include <algorithm>
#include <utility>

namespace app {

FoldingBar::FoldingBar(QWidget* parent) : QWidget(parent), row_(new QHBoxLayout(this)), more_(new QToolButton) {
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(4);
    more_->setObjectName("more");
    more_->setText(QStringLiteral("⋯"));
    more_->setToolTip(tr("More, for which there is no room in the row"));
    more_->setAccessibleName(tr("More"));
    more_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(more_);
    menu->setToolTipsVisible(true);
    more_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, &FoldingBar::fillMore);
    row_->addWidget(more_);
    more_->hide();
}

void FoldingBar::add(QWidget* widget, int stretch) {
    fixed_.push_back(widget);
    row_->insertWidget(row_->count() - 1, widget, stretch);
}

void FoldingBar::addFolding(QAbstractButton* button) {
    folding_.push_back(button);
    row_->insertWidget(row_->count() - 1, button);
}

void FoldingBar::addStretch() {
    row_->insertStretch(row_->count() - 1, 1);
}

void FoldingBar::refold() {
    const QMargins margins = row_->contentsMargins();
    int wide = margins.left() + margins.right();
    for (const QWidget* w : fixed_)
        if (!w->isHidden())
            wide += row_->spacing() +
                    std::max(w->minimumWidth(), std::min(w->sizeHint().width(), w->minimumSizeHint().width()));
    std::vector<QAbstractButton*> there, away;
    for (QAbstractButton* b : folding_)
        if (!b->isHidden() || std::find(folded_.begin(), folded_.end(), b) != folded_.end()) there.push_back(b);
    for (QAbstractButton* b : there) wide += row_->spacing() + b->sizeHint().width();
    const int menu = row_->spacing() + more_->sizeHint().width();
    while (!there.empty() && wide + (away.empty() ? 0 : menu) > width()) {
        wide -= row_->spacing() + there.back()->sizeHint().width();
        away.insert(away.begin(), there.back());
        there.pop_back();
    }
    if (away == folded_) return;
    for (QAbstractButton* b : std::exchange(folded_, away))
        b->setVisible(std::find(away.begin(), away.end(), b) == away.end());
    for (QAbstractButton* b : away) b->hide();
    more_->setVisible(!away.empty());
}

void FoldingBar::fillMore() {
    QMenu* menu = more_->menu();
    menu->clear();
    for (QAbstractButton* b : folded_) {
        auto* tool = qobject_cast<QToolButton*>(b);
        if (tool != nullptr && tool->menu() != nullptr) {
            QString text = b->text();
            tool->menu()->setTitle(text.remove(QStringLiteral(" ▾")));
            menu->addMenu(tool->menu())->setEnabled(b->isEnabled());
            continue;
        }
        QAction* action = menu->addAction(b->text(), b, &QAbstractButton::click);
        action->setToolTip(b->toolTip());
        action->setEnabled(b->isEnabled());
        action->setCheckable(b->isCheckable());
        action->setChecked(b->isChecked());
    }
}

QSize FoldingBar::minimumSizeHint() const {
    QSize size = row_->totalMinimumSize();
    size.setWidth(80);
    return size;
}

void FoldingBar::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    refold();
}

bool FoldingBar::event(QEvent* event) {
    // A text or a number in the row got longer: there may be room for less.
    if (event->type() == QEvent::LayoutRequest) refold();
    return QWidget::event(event);
}

}  // namespace app
