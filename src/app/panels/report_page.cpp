#include "app/panels/report_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QRegularExpression>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"

namespace app {

namespace {

constexpr int kObject = Qt::UserRole;
constexpr int kMostRows = 20'000;

}  // namespace

ReportPage::ReportPage(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    head->addWidget(title_ = wrapped({}, "reportTitle"), 1);
    head->addWidget(stop_ = button<QPushButton>("reportStop", tr("Stop"), tr("Ends the program that runs")));
    auto* close = button<QPushButton>("reportClose", tr("Close"), tr("Back to the recipe"));
    head->addWidget(close);
    whole->addLayout(head);
    rows_ = new QTreeWidget;
    rows_->setObjectName("reportRows");
    rows_->setAccessibleName(tr("Report"));
    rows_->setHeaderLabels({tr("What"), tr("How")});
    rows_->setUniformRowHeights(true);
    rows_->setColumnWidth(0, 460);
    whole->addWidget(rows_, 1);
    stop_->hide();
    connect(close, &QPushButton::clicked, this, &ReportPage::finished);
    connect(stop_, &QPushButton::clicked, this, &ReportPage::stopAsked);
    const auto select = [this](QTreeWidgetItem* row) {
        if (const auto id = base::parseObjectId(row->data(0, kObject).toString().toStdString()))
            if (editor_.isOpen() && editor_.scene().find(*id) != kNoSlot) editor_.select({*id});
    };
    connect(rows_, &QTreeWidget::itemClicked, this, select);
    connect(rows_, &QTreeWidget::itemActivated, this, select);
}

void ReportPage::begin(const QString& title) {
    title_->setText(title);
    rows_->clear();
    under_ = nullptr;
    named_.clear();
    for (Slot s = 0; editor_.isOpen() && s < editor_.scene().slotEnd(); ++s)
        if (editor_.scene().alive(s)) named_.try_emplace(toQt(editor_.scene().nameText(s)), editor_.scene().id(s));
}

void ReportPage::heading(const QString& text) {
    under_ = new QTreeWidgetItem(rows_, {text});
    QFont font = under_->font(0);
    font.setWeight(QFont::DemiBold);
    under_->setFont(0, font);
    under_->setExpanded(true);
}

void ReportPage::row(const QString& what, const QString& detail, base::ObjectId object) {
    if (under_ == nullptr) heading(tr("Report"));
    if (under_->childCount() >= kMostRows) return;
    auto* one = new QTreeWidgetItem(under_, {what, detail});
    for (int column : {0, 1}) one->setToolTip(column, one->text(column));
    if (object.value == 0) return;
    one->setData(0, kObject, toQt(base::toText(object)));
    one->setForeground(0, editor_.theme().lilac);
}

void ReportPage::said(const QString& line) {
    row(line, {}, objectIn(line));
    rows_->scrollToItem(under_->child(under_->childCount() - 1));
}

/// By its id, or by a name in quotes.
base::ObjectId ReportPage::objectIn(const QString& line) {
    static const QRegularExpression id("\\b[0-9a-f]{16}\\b"), quoted("[“\"']([^“”\"']+)[”\"']");
    for (auto found = id.globalMatch(line); found.hasNext();)
        if (const auto object = base::parseObjectId(found.next().captured().toStdString()))
            if (editor_.isOpen() && editor_.scene().find(*object) != kNoSlot) return *object;
    for (auto found = quoted.globalMatch(line); found.hasNext();)
        if (const auto held = named_.find(found.next().captured(1)); held != named_.end()) return held->second;
    return {};
}

void ReportPage::setRunning(bool running) {
    stop_->setVisible(running);
}

}  // namespace app
