// Playing the scene and coming back; settling; what can be come to.
#include <QFileDialog>

#include "app/commands/all.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/cue_sheet.h"
#include "app/panels/trace_panel.h"
#include "app/panels/trace_strip.h"
#include "app/shell/main_window.h"
#include "app/shell/rehearsal.h"
#include "app/view/view_widget.h"
#include "base/files.h"
#include "base/text.h"
#include "edit/scene_list.h"
#include "ops/move.h"
#include "ops/scenes.h"
#include "rehearse/plan.h"

namespace app {

namespace {

class RehearseCommands : public Rows {
  public:
    explicit RehearseCommands(Shell& shell);

  private:
    void addPlaying();
    void addLooking();
    void addSettling();
    void play();
    void playFromPointer();
    void begin(Rehearsal::Prepared prepared, const std::optional<base::Vec3>& at);
    void tellFaults(const std::vector<rehearse::StartFault>& faults);
    void placeStart();
    void followWalk();
    void tellWhatWouldMove();
    void offerNext();
    Rehearsal& rehearsal() { return editor_.rehearsal(); }
    bool offered_ = false;  // what comes after the level that is played
    Asked played() {
        return [this] { return rehearsal().isPlayed(); };
    }
};

RehearseCommands::RehearseCommands(Shell& shell) : Rows(shell) {
    connect(&rehearsal(), &Rehearsal::changed, commands_, &CommandSet::refresh);
    connect(&rehearsal(), &Rehearsal::advanced, this, &RehearseCommands::offerNext);
    addPlaying();
    addLooking();
    addSettling();
}

void RehearseCommands::addPlaying() {
    verb(
        "rehearse.start", tr("Rehearse"),
        tr("Plays the scene from its start; Esc goes back, and everything is as it was"), Qt::Key_F5,
        [this] { play(); }, open());
    verb(
        "rehearse.here", tr("Rehearse from the pointer"), tr("Plays the scene from what is under the pointer"),
        Qt::SHIFT | Qt::Key_F5, [this] { playFromPointer(); }, open());
    verb(
        "rehearse.end", tr("Back to the scene"), tr("Ends the rehearsal: camera, selection and tool are as before"), {},
        [this] { rehearsal().end(); }, [this] { return rehearsal().isOn(); });
    toggle(
        "rehearse.pause", tr("Pause the rehearsal"), tr("Time stands still (P while one plays)"), {},
        [this] { rehearsal().setPaused(rehearsal().mode() == Rehearsal::Mode::Playing); },
        [this] { return rehearsal().mode() == Rehearsal::Mode::Paused; }, played());
    verb(
        "rehearse.step", tr("One step of the rehearsal"), tr("A 120th of a second (N while one plays)"), {},
        [this] { rehearsal().stepOnce(); }, played());
    for (const int times : {1, 2, 8})
        toggle(
            QString("rehearse.times%1").arg(times),
            times == 1 ? tr("Time as it is") : tr("Time %1 times as fast").arg(times),
            tr("How fast a rehearsal goes (%1 while one plays)").arg(times), {},
            [this, times] { rehearsal().setSpeed(times); }, [this, times] { return rehearsal().speed() == times; },
            played());
    toggle(
        "rehearse.free", tr("Without a body"), tr("Flies about while the body stays where it is (B while one plays)"),
        {}, [this] { rehearsal().setFree(!rehearsal().isFree()); }, [this] { return rehearsal().isFree(); },
        [this] { return rehearsal().isOn(); });
    toggle(
        "rehearse.craft", tr("This scene is gone through in the craft"),
        tr("Flying or driving instead of walking; its limits are among the project’s properties"), {},
        [this] {
            const std::string name = editor_.sceneName();
            const model::SceneEntry* entry = editor_.session().project().scene(name);
            const bool craft = entry == nullptr || !entry->craft;
            editor_.run(craft ? "Go in the craft" : "Go on foot", [&](edit::Draft& draft) {
                return ops::changeScene(draft, name, [craft](model::SceneEntry& is) { is.craft = craft; });
            });
        },
        [this] {
            const model::SceneEntry* entry =
                editor_.isOpen() ? editor_.session().project().scene(editor_.sceneName()) : nullptr;
            return entry != nullptr && entry->craft;
        },
        edits());
}

void RehearseCommands::addLooking() {
    toggle(
        "rehearse.trace", tr("Rehearsals"), tr("The runs that are kept, what happened in them, and how they differ"),
        {}, [this] { shell_.toggleDesk(shell_.trace); }, [this] { return shell_.deskShows(shell_.trace); }, open());
    toggle(
        "rehearse.zones", tr("Zones while one plays"), tr("Draws zones in a rehearsal as well (Z while one plays)"), {},
        [this] { rehearsal().showZones(!rehearsal().showsZones()); }, [this] { return rehearsal().showsZones(); },
        open());
    toggle(
        "rehearse.cameras", tr("As the cameras show it"),
        tr("A rehearsal is seen by the scene’s cameras that have a shot, else with one’s own eyes (V while one plays)"),
        {}, [this] { rehearsal().seeByCameras(!rehearsal().seesByCameras()); },
        [this] { return rehearsal().seesByCameras(); }, open());
    toggle(
        "rehearse.cues", tr("Cues"), tr("What happens when: all cues of the scene, and how they stand in a rehearsal"),
        {}, [this] { shell_.toggleDesk(shell_.cues); }, [this] { return shell_.deskShows(shell_.cues); }, open());
    verb(
        "rehearse.lookLast", tr("Look at the last run"), tr("What happened in it, moment by moment"), {},
        [this] { rehearsal().look(0); }, [this] { return editor_.isOpen() && !rehearsal().kept().empty(); });
    verb(
        "rehearse.replay", tr("Play the last run again"),
        tr("The same keys in the scene as it is now, and where that differs"), Qt::CTRL | Qt::Key_F5,
        [this] { rehearsal().replay(0); }, [this] { return editor_.isOpen() && !rehearsal().kept().empty(); });
    verb(
        "rehearse.walk", tr("Follow a written walk…"),
        tr("Goes where a file says, as those of the project’s folder walks, and shows what happened"), {},
        [this] { followWalk(); }, open());
    toggle(
        "rehearse.reach", tr("What can be come to"),
        tr("Colours the ground: on foot from the start, only by a jump, never"), {},
        [this] { rehearsal().ground().show(!rehearsal().ground().isShown()); },
        [this] { return rehearsal().ground().isShown(); }, open());
    verb(
        "rehearse.seen", tr("What is seen from the pointer"),
        tr("With the ground that can be come to: what of it one sees from there"), {},
        [this] {
            const auto at = view().eye().pointedAt();
            if (!at) return editor_.say(tr("There is nothing under the pointer."));
            rehearsal().ground().show(true);
            rehearsal().ground().showSeenFrom(*at + base::Vec3(0, editor_.session().project().walker.eyeHeight, 0));
        },
        open());
}

void RehearseCommands::addSettling() {
    verb(
        "settle.selected", tr("Settle"), tr("Lets what is selected fall where it is; kept as one step, or dropped"), {},
        [this] { rehearsal().settle(); }, changes());
    verb(
        "settle.ask", tr("What would move"),
        tr("Selects what is loose and would move over 5 cm, tip, fall, or begins inside something"), {},
        [this] { tellWhatWouldMove(); }, open());
}

void RehearseCommands::play() {
    if (rehearsal().isPlayed()) return rehearsal().again();
    rehearsal().end();
    Rehearsal::Prepared prepared = rehearsal().prepare();
    if (!prepared.faults.empty()) return tellFaults(prepared.faults);
    begin(std::move(prepared), {});
}

void RehearseCommands::playFromPointer() {
    rehearsal().end();
    const auto place = view().eye().pointedAt();
    if (!place) return editor_.say(tr("There is no ground to stand on under the pointer."));
    begin(rehearsal().prepare(), place);
}

void RehearseCommands::begin(Rehearsal::Prepared prepared, const std::optional<base::Vec3>& at) {
    rehearsal().start(std::move(prepared), at, view().camera().isFlat() ? 0 : -view().camera().yawDegrees);
    view().setFocus();
}

/// Of what is wrong with the start, with what mends it.
void RehearseCommands::tellFaults(const std::vector<rehearse::StartFault>& faults) {
    using What = rehearse::StartFault::What;
    const rehearse::StartFault& fault = faults.back();  // the gravest
    QStringList said;
    for (const auto& one : faults) said << toQt(one.text);
    std::vector<TraceStrip::Offer> offers;
    if (fault.mended && canEdit())
        offers.push_back({tr("Move the start to where one can stand"), [this, fault] {
                              const Slot slot = editor_.scene().find(fault.object);
                              if (slot == kNoSlot) return;
                              base::Affine by;
                              by.translation = *fault.mended - editor_.scene().world(slot).translation;
                              const bool moved = editor_.run("Move the start", [&](edit::Draft& draft) {
                                  return ops::moveEach(draft, {&fault.object, 1}, {&by, 1});
                              });
                              if (moved) play();
                          }});
    if (fault.what == What::Missing && canEdit())
        offers.push_back({tr("Place a start here"), [this] { placeStart(); }});
    if (fault.what != What::Missing)
        offers.push_back({tr("Begin there anyway"), [this] { begin(rehearsal().prepare(), {}); }});
    if (fault.what == What::Missing || fault.what == What::InsideSomething)
        offers.push_back({tr("Begin in the middle of the view"), [this] { playFromPointer(); }});
    shell_.traceStrip.ask(said.join(" "), std::move(offers));
}

/// An item whose kind marks a start, where one can stand near what the middle of the view shows.
void RehearseCommands::placeStart() {
    const std::string& starts = editor_.session().project().walker.starts;
    for (const model::Item& item : editor_.session().library().items())
        if (!item.kind.empty() && model::beginsAt(starts, item.kind)) {
            const base::Vec3 front = view().placeInFront();
            const Rehearsal::Prepared now = rehearsal().prepare();
            if (editor_.placeAt(item.name, rehearse::standNear(*now.level, *now.world, front).value_or(front))) play();
            return;
        }
    editor_.say(tr("No item of the Stock is of a kind that marks a start; the project’s walker says which kinds do."));
}

void RehearseCommands::followWalk() {
    const QString folder = toQt((editor_.session().project().folder / "walks").string());
    const QString file = QFileDialog::getOpenFileName(&shell_.window, tr("Follow a written walk"), folder,
                                                      tr("Walks (*.walk);;All files (*)"));
    if (file.isEmpty()) return;
    constexpr std::uint64_t kMostBytes = 1 << 20;
    const auto text = base::readFile(file.toStdString(), kMostBytes);
    if (!text) return editor_.say(toQt(text.error().message));
    const auto plan = rehearse::planFrom(*text);
    if (!plan) return editor_.say(toQt(plan.error().message));
    rehearsal().follow(*plan);
    view().setFocus();
}

/// The level is over, and says which scene comes then.
void RehearseCommands::offerNext() {
    const rehearse::Run* run = rehearsal().run();
    const bool over = run != nullptr && run->cues().end().has_value();
    if (over == offered_) return;
    offered_ = over;
    if (!over) return;
    const std::string next = run->cues().end()->then.next;
    if (next.empty()) return;
    if (!edit::isScene(editor_.session(), next))
        return editor_.say(tr("The next scene, “%1”, is not in the project.").arg(toQt(next)));
    shell_.traceStrip.ask(tr("The level is over; the next scene is %1.").arg(toQt(next)),
                          {{tr("Go on there"), [this, next] {
                                rehearsal().end();
                                if (editor_.report(editor_.showScene(next))) play();
                            }}});
}

void RehearseCommands::tellWhatWouldMove() {
    const auto rests = rehearsal().wouldMove();
    std::vector<base::ObjectId> ids;
    QStringList said;
    for (const rehearse::Rest& rest : rests)
        if (!rest.isFine()) {
            ids.push_back(rest.object);
            if (said.size() < 3) said << toQt(rehearse::textOf(rest, editor_.scene()));
        }
    if (rests.empty()) return editor_.say(tr("Nothing here is loose."));
    if (ids.empty())
        return editor_.say(
            tr("All %1 stay where they are.").arg(counted(rests.size(), tr("loose thing"), tr("loose things"))));
    editor_.select(ids);
    editor_.say(
        tr("%1 of %2 would not stay, and are selected: %3.").arg(ids.size()).arg(rests.size()).arg(said.join("; ")));
}

}  // namespace

RowsPtr rehearseCommands(Shell& shell) {
    return std::make_unique<RehearseCommands>(shell);
}

}  // namespace app
