// Cards of facets whose numbers are plain fields: light, camera, array, solid; and the note.
#include <fmt/format.h>

#include <QHBoxLayout>
#include <QPushButton>
#include <cmath>

#include "app/look/colour.h"
#include "app/panels/colour_popover.h"
#include "app/panels/long_text.h"
#include "app/panels/properties_panel.h"
#include "ops/array.h"
#include "shape/solid.h"

namespace app {

using base::fail;
using base::Quantity;
using base::Status;
using model::Slot;

namespace {

QLabel* quiet(const QString& text) {
    auto* l = new QLabel(text);
    l->setObjectName("quiet");
    return l;
}

}  // namespace

std::size_t PropertiesPanel::addFacetField(QVBoxLayout* into, const QString& text, Quantity quantity, double low,
                                           double high, double step,
                                           std::function<std::optional<double>(const model::Detail&)> get,
                                           std::function<void(model::Detail&, double)> set) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(quiet(text), 1);
    auto* field = new NumberField(quantity, quantity == Quantity::Angle ? 2 : 3);
    field->setAccessibleName(text);
    field->setToolTip(tr("%1, from %2 to %3").arg(text).arg(low).arg(high));
    field->setObjectName("facet" + QString(text).remove(' ').remove('(').remove(')'));
    field->setMaximumWidth(96);
    field->setSteps(step / 10, step);
    row->addWidget(field);
    into->addWidget(line);
    const std::size_t index = facetFields_.size();
    facetFields_.push_back({text, field, std::move(get), std::move(set), low, high});
    connect(field, &NumberField::typed, this, [this, index](const QString& e) { typeFacet(index, e); });
    connect(field, &NumberField::stepped, this,
            [this, index](double d) { typeFacet(index, QString("+=%1").arg(d, 0, 'g', 12)); });
    return index;
}

void PropertiesPanel::addFacetColour(QVBoxLayout* into, const char* name,
                                     std::function<std::optional<base::Vec3>(const model::Detail&)> get,
                                     std::function<void(model::Detail&, const base::Vec3&)> set) {
    auto* row = new QHBoxLayout;
    row->addWidget(quiet(tr("Colour")), 1);
    auto* swatch = new QToolButton;
    swatch->setObjectName(QLatin1String(name));
    swatch->setAccessibleName(tr("Colour"));
    swatch->setToolTip(tr("Choose the colour"));
    swatch->setFixedSize(96, 22);
    row->addWidget(swatch);
    into->addLayout(row);
    facetColours_.push_back({swatch, get});
    connect(swatch, &QToolButton::clicked, this, [this, swatch, get, set] {
        const model::Detail none;
        const Slot first =
            editor_.selection().empty() ? model::kNoSlot : editor_.scene().find(editor_.selection().front());
        const model::DetailPtr detail = first == model::kNoSlot ? nullptr : editor_.scene().detail(first);
        const auto now = get(detail ? *detail : none);
        new ColourPopover(swatch, now ? toColour(*now) : QColor(Qt::white), [this, set](const QColor& c) {
            editDetail(stepName("Set colour of"), [&](model::Detail& d) -> Status {
                set(d, toLinear(c));
                return {};
            });
            refresh();
        });
    });
}

void PropertiesPanel::makeFacets(QVBoxLayout* layout) {
    using model::Detail;
    QVBoxLayout* inside = nullptr;
    FacetCard light{
        makeCard("light", tr("Light"), tr("facet"), inside), [](const Detail& d) { return d.light.has_value(); }, {}};
    auto lightField = [&](const QString& text, Quantity q, double low, double high, double step,
                          double model::Light::*member) {
        light.fields.push_back(addFacetField(
            inside, text, q, low, high, step,
            [member](const Detail& d) { return d.light ? std::optional((*d.light).*member) : std::nullopt; },
            [member](Detail& d, double v) {
                if (d.light) (*d.light).*member = v;
            }));
    };
    lightField(tr("Intensity cd"), Quantity::Factor, 0, 1e6, 5, &model::Light::intensity);
    lightField(tr("Reach (m)"), Quantity::Length, 0, 1e4, 0.5, &model::Light::reachMetres);
    addFacetColour(
        inside, "lightColour", [](const Detail& d) { return d.light ? std::optional(d.light->colour) : std::nullopt; },
        [](Detail& d, const base::Vec3& c) {
            if (d.light) d.light->colour = c;
        });
    const QString colours[] = {tr("Red"), tr("Green"), tr("Blue")};
    for (int i = 0; i < 3; ++i)
        light.fields.push_back(addFacetField(
            inside, colours[i], Quantity::Factor, 0, 1, 0.05,
            [i](const Detail& d) { return d.light ? std::optional(d.light->colour[i]) : std::nullopt; },
            [i](Detail& d, double v) {
                if (d.light) d.light->colour[i] = v;
            }));
    layout->addWidget(light.card);
    facetCards_.push_back(light);

    FacetCard camera{makeCard("camera", tr("Camera"), tr("facet"), inside),
                     [](const Detail& d) { return d.camera.has_value(); },
                     {}};
    auto cameraField = [&](const QString& text, Quantity q, double low, double high, double step,
                           double model::Camera::*member) {
        camera.fields.push_back(addFacetField(
            inside, text, q, low, high, step,
            [member](const Detail& d) { return d.camera ? std::optional((*d.camera).*member) : std::nullopt; },
            [member](Detail& d, double v) {
                if (d.camera) (*d.camera).*member = v;
            }));
    };
    cameraField(tr("Field of view"), Quantity::Angle, 1, 170, 5, &model::Camera::verticalDegrees);
    cameraField(tr("Near (m)"), Quantity::Length, 0.001, 1e4, 0.1, &model::Camera::nearMetres);
    cameraField(tr("Far (m)"), Quantity::Length, 0.01, 1e6, 50, &model::Camera::farMetres);
    layout->addWidget(camera.card);
    facetCards_.push_back(camera);

    makeArrayCard(layout);
    makeSolidCard(layout);
    FacetCard tint{makeCard("tint", tr("Tint"), tr("times its colours"), inside),
                   [](const Detail& d) { return d.tint.has_value(); },
                   {}};
    addFacetColour(
        inside, "tintColour", [](const Detail& d) { return d.tint; },
        [](Detail& d, const base::Vec3& c) {
            if (d.tint) d.tint = c;
        });
    for (int i = 0; i < 3; ++i)
        tint.fields.push_back(addFacetField(
            inside, tr("Tint %1").arg(colours[i].toLower()), Quantity::Factor, 0, 1, 0.05,
            [i](const Detail& d) { return d.tint ? std::optional((*d.tint)[i]) : std::nullopt; },
            [i](Detail& d, double v) {
                if (d.tint) (*d.tint)[i] = v;
            }));
    layout->addWidget(tint.card);
    facetCards_.push_back(tint);

    noteCard_ = makeCard("note", tr("Note"), tr("facet"), inside);
    auto* edit = new LongText;
    note_ = edit;
    note_->setObjectName("noteText");
    note_->setAccessibleName(tr("Text of the note"));
    note_->setTabChangesFocus(true);
    note_->setFixedHeight(90);
    edit->left = [this] {
        if (!note_->document()->isModified()) return;
        const std::string text = note_->toPlainText().toStdString();
        note_->document()->setModified(false);
        editDetail(stepName("Edit note of"), [&](model::Detail& d) -> Status {
            if (d.note) d.note->text = text;
            return {};
        });
    };
    inside->addWidget(note_);
    layout->addWidget(noteCard_);
}

void PropertiesPanel::makeArrayCard(QVBoxLayout* layout) {
    using model::Array;
    using model::Detail;
    using Shape = Array::Shape;
    QVBoxLayout* inside = nullptr;
    FacetCard card{makeCard("array", tr("Array"), tr("until baked"), inside),
                   [](const Detail& d) { return d.array.has_value(); },
                   {}};
    using For = std::function<bool(Shape)>;  // which shapes have the number
    const For all = [](Shape) { return true; }, ring = [](Shape s) { return s == Shape::Ring; },
              apart = [](Shape s) { return s != Shape::Ring; }, row = [](Shape s) { return s == Shape::Row; },
              grid = [](Shape s) { return s == Shape::Grid; };
    auto field = [&](const QString& text, Quantity q, double low, double high, double step, const For& has,
                     const std::function<double(const Array&)>& get, const std::function<void(Array&, double)>& set) {
        card.fields.push_back(addFacetField(
            inside, text, q, low, high, step,
            [get, has](const Detail& d) {
                return d.array && has(d.array->shape) ? std::optional(get(*d.array)) : std::nullopt;
            },
            [set](Detail& d, double v) {
                if (d.array) set(*d.array, v);
            }));
    };
    auto whole = [&](const QString& text, double low, double high, const For& has, const auto& of) {
        field(
            text, Quantity::Factor, low, high, 10, has, [of](const Array& a) { return double(of(a)); },
            [of](Array& a, double v) { of(a) = static_cast<std::decay_t<decltype(of(a))>>(std::lround(v)); });
        facetFields_.back().field->setDecimals(0);
        facetFields_.back().field->setSteps(1, 10);
    };
    auto plain = [&](const QString& text, Quantity q, double low, double high, double step, const For& has,
                     double Array::*member) {
        field(
            text, q, low, high, step, has, [member](const Array& a) { return a.*member; },
            [member](Array& a, double v) { a.*member = v; });
    };
    const QString axes = QStringLiteral("XYZ");
    for (std::size_t k = 0; k < 3; ++k)
        whole(
            k == 0 ? tr("Count") : tr("Count %1").arg(axes[static_cast<int>(k)]), 1, ops::kMostCopies,
            k == 0 ? all : grid, [k](auto& a) -> auto& { return a.counts[k]; });
    for (int k = 0; k < 3; ++k)
        field(
            tr("Spacing %1 (m)").arg(axes[k]), Quantity::Length, -1e5, 1e5, 0.5, apart,
            [k](const Array& a) { return a.spacing[k]; }, [k](Array& a, double v) { a.spacing[k] = v; });
    // From the first to the last of a row; the spacing follows.
    field(
        tr("Whole length (m)"), Quantity::Length, 0, 1e6, 1, row,
        [](const Array& a) { return glm::length(a.spacing) * (a.counts[0] - 1); },
        [](Array& a, double v) {
            const double now = glm::length(a.spacing) * (a.counts[0] - 1);
            if (now > 1e-9) a.spacing *= v / now;
        });
    plain(tr("Radius (m)"), Quantity::Length, 0, 1e5, 0.5, ring, &Array::radiusMetres);
    plain(tr("Sweep"), Quantity::Angle, -360, 360, 15, ring, &Array::sweepDegrees);
    plain(tr("Turn each"), Quantity::Angle, -360, 360, 15, all, &Array::turnDegrees);
    plain(tr("Size each ×"), Quantity::Factor, 0.1, 10, 0.1, all, &Array::size);
    plain(tr("Jitter (m)"), Quantity::Length, 0, 1e4, 0.1, all, &Array::jitterMetres);
    plain(tr("Jitter turn"), Quantity::Angle, 0, 180, 5, all, &Array::jitterDegrees);
    plain(tr("Jitter size"), Quantity::Factor, 0, 0.9, 0.1, all, &Array::jitterSize);
    whole(
        tr("Seed"), 0, 1e9, all, [](auto& a) -> auto& { return a.seed; });
    makeArrayOddities(inside);
    layout->addWidget(card.card);
    facetCards_.push_back(card);
}

void PropertiesPanel::makeArrayOddities(QVBoxLayout* inside) {
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
        const auto all = slots();
        if (!all.empty()) editor_.select(ops::arrayOddities(editor_.scene(), all.front()).changed);
    });
    button("arrayAlike", tr("Make all alike"),
           tr("Every copy becomes like the first one again and goes to its place; deleted ones come back"),
           [this] { Q_EMIT alikeAsked(); });
    buttons->addStretch(1);
    lines->addLayout(buttons);
    inside->addWidget(arrayOdd_);
}

void PropertiesPanel::showArrayOddities(Slot array) {
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

void PropertiesPanel::makeSolidCard(QVBoxLayout* layout) {
    using model::Detail;
    using Shape = model::Solid::Shape;
    QVBoxLayout* inside = nullptr;
    FacetCard card{
        makeCard("solid", tr("Solid"), tr("facet"), inside), [](const Detail& d) { return d.solid.has_value(); }, {}};
    const QString sizes[] = {tr("Width (m)"), tr("Height (m)"), tr("Depth (m)")};
    for (int k = 0; k < 3; ++k)
        card.fields.push_back(addFacetField(
            inside, sizes[k], Quantity::Length, 0.001, 10'000, 0.25,
            [k](const Detail& d) -> std::optional<double> {
                if (!d.solid || (k == 1 && d.solid->shape == Shape::Plane)) return std::nullopt;
                return d.solid->size[k];
            },
            [k](Detail& d, double v) {
                if (d.solid) d.solid->size[k] = v;
            }));
    card.fields.push_back(addFacetField(
        inside, tr("Sides or steps"), Quantity::Factor, 0, 1000, 1,
        [](const Detail& d) -> std::optional<double> {
            if (!d.solid) return std::nullopt;
            const auto shape = static_cast<shape::SolidShape>(d.solid->shape);
            if (shape::usualParts(shape, d.solid->size) == 0) return std::nullopt;
            return d.solid->parts > 0 ? d.solid->parts : shape::usualParts(shape, d.solid->size);
        },
        [](Detail& d, double v) {
            if (d.solid) d.solid->parts = static_cast<int>(std::lround(v));
        }));
    facetFields_.back().field->setDecimals(0);
    facetFields_.back().field->setSteps(1, 5);
    facetFields_.back().field->setToolTip(tr("Sides of what is round, steps of stairs; 0: as many as suits"));
    layout->addWidget(card.card);
    facetCards_.push_back(card);
}

bool PropertiesPanel::editDetail(const std::string& name, const std::function<Status(model::Detail&)>& edit) {
    return editor_.run(name, [&](edit::Draft& draft) -> Status {
        std::vector<base::ObjectId> ids;
        std::vector<model::DetailPtr> details;
        for (Slot s : slots()) {
            auto detail = editor_.scene().detail(s) ? std::make_shared<model::Detail>(*editor_.scene().detail(s))
                                                    : std::make_shared<model::Detail>();
            const std::optional<model::Array> array = detail->array;
            if (Status done = edit(*detail); !done) return done;
            if (detail->array && detail->array != array) {
                if (Status done = ops::setArray(draft, editor_.scene().id(s), *detail->array); !done) return done;
                continue;
            }
            ids.push_back(editor_.scene().id(s));
            details.push_back(std::move(detail));
        }
        return ids.empty() ? Status{} : draft.setDetails(ids, details);
    });
}

void PropertiesPanel::typeFacet(std::size_t index, const QString& expression) {
    const FacetField& field = facetFields_[index];
    editDetail(stepName(("Set " + field.label.section(" (", 0, 0).toStdString() + " of").c_str()),
               [&](model::Detail& detail) -> Status {
                   const auto present = field.get(detail);
                   if (!present) return {};
                   auto value = base::evaluateQuantity(expression.toStdString(), field.field->quantity(), *present);
                   if (!value) return tl::unexpected(value.error());
                   if (*value < field.low || *value > field.high)
                       return fail(
                           base::ErrorCode::BadInput,
                           fmt::format("{} can be from {} to {}.", field.label.toStdString(), field.low, field.high));
                   field.set(detail, *value);
                   return {};
               });
    refresh();
}

}  // namespace app
