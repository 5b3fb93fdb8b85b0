#include <cmath>

#include "io/scene_file.h"
#include "scenes.h"
#include "valley.h"

namespace demo {

std::string many(std::size_t count) {
    struct Choice {
        const char* name;
        const char* kind;
        const char* item;
    };
    static constexpr Choice kChoices[] = {{"Alder", "Plant", "alder"},
                                          {"Willow", "Plant", "willow"},
                                          {"Reed clump", "Plant", "reed-clump-1"},
                                          {"Reed clump", "Plant", "reed-clump-3"},
                                          {"Stone block", "Structure", "stone-block"},
                                          {"Hedge", "Plant", "hedge"},
                                          {"Crate of pears", "Loose goods", "pear-crate"},
                                          {"Plank", "Loose goods", "plank"},
                                          {"Bollard", "Structure", "bollard"},
                                          {"Lantern post", "Lantern", "lantern-post"},
                                          {"Milestone", "Structure", "milestone"},
                                          {"Bench", "Structure", "bench"}};
    constexpr std::size_t kInGroup = 100;
    const double side = std::min(4000.0, std::sqrt(static_cast<double>(count)) * 4.0);
    base::Random random(count);
    base::NameTable names;
    std::string text = "{\"format\":\"mellow-scene\",\"version\":1,\"view\":{\"from\":[0,30,60],\"to\":[0,0,0]}}\n";
    text.reserve(count * 220);
    auto tidy = [](double v) { return std::round(v * 1000) / 1000; };
    base::ObjectId group;
    Vec3 middle(0.0);
    for (std::size_t i = 0; i < count; ++i) {
        model::ObjectRecord r;
        r.id = random.nextId();
        if (i % kInGroup == 0) {
            group = r.id;
            middle = {tidy(random.between(-side, side) / 2), 0, tidy(random.between(-side, side) / 2)};
            r.name = names.intern("Field " + std::to_string(i / kInGroup + 1));
            r.local.position = middle;
        } else {
            const Choice& choice = kChoices[random.next() % std::size(kChoices)];
            r.parent = group;
            r.name = names.intern(std::string(choice.name) + " " + std::to_string(i));
            r.kind = names.intern(choice.kind);
            r.item = names.intern(choice.item);
            const double x = tidy(random.between(-22, 22)), z = tidy(random.between(-22, 22));
            const double wx = middle.x + x, wz = middle.z + z;
            r.local.position = {x, tidy(6 * std::sin(wx * 0.004) * std::cos(wz * 0.005) + std::sin(wx * 0.03)), z};
            r.local.rotation = base::fromDegrees({0, std::floor(random.between(0, 360)), 0});
            const double size = tidy(random.between(0.8, 1.3));
            r.local.scale = Vec3(size);
        }
        io::appendObjectLine(text, r, names);
        text += '\n';
    }
    return text;
}

}  // namespace demo
