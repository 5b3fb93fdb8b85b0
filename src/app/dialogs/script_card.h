#pragma once
// The form of a script's command, over the view: typed fields, what it would do, do it. One that stays open follows
// the selection and draws as it goes.
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "app/dialogs/side_card.h"
#include "app/panels/form.h"
#include "app/shell/scripts.h"

namespace app {

class ScriptCard : public SideCard {
    Q_OBJECT
  public:
    ScriptCard(QWidget* parent, Editor& editor, Scripts& scripts, const script::Offer& offer);
    ~ScriptCard() override;

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void makeForm();
    void makeWhere();
    void makeFoot();
    void listen();
    /// The file was changed: what it declares now, or nothing any more.
    void readAgain();
    base::Status set(const model::Property& property, const model::Value& value);
    void pickPlace(const model::Property& property);
    void pickObject(const model::Property& property);
    void listTargets(const model::Property& property, QMenu* menu);
    void refresh();
    void act(bool keep);
    ScriptJob job();
    void refreshWhere();
    std::vector<std::string> chosenScenes() const;

    Editor& editor_;
    Scripts& scripts_;
    script::Offer offer_;
    model::ValueMap form_;
    Form* fields_;
    QLabel* problem_;
    QToolButton* where_;
    QMenu* scenes_;
    QPushButton *do_, *preview_;
};

}  // namespace app
