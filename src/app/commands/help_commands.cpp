// Help: keys, the manual, finding.
#include "app/commands/all.h"
#include "app/dialogs/key_sheet.h"
#include "app/dialogs/manual_window.h"
#include "app/dialogs/settings_window.h"
#include "app/panels/find_field.h"
#include "app/shell/main_window.h"

namespace app {

namespace {

class HelpCommands : public Rows {
  public:
    explicit HelpCommands(Shell& shell);

  private:
    void showManual(const QString& page);
};

HelpCommands::HelpCommands(Shell& shell) : Rows(shell) {
    verb("help.keys", tr("Keys and mouse…"), tr("All keys; each can be changed"), Qt::Key_F1,
         [this] { KeySheet(*commands_, editor_.hint(), over()).exec(); });
    verb("help.settings", tr("Settings…"),
         tr("Theme, size, keys, mouse, files and scripts: what you like, in every project"), Qt::CTRL | Qt::Key_Comma,
         [this] {
             for (auto* open : shell_.window.findChildren<SettingsWindow*>()) return open->activateWindow();
             new SettingsWindow(editor_, *commands_, &shell_.window);
         });
    verb("help.manual", tr("Manual"), tr("All pages, with a field to find in them"), Qt::SHIFT | Qt::Key_F1,
         [this] { showManual("working.md"); });
    verb("help.firstSteps", tr("First steps"), tr("Ten minutes on the demo"), {},
         [this] { showManual("first-steps.md"); });
    verb("help.about", tr("About Mellow Lattice"), tr("Its version, and what it is made of"), {},
         [this] { showManual("licences.md"); });
    verb("help.find", tr("Find a command, item or object"), tr("Goes to the find field"), QKeySequence::Find,
         [this] { shell_.find.begin(); });
}

void HelpCommands::showManual(const QString& page) {
    auto* manual = shell_.window.findChild<ManualWindow*>();
    if (manual == nullptr) manual = new ManualWindow(&shell_.window);
    manual->open(page);
    manual->show();
    manual->raise();
    manual->activateWindow();
}

}  // namespace

RowsPtr helpCommands(Shell& shell) {
    return std::make_unique<HelpCommands>(shell);
}

}  // namespace app
