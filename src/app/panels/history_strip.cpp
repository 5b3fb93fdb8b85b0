#include "app/panels/history_strip.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QDateTime>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/kit/parts.h"
#include "app/names.h"
#include "edit/codec.h"
#include "edit/session.h"

namespace app {
namespace {

constexpr double kLeft = 74, kGap = 18, kLineY = 26;

/// How high a step's stroke stands: by how much it changed, so that one object more is seen as well as ten thousand.
double strokeHeight(const edit::StepInfo* info) {
    constexpr double kLeast = 5, kMost = 19, kRows = 100'000;
    const double rows = info != nullptr ? static_cast<double>(std::max<std::size_t>(info->rows, 1)) : 1;
    return kLeast + (kMost - kLeast) * std::min(1.0, std::log(rows) / std::log(kRows));
}

}  // namespace

HistoryStrip::HistoryStrip(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("strip");
    setAccessibleName(tr("History"));
    setFixedHeight(36);
    setMouseTracking(true);
    setFocusPolicy(Qt::TabFocus);
    connect(&editor_, &Editor::historyChanged, this, &HistoryStrip::relay);
    connect(&editor_, &Editor::themeChanged, this, QOverload<>::of(&QWidget::update));
}

// Marks of the line through the present; other children of its steps hang below as branches. Only what is in sight is
// laid out.
void HistoryStrip::relay() {
    marks_.clear();
    saves_.clear();
    if (!editor_.isOpen()) return update();
    const edit::History& history = editor_.session().history();
    for (const edit::SaveMark& save : editor_.session().saves()) saves_.insert(save.step);
    std::vector<edit::StepId> line = {edit::kRoot};
    const auto rest = history.line();
    line.insert(line.end(), rest.begin(), rest.end());
    const auto present = std::find(line.begin(), line.end(), history.present());
    presentAt_ = static_cast<std::size_t>(present - line.begin());
    lineLength_ = line.size() - 1;
    const double room = std::max(40.0, width() - kLeft - 190.0);
    const double total = static_cast<double>(line.size()) * kGap;
    // The present stays in sight unless one has scrolled away; nothing slides under a drag.
    if (!scrubFrom_)
        start_ =
            std::clamp(static_cast<double>(presentAt_ + 3) * kGap - room - scroll_, 0.0, std::max(0.0, total - room));
    const auto first = static_cast<std::size_t>(start_ / kGap);
    std::set<edit::StepId> onLine(line.begin(), line.end());
    std::map<edit::StepId, edit::StepId> branches;
    for (const edit::StepInfo& info : history.steps())
        if (!onLine.contains(info.id) && onLine.contains(info.parent)) branches[info.parent] = info.id;
    for (std::size_t i = first; i < line.size(); ++i) {
        const double x = kLeft + 10 + static_cast<double>(i) * kGap - start_;
        if (x > kLeft + room) break;
        if (x < kLeft) continue;
        marks_.push_back({line[i], {x, kLineY}, false});
        if (auto branch = branches.find(line[i]); branch != branches.end())
            marks_.push_back({branch->second, {x + kGap / 2, kLineY + 6}, true});
    }
    update();
}

void HistoryStrip::resizeEvent(QResizeEvent*) {
    relay();
}

QString HistoryStrip::nameOf(edit::StepId step) const {
    const edit::StepInfo* info = editor_.session().history().step(step);
    if (info == nullptr) return tr("As it was opened first");
    const QString when = QDateTime::fromMSecsSinceEpoch(info->timeMs).toString("HH:mm:ss");
    return QString::fromStdString(info->name) + " · " + when + (saves_.contains(step) ? tr(" · saved") : QString());
}

std::optional<QPointF> HistoryStrip::placeOf(edit::StepId step) const {
    for (const Mark& mark : marks_)
        if (mark.step == step) return mark.at;
    return std::nullopt;
}

const HistoryStrip::Mark* HistoryStrip::markAt(const QPointF& p) const {
    for (const Mark& mark : marks_)
        if (std::abs(p.x() - mark.at.x()) < kGap / 2 && (p.y() > kLineY + 1) == mark.branch) return &mark;
    return nullptr;
}

void HistoryStrip::paintEvent(QPaintEvent*) {
    const Theme& t = editor_.theme();
    QPainter p(this);
    p.fillRect(rect(), t.panel);
    p.setPen(t.line);
    p.drawLine(0, 0, width(), 0);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(hasFocus() ? t.honey : t.dim);
    p.drawText(QRectF(12, 0, 60, height()), Qt::AlignVCenter, tr("History"));
    if (!editor_.isOpen()) return;
    const edit::StepId present = editor_.session().history().present();
    const double end = width() - 180.0;
    p.setPen(QPen(t.line, 1.5, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(kLeft, kLineY), QPointF(end, kLineY));
    bool after = false;
    for (const Mark& mark : marks_)
        if (!mark.branch && mark.step == present) after = true;
    bool past = after || (!marks_.empty() && presentAt_ > 0);
    for (const Mark& mark : marks_) {
        const bool here = mark.step == present && !mark.branch, save = saves_.contains(mark.step);
        const edit::StepInfo* info = editor_.session().history().step(mark.step);
        if (mark.branch) {  // hangs below, from the step that it goes on from
            p.setPen(QPen(mark.step == hovered_ ? t.text : t.faint, 2, Qt::SolidLine, Qt::RoundCap));
            p.drawPolyline(
                QPolygonF{{mark.at.x() - kGap / 2, kLineY}, {mark.at.x() - kGap / 2 + 3, mark.at.y()}, mark.at});
            continue;
        }
        const bool hollow = !here && !past;
        const double wide = here ? 8 : 5, high = strokeHeight(info);
        const QRectF stroke(mark.at.x() - wide / 2, kLineY - high, wide, high);
        p.setPen(QPen(mark.step == hovered_ ? t.text : hollow ? t.faint : here ? t.honey : Qt::transparent, 1.2));
        p.setBrush(here ? t.honey : hollow ? t.panel : t.faint);
        p.drawRoundedRect(stroke, 2, 2);
        p.setPen(Qt::NoPen);
        if (here) p.drawRoundedRect(QRectF(mark.at.x() - 6, kLineY - high - 5, 12, 8), 4, 4);  // the knob
        p.setBrush(t.moss);
        if (save) p.drawRoundedRect(QRectF(mark.at.x() - 6, kLineY + 2, 12, 4), 2, 2);  // the foot
        if (here) past = false;
    }
    p.setPen(t.dim);
    p.drawText(QRectF(end, 0, width() - end - 12, height()), Qt::AlignRight | Qt::AlignVCenter,
               tr("Step %1 of %2").arg(presentAt_).arg(lineLength_));
}

const HistoryStrip::Mark* HistoryStrip::nearestOnLine(double x) const {
    const Mark* best = nullptr;
    for (const Mark& mark : marks_)
        if (!mark.branch && (best == nullptr || std::abs(mark.at.x() - x) < std::abs(best->at.x() - x))) best = &mark;
    return best;
}

// By value: going there lays the marks out anew.
void HistoryStrip::go(edit::StepId step) {
    if (step != editor_.session().history().present()) editor_.report(editor_.session().jumpTo(step));
}

void HistoryStrip::mouseMoveEvent(QMouseEvent* event) {
    if (scrubFrom_ && event->buttons() & Qt::LeftButton && editor_.isOpen()) {
        if (const Mark* nearest = nearestOnLine(event->position().x())) go(nearest->step);
    }
    const Mark* mark = markAt(event->position());
    const edit::StepId now = mark != nullptr ? mark->step : -1;
    if (now == hovered_) return;
    hovered_ = now;
    if (mark != nullptr)
        QToolTip::showText(mapToGlobal(QPoint(static_cast<int>(mark->at.x()), -62)), nameOf(now), this);
    else
        QToolTip::hideText();
    update();
}

void HistoryStrip::mousePressEvent(QMouseEvent* event) {
    if (const Mark* mark = markAt(event->position()); mark != nullptr && event->button() == Qt::LeftButton) {
        scrubFrom_ = editor_.session().history().present();
        setFocus();
        go(mark->step);
    }
}

void HistoryStrip::mouseReleaseEvent(QMouseEvent*) {
    if (!scrubFrom_) return;
    scrubFrom_.reset();
    scroll_ = 0;
    relay();
}

bool HistoryStrip::cancel() {
    if (!scrubFrom_) return false;
    go(*std::exchange(scrubFrom_, std::nullopt));
    return true;
}

void HistoryStrip::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

void HistoryStrip::wheelEvent(QWheelEvent* event) {
    scroll_ = std::clamp(scroll_ + event->angleDelta().y() / 120.0 * kGap * 3, -static_cast<double>(lineLength_) * kGap,
                         static_cast<double>(lineLength_) * kGap);
    relay();
}

void HistoryStrip::contextMenuEvent(QContextMenuEvent* event) {
    const Mark* mark = markAt(event->pos());
    if (mark == nullptr || !editor_.isOpen()) return;
    const edit::StepId step = mark->step;
    QMenu* menu = openMenu(this);
    menu->setObjectName("historyMenu");
    QAction* there = menu->addAction(tr("Go to this step"));
    there->setEnabled(step != editor_.session().history().present());
    connect(there, &QAction::triggered, this, [this, step] { go(step); });
    connect(menu->addAction(tr("Select what it changed")), &QAction::triggered, this,
            [this, step] { selectChanged(step); });
    connect(menu->addAction(tr("Copy its name")), &QAction::triggered, this,
            [this, step] { QApplication::clipboard()->setText(nameOf(step)); });
    menu->popup(event->globalPos());
}

/// Of the scene that is shown, what is still there.
void HistoryStrip::selectChanged(edit::StepId step) {
    const auto contents = editor_.session().contents(step);
    if (!contents) return void(editor_.report(tl::unexpected(contents.error())));
    std::set<base::ObjectId> seen;
    std::vector<base::ObjectId> here;
    for (const model::ChangeSet& set : (*contents)->changes) {
        if (set.scene != editor_.sceneName()) continue;
        for (const model::Change& change : set.changes)
            for (const base::ObjectId id : model::idsIn(change))
                if (editor_.scene().find(id) != model::kNoSlot && seen.insert(id).second) here.push_back(id);
    }
    if (here.empty()) return editor_.say(tr("It changed nothing that is in this scene now."));
    editor_.select(std::move(here));
}

void HistoryStrip::keyPressEvent(QKeyEvent* event) {
    if (!editor_.isOpen()) return;
    if (event->key() == Qt::Key_Escape && cancel()) return;
    if (event->key() == Qt::Key_Left)
        editor_.report(editor_.session().undo());
    else if (event->key() == Qt::Key_Right)
        editor_.report(editor_.session().redo());
    else
        QWidget::keyPressEvent(event);
}

}  // namespace app
