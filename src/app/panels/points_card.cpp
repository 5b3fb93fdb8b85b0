// The card for an object's points: their list, and the one that is chosen.
#include <QHBoxLayout>
#include <QHeaderView>

#include "app/kit/parts.h"
#include "app/look/colour.h"
#include "app/names.h"
#include "app/panels/colour_popover.h"
#include "app/panels/facet_cards.h"
#include "base/text.h"
#include "model/facets/points.h"
#include "ops/facets.h"

namespace app {

using base::Quantity;

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
    pointName_ = new QLineEdit;
    pointName_->setObjectName("pointName");
    pointName_->setPlaceholderText(tr("Name"));
    pointName_->setAccessibleName(tr("Name of the point"));
    inside->addWidget(pointName_);
    connect(pointName_, &QLineEdit::editingFinished, this, [this] {
        if (!pointName_->isModified()) return;
        pointName_->setModified(false);
        changePoint("Name a point", [this](model::PlacePoint& p) { p.name = pointName_->text().toStdString(); });
    });
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    const QString names[] = {tr("Point X"), tr("Point Y"), tr("Point Z"), tr("Point turn"), tr("Point radius")};
    for (std::size_t i = 0; i < 5; ++i) {
        const Quantity quantity = i == 3 ? Quantity::Angle : Quantity::Length;
        auto* field = new NumberField(quantity, i == 3 ? 1 : 2);
        field->setObjectName(QString(names[i]).remove(' '));
        field->setAccessibleName(names[i]);
        field->setToolTip(i < 3    ? tr("Metres, in the axes of its object, or the world’s when points stay")
                          : i == 3 ? tr("Which way one faces there, degrees")
                                   : tr("Metres; 0: a bare point"));
        pointNumbers_[i] = field;
        if (i < 3) {
            static constexpr FieldMark kMarks[] = {FieldMark::Cube, FieldMark::Ball, FieldMark::Cone};
            field->setMark(kMarks[i], editor_.theme().axis[i]);
            grid->addWidget(field, 0, static_cast<int>(i));
        } else {
            auto* what = new QLabel(i == 3 ? tr("turn") : tr("radius m"));
            what->setObjectName("faint");
            grid->addWidget(what, 1, static_cast<int>(i) - 3);
            grid->addWidget(field, 2, static_cast<int>(i) - 3);
        }
        auto write = [this, i, quantity](const QString& typed) {
            changePoint(i < 3    ? "Move a point"
                        : i == 3 ? "Turn a point"
                                 : "Size a point",
                        [&](model::PlacePoint& p) {
                            const double now = i < 3    ? p.at[static_cast<int>(i)]
                                               : i == 3 ? p.turnDegrees.value_or(0)
                                                        : p.radiusMetres;
                            auto value = base::evaluateQuantity(typed.toStdString(), quantity, now);
                            if (!editor_.report(value ? Status{} : Status(tl::unexpected(value.error())))) return;
                            if (i < 3) p.at[static_cast<int>(i)] = *value;
                            if (i == 3) p.turnDegrees = std::remainder(*value, 360.0);
                            if (i == 4) p.radiusMetres = *value;
                        });
        };
        connect(field, &NumberField::typed, this, write);
        connect(field, &NumberField::stepped, this, [write](double d) { write(QString("+=%1").arg(d, 0, 'g', 12)); });
    }
    pointColour_ = new QToolButton;
    pointColour_->setObjectName("pointColour");
    pointColour_->setText(tr("Colour…"));
    pointColour_->setToolTip(tr("The colour of this point in the view"));
    grid->addWidget(pointColour_, 2, 2);
    connect(pointColour_, &QToolButton::clicked, this, [this] {
        new ColourPopover(pointColour_, Qt::white, [this](const QColor& c) {
            changePoint("Colour a point", [&](model::PlacePoint& p) { p.colour = toLinear(c); });
        });
    });
    inside->addLayout(grid);
    auto* row = new QHBoxLayout;
    auto act = [&](const char* name, const QString& text, const QString& tip,
                   const std::function<Status(edit::Draft&, base::ObjectId, std::size_t)>& verb) {
        auto* b = new QToolButton;
        b->setObjectName(QLatin1String(name));
        b->setText(text);
        b->setToolTip(tip);
        b->setAccessibleName(tip);
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
    inside->addLayout(row);
}

void FacetCards::changePoint(const std::string& what, const std::function<void(model::PlacePoint&)>& edit) {
    const base::ObjectId id = only();
    if (filling_ || !id) return;
    const std::size_t at = editor_.chosenPoint();
    editor_.run(what, [&](edit::Draft& draft) -> Status {
        const model::DetailPtr& detail = draft.scene().detail(draft.scene().find(id));
        if (!detail || !detail->get<model::PointSet>() || at >= detail->get<model::PointSet>()->points.size())
            return {};
        model::PointSet set = *detail->get<model::PointSet>();
        edit(set.points[at]);
        return ops::setPoints(draft, id, set);
    });
    show(all_);
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
    const bool any = at < set.points.size();
    for (QWidget* w : {static_cast<QWidget*>(pointName_), static_cast<QWidget*>(pointColour_)}) w->setEnabled(any);
    for (NumberField* field : pointNumbers_) field->setEnabled(any);
    if (any) {
        const model::PlacePoint& p = set.points[at];
        if (static_cast<int>(at) < rows) pointList_->setCurrentItem(pointList_->topLevelItem(static_cast<int>(at)));
        if (!pointName_->hasFocus() || !pointName_->isModified()) pointName_->setText(QString::fromStdString(p.name));
        for (int k = 0; k < 3; ++k) pointNumbers_[static_cast<std::size_t>(k)]->setValue(p.at[k]);
        pointNumbers_[3]->setValue(p.turnDegrees.value_or(0));
        pointNumbers_[4]->setValue(p.radiusMetres);
    }
    filling_ = wasFilling;
}

}  // namespace app
