#pragma once
// The one place that writes scenes. Applying a change forwards or backwards is the same code on the same
// value. Only Session, Draft and buildScene can make a writer, so nothing outside this room can change a scene.
#include <functional>
#include <memory>
#include <set>
#include <unordered_set>
#include <vector>

#include "base/progress.h"
#include "base/result.h"
#include "edit/delta.h"
#include "model/change.h"
#include "model/facets/solid.h"
#include "model/prefab.h"

namespace edit {

enum class Direction { Forward, Backward };

/// What a scene's rows follow from besides their own fields.
struct Sources {
    const model::Library& library;
    const model::Definitions* definitions = nullptr;       ///< null: instances stay empty
    std::function<base::Name(const model::Solid&)> solid;  ///< the item a solid shows; none: nothing is seen of it
    std::function<std::size_t()> objects = {};             ///< how many there are in all documents; none: nobody counts
};

class SceneWriter {
  public:
    SceneWriter(const SceneWriter&) = delete;
    SceneWriter& operator=(const SceneWriter&) = delete;

    /// Applies a change and adds what it touched to `delta`. Errors: NotFound or BadInput when the change does not
    /// fit the scene; the scene is then as it was.
    base::Status apply(const model::Change& change, Direction direction, SceneDelta& delta);

  private:
    friend class LiveCopy;
    friend class Session;
    friend class Draft;
    friend model::Scene buildScene(std::string, std::shared_ptr<const base::NameTable>, const model::Library&,
                                   const model::SceneSettings&, std::vector<model::ObjectRecord>&, base::Progress&);
    friend model::Scene dataScene(std::string, std::shared_ptr<const base::NameTable>, model::DataEntries);
    SceneWriter(model::Scene& scene, const Sources& sources) : scene_(scene), sources_(sources) {}

    base::Status applyRows(const model::Existence&, Direction, SceneDelta&);
    base::Status applyRows(const model::SetTransforms&, Direction, SceneDelta&);
    base::Status applyRows(const model::SetLabels&, Direction, SceneDelta&);
    base::Status applyRows(const model::SetFlags&, Direction, SceneDelta&);
    base::Status applyRows(const model::SetDetails&, Direction, SceneDelta&);
    base::Status applyRows(const model::MoveInTree&, Direction, SceneDelta&);
    base::Status applyRows(const model::SetSettings&, Direction, SceneDelta&);
    base::Status applyRows(const model::SetEntries&, Direction, SceneDelta&);

    base::Result<std::vector<model::Slot>> slotsOf(const std::vector<base::ObjectId>& ids) const;
    base::Result<model::Slot> slotOf(base::ObjectId id) const;
    base::Status create(const model::ObjectRecord& record, SceneDelta& delta);
    base::Status createRow(const model::ObjectRecord& record, SceneDelta& delta);
    base::Status remove(base::ObjectId id, SceneDelta& delta);
    base::Status removeRow(base::ObjectId id, SceneDelta& delta);
    base::Status setDetail(model::Slot slot, const model::DetailPtr& detail, SceneDelta& delta);

    // Instances that the scene itself holds, by prefab; what lies inside follows from link and definition.
    void note(model::Slot instance);
    void forget(model::Slot instance);
    /// While several changes are applied that only together make sense, what lies inside instances waits: each that is
    /// touched is brought in line by settle().
    void defer() { deferred_ = true; }
    void settle(SceneDelta& delta);
    /// Everything a scene just read lacks: what lies inside its instances, and the meshes of solids.
    void fill(SceneDelta& delta);
    /// Errors: BadInput when an object that belongs inside stands elsewhere in the scene (it is then left out).
    base::Status refreshInstance(model::Slot instance, SceneDelta& delta);
    /// All instances of `prefab`. `touched`: the objects of the definition that differ, when no object came, went or
    /// was put elsewhere; null: anything may have.
    void refreshInstancesOf(base::ObjectId prefab, const std::vector<base::ObjectId>* touched, SceneDelta& delta);
    /// Errors: Refused when an instance that holds so many would make more than kMostObjects in all.
    base::Status roomFor(model::Slot instance, std::size_t count) const;
    /// Instances that are not what they should be: there is no room for them, or something else is in their place.
    std::size_t unfilled() const { return waiting_.size(); }
    void emptyInstance(model::Slot instance, SceneDelta& delta);
    base::Status bringInto(model::Slot instance, const std::vector<model::ObjectRecord>& wanted, SceneDelta& delta);
    /// Are the rows below an instance these, in this order?
    bool standsInOrder(model::Slot instance, const std::vector<base::ObjectId>& ids) const;
    base::Status bringRowsInto(model::Slot instance, const std::vector<model::ObjectRecord>& wanted, SceneDelta& delta);
    /// With `detail` instead of the record's own.
    bool writeFields(model::Slot slot, const model::ObjectRecord& record, const model::DetailPtr& detail,
                     SceneDelta& delta);
    base::Status place(base::ObjectId id, const model::TreePlace& place);
    void refreshOwn(model::Slot slot);
    /// Of a copy that is only looked at: there in the world, whatever its parent is.
    static void putInWorld(model::Scene& copy, const model::Library& library, model::Slot slot,
                           const base::Affine& world);
    static void putDetail(model::Scene& copy, model::Slot slot, model::DetailPtr detail);
    static void putItem(model::Scene& copy, const model::Library& library, model::Slot slot, base::Name item);
    static void putGuise(model::Scene& copy, const std::string& guise);
    void refreshBelow(model::Slot top, SceneDelta& delta);
    void refreshItem(base::Name item, SceneDelta& delta);
    void refreshMoved(const std::vector<model::Slot>& tops, SceneDelta& delta);

    model::Scene& scene_;
    const Sources& sources_;
    std::unordered_map<base::ObjectId, std::unordered_set<base::ObjectId>> instances_;
    bool deferred_ = false;
    std::set<base::ObjectId> waiting_;  // instances that are not what they should be yet
    std::vector<std::uint32_t> marks_;  // scratch by slot: marked in which round
    std::uint32_t round_ = 0;
};

/// A document of project data, as a session keeps it.
model::Scene dataScene(std::string document, std::shared_ptr<const base::NameTable> names, model::DataEntries entries);

/// How much of reading a scene is putting it together.
constexpr double kBuildShare = 0.4;

/// A new scene of `objects` in creation order (parents first, `before` ignored: siblings stand in the order
/// given). An object whose id stands already, or whose parent is not yet there, is left out: compare objectCount.
/// Linear cost. `progress` grows by kBuildShare in all; when cancelled, the rest is left out.
model::Scene buildScene(std::string name, std::shared_ptr<const base::NameTable> names, const model::Library& library,
                        const model::SceneSettings& settings, std::vector<model::ObjectRecord>& objects,
                        base::Progress& progress);

}  // namespace edit
