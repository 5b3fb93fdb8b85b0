#include "edit/live_copy.h"

#include "edit/scene_writer.h"

namespace edit {

LiveCopy::LiveCopy(const model::Scene& of, const model::Library& library)
    : scene_(of), library_(library), known_(of.slotEnd(), false), knownDetail_(of.slotEnd(), false) {}

void LiveCopy::note(model::Slot slot, std::vector<model::Slot>& now, std::vector<model::Slot>& ever,
                    std::vector<bool>& known) {
    now.push_back(slot);
    if (known[slot]) return;
    known[slot] = true;
    ever.push_back(slot);
}

void LiveCopy::put(model::Slot slot, const base::Affine& world) {
    SceneWriter::putInWorld(scene_, library_, slot, world);
    note(slot, moved_, ever_, known_);
}

void LiveCopy::setProperty(model::Slot slot, const std::string& name, const model::Value& value) {
    model::Detail detail = scene_.detail(slot) ? *scene_.detail(slot) : model::Detail{};
    model::setValue(detail.properties, name, value);
    SceneWriter::putDetail(scene_, slot, std::make_shared<const model::Detail>(std::move(detail)));
    note(slot, detailed_, everDetailed_, knownDetail_);
}

void LiveCopy::dress(model::Slot slot, model::DetailPtr detail, base::Name item) {
    SceneWriter::putDetail(scene_, slot, std::move(detail));
    if (item != scene_.item(slot)) {
        SceneWriter::putItem(scene_, library_, slot, item);
        note(slot, moved_, ever_, known_);
    }
    note(slot, detailed_, everDetailed_, knownDetail_);
}

void LiveCopy::setGuise(const std::string& guise) {
    SceneWriter::putGuise(scene_, guise);
}

void LiveCopy::undress(const model::Scene& of) {
    for (const model::Slot slot : everDetailed_) dress(slot, of.detail(slot), of.item(slot));
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
