#pragma once
// What the mouse and keys would do, in phrases with a dot between: as many as there is room for, each whole.
#include <QLabel>
#include <QPainter>

namespace app {

class HintLabel : public QLabel {
  public:
    HintLabel() {
        setObjectName("hint");
        setMinimumWidth(10);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    }
    /// What is to be read of it now; text() is all of it.
    QString shown() const {
        static const QString kDot = QStringLiteral(" · ");
        QString fits = text();
        while (fontMetrics().horizontalAdvance(fits) > width()) {
            const auto last = fits.lastIndexOf(kDot);
            if (last < 0) return fontMetrics().elidedText(fits, Qt::ElideRight, width());
            fits.truncate(last);
        }
        return fits;
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setPen(palette().color(foregroundRole()));
        p.drawText(contentsRect(), Qt::AlignLeft | Qt::AlignVCenter, shown());
    }
};

}  // namespace app
