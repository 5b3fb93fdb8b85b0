#pragma once
// An open edit. Verbs write through it, so that everyone sees the scene change at once; commit() makes it one
// history step; leaving scope without it restores every byte. One is open at a time: a second one refuses.
#include <span>
#include <string>
#include <vector>

#include "edit/session.h"

namespace edit {

class Draft {
  public:
    /// `name` is what the history shows: "Move 3 objects".
    Draft(Session& session, const std::string& scene, std::string name);
    ~Draft();
    Draft(const Draft&) = delete;
    Draft& operator=(const Draft&) = delete;

    /// Why nothing can be written through it; empty when all is well.
    const base::Status& state() const { return state_; }
    Session& session() { return session_; }
    const model::Scene& scene() const { return open_->scene; }
    void rename(std::string name) { name_ = std::move(name); }

    // Each verb changes the scene at once, or refuses and leaves it as it was. Ids must exist.
    base::Status create(std::span<const model::ObjectRecord> objects);
    /// With all below them.
    base::Status remove(std::span<const base::ObjectId> ids);
    base::Status setTransforms(std::span<const base::ObjectId> ids, std::span<const base::Transform> values);
    base::Status setLabels(model::LabelField field, std::span<const base::ObjectId> ids,
                           std::span<const base::Name> values);
    base::Status setFlags(std::span<const base::ObjectId> ids, std::span<const std::uint8_t> values);
    base::Status setDetails(std::span<const base::ObjectId> ids, std::span<const model::DetailPtr> values);
    /// One after the other; local transforms stay.
    base::Status moveInTree(std::span<const base::ObjectId> ids, std::span<const model::TreePlace> places);
    base::Status setSettings(const model::SceneSettings& settings);

    /// Makes what was written one step, on disk when this returns (bulk: see Ledger). Nothing written, or all of it
    /// taken back by hand: no step, and the present one is returned. Errors: of the ledger; the scene is then restored.
    base::Result<StepId> commit();
    void rollback();

  private:
    base::Status write(model::Change change);
    void dropWhatChangedNothing();

    Session& session_;
    Session::Open* open_ = nullptr;
    std::string name_;
    base::Status state_;
    bool active_ = false;
    std::vector<model::Change> changes_;
    std::vector<base::ObjectId> selectionBefore_;
};

}  // namespace edit
