#include "app/panels/desk.h"

#include <QVBoxLayout>

namespace app {

Desk::Desk(QWidget* parent) : QWidget(parent), tabs_(new QTabBar), pages_(new QStackedWidget) {
    setObjectName("panel");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    tabs_->setObjectName("deskTabs");
    tabs_->setAccessibleName(tr("Pages of the desk"));
    tabs_->setExpanding(false);
    tabs_->setDrawBase(false);
    layout->addWidget(tabs_);
    pages_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Expanding);  // a wide page does not widen the window
    layout->addWidget(pages_, 1);
    connect(tabs_, &QTabBar::currentChanged, pages_, &QStackedWidget::setCurrentIndex);
}

void Desk::addPage(const QString& title, QWidget* page) {
    pages_->addWidget(page);
    tabs_->addTab(title);
}

bool Desk::showTitled(const QString& title) {
    for (int i = 0; i < tabs_->count(); ++i)
        if (tabs_->tabText(i) == title) return tabs_->setCurrentIndex(i), true;
    return false;
}

void Desk::showPage(QWidget* page) {
    tabs_->setCurrentIndex(pages_->indexOf(page));
}

}  // namespace app
