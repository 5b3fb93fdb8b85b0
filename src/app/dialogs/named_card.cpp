#include "app/dialogs/named_card.h"

#include <QLineEdit>
#include <QToolButton>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "edit/session.h"
#include "model/library.h"

namespace app {

NamedCard::NamedCard(QWidget* parent, int width, Editor& editor, std::string chosen, const Texts& texts)
    : SideCard(parent, width), editor_(editor), item_(std::move(chosen)), choose_(texts.choose) {
    const QString id = QLatin1String(texts.id);
    setAttribute(Qt::WA_DeleteOnClose);
    rows()->setSpacing(4);
    rows()->addWidget(label(texts.title, "cardTitle"));
    rows()->addWidget(names_ = new QComboBox);
    names_->setObjectName(id + "Name");
    names_->setEditable(true);
    names_->setInsertPolicy(QComboBox::NoInsert);
    names_->setAccessibleName(texts.name);
    names_->setToolTip(texts.nameTip);
    names_->lineEdit()->setPlaceholderText(texts.newName);
    setFocusProxy(names_);
    auto* inside = new QWidget;
    grid_ = new QGridLayout(inside);
    grid_->setContentsMargins(0, 2, 0, 2);
    grid_->setVerticalSpacing(2);
    grid_->setHorizontalSpacing(4);
    rows()->addWidget(inside);
    const auto button = [&](const char* name, const QString& text, const QString& tip) {
        auto* made = new QPushButton(text);
        made->setObjectName(id + QLatin1String(name));
        made->setToolTip(tip);
        foot()->addWidget(made);
        return made;
    };
    add_ = button("Add", {}, texts.addTip);
    remove_ = button("Remove", texts.remove, texts.removeTip);
    auto* done = button("Done", tr("Done"), tr("Closes the card; everything is kept already"));
    connect(done, &QPushButton::clicked, this, &QWidget::close);
    connect(add_, &QPushButton::clicked, this, [this] { add(); });
    connect(remove_, &QPushButton::clicked, this, [this] { remove(); });
    connect(names_->lineEdit(), &QLineEdit::textChanged, this, [this](const QString& text) {
        name_ = text.trimmed().toStdString();
        showRows();
    });
    connect(&editor_, &Editor::libraryChanged, this, &NamedCard::refresh);
}

void NamedCard::begin() {
    refresh();
    if (names_->count() > 0) names_->setCurrentIndex(0);
    names_->setFocus();
}

void NamedCard::setItem(const std::string& item) {
    item_ = item;
    showRows();
}

void NamedCard::refresh() {
    if (!editor_.hasProject()) return close(), void();
    const QString text = names_->currentText();
    {
        const QSignalBlocker quiet(names_);
        names_->clear();
        names_->addItems(names());
        names_->setEditText(text);
    }
    name_ = text.trimmed().toStdString();
    showRows();
}

void NamedCard::showRows() {
    while (QLayoutItem* item = grid_->takeAt(0)) {
        if (item->widget() != nullptr) item->widget()->deleteLater();
        delete item;
    }
    fillRows();
    grid_->setColumnStretch(0, 1);
    place();
}

QString NamedCard::labelOf(const std::string& item) const {
    const model::Item* known = editor_.session().library().item(editor_.session().intern(item));
    return toQt(known != nullptr ? known->label : item);
}

void NamedCard::addAway(const std::string& item, int row, int column, const std::function<void()>& takeOut) {
    auto* away = new QToolButton;
    away->setText(QStringLiteral("×"));
    away->setAccessibleName(tr("Take %1 out").arg(labelOf(item)));
    away->setToolTip(away->accessibleName());
    connect(away, &QToolButton::clicked, this, takeOut);
    grid_->addWidget(away, row, column);
}

void NamedCard::setCan(bool isThere, bool hasItem) {
    add_->setText(item_.empty() ? choose_ : tr("Add %1").arg(labelOf(item_)));
    add_->setEnabled(!item_.empty() && !name_.empty() && !hasItem);
    remove_->setEnabled(isThere);
}

}  // namespace app
