#include "model/facets/shot.h"

#include <fmt/format.h>

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& zoneFields() {
    static const Fields fields = [] {
        FieldsOf<ShotZone> f;
        f.link("zone", "Zone", &ShotZone::zone);
        return f.done();
    }();
    return fields;
}

base::Status watchesFewEnough(const void* facet) {
    if (FieldsOf<Shot>::self(facet).zones.size() <= Shot::kMostZones) return {};
    return base::fail(base::ErrorCode::BadInput, fmt::format("A camera can watch up to {} zones.", Shot::kMostZones));
}

}  // namespace

const FacetType& Shot::type() {
    static const FacetType type = [] {
        FieldsOf<Shot> f;
        const auto looks = f.when([](const Shot& s) { return s.looks(); });
        const auto does = [&](Does what) { return f.when([what](const Shot& s) { return s.does == what; }); };
        f.word("does", "It", &Shot::does, {"stays", "turns", "follows", "rides"}).always = true;
        f.word("seen", "Looks at", &Shot::seen, {"player", "object"}).shown = looks;
        f.link("object", "That object", &Shot::object).shown =
            f.when([](const Shot& s) { return s.looks() && s.seen == Seen::Object; });
        f.real("height", "At its height", &Shot::height, "m", -100, 100).shown = looks;
        f.last().help = "Above the foot of whom it looks at";
        f.vector("offset", "From there", &Shot::offset, "m", -kLargestMetres, kLargestMetres).shown =
            does(Does::Follows);
        f.word("along", "Directions of", &Shot::along, {"the world", "whom it follows"}).shown = does(Does::Follows);
        f.link("path", "Along the points of", &Shot::path).shown = does(Does::Rides);
        f.real("lag", "Lags by", &Shot::lag, "s", 0, 30).shown = looks;
        f.last().help = "Two thirds of what it is behind are made good in that time";
        f.parts("zones", "Zones", &Shot::zones, zoneFields()).property.unit = "zone";
        f.last().help = "It shows while the player is in one of them; none: where no other shows";
        f.real("weight", "Weight", &Shot::weight, "", 0, 1000);
        f.last().help = "Where several would show, the heaviest does";
        f.real("glide", "Glides for", &Shot::glideSeconds, "s", 0, 60);
        f.last().help = "From the view before it to this one; 0: it cuts";
        f.word("walls", "Walls between", &Shot::walls, {"are left", "pull it in", "lift it"}).shown = looks;
        f.real("keep", "Keeps from walls", &Shot::keepMetres, "m", 0, 10).shown =
            f.when([](const Shot& s) { return s.looks() && s.walls != Walls::Through; });
        FacetType made = facetTypeOf<Shot>("shot", "Shot", "How a camera shows the level while it is played", f.done());
        made.check = watchesFewEnough;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
