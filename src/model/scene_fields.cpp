#include "model/scene_fields.h"

#include <algorithm>
#include <cmath>

#include "model/facet_builder.h"

namespace model {

SunPlace sunPlace(const base::Vec3& direction) {
    const double length = glm::length(direction);
    if (!(length > 0)) return {90, 0};
    const base::Vec3 to = -direction / length;
    SunPlace place{base::degrees(std::asin(std::clamp(to.y, -1.0, 1.0))), base::degrees(std::atan2(to.x, -to.z))};
    if (place.bearingDegrees < 0) place.bearingDegrees += 360;
    return place;
}

base::Vec3 sunDirection(const SunPlace& place) {
    const double height = base::radians(place.heightDegrees), bearing = base::radians(place.bearingDegrees);
    return -base::Vec3(std::cos(height) * std::sin(bearing), std::sin(height), -std::cos(height) * std::cos(bearing));
}

const Fields& sceneFields() {
    static const Fields fields = [] {
        FieldsOf<SceneSettings> f;
        const auto angle = [&](const char* key, const char* label, double low, double high, double SunPlace::*part) {
            Member& made = f.derived(
                key, label, "°", low, high, [part](const SceneSettings& s) { return sunPlace(s.sunDirection).*part; },
                [part](SceneSettings& s, double degrees) {
                    SunPlace place = sunPlace(s.sunDirection);
                    place.*part = degrees;
                    s.sunDirection = sunDirection(place);
                });
            made.property.type = PropertyType::Angle;
            made.property.category = "Sun";
            return &made;
        };
        angle("sunHeight", "Height", -90, 90, &SunPlace::heightDegrees)->property.help = "Above the horizon";
        angle("sunBearing", "Bearing", 0, 360, &SunPlace::bearingDegrees)->property.help = "From north, by east";
        f.colour("sunColour", "Colour", &SceneSettings::sunColour).property.category = "Sun";
        f.real("sunStrength", "Strength", &SceneSettings::sunStrength, "", 0, 20).property.category = "Sun";
        f.colour("sky", "Sky", &SceneSettings::skyColour).property.category = "Around";
        f.colour("ground", "From below", &SceneSettings::groundColour).property.category = "Around";
        f.last().help = "What the ground throws back";
        f.real("haze", "Haze", &SceneSettings::hazeMetres, "m", 0, 1e6).property.category = "Around";
        f.last().help = "How far off two thirds of a thing are lost in it; 0: the usual";
        f.text("guise", "Guise", &SceneSettings::guise).property.help = "A look of the whole scene; none: as it is";
        const auto corner = [&](const char* key, const char* label, base::Vec3 base::Aabb::*end) {
            Member& made = f.add(key, label, PropertyType::Vector);
            made.property.category = "Level";
            made.property.unit = "m";
            made.property.low = -kFarthestMetres;
            made.property.high = kFarthestMetres;
            made.property.help = "Where the level is; what stands outside is found by a check";
            made.optional = true;
            made.get = [end](const void* t) -> std::optional<Value> {
                const auto& level = FieldsOf<SceneSettings>::self(t).level;
                return level ? std::optional(vectorValue((*level).*end)) : std::nullopt;
            };
            made.set = [end](void* t, const Value& v) {
                const auto at = vectorIn<base::Vec3>(v);
                if (!at) return false;
                base::Aabb& box = FieldsOf<SceneSettings>::self(t).level
                                      ? *FieldsOf<SceneSettings>::self(t).level
                                      : FieldsOf<SceneSettings>::self(t).level.emplace(base::Aabb{*at, *at});
                box.*end = *at;
                // The other corner gives way.
                base::Vec3& other = end == &base::Aabb::low ? box.high : box.low;
                other = end == &base::Aabb::low ? glm::max(other, *at) : glm::min(other, *at);
                return true;
            };
            made.unset = [](void* t) { FieldsOf<SceneSettings>::self(t).level.reset(); };
        };
        corner("levelLow", "From", &base::Aabb::low);
        corner("levelHigh", "To", &base::Aabb::high);
        const auto view = [&](const char* key, const char* label, base::Vec3 SceneSettings::*m, const char* help) {
            f.vector(key, label, m, "m", -kFarthestMetres, kFarthestMetres).property.category = "First view";
            f.last().help = help;
            f.last().isPlace = true;
        };
        view("viewFrom", "From", &SceneSettings::viewFrom, "Where one looks from when it is first opened");
        view("viewTo", "To", &SceneSettings::viewTo, "What one looks at then");
        f.text("notes", "Notes", &SceneSettings::notes, PropertyType::LongText).property.help =
            "What there is to know of the scene";
        return f.done();
    }();
    return fields;
}

SceneSettings inGuise(SceneSettings settings, const Guise& guise) {
    for (const auto& [key, value] : guise.light)
        if (const Member* member = sceneFields().find(key)) (void)setMember(sceneFields(), &settings, *member, value);
    return settings;
}

}  // namespace model
