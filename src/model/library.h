#pragma once
// What a project offers: kinds (what objects are), items (what can be placed), records (what several objects share).
// Values, filled by io when a project is opened; scenes share one library.
#include <deque>
#include <functional>
#include <map>
#include <string>
#include <unordered_map>
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "base/names.h"
#include "model/assortment.h"
#include "model/facet.h"
#include "model/guise.h"
#include "model/item.h"
#include "model/kind.h"

namespace model {

/// Something that can be placed.
struct Item : ItemFacts {
    std::string name;     ///< its key, the file's name without ending
    std::string problem;  ///< why its model could not be read; empty when it could
    base::Aabb bounds;    ///< of its mesh, own axes, metres; empty without a mesh
    std::size_t triangles = 0;
    std::size_t materials = 0;
    std::vector<std::string> slots;    ///< the names of its materials
    std::vector<std::string> nodes;    ///< of its file, by name
    std::vector<std::string> remarks;  ///< what the import left out
    bool isSolid = false;              ///< the mesh of a solid: not offered for placing
    base::ObjectId prefab;             ///< placing it makes an instance of this; zero: it is no prefab
    /// What lands on the surface, own axes.
    base::Vec3 landingPoint() const;
};

/// A named look that any slot of any mesh can take.
struct Surface {
    std::string name;   ///< its key
    std::string label;  ///< for people
    std::string category;
    base::Vec3 colour{0.8};  ///< linear RGB
    double roughness = 0.8;  ///< 0: a mirror, 1: chalk
    double emission = 0;     ///< how much of the colour shines by itself, 0..1
    std::string image;       ///< a file in media/, multiplied with the colour; empty: none
    double sizeMetres = 1;   ///< of one tile of the image
    ValueMap unknown;        ///< members of a newer version, kept
    friend bool operator==(const Surface&, const Surface&) = default;
};
/// What of it is filled in.
const Fields& surfaceFields();
/// Errors named in `problems`; what is wrong is as if not said.
Surface surfaceFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems);
ValueMap toValues(const Surface& surface);

/// A shared entry of project data.
struct Record {
    base::ObjectId id;
    std::string name;
    ValueMap values;  ///< all its file says of it, but the id
};
struct RecordType {
    std::string name;   ///< its file's
    std::string label;  ///< "Lantern type"
    std::string help;
    std::vector<Property> properties;
    std::map<base::ObjectId, Record> records;
};

class Library {
  public:
    /// Adds or replaces by name.
    void add(base::Name key, Item item);
    void add(base::Name key, Kind kind);
    const Item* item(base::Name key) const;
    const Kind* kind(base::Name key) const;
    void removeItem(base::Name key);
    void removeKind(base::Name key);
    /// Null: there is none of that name. Cost: the number of kinds.
    const Kind* kindNamed(std::string_view name) const;
    /// A new one leaves the others where they are in memory.
    const std::deque<Item>& items() const { return items_; }
    void eachItem(const std::function<void(base::Name key, const Item&)>& visit) const {
        for (const auto& [key, index] : itemIndex_) visit(key, items_[index]);
    }
    const std::deque<Kind>& kinds() const { return kinds_; }
    void putRecords(RecordType type) { records_[type.name] = std::move(type); }
    void removeRecords(const std::string& type) { records_.erase(type); }
    /// By name.
    const std::map<std::string, RecordType, std::less<>>& recordTypes() const { return records_; }
    const RecordType* recordType(std::string_view name) const;
    using Surfaces = std::map<std::string, Surface, std::less<>>;
    void putSurfaces(Surfaces all) { surfaces_ = std::move(all); }
    const Surfaces& surfaces() const { return surfaces_; }
    using Guises = std::map<std::string, Guise, std::less<>>;
    void putGuises(Guises all) { guises_ = std::move(all); }
    const Guises& guises() const { return guises_; }
    /// Null: there is none of that name.
    const Guise* guise(std::string_view name) const;
    using Mixes = std::map<std::string, Mix, std::less<>>;
    void putMixes(Mixes all) { mixes_ = std::move(all); }
    const Mixes& mixes() const { return mixes_; }
    using Sets = std::map<std::string, PieceSet, std::less<>>;
    void putSets(Sets all) { sets_ = std::move(all); }
    const Sets& sets() const { return sets_; }
    /// Recipes, receivers and commands by name, as their files have them: what hands a scene over reads them.
    using Papers = std::map<std::string, ValueMap, std::less<>>;
    Papers recipes, receivers, commands;
    /// Of whatever type; null: there is none.
    const Record* record(base::ObjectId id) const;

  private:
    std::deque<Item> items_;
    std::deque<Kind> kinds_;
    std::map<std::string, RecordType, std::less<>> records_;
    Surfaces surfaces_;
    Guises guises_;
    Mixes mixes_;
    Sets sets_;
    std::unordered_map<base::Name, std::size_t> itemIndex_;
    std::unordered_map<base::Name, std::size_t> kindIndex_;
};

}  // namespace model
