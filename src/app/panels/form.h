#pragma once
// Forms for one thing at a time: what a script asks for, a rule's numbers, a tool, a card, a surface. They keep no copy
// of what they show.
#include <optional>
#include <set>

#include "app/panels/property_rows.h"
#include "model/facet.h"

namespace app {

/// Some properties and their values.
class Form : public PropertyRows {
    Q_OBJECT
  public:
    /// Takes what was typed or chosen for a property; nothing: the default again. What it refuses is said, and the
    /// field shows what there was.
    using Set = std::function<base::Status(const model::Property&, const std::optional<model::Value>&)>;
    Form(Editor& editor, Set set, QWidget* parent = nullptr);
    void show(std::vector<PropertyShown> shown);

  Q_SIGNALS:
    /// What was typed does not fit, and why. Who listens says it in place of the usual message.
    void refused(const QString& why);

  private:
    void take(const QString& name,
              const std::function<base::Result<std::optional<model::Value>>(const PropertyShown&)>& to);

    Editor& editor_;
    Set set_;
    std::vector<PropertyShown> shown_;
};

/// One thing that is described by its fields.
class FieldsForm : public Form {
    Q_OBJECT
  public:
    /// Takes the change of a thing of the type that the fields describe.
    using Change = std::function<base::Status(const model::Property&, const std::function<base::Status(void*)>&)>;
    FieldsForm(Editor& editor, const model::Fields& fields, Change change, QWidget* parent = nullptr);
    void show(const void* thing) { show(std::vector<const void*>{thing}); }
    /// Several: where they are not the same it says so.
    void show(const std::vector<const void*>& things);
    /// No rows for these.
    void leaveOut(std::set<std::string> keys) { leftOut_ = std::move(keys); }
    /// What a text is finished from.
    void offer(const std::string& key, std::vector<model::Choice> choices);
    /// It is one of these.
    void offerOnly(const std::string& key, std::vector<model::Choice> choices);

  private:
    const model::Fields& fields_;
    struct Offer {
        std::string key;
        std::vector<model::Choice> choices;
        bool isAll = false;  // nothing else may be said
    };
    void put(Offer offer);
    std::vector<Offer> offers_;
    std::set<std::string> leftOut_;
};

}  // namespace app
