#pragma once
// The optional parts of an object, kept apart from the columns. An object with none of them is a group or a bare point.
#include <memory>
#include <optional>
#include <string>
#include <utility>

#include "model/facet.h"

namespace model {

struct PrefabLink;  // model/prefab.h
/// What makes an object an instance of a prefab. Shared as Detail is; equal when what it says is equal.
struct PrefabFacet {
    std::shared_ptr<const PrefabLink> link;  // shared by history, snapshots, instances and the scene
    explicit operator bool() const { return link != nullptr; }
    const PrefabLink* operator->() const { return link.get(); }
    const PrefabLink& operator*() const { return *link; }
    friend bool operator==(const PrefabFacet& a, const PrefabFacet& b);
};

/// What few objects have. Values never change once made: an edit makes a new one, so history, snapshots and the scene
/// share it.
struct Detail {
    Facets facets;
    PrefabFacet prefab;
    ValueMap properties;
    std::string unknownKeys;  ///< members of a newer version, as JSON text without braces, kept as they were

    /// Null: it has none.
    template <class Facet>
    const Facet* get() const {
        return static_cast<const Facet*>(facets.find(Facet::type()));
    }
    template <class Facet>
    std::optional<Facet> copy() const {
        const Facet* facet = get<Facet>();
        return facet != nullptr ? std::optional<Facet>(*facet) : std::nullopt;
    }
    template <class Facet>
    void put(Facet facet) {
        facets.put(Facet::type(), std::make_shared<const Facet>(std::move(facet)));
    }
    template <class Facet>
    void put(std::optional<Facet> facet) {
        if (facet)
            put(std::move(*facet));
        else
            drop<Facet>();
    }
    /// To be changed before the detail is shared; a fresh one if there is none.
    template <class Facet>
    Facet& edit() {
        const Facet* now = get<Facet>();
        auto own = now != nullptr ? std::make_shared<Facet>(*now) : std::make_shared<Facet>();
        facets.put(Facet::type(), own);
        return *own;
    }
    template <class Facet>
    void drop() {
        facets.drop(Facet::type());
    }
    bool empty() const { return facets.empty() && !prefab && properties.empty() && unknownKeys.empty(); }
    friend bool operator==(const Detail&, const Detail&) = default;
};
using DetailPtr = std::shared_ptr<const Detail>;  // shared by history, snapshots and the scene; null is "none"

/// Equal values, whether or not they are the same piece of memory.
inline bool sameDetail(const DetailPtr& a, const DetailPtr& b) {
    return a == b || (a && b && *a == *b);
}

/// Visits each link to an object in properties and facets, and lets it be changed. True if any was.
inline bool eachObjectLink(Detail& detail, const std::function<void(base::ObjectId&)>& visit) {
    const bool any = eachObjectLink(detail.properties, visit);
    return eachObjectLink(detail.facets, visit) || any;
}
inline bool hasObjectLink(const Detail& detail) {
    return hasObjectLink(detail.properties) || hasObjectLink(detail.facets);
}

}  // namespace model
