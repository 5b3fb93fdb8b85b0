#pragma once
// All commands with their shortcuts, and what the mouse does; a shortcut is changed in place.
#include <QDialog>

#include "app/commands/commands.h"

namespace app {

class KeySheet : public QDialog {
    Q_OBJECT
  public:
    KeySheet(CommandSet& commands, QWidget* parent);
};

}  // namespace app
