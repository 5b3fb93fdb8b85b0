#include "app/dialogs/popovers.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace app {
namespace {

void place(QFrame* popover, QSize size) {
    popover->setObjectName("popover");
    popover->setAttribute(Qt::WA_StyledBackground);
    popover->setAttribute(Qt::WA_DeleteOnClose);
    const QWidget* window = popover->parentWidget();
    popover->setGeometry(QRect(QPoint((window->width() - size.width()) / 2, 84), size));
    popover->show();
    popover->raise();
}

QLabel* title(const QString& text) {
    auto* l = new QLabel(text);
    l->setObjectName("panelTitle");
    return l;
}

}  // namespace

NamePopover::NamePopover(QWidget* parent, const QString& heading, const QString& button, const QString& name,
                         const QStringList& templates, std::function<QString(const QString&, const QString&)> accept)
    : QFrame(parent), accept_(std::move(accept)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addWidget(title(heading));
    name_ = new QLineEdit(name);
    name_->setObjectName("popoverName");
    name_->setAccessibleName(tr("Name"));
    layout->addWidget(name_);
    template_ = new QComboBox;
    template_->setObjectName("popoverTemplate");
    template_->setAccessibleName(tr("Template"));
    template_->addItems(templates);
    template_->setVisible(!templates.isEmpty());
    layout->addWidget(template_);
    problem_ = new QLabel;
    problem_->setObjectName("quiet");
    problem_->setWordWrap(true);
    layout->addWidget(problem_);
    auto* row = new QHBoxLayout;
    row->addStretch();
    auto* cancel = new QPushButton(tr("Cancel"));
    auto* go = new QPushButton(button);
    go->setObjectName("popoverAccept");
    go->setProperty("primary", true);
    row->addWidget(cancel);
    row->addWidget(go);
    layout->addLayout(row);
    connect(cancel, &QPushButton::clicked, this, &QWidget::close);
    connect(go, &QPushButton::clicked, this, &NamePopover::tryAccept);
    connect(name_, &QLineEdit::returnPressed, this, &NamePopover::tryAccept);
    place(this, {340, templates.isEmpty() ? 150 : 180});
    name_->setFocus();
    name_->selectAll();
}

void NamePopover::tryAccept() {
    const QString problem = accept_(name_->text().trimmed(), template_->currentText());
    if (problem.isEmpty())
        close();
    else
        problem_->setText(problem);
}

void NamePopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        close();
    else
        QFrame::keyPressEvent(event);
}

ListPopover::ListPopover(QWidget* parent, const QString& heading, const char* name, const QStringList& lines)
    : QFrame(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addWidget(title(heading));
    auto* text = new QPlainTextEdit;
    text->setObjectName(QLatin1String(name));
    text->setAccessibleName(heading);
    text->setReadOnly(true);
    text->setPlainText(lines.join('\n'));
    layout->addWidget(text, 1);
    auto* row = new QHBoxLayout;
    row->addStretch();
    auto* done = new QPushButton(tr("Close"));
    row->addWidget(done);
    layout->addLayout(row);
    connect(done, &QPushButton::clicked, this, &QWidget::close);
    place(this, {720, 320});
    done->setFocus();
}

void ListPopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        close();
    else
        QFrame::keyPressEvent(event);
}

}  // namespace app
