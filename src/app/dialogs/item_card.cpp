#include "app/dialogs/item_card.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <cmath>
#include <limits>
#include <set>

#include "app/kit/parts.h"
#include "app/names.h"
#include "base/text.h"
#include "edit/session.h"

namespace app {

namespace {

constexpr int kItemWide = 300;

}  // namespace

ItemCard::ItemCard(QWidget* parent, Editor& editor, std::vector<std::string> items)
    : SideCard(parent, kItemWide), editor_(editor), items_(std::move(items)) {
    setAttribute(Qt::WA_DeleteOnClose);
    rows()->addWidget(title_ = label({}, "panelTitle"));
    title_->setObjectName("itemTitle");
    fields_ = new FieldsForm(editor_, model::itemFields(),
                             [this](const model::Property& p, const auto& change) { return set(p, change); });
    fields_->setObjectName("itemForm");
    rows()->addWidget(fields_);
    rows()->addWidget(facts_ = wrapped({}));
    facts_->setObjectName("itemFacts");
    uses_ = makePlaces("uses", tr("Where the one selected object stands, as seen from the nearest of this item"));
    berths_ = makePlaces("berths", tr("Where the one selected object is, as seen from the nearest of this item"));
    auto* foot = new QHBoxLayout;
    foot->addStretch();
    auto* close = new QPushButton(tr("Close"));
    close->setObjectName("itemClose");
    close->setToolTip(tr("What was set is kept (Esc)"));
    foot->addWidget(close);
    this->foot()->addLayout(foot);
    connect(close, &QPushButton::clicked, this, &QWidget::close);
    connect(&editor_, &Editor::libraryChanged, this, &ItemCard::refresh);
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    refresh();
    show();
    raise();
    place();  // now that its words know how they wrap
    fields_->focusField(items_.size() == 1 ? "label" : "folder");
}

PartsForm* ItemCard::makePlaces(const char* key, const QString& fromTip) {
    auto* places = new PartsForm(editor_, *model::itemFields().find(key),
                                 [this](const model::Property& p, const auto& change) { return set(p, change); });
    auto* from = button<QToolButton>("fromSelection", tr("From the selection"), fromTip);
    from->setObjectName(QLatin1String(key) + "FromSelection");
    connect(from, &QToolButton::clicked, this, [this, places] { addFromSelection(places); });
    places->addAct(from);
    rows()->addWidget(places);
    return places;
}

/// One is shown rather than told where it is: what is selected stands in it, at some object of this item.
void ItemCard::addFromSelection(PartsForm* places) {
    const model::Scene& scene = editor_.scene();
    const auto ids = editor_.selection();
    const Slot thing = ids.size() == 1 ? scene.find(ids.front()) : kNoSlot;
    if (thing == kNoSlot) return editor_.say(tr("Select one object that stands where the place is to be."));
    const base::Name key = editor_.session().intern(items_.front());
    const model::Item* item = editor_.session().library().item(scene.item(thing));
    const base::Vec3 at = scene.world(thing).point(item != nullptr ? item->landingPoint() : base::Vec3(0));
    Slot nearest = kNoSlot;
    double away = std::numeric_limits<double>::infinity();
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && s != thing && scene.item(s) == key)
            if (const double d = glm::length(scene.world(s).translation - at); d < away) away = d, nearest = s;
    const auto inverse = nearest != kNoSlot ? base::inverse(scene.world(nearest)) : std::nullopt;
    if (!inverse) return editor_.say(tr("There is no other object of this item in the scene."));
    const base::Vec3 ahead = inverse->linear * (scene.world(thing).linear * base::Vec3(0, 0, -1));
    places->add([&](void* part) {
        auto& place = *static_cast<model::ItemPlace*>(part);
        place.at = inverse->point(at);
        place.turnDegrees = base::degrees(std::atan2(-ahead.x, -ahead.z));
    });
}

Status ItemCard::set(const model::Property& property, const std::function<Status(void*)>& change) {
    const std::string step = "Set " + base::lowered(property.label) + " of ";
    const std::string whose = items_.size() == 1 ? items_.front() : std::to_string(items_.size()) + " items";
    Status done;
    editor_.run(step + whose, [&](edit::Draft& draft) -> Status {
        for (const std::string& key : items_) {
            const base::Name name = draft.session().intern(key);
            const model::Item* item = draft.session().library().item(name);
            if (item == nullptr) continue;
            model::ItemFacts facts = *item;
            if (done = change(&facts); !done) return done;
            if (Status set = ops::setItem(draft, name, facts); !set) return set;
        }
        return {};
    });
    return {};  // told by run()
}

/// So that a model in centimetres is noticed: "1.4 m high, as tall as a bench".
QString ItemCard::sanity(const model::Item& item) const {
    if (item.bounds.empty()) return tr("No mesh of its own: a mark in the view.");
    const double high = item.bounds.size().y;
    const model::Item* nearest = nullptr;
    double apart = 0.35;  // of the height
    for (const model::Item& other : editor_.session().library().items()) {
        if (other.isSolid || other.bounds.empty() || other.name == item.name) continue;
        const double differs = std::abs(other.bounds.size().y - high) / std::max(high, 1e-6);
        if (differs < apart) apart = differs, nearest = &other;
    }
    const QString size = tr("%1 high").arg(editor_.length(high));
    if (nearest != nullptr) return tr("%1, about as tall as “%2”.").arg(size, QString::fromStdString(nearest->label));
    return tr("%1: nothing else here is about as tall. Is its unit the metre?").arg(size);
}

void ItemCard::refresh() {
    const model::Library& library = editor_.session().library();
    const model::Item* item = editor_.isOpen() ? library.item(editor_.session().intern(items_.front())) : nullptr;
    if (item == nullptr) return void(close());  // undone, or deleted
    std::set<std::string> folders;
    for (const model::Item& other : library.items())
        if (!other.isSolid && !other.folder.empty()) folders.insert(other.folder);
    std::vector<model::Choice> inFolders, ofKinds = {{"", tr("none").toStdString()}};
    for (const std::string& folder : folders) inFolders.push_back({folder, folder});
    for (const model::Kind& kind : library.kinds()) ofKinds.push_back({kind.name, kind.name});
    fields_->offer("folder", inFolders);
    fields_->offerOnly("kind", ofKinds);
    title_->setText(items_.size() == 1 ? QString::fromStdString(item->label) : tr("%1 items").arg(items_.size()));
    facts_->setText(items_.size() == 1 ? sanity(*item) : tr("What is set here is set for all of them."));
    const model::ItemFacts facts = *item;
    fields_->show(&facts);
    const auto kept = std::make_shared<const model::ItemFacts>(facts);  // shared by both lists
    for (PartsForm* places : {uses_, berths_}) {
        places->setVisible(items_.size() == 1);
        places->show(kept);
    }
    std::vector<model::Choice> nodes;
    for (const std::string& node : item->nodes) nodes.push_back({node, node});
    fields_->offer("collisionPart", nodes);
    place();
}

}  // namespace app
