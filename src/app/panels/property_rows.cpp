#include "app/panels/property_rows.h"

#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

#include "app/kit/parts.h"
#include "app/panels/property_row.h"

namespace app {

PropertyRows::PropertyRows(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    layout_ = new QVBoxLayout(this);
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(5);
}

PropertyRows::~PropertyRows() = default;

void PropertyRows::show(const std::vector<PropertyShown>& shown) {
    std::vector<PropertyRow*> before = std::exchange(rows_, {});
    bool same = before.size() == shown.size();
    for (const PropertyShown& s : shown) {
        const auto place = std::find_if(before.begin(), before.end(), [&](PropertyRow* row) {
            return row != nullptr && row->shown().property == s.property;
        });
        PropertyRow* row = place != before.end() ? std::exchange(*place, nullptr) : new PropertyRow(*this, s);
        same = same && place - before.begin() == static_cast<std::ptrdiff_t>(rows_.size());
        rows_.push_back(row);
        if (place != before.end()) row->refresh(s);
    }
    for (PropertyRow* row : before)
        if (row != nullptr) retire(row);
    if (!same) place();
}

/// It goes once nobody is in the middle of it any more: what it was asked for may be why it goes.
void PropertyRows::retire(PropertyRow* row) {
    layout_->removeWidget(row);
    for (QWidget* part : row->findChildren<QWidget*>()) {
        part->blockSignals(true);
        part->setObjectName({});
    }
    row->hide();
    row->deleteLater();
}

/// Pinned ones first; then by category, each under its heading.
void PropertyRows::place() {
    for (QWidget* heading : headings_) delete heading;
    headings_.clear();
    std::vector<PropertyRow*> order = rows_;
    std::vector<std::string> categories;
    for (PropertyRow* row : order)
        if (std::find(categories.begin(), categories.end(), row->shown().property.category) == categories.end())
            categories.push_back(row->shown().property.category);
    auto rank = [&](PropertyRow* row) {
        if (row->isPinned()) return std::ptrdiff_t{-1};
        return std::find(categories.begin(), categories.end(), row->shown().property.category) - categories.begin();
    };
    std::stable_sort(order.begin(), order.end(), [&](auto* a, auto* b) { return rank(a) < rank(b); });
    std::ptrdiff_t last = -2;
    for (PropertyRow* row : order) {
        const std::ptrdiff_t now = rank(row);
        const QString title = now < 0 ? tr("Pinned") : toQt(row->shown().property.category);
        if (now != last && !title.isEmpty()) {
            auto* heading = new QLabel(title, this);
            heading->setObjectName("faint");
            layout_->addWidget(heading);
            headings_.push_back(heading);
        }
        last = now;
        layout_->removeWidget(row);
        layout_->addWidget(row);
        row->setVisible(row->fits(filter_));
    }
    for (QWidget* heading : headings_) heading->setVisible(filter_.isEmpty());
}

void PropertyRows::focusField(const QString& name) {
    auto* field = findChild<QWidget*>("property." + name);
    if (field == nullptr) return;
    field->setFocus();
    if (auto* line = qobject_cast<QLineEdit*>(field)) line->selectAll();
}

void PropertyRows::takeTyped() {
    for (auto* line : findChildren<QLineEdit*>())
        if (line->isModified()) Q_EMIT line->editingFinished();
}

void PropertyRows::setFilter(const QString& text) {
    filter_ = text;
    place();
}

}  // namespace app
