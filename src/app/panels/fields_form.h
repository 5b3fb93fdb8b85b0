#pragma once
// The form of one thing that is described by its fields: tools, cards, settings. It keeps no copy of the thing.
#include "app/panels/property_rows.h"
#include "model/facet.h"

namespace app {

class FieldsForm : public PropertyRows {
    Q_OBJECT
  public:
    using Set = std::function<base::Status(const model::Member&, const model::Value&)>;
    /// `set` takes what was typed or chosen. What does not fit is said, and the field shows what there was.
    FieldsForm(Editor& editor, const model::Fields& fields, Set set, QWidget* parent = nullptr);
    /// `thing` is of the type that the fields describe.
    void show(const void* thing);
    /// What a text is finished from.
    void offer(const std::string& key, std::vector<model::Choice> choices);

  private:
    void take(const QString& name, const std::function<base::Result<model::Value>(const PropertyShown&)>& to);

    Editor& editor_;
    const model::Fields& fields_;
    Set set_;
    std::vector<std::pair<std::string, std::vector<model::Choice>>> offers_;
    std::vector<PropertyShown> shown_;
};

}  // namespace app
