#include "edit/live_copy.h"

#include "edit/scene_writer.h"

namespace edit {

LiveCopy::LiveCopy(const model::Scene& of, const model::Library& library)
    : scene_(of), library_(library), known_(of.slotEnd(), false) {}

void LiveCopy::put(model::Slot slot, const base::Affine& world) {
    SceneWriter::putInWorld(scene_, library_, slot, world);
    moved_.push_back(slot);
    if (known_[slot]) return;
    known_[slot] = true;
    ever_.push_back(slot);
}

SceneDelta LiveCopy::take() {
    SceneDelta delta;
    delta.scene = scene_.name();
    delta.moved = std::exchange(moved_, {});
    return delta;
}

SceneDelta LiveCopy::all() const {
    SceneDelta delta;
    delta.scene = scene_.name();
    delta.moved = ever_;
    return delta;
}

}  // namespace edit
