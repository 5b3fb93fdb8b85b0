#pragma once
// What a World keeps; only its own sources see it.
#include <map>

#include "rehearse/bullet.h"
#include "rehearse/forms.h"
#include "rehearse/names.h"
#include "rehearse/world.h"

class btConvexPenetrationDepthSolver;

namespace rehearse {
constexpr double kSkin = 0.001;                          ///< metres that who walks keeps from what it meets
constexpr int kIterations = 50, kIterationsOfMany = 16;  ///< of the solver: a tower wants many, a thousand have no time
/// What a body of the library belongs to: 0 and up a thing, below that:
constexpr int kWalkerIndex = -1, kFirstChunk = -2;
enum Group { kStands = 1, kMoves = 2, kWalks = 4 };

/// Something that stands, in a cell.
struct Child {
    Slot slot;
    btVector3 low, high;
};
struct Chunk {
    std::unique_ptr<btRigidBody> body;
    std::vector<Child> children;  // as in its compound
};

/// A thing as physics has it.
struct Moved {
    std::unique_ptr<btRigidBody> body;  // null: it has no shape
    Pose first;
    double mass = 0, volume = 0;
    bool waiting = false, out = false, far = false, guided = false;
    Pose from, to;
    double seconds = 0, gone = -1;  // of a way; below 0: it stands
    bool settling = false;          // it has just arrived
    bool bare = false;              // moved, but nothing bumps into it
    bool steady = false;            // as fast at the ends
    std::int32_t carrier = -1;      // of what is guided: the thing it goes with
    Pose home;                      // where it stood at first, as its carrier has taken it along
    btTransform before;             // where it was a step ago
    Pose rest;                      // where it has been for so many steps
    int quietSteps = 0;
};

/// What is convex against a triangle of a mesh. The exact way would make a polyhedron of the triangle each time.
struct AgainstTriangles : btCollisionAlgorithmCreateFunc {
    btCollisionAlgorithm* CreateCollisionAlgorithm(btCollisionAlgorithmConstructionInfo& info,
                                                   const btCollisionObjectWrapper* a,
                                                   const btCollisionObjectWrapper* b) override;
    AgainstTriangles();
    ~AgainstTriangles() override;
    std::unique_ptr<btConvexPenetrationDepthSolver> depth;
};

struct World::Own {
    const Level& level;
    Forms forms;
    btDefaultCollisionConfiguration configuration;
    btCollisionDispatcher dispatcher{&configuration};
    AgainstTriangles againstTriangles;
    btDbvtBroadphase broadphase;
    btSequentialImpulseConstraintSolver solver;
    btDiscreteDynamicsWorld world{&dispatcher, &broadphase, &solver, &configuration};
    std::vector<Chunk> chunks;
    std::vector<Moved> things;
    std::map<std::pair<double, double>, std::unique_ptr<btCapsuleShape>> capsules;
    std::unique_ptr<btRigidBody> walker;
    std::map<std::pair<int, int>, int> quiet;  // pairs that were told, and until which step
    int steps = 0;

    explicit Own(const Level& of) : level(of), forms(of) {
        for (const int convex :
             {BOX_SHAPE_PROXYTYPE, CONVEX_HULL_SHAPE_PROXYTYPE, CONVEX_POINT_CLOUD_SHAPE_PROXYTYPE}) {
            dispatcher.registerCollisionCreateFunc(convex, TRIANGLE_SHAPE_PROXYTYPE, &againstTriangles);
            dispatcher.registerCollisionCreateFunc(TRIANGLE_SHAPE_PROXYTYPE, convex, &againstTriangles);
        }
        world.setForceUpdateAllAabbs(false);
        world.setGravity({0, -kGravity, 0});
        world.getSolverInfo().m_numIterations = kIterations;
        // Faces on faces, clipped: friction and rest are as the formulas have them only so.
        world.getDispatchInfo().m_enableSatConvex = true;
        world.getDispatchInfo().m_allowedCcdPenetration = 1e-4;
    }
    ~Own() {
        for (int i = world.getNumCollisionObjects() - 1; i >= 0; --i)
            world.removeCollisionObject(world.getCollisionObjectArray()[i]);
    }

    void stand();
    void standAlone(Slot slot, const FormAt& form, double friction, double bounce);
    void add(std::size_t i);
    void addLoose(const Thing& thing, Moved& moved, int index);
    void addGuided(const Thing& thing, Moved& moved, int index);
    const Moved* carrierOf(const Moved& moved) const;
    void goOn(Moved& moved);
    void float_(Moved& moved, double share);
    void watchRest(Moved& moved);
    void sharpenNear(const Moved& moved);
    double wetShare(const Moved& moved) const;
    void wake(Moved& moved);
    btCapsuleShape* capsule(const Capsule& is);
    std::vector<Bump> gather();
};

}  // namespace rehearse
