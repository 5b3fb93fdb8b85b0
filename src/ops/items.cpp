#include "ops/items.h"
#include "ops/names.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

namespace ops {

using base::Name;

namespace {

/// What is said of an item, to be changed.
Result<model::ValueMap> entryOf(edit::Draft& draft, Name item) {
    edit::Session& session = draft.session();
    const model::Item* known = session.library().item(item);
    if (known == nullptr || known->prefab || known->isSolid)
        return fail(ErrorCode::NotFound, "There is no such item in the Stock.");
    const auto& entries = session.entries(std::string(model::data::kItems));
    const auto place = entries.find(known->name);
    if (place != entries.end()) return place->second;
    return model::ValueMap{{"label", {known->label}}, {"category", {known->folder}}};
}

Status setEntry(edit::Draft& draft, Name item, model::ValueMap entry) {
    const std::string key(draft.session().names().text(item));
    const std::optional<model::ValueMap> value = std::move(entry);
    return draft.setEntries(std::string(model::data::kItems), {&key, 1}, {&value, 1});
}

}  // namespace

namespace {

constexpr std::size_t kMostPlaces = 1000;

Status placesOk(const char* what, const std::vector<model::ItemPlace>& places) {
    if (places.size() > kMostPlaces)
        return fail(ErrorCode::BadInput, fmt::format("An item can have up to {} {}.", kMostPlaces, what));
    for (const model::ItemPlace& place : places)
        if (place.name.size() > 200 || !base::isFinite(place.at))
            return fail(ErrorCode::BadInput, fmt::format("Of the {} one has a name or a place that cannot be.", what));
    return {};
}

Status usable(const edit::Session& session, const model::Item& item, const model::ItemFacts& facts) {
    for (const std::string& text : {facts.label, facts.folder})
        if (text.empty() || text.size() > 200)
            return fail(ErrorCode::BadInput, "An item's name and its folder are not empty and at most 200 bytes long.");
    if (!facts.kind.empty() && session.library().kindNamed(facts.kind) == nullptr)
        return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", facts.kind));
    if (facts.smallestSize && facts.largestSize && *facts.smallestSize > *facts.largestSize)
        return fail(ErrorCode::BadInput, "An item's smallest size is not above its largest.");
    if (facts.collision == model::CollisionShape::Part && !facts.collisionPart.empty() &&
        (item.nodes.size() < 2 ||
         std::find(item.nodes.begin(), item.nodes.end(), facts.collisionPart) == item.nodes.end()))
        return fail(ErrorCode::NotFound,
                    fmt::format("The file of “{}” has no node “{}” beside others.", item.label, facts.collisionPart));
    if (Status fine = placesOk("points of use", facts.uses); !fine) return fine;
    return placesOk("berths", facts.berths);
}

}  // namespace

Status setItem(edit::Draft& draft, Name item, const model::ItemFacts& facts) {
    if (!draft.state()) return draft.state();
    auto entry = entryOf(draft, item);
    if (!entry) return tl::unexpected(entry.error());
    const edit::Session& session = draft.session();
    if (Status fine = usable(session, *session.library().item(item), facts); !fine) return fine;
    model::putFacts(*entry, facts);
    return setEntry(draft, item, std::move(*entry));
}

Status renameItem(edit::Draft& draft, Name item, std::string label, std::string category) {
    const model::Item* known = draft.session().library().item(item);
    model::ItemFacts facts = known != nullptr ? static_cast<const model::ItemFacts&>(*known) : model::ItemFacts{};
    facts.label = std::move(label);
    facts.folder = std::move(category);
    return setItem(draft, item, facts);
}

Status deleteItem(edit::Draft& draft, Name item, const DeleteItem& how) {
    if (!draft.state()) return draft.state();
    auto entry = entryOf(draft, item);
    if (!entry) return tl::unexpected(entry.error());
    if (how.objects == DeleteItem::Objects::Swap) {
        auto all = usedBy(draft.session(), item);
        if (!all) return tl::unexpected(all.error());
        const std::string here = draft.scene().name();
        for (const Use& use : *all) {
            if (Status turned = draft.turnTo(use.document); !turned) return turned;
            if (auto done = replaceItem(draft, use.ids, how.other); !done) return tl::unexpected(done.error());
        }
        if (Status back = draft.turnTo(here); !back) return back;
    }
    model::setValue(*entry, "gone", {true});
    return setEntry(draft, item, std::move(*entry));
}

Result<std::vector<Name>> unusedItems(edit::Session& session) {
    std::unordered_set<Name> used;
    std::vector<std::string> documents = session.project().sceneNames;
    for (const auto& [prefab, scene] : session.definitions()) documents.push_back(scene->name());
    for (const std::string& name : documents) {
        auto scene = session.scene(name);
        if (!scene) return tl::unexpected(scene.error());
        for (Slot s : (*scene)->subtree(kNoSlot)) used.insert((*scene)->item(s));
    }
    std::vector<Name> unused;
    for (const model::Item& item : session.library().items()) {
        const Name key = session.intern(item.name);
        if (!item.prefab && !item.isSolid && !item.bounds.empty() && !used.contains(key)) unused.push_back(key);
    }
    return unused;
}

}  // namespace ops
