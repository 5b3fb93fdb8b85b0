#pragma once
// A scene as it is while it is played: a copy in which things are elsewhere. It is nobody's document, and nothing of it
// is ever kept; who looks follows it by deltas, as with a scene that is edited.
#include "edit/delta.h"
#include "model/library.h"

namespace edit {

class LiveCopy {
  public:
    /// The library must be there as long as this.
    LiveCopy(const model::Scene& of, const model::Library& library);
    const model::Scene& scene() const { return scene_; }
    /// Puts one object there, in the world; what lies below it stays unless it is put, too.
    void put(model::Slot slot, const base::Affine& world);
    /// Gives one object another value; what it looks like may follow from that.
    void setProperty(model::Slot slot, const std::string& name, const model::Value& value);
    /// Gives one object other facets and properties, and another item.
    void dress(model::Slot slot, model::DetailPtr detail, base::Name item);
    void setGuise(const std::string& guise);
    /// What objects have and look like is as in `of` again; where they are stays.
    void undress(const model::Scene& of);
    /// What was put since it was last asked.
    SceneDelta take();
    /// All that was ever put: where to look again when the copy is gone.
    SceneDelta all() const;

  private:
    static void note(model::Slot slot, std::vector<model::Slot>& now, std::vector<model::Slot>& ever,
                     std::vector<bool>& known);

    model::Scene scene_;
    const model::Library& library_;
    std::vector<model::Slot> moved_, ever_, detailed_, everDetailed_;  // detailed: item too
    std::vector<bool> known_, knownDetail_;                            // by slot: is in those that ever were
};

}  // namespace edit
