#include "ops/facet_members.h"

#include <fmt/format.h>

#include <map>

#include "base/text.h"
#include "model/facets/act.h"
#include "model/facets/array.h"
#include "model/facets/body.h"
#include "model/facets/outfit.h"
#include "model/facets/points.h"
#include "model/facets/solid.h"
#include "model/facets/tint.h"
#include "ops/array.h"
#include "ops/facets.h"
#include "ops/names.h"
#include "ops/outfits.h"
#include "ops/solid.h"
#include "query/collision.h"

namespace ops {

using model::FacetType;

namespace {

/// Where a changed facet stands: what it was (null: it was not there) and what it becomes.
struct Change {
    edit::Draft& draft;
    Slot slot;
    const void* before;
    void* after;

    template <class Facet>
    const Facet* was() const {
        return static_cast<const Facet*>(before);
    }
    template <class Facet>
    Facet& is() const {
        return *static_cast<Facet*>(after);
    }
};

/// A body that no longer follows its mesh begins with what it was.
Status fitBody(const Change& c) {
    model::Body& body = c.is<model::Body>();
    if (Status may = mayHaveBody(c.draft, c.slot, body); !may) return may;
    if (c.before == nullptr || body.fitted == c.was<model::Body>()->fitted) return {};
    const model::Body plain;
    const model::Item* item = c.draft.session().library().item(c.draft.scene().item(c.slot));
    const query::BodyBox box = query::bodyBox(*c.was<model::Body>(), item != nullptr ? item->bounds : base::Aabb{});
    body.centre = body.fitted ? plain.centre : box.centre;
    body.size = body.fitted ? plain.size : box.size;
    return {};
}

Status fitPoints(const Change& c) {
    model::PointSet& set = c.is<model::PointSet>();
    if (c.before == nullptr || set.stays == c.was<model::PointSet>()->stays) return {};
    placePoints(c.draft.scene(), c.slot, set);
    return {};
}

Status fitSolid(const Change& c) {
    return usableSolid(c.is<model::Solid>());
}

Status fitTint(const Change& c) {
    const model::Scene& scene = c.draft.scene();
    if (takesTint(c.draft.session(), scene, c.slot)) return {};
    return fail(ErrorCode::Refused, fmt::format("“{}” is of the kind {}, which is not tinted.", scene.nameText(c.slot),
                                                scene.kindText(c.slot)));
}

/// What goes with it is brought in and out by one verb.
Status fitAct(const Change& c) {
    const bool was = c.before != nullptr && c.was<model::Act>()->worked;
    if (c.is<model::Act>().worked == was) return {};
    return fail(ErrorCode::Refused, "One goes to work in an act by “Work in it” over the view.");
}

Status writeWorn(edit::Draft& draft, ObjectId id, const void* facet) {
    return wear(draft, {&id, 1}, static_cast<const model::Wears*>(facet)->outfit);
}

Status writeArray(edit::Draft& draft, ObjectId id, const void* facet) {
    return setArray(draft, id, *static_cast<const model::Array*>(facet));
}

/// Facets that are more than their members: what fits them to the object, and who writes them.
struct Own {
    const FacetType* type;
    Status (*fit)(const Change&);
    Status (*write)(edit::Draft&, ObjectId, const void*);
    bool begins = false;  ///< setting its member gives it
};
const Own* ownOf(const FacetType& type) {
    static const Own all[] = {
        {&model::Body::type(), fitBody, nullptr},         {&model::PointSet::type(), fitPoints, nullptr},
        {&model::Solid::type(), fitSolid, nullptr},       {&model::Tint::type(), fitTint, nullptr},
        {&model::Array::type(), nullptr, writeArray},     {&model::Act::type(), fitAct, nullptr},
        {&model::Wears::type(), nullptr, writeWorn, true}};
    for (const Own& own : all)
        if (own.type == &type) return &own;
    return nullptr;
}

Status usable(const FacetType& type, const Change& change) {
    if (type.complete != nullptr) type.complete(change.after);
    if (const Own* own = ownOf(type); own != nullptr && own->fit != nullptr)
        if (Status fits = own->fit(change); !fits) return fits;
    return type.check != nullptr ? type.check(change.after) : Status{};
}

/// What the facet of one object, the i-th, becomes; null: it stays as it is.
using Make = std::function<base::Result<std::shared_ptr<const void>>(std::size_t i, Slot, const void* now)>;

Status changeFacets(edit::Draft& draft, std::span<const ObjectId> ids, const FacetType& type, const Make& make) {
    const Own* own = ownOf(type);
    if (own != nullptr && own->write != nullptr) {
        for (std::size_t i = 0; i < ids.size(); ++i) {
            const ObjectId id = ids[i];
            if (Status on = draft.goOn(); !on) return on;
            const Slot slot = draft.scene().find(id);
            const model::DetailPtr& detail = draft.scene().detail(slot);
            auto made = make(i, slot, detail ? detail->facets.find(type) : nullptr);
            if (!made) return tl::unexpected(made.error());
            if (*made)
                if (Status written = own->write(draft, id, made->get()); !written) return written;
        }
        return {};
    }
    return changeDetails(draft, ids, [&, i = std::size_t{0}](Slot slot, model::Detail& detail) mutable -> Status {
        auto made = make(i++, slot, detail.facets.find(type));
        if (!made) return tl::unexpected(made.error());
        if (*made) detail.facets.put(type, std::move(*made));
        return {};
    });
}

}  // namespace

FacetMember facetMember(std::string_view path) {
    const std::size_t dot = path.find('.');
    if (dot == std::string_view::npos) return {};
    const FacetType* type = model::facetType(path.substr(0, dot));
    const model::Member* member = type != nullptr ? type->fields.find(path.substr(dot + 1)) : nullptr;
    if (member == nullptr || member->parts.fields != nullptr || !member->expected.empty()) return {};
    return {type, member};
}

FacetMember memberCalled(std::string_view name) {
    const FacetType* type = model::facetType(name);
    const bool isWhole = type != nullptr && type->fields.members.size() == 1;
    return isWhole ? FacetMember{type, &type->fields.members.front()} : facetMember(name);
}

bool mayBegin(const FacetMember& member, const model::Kind* kind) {
    const Own* own = ownOf(*member.type);
    return own != nullptr && own->begins && kind != nullptr && !kind->outfits.empty();
}

std::vector<std::string> facetMemberPaths() {
    std::vector<std::string> all;
    for (const FacetType* type : model::facetTypes())
        for (const model::Member& m : type->fields.members)
            if (m.parts.fields == nullptr && m.expected.empty()) all.push_back(type->key + '.' + m.property.name);
    return all;
}

const model::Property& propertyOf(const FacetMember& member) {
    static const std::map<const model::Member*, model::Property> all = [] {
        std::map<const model::Member*, model::Property> made;
        for (const std::string& path : facetMemberPaths()) {
            const FacetMember found = facetMember(path);
            made.emplace(found.member, found.member->property).first->second.name = path;
        }
        return made;
    }();
    return all.at(member.member);
}

std::optional<Value> memberValue(const model::Scene& scene, Slot slot, const FacetMember& member) {
    const model::DetailPtr& detail = scene.detail(slot);
    const void* facet = detail ? detail->facets.find(*member.type) : nullptr;
    return facet != nullptr ? member.member->get(facet) : std::nullopt;
}

Status giveFacet(edit::Draft& draft, std::span<const ObjectId> ids, const FacetType& type) {
    if (!draft.state()) return draft.state();
    return changeFacets(draft, ids, type,
                        [&](std::size_t, Slot slot, const void* now) -> base::Result<std::shared_ptr<const void>> {
                            if (now != nullptr) return std::shared_ptr<const void>();
                            std::shared_ptr<void> fresh = type.make();
                            Status fine = usable(type, {draft, slot, nullptr, fresh.get()});
                            if (!fine) return tl::unexpected(fine.error());
                            return fresh;
                        });
}

Status putFacet(edit::Draft& draft, ObjectId id, const FacetType& type, std::shared_ptr<void> facet) {
    if (!draft.state()) return draft.state();
    if (type.check != nullptr)  // before anything is filled in
        if (Status fine = type.check(facet.get()); !fine) return fine;
    return changeFacets(draft, {&id, 1}, type,
                        [&](std::size_t, Slot slot, const void* now) -> base::Result<std::shared_ptr<const void>> {
                            Status fine = usable(type, {draft, slot, now, facet.get()});
                            if (!fine) return tl::unexpected(fine.error());
                            return std::shared_ptr<const void>(facet);
                        });
}

Status takeFacet(edit::Draft& draft, std::span<const ObjectId> ids, const FacetType& type) {
    return changeDetails(draft, ids, [&](Slot, model::Detail& detail) -> Status {
        detail.facets.drop(type);
        return {};
    });
}

namespace {

using ChangeAt = std::function<base::Result<Value>(std::size_t i, const Value& now)>;

Status changeEach(edit::Draft& draft, std::span<const ObjectId> ids, const FacetMember& path, const ChangeAt& change) {
    if (!draft.state()) return draft.state();
    if (Status free = refuseProtected(draft.scene(), ids, "changed"); !free) return free;
    const FacetType& type = *path.type;
    const model::Member& member = *path.member;
    const Own* own = ownOf(type);
    const bool begins = own != nullptr && own->begins;
    bool any = false;
    Status done = changeFacets(
        draft, ids, type, [&](std::size_t i, Slot slot, const void* now) -> base::Result<std::shared_ptr<const void>> {
            if (now == nullptr && !begins) return std::shared_ptr<const void>();
            any = true;
            std::shared_ptr<void> after = now != nullptr ? type.copy(now) : type.make();
            auto value = change(i, member.get(after.get()).value_or(model::defaultOf(member.property)));
            if (value) value = checkedValue(draft.scene(), member.property, *value);
            if (!value) return tl::unexpected(value.error());
            Status fine = model::setMember(type.fields, after.get(), member, *value);
            if (fine) fine = usable(type, {draft, slot, now, after.get()});
            if (!fine) return tl::unexpected(fine.error());
            return after;
        });
    if (done && !any && !ids.empty())
        return fail(ErrorCode::NotFound,
                    fmt::format("“{}” has no {}.", draft.scene().nameText(draft.scene().find(ids[0])),
                                base::lowered(type.label)));
    return done;
}

}  // namespace

Status changeMember(edit::Draft& draft, std::span<const ObjectId> ids, const FacetMember& member,
                    const ChangeValue& change) {
    return changeEach(draft, ids, member,
                      [&](std::size_t, const Value& now) { return change(member.member->property, now); });
}

Status setMembers(edit::Draft& draft, std::span<const ObjectId> ids, const FacetMember& member,
                  std::span<const Value> values) {
    return changeEach(draft, ids, member,
                      [&](std::size_t i, const Value&) -> base::Result<Value> { return values[i]; });
}

Status setMember(edit::Draft& draft, std::span<const ObjectId> ids, const FacetMember& member, const Value& value) {
    return changeMember(draft, ids, member,
                        [&](const model::Property&, const Value&) -> base::Result<Value> { return value; });
}

Status resetMember(edit::Draft& draft, std::span<const ObjectId> ids, const FacetMember& member) {
    return setMember(draft, ids, member, model::defaultOf(member.member->property));
}

}  // namespace ops
