#pragma once
// A card for what the project keeps under names, made of the Stock’s items: a name is chosen or typed, below it stand
// the rows of its parts, and at the foot what is done with it.
#include <QComboBox>
#include <QGridLayout>
#include <QPointer>
#include <QPushButton>

#include "app/dialogs/side_card.h"

namespace app {

class Editor;

class NamedCard : public SideCard {
    Q_OBJECT
  public:
    /// The item that is chosen in the Stock from now on.
    void setItem(const std::string& item);

  protected:
    struct Texts {
        const char* id;  ///< what the widgets’ names begin with
        QString title, name, nameTip, newName, addTip, choose, remove, removeTip;
    };
    NamedCard(QWidget* parent, int width, Editor& editor, std::string chosen, const Texts& texts);
    /// The last of a constructor: shows the first of the project’s.
    void begin();
    virtual QStringList names() const = 0;
    /// Fills the rows and says what can be done; the grid is empty.
    virtual void fillRows() = 0;
    virtual void add() = 0;
    virtual void remove() = 0;
    void refresh();
    void showRows();
    QString labelOf(const std::string& item) const;
    /// A button that takes a part out again.
    void addAway(const std::string& item, int row, int column, const std::function<void()>& takeOut);
    void setCan(bool isThere, bool hasItem);

    Editor& editor_;
    std::string item_, name_;
    QGridLayout* grid_;
    QPushButton *add_, *remove_;

  private:
    QString choose_;
    QComboBox* names_;
};

/// Opens a card, or goes to the one that is open.
template <class Card>
void openCard(QPointer<Card>& card, QWidget& parent, Editor& editor, const QString& item) {
    if (card != nullptr) return card->setFocus();
    card = new Card(&parent, editor, item.toStdString());
    card->show();
}

}  // namespace app
