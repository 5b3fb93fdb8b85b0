#pragma once
// Sets of pieces of the project: which pieces there are, and at which sides each goes on when it is laid.
#include "app/dialogs/named_card.h"
#include "model/assortment.h"

namespace app {

class NumberField;

class SetCard : public NamedCard {
    Q_OBJECT
  public:
    /// `chosen` is the item chosen in the Stock.
    SetCard(QWidget* parent, Editor& editor, std::string chosen);

  protected:
    QStringList names() const override;
    void fillRows() override;
    void add() override;
    void remove() override;

  private:
    const model::PieceSet* set() const;
    bool keep(const model::PieceSet& set, const std::string& step);
    void setCell(const QString& text);
    void setJoin(const std::string& item, model::Side side, bool joins);
    void takeOut(const std::string& item);
    void addRow(const model::PieceSet::Piece& piece, int row);

    NumberField* cell_;
};

}  // namespace app
