#include "rehearse/world.h"

#include <BulletCollision/CollisionDispatch/btConvexConvexAlgorithm.h>
#include <BulletCollision/NarrowPhaseCollision/btGjkEpaPenetrationDepthSolver.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "rehearse/world_own.h"

namespace rehearse {
namespace {

constexpr double kChunk = 32;                           // metres: what stands is put together in cells of that size
constexpr double kTold = 0.6;                           // metres a second: slower meetings are not told of
constexpr double kBumped = 0.25;                        // the same, that wakes what waits to be bumped
constexpr int kQuietSteps = 60;                         // between two bumps of the same pair that are told
constexpr double kDensity = 600;                        // kilograms a cubic metre of what does not say its mass
constexpr double kRestMetres = 6e-3, kRestTurn = 4e-6;  // a third of a degree
constexpr int kQuietAfter = 90, kQuietAtFirst = 40;     // steps in one place, after which it may sleep
constexpr int kSharpenEvery = 24;                       // steps between two looks at what stands near what falls
constexpr double kSharpenMetres = 2;                    // so near
constexpr double kWater = 1000;                         // the same of water

struct ConvexAgainstTriangle : btConvexConvexAlgorithm {
    using btConvexConvexAlgorithm::btConvexConvexAlgorithm;
    void processCollision(const btCollisionObjectWrapper* a, const btCollisionObjectWrapper* b,
                          const btDispatcherInfo& info, btManifoldResult* result) override {
        btDispatcherInfo plain = info;
        plain.m_enableSatConvex = false;
        btConvexConvexAlgorithm::processCollision(a, b, plain, result);
    }
};

Vec3 byShare(const Vec3& a, const Vec3& b, double t) {
    return a + (b - a) * t;
}

}  // namespace

AgainstTriangles::AgainstTriangles() : depth(std::make_unique<btGjkEpaPenetrationDepthSolver>()) {}
AgainstTriangles::~AgainstTriangles() = default;

btCollisionAlgorithm* AgainstTriangles::CreateCollisionAlgorithm(btCollisionAlgorithmConstructionInfo& info,
                                                                 const btCollisionObjectWrapper* a,
                                                                 const btCollisionObjectWrapper* b) {
    void* room = info.m_dispatcher1->allocateCollisionAlgorithm(sizeof(ConvexAgainstTriangle));
    return new (room) ConvexAgainstTriangle(info.m_manifold, info, a, b, depth.get(), 0, 0);
}

/// What stands, cell by cell; what says how rough it is, or is large, by itself.
void World::Own::stand() {
    std::map<std::pair<int, int>, std::vector<std::pair<Slot, FormAt>>> cells;
    for (const Slot slot : level.fixed) {
        const auto form = forms.standing(slot);
        if (!form) continue;
        const model::Body* body = level.scene->facet<model::Body>(slot);
        const Vec3 size = level.scene->bounds(slot).size(), at = form->pose.at;
        const bool says = body != nullptr && (body->friction || body->bounce);
        if (says || size.x > kChunk || size.z > kChunk)
            standAlone(slot, *form, says ? body->friction.value_or(1) : 1, says ? body->bounce.value_or(1) : 1);
        else
            cells[{static_cast<int>(std::floor(at.x / kChunk)), static_cast<int>(std::floor(at.z / kChunk))}]
                .emplace_back(slot, *form);
    }
    for (const auto& [cell, all] : cells) {
        auto shape = std::make_unique<btCompoundShape>(true, static_cast<int>(all.size()));
        Chunk chunk;
        for (const auto& [slot, form] : all) {
            shape->addChildShape(toBt(form.pose), form.shape);
            Child child{slot, {}, {}};
            form.shape->getAabb(toBt(form.pose), child.low, child.high);
            chunk.children.push_back(child);
        }
        btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, forms.keep(std::move(shape)));
        info.m_friction = 1;
        info.m_restitution = 1;
        chunk.body = std::make_unique<btRigidBody>(info);
        chunk.body->setUserIndex(kFirstChunk - static_cast<int>(chunks.size()));
        world.addRigidBody(chunk.body.get(), kStands, kMoves | kWalks);
        chunks.push_back(std::move(chunk));
    }
}

void World::Own::standAlone(Slot slot, const FormAt& form, double friction, double bounce) {
    Chunk chunk;
    btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, form.shape);
    info.m_startWorldTransform = toBt(form.pose);
    info.m_friction = friction;
    info.m_restitution = bounce;
    chunk.body = std::make_unique<btRigidBody>(info);
    chunk.body->setUserIndex(kFirstChunk - static_cast<int>(chunks.size()));
    chunk.children.push_back({slot, {}, {}});
    world.addRigidBody(chunk.body.get(), kStands, kMoves | kWalks);
    chunks.push_back(std::move(chunk));
}

void World::Own::addLoose(const Thing& thing, Moved& moved, int index) {
    const std::vector<FormAt> parts = forms.falling(thing);
    if (parts.empty()) return;
    Vec3 centre(0.0);
    for (const FormAt& part : parts) {
        moved.volume += part.volume;
        centre += part.pose.at * part.volume;
    }
    moved.first = parts.size() == 1 ? parts.front().pose : Pose{centre / moved.volume, {1, 0, 0, 0}};
    moved.mass = thing.massKilograms > 0 ? thing.massKilograms : std::max(moved.volume * kDensity, 0.05);
    btCollisionShape* shape = forms.joined(parts, moved.first, parts.size() > 8);
    btVector3 inertia(0, 0, 0);
    shape->calculateLocalInertia(moved.mass, inertia);
    moved.waiting = thing.wakes != model::Body::Wakes::AtOnce;
    btRigidBody::btRigidBodyConstructionInfo info(moved.waiting ? 0 : moved.mass, nullptr, shape, inertia);
    info.m_startWorldTransform = toBt(moved.first);
    info.m_friction = thing.friction;
    info.m_restitution = thing.bounce;
    info.m_angularDamping = 0.02;
    info.m_linearSleepingThreshold = info.m_angularSleepingThreshold = 1e9;  // watchRest() says when
    const bool isRound =
        shape->getShapeType() == SPHERE_SHAPE_PROXYTYPE || shape->getShapeType() == CAPSULE_SHAPE_PROXYTYPE;
    info.m_rollingFriction = isRound ? 0.004 : 0;
    info.m_spinningFriction = isRound ? 0.004 : 0;
    moved.body = std::make_unique<btRigidBody>(info);
    btVector3 low, high;
    shape->getAabb(btTransform::getIdentity(), low, high);
    const double thin = std::min({high.x() - low.x(), high.y() - low.y(), high.z() - low.z()});
    moved.body->setCcdMotionThreshold(thin / 2);
    moved.body->setCcdSweptSphereRadius(thin / 5);
    moved.body->setUserIndex(index);
    moved.rest = moved.first;
    moved.quietSteps = kQuietAtFirst;
    world.addRigidBody(moved.body.get(), kMoves, kStands | kMoves | kWalks);
}

void World::Own::addGuided(const Thing& thing, Moved& moved, int index) {
    const std::vector<FormAt> parts = forms.guided(thing);
    for (const FormAt& part : parts) Forms::sharpen(*part.shape);
    const base::Transform t = base::toTransform(level.scene->world(thing.slot));
    moved.first = {t.position, t.rotation};
    moved.guided = true;
    // What nothing bumps into is moved all the same, for who looks on.
    btCollisionShape* shape = parts.empty() ? forms.keep(std::make_unique<btSphereShape>(1e-3))
                                            : forms.joined(parts, moved.first, parts.size() > 8);
    moved.bare = parts.empty();
    btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, shape);
    info.m_startWorldTransform = toBt(moved.first);
    info.m_friction = thing.friction / 0.6;  // the usual is as of what stands
    info.m_restitution = 1;
    moved.body = std::make_unique<btRigidBody>(info);
    moved.body->setCollisionFlags(moved.body->getCollisionFlags() | btCollisionObject::CF_KINEMATIC_OBJECT);
    moved.body->setUserIndex(index);
    world.addRigidBody(moved.body.get(), kStands, moved.bare ? 0 : kMoves | kWalks);
    moved.body->forceActivationState(ISLAND_SLEEPING);
}

void World::Own::add(std::size_t i) {
    const Thing& thing = level.things[i];
    Moved& moved = things[i];
    if (thing.isLoose()) addLoose(thing, moved, static_cast<int>(i));
    if (thing.isGuided()) addGuided(thing, moved, static_cast<int>(i));
    moved.home = moved.first;
    moved.carrier = moved.guided ? thing.carrier : -1;
    if (moved.body) moved.before = moved.body->getWorldTransform();
}

/// From now on it falls.
void World::Own::wake(Moved& moved) {
    if (!moved.body || moved.out) return;
    if (moved.waiting) {
        moved.waiting = false;
        world.removeRigidBody(moved.body.get());
        btVector3 inertia(0, 0, 0);
        moved.body->getCollisionShape()->calculateLocalInertia(moved.mass, inertia);
        moved.body->setMassProps(moved.mass, inertia);
        moved.body->updateInertiaTensor();
        moved.body->setCollisionFlags(moved.body->getCollisionFlags() & ~btCollisionObject::CF_STATIC_OBJECT);
        world.addRigidBody(moved.body.get(), kMoves, kStands | kMoves | kWalks);
        moved.body->setGravity({0, -kGravity, 0});
    }
    moved.far = false;
    moved.quietSteps = 0;
    if (!moved.guided) moved.body->forceActivationState(ACTIVE_TAG);
}

/// What takes a guided thing along in this step; null: nothing. It has gone on already: it comes before it in the tree.
const Moved* World::Own::carrierOf(const Moved& moved) const {
    if (moved.carrier < 0) return nullptr;
    const Moved& carrier = things[static_cast<std::size_t>(moved.carrier)];
    return carrier.body && (carrier.gone >= 0 || carrier.settling) ? &carrier : nullptr;
}

/// What is guided, one step on its way.
void World::Own::goOn(Moved& moved) {
    if (moved.settling) {
        moved.settling = false;
        moved.body->forceActivationState(ISLAND_SLEEPING);
    }
    moved.before = moved.body->getWorldTransform();
    if (const Moved* carrier = carrierOf(moved)) {
        const btTransform by = carrier->body->getWorldTransform() * carrier->before.inverse();
        moved.body->setWorldTransform(by * moved.before);
        for (Pose* pose : {&moved.from, &moved.to, &moved.home}) *pose = fromBt(by * toBt(*pose));
        moved.body->forceActivationState(DISABLE_DEACTIVATION);
        moved.settling = true;
    }
    if (moved.gone < 0) return;
    moved.gone += kStep;
    const double t = moved.seconds > 0 ? std::min(moved.gone / moved.seconds, 1.0) : 1.0,
                 eased = moved.steady ? t : t * t * (3 - 2 * t);
    const bool there = t >= 1;
    const Pose now =
        there ? moved.to
              : Pose{byShare(moved.from.at, moved.to.at, eased), glm::slerp(moved.from.turn, moved.to.turn, eased)};
    moved.body->setWorldTransform(toBt(now));
    moved.body->forceActivationState(DISABLE_DEACTIVATION);
    if (there) {
        moved.gone = -1;
        moved.settling = true;
    }
}

namespace {

/// What stands near a box gets its faces and edges.
struct Sharpener : btBroadphaseAabbCallback, btDbvt::ICollide {
    Sharpener(const btVector3& from, const btVector3& to, bool isBox) : low(from), high(to), of(isBox) {}
    /// Boxes against boxes are exact without.
    void sharpen(btCollisionShape& shape) const {
        if (!of || shape.getShapeType() != BOX_SHAPE_PROXYTYPE) Forms::sharpen(shape);
    }
    bool process(const btBroadphaseProxy* proxy) override {
        auto* object = static_cast<btCollisionObject*>(proxy->m_clientObject);
        btCollisionShape* shape = object->getCollisionShape();
        if (!shape->isCompound()) {
            sharpen(*shape);
            return true;
        }
        compound = static_cast<btCompoundShape*>(shape);
        // A cell's compound stands at the origin; others are few enough to be taken whole.
        if (const btDbvt* tree = compound->getDynamicAabbTree(); tree != nullptr && object->isStaticObject())
            tree->collideTV(tree->m_root, btDbvtVolume::FromMM(low, high), *this);
        else
            for (int i = 0; i < compound->getNumChildShapes(); ++i) sharpen(*compound->getChildShape(i));
        return true;
    }
    void Process(const btDbvtNode* leaf) override { sharpen(*compound->getChildShape(leaf->dataAsInt)); }
    btVector3 low, high;
    bool of;  // a box
    btCompoundShape* compound = nullptr;
};

}  // namespace

void World::Own::sharpenNear(const Moved& moved) {
    btVector3 low, high;
    moved.body->getAabb(low, high);
    const btVector3 around(kSharpenMetres, kSharpenMetres, kSharpenMetres);
    const bool isBox = moved.body->getCollisionShape()->getShapeType() == BOX_SHAPE_PROXYTYPE;
    Sharpener sharpener(low - around, high + around, isBox);
    broadphase.aabbTest(sharpener.low, sharpener.high, sharpener);
}

/// Speeds of what lies in a heap tremble for ever; where it lies does not. What has not gone anywhere for a while may
/// sleep, as soon as all may that it touches.
void World::Own::watchRest(Moved& moved) {
    const Pose now = fromBt(moved.body->getWorldTransform());
    if (glm::length(now.at - moved.rest.at) > kRestMetres ||
        std::abs(glm::dot(now.turn, moved.rest.turn)) < kRestTurn) {
        moved.rest = now;
        moved.quietSteps = 0;
    }
    constexpr double kSleeps = 3, kStays = 0;  // seconds; the library lets sleep what says more than two
    moved.body->setDeactivationTime(++moved.quietSteps > kQuietAfter ? kSleeps : kStays);
}

double World::Own::wetShare(const Moved& moved) const {
    if (!moved.body) return 0;
    btVector3 low, high;
    moved.body->getAabb(low, high);
    const Vec3 centre = fromBt(moved.body->getWorldTransform().getOrigin());
    for (const ZoneAt& zone : level.zones) {
        if (!zone.zone.water || !zone.bounds.overlaps({fromBt(low), fromBt(high)})) continue;
        // Its own column: from its foot up to where the water ends.
        const double foot = std::max(low.y(), zone.bounds.low.y), top = std::min(high.y(), zone.bounds.high.y);
        if (top <= foot || !zone.holds({centre.x, (foot + top) / 2, centre.z})) continue;
        return std::clamp((top - low.y()) / std::max(high.y() - low.y(), 1e-6), 0.0, 1.0);
    }
    return 0;
}

/// Archimedes, and the drag of water.
void World::Own::float_(Moved& moved, double share) {
    const double lift = share * moved.volume * kWater * kGravity;
    moved.body->applyCentralForce({0, lift, 0});
    const double keep = std::max(0.0, 1 - 2.5 * share * kStep);
    moved.body->setLinearVelocity(moved.body->getLinearVelocity() * keep);
    moved.body->setAngularVelocity(moved.body->getAngularVelocity() * keep);
}

btCapsuleShape* World::Own::capsule(const Capsule& is) {
    auto& made = capsules[{is.radius, is.height}];
    if (!made) {
        const double radius = is.radius - kSkin;
        made = std::make_unique<btCapsuleShape>(radius, std::max(is.height - 2 * is.radius, 1e-3));
    }
    return made.get();
}

/// Who met whom in the last step, with what speed.
std::vector<Bump> World::Own::gather() {
    std::vector<Bump> all;
    for (int i = 0; i < dispatcher.getNumManifolds(); ++i) {
        const btPersistentManifold& m = *dispatcher.getManifoldByIndexInternal(i);
        const auto* a = static_cast<const btRigidBody*>(m.getBody0());
        const auto* b = static_cast<const btRigidBody*>(m.getBody1());
        int first = a->getUserIndex(), second = b->getUserIndex();
        if (first < 0) {
            std::swap(a, b);
            std::swap(first, second);
        }
        if (first < 0 || m.getNumContacts() == 0) continue;
        double impulse = 0;
        Vec3 at(0.0);
        for (int k = 0; k < m.getNumContacts(); ++k) {
            const btManifoldPoint& p = m.getContactPoint(k);
            if (p.getDistance() > 0.01) continue;
            impulse += p.getAppliedImpulse();
            at = fromBt(p.getPositionWorldOnB());
        }
        Moved& mine = things[static_cast<std::size_t>(first)];
        const bool underWay = mine.guided && (mine.gone >= 0 || mine.settling);
        // What is moved takes along what lies on it, however quietly that slept.
        if (underWay && second >= 0) things[static_cast<std::size_t>(second)].body->activate(true);
        if (second >= 0 && things[static_cast<std::size_t>(second)].guided &&
            (things[static_cast<std::size_t>(second)].gone >= 0 || things[static_cast<std::size_t>(second)].settling))
            mine.body->activate(true);
        double speed = impulse * (a->getInvMass() + b->getInvMass());
        if (a->getInvMass() + b->getInvMass() <= 0)  // one that waits, and what comes to it
            speed = std::abs((a->getInterpolationLinearVelocity() - b->getInterpolationLinearVelocity()).length());
        const auto waits = [&](int index) { return index >= 0 && things[static_cast<std::size_t>(index)].waiting; };
        for (const int index : {first, second})
            if (waits(index) && speed > kBumped &&
                level.things[static_cast<std::size_t>(index)].wakes == model::Body::Wakes::WhenBumped)
                wake(things[static_cast<std::size_t>(index)]);
        if (speed < kTold) continue;
        const std::pair<int, int> pair(std::min(first, second), std::max(first, second));
        int& until = quiet[pair];
        const bool told = until > steps;
        until = steps + kQuietSteps;
        if (told) continue;
        Bump bump{
            static_cast<std::size_t>(first), std::max(second, -1), second == kWalkerIndex, model::kNoSlot, speed, at};
        if (second <= kFirstChunk) {
            Meeting met;
            met.thing = second;
            met.point = at;
            bump.other = second;  // made a slot by whoever asks
        }
        all.push_back(bump);
    }
    std::stable_sort(all.begin(), all.end(), [](const Bump& x, const Bump& y) {
        return std::pair(x.thing, x.other) < std::pair(y.thing, y.other);
    });
    return all;
}

World::World(const Level& level) : own_(std::make_unique<Own>(level)) {
    own_->stand();
    own_->things.resize(level.things.size());
    for (std::size_t i = 0; i < level.things.size(); ++i) own_->add(i);
}

World::~World() = default;

void World::step() {
    Own& own = *own_;
    constexpr std::size_t kMany = 300;
    std::size_t awake = 0;
    for (Moved& moved : own.things) {
        if (!moved.body || moved.out) continue;
        if (moved.guided && (moved.gone >= 0 || moved.settling || own.carrierOf(moved) != nullptr)) own.goOn(moved);
        if (moved.guided || moved.waiting || !moved.body->isActive()) continue;
        ++awake;
        moved.before = moved.body->getWorldTransform();
        own.watchRest(moved);
        if (own.steps % kSharpenEvery == 0) own.sharpenNear(moved);
        if (const double share = own.wetShare(moved); share > 0) own.float_(moved, share);
    }
    own.world.getSolverInfo().m_numIterations = awake > kMany ? kIterationsOfMany : kIterations;
    own.world.stepSimulation(kStep, 0);
    ++own.steps;
    bumps_ = own.gather();
    for (Bump& bump : bumps_)
        if (bump.other <= kFirstChunk) {
            Meeting met;
            met.thing = bump.other;
            met.point = bump.at;
            bump.slot = slotOf(met);
            bump.other = -1;
        }
}

bool World::isMoved(std::size_t thing) const {
    return own_->things[thing].body != nullptr;
}

Pose World::pose(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    return moved.body ? fromBt(moved.body->getWorldTransform()) : moved.first;
}

Pose World::aim(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    return moved.guided && moved.gone >= 0 ? moved.to : pose(thing);
}

Pose World::home(std::size_t thing) const {
    return own_->things[thing].home;
}

Pose World::firstPose(std::size_t thing) const {
    return own_->things[thing].first;
}

base::Affine World::motion(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    if (!moved.body) return {};
    const Pose now = pose(thing);
    const base::Quat turn = glm::normalize(now.turn * glm::conjugate(moved.first.turn));
    return toAffine({now.at - turn * moved.first.at, turn});
}

Vec3 World::velocity(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    if (!moved.body) return Vec3(0.0);
    if (moved.guided) return fromBt(moved.body->getWorldTransform().getOrigin() - moved.before.getOrigin()) / kStep;
    return fromBt(moved.body->getLinearVelocity());
}

double World::massOf(std::size_t thing) const {
    return own_->things[thing].mass;
}

base::Aabb World::boundsOf(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    if (!moved.body) return {};
    btVector3 low, high;
    moved.body->getCollisionShape()->getAabb(moved.body->getWorldTransform(), low, high);
    return {fromBt(low), fromBt(high)};
}

bool World::isAwake(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    if (!moved.body || moved.out || moved.waiting) return false;
    return moved.guided ? isUnderWay(thing) : moved.body->isActive();
}

bool World::isWaiting(std::size_t thing) const {
    return own_->things[thing].waiting;
}

void World::wake(std::size_t thing) {
    own_->wake(own_->things[thing]);
}

void World::sleep(std::size_t thing) {
    Moved& moved = own_->things[thing];
    if (!moved.body || moved.guided || moved.waiting || moved.out) return;
    moved.body->setLinearVelocity({0, 0, 0});
    moved.body->setAngularVelocity({0, 0, 0});
    moved.body->forceActivationState(ISLAND_SLEEPING);
}

void World::push(std::size_t thing, const Vec3& impulse, const Vec3& at) {
    Moved& moved = own_->things[thing];
    if (!moved.body || moved.guided || moved.out) return;
    if (moved.waiting && own_->level.things[thing].wakes == model::Body::Wakes::ByCue) return;
    own_->wake(moved);
    moved.body->applyImpulse(toBt(impulse), toBt(at) - moved.body->getCenterOfMassPosition());
}

void World::guide(std::size_t thing, const Pose& to, double seconds, bool steady) {
    Moved& moved = own_->things[thing];
    if (!moved.body || !moved.guided) return;
    moved.from = pose(thing);
    moved.to = to;
    moved.seconds = seconds;
    moved.steady = steady;
    moved.gone = 0;
    moved.settling = false;
}

bool World::isUnderWay(std::size_t thing) const {
    const Moved& moved = own_->things[thing];
    return moved.guided && (moved.gone >= 0 || moved.settling);
}

Vec3 World::carriedBy(std::size_t thing, const Vec3& at) const {
    const Moved& moved = own_->things[thing];
    if (!moved.body || moved.out) return Vec3(0.0);
    if (moved.guided && !isUnderWay(thing)) return Vec3(0.0);
    return fromBt(moved.body->getWorldTransform() * (moved.before.inverse() * toBt(at))) - at;
}

void World::takeOut(std::size_t thing) {
    Moved& moved = own_->things[thing];
    if (!moved.body || moved.out) return;
    own_->wake(moved);
    own_->world.removeRigidBody(moved.body.get());
    moved.body->setLinearVelocity({0, 0, 0});
    moved.body->setAngularVelocity({0, 0, 0});
    moved.out = true;
}

bool World::isOut(std::size_t thing) const {
    return own_->things[thing].out;
}

void World::hold(std::size_t thing, const Pose& at) {
    Moved& moved = own_->things[thing];
    if (moved.body && moved.out) moved.body->setWorldTransform(toBt(at));
}

void World::putBack(std::size_t thing, const Pose& at, const Vec3& velocity) {
    Moved& moved = own_->things[thing];
    if (!moved.body || !moved.out) return;
    moved.out = false;
    moved.body->setWorldTransform(toBt(at));
    moved.body->setInterpolationWorldTransform(toBt(at));
    moved.before = toBt(at);
    if (moved.guided) {
        own_->world.addRigidBody(moved.body.get(), kStands, moved.bare ? 0 : kMoves | kWalks);
        moved.body->forceActivationState(ISLAND_SLEEPING);
        return;
    }
    own_->world.addRigidBody(moved.body.get(), kMoves, kStands | kMoves | kWalks);
    moved.body->setGravity({0, -kGravity, 0});
    moved.body->clearForces();
    moved.body->setLinearVelocity(toBt(velocity));
    moved.body->setInterpolationLinearVelocity(toBt(velocity));
    moved.body->forceActivationState(ACTIVE_TAG);
}

double World::wetShare(std::size_t thing) const {
    return own_->wetShare(own_->things[thing]);
}

void World::standWalker(const Capsule& capsule, const Vec3& feet) {
    Own& own = *own_;
    btCapsuleShape* shape = own.capsule(capsule);
    const btTransform at = upright(toBt(feet + Vec3(0, capsule.height / 2, 0)));
    if (!own.walker) {
        btRigidBody::btRigidBodyConstructionInfo info(0, nullptr, shape);
        info.m_startWorldTransform = at;
        info.m_friction = 0.5;
        info.m_restitution = 0;
        own.walker = std::make_unique<btRigidBody>(info);
        own.walker->setCollisionFlags(own.walker->getCollisionFlags() | btCollisionObject::CF_KINEMATIC_OBJECT);
        own.walker->setActivationState(DISABLE_DEACTIVATION);
        own.walker->setUserIndex(kWalkerIndex);
        own.world.addRigidBody(own.walker.get(), kWalks, kMoves);
    }
    if (own.walker->getCollisionShape() != shape) {
        own.walker->setCollisionShape(shape);
        own.world.updateSingleAabb(own.walker.get());
    }
    own.walker->setWorldTransform(at);
    own.walker->setInterpolationWorldTransform(at);  // it stands in the way; with how much it pushes is said by push()
}

void World::setNear(const Vec3& centre, double metres) {
    for (Moved& moved : own_->things) {
        if (!moved.body || moved.guided || moved.waiting || moved.out) continue;
        const double away = glm::length(fromBt(moved.body->getWorldTransform().getOrigin()) - centre);
        if (!moved.far && away > metres && moved.body->isActive()) {
            moved.far = true;
            moved.body->forceActivationState(DISABLE_SIMULATION);
        } else if (moved.far && away < metres * 0.95) {
            own_->wake(moved);
        }
    }
}

}  // namespace rehearse
