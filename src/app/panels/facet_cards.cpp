#include "app/panels/facet_cards.h"

#include <fmt/format.h>

#include <QHBoxLayout>
#include "app/look/colour.h"
#include "app/look/parts.h"
#include "app/panels/colour_popover.h"
#include "app/panels/quiet_wheel.h"

namespace app {

using base::Quantity;
using base::Status;
using model::Detail;
using model::kNoSlot;
using model::Slot;

FacetCards::FacetCards(Editor& editor, QWidget* parent)
    : QWidget(parent), editor_(editor), layout_(new QVBoxLayout(this)) {
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(8);
    makeSurfaces();
    makeBody();
    makePoints();
    makeZone();
    makeSwitches();
    makeAdd();
    connect(&editor_, &Editor::chosenPointChanged, this, [this] {
        if (isVisible() && editor_.isOpen() && !all_.empty()) showPoints(editor_.scene());
    });
}

QWidget* FacetCards::card(const char* name, const QString& title, QVBoxLayout*& inside) {
    auto* frame = new FoldCard(QLatin1String(name), title);
    inside = frame->inside();
    layout_->addWidget(frame);
    return frame;
}

base::ObjectId FacetCards::only() const {
    return all_.size() == 1 ? editor_.scene().id(all_[0]) : base::ObjectId{};
}

void FacetCards::change(const std::string& what, const ops::ChangeDetail& edit) {
    if (filling_) return;
    const ops::Ids ids = editor_.selection();
    editor_.run(what + " of " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        if (Status done = ops::changeDetails(draft, ids, edit); !done) return done;
        // The verbs know what cannot be.
        for (base::ObjectId id : ids) {
            const model::DetailPtr& now = draft.scene().detail(draft.scene().find(id));
            if (!now) continue;
            Status fine;
            if (now->body) fine = ops::setBody(draft, {&id, 1}, std::optional(now->body));
            if (fine && now->zone) fine = ops::setZone(draft, {&id, 1}, std::optional(now->zone));
            if (fine && now->points) fine = ops::setPoints(draft, id, std::optional(now->points));
            if (!fine) return fine;
        }
        return {};
    });
    show(all_);
}

void FacetCards::addNumber(QVBoxLayout* into, const QString& text, Quantity quantity,
                           std::function<std::optional<double>(const Detail&)> get,
                           std::function<void(Detail&, double)> set) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(text, "quiet"), 1);
    auto* field = new NumberField(quantity, 2);
    field->setObjectName("facet" + QString(text).remove(' ').remove('(').remove(')'));
    field->setAccessibleName(text);
    field->setMaximumWidth(96);
    row->addWidget(field);
    into->addWidget(line);
    auto write = [this, text, quantity, get, set](const QString& typed) {
        change("Set " + text.section(" (", 0, 0).toStdString(), [&](Slot, Detail& detail) -> Status {
            const auto present = get(detail);
            if (!present) return {};
            auto value = base::evaluateQuantity(typed.toStdString(), quantity, *present);
            if (!value) return tl::unexpected(value.error());
            set(detail, *value);
            return {};
        });
    };
    connect(field, &NumberField::typed, this, write);
    connect(field, &NumberField::stepped, this, [write](double d) { write(QString("+=%1").arg(d, 0, 'g', 12)); });
    numbers_.push_back({field, std::move(get)});
}

QComboBox* FacetCards::addChoice(QVBoxLayout* into, const QString& text, const QStringList& names,
                                 const std::function<void(Detail&, int)>& set) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(text, "quiet"), 1);
    auto* combo = new QComboBox;
    new QuietWheel(combo);
    combo->setObjectName("facet" + QString(text).remove(' ').remove('(').remove(')'));
    combo->setAccessibleName(text);
    combo->addItems(names);
    row->addWidget(combo);
    into->addWidget(line);
    connect(combo, &QComboBox::activated, this, [this, text, set](int index) {
        change("Set " + text.section(" (", 0, 0).toStdString(), [&](Slot, Detail& detail) -> Status {
            set(detail, index);
            return {};
        });
    });
    return combo;
}

/// Four things that are easily taken for one another, each with its own switch.
void FacetCards::makeSwitches() {
    QVBoxLayout* inside = nullptr;
    card("switches", tr("Seen and there"), inside);
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

void FacetCards::makeBody() {
    QVBoxLayout* inside = nullptr;
    body_ = card("body", tr("Body"), inside);
    role_ = addChoice(inside, tr("Role"), {tr("fixed"), tr("guided"), tr("loose"), tr("loose when touched")},
                      [](Detail& d, int i) {
                          if (d.body) d.body->role = static_cast<model::Body::Role>(i);
                      });
    role_->setToolTip(
        tr("Fixed: never moves. Guided: the game moves it. Loose: physics does. Loose when touched: from then on."));
    shape_ = addChoice(inside, tr("Collision shape"), {tr("mesh"), tr("box"), tr("sphere"), tr("capsule"), tr("hull")},
                       [](Detail& d, int i) {
                           if (d.body) d.body->shape = static_cast<model::Body::Shape>(i);
                       });
    fitted_ = new QCheckBox(tr("Fitted to the mesh"));
    fitted_->setObjectName("facetFitted");
    inside->addWidget(fitted_);
    connect(fitted_, &QCheckBox::clicked, this, [this](bool on) {
        change(on ? "Fit the body" : "Size the body", [&](Slot s, Detail& d) -> Status {
            if (!d.body) return {};
            const model::Item* item = editor_.session().library().item(editor_.scene().item(s));
            const ops::BodyBox box = ops::bodyBox(*d.body, item != nullptr ? item->bounds : base::Aabb{});
            d.body->fitted = on;
            d.body->centre = on ? base::Vec3(0.0) : box.centre;
            d.body->size = on ? base::Vec3(1.0) : box.size;
            return {};
        });
    });
    const QString sizes[] = {tr("Body width (m)"), tr("Body height (m)"), tr("Body depth (m)")};
    const QString places[] = {tr("Body X (m)"), tr("Body Y (m)"), tr("Body Z (m)")};
    auto own = [](const Detail& d) {
        using Shape = model::Body::Shape;
        return d.body && !d.body->fitted && d.body->shape != Shape::Mesh && d.body->shape != Shape::Hull;
    };
    for (int k = 0; k < 3; ++k)
        addNumber(
            inside, sizes[k], Quantity::Length,
            [own, k](const Detail& d) { return own(d) ? std::optional(d.body->size[k]) : std::nullopt; },
            [k](Detail& d, double v) { d.body->size[k] = v; });
    for (int k = 0; k < 3; ++k)
        addNumber(
            inside, places[k], Quantity::Length,
            [own, k](const Detail& d) { return own(d) ? std::optional(d.body->centre[k]) : std::nullopt; },
            [k](Detail& d, double v) { d.body->centre[k] = v; });
    addNumber(
        inside, tr("Mass (kg)"), Quantity::Factor,
        [](const Detail& d) { return d.body ? std::optional(d.body->massKilograms) : std::nullopt; },
        [](Detail& d, double v) { d.body->massKilograms = v; });
    numbers_.back().field->setToolTip(tr("0: as the game reckons it"));
}

void FacetCards::makeZone() {
    QVBoxLayout* inside = nullptr;
    zone_ = card("zone", tr("Zone"), inside);
    zoneShape_ = addChoice(inside, tr("Zone shape"), {tr("box"), tr("sphere"), tr("polygon")}, [](Detail& d, int i) {
        if (!d.zone) return;
        d.zone->shape = static_cast<model::Zone::Shape>(i);
        const base::Vec3 half = d.zone->size / 2.0;
        if (d.zone->shape == model::Zone::Shape::Polygon && d.zone->corners.size() < 3)
            d.zone->corners = {{-half.x, -half.z}, {half.x, -half.z}, {half.x, half.z}, {-half.x, half.z}};
    });
    const QString sizes[] = {tr("Zone width (m)"), tr("Zone height (m)"), tr("Zone depth (m)")};
    for (int k = 0; k < 3; ++k)
        addNumber(
            inside, sizes[k], Quantity::Length,
            [k](const Detail& d) -> std::optional<double> {
                using Shape = model::Zone::Shape;
                if (!d.zone || (d.zone->shape == Shape::Sphere && k > 0) || (d.zone->shape == Shape::Polygon && k != 1))
                    return std::nullopt;
                return d.zone->size[k];
            },
            [k](Detail& d, double v) {
                if (d.zone->shape == model::Zone::Shape::Sphere)
                    d.zone->size = base::Vec3(v);
                else
                    d.zone->size[k] = v;
            });
    auto* colour = new QToolButton;
    colour->setText(tr("Colour…"));
    colour->setObjectName("zoneColour");
    colour->setToolTip(tr("The colour of its lines in the view"));
    inside->addWidget(colour, 0, Qt::AlignRight);
    connect(colour, &QToolButton::clicked, this, [this, colour] {
        new ColourPopover(colour, Qt::white, [this](const QColor& c) {
            change("Colour the zone", [&](Slot, Detail& d) -> Status {
                if (d.zone) d.zone->colour = toLinear(c);
                return {};
            });
        });
    });
}

void FacetCards::makeAdd() {
    add_ = new QToolButton;
    add_->setObjectName("facetAdd");
    add_->setText(tr("Facets ▾"));
    add_->setToolTip(tr("Parts that an object has or has not: light, camera, note, body, points, zone"));
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
    const Detail none;
    const Detail& detail = editor_.scene().detail(all_[0]) ? *editor_.scene().detail(all_[0]) : none;
    auto entry = [&](const QString& text, auto member, auto fresh) {
        QAction* action = menu->addAction(text);
        action->setCheckable(true);
        action->setChecked((detail.*member).has_value());
        connect(action, &QAction::triggered, this, [this, text, member, fresh](bool on) {
            change((on ? "Add " : "Remove ") + text.toLower().toStdString(), [&](Slot, Detail& d) -> Status {
                if (on)
                    d.*member = fresh;
                else
                    (d.*member).reset();
                return {};
            });
        });
    };
    entry(tr("Light"), &Detail::light, model::Light{});
    entry(tr("Camera"), &Detail::camera, model::Camera{});
    entry(tr("Note"), &Detail::note, model::Note{tr("What should be remembered.").toStdString()});
    entry(tr("Body"), &Detail::body, model::Body{});
    entry(tr("Points"), &Detail::points, model::PointSet{});
    entry(tr("Zone"), &Detail::zone, model::Zone{});
}

void FacetCards::show(const std::vector<Slot>& all) {
    all_ = all;
    setVisible(!all.empty());
    if (all.empty() || !editor_.isOpen()) return;
    const model::Scene& scene = editor_.scene();
    if (!scene.alive(all[0])) return;
    filling_ = true;
    const Detail none;
    const Detail& detail = scene.detail(all[0]) ? *scene.detail(all[0]) : none;
    constexpr std::size_t kLookAt = 5000;  // beyond that many, the first ones speak for all
    for (const auto& [flag, box] : switches_) {
        std::size_t on = 0;
        const std::size_t n = std::min(all.size(), kLookAt);
        for (std::size_t i = 0; i < n; ++i)
            if ((scene.flagsOf(all[i]) & flag) == 0) ++on;
        box->setCheckState(on == n ? Qt::Checked : on == 0 ? Qt::Unchecked : Qt::PartiallyChecked);
    }
    body_->setVisible(detail.body.has_value());
    if (detail.body) {
        using Shape = model::Body::Shape;
        role_->setCurrentIndex(static_cast<int>(detail.body->role));
        shape_->setCurrentIndex(static_cast<int>(detail.body->shape));
        fitted_->setChecked(detail.body->fitted);
        fitted_->setVisible(detail.body->shape != Shape::Mesh && detail.body->shape != Shape::Hull);
    }
    zone_->setVisible(detail.zone.has_value());
    if (detail.zone) zoneShape_->setCurrentIndex(static_cast<int>(detail.zone->shape));
    for (const FacetNumber& number : numbers_) {
        const auto value = number.get(detail);
        number.field->parentWidget()->setVisible(value.has_value());
        if (!value) continue;
        bool mixed = false;
        for (std::size_t i = 1; i < std::min(all.size(), kLookAt) && !mixed; ++i) {
            const auto other = scene.detail(all[i]) ? number.get(*scene.detail(all[i])) : std::nullopt;
            mixed = other && *other != *value;
        }
        if (mixed)
            number.field->setMixed();
        else
            number.field->setValue(*value);
    }
    showPoints(scene);
    showSurfaces(scene);
    filling_ = false;
}

}  // namespace app
