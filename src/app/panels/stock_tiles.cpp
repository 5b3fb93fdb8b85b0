#include "app/panels/stock_tiles.h"

#include <QDrag>
#include <QMimeData>
#include <QPainter>
#include <cmath>

namespace app {
namespace {

constexpr QSize kTile(86, 86);

double brightness(const QColor& c) {
    return 0.2126 * c.redF() + 0.7152 * c.greenF() + 0.0722 * c.blueF();
}

}  // namespace

QSize TileDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return kTile + QSize(6, 6);
}

void TileDelegate::paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& t = editor_.theme();
    const bool on = (option.state & QStyle::State_Selected) != 0, over = (option.state & QStyle::State_MouseOver) != 0;
    const QRect box = option.rect.adjusted(3, 3, -3, -3);
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(QPen(on ? t.honey : over ? t.faint : t.line, 1));
    p->setBrush(t.window);
    p->drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5), 7, 7);
    const QPixmap picture = index.data(Qt::DecorationRole).value<QPixmap>();
    p->drawPixmap(box.center().x() - kThumbnail / 2, box.top() + 5, kThumbnail, kThumbnail, picture);
    QFont font = option.font;
    font.setPixelSize(11);
    p->setFont(font);
    p->setPen(on ? t.text : t.dim);
    const QRect words(box.left() + 4, box.bottom() - 22, box.width() - 8, 18);
    p->drawText(words, Qt::AlignCenter,
                QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideMiddle, words.width()));
    p->restore();
}

QImage seen(const QImage& picture, const Theme& theme) {
    double sum = 0, weight = 0;
    for (int y = 0; y < picture.height(); y += 2)
        for (int x = 0; x < picture.width(); x += 2) {
            const QColor c = picture.pixelColor(x, y);
            sum += brightness(c) * c.alphaF();
            weight += c.alphaF();
        }
    constexpr double kApart = 0.12;
    if (weight < 1 || std::abs(sum / weight - brightness(theme.window)) > kApart) return picture;
    QImage image(picture.size(), QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    QColor ground = theme.dim;
    ground.setAlpha(190);
    p.setBrush(ground);
    p.drawEllipse(image.rect().adjusted(2, 2, -2, -2));
    p.drawImage(0, 0, picture);
    return image;
}

void TileView::startDrag(Qt::DropActions) {
    const QModelIndex index = currentIndex();
    if (!index.isValid()) return;
    auto* drag = new QDrag(this);
    drag->setMimeData(model()->mimeData({index}));
    const QPixmap picture = index.data(Qt::DecorationRole).value<QPixmap>();
    drag->setPixmap(picture.scaled(36, 36, Qt::KeepAspectRatio, Qt::SmoothTransformation));
    drag->setHotSpot(QPoint(-14, -14));
    drag->exec(Qt::CopyAction);
}

}  // namespace app
