#pragma once
// All commands with their shortcuts, and what the mouse does; a shortcut is changed in place.
#include <QDialog>

#include "app/commands/commands.h"

namespace app {

class KeySheet : public QDialog {
    Q_OBJECT
  public:
    /// `now`: what mouse and keys do at this moment, as the status line says it.
    KeySheet(CommandSet& commands, const QString& now, QWidget* parent);
};

}  // namespace app
