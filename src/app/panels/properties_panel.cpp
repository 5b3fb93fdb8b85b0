#include "app/panels/properties_panel.h"

#include <fmt/format.h>

#include <QGridLayout>
#include <QHBoxLayout>
#include <QScrollArea>
#include <cmath>

#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"
#include "app/names.h"
#include "app/panels/difference_text.h"
#include "app/panels/scene_card.h"
#include "app/shell/rehearsal.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "model/facets/outfit.h"
#include "ops/array.h"
#include "ops/kinds.h"
#include "ops/objects.h"
#include "ops/outfits.h"

namespace app {

using base::ErrorCode;
using base::fail;
using base::Quantity;

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
    empty_ = label(tr("Open a project to see what is in it."), "quiet");
    empty_->setWordWrap(true);
    outer->addWidget(empty_);
    scroll_ = new QScrollArea;
    QScrollArea* scroll = scroll_;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    body_ = new QWidget;
    body_->setObjectName("scrolled");
    scroll->viewport()->setAutoFillBackground(false);
    auto* whole = new QVBoxLayout(body_);
    whole->setContentsMargins(0, 0, 10, 8);
    whole->addWidget(sceneCard_ = new SceneCard(editor_));
    whole->addWidget(selected_ = new QWidget);
    auto* layout = new QVBoxLayout(selected_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    scroll->setWidget(body_);
    outer->addWidget(scroll, 1);
    outer->addStretch(0);

    QVBoxLayout* inside = nullptr;
    objectCard_ = makeCard("object", tr("Object"), {}, inside);
    name_ = new QLineEdit;
    name_->setObjectName("propertyName");
    name_->setAccessibleName(tr("Name"));
    name_->setToolTip(tr("The object’s name (F2)"));
    inside->addWidget(name_);
    inside->addWidget(kind_ = label({}, "quiet"));
    kind_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    kind_->setWordWrap(true);
    inside->addWidget(kindChoice_ = new QComboBox);
    new QuietWheel(kindChoice_);
    kindChoice_->setObjectName("kindChoice");
    kindChoice_->setAccessibleName(tr("Kind"));
    kindChoice_->setToolTip(tr("What it is; values that another kind does not take are kept aside"));
    connect(kindChoice_, QOverload<int>::of(&QComboBox::activated), this, &PropertiesPanel::changeKind);
    inside->addWidget(outfitChoice_ = new QComboBox);
    new QuietWheel(outfitChoice_);
    outfitChoice_->setObjectName("outfitChoice");
    outfitChoice_->setAccessibleName(tr("Outfit"));
    outfitChoice_->setToolTip(tr("The outfit it wears: a named set of values, surfaces and tint of its kind"));
    connect(outfitChoice_, QOverload<int>::of(&QComboBox::activated), this, &PropertiesPanel::changeOutfit);
    inside->addWidget(differs_ = label({}, "differs"));
    differs_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    differs_->setWordWrap(true);
    layout->addWidget(objectCard_);
    makePose(layout);
    makeProperties(layout);
    layout->addWidget(cards_ = new FacetCards(editor_, [this](PropertyRows* rows) { wire(rows); }));
    connect(cards_, &FacetCards::alikeAsked, this, &PropertiesPanel::alikeAsked);
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
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        propertyFilter_->clear();  // what was looked for was one of the others
        refresh();
    });
    connect(&editor_, &Editor::sceneShown, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::sceneEdited, this, [this] {
        // While it is played, numbers need not follow each frame.
        constexpr qint64 kLiveMs = 120;
        if (editor_.showsLive() && liveClock_.isValid() && !liveClock_.hasExpired(kLiveMs)) return;
        liveClock_.start();
        refresh();
    });
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::libraryChanged, this, &PropertiesPanel::refresh);
    connect(&editor_, &Editor::themeChanged, this, &PropertiesPanel::recolour);
    recolour();
    refresh();
}

/// What the selected objects are, and what they could be. What lies inside an instance is what its prefab says.
void PropertiesPanel::showKinds(const std::vector<Slot>& all) {
    const model::Scene& scene = editor_.scene();
    QStringList names;
    for (const model::Kind& kind : editor_.session().library().kinds()) names << QString::fromStdString(kind.name);
    if (names != kindsOffered_) {
        kindsOffered_ = names;
        kindChoice_->clear();
        kindChoice_->addItem(tr("no kind"), QString());
        for (const QString& name : names) kindChoice_->addItem(name, name);
    }
    while (kindChoice_->count() > names.size() + 1) kindChoice_->removeItem(kindChoice_->count() - 1);  // missing ones
    constexpr std::size_t kLookAt = 5000;
    const base::Name first = scene.kind(all[0]);
    bool same = true;
    for (std::size_t i = 1; same && i < std::min(all.size(), kLookAt); ++i) same = scene.kind(all[i]) == first;
    const QString now = toQt(scene.kindText(all[0]));
    if (same && kindChoice_->findData(now) < 0) kindChoice_->addItem(tr("missing: %1").arg(now), now);
    kindChoice_->setPlaceholderText(tr("mixed"));
    kindChoice_->setCurrentIndex(same ? kindChoice_->findData(now) : -1);
    kindChoice_->setEnabled(editor_.session().readOnlyReason().empty());
}

void PropertiesPanel::changeKind() {
    const std::string kind = kindChoice_->currentData().toString().toStdString();
    const ops::Ids ids = editor_.selection();
    std::size_t aside = 0;
    const std::string step = "Make " + ops::describe(editor_.scene(), ids) + " " + (kind.empty() ? "of no kind" : kind);
    const bool done = editor_.run(step, [&](edit::Draft& draft) -> Status {
        auto changed = ops::changeKind(draft, ids, kind);
        if (!changed) return tl::unexpected(changed.error());
        aside = *changed;
        return {};
    });
    if (done && aside > 0)
        editor_.say(tr("%1 set aside: the kind does not take them.").arg(counted(aside, tr("value"), tr("values"))));
    refresh();
}

/// Outfits of the kind that all of the selected have.
void PropertiesPanel::showOutfits(const std::vector<Slot>& all) {
    const model::Scene& scene = editor_.scene();
    const model::Kind* kind = editor_.session().library().kind(scene.kind(all[0]));
    const auto wornBy = [&](Slot s) {
        const auto* worn = scene.facet<model::Wears>(s);
        return worn != nullptr ? worn->outfit : std::string();
    };
    const std::string first = wornBy(all[0]);
    bool sameKind = true, same = true;
    constexpr std::size_t kLookAt = 5000;
    for (std::size_t i = 1; i < std::min(all.size(), kLookAt) && sameKind; ++i) {
        sameKind = scene.kind(all[i]) == scene.kind(all[0]);
        same = same && wornBy(all[i]) == first;
    }
    outfitChoice_->setVisible(sameKind && ((kind != nullptr && !kind->outfits.empty()) || !first.empty()));
    outfitChoice_->clear();
    outfitChoice_->addItem(tr("no outfit"), QString());
    for (const model::Outfit& outfit : kind != nullptr ? kind->outfits : std::vector<model::Outfit>{})
        outfitChoice_->addItem(toQt(outfit.name), toQt(outfit.name));
    if (same && outfitChoice_->findData(toQt(first)) < 0)
        outfitChoice_->addItem(tr("missing: %1").arg(toQt(first)), toQt(first));
    outfitChoice_->setPlaceholderText(tr("mixed"));
    outfitChoice_->setCurrentIndex(same ? outfitChoice_->findData(toQt(first)) : -1);
    outfitChoice_->setEnabled(editor_.session().readOnlyReason().empty());
}

void PropertiesPanel::changeOutfit() {
    const std::string outfit = outfitChoice_->currentData().toString().toStdString();
    const ops::Ids ids = editor_.selection();
    const std::string what = ops::describe(editor_.scene(), ids);
    editor_.run(outfit.empty() ? "Take the outfit off " + what : "Put " + outfit + " on " + what,
                [&](edit::Draft& draft) { return ops::wear(draft, ids, outfit); });
    refresh();
}

FoldCard* PropertiesPanel::makeCard(const char* name, const QString& title, const QString& right,
                                    QVBoxLayout*& inside) {
    auto* card = new FoldCard(QLatin1String(name), title, right);
    inside = card->inside();
    return card;
}

void PropertiesPanel::makePose(QVBoxLayout* layout) {
    QVBoxLayout* inside = nullptr;
    poseCard_ = makeCard("pose", tr("Pose"), tr("in its parent"), inside);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(5);
    grid->setVerticalSpacing(5);
    const QString rows[] = {tr("Position"), tr("Turn"), tr("Size")};
    const QString axes[] = {"X", "Y", "Z"};
    const Quantity quantities[] = {Quantity::Length, Quantity::Angle, Quantity::Factor};
    for (int r = 0; r < 3; ++r) {
        grid->addWidget(label(rows[r], "quiet"), r, 0);
        for (int c = 0; c < 3; ++c) {
            auto* field = new NumberField(quantities[r], r == 1 ? 2 : 3);
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
                if (draft_ && keep) editor_.keep(*draft_);
                draft_.reset();
                refresh();
            });
            grid->addWidget(field, r, c + 1);
            pose_[static_cast<std::size_t>(which)] = field;
        }
    }
    inside->addLayout(grid);
    layout->addWidget(poseCard_);
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
    empty_->setVisible(!editor_.isOpen());
    scroll_->setVisible(editor_.isOpen());
    sceneCard_->setVisible(all.empty());
    selected_->setVisible(!all.empty());
    sceneCard_->refresh();
    title_->setText(all.empty() ? tr("nothing selected")
                                : QString::fromStdString(ops::describe(editor_.scene(), editor_.selection())));
    if (all.empty()) return;
    const model::Scene& scene = editor_.scene();
    const bool one = all.size() == 1;
    objectCard_->setVisible(true);
    name_->setEnabled(one);
    if (!name_->hasFocus() || !name_->isModified())
        name_->setText(one ? toQt(scene.nameText(all[0])) : tr("%1 objects").arg(all.size()));
    QString what;  // its kind stands below
    if (const model::Item* item = editor_.session().library().item(scene.item(all[0])))
        what = QString::fromStdString(item->label);
    else if (scene.item(all[0]))
        what = tr("Item “%1” is missing").arg(toQt(scene.itemText(all[0])));
    else if (scene.firstChild(all[0]) != kNoSlot)
        what = tr("Group");
    if (scene.isInstance(all[0])) {
        const auto& link = *scene.detail(all[0])->prefab;
        what = tr("Instance of %1").arg(QString::fromStdString(editor_.session().prefabName(link.of)));
        if (const std::size_t n = ops::differences(editor_.session(), link).size(); n > 0)
            what += " · " + counted(n, tr("difference"), tr("differences"));
    }
    kind_->setText(one ? what : QString());
    kind_->setVisible(one && !what.isEmpty());
    showKinds(all);
    showOutfits(all);
    QStringList differ = one ? differencesOf(editor_.session(), scene, all[0]) : QStringList();
    if (one && ops::isOddCopy(scene, all[0])) differ << tr("not like the first one of its array");
    for (const std::string& own :
         one ? ops::outfitDifferences(editor_.session(), scene, all[0]) : std::vector<std::string>{})
        differ << tr("not as its outfit: %1").arg(toQt(base::lowered(own)));
    differs_->setText(QStringLiteral("≠ ") + differ.join(QStringLiteral("\n≠ ")));
    differs_->setVisible(!differ.isEmpty());

    const bool fixed = scene.protectedInTree(all[0]);
    for (std::size_t i = 0; i < 3; ++i) pose_[i]->setUnit(editor_.unit());
    poseCard_->setRight(tr("in its parent · %1, °").arg(base::traits(editor_.unit()).sign));
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
    cards_->show(all);
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
        const model::Library& library = editor_.session().library();
        const auto sizes = ops::sizesOf(library, scene, s);
        if (field >= ops::PoseField::SizeX && sizes && !sizes->allows(*value))
            return fail(ErrorCode::Refused, fmt::format("“{}” cannot be of this size. {}.", scene.nameText(s),
                                                        ops::sizesText(library, scene, s)));
        auto pose = ops::withPoseField(scene.local(s), field, *value);
        if (!pose) return tl::unexpected(pose.error());
        if (field >= ops::PoseField::SizeX && editor_.tools().uniform) {
            const double factor = *value / ops::poseField(scene.local(s), field);
            pose->scale = scene.local(s).scale * factor;
            for (int k = 0; k < 3 && sizes; ++k)
                if (!sizes->allows(pose->scale[k]))
                    return fail(ErrorCode::Refused,
                                fmt::format("In proportion “{}” would be too small or too large. {}.",
                                            scene.nameText(s), ops::sizesText(library, scene, s)));
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

}  // namespace app
