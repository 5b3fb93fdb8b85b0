#pragma once
// Properties of the selected objects: name, pose, and the facets they have. One typed value, one drag of a mark or one
// press of an arrow key is one history step; with several objects a relative value applies to each.
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>
#include <array>
#include <functional>
#include <memory>

#include "app/panels/facet_cards.h"
#include "app/panels/fold_card.h"
#include "app/panels/number_field.h"
#include "app/panels/property_rows.h"
#include "app/shell/editor.h"
#include "ops/move.h"

namespace app {

class PropertiesPanel : public QWidget {
    Q_OBJECT
  public:
    explicit PropertiesPanel(Editor& editor, QWidget* parent = nullptr);

  Q_SIGNALS:
    /// The copies of the selected array are to be made alike.
    void alikeAsked();

  private:
    /// A facet's number: where it is kept, and what it may be.
    struct FacetField {
        QString label;
        NumberField* field;
        std::function<std::optional<double>(const model::Detail&)> get;
        std::function<void(model::Detail&, double)> set;
        double low, high;
    };
    struct FacetColour {
        QToolButton* swatch;
        std::function<std::optional<base::Vec3>(const model::Detail&)> get;
    };
    struct FacetCard {
        QWidget* card;
        std::function<bool(const model::Detail&)> present;
        std::vector<std::size_t> fields;  // into facetFields_
    };

    FoldCard* makeCard(const char* name, const QString& title, const QString& right, QVBoxLayout*& inside);
    void makePose(QVBoxLayout* layout);
    void makeProperties(QVBoxLayout* layout);
    void refreshProperties(const std::vector<model::Slot>& all);
    void showButtons(const model::Kind* kind);
    void setProperty(const QString& name, const ops::ChangeValue& change);
    void pointAt(const QString& name);
    void listTargets(const QString& name, QMenu* menu);
    void makeFacets(QVBoxLayout* layout);
    void makeArrayCard(QVBoxLayout* layout);
    void makeArrayOddities(QVBoxLayout* inside);
    void showArrayOddities(model::Slot array);
    void makeSolidCard(QVBoxLayout* layout);
    /// A colour in one field, over its three numbers.
    void addFacetColour(QVBoxLayout* into, const char* name,
                        std::function<std::optional<base::Vec3>(const model::Detail&)> get,
                        std::function<void(model::Detail&, const base::Vec3&)> set);
    std::size_t addFacetField(QVBoxLayout* into, const QString& label, base::Quantity quantity, double low, double high,
                              double step, std::function<std::optional<double>(const model::Detail&)> get,
                              std::function<void(model::Detail&, double)> set);
    void refresh();
    void recolour();
    std::vector<model::Slot> slots() const;
    std::string stepName(const char* what) const;
    base::Status setPose(edit::Draft& draft, ops::PoseField field,
                         const std::function<base::Result<double>(double)>& change);
    void typePose(ops::PoseField field, const QString& expression);
    void beginPoseDrag(ops::PoseField field);
    void dragPose(ops::PoseField field, double change);
    void typeFacet(std::size_t index, const QString& expression);
    bool editDetail(const std::string& name, const std::function<base::Status(model::Detail&)>& edit);

    Editor& editor_;
    QLabel *title_, *kind_, *differs_, *empty_;
    QLineEdit* name_;
    QScrollArea* scroll_;
    QWidget* body_;
    FoldCard *objectCard_, *kindCard_;
    QLineEdit* propertyFilter_;
    PropertyRows* rows_;
    QWidget* arrayOdd_ = nullptr;  // copies that are not as their array says
    QLabel* arrayOddText_ = nullptr;
    QWidget* buttons_;  // that the kind declares
    std::vector<model::KindButton> buttonsShown_;
    FacetCards* cards_;
    std::array<NumberField*, 9> pose_{};
    std::vector<FacetField> facetFields_;
    std::vector<FacetColour> facetColours_;
    std::vector<FacetCard> facetCards_;
    QPlainTextEdit* note_ = nullptr;
    QWidget* noteCard_ = nullptr;
    std::unique_ptr<edit::Draft> draft_;
    std::vector<base::Transform> dragStart_;
    std::vector<base::ObjectId> dragIds_;
};

}  // namespace app
