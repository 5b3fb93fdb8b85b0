#include "ops/relations.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <unordered_set>

#include "edit/session.h"
#include "ops/aim.h"
#include "ops/copies.h"
#include "ops/facets.h"
#include "ops/move.h"
#include "ops/names.h"
#include "ops/seat.h"
#include "ops/standing.h"
#include "query/flush.h"

namespace ops {
namespace {

using base::ObjectId;
using model::Relation;
using model::Relations;
using What = Relation::What;

constexpr double kHolds = 1e-5;  // metres: so far off it still holds

base::Aabb boxOf(const model::Scene& scene, Slot slot) {
    base::Aabb box = scene.subtreeBounds(slot);
    if (box.empty()) box.add(scene.world(slot).translation);
    return box;
}
query::BoxSide sideOf(Relation::Side side) {
    return side == Relation::Side::Low    ? query::BoxSide::Low
           : side == Relation::Side::High ? query::BoxSide::High
                                          : query::BoxSide::Centre;
}
/// How far a flush one has to go along its axis.
double flushOff(const model::Scene& scene, Slot slot, Slot to, const Relation& r) {
    const int axis = static_cast<int>(r.axis);
    return query::sideAt(boxOf(scene, to), axis, sideOf(r.other)) + r.metres -
           query::sideAt(boxOf(scene, slot), axis, sideOf(r.own));
}
/// From where the other is to where it is; of what is seated, over the ground.
Vec3 between(const model::Scene& scene, Slot slot, Slot to, bool level) {
    Vec3 way = scene.world(slot).translation - scene.world(to).translation;
    if (level) way.y = 0;
    return way;
}
bool isSeated(const Relations& relations) {
    return std::any_of(relations.all.begin(), relations.all.end(),
                       [](const Relation& r) { return r.what == What::Seated; });
}
std::string nameOf(const model::Scene& scene, Slot slot) {
    return fmt::format("“{}”", scene.nameText(slot));
}

Status moveBy(edit::Draft& draft, ObjectId id, const Vec3& by) {
    if (glm::length(by) < 1e-12) return {};
    auto mover = Mover::begin(draft.scene(), {&id, 1});
    if (!mover) return tl::unexpected(mover.error());
    return mover->moveBy(draft, by);
}

/// Puts an object where `world` is, below whatever it lies in.
Status putAt(edit::Draft& draft, ObjectId id, const base::Affine& world) {
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(id), parent = scene.parent(slot);
    base::Affine local = world;
    if (parent != kNoSlot) {
        const auto back = base::inverse(scene.world(parent));
        if (!back) return fail(ErrorCode::Refused, "It lies in something without size.");
        local = *back * world;
    }
    base::Transform pose = base::toTransform(local);
    pose.scale = scene.local(slot).scale;
    return draft.setTransforms({&id, 1}, {&pose, 1});
}

bool isMoved(const model::Scene& before, const model::Scene& now, ObjectId id) {
    const Slot was = before.find(id), is = now.find(id);
    if (was == kNoSlot || is == kNoSlot) return was != is;
    return !(before.world(was) == now.world(is)) || !(before.subtreeBounds(was) == now.subtreeBounds(is));
}

/// Do two objects stand to one another as they did?
bool standAsBefore(const model::Scene& before, const model::Scene& now, ObjectId a, ObjectId b) {
    const auto relative = [&](const model::Scene& scene) -> std::optional<base::Affine> {
        const Slot one = scene.find(a), other = scene.find(b);
        if (one == kNoSlot || other == kNoSlot) return std::nullopt;
        const auto back = base::inverse(scene.world(other));
        return back ? std::optional(*back * scene.world(one)) : std::nullopt;
    };
    const auto was = relative(before), is = relative(now);
    if (!was || !is) return false;
    double off = glm::length(was->translation - is->translation);
    for (int k = 0; k < 3; ++k) off = std::max(off, glm::length(was->linear[k] - is->linear[k]));
    return off < 1e-9;
}

/// Would following `to` lead back to `id`?
bool leadsTo(const model::Scene& scene, ObjectId to, ObjectId id) {
    std::set<ObjectId> seen;
    std::vector<ObjectId> open = {to};
    while (!open.empty()) {
        const ObjectId now = open.back();
        open.pop_back();
        if (now == id) return true;
        const Slot slot = scene.find(now);
        if (slot == kNoSlot || !seen.insert(now).second || !scene.facet<Relations>(slot)) continue;
        for (const Relation& r : scene.facet<Relations>(slot)->all) open.push_back(r.to);
    }
    return false;
}

/// One step's keeping in one scene.
class Keeping {
  public:
    Keeping(edit::Draft& draft, const model::Scene& before, const std::set<ObjectId>& related,
            const query::SceneIndex* index, const std::function<void(const std::string&)>& say)
        : draft_(draft), before_(before), related_(related), index_(index), say_(say) {}

    Status all() {
        for (ObjectId id : related_)
            if (Status kept = settle(id); !kept) return kept;
        return {};
    }

  private:
    const model::Scene& scene() const { return draft_.scene(); }
    const Relations* relationsOf(ObjectId id) const {
        const Slot slot = scene().find(id);
        if (slot == kNoSlot) return nullptr;
        const auto& relations = scene().facet<Relations>(slot);
        return relations ? &*relations : nullptr;
    }

    Status settle(ObjectId id) {
        if (done_.contains(id)) return {};
        if (!underWay_.insert(id).second) return {};  // in a circle: the first one asked goes last
        if (const Relations* relations = relationsOf(id)) {
            const std::vector<Relation> own = relations->all;
            for (const Relation& r : own)
                if (related_.contains(r.to))
                    if (Status kept = settle(r.to); !kept) return kept;
            if (Status kept = keep(id, own); !kept) return kept;
        }
        done_.insert(id);
        return {};
    }

    Status keep(ObjectId id, const std::vector<Relation>& own) {
        const bool isNew = before_.find(id) == kNoSlot;
        const bool mine = isMoved(before_, scene(), id);
        const bool any = std::any_of(own.begin(), own.end(), [&](const Relation& r) {
            return r.to && isMoved(before_, scene(), r.to) && !standAsBefore(before_, scene(), id, r.to);
        });
        if ((!mine && !any) || isNew) return {};
        const Slot slot = scene().find(id);
        if (Status free = refuseMoving(scene(), {&id, 1}, "moved"); !free) {
            tell(slot, "does not follow: it is protected.");
            return {};
        }
        const edit::Draft::Mark mark = draft_.mark();
        std::string why;
        if (Status kept = apply(id, own, mine, why); !kept) why = kept.error().message;
        if (why.empty()) why = broken(id, own);
        if (why.empty()) return {};
        draft_.rollbackTo(mark);
        tell(scene().find(id), "stays where it is: " + why);
        return {};
    }

    Status apply(ObjectId id, const std::vector<Relation>& own, bool mine, std::string& why) {
        for (const Relation& r : own)
            if (r.what == What::Seated && !mine)
                if (Status along = goAlong(id, r.to); !along) return along;
        bool seated = false;
        double sink = 0;
        for (const Relation& r : own) {
            const Slot slot = scene().find(id), to = scene().find(r.to);
            if (r.what == What::Seated) {
                seated = true, sink = r.metres;
                continue;
            }
            if (to == kNoSlot) {
                why = "what it goes by is gone.";
                return {};
            }
            Status done;
            if (r.what == What::Flush) {
                Vec3 by(0.0);
                by[static_cast<int>(r.axis)] = flushOff(scene(), slot, to, r);
                done = moveBy(draft_, id, by);
            } else if (r.what == What::Distance) {
                const Vec3 way = between(scene(), slot, to, seatedIn(own));
                if (glm::length(way) < 1e-9) {
                    why = "it stands in the middle of what it keeps away from.";
                    return {};
                }
                done = moveBy(draft_, id, way * (r.metres / glm::length(way) - 1));
            } else {
                done = aim(draft_, {&id, 1}, boxOf(scene(), to).centre());
            }
            if (!done) return done;
        }
        if (!seated || index_ == nullptr) return {};
        SeatOptions options;
        options.sinkMetres = sink;
        const auto drops = seatDrops(scene(), *index_, {&id, 1}, options);
        if (drops.empty() || !drops.front().supported) {
            why = "nothing is below it.";
            return {};
        }
        if (Status down = draft_.setTransforms({&id, 1}, {&drops.front().pose, 1}); !down) return down;
        return standOn(id, why);
    }
    static bool seatedIn(const std::vector<Relation>& own) {
        return std::any_of(own.begin(), own.end(), [](const Relation& r) { return r.what == What::Seated; });
    }

    /// As its support has moved and turned, if that is there.
    Status goAlong(ObjectId id, ObjectId support) {
        const Slot was = before_.find(support), is = scene().find(support);
        if (was == kNoSlot || is == kNoSlot || before_.world(was) == scene().world(is)) return {};
        const base::Affine motion = motionBetween(before_.world(was), scene().world(is));
        return putAt(draft_, id, motion * scene().world(scene().find(id)));
    }

    /// What it stands on is what it goes by from now on.
    Status standOn(ObjectId id, std::string& why) {
        const Slot slot = scene().find(id);
        const ObjectId on = supportOf(scene(), *index_, slot, 0.01 + depthOf(id));
        if (!on) return {};
        if (leadsTo(scene(), on, id)) {
            why = "it would stand on what goes by it.";
            return {};
        }
        return changeDetails(draft_, {&id, 1}, [&](Slot, model::Detail& detail) -> Status {
            Relations relations = *detail.get<Relations>();
            bool other = false;
            for (Relation& r : relations.all)
                if (r.what == What::Seated && r.to != on) r.to = on, other = true;
            if (other) detail.put(relations);
            return {};
        });
    }
    double depthOf(ObjectId id) const {
        const Relations* relations = relationsOf(id);
        double depth = 0;
        for (const Relation& r : relations->all)
            if (r.what == What::Seated) depth = std::abs(r.metres);
        return depth;
    }

    /// Why not all of them hold now; empty: they do.
    std::string broken(ObjectId id, const std::vector<Relation>& own) const {
        const Slot slot = scene().find(id);
        for (const Relation& r : own) {
            const Slot to = scene().find(r.to);
            if (to == kNoSlot) continue;
            const bool off =
                r.what == What::Flush
                    ? std::abs(flushOff(scene(), slot, to, r)) > kHolds
                    : r.what == What::Distance &&
                          std::abs(glm::length(between(scene(), slot, to, seatedIn(own))) - r.metres) > kHolds;
            if (off) return relationText(scene(), r) + " cannot be kept with the others.";
        }
        return {};
    }

    void tell(Slot slot, const std::string& text) const {
        if (say_ && slot != kNoSlot) say_(nameOf(scene(), slot) + " " + text);
    }

    edit::Draft& draft_;
    const model::Scene& before_;
    const std::set<ObjectId>& related_;
    const query::SceneIndex* index_;
    const std::function<void(const std::string&)>& say_;
    std::set<ObjectId> done_, underWay_;
};

/// The sides that are nearest to one another along an axis of the world.
Relation nearestFlush(const model::Scene& scene, Slot slot, Slot to) {
    Relation best;
    best.what = What::Flush;
    double least = 1e300;
    using Side = Relation::Side;
    for (int axis = 0; axis < 3; ++axis)
        for (const Side own : {Side::Low, Side::Middle, Side::High})
            for (const Side other : {Side::Low, Side::Middle, Side::High}) {
                if ((own == Side::Middle) != (other == Side::Middle)) continue;
                Relation r;
                r.what = What::Flush;
                r.axis = static_cast<Relation::Axis>(axis);
                r.own = own, r.other = other;
                const double off = flushOff(scene, slot, to, r);
                if (std::abs(off) < least - 1e-9) least = std::abs(off), best = r, best.metres = -off;
            }
    if (std::abs(best.metres) < 1e-6) best.metres = 0;
    return best;
}

}  // namespace

Status relate(edit::Draft& draft, const query::SceneIndex& index, ObjectId id, What what, ObjectId to) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(id);
    if (slot == kNoSlot) return edit::Draft::noObject(id);
    if (Status free = refuseMoving(scene, {&id, 1}, "bound to others"); !free) return free;
    Relation made;
    made.what = what;
    made.to = what == What::Seated ? supportOf(scene, index, slot, 0.05) : to;
    const Slot other = scene.find(made.to);
    if (what == What::Seated && other == kNoSlot)
        return fail(ErrorCode::NotFound, fmt::format("{} stands on nothing: seat it first.", nameOf(scene, slot)));
    if (other == kNoSlot) return fail(ErrorCode::NotFound, "What it should go by is not there.");
    if (scene.isWithin(other, slot) || scene.isWithin(slot, other))
        return fail(ErrorCode::BadInput, fmt::format("{} goes with {} already: one lies in the other.",
                                                     nameOf(scene, slot), nameOf(scene, other)));
    if (leadsTo(scene, made.to, id))
        return fail(ErrorCode::BadInput, fmt::format("{} goes by {} already: it would go in a circle.",
                                                     nameOf(scene, other), nameOf(scene, slot)));
    const bool level =
        what == What::Distance && scene.facet<Relations>(slot) && isSeated(*scene.facet<Relations>(slot));
    if (what == What::Flush) made = nearestFlush(scene, slot, other), made.to = to;
    if (what == What::Distance) made.metres = glm::length(between(scene, slot, other, level));
    if (what == What::Distance && made.metres < 1e-6)
        return fail(ErrorCode::BadInput, "They stand in one place: there is no distance to keep.");
    Status done = changeDetails(draft, {&id, 1}, [&](Slot, model::Detail& detail) -> Status {
        Relations relations = detail.get<Relations>() ? *detail.get<Relations>() : Relations{};
        std::erase_if(relations.all, [&](const Relation& r) {
            return r.what == what && (what == What::Seated || what == What::Facing ||
                                      (r.to == made.to && (what != What::Flush || r.axis == made.axis)));
        });
        if (relations.all.size() >= Relations::kMost)
            return fail(ErrorCode::BadInput, fmt::format("An object can have up to {} relations.", Relations::kMost));
        relations.all.push_back(made);
        detail.put(relations);
        return {};
    });
    if (!done || what != What::Facing) return done;
    return aim(draft, {&id, 1}, boxOf(scene, scene.find(to)).centre());
}

Status unrelate(edit::Draft& draft, ObjectId id, std::size_t number) {
    if (!draft.state()) return draft.state();
    return changeDetails(draft, {&id, 1}, [&](Slot, model::Detail& detail) -> Status {
        if (!detail.get<Relations>() || number >= detail.get<Relations>()->all.size())
            return fail(ErrorCode::NotFound, "There is no such relation.");
        Relations relations = *detail.get<Relations>();
        relations.all.erase(relations.all.begin() + static_cast<std::ptrdiff_t>(number));
        if (relations.all.empty())
            detail.drop<Relations>();
        else
            detail.put(relations);
        return {};
    });
}

std::string relationText(const model::Scene& scene, const Relation& r) {
    const Slot to = scene.find(r.to);
    const std::string name = to != kNoSlot ? nameOf(scene, to) : "something that is gone";
    constexpr const char* kAxes[] = {"X", "Y", "Z"};
    switch (r.what) {
        case What::Seated: return fmt::format("seated on {}", name);
        case What::Flush:
            return std::abs(r.metres) < 1e-9
                       ? fmt::format("flush with {} along {}", name, kAxes[static_cast<int>(r.axis)])
                       : fmt::format("{:.3g} m from flush with {} along {}", r.metres, name,
                                     kAxes[static_cast<int>(r.axis)]);
        case What::Distance: return fmt::format("{:.3g} m away from {}", r.metres, name);
        case What::Facing: break;
    }
    return fmt::format("facing {}", name);
}

RelationKeeper::RelationKeeper(edit::Session& session, IndexOf indexOf)
    : indexOf_(std::move(indexOf)), related_(session, Relations::type()) {}

Status RelationKeeper::beforeCommit(edit::Draft& draft) {
    std::set<std::string> documents;
    for (const model::ChangeSet& set : draft.changes())
        if (!model::data::isData(set.scene)) documents.insert(set.scene);
    for (const std::string& document : documents) {
        if (Status turned = draft.turnTo(document); !turned) return turned;
        const std::set<ObjectId> related = related_.in(draft.scene());
        if (related.empty()) continue;
        const auto before = draft.before();
        if (!before) return tl::unexpected(before.error());
        if (Status kept = Keeping(draft, *before, related, indexOf_ ? indexOf_(draft.scene()) : nullptr, say).all();
            !kept)
            return kept;
    }
    return draft.turnTo(draft.document());
}

}  // namespace ops
