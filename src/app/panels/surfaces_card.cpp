// The card for what the slots of objects show: their list, and the one that is chosen.
#include <QHeaderView>
#include <QPixmap>

#include "app/kit/parts.h"
#include "app/look/colour.h"
#include "app/names.h"
#include "app/panels/facet_cards.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "model/facets/surfaces.h"
#include "ops/objects.h"
#include "ops/surfaces.h"

namespace app {

namespace {

using model::SlotSurface;

constexpr int kMostSlots = 24, kMostSeen = 6;
constexpr std::size_t kLookAt = 200;  // beyond that many objects, the first ones speak for all

const model::Fields& slotFields() {
    return *model::Surfaces::type().fields.find("slots")->parts.fields;
}

QString textOf(const model::Library& library, const SlotSurface& slot) {
    const auto surface = library.surfaces().find(slot.surface);
    QString text = slot.surface.empty()                  ? FacetCards::tr("own")
                   : surface == library.surfaces().end() ? FacetCards::tr("missing: %1").arg(toQt(slot.surface))
                                                         : toQt(surface->second.label);
    if (!slot.image.empty()) text += QStringLiteral(" · ") + toQt(slot.image);
    return text;
}

/// What a slot looks like: its surface, else what the mesh has, under its tint.
QColor colourOf(const model::Library& library, const shape::Mesh* mesh, std::size_t at, const SlotSurface& slot) {
    base::Vec3 colour(0.8);
    if (mesh != nullptr && at < mesh->materials.size())
        for (int k = 0; k < 3; ++k)
            colour[k] = static_cast<double>(mesh->materials[at].baseColour[static_cast<std::size_t>(k)]);
    if (const auto surface = library.surfaces().find(slot.surface); surface != library.surfaces().end())
        colour = surface->second.colour;
    return toColour(slot.tint ? colour * *slot.tint : colour);
}

}  // namespace

void FacetCards::makeSurfaces() {
    auto* card = new FoldCard(QStringLiteral("surfaces"), tr("Surfaces"));
    surfaces_ = card;
    layout_->addWidget(card);
    slotList_ = new QTreeWidget;
    slotList_->setObjectName("slotList");
    slotList_->setAccessibleName(tr("Slots of the mesh, and what each shows"));
    slotList_->setColumnCount(2);
    slotList_->setHeaderHidden(true);
    slotList_->setRootIsDecorated(false);
    slotList_->setUniformRowHeights(true);
    slotList_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    slotList_->header()->setStretchLastSection(true);
    slotList_->header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    card->inside()->addWidget(slotList_);
    slotForm_ = new FieldsForm(editor_, slotFields(), [this](const auto& property, const auto& change) {
        return changeSlot(property, change);
    });
    slotForm_->setObjectName("slotForm");
    card->inside()->addWidget(slotForm_);
    slotsToOthers_ = button<QToolButton>("slotsToOthers", tr("All to the others selected"),
                                         tr("The others show what the first one does, slot by slot"));
    card->inside()->addWidget(slotsToOthers_);
    connect(slotList_, &QTreeWidget::currentItemChanged, this, [this] {
        if (!filling_) showSlot();
    });
    connect(slotsToOthers_, &QToolButton::clicked, this, [this] {
        const ops::Ids ids = editor_.selection();
        editor_.run("Copy surfaces", [&](edit::Draft& draft) {
            return ops::copySurfaces(draft, ids.front(), std::span(ids).subspan(1));
        });
    });
}

/// The chosen slot of all that are selected, as a step.
Status FacetCards::changeSlot(const model::Property& property, const std::function<Status(void*)>& change) {
    const QTreeWidgetItem* row = slotList_->currentItem();
    if (filling_ || row == nullptr || all_.empty()) return {};
    const std::string slot = row->text(0).toStdString();
    SlotSurface tried;
    if (Status can = change(&tried); !can) return can;
    const ops::Ids ids = editor_.selection();
    editor_.run(property.label + " of " + slot + " on " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        return ops::setSlot(draft, ids, slot, [&](SlotSurface& one) { (void)change(&one); });
    });
    show(all_);
    return {};
}

void FacetCards::fillSlots(const model::Item& item) {
    const model::Scene& scene = editor_.scene();
    const model::Library& library = editor_.session().library();
    const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(all_[0]));
    const int rows = std::min(static_cast<int>(item.slots.size()), kMostSlots);
    while (slotList_->topLevelItemCount() > rows) delete slotList_->takeTopLevelItem(rows);
    while (slotList_->topLevelItemCount() < rows) new QTreeWidgetItem(slotList_);
    for (int i = 0; i < rows; ++i) {
        const auto at = static_cast<std::size_t>(i);
        const SlotSurface slot = ops::slotOf(scene, all_[0], item.slots[at]);
        QPixmap swatch(12, 12);
        swatch.fill(colourOf(library, mesh, at, slot));
        QTreeWidgetItem* row = slotList_->topLevelItem(i);
        row->setIcon(0, QIcon(swatch));
        row->setText(0, toQt(item.slots[at]));
        row->setText(1, textOf(library, slot));
    }
    slotList_->setFixedHeight(std::min(rows, kMostSeen) * slotList_->sizeHintForRow(0) + 2 * slotList_->frameWidth() +
                              2);
    if (slotList_->currentItem() == nullptr && rows > 0) slotList_->setCurrentItem(slotList_->topLevelItem(0));
}

void FacetCards::showSlot() {
    const QTreeWidgetItem* row = slotList_->currentItem();
    slotForm_->setVisible(row != nullptr);
    if (row == nullptr) return;
    const model::Scene& scene = editor_.scene();
    const model::Library& library = editor_.session().library();
    const std::string name = row->text(0).toStdString();
    std::vector<SlotSurface> shown;
    for (std::size_t i = 0; i < std::min(all_.size(), kLookAt); ++i) {
        const model::Item* item = library.item(scene.item(all_[i]));
        const bool has =
            item != nullptr && std::find(item->slots.begin(), item->slots.end(), name) != item->slots.end();
        if (has) shown.push_back(ops::slotOf(scene, all_[i], name));
    }
    if (shown.empty()) return;
    std::vector<model::Choice> surfaces = {{"", tr("The mesh’s own").toStdString()}};
    for (const auto& [key, surface] : library.surfaces()) surfaces.push_back({key, surface.label});
    slotForm_->offerOnly("surface", std::move(surfaces));
    std::set<std::string> cannot;
    if (!ops::takesTint(editor_.session(), scene, all_[0])) cannot.insert("tint");
    if (!ops::takesImage(library.kind(scene.kind(all_[0])), name)) cannot.insert({"image", "fit"});
    slotForm_->leaveOut(std::move(cannot));
    std::vector<const void*> things;
    for (const SlotSurface& one : shown) things.push_back(&one);
    slotForm_->show(things);
    slotForm_->setEnabled(!scene.protectedInTree(all_[0]) && editor_.session().readOnlyReason().empty());
}

void FacetCards::showSurfaces(const model::Scene& scene) {
    const model::Item* item = editor_.session().library().item(scene.item(all_[0]));
    const bool any = item != nullptr && !item->slots.empty();
    surfaces_->setVisible(any);
    SlotsShown now{{},
                   any ? all_.size() : 0,
                   !editor_.session().readOnlyReason().empty(),
                   any ? item->slots : std::vector<std::string>(),
                   editor_.session().library().surfaces()};
    for (std::size_t i = 0; any && i < std::min(all_.size(), kLookAt); ++i)
        now.objects.push_back({scene.id(all_[i]), scene.item(all_[i]), scene.kind(all_[i]), scene.detail(all_[i]),
                               scene.protectedInTree(all_[i])});
    if (now == slotsShown_) return;
    slotsShown_ = std::move(now);
    if (!any) return;
    fillSlots(*item);
    slotsToOthers_->setVisible(editor_.selection().size() > 1);
    showSlot();
}

}  // namespace app
