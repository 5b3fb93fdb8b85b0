// What bodies meet on their way, and what they overlap.
#include "rehearse/world_own.h"

namespace rehearse {
namespace {

/// The nearest hit that is not left by going on.
struct FirstHit : btCollisionWorld::ConvexResultCallback {
    FirstHit(const btCollisionObject* self, const btVector3& way, int mask) : self_(self), way_(way) {
        m_collisionFilterGroup = kWalks;
        m_collisionFilterMask = mask;
    }
    btScalar addSingleResult(btCollisionWorld::LocalConvexResult& hit, bool inWorld) override {
        if (hit.m_hitCollisionObject == self_) return m_closestHitFraction;
        const btVector3 normal = inWorld
                                     ? hit.m_hitNormalLocal
                                     : hit.m_hitCollisionObject->getWorldTransform().getBasis() * hit.m_hitNormalLocal;
        if (normal.dot(way_) > -1e-9) return m_closestHitFraction;
        m_closestHitFraction = hit.m_hitFraction;
        object = hit.m_hitCollisionObject;
        at = hit.m_hitPointLocal;
        facing = normal;
        return hit.m_hitFraction;
    }
    const btCollisionObject* object = nullptr;
    btVector3 at{0, 0, 0}, facing{0, 0, 0};

  private:
    const btCollisionObject* self_;
    btVector3 way_;
};

struct Overlaps : btCollisionWorld::ContactResultCallback {
    explicit Overlaps(const btCollisionObject* self) : self_(self) {
        m_collisionFilterGroup = kWalks;
        m_collisionFilterMask = kStands | kMoves;
    }
    btScalar addSingleResult(btManifoldPoint& point, const btCollisionObjectWrapper* a, int, int,
                             const btCollisionObjectWrapper* b, int, int) override {
        const bool first = a->getCollisionObject() == self_;
        const btCollisionObject* other = first ? b->getCollisionObject() : a->getCollisionObject();
        if (point.getDistance() >= 0) return 0;
        Meeting met;
        met.depth = -point.getDistance();
        met.normal = fromBt(first ? point.m_normalWorldOnB : -point.m_normalWorldOnB);
        met.point = fromBt(first ? point.getPositionWorldOnB() : point.getPositionWorldOnA());
        met.thing = other->getUserIndex();
        all.push_back(met);
        return 0;
    }
    std::vector<Meeting> all;

  private:
    const btCollisionObject* self_;
};

}  // namespace

namespace {

std::optional<Meeting> sweepShape(const btCollisionWorld& world, const btConvexShape& shape,
                                  const btCollisionObject* self, const btVector3& from, const btVector3& to) {
    const btVector3 way = to - from;
    if (way.length2() < 1e-20) return std::nullopt;
    FirstHit first(self, way, kStands | kMoves);
    world.convexSweepTest(&shape, upright(from), upright(to), first, 1e-5);
    if (first.object == nullptr) return std::nullopt;
    Meeting met;
    met.share = first.m_closestHitFraction;
    met.point = fromBt(first.at);
    met.normal = fromBt(first.facing.normalized());
    met.thing = first.object->getUserIndex();
    return met;
}

}  // namespace

std::optional<Meeting> World::sweep(const Capsule& capsule, const Vec3& from, const Vec3& to) const {
    const Vec3 up(0, capsule.height / 2, 0);
    return sweepShape(own_->world, *own_->capsule(capsule), own_->walker.get(), toBt(from + up), toBt(to + up));
}

std::optional<Meeting> World::sweepBall(double radius, const Vec3& from, const Vec3& to) const {
    const btSphereShape ball(radius);
    return sweepShape(own_->world, ball, own_->walker.get(), toBt(from), toBt(to));
}

std::vector<Meeting> World::overlaps(const Capsule& capsule, const Vec3& feet) const {
    btCollisionObject probe;
    probe.setCollisionShape(own_->capsule(capsule));
    probe.setWorldTransform(upright(toBt(feet + Vec3(0, capsule.height / 2, 0))));
    Overlaps found(&probe);
    own_->world.contactTest(&probe, found);
    return found.all;
}

std::vector<Meeting> World::overlapsOf(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    if (!moved.body) return {};
    Overlaps found(moved.body.get());
    own_->world.contactTest(moved.body.get(), found);
    return found.all;
}

std::optional<Meeting> World::ray(const Vec3& from, const Vec3& to) const {
    btCollisionWorld::ClosestRayResultCallback hit(toBt(from), toBt(to));
    hit.m_collisionFilterGroup = kWalks;
    hit.m_collisionFilterMask = kStands | kMoves;
    own_->world.rayTest(toBt(from), toBt(to), hit);
    if (!hit.hasHit()) return std::nullopt;
    Meeting met;
    met.share = hit.m_closestHitFraction;
    met.point = fromBt(hit.m_hitPointWorld);
    met.normal = fromBt(hit.m_hitNormalWorld);
    met.thing = hit.m_collisionObject->getUserIndex();
    return met;
}

Slot World::slotOf(const Meeting& meeting) const {
    if (meeting.thing >= 0) return own_->level.things[static_cast<std::size_t>(meeting.thing)].slot;
    if (meeting.thing > kFirstChunk) return model::kNoSlot;
    const Chunk& chunk = own_->chunks[static_cast<std::size_t>(kFirstChunk - meeting.thing)];
    if (chunk.children.size() == 1) return chunk.children.front().slot;
    // Of those whose box has the place the one that a short ray there meets, else the nearest.
    const auto& compound = static_cast<const btCompoundShape&>(*chunk.body->getCollisionShape());
    const btVector3 at = toBt(meeting.point), out = toBt(meeting.normal) * 0.05;
    constexpr double kSlack = 0.02;
    Slot best = model::kNoSlot, boxed = model::kNoSlot;
    double nearest = 2, smallest = 1e30;
    for (std::size_t i = 0; i < chunk.children.size(); ++i) {
        const Child& child = chunk.children[i];
        bool inside = true;
        for (int k = 0; k < 3; ++k)
            inside = inside && at[k] >= child.low[k] - kSlack && at[k] <= child.high[k] + kSlack;
        if (!inside) continue;
        const btVector3 size = child.high - child.low;
        if (const double volume = size.x() * size.y() * size.z(); volume < smallest) {
            smallest = volume;
            boxed = child.slot;
        }
        if (out.length2() < 1e-12) continue;
        btCollisionWorld::ClosestRayResultCallback hit(at + out, at - out);
        btCollisionObject alone;
        const int index = static_cast<int>(i);
        alone.setCollisionShape(const_cast<btCollisionShape*>(compound.getChildShape(index)));
        btCollisionWorld::rayTestSingle(upright(at + out), upright(at - out), &alone, compound.getChildShape(index),
                                        compound.getChildTransform(index), hit);
        if (hit.hasHit() && hit.m_closestHitFraction < nearest) {
            nearest = hit.m_closestHitFraction;
            best = child.slot;
        }
    }
    return best != model::kNoSlot ? best : boxed;
}

}  // namespace rehearse
