#include "app/panels/route_panel.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/look/colour.h"
#include "app/names.h"
#include "app/shell/focus_home.h"
#include "app/shell/sight.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "query/pace.h"
#include "query/route_passage.h"

namespace app {

Slot selectedRoute(const Editor& editor) {
    if (!editor.isOpen()) return kNoSlot;
    for (auto id = editor.selection().rbegin(); id != editor.selection().rend(); ++id)
        if (const Slot s = editor.scene().find(*id); s != kNoSlot && editor.scene().detail(s))
            if (editor.scene().facet<model::Route>(s)) return s;
    return kNoSlot;
}

// ---- The profile

RouteProfile::RouteProfile(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("routeProfile");
    setAccessibleName(tr("Height and speed along the route"));
    setMinimumSize(240, 90);
    setMouseTracking(true);
}

void RouteProfile::show(const model::Scene& scene, Slot route) {
    const model::Route& is = *scene.facet<model::Route>(route);
    const shape::Curve curve = query::curveOf(scene, route);
    points_ = query::profileOf(is, curve, 240);
    length_ = curve.length();
    stops_.clear();
    int number = 0;
    for (const query::StopAt& stop : query::stopsOf(scene, route, curve)) {
        ++number;
        if (stop.slot != kNoSlot) stops_.emplace_back(stop.metres, number);
    }
    low_ = high_ = points_.empty() ? 0 : points_.front().height;
    fastest_ = 0;
    for (const query::ProfilePoint& p : points_) {
        low_ = std::min(low_, p.height);
        high_ = std::max(high_, p.height);
        fastest_ = std::max(fastest_, p.speed);
    }
    const double least = std::max(length_ / 40, 0.5);  // what is nearly level looks so
    if (high_ - low_ < least) {
        const double middle = (low_ + high_) / 2;
        low_ = middle - least / 2;
        high_ = middle + least / 2;
    }
    update();
}

void RouteProfile::clear() {
    points_.clear();
    stops_.clear();
    length_ = 0;
    update();
}

QRectF RouteProfile::field() const {
    return QRectF(rect()).adjusted(46, 18, -10, -18);
}

QPointF RouteProfile::pixelOf(double metres) const {
    const QRectF f = field();
    const double t = length_ > 0 ? metres / length_ : 0;
    const auto i = std::min(static_cast<std::size_t>(std::max(0.0, t) * static_cast<double>(points_.size())),
                            points_.empty() ? 0 : points_.size() - 1);
    const double height = points_.empty() ? low_ : points_[i].height;
    return {f.left() + t * f.width(), f.bottom() - (height - low_) / (high_ - low_) * f.height()};
}

double RouteProfile::metresAt(double x) const {
    return std::clamp((x - field().left()) / std::max(field().width(), 1.0), 0.0, 1.0) * length_;
}

void RouteProfile::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = editor_.theme();
    const QRectF f = field();
    p.setPen(QPen(t.line, 1));
    p.drawLine(f.bottomLeft(), f.bottomRight());
    p.drawLine(f.topLeft(), f.bottomLeft());
    if (points_.empty()) return;
    QFont letters = p.font();
    letters.setPixelSize(11);
    p.setFont(letters);
    p.setPen(t.dim);
    const auto number = [&](const QRectF& box, Qt::Alignment side, const QString& text) {
        p.drawText(box, side, text);
    };
    number({0, f.top() - 7, 42, 14}, Qt::AlignRight | Qt::AlignVCenter, editor_.length(high_));
    number({0, f.bottom() - 7, 42, 14}, Qt::AlignRight | Qt::AlignVCenter, editor_.length(low_));
    number({f.left(), f.bottom() + 2, f.width(), 14}, Qt::AlignRight, editor_.length(length_));
    number({f.left(), f.bottom() + 2, f.width(), 14}, Qt::AlignLeft, editor_.length(0));
    QPolygonF height, speed;
    for (const query::ProfilePoint& point : points_) {
        const double x = f.left() + point.metres / length_ * f.width();
        height << QPointF(x, f.bottom() - (point.height - low_) / (high_ - low_) * f.height());
        const QPointF at(x, f.bottom() - point.speed / std::max(fastest_, 1e-6) * f.height() * 0.9);
        if (!speed.isEmpty() && std::abs(speed.back().y() - at.y()) > 0.5) speed << QPointF(x, speed.back().y());
        speed << at;
    }
    p.setPen(QPen(t.axis[2], 1.2, Qt::DotLine));
    p.drawPolyline(speed);
    p.setPen(QPen(t.honey, 1.8));
    p.drawPolyline(height);
    for (const auto& [metres, stop] : stops_) {
        const QPointF at = pixelOf(metres);
        p.setPen(QPen(t.faint, 1));
        p.drawLine(QPointF(at.x(), f.top()), QPointF(at.x(), f.bottom()));
        p.setPen(t.text);
        p.drawText(QRectF(at.x() - 12, f.top() - 16, 24, 14), Qt::AlignCenter, QString::number(stop));
    }
    if (!at_) return;
    p.setPen(QPen(t.text, 1));
    p.drawLine(QPointF(pixelOf(*at_).x(), f.top()), QPointF(pixelOf(*at_).x(), f.bottom()));
}

void RouteProfile::mouseMoveEvent(QMouseEvent* event) {
    if (length_ <= 0) return;
    at_ = metresAt(event->position().x());
    Q_EMIT pointed(*at_);
    update();
}

void RouteProfile::mousePressEvent(QMouseEvent* event) {
    if (length_ > 0 && event->button() == Qt::LeftButton) Q_EMIT clicked(metresAt(event->position().x()));
}

void RouteProfile::leaveEvent(QEvent*) {
    at_.reset();
    update();
}

// ---- The page

RoutePanel::RoutePanel(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("panel");
    FocusHome::keepKeyboard(this);
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(10, 4, 10, 6);
    whole->addWidget(empty_ = wrapped(tr("Select a route, or draw one: Objects › Routes › Draw a route."), "faint"));
    whole->addWidget(all_ = new QWidget, 1);
    auto* row = new QHBoxLayout(all_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(14);
    auto* left = new QVBoxLayout;
    auto* measures = new QHBoxLayout;
    measures->setSpacing(14);
    measures->addWidget(names_ = label({}, "routeNames"));
    measures->addWidget(facts_ = label({}, "routeFacts"));
    facts_->setAlignment(Qt::AlignRight | Qt::AlignTop);
    left->addLayout(measures);
    left->addWidget(here_ = label({}, "routeHere"));
    left->addStretch();
    row->addLayout(left);
    row->addWidget(profile_ = new RouteProfile(editor_), 1);
    auto* area = new QScrollArea;
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFixedWidth(290);
    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    auto* where = new QHBoxLayout;
    where->addWidget(label(tr("Stands at"), "faint"));
    where->addWidget(at_ = new QLineEdit);
    at_->setObjectName("alongAt");
    at_->setAccessibleName(tr("Where the other selected object stands along the route"));
    at_->setToolTip(
        tr("Where the other selected objects stand along it, the first of them: 42 m, 30 %, half way, start, "
           "end, +2 m or -2 m; beside and above it they stay as they are"));
    connect(at_, &QLineEdit::returnPressed, this, [this] { Q_EMIT moveAsked(at_->text()); });
    column->addLayout(where);
    column->addWidget(form_ = new FieldsForm(editor_, ops::alongFields(), [this](const auto&, const auto& set) {
                          const auto done = set(&along_);
                          form_->show(&along_);
                          return done;
                      }));
    form_->setObjectName("alongForm");
    form_->show(&along_);
    auto* acts = new QHBoxLayout;
    auto* put = button<QToolButton>("alongPut", tr("Put along"),
                                    tr("The other selected objects, in the order in which they were selected"));
    auto* copy =
        button<QToolButton>("alongCopy", tr("Copies along"), tr("The other selected object is the first of them"));
    acts->addWidget(put);
    acts->addWidget(copy);
    acts->addStretch();
    column->addLayout(acts);
    column->addStretch();
    area->setWidget(right);
    row->addWidget(area);
    connect(put, &QToolButton::clicked, this, &RoutePanel::putAsked);
    connect(copy, &QToolButton::clicked, this, &RoutePanel::copyAsked);
    connect(profile_, &RouteProfile::pointed, this, &RoutePanel::say);
    connect(profile_, &RouteProfile::clicked, this, [this](double metres) {
        if (route() != kNoSlot) Q_EMIT lookAsked(query::curveOf(editor_.scene(), route()).at(metres));
    });
    const auto again = [this] {
        if (isVisible()) fill();
    };
    connect(&editor_, &Editor::projectChanged, this, again);
    connect(&editor_, &Editor::sceneShown, this, again);
    connect(&editor_, &Editor::selectionChanged, this, again);
    connect(&editor_, &Editor::sceneEdited, this, again);
}

Slot RoutePanel::route() const {
    return selectedRoute(editor_);
}

void RoutePanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    fill();
}

void RoutePanel::fill() {
    const Slot s = route();
    all_->setVisible(s != kNoSlot);
    empty_->setVisible(s == kNoSlot);
    here_->clear();
    if (s == kNoSlot) return profile_->clear();
    const model::Route& is = *editor_.scene().facet<model::Route>(s);
    const shape::Curve curve = query::curveOf(editor_.scene(), s);
    const query::RouteFacts facts = query::factsOf(is, curve);
    QStringList names, values;
    const auto line = [&](const QString& what, const QString& value) {
        names << what;
        values << value;
    };
    line(tr("Length"), editor_.length(facts.lap));
    if (is.closed && is.laps > 1) line(tr("In all"), editor_.length(facts.length));
    line(tr("Takes"), tr("%1 s").arg(fixed(facts.seconds, 1)));
    line(tr("Points"), QString::number(is.points.size()));
    line(tr("Stops"), QString::number(is.stops.size()));
    line(tr("Steepest"), tr("%1°").arg(fixed(facts.steepestDegrees, 1)));
    if (const query::SceneIndex* index = editor_.sight().index()) {
        constexpr std::size_t kLooks = 400;
        const query::Passage room = query::passageOf(editor_.scene(), *index, s, curve, kLooks);
        const auto size = [&](double metres) { return std::isfinite(metres) ? editor_.length(metres) : tr("open"); };
        line(tr("Narrowest"), size(room.narrowest));
        line(tr("Lowest"), size(room.lowest));
    }
    line(tr("Sharpest"), facts.sharpestRadius > 0 ? editor_.length(facts.sharpestRadius) : tr("straight"));
    names_->setText(names.join('\n'));
    facts_->setText(values.join('\n'));
    profile_->show(editor_.scene(), s);
    const auto other =
        std::ranges::find_if(editor_.selection(), [&](base::ObjectId id) { return id != editor_.scene().id(s); });
    const bool hasOther = other != editor_.selection().end();
    at_->setEnabled(hasOther);
    at_->setPlaceholderText(hasOther ? QString() : tr("select what stands there, too"));
    at_->setText(
        hasOther ? editor_.length(curve.nearest(editor_.scene().world(editor_.scene().find(*other)).translation).metres)
                 : QString());
}

void RoutePanel::say(double metres) {
    const Slot s = route();
    if (s == kNoSlot) return;
    const shape::Curve curve = query::curveOf(editor_.scene(), s);
    here_->setText(tr("at %1: %2 high, %3 m/s")
                       .arg(editor_.length(metres), editor_.length(curve.at(metres).y),
                            fixed(query::Pace(*editor_.scene().facet<model::Route>(s), curve).at(metres), 1)));
}

}  // namespace app
