#pragma once
// The like things that one thing has, such as an item's berths: their list, and the fields of the one that is chosen.
#include <QToolButton>
#include <QTreeWidget>

#include "app/panels/form.h"

namespace app {

class PartsForm : public QWidget {
    Q_OBJECT
  public:
    /// `member` is a list; its own fields begin with the name. `change` is that of the whole thing.
    PartsForm(Editor& editor, const model::Member& member, FieldsForm::Change change, QWidget* parent = nullptr);
    /// A copy of the thing is kept: `keep` holds it.
    void show(std::shared_ptr<const void> keep);
    /// Adds one that `fill` makes of a fresh one.
    void add(const std::function<void(void* part)>& fill);
    /// What the list says of a part, when its name does not say it.
    void say(std::function<QString(const void* part)> text) { textOf_ = std::move(text); }
    /// Changes the chosen part: for what is listed within it.
    base::Status changeChosen(const std::function<base::Status(void*)>& set);
    /// The chosen one comes before the one above it, or after the one below it.
    void shift(int by);
    /// They are put into another order by dragging in the list, too.
    void letBeDragged();
    FieldsForm& form() { return *form_; }
    void choose(int at);
    /// A further button in its row.
    void addAct(QToolButton* act) { acts_->addWidget(act); }

    /// The place of the one that is chosen; -1: none.
    int chosen() const;

  Q_SIGNALS:
    /// Another part is shown, or the same as it is now; null: none.
    void shown(const void* part);

  private:
    bool eventFilter(QObject* object, QEvent* event) override;
    void move(int from, int to);
    void remove();
    void showChosen();

    const model::Member& member_;
    FieldsForm::Change change_;
    std::shared_ptr<const void> thing_;  // what is shown; who shows it may have gone on to another
    QTreeWidget* list_;
    FieldsForm* form_;
    QBoxLayout* acts_;
    QToolButton* remove_;
    std::function<QString(const void*)> textOf_;
    bool isFilling_ = false;
    int wanted_ = -1;  // to be chosen when it is there
};

}  // namespace app
