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
    void makeLimits();
    void showLimits();
    base::Status setLimit(const model::Property& property, const std::optional<model::Value>& value);

    Editor& editor_;
    FieldsForm *scene_, *project_;
    Form* limits_;  // what rules of checks go by: budgets, names, folders
    FoldCard* sceneFold_;
};

}  // namespace app
