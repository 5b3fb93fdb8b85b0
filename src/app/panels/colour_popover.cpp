#include "app/panels/colour_popover.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPointer>
#include <QScreen>
#include <QSettings>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace app {

/// One or two parts of a colour as a place: across and, in a square, upwards; each 0 to 1.
class ColourSquare : public QWidget {
  public:
    using Paint = std::function<QColor(double across, double up)>;
    ColourSquare(const char* name, const QString& what, int height, Paint paint)
        : paint_(std::move(paint)), isStrip_(height < 30) {
        setObjectName(QLatin1String(name));
        setAccessibleName(what);
        setToolTip(what);
        setFixedSize(196, height);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::CrossCursor);
    }
    double across = 0, up = 0;
    std::function<void()> moved, done;

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        QImage image(width(), height(), QImage::Format_RGB32);
        for (int y = 0; y < height(); ++y)
            for (int x = 0; x < width(); ++x)
                image.setPixelColor(x, y, paint_(x / double(width() - 1), 1 - y / double(height() - 1)));
        p.drawImage(0, 0, image);
        p.setRenderHint(QPainter::Antialiasing);
        constexpr double kRing = 7;  // all of it stays in sight
        const QPointF at(std::clamp(across * (width() - 1), kRing, width() - kRing),
                         isStrip_ ? height() / 2.0 : std::clamp((1 - up) * (height() - 1), kRing, height() - kRing));
        for (const auto& [ink, wide] : {std::pair{QColor(20, 20, 16), 3.6}, {QColor(250, 248, 240), 1.8}}) {
            p.setPen(QPen(ink, hasFocus() ? wide + 0.8 : wide));
            p.drawEllipse(at, 5, 5);
        }
    }
    void mousePressEvent(QMouseEvent* event) override { follow(event->position()); }
    void mouseMoveEvent(QMouseEvent* event) override { follow(event->position()); }
    void mouseReleaseEvent(QMouseEvent*) override { done(); }
    void keyPressEvent(QKeyEvent* event) override {
        const double step = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 0.01;
        switch (event->key()) {
            case Qt::Key_Left: return go(across - step, up);
            case Qt::Key_Right: return go(across + step, up);
            case Qt::Key_Up: return go(across, up + step);
            case Qt::Key_Down: return go(across, up - step);
            default: QWidget::keyPressEvent(event);
        }
    }

  private:
    void follow(const QPointF& at) { go(at.x() / (width() - 1), 1 - at.y() / (height() - 1)); }
    void go(double x, double y) {
        across = std::clamp(x, 0.0, 1.0);
        up = std::clamp(y, 0.0, 1.0);
        update();
        moved();
    }

    Paint paint_;
    bool isStrip_;
};

namespace {

constexpr int kRemembered = 8;
constexpr const char* kLately = "colours/lately";

void remember(const QColor& colour) {
    QStringList names = QSettings().value(QLatin1String(kLately)).toStringList();
    names.removeAll(colour.name());
    names.prepend(colour.name());
    QSettings().setValue(QLatin1String(kLately), names.mid(0, kRemembered));
}

}  // namespace

ColourPopover::ColourPopover(QWidget* at, const QColor& now, std::function<void(const QColor&)> take)
    : QFrame(at, Qt::Popup), take_(std::move(take)), taken_(now) {
    setObjectName("popover");
    setAttribute(Qt::WA_DeleteOnClose);
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 10, 10, 10);
    column->setSpacing(7);
    square_ = new ColourSquare(
        "colourSquare", tr("Across: how strong the colour is; upwards: how light"), 120,
        [this](double x, double y) { return QColor::fromHsvF(float(strip_->across), float(x), float(y)); });
    strip_ = new ColourSquare("colourHue", tr("Which hue"), 16,
                              [](double x, double) { return QColor::fromHsvF(float(x), 1, 1); });
    column->addWidget(square_);
    column->addWidget(strip_);
    code_ = new QLineEdit;
    code_->setObjectName("colourCode");
    code_->setAccessibleName(tr("Code of the colour"));
    code_->setToolTip(tr("A code such as #aa8844"));
    column->addWidget(code_);
    auto* lately = new QHBoxLayout;
    lately->setSpacing(4);
    for (const QString& name : QSettings().value(QLatin1String(kLately)).toStringList()) {
        auto* patch = new QToolButton;
        patch->setObjectName("colourLately");
        patch->setFixedSize(20, 20);
        patch->setStyleSheet(QString("background: %1; border-radius: 4px;").arg(name));
        patch->setToolTip(name);
        patch->setAccessibleName(name);
        lately->addWidget(patch);
        connect(patch, &QToolButton::clicked, this, [this, name] {
            show(QColor(name));
            choose();
        });
    }
    lately->addStretch();
    column->addLayout(lately);
    for (ColourSquare* part : {square_, strip_}) {
        part->moved = [this] {
            show(QColor::fromHsvF(float(strip_->across), float(square_->across), float(square_->up)));
        };
        part->done = [this] { choose(); };
    }
    connect(code_, &QLineEdit::returnPressed, this, [this] {
        const QColor typed(code_->text());
        if (!typed.isValid()) return code_->setText(colour_.name());
        show(typed);
        const QPointer<ColourPopover> self(this);
        choose();
        if (self) close();  // what takes it may have built its rows anew, and this with them
    });
    strip_->across = std::max(0.0F, now.hueF());
    square_->across = now.saturationF();
    square_->up = now.valueF();
    show(now);
    adjustSize();
    QPoint corner = at->mapToGlobal(QPoint(0, at->height() + 2));
    const QRect room = at->screen()->availableGeometry();
    corner.setX(std::clamp(corner.x(), room.left(), std::max(room.left(), room.right() - width())));
    if (corner.y() + height() > room.bottom()) corner.setY(at->mapToGlobal(QPoint(0, -height() - 2)).y());
    move(corner);
    QFrame::show();
    square_->setFocus();
}

void ColourPopover::show(const QColor& colour) {
    colour_ = colour;
    // A grey has no hue, and black no strength: those stay where they were.
    if (colour.hueF() >= 0 && std::abs(colour.hueF() - float(strip_->across)) > 0.002F && colour.hsvSaturationF() > 0)
        strip_->across = colour.hueF();
    if (colour.valueF() > 0) square_->across = colour.hsvSaturationF();
    square_->up = colour.valueF();
    square_->update();
    strip_->update();
    code_->setText(colour.name());
}

void ColourPopover::choose() {
    if (colour_.name() == taken_.name()) return;
    taken_ = colour_;
    remember(colour_);
    take_(colour_);
}

void ColourPopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) colour_ = taken_;
    if (event->key() == Qt::Key_Escape || event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        return (void)close();
    QFrame::keyPressEvent(event);
}

/// What the arrows went to is chosen when it closes.
void ColourPopover::closeEvent(QCloseEvent* event) {
    choose();
    QFrame::closeEvent(event);
}

}  // namespace app
