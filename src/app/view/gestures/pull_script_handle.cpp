// The handles that behaviours give the one selected object.
#include "app/shell/scripts.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "script/said.h"

namespace app {
namespace {

struct HandleOfScript {
    std::size_t index = 0;  ///< among those of the object
    base::Vec3 at{0.0};
    friend bool operator==(const HandleOfScript&, const HandleOfScript&) = default;
};

struct ScriptGrips {
    using Grip = HandleOfScript;
    using Now = base::Vec3;
    static constexpr const char* kStep = "Pull a handle";
    static constexpr bool kAnew = false;
    static std::vector<Grip> grips(const ViewContext& view) {
        std::vector<Grip> all;
        const auto look = view.stage.scriptLooks().find(onlySelected(view));
        if (look == view.stage.scriptLooks().end()) return all;
        for (const script::Mark& mark : look->second.marks)
            if (mark.shape == script::Mark::Shape::Handle) all.push_back({all.size(), mark.a});
        return all;
    }
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.index == b.index; }
    static QString hint(const Grip&, bool) {
        return InView::tr("Drag: this handle is a script’s · Shift: fine · hold 1 2 3 4 6: catch · Esc: let go");
    }
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene&, base::ObjectId) {
        const auto at = view.caughtOrLanding(view.pointer);
        return at ? at : onPlane(view, view.pointer, grip.at, {0, 1, 0});
    }
    static Now now(const ViewContext& view, const Grip&, const model::Scene&, base::ObjectId, const base::Vec3& to,
                   const render::Steps& steps) {
        return onLattice(view, to, steps);
    }
    static base::Status apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now) {
        return view.editor.scripts().behaviours().moveHandle(draft, id, grip.index, now);
    }
    static void paint(QPainter& p, const ViewContext& view, const Grip&, const QPointF& at, bool lit) {
        p.setPen(QPen(lit ? view.editor.theme().text : view.editor.theme().window, 1.5));
        p.setBrush(view.editor.theme().lilac);
        const double r = lit ? 7.5 : 6;
        p.drawPolygon(QPolygonF{at + QPointF(0, -r), at + QPointF(r, 0), at + QPointF(0, r), at + QPointF(-r, 0)});
    }
    static void paintPull(QPainter&, const ViewContext&, const Grip&, base::ObjectId) {}
};

}  // namespace

GesturePtr pullScriptHandle(ViewContext& view) {
    return std::make_unique<GripGesture<ScriptGrips>>(view);
}

}  // namespace app
