#pragma once
// The cards of Properties for what the selected objects have: one for each facet, made from what that says of itself,
// and the four switches. What no form can say stands in its card as well: the list of points, the slots of a mesh.
#include <QCheckBox>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/kit/fold_card.h"
#include "app/panels/parts_form.h"
#include "app/shell/editor.h"
#include "model/facets/points.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"

namespace app {

class CuesForm;
class FacetList;
class RouteForm;

/// Says why a row may not be changed, when it may not: the object is protected, the project only read.
void refuseWhereFixed(Editor& editor, model::Slot slot, PropertyShown& shown);

class FacetCards : public QWidget {
    Q_OBJECT
  public:
    /// `wire` joins rows to the verbs on properties.
    FacetCards(Editor& editor, const std::function<void(PropertyRows*)>& wire, QWidget* parent = nullptr);
    /// What is selected.
    void show(const std::vector<model::Slot>& all);

  Q_SIGNALS:
    /// The copies of the selected array are to be made alike.
    void alikeAsked();

  private:
    struct Card {
        const model::FacetType* type;
        FoldCard* card;
        PropertyRows* rows;
    };
    void makeSwitches();
    void makePoints(QVBoxLayout* inside);
    void makeSurfaces();
    void makeArrayOddities(QVBoxLayout* inside);
    void makeRelations(QVBoxLayout* inside);
    void makeSolid(QVBoxLayout* inside);
    void showSolid(const model::Scene& scene);
    void repeatOpening(int count);
    void showRelations(const model::Scene& scene);
    void makeAdd();
    void fillAdd(QMenu* menu);
    void showSwitches(const model::Scene& scene);
    void showArrayOddities(model::Slot array);
    QLayout* makePointActs();
    base::Status changePoint(const std::string& what, const std::function<base::Status(void*)>& change);
    void showPoints(const model::Scene& scene);
    void showSurfaces(const model::Scene& scene);
    void fillSlots(const model::Item& item);
    void showSlot();
    base::Status changeSlot(const model::Property& property, const std::function<base::Status(void*)>& change);
    base::ObjectId only() const;

    Editor& editor_;
    QVBoxLayout* layout_;
    std::vector<model::Slot> all_;
    std::vector<Card> cards_;
    std::vector<std::pair<std::uint8_t, QCheckBox*>> switches_;
    QWidget* points_ = nullptr;
    QTreeWidget* pointList_ = nullptr;
    FieldsForm* pointForm_ = nullptr;  // of the chosen one
    QWidget* surfaces_ = nullptr;
    QTreeWidget* slotList_ = nullptr;
    FieldsForm* slotForm_ = nullptr;  // of the chosen one
    /// What the slots were last shown from: a drag changes none of it.
    struct SlotsShown {
        struct One {
            base::ObjectId id;
            base::Name item, kind;
            model::DetailPtr detail;
            bool fixed = false;
            friend bool operator==(const One&, const One&) = default;
        };
        std::vector<One> objects;
        std::size_t selected = 0;
        bool readOnly = false;
        std::vector<std::string> slots;
        model::Library::Surfaces library;
        friend bool operator==(const SlotsShown&, const SlotsShown&) = default;
    };
    SlotsShown slotsShown_;
    QToolButton* slotsToOthers_ = nullptr;
    QWidget* arrayOdd_ = nullptr;  // copies that are not as their array says
    QLabel* arrayOddText_ = nullptr;
    QWidget* relations_ = nullptr;
    PartsForm *openings_ = nullptr, *dressed_ = nullptr;  // of the one solid that is selected
    std::shared_ptr<const model::Solid> solidShown_;
    std::pair<base::ObjectId, std::vector<std::string>> relationsShown_;
    std::vector<FacetList*> lists_;
    CuesForm* cues_ = nullptr;    // of the one that is selected
    RouteForm* route_ = nullptr;  // the same
    QToolButton* add_ = nullptr;
    bool filling_ = false;
};

}  // namespace app
