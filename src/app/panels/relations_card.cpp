// The card of lasting relations: what the object keeps, each with a button that breaks it.
#include <QToolButton>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/facet_cards.h"
#include "edit/session.h"
#include "model/facets/relations.h"
#include "ops/objects.h"
#include "ops/relations.h"

namespace app {

void FacetCards::makeRelations(QVBoxLayout* inside) {
    relations_ = new QWidget;
    auto* rows = new QVBoxLayout(relations_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(2);
    inside->addWidget(relations_);
}

/// By id and number: it may be another by the time one is pressed.
void FacetCards::showRelations(const model::Scene& scene) {
    std::vector<std::string> said;
    const base::ObjectId id = only();
    const Slot slot = id ? scene.find(id) : kNoSlot;
    if (slot != kNoSlot && scene.facet<model::Relations>(slot))
        for (const model::Relation& relation : scene.facet<model::Relations>(slot)->all)
            said.push_back(ops::relationText(scene, relation));
    if (said.empty() && all_.size() > 1) said.push_back(std::string());  // of several
    if (relationsShown_ == std::pair(id, said)) return;
    relationsShown_ = {id, said};
    qDeleteAll(relations_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    auto* rows = static_cast<QVBoxLayout*>(relations_->layout());
    for (std::size_t i = 0; i < said.size(); ++i) {
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        auto* text = label(said[i].empty() ? tr("Select one alone to see them.") : QString::fromStdString(said[i]), {});
        text->setWordWrap(true);
        row->addWidget(text, 1);
        rows->addWidget(line);
        if (said[i].empty()) continue;
        auto* ends = new QToolButton;
        ends->setObjectName(QString("breakRelation%1").arg(i));
        ends->setText(tr("Break"));
        ends->setToolTip(tr("It is not kept any more"));
        ends->setAccessibleName(tr("Break: %1").arg(text->text()));
        row->addWidget(ends);
        connect(ends, &QToolButton::clicked, this, [this, id, i] {
            editor_.run("Break a relation of " + ops::describe(editor_.scene(), {&id, 1}),
                        [&](edit::Draft& draft) { return ops::unrelate(draft, id, i); });
        });
    }
}

}  // namespace app
