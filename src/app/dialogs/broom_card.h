#pragma once
// What the broom does and how: over the view while the broom is in the hand.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <functional>
#include <vector>

#include "app/dialogs/side_card.h"
#include "app/panels/number_field.h"
#include "app/shell/editor.h"

namespace app {

class BroomCard : public SideCard {
    Q_OBJECT
  public:
    BroomCard(QWidget* parent, Editor& editor);
    /// What it scatters: the item chosen in the Stock.
    void setItem(const std::string& item);

  private:
    struct Field {
        QWidget* row;
        NumberField* field;
        std::function<double(const ops::BroomSettings&)> get;
        std::function<void(ops::BroomSettings&, double)> set;
        double low, high;
        bool scatterOnly, varies;  ///< which verbs have it
    };
    void add(const char* name, const QString& text, base::Quantity quantity, double low, double high, bool scatterOnly,
             bool varies, std::function<double(const ops::BroomSettings&)> get,
             std::function<void(ops::BroomSettings&, double)> set);
    void change(const std::function<void(ops::BroomSettings&)>& change);
    void refresh();

    Editor& editor_;
    QComboBox* verb_;
    QLabel* item_;
    QLineEdit* filter_;
    QToolButton* align_;
    std::vector<Field> fields_;
};

}  // namespace app
