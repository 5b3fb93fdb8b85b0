#pragma once
// What a script can call, as plain functions over values: no Lua in here, so that an error may unwind.
#include <functional>
#include <set>

#include "ops/live_index.h"
#include "script/engine.h"

namespace script {

/// What ends a call: shown to the script as its error.
struct Trouble {
    std::string message;
    bool refused = false;  ///< a verb refused
};
[[noreturn]] inline void trouble(std::string message) {
    throw Trouble{std::move(message), false};
}
inline void check(const base::Status& status) {
    if (!status) throw Trouble{status.error().message, true};
}
template <class T>
T taken(base::Result<T> result) {
    if (!result) throw Trouble{result.error().message, true};
    return std::move(*result);
}

/// What a program knows while it runs. Functions throw Trouble for what cannot be.
class Context {
  public:
    Context(const Settings& with, const Place* place) : settings(with), random(with.seed), place_(place) {}
    ~Context() = default;
    Context(const Context&) = delete;
    Context& operator=(const Context&) = delete;

    /// Closed: it can only declare things. UnlessDeclared: the scene opens when it is first asked for, if nothing was
    /// declared by then.
    enum class Access { Closed, UnlessDeclared, Open };
    void setAccess(Access access) { access_ = access; }
    bool acts() const { return access_ == Access::Open; }
    bool asked() const { return asked_; }  ///< something of the scene was wanted while it was not open
    const model::Scene& scene();
    /// What can be asked wherever a script runs.
    const model::Library& library();
    const model::ProjectFacts& project();
    std::string prefabName(base::ObjectId prefab);  ///< empty: there is none
    base::ObjectId prefabNamed(const std::string& name);
    /// Checks have none: they look at what was, on another thread.
    edit::Session& session();
    /// To write to these objects.
    edit::Draft& change(std::span<const base::ObjectId> ids);
    /// To make or remove objects, or write elsewhere.
    edit::Draft& create();
    const query::SceneIndex& index();

    /// Poses are written together, as late as possible: before anything else is asked.
    void pose(model::Slot slot, const base::Transform& local);
    const base::Transform& local(model::Slot slot);
    void flush();
    bool isPending(model::Slot slot) const { return slot < waitingAt_.size() && waitingAt_[slot] != 0; }
    /// Is it, or what it lies in, still to be moved?
    bool isPendingInTree(model::Slot slot);

    const Settings& settings;
    std::vector<Said> said;
    base::Random random;
    base::ObjectId atHand;  ///< the last object a function was given
    int line = 0;           ///< that is running, of the script's own file
    bool method = false;    ///< what is called is one of an object's
    double share = 0;       ///< how far it says it has come
    std::string doing;
    std::vector<Mark> marks;
    std::vector<FileOut> files;
    std::size_t handles = 0;
    Look look;
    std::vector<Found> found;              ///< marks drawn afterwards belong to the last one
    std::vector<base::ObjectId> lookedAt;  ///< objects that were asked for something
    bool notesLooks = false;
    std::set<std::string> argumentsAsked;
    std::size_t saidBytes = 0;
    int rehearsals = 0;  ///< that were asked for
    Declared declared;
    std::vector<model::Property>* form = nullptr;  ///< of what was declared last

    void noteLook(base::ObjectId id) {
        if (notesLooks && (lookedAt.empty() || lookedAt.back() != id)) lookedAt.push_back(id);
    }

  private:
    edit::Draft& writing();
    const Place* place_;  // null: there is no scene at all
    Access access_ = Access::Closed;
    bool asked_ = false;
    const model::Scene* scene_ = nullptr;
    std::unique_ptr<ops::LiveIndex> index_;
    Objects waiting_;
    std::vector<base::Transform> waitingPoses_;
    std::vector<model::Slot> waitingSlots_;
    std::vector<std::uint32_t> waitingAt_;  // by slot: its place among them, counted from 1; 0: it does not wait
};

/// A function as scripts see it.
struct Binding {
    Function about;
    enum class Needs { Nothing, Scene, Poses } needs = Needs::Scene;  ///< poses: those that wait may wait on
    bool onObject = false;                                            ///< a method: the first argument is an object
    Data (*call)(Context&, const Data&) = nullptr;
};
using Bindings = std::vector<Binding>;
// In the order of the manual. Those of objects are called object:name(...).
Bindings sceneBindings();
Bindings verbBindings();
Bindings poseBindings();
Bindings valueBindings();
Bindings setupBindings();
Bindings queryBindings();
Bindings layingBindings();
Bindings routeBindings();
Bindings handBindings();
/// What readTable() in the prelude calls.
Binding tablePrimitive();
Bindings solidBindings();
Bindings rehearseBindings();
Bindings runBindings();
Bindings markBindings();
/// All of them.
const Bindings& bindings();
/// What only the prelude calls.
const Bindings& primitives();
/// What the prelude adds, for the manual.
const std::vector<Function>& preludeFunctions();

/// A property's value as scripts see it.
Datum datumOf(const model::Property& property, const model::Value& value);
/// What a script gave for a property; nil: its default. Trouble: it does not fit.
model::Value valueOf(Context& c, const model::Property& property, const Datum& d);

}  // namespace script
