#pragma once
// Mixes of the project: several items with shares under a name, for placing at random, the broom and what is selected.
#include "app/dialogs/named_card.h"
#include "model/assortment.h"

namespace app {

class MixCard : public NamedCard {
    Q_OBJECT
  public:
    /// `chosen` is the item chosen in the Stock.
    MixCard(QWidget* parent, Editor& editor, std::string chosen);

  protected:
    QStringList names() const override;
    void fillRows() override;
    void add() override;
    void remove() override;

  private:
    const model::Mix* mix() const;
    bool keep(const model::Mix& mix, const std::string& step);
    void addRow(const std::string& item, double share, double sum, int row);
    void setShare(const std::string& item, const QString& text);
    void takeOut(const std::string& item);
    void remakeSelected();

    QPushButton* remake_;
};

}  // namespace app
