#pragma once
// An open edit. Verbs write through it, so that everyone sees the scene change at once; commit() makes it one
// history step; leaving scope without it restores every byte. One is open at a time: a second one refuses.
// What lies inside an instance is written like anything else: it becomes a difference of the instance, or, while
// its definition is edited in place (Session::editDefinitionOf), a change of the definition.
#include <functional>
#include <span>
#include <string>
#include <vector>

#include "edit/session.h"
#include "model/free_names.h"

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
    /// Is it held by the document that a change of it would be written to, and not something inside an instance there?
    bool isOwn(base::ObjectId id) const;
    /// What it writes is meant as it is: nobody else has a say in the step.
    void keepAsWritten() { asWritten_ = true; }
    void rename(std::string name) { name_ = std::move(name); }
    const std::string& name() const { return name_; }
    /// The document it was opened on; scene() is the one turned to.
    const std::string& document() const { return main_; }
    /// scene() as it was before this draft. Errors: of taking the changes back.
    base::Result<model::Scene> before() const;
    /// What was written until now, in order.
    const std::vector<model::ChangeSet>& changes() const { return sets_; }
    /// A moment to go back to, without giving up what was written before it.
    struct Mark {
        std::size_t sets = 0, changes = 0;  ///< of the last set
    };
    Mark mark();
    void rollbackTo(const Mark& mark);
    /// Asked before so many rows are written, so many of them new objects; an error refuses that. Gives the one before.
    using Meter = std::function<base::Status(std::size_t rows, std::size_t objects)>;
    Meter setMeter(Meter meter) { return std::exchange(meter_, std::move(meter)); }
    /// For verbs that work long before they write: may it go on? Errors: the run is over.
    base::Status goOn(std::size_t rows = 0, std::size_t objects = 0) {
        return meter_ ? meter_(rows, objects) : base::Status{};
    }
    /// What is written from now on goes to another scene or definition, within the same step. Errors: of reading it.
    base::Status turnTo(const std::string& document);
    /// Names nobody has in the scene written to; what the draft names is kept in mind, so that many cost as little each
    /// as one.
    model::FreeNames& freeNames();

    static base::Status noObject(base::ObjectId id);  ///< NotFound: there is no such object

    // Each verb changes the scene at once, or refuses and leaves it as it was. Ids must exist.
    base::Status create(std::span<const model::ObjectRecord> objects);
    /// With all below them.
    base::Status remove(std::span<const base::ObjectId> ids);
    base::Status setTransforms(std::span<const base::ObjectId> ids, std::span<const base::Transform> values);
    base::Status setLabels(model::LabelField field, std::span<const base::ObjectId> ids,
                           std::span<const base::Name> values);
    base::Status setFlags(std::span<const base::ObjectId> ids, std::span<const std::uint8_t> values);
    base::Status setDetails(std::span<const base::ObjectId> ids, std::span<const model::DetailPtr> values);
    /// One after the other; local transforms stay. What a definition holds cannot leave its instance.
    base::Status moveInTree(std::span<const base::ObjectId> ids, std::span<const model::TreePlace> places);
    base::Status setSettings(const model::SceneSettings& settings);
    /// Entries of a document of project data, within the same step; nothing: the entry goes. Errors: of reading it.
    base::Status setEntries(const std::string& document, std::span<const std::string> keys,
                            std::span<const std::optional<model::ValueMap>> values);

    /// Makes what was written one step, on disk when this returns (bulk: see Ledger). Nothing written, or all of it
    /// taken back by hand: no step, and the present one is returned. Errors: of the ledger; the scene is then restored.
    base::Result<StepId> commit();
    void rollback();

  private:
    /// Where what is written to an object goes.
    struct Route {
        enum class To { Own, Inside, Definition } to = To::Own;
        base::ObjectId instance;  ///< inside which, or whose definition is edited
        friend bool operator==(const Route&, const Route&) = default;
    };
    Route routeOf(model::Slot slot) const;
    Route routeBelow(model::Slot parent) const;

    template <class Value, class Own, class Again, class Modify>
    base::Status routed(std::span<const base::ObjectId> ids, std::span<const Value> values, const model::PartSet& parts,
                        const Own& own, const Again& again, const Modify& modify);
    base::Status inDefinition(base::ObjectId instance, const std::function<base::Status()>& write);

    /// Writes that are one verb, to one document or several: the first that fails takes back those before it.
    base::Status together(const std::vector<std::function<base::Status()>>& writes);
    base::Status write(model::Change change);
    base::Status writeTransforms(std::span<const base::ObjectId> ids, std::span<const base::Transform> values);
    base::Status writeDetails(std::span<const base::ObjectId> ids, std::span<const model::DetailPtr> values);
    base::Status writeRemoval(const std::vector<base::ObjectId>& tops);
    base::Status writeMoves(std::span<const base::ObjectId> ids, std::span<const model::TreePlace> places);
    base::Status moveOne(base::ObjectId id, const model::TreePlace& place);
    base::Status refuseCircle(const model::DetailPtr& detail) const;
    /// Writes a change; of the same rows as the one before, it replaces what that came to: a drag writes the same
    /// objects many times, and the first before and the last after are kept.
    template <class T>
    base::Status writeOver(T change);
    /// Keeps a change that was applied, and tells of it.
    void note(model::Change change, SceneDelta delta);
    void noteName(base::Name name);
    base::Status hearOthers();
    void dropWhatChangedNothing();
    void takeBack(const Mark& mark);

    Session& session_;
    Session::Open* open_ = nullptr;
    std::string main_, name_;
    base::Status state_;
    bool active_ = false;
    bool sealed_ = false;  // the last change is before a mark
    bool asWritten_ = false;
    bool heardAll_ = false;  // those who have a say in the step are having it
    std::vector<model::ChangeSet> sets_;
    std::vector<base::ObjectId> selectionBefore_;
    Meter meter_;
    std::map<std::string, model::FreeNames> freeNames_;  // by document
};

}  // namespace edit
