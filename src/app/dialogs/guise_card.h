#pragma once
// The project's guises, over the view: a click shows one; below stands what it shows in place of what, and its light.
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QToolButton>
#include <QTreeWidget>

#include "app/dialogs/side_card.h"
#include "app/panels/form.h"

namespace app {

class GuiseCard : public SideCard {
    Q_OBJECT
  public:
    GuiseCard(QWidget* parent, Editor& editor);

  private:
    void makeList();
    void makeTable();
    void refresh();
    void fillList();
    void fillTable(const model::Guise& guise);
    void offerFrom();
    /// A row of the table: what sort of thing is swapped, and what for what.
    enum class What { Surface, Item, Tint };
    void put(What what, const std::string& from, const std::string& to);
    void addRow();
    void removeRow();
    void makeNew();
    void change(const std::string& step, const std::function<void(model::Guise&)>& change);
    base::Status setLight(const model::Property& property, const std::optional<model::Value>& value);
    /// What is shown; null: the scene as it is.
    const model::Guise* shown() const { return editor_.guise(); }

    Editor& editor_;
    QListWidget* list_;
    QToolButton *rename_, *remove_, *own_;
    QWidget* body_;
    QTreeWidget* table_;
    QComboBox *what_, *from_, *to_;
    Form* light_;
    bool filling_ = false;
};

}  // namespace app
