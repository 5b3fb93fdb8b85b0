#include "app/kit/list_and_form.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QScrollArea>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/kit/turning_splitter.h"
#include "app/panels/property_rows.h"
#include "app/shell/editor.h"

namespace app {

ListAndForm::ListAndForm(QWidget* parent, Editor& editor, const Words& words, int leastWidth)
    : QWidget(parent),
      editor_(editor),
      name_(new QLineEdit),
      rows_(new PropertyRows(editor)),
      file_(wrapped({}, "faint")) {
    const QString one = QLatin1String(words.one);
    setObjectName("panel");
    setAttribute(Qt::WA_StyledBackground);
    setWindowTitle(words.title);
    setMinimumWidth(leastWidth);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(12, 10, 12, 10);
    auto* split = new TurningSplitter;
    outer->addWidget(split, 1);
    auto* left = new QWidget;
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 6, 0);
    column->addWidget(search_ = new QLineEdit);
    search_->setObjectName(one + "Search");
    search_->setPlaceholderText(words.find);
    search_->setAccessibleName(words.find);
    search_->setClearButtonEnabled(true);
    column->addWidget(list_ = new QTreeWidget, 1);
    list_->setObjectName(one + "List");
    list_->setAccessibleName(words.listed);
    setFocusProxy(list_);
    column->addWidget(below_ = new FoldingBar);
    split->addWidget(left);
    side_ = new QWidget;
    column_ = new QVBoxLayout(side_);
    column_->setContentsMargins(6, 0, 0, 0);
    split->addWidget(side_);
    split->setSizes({320, 500});
    name_->setObjectName(one + "Name");
    name_->setAccessibleName(words.nameOfOne);
    connect(&editor_, &Editor::projectChanged, this, &ListAndForm::closeAsked);
}

void ListAndForm::addForm(QVBoxLayout* column) {
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    auto* inside = new QWidget;
    inside->setObjectName("scrolled");
    auto* holds = new QVBoxLayout(inside);
    holds->setContentsMargins(0, 4, 8, 0);
    holds->addWidget(rows_);
    rows_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    holds->addStretch();
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
}

void ListAndForm::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closeAsked();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace app
