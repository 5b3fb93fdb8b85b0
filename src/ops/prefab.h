#pragma once
// The designer's verbs on prefabs: make, take apart, make again, swap, give and take back differences, rename, delete.
// One draft may write to definitions and scenes together: it is one step.
#include <string>
#include <vector>

#include "ops/objects.h"

namespace ops {

/// Where a selection's base point may lie: of the solid geometry (lights, zones and effects have none).
struct BaseChoice {
    enum class Height { Bottom, Middle, Top, WorldZero };
    int across = 1, along = 1;  ///< of the footprint: 0 low, 1 middle, 2 high; along X and along Z
    Height height = Height::Bottom;
    std::optional<base::Vec3> picked;  ///< overrides the rest, world
};
base::Vec3 basePointOf(const base::Aabb& solid, const BaseChoice& choice);

/// The box round the meshes of `ids` and below, world; where there is none, round their origins.
base::Aabb solidBounds(const model::Scene& scene, std::span<const base::ObjectId> ids);

/// Can copies stand side by side without a gap or an overlap, and be in step: is its footprint a whole number of
/// `stepMetres` (above 0) both ways?
bool tiles(const base::Aabb& solid, double stepMetres);

/// A name nobody has yet, made of `pattern`: a run of # stands for the number ("Stall ##": "Stall 01"); without one
/// a number is added when needed, or the one it has is counted on.
std::string freePrefabName(const edit::Session& session, std::string_view pattern);
/// Errors: BadInput for a name that no file can have; Refused for one in use by another prefab than `self`.
base::Status usablePrefabName(const edit::Session& session, std::string_view name, base::ObjectId self = {});

struct MakePrefab {
    std::string name, folder;
    base::Vec3 basePoint{0.0};  ///< world
    bool replace = true;        ///< the selection becomes the first instance; else it stays as it is
};
struct MadePrefab {
    base::ObjectId prefab;
    base::ObjectId instance;  ///< zero: the selection was left alone
};
/// Objects keep their ids inside the first instance. A plain group becomes the instance itself, and the definition
/// holds its children. The definition's axes are the object's own for one object, else
/// the world's. Errors: of the name; BadInput where a shear would be needed; Refused for what is protected.
base::Result<MadePrefab> makePrefab(edit::Draft& draft, std::span<const base::ObjectId> ids, const MakePrefab& how);

/// Fills an existing prefab with the selection instead. What is called alike and of one item or kind stays the same
/// object, so that differences of instances still find it.
base::Result<MadePrefab> updatePrefab(edit::Draft& draft, base::ObjectId prefab, std::span<const base::ObjectId> ids,
                                      const MakePrefab& how);

/// A prefab that is `prefab` and what differs: to begin with nothing, or what differs in one of its instances. Errors:
/// of the name; NotFound; Refused when `instance` is none of it.
base::Result<base::ObjectId> makeEdition(edit::Draft& draft, base::ObjectId prefab, const std::string& name,
                                         base::ObjectId instance = {});

/// Copies that go on being the same as their originals: an instance's is another instance; what is none is made into
/// a prefab first, each selected object into one of its own name. Gives the copies, in place.
base::Result<Ids> linkedCopies(edit::Draft& draft, std::span<const base::ObjectId> ids);

/// Makes plain objects of instances; they keep their ids. `all`: of the instances inside too. Gives their ids.
base::Result<Ids> takeApart(edit::Draft& draft, std::span<const base::ObjectId> ids, bool all);

/// The prefab that `group` was an instance of, by what it still holds; zero: none.
base::ObjectId madeFrom(const edit::Session& session, const model::Scene& scene, model::Slot group);
/// Makes instances again of groups that were taken apart; what was changed since are differences.
base::Status makeAgain(edit::Draft& draft, std::span<const base::ObjectId> ids);

/// Makes instances link to another prefab. Differences are kept where the other has the same object (by id, else
/// one of that name, item and kind); gives how many were lost.
base::Result<std::size_t> swapPrefab(edit::Draft& draft, std::span<const base::ObjectId> ids, base::ObjectId prefab);

/// One thing that differs inside an instance.
struct DifferenceEntry {
    enum class What { Changed, Added, Removed };
    What what = What::Changed;
    base::ObjectId inner;                     ///< as in the definition
    std::uint32_t part = 0;                   ///< of model::part, when changed
    const model::FacetType* facet = nullptr;  ///< or this
    std::string property{};                   ///< which, when that part is its properties
    bool gone = false;                        ///< the definition does not hold the object any more

    model::PartSet parts() const { return facet != nullptr ? model::PartSet(*facet) : model::PartSet(part); }
    std::string key() const;    ///< as files name it: "position", "light", "properties.oil"; "added"
    std::string label() const;  ///< and as people do
    friend bool operator==(const DifferenceEntry&, const DifferenceEntry&) = default;
};
std::vector<DifferenceEntry> differences(const edit::Session& session, const model::PrefabLink& link);
/// What an object has there, as text: a position, a name, a facet's members; "none" without.
std::string partText(const model::ObjectRecord& record, const DifferenceEntry& entry, const base::NameTable& names);
/// One difference in words: whose, what, how it is in the definition and how here.
struct DifferenceLine {
    std::string object, what, before, now;
};
DifferenceLine lineOf(const edit::Session& session, const model::PrefabLink& link, const DifferenceEntry& entry);
/// The instance says nothing of these any more.
base::Status takeBack(edit::Draft& draft, base::ObjectId instance, std::span<const DifferenceEntry> entries);
/// The definition gets them, and with it every instance. What is gone cannot be given.
base::Status giveToDefinition(edit::Draft& draft, base::ObjectId instance, std::span<const DifferenceEntry> entries);

base::Status renamePrefab(edit::Draft& draft, base::ObjectId prefab, const std::string& name,
                          const std::string& folder);

/// Where something is used.
struct Use {
    std::string document;  ///< a scene, or a definition's key
    Ids ids;               ///< instances that it holds itself; objects, of an item
};
/// Every scene of the project, then every definition.
std::vector<std::string> allDocuments(const edit::Session& session);
/// Loads every scene of the project. Errors: of reading one.
base::Result<std::vector<Use>> usedBy(edit::Session& session, base::ObjectId prefab);
base::Result<std::vector<Use>> usedBy(edit::Session& session, base::Name item);

/// What becomes of a prefab's instances when it goes.
struct DeletePrefab {
    enum class Instances { TakeApart, Swap, Keep } instances = Instances::TakeApart;
    base::ObjectId other;  ///< to swap for
};
base::Status deletePrefab(edit::Draft& draft, base::ObjectId prefab, const DeletePrefab& how);

}  // namespace ops
