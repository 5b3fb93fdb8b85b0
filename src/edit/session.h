#pragma once
// An open project: its scenes, its history and its ledger. The only way to change a scene is a Draft on it.
// Threads: one; snapshots (copies of Scene) may go to others.
#include <functional>
#include <map>
#include <memory>
#include <set>

#include "base/id.h"
#include "edit/delta.h"
#include "edit/history.h"
#include "edit/ledger.h"
#include "edit/scene_writer.h"
#include "edit/signal.h"
#include "model/facets/solid.h"
#include "model/project.h"

namespace edit {

class Draft;

/// A document as its file holds it, with the file's fingerprint and its text.
struct LoadedScene {
    model::Scene scene;
    std::uint64_t hash = 0;
    std::uint64_t size = 0;
    std::string text;
};

/// What a session is given from outside: it asks for neither time, nor chance, nor files by itself.
struct Surroundings {
    std::function<base::Result<LoadedScene>(const model::Project&, const std::string& scene)> loadScene;
    /// The same from a text that its file once held. Null: that is not asked for.
    std::function<base::Result<model::Scene>(const model::Project&, const std::string& scene, const std::string& text)>
        readScene;
    /// What a solid shows, as an item under this name; null: nothing.
    std::function<model::Item(const model::Solid&, base::Name key)> makeSolid;
    /// Brings what the project's library says in line with the entries of a document of project data; null: does
    /// nothing.
    std::function<void(model::Project&, const std::string& document, const model::DataEntries&)> takeData;
    std::function<std::int64_t()> nowMs;
    std::string readOnlyReason;  ///< why nothing may be changed from the start; empty: it may
    std::uint64_t seed = 1;
};

class Session {
  public:
    /// Errors: those of the ledger's history.
    static base::Result<std::unique_ptr<Session>> open(model::Project project, std::unique_ptr<Ledger> ledger,
                                                       Surroundings surroundings);
    ~Session();

    const model::Project& project() const { return project_; }
    const model::Library& library() const { return project_.library; }
    const History& history() const { return history_; }
    const base::NameTable& names() const { return *project_.names; }
    base::Name intern(std::string_view text) { return project_.names->intern(text); }
    base::Random& random() { return random_; }

    /// The scene at the present step, loaded if it was not. A file that others have set back to an older save, or
    /// changed, counts as it is: that makes a step. Errors: those of reading it.
    base::Result<const model::Scene*> scene(const std::string& name);
    bool isLoaded(const std::string& name) const { return scenes_.contains(name); }

    /// The prefabs that exist. Their scenes are scene(model::definitionKey(id)).
    const model::Definitions& definitions() const { return definitions_; }
    /// What people call it; "a missing prefab" if it is none.
    std::string prefabName(base::ObjectId prefab) const;
    /// The prefab of that name; zero: none.
    base::ObjectId prefabNamed(std::string_view name) const;
    /// What a document of project data holds; empty: there is none.
    const model::DataEntries& entries(const std::string& document) const;
    /// Those that have a file, or had one in the history, with something in them.
    std::vector<std::string> dataDocuments() const;
    /// A new, empty definition. It exists once a draft gives its settings a head.
    base::ObjectId newDefinition();
    /// While set, what is written to objects inside this instance goes to its definition. Zero: to the instance.
    void editDefinitionOf(base::ObjectId instance) { definitionEditedAt_ = instance; }
    base::ObjectId definitionEditedAt() const { return definitionEditedAt_; }
    /// Those of a prefab that a loaded scene itself holds, also when a difference added them further in.
    std::vector<base::ObjectId> instancesOf(base::ObjectId prefab, const std::string& scene) const;

    /// Why nothing may be changed; empty when it may.
    const std::string& readOnlyReason() const { return readOnlyReason_; }
    void makeReadOnly(std::string reason) { readOnlyReason_ = std::move(reason); }
    void makeWritable() { readOnlyReason_.clear(); }
    /// What was noticed on opening that a designer should know (a scene changed outside, steps that were brought back).
    const std::vector<std::string>& remarks() const { return remarks_; }

    const std::vector<base::ObjectId>& selection() const { return selection_; }
    /// Not a history step; kept with the next one.
    void select(std::vector<base::ObjectId> ids);

    /// Errors: Refused when there is nothing to undo; NotFound or BadInput when the ledger's record does not fit.
    base::Status undo();
    base::Status redo();
    base::Status jumpTo(StepId step);

    /// Has the scene changed since the file that holds it?
    bool isUnsaved(const std::string& scene) const;
    std::vector<std::string> unsavedScenes() const;
    /// Notes in the ledger that a file with this fingerprint will hold the scene at `step`. Called before the
    /// file is put in place, so that a crash between the two is harmless.
    base::Status noteSave(const std::string& scene, std::uint64_t hash, std::uint64_t size, StepId step);
    /// Called once the file is in place; `packed` is what it holds, by packText.
    base::Status markSaved(const std::string& scene, StepId step, std::string_view packed);
    /// What the document's file was when it was last read or written here; null: there was none.
    const SaveMark* lastSave(const std::string& document) const;
    /// Open documents become what others have written into their files: one step for all, which can be undone. Errors:
    /// those of a draft.
    struct Theirs {
        std::string document;
        LoadedScene file;
    };
    base::Status takeFiles(const std::vector<Theirs>& files, const std::string& stepName);
    /// A file that was not there before. Errors: those of reading it.
    base::Status takeNewDocument(const std::string& document);
    /// Which scenes have a file now.
    void takeSceneFiles(std::vector<std::string> names);
    /// The file is not what the document is, whatever was saved last.
    void markUnsaved(const std::string& document);
    /// Those that are open.
    std::vector<std::string> openDocuments() const;
    StepId savedStep(const std::string& scene) const;
    /// Steps that a file on disk holds, for the history strip.
    const std::vector<SaveMark>& saves() const { return saves_; }

    /// Adds or replaces an item and brings bounds up to date.
    void putItem(model::Item item);
    /// What a step changed, with before and after. Errors: those of reading the ledger.
    base::Result<std::shared_ptr<const StepData>> contents(StepId step) { return data(step); }
    base::Status flush() { return ledger_->flush(); }
    /// What has a say in every step: called with the open draft before it becomes one, and may write through it. An
    /// error refuses the step. Null: nobody.
    void setBeforeCommit(std::function<base::Status(Draft&)> say) { beforeCommit_ = std::move(say); }

    Signal<const SceneDelta&> sceneChanged;
    Signal<> libraryChanged;
    /// One went through the history, and came by a step of this scene last.
    Signal<const std::string&> travelled;
    Signal<> historyChanged;
    Signal<> selectionChanged;

  private:
    friend class Draft;
    struct Open {
        explicit Open(model::Scene s, const Sources& sources) : scene(std::move(s)), writer(scene, sources) {}
        model::Scene scene;
        SceneWriter writer;
        StepId saved = kRoot;
    };

    Session(model::Project project, std::unique_ptr<Ledger> ledger, Surroundings surroundings);
    base::Result<Open*> openScene(const std::string& name);
    base::Status openData();
    base::Status openDefinitions();
    void takeData(const std::string& document);
    void listScenes();
    bool isMadeElsewhere(const std::string& scene);
    bool isUnsavedUnread(const std::string& scene) const;
    base::Result<LoadedScene> load(const std::string& document);
    /// Boxes of its objects follow what it is now.
    void refreshItem(base::Name item);
    void syncDefinition(const std::string& key);
    struct Levels {
        std::map<base::ObjectId, int> known;
        std::set<base::ObjectId> onTheWay, circles;
    };
    /// How deep prefabs nest below this one. A circle, which only a damaged project has, is cut where it closes.
    int level(base::ObjectId prefab, Levels& levels) const;
    /// Brings the instances of changed definitions in line, and tells everyone.
    void tell(std::map<std::string, SceneDelta> deltas);
    void tell(SceneDelta delta);
    void spread(std::map<std::string, SceneDelta>& deltas);
    void refreshPrefabItems(const std::vector<std::string>& documents);
    base::Name solidItem(const model::Solid& solid);
    base::Status bringToPresent(Open& open, StepId held);
    /// Which step a file holds.
    struct Held {
        StepId step = kRoot;
        std::string otherwise;  ///< the file holds something else than the present; why: the name of that step
    };
    base::Result<Held> heldStep(const std::string& scene, LoadedScene& loaded);
    base::Result<Held> startAnew(const std::string& scene, const LoadedScene& loaded, const std::string& remark);
    base::Result<Held> changedOutside(const std::string& scene, LoadedScene& loaded);
    base::Status note(SaveMark mark, const std::string& text);
    base::Status takeOtherwise();
    void sayUnfilled(const std::string& name);
    base::Status loadFor(const History::Path& path);
    void takeDefinition(const std::string& key);
    base::Result<std::shared_ptr<const StepData>> data(StepId id);
    void keep(StepId id, std::shared_ptr<const StepData> data);
    base::Status applyStep(StepId id, Direction direction, std::map<std::string, SceneDelta>& deltas);
    base::Status travel(const History::Path& path, std::map<std::string, SceneDelta>& deltas);
    base::Result<StepId> commit(StepInfo info, std::shared_ptr<const StepData> data);
    std::vector<base::ObjectId> existing(const std::vector<base::ObjectId>& ids) const;

    model::Project project_;
    std::unique_ptr<Ledger> ledger_;
    Surroundings around_;
    History history_;
    base::Random random_;
    std::string readOnlyReason_;
    model::Definitions definitions_;
    Sources sources_;
    std::map<std::string, std::unique_ptr<Open>> scenes_;
    base::ObjectId definitionEditedAt_;
    std::vector<SaveMark> saves_;
    std::vector<base::ObjectId> selection_;
    std::vector<std::string> remarks_;
    struct Otherwise {
        LoadedScene file;
        std::string why;
    };
    std::map<std::string, Otherwise> otherwise_;  // what files hold that others have changed, until that is a step
    bool draftOpen_ = false;
    std::function<base::Status(Draft&)> beforeCommit_;
    std::map<StepId, std::shared_ptr<const StepData>> recent_;  // shared with the ledger's worker
    std::size_t recentRows_ = 0;
};

}  // namespace edit
