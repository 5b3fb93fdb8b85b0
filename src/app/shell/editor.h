#pragma once
// The open project as the interface sees it: which scene is shown, what is selected, where things are, what the
// mouse would place. Widgets hold a reference to it and listen to its signals; it holds no widget.
#include <QObject>
#include <QString>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "app/look/theme.h"
#include "app/shell/ghost.h"
#include "base/id.h"
#include "base/math.h"
#include "base/result.h"
#include "base/units.h"
#include "model/scene.h"

namespace base {
class Progress;
}
namespace edit {
class Draft;
struct SceneDelta;
class Session;
}  // namespace edit
namespace io {
struct Chance;
enum class OpenMode;
struct Workspace;
}  // namespace io
namespace model {
struct Guise;
struct Item;
struct SceneSettings;
}  // namespace model
namespace ops {
struct Berth;
struct Link;
struct SeatOptions;
}  // namespace ops
namespace query {
struct SceneHit;
}
namespace render {
enum class Task;
}

namespace app {

class Acts;
class Asking;
class Checks;
struct Looks;
struct Piece;
struct Preferences;
struct PrefabPlan;
class Rehearsal;
class Scripts;
class Sight;
class StandIn;
struct StepSetting;
class GoOn;
enum class Tool;
struct Tools;

class Editor : public QObject {
    Q_OBJECT
  public:
    explicit Editor(io::Chance chance);
    ~Editor() override;

    bool hasProject() const;
    /// The scripts there are, and what they do.
    Scripts& scripts() const;
    Checks& checks() const;
    Rehearsal& rehearsal() const;
    bool isOpen() const;
    io::Workspace& workspace();
    edit::Session& session();
    /// The one that is shown: while it is rehearsed or settled, as it is by then.
    const model::Scene& scene() const;
    /// Shows a copy in which things are elsewhere; null: the scene itself again. `moved` tells what is elsewhere.
    void showInstead(const model::Scene* copy, const edit::SceneDelta& moved);
    /// More of it has moved.
    void liveMoved(const edit::SceneDelta& moved);
    bool showsLive() const;
    const std::string& sceneName() const;
    /// The scene that was shown before a prefab was opened alone.
    const std::string& lastScene() const;
    /// What the project shows lengths in.
    base::LengthUnit unit() const;
    /// "1.25 m", "125 cm": a length as the project shows it.
    QString length(double metres, int decimals = 2) const;
    /// What people call a scene, or a prefab's definition.
    QString documentName(const std::string& name) const;

    /// Opens a project and shows its first scene (or `scene`). The one open before stays when this fails or is
    /// called off.
    base::Status openProject(const std::filesystem::path& path, io::OpenMode mode, const std::string& scene = {});
    base::Status showScene(const std::string& name);
    void closeProject();
    /// Models were added to the project: what is placed of them can be seen and met from now on.
    void libraryGrown();
    bool isOpening() const { return opening() != nullptr; }
    /// How far opening has come; shared with the worker. Null when nothing is being opened.
    const std::shared_ptr<base::Progress>& opening() const;

    const std::vector<base::ObjectId>& selection() const;
    bool isSelected(model::Slot slot) const;
    void select(std::vector<base::ObjectId> ids);

    /// Runs a verb as one step; a refusal is shown as a message. True when it went well.
    bool run(const std::string& name, const std::function<base::Status(edit::Draft&)>& verb);
    /// Makes a draft a step; false when it could not be kept, which is shown.
    bool keep(edit::Draft& draft);
    /// Shows a failure where the designer looks.
    bool report(const base::Status& status);
    void say(const QString& text) { Q_EMIT message(text, false); }

    /// What a ray first meets; protected and ordinary things alike, hidden ones not.
    std::optional<query::SceneHit> surfaceUnder(const base::Ray& ray, bool pickableOnly) const;
    Sight& sight();
    const Sight& sight() const;
    Asking& asking();
    const Asking& asking() const;
    bool isHidden(model::Slot slot) const;
    /// May it be selected with the mouse: shown, not protected, and within what was entered?
    bool isPickable(model::Slot slot) const;
    /// The group one works inside of; zero: the scene.
    base::ObjectId entered() const;
    /// How the last copy was pulled away from its original, in the world; for pulling another the same way.
    const std::optional<base::Affine>& lastPull() const;
    void setLastPull(const base::Affine& motion);
    /// Where it is shown that a verb takes long.
    void showWorkOver(QWidget* widget);
    QWidget* workOver() const;
    bool isWithinEntered(model::Slot slot) const;
    /// Is what is changed inside the entered instance changed in its definition, for all of them?
    bool editsDefinition() const;
    /// Is a click on what lies below it meant for this: a group made on purpose, or an instance?
    bool isWhole(model::Slot slot) const;
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
    bool isAlone() const;

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
    std::size_t hiddenCount() const;
    std::size_t protectedCount() const;

    const Theme& theme() const;
    void setTheme(const Theme& theme);

    const Looks& looks() const;
    void setLooks(const Looks& looks);
    const Preferences& preferences() const;
    void setPreferences(const Preferences& preferences);
    double handleSize() const;
    /// The guise the scene is shown in; null: as it is.
    const model::Guise* guise() const;
    /// The scene's settings in the light it is shown in.
    model::SceneSettings litSettings() const;

    const Tools& tools() const;
    void setTools(const Tools& tools);
    /// One member of it.
    template <class All, class Member>
    void change(Member All::*member, const Member& value) {
        All changed = tools();
        changed.*member = value;
        setTools(changed);
    }
    void setTool(Tool tool);
    void setStep(render::Task task, StepSetting setting);
    void pickPivot(const base::Vec3& point);

    /// Which of the selected object's points is looked at in Properties and stands out in the view.
    std::size_t chosenPoint() const;
    void setChosenPoint(std::size_t index);
    /// The links of the scene that is shown, in the order of what links.
    const std::vector<ops::Link>& links() const;
    /// A point to be seen in the view: where a prefab's base would be.
    const std::optional<base::Vec3>& basePoint() const;
    void showBasePoint(const std::optional<base::Vec3>& at);
    /// The item each click in the view places; empty when none.
    const std::string& placing() const;
    void setPlacing(const std::string& item);
    /// The free berth that an item which is put down at `at` goes into; null: there is none near that takes it.
    const ops::Berth* berthNear(const base::Vec3& at, const std::string& item);
    /// What an item that is placed would wear; empty: nothing.
    std::string outfitFor(const std::string& item);
    bool placeAt(const std::string& item, const base::Vec3& position) { return place({Ghost{item, position}}); }
    /// As one step. One near a berth goes into that.
    bool place(const std::vector<Ghost>& ghosts);
    GoOn& goOn();
    /// Part of every step: what has relations to what was moved follows; what is changed in an act is so in it only.
    base::Status keepScene(edit::Draft& draft);
    Acts& acts() const;
    /// Whom cameras show while they are set up.
    StandIn& standIn() const;
    /// What of the scene has lasting relations.
    const std::set<base::ObjectId>& relatedObjects() const;
    /// What was placed last, the last one first.
    const std::vector<std::string>& recentItems() const;
    void setRecentItems(std::vector<std::string> items);
    /// What the card that makes prefabs was left with.
    PrefabPlan& prefabPlan();
    /// Puts the selection down on what is below it, as one step; says what has nothing below.
    bool seatSelected(const ops::SeatOptions& options);
    /// While placing: the next variation, or the one before.
    void cycleVariation(int by);
    void cycleSelected(int by);
    /// Makes the selection of another item and says what is different.
    bool replaceSelected(const std::string& item);
    QString hint() const;
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
    base::Result<base::ObjectId> placeGhost(edit::Draft& draft, const Ghost& ghost);
    void onTravelled(const std::string& document);
    void tellMeshes(const edit::SceneDelta& delta);
    void recount();
    void refreshSelected();

    struct Own;
    std::unique_ptr<Own> own_;
};

}  // namespace app
