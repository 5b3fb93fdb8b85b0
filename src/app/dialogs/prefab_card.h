#pragma once
// Makes prefabs, or merged items, of what is selected: name, folder, base point, one after the other. It lies over the
// view, which can be worked in meanwhile.
#include <QButtonGroup>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/dialogs/side_card.h"
#include "app/panels/form.h"
#include "app/shell/editor.h"
#include "ops/prefab.h"

namespace app {

class PrefabCard : public SideCard {
    Q_OBJECT
  public:
    enum class Makes { Prefab, MergedItem };
    PrefabCard(QWidget* parent, Editor& editor, Makes makes = Makes::Prefab);
    ~PrefabCard() override;

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void makeFields(QVBoxLayout* into);
    void makeBasePoint(QVBoxLayout* into);
    void makeQuestion();
    void makeButtons();
    std::string proposedName() const;
    const model::Fields& fields() const;
    void refresh();
    void make(bool goOn);
    base::Status mergeAs(const std::string& name);
    void made(const std::string& name, const base::Status& done, bool goOn);
    QString mergedFacts() const;
    void makeAs(const std::string& name, base::ObjectId update, bool goOn);
    void askAboutName(const std::string& name, base::ObjectId held, bool goOn);
    base::Vec3 basePoint() const;

    Editor& editor_;
    Makes makes_;
    ops::MakePrefab how_;  // as its fields say
    FieldsForm* fields_;
    QComboBox* height_;
    QButtonGroup* footprint_;
    QPushButton *pick_, *make_, *makeMore_;
    QLabel *size_, *problem_, *tally_;
    QFrame* question_;
    QLabel* questionText_;
    QPushButton *update_, *newName_;
    std::optional<base::Vec3> picked_;
    std::string asked_;  // the name that is in use, and what was to be done
    bool askedGoOn_ = false;
    int made_ = 0;
};

}  // namespace app
