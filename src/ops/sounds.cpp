#include "ops/sounds.h"

#include <filesystem>

#include "ops/names.h"

namespace ops {

Result<ObjectId> addSound(edit::Draft& draft, const std::string& file, const Vec3& at, ObjectId parent) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (file.empty()) return fail(ErrorCode::BadInput, "A sound needs a file.");
    if (!base::isFinite(at)) return fail(ErrorCode::BadInput, "A place is three numbers.");
    std::string name = std::filesystem::path(file).stem().string();
    for (char& c : name)
        if (c == '-' || c == '_') c = ' ';
    if (!name.empty()) name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(name[0])));
    auto usable = usableName(name);
    model::ObjectRecord made;
    made.id = draft.session().random().nextId();
    made.parent = parent;
    made.name = draft.session().intern(draft.freeNames().next(usable ? *usable : "Sound"));
    made.local.position = at;
    if (parent) {
        const Slot slot = draft.scene().find(parent);
        if (slot == kNoSlot) return fail(ErrorCode::NotFound, "The group to place into is gone.");
        const auto back = base::inverse(draft.scene().world(slot));
        if (back) made.local = base::toTransform(*back * base::toAffine(made.local));
    }
    model::Detail detail;
    model::Sound sound;
    sound.file = file;
    detail.put(sound);
    made.detail = std::make_shared<const model::Detail>(std::move(detail));
    const ObjectId id = made.id;
    if (Status created = draft.create({&made, 1}); !created) return tl::unexpected(created.error());
    return id;
}

}  // namespace ops
