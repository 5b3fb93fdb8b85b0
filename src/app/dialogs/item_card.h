#pragma once
// What is said of an item beyond what its model shows: over the view, for the one chosen in the Stock, or for those
// that were just imported, all at once.
#include <QLabel>

#include "app/dialogs/side_card.h"
#include "app/panels/parts_form.h"
#include "ops/items.h"

namespace app {

class ItemCard : public SideCard {
    Q_OBJECT
  public:
    /// `items`: their keys; more than one get what is set all alike, but for the name.
    ItemCard(QWidget* parent, Editor& editor, std::vector<std::string> items);

  private:
    void refresh();
    base::Status set(const model::Property& property, const std::function<base::Status(void*)>& change);
    QString sanity(const model::Item& item) const;
    PartsForm* makePlaces(const char* key, const QString& fromTip);
    void addFromSelection(PartsForm* places);

    Editor& editor_;
    std::vector<std::string> items_;
    FieldsForm* fields_;
    PartsForm *uses_, *berths_;
    QLabel *title_, *facts_;
};

}  // namespace app
