#pragma once
// What the broom does and how: over the view while the broom is in the hand.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <functional>

#include "app/dialogs/side_card.h"
#include "app/shell/editor.h"
#include "ops/broom.h"

namespace app {

class FieldsForm;

class BroomCard : public SideCard {
    Q_OBJECT
  public:
    BroomCard(QWidget* parent, Editor& editor);
    /// What it scatters: the item chosen in the Stock.
    void setItem(const std::string& item);

  private:
    void change(const std::function<void(ops::BroomSettings&)>& change);
    void refresh();

    Editor& editor_;
    QComboBox* verb_;
    QLabel* item_;
    QLineEdit* filter_;
    FieldsForm* fields_;
};

}  // namespace app
