#pragma once
// Acts: named sets of what is there, and what stands elsewhere or is otherwise in them. Who works in an act sees its
// poses and values as the scene's own, and changes them with every tool; what an object is otherwise is kept in its
// InActs meanwhile, and comes back to the bit.
#include <vector>

#include "model/facets/act.h"
#include "ops/facets.h"
#include "ops/holders.h"

namespace ops {

/// In the order of the tree.
Ids actsOf(const model::Scene& scene);
/// The one that is worked in; zero: none.
base::ObjectId workedAct(const model::Scene& scene, const std::set<base::ObjectId>& acts);
inline base::ObjectId workedAct(const model::Scene& scene) {
    const Ids all = actsOf(scene);
    return workedAct(scene, {all.begin(), all.end()});
}

/// A new one, an object of its own at the end of the scene, with a name that nobody has. It begins when it is the
/// first.
base::Result<base::ObjectId> addAct(edit::Draft& draft, const std::string& name);
/// Where objects are in an act. Errors: NotFound, also for what is no act; Refused for what is protected; BadInput for
/// acts themselves.
base::Status setInAct(edit::Draft& draft, std::span<const base::ObjectId> ids, base::ObjectId act,
                      model::ActPart::Is is);
/// A pose in an act, by place and turn in the world; its size stays. Errors: as above.
base::Status poseInAct(edit::Draft& draft, base::ObjectId id, base::ObjectId act, const base::Vec3& at,
                       const base::Quat& turn);
/// Their poses and values in an act become what they are otherwise. Errors: as above.
base::Status dropFromAct(edit::Draft& draft, std::span<const base::ObjectId> ids, base::ObjectId act);
/// Into an act, or out of the one that is worked in with zero: what it changes trades places with what it keeps.
/// What is protected comes along. Errors: NotFound for what is no act; Refused when the act itself is protected.
base::Status workIn(edit::Draft& draft, base::ObjectId act);

/// Keeps to acts in every step: what is moved, changed or placed while one works in one is so in that act only, and
/// what goes elsewhere in the tree takes its poses along.
class ActKeeper {
  public:
    explicit ActKeeper(edit::Session& session) : acts_(session, model::Act::type()) {}
    /// Part of every step.
    base::Status beforeCommit(edit::Draft& draft);
    const std::set<base::ObjectId>& actsIn(const model::Scene& scene) { return acts_.in(scene); }

  private:
    Holders acts_;
};

/// What is there while some acts go on, by slot; also what lies below something that is not there is not.
std::vector<bool> thereIn(const model::Scene& scene, const std::set<base::ObjectId>& goingOn);
/// What an act does to a scene: by its own word, not by what lies below.
struct ActSums {
    std::size_t adds = 0, takes = 0, poses = 0, values = 0;  ///< objects
    std::size_t objects = 0;                                 ///< that are there in it alone, with a mesh
    std::size_t triangles = 0;                               ///< of them
    double cost = 0;                                         ///< the same, of the level's budget
};
ActSums sumsOf(const model::Scene& scene, const model::Library& library, base::ObjectId act);

}  // namespace ops
