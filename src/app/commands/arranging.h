#pragma once
// Commands that arrange the selection: while one is pointed at in the menu the view shows what it would do.
#include "app/commands/rows.h"

namespace app {

class Arranging : public Rows {
  protected:
    using Rows::Rows;
    /// `does` begins the step's name.
    void addArranging(const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                      const QString& does, const std::function<base::Status(edit::Draft&)>& act, const Asked& enabled);
};

}  // namespace app
