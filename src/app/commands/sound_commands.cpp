// Sounds: the page of the desk, files brought in, one placed where one looks.
#include "app/commands/all.h"
#include "app/names.h"
#include "app/panels/sounds_panel.h"
#include "app/shell/listening.h"
#include "app/view/view_widget.h"
#include "edit/draft.h"
#include "io/added.h"
#include "io/sound_file.h"
#include "ops/sounds.h"

namespace app {

namespace {

class SoundCommands : public Rows {
  public:
    explicit SoundCommands(Shell& shell) : Rows(shell) {
        connect(&shell_.sounds, &SoundsPanel::placeAsked, this, [this](const std::string& file) { place(file); });
        connect(&shell_.listening, &Listening::changed, commands_, &CommandSet::refresh);
        toggle(
            "desk.sounds", tr("Sounds"), tr("The project’s sounds: heard, placed, and where they are used"), {},
            [this] { shell_.toggleDesk(shell_.sounds); }, [this] { return shell_.deskShows(shell_.sounds); }, open());
        verb(
            "sounds.add", tr("Add sounds…"), tr("WAV, FLAC and Ogg files are copied into the project"), {},
            [this] { shell_.sounds.chooseFiles(); }, edits());
        verb(
            "sounds.place", tr("Place a sound"),
            tr("An object that is heard, where one looks; its file is chosen there"), {}, [this] { place({}); },
            edits());
        toggle(
            "sounds.mute", tr("Mute"), tr("Nothing is heard, in rehearsals neither"), {},
            [this] { shell_.listening.setMuted(!shell_.listening.isMuted()); },
            [this] { return shell_.listening.isMuted(); });
    }

  private:
    /// Empty: the first sound there is.
    void place(std::string file) {
        for (const std::string& name : io::mediaNames(editor_.session()))
            if (file.empty() && io::isSoundName(name)) file = name;
        if (file.empty()) return editor_.say(tr("The project has no sounds yet: Data › Add sounds… brings some."));
        base::ObjectId made;
        const bool done = editor_.run("Place a sound", [&](edit::Draft& draft) -> base::Status {
            auto id = ops::addSound(draft, file, view().placeInFront() + base::Vec3(0, 1, 0), editor_.entered());
            if (!id) return tl::unexpected(id.error());
            made = *id;
            return {};
        });
        if (done) editor_.select({made});
    }
};

}  // namespace

RowsPtr soundCommands(Shell& shell) {
    return std::make_unique<SoundCommands>(shell);
}

}  // namespace app
