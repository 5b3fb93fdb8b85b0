#include "io/copy_text.h"

#include "io/damage.h"
#include "io/scene_file.h"

namespace io {

std::string copyText(const model::Scene& scene, std::span<const base::ObjectId> ids) {
    std::string text = "{\"format\":\"mellow-scene\",\"version\":1}\n";
    for (base::ObjectId id : ids) {
        const model::Slot top = scene.find(id);
        if (top == model::kNoSlot) continue;
        for (model::Slot s : scene.ownSubtree(top)) {
            model::ObjectRecord record = scene.record(s);
            record.before = {};
            if (s == top) {
                record.parent = {};
                record.local = base::toTransform(scene.world(s));
            }
            appendObjectLine(text, record, scene.names());
            text += '\n';
        }
    }
    return text;
}

base::Result<std::vector<model::ObjectRecord>> parseCopyText(std::string_view text,
                                                             std::shared_ptr<base::NameTable> names) {
    const model::Library none;
    auto parsed = parseScene("clipboard", text, "The clipboard", std::move(names), none);
    if (!parsed) return base::fail(base::ErrorCode::BadInput, "The clipboard holds no objects.");
    if (!parsed->damage.empty()) return base::fail(base::ErrorCode::BadInput, toText(parsed->damage.front()));
    std::vector<model::ObjectRecord> objects;
    for (model::Slot s : parsed->scene.subtree(model::kNoSlot)) objects.push_back(parsed->scene.record(s));
    return objects;
}

}  // namespace io
