#include "app/panels/property_rows.h"

#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/panels/property_row.h"

namespace app {

PropertyRows::PropertyRows(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    layout_ = new QVBoxLayout(this);
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(5);
}

PropertyRows::~PropertyRows() = default;

void PropertyRows::show(const std::vector<PropertyShown>& shown) {
    const bool same =
        std::equal(rows_.begin(), rows_.end(), shown.begin(), shown.end(),
                   [](const auto& row, const PropertyShown& s) { return row->shown().property == s.property; });
    if (same) {
        // Links are drawn anew even so: what they lead to may have another name.
        for (std::size_t i = 0; i < shown.size(); ++i) rows_[i]->refresh(shown[i]);
        return;
    }
    rows_.clear();
    for (const PropertyShown& s : shown) rows_.push_back(std::make_unique<PropertyRow>(*this, s));
    place();
}

/// Pinned ones first; then by category, each under its heading.
void PropertyRows::place() {
    for (QWidget* heading : headings_) delete heading;
    headings_.clear();
    std::vector<PropertyRow*> order;
    for (const auto& row : rows_) order.push_back(row.get());
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

void PropertyRows::setFilter(const QString& text) {
    filter_ = text;
    place();
}

}  // namespace app
