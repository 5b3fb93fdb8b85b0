#pragma once
// Prefabs: a definition is a scene of its own (its base point at the origin); an instance is an object that links
// to it and says what is different. What lies inside an instance follows from definition and link alone; its
// ids are base::joined(instance, the definition's id). Values and pure functions; any thread.
#include <functional>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "model/parts.h"
#include "model/scene.h"

namespace model {

/// How one object inside an instance differs from its definition. Of `value` only id and what `parts` names count.
struct Difference {
    ObjectRecord value;  ///< id, parent and before as in the definition; parent zero: the instance itself
    PartSet parts;       ///< properties: those that value.detail holds, and `goneProperties`
    std::vector<std::string> goneProperties;  ///< the definition has them, the instance has not
    friend bool operator==(const Difference&, const Difference&);
};

struct PrefabLink {
    base::ObjectId of;                    ///< the prefab
    std::vector<Difference> changed;      ///< of the definition's objects, sorted by id
    std::vector<base::ObjectId> removed;  ///< of them, sorted; with all below them
    std::vector<ObjectRecord> added;      ///< parents first; ids as in the definition. An instance among them says
                                          ///< itself what differs in it
    std::string unknownKeys;              ///< as in Detail
    bool plain() const { return changed.empty() && removed.empty() && added.empty(); }
    friend bool operator==(const PrefabLink&, const PrefabLink&);
};

/// By prefab. Those that do not exist are not in it.
using Definitions = std::unordered_map<base::ObjectId, const Scene*>;

/// Where a definition is kept among a project's scenes: "#" and its id. And back; zero for a scene's name.
std::string definitionKey(base::ObjectId prefab);
base::ObjectId prefabOf(std::string_view key);

/// What lies inside an instance, parents first and in tree order, with ids and parents as in the definition (parent
/// zero: the instance). What a malformed link makes unreachable is left out.
std::vector<ObjectRecord> contents(const PrefabLink& link, const Definitions& definitions);
/// The same of a definition without differences: what its scene holds.
std::vector<ObjectRecord> contents(const Scene& definition);

/// The object `inner` as it would be without any change to it (added ones as they were added); nothing if gone.
std::optional<ObjectRecord> unchanged(const PrefabLink& link, const Definitions& definitions, base::ObjectId inner);

/// The parts in which two objects differ (of those in `asked`), with the values of `now`.
Difference differenceOf(const ObjectRecord& before, const ObjectRecord& now, const PartSet& asked = PartSet::all());
/// Makes `object` differ.
void apply(const Difference& difference, ObjectRecord& object);
/// Adds `difference` to the link, replacing what it said of the parts in `asked`; one that says nothing is dropped.
void put(PrefabLink& link, Difference difference, const PartSet& asked);

/// The link that makes of `instance`, whose rows are there, what it is: of `prefab`, with what differs from it.
PrefabLink gatherLink(const Scene& scene, Slot instance, base::ObjectId prefab, const Definitions& definitions);
/// An object as a scene would hold it by itself: an instance further in another one says all that differs in it.
ObjectRecord ownRecord(const Scene& scene, Slot slot, const Definitions& definitions);

// Links between objects inside one instance lead, in definition and differences, to ids as in the definition; in the
// scene's rows, to the rows.
/// From how a scene has it.
void takeLinksInside(DetailPtr& detail, const Scene& scene, Slot instance);
/// And back; `inside` says which ids the instance holds.
void takeLinksOut(DetailPtr& detail, base::ObjectId instance, const std::function<bool(base::ObjectId)>& inside);

/// Differences whose object is not there any more: changed, removed, or added below something gone.
std::vector<base::ObjectId> withoutTarget(const PrefabLink& link, const Definitions& definitions);

/// The prefabs that a link brings in: its own, and those of instances it adds, however far in.
void prefabsOf(const PrefabLink& link, std::unordered_set<base::ObjectId>& out);

/// About how many objects an instance holds, those inside others too; told without making them.
std::size_t expandedCount(const PrefabLink& link, const Definitions& definitions);
/// The way from `from` down to `to` through the prefabs that instances link to; empty when there is none.
std::vector<base::ObjectId> chain(const Definitions& definitions, base::ObjectId from, base::ObjectId to);

}  // namespace model
