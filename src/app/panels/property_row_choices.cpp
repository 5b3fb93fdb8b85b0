// Rows whose value is one of many, or many of them: records, items, lists and links.
#include <QComboBox>
#include <QCompleter>
#include <QHBoxLayout>
#include <QMenu>
#include <QStringListModel>
#include <QVBoxLayout>
#include <tuple>

#include "app/kit/flow_layout.h"
#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"
#include "app/panels/condition_field.h"
#include "app/panels/property_row.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/sound_file.h"
#include "ops/properties.h"
#include "ops/records.h"

namespace app {

using model::Property;
using model::PropertyType;
using model::Value;
using model::ValueList;

void offerIn(QLineEdit* edit, const std::vector<model::Choice>& choices) {
    if (choices.empty()) return;
    QStringList texts;
    for (const model::Choice& c : choices) texts << toQt(c.value);
    const auto* present =
        edit->completer() != nullptr ? qobject_cast<QStringListModel*>(edit->completer()->model()) : nullptr;
    if (present != nullptr && present->stringList() == texts) return;
    auto* completer = new QCompleter(texts, edit);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    delete edit->completer();
    edit->setCompleter(completer);
}

QWidget* PropertyRow::makeRecord(const Property& p) {
    auto* combo = new QComboBox;
    new QuietWheel(combo);
    QObject::connect(combo, QOverload<int>::of(&QComboBox::activated), this,
                     [this, combo](int i) { Q_EMIT rows_.typed(key(), combo->itemData(i).toString()); });
    update_ = [this, combo, p](const PropertyShown& s) {
        combo->clear();
        combo->addItem(tr("none"), QString());
        if (const model::RecordType* type = rows_.editor_.session().library().recordType(p.records))
            for (const auto& [id, record] : type->records) combo->addItem(toQt(record.name), toQt(base::toText(id)));
        const base::ObjectId now = s.value ? model::recordIn(*s.value) : base::ObjectId{};
        const QString id = now ? toQt(base::toText(now)) : QString();
        if (combo->findData(id) < 0) combo->addItem(tr("missing: %1").arg(id), id);
        combo->setCurrentIndex(s.value ? combo->findData(id) : -1);
        combo->setPlaceholderText(tr("mixed"));
    };
    return combo;
}

/// A name out of a list: an item's, or that of a file in media.
QWidget* PropertyRow::makeNamed(const Property& p) {
    auto* combo = new QComboBox;
    new QuietWheel(combo);
    QObject::connect(combo, QOverload<int>::of(&QComboBox::activated), this,
                     [this, combo](int i) { choose({combo->itemData(i).toString().toStdString()}); });
    update_ = [this, combo, p](const PropertyShown& s) {
        combo->clear();
        combo->addItem(tr("none"), QString());
        if (p.type == PropertyType::Item) {
            for (const model::Item& item : rows_.editor_.session().library().items())
                if (!item.isSolid) combo->addItem(toQt(item.label), toQt(item.name));
        } else {
            for (const std::string& file : io::mediaNames(rows_.editor_.session()))
                if (io::isSoundName(file) == (p.unit == "sound")) combo->addItem(toQt(file), toQt(file));
        }
        const QString now = textOf(s);
        if (combo->findData(now) < 0) combo->addItem(tr("missing: %1").arg(now), now);
        combo->setCurrentIndex(s.value ? combo->findData(now) : -1);
        combo->setPlaceholderText(tr("mixed"));
    };
    return combo;
}

QWidget* PropertyRow::makeCondition() {
    auto* field = new ConditionField;
    QObject::connect(field, &ConditionField::changed, this, [this](const QString& t) { Q_EMIT rows_.typed(key(), t); });
    update_ = [this, field](const PropertyShown& s) { field->show(s.asked, textOf(s)); };
    return field;
}

ValueList PropertyRow::listNow() const {
    const auto* list = shown_.value ? std::get_if<ValueList>(&shown_.value->data) : nullptr;
    return list != nullptr ? *list : ValueList{};
}

/// With one part of the list moved by `by`, or taken out when that is 0.
void PropertyRow::rearrange(std::size_t at, int by) {
    ValueList list = listNow();
    const auto to = static_cast<std::size_t>(static_cast<std::ptrdiff_t>(at) + by);
    if (at >= list.size() || (by != 0 && to >= list.size())) return;
    if (by == 0)
        list.erase(list.begin() + static_cast<std::ptrdiff_t>(at));
    else
        std::swap(list[at], list[to]);
    choose({std::move(list)});
}

/// A line for each part, to be changed, moved and taken out; one more at the end adds.
QWidget* PropertyRow::makeList(const Property& p) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    Property element;
    if (!p.element.empty()) element = p.element.front();
    element.label = p.label;
    auto read = [this, element](const QString& text, const Value& now) {
        return ops::typedValue(rows_.editor_.session().library(), element, text.toStdString(), now);
    };
    auto* add = new QLineEdit;
    add->setObjectName("listAdd");
    add->setPlaceholderText(tr("Add"));
    add->setAccessibleName(tr("Add to %1").arg(toQt(p.label)));
    add->setToolTip(tr("Enter adds it at the end"));
    column->addWidget(add);
    QObject::connect(add, &QLineEdit::returnPressed, this, [this, add, read, element] {
        if (add->text().trimmed().isEmpty()) return;
        auto value = read(add->text(), model::defaultOf(element));
        if (!value) return void(rows_.editor_.report(tl::unexpected(value.error())));
        ValueList list = listNow();
        list.push_back(std::move(*value));
        add->clear();
        choose({std::move(list)});
    });
    update_ = [this, column, add, read, element](const PropertyShown& s) {
        offerIn(add, s.choices);
        for (QWidget* old : lines_) {
            old->hide();
            old->deleteLater();  // it may be what asked for this
        }
        lines_.clear();
        add->setPlaceholderText(s.value ? tr("Add") : tr("mixed"));
        add->setEnabled(s.value.has_value());
        const ValueList list = listNow();
        for (std::size_t i = 0; i < list.size(); ++i) {
            auto* line = listLine(toQt(model::valueText(element, list[i])), i, list.size(),
                                  [this, read, i](const QString& text) {
                                      ValueList now = listNow();
                                      if (i >= now.size()) return;
                                      auto value = read(text, now[i]);
                                      if (!value) return void(rows_.editor_.report(tl::unexpected(value.error())));
                                      now[i] = std::move(*value);
                                      choose({std::move(now)});
                                  });
            column->insertWidget(static_cast<int>(i), line);
            line->show();
            lines_.push_back(line);
        }
    };
    return box;
}

QWidget* PropertyRow::listLine(const QString& text, std::size_t at, std::size_t of,
                               const std::function<void(const QString&)>& typed) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2);
    auto* edit = new QLineEdit(text);
    edit->setObjectName("listPart");
    edit->setAccessibleName(tr("%1, number %2").arg(toQt(shown_.property.label)).arg(at + 1));
    row->addWidget(edit, 1);
    QObject::connect(edit, &QLineEdit::editingFinished, this, [edit, typed] {
        if (!edit->isModified()) return;
        edit->setModified(false);
        typed(edit->text());
    });
    const std::tuple<const char*, QString, QString, int, bool> acts[] = {
        {"listEarlier", QStringLiteral("↑"), tr("Earlier"), -1, at > 0},
        {"listLater", QStringLiteral("↓"), tr("Later"), 1, at + 1 < of},
        {"listRemove", QStringLiteral("×"), tr("Take it out"), 0, true}};
    for (const auto& [name, sign, tip, by, may] : acts) {
        auto* b = new QToolButton;
        b->setObjectName(QLatin1String(name));
        b->setText(sign);
        b->setToolTip(tip);
        b->setAccessibleName(tip);
        b->setEnabled(may);
        QObject::connect(b, &QToolButton::clicked, this, [this, at, by = by] { rearrange(at, by); });
        row->addWidget(b);
    }
    return line;
}

/// What it leads to, a button to point at another, and the list of what fits.
QWidget* PropertyRow::makeLinks(const Property&) {
    auto* box = new QWidget;
    auto* flow = new FlowLayout(box, 4);
    auto* point = new QToolButton;
    point->setText(tr("Point"));
    point->setToolTip(tr("Then click what it leads to, in the view or in the Roster; Esc: nothing"));
    auto* list = new QToolButton;
    list->setText(tr("List"));
    list->setToolTip(tr("What it may lead to, the nearest first"));
    list->setPopupMode(QToolButton::InstantPopup);
    for (QToolButton* button : {point, list}) button->setObjectName("linkButton");
    auto* menu = new QMenu(list);
    menu->setAccessibleName(tr("What it may lead to"));
    list->setMenu(menu);
    QObject::connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        Q_EMIT rows_.targetsAsked(key(), menu);
    });
    QObject::connect(point, &QToolButton::clicked, this, [this] { Q_EMIT rows_.pointAsked(key()); });
    update_ = [this, box, flow, point, list](const PropertyShown& s) {
        for (QToolButton* old : chips_) old->deleteLater();
        chips_.clear();
        flow->removeWidget(point);
        flow->removeWidget(list);
        std::vector<base::ObjectId> targets;
        if (s.value) {
            model::ValueMap one = {{"to", *s.value}};
            model::eachObjectLink(one, [&](base::ObjectId& id) { targets.push_back(id); });
        }
        const model::Scene& scene = rows_.editor_.scene();
        for (base::ObjectId id : targets) {
            const model::Slot slot = scene.find(id);
            auto* chip = new QToolButton(box);
            chip->setObjectName("linkChip");
            chip->setText(slot != model::kNoSlot ? toQt(std::string(scene.nameText(slot)))
                                                 : tr("broken: %1").arg(toQt(base::toText(id))));
            chip->setToolTip(tr("Goes there"));
            chip->setEnabled(slot != model::kNoSlot);
            QObject::connect(chip, &QToolButton::clicked, this, [this, id] { Q_EMIT rows_.goTo(id); });
            if (s.property.type == PropertyType::List) addListActs(chip, chips_.size(), targets.size());
            flow->addWidget(chip);
            chip->show();
            chips_.push_back(chip);
        }
        point->setText(!s.value ? tr("mixed · point") : targets.empty() ? tr("none · point") : tr("Point"));
        flow->addWidget(point);
        flow->addWidget(list);
    };
    return box;
}

/// Of a link in a list, by a right click.
void PropertyRow::addListActs(QToolButton* chip, std::size_t at, std::size_t of) {
    chip->setContextMenuPolicy(Qt::ActionsContextMenu);
    const std::tuple<QString, int, bool> acts[] = {
        {tr("Earlier"), -1, at > 0}, {tr("Later"), 1, at + 1 < of}, {tr("Take it out"), 0, true}};
    for (const auto& [text, by, may] : acts) {
        auto* act = new QAction(text, chip);
        act->setEnabled(may);
        QObject::connect(act, &QAction::triggered, this, [this, at, by = by] { rearrange(at, by); });
        chip->addAction(act);
    }
    chip->setToolTip(tr("Goes there; right click: earlier, later, take it out"));
}

}  // namespace app
