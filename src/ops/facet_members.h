#pragma once
// The designer's verbs on any facet: give it, take it away, set one of its members; for many objects at once. They
// follow from what the facet says of itself; a facet whose numbers mean work elsewhere (an array's copies) has a row in
// the source.
#include <string>
#include <string_view>

#include "ops/objects.h"
#include "ops/properties.h"  // whose verbs take a member's path for a property's name too

namespace ops {

/// "light.intensity": a facet and one of its members. Nulls: there is none.
struct FacetMember {
    const model::FacetType* type = nullptr;
    const model::Member* member = nullptr;
    explicit operator bool() const { return member != nullptr; }
};
FacetMember facetMember(std::string_view path);
/// As people type it: of a facet with one member its own name will do, "outfit".
FacetMember memberCalled(std::string_view name);
/// May an object of a kind be given it without having the facet yet: an outfit where the kind has some?
bool mayBegin(const FacetMember& member, const model::Kind* kind);
/// What it says, in facets' order: for lists of columns and for help.
std::vector<std::string> facetMemberPaths();
/// The property of a member, called by its path. It stays as long as the program runs.
const model::Property& propertyOf(const FacetMember& member);
/// Nothing: the object has no such facet, or it says nothing there.
std::optional<model::Value> memberValue(const model::Scene& scene, model::Slot slot, const FacetMember& member);

/// A facet as a new one is; who has it keeps it. Errors: Refused for what is protected, or may not have it.
base::Status giveFacet(edit::Draft& draft, std::span<const base::ObjectId> ids, const model::FacetType& type);
/// It has this one from now on, whatever it had. Errors: also what its type refuses.
base::Status putFacet(edit::Draft& draft, base::ObjectId id, const model::FacetType& type, std::shared_ptr<void> facet);
base::Status takeFacet(edit::Draft& draft, std::span<const base::ObjectId> ids, const model::FacetType& type);

/// One member to what `change` makes of its present value, of those that have the facet. Errors: NotFound when none
/// has; BadInput for a value that does not fit; Refused for what is protected or cannot be so.
base::Status changeMember(edit::Draft& draft, std::span<const base::ObjectId> ids, const FacetMember& member,
                          const ChangeValue& change);
base::Status setMember(edit::Draft& draft, std::span<const base::ObjectId> ids, const FacetMember& member,
                       const model::Value& value);
/// Each to its own.
base::Status setMembers(edit::Draft& draft, std::span<const base::ObjectId> ids, const FacetMember& member,
                        std::span<const model::Value> values);
/// As a new facet has it.
base::Status resetMember(edit::Draft& draft, std::span<const base::ObjectId> ids, const FacetMember& member);

}  // namespace ops
