// Laying: pieces are put down cell by cell by a click, a drag over a rectangle or along a line; what lies there gives
// way.
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/library.h"
#include "ops/lay.h"

namespace app {
namespace {

using ops::Cell;

ops::Lattice latticeOf(const Editor& editor) {
    const Laying& l = editor.tools().laying;
    return {l.cellMetres, l.heightMetres, editor.entered()};
}
base::Vec3 cornerOf(const Laying& l, std::int64_t x, std::int64_t z) {
    return {static_cast<double>(x) * l.cellMetres, l.heightMetres, static_cast<double>(z) * l.cellMetres};
}

/// The cell under a pixel, at the lattice's height.
std::optional<Cell> cellUnder(const ViewContext& view, const QPointF& pixel) {
    const base::Ray ray = view.rayAt(pixel);
    const double height = view.editor.tools().laying.heightMetres;
    if (std::abs(ray.direction.y) < 1e-3) return std::nullopt;
    const double t = (height - ray.origin.y) / ray.direction.y;
    if (t <= 0 || t > 5000) return std::nullopt;
    return ops::cellAt(latticeOf(view.editor), ray.at(t));
}

/// What would be done to cells.
base::Result<ops::LayPlan> planFor(Editor& editor, const std::vector<Cell>& cells) {
    const Laying& l = editor.tools().laying;
    const query::SceneIndex& index = *editor.sight().index();
    const auto set = editor.session().library().sets().find(l.set);
    const bool ofSet = set != editor.session().library().sets().end();
    const ops::Lattice lattice = latticeOf(editor);
    if (l.takesAway)
        return ops::planClear(editor.scene(), index, editor.session(), lattice, ofSet ? &set->second : nullptr, cells);
    if (ofSet) return ops::planSet(editor.scene(), index, editor.session(), lattice, set->second, cells);
    return ops::planPiece(editor.scene(), index, editor.session(), lattice, {l.item, l.quarters, l.mirrored}, cells);
}

std::vector<Ghost> ghostsOf(const ops::LayPlan& plan) {
    std::vector<Ghost> ghosts;
    constexpr std::size_t kMost = 2000;
    for (const auto& [piece, p] : plan.pieces)
        if (ghosts.size() < kMost) ghosts.push_back({piece.item, p.position, p.rotation, p.size, p.mirrored});
    return ghosts;
}

/// The outline of a rectangle of cells, and of each in it.
void paintCells(QPainter& p, const ViewContext& view, const Cell& low, const Cell& high, bool away) {
    const Laying& l = view.editor.tools().laying;
    const Theme& t = view.editor.theme();
    const auto line = [&](std::int64_t x, std::int64_t z, std::int64_t toX, std::int64_t toZ) {
        view.line(p, cornerOf(l, x, z), cornerOf(l, toX, toZ));
    };
    constexpr std::int64_t kMost = 60;
    p.setPen(QPen(t.faint, 1, Qt::DotLine));
    for (std::int64_t x = low.x - 2; x <= high.x + 3 && high.x - low.x < kMost; ++x) line(x, low.z - 2, x, high.z + 3);
    for (std::int64_t z = low.z - 2; z <= high.z + 3 && high.z - low.z < kMost; ++z) line(low.x - 2, z, high.x + 3, z);
    p.setPen(QPen(away ? t.rose : t.honey, 2));
    line(low.x, low.z, high.x + 1, low.z);
    line(high.x + 1, low.z, high.x + 1, high.z + 1);
    line(high.x + 1, high.z + 1, low.x, high.z + 1);
    line(low.x, high.z + 1, low.x, low.z);
}

class LayingOut : public Hold {
  public:
    LayingOut(ViewContext& view, const Cell& from) : Hold(view), from_(from), to_(from) { look(); }
    ~LayingOut() override { view_.setMoreGhosts({}); }
    Goes move(Qt::KeyboardModifiers modifiers) override {
        const auto to = cellUnder(view_, view_.pointer);
        const bool line = (modifiers & Qt::ShiftModifier) != 0;
        if (!to || (*to == to_ && line == line_)) return Goes::On;
        to_ = *to;
        line_ = line;
        look();
        return Goes::On;
    }
    Goes release(Qt::KeyboardModifiers) override;
    void paint(QPainter& p) const override {
        const auto [low, high] = corners();
        paintCells(p, view_, low, high, editor_.tools().laying.takesAway);
        view_.note(p, view_.pointer + QPointF(18, -14),
                   QString("%1 × %2").arg(high.x - low.x + 1).arg(high.z - low.z + 1));
    }
    QString hint() const override { return tr("Drag: a rectangle · Shift: a line · Esc: let go"); }

  private:
    std::pair<Cell, Cell> corners() const {
        Cell to = to_;
        if (line_) (std::llabs(to.x - from_.x) >= std::llabs(to.z - from_.z) ? to.z = from_.z : to.x = from_.x);
        return {{std::min(from_.x, to.x), std::min(from_.z, to.z)}, {std::max(from_.x, to.x), std::max(from_.z, to.z)}};
    }
    void look() {
        const auto [low, high] = corners();
        cells_ = ops::rectangle(low, high);
        auto plan = planFor(editor_, cells_);
        view_.setMoreGhosts(plan ? ghostsOf(*plan) : std::vector<Ghost>{});
        view_.update();
    }

    Cell from_, to_;
    bool line_ = false;
    std::vector<Cell> cells_;
};

Goes LayingOut::release(Qt::KeyboardModifiers) {
    const auto plan = planFor(editor_, cells_);
    if (!plan) {
        editor_.report(tl::unexpected(plan.error()));
        return Goes::Back;
    }
    if (plan->pieces.empty() && plan->replaced.empty()) {
        editor_.say(editor_.tools().laying.takesAway ? tr("Nothing that was laid is there.")
                                                     : tr("It lies there already."));
        return Goes::Done;
    }
    const bool away = editor_.tools().laying.takesAway;
    const std::string name =
        (away ? "Take away " : "Lay ") +
        counted(away ? plan->replaced.size() : plan->pieces.size(), tr("piece"), tr("pieces")).toStdString();
    const bool done = editor_.run(name, [&](edit::Draft& draft) -> base::Status {
        auto made = ops::lay(draft, *plan);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
    if (done && plan->unfit > 0)
        editor_.say(tr("%1: the set has no piece that fits there.").arg(counted(plan->unfit, tr("cell"), tr("cells"))));
    return Goes::Done;
}

class Lay : public ViewTool {
  public:
    using ViewTool::ViewTool;
    bool claims() const override { return editor_.tools().tool == Tool::Lay && editor_.placing().empty(); }
    bool point(const QPointF& pixel) override {
        const auto now = editor_.sight().index() != nullptr ? cellUnder(view_, pixel) : std::nullopt;
        cell_ = now;
        look();
        return cell_.has_value();
    }
    void withdraw() override {
        cell_.reset();
        view_.setMoreGhosts({});
    }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers modifiers) override {
        if (editor_.sight().index() == nullptr) editor_.say(tr("The scene is still being taken in."));
        if (!point(view_.pointer)) return nullptr;
        const Laying& l = editor_.tools().laying;
        if ((modifiers & Qt::ControlModifier) != 0) {
            pickUp();
            return nullptr;
        }
        if (l.item.empty() && l.set.empty() && !l.takesAway) {
            editor_.say(tr("Choose a piece in the Stock, or a set of pieces, to lay."));
            return nullptr;
        }
        return std::make_unique<LayingOut>(view_, *cell_);
    }
    bool turn(double notches, Qt::KeyboardModifiers modifiers) override {
        if ((modifiers & Qt::ControlModifier) != 0) return false;
        Laying l = editor_.tools().laying;
        if ((modifiers & Qt::ShiftModifier) != 0)
            l.heightMetres += notches * editor_.tools().step(render::Task::Slide).value;
        else
            l.quarters = ((l.quarters + (notches > 0 ? 1 : -1)) % 4 + 4) % 4;
        editor_.change(&Tools::laying, l);
        return true;
    }
    bool putAway() override {
        withdraw();
        editor_.setTool(Tool::Slide);
        return true;
    }
    void paint(QPainter& p) const override {
        if (cell_) paintCells(p, view_, *cell_, *cell_, editor_.tools().laying.takesAway);
    }
    QString hint() const override {
        return tr(
            "Click or drag: lay · Shift+drag: a line · Ctrl+click: pick up what lies there · wheel: quarter turn · "
            "Shift+wheel: height · Esc: put it away");
    }

  private:
    void look() {
        if (!cell_) return view_.setMoreGhosts({});
        auto plan = planFor(editor_, {*cell_});
        view_.setMoreGhosts(plan ? ghostsOf(*plan) : std::vector<Ghost>{});
        view_.update();
    }
    /// What lies in the cell is what is laid from now on, turned as it is.
    void pickUp() {
        const model::Library& library = editor_.session().library();
        const auto laid = ops::laidAt(editor_.scene(), *editor_.sight().index(), library, latticeOf(editor_), *cell_);
        if (!laid) return editor_.say(tr("Nothing that was laid is there."));
        Laying l = editor_.tools().laying;
        l.item = laid->piece.item;
        l.set.clear();
        l.quarters = laid->piece.quarters;
        l.mirrored = laid->piece.mirrored;
        l.takesAway = false;
        editor_.change(&Tools::laying, l);
    }

    std::optional<Cell> cell_;
};

}  // namespace

GesturePtr lay(ViewContext& view) {
    return std::make_unique<Lay>(view);
}

}  // namespace app
