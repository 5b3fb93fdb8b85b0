#include "rehearse/settle.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "query/scene_index.h"
#include "rehearse/names.h"
#include "rehearse/world.h"

namespace rehearse {
namespace {

constexpr double kWithin = 0.01;  // metres: less is touching

Rest beginning(const Level& level, const World& world, std::size_t thing) {
    Rest rest;
    rest.object = level.things[thing].id;
    for (const Meeting& met : world.overlapsOf(thing)) {
        if (met.depth <= kWithin || met.depth <= rest.insideMetres) continue;
        const Slot slot = world.slotOf(met);
        if (slot == model::kNoSlot) continue;
        rest.insideMetres = met.depth;
        rest.inside = level.scene->id(slot);
    }
    return rest;
}

}  // namespace

std::string textOf(const Rest& rest, const model::Scene& scene, double over) {
    const auto name = [&](base::ObjectId id) {
        const Slot s = scene.find(id);
        return s == model::kNoSlot ? std::string("what is gone") : fmt::format("“{}”", scene.nameText(s));
    };
    if (rest.inside)
        return fmt::format("{} begins {:.2f} m inside {}", name(rest.object), rest.insideMetres, name(rest.inside));
    if (rest.lost) return name(rest.object) + " falls out of the level";
    if (rest.tips()) return fmt::format("{} tips over and moves by {:.2f} m", name(rest.object), rest.metres);
    if (rest.moves(over)) return fmt::format("{} moves by {:.2f} m", name(rest.object), rest.metres);
    if (!rest.rests) return name(rest.object) + " does not come to rest";
    return {};
}

query::Shapes shapesIn(const query::SceneIndex& index) {
    const auto nothing = [](base::Name) -> const query::MeshIndex* { return nullptr; };
    return {nothing, [&index](const model::Scene& scene, Slot slot) { return index.solid().meshOf(scene, slot); },
            nothing};
}

std::vector<base::ObjectId> looseOf(const model::Scene& scene) {
    std::vector<base::ObjectId> all;
    for (const Slot s : scene.subtree(model::kNoSlot)) {
        const model::Body* body = scene.facet<model::Body>(s);
        if (body != nullptr && body->role == model::Body::Role::Loose) all.push_back(scene.id(s));
    }
    return all;
}

base::Result<std::vector<Rest>> settle(std::shared_ptr<const model::Scene> scene, LevelSources sources,
                                       std::span<const base::ObjectId> ids, double seconds, base::Progress& progress) {
    sources.falling.emplace(ids.begin(), ids.end());
    std::sort(sources.falling->begin(), sources.falling->end());
    const Level level = levelOf(std::move(scene), sources);
    World world(level);
    std::vector<Rest> rests;
    std::vector<std::size_t> things;
    for (std::size_t i = 0; i < level.things.size(); ++i)
        if (level.things[i].isLoose() && world.isMoved(i)) {
            things.push_back(i);
            rests.push_back(beginning(level, world, i));
        }
    const int steps = static_cast<int>(std::ceil(seconds * kStepsPerSecond));
    for (int step = 0; step < steps; ++step) {
        if (progress.cancelled()) return base::fail(base::ErrorCode::Cancelled, "Settling was called off.");
        world.step();
        progress.add(1.0 / steps);
        bool awake = false;
        for (std::size_t k = 0; k < things.size(); ++k) {
            const std::size_t i = things[k];
            if (world.isOut(i)) continue;
            if (!level.holds(world.pose(i).at) || !(glm::length(world.velocity(i)) <= kFlung)) {
                rests[k].lost = true;
                world.takeOut(i);
                continue;
            }
            awake = awake || world.isAwake(i);
        }
        if (!awake) {
            progress.add(1.0 - static_cast<double>(step + 1) / steps);
            break;
        }
    }
    for (std::size_t k = 0; k < things.size(); ++k) {
        const std::size_t i = things[k];
        Rest& rest = rests[k];
        const Pose first = world.firstPose(i), now = world.pose(i);
        rest.motion = world.motion(i);
        rest.rests = !rest.lost && !world.isAwake(i);
        rest.metres = glm::length(now.at - first.at);
        const double share = std::clamp(std::abs(glm::dot(now.turn, first.turn)), 0.0, 1.0);
        rest.degrees = base::degrees(2 * std::acos(share));
    }
    return rests;
}

}  // namespace rehearse
