#include "app/kit/flow_layout.h"

#include <algorithm>

namespace app {

FlowLayout::FlowLayout(QWidget* parent, int gap) : QLayout(parent), gap_(gap) {
    setContentsMargins(0, 0, 0, 0);
}

FlowLayout::~FlowLayout() {
    for (QLayoutItem* item : items_) delete item;
}

QLayoutItem* FlowLayout::takeAt(int i) {
    QLayoutItem* item = itemAt(i);
    if (item != nullptr) items_.erase(items_.begin() + i);
    return item;
}

void FlowLayout::setGeometry(const QRect& rect) {
    QLayout::setGeometry(rect);
    arrange(rect, true);
}

QSize FlowLayout::minimumSize() const {
    QSize size;
    for (const QLayoutItem* item : items_) size = size.expandedTo(item->minimumSize());
    return size;
}

int FlowLayout::arrange(const QRect& rect, bool place) const {
    int x = rect.x(), y = rect.y(), row = 0;
    for (QLayoutItem* item : items_) {
        const QSize size = item->sizeHint();
        if (x + size.width() > rect.right() + 1 && x > rect.x()) {
            x = rect.x();
            y += row + gap_;
            row = 0;
        }
        if (place) item->setGeometry({QPoint(x, y), size});
        x += size.width() + gap_;
        row = std::max(row, size.height());
    }
    return y + row - rect.y();
}

}  // namespace app
