#pragma once
// The cards of Properties for bodies, points, zones, surfaces and the four switches. Each shows what the selected
// objects have, and writes through one verb, one step.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QToolButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <QWidget>
#include <array>
#include <functional>
#include <vector>

#include "app/panels/fold_card.h"
#include "app/panels/number_field.h"
#include "app/shell/editor.h"
#include "ops/facets.h"

namespace app {

/// A number of a facet: the field, and how the facet has it.
struct FacetNumber {
    NumberField* field;
    std::function<std::optional<double>(const model::Detail&)> get;
};

class FacetCards : public QWidget {
    Q_OBJECT
  public:
    explicit FacetCards(Editor& editor, QWidget* parent = nullptr);
    /// What is selected.
    void show(const std::vector<model::Slot>& all);

  private:
    QWidget* card(const char* name, const QString& title, QVBoxLayout*& inside);
    void makeSwitches();
    void makeBody();
    void makeZone();
    void makePoints();
    void makeSurfaces();
    void makeAdd();
    void fillAdd(QMenu* menu);
    void addNumber(QVBoxLayout* into, const QString& text, base::Quantity quantity,
                   std::function<std::optional<double>(const model::Detail&)> get,
                   std::function<void(model::Detail&, double)> set);
    QComboBox* addChoice(QVBoxLayout* into, const QString& text, const QStringList& names,
                         const std::function<void(model::Detail&, int)>& set);
    /// Changes the facets of all that is selected, through the verbs that check them.
    void change(const std::string& what, const ops::ChangeDetail& edit);
    void changePoint(const std::string& what, const std::function<void(model::PlacePoint&)>& edit);
    void showPoints(const model::Scene& scene);
    void showSurfaces(const model::Scene& scene);
    void fillSlotMenu(QMenu* menu, const std::string& slot);
    void setSlot(const std::string& what, const std::string& slot,
                 const std::function<void(model::SlotSurface&)>& edit);
    base::ObjectId only() const;

    Editor& editor_;
    QVBoxLayout* layout_;
    std::vector<model::Slot> all_;
    QWidget *body_ = nullptr, *zone_ = nullptr, *points_ = nullptr, *surfaces_ = nullptr;
    std::vector<std::pair<std::uint8_t, QCheckBox*>> switches_;
    QComboBox *role_ = nullptr, *shape_ = nullptr, *zoneShape_ = nullptr;
    QCheckBox *fitted_ = nullptr, *stay_ = nullptr;
    std::vector<FacetNumber> numbers_;
    QTreeWidget* pointList_ = nullptr;
    QLineEdit* pointName_ = nullptr;
    std::array<NumberField*, 5> pointNumbers_{};  // x, y, z, turn, radius
    QToolButton* pointColour_ = nullptr;
    QVBoxLayout* slotRows_ = nullptr;
    /// What the rows of slots were last made from.
    struct SlotsShown {
        base::ObjectId id;
        base::Name item;
        model::DetailPtr detail;
        model::Library::Surfaces library;
        friend bool operator==(const SlotsShown&, const SlotsShown&) = default;
    };
    SlotsShown slotsShown_;
    QToolButton* add_ = nullptr;
    bool filling_ = false;
};

}  // namespace app
