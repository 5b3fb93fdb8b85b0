#pragma once
// What one person likes, by pages: what is changed is so at once, and kept.
#include <QDialog>
#include <QListWidget>
#include <QStackedWidget>
#include <vector>

#include "app/commands/commands.h"
#include "app/dialogs/key_sheet.h"
#include "app/panels/form.h"
#include "app/shell/preferences.h"

namespace app {

class SettingsWindow : public QDialog {
    Q_OBJECT
  public:
    SettingsWindow(Editor& editor, CommandSet& commands, QWidget* parent);

  private:
    void addPage(const QString& title, QWidget* page);
    QWidget* makeForm(const char* page);
    QWidget* makeScripts();
    void refresh();
    void exportAll();
    void importAll();

    Editor& editor_;
    CommandSet& commands_;
    QListWidget* pages_;
    QStackedWidget* shown_;
    std::vector<FieldsForm*> forms_;
    KeyList* keys_ = nullptr;
};

}  // namespace app
