// The project: scenes, files, leaving.
#include "app/commands/all.h"
#include "app/names.h"
#include "app/shell/main_window.h"

namespace app {

namespace {

class ProjectCommands : public Rows {
  public:
    explicit ProjectCommands(Shell& shell);

  private:
};

ProjectCommands::ProjectCommands(Shell& shell) : Rows(shell) {
    verb(
        "project.newScene", tr("New scene…"), tr("Adds a scene from a template"), QKeySequence::New,
        [this] { shell_.window.newScene(); }, edits());
    verb(
        "scene.list", tr("Scenes…"), tr("All scenes: order, what they are, rename, delete"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_L, [this] { shell_.window.showScenes(); }, open());
    verb("project.start", tr("Start page"), tr("Projects that were open lately, new ones, the demo"), {},
         [this] { shell_.window.showStart(); });
    verb("project.new", tr("New project…"), tr("Makes a project in a folder of its own"),
         Qt::CTRL | Qt::SHIFT | Qt::Key_N, [this] { shell_.window.newProject(); });
    verb("project.open", tr("Open project…"), tr("Opens a project’s folder"), QKeySequence::Open,
         [this] { shell_.window.chooseProject(); });
    verb(
        "project.save", tr("Save"), tr("Writes the changed scenes to their files"), QKeySequence::Save,
        [this] { shell_.window.save(); }, edits());
    verb(
        "scene.duplicate", tr("Duplicate scene…"), tr("A copy of this scene under another name, which is shown then"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_S, [this] { shell_.window.duplicateScene(); }, edits());
    verb(
        "project.import", tr("Import models…"), tr("Adds glTF models to the Stock"), Qt::CTRL | Qt::Key_I,
        [this] { shell_.window.importModels(); }, edits());
    verb(
        "project.export", tr("Export scene…"), tr("Writes the scene as glTF, as it looks: surfaces, tints, lights"),
        Qt::CTRL | Qt::Key_E, [this] { shell_.window.exportScene(); }, open());
    verb(
        "project.export.selection", tr("Export selection…"), tr("Writes what is selected, with all below it, as glTF"),
        {}, [this] { shell_.window.exportSelection(); }, open());
    verb("project.quit", tr("Quit"), tr("Closes the window"), QKeySequence::Quit, [this] { shell_.window.close(); });
}

}  // namespace

RowsPtr projectCommands(Shell& shell) {
    return std::make_unique<ProjectCommands>(shell);
}

}  // namespace app
