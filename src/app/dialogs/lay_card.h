#pragma once
// What is laid and how: over the view while the lay tool is in the hand.
#include <QComboBox>

#include "app/dialogs/side_card.h"
#include "app/shell/tools.h"

namespace app {

class Editor;
class FieldsForm;

class LayCard : public SideCard {
    Q_OBJECT
  public:
    LayCard(QWidget* parent, Editor& editor);
    /// What it lays: the item chosen in the Stock. The lattice takes its cell, if it has one.
    void setItem(const std::string& item);

  private:
    void choose(int row);
    void refresh();

    Editor& editor_;
    QComboBox* what_;
    FieldsForm* fields_;
};

}  // namespace app
