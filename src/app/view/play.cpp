#include "app/view/play.h"

#include <QCursor>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <numeric>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/preferences.h"
#include "app/shell/rehearsal.h"
#include "app/view/eye.h"

namespace app {
namespace {

using rehearse::Input;

constexpr double kDegreesAPixel = 0.16;
/// What keys of who plays do while they are down.
constexpr std::pair<int, Input::Key> kHeld[] = {{Qt::Key_Shift, Input::Run}, {Qt::Key_Space, Input::Jump},
                                                {Qt::Key_C, Input::Duck},    {Qt::Key_E, Input::Use},
                                                {Qt::Key_G, Input::Take},    {Qt::Key_T, Input::Throw}};
constexpr double kFlies = 9;  // metres a second, of the free camera

}  // namespace

Play::Play(ViewContext& view, Eye& eye) : view_(view), eye_(eye), rehearsal_(view.editor.rehearsal()) {
    connect(&rehearsal_, &Rehearsal::changed, this, &Play::changed);
    connect(&rehearsal_, &Rehearsal::advanced, this, &Play::follow);
}

bool Play::isHere() const {
    return claimed_ && rehearsal_.isOn() && rehearsal_.mode() != Rehearsal::Mode::Settling &&
           rehearsal_.mode() != Rehearsal::Mode::Riding;
}

/// It began, ended, or goes otherwise.
void Play::changed() {
    const bool on = isHere();
    if (on && !wasOn_) {
        keys_.clear();
        view_.widget.setFocus();
        letMouse(rehearsal_.mode() == Rehearsal::Mode::Playing && view_.widget.isActiveWindow());
    }
    if (!on && wasOn_) {
        letMouse(false);
        keys_.clear();
        if (rehearsal_.cameraBefore()) eye_.setCamera(*rehearsal_.cameraBefore());
        claimed_ = false;
    }
    if (on && rehearsal_.mode() != Rehearsal::Mode::Playing && !rehearsal_.isFree()) letMouse(false);
    wasOn_ = on;
    Q_EMIT view_.hintStale();
    view_.update();
}

void Play::follow() {
    if (!isHere()) {
        if (rehearsal_.isOn()) view_.update();  // the way of who walks is seen in other panes
        return;
    }
    flyOn();
    const render::Camera camera = rehearsal_.camera();
    const render::Camera& is = view_.camera;
    const bool same = camera.eye == is.eye && camera.yawDegrees == is.yawDegrees &&
                      camera.pitchDegrees == is.pitchDegrees && camera.rollDegrees == is.rollDegrees &&
                      camera.verticalDegrees == is.verticalDegrees;
    if (!same) eye_.setCamera(camera);  // else the picture rests, and is sharp
    view_.update();
}

bool Play::takesKey(int key) const {
    if (!isHere()) return false;
    static const std::set<int> kAll = {
        Qt::Key_W,     Qt::Key_A, Qt::Key_S,   Qt::Key_D,      Qt::Key_Up,    Qt::Key_Down, Qt::Key_Left,
        Qt::Key_Right, Qt::Key_R, Qt::Key_F,   Qt::Key_Shift,  Qt::Key_Space, Qt::Key_C,    Qt::Key_E,
        Qt::Key_G,     Qt::Key_T, Qt::Key_P,   Qt::Key_N,      Qt::Key_B,     Qt::Key_J,    Qt::Key_1,
        Qt::Key_2,     Qt::Key_8, Qt::Key_Tab, Qt::Key_Escape, Qt::Key_Z,     Qt::Key_V};
    return kAll.contains(key);
}

void Play::press(int key) {
    if (key == Qt::Key_Escape) return rehearsal_.end();
    if (key == Qt::Key_P) return rehearsal_.setPaused(rehearsal_.mode() == Rehearsal::Mode::Playing);
    if (key == Qt::Key_N) return rehearsal_.stepOnce();
    if (key == Qt::Key_B) return rehearsal_.setFree(!rehearsal_.isFree());
    if (key == Qt::Key_Z) return rehearsal_.showZones(!rehearsal_.showsZones());
    if (key == Qt::Key_V) return rehearsal_.seeByCameras(!rehearsal_.seesByCameras());
    if (key == Qt::Key_Tab) return letMouse(!looks_);
    if (key == Qt::Key_J) {
        if (const auto place = eye_.pointedAt()) rehearsal_.jumpTo(*place);
        return;
    }
    for (const auto& [digit, times] : {std::pair{Qt::Key_1, 1}, {Qt::Key_2, 2}, {Qt::Key_8, 8}})
        if (key == digit) return rehearsal_.setSpeed(times);
    hold(key);
}

void Play::hold(int key) {
    keys_.insert(key);
    for (const auto& [one, bit] : kHeld)
        if (one == key) rehearsal_.tap(bit);
    gather();
}

void Play::release(int key) {
    keys_.erase(key);
    gather();
}

void Play::releaseAll() {
    keys_.clear();
    gather();
    letMouse(false);
}

/// What the held keys come to.
void Play::gather() {
    if (!isHere()) return;
    const auto held = [&](int a, int b) { return keys_.contains(a) || keys_.contains(b); };
    const auto share = [&](bool more, bool less) {
        return static_cast<std::int16_t>((more ? 100 : 0) - (less ? 100 : 0));
    };
    Input& input = rehearsal_.pressed();
    input.ahead = share(held(Qt::Key_W, Qt::Key_Up), held(Qt::Key_S, Qt::Key_Down));
    input.side = share(held(Qt::Key_D, Qt::Key_Right), held(Qt::Key_A, Qt::Key_Left));
    input.up = share(keys_.contains(Qt::Key_R), keys_.contains(Qt::Key_F));
    std::uint8_t down = 0;
    for (const auto& [key, bit] : kHeld)
        if (keys_.contains(key)) down = static_cast<std::uint8_t>(down | bit);
    input.keys = down;
}

/// The free camera goes where the keys say.
void Play::flyOn() {
    const double seconds =
        std::min(static_cast<double>(clock_.isValid() ? clock_.restart() : (clock_.start(), 0)) / 1000.0, 0.1);
    if (!rehearsal_.isFree() || keys_.empty()) return;
    const Input& input = rehearsal_.pressed();
    render::Camera& camera = rehearsal_.freeCamera();
    const base::Vec3 way = camera.forward() * (input.ahead / 100.0) + camera.right() * (input.side / 100.0) +
                           base::Vec3(0, input.up / 100.0, 0);
    camera.eye += way * (kFlies * (input.has(Input::Run) ? 4 : 1) * seconds);
}

void Play::letMouse(bool looks) {
    if (looks == looks_) return;
    looks_ = looks;
    if (looks) {
        view_.widget.setCursor(Qt::CrossCursor);
        QCursor::setPos(view_.widget.mapToGlobal(view_.widget.rect().center()));
    } else {
        view_.widget.unsetCursor();
    }
    Q_EMIT view_.hintStale();
    view_.update();
}

void Play::press(Qt::MouseButton button) {
    if (button == Qt::RightButton) dragging_ = true;
    if (button != Qt::LeftButton) return;
    if (!looks_) return letMouse(true);
    hold(rehearsal_.focus().canUse ? Qt::Key_E : Qt::Key_G);
}

void Play::release(Qt::MouseButton button) {
    if (button == Qt::RightButton) dragging_ = false;
    if (button != Qt::LeftButton) return;
    keys_.erase(Qt::Key_E);
    keys_.erase(Qt::Key_G);
    gather();
}

bool Play::move(const QPointF& from, const QPointF& to) {
    const QPoint centre = view_.widget.rect().center();
    if (!looks_) {
        if (!dragging_) return false;
        rehearsal_.lookBy((to.x() - from.x()) * kDegreesAPixel, -(to.y() - from.y()) * kDegreesAPixel);
        return true;
    }
    const QPointF by = to - QPointF(centre);
    if (std::abs(by.x()) < 0.5 && std::abs(by.y()) < 0.5) return true;  // it was brought back to the middle
    rehearsal_.lookBy(by.x() * kDegreesAPixel, -by.y() * kDegreesAPixel);
    QCursor::setPos(view_.widget.mapToGlobal(centre));
    return true;
}

QString Play::hint() const {
    if (rehearsal_.mode() == Rehearsal::Mode::Looking)
        return tr("A run that is over: drag along its line below · Esc back to the scene");
    const QString mouse = looks_ ? tr("mouse looks · Tab lets it go") : tr("click: the mouse looks");
    if (rehearsal_.isFree())
        return tr("%1 · W A S D R F fly, Shift faster · B back into the body · P pause · Esc back to the scene")
            .arg(mouse);
    if (rehearsal_.level() != nullptr && rehearsal_.level()->inCraft)
        return tr(
            "W S speed · A D steer · R F up and down · P pause · B without the craft · J jump to the pointer · Esc "
            "back to the scene");
    return tr("%1 · W A S D go, Shift runs, Space jumps, C ducks · E use, G take, T throw · P pause · B without a body "
              "· J jump to the "
              "pointer · Esc back to the scene")
        .arg(mouse);
}

namespace {

/// What of goals is told: those that are set, then what became of the others.
QStringList goalLines(const rehearse::Run& run) {
    const auto& goals = run.cues().set().goals;
    std::vector<std::size_t> order(goals.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return goals[i].order; });
    QStringList lines;
    for (const std::size_t i : order) {
        const rehearse::GoalState state = run.cues().goal(i);
        if (state == rehearse::GoalState::Held) continue;
        const QString words = toQt(goals[i].words.empty() ? goals[i].name : goals[i].words);
        lines << (state == rehearse::GoalState::Set   ? QStringLiteral("○ ")
                  : state == rehearse::GoalState::Met ? QStringLiteral("● ")
                                                      : QStringLiteral("✕ ")) +
                     words;
    }
    return lines;
}

/// How far one is on routes that one has begun.
QStringList courseLines(const rehearse::Run& run) {
    QStringList lines;
    const auto& courses = *run.level().courses;
    for (std::size_t i = 0; i < courses.size(); ++i) {
        const rehearse::Courses::State& is = run.courses().state(i);
        if (!is.began) continue;
        QString line =
            Play::tr("%1: stop %2 of %3").arg(toQt(courses[i].name)).arg(is.next + 1).arg(courses[i].gates.size());
        if (is.isDone) line = Play::tr("%1: gone").arg(toQt(courses[i].name));
        if (courses[i].laps > 1 && !is.isDone) line += Play::tr(" · lap %1 of %2").arg(is.lap).arg(courses[i].laps);
        if (!is.isDone) line += Play::tr(" · %1 s").arg(fixed((run.steps() - *is.began) * rehearse::kStep, 1));
        if (is.missed > 0) line += Play::tr(" · %1 missed").arg(is.missed);
        lines << line;
    }
    return lines;
}

}  // namespace

/// Goals at the left, what is said below the middle, and how it ended.
void Play::paintGoals(QPainter& p, const rehearse::Run& run) const {
    const Theme& t = view_.editor.theme();
    setLetters(p, 13, QFont::Medium);
    double y = 12;
    for (const QString& line : goalLines(run) + courseLines(run)) {
        paintWords(p, QRectF(12, y, p.fontMetrics().horizontalAdvance(line) + 22, 24), line, t, 215);
        y += 28;
    }
    constexpr int kShownSteps = 5 * rehearse::kStepsPerSecond;
    QString said, end;
    if (const auto& over = run.cues().end())
        end = (over->then.does == model::CueThen::Does::Won ? tr("Won") : tr("Lost")) +
              (over->then.next.empty() ? QString() : tr(" · next %1").arg(toQt(over->then.next)));
    const auto& entries = run.trace().entries;
    for (auto e = entries.rbegin(); e != entries.rend() && e->step >= run.steps() - kShownSteps; ++e)
        if (e->what == rehearse::What::Said && said.isEmpty()) said = toQt(e->note);
    const double middle = view_.widget.width() / 2.0, high = view_.widget.height();
    const auto put = [&](const QString& words, double at, int letters, double box) {
        if (words.isEmpty()) return;
        setLetters(p, letters, QFont::Medium);
        const double wide = p.fontMetrics().horizontalAdvance(words) + 28;
        paintWords(p, QRectF(middle - wide / 2, at, wide, box), words, t, 225);
    };
    put(said, high * 0.72, 14, 28);
    put(end, high * 0.3, 22, 40);
}

void Play::paint(QPainter& p) const {
    if (!isHere()) return;
    const Theme& t = view_.editor.theme();
    const QPointF middle(view_.widget.width() / 2.0, view_.widget.height() / 2.0);
    if (rehearsal_.isPlayed() && !rehearsal_.isFree()) {
        const rehearse::Focus& focus = rehearsal_.focus();
        const bool meets = focus.thing >= 0;
        p.setPen(QPen(meets ? t.honey : t.text, 1.6));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(middle, meets ? 5.0 : 2.5, meets ? 5.0 : 2.5);
        if (meets) {
            QString words = toQt(focus.name);
            if (focus.canUse) words += " · E " + (focus.words.empty() ? tr("use") : toQt(focus.words));
            if (focus.canTake) words += " · " + tr("G take");
            setLetters(p, 13, QFont::Medium);
            const double wide = p.fontMetrics().horizontalAdvance(words) + 20;
            paintWords(p, QRectF(middle.x() - wide / 2, middle.y() + 22, wide, 24), words, t, 215);
        }
        if (const auto* run = rehearsal_.run(); run != nullptr && run->player().holds >= 0) {
            const auto& held = run->level().things[static_cast<std::size_t>(run->player().holds)];
            const QString words = tr("%1 in the hand · G put down · T throw").arg(toQt(held.name));
            setLetters(p, 12);
            const double wide = p.fontMetrics().horizontalAdvance(words) + 20;
            paintWords(p, QRectF(middle.x() - wide / 2, view_.widget.height() - 60.0, wide, 22), words, t, 215);
        }
    }
    if (rehearsal_.run() != nullptr) paintGoals(p, *rehearsal_.run());
    const QString what =
        rehearsal_.mode() == Rehearsal::Mode::Playing
            ? (rehearsal_.speed() > 1 ? tr("Rehearsal · %1 times as fast").arg(rehearsal_.speed()) : tr("Rehearsal"))
        : rehearsal_.mode() == Rehearsal::Mode::Paused ? tr("Rehearsal · paused")
                                                       : tr("A run that is over");
    setLetters(p, 12, QFont::Medium);
    const double wide = p.fontMetrics().horizontalAdvance(what) + 22;
    paintWords(p, QRectF(middle.x() - wide / 2, 8, wide, 22), what, t, 215);
}

}  // namespace app
