// The broom in the view: its footprint under the pointer, a sweep from press to release.
#include <QPainter>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"

namespace app {

void ViewWidget::startSweep() {
    if (!broomAt_) return;
    if (!editor_.index()) return editor_.say(tr("Where things are is still being worked out; try again in a moment."));
    sweeping_ = std::make_unique<Sweeping>();
    const ops::BroomSettings& settings = editor_.broom();
    sweeping_->draft = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                                     "Broom: " + std::string(ops::broomLabel(settings.verb)));
    if (!editor_.report(sweeping_->draft->state())) {
        sweeping_.reset();
        return;
    }
    sweeping_->broom = std::make_unique<ops::Broom>(*sweeping_->draft, *editor_.index(), settings, editor_.entered());
    sweepOn();
}

/// Footprints along the way, close enough that nothing between them is missed.
void ViewWidget::sweepOn() {
    if (!sweeping_ || !broomAt_) return;
    const base::Vec3 from = sweeping_->last.value_or(*broomAt_), to = *broomAt_;
    const double apart = editor_.broom().radiusMetres * 0.5;
    const int steps = std::clamp(static_cast<int>(std::ceil(glm::length(to - from) / apart)), 1, 200);
    for (int i = 1; i <= steps; ++i) {
        const base::Status done = sweeping_->broom->sweep(from + (to - from) * (double(i) / steps));
        if (done) continue;
        sweeping_.reset();
        editor_.report(done);
        return;
    }
    sweeping_->last = to;
    updateHint();
    update();
}

void ViewWidget::finishSweep() {
    auto sweep = std::exchange(sweeping_, nullptr);
    const ops::BroomVerb verb = editor_.broom().verb;
    const std::size_t n = sweep->broom->count();
    sweep->draft->rename("Broom: " + std::string(ops::broomLabel(verb)) + " " + std::to_string(n));
    const ops::Ids met = sweep->broom->met();
    if (verb == ops::BroomVerb::Select) {
        sweep.reset();
        std::vector<base::ObjectId> all = editor_.selection();
        for (base::ObjectId id : met)
            if (std::find(all.begin(), all.end(), id) == all.end()) all.push_back(id);
        editor_.select(std::move(all));
    } else if (auto step = sweep->draft->commit(); !step) {
        editor_.report(tl::unexpected(step.error()));
    }
    editor_.say(n == 0 ? tr("The broom met nothing that fits.")
                       : tr("%1: %2").arg(QString::fromUtf8(ops::broomLabel(verb).data()),
                                          counted(n, tr("object"), tr("objects"))));
    updateHint();
}

void ViewWidget::hoverBroom(const QPointF& pixel) {
    broomAt_.reset();
    const base::Ray ray = camera_.rayThrough(toVec(pixel), viewport());
    // The ground below, not what was just scattered on it.
    if (editor_.index())
        if (const auto hit = editor_.index()->pick(editor_.scene(), ray, [&](model::Slot s) {
                return !editor_.isHidden(s) && (!sweeping_ || editor_.scene().protectedInTree(s) ||
                                                !sweeping_->broom->isMet(editor_.scene().id(s)));
            }))
            broomAt_ = hit->point;
    if (!broomAt_) broomAt_ = landingUnder(pixel);
    sweepOn();
    update();
}

void ViewWidget::wheelBroom(double notches, Qt::KeyboardModifiers modifiers) {
    ops::BroomSettings settings = editor_.broom();
    if ((modifiers & Qt::ShiftModifier) != 0)
        settings.strength = std::clamp(settings.strength + notches * 0.1, 0.1, 1.0);
    else
        settings.radiusMetres = std::clamp(settings.radiusMetres * std::pow(1.15, notches), 0.1, 200.0);
    editor_.setBroom(settings);
    updateHint();
    update();
}

void ViewWidget::paintBroom(QPainter& p) const {
    if (editor_.tool() != Tool::Broom || !broomAt_ || !editor_.index()) return;
    const Theme& t = editor_.theme();
    const double r = editor_.broom().radiusMetres;
    constexpr int kSides = 48;
    QPolygonF ring;
    for (int i = 0; i <= kSides; ++i) {
        const double a = 2 * base::kPi * i / kSides;
        base::Vec3 at = *broomAt_ + base::Vec3(std::cos(a), 0, std::sin(a)) * r;
        // It lies on the ground, as far as that is near.
        const base::Ray down{at + base::Vec3(0, r, 0), {0, -1, 0}};
        const auto ground = [&](model::Slot slot) {
            return !editor_.isHidden(slot) && (!sweeping_ || !sweeping_->broom->isMet(editor_.scene().id(slot)));
        };
        if (const auto hit = editor_.index()->pick(editor_.scene(), down, ground); hit && hit->distance < 2 * r)
            at = hit->point;
        if (const auto pixel = camera_.project(at, viewport())) ring << toQt(*pixel);
    }
    p.setBrush(Qt::NoBrush);
    const bool takes = editor_.broom().verb == ops::BroomVerb::Remove;
    for (const auto& [colour, wide] : {std::pair{t.window, 4.0}, {takes ? t.rose : t.honey, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.drawPolyline(ring);
    }
    if (sweeping_)
        paintNote(p, pointer_ + QPointF(18, -14),
                  QString("%1 %2")
                      .arg(QString::fromUtf8(ops::broomLabel(editor_.broom().verb).data()))
                      .arg(sweeping_->broom->count()));
}

}  // namespace app
