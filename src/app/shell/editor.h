#pragma once
// The open project as the interface sees it: which scene is shown, what is selected, where things are, what the
// mouse would place. Widgets hold a reference to it and listen to its signals; it holds no widget.
#include <QObject>
#include <QString>
#include <functional>
#include <memory>
#include <unordered_set>

#include "app/look/theme.h"
#include "app/shell/asking.h"
#include "app/shell/preferences.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "app/view/piece.h"
#include "edit/draft.h"
#include "edit/held_delta.h"
#include "io/workspace.h"
#include "ops/objects.h"
#include "ops/properties.h"

namespace ops {
struct SeatOptions;
}

namespace app {

class Checks;
class Scripts;

class Editor : public QObject {
    Q_OBJECT
  public:
    explicit Editor(io::Chance chance);
    ~Editor() override;

    bool hasProject() const { return workspace_ != nullptr; }
    /// The scripts there are, and what they do.
    Scripts& scripts() const { return *scripts_; }
    Checks& checks() const { return *checks_; }
    bool isOpen() const { return workspace_ != nullptr && scene_ != nullptr; }
    io::Workspace& workspace() { return *workspace_; }
    edit::Session& session() { return *workspace_->session; }
    const model::Scene& scene() const { return *scene_; }
    const std::string& sceneName() const { return sceneName_; }
    /// The scene that was shown before a prefab was opened alone.
    const std::string& lastScene() const { return lastScene_; }
    /// What people call a scene, or a prefab's definition.
    QString documentName(const std::string& name) const;

    /// Opens a project and shows its first scene (or `scene`). The one open before stays when this fails or is
    /// called off.
    base::Status openProject(const std::filesystem::path& path, io::OpenMode mode, const std::string& scene = {});
    base::Status showScene(const std::string& name);
    void closeProject();
    /// Models were added to the project: what is placed of them can be seen and met from now on.
    void libraryGrown();
    bool isOpening() const { return opening_ != nullptr; }
    /// How far opening has come; shared with the worker. Null when nothing is being opened.
    const std::shared_ptr<base::Progress>& opening() const { return opening_; }

    const std::vector<base::ObjectId>& selection() const { return workspace_->session->selection(); }
    bool isSelected(model::Slot slot) const { return selected_.contains(slot); }
    void select(std::vector<base::ObjectId> ids) { session().select(std::move(ids)); }

    /// Runs a verb as one step; a refusal is shown as a message. True when it went well.
    bool run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb);
    /// Makes a draft a step; false when it could not be kept, which is shown.
    bool keep(edit::Draft& draft);
    /// Shows a failure where the designer looks.
    bool report(const base::Status& status);
    void say(const QString& text) { Q_EMIT message(text, false); }

    /// What a ray first meets; protected and ordinary things alike, hidden ones not.
    std::optional<query::SceneHit> surfaceUnder(const base::Ray& ray, bool pickableOnly) const;
    Sight& sight() { return sight_; }
    const Sight& sight() const { return sight_; }
    Asking& asking() { return asking_; }
    const Asking& asking() const { return asking_; }
    bool isHidden(model::Slot slot) const {
        return (hiddenCount_ > 0 && scene_->hiddenInTree(slot)) || (!alone_.empty() && !alone_.contains(slot));
    }
    /// May it be selected with the mouse: shown, not protected, and within what was entered?
    bool isPickable(model::Slot slot) const {
        return !isHidden(slot) && !(protectedCount_ > 0 && scene_->protectedInTree(slot)) && isWithinEntered(slot);
    }
    /// The group one works inside of; zero: the scene.
    base::ObjectId entered() const { return entered_; }
    /// How the last copy was pulled away from its original, in the world; for pulling another the same way.
    const std::optional<base::Affine>& lastPull() const { return lastPull_; }
    void setLastPull(const base::Affine& motion) { lastPull_ = motion; }
    /// Where it is shown that a verb takes long.
    void showWorkOver(QWidget* widget) { workOver_ = widget; }
    QWidget* workOver() const { return workOver_; }
    bool isWithinEntered(model::Slot slot) const;
    /// Is what is changed inside the entered instance changed in its definition, for all of them?
    bool editsDefinition() const { return isOpen() && bool(workspace_->session->definitionEditedAt()); }
    /// Is a click on what lies below it meant for this: a group made on purpose, or an instance?
    bool isWhole(model::Slot slot) const {
        return (scene_->flagsOf(slot) & model::flags::kWhole) != 0 || scene_->isInstance(slot);
    }
    /// The meshes of an item, base point at the origin: its own, or those of a prefab's objects.
    std::vector<Piece> piecesOf(const model::Item& item) const;
    /// Only what is below `group` can be picked from now on, and what is placed or pasted lands there; zero: all again.
    /// With `definition`, what is changed in there is changed in the definition of this instance.
    void enter(base::ObjectId group, bool definition = false);
    /// Out to the group around, or to the scene.
    void leave();
    /// What a click on `slot` takes: the outermost group around it, within what was entered, that is taken whole.
    model::Slot wholeOf(model::Slot slot) const;
    /// Shows nothing but the selection and what is below it; again, or with nothing selected: everything. Only for
    /// looking: no step, and not kept.
    void toggleAlone();
    bool isAlone() const { return !alone_.empty(); }

    /// While one lives nobody follows each change of the scene, which a script makes very many of; where things are is
    /// still known. `tell` before anything is drawn.
    class Held {
      public:
        explicit Held(Editor& editor);
        ~Held();
        Held(const Held&) = delete;
        Held& operator=(const Held&) = delete;
        void tell() { editor_.tellHeld(); }

      private:
        Editor& editor_;
    };
    /// Objects that carry a flag themselves, in the Roster's order, at most `most`.
    std::vector<base::ObjectId> flagged(std::uint8_t flag, std::size_t most) const;
    std::size_t hiddenCount() const { return hiddenCount_; }
    std::size_t protectedCount() const { return protectedCount_; }

    const Theme& theme() const { return *theme_; }
    void setTheme(const Theme& theme);

    const Looks& looks() const { return looks_; }
    void setLooks(const Looks& looks);
    const Preferences& preferences() const { return preferences_; }
    void setPreferences(const Preferences& preferences);
    double handleSize() const { return preferences_.handleSize; }
    /// The guise the scene is shown in; null: as it is.
    const model::Guise* guise() const;
    /// The scene's settings in the light it is shown in.
    model::SceneSettings litSettings() const;

    const Tools& tools() const { return tools_; }
    void setTools(const Tools& tools);
    /// One member of it.
    template <class Member>
    void change(Member Tools::*member, const Member& value) {
        Tools changed = tools_;
        changed.*member = value;
        setTools(changed);
    }
    void setTool(Tool tool);
    void setStep(render::Task task, StepSetting setting);
    void pickPivot(const base::Vec3& point);

    /// Which of the selected object's points is looked at in Properties and stands out in the view.
    std::size_t chosenPoint() const { return chosenPoint_; }
    void setChosenPoint(std::size_t index);
    /// The links of the scene that is shown, in the order of what links.
    const std::vector<ops::Link>& links() const;
    /// A point to be seen in the view: where a prefab's base would be.
    const std::optional<base::Vec3>& basePoint() const { return basePoint_; }
    void showBasePoint(const std::optional<base::Vec3>& at);
    /// The item each click in the view places; empty when none.
    const std::string& placing() const { return placing_; }
    void setPlacing(const std::string& item);
    /// The free berth that what is put down at `at` goes into; null: there is none near.
    const ops::Berth* berthNear(const base::Vec3& at);
    /// What an item that is placed would wear; empty: nothing.
    std::string outfitFor(const std::string& item);
    bool placeAt(const std::string& item, const base::Vec3& position);
    /// What was placed last, the last one first.
    const std::vector<std::string>& recentItems() const { return recent_; }
    void setRecentItems(std::vector<std::string> items);
    PrefabPlan prefabPlan;
    /// Puts the selection down on what is below it, as one step; says what has nothing below.
    bool seatSelected(const ops::SeatOptions& options);
    /// While placing: the next variation, or the one before.
    void cycleVariation(int by);
    void cycleSelected(int by);
    /// Makes the selection of another item and says what is different.
    bool replaceSelected(const std::string& item);
    QString hint() const { return hint_; }
    void setHint(const QString& hint);
    void setCursorPlace(const QString& text) { Q_EMIT cursorPlaceChanged(text); }

  Q_SIGNALS:
    /// A project is being read, on a worker; the window stays alive.
    void openingChanged(bool opening);
    void projectChanged();
    void sceneShown();
    void sceneEdited(const edit::SceneDelta& delta);
    void historyChanged();
    void selectionChanged();
    void libraryChanged();
    /// Something over the picture has changed.
    void marksChanged();
    /// There are meshes that were not there before.
    void meshesGrown();
    void themeChanged();
    /// Of tools().
    void toolChanged();
    /// What is shown has changed, not the scene.
    void shownChanged();
    void placingChanged();
    void preferencesChanged();
    /// One went into a group, or out of it.
    void enteredChanged();
    void chosenPointChanged();
    /// The properties of what is selected are to be typed.
    void propertiesWanted();
    void hintChanged();
    void cursorPlaceChanged(const QString& text);
    void message(const QString& text, bool isError);

  private:
    void listen();
    void lookAgain();
    void takeLibrary();
    void leaveGoneScene();
    void onDelta(const edit::SceneDelta& delta);
    void follow(const edit::SceneDelta& delta);
    void tellHeld();
    void onTravelled(const std::string& document);
    void tellMeshes(const edit::SceneDelta& delta);
    void recount();
    void refreshSelected();

    io::Chance chance_;
    std::unique_ptr<io::Workspace> workspace_;
    const model::Scene* scene_ = nullptr;
    std::shared_ptr<base::Progress> opening_;  // shared with the worker
    std::string sceneName_, lastScene_;
    mutable std::vector<ops::Link> links_;
    mutable bool linksKnown_ = false;
    std::optional<base::Vec3> basePoint_;
    Sight sight_;
    Asking asking_;
    QWidget* workOver_ = nullptr;
    std::set<model::Slot> selected_;
    std::unordered_set<model::Slot> alone_;  // empty: everything is shown
    base::ObjectId entered_;
    std::optional<base::Affine> lastPull_;
    std::size_t hiddenCount_ = 0;
    std::size_t protectedCount_ = 0;
    std::optional<edit::HeldDelta> held_;
    bool grown_ = false;        // meshes came that nobody was told of yet
    bool toldOfShown_ = false;  // since one last went through the history
    const Theme* theme_ = &dusk();
    Looks looks_;
    Preferences preferences_;
    Tools tools_;
    std::string placing_;
    std::vector<std::string> recent_;
    std::size_t chosenPoint_ = 0;
    QString hint_;
    std::unique_ptr<Scripts> scripts_;
    std::unique_ptr<Checks> checks_;
};

}  // namespace app
