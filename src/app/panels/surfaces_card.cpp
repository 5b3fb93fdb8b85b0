// The card for the surfaces of an object's slots.
#include <QHBoxLayout>

#include "app/look/colour.h"
#include "app/names.h"
#include "app/panels/colour_popover.h"
#include "app/panels/facet_cards.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/workspace.h"
#include "model/facets/surfaces.h"
#include "ops/objects.h"
#include "ops/surfaces.h"

namespace app {

using model::SlotSurface;

void FacetCards::makeSurfaces() {
    auto* card = new FoldCard(QStringLiteral("surfaces"), tr("Surfaces"));
    surfaces_ = card;
    layout_->addWidget(card);
    slotRows_ = new QVBoxLayout;
    slotRows_->setSpacing(3);
    card->inside()->addLayout(slotRows_);
}

void FacetCards::setSlot(const std::string& what, const std::string& slot,
                         const std::function<void(SlotSurface&)>& edit) {
    const ops::Ids ids = editor_.selection();
    editor_.run(what + " on " + ops::describe(editor_.scene(), ids),
                [&](edit::Draft& draft) { return ops::setSlot(draft, ids, slot, edit); });
    show(all_);
}

void FacetCards::fillSlotMenu(QMenu* menu, const std::string& slot) {
    menu->clear();
    const model::Library& library = editor_.session().library();
    const SlotSurface now = ops::slotOf(editor_.scene(), all_[0], slot);
    auto entry = [&](QMenu* into, const QString& text, bool on, const std::string& what,
                     const std::function<void(SlotSurface&)>& edit) {
        QAction* action = into->addAction(text);
        action->setCheckable(true);
        action->setChecked(on);
        connect(action, &QAction::triggered, this, [this, what, slot, edit] { setSlot(what, slot, edit); });
    };
    entry(menu, tr("The mesh’s own"), now.surface.empty(), "Own surface", [](SlotSurface& s) { s.surface.clear(); });
    for (const auto& [name, surface] : library.surfaces())
        entry(menu, QString::fromStdString(surface.label), now.surface == name, "Surface " + surface.label,
              [name = name](SlotSurface& s) { s.surface = name; });
    menu->addSeparator();
    if (ops::takesTint(editor_.session(), editor_.scene(), all_[0]))
        connect(menu->addAction(tr("Tint…")), &QAction::triggered, this, [this, slot, tint = now.tint] {
            new ColourPopover(surfaces_, tint ? toColour(*tint) : QColor(Qt::white), [this, slot](const QColor& c) {
                setSlot("Tint", slot, [&](SlotSurface& one) { one.tint = toLinear(c); });
            });
        });
    if (now.tint) entry(menu, tr("No tint"), false, "No tint", [](SlotSurface& s) { s.tint.reset(); });
    const model::Kind* kind = library.kind(editor_.scene().kind(all_[0]));
    if (ops::takesImage(kind, slot)) {
        QMenu* images = menu->addMenu(tr("Image"));
        entry(images, tr("None"), now.image.empty(), "No image", [](SlotSurface& s) { s.image.clear(); });
        for (const std::string& file : io::mediaNames(editor_.session()))
            entry(images, QString::fromStdString(file), now.image == file, "Image " + file,
                  [file](SlotSurface& s) { s.image = file; });
        QMenu* fits = menu->addMenu(tr("How the image lies"));
        const QString names[] = {tr("Tiled, by its size in metres"), tr("Fitted: all of it"), tr("Filled: no gap"),
                                 tr("Stretched to the face")};
        for (int i = 0; i < 4; ++i)
            entry(fits, names[i], static_cast<int>(now.fit) == i, "Lay the image",
                  [i](SlotSurface& s) { s.fit = static_cast<model::ImageFit>(i); });
    }
    menu->addSeparator();
    if (editor_.selection().size() > 1)
        connect(menu->addAction(tr("All surfaces to the others selected")), &QAction::triggered, this, [this] {
            const ops::Ids ids = editor_.selection();
            editor_.run("Copy surfaces", [&](edit::Draft& draft) {
                return ops::copySurfaces(draft, ids.front(), std::span(ids).subspan(1));
            });
        });
}

void FacetCards::showSurfaces(const model::Scene& scene) {
    const model::Item* item = editor_.session().library().item(scene.item(all_[0]));
    const bool any = item != nullptr && !item->slots.empty();
    surfaces_->setVisible(any);
    SlotsShown now{scene.id(all_[0]), scene.item(all_[0]), scene.detail(all_[0]),
                   editor_.session().library().surfaces()};
    if (now == slotsShown_) return;
    slotsShown_ = std::move(now);
    while (QLayoutItem* old = slotRows_->takeAt(0)) {
        if (old->widget() != nullptr) old->widget()->deleteLater();
        delete old;
    }
    if (!any) return;
    constexpr std::size_t kMostRows = 24;
    const shape::Mesh* mesh = editor_.workspace().mesh(scene.item(all_[0]));
    for (std::size_t i = 0; i < std::min(item->slots.size(), kMostRows); ++i) {
        const std::string& name = item->slots[i];
        const SlotSurface slot = ops::slotOf(scene, all_[0], name);
        const auto& known = editor_.session().library().surfaces();
        const auto surface = known.find(slot.surface);
        base::Vec3 colour(0.8);
        if (mesh != nullptr && i < mesh->materials.size())
            for (int k = 0; k < 3; ++k)
                colour[k] = static_cast<double>(mesh->materials[i].baseColour[static_cast<std::size_t>(k)]);
        if (surface != known.end()) colour = surface->second.colour;
        if (slot.tint) colour *= *slot.tint;
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        auto* swatch = new QLabel;
        swatch->setFixedSize(16, 16);
        swatch->setStyleSheet(QString("background: %1; border-radius: 4px;").arg(toColour(colour).name()));
        row->addWidget(swatch);
        auto* label = new QLabel(QString::fromStdString(name));
        label->setObjectName("quiet");
        row->addWidget(label, 1);
        auto* button = new QToolButton;
        button->setObjectName("slot." + QString::fromStdString(name));
        button->setAccessibleName(tr("Surface of %1").arg(QString::fromStdString(name)));
        button->setToolTip(
            tr("What %1 shows: a surface of the project, a tint, an image").arg(QString::fromStdString(name)));
        const bool missing = !slot.surface.empty() && surface == known.end();
        QString text = slot.surface.empty() ? tr("own")
                       : missing            ? tr("missing: %1").arg(QString::fromStdString(slot.surface))
                                            : QString::fromStdString(surface->second.label);
        if (!slot.image.empty()) text += " · " + QString::fromStdString(slot.image);
        button->setText(text + " ▾");
        button->setPopupMode(QToolButton::InstantPopup);
        auto* menu = new QMenu(button);
        connect(menu, &QMenu::aboutToShow, this, [this, menu, name] { fillSlotMenu(menu, name); });
        button->setMenu(menu);
        row->addWidget(button);
        slotRows_->addWidget(line);
    }
}

}  // namespace app
