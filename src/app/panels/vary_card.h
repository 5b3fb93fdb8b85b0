#pragma once
// What of an item is left to chance when it is placed.
#include <QWidget>

#include "app/shell/editor.h"

namespace app {

/// How what is placed differs: turn, size, variations.
class VaryCard : public QWidget {
    Q_OBJECT
  public:
    explicit VaryCard(Editor& editor);

  private:
    Editor& editor_;
};

}  // namespace app
