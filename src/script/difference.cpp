#include "script/difference.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "model/facets/tint.h"
#include "script/names.h"

namespace script {

namespace {

std::string howChanged(const model::Scene& before, Slot was, const model::Scene& now, Slot is) {
    std::string how;
    auto add = [&](const std::string& part) { how += (how.empty() ? "" : ", ") + part; };
    const base::Transform &a = before.local(was), &b = now.local(is);
    if (a.position != b.position)
        add("moved " + base::fixed(glm::length(now.world(is).translation - before.world(was).translation), 2) + " m");
    if (a.rotation != b.rotation) add("turned");
    if (a.scale != b.scale) add("sized");
    if (before.nameOf(was) != now.nameOf(is)) add(fmt::format("renamed from {}", before.nameText(was)));
    if (before.item(was) != now.item(is)) add(fmt::format("item was {}", before.itemText(was)));
    if (before.kind(was) != now.kind(is)) add(fmt::format("kind was {}", before.kindText(was)));
    if (before.flagsOf(was) != now.flagsOf(is)) add("switches");
    const Slot up = before.parent(was), down = now.parent(is);
    if ((up == kNoSlot ? base::ObjectId{} : before.id(up)) != (down == kNoSlot ? base::ObjectId{} : now.id(down)))
        add("put elsewhere");
    const model::Detail none;
    const model::Detail& old = before.detail(was) ? *before.detail(was) : none;
    const model::Detail& fresh = now.detail(is) ? *now.detail(is) : none;
    if (old.properties != fresh.properties) {
        std::string keys;
        auto differs = [&](const model::ValueMap& one, const model::ValueMap& other) {
            for (const auto& entry : one)
                if (std::find(other.begin(), other.end(), entry) == other.end() &&
                    (", " + keys + ",").find(", " + entry.first + ",") == std::string::npos)
                    keys += (keys.empty() ? "" : ", ") + entry.first;
        };
        differs(fresh.properties, old.properties);
        differs(old.properties, fresh.properties);
        add(keys);
    }
    for (const model::FacetType* type : model::facetTypes())
        if (!model::sameFacet(*type, old.facets, fresh.facets)) add(base::lowered(type->label));
    if (!(old.prefab == fresh.prefab)) add("what differs from its prefab");
    return how;
}

}  // namespace

std::vector<Difference> differences(const model::Scene& before, const model::Scene& now) {
    using What = Difference::What;
    std::vector<Difference> all;
    for (Slot s : now.subtree(kNoSlot)) {
        const Slot was = before.find(now.id(s));
        const std::string name(now.nameText(s));
        if (was == kNoSlot) {
            const base::Vec3 at = now.world(s).translation;
            all.push_back(
                {What::Created, now.id(s), name,
                 fmt::format("at {}, {}, {}", base::fixed(at.x, 2), base::fixed(at.y, 2), base::fixed(at.z, 2))});
        } else if (std::string how = howChanged(before, was, now, s); !how.empty()) {
            all.push_back({What::Changed, now.id(s), name, std::move(how)});
        }
    }
    for (Slot s : before.subtree(kNoSlot))
        if (now.find(before.id(s)) == kNoSlot)
            all.push_back({What::Removed, before.id(s), std::string(before.nameText(s)), {}});
    return all;
}

std::size_t countOf(const std::vector<Difference>& all, Difference::What what) {
    return static_cast<std::size_t>(
        std::count_if(all.begin(), all.end(), [what](const Difference& d) { return d.what == what; }));
}

}  // namespace script
