#include "app/panels/facet_cards.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/cues_form.h"
#include "app/panels/facet_list.h"
#include "app/panels/route_form.h"
#include "edit/session.h"
#include "model/facets/act.h"
#include "model/facets/array.h"
#include "model/facets/points.h"
#include "model/facets/relations.h"
#include "model/facets/route.h"
#include "model/facets/shot.h"
#include "model/facets/surfaces.h"
#include "model/facets/use.h"
#include "ops/array.h"
#include "ops/facet_members.h"
#include "ops/facets.h"
#include "ops/objects.h"

namespace app {

using model::FacetType;

namespace {

constexpr std::size_t kLookAt = 5000;  // beyond that many, the first ones speak for all

const void* facetOf(const model::Scene& scene, Slot slot, const FacetType& type) {
    const model::DetailPtr& detail = scene.detail(slot);
    return detail ? detail->facets.find(type) : nullptr;
}

/// One member of the first object's facet; without a value when others have another one.
PropertyShown shownMember(const model::Scene& scene, const std::vector<Slot>& all, const ops::FacetMember& member) {
    const void* first = facetOf(scene, all[0], *member.type);
    const model::Member& m = *member.member;
    PropertyShown shown;
    shown.property = ops::propertyOf(member);
    shown.choices = shown.property.choices;
    shown.own = m.stored && !m.always && !model::isUsual(m, first);
    shown.value = m.get(first);
    for (std::size_t i = 1; shown.value && i < std::min(all.size(), kLookAt); ++i)
        if (const void* other = facetOf(scene, all[i], *member.type))
            if (m.get(other) != shown.value) shown.value.reset();
    return shown;
}

/// The facets that are also lists of other objects.
std::vector<FacetList::Way> listsOf(const FacetType& type) {
    const auto has = [](const FacetType& wanted) {
        return [&wanted](const model::Scene& scene, Slot slot) {
            return scene.detail(slot) && scene.detail(slot)->facets.find(wanted) != nullptr;
        };
    };
    const auto any = [](const model::Scene&, Slot) { return true; };
    if (&type == &model::Shot::type()) return {{"zones", "zone", has(model::Zone::type())}};
    if (&type == &model::Use::type()) return {{"moves", "object", any}};
    if (&type == &model::Route::type()) {
        const auto passed = [](const model::Scene&, const void* part) {
            const auto is = static_cast<const model::RouteStop*>(part)->passed;
            return is == model::RouteStop::Passed::Backwards   ? FacetCards::tr(" · backwards")
                   : is == model::RouteStop::Passed::EitherWay ? FacetCards::tr(" · either way")
                                                               : QString();
        };
        const auto leaves = [](const model::Scene&, const void* part) {
            return FacetCards::tr(" · from point %1").arg(static_cast<const model::RouteFork*>(part)->point);
        };
        return {{"stops", "object", any, passed, true, true},
                {"forks", "to", has(model::Route::type()), leaves, true, false, ".forks"}};
    }
    if (&type != &model::InActs::type()) return {};
    const auto more = [](const model::Scene&, const void* part) {
        const auto& is = *static_cast<const model::ActPart*>(part);
        QString text = is.is == model::ActPart::Is::There  ? FacetCards::tr(" · there")
                       : is.is == model::ActPart::Is::Away ? FacetCards::tr(" · away")
                                                           : QString();
        if (is.posed) text += FacetCards::tr(" · elsewhere");
        if (!is.values.empty()) text += FacetCards::tr(" · other values");
        return text;
    };
    return {{"all", "act", {}, more, true}};
}

}  // namespace

void refuseWhereFixed(Editor& editor, Slot slot, PropertyShown& shown) {
    if (editor.scene().protectedInTree(slot)) {
        shown.fixed = true;
        shown.why = FacetCards::tr("This object is protected: release it (Shift+J) to change it.");
    }
    if (!editor.session().readOnlyReason().empty()) {
        shown.fixed = true;
        shown.why = QString::fromStdString(editor.session().readOnlyReason());
    }
}

FacetCards::FacetCards(Editor& editor, const std::function<void(PropertyRows*)>& wire, QWidget* parent)
    : QWidget(parent), editor_(editor), layout_(new QVBoxLayout(this)) {
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(8);
    makeSurfaces();
    for (const FacetType* type : model::facetTypes()) {
        if (type == &model::Surfaces::type()) continue;  // what a slot shows is chosen slot by slot
        auto* card = new FoldCard(toQt(type->key), toQt(type->label));
        card->setTitle(toQt(type->label), toQt(type->help));
        auto* rows = new PropertyRows(editor_);
        rows->setObjectName("facetRows." + toQt(type->key));
        card->inside()->addWidget(rows);
        wire(rows);
        if (type == &model::PointSet::type()) makePoints(card->inside());
        if (type == &model::Array::type()) makeArrayOddities(card->inside());
        if (type == &model::Relations::type()) makeRelations(card->inside());
        if (type == &model::Solid::type()) makeSolid(card->inside());
        if (type == &model::Cues::type()) card->inside()->addWidget(cues_ = new CuesForm(editor_));
        if (type == &model::Route::type()) card->inside()->addWidget(route_ = new RouteForm(editor_));
        for (FacetList::Way& way : listsOf(*type)) {
            lists_.push_back(new FacetList(editor_, *type, std::move(way)));
            card->inside()->addWidget(lists_.back());
        }
        layout_->addWidget(card);
        cards_.push_back({type, card, rows});
    }
    makeSwitches();
    makeAdd();
    connect(&editor_, &Editor::chosenPointChanged, this, [this] {
        if (isVisible() && editor_.isOpen() && !all_.empty()) showPoints(editor_.scene());
    });
}

base::ObjectId FacetCards::only() const {
    return all_.size() == 1 ? editor_.scene().id(all_[0]) : base::ObjectId{};
}

/// Four things that are easily taken for one another, each with its own switch.
void FacetCards::makeSwitches() {
    auto* card = new FoldCard(QStringLiteral("switches"), tr("Seen and there"));
    layout_->addWidget(card);
    QVBoxLayout* inside = card->inside();
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(3);
    struct Switch {
        std::uint8_t flag;
        QString text, tip;
    };
    const Switch switches[] = {
        {model::flags::kHidden, tr("Seen in the editor"), tr("Off: hidden while editing (K); the game does not care")},
        {model::flags::kUnseen, tr("Seen in play"), tr("Off: the game does not draw it; here it is still seen")},
        {model::flags::kUntouched, tr("Solid"), tr("Off: nothing bumps into it or stands on it in play")},
        {model::flags::kAbsent, tr("Exists at the start"), tr("Off: it is not there until something brings it")}};
    for (int i = 0; i < 4; ++i) {
        auto* box = new QCheckBox(switches[i].text);
        box->setObjectName("switch" + QString(switches[i].text).remove(' '));
        box->setToolTip(switches[i].tip);
        grid->addWidget(box, i, 0);
        switches_.emplace_back(switches[i].flag, box);
        connect(box, &QCheckBox::clicked, this, [this, flag = switches[i].flag, text = switches[i].text](bool on) {
            const ops::Ids ids = editor_.selection();
            editor_.run((text + (on ? " on: " : " off: ")).toStdString() + ops::describe(editor_.scene(), ids),
                        [&](edit::Draft& draft) { return ops::setFlag(draft, ids, flag, !on); });
            show(all_);
        });
    }
    inside->addLayout(grid);
}

void FacetCards::makeArrayOddities(QVBoxLayout* inside) {
    arrayOdd_ = new QWidget;
    auto* lines = new QVBoxLayout(arrayOdd_);
    lines->setContentsMargins(0, 2, 0, 0);
    lines->setSpacing(4);
    arrayOddText_ = new QLabel;
    arrayOddText_->setObjectName("arrayOddities");
    arrayOddText_->setWordWrap(true);
    arrayOddText_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    lines->addWidget(arrayOddText_);
    auto* buttons = new QHBoxLayout;
    auto button = [&](const char* name, const QString& text, const QString& tip, const auto& does) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, does);
        buttons->addWidget(b);
    };
    button("arraySelectOdd", tr("Select them"), tr("Selects the copies that were moved or changed by hand"), [this] {
        if (!all_.empty()) editor_.select(ops::arrayOddities(editor_.scene(), all_.front()).changed);
    });
    button("arrayAlike", tr("Make all alike"),
           tr("Every copy becomes like the first one again and goes to its place; deleted ones come back"),
           [this] { Q_EMIT alikeAsked(); });
    buttons->addStretch(1);
    lines->addLayout(buttons);
    inside->addWidget(arrayOdd_);
}

void FacetCards::showArrayOddities(Slot array) {
    const ops::ArrayOddities odd = ops::arrayOddities(editor_.scene(), array);
    QStringList said;
    if (const std::size_t n = odd.changed.size(); n > 0)
        said << tr("%1 changed by hand, kept so").arg(counted(n, tr("copy"), tr("copies")));
    if (odd.missing > 0)
        said << tr("%1 deleted by hand").arg(counted(static_cast<std::size_t>(odd.missing), tr("copy"), tr("copies")));
    arrayOddText_->setText(QStringLiteral("≠ ") + said.join(QStringLiteral("\n≠ ")));
    arrayOdd_->findChild<QWidget*>("arraySelectOdd")->setEnabled(!odd.changed.empty());
    arrayOdd_->setVisible(!said.isEmpty());
}

void FacetCards::makeAdd() {
    add_ = new QToolButton;
    add_->setObjectName("facetAdd");
    add_->setText(tr("Facets ▾"));
    add_->setToolTip(tr("Parts that an object has or has not: a light, a body, points"));
    add_->setAccessibleName(tr("Facets"));
    add_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(add_);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillAdd(menu); });
    add_->setMenu(menu);
    layout_->addWidget(add_, 0, Qt::AlignLeft);
}

void FacetCards::fillAdd(QMenu* menu) {
    menu->clear();
    if (all_.empty()) return;
    for (const FacetType* type : model::facetTypes()) {
        const bool has = facetOf(editor_.scene(), all_[0], *type) != nullptr;
        if (!type->byHand && !has) continue;
        QAction* action = menu->addAction(toQt(type->label));
        action->setToolTip(toQt(type->help));
        action->setCheckable(true);
        action->setChecked(has);
        action->setEnabled(type->byHand);
        connect(action, &QAction::triggered, this, [this, type](bool on) {
            const ops::Ids ids = editor_.selection();
            const std::string what =
                (on ? "Add " : "Remove ") + QString::fromStdString(type->label).toLower().toStdString();
            editor_.run(what + " of " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
                return on ? ops::giveFacet(draft, ids, *type) : ops::takeFacet(draft, ids, *type);
            });
            show(all_);
        });
    }
}

void FacetCards::showSwitches(const model::Scene& scene) {
    for (const auto& [flag, box] : switches_) {
        std::size_t on = 0;
        const std::size_t n = std::min(all_.size(), kLookAt);
        for (std::size_t i = 0; i < n; ++i)
            if ((scene.flagsOf(all_[i]) & flag) == 0) ++on;
        box->setCheckState(on == n ? Qt::Checked : on == 0 ? Qt::Unchecked : Qt::PartiallyChecked);
    }
}

void FacetCards::show(const std::vector<Slot>& all) {
    all_ = all;
    setVisible(!all.empty());
    if (all.empty() || !editor_.isOpen()) return;
    const model::Scene& scene = editor_.scene();
    if (!scene.alive(all[0])) return;
    filling_ = true;
    showSwitches(scene);
    for (const Card& card : cards_) {
        const void* facet = facetOf(scene, all[0], *card.type);
        card.card->setVisible(facet != nullptr);
        std::vector<PropertyShown> shown;
        for (const model::Member& m : card.type->fields.members) {
            if (facet == nullptr || !m.inField || m.parts.fields != nullptr || (m.shown && !m.shown(facet))) continue;
            shown.push_back(shownMember(scene, all, {card.type, &m}));
            refuseWhereFixed(editor_, all[0], shown.back());
        }
        card.rows->show(shown);
    }
    showArrayOddities(all[0]);
    showRelations(scene);
    showSolid(scene);
    cues_->show(only());
    route_->show(only());
    for (FacetList* list : lists_) list->show(only());
    showPoints(scene);
    showSurfaces(scene);
    filling_ = false;
}

}  // namespace app
