#pragma once
// What a facet is, described once: beside its struct stands a FacetType with its key and members. Reading, writing,
// the ledger, differences of instances, Properties, scripts, tables and schemas are made from that; none of them names
// a facet. Values; any thread.
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "model/property.h"

namespace model {

/// What a file says beyond what this version knows; kept as it was.
struct Unknown {
    std::string members;  ///< JSON text without braces
    ValueMap words;       ///< by member: a word of a newer version; the member itself is as usual
    bool empty() const { return members.empty() && words.empty(); }
    friend bool operator==(const Unknown&, const Unknown&) = default;
};

struct Fields;

/// Members that are lists of structs: what each of them is, and how to get at them.
struct Parts {
    const Fields* fields = nullptr;  ///< null: the member is no list of structs
    bool named = false;              ///< in files an object, by the first member, which is text
    std::function<std::size_t(const void*)> size;
    std::function<const void*(const void*, std::size_t)> at;
    std::function<void*(void*)> add;  ///< one more, at the end
    std::function<void(void*)> clear;
};

/// One member of a facet: a property, and how the struct holds it. `const void*` is the struct.
struct Member {
    Property property;      ///< its name is the key; `fallback` is what a new one has
    bool always = false;    ///< files say it though it is as usual
    bool stored = true;     ///< else it follows from others: for fields, scripts and tables
    bool inField = true;    ///< else Properties has no row for it
    bool optional = false;  ///< may be without a value
    std::string expected;   ///< what set() wants, when the property's type does not say it
    std::function<std::optional<Value>(const void*)> get;  ///< nothing: it has none
    std::function<bool(void*, const Value&)> set;          ///< false: not of that type. No range is looked at
    std::function<void(void*)> unset;                      ///< of an optional one
    std::function<bool(const void*)> shown;                ///< empty: always
    std::function<ValueMap()> schema;                      ///< JSON Schema, when the property's type does not say it
    Parts parts;
};

/// The members of a struct.
struct Fields {
    std::vector<Member> members;
    Unknown& (*unknown)(void*) = nullptr;  ///< null: it keeps none
    /// Of a struct that is only read.
    const Unknown* unknownOf(const void* of) const {
        return unknown != nullptr ? &unknown(const_cast<void*>(of)) : nullptr;
    }
    const Member* find(std::string_view key) const;
};

struct FacetType {
    std::string key, label, help;
    Fields fields;
    bool byHand = true;    ///< people give it; else it comes with what one makes
    bool bare = false;     ///< in files its only member stands under its key
    bool pointed = false;  ///< in files whole numbers that may have parts keep their point: 2.0
    std::shared_ptr<void> (*make)() = nullptr;
    std::shared_ptr<void> (*copy)(const void*) = nullptr;
    bool (*equal)(const void*, const void*) = nullptr;
    std::string (*mend)(void*) = nullptr;          ///< what a file says that cannot be is put right; what it was
    void (*complete)(void*) = nullptr;             ///< what an edit needs but did not say is filled in
    base::Status (*check)(const void*) = nullptr;  ///< may an edit leave it so? null: always
};

/// All facets there are, in the order of files. What adds one does so before anything is read or shown.
std::span<const FacetType* const> facetTypes();
void addFacetType(const FacetType& type);
/// Null: there is none with that key.
const FacetType* facetType(std::string_view key);

/// The facets of one object, shared and never changed. Few; equal when what they say is equal.
class Facets {
  public:
    struct Entry {
        const FacetType* type;
        std::shared_ptr<const void> value;
    };
    const void* find(const FacetType& type) const;
    void put(const FacetType& type, std::shared_ptr<const void> value);
    void drop(const FacetType& type);
    /// As `from` has it: there or not.
    void take(const FacetType& type, const Facets& from);
    bool empty() const { return entries_.empty(); }
    std::size_t size() const { return entries_.size(); }
    auto begin() const { return entries_.begin(); }
    auto end() const { return entries_.end(); }
    friend bool operator==(const Facets& a, const Facets& b);

  private:
    std::vector<Entry> entries_;  // by the type's address
};
bool sameFacet(const FacetType& type, const Facets& a, const Facets& b);

/// Sets a member to a value that fits it. Errors: BadInput naming what was expected; the facet is as it was.
base::Status setMember(const Fields& fields, void* facet, const Member& member, const Value& value);
/// What a member has, for people: "40 cd", "fixed", "3 points".
std::string memberText(const Member& member, const void* facet);
/// The same of all that a file would say: "fixed, box".
std::string facetText(const FacetType& type, const void* facet);
/// Is it as a new facet has it?
bool isUsual(const Member& member, const void* facet);

/// Visits each link to an object in facets, and lets it be changed. True if any was.
bool eachObjectLink(Facets& facets, const std::function<void(base::ObjectId&)>& visit);
bool hasObjectLink(const Facets& facets);

}  // namespace model
