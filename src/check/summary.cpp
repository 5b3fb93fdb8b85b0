#include "check/summary.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "base/text.h"
#include "check/names.h"
#include "model/facets/light.h"
#include "model/property.h"

namespace check {

std::vector<std::pair<std::string, std::string>> summaryOf(const model::Scene& scene, const Facts& facts) {
    std::unordered_map<base::Name, std::size_t> kinds;
    std::size_t hidden = 0, protectedOnes = 0, lights = 0, unlinked = 0;
    double triangles = 0, cost = 0;
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        if (scene.kind(s)) ++kinds[scene.kind(s)];
        hidden += (scene.flagsOf(s) & model::flags::kHidden) != 0 ? 1 : 0;
        protectedOnes += (scene.flagsOf(s) & model::flags::kProtected) != 0 ? 1 : 0;
        const auto& detail = scene.detail(s);
        lights += detail && detail->get<model::Light>() ? 1 : 0;
        const model::Item* item = facts.library.item(scene.item(s));
        if (item != nullptr) triangles += static_cast<double>(item->triangles);
        const model::Kind* kind = facts.library.kind(scene.kind(s));
        cost += model::costOf(kind, item);
        if (kind == nullptr) continue;
        // A thing that could be linked, and is to nothing.
        const bool links = std::any_of(kind->properties.begin(), kind->properties.end(), [](const model::Property& p) {
            return model::linksObject(p.type) || (!p.element.empty() && model::linksObject(p.element[0].type));
        });
        unlinked += links && !(detail && model::hasObjectLink(*detail)) ? 1 : 0;
    }
    const base::Vec3 size = scene.subtreeBounds(kNoSlot).size();
    std::vector<std::pair<std::string, std::string>> rows = {
        {"Objects", std::to_string(scene.objectCount())},
        {"Size", fmt::format("{} × {} × {} m", base::fixed(size.x, 1), base::fixed(size.y, 1), base::fixed(size.z, 1))},
        {"Triangles", base::fixed(triangles, 0)},
        {"Cost", base::fixed(cost, 1)},
        {"Lights", std::to_string(lights)},
        {"Hidden", std::to_string(hidden)},
        {"Protected", std::to_string(protectedOnes)},
        {"Could link, do not", std::to_string(unlinked)}};
    for (const model::Kind& kind : facts.library.kinds())
        if (kind.needed != model::Needed::Any) {
            std::size_t n = 0;
            for (const auto& [name, count] : kinds)
                if (scene.names().text(name) == kind.name) n = count;
            rows.emplace_back(kind.name + " (needed)", std::to_string(n));
        }
    std::vector<std::pair<std::size_t, std::string>> counts;
    for (const auto& [name, n] : kinds) counts.emplace_back(n, std::string(scene.names().text(name)));
    std::sort(counts.begin(), counts.end(), [](const auto& a, const auto& b) {
        return a.first != b.first ? a.first > b.first : a.second < b.second;
    });
    for (const auto& [n, name] : counts) rows.emplace_back(name, std::to_string(n));
    return rows;
}

}  // namespace check
