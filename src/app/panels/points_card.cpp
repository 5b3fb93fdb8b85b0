// The card for an object's points: their list, and the one that is chosen.
#include <QHBoxLayout>
#include <QHeaderView>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/facet_cards.h"
#include "base/text.h"
#include "model/facets/points.h"
#include "ops/facets.h"

namespace app {

namespace {

const model::Fields& pointFields() {
    return *model::PointSet::type().fields.find("points")->parts.fields;
}

}  // namespace

void FacetCards::makePoints(QVBoxLayout* around) {
    points_ = new QWidget;
    auto* inside = new QVBoxLayout(points_);
    inside->setContentsMargins(0, 0, 0, 0);
    around->addWidget(points_);
    pointList_ = new QTreeWidget;
    pointList_->setObjectName("pointList");
    pointList_->setAccessibleName(tr("Points in their order"));
    pointList_->setHeaderLabels({tr("Point"), "X", "Y", "Z"});
    pointList_->setRootIsDecorated(false);
    pointList_->setUniformRowHeights(true);
    pointList_->setFixedHeight(150);
    pointList_->header()->setStretchLastSection(false);
    pointList_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (int c = 1; c < 4; ++c) pointList_->header()->resizeSection(c, 54);
    inside->addWidget(pointList_);
    connect(pointList_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* row) {
        if (!filling_ && row != nullptr)
            editor_.setChosenPoint(static_cast<std::size_t>(pointList_->indexOfTopLevelItem(row)));
    });
    pointForm_ = new FieldsForm(editor_, pointFields(), [this](const model::Property& property, const auto& set) {
        return changePoint("Set a point’s " + base::lowered(property.label), set);
    });
    pointForm_->setObjectName("pointForm");
    inside->addWidget(pointForm_);
    inside->addLayout(makePointActs());
}

QLayout* FacetCards::makePointActs() {
    auto* row = new QHBoxLayout;
    auto act = [&](const char* name, const QString& text, const QString& tip,
                   const std::function<Status(edit::Draft&, base::ObjectId, std::size_t)>& verb) {
        auto* b = app::button<QToolButton>(name, text, tip);
        row->addWidget(b);
        connect(b, &QToolButton::clicked, this, [this, tip, verb] {
            const base::ObjectId id = only();
            const std::size_t at = editor_.chosenPoint();
            editor_.run(tip.toStdString(), [&](edit::Draft& draft) { return verb(draft, id, at); });
            show(all_);
        });
    };
    act("pointEarlier", tr("↑"), tr("Point earlier"),
        [this](edit::Draft& d, base::ObjectId id, std::size_t at) -> Status {
            if (at == 0) return {};
            Status done = ops::reorderPoint(d, id, at, at - 1);
            if (done) editor_.setChosenPoint(at - 1);
            return done;
        });
    act("pointLater", tr("↓"), tr("Point later"), [this](edit::Draft& d, base::ObjectId id, std::size_t at) -> Status {
        if (at + 1 >= static_cast<std::size_t>(pointList_->topLevelItemCount())) return {};
        Status done = ops::reorderPoint(d, id, at, at + 2);
        if (done) editor_.setChosenPoint(at + 1);
        return done;
    });
    act("pointRemove", tr("Remove"), tr("Remove the point"),
        [](edit::Draft& d, base::ObjectId id, std::size_t at) { return ops::removePoints(d, id, {at}); });
    row->addStretch(1);
    return row;
}

/// The chosen one, as a step.
Status FacetCards::changePoint(const std::string& what, const std::function<Status(void*)>& change) {
    const base::ObjectId id = only();
    const std::size_t at = editor_.chosenPoint();
    if (filling_ || !id) return {};
    const model::PointSet* now = editor_.scene().facet<model::PointSet>(editor_.scene().find(id));
    if (now == nullptr || at >= now->points.size()) return {};
    model::PointSet set = *now;
    if (Status done = change(&set.points[at]); !done) return done;
    editor_.run(what, [&](edit::Draft& draft) { return ops::setPoints(draft, id, set); });
    show(all_);
    return {};
}

void FacetCards::showPoints(const model::Scene& scene) {
    const bool one = all_.size() == 1 && scene.alive(all_[0]) && scene.facet<model::PointSet>(all_[0]);
    points_->setVisible(one);
    if (!one) return;
    const bool wasFilling = std::exchange(filling_, true);
    const model::PointSet& set = *scene.facet<model::PointSet>(all_[0]);
    constexpr std::size_t kMostListed = 2000;
    const auto rows = static_cast<int>(std::min(set.points.size(), kMostListed));
    while (pointList_->topLevelItemCount() > rows) delete pointList_->takeTopLevelItem(rows);
    while (pointList_->topLevelItemCount() < rows) {
        auto* row = new QTreeWidgetItem(pointList_);
        for (int c = 1; c < 4; ++c) row->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
    }
    for (int i = 0; i < rows; ++i) {
        const model::PlacePoint& p = set.points[static_cast<std::size_t>(i)];
        QTreeWidgetItem* row = pointList_->topLevelItem(i);
        row->setText(0, QString("%1  %2").arg(i + 1).arg(QString::fromStdString(p.name)));
        for (int k = 0; k < 3; ++k) row->setText(k + 1, fixed(p.at[k], 2));
    }
    const std::size_t at = std::min(editor_.chosenPoint(), set.points.empty() ? 0 : set.points.size() - 1);
    pointForm_->setVisible(at < set.points.size());
    if (at < set.points.size()) {
        if (static_cast<int>(at) < rows) pointList_->setCurrentItem(pointList_->topLevelItem(static_cast<int>(at)));
        pointForm_->show(&set.points[at]);
    }
    filling_ = wasFilling;
}

}  // namespace app
