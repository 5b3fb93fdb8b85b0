#pragma once
// The designer's verbs on whole objects: place, remove, duplicate, paste, rename, put elsewhere in the tree.
// Each writes through a draft, and refuses (protected objects, names that cannot be) before anything is touched.
#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

#include "edit/copies.h"
#include "edit/draft.h"
#include "model/free_names.h"

namespace ops {

using Ids = std::vector<base::ObjectId>;

/// Those of `ids` that exist and are not below another of them, in the order given.
Ids topmost(const model::Scene& scene, std::span<const base::ObjectId> ids);

/// Refused, naming the first that is protected: “…” is protected and cannot be `verb`. NotFound for what is gone.
base::Status refuseProtected(const model::Scene& scene, std::span<const base::ObjectId> ids, std::string_view verb);

/// The same for verbs that carry along what is below: also when something there is protected.
base::Status refuseMoving(const model::Scene& scene, std::span<const base::ObjectId> ids, std::string_view verb);

/// "Lantern post 7" or, for several, "3 objects": for history names.
std::string describe(const model::Scene& scene, std::span<const base::ObjectId> ids);

struct Placement {
    base::Name item;
    base::Vec3 position{0.0};         ///< where its base point lands, world
    base::Quat rotation{1, 0, 0, 0};  ///< world
    base::ObjectId parent;            ///< zero: the top
    std::string outfit{};             ///< of its kind, worn from the start; empty: none
    double size = 1;                  ///< times its own, within the limits of its kind
    bool mirrored = false;            ///< left and right changed about
};
/// Places an item with its base point (the own origin's column, at the bottom of its bounds) on `position`.
base::Result<base::ObjectId> place(edit::Draft& draft, const Placement& placement);
/// What sizes an object may have by its kind and its item; nothing: any.
std::optional<model::SizeLimits> sizesOf(const model::Library& library, const model::Scene& scene, model::Slot slot);
std::string sizesText(const model::Library& library, const model::Scene& scene, model::Slot slot);

/// The transform, in the world, that puts an item's base point on `position`, `size` times as large as it is, mirrored
/// along its x.
base::Transform landing(const model::Item& item, const base::Vec3& position, const base::Quat& rotation,
                        double size = 1, bool mirrored = false);

/// The detail of a plain instance.
model::DetailPtr instanceOf(base::ObjectId prefab);

base::Status remove(edit::Draft& draft, std::span<const base::ObjectId> ids);

/// Copies with all below them, each after its original; gives the new topmost ids. Names get the next free number.
base::Result<Ids> duplicate(edit::Draft& draft, std::span<const base::ObjectId> ids);

/// Adds `objects` (parents first; a parent not among them means the top) under `parent` with new ids, moved by `by`.
base::Result<Ids> insert(edit::Draft& draft, std::vector<model::ObjectRecord> objects, base::ObjectId parent,
                         const base::Vec3& by);

/// A name without the blanks around it. Errors: BadInput for an empty one, control characters, more than 200 bytes.
base::Result<std::string> usableName(std::string_view name);
/// Errors: BadInput for an empty name, control characters, more than 200 bytes.
base::Status rename(edit::Draft& draft, base::ObjectId id, std::string_view name);

/// Moves objects in the tree, in order, in front of `before` (zero: last). They keep their world pose; where that would
/// take a shear, which no pose can hold, it refuses and says so.
base::Status reparent(edit::Draft& draft, std::span<const base::ObjectId> ids, base::ObjectId parent,
                      base::ObjectId before);

base::Status setFlag(edit::Draft& draft, std::span<const base::ObjectId> ids, std::uint8_t flag, bool on);

/// Does its kind let an object be tinted?
bool takesTint(const edit::Session& session, const model::Scene& scene, model::Slot slot);
/// What the colours of objects' meshes are multiplied with, linear RGB, each 0..1; nothing: as they are. Errors:
/// NotFound; BadInput for other numbers; Refused if one is protected or not tinted.
base::Status setTint(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::optional<base::Vec3>& tint);

/// What is different after objects were made of another item.
enum class SurfacesGo { Keep, Drop, Map };  ///< keep: by name; map: by name, then in order
struct Replaced {
    base::Vec3 sizeFactor{1.0};    ///< new size over old, of the last one; 1 without a mesh
    std::size_t idleSurfaces = 0;  ///< surfaces of slots that the new mesh has not
    double baseMetres = 0;         ///< how far the last one's bottom came down; negative: up
};
/// Makes objects of another item: they keep pose, facets, properties and links, and get its kind. Names made of the
/// old item's label are made of the new one's. Errors: NotFound for the item; Refused if one is protected.
base::Result<Replaced> replaceItem(edit::Draft& draft, std::span<const base::ObjectId> ids, base::Name item,
                                   SurfacesGo surfaces = SurfacesGo::Keep);

using model::FreeNames;

/// What placing would create. Errors: as place().
base::Result<model::ObjectRecord> placed(edit::Draft& draft, const Placement& placement, FreeNames& names);

}  // namespace ops
