#include "app/panels/facet_list.h"

#include <QVBoxLayout>
#include <tuple>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/facet_members.h"

namespace app {

FacetList::FacetList(Editor& editor, const model::FacetType& type, Way way, QWidget* parent)
    : QWidget(parent),
      editor_(editor),
      type_(type),
      way_(std::move(way)),
      list_(*type.fields.find(way_.member)),
      link_(*list_.parts.fields->find(way_.link)) {
    setObjectName("facetList." + toQt(type.key) + way_.name);
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->addWidget(parts_ = new PartsForm(editor_, list_, [this](const model::Property& property, const auto& set) {
                        return change("Set " + base::lowered(property.label), set);
                    }));
    parts_->setObjectName("list." + toQt(type.key) + way_.name);
    parts_->say([this](const void* part) {
        const base::ObjectId id = linked(part);
        const Slot slot = editor_.isOpen() && id ? editor_.scene().find(id) : kNoSlot;
        QString text = slot == kNoSlot ? tr("what is gone") : toQt(editor_.scene().nameText(slot));
        if (way_.more) text += way_.more(editor_.scene(), part);
        return text;
    });
    if (!way_.hasFields) parts_->form().hide();
    if (auto* add = parts_->findChild<QToolButton*>(toQt(list_.property.name) + "Add")) add->hide();
    for (const auto& [name, text, tip, by] : {std::tuple{"listUp", tr("↑"), tr("Before the one above it"), -1},
                                              {"listDown", tr("↓"), tr("After the one below it"), 1}}) {
        if (!way_.isOrdered) break;
        auto* shift = button<QToolButton>(name, text, tip);
        parts_->addAct(shift);
        connect(shift, &QToolButton::clicked, this, [this, by = by] { parts_->shift(by); });
    }
    if (way_.isOrdered) parts_->letBeDragged();
    if (!way_.fits) return;
    auto* pointing = button<QToolButton>("listPoint", tr("Point at them"),
                                         tr("Click objects in the view, one after the other; Esc ends it"));
    parts_->addAct(pointing);
    connect(pointing, &QToolButton::clicked, this, &FacetList::point);
}

base::ObjectId FacetList::linked(const void* part) const {
    const auto value = link_.get(part);
    return value ? model::objectIn(*value) : base::ObjectId{};
}

void FacetList::show(base::ObjectId id) {
    const Slot slot = id ? editor_.scene().find(id) : kNoSlot;
    const model::DetailPtr none;
    const model::DetailPtr& detail = slot != kNoSlot ? editor_.scene().detail(slot) : none;
    const void* facet = detail ? detail->facets.find(type_) : nullptr;
    setVisible(facet != nullptr);
    if (facet == nullptr) {
        id_ = {};
        return shown_.reset();
    }
    if (id_ == id && shown_ && type_.equal(shown_.get(), facet)) return;
    id_ = id;
    const auto before = std::exchange(shown_, type_.copy(facet));  // until the list has changed
    parts_->show(shown_);
}

base::Status FacetList::change(const std::string& what, const std::function<base::Status(void*)>& set) {
    if (!id_ || !shown_) return {};
    const base::ObjectId id = id_;
    base::Status done;
    editor_.run(what + " of " + ops::describe(editor_.scene(), {&id, 1}), [&](edit::Draft& draft) {
        const std::shared_ptr<void> changed = type_.copy(shown_.get());
        done = set(changed.get());
        if (done) done = ops::putFacet(draft, id, type_, changed);
        return done;
    });
    return done;
}

/// One after the other, until Esc; what is in the list already stays once.
void FacetList::point() {
    const base::ObjectId owner = id_;
    editor_.asking().askObject([this](Slot slot) { return way_.fits(editor_.scene(), slot); },
                               [this, owner](base::ObjectId to) {
                                   if (id_ != owner || !shown_) return;
                                   bool known = false;
                                   for (std::size_t i = 0; i < list_.parts.size(shown_.get()); ++i)
                                       known = known || linked(list_.parts.at(shown_.get(), i)) == to;
                                   if (!known)
                                       (void)change("Add to " + base::lowered(list_.property.label), [&](void* facet) {
                                           return model::setMember(*list_.parts.fields, list_.parts.add(facet), link_,
                                                                   model::objectLink(to));
                                       });
                                   show(id_);
                                   point();
                               });
}

}  // namespace app
