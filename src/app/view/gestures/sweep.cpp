// The broom: its footprint under the pointer, a sweep from press to release.
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/broom.h"

namespace app {
namespace {

/// Where the broom is on what it sweeps, not counting `met`: what it has already swept up or put down.
std::optional<base::Vec3> broomAt(const ViewContext& view, const QPointF& pixel, const ops::Broom* broom) {
    const Editor& editor = view.editor;
    if (const query::SceneIndex* index = editor.sight().index()) {
        const auto swept = [&](Slot s) {
            return !editor.isHidden(s) &&
                   (broom == nullptr || editor.scene().protectedInTree(s) || !broom->isMet(editor.scene().id(s)));
        };
        if (const auto hit = index->pick(editor.scene(), view.rayAt(pixel), swept)) return hit->point;
    }
    return view.landingUnder(pixel);
}

/// The footprint's edge; it lies on the ground, as far as that is near.
void paintFootprint(QPainter& p, const ViewContext& view, const base::Vec3& centre, const ops::Broom* broom) {
    const Editor& editor = view.editor;
    if (editor.sight().index() == nullptr) return;
    const double r = editor.tools().broom.radiusMetres;
    const auto ground = [&](Slot s) {
        return !editor.isHidden(s) && (broom == nullptr || !broom->isMet(editor.scene().id(s)));
    };
    constexpr int kSides = 48;
    QPolygonF ring;
    for (int i = 0; i <= kSides; ++i) {
        const double a = 2 * base::kPi * i / kSides;
        base::Vec3 at = centre + base::Vec3(std::cos(a), 0, std::sin(a)) * r;
        const base::Ray down{at + base::Vec3(0, r, 0), {0, -1, 0}};
        if (const auto hit = editor.sight().index()->pick(editor.scene(), down, ground); hit && hit->distance < 2 * r)
            at = hit->point;
        if (const auto pixel = view.pixelOf(at)) ring << *pixel;
    }
    const Theme& t = editor.theme();
    p.setBrush(Qt::NoBrush);
    const bool takes = editor.tools().broom.verb == ops::BroomVerb::Remove;
    for (const auto& [colour, wide] : {std::pair{t.window, 4.0}, {takes ? t.rose : t.honey, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.drawPolyline(ring);
    }
}

class Sweeping : public Hold {
  public:
    Sweeping(ViewContext& view, const base::Vec3& at)
        : Hold(view),
          at_(at),
          draft_(editor_.session(), editor_.sceneName(),
                 "Broom: " + std::string(ops::broomLabel(editor_.tools().broom.verb))) {}
    /// False when it cannot begin, or meets what it may not sweep.
    bool begin() {
        if (!editor_.report(draft_.state())) return false;
        broom_.emplace(draft_, *editor_.sight().index(), editor_.tools().broom, editor_.entered());
        return sweepTo(at_);
    }
    Goes move(Qt::KeyboardModifiers) override {
        const auto at = broomAt(view_, view_.pointer, &*broom_);
        return !at || sweepTo(*at) ? Goes::On : Goes::Back;
    }
    Goes release(Qt::KeyboardModifiers) override;
    void paint(QPainter& p) const override {
        paintFootprint(p, view_, at_, &*broom_);
        view_.note(p, view_.pointer + QPointF(18, -14),
                   QString("%1 %2")
                       .arg(QString::fromUtf8(ops::broomLabel(editor_.tools().broom.verb).data()))
                       .arg(broom_->count()));
    }
    QString hint() const override { return tr("Sweep: %1 so far · Esc: let go").arg(broom_->count()); }

  private:
    bool sweepTo(const base::Vec3& to);

    base::Vec3 at_;
    edit::Draft draft_;
    std::optional<ops::Broom> broom_;
};

/// Footprints along the way, close enough that nothing between them is missed.
bool Sweeping::sweepTo(const base::Vec3& to) {
    const base::Vec3 from = std::exchange(at_, to);
    const double apart = editor_.tools().broom.radiusMetres * 0.5;
    const int steps = std::clamp(static_cast<int>(std::ceil(glm::length(to - from) / apart)), 1, 200);
    for (int i = 1; i <= steps; ++i)
        if (!editor_.report(broom_->sweep(from + (to - from) * (double(i) / steps)))) return false;
    Q_EMIT view_.hintStale();
    view_.update();
    return true;
}

Goes Sweeping::release(Qt::KeyboardModifiers) {
    const ops::BroomVerb verb = editor_.tools().broom.verb;
    const std::size_t n = broom_->count();
    draft_.rename("Broom: " + std::string(ops::broomLabel(verb)) + " " + std::to_string(n));
    if (verb == ops::BroomVerb::Select) {
        std::vector<base::ObjectId> all = editor_.selection();
        for (base::ObjectId id : broom_->met())
            if (std::find(all.begin(), all.end(), id) == all.end()) all.push_back(id);
        editor_.select(std::move(all));
    } else {
        editor_.keep(draft_);
    }
    editor_.say(n == 0 ? tr("The broom met nothing that fits.")
                       : tr("%1: %2").arg(QString::fromUtf8(ops::broomLabel(verb).data()),
                                          counted(n, tr("object"), tr("objects"))));
    return Goes::Done;
}

class Sweep : public ViewTool {
  public:
    using ViewTool::ViewTool;
    bool claims() const override { return editor_.tools().tool == Tool::Broom; }
    bool point(const QPointF& pixel) override {
        at_ = broomAt(view_, pixel, nullptr);
        view_.update();
        return at_.has_value();
    }
    void withdraw() override { at_.reset(); }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        if (!point(view_.pointer)) return nullptr;
        if (editor_.sight().index() == nullptr) {
            editor_.say(tr("Where things are is still being worked out; try again in a moment."));
            return nullptr;
        }
        auto sweeping = std::make_unique<Sweeping>(view_, *at_);
        if (!sweeping->begin()) sweeping.reset();
        return sweeping;
    }
    bool turn(double notches, Qt::KeyboardModifiers modifiers) override {
        if ((modifiers & Qt::ControlModifier) != 0) return false;
        ops::BroomSettings settings = editor_.tools().broom;
        if ((modifiers & Qt::ShiftModifier) != 0)
            settings.strength = std::clamp(settings.strength + notches * 0.1, 0.1, 1.0);
        else
            settings.radiusMetres = std::clamp(settings.radiusMetres * std::pow(1.15, notches), 0.1, 200.0);
        editor_.change(&Tools::broom, settings);
        view_.update();
        return true;
    }
    bool putAway() override {
        editor_.setTool(Tool::Slide);  // an empty hand: the tool is put away
        return true;
    }
    void paint(QPainter& p) const override {
        if (at_) paintFootprint(p, view_, *at_, nullptr);
    }
    QString hint() const override {
        return tr("Press and sweep · wheel: radius %1 · Shift+wheel: strength %2 · Ctrl+wheel: zoom · Esc: put it "
                  "away")
            .arg(editor_.length(editor_.tools().broom.radiusMetres, 1), fixed(editor_.tools().broom.strength, 1));
    }

  private:
    std::optional<base::Vec3> at_;
};

}  // namespace

GesturePtr sweep(ViewContext& view) {
    return std::make_unique<Sweep>(view);
}

}  // namespace app
