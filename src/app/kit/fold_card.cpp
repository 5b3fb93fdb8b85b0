#include "app/kit/fold_card.h"

#include <QHBoxLayout>
#include <QSettings>

#include "app/kit/parts.h"

namespace app {

FoldCard::FoldCard(const QString& name, const QString& title, const QString& right)
    : name_("properties/folded/" + name), title_(title), fold_(new QPushButton), body_(new QWidget) {
    setObjectName("card");
    setProperty("facet", name);
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 6, 10, 7);
    column->setSpacing(5);
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    fold_->setObjectName("cardFold");
    fold_->setFlat(true);
    fold_->setFocusPolicy(Qt::TabFocus);
    fold_->setCheckable(true);
    fold_->setChecked(QSettings().value(name_).toBool());
    fold_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    head->addWidget(fold_, 1);
    head->addWidget(right_ = label(right, "faint"));
    column->addLayout(head);
    inside_ = new QVBoxLayout(body_);
    inside_->setContentsMargins(0, 0, 0, 2);
    inside_->setSpacing(5);
    column->addWidget(body_);
    connect(fold_, &QPushButton::toggled, this, [this](bool folded) {
        QSettings().setValue(name_, folded);
        refresh();
    });
    refresh();
}

void FoldCard::setTitle(const QString& title, const QString& help) {
    title_ = title;
    help_ = help;
    refresh();
}

void FoldCard::setRight(const QString& right) {
    right_->setText(right);
}

void FoldCard::refresh() {
    const bool folded = isFolded();
    fold_->setText((folded ? QStringLiteral("▸ ") : QStringLiteral("▾ ")) + title_);
    const QString does = folded ? tr("Unfold %1").arg(title_) : tr("Fold %1 away").arg(title_);
    fold_->setToolTip(help_.isEmpty() ? does : help_ + "\n" + does);
    fold_->setAccessibleName(folded ? tr("%1, folded").arg(title_) : title_);
    body_->setVisible(!folded);
}

}  // namespace app
