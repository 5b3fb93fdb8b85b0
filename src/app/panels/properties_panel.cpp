#include "app/panels/properties_panel.h"

#include <fmt/format.h>

#include <QGridLayout>
#include <QHBoxLayout>
#include <QScrollArea>
#include <cmath>

#include "app/panels/difference_text.h"
#include "app/panels/long_text.h"
#include "ops/array.h"
#include "shape/solid.h"

namespace app {

using base::ErrorCode;
using base::fail;
using base::Quantity;
using base::Status;
using model::kNoSlot;
using model::Slot;

namespace {

QLabel* label(const QString& text, const char* name) {
    auto* l = new QLabel(text);
    l->setObjectName(QLatin1String(name));
    return l;
}

QString toQt(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<int>(text.size()));
}

}  // namespace

PropertiesPanel::PropertiesPanel(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("panel");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(10, 6, 0, 0);
    outer->setSpacing(6);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 10, 0);
    head->addWidget(label(tr("Properties"), "panelTitle"));
    head->addStretch();
    head->addWidget(title_ = label({}, "faint"));
    outer->addLayout(head);
    empty_ = label(tr("Select something to see what it is."), "quiet");
    empty_->setWordWrap(true);
    outer->addWidget(empty_);
    scroll_ = new QScrollArea;
    QScrollArea* scroll = scroll_;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    body_ = new QWidget;
    body_->setObjectName("scrolled");
    scroll->viewport()->setAutoFillBackground(false);
    auto* layout = new QVBoxLayout(body_);
    layout->setContentsMargins(0, 0, 10, 8);
    layout->setSpacing(8);
    scroll->setWidget(body_);
    outer->addWidget(scroll, 1);
    outer->addStretch(0);

    QVBoxLayout* inside = nullptr;
    objectCard_ = makeCard(tr("Object"), {}, inside);
    name_ = new QLineEdit;
    name_->setObjectName("propertyName");
    name_->setAccessibleName(tr("Name"));
    name_->setToolTip(tr("The object's name (F2)"));
    inside->addWidget(name_);
    inside->addWidget(kind_ = label({}, "quiet"));
    kind_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    kind_->setWordWrap(true);
    inside->addWidget(differs_ = label({}, "differs"));
    differs_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    differs_->setWordWrap(true);
    layout->addWidget(objectCard_);
    makePose(layout);
    makeProperties(layout);
    makeFacets(layout);
    layout->addWidget(cards_ = new FacetCards(editor_));
    layout->addStretch();

    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const auto all = slots();
        if (all.size() != 1 || !name_->isModified()) return;
        const base::ObjectId id = editor_.scene().id(all[0]);
        const std::string wanted = name_->text().toStdString();
        if (wanted != editor_.scene().nameText(all[0]))
            editor_.run(stepName("Rename"), [&](edit::Draft& draft) { return ops::rename(draft, id, wanted); });
        name_->setModified(false);
        refresh();
    });
    connect(&editor_, &Editor::selectionChanged, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::sceneShown, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::sceneEdited, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::libraryChanged, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::themeChanged, this, &PropertiesPanel::recolour);
    recolour();
    refresh();
}

QWidget* PropertiesPanel::makeCard(const QString& title, const QString& right, QVBoxLayout*& inside) {
    auto* card = new QWidget;
    card->setObjectName("card");
    card->setAttribute(Qt::WA_StyledBackground);
    inside = new QVBoxLayout(card);
    inside->setContentsMargins(10, 8, 10, 9);
    inside->setSpacing(5);
    auto* head = new QHBoxLayout;
    head->addWidget(label(title, "cardTitle"));
    head->addStretch();
    head->addWidget(label(right, "faint"));
    inside->addLayout(head);
    return card;
}

void PropertiesPanel::makePose(QVBoxLayout* layout) {
    QVBoxLayout* inside = nullptr;
    QWidget* card = makeCard(tr("Pose"), tr("in its parent · m, °"), inside);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(5);
    grid->setVerticalSpacing(5);
    const QString rows[] = {tr("Position"), tr("Turn"), tr("Size")};
    const QString axes[] = {"X", "Y", "Z"};
    const Quantity quantities[] = {Quantity::Length, Quantity::Angle, Quantity::Factor};
    for (int r = 0; r < 3; ++r) {
        grid->addWidget(label(rows[r], "quiet"), r, 0);
        for (int c = 0; c < 3; ++c) {
            auto* field = new NumberField(quantities[r], r == 1 ? 1 : 2);
            const auto which = static_cast<ops::PoseField>(r * 3 + c);
            field->setObjectName(QStringLiteral("pose%1%2")
                                     .arg(r == 0   ? "Position"
                                          : r == 1 ? "Turn"
                                                   : "Size",
                                          axes[c]));
            field->setStyleSheet(QStringLiteral("padding: 2px 2px; font-size: 12px;"));
            field->setAccessibleName(rows[r] + " " + axes[c]);
            field->setToolTip(tr("%1 %2. Arithmetic and units work: 1.2 + 30 cm, += 2, * 2. Drag the mark to change "
                                 "it; Up and Down step.")
                                  .arg(rows[r], axes[c]));
            field->setSteps(r == 0 ? 0.02 : r == 1 ? 0.5 : 0.01, r == 0 ? 0.25 : r == 1 ? 15 : 0.1);
            connect(field, &NumberField::typed, this, [this, which](const QString& text) { typePose(which, text); });
            connect(field, &NumberField::stepped, this,
                    [this, which](double d) { typePose(which, QString("+=%1").arg(d, 0, 'g', 12)); });
            connect(field, &NumberField::dragStarted, this, [this, which] { beginPoseDrag(which); });
            connect(field, &NumberField::dragged, this, [this, which](double d) { dragPose(which, d); });
            connect(field, &NumberField::dragEnded, this, [this](bool keep) {
                if (draft_ && keep)
                    if (auto step = draft_->commit(); !step) editor_.report(tl::unexpected(step.error()));
                draft_.reset();
                refresh();
            });
            grid->addWidget(field, r, c + 1);
            pose_[static_cast<std::size_t>(which)] = field;
        }
    }
    inside->addLayout(grid);
    layout->addWidget(card);
}

std::size_t PropertiesPanel::addFacetField(QVBoxLayout* into, const QString& text, Quantity quantity, double low,
                                           double high, double step,
                                           std::function<std::optional<double>(const model::Detail&)> get,
                                           std::function<void(model::Detail&, double)> set) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(text, "quiet"), 1);
    auto* field = new NumberField(quantity, quantity == Quantity::Angle ? 1 : 2);
    field->setAccessibleName(text);
    field->setToolTip(tr("%1, from %2 to %3").arg(text).arg(low).arg(high));
    field->setObjectName("facet" + QString(text).remove(' '));
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

void PropertiesPanel::makeFacets(QVBoxLayout* layout) {
    using model::Detail;
    QVBoxLayout* inside = nullptr;
    FacetCard light{
        makeCard(tr("Light"), tr("facet"), inside), [](const Detail& d) { return d.light.has_value(); }, {}};
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
    lightField(tr("Reach m"), Quantity::Length, 0, 1e4, 0.5, &model::Light::reachMetres);
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

    FacetCard camera{
        makeCard(tr("Camera"), tr("facet"), inside), [](const Detail& d) { return d.camera.has_value(); }, {}};
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
    cameraField(tr("Near m"), Quantity::Length, 0.001, 1e4, 0.1, &model::Camera::nearMetres);
    cameraField(tr("Far m"), Quantity::Length, 0.01, 1e6, 50, &model::Camera::farMetres);
    layout->addWidget(camera.card);
    facetCards_.push_back(camera);

    makeArrayCard(layout);
    makeSolidCard(layout);
    FacetCard tint{
        makeCard(tr("Tint"), tr("times its colours"), inside), [](const Detail& d) { return d.tint.has_value(); }, {}};
    for (int i = 0; i < 3; ++i)
        tint.fields.push_back(addFacetField(
            inside, tr("Tint %1").arg(colours[i].toLower()), Quantity::Factor, 0, 1, 0.05,
            [i](const Detail& d) { return d.tint ? std::optional((*d.tint)[i]) : std::nullopt; },
            [i](Detail& d, double v) {
                if (d.tint) (*d.tint)[i] = v;
            }));
    layout->addWidget(tint.card);
    facetCards_.push_back(tint);

    noteCard_ = makeCard(tr("Note"), tr("facet"), inside);
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
    FacetCard card{
        makeCard(tr("Array"), tr("until baked"), inside), [](const Detail& d) { return d.array.has_value(); }, {}};
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
            tr("Spacing %1 m").arg(axes[k]), Quantity::Length, -1e5, 1e5, 0.5, apart,
            [k](const Array& a) { return a.spacing[k]; }, [k](Array& a, double v) { a.spacing[k] = v; });
    // From the first to the last of a row; the spacing follows.
    field(
        tr("Whole length m"), Quantity::Length, 0, 1e6, 1, row,
        [](const Array& a) { return glm::length(a.spacing) * (a.counts[0] - 1); },
        [](Array& a, double v) {
            const double now = glm::length(a.spacing) * (a.counts[0] - 1);
            if (now > 1e-9) a.spacing *= v / now;
        });
    plain(tr("Radius m"), Quantity::Length, 0, 1e5, 0.5, ring, &Array::radiusMetres);
    plain(tr("Sweep"), Quantity::Angle, -360, 360, 15, ring, &Array::sweepDegrees);
    plain(tr("Turn each"), Quantity::Angle, -360, 360, 15, all, &Array::turnDegrees);
    plain(tr("Size each ×"), Quantity::Factor, 0.1, 10, 0.1, all, &Array::size);
    plain(tr("Jitter m"), Quantity::Length, 0, 1e4, 0.1, all, &Array::jitterMetres);
    plain(tr("Jitter turn"), Quantity::Angle, 0, 180, 5, all, &Array::jitterDegrees);
    plain(tr("Jitter size"), Quantity::Factor, 0, 0.9, 0.1, all, &Array::jitterSize);
    whole(
        tr("Seed"), 0, 1e9, all, [](auto& a) -> auto& { return a.seed; });
    layout->addWidget(card.card);
    facetCards_.push_back(card);
}

void PropertiesPanel::makeSolidCard(QVBoxLayout* layout) {
    using model::Detail;
    using Shape = model::Solid::Shape;
    QVBoxLayout* inside = nullptr;
    FacetCard card{makeCard(tr("Solid"), tr("facet"), inside), [](const Detail& d) { return d.solid.has_value(); }, {}};
    const QString sizes[] = {tr("Width m"), tr("Height m"), tr("Depth m")};
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

std::vector<Slot> PropertiesPanel::slots() const {
    std::vector<Slot> all;
    if (!editor_.isOpen()) return all;
    for (base::ObjectId id : editor_.selection())
        if (const Slot s = editor_.scene().find(id); s != kNoSlot) all.push_back(s);
    return all;
}

std::string PropertiesPanel::stepName(const char* what) const {
    return std::string(what) + " " + ops::describe(editor_.scene(), editor_.selection());
}

void PropertiesPanel::recolour() {
    static constexpr FieldMark kMarks[] = {FieldMark::Cube, FieldMark::Ball, FieldMark::Cone};
    for (std::size_t i = 0; i < 9; ++i) pose_[i]->setMark(kMarks[i % 3], editor_.theme().axis[i % 3]);
}

void PropertiesPanel::refresh() {
    const std::vector<Slot> all = slots();
    empty_->setVisible(all.empty());
    scroll_->setVisible(!all.empty());
    title_->setText(all.empty() ? QString()
                                : QString::fromStdString(ops::describe(editor_.scene(), editor_.selection())));
    if (all.empty()) return;
    const model::Scene& scene = editor_.scene();
    const bool one = all.size() == 1;
    objectCard_->setVisible(true);
    name_->setEnabled(one);
    if (!name_->hasFocus() || !name_->isModified())
        name_->setText(one ? toQt(scene.nameText(all[0])) : tr("%1 objects").arg(all.size()));
    QString what = toQt(scene.kindText(all[0]));
    if (what.isEmpty()) what = scene.firstChild(all[0]) != kNoSlot ? tr("Group") : tr("No kind");
    if (const model::Item* item = editor_.session().library().item(scene.item(all[0])))
        what += " · " + QString::fromStdString(item->label);
    else if (scene.item(all[0]))
        what += tr(" · item “%1” is missing").arg(toQt(scene.itemText(all[0])));
    if (scene.isInstance(all[0])) {
        const auto& link = *scene.detail(all[0])->prefab;
        what = tr("Instance of %1").arg(QString::fromStdString(editor_.session().prefabName(link.of)));
        if (const std::size_t n = ops::differences(editor_.session(), link).size(); n > 0)
            what += " · " + counted(n, tr("difference"), tr("differences"));
    }
    kind_->setText(one ? what : QString());
    kind_->setVisible(one);
    const QStringList differ = one ? differencesOf(editor_.session(), scene, all[0]) : QStringList();
    differs_->setText(QStringLiteral("≠ ") + differ.join(QStringLiteral("\n≠ ")));
    differs_->setVisible(!differ.isEmpty());

    const bool fixed = scene.protectedInTree(all[0]);
    constexpr std::size_t kLookAt = 5000;  // beyond that many, the first ones speak for all
    for (std::size_t i = 0; i < 9; ++i) {
        const auto field = static_cast<ops::PoseField>(i);
        const double first = ops::poseField(scene.local(all[0]), field);
        bool mixed = false;
        for (std::size_t k = 1; k < std::min(all.size(), kLookAt) && !mixed; ++k)
            mixed = std::abs(ops::poseField(scene.local(all[k]), field) - first) > 1e-9;
        if (mixed)
            pose_[i]->setMixed();
        else
            pose_[i]->setValue(first);
        pose_[i]->setReadOnly(fixed || !editor_.session().readOnlyReason().empty());
        if (fixed) pose_[i]->setToolTip(tr("This object is protected: release it (Shift+J) to change its pose."));
    }
    refreshProperties(all);
    const model::Detail none;
    const model::Detail& detail = scene.detail(all[0]) ? *scene.detail(all[0]) : none;
    for (const FacetCard& card : facetCards_) {
        card.card->setVisible(card.present(detail));
        for (std::size_t f : card.fields)
            if (auto value = facetFields_[f].get(detail)) {
                facetFields_[f].field->setValue(*value);
                facetFields_[f].field->parentWidget()->show();
            } else
                facetFields_[f].field->parentWidget()->hide();  // its kind has no such number
    }
    cards_->show(all);
    noteCard_->setVisible(one && detail.note.has_value());
    if (detail.note && !note_->document()->isModified()) {
        const QString text = QString::fromStdString(detail.note->text);
        if (note_->toPlainText() != text) note_->setPlainText(text);
        note_->document()->setModified(false);
    }
}

Status PropertiesPanel::setPose(edit::Draft& draft, ops::PoseField field,
                                const std::function<base::Result<double>(double)>& change) {
    std::vector<base::ObjectId> ids;
    std::vector<base::Transform> poses;
    for (Slot s : slots()) {
        const model::Scene& scene = editor_.scene();
        const base::ObjectId id = scene.id(s);
        if (auto free = ops::refuseMoving(scene, {&id, 1}, "moved"); !free) return free;
        auto value = change(ops::poseField(scene.local(s), field));
        if (!value) return tl::unexpected(value.error());
        const model::Kind* kind = editor_.session().library().kind(scene.kind(s));
        if (field >= ops::PoseField::SizeX && kind != nullptr &&
            (std::abs(*value) < kind->smallestSize - 1e-9 || std::abs(*value) > kind->largestSize + 1e-9))
            return fail(
                ErrorCode::Refused,
                kind->smallestSize == kind->largestSize
                    ? fmt::format("“{}” is of the kind {}, which may not be sized.", scene.nameText(s), kind->name)
                    : fmt::format("“{}” is of the kind {}, which may be sized from {} to {}.", scene.nameText(s),
                                  kind->name, kind->smallestSize, kind->largestSize));
        auto pose = ops::withPoseField(scene.local(s), field, *value);
        if (!pose) return tl::unexpected(pose.error());
        if (field >= ops::PoseField::SizeX && editor_.uniform()) {
            const double factor = *value / ops::poseField(scene.local(s), field);
            pose->scale = scene.local(s).scale * factor;
            for (int k = 0; k < 3 && kind != nullptr; ++k)
                if (std::abs(pose->scale[k]) > kind->largestSize + 1e-9 ||
                    std::abs(pose->scale[k]) < kind->smallestSize - 1e-9)
                    return fail(ErrorCode::Refused,
                                fmt::format("In proportion “{}” would be outside what its kind allows, {} to {}.",
                                            scene.nameText(s), kind->smallestSize, kind->largestSize));
        }
        ids.push_back(scene.id(s));
        poses.push_back(*pose);
    }
    return draft.setTransforms(ids, poses);
}

void PropertiesPanel::typePose(ops::PoseField field, const QString& expression) {
    const int group = static_cast<int>(field) / 3;
    const char* what = group == 0 ? "Move" : group == 1 ? "Turn" : "Size";
    const Quantity quantity = pose_[static_cast<std::size_t>(field)]->quantity();
    editor_.run(stepName(what), [&](edit::Draft& draft) {
        return setPose(draft, field, [&](double present) {
            return base::evaluateQuantity(expression.toStdString(), quantity, present);
        });
    });
    refresh();
}

void PropertiesPanel::beginPoseDrag(ops::PoseField field) {
    const int group = static_cast<int>(field) / 3;
    dragIds_.clear();
    dragStart_.clear();
    for (Slot s : slots()) {
        dragIds_.push_back(editor_.scene().id(s));
        dragStart_.push_back(editor_.scene().local(s));
    }
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                           stepName(group == 0   ? "Move"
                                                    : group == 1 ? "Turn"
                                                                 : "Size"));
    if (!editor_.report(draft_->state())) draft_.reset();
}

void PropertiesPanel::dragPose(ops::PoseField field, double change) {
    if (!draft_) return;
    std::size_t i = 0;
    editor_.report(setPose(*draft_, field, [&](double) -> base::Result<double> {
        return ops::poseField(dragStart_[i++], field) + change;
    }));
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
    editDetail(stepName(("Set " + field.label.toStdString() + " of").c_str()), [&](model::Detail& detail) -> Status {
        const auto present = field.get(detail);
        if (!present) return {};
        auto value = base::evaluateQuantity(expression.toStdString(), field.field->quantity(), *present);
        if (!value) return tl::unexpected(value.error());
        if (*value < field.low || *value > field.high)
            return fail(ErrorCode::BadInput,
                        fmt::format("{} can be from {} to {}.", field.label.toStdString(), field.low, field.high));
        field.set(detail, *value);
        return {};
    });
    refresh();
}

}  // namespace app
