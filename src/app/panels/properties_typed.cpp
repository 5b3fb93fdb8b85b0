// Properties: what the kind of the selected objects has, and the links among objects.
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/panels/properties_panel.h"

#include "app/names.h"
#include "app/shell/asking.h"
#include "edit/session.h"
#include "ops/kinds.h"
#include "ops/objects.h"
#include "ops/records.h"

namespace app {

void PropertiesPanel::makeProperties(QVBoxLayout* layout) {
    QVBoxLayout* inside = nullptr;
    kindCard_ = makeCard("kind", {}, tr("kind"), inside);
    inside->addWidget(propertyFilter_ = new QLineEdit);
    propertyFilter_->setObjectName("propertyFilter");
    propertyFilter_->setPlaceholderText(tr("Find a property"));
    propertyFilter_->setAccessibleName(tr("Find a property"));
    propertyFilter_->setToolTip(tr("Shows only properties with this in their name"));
    propertyFilter_->setClearButtonEnabled(true);
    inside->addWidget(rows_ = new PropertyRows(editor_));
    rows_->setObjectName("propertyRows");
    inside->addWidget(buttons_ = new QWidget);
    (new QHBoxLayout(buttons_))->setContentsMargins(0, 2, 0, 0);
    layout->addWidget(kindCard_);
    connect(propertyFilter_, &QLineEdit::textChanged, rows_, &PropertyRows::setFilter);
    wire(rows_);
}

void PropertiesPanel::wire(PropertyRows* rows) {
    connect(rows, &PropertyRows::typed, this, [this](const QString& name, const QString& text) {
        setProperty(name, [this, text = text.toStdString()](const model::Property& p, const model::Value& now) {
            return ops::typedValue(editor_.session().library(), p, text, now);
        });
    });
    connect(rows, &PropertyRows::chosen, this, [this](const QString& name, const model::Value& value) {
        setProperty(
            name, [value](const model::Property&, const model::Value&) -> base::Result<model::Value> { return value; });
    });
    connect(rows, &PropertyRows::resetAsked, this, [this](const QString& name) {
        const ops::Ids ids = editor_.selection();
        editor_.run(stepName("Reset a property of"),
                    [&](edit::Draft& draft) { return ops::resetProperty(draft, ids, name.toStdString()); });
        refresh();
    });
    connect(rows, &PropertyRows::placeAsked, this, [this](const QString& name) {
        editor_.asking().askPoint([this, name](const base::Vec3& at) {
            editor_.asking().askPoint({});
            const model::Value place{model::ValueList{{at.x}, {at.y}, {at.z}}};
            setProperty(name, [place](const model::Property&, const model::Value&) -> base::Result<model::Value> {
                return place;
            });
        });
    });
    connect(rows, &PropertyRows::pointAsked, this, &PropertiesPanel::pointAt);
    connect(rows, &PropertyRows::targetsAsked, this, &PropertiesPanel::listTargets);
    connect(rows, &PropertyRows::goTo, this, [this](base::ObjectId id) { editor_.select({id}); });
}

/// What all of the selected have alike: of one kind all of it, else what has the same name and type in each kind.
void PropertiesPanel::refreshProperties(const std::vector<Slot>& all) {
    const model::Scene& scene = editor_.scene();
    edit::Session& session = editor_.session();
    constexpr std::size_t kLookAt = 5000;  // beyond that many, the first ones speak for all
    const std::size_t n = std::min(all.size(), kLookAt);
    const model::Kind* first = session.library().kind(scene.kind(all[0]));
    std::vector<PropertyShown> shown;
    for (const model::Property& p : first != nullptr ? first->properties : std::vector<model::Property>{}) {
        if (p.hidden) continue;
        PropertyShown s{p, {}, {}, false, p.readOnly, tr("It follows from other things and cannot be set.")};
        bool inAll = true, mixed = false;
        for (std::size_t i = 0; i < n && inAll; ++i) {
            const model::Property* here = ops::propertyOf(session.library(), scene, all[i], p.name);
            inAll = here != nullptr && here->type == p.type;
            if (!inAll) break;
            model::Value room;
            const model::Value* value = ops::propertyValue(scene, all[i], *here, room);
            s.own = s.own || value != &room;
            if (i == 0) s.value = *value;
            mixed = mixed || !(s.value && *value == *s.value);
        }
        if (!inAll) continue;
        if (mixed) s.value.reset();
        const model::Detail none;
        const model::ValueMap& values = (scene.detail(all[0]) ? *scene.detail(all[0]) : none).properties;
        if (!p.shownIf.empty()) {
            const auto condition = model::parseCondition(p.shownIf);
            const model::Property* by = condition ? first->property(condition->property) : nullptr;
            model::Value room;
            if (by != nullptr && !model::holds(*condition, model::valueOr(*by, values, room))) continue;
        }
        s.choices = model::choicesOf(p, first->properties, values);
        refuseWhereFixed(editor_, all[0], s);
        shown.push_back(std::move(s));
    }
    if (first != nullptr) kindCard_->setTitle(toQt(first->name), toQt(first->help));
    kindCard_->setVisible(!shown.empty());
    showButtons(first);
    propertyFilter_->setVisible(shown.size() > 5);
    rows_->show(shown);
}

/// What the kind lets one press: reset, the next variation.
void PropertiesPanel::showButtons(const model::Kind* kind) {
    const auto all = kind != nullptr ? kind->buttons : std::vector<model::KindButton>{};
    buttons_->setVisible(!all.empty());
    if (all == buttonsShown_) return;
    buttonsShown_ = all;
    while (QLayoutItem* old = buttons_->layout()->takeAt(0)) {
        if (old->widget() != nullptr) old->widget()->deleteLater();
        delete old;
    }
    for (const model::KindButton& button : all) {
        auto* b = new QPushButton(toQt(button.label.empty() ? button.property : button.label));
        b->setObjectName("kindButton." + toQt(button.property));
        b->setToolTip(button.does == model::KindButton::Does::Next
                          ? tr("The next value of %1").arg(toQt(button.property))
                      : button.property.empty() ? tr("Everything as the kind has it")
                                                : tr("%1 as the kind has it").arg(toQt(button.property)));
        buttons_->layout()->addWidget(b);
        connect(b, &QPushButton::clicked, this, [this, button] {
            const ops::Ids ids = editor_.selection();
            editor_.run(stepName((button.label + " of").c_str()),
                        [&](edit::Draft& draft) { return ops::press(draft, ids, button); });
            refresh();
        });
    }
}

void PropertiesPanel::setProperty(const QString& name, const ops::ChangeValue& change) {
    const ops::Ids ids = editor_.selection();
    const std::string key = name.toStdString();
    const auto all = slots();
    const model::Property* property =
        all.empty() ? nullptr : ops::propertyOf(editor_.session().library(), editor_.scene(), all[0], key);
    const std::string label = property != nullptr ? property->label : key;
    editor_.run(stepName(("Set " + label + " of").c_str()),
                [&](edit::Draft& draft) { return ops::changeProperty(draft, ids, key, change); });
    refresh();
}

/// Press, then click what it is to lead to.
void PropertiesPanel::pointAt(const QString& name) {
    const auto all = slots();
    if (all.empty()) return;
    const std::string key = name.toStdString();
    const model::Property* property = ops::propertyOf(editor_.session().library(), editor_.scene(), all[0], key);
    if (property == nullptr) return;
    const ops::Ids ids = editor_.selection();
    editor_.asking().askObject(
        [this, p = *property, ids](Slot s) {
            return ops::mayLinkTo(editor_.scene(), p, s) &&
                   std::find(ids.begin(), ids.end(), editor_.scene().id(s)) == ids.end();
        },
        [this, ids, key](base::ObjectId to) {
            editor_.run(stepName("Link"), [&](edit::Draft& draft) { return ops::toggleLink(draft, ids, key, to); });
            refresh();
        });
}

void PropertiesPanel::listTargets(const QString& name, QMenu* menu) {
    const auto all = slots();
    if (all.empty()) return;
    const std::string key = name.toStdString();
    const model::Property* property = ops::propertyOf(editor_.session().library(), editor_.scene(), all[0], key);
    if (property == nullptr) return;
    const auto targets = ops::linkTargets(editor_.scene(), all[0], *property, 30);
    if (targets.empty()) menu->addAction(tr("Nothing in the scene fits"))->setEnabled(false);
    for (const ops::LinkTarget& target : targets) {
        const model::Scene& scene = editor_.scene();
        auto* action = menu->addAction(
            tr("%1 · %2").arg(toQt(scene.nameText(scene.find(target.id))), editor_.length(target.metres, 1)), this,
            [this, key, to = target.id] {
                const ops::Ids ids = editor_.selection();
                editor_.run(stepName("Link"), [&](edit::Draft& draft) { return ops::toggleLink(draft, ids, key, to); });
                refresh();
            });
        action->setCheckable(true);
        action->setChecked(target.linked);
        if (targets.size() == 1) menu->setActiveAction(action);
    }
}

}  // namespace app
