#pragma once
// Changes as values: a closed set, each with before and after, naming objects by id. Bulk is columnar: moving
// 100,000 objects is one SetTransforms with three arrays. Applying and inverting run the same code
// (edit::SceneWriter) on the same value.
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "model/scene.h"

namespace model {

/// Objects that come to be (or cease, when not `created`). In creation order: parents before children, and
/// each `before` stands already. Removal runs backwards.
struct Existence {
    bool created = true;
    std::vector<ObjectRecord> objects;
};

struct SetTransforms {
    std::vector<base::ObjectId> ids;
    std::vector<base::Transform> before;
    std::vector<base::Transform> after;
};

enum class LabelField : std::uint8_t { Name, Kind, Item };

struct SetLabels {
    LabelField field = LabelField::Name;
    std::vector<base::ObjectId> ids;
    std::vector<base::Name> before;
    std::vector<base::Name> after;
};

struct SetFlags {
    std::vector<base::ObjectId> ids;
    std::vector<std::uint8_t> before;
    std::vector<std::uint8_t> after;
};

/// Facets and properties.
struct SetDetails {
    std::vector<base::ObjectId> ids;
    std::vector<DetailPtr> before;
    std::vector<DetailPtr> after;
};

struct TreePlace {
    base::ObjectId parent;  ///< zero: a root
    base::ObjectId before;  ///< zero: the last child
    friend bool operator==(const TreePlace&, const TreePlace&) = default;
};

/// Moves in the tree, one after the other (undone backwards). Local transforms stay as they are.
struct MoveInTree {
    std::vector<base::ObjectId> ids;
    std::vector<TreePlace> before;
    std::vector<TreePlace> after;
};

struct SetSettings {
    std::shared_ptr<const SceneSettings> before;
    std::shared_ptr<const SceneSettings> after;
};

/// Entries of a document of project data; nothing: there is none.
struct SetEntries {
    std::vector<std::string> keys;
    std::vector<std::optional<ValueMap>> before;
    std::vector<std::optional<ValueMap>> after;
};

using Change =
    std::variant<Existence, SetTransforms, SetLabels, SetFlags, SetDetails, MoveInTree, SetSettings, SetEntries>;

/// What one step does to one scene, in order.
struct ChangeSet {
    std::string scene;
    std::vector<Change> changes;
};

/// How many objects a change names.
std::size_t rowCount(const Change& change);
/// Which they are.
std::vector<base::ObjectId> idsIn(const Change& change);

}  // namespace model
