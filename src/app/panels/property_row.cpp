#include "app/panels/property_row.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QSettings>
#include <QSlider>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/kit/flow_layout.h"
#include "app/kit/long_text.h"
#include "app/kit/number_field.h"
#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"
#include "app/look/colour.h"
#include "app/panels/colour_popover.h"
#include "app/panels/curve_field.h"
#include "edit/session.h"
#include "io/added.h"
#include "model/property_types.h"
#include "ops/properties.h"
#include "ops/records.h"

namespace app {

using model::Property;
using model::PropertyType;
using model::Value;
using model::ValueList;

namespace {

double part(const Value& value, std::size_t index) {
    const auto* list = std::get_if<ValueList>(&value.data);
    double room = 0;
    const double* number = list != nullptr && index < list->size() ? model::asNumber((*list)[index], room) : nullptr;
    return number != nullptr ? *number : 0.0;
}

QColor colourOf(const Value& value) {
    return toColour(glm::clamp(base::Vec3(part(value, 0), part(value, 1), part(value, 2)), 0.0, 1.0));
}

std::vector<QPointF> pointsOf(const Value& value) {
    std::vector<QPointF> points;
    if (const auto* list = std::get_if<ValueList>(&value.data))
        for (const Value& one : *list) points.emplace_back(part(one, 0), part(one, 1));
    return points;
}

}  // namespace

bool linksObjects(const Property& p) {
    return model::linksObject(p.type) ||
           (p.type == PropertyType::List && !p.element.empty() && model::linksObject(p.element[0].type));
}

PropertyRow::PropertyRow(PropertyRows& rows, const PropertyShown& shown) : QWidget(&rows), rows_(rows), shown_(shown) {
    const Property& p = shown.property;
    const bool wide = shown.isCondition || p.type == PropertyType::LongText || p.type == PropertyType::Curve ||
                      p.type == PropertyType::Vector || p.type == PropertyType::Flags || p.type == PropertyType::List ||
                      model::linksObject(p.type);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(3);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    label_ = new QLabel;
    label_->setObjectName("quiet");
    label_->setToolTip(toolTip());
    row->addWidget(label_, 1);
    outer->addLayout(row);
    QWidget* editor = make(p);
    if (wide)
        outer->addWidget(editor);
    else
        row->addWidget(editor, 1);
    name(editor);
    refresh(shown);
}

bool PropertyRow::fits(const QString& filter) const {
    return toQt(shown_.property.label).contains(filter, Qt::CaseInsensitive) ||
           toQt(shown_.property.name).contains(filter, Qt::CaseInsensitive);
}

/// With its unit.
QString PropertyRow::labelled(const Property& p) const {
    const std::string unit = p.unit == "m" ? base::traits(rows_.editor_.unit()).sign : p.unit;
    return toQt(unit.empty() ? p.label : p.label + " (" + unit + ")");
}

void PropertyRow::refresh(const PropertyShown& shown) {
    shown_ = shown;
    const Property& p = shown.property;
    label_->setText((shown.own ? QStringLiteral("• ") : QString()) + labelled(p));
    setEnabled(!shown.fixed);
    if (shown.fixed) setToolTip(shown.why);
    update_(shown);
}

/// What it does goes by the property's name: while the menu is open the row may be made anew.
void PropertyRow::contextMenuEvent(QContextMenuEvent* event) {
    PropertyRows* rows = &rows_;
    QMenu* menu = openMenu(rows);
    const QString name = key();
    auto act = [menu, rows](const QString& text, bool may, auto what) {
        menu->addAction(text, rows, std::move(what))->setEnabled(may);
    };
    act(tr("Back to the default"), shown_.own && !shown_.fixed, [rows, name] { Q_EMIT rows->resetAsked(name); });
    act(tr("Copy the value"), shown_.value.has_value(),
        [text = textOf(shown_)] { QApplication::clipboard()->setText(text); });
    act(tr("Paste a value"), !shown_.fixed,
        [rows, name] { Q_EMIT rows->typed(name, QApplication::clipboard()->text()); });
    const bool pinned = isPinned();
    act(pinned ? tr("Unpin") : tr("Pin to the top"), true, [rows, name, pinned] {
        QStringList pins = QSettings().value("properties/pinned").toStringList();
        pins.removeAll(name);
        if (!pinned) pins << name;
        QSettings().setValue("properties/pinned", pins);
        rows->place();
    });
    menu->popup(event->globalPos());
}

bool PropertyRow::isPinned() const {
    return QSettings().value("properties/pinned").toStringList().contains(toQt(shown_.property.name));
}

QString PropertyRow::toolTip() const {
    const Property& p = shown_.property;
    QString text = toQt(p.help);
    if (p.low || p.high) {
        if (!text.isEmpty()) text += '\n';
        text += tr("From %1 to %2")
                    .arg(p.low ? QString::number(*p.low) : tr("any"), p.high ? QString::number(*p.high) : tr("any"));
    }
    return text.isEmpty() ? toQt(p.label) : text;
}

void PropertyRow::name(QWidget* editor) const {
    const QString accessible = toQt(shown_.property.label);
    QList<QWidget*> parts = editor->findChildren<QWidget*>();
    parts << editor;
    for (QWidget* w : parts)
        if (w->accessibleName().isEmpty() && w->focusPolicy() != Qt::NoFocus) w->setAccessibleName(accessible);
    editor->setObjectName("property." + toQt(shown_.property.name));
    if (editor->toolTip().isEmpty()) editor->setToolTip(toolTip());
}

QString PropertyRow::key() const {
    return toQt(shown_.property.name);
}

QString PropertyRow::textOf(const PropertyShown& s) const {
    return s.value ? toQt(ops::valueText(rows_.editor_.session().library(), s.property, *s.value)) : QString();
}

void PropertyRow::choose(Value value) {
    if (shown_.value && *shown_.value == value) return;
    Q_EMIT rows_.chosen(key(), value);
}

NumberField* PropertyRow::number(base::Quantity quantity, int decimals) {
    auto* field = new NumberField(quantity, decimals);
    field->setUnit(rows_.editor_.unit());
    const double step = shown_.property.step.value_or(quantity == base::Quantity::Angle ? 15 : 0.1);
    const bool whole = shown_.property.type == PropertyType::Integer;
    field->setSteps(whole ? std::max(1.0, std::round(step / 10)) : step / 10, whole ? std::max(1.0, step) : step);
    field->setMinimumWidth(54);
    return field;
}

QWidget* PropertyRow::make(const Property& p) {
    if (shown_.isCondition) return makeCondition();
    if (model::traits(p.type).numbers == 1) return makeNumber(p);
    switch (p.type) {
        case PropertyType::Bool: return makeBool();
        case PropertyType::LongText: return makeLongText();
        case PropertyType::Choice: return makeChoice();
        case PropertyType::Flags: return makeFlags(p);
        case PropertyType::Colour: return makeColour();
        case PropertyType::Vector:
        case PropertyType::Range: return makeNumbers(static_cast<std::size_t>(model::traits(p.type).numbers));
        case PropertyType::Curve: return makeCurve();
        case PropertyType::Record: return makeRecord(p);
        case PropertyType::Item:
        case PropertyType::Media: return makeNamed(p);
        case PropertyType::List:
            if (!linksObjects(p)) return makeList(p);
            [[fallthrough]];
        default: return linksObjects(p) ? makeLinks(p) : makeText();
    }
}

QWidget* PropertyRow::makeNumber(const Property& p) {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    auto* field = number(ops::quantityOf(p), p.type == PropertyType::Integer ? 0 : 2);
    QSlider* slider = nullptr;
    constexpr int kParts = 1000;
    const double reach = p.low && p.high ? *p.high - *p.low : 0;
    if (reach > 0 && reach <= (p.step ? *p.step * kParts : 1000)) {
        slider = new QSlider(Qt::Horizontal);
        new QuietWheel(slider);
        slider->setRange(0, kParts);
        slider->setAccessibleName(QObject::tr("%1, by a slider").arg(toQt(p.label)));
        row->addWidget(slider, 1);
        const double low = *p.low, span = *p.high - *p.low, step = p.step.value_or(span / kParts);
        auto valueAt = [low, span, step](int at) { return low + std::round(span * at / kParts / step) * step; };
        QObject::connect(slider, &QSlider::sliderMoved, field,
                         [field, valueAt](int at) { field->setValue(valueAt(at)); });
        QObject::connect(slider, &QSlider::sliderReleased, field, [this, slider, valueAt] {
            Q_EMIT rows_.typed(key(), QString::number(valueAt(slider->value()), 'g', 12));
        });
    }
    field->setMaximumWidth(slider != nullptr ? 72 : 96);
    row->addWidget(field);
    if (slider == nullptr) row->setAlignment(field, Qt::AlignRight);
    QObject::connect(field, &NumberField::typed, this, [this](const QString& t) { Q_EMIT rows_.typed(key(), t); });
    QObject::connect(field, &NumberField::stepped, this,
                     [this](double d) { Q_EMIT rows_.typed(key(), QString("+=%1").arg(d, 0, 'g', 12)); });
    update_ = [this, field, slider, p](const PropertyShown& s) {
        field->setUnit(rows_.editor_.unit());
        if (!s.value) return s.optional ? field->setNone() : field->setMixed();
        double room = 0;
        const double* v = model::asNumber(*s.value, room);
        const double value = v != nullptr ? *v : 0;
        field->setValue(value);
        if (slider != nullptr && !slider->isSliderDown())
            slider->setValue(static_cast<int>(std::lround((value - *p.low) / (*p.high - *p.low) * 1000)));
    };
    return box;
}

QWidget* PropertyRow::makeBool() {
    auto* check = new QCheckBox;
    QObject::connect(check, &QCheckBox::clicked, this, [this, check] {
        check->setTristate(false);
        choose({check->isChecked()});
    });
    update_ = [check](const PropertyShown& s) {
        check->setTristate(!s.value);
        const bool on = s.value && std::get_if<bool>(&s.value->data) != nullptr && std::get<bool>(s.value->data);
        check->setCheckState(!s.value ? Qt::PartiallyChecked : on ? Qt::Checked : Qt::Unchecked);
        check->setText(!s.value ? tr("mixed") : on ? tr("yes") : tr("no"));
    };
    return check;
}

QWidget* PropertyRow::makeText() {
    auto* edit = new QLineEdit;
    QObject::connect(edit, &QLineEdit::editingFinished, this, [this, edit] {
        if (!edit->isModified()) return;
        edit->setModified(false);
        Q_EMIT rows_.typed(key(), edit->text());
    });
    update_ = [this, edit](const PropertyShown& s) {
        offerIn(edit, s.choices);
        if (edit->hasFocus() && edit->isModified()) return;
        edit->setText(textOf(s));
        edit->setPlaceholderText(s.value ? QString() : tr("mixed"));
        edit->setModified(false);
    };
    return edit;
}

QWidget* PropertyRow::makeLongText() {
    auto* edit = new LongText;
    edit->setTabChangesFocus(true);
    edit->setFixedHeight(64);
    edit->left = [this, edit] {
        if (!edit->document()->isModified()) return;
        edit->document()->setModified(false);
        Q_EMIT rows_.typed(key(), edit->toPlainText());
    };
    update_ = [this, edit](const PropertyShown& s) {
        if (edit->document()->isModified()) return;
        const QString text = textOf(s);
        if (edit->toPlainText() != text) edit->setPlainText(text);
        edit->setPlaceholderText(s.value ? QString() : tr("mixed"));
        edit->document()->setModified(false);
    };
    return edit;
}

QWidget* PropertyRow::makeChoice() {
    auto* combo = new QComboBox;
    new QuietWheel(combo);
    QObject::connect(combo, QOverload<int>::of(&QComboBox::activated), this,
                     [this, combo](int i) { choose({combo->itemData(i).toString().toStdString()}); });
    update_ = [this, combo](const PropertyShown& s) {
        combo->clear();
        for (const model::Choice& c : s.choices) combo->addItem(toQt(c.label), toQt(c.value));
        const QString now = textOf(s);
        if (s.value && combo->findData(now) < 0) combo->addItem(now.isEmpty() ? tr("none") : now, now);
        combo->setCurrentIndex(s.value ? combo->findData(now) : -1);
        combo->setPlaceholderText(tr("mixed"));
    };
    return combo;
}

QWidget* PropertyRow::makeFlags(const Property& p) {
    auto* box = new QWidget;
    auto* flow = new FlowLayout(box, 6);
    std::vector<QCheckBox*> checks;
    for (const model::Choice& c : p.choices) {
        auto* check = new QCheckBox(toQt(c.label));
        check->setProperty("value", toQt(c.value));
        flow->addWidget(check);
        checks.push_back(check);
    }
    for (QCheckBox* check : checks)
        QObject::connect(check, &QCheckBox::clicked, this, [this, checks] {
            ValueList list;
            for (QCheckBox* one : checks)
                if (one->isChecked()) list.push_back({one->property("value").toString().toStdString()});
            choose({std::move(list)});
        });
    update_ = [checks](const PropertyShown& s) {
        const auto* list = s.value ? std::get_if<ValueList>(&s.value->data) : nullptr;
        for (QCheckBox* check : checks) {
            const Value wanted{check->property("value").toString().toStdString()};
            check->setChecked(list != nullptr && std::find(list->begin(), list->end(), wanted) != list->end());
        }
    };
    return box;
}

QWidget* PropertyRow::makeColour() {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    auto* swatch = new QToolButton;
    swatch->setFixedSize(26, 24);
    swatch->setAccessibleName(tr("Choose the colour"));
    swatch->setToolTip(tr("Choose the colour"));
    auto* edit = new QLineEdit;
    edit->setMaximumWidth(84);
    row->addStretch();
    row->addWidget(swatch);
    row->addWidget(edit);
    QObject::connect(edit, &QLineEdit::editingFinished, this, [this, edit] {
        if (!edit->isModified()) return;
        edit->setModified(false);
        Q_EMIT rows_.typed(key(), edit->text());
    });
    QObject::connect(swatch, &QToolButton::clicked, this, [this, swatch] {
        new ColourPopover(swatch, shown_.value ? colourOf(*shown_.value) : QColor(Qt::white),
                          [this](const QColor& c) { Q_EMIT rows_.typed(key(), c.name()); });
    });
    update_ = [swatch, edit](const PropertyShown& s) {
        const auto* parts = s.value ? std::get_if<ValueList>(&s.value->data) : nullptr;
        const bool any = parts != nullptr && parts->size() == 3;
        const QColor c = any ? colourOf(*s.value) : QColor();
        swatch->setStyleSheet(any ? QString("background: %1; border-radius: 4px;").arg(c.name()) : QString());
        if (edit->hasFocus() && edit->isModified()) return;
        edit->setText(any ? c.name() : QString());
        edit->setPlaceholderText(s.value || s.optional ? tr("none") : tr("mixed"));
        edit->setModified(false);
    };
    return box;
}

QWidget* PropertyRow::makeNumbers(std::size_t count) {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(5);
    std::vector<NumberField*> fields;
    for (std::size_t k = 0; k < count; ++k) {
        auto* field = number(ops::quantityOf(shown_.property), 2);
        field->setAccessibleName(count == 2 ? (k == 0 ? tr("From") : tr("To")) : QString("XYZ").mid(int(k), 1));
        row->addWidget(field);
        fields.push_back(field);
        // The others stay as they are, each object's own.
        auto change = [this, k, count](const QString& expression) {
            QStringList parts(static_cast<qsizetype>(count));
            parts[static_cast<qsizetype>(k)] = expression;
            Q_EMIT rows_.typed(key(), parts.join(','));
        };
        QObject::connect(field, &NumberField::typed, this, change);
        QObject::connect(field, &NumberField::stepped, this,
                         [change](double d) { change(QString("+=%1").arg(d, 0, 'g', 12)); });
    }
    if (shown_.property.isPlace) {
        auto* pick = new QToolButton;
        pick->setText(tr("Point"));
        pick->setAccessibleName(tr("Point at %1 in the view").arg(toQt(shown_.property.label)));
        pick->setToolTip(tr("Then click the place in the view"));
        QObject::connect(pick, &QToolButton::clicked, this, [this] { Q_EMIT rows_.placeAsked(key()); });
        row->addWidget(pick);
    }
    update_ = [this, fields](const PropertyShown& s) {
        for (std::size_t k = 0; k < fields.size(); ++k) {
            fields[k]->setUnit(rows_.editor_.unit());
            if (s.value)
                fields[k]->setValue(part(*s.value, k));
            else if (s.optional)
                fields[k]->setNone();
            else
                fields[k]->setMixed();
        }
    };
    return box;
}

QWidget* PropertyRow::makeCurve() {
    auto* curve = new CurveField([this]() -> const Theme& { return rows_.editor_.theme(); });
    QObject::connect(curve, &CurveField::changed, this, [this](const std::vector<QPointF>& points) {
        ValueList list;
        for (const QPointF& p : points) list.push_back({ValueList{{p.x()}, {p.y()}}});
        choose({std::move(list)});
    });
    update_ = [curve](const PropertyShown& s) {
        curve->setPoints(s.value ? pointsOf(*s.value) : std::vector<QPointF>{});
    };
    return curve;
}

}  // namespace app
