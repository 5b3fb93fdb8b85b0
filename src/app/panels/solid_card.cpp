// What the card of a solid has beside its numbers: its openings, and the faces that are dressed by themselves.
#include "app/kit/parts.h"
#include "app/panels/facet_cards.h"
#include "base/text.h"
#include "edit/session.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"

namespace app {

void FacetCards::makeSolid(QVBoxLayout* inside) {
    const auto list = [&](const char* key) {
        auto* form = new PartsForm(
            editor_, *model::Solid::type().fields.find(key),
            [this](const model::Property& property, const std::function<base::Status(void*)>& change) -> base::Status {
                const base::ObjectId id = only();
                if (!id || !solidShown_) return {};
                model::Solid solid = *solidShown_;
                if (base::Status changed = change(&solid); !changed) return changed;
                base::Status done;
                editor_.run("Set " + base::lowered(property.label),
                            [&](edit::Draft& draft) { return done = ops::setSolid(draft, id, solid); });
                return done;
            });
        form->setObjectName("solid." + toQt(key));
        inside->addWidget(form);
        return form;
    };
    openings_ = list("openings");
    dressed_ = list("faces");
    auto* repeat = button<QToolButton>("openingRepeat", tr("Repeat ▾"),
                                       tr("More of the chosen one to the right, each twice its width further"));
    repeat->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(repeat);
    for (int count : {1, 2, 3, 4, 6, 8})
        menu->addAction(tr("%1 more").arg(count), this, [this, count] { repeatOpening(count); });
    repeat->setMenu(menu);
    openings_->addAct(repeat);
    // They are drawn in the view; a face is dressed by dropping a surface on it.
    openings_->findChild<QToolButton*>("openingsAdd")->hide();
    dressed_->findChild<QToolButton*>("facesAdd")->hide();
}

void FacetCards::repeatOpening(int count) {
    const base::ObjectId id = only();
    const int which = openings_->chosen();
    if (!id || !solidShown_ || which < 0) return;
    const model::SolidOpening& opening = solidShown_->openings[static_cast<std::size_t>(which)];
    const base::Vec3 apart = shape::frameOf(query::openingOf(opening)).linear[0] * (2 * opening.width);
    editor_.run("Repeat an opening", [&](edit::Draft& draft) {
        return ops::repeatOpening(draft, id, static_cast<std::size_t>(which), count, apart);
    });
}

void FacetCards::showSolid(const model::Scene& scene) {
    const model::Solid* solid = all_.size() == 1 ? scene.facet<model::Solid>(all_[0]) : nullptr;
    openings_->setVisible(solid != nullptr && !solid->openings.empty());
    dressed_->setVisible(solid != nullptr && !solid->faces.empty());
    if (solid == nullptr) return solidShown_.reset();
    if (solidShown_ && *solidShown_ == *solid) return;
    solidShown_ = std::make_shared<const model::Solid>(*solid);  // shared with both lists
    openings_->show(solidShown_);
    dressed_->show(solidShown_);
}

}  // namespace app
