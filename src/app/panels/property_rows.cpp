#include "app/panels/property_rows.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QColorDialog>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QSettings>
#include <QSlider>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/panels/curve_field.h"
#include "app/panels/flow_layout.h"
#include "app/panels/long_text.h"
#include "app/panels/number_field.h"
#include "app/panels/quiet_wheel.h"
#include "io/added.h"

namespace app {

using model::Property;
using model::PropertyType;
using model::Value;
using model::ValueList;

namespace {

QString toQt(const std::string& text) {
    return QString::fromStdString(text);
}

double part(const Value& value, std::size_t index) {
    const auto* list = std::get_if<ValueList>(&value.data);
    double room = 0;
    const double* number = list != nullptr && index < list->size() ? model::asNumber((*list)[index], room) : nullptr;
    return number != nullptr ? *number : 0.0;
}

QColor colourOf(const Value& value) {
    auto byte = [&](std::size_t k) { return std::pow(std::clamp(part(value, k), 0.0, 1.0), 1 / 2.2); };
    return QColor::fromRgbF(static_cast<float>(byte(0)), static_cast<float>(byte(1)), static_cast<float>(byte(2)));
}

std::vector<QPointF> pointsOf(const Value& value) {
    std::vector<QPointF> points;
    if (const auto* list = std::get_if<ValueList>(&value.data))
        for (const Value& one : *list) points.emplace_back(part(one, 0), part(one, 1));
    return points;
}

bool isNumber(PropertyType type) {
    return type == PropertyType::Integer || type == PropertyType::Number || type == PropertyType::Angle ||
           type == PropertyType::Time;
}

bool linksObjects(const Property& p) {
    return model::linksObject(p.type) ||
           (p.type == PropertyType::List && !p.element.empty() && model::linksObject(p.element[0].type));
}

}  // namespace

/// One property's label and editor.
class PropertyRow : public QWidget {
  public:
    PropertyRow(PropertyRows& rows, const PropertyShown& shown) : rows_(rows), shown_(shown) {
        const Property& p = shown.property;
        const bool wide = p.type == PropertyType::LongText || p.type == PropertyType::Curve ||
                          p.type == PropertyType::Vector || p.type == PropertyType::Flags || linksObjects(p);
        auto* outer = new QVBoxLayout(this);
        outer->setContentsMargins(0, 0, 0, 0);
        outer->setSpacing(3);
        auto* row = new QHBoxLayout;
        row->setSpacing(6);
        label_ = new QLabel(toQt(p.unit.empty() ? p.label : p.label + " " + p.unit));
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
    const PropertyShown& shown() const { return shown_; }
    bool fits(const QString& filter) const {
        return toQt(shown_.property.label).contains(filter, Qt::CaseInsensitive) ||
               toQt(shown_.property.name).contains(filter, Qt::CaseInsensitive);
    }

    void refresh(const PropertyShown& shown) {
        shown_ = shown;
        label_->setText(QStringLiteral("%1%2").arg(
            shown.own ? QStringLiteral("• ") : QString(),
            toQt(shown.property.unit.empty() ? shown.property.label
                                             : shown.property.label + " " + shown.property.unit)));
        setEnabled(!shown.fixed);
        if (shown.fixed) setToolTip(shown.why);
        update_(shown);
    }

  protected:
    void contextMenuEvent(QContextMenuEvent* event) override {
        QMenu menu;
        const QString name = toQt(shown_.property.name);
        auto* reset = menu.addAction(tr("Back to the default"), [this, name] { Q_EMIT rows_.resetAsked(name); });
        reset->setEnabled(shown_.own && !shown_.fixed);
        auto* copy = menu.addAction(tr("Copy the value"), [this] {
            QApplication::clipboard()->setText(toQt(model::valueText(shown_.property, *shown_.value)));
        });
        copy->setEnabled(shown_.value.has_value());
        menu.addAction(tr("Paste a value"),
                       [this, name] { Q_EMIT rows_.typed(name, QApplication::clipboard()->text()); })
            ->setEnabled(!shown_.fixed);
        const bool pinned = isPinned();
        menu.addAction(pinned ? tr("Unpin") : tr("Pin to the top"), [this, pinned] {
            QStringList pins = QSettings().value("properties/pinned").toStringList();
            pins.removeAll(toQt(shown_.property.name));
            if (!pinned) pins << toQt(shown_.property.name);
            QSettings().setValue("properties/pinned", pins);
            rows_.place();
        });
        menu.exec(event->globalPos());
    }

  public:
    bool isPinned() const {
        return QSettings().value("properties/pinned").toStringList().contains(toQt(shown_.property.name));
    }

  private:
    QString toolTip() const {
        const Property& p = shown_.property;
        QString text = toQt(p.help);
        if (p.low || p.high) {
            if (!text.isEmpty()) text += '\n';
            text +=
                tr("From %1 to %2")
                    .arg(p.low ? QString::number(*p.low) : tr("any"), p.high ? QString::number(*p.high) : tr("any"));
        }
        return text.isEmpty() ? toQt(p.label) : text;
    }
    void name(QWidget* editor) const {
        const QString accessible = toQt(shown_.property.label);
        QList<QWidget*> parts = editor->findChildren<QWidget*>();
        parts << editor;
        for (QWidget* w : parts)
            if (w->accessibleName().isEmpty() && w->focusPolicy() != Qt::NoFocus) w->setAccessibleName(accessible);
        editor->setObjectName("property." + toQt(shown_.property.name));
        if (editor->toolTip().isEmpty()) editor->setToolTip(toolTip());
    }
    QString key() const { return toQt(shown_.property.name); }
    void choose(Value value) {
        if (shown_.value && *shown_.value == value) return;
        Q_EMIT rows_.chosen(key(), value);
    }

    NumberField* number(base::Quantity quantity, int decimals) {
        auto* field = new NumberField(quantity, decimals);
        const double step = shown_.property.step.value_or(quantity == base::Quantity::Angle ? 15 : 0.1);
        field->setSteps(step / 10, step);
        field->setMinimumWidth(54);
        return field;
    }

    QWidget* make(const Property& p) {
        if (isNumber(p.type)) return makeNumber(p);
        switch (p.type) {
            case PropertyType::Bool: return makeBool();
            case PropertyType::LongText: return makeLongText();
            case PropertyType::Choice: return makeChoice();
            case PropertyType::Flags: return makeFlags(p);
            case PropertyType::Colour: return makeColour();
            case PropertyType::Vector: return makeNumbers(3);
            case PropertyType::Range: return makeNumbers(2);
            case PropertyType::Curve: return makeCurve();
            case PropertyType::Record: return makeRecord(p);
            case PropertyType::Item:
            case PropertyType::Media: return makeNamed(p);
            default: return linksObjects(p) ? makeLinks(p) : makeText();
        }
    }

    QWidget* makeNumber(const Property& p) {
        auto* box = new QWidget;
        auto* row = new QHBoxLayout(box);
        row->setContentsMargins(0, 0, 0, 0);
        auto* field = number(p.type == PropertyType::Angle ? base::Quantity::Angle : base::Quantity::Factor,
                             p.type == PropertyType::Integer ? 0 : 2);
        QSlider* slider = nullptr;
        constexpr int kParts = 1000;
        if (p.low && p.high && *p.high > *p.low && *p.high - *p.low < 1e6) {
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
        field->setMaximumWidth(slider != nullptr ? 64 : 96);
        row->addWidget(field);
        if (slider == nullptr) row->setAlignment(field, Qt::AlignRight);
        QObject::connect(field, &NumberField::typed, this, [this](const QString& t) { Q_EMIT rows_.typed(key(), t); });
        QObject::connect(field, &NumberField::stepped, this,
                         [this](double d) { Q_EMIT rows_.typed(key(), QString("+=%1").arg(d, 0, 'g', 12)); });
        update_ = [field, slider, p](const PropertyShown& s) {
            if (!s.value) return field->setMixed();
            double room = 0;
            const double* v = model::asNumber(*s.value, room);
            const double value = v != nullptr ? *v : 0;
            field->setValue(value);
            if (slider != nullptr && !slider->isSliderDown())
                slider->setValue(static_cast<int>(std::lround((value - *p.low) / (*p.high - *p.low) * 1000)));
        };
        return box;
    }

    QWidget* makeBool() {
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

    QWidget* makeText() {
        auto* edit = new QLineEdit;
        QObject::connect(edit, &QLineEdit::editingFinished, this, [this, edit] {
            if (!edit->isModified()) return;
            edit->setModified(false);
            Q_EMIT rows_.typed(key(), edit->text());
        });
        update_ = [edit](const PropertyShown& s) {
            if (edit->hasFocus() && edit->isModified()) return;
            edit->setText(s.value ? toQt(model::valueText(s.property, *s.value)) : QString());
            edit->setPlaceholderText(s.value ? QString() : tr("mixed"));
            edit->setModified(false);
        };
        return edit;
    }

    QWidget* makeLongText() {
        auto* edit = new LongText;
        edit->setTabChangesFocus(true);
        edit->setFixedHeight(64);
        edit->left = [this, edit] {
            if (!edit->document()->isModified()) return;
            edit->document()->setModified(false);
            Q_EMIT rows_.typed(key(), edit->toPlainText());
        };
        update_ = [edit](const PropertyShown& s) {
            if (edit->document()->isModified()) return;
            const QString text = s.value ? toQt(model::valueText(s.property, *s.value)) : QString();
            if (edit->toPlainText() != text) edit->setPlainText(text);
            edit->setPlaceholderText(s.value ? QString() : tr("mixed"));
            edit->document()->setModified(false);
        };
        return edit;
    }

    QWidget* makeChoice() {
        auto* combo = new QComboBox;
        new QuietWheel(combo);
        QObject::connect(combo, QOverload<int>::of(&QComboBox::activated), this,
                         [this, combo](int i) { choose({combo->itemData(i).toString().toStdString()}); });
        update_ = [combo](const PropertyShown& s) {
            combo->clear();
            for (const model::Choice& c : s.choices) combo->addItem(toQt(c.label), toQt(c.value));
            const QString now = s.value ? toQt(model::valueText(s.property, *s.value)) : QString();
            if (s.value && combo->findData(now) < 0) combo->addItem(now.isEmpty() ? tr("none") : now, now);
            combo->setCurrentIndex(s.value ? combo->findData(now) : -1);
            combo->setPlaceholderText(tr("mixed"));
        };
        return combo;
    }

    QWidget* makeFlags(const Property& p) {
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

    QWidget* makeColour() {
        auto* box = new QWidget;
        auto* row = new QHBoxLayout(box);
        row->setContentsMargins(0, 0, 0, 0);
        auto* swatch = new QToolButton;
        swatch->setFixedSize(26, 24);
        swatch->setAccessibleName(tr("Choose the colour"));
        swatch->setToolTip(tr("Choose the colour on a wheel"));
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
        QObject::connect(swatch, &QToolButton::clicked, this, [this, box] {
            auto* dialog = new QColorDialog(shown_.value ? colourOf(*shown_.value) : QColor(Qt::white), box);
            dialog->setAttribute(Qt::WA_DeleteOnClose);
            dialog->setOption(QColorDialog::DontUseNativeDialog);
            QObject::connect(dialog, &QColorDialog::colorSelected, this,
                             [this](const QColor& c) { Q_EMIT rows_.typed(key(), c.name()); });
            dialog->open();
        });
        update_ = [swatch, edit](const PropertyShown& s) {
            const QColor c = s.value ? colourOf(*s.value) : QColor();
            swatch->setStyleSheet(s.value ? QString("background: %1; border-radius: 4px;").arg(c.name()) : QString());
            if (edit->hasFocus() && edit->isModified()) return;
            edit->setText(s.value ? c.name() : QString());
            edit->setPlaceholderText(s.value ? QString() : tr("mixed"));
            edit->setModified(false);
        };
        return box;
    }

    QWidget* makeNumbers(std::size_t count) {
        auto* box = new QWidget;
        auto* row = new QHBoxLayout(box);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(5);
        std::vector<NumberField*> fields;
        for (std::size_t k = 0; k < count; ++k) {
            auto* field = number(base::Quantity::Factor, 2);
            field->setAccessibleName(count == 2 ? (k == 0 ? tr("From") : tr("To")) : QString("XYZ").mid(int(k), 1));
            row->addWidget(field);
            fields.push_back(field);
            auto change = [this, k, count](const QString& expression) {
                ValueList list;
                for (std::size_t i = 0; i < count; ++i) list.push_back({shown_.value ? part(*shown_.value, i) : 0.0});
                auto value = base::evaluateQuantity(expression.toStdString(), base::Quantity::Factor,
                                                    shown_.value ? part(*shown_.value, k) : 0.0);
                if (!value) return void(rows_.editor_.report(tl::unexpected(value.error())));
                list[k] = {*value};
                choose({std::move(list)});
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
        update_ = [fields](const PropertyShown& s) {
            for (std::size_t k = 0; k < fields.size(); ++k)
                if (s.value)
                    fields[k]->setValue(part(*s.value, k));
                else
                    fields[k]->setMixed();
        };
        return box;
    }

    QWidget* makeCurve() {
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

    QWidget* makeRecord(const Property& p) {
        auto* combo = new QComboBox;
        new QuietWheel(combo);
        QObject::connect(combo, QOverload<int>::of(&QComboBox::activated), this,
                         [this, combo](int i) { Q_EMIT rows_.typed(key(), combo->itemData(i).toString()); });
        update_ = [this, combo, p](const PropertyShown& s) {
            combo->clear();
            combo->addItem(tr("none"), QString());
            if (const model::RecordType* type = rows_.editor_.session().library().recordType(p.records))
                for (const auto& [id, record] : type->records)
                    combo->addItem(toQt(record.name), toQt(base::toText(id)));
            const base::ObjectId now = s.value ? model::recordIn(*s.value) : base::ObjectId{};
            const QString id = now ? toQt(base::toText(now)) : QString();
            if (combo->findData(id) < 0) combo->addItem(tr("missing: %1").arg(id), id);
            combo->setCurrentIndex(s.value ? combo->findData(id) : -1);
            combo->setPlaceholderText(tr("mixed"));
        };
        return combo;
    }

    /// A name out of a list: an item's, or that of a file in media.
    QWidget* makeNamed(const Property& p) {
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
                    combo->addItem(toQt(file), toQt(file));
            }
            const QString now = s.value ? toQt(model::valueText(s.property, *s.value)) : QString();
            if (combo->findData(now) < 0) combo->addItem(tr("missing: %1").arg(now), now);
            combo->setCurrentIndex(s.value ? combo->findData(now) : -1);
            combo->setPlaceholderText(tr("mixed"));
        };
        return combo;
    }

    /// What it leads to, a button to point at another, and the list of what fits.
    QWidget* makeLinks(const Property&) {
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

    PropertyRows& rows_;
    PropertyShown shown_;
    QLabel* label_;
    std::vector<QToolButton*> chips_;
    std::function<void(const PropertyShown&)> update_;
};

PropertyRows::PropertyRows(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    layout_ = new QVBoxLayout(this);
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(5);
}

PropertyRows::~PropertyRows() = default;

void PropertyRows::show(const std::vector<PropertyShown>& shown) {
    const bool same =
        std::equal(rows_.begin(), rows_.end(), shown.begin(), shown.end(),
                   [](const auto& row, const PropertyShown& s) { return row->shown().property == s.property; });
    if (same) {
        // Links are drawn anew even so: what they lead to may have another name.
        for (std::size_t i = 0; i < shown.size(); ++i) rows_[i]->refresh(shown[i]);
        return;
    }
    rows_.clear();
    for (const PropertyShown& s : shown) rows_.push_back(std::make_unique<PropertyRow>(*this, s));
    place();
}

/// Pinned ones first; then by category, each under its heading.
void PropertyRows::place() {
    for (QWidget* heading : headings_) delete heading;
    headings_.clear();
    std::vector<PropertyRow*> order;
    for (const auto& row : rows_) order.push_back(row.get());
    std::vector<std::string> categories;
    for (PropertyRow* row : order)
        if (std::find(categories.begin(), categories.end(), row->shown().property.category) == categories.end())
            categories.push_back(row->shown().property.category);
    auto rank = [&](PropertyRow* row) {
        if (row->isPinned()) return std::ptrdiff_t{-1};
        return std::find(categories.begin(), categories.end(), row->shown().property.category) - categories.begin();
    };
    std::stable_sort(order.begin(), order.end(), [&](auto* a, auto* b) { return rank(a) < rank(b); });
    std::ptrdiff_t last = -2;
    for (PropertyRow* row : order) {
        const std::ptrdiff_t now = rank(row);
        const QString title = now < 0 ? tr("Pinned") : toQt(row->shown().property.category);
        if (now != last && !title.isEmpty()) {
            auto* heading = new QLabel(title, this);
            heading->setObjectName("faint");
            layout_->addWidget(heading);
            headings_.push_back(heading);
        }
        last = now;
        layout_->removeWidget(row);
        layout_->addWidget(row);
        row->setVisible(row->fits(filter_));
    }
    for (QWidget* heading : headings_) heading->setVisible(filter_.isEmpty());
}

void PropertyRows::setFilter(const QString& text) {
    filter_ = text;
    place();
}

}  // namespace app
