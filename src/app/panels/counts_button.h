#pragma once
// A flat button that says several things, each in a colour of its own.
#include <QPainter>
#include <QStyleOptionToolButton>
#include <QToolButton>

namespace app {

class CountsButton : public QToolButton {
  public:
    using QToolButton::QToolButton;
    using Parts = QList<QPair<QString, QColor>>;
    void setParts(const Parts& parts) {
        parts_ = parts;
        QStringList words;
        for (const auto& [word, colour] : parts) words << word;
        setText(words.join(kBetween));
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QStyleOptionToolButton option;
        initStyleOption(&option);
        option.text.clear();
        QPainter painter(this);
        style()->drawComplexControl(QStyle::CC_ToolButton, &option, &painter, this);
        painter.setFont(font());
        const QFontMetrics metrics(font());
        int x = (width() - metrics.horizontalAdvance(text())) / 2;
        for (const auto& [word, colour] : parts_) {
            painter.setPen(colour);
            painter.drawText(QRect(x, 0, width() - x, height()), Qt::AlignLeft | Qt::AlignVCenter, word);
            x += metrics.horizontalAdvance(word + kBetween);
        }
    }

  private:
    static constexpr QLatin1String kBetween{"  "};
    Parts parts_;
};

}  // namespace app
