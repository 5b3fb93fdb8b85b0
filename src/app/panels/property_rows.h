#pragma once
// A form for typed properties, an editor fitting each type; for objects and records alike. It keeps no values: it
// shows what it is given, and tells what was typed, chosen or asked for.
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <memory>
#include <vector>

#include "app/shell/editor.h"
#include "model/property.h"

namespace app {

/// One property as it is to be shown.
struct PropertyShown {
    model::Property property;
    std::optional<model::Value> value;  ///< nothing: several objects with different ones
    std::vector<model::Choice> choices;
    bool own = false;       ///< it is not the default
    bool fixed = false;     ///< may not be changed
    QString why;            ///< why not
    bool optional = false;  ///< may be without a value: then nothing means that
    bool isCondition = false;
    std::vector<model::Property> asked{};  ///< what a condition may ask for
    friend bool operator==(const PropertyShown&, const PropertyShown&) = default;
};

class PropertyRow;

class PropertyRows : public QWidget {
    Q_OBJECT
  public:
    explicit PropertyRows(Editor& editor, QWidget* parent = nullptr);
    ~PropertyRows() override;
    /// The row of a property stays as long as that is shown.
    void show(const std::vector<PropertyShown>& shown);
    /// Only those whose name or label has this in it.
    void setFilter(const QString& text);
    /// The keyboard goes to that one's field, with all in it selected.
    void focusField(const QString& name);
    /// What is being typed counts now, though the keyboard is still in its field.
    void takeTyped();

  Q_SIGNALS:
    /// As ops::typedValue takes it.
    void typed(const QString& name, const QString& text);
    void chosen(const QString& name, const model::Value& value);
    void resetAsked(const QString& name);
    /// Something in the scene is to be pointed at.
    void pointAsked(const QString& name);
    /// A place in the scene is to be pointed at.
    void placeAsked(const QString& name);
    /// The list of what a link may lead to is about to be shown.
    void targetsAsked(const QString& name, QMenu* menu);
    void goTo(base::ObjectId id);

  private:
    friend class PropertyRow;
    void place();
    void retire(PropertyRow* row);

    Editor& editor_;
    QVBoxLayout* layout_;
    std::vector<PropertyRow*> rows_;
    std::vector<QWidget*> headings_;
    QString filter_;
};

}  // namespace app
