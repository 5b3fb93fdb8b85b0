#include "support/naive_prefabs.h"

#include <algorithm>
#include <set>

#include "io/scene_file.h"

namespace test {

using base::ObjectId;
using model::ObjectRecord;

namespace {

std::vector<NaiveRow> inside(edit::Session& session, const model::PrefabLink& link);

/// Adds an object, and what lies inside it if it is an instance.
void addWithInside(edit::Session& session, const ObjectRecord& r, std::vector<NaiveRow>& rows) {
    rows.push_back({r.id, r.parent, r});
    if (!r.detail || !r.detail->prefab) return;
    for (NaiveRow row : inside(session, *r.detail->prefab)) {
        row.parent = row.parent ? base::joined(r.id, row.parent) : r.id;
        row.id = base::joined(r.id, row.id);
        rows.push_back(row);
    }
}

std::vector<NaiveRow> inside(edit::Session& session, const model::PrefabLink& link) {
    std::vector<NaiveRow> rows;
    if (session.definitions().contains(link.of)) rows = naiveRows(session, model::definitionKey(link.of));
    // What was added here and is in the definition by now, given to it from another instance, is there once.
    std::set<ObjectId> there, added;
    for (const NaiveRow& row : rows) there.insert(row.id);
    for (const ObjectRecord& r : link.added)
        if (there.insert(r.id).second) {
            rows.push_back({r.id, r.parent, r});
            added.insert(r.id);
        }
    for (const model::Difference& d : link.changed)
        for (NaiveRow& row : rows) {
            if (row.id != d.value.id) continue;
            model::apply(d, row.record);
            if (d.parts.has(model::part::kPlace)) row.parent = d.value.parent;
        }
    // What was removed goes with all below it, and so does what hangs below nothing.
    for (bool more = true; more;) {
        const std::size_t before = rows.size();
        std::erase_if(rows, [&](const NaiveRow& row) {
            const bool removed = std::find(link.removed.begin(), link.removed.end(), row.id) != link.removed.end();
            const bool hangs = row.parent && std::none_of(rows.begin(), rows.end(), [&](const NaiveRow& other) {
                                   return other.id == row.parent;
                               });
            return removed || hangs;
        });
        more = rows.size() != before;
    }
    std::vector<NaiveRow> all;
    for (const NaiveRow& row : rows) {
        if (!added.contains(row.id) || !row.record.detail || !row.record.detail->prefab) {
            all.push_back(row);
            continue;
        }
        ObjectRecord r = row.record;
        r.parent = row.parent;
        std::vector<NaiveRow> whole;
        addWithInside(session, r, whole);
        for (const NaiveRow& one : whole)
            if (one.id == r.id || there.insert(one.id).second) all.push_back(one);
    }
    return all;
}

std::string lineOf(const model::Scene& scene, ObjectRecord r, ObjectId id, ObjectId parent) {
    r.id = id;
    r.parent = parent;
    r.before = {};
    std::string line;
    io::appendObjectLine(line, r, scene.names());
    return line;
}

}  // namespace

std::vector<NaiveRow> naiveRows(edit::Session& session, const std::string& document) {
    const model::Scene& scene = **session.scene(document);
    std::vector<NaiveRow> rows;
    for (model::Slot s : scene.ownSubtree(model::kNoSlot)) addWithInside(session, scene.record(s), rows);
    return rows;
}

std::string differsFromNaive(edit::Session& session, const std::string& document) {
    const model::Scene& scene = **session.scene(document);
    const auto rows = naiveRows(session, document);
    std::set<ObjectId> seen;
    for (const NaiveRow& row : rows)
        if (!seen.insert(row.id).second) return document + ": twice " + lineOf(scene, row.record, row.id, row.parent);
    for (const NaiveRow& row : rows) {
        const model::Slot s = scene.find(row.id);
        if (s == model::kNoSlot) return document + ": misses " + lineOf(scene, row.record, row.id, row.parent);
        const ObjectRecord is = scene.record(s);
        const std::string wanted = lineOf(scene, row.record, row.id, row.parent);
        const std::string found = lineOf(scene, is, is.id, is.parent);
        if (wanted != found) return document + ":\n" + found + "\ninstead of\n" + wanted;
        const model::Slot parent = scene.parent(s);
        const base::Affine own = base::toAffine(scene.local(s));
        const base::Affine world = parent == model::kNoSlot ? own : scene.world(parent) * own;
        if (!(world.linear == scene.world(s).linear && world.translation == scene.world(s).translation))
            return document + ": " + found + " is not where its pose puts it";
    }
    if (rows.size() != scene.objectCount())
        return document + ": " + std::to_string(scene.objectCount()) + " objects instead of " +
               std::to_string(rows.size());
    return {};
}

std::map<std::string, std::string> documentBytes(edit::Session& session) {
    std::map<std::string, std::string> all;
    for (const std::string& name : session.project().sceneNames) all[name] = io::formatScene(**session.scene(name));
    for (const auto& [id, scene] : session.definitions())
        all[scene->name()] = scene->settings().prefab->name + "\n" + io::formatScene(*scene);
    return all;
}

std::string rowsText(edit::Session& session, const std::string& document) {
    const model::Scene& scene = **session.scene(document);
    std::string text;
    for (model::Slot s : scene.subtree(model::kNoSlot)) {
        const ObjectRecord r = scene.record(s);
        text += lineOf(scene, r, r.id, r.parent) + "\n";
    }
    return text;
}

}  // namespace test
