#include "app/view/panes.h"

#include <QCoreApplication>
#include <QPainter>
#include <QWheelEvent>

namespace app {

ViewPanes::ViewPanes(Editor& editor, Stage& stage, QWidget* parent)
    : QWidget(parent), editor_(editor), stage_(stage), grid_(new QGridLayout(this)) {
    setObjectName("panes");
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setSpacing(2);
    make(0);
    layOut();
    connect(&editor_, &Editor::themeChanged, this, QOverload<>::of(&QWidget::update));
}

ViewWidget* ViewPanes::make(std::size_t i) {
    auto* view = new ViewWidget(editor_, stage_, static_cast<int>(i), this);
    panes_[i] = view;
    connect(view, &ViewWidget::activated, this, [this, i] { activate(i); });
    connect(view, &ViewWidget::cameraChanged, this, [this, view] {
        if (view == panes_[active_]) Q_EMIT cameraChanged();
    });
    connect(view, &ViewWidget::menuAsked, this, &ViewPanes::menuAsked);
    connect(view, &ViewWidget::captionMenu, this, [this, view](QMenu* menu) { Q_EMIT captionMenu(view, menu); });
    return view;
}

void ViewPanes::activate(std::size_t i) {
    if (i == active_) return;
    panes_[active_]->letGo();
    active_ = i;
    update();
    Q_EMIT activeChanged();
}

void ViewPanes::setFour(bool four) {
    if (four == four_) return;
    four_ = four;
    if (four) {
        const PaneSide sides[] = {PaneSide::Free, PaneSide::Top, PaneSide::Front, PaneSide::Left};
        for (std::size_t i = 1; i < 4; ++i)
            if (panes_[i] == nullptr) {
                make(i)->setCamera(panes_[0]->camera());
                panes_[i]->eye().setSide(sides[i]);
            }
    }
    layOut();
    panes_[active_]->setFocus();
}

void ViewPanes::layOut() {
    for (std::size_t i = 0; i < 4; ++i) {
        if (panes_[i] == nullptr) continue;
        grid_->removeWidget(panes_[i]);
        panes_[i]->setVisible(four_ || i == active_);
        if (four_)
            grid_->addWidget(panes_[i], static_cast<int>(i / 2), static_cast<int>(i % 2));
        else if (i == active_)
            grid_->addWidget(panes_[i], 0, 0);
    }
    for (int k = 0; k < 2; ++k) {
        grid_->setRowStretch(k, four_ || k == 0 ? 1 : 0);
        grid_->setColumnStretch(k, four_ || k == 0 ? 1 : 0);
    }
    grid_->setContentsMargins(four_ ? 2 : 0, four_ ? 2 : 0, four_ ? 2 : 0, four_ ? 2 : 0);
    // What lies over the panes stays over them.
    for (std::size_t i = 0; i < 4; ++i)
        if (panes_[i] != nullptr) panes_[i]->lower();
    update();
}

void ViewPanes::wheelEvent(QWheelEvent* event) {
    ViewWidget* under = panes_[active_];
    for (ViewWidget* pane : panes_)
        if (pane != nullptr && pane->isVisible() && pane->geometry().contains(event->position().toPoint()))
            under = pane;
    QWheelEvent passed(under->mapFrom(this, event->position()), event->globalPosition(), event->pixelDelta(),
                       event->angleDelta(), event->buttons(), event->modifiers(), event->phase(), event->inverted());
    QCoreApplication::sendEvent(under, &passed);
    event->accept();
}

void ViewPanes::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), editor_.theme().line);
    if (!four_) return;
    p.setPen(Qt::NoPen);
    p.setBrush(editor_.theme().honey);
    p.drawRect(panes_[active_]->geometry().adjusted(-2, -2, 2, 2));
}

}  // namespace app
