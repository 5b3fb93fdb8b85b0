#pragma once
// The open project as the interface sees it: which scene is shown, what is selected, where things are, what the
// mouse would place. Widgets hold a reference to it and listen to its signals; it holds no widget.
#include <QObject>
#include <QString>
#include <array>
#include <functional>
#include <memory>
#include <thread>
#include <unordered_map>
#include <unordered_set>

#include "app/look/theme.h"
#include "app/view/looks.h"
#include "app/view/piece.h"
#include "edit/draft.h"
#include "edit/held_delta.h"
#include "io/workspace.h"
#include "model/facets/solid.h"
#include "ops/broom.h"
#include "ops/chance.h"
#include "ops/move.h"
#include "ops/objects.h"
#include "ops/properties.h"
#include "ops/seat.h"
#include "query/scene_index.h"
#include "render/handle.h"

namespace app {

class Checks;
class Scripts;

enum class Tool { Select, Slide, Dial, Fit, All, Measure, Solid, Broom, Points, Zone };

/// What a drag may be caught on besides what is plainly there.
struct Catching {
    bool hidden = false, protectedOnes = true;
};

/// How what is placed differs from one to the next, and whether it does.
struct Varying : ops::Chances {
    bool on = false;
};

/// Whom the others follow when they are brought in line.
enum class LeaderChoice { Last, First, Pointed, World };

/// What a drag over nothing draws, and what of it is selected.
enum class SelectShape { Box, Circle, Lasso };
struct Selecting {
    SelectShape shape = SelectShape::Box;
    bool whole = false;   ///< only what is wholly inside
    bool through = true;  ///< also what lies behind other things
};

/// One kind of step: how far it goes (metres, degrees, a factor) and whether it is on.
struct StepSetting {
    double value = 0;
    bool on = true;
};

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
    /// Shows a failure where the designer looks.
    bool report(const base::Status& status);
    void say(const QString& text) { Q_EMIT message(text, false); }

    /// What a ray first meets; protected and ordinary things alike, hidden ones not.
    std::optional<query::SceneHit> surfaceUnder(const base::Ray& ray, bool pickableOnly) const;
    const query::MeshIndex* meshIndex(base::Name item) const;
    /// All of them as they are now; what it gives can be asked on any thread while the project is open.
    query::MeshLookup meshes() const;
    /// Where what one bumps into is: like index(), but of collision shapes. Made when first asked for.
    const query::SceneIndex* collision();
    /// Null while a large scene's is still being built.
    const query::SceneIndex* index() const { return index_.get(); }
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
    /// Copies that are pulled go on being the same as their originals.
    bool pullsLinked() const { return pullsLinked_; }
    void setPullsLinked(bool on);
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
    double handleSize() const { return looks_.handleSize; }

    Tool tool() const { return tool_; }
    void setTool(Tool tool);
    /// The task whose step is shown and that the arrow keys do: Turn with the dial, Fit with the fit handle.
    render::Task activeTask() const;
    const StepSetting& step(render::Task task) const {
        return steps_[task == render::Task::None ? 0 : static_cast<std::size_t>(task) - 1];
    }
    void setStep(render::Task task, StepSetting setting);
    /// Of those that are on; `share` makes all finer.
    render::Steps activeSteps(double share = 1) const;
    ops::AxesMode axesMode() const { return axesMode_; }
    void setAxesMode(ops::AxesMode mode);
    ops::PivotMode pivotMode() const { return pivotMode_; }
    const base::Vec3& pickedPivot() const { return pickedPivot_; }
    void setPivotMode(ops::PivotMode mode);
    void pickPivot(const base::Vec3& point);

    /// What the Solid tool draws, and whether it stays in the hand afterwards.
    model::Solid::Shape solidShape() const { return solidShape_; }
    void setSolidShape(model::Solid::Shape shape);
    bool drawsOn() const { return drawsOn_; }
    void setDrawsOn(bool on);
    const ops::BroomSettings& broom() const { return broom_; }
    void setBroom(const ops::BroomSettings& broom);
    /// Which of the selected object's points is looked at in Properties and stands out in the view.
    std::size_t chosenPoint() const { return chosenPoint_; }
    void setChosenPoint(std::size_t index);
    /// The next click in the view gives a point instead of selecting; nothing: no more.
    void askPoint(std::function<void(const base::Vec3&)> take);
    bool asksPoint() const { return bool(takePoint_); }
    void givePoint(const base::Vec3& at) {
        if (const auto take = takePoint_) take(at);  // who takes it may ask for no more
    }
    /// The next click in the view or the Roster on something that fits gives an object instead of selecting it;
    /// nothing: no more.
    void askObject(std::function<bool(model::Slot)> fits, std::function<void(base::ObjectId)> take);
    bool asksObject() const { return bool(takeObject_); }
    bool objectFits(model::Slot slot) const { return fitsObject_ && fitsObject_(slot); }
    void giveObject(model::Slot slot);
    /// The links of the scene that is shown, in the order of what links.
    const std::vector<ops::Link>& links() const;
    /// A point to be seen in the view: where a prefab's base would be.
    const std::optional<base::Vec3>& basePoint() const { return basePoint_; }
    void showBasePoint(const std::optional<base::Vec3>& at);
    /// The item each click in the view places; empty when none.
    const std::string& placing() const { return placing_; }
    void setPlacing(const std::string& item);
    bool placeAt(const std::string& item, const base::Vec3& position);
    /// What was placed last, the last one first.
    const std::vector<std::string>& recentItems() const { return recent_; }
    /// Puts the selection down on what is below it, as one step; says what has nothing below.
    bool seatSelected(const ops::SeatOptions& options);
    const Selecting& selecting() const { return selecting_; }
    void setSelecting(const Selecting& how);
    /// Drags catch on what is in line, without a key.
    bool catchFlush() const { return catchFlush_; }
    void setCatchFlush(bool on);
    const Varying& varying() const { return varying_; }
    void setVarying(const Varying& varying);
    /// While placing: the next variation, or the one before.
    void cycleVariation(int by);
    /// What becomes of surfaces when an item is replaced.
    ops::SurfacesGo surfacesGo() const { return surfacesGo_; }
    void setSurfacesGo(ops::SurfacesGo go) {
        surfacesGo_ = go;
        Q_EMIT toolChanged();
    }
    /// Makes the selection of another item and says what is different.
    bool replaceSelected(const std::string& item);
    const Catching& catching() const { return catching_; }
    void setCatching(const Catching& catching);
    /// What is carried leans with the slope under it.
    bool followSlopes() const { return followSlopes_; }
    void setFollowSlopes(bool on);
    /// Sizing keeps proportions, whichever part is dragged.
    bool uniform() const { return uniform_; }
    void setUniform(bool on);
    /// Slide's steps count from the world's zero.
    bool onLattice() const { return onLattice_; }
    void setOnLattice(bool on);
    /// All steps are a tenth, until it is switched off.
    bool fine() const { return fine_; }
    void setFine(bool on);
    /// Seating: what falls is its collision shape and not what one sees of it.
    bool seatByCollision() const { return seatByCollision_; }
    void setSeatByCollision(bool on);
    /// Seating: what carries it are collision shapes and not what one sees.
    bool seatOntoCollision() const { return seatOntoCollision_; }
    void setSeatOntoCollision(bool on);
    LeaderChoice leader() const { return leader_; }
    void setLeader(LeaderChoice leader);
    bool seatWhenPlacing() const { return seatWhenPlacing_; }
    void setSeatWhenPlacing(bool on);

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
    void toolChanged();
    /// What is shown has changed, not the scene.
    void shownChanged();
    void placingChanged();
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
    void startIndex();
    const query::MeshIndex* collisionOf(base::Name item);
    void takeIndex();
    void onDelta(const edit::SceneDelta& delta);
    void follow(const edit::SceneDelta& delta);
    void tellHeld();
    void onTravelled(const std::string& document);
    void takeNewMeshes(const edit::SceneDelta& delta);
    void recount();
    void refreshSelected();

    io::Chance chance_;
    std::unique_ptr<io::Workspace> workspace_;
    const model::Scene* scene_ = nullptr;
    std::shared_ptr<base::Progress> opening_;  // shared with the worker
    std::string sceneName_, lastScene_;
    std::function<void(const base::Vec3&)> takePoint_;
    std::function<bool(model::Slot)> fitsObject_;
    std::function<void(base::ObjectId)> takeObject_;
    mutable std::vector<ops::Link> links_;
    mutable bool linksKnown_ = false;
    std::optional<base::Vec3> basePoint_;
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshIndexes_;
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> boxIndexes_;  // of items that collide as boxes
    std::unique_ptr<query::SceneIndex> index_, collision_;
    std::unique_ptr<query::SceneIndex> indexBeingBuilt_;
    std::unique_ptr<model::Scene> indexSnapshot_;
    std::vector<model::Slot> touchedWhileBuilding_;
    QWidget* workOver_ = nullptr;
    std::thread indexWorker_;
    std::set<model::Slot> selected_;
    std::unordered_set<model::Slot> alone_;  // empty: everything is shown
    base::ObjectId entered_;
    std::optional<base::Affine> lastPull_;
    bool pullsLinked_ = false;
    std::size_t hiddenCount_ = 0;
    std::size_t protectedCount_ = 0;
    std::optional<edit::HeldDelta> held_;
    bool grown_ = false;        // meshes came that nobody was told of yet
    bool toldOfShown_ = false;  // since one last went through the history
    const Theme* theme_ = &dusk();
    Looks looks_;
    Tool tool_ = Tool::Slide;
    std::array<StepSetting, 3> steps_{{{0.25, true}, {15, true}, {0.1, true}}};  // slide, turn, fit
    ops::AxesMode axesMode_ = ops::AxesMode::World;
    ops::PivotMode pivotMode_ = ops::PivotMode::Base;
    base::Vec3 pickedPivot_{0.0};
    std::string placing_;
    std::vector<std::string> recent_;
    bool seatWhenPlacing_ = false;
    bool catchFlush_ = false;
    Catching catching_;
    Varying varying_;
    bool followSlopes_ = false, uniform_ = false, onLattice_ = false, fine_ = false, seatByCollision_ = false,
         seatOntoCollision_ = false;
    LeaderChoice leader_ = LeaderChoice::Last;
    model::Solid::Shape solidShape_ = model::Solid::Shape::Box;
    bool drawsOn_ = false;
    ops::BroomSettings broom_;
    std::size_t chosenPoint_ = 0;
    ops::SurfacesGo surfacesGo_ = ops::SurfacesGo::Map;
    Selecting selecting_;
    QString hint_;
    std::unique_ptr<Scripts> scripts_;
    std::unique_ptr<Checks> checks_;
};

}  // namespace app
