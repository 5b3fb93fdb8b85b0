#include "app/dialogs/kept_popover.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace app {

KeptPopover::KeptPopover(QWidget* parent, const QString& heading, const QString& whenEmpty, Acts acts)
    : QFrame(parent), acts_(std::move(acts)), list_(new QListWidget) {
    setObjectName("popover");
    setAttribute(Qt::WA_StyledBackground);
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    auto* title = new QLabel(heading);
    title->setObjectName("panelTitle");
    layout->addWidget(title);
    list_->setObjectName("keptList");
    list_->setAccessibleName(heading);
    list_->setToolTip(tr("Enter: %1 · F2: rename · Delete: remove").arg(acts_.goText.toLower()));
    list_->setEditTriggers(QAbstractItemView::EditKeyPressed);
    layout->addWidget(list_, 1);
    auto* empty = new QLabel(whenEmpty);
    empty->setObjectName("quiet");
    empty->setWordWrap(true);
    layout->addWidget(empty);
    auto* row = new QHBoxLayout;
    auto* remove = new QPushButton(tr("Remove"));
    auto* rename = new QPushButton(tr("Rename"));
    auto* close = new QPushButton(tr("Close"));
    auto* go = new QPushButton(acts_.goText);
    go->setObjectName("keptGo");
    go->setProperty("primary", true);
    for (QPushButton* b : {remove, rename}) row->addWidget(b);
    row->addStretch();
    for (QPushButton* b : {close, go}) row->addWidget(b);
    layout->addLayout(row);
    refill({});
    empty->setVisible(list_->count() == 0);
    for (QPushButton* b : {remove, rename, go}) b->setEnabled(list_->count() > 0);
    connect(go, &QPushButton::clicked, this, &KeptPopover::go);
    connect(remove, &QPushButton::clicked, this, &KeptPopover::removeCurrent);
    connect(rename, &QPushButton::clicked, this, [this] { list_->editItem(list_->currentItem()); });
    connect(close, &QPushButton::clicked, this, &QWidget::close);
    connect(list_, &QListWidget::itemActivated, this, &KeptPopover::go);
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const QString was = item->data(Qt::UserRole).toString(), now = item->text().trimmed();
        if (filling_ || now == was) return;
        refill(acts_.rename(was, now) ? now : was);
    });
    const QSize size(380, 300);
    setGeometry(QRect(QPoint((parent->width() - size.width()) / 2, 84), size));
    show();
    raise();
    list_->setFocus();
}

void KeptPopover::refill(const QString& current) {
    filling_ = true;
    list_->clear();
    for (const QString& name : acts_.names()) {
        auto* item = new QListWidgetItem(name, list_);
        item->setData(Qt::UserRole, name);
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        if (name == current) list_->setCurrentItem(item);
    }
    if (list_->currentItem() == nullptr && list_->count() > 0) list_->setCurrentRow(0);
    filling_ = false;
}

void KeptPopover::go() {
    if (list_->currentItem() == nullptr) return;
    acts_.go(list_->currentItem()->data(Qt::UserRole).toString());
    close();
}

void KeptPopover::removeCurrent() {
    if (list_->currentItem() == nullptr) return;
    acts_.remove(list_->currentItem()->data(Qt::UserRole).toString());
    refill({});
}

void KeptPopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return void(close());
    if (event->key() == Qt::Key_Delete) return removeCurrent();
    QFrame::keyPressEvent(event);
}

}  // namespace app
