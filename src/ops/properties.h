#pragma once
// The designer's verbs on typed properties: set, change by an amount, reset, link; for many objects at once.
#include <functional>
#include <string>

#include "base/units.h"
#include "model/property.h"
#include "ops/objects.h"

namespace ops {

/// What the kind of an object says of a property; null: nothing.
const model::Property* propertyOf(const model::Library& library, const model::Scene& scene, model::Slot slot,
                                  std::string_view name);
/// Is it of that kind, or of one that inherits from it?
bool isOfKind(const model::Library& library, const model::Scene& scene, model::Slot slot, std::string_view kind);
/// Its value: its own, else the default. `room` is where a default lies.
const model::Value* propertyValue(const model::Scene& scene, model::Slot slot, const model::Property& property,
                                  model::Value& room);

/// A value as a property keeps it. Errors: BadInput for one that does not fit, or a link that cannot be; Refused for
/// what is read-only.
base::Result<model::Value> checkedValue(const model::Scene& scene, const model::Property& property,
                                        const model::Value& value);

/// Sets a property of objects whose kinds have it. A value like the default is not kept. Errors: NotFound for an
/// object, or a kind without such a property; BadInput for a value that does not fit, or a link to a wrong kind;
/// Refused for what is protected or read-only.
base::Status setProperty(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::string& name,
                         const model::Value& value);
/// The same, each to what `change` makes of its present value.
using ChangeValue = std::function<base::Result<model::Value>(const model::Property&, const model::Value& present)>;
base::Status changeProperty(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::string& name,
                            const ChangeValue& change);
/// What a number of it measures: "80 cm" can be typed for one in metres, "1 min" for one in seconds.
base::Quantity quantityOf(const model::Property& property);
/// What is typed for one property of several objects: `+= 2`, `* 3`, `-= 1` change a number's present value; anything
/// else is the value itself. The numbers of a vector or a range each so, between commas; what is left out stays.
/// Errors: as parsedValue().
base::Result<model::Value> typedValue(const model::Property& property, std::string_view text,
                                      const model::Value& present);
/// Objects have the default again; what no kind knows goes.
base::Status resetProperty(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::string& name);

/// May an object link lead there?
bool mayLinkTo(const model::Scene& scene, const model::Property& property, model::Slot target);
struct LinkTarget {
    base::ObjectId id;
    double metres = 0;    ///< from the object that would link
    bool linked = false;  ///< it leads there already
};
/// Where an object's link may lead, the nearest first, at most `most`.
std::vector<LinkTarget> linkTargets(const model::Scene& scene, model::Slot from, const model::Property& property,
                                    std::size_t most = 200);
/// Adds a link, or takes it away when it is there: of a single link it becomes the value, of a list one more of it.
base::Status toggleLink(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::string& name,
                        base::ObjectId target);

/// One link between objects of a scene.
struct Link {
    base::ObjectId from, to;
    std::string property;
    bool broken = false;  ///< what it leads to is not there
    friend bool operator==(const Link&, const Link&) = default;
};
/// All of a scene, in tree order of what links.
std::vector<Link> links(const model::Scene& scene);

}  // namespace ops
