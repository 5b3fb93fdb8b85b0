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

void LiveCopy::setProperty(model::Slot slot, const std::string& name, const model::Value& value) {
    model::Detail detail = scene_.detail(slot) ? *scene_.detail(slot) : model::Detail{};
    model::setValue(detail.properties, name, value);
    SceneWriter::putDetail(scene_, slot, std::make_shared<const model::Detail>(std::move(detail)));
    detailed_.push_back(slot);
    everDetailed_.push_back(slot);
}

void LiveCopy::dress(model::Slot slot, model::DetailPtr detail, base::Name item) {
    SceneWriter::putDetail(scene_, slot, std::move(detail));
    if (item != scene_.item(slot)) {
        SceneWriter::putItem(scene_, library_, slot, item);
        moved_.push_back(slot);
        if (!known_[slot]) ever_.push_back(slot);
        known_[slot] = true;
    }
    detailed_.push_back(slot);
    everDetailed_.push_back(slot);
}

void LiveCopy::setGuise(const std::string& guise) {
    SceneWriter::putGuise(scene_, guise);
}

void LiveCopy::undress(const model::Scene& of) {
    for (const model::Slot slot : std::exchange(everDetailed_, {})) dress(slot, of.detail(slot), of.item(slot));
    setGuise(of.settings().guise);
}

SceneDelta LiveCopy::take() {
    SceneDelta delta;
    delta.scene = scene_.name();
    delta.moved = std::exchange(moved_, {});
    delta.detailed = std::exchange(detailed_, {});
    return delta;
}

SceneDelta LiveCopy::all() const {
    SceneDelta delta;
    delta.scene = scene_.name();
    delta.moved = ever_;
    delta.detailed = everDetailed_;
    return delta;
}

}  // namespace edit
