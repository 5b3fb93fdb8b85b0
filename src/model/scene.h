#pragma once
// A scene: a tree of objects in dense slots, one column per field. Read-only from outside: only
// edit::SceneWriter changes one. Copying is a snapshot: it costs one counter per chunk of 1,024 rows, and
// the copy may be read on another thread while the original changes.
// Invariants: a live slot's parent is live or kNoSlot; siblings form one doubly linked list in tree order;
// world and bounds always follow from local, parent and item.
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "base/names.h"
#include "model/column.h"
#include "model/data.h"
#include "model/detail.h"
#include "model/library.h"

namespace edit {
class SceneWriter;
}

namespace model {

using Slot = std::uint32_t;
constexpr Slot kNoSlot = 0xFFFFFFFFu;

/// How deep objects lie in one another at most: what stands further down is refused.
constexpr int kDeepest = 256;
/// How many objects there may be in all documents that are open, with what lies inside instances.
constexpr std::size_t kMostObjects = 4'000'000;
/// The same in one definition of a prefab.
constexpr std::size_t kMostInPrefab = 250'000;

namespace flags {
constexpr std::uint8_t kHidden = 1;      ///< not drawn while editing
constexpr std::uint8_t kProtected = 2;   ///< refuses changes of pose and removal
constexpr std::uint8_t kWhole = 4;       ///< a click in the view on anything below takes this: a group made on purpose
constexpr std::uint8_t kUnseen = 8;      ///< not drawn in play
constexpr std::uint8_t kUntouched = 16;  ///< not solid: nothing bumps into it
constexpr std::uint8_t kAbsent = 32;     ///< is not there when play starts

/// What each is called in files.
constexpr std::pair<std::uint8_t, std::string_view> kNames[] = {{kHidden, "hidden"},       {kProtected, "protected"},
                                                                {kWhole, "whole"},         {kUnseen, "unseen"},
                                                                {kUntouched, "untouched"}, {kAbsent, "absent"}};
}  // namespace flags

/// A place to look from, kept with the scene.
struct Bookmark {
    std::string name;
    base::Vec3 from{0.0}, to{0.0};
    double heightMetres = 0;  ///< of an orthographic view; 0: perspective
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const Bookmark&, const Bookmark&) = default;
};

/// Objects selected together, kept under a name. Some of them may be gone.
struct SavedSelection {
    std::string name;
    std::vector<base::ObjectId> ids;
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const SavedSelection&, const SavedSelection&) = default;
};

/// A check's rule that does not count here: for one object, or (zero) for all of the scene.
struct RuleOff {
    std::string rule;  ///< its id
    base::ObjectId object;
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const RuleOff&, const RuleOff&) = default;
};
/// Something a check has found that people live with. It counts as long as what was found stays the same.
struct AcceptedFinding {
    std::string rule;
    base::ObjectId object, other;
    std::string part, message, reason;
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const AcceptedFinding&, const AcceptedFinding&) = default;
};

/// What makes a scene the definition of a prefab.
struct PrefabHead {
    std::string name;    ///< its file's; unique in the project
    std::string folder;  ///< where the Stock lists it
    friend bool operator==(const PrefabHead&, const PrefabHead&) = default;
};

/// What is true of a scene as a whole.
struct SceneSettings {
    std::shared_ptr<const DataEntries> data;     ///< of a document of project data; shared by history and snapshots
    std::optional<PrefabHead> prefab;            ///< of a definition; none there: the prefab does not exist (any more)
    base::Vec3 sunDirection{-0.45, -0.8, -0.4};  ///< the way sunlight travels; need not be of unit length
    base::Vec3 sunColour{1.0, 0.95, 0.86};       ///< linear RGB
    double sunStrength = 1.0;
    base::Vec3 skyColour{0.62, 0.72, 0.80};
    base::Vec3 groundColour{0.36, 0.38, 0.30};
    double hazeMetres = 0;                 ///< how far off two thirds of a thing are lost in it; 0: the usual
    std::string guise;                     ///< the one it is shown in; empty: as it is
    std::optional<base::Aabb> level;       ///< where the level is: nothing is to stand outside; metres
    std::string notes;                     ///< what there is to know of the scene, for people
    base::Vec3 viewFrom{14.0, 9.0, 18.0};  ///< where the first view stands
    base::Vec3 viewTo{0.0, 1.0, 0.0};      ///< what it looks at
    std::vector<Bookmark> bookmarks;       ///< in the order they are listed
    std::vector<SavedSelection> selections;
    std::vector<RuleOff> rulesOff;
    std::vector<AcceptedFinding> accepted;
    std::string unknownKeys;      ///< as in Detail
    std::string unknownSunKeys;   ///< as in Detail, inside the sun
    std::string unknownViewKeys;  ///< as in Detail, inside the first view
    friend bool operator==(const SceneSettings&, const SceneSettings&) = default;  // equal data is the same data
    /// None of a scene.
    const DataEntries& entries() const {
        static const DataEntries none;
        return data ? *data : none;
    }
};

/// One object with everything it is, for creating, removing, copying and files.
struct ObjectRecord {
    base::ObjectId id;
    base::ObjectId parent;  ///< zero: a root
    base::ObjectId before;  ///< the sibling it stands in front of; zero: the last
    base::Transform local;
    base::Name name;
    base::Name kind;
    base::Name item;
    std::uint8_t flags = 0;
    DetailPtr detail;
};

class Scene {
  public:
    Scene(std::string name, std::shared_ptr<const base::NameTable> names);

    const std::string& name() const { return name_; }
    const base::NameTable& names() const { return *names_; }
    const SceneSettings& settings() const { return *settings_; }
    const std::shared_ptr<const SceneSettings>& sharedSettings() const { return settings_; }

    std::size_t objectCount() const { return count_; }
    /// One past the highest slot in use; slots below it may be dead.
    Slot slotEnd() const { return static_cast<Slot>(id_.size()); }
    bool alive(Slot slot) const { return slot < slotEnd() && id_[slot].value != 0; }
    /// The slot of an object, or kNoSlot.
    Slot find(base::ObjectId id) const;
    /// Of many at once, which takes a fraction of the time: what is looked up next is fetched meanwhile.
    std::vector<Slot> find(std::span<const base::ObjectId> ids) const;

    base::ObjectId id(Slot s) const { return id_[s]; }
    Slot parent(Slot s) const { return links_[s].parent; }
    Slot firstChild(Slot s) const { return s == kNoSlot ? firstRoot_ : links_[s].firstChild; }
    Slot lastChild(Slot s) const { return s == kNoSlot ? lastRoot_ : links_[s].lastChild; }
    Slot nextSibling(Slot s) const { return links_[s].next; }
    Slot previousSibling(Slot s) const { return links_[s].previous; }
    const base::Transform& local(Slot s) const { return local_[s]; }
    const base::Affine& world(Slot s) const { return world_[s]; }
    /// The box round the object's own mesh, in the world; empty without one. Children are not in it.
    const base::Aabb& bounds(Slot s) const { return bounds_[s]; }
    base::Name nameOf(Slot s) const { return label_[s].name; }
    base::Name kind(Slot s) const { return label_[s].kind; }
    base::Name item(Slot s) const { return label_[s].item; }
    std::string_view nameText(Slot s) const { return names_->text(label_[s].name); }
    std::string_view kindText(Slot s) const { return names_->text(label_[s].kind); }
    std::string_view itemText(Slot s) const { return names_->text(label_[s].item); }
    std::uint8_t flagsOf(Slot s) const { return label_[s].flags; }
    /// Null for the many that have no facet beyond a mesh.
    const DetailPtr& detail(Slot s) const { return detail_[s]; }
    /// Null: the object has none.
    template <class Facet>
    const Facet* facet(Slot s) const {
        const DetailPtr& detail = detail_[s];
        return detail ? detail->template get<Facet>() : nullptr;
    }

    /// Hidden itself, or below something hidden. Cost: depth.
    bool hiddenInTree(Slot s) const;
    /// Protected itself, or below something protected. Cost: depth.
    bool protectedInTree(Slot s) const;
    /// How many objects `s` lies below; kNoSlot: none, and it is no object (-1).
    int depth(Slot s) const;
    /// Is `s` the same as `ancestor` or below it?
    bool isWithin(Slot s, Slot ancestor) const;
    /// Is it an instance of a prefab, be it inside another one?
    bool isInstance(Slot s) const { return detail_[s] && detail_[s]->prefab; }
    /// The outermost instance that `s` lies inside of; kNoSlot: none, the scene itself holds `s`. Cost: depth.
    Slot instanceAround(Slot s) const;
    /// Like subtree, without what lies inside instances: what the scene itself holds (of `top` at least).
    std::vector<Slot> ownSubtree(Slot top) const;
    ObjectRecord record(Slot s) const;
    /// The slots of `top` and all below it, parents first, in tree order; kNoSlot: the whole scene.
    std::vector<Slot> subtree(Slot top) const;
    /// The box round all meshes of `top` and below.
    base::Aabb subtreeBounds(Slot top) const;

  private:
    friend class edit::SceneWriter;

    struct Links {
        Slot parent = kNoSlot, firstChild = kNoSlot, lastChild = kNoSlot, next = kNoSlot, previous = kNoSlot;
    };
    struct Label {
        base::Name name, kind, item;
        std::uint8_t flags = 0;
    };

    /// `top` and what is below it, in tree order; below a slot only where `into` says so.
    template <class Into>
    std::vector<Slot> walk(Slot top, const Into& into) const;
    std::size_t bucketOf(base::ObjectId id) const;
    Slot& rootEnd(Slot parent, bool first);
    void link(Slot s, Slot parent, Slot before);
    void unlink(Slot s);
    void indexId(base::ObjectId id, Slot slot);
    void unindexId(base::ObjectId id);

    std::string name_;
    std::shared_ptr<const base::NameTable> names_;   // shared: every scene and snapshot of a project reads one table
    std::shared_ptr<const SceneSettings> settings_;  // shared with snapshots and history
    Column<base::ObjectId> id_;
    Column<Links> links_;
    Column<base::Transform> local_;
    Column<base::Affine> world_;
    Column<base::Aabb> bounds_;
    Column<Label> label_;
    Column<DetailPtr> detail_;
    Column<Slot> buckets_;  // open addressing from id to slot + 1
    std::vector<Slot> free_;
    Slot firstRoot_ = kNoSlot;
    Slot lastRoot_ = kNoSlot;
    std::size_t count_ = 0;
};

}  // namespace model
