#pragma once
// A condition put together from what there is: which property, how it is compared, with what.
#include <QComboBox>
#include <QLineEdit>
#include <QWidget>
#include <vector>

#include "model/property.h"

namespace app {

class ConditionField : public QWidget {
    Q_OBJECT
  public:
    explicit ConditionField(QWidget* parent = nullptr);
    /// Shows a condition, as model::parseCondition() reads it; `asked` is what it may ask for.
    void show(const std::vector<model::Property>& asked, const QString& condition);

  Q_SIGNALS:
    /// Empty: none.
    void changed(const QString& condition);

  private:
    const model::Property* property() const;
    void chooseProperty();
    void fillSigns();
    void fillOperand();
    void tell();

    std::vector<model::Property> asked_;
    std::optional<model::Condition> now_;
    QComboBox *property_, *sign_, *choice_;
    QLineEdit* operand_;
};

}  // namespace app
