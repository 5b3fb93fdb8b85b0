// The openings of the selected solid, pulled by their grips: sides, head and sill, the whole of one, or a copy of it.
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "ops/solid_edit.h"

namespace app {
namespace {

struct OpeningGrips {
    enum class What { Left, Right, Head, Sill, Whole, Copy };
    struct Grip {
        std::size_t opening = 0;
        What what = What::Whole;
        base::Vec3 at{0.0};
    };
    using Now = model::SolidOpening;
    static constexpr const char* kStep = "Change an opening";
    static constexpr bool kAnew = true;

    static constexpr double kRoom = 22;  // pixels: half an opening so small has no room for all of its grips

    /// Does a face look towards the eye? What lies on the far side of a room has no grips.
    static bool looksHere(const ViewContext& view, const base::Vec3& at, const base::Vec3& facing) {
        const base::Vec3 way = view.camera.isFlat() ? -view.camera.forward() : view.camera.eye - at;
        return glm::dot(way, facing) > 0;
    }
    static const model::Solid* solid(const model::Scene& scene, Slot slot) {
        return slot == kNoSlot ? nullptr : scene.facet<model::Solid>(slot);
    }
    static base::Affine frame(const model::Scene& scene, Slot slot, const model::SolidOpening& opening) {
        return scene.world(slot) * shape::frameOf(query::openingOf(opening));
    }
    static std::vector<Grip> grips(const ViewContext& view) {
        std::vector<Grip> all;
        const Tool tool = view.editor.tools().tool;
        const Slot slot = onlySelected(view);
        const model::Solid* of = slot == kNoSlot ? nullptr : solid(view.editor.scene(), slot);
        if (of == nullptr || tool > Tool::All || tool == Tool::Select || view.editor.scene().protectedInTree(slot))
            return all;
        for (std::size_t i = 0; i < of->openings.size(); ++i) {
            const model::SolidOpening& o = of->openings[i];
            const base::Affine to = frame(view.editor.scene(), slot, o);
            const double x = o.width / 2, y = o.height;
            const base::Vec3 middle = to.point({0, y / 2, 0});
            if (!looksHere(view, middle, glm::normalize(to.linear[2]))) continue;
            if (glm::length(to.linear[0]) * std::min(x, y) < kRoom * view.metresPerPixel(middle)) {
                all.push_back({i, What::Whole, middle});
                continue;
            }
            for (const auto& [what, at] : {std::pair{What::Left, base::Vec3(-x, y / 2, 0)},
                                           {What::Right, base::Vec3(x, y / 2, 0)},
                                           {What::Head, base::Vec3(0, y, 0)},
                                           {What::Sill, base::Vec3(0, 0, 0)},
                                           {What::Whole, base::Vec3(0, y / 2, 0)},
                                           {What::Copy, base::Vec3(x / 2, y * 0.75, 0)}})
                all.push_back({i, what, to.point(at)});
        }
        return all;
    }
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.opening == b.opening && a.what == b.what; }
    static QString hint(const Grip& grip, bool) {
        const QString does = grip.what == What::Whole  ? InView::tr("Drag: move the opening")
                             : grip.what == What::Copy ? InView::tr("Drag: pull a copy of the opening")
                             : grip.what == What::Sill ? InView::tr("Drag: its sill")
                             : grip.what == What::Head ? InView::tr("Drag: its head")
                                                       : InView::tr("Drag: this side of the opening");
        return does + InView::tr(" · Shift: fine · hold 1 2 3 4 6: catch · Esc: let go");
    }
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                            base::ObjectId id) {
        if (const auto& caught = view.catcher.look(view.pointer)) return caught->point;
        const Slot slot = before.find(id);
        const model::SolidOpening& o = before.facet<model::Solid>(slot)->openings[grip.opening];
        return onPlane(view, view.pointer, grip.at, glm::normalize(frame(before, slot, o).linear[2]));
    }
    /// In the axes of the frame; what moves keeps to steps of the solid's own.
    static Now now(const ViewContext& view, const Grip& grip, const model::Scene& before, base::ObjectId id,
                   const base::Vec3& to, const render::Steps& steps) {
        const Slot slot = before.find(id);
        Now o = before.facet<model::Solid>(slot)->openings[grip.opening];
        const base::Affine own = shape::frameOf(query::openingOf(o));
        const auto into = base::inverse(before.world(slot) * own);
        if (!into) return o;
        const double step = view.catcher.caught() ? 0 : steps.metres;
        const base::Vec3 by = into->point(to) - into->point(grip.at);
        // Where the edge lies from the solid's origin, along the frame.
        auto moved = [&](double edge, const base::Vec3& axis, double along) {
            const double zero = glm::dot(axis, o.at);
            return ops::snapped(zero + edge + along, step) - zero;
        };
        const base::Vec3 right = own.linear[0], up = own.linear[1];
        const double x = o.width / 2, least = 0.05;
        switch (grip.what) {
            case What::Right: {
                const double edge = std::max(moved(x, right, by.x), -x + least);
                o.width = edge + x;
                o.at += right * ((edge - x) / 2);
                break;
            }
            case What::Left: {
                const double edge = std::min(moved(-x, right, by.x), x - least);
                o.width = x - edge;
                o.at += right * ((edge + x) / 2);
                break;
            }
            case What::Head: o.height = std::max(moved(o.height, up, by.y), least); break;
            case What::Sill: {
                const double edge = std::min(moved(0, up, by.y), o.height - least);
                o.height -= edge;
                o.at += up * edge;
                break;
            }
            case What::Whole:
            case What::Copy: o.at += right * (moved(-x, right, by.x) + x) + up * moved(0, up, by.y); break;
        }
        return o;
    }
    static base::Status apply(const ViewContext&, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                              const Now& now) {
        if (grip.what != What::Copy) return ops::setOpening(draft, id, grip.opening, now);
        Now copy = now;
        copy.name.clear();
        auto added = ops::addOpening(draft, id, copy);
        return added ? base::Status{} : tl::unexpected(added.error());
    }
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit) {
        const Theme& t = view.editor.theme();
        const double r = lit ? 6.5 : 5;
        p.setPen(QPen(lit ? t.text : t.window, 1.5));
        p.setBrush(t.honey);
        if (grip.what == What::Whole) {
            p.drawEllipse(at, r, r);
        } else if (grip.what == What::Copy) {
            p.drawEllipse(at, r, r);
            p.setPen(QPen(t.window, 1.6));
            p.drawLine(at - QPointF(3, 0), at + QPointF(3, 0));
            p.drawLine(at - QPointF(0, 3), at + QPointF(0, 3));
        } else {
            p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r));
        }
    }
    static void paintPull(QPainter& p, const ViewContext& view, const Grip& grip, base::ObjectId id) {
        const model::Scene& scene = view.editor.scene();
        const model::Solid* of = solid(scene, scene.find(id));
        if (of == nullptr || of->openings.empty()) return;
        const std::size_t at = grip.what == What::Copy ? of->openings.size() - 1 : grip.opening;
        if (at >= of->openings.size()) return;
        const model::SolidOpening& o = of->openings[at];
        view.note(p, view.pointer + QPointF(16, -14),
                  InView::tr("%1 × %2 · sill %3")
                      .arg(view.editor.length(o.width), view.editor.length(o.height), view.editor.length(o.at.y)));
    }
};

}  // namespace

GesturePtr pullOpening(ViewContext& view) {
    return std::make_unique<GripGesture<OpeningGrips>>(view);
}

}  // namespace app
