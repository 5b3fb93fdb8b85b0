#pragma once
// The chosen point of the selected route: which one, and what it says.
#include <QLabel>
#include <QToolButton>
#include <QWidget>

#include "app/panels/form.h"
#include "app/shell/editor.h"
#include "model/facets/route.h"

namespace app {

class RouteForm : public QWidget {
    Q_OBJECT
  public:
    explicit RouteForm(Editor& editor, QWidget* parent = nullptr);
    /// Zero: nothing is selected alone.
    void show(base::ObjectId id);

  private:
    void go(int by);
    base::Status change(const model::Property& property, const std::function<base::Status(void*)>& set);
    std::size_t chosen() const;

    Editor& editor_;
    base::ObjectId id_;
    model::Route shown_;
    QLabel* which_;
    QToolButton *before_, *after_;
    FieldsForm* form_;
};

}  // namespace app
