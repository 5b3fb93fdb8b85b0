// What the acts that are looked at do: a plus at what they add, a minus where something is not, and a line from where
// a thing stands to where it stands otherwise.
#include "app/shell/acts.h"
#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "io/workspace.h"
#include "model/facets/act.h"

namespace app {

namespace {

constexpr std::size_t kMostMarked = 300;

class ActMarks : public Overlay {
  public:
    explicit ActMarks(ViewContext& view) : Overlay(view) {
        QObject::connect(&editor_.acts(), &Acts::changed, &ears_, [this] { known_ = false; });
    }
    void paint(QPainter& p) override {
        if (!editor_.isOpen() || editor_.showsLive() || editor_.acts().all().empty()) return;
        if (!known_) gather();
        setLetters(p, 12);
        std::size_t left = kMostMarked;
        for (const Slot s : members_) {
            if (left-- == 0) return;
            if (editor_.scene().alive(s)) mark(p, s);
        }
    }

  private:
    void gather() {
        known_ = true;
        members_.clear();
        shown_ = editor_.acts().shown();
        if (shown_.empty()) return;
        for (const Slot s : editor_.scene().subtree(kNoSlot))
            if (editor_.scene().detail(s) && editor_.scene().facet<model::InActs>(s)) members_.push_back(s);
    }
    void mark(QPainter& p, Slot s) const {
        const auto* in = editor_.scene().facet<model::InActs>(s);
        if (in == nullptr) return;
        const bool away = editor_.acts().isAway(s);
        bool there = false;
        for (const model::ActPart& part : in->all) {
            if (!shown_.contains(part.act)) continue;
            there = there || part.is == model::ActPart::Is::There;
            if (part.posed && !away) pose(p, s, part);
        }
        if (!away && !there) return;
        const base::Aabb box = editor_.scene().subtreeBounds(s);
        const base::Vec3 at = box.empty()
                                  ? editor_.scene().world(s).translation
                                  : base::Vec3(box.centre().x, away ? box.centre().y : box.high.y, box.centre().z);
        if (away && !box.empty()) corners(p, base::Affine{}, box, theme().rose);
        sign(p, at, away);
    }
    /// A plus or a minus on a disc: shape and colour say the same.
    void sign(QPainter& p, const base::Vec3& world, bool away) const {
        const auto at = view_.pixelOf(world);
        if (!at) return;
        p.setPen(QPen(theme().window, 2));
        p.setBrush(away ? theme().rose : theme().moss);
        p.drawEllipse(*at, 7, 7);
        p.setPen(QPen(theme().window, 2));
        p.drawLine(*at - QPointF(3.5, 0), *at + QPointF(3.5, 0));
        if (!away) p.drawLine(*at - QPointF(0, 3.5), *at + QPointF(0, 3.5));
    }
    void corners(QPainter& p, const base::Affine& world, const base::Aabb& box, const QColor& colour) const {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(colour, 1.4, Qt::DashLine));
        view_.box(p, world, box);
    }
    /// Where it stands in the act, or, while one works in it, where it stands otherwise.
    void pose(QPainter& p, Slot s, const model::ActPart& part) const {
        const model::Scene& scene = editor_.scene();
        const Slot parent = scene.parent(s);
        const base::Affine own = base::toAffine({part.at, part.turn, scene.local(s).scale});
        const base::Affine there = parent == kNoSlot ? own : scene.world(parent) * own;
        const bool worked = editor_.acts().worked() == part.act;
        const QColor colour = worked ? theme().dim : theme().moss;
        const model::Item* item = scene.item(s) ? editor_.session().library().item(scene.item(s)) : nullptr;
        if (item != nullptr && !item->bounds.empty()) corners(p, there, item->bounds, colour);
        p.setPen(QPen(colour, 1.4, Qt::DotLine));
        view_.line(p, scene.world(s).translation, there.translation);
    }

    std::vector<Slot> members_;
    std::set<base::ObjectId> shown_;
    bool known_ = false;
    QObject ears_;
};

}  // namespace

OverlayPtr actMarks(ViewContext& view) {
    return std::make_unique<ActMarks>(view);
}

}  // namespace app
