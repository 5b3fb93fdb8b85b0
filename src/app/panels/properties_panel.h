#pragma once
// Properties of the selected objects: name, pose, and the facets they have. One typed value, one drag of a mark or one
// press of an arrow key is one history step; with several objects a relative value applies to each.
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>
#include <array>
#include <functional>
#include <memory>

#include "app/kit/fold_card.h"
#include "app/kit/number_field.h"
#include "app/panels/facet_cards.h"
#include "app/panels/property_rows.h"
#include "app/shell/editor.h"
#include "ops/move.h"
#include "ops/properties.h"

namespace app {

class SceneCard;

class PropertiesPanel : public QWidget {
    Q_OBJECT
  public:
    explicit PropertiesPanel(Editor& editor, QWidget* parent = nullptr);

  Q_SIGNALS:
    /// The copies of the selected array are to be made alike.
    void alikeAsked();

  private:
    FoldCard* makeCard(const char* name, const QString& title, const QString& right, QVBoxLayout*& inside);
    void makePose(QVBoxLayout* layout);
    void makeProperties(QVBoxLayout* layout);
    /// Joins rows to the verbs on properties, a kind's or a facet's.
    void wire(PropertyRows* rows);
    void refreshProperties(const std::vector<model::Slot>& all);
    void showButtons(const model::Kind* kind);
    void setProperty(const QString& name, const ops::ChangeValue& change);
    void pointAt(const QString& name);
    void listTargets(const QString& name, QMenu* menu);
    void refresh();
    void recolour();
    void showKinds(const std::vector<model::Slot>& all);
    void changeKind();
    void showOutfits(const std::vector<model::Slot>& all);
    void changeOutfit();
    std::vector<model::Slot> slots() const;
    std::string stepName(const char* what) const;
    base::Status setPose(edit::Draft& draft, ops::PoseField field,
                         const std::function<base::Result<double>(double)>& change);
    void typePose(ops::PoseField field, const QString& expression);
    void beginPoseDrag(ops::PoseField field);
    void dragPose(ops::PoseField field, double change);

    Editor& editor_;
    QLabel *title_, *kind_, *differs_, *empty_;
    QLineEdit* name_;
    QComboBox *kindChoice_, *outfitChoice_;
    QStringList kindsOffered_;
    QScrollArea* scroll_;
    QWidget* body_;
    FoldCard *objectCard_, *kindCard_;
    FoldCard* poseCard_ = nullptr;
    QLineEdit* propertyFilter_;
    PropertyRows* rows_;
    QWidget* buttons_;  // that the kind declares
    std::vector<model::KindButton> buttonsShown_;
    FacetCards* cards_;
    SceneCard* sceneCard_;
    QWidget* selected_;  // all that is about what is selected
    QElapsedTimer liveClock_;
    std::array<NumberField*, 9> pose_{};
    std::unique_ptr<edit::Draft> draft_;
    std::vector<base::Transform> dragStart_;
    std::vector<base::ObjectId> dragIds_;
};

}  // namespace app
