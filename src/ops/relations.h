#pragma once
// Lasting relations: what stays seated, flush, at a distance or facing, kept in the same step when what it goes by
// moves.
#include <functional>
#include <set>
#include <string>

#include "model/facets/relations.h"
#include "ops/holders.h"
#include "ops/objects.h"
#include "query/scene_index.h"

namespace ops {

/// Gives an object one more relation; one of the same sort to the same takes its place. Seated: `to` is found below it.
/// Flush: the sides that are nearest to one another. Distance: what it is now. Errors: NotFound: nothing is below it,
/// or the other is gone; BadInput: to itself, to what is in it, or in a circle; Refused if it is protected.
base::Status relate(edit::Draft& draft, const query::SceneIndex& index, base::ObjectId id, model::Relation::What what,
                    base::ObjectId to = {});
/// Takes one away, by its number. Errors: NotFound; Refused if protected.
base::Status unrelate(edit::Draft& draft, base::ObjectId id, std::size_t number);

/// "stays seated on “Quay”".
std::string relationText(const model::Scene& scene, const model::Relation& relation);

/// Keeps relations in every step of a session. It may live longer than the scenes, not than the session.
class RelationKeeper {
  public:
    /// Gives what knows where things are in a scene; null: it is not known, and what is seated stays where it is.
    using IndexOf = std::function<const query::SceneIndex*(const model::Scene&)>;
    RelationKeeper(edit::Session& session, IndexOf indexOf);

    /// Part of every step: what has relations to what was moved follows. One that cannot be kept leaves its object
    /// where it is and is told.
    base::Status beforeCommit(edit::Draft& draft);
    std::function<void(const std::string&)> say;
    /// Those of a scene that have relations.
    const std::set<base::ObjectId>& relatedIn(const model::Scene& scene) { return related_.in(scene); }

  private:
    IndexOf indexOf_;
    Holders related_;
};

}  // namespace ops
