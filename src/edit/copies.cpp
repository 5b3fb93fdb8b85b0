#include "edit/copies.h"

#include "edit/names.h"
#include "model/property.h"

namespace edit {

void appendCopy(Session& session, const model::Scene& scene, Slot top, ObjectId copy, model::FreeNames& names,
                std::vector<model::ObjectRecord>& objects, CopyOf& copyOf) {
    model::ObjectRecord r = model::ownRecord(scene, top, session.definitions());
    r.id = copy;
    r.name = session.intern(names.next(scene.nameText(top)));
    objects.push_back(std::move(r));
    appendCopiesBelow(session, scene, top, copy, objects, copyOf);
}

void appendCopiesBelow(Session& session, const model::Scene& scene, Slot top, ObjectId under,
                       std::vector<model::ObjectRecord>& objects, CopyOf& copyOf) {
    copyOf[scene.id(top)] = under;
    for (Slot s : scene.ownSubtree(top)) {
        if (s == top) continue;
        model::ObjectRecord r = model::ownRecord(scene, s, session.definitions());
        r.id = copyOf[r.id] = session.random().nextId();
        r.parent = copyOf[r.parent];
        r.before = {};
        objects.push_back(std::move(r));
    }
}

void linkCopies(const model::Scene& scene, const CopyOf& copyOf, std::span<model::ObjectRecord> copies) {
    auto follow = [&](ObjectId& to) {
        if (auto own = copyOf.find(to); own != copyOf.end()) return void(to = own->second);
        // Something inside an instance that was copied has its like inside the copy.
        const Slot s = scene.find(to), around = s == kNoSlot ? kNoSlot : scene.instanceAround(s);
        if (around == kNoSlot) return;
        if (auto whole = copyOf.find(scene.id(around)); whole != copyOf.end())
            to = base::joined(whole->second, base::innerOf(scene.id(around), to));
    };
    for (model::ObjectRecord& r : copies) {
        if (!r.detail || !model::hasObjectLink(*r.detail)) continue;
        model::Detail detail = *r.detail;
        if (model::eachObjectLink(detail, follow)) r.detail = std::make_shared<const model::Detail>(std::move(detail));
    }
}

}  // namespace edit
