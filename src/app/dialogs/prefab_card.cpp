#include "app/dialogs/prefab_card.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <set>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "app/shell/tools.h"
#include "base/text.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "model/facet_builder.h"
#include "ops/group.h"
#include "ops/merge.h"
#include "ops/objects.h"
#include "render/handle.h"
#include "shape/merge.h"

namespace app {

namespace {

/// A prefab is kept in a folder; a merged item is not.
model::Fields describe(PrefabCard::Makes makes) {
    const bool merges = makes == PrefabCard::Makes::MergedItem;
    model::FieldsOf<ops::MakePrefab> f;
    f.text("name", "Name", &ops::MakePrefab::name).property.help =
        "## stands for the next number: “Stall ##” becomes Stall 01, Stall 02 …";
    if (!merges)
        f.text("folder", "Folder", &ops::MakePrefab::folder).property.help =
            "Where the Stock lists it; a new name makes a new folder";
    f.flag("replace", merges ? "Takes the selection’s place" : "Selection becomes an instance",
           &ops::MakePrefab::replace)
        .property.help = merges ? "Without it the objects stay, and the item is only in the Stock"
                                : "Without it the objects stay as they are, and are no instance";
    return f.done();
}

}  // namespace

const model::Fields& PrefabCard::fields() const {
    static const model::Fields prefab = describe(Makes::Prefab), item = describe(Makes::MergedItem);
    return makes_ == Makes::Prefab ? prefab : item;
}

PrefabCard::PrefabCard(QWidget* parent, Editor& editor, Makes makes)
    : SideCard(parent, 0), editor_(editor), makes_(makes) {
    setObjectName("popover");
    setAttribute(Qt::WA_DeleteOnClose);
    rows()->setSpacing(7);
    auto* head = new QHBoxLayout;
    head->addWidget(label(makes == Makes::MergedItem ? tr("Merge into one item") : tr("Make a prefab"), "panelTitle"));
    head->addStretch();
    head->addWidget(tally_ = label({}, "faint"));
    tally_->setObjectName("prefabTally");
    rows()->addLayout(head);
    makeFields(rows());
    makeBasePoint(rows());
    foot()->addWidget(problem_ = label({}, "problem"));
    problem_->setWordWrap(true);
    problem_->hide();
    makeQuestion();
    makeButtons();
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        picked_.reset();
        pick_->setChecked(false);
        refresh();
    });
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    refresh();
    place();
    show();
    raise();
    fields_->focusField("name");
}

/// What the selection would be called, without its number.
std::string PrefabCard::proposedName() const {
    const ops::Ids tops = ops::topmost(editor_.scene(), editor_.selection());
    if (tops.empty()) return {};
    std::string plain = tops.size() == 1 ? std::string(editor_.scene().nameText(editor_.scene().find(tops[0])))
                                         : base::splitNumber(ops::groupName(editor_.scene(), tops)).stem;
    std::erase(plain, ',');
    plain = base::splitNumber(plain).stem;
    while (!plain.empty() && plain.back() == ' ') plain.pop_back();
    return plain.empty() ? "Prefab ##" : plain;
}

void PrefabCard::makeFields(QVBoxLayout* into) {
    std::set<std::string> folders;
    for (const auto& [id, scene] : editor_.session().definitions()) folders.insert(scene->settings().prefab->folder);
    folders.erase("");
    how_.name = proposedName();
    const PrefabPlan& before = editor_.prefabPlan();
    how_.folder = !before.folder.empty() ? before.folder : folders.empty() ? std::string() : *folders.rbegin();
    fields_ = new FieldsForm(editor_, fields(), [this](const model::Property&, const auto& set) {
        Status done = set(&how_);
        question_->hide();
        refresh();
        return done;
    });
    std::vector<model::Choice> choices;
    for (const std::string& folder : folders) choices.push_back({folder, folder});
    fields_->offer("folder", choices);
    if (!before.name.empty()) fields_->offer("name", {{before.name, before.name}});
    into->addWidget(fields_);
}

/// What is asked when the name is another prefab’s.
void PrefabCard::makeQuestion() {
    question_ = new QFrame;
    question_->setObjectName("prefabQuestion");
    auto* asks = new QVBoxLayout(question_);
    asks->setContentsMargins(0, 0, 0, 0);
    asks->addWidget(questionText_ = label({}, "quiet"));
    questionText_->setWordWrap(true);
    auto* answers = new QHBoxLayout;
    answers->addWidget(update_ = new QPushButton(tr("Update it")));
    answers->addWidget(newName_ = new QPushButton);
    auto* neither = new QPushButton(tr("Cancel"));
    answers->addWidget(neither);
    answers->addStretch();
    update_->setObjectName("prefabUpdate");
    newName_->setObjectName("prefabNewName");
    asks->addLayout(answers);
    question_->hide();
    foot()->addWidget(question_);
    connect(neither, &QPushButton::clicked, this, [this] {
        question_->hide();
        refresh();
    });
    connect(update_, &QPushButton::clicked, this,
            [this] { makeAs(asked_, editor_.session().prefabNamed(asked_), askedGoOn_); });
    connect(newName_, &QPushButton::clicked, this,
            [this] { makeAs(ops::freePrefabName(editor_.session(), asked_), {}, askedGoOn_); });
}

void PrefabCard::makeButtons() {
    const bool merges = makes_ == Makes::MergedItem;
    auto* row = new QHBoxLayout;
    auto* close = new QPushButton(tr("Close"));
    row->addWidget(close);
    row->addStretch();
    row->addWidget(makeMore_ = new QPushButton(merges ? tr("Merge and continue") : tr("Make and continue")));
    row->addWidget(make_ = new QPushButton(merges ? tr("Merge") : tr("Make")));
    makeMore_->setObjectName("prefabMakeMore");
    makeMore_->setToolTip(tr("Makes it and waits for the next selection"));
    make_->setObjectName("prefabMake");
    make_->setProperty("primary", true);
    foot()->addLayout(row);
    connect(close, &QPushButton::clicked, this, &QWidget::close);
    connect(make_, &QPushButton::clicked, this, [this] { make(false); });
    connect(makeMore_, &QPushButton::clicked, this, [this] { make(true); });
}

PrefabCard::~PrefabCard() {
    editor_.asking().askPoint({});
    editor_.showBasePoint(std::nullopt);
}

void PrefabCard::makeBasePoint(QVBoxLayout* into) {
    into->addWidget(label(tr("Base point"), "cardTitle"));
    auto* row = new QHBoxLayout;
    auto* grid = new QGridLayout;
    grid->setSpacing(2);
    footprint_ = new QButtonGroup(this);
    const QString along[] = {tr("back"), tr("middle"), tr("front")}, across[] = {tr("left"), tr("middle"), tr("right")};
    for (int z = 0; z < 3; ++z)
        for (int x = 0; x < 3; ++x) {
            auto* cell = new QPushButton;
            cell->setCheckable(true);
            cell->setFixedSize(22, 22);
            cell->setObjectName(QString("base%1%2").arg(x).arg(z));
            connect(cell, &QPushButton::toggled, cell,
                    [cell](bool on) { cell->setText(on ? QStringLiteral("•") : QString()); });
            cell->setAccessibleName(tr("Base point at the footprint’s %1, %2").arg(along[z], across[x]));
            cell->setToolTip(tr("The footprint’s %1, %2 (seen from above, north up)").arg(along[z], across[x]));
            footprint_->addButton(cell, z * 3 + x);
            grid->addWidget(cell, z, x);
        }
    footprint_->button(editor_.prefabPlan().place)->setChecked(true);
    row->addLayout(grid);
    auto* right = new QVBoxLayout;
    right->addWidget(height_ = new QComboBox);
    height_->setObjectName("baseHeight");
    height_->addItems({tr("Bottom of what is solid"), tr("Middle"), tr("Top"), tr("The world’s zero height")});
    height_->setCurrentIndex(editor_.prefabPlan().height);
    height_->setAccessibleName(tr("Height of the base point"));
    height_->setToolTip(tr("Lights, zones and effects do not count"));
    right->addWidget(pick_ = new QPushButton(tr("Pick a point in the view")));
    pick_->setObjectName("basePick");
    pick_->setCheckable(true);
    pick_->setToolTip(
        tr("Click where the base point is to be; hold 1, 2, 3 or 4 to catch corners, edges, faces, "
           "centres"));
    row->addLayout(right, 1);
    into->addLayout(row);
    into->addWidget(size_ = label({}, "quiet"));
    size_->setObjectName("prefabSize");
    size_->setWordWrap(true);
    connect(footprint_, &QButtonGroup::idClicked, this, [this] {
        picked_.reset();
        pick_->setChecked(false);
        refresh();
    });
    connect(height_, QOverload<int>::of(&QComboBox::activated), this, [this] {
        picked_.reset();
        pick_->setChecked(false);
        refresh();
    });
    connect(pick_, &QPushButton::toggled, this, [this](bool on) {
        if (!on) return editor_.asking().askPoint({});
        editor_.asking().askPoint([this](const base::Vec3& at) {
            picked_ = at;
            refresh();
        });
    });
}

base::Vec3 PrefabCard::basePoint() const {
    const int cell = footprint_->checkedId();
    ops::BaseChoice choice{cell % 3, cell / 3, static_cast<ops::BaseChoice::Height>(height_->currentIndex()), picked_};
    return ops::basePointOf(ops::solidBounds(editor_.scene(), editor_.selection()), choice);
}

void PrefabCard::refresh() {
    fields_->show(&how_);
    const bool any = editor_.isOpen() && !editor_.selection().empty();
    for (QPushButton* b : {make_, makeMore_}) b->setEnabled(any && !question_->isVisible());
    tally_->setText(made_ > 0 ? tr("%1 made").arg(made_) : QString());
    if (!any) {
        size_->setText(tr("Select what the next one is made of."));
        editor_.showBasePoint(std::nullopt);
        return;
    }
    const base::Aabb box = ops::solidBounds(editor_.scene(), editor_.selection());
    const base::Vec3 size = box.size();
    const double step = editor_.tools().step(render::Task::Slide).value;
    size_->setText(tr("%1 · footprint %2 × %3, %4 high; %5 in steps of %6")
                       .arg(counted(editor_.selection().size(), tr("object"), tr("objects")),
                            lengthNumber(size.x, editor_.unit(), 2), editor_.length(size.z), editor_.length(size.y),
                            ops::tiles(box, step) ? tr("tiles") : tr("does not tile"), editor_.length(step)) +
                   (makes_ == Makes::MergedItem ? mergedFacts() : QString()));
    editor_.showBasePoint(basePoint());
}

void PrefabCard::make(bool goOn) {
    fields_->takeTyped();
    const std::string pattern(base::trimmed(how_.name));
    edit::Session& session = editor_.session();
    if (makes_ == Makes::MergedItem) return made(pattern, mergeAs(pattern), goOn);
    const bool numbered = pattern.find('#') != std::string::npos;
    const std::string name = numbered ? ops::freePrefabName(session, pattern) : pattern;
    if (const base::ObjectId held = session.prefabNamed(name)) return askAboutName(name, held, goOn);
    makeAs(name, {}, goOn);
}

void PrefabCard::askAboutName(const std::string& name, base::ObjectId held, bool goOn) {
    asked_ = name;
    askedGoOn_ = goOn;
    std::size_t instances = 0, scenes = 0;
    if (auto uses = ops::usedBy(editor_.session(), held))
        for (const ops::Use& use : *uses) {
            instances += use.ids.size();
            scenes += 1;
        }
    questionText_->setText(tr("There is a prefab “%1” already, with %2 in %3. Updating it fills it with the "
                              "selection; what differs in its instances stays.")
                               .arg(QString::fromStdString(name), counted(instances, tr("instance"), tr("instances")),
                                    counted(scenes, tr("scene or prefab"), tr("scenes and prefabs"))));
    newName_->setText(tr("Call it %1").arg(QString::fromStdString(ops::freePrefabName(editor_.session(), name))));
    question_->show();
    refresh();
    place();
}

/// What the merged mesh would come to.
QString PrefabCard::mergedFacts() const {
    const model::Library& library = editor_.session().library();
    const auto parts = ops::toMerge(editor_.scene(), library, editor_.selection());
    std::size_t triangles = 0;
    for (const ops::Merging& part : parts) triangles += library.item(part.item)->triangles;
    return tr(" · %1 of %2")
        .arg(counted(triangles, tr("triangle"), tr("triangles")), counted(parts.size(), tr("mesh"), tr("meshes")));
}

/// The item is part of the same step.
base::Status PrefabCard::mergeAs(const std::string& name) {
    const base::Transform frame =
        ops::mergeFrame(editor_.scene(), editor_.session().library(), editor_.selection(), basePoint());
    const base::Affine into = *base::inverse(base::toAffine(frame));
    std::vector<shape::MeshPart> parts;
    for (const ops::Merging& one : ops::toMerge(editor_.scene(), editor_.session().library(), editor_.selection())) {
        const shape::Mesh* mesh = editor_.workspace().mesh(one.item);
        if (mesh == nullptr) continue;
        parts.push_back({mesh, into * one.world, one.tint});
    }
    if (parts.empty()) return base::fail(base::ErrorCode::Refused, "Nothing that is selected has a mesh to merge.");
    shape::Mesh mesh = shape::merged(parts);
    const ops::Ids ids = editor_.selection();
    edit::Draft draft(editor_.session(), editor_.sceneName(), "Merge " + ops::describe(editor_.scene(), ids));
    if (!draft.state()) return draft.state();
    ops::Ids after = ids;
    if (auto item = io::addModel(editor_.workspace(), draft, name, std::move(mesh)); !item)
        return tl::unexpected(item.error());
    if (how_.replace) {
        auto one = ops::replaceByMerged(draft, ids, editor_.session().intern(name), name, frame);
        if (!one) return tl::unexpected(one.error());
        after = {*one};
    }
    editor_.select(after);
    if (auto step = draft.commit(); !step) return tl::unexpected(step.error());
    editor_.libraryGrown();
    return {};
}

void PrefabCard::makeAs(const std::string& name, base::ObjectId update, bool goOn) {
    question_->hide();
    const ops::MakePrefab how{name, std::string(base::trimmed(how_.folder)), basePoint(), how_.replace};
    const ops::Ids ids = editor_.selection();
    base::Status done;
    {
        edit::Draft draft(editor_.session(), editor_.sceneName(), (update ? "Update prefab " : "Make prefab ") + name);
        auto made = update ? ops::updatePrefab(draft, update, ids, how) : ops::makePrefab(draft, ids, how);
        if (made) {
            editor_.session().select(made->instance ? ops::Ids{made->instance} : ids);
            if (auto step = draft.commit(); !step) done = tl::unexpected(step.error());
        } else {
            done = tl::unexpected(made.error());
        }
    }
    made(name, done, goOn);
}

void PrefabCard::made(const std::string& name, const base::Status& done, bool goOn) {
    problem_->setVisible(!done);
    if (!done) {
        problem_->setText(QString::fromStdString(done.error().message));
        refresh();
        place();
        return;
    }
    ++made_;
    editor_.prefabPlan() = {how_.folder, how_.name.find('#') == std::string::npos ? std::string() : how_.name,
                            height_->currentIndex(), std::max(0, footprint_->checkedId())};
    editor_.say(tr("%1 is in the Stock.").arg(QString::fromStdString(name)));
    if (!goOn) {
        close();
        return;
    }
    if (makes_ == Makes::Prefab && how_.name.find('#') == std::string::npos) how_.name = name + " ##";
    editor_.select({});
    refresh();
    place();
}

void PrefabCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        make(false);
    else
        SideCard::keyPressEvent(event);
}

}  // namespace app
