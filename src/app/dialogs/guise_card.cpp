#include "app/dialogs/guise_card.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <set>

#include "app/dialogs/popovers.h"
#include "app/kit/flow_layout.h"
#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"
#include "app/names.h"
#include "app/view/looks.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/property_types.h"
#include "model/scene_fields.h"
#include "model/value_reader.h"
#include "ops/guises.h"

namespace app {

namespace {

constexpr int kGuiseWide = 330;
constexpr int kKey = Qt::UserRole;

/// Those of a scene's settings that are light.
bool isLight(const model::Property& property) {
    return property.category == "Sun" || property.category == "Around";
}

model::Property colourProperty() {
    model::Property p;
    p.name = p.label = "tint";
    p.type = model::PropertyType::Colour;
    return p;
}

}  // namespace

GuiseCard::GuiseCard(QWidget* parent, Editor& editor) : SideCard(parent, kGuiseWide), editor_(editor) {
    for (auto* other : parent->findChildren<GuiseCard*>())
        if (other != this) other->close();
    setAttribute(Qt::WA_DeleteOnClose);
    rows()->addWidget(label(tr("Guises"), "panelTitle"));
    makeList();
    rows()->addWidget(body_ = new QWidget);
    auto* inside = new QVBoxLayout(body_);
    inside->setContentsMargins(0, 0, 0, 0);
    makeTable();
    inside->addWidget(label(tr("Light, where it differs"), "cardTitle"));
    inside->addWidget(
        light_ = new Form(editor_, [this](const model::Property& p, const auto& v) { return setLight(p, v); }));
    light_->setObjectName("guiseLight");
    auto* foot = new QHBoxLayout;
    foot->addStretch();
    auto* close = button<QPushButton>("guiseClose", tr("Close"), tr("What was set is kept (Esc)"));
    foot->addWidget(close);
    this->foot()->addLayout(foot);
    connect(close, &QPushButton::clicked, this, &QWidget::close);
    connect(&editor_, &Editor::libraryChanged, this, &GuiseCard::refresh);
    connect(&editor_, &Editor::sceneShown, this, &GuiseCard::refresh);
    connect(&editor_, &Editor::shownChanged, this, &GuiseCard::refresh);
    connect(&editor_, &Editor::sceneEdited, this, &GuiseCard::refresh);
    connect(&editor_, &Editor::projectChanged, this, &QWidget::close);
    refresh();
    show();
    raise();
    place();
    list_->setFocus();
}

void GuiseCard::makeList() {
    rows()->addWidget(list_ = new QListWidget);
    list_->setObjectName("guiseList");
    list_->setAccessibleName(tr("Guises"));
    connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* row) {
        if (filling_ || row == nullptr) return;
        Looks looks = editor_.looks();
        looks.guise = row->data(kKey).toString().toStdString();
        editor_.setLooks(looks);
    });
    auto* holder = new QWidget;
    auto* acts = new FlowLayout(holder, 4);
    auto* made = button<QToolButton>("guiseNew", tr("New…"), tr("A guise that begins as the scene is"));
    rename_ = button<QToolButton>("guiseRename", tr("Rename…"), tr("Scenes that are shown in it follow"));
    remove_ = button<QToolButton>("guiseRemove", tr("Remove"), tr("Scenes that are shown in it are shown as they are"));
    own_ = button<QToolButton>("guiseOwn", tr("The scene’s own"), tr("The scene is shown in it from now on: a step"));
    own_->setCheckable(true);
    for (QToolButton* one : {made, rename_, remove_, own_}) acts->addWidget(one);
    rows()->addWidget(holder);
    connect(made, &QToolButton::clicked, this, &GuiseCard::makeNew);
    connect(rename_, &QToolButton::clicked, this, [this] {
        const std::string from = shown()->name;
        new NamePopover(parentWidget(), tr("Rename the guise"), tr("Rename"), toQt(from), {},
                        [this, from](const QString& name, const QString&) -> QString {
                            const std::string to = name.trimmed().toStdString();
                            if (to == from) return {};
                            Status done;
                            editor_.run("Rename the guise " + from,
                                        [&](edit::Draft& draft) { return done = ops::renameGuise(draft, from, to); });
                            if (!done) return toQt(done.error().message);
                            Looks looks = editor_.looks();
                            if (looks.guise) looks.guise = to;
                            editor_.setLooks(looks);
                            return {};
                        });
    });
    connect(remove_, &QToolButton::clicked, this, [this] {
        const std::string name = shown()->name;
        editor_.run("Remove the guise " + name, [&](edit::Draft& draft) { return ops::removeGuise(draft, name); });
    });
    connect(own_, &QToolButton::clicked, this, [this](bool on) {
        model::SceneSettings settings = editor_.scene().settings();
        settings.guise = on && shown() != nullptr ? shown()->name : std::string();
        editor_.run("The scene’s own guise", [&](edit::Draft& draft) { return draft.setSettings(settings); });
    });
}

void GuiseCard::makeTable() {
    QLayout* inside = body_->layout();
    inside->addWidget(label(tr("Shown in place of"), "cardTitle"));
    inside->addWidget(table_ = new QTreeWidget);
    table_->setObjectName("guiseTable");
    table_->setAccessibleName(tr("What is shown in place of what"));
    table_->setHeaderLabels({tr("Of"), tr("In place of"), tr("Shown")});
    table_->setRootIsDecorated(false);
    table_->setFixedHeight(118);
    table_->header()->setStretchLastSection(true);
    table_->header()->resizeSection(0, 64);
    table_->header()->resizeSection(1, 112);
    auto* row = new QHBoxLayout;
    const auto choice = [&](const char* name, const QString& what) {
        auto* box = new QComboBox;
        new QuietWheel(box);
        box->setObjectName(QLatin1String(name));
        box->setAccessibleName(what);
        box->setToolTip(what);
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(4);
        row->addWidget(box, 1);
        return box;
    };
    what_ = choice("guiseWhat", tr("What sort of thing"));
    what_->addItems({tr("surface"), tr("item"), tr("tint")});
    from_ = choice("guiseFrom", tr("In place of what"));
    to_ = choice("guiseTo", tr("What is shown"));
    static_cast<QBoxLayout*>(inside)->addLayout(row);
    auto* acts = new QHBoxLayout;
    auto* add = button<QToolButton>("guiseAdd", tr("Add the row"), tr("What is chosen above is shown so from now on"));
    auto* drop = button<QToolButton>("guiseDrop", tr("Remove the row"), tr("The chosen row: shown as it is again"));
    acts->addWidget(add);
    acts->addWidget(drop);
    acts->addStretch();
    static_cast<QBoxLayout*>(inside)->addLayout(acts);
    connect(what_, &QComboBox::currentIndexChanged, this, [this] { offerFrom(); });
    connect(add, &QToolButton::clicked, this, &GuiseCard::addRow);
    connect(drop, &QToolButton::clicked, this, &GuiseCard::removeRow);
}

/// What there is to choose from, of the sort that is chosen.
void GuiseCard::offerFrom() {
    const model::Library& library = editor_.session().library();
    const auto what = static_cast<What>(what_->currentIndex());
    const QString wasFrom = from_->currentData().toString(), wasTo = to_->currentData().toString();
    from_->clear();
    to_->clear();
    to_->setEditable(what == What::Tint);
    if (what == What::Tint) {
        for (const model::Kind& kind : library.kinds()) from_->addItem(toQt(kind.name), toQt(kind.name));
        for (const char* colour : {"#ffffff", "#c8dcf0", "#f0c890", "#8a9a70"}) to_->addItem(colour, colour);
    } else if (what == What::Item) {
        for (const model::Item& item : library.items())
            if (!item.isSolid && !item.prefab && !item.bounds.empty())
                for (QComboBox* box : {from_, to_}) box->addItem(toQt(item.label), toQt(item.name));
    } else {
        std::set<std::string> slots;
        for (const auto& [name, surface] : library.surfaces()) {
            to_->addItem(toQt(surface.label), toQt(name));
            from_->addItem(toQt(surface.label), toQt(name));
        }
        for (const model::Item& item : library.items())
            if (!item.isSolid) slots.insert(item.slots.begin(), item.slots.end());
        for (const std::string& slot : slots)
            if (!library.surfaces().contains(slot)) from_->addItem(tr("%1 (slot)").arg(toQt(slot)), toQt(slot));
    }
    from_->setCurrentIndex(std::max(0, from_->findData(wasFrom)));
    to_->setCurrentIndex(std::max(0, to_->findData(wasTo)));
}

void GuiseCard::makeNew() {
    new NamePopover(parentWidget(), tr("New guise"), tr("Make it"), {}, {},
                    [this](const QString& text, const QString&) -> QString {
                        model::Guise guise;
                        guise.name = text.trimmed().toStdString();
                        if (editor_.session().library().guise(guise.name) != nullptr)
                            return tr("There is a guise of that name.");
                        Status done;
                        editor_.run("New guise " + guise.name,
                                    [&](edit::Draft& draft) { return done = ops::putGuise(draft, guise); });
                        if (!done) return toQt(done.error().message);
                        Looks looks = editor_.looks();
                        looks.guise = guise.name;
                        editor_.setLooks(looks);
                        return {};
                    });
}

void GuiseCard::change(const std::string& step, const std::function<void(model::Guise&)>& change) {
    if (shown() == nullptr) return;
    model::Guise guise = *shown();
    change(guise);
    editor_.run(step + " of the guise " + guise.name, [&](edit::Draft& draft) { return ops::putGuise(draft, guise); });
}

void GuiseCard::put(What what, const std::string& from, const std::string& to) {
    const model::Property colour = colourProperty();
    const auto tint =
        what == What::Tint && !to.empty() ? model::parsedValue(colour, to) : base::Result<model::Value>({});
    if (!tint) return void(editor_.report(tl::unexpected(tint.error())));
    change("Set a row", [&](model::Guise& guise) {
        if (what == What::Tint) {
            guise.tints.erase(from);
            if (const auto read = model::vectorIn<base::Vec3>(*tint); read && !to.empty()) guise.tints[from] = *read;
            return;
        }
        model::Guise::Swaps& swaps = what == What::Item ? guise.items : guise.surfaces;
        if (to.empty())
            swaps.erase(from);
        else
            swaps[from] = to;
    });
}

void GuiseCard::addRow() {
    const auto what = static_cast<What>(what_->currentIndex());
    const QString to = what == What::Tint ? to_->currentText() : to_->currentData().toString();
    if (from_->currentIndex() < 0 || to.isEmpty()) return editor_.say(tr("There is nothing to choose of that sort."));
    put(what, from_->currentData().toString().toStdString(), to.toStdString());
}

void GuiseCard::removeRow() {
    if (const QTreeWidgetItem* row = table_->currentItem())
        put(static_cast<What>(row->data(0, kKey).toInt()), row->data(1, kKey).toString().toStdString(), {});
}

Status GuiseCard::setLight(const model::Property& property, const std::optional<model::Value>& value) {
    if (value) {
        model::SceneSettings usual;
        const model::Member& member = *model::sceneFields().find(property.name);
        if (Status fits = model::setMember(model::sceneFields(), &usual, member, *value); !fits) return fits;
    }
    change("Set " + base::lowered(property.label), [&](model::Guise& guise) {
        if (value)
            model::setValue(guise.light, property.name, *value);
        else
            model::eraseValue(guise.light, property.name);
    });
    return {};
}

void GuiseCard::fillList() {
    const model::Library& library = editor_.session().library();
    const std::string own = editor_.scene().settings().guise;
    const QString now = shown() != nullptr ? toQt(shown()->name) : QString();
    filling_ = true;
    list_->clear();
    const auto add = [&](const QString& text, const QString& key) {
        auto* row = new QListWidgetItem(text, list_);
        row->setData(kKey, key);
        if (key == now) list_->setCurrentItem(row);
    };
    add(tr("As it is"), {});
    for (const auto& [name, guise] : library.guises())
        add(name == own ? tr("%1 · the scene’s own").arg(toQt(name)) : toQt(name), toQt(name));
    constexpr int kRow = 18, kMostRows = 6;
    list_->setFixedHeight(std::min(list_->count(), kMostRows) * kRow + 4);
    filling_ = false;
}

void GuiseCard::fillTable(const model::Guise& guise) {
    const model::Library& library = editor_.session().library();
    table_->clear();
    const auto add = [&](What what, const QString& of, const std::string& from, const std::string& to,
                         const QString& shownFrom, const QString& shownTo) {
        auto* row = new QTreeWidgetItem(table_, {of, shownFrom, shownTo});
        row->setData(0, kKey, static_cast<int>(what));
        row->setData(1, kKey, toQt(from));
        row->setToolTip(1, toQt(from));
        row->setToolTip(2, toQt(to));
    };
    const auto surface = [&](const std::string& name) {
        const auto place = library.surfaces().find(name);
        return toQt(place != library.surfaces().end() ? place->second.label : name);
    };
    const auto item = [&](const std::string& name) {
        const model::Item* known = library.item(editor_.session().intern(name));
        return known != nullptr ? toQt(known->label) : tr("missing: %1").arg(toQt(name));
    };
    for (const auto& [from, to] : guise.surfaces)
        add(What::Surface, tr("surface"), from, to, surface(from), surface(to));
    for (const auto& [from, to] : guise.items) add(What::Item, tr("item"), from, to, item(from), item(to));
    for (const auto& [kind, colour] : guise.tints) {
        const QString text = toQt(model::valueText(colourProperty(), model::vectorValue(colour)));
        add(What::Tint, tr("tint"), kind, text.toStdString(), toQt(kind), text);
    }
}

void GuiseCard::refresh() {
    if (!editor_.isOpen()) return;
    fillList();
    offerFrom();
    const model::Guise* guise = shown();
    const bool may = editor_.session().readOnlyReason().empty();
    for (QToolButton* one : {rename_, remove_, own_}) one->setEnabled(may && guise != nullptr);
    own_->setChecked(guise != nullptr && editor_.scene().settings().guise == guise->name);
    body_->setVisible(guise != nullptr);
    body_->setEnabled(may);
    if (guise != nullptr) {
        fillTable(*guise);
        const model::SceneSettings lit = editor_.litSettings();
        std::vector<PropertyShown> all;
        for (const model::Member& member : model::sceneFields().members) {
            if (!isLight(member.property)) continue;
            PropertyShown one;
            one.property = member.property;
            one.value = member.get(&lit);
            one.own = model::valueOf(guise->light, member.property.name) != nullptr;
            all.push_back(std::move(one));
        }
        light_->show(std::move(all));
    }
    place();
}

}  // namespace app
