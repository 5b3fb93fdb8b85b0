#pragma once
// Properties when nothing is selected: what is set for the scene as a whole, and for the project.
#include "app/kit/fold_card.h"
#include "app/panels/form.h"

namespace app {

class SceneCard : public QWidget {
    Q_OBJECT
  public:
    explicit SceneCard(Editor& editor, QWidget* parent = nullptr);
    void refresh();

  private:
    Editor& editor_;
    FieldsForm *scene_, *project_;
    FoldCard* sceneFold_;
};

}  // namespace app
