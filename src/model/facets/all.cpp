// Every facet there is, in the order of files: a new one is its own file, and a line here.
#include "model/facets/act.h"
#include "model/facets/array.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/cues.h"
#include "model/facets/goal.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/outfit.h"
#include "model/facets/points.h"
#include "model/facets/relations.h"
#include "model/facets/route.h"
#include "model/facets/shot.h"
#include "model/facets/solid.h"
#include "model/facets/sound.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "model/facets/use.h"
#include "model/facets/zone.h"

namespace model {
namespace {

std::vector<const FacetType*>& all() {
    static std::vector<const FacetType*> types = {
        &Light::type(), &Camera::type(),    &Note::type(),     &Tint::type(),  &Array::type(),
        &Solid::type(), &Body::type(),      &PointSet::type(), &Zone::type(),  &Surfaces::type(),
        &Wears::type(), &Relations::type(), &Use::type(),      &Goal::type(),  &Cues::type(),
        &Act::type(),   &InActs::type(),    &Shot::type(),     &Sound::type(), &Route::type()};
    return types;
}

}  // namespace

std::span<const FacetType* const> facetTypes() {
    return all();
}

void addFacetType(const FacetType& type) {
    all().push_back(&type);
}

}  // namespace model
