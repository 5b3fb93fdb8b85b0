#include "ops/items.h"
#include "model/facet_builder.h"
#include "ops/names.h"

#include <fmt/format.h>

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
    return model::ValueMap{{"label", {known->label}}, {"category", {known->category}}};
}

Status setEntry(edit::Draft& draft, Name item, model::ValueMap entry) {
    const std::string key(draft.session().names().text(item));
    const std::optional<model::ValueMap> value = std::move(entry);
    return draft.setEntries(std::string(model::data::kItems), {&key, 1}, {&value, 1});
}

}  // namespace

const model::Fields& itemFields() {
    static const model::Fields fields = [] {
        model::FieldsOf<ItemFacts> f;
        f.text("label", "Name", &ItemFacts::label);
        f.text("folder", "Folder", &ItemFacts::folder).property.help = "Where the Stock lists it; a new name makes one";
        f.text("kind", "Kind", &ItemFacts::kind).property.help =
            "What an object is that is placed of it; empty: of none";
        f.word("collision", "Collision", &ItemFacts::collision, {"mesh", "box", "none"}).property.help =
            "What bumps into others: its mesh, the box round it, or nothing";
        f.flag("offered", "For use", &ItemFacts::offered).property.help =
            "Off: it stays where it is placed, and the Stock offers it no more";
        return f.done();
    }();
    return fields;
}

ItemFacts factsOf(const model::Item& item) {
    return {item.label, item.category, item.kind, item.collision, item.offered};
}

Status setItem(edit::Draft& draft, Name item, const ItemFacts& facts) {
    if (!draft.state()) return draft.state();
    auto entry = entryOf(draft, item);
    if (!entry) return tl::unexpected(entry.error());
    for (const std::string& text : {facts.label, facts.folder})
        if (text.empty() || text.size() > 200)
            return fail(ErrorCode::BadInput, "An item's name and its folder are not empty and at most 200 bytes long.");
    if (!facts.kind.empty() && draft.session().library().kindNamed(facts.kind) == nullptr)
        return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", facts.kind));
    model::setValue(*entry, "label", {facts.label});
    model::setValue(*entry, "category", {facts.folder});
    // What is usual is left out.
    auto put = [&](const char* key, bool usual, model::Value value) {
        if (usual)
            model::eraseValue(*entry, key);
        else
            model::setValue(*entry, key, std::move(value));
    };
    put("kind", facts.kind.empty(), {facts.kind});
    const model::Value shape = *itemFields().find("collision")->get(&facts);
    put("collision", facts.collision == model::CollisionShape::Mesh, shape);
    put("offered", facts.offered, {false});
    return setEntry(draft, item, std::move(*entry));
}

Status renameItem(edit::Draft& draft, Name item, std::string label, std::string category) {
    const model::Item* known = draft.session().library().item(item);
    ItemFacts facts = known != nullptr ? factsOf(*known) : ItemFacts{};
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
