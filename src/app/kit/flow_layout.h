#pragma once
// A layout that puts widgets in rows, and begins a new row where one is full.
#include <QLayout>
#include <vector>

namespace app {

class FlowLayout : public QLayout {
  public:
    FlowLayout(QWidget* parent, int gap);
    ~FlowLayout() override;

    void addItem(QLayoutItem* item) override { items_.push_back(item); }
    int count() const override { return static_cast<int>(items_.size()); }
    QLayoutItem* itemAt(int i) const override {
        return i >= 0 && i < count() ? items_[static_cast<std::size_t>(i)] : nullptr;
    }
    QLayoutItem* takeAt(int i) override;
    Qt::Orientations expandingDirections() const override { return {}; }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return arrange({0, 0, width, 0}, false); }
    void setGeometry(const QRect& rect) override;
    QSize sizeHint() const override { return minimumSize(); }
    QSize minimumSize() const override;

  private:
    int arrange(const QRect& rect, bool place) const;
    std::vector<QLayoutItem*> items_;
    int gap_;
};

}  // namespace app
