#pragma once
// The tiles of the Stock: how one is painted, how a picture stays visible in it, and how one is dragged out.
#include <QImage>
#include <QListView>
#include <QStyledItemDelegate>

#include "app/shell/editor.h"

namespace app {

/// Width and height of a tile's picture, in pixels of the interface.
inline constexpr int kThumbnail = 56;

/// A tile: thumbnail over label.
class TileDelegate : public QStyledItemDelegate {
  public:
    TileDelegate(const Editor& editor, QObject* parent) : QStyledItemDelegate(parent), editor_(editor) {}
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override;

  private:
    const Editor& editor_;
};

/// A picture that would drown in the tile's ground stands before a disc of the other brightness.
[[nodiscard]] QImage seen(const QImage& picture, const Theme& theme);

/// The list of tiles. What is dragged out of it is shown small beside the pointer, so that the ghost in the view stays
/// in sight.
class TileView : public QListView {
  public:
    void startDrag(Qt::DropActions) override;
};

}  // namespace app
