#include "rehearse/start.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "rehearse/names.h"

namespace rehearse {

std::optional<Vec3> standNear(const Level& level, const World& world, const Vec3& feet) {
    const Capsule capsule{level.walker.radius, std::max(level.walker.height, 2 * level.walker.radius)};
    const double least = std::cos(base::radians(level.walker.slopeDegrees)) - 1e-6;
    const auto standAt = [&](const Vec3& from) -> std::optional<Vec3> {
        const auto ground = world.ray(from, from - Vec3(0, 60, 0));
        if (!ground || ground->normal.y < least) return std::nullopt;
        const Vec3 at = ground->point + Vec3(0, 3e-3 + capsule.radius * (1 / ground->normal.y - 1), 0);
        const auto all = world.overlaps(capsule, at);
        const bool room = std::none_of(all.begin(), all.end(), [](const Meeting& met) { return met.depth > 5e-3; });
        return room ? std::optional(at) : std::nullopt;
    };
    for (const double up : {0.1, level.walker.stepHeight + 0.1, 2.5})
        if (const auto at = standAt(feet + Vec3(0, up, 0))) return at;
    for (double away = 0.5; away <= 8; away += 0.5)
        for (int way = 0; way < 12; ++way) {
            const double angle = 2 * base::kPi * way / 12;
            for (const double up : {0.3, 2.5})
                if (const auto at = standAt(feet + Vec3(std::cos(angle) * away, up, std::sin(angle) * away))) return at;
        }
    return std::nullopt;
}

std::vector<StartFault> startFaults(const Level& level, const World& world) {
    std::vector<StartFault> faults;
    if (level.starts.empty()) {
        StartFault fault;
        fault.text = "There is no start: place one, or begin at the pointer.";
        return {fault};
    }
    const Start& start = level.starts.front();
    const std::string name = level.nameOf(start.id);
    StartFault fault;
    fault.object = start.id;
    if (level.starts.size() > 1) {
        fault.what = StartFault::What::Several;
        fault.other = level.starts[1].id;
        fault.text = fmt::format("There are {} starts; it would begin at “{}”.", level.starts.size(), name);
        faults.push_back(fault);
    }
    fault.other = {};
    fault.mended = standNear(level, world, start.feet);
    const Capsule capsule{level.walker.radius, std::max(level.walker.height, 2 * level.walker.radius)};
    constexpr double kLow = 0.05, kInside = 0.03, kHigh = 0.5;  // metres
    for (const Meeting& met : world.overlaps(capsule, start.feet + Vec3(0, kLow, 0)))
        if (met.depth > kInside) {
            const model::Slot slot = world.slotOf(met);
            fault.what = StartFault::What::InsideSomething;
            if (slot != model::kNoSlot) fault.other = level.scene->id(slot);
            fault.text = fmt::format(
                "“{}” is inside {}.", name,
                slot == model::kNoSlot ? std::string("something") : fmt::format("“{}”", level.scene->nameText(slot)));
            faults.push_back(fault);
            return faults;
        }
    const auto ground = world.ray(start.feet + Vec3(0, 0.1, 0), start.feet - Vec3(0, 1000, 0));
    const double gap = ground ? ground->share * 1000.1 - 0.1 : 1000;
    if (gap <= kHigh || (level.inCraft && level.craft.flies)) return faults;
    fault.what = StartFault::What::InTheAir;
    fault.text = ground ? fmt::format("“{}” is {:.2f} m above the ground.", name, gap)
                        : fmt::format("Nothing is below “{}”.", name);
    faults.push_back(fault);
    return faults;
}

}  // namespace rehearse
