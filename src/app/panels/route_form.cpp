#include "app/panels/route_form.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/kit/parts.h"
#include "app/names.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/routes.h"

namespace app {

RouteForm::RouteForm(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("routeForm");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    head->addWidget(which_ = label({}, "cardTitle"));
    which_->setObjectName("routePoint");
    head->addStretch();
    head->addWidget(before_ = button<QToolButton>("routePointBefore", tr("‹"), tr("The point before it")));
    head->addWidget(after_ = button<QToolButton>("routePointAfter", tr("›"), tr("The point after it")));
    rows->addLayout(head);
    rows->addWidget(
        form_ = new FieldsForm(editor_, *model::Route::type().fields.find("points")->parts.fields,
                               [this](const auto& property, const auto& set) { return change(property, set); }));
    form_->setObjectName("routePointForm");
    connect(before_, &QToolButton::clicked, this, [this] { go(-1); });
    connect(after_, &QToolButton::clicked, this, [this] { go(1); });
    connect(&editor_, &Editor::chosenPointChanged, this, [this] {
        if (isVisible() && id_) show(id_);
    });
}

std::size_t RouteForm::chosen() const {
    const std::size_t most = shown_.points.empty() ? 0 : shown_.points.size() - 1;
    return std::min(editor_.chosenPoint(), most);
}

void RouteForm::go(int by) {
    if (shown_.points.empty()) return;
    const auto n = static_cast<int>(shown_.points.size());
    editor_.setChosenPoint(static_cast<std::size_t>((static_cast<int>(chosen()) + by + n) % n));
}

void RouteForm::show(base::ObjectId id) {
    const Slot slot = id ? editor_.scene().find(id) : kNoSlot;
    const auto* route =
        slot != kNoSlot && editor_.scene().detail(slot) ? editor_.scene().facet<model::Route>(slot) : nullptr;
    setVisible(route != nullptr && !route->points.empty());
    id_ = isVisibleTo(parentWidget()) ? id : base::ObjectId{};
    if (!id_) return;
    shown_ = *route;
    which_->setText(tr("Point %1 of %2").arg(chosen() + 1).arg(shown_.points.size()));
    form_->show(&shown_.points[chosen()]);
}

base::Status RouteForm::change(const model::Property& property, const std::function<base::Status(void*)>& set) {
    if (!id_) return {};
    const base::ObjectId id = id_;
    const std::size_t at = chosen();
    base::Status done;
    editor_.run("Set " + base::lowered(property.label) + " of a point of " + ops::describe(editor_.scene(), {&id, 1}),
                [&](edit::Draft& draft) {
                    return done = ops::changeRoute(draft, id, [&](Slot, model::Route& route) -> base::Status {
                               if (at >= route.points.size()) return {};
                               return set(&route.points[at]);
                           });
                });
    return done;
}

}  // namespace app
