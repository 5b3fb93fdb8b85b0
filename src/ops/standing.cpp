#include "ops/standing.h"

#include <algorithm>
#include <cmath>
#include <unordered_set>

#include "ops/names.h"
#include "query/contact.h"

namespace ops {
namespace {

constexpr double kOver = 0.05, kUnder = 0.02;  // metres above and below a support's surface where others are looked for

/// What is carried as one with an object: the outermost that is an instance, a whole group or has a mesh.
Slot wholeOf(const model::Scene& scene, Slot slot) {
    Slot whole = slot;
    for (Slot s = scene.parent(slot); s != kNoSlot; s = scene.parent(s))
        if (scene.isInstance(s) || (scene.flagsOf(s) & model::flags::kWhole) != 0 || !scene.bounds(s).empty())
            whole = s;
    return whole;
}

}  // namespace

base::ObjectId supportOf(const model::Scene& scene, const query::SceneIndex& index, Slot slot, double enough) {
    const query::SlotFilter others = [&](Slot s) { return !scene.isWithin(s, slot) && !scene.hiddenInTree(s); };
    const query::FallingBody body = query::fallingBody(scene, index.solid(), slot);
    if (body.triangles.empty()) return {};
    // Of what it meets within that, the one that holds it first.
    std::vector<Slot> near;
    base::Aabb box = body.bounds;
    box.low.y -= enough;
    index.solid().overlapping(scene, box, [&](Slot s) {
        // What begins above its lower half stands on it, or hangs over it.
        const bool below = index.solid().boundsOf(scene, s).low.y < body.bounds.centre().y;
        if (below && others(s)) near.push_back(s);
    });
    Slot best = kNoSlot;
    double least = enough;
    for (Slot s : near) {
        const auto fall = query::fallOntoScene(body, scene, index.solid(), [s](Slot one) { return one == s; });
        if (!fall || *fall > enough) continue;
        const double off = std::abs(*fall);  // what lies beside it may overlap it a little
        if (best == kNoSlot || off < least || (off == least && scene.id(s) < scene.id(best))) best = s, least = off;
    }
    return best == kNoSlot ? base::ObjectId{} : scene.id(wholeOf(scene, best));
}

Ids standingOn(const model::Scene& scene, const query::SceneIndex& index, std::span<const base::ObjectId> ids) {
    std::unordered_set<Slot> taken;
    std::vector<Slot> open;
    for (base::ObjectId id : topmost(scene, ids))
        if (const Slot s = scene.find(id); s != kNoSlot) {
            open.push_back(s);
            for (Slot part : scene.subtree(s)) taken.insert(part);
        }
    Ids standing;
    while (!open.empty()) {
        const Slot below = open.back();
        open.pop_back();
        base::Aabb box;
        for (Slot part : scene.subtree(below)) box.add(index.solid().boundsOf(scene, part));
        if (box.empty()) continue;
        box.low.y -= kUnder;
        box.high.y += kOver;
        std::vector<Slot> near;
        index.solid().overlapping(scene, box, [&](Slot s) {
            if (!taken.contains(s) && !scene.hiddenInTree(s)) near.push_back(wholeOf(scene, s));
        });
        std::sort(near.begin(), near.end());
        near.erase(std::unique(near.begin(), near.end()), near.end());
        for (Slot s : near) {
            if (taken.contains(s) || scene.isWithin(below, s) || scene.protectedInTree(s)) continue;
            const Slot on = scene.find(supportOf(scene, index, s));
            if (on == kNoSlot || !(scene.isWithin(on, below) || scene.isWithin(below, on))) continue;
            standing.push_back(scene.id(s));
            open.push_back(s);
            for (Slot part : scene.subtree(s)) taken.insert(part);
        }
    }
    return standing;
}

}  // namespace ops
