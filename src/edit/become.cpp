#include "edit/become.h"
#include "edit/names.h"

#include <algorithm>
#include <set>
#include <unordered_map>

namespace edit {

using model::Scene;

namespace {

ObjectId parentId(const Scene& scene, Slot s) {
    const Slot parent = scene.parent(s);
    return parent == kNoSlot ? ObjectId{} : scene.id(parent);
}

Status becomeEntries(Draft& draft, const Scene& like) {
    const model::DataEntries before = draft.scene().settings().entries();
    const model::DataEntries& after = like.settings().entries();
    std::set<std::string> keys;
    for (const auto* entries : {&before, &after})
        for (const auto& [key, values] : *entries) keys.insert(key);
    std::vector<std::string> changed;
    std::vector<std::optional<model::ValueMap>> values;
    for (const std::string& key : keys) {
        const auto was = before.find(key), is = after.find(key);
        if (was != before.end() && is != after.end() && was->second == is->second) continue;
        changed.push_back(key);
        values.push_back(is == after.end() ? std::nullopt : std::optional(is->second));
    }
    return changed.empty() ? Status{} : draft.setEntries(draft.scene().name(), changed, values);
}

/// Objects that are new come, at the end of where they belong; the tree becomes the same but for the order of siblings;
/// what is gone goes.
Status becomeTree(Draft& draft, const Scene& like) {
    const Scene& is = draft.scene();
    std::vector<model::ObjectRecord> fresh;
    for (Slot s : like.ownSubtree(kNoSlot))
        if (is.find(like.id(s)) == kNoSlot) {
            fresh.push_back(like.record(s));
            fresh.back().before = {};
        }
    if (!fresh.empty())
        if (Status done = draft.create(fresh); !done) return done;
    // Parents first: what one comes to lie below is in its place by then, so nothing ever goes round in a circle.
    std::vector<ObjectId> moved;
    std::vector<model::TreePlace> places;
    for (Slot s : like.ownSubtree(kNoSlot)) {
        const ObjectId parent = parentId(like, s);
        if (parentId(is, is.find(like.id(s))) == parent) continue;
        moved.push_back(like.id(s));
        places.push_back({parent, {}});
    }
    if (!moved.empty())
        if (Status done = draft.moveInTree(moved, places); !done) return done;
    std::vector<ObjectId> gone;
    for (Slot s : is.ownSubtree(kNoSlot))
        if (like.find(is.id(s)) == kNoSlot) gone.push_back(is.id(s));
    return gone.empty() ? Status{} : draft.remove(gone);
}

/// Which of these numbers, all different, stay where they are if the fewest are to be moved: a longest rising run.
std::vector<bool> staying(const std::vector<std::size_t>& numbers) {
    std::vector<std::size_t> ends;  // of the best run of each length: where its last number stands
    std::vector<std::size_t> before(numbers.size(), numbers.size());
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const auto place = std::lower_bound(ends.begin(), ends.end(), numbers[i],
                                            [&](std::size_t at, std::size_t n) { return numbers[at] < n; });
        if (place != ends.begin()) before[i] = *std::prev(place);
        if (place == ends.end())
            ends.push_back(i);
        else
            *place = i;
    }
    std::vector<bool> stays(numbers.size(), false);
    for (std::size_t at = ends.empty() ? numbers.size() : ends.back(); at < numbers.size(); at = before[at])
        stays[at] = true;
    return stays;
}

using Siblings = std::unordered_map<ObjectId, std::vector<ObjectId>>;

Siblings siblings(const Scene& scene) {
    Siblings all;
    for (Slot s : scene.ownSubtree(kNoSlot)) all[parentId(scene, s)].push_back(scene.id(s));
    return all;
}

Status becomeOrder(Draft& draft, const Scene& like) {
    Siblings now = siblings(draft.scene());
    std::vector<ObjectId> moved;
    std::vector<model::TreePlace> places;
    for (const auto& [parent, wanted] : siblings(like)) {
        const std::vector<ObjectId>& had = now[parent];
        if (had == wanted) continue;
        std::unordered_map<ObjectId, std::size_t> placeOf;
        for (std::size_t i = 0; i < had.size(); ++i) placeOf[had[i]] = i;
        std::vector<std::size_t> numbers;
        for (ObjectId id : wanted) numbers.push_back(placeOf[id]);
        const std::vector<bool> stays = staying(numbers);
        for (std::size_t i = wanted.size(); i-- > 0;) {
            if (stays[i]) continue;
            moved.push_back(wanted[i]);
            places.push_back({parent, i + 1 < wanted.size() ? wanted[i + 1] : ObjectId{}});
        }
    }
    return moved.empty() ? Status{} : draft.moveInTree(moved, places);
}

/// The objects of which `get` gives something else in `like`, and what; `same` tells.
template <class Value, class Get, class Same>
struct Differing {
    std::vector<ObjectId> ids;
    std::vector<Value> values;
    Differing(const Scene& is, const Scene& like, const Get& get, const Same& same) {
        for (Slot s : like.ownSubtree(kNoSlot)) {
            const ObjectId id = like.id(s);
            Value value = get(like, s);
            if (same(get(is, is.find(id)), value)) continue;
            ids.push_back(id);
            values.push_back(std::move(value));
        }
    }
};
template <class Value, class Get, class Same = std::equal_to<Value>>
Differing<Value, Get, Same> differing(const Scene& is, const Scene& like, const Get& get, const Same& same = {}) {
    return {is, like, get, same};
}

Status becomeFields(Draft& draft, const Scene& like) {
    using model::LabelField;
    const Scene& is = draft.scene();
    auto label = [](LabelField field) {
        return [field](const Scene& of, Slot s) {
            return field == LabelField::Name ? of.nameOf(s) : field == LabelField::Kind ? of.kind(s) : of.item(s);
        };
    };
    for (const LabelField field : {LabelField::Name, LabelField::Kind, LabelField::Item}) {
        const auto labels = differing<base::Name>(is, like, label(field));
        if (labels.ids.empty()) continue;
        if (Status done = draft.setLabels(field, labels.ids, labels.values); !done) return done;
    }
    const auto flags = differing<std::uint8_t>(is, like, [](const Scene& of, Slot s) { return of.flagsOf(s); });
    if (!flags.ids.empty())
        if (Status done = draft.setFlags(flags.ids, flags.values); !done) return done;
    const auto details = differing<model::DetailPtr>(
        is, like, [](const Scene& of, Slot s) { return of.detail(s); }, model::sameDetail);
    if (!details.ids.empty())
        if (Status done = draft.setDetails(details.ids, details.values); !done) return done;
    const auto poses = differing<base::Transform>(is, like, [](const Scene& of, Slot s) { return of.local(s); });
    return poses.ids.empty() ? Status{} : draft.setTransforms(poses.ids, poses.values);
}

}  // namespace

Status become(Draft& draft, const Scene& like) {
    if (!draft.state()) return draft.state();
    if (model::data::isData(draft.scene().name())) return becomeEntries(draft, like);
    for (const auto part : {becomeTree, becomeOrder, becomeFields})
        if (Status done = part(draft, like); !done) return done;
    if (draft.scene().settings() == like.settings()) return {};
    return draft.setSettings(like.settings());
}

}  // namespace edit
